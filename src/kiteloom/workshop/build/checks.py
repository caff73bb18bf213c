"""What is read on parts: checks of a design, said and changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import select

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.checks import MEASURES, Check, Point
from kiteloom.core.build.step import Step
from kiteloom.core.build.step_id import StepId
from kiteloom.core.build.twist import twist_check
from kiteloom.store.models import Measured, Part, PartCheck
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.parts import BuiltPart, built_part

#: When a check is read: once, before and after its step, or at each step of its job that is a reading.
Reads = Literal["once", "twice", "each"]
Moment = Literal["once", "before", "between", "after"]
#: The kind of steps that are readings of a check.
TWIST = "twist"

#: So many places a check has, and so many checks a design; the longest name.
MOST_POINTS, MOST_CHECKS, LONGEST = 60, 60, 80
_AT = Asked("Along the part", dimension="length", unit=("m", "in"), low=0, high=50)


@dataclass(frozen=True)
class PointTyped:
    """A place that is read, as it is typed."""

    name: str
    nominal: Typed
    at: Typed | None = None


@dataclass(frozen=True)
class SayCheck:
    """A check of all parts of a design. ``version`` 0 is a new one; the client makes its id.

    ``low`` and ``high`` are how far it may be off, as ``-1`` and ``1``; ``after_key`` the step it goes with, for
    ``each`` the first of those it is read at.
    """

    id: str
    version: int
    name: str
    kind: str
    points: tuple[PointTyped, ...]
    low: Typed
    high: Typed
    after_key: str = ""
    reads: Reads = "once"


def say_check(uow: UnitOfWork, part_id: str, order: SayCheck, now: datetime) -> Saved:
    """Say or change a check; one that was read already keeps its kind and its places."""
    part = uow.get(Part, part_id)
    known = uow.session.get(PartCheck, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name = " ".join(order.name.split())
    if not name or len(name) > LONGEST:
        raise Refused("name", f"the name has {len(name)} letters; it has 1 to {LONGEST}")
    check = _typed(order)
    if order.after_key:
        built = built_part(uow, part_id)
        step = built.step(order.after_key)
        if order.reads == "each" and not _at_each(built, order.after_key):
            raise Refused("after_key", f"“{step.name}” is no reading; say a step that is")
    elif order.reads != "once":
        raise Refused("after_key", "it is read with a step; say which")
    rows = [{"name": point.name, "nominal": point.nominal, "at_m": point.at_m} for point in check.points]
    says = {"name": name, "kind": order.kind, "points": rows, "low": check.low, "high": check.high,
            "after_key": order.after_key, "reads": order.reads}  # fmt: skip
    if known is None:
        mine = uow.session.scalars(select(PartCheck.id).where(PartCheck.design_id == part.design_id)).all()
        if len(mine) >= MOST_CHECKS:
            raise Refused("id", f"there are {len(mine)} checks of it; at most {MOST_CHECKS} are kept")
        uow.add(PartCheck(id=order.id, design_id=part.design_id, updated_at=now, **says))
        uow.changed("part", part_id)
        return Saved(1)
    row = uow.get_for_edit(PartCheck, order.id, order.version)
    read = uow.session.scalars(select(Measured.id).where(Measured.check_id == row.id)).first() is not None
    if read and (row.kind, len(row.points)) != (order.kind, len(rows)):
        raise Refused("points", f"“{row.name}” was read already; put it away and begin another one")
    for field, value in says.items():
        setattr(row, field, value)
    uow.edited(row, [f"the check “{name}”"], now, "part")
    return Saved(row.version)


def _typed(order: SayCheck) -> Check:
    if order.kind not in MEASURES:
        raise Refused("kind", f"“{order.kind[:40]}” is nothing that is read; it is one of {', '.join(MEASURES)}")
    asked = MEASURES[order.kind].asked
    if not 1 <= len(order.points) <= MOST_POINTS:
        raise Refused("points", f"{len(order.points)} places are given; a check has 1 to {MOST_POINTS}")
    points, names = [], set[str]()
    for n, point in enumerate(order.points):
        name = " ".join(point.name.split())[:LONGEST] or str(n + 1)
        if name in names:
            raise Refused(f"points.{n}.name", f"two places are called “{name}”")
        names.add(name)
        at = _AT.meant(f"points.{n}.at", point.at) if point.at is not None and point.at.text.strip() else None
        points.append(Point(name, asked.meant(f"points.{n}.nominal", point.nominal), at))
    low, high = (typed.read(asked.dimension, field) / asked.scale
                 for field, typed in (("low", order.low), ("high", order.high)))  # fmt: skip
    return Check(order.kind, tuple(points), low, high)


@dataclass(frozen=True)
class PutAwayCheck:
    """That a check is put away, or taken out again; what it found stays."""

    version: int
    hidden: bool = True


def put_check_away(uow: UnitOfWork, check_id: str, order: PutAwayCheck, now: datetime) -> Kept:
    """Put a check away, or take it out again."""
    row = uow.get_for_edit(PartCheck, check_id, order.version)
    row.hidden_at = now if order.hidden else None
    uow.edited(row, [f"the check “{row.name}” {'put away' if order.hidden else 'taken out again'}"], now, "part")
    return Kept(row.id)


def check_of(row: PartCheck) -> Check:
    """A check as it is computed with."""
    points = tuple(Point(one["name"], one["nominal"], one.get("at_m")) for one in row.points)
    return Check(row.kind, points, row.low, row.high)


def _at_each(part: BuiltPart, first: str) -> list[Step]:
    """The steps of a job that are readings, in order; nothing where ``first`` is not one of them."""
    job = StepId.within(part.id, first).job
    found = [one for one in part.steps if one.kind == TWIST and StepId.within(part.id, one.key).job == job]
    return found if first in {one.key for one in found} else []


def steps_of_moments(part: BuiltPart, row: PartCheck) -> dict[Moment, str]:
    """When a check is read on a part, in order, and the step each goes with; ``""`` for none."""
    if row.reads == "each":
        steps = _at_each(part, row.after_key)
        return {cast(Moment, StepId.within(part.id, one.key).local.partition("/")[2]): one.key for one in steps}
    moments: Sequence[Moment] = ("before", "after") if row.reads == "twice" else ("once",)
    return dict.fromkeys(moments, row.after_key)


def checks_for(uow: UnitOfWork, part: BuiltPart) -> list[PartCheck]:
    """The checks of a part: those that were said, and of each job that reads its twist the one its shape asks for."""
    said = checks_by_design(uow).get(part.design_id, [])
    found, jobs = [], set[str]()
    for step in part.steps:
        job = StepId.within(part.id, step.key).job
        if step.kind != TWIST or job in jobs:
            continue
        jobs.add(job)
        key = stable_id("check", part.design_id, step.key)
        if key not in {row.id for row in _all(uow)}:
            task = part.job_of(step.key).task
            check = twist_check(task.shape if task is not None else None)
            points = [{"name": one.name, "nominal": one.nominal, "at_m": one.at_m} for one in check.points]
            found.append(
                PartCheck(id=key, version=0, design_id=part.design_id, name="Twist of the panel", kind=check.kind,
                          points=points, low=check.low, high=check.high, after_key=step.key, reads="each")
            )  # fmt: skip
    return [*found, *said]


def reads_at(uow: UnitOfWork, part: BuiltPart, step_key: str) -> tuple[PartCheck, Moment] | None:
    """The check whose reading a step is, and its moment; None for a step that is none, or whose check is put away."""
    for row in checks_for(uow, part):
        if row.reads == "each":
            for moment, key in steps_of_moments(part, row).items():
                if key == step_key:
                    return row, moment
    return None


def checks_by_design(uow: UnitOfWork) -> dict[str, list[PartCheck]]:
    """Checks that are not put away, by design, in the order they were made."""

    found: dict[str, list[PartCheck]] = {}
    for row in _all(uow):
        if row.hidden_at is None:
            found.setdefault(row.design_id, []).append(row)
    return found


def _all(uow: UnitOfWork) -> Sequence[PartCheck]:
    return uow.once("checks", lambda: list(uow.all(PartCheck, PartCheck.name)))
