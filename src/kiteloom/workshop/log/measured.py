"""Readings of checks, and the last decision about each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, text

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.checks import judged, odd_reading
from kiteloom.core.build.step import Step
from kiteloom.store.models import CrewMember, Judgement, Measured, PartCheck
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import in_shop_zone, units_of
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.build.checks import (
    TWIST,
    Moment,
    check_of,
    checks_for,
    reads_at,
    steps_of_moments,
)
from kiteloom.workshop.build.parts import BuiltPart, built_part


@dataclass(frozen=True)
class NoteMeasured:
    """What was read at each place of a check, empty where one was not. The client makes the id.

    ``sure`` keeps it although it looks as if it were of another unit.
    """

    id: str
    check_id: str
    values: tuple[Typed, ...]
    moment: Moment = "once"
    crew_member_id: str | None = None
    note: str = ""
    sure: bool = False
    happened_at: datetime | None = None


def note_measured(uow: UnitOfWork, part_id: str, order: NoteMeasured, now: datetime) -> Kept:
    """Keep readings; of one moment the last ones count."""
    same = {"part_id": part_id, "check_id": order.check_id, "moment": order.moment}
    if uow.kept_already(Measured, order.id, **same) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    # One that follows from its job is kept with the first reading.
    row = next((one for one in checks_for(uow, part) if one.id == order.check_id), None) or uow.get(
        PartCheck, order.check_id
    )
    if row.design_id != part.design_id:
        raise Refused("check_id", f"“{row.name}” is no check of {part.name}")
    moments = steps_of_moments(part, row)
    if order.moment not in moments:
        asked = ", ".join(moments) or "never: its step is not there any more"
        raise Refused("moment", f"“{row.name}” is read {asked}; “{order.moment}” is not one of them")
    check = check_of(row)
    asked_ = check.measure.asked
    values = [
        asked_.meant(f"values.{n}", typed, units_of(uow)) if typed.text.strip() else None
        for n, typed in enumerate(order.values)
    ]
    if all(value is None for value in values):
        raise Refused("values", "nothing was read yet")
    judged(check, values)
    question = odd_reading(check, values, units_of(uow))
    if question and not order.sure:
        raise Refused("sure", question)
    who = uow.get(CrewMember, order.crew_member_id).id if order.crew_member_id else None
    happened = min(in_shop_zone(uow, order.happened_at) or now, now)
    if not row.version:
        row.version, row.updated_at = 1, now
        uow.add(row)
    uow.add(Measured(id=order.id, **same, values=values, crew_member_id=who, note=order.note.strip()[:500],
                     happened_at=happened, recorded_at=now))  # fmt: skip
    uow.changed("part", part_id)
    return Kept(order.id)


def measured_rows(uow: UnitOfWork) -> Mapping[tuple[str, str], list[Measured]]:
    """Readings that count, oldest first, by part and check."""

    def read() -> dict[tuple[str, str], list[Measured]]:
        gone = taken_back(uow)
        found: dict[tuple[str, str], list[Measured]] = {}
        for row in uow.session.scalars(select(Measured).order_by(text("rowid"))):
            if row.id not in gone:
                found.setdefault((row.part_id, row.check_id), []).append(row)
        return found

    return uow.once("measured", read)


def rulings(uow: UnitOfWork) -> Mapping[str, Judgement]:
    """The last decision about each reading."""

    def read() -> dict[str, Judgement]:
        return {row.measured_id: row for row in uow.session.scalars(select(Judgement).order_by(text("rowid")))}

    return uow.once("rulings", read)


def last_of(rows: Iterable[Measured], moment: str) -> Measured | None:
    """The last readings of a moment."""
    return next((row for row in reversed(list(rows)) if row.moment == moment), None)


def unread(uow: UnitOfWork, part: BuiltPart, step: Step) -> str:
    """Why a step that is a reading can't be finished; ``""`` for one that was read, or is none."""
    at = reads_at(uow, part, step.in_part) if step.kind == TWIST else None
    if at is None:
        return ""
    check, moment = at
    if last_of(measured_rows(uow).get((part.id, check.id), ()), moment) is not None:
        return ""
    return f"“{check.name}” was not read yet; read it at {', '.join(one['name'] for one in check.points)}"
