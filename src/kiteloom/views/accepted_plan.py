"""The accepted plan placed again from what was kept with it, and as a file."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.place import place
from kiteloom.formats.plan_input import written
from kiteloom.store.models import KeptPlan
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Saying
from kiteloom.workshop.base.shop import the_shop, units_of, zone_at
from kiteloom.workshop.plan.kept import accepted, input_of


@dataclass(frozen=True)
class PlacedAgain:
    """Whether the accepted plan, placed again from what was kept with it, is the same to the minute.

    ``words`` say so; ``""`` where nothing was accepted. ``same`` is None where what it was made from was not kept.
    """

    words: str
    same: bool | None
    seed: int | None
    version: str


def placed_again(uow: UnitOfWork, now: float) -> PlacedAgain:
    """Place the accepted plan again, and hold it against what was kept."""
    kept = accepted(uow)
    if kept is None:
        return PlacedAgain("", None, None, "")
    say = Saying(zone_at(the_shop(uow)), now, units_of(uow))
    of = f"The plan accepted {say.at(minute_of(kept.happened_at))}"
    differ = uow.memory.made(kept.id, "the accepted plan placed again", lambda: _differ(kept))
    if differ is None:
        return PlacedAgain(f"{of} was kept without what it was made from.", None, kept.seed, kept.version)
    by = f"version {kept.version}" + (f", its order found with seed {kept.seed}" if kept.seed is not None else "")
    if not differ:
        words = f"{of} can be placed again: it is the same to the minute ({by})."
    else:
        steps = f"{differ} steps then have" if differ > 1 else "1 step then has"
        words = f"{of} can be placed again, and {steps} another time: the program has changed since ({by})."
    return PlacedAgain(words, not differ, kept.seed, kept.version)


def accepted_file(uow: UnitOfWork) -> str:
    """The accepted plan as JSON: what it was made from, its order, seed and version, and its steps in time."""
    kept = accepted(uow)
    job = None if kept is None else input_of(kept)
    if kept is None:
        return json.dumps(None)
    about: dict[str, Any] = {"accepted_at": kept.happened_at.isoformat(), "version": kept.version, "seed": kept.seed,
                             "order": kept.keys, "steps": kept.rows}  # fmt: skip
    made = json.loads(written(job)) if job is not None else None
    return json.dumps({**about, "made_from": made}, ensure_ascii=False)


def _differ(kept: KeptPlan) -> int | None:
    """How many steps have another time, or other people, when the plan is placed again; None where it can't be."""
    job = input_of(kept)
    if job is None:
        return None
    again = place(job).by_key
    was = {row["key"]: (row["start"], row["end"], row["people"]) for row in kept.rows}
    now = {key: (p.begins, p.end, list(p.people)) for key, p in again.items()}
    return sum(was.get(key) != now.get(key) for key in {**was, **now})
