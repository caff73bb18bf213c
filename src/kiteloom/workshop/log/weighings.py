"""Parts weighed before and after their jobs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.weight.part import Band, Done, odd_weight, stands
from kiteloom.store.models import Weighing
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.notes import finished_steps

#: No part weighs more [g].
MOST_G = 5_000_000.0

Moment = Literal["before", "after"]


@dataclass(frozen=True)
class NoteWeighing:
    """What a part weighed before or after one of its jobs, by the job's key. The client makes the id.

    ``sure`` keeps it although it is several times off what is computed.
    """

    id: str
    job: str
    moment: Moment
    weighs: Typed
    sure: bool = False
    note: str = ""


def note_weighing(uow: UnitOfWork, part_id: str, order: NoteWeighing, now: datetime) -> Kept:
    """Keep a weighing; one that is several times off what is computed is asked about first."""
    same = {"part_id": part_id, "job_key": order.job, "moment": order.moment}
    if uow.kept_already(Weighing, order.id, **same) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    if all(job.key != order.job for job in part.jobs):
        raise Refused("job", f"{part.name} has no job “{order.job[:40]}”")
    grams = between("weighs", order.weighs.read("mass", "weighs"), 0, MOST_G, unit="g", name="what it weighs",
                    open_low=True)  # fmt: skip
    question = odd_weight(grams, _expected(uow, part, order), units_of(uow))
    if question and not order.sure:
        raise Refused("sure", question)
    uow.add(Weighing(id=order.id, **same, grams=grams, note=order.note.strip()[:500], happened_at=now, recorded_at=now))
    uow.changed("weight", part_id)
    return Kept(order.id)


def _expected(uow: UnitOfWork, part: BuiltPart, order: NoteWeighing) -> Band:
    """What a part is computed to weigh then, from what was weighed of it before."""
    rows: list[Done] = []
    for job, done in zip(part.jobs, jobs_weighed(uow, part), strict=True):
        if job.key == order.job:
            rows.append(Done(done.stays, done.finished, done.before_g) if order.moment == "after" else Done(()))
            break
        rows.append(done)
    return stands(rows)[1]


def jobs_weighed(uow: UnitOfWork, part: BuiltPart) -> list[Done]:
    """A part's jobs in order as they are weighed: what stays of each, what is finished, what was weighed round it."""
    weighed = {(row.job_key, row.moment): row.grams for row in weighings(uow, part.id)}
    finished = finished_steps(uow, part.id)
    return [
        Done(
            job.stays,
            frozenset(step.key for step in job.steps if key_in(job, step.key) in finished),
            weighed.get((job.key, "before")),
            weighed.get((job.key, "after")),
        )
        for job in part.jobs
    ]


def weighings(uow: UnitOfWork, part_id: str) -> list[Weighing]:
    """Those of a part that count, oldest first; of one moment the last one."""
    rows = uow.once("weighings", lambda: uow.all(Weighing, Weighing.happened_at, Weighing.recorded_at))
    gone = taken_back(uow)
    standing: dict[tuple[str, str], Weighing] = {}
    for row in rows:
        if row.part_id == part_id and row.id not in gone:
            standing.pop((row.job_key, row.moment), None)
            standing[row.job_key, row.moment] = row
    return list(standing.values())
