"""Late by itself: what last night did to the plan as it stood when the shop closed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.placed import Placed
from kiteloom.store.models import Heating, PartPlace
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.base.shop import the_shop, working_hours
from kiteloom.workshop.plan.kept import keep_plan, last_evening
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan

#: A cure later than it was said by less is the forecast's ordinary error [min].
WORTH_SAYING_MIN = 30.0


#: A plan is kept as that of the evening up to so long after closing [min].
EVENING_MIN = 6 * 60.0


@dataclass(frozen=True)
class Late:
    """That a cure is later than it was said to be at closing, and what that moved."""

    sentence: str
    moved: str


def keep_evening(store: Store, now: datetime) -> None:
    """Once after closing, keep the plan as it stands: what the night changes is told from it."""
    minute = minute_of(now)
    with store.reading() as uow:
        hours = working_hours(the_shop(uow)).intervals(minute - EVENING_MIN, minute)
        closes = max((end for _, end in hours if end < minute), default=None)
        if closes is None or last_evening_after(uow, closes, minute):
            return
        shop = shop_plan(uow, minute)
    if shop is not None:
        with store.writing() as uow:
            keep_plan(uow, f"evening {int(closes)}", "evening", shop.plan, minute)


def last_evening_after(uow: UnitOfWork, closes: float, now: float) -> bool:
    """Whether the evening after a closing was kept."""
    kept = last_evening(uow, now + 1)
    return kept is not None and minute_of(kept.happened_at) >= closes


def late_since_evening(uow: UnitOfWork, shop: ShopPlan) -> Late | None:
    """The cure that fell furthest behind overnight and is still awaited; None when none did.

    Only the same mix in the same place counts, so that the air alone has changed since.
    """
    kept = last_evening(uow, shop.now)
    if kept is None or shop.now - minute_of(kept.happened_at) > 4 * 1440:
        return None
    before = kept.rows
    handled = _handled_since(uow, kept.happened_at)
    begun = {link.step for p in shop.plan.placed if p.state != "to do" for link in p.step.after}
    found: list[tuple[float, Placed, float]] = []
    for placed in shop.plan.placed:
        row = before.get(placed.step.key)
        release = shop.releases.get(placed.step.key)
        if placed.step.key in begun or (release is not None and release.released):
            continue  # somebody has looked at it since
        if placed.step.part in handled:
            continue  # it cures elsewhere than was thought, not in colder air
        if row is None or placed.state != "done" or row["state"] != "done" or row["mixed"] != placed.mixed:
            continue
        said = row["ready"]
        if said is None or placed.cure is None or (placed.ready is not None and placed.ready <= shop.now):
            continue
        behind = (placed.ready if placed.ready is not None else said + 60 * 1440) - said
        if behind >= WORTH_SAYING_MIN and said <= shop.now + 12 * 60:
            found.append((behind, placed, said))
    if not found:
        return None
    behind, placed, said = max(found, key=lambda entry: entry[0])
    say, where, stage = shop.saying, shop.names[placed.step.part], placed.step.wait_stage
    if placed.ready is None:
        when = f"“{stage}” is not reached at all as it is now, and was expected {say.at(said)}"
    else:
        when = f"check for “{stage}” from {say.at(placed.ready)}, not {say.at(said, placed.ready)}"
    sentence = f"Not hard yet: {placed.step.name}, {where}. The night was colder than expected; {when}."
    return Late(sentence, _moved(shop, before, kept.finish))


def _handled_since(uow: UnitOfWork, then: datetime) -> set[str]:
    """Parts that were moved, or given another post-cure, since a moment."""
    rows: list[PartPlace | Heating] = [*uow.all(PartPlace), *uow.all(Heating)]
    return {row.part_id for row in rows if row.recorded_at > then}


def _moved(shop: ShopPlan, before: Mapping[str, dict[str, Any]], finish: datetime | None) -> str:
    """What else is later for it, in a sentence; ``""`` when nothing is."""
    say = shop.saying
    later = [
        (placed, row["start"])
        for placed in shop.plan.placed
        if placed.state == "to do"
        and (row := before.get(placed.step.key)) is not None
        and placed.begins - row["start"] >= WORTH_SAYING_MIN
    ]
    words = ""
    if later:
        first, was = min(later, key=lambda entry: entry[0].begins)
        words = f"{first.step.name} moves from {say.at(was)} to {say.at(first.begins, was)}"
        words += f", and {len(later) - 1} more steps are later" if len(later) > 1 else ""
    end = shop.plan.finish
    if finish is not None and end is not None and end - minute_of(finish) >= WORTH_SAYING_MIN:
        words += f"{'; ' if words else ''}the end moves from {say.at(minute_of(finish))} to {say.at(end)}"
    return f"{words[:1].upper()}{words[1:]}." if words else ""
