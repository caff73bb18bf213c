"""What is read on parts: checks of a design, said and changed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.checks import MEASURES, Check, Point
from kiteloom.store.models import Measured, Part, PartCheck
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.parts import built_part

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

    ``low`` and ``high`` are how far it may be off, as ``-1`` and ``1``; ``after_key`` the step it goes with.
    """

    id: str
    version: int
    name: str
    kind: str
    points: tuple[PointTyped, ...]
    low: Typed
    high: Typed
    after_key: str = ""
    twice: bool = False


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
        built_part(uow, part_id).step(order.after_key)
    elif order.twice:
        raise Refused("after_key", "it is read before and after a step; say which")
    rows = [{"name": point.name, "nominal": point.nominal, "at_m": point.at_m} for point in check.points]
    says = {"name": name, "kind": order.kind, "points": rows, "low": check.low, "high": check.high,
            "after_key": order.after_key, "twice": order.twice}  # fmt: skip
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


def checks_by_design(uow: UnitOfWork) -> dict[str, list[PartCheck]]:
    """Checks that are not put away, by design, in the order they were made."""

    def read() -> dict[str, list[PartCheck]]:
        found: dict[str, list[PartCheck]] = {}
        for row in uow.all(PartCheck, PartCheck.name):
            if row.hidden_at is None:
                found.setdefault(row.design_id, []).append(row)
        return found

    return uow.once("checks", read)
