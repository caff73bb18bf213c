"""A plan as lines of text: every step with its minutes, links, amounts, instructions and placed times.

Moving and renaming code may not change a line of it; what changes one on purpose says why in its
commit and writes the files anew with ``python -m tests.golden``.
"""

from __future__ import annotations

import gzip
import shutil
import tempfile
from pathlib import Path

from kiteloom.core.air.profile import day_curve
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.place import place
from kiteloom.demo import reedling
from kiteloom.workshop.plan.plan import shop_plan

DATA = Path(__file__).parent / "data"
#: A data folder with facts of every kind, as the program wrote it when a part had one way of building.
FOLDER = DATA / "shop-of-one-recipe.sqlite3.gz"


def _moment(minute):
    return "never" if minute is None else f"{minute - 29_641_440:.2f}"


def step_words(step, names):
    """A step as it is built, whatever its time."""

    def named(key):
        part, colon, local = key.partition(":")
        return f"{names.get(part, part)}{colon}{local}"

    links = [
        f"{named(link.step)}@{link.until}"
        + (f"<{link.within_min:g}" if link.within_min is not None else "")
        + (f"<{link.closes}" if link.closes else "")
        + ("=" if link.same_mix else "")
        for link in step.after
    ]
    limits = (step.min_c, step.max_c, step.max_rh_pct, step.margin_k, step.limits_until if step.limited else "")
    cure = f"{step.wait_stage} {step.cure.hours(step.wait_stage):g} h" if step.cure else f"{step.wait_min:g} min"
    more = [name for name in ("may_pause", "holds", "gate", "access", "own") if getattr(step, name)]
    return (
        f"{named(step.key)} | {step.name} | {step.minutes:.4f} min, {step.people} | after {', '.join(links)} | {cure}"
        f" | {', '.join(step.skills)} @ {', '.join(step.stations)} | {limits} | {step.way} {step.kind} {' '.join(more)}"
    )


def plan_lines(plan, names):
    """Each placed step with its time, and why others can't be."""
    for placed in sorted(plan.placed, key=lambda p: p.step.key):
        who = ", ".join(sorted(names.get(person, person) for person in placed.people))
        times = " ".join(_moment(m) for m in (placed.start, placed.end, placed.ready, placed.mixed))
        yield f"{step_words(placed.step, names)} | {placed.state} {times} {who}"
    for left in sorted(plan.unplaced, key=lambda left: left.step.key):
        yield f"{step_words(left.step, names)} | {left.why}"


def shop_lines(store, now):
    """The plan of a shop, with what each step takes and what is called out in it."""
    with store.reading() as uow:
        shop = shop_plan(uow, minute_of(now))
        yield from plan_lines(shop.plan, shop.names)
        for part in sorted(shop.parts.values(), key=lambda part: part.name):
            for key, need in part.needs.items():
                yield f"{part.name}:{key} takes {need.total_g:.6f} g"
            for step in part.in_shop:
                for item in part.items_of(step.in_part):
                    yield f"{part.name}:{step.in_part} calls {item.key} {item.words} {item.detail} {item.warp}"
        for key, fact in sorted(shop.done.facts.items()):
            part, _, local = key.partition(":")
            mixed = _moment(fact.mixed_at) if fact.mixed else ""
            worked = [f"{_moment(start)}-{_moment(end)}" for start, end in fact.pieces]
            noted = f"{worked} running {fact.running_since} finished {fact.finished} mixed {mixed}"
            yield f"{shop.names.get(part)}:{local} was {noted} by {[shop.names.get(p, p) for p in fact.people]}"


def airframe_lines():
    """Generated airframes of every recipe, over mild and cold nights."""
    from tests.core.airframe import airframe
    from tests.core.jobs import START

    for seed, low in ((1, 16), (2, 8), (3, 3)):
        yield f"airframe {seed}, nights of {low} °C"
        yield from plan_lines(place(airframe(160, START, day_curve(low, low + 12, START - 1440, 400), seed)), {})


def unpacked(folder):
    """The kept data folder, unpacked into another."""
    folder.mkdir(parents=True, exist_ok=True)
    with gzip.open(FOLDER) as packed, open(folder / "kiteloom.sqlite3", "wb") as database:
        shutil.copyfileobj(packed, database)
    return folder


def golden():
    """The kept files and what their lines are today."""
    from tests.conftest import MORNING, Shop

    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder) / "demo")
        reedling.seed(shop.store, MORNING)
        demo = list(shop_lines(shop.store, MORNING))
        shop.store.close()
        before = Shop(unpacked(Path(folder) / "before"))
        kept = list(shop_lines(before.store, MORNING))
        before.store.close()
    return {"golden-demo.txt": demo, "golden-airframes.txt": list(airframe_lines()), "golden-folder.txt": kept}


if __name__ == "__main__":
    for name, lines in golden().items():
        (DATA / name).write_text("\n".join(lines) + "\n")
