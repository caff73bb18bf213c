"""What is decided about a reading out of tolerance; where its job knows how, mending it goes into the plan at once."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.store.models import Judgement, Measured, PartCheck
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.build.mending import mending_id, mends
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.set_again import SetAgain, begun, set_again
from kiteloom.workshop.log.signing import signed

Ruling = Literal["accept", "mend", "redo"]


@dataclass(frozen=True)
class Rule:
    """What is decided about a reading out of tolerance, by whom, and why."""

    id: str
    kind: Ruling
    crew_member_id: str | None = None
    note: str = ""


def rule(uow: UnitOfWork, measured_id: str, order: Rule, now: datetime) -> Kept:
    """Write down what is decided; accepted, what follows is let go on; mended, what mends it goes into the plan."""
    if uow.kept_already(Judgement, order.id, measured_id=measured_id, kind=order.kind) is not None:
        return Kept(order.id)
    row = uow.get(Measured, measured_id)
    who, note = signed(uow, order.crew_member_id, order.note)
    uow.add(Judgement(id=order.id, measured_id=row.id, kind=order.kind, note=note, crew_member_id=who,
                      happened_at=now, recorded_at=now))  # fmt: skip
    uow.changed("part", row.part_id)
    part = built_part(uow, row.part_id)
    job = mends(part, uow.get(PartCheck, row.check_id), row.moment)
    if order.kind == "mend" and job is not None and begun(uow, part, job):
        set_again(uow, part.id, SetAgain(mending_id(row.id), job.key), now)
    return Kept(order.id)
