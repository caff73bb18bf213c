"""A place where cloth did not stick: the job that sets it again, at one tap, before what is still to be done."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.build.job_edits import AddJob, add_job
from kiteloom.workshop.build.jobs import job_row, key_in
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.work import done_so_far


@dataclass(frozen=True)
class SetAgain:
    """Where cloth of a job did not stick. The client makes the id, so a retry adds nothing."""

    id: str
    job: str
    where: str = ""


def set_again(uow: UnitOfWork, part_id: str, order: SetAgain, now: datetime) -> Kept:
    """Add the job that sets a place again, on this part alone; nothing of what follows begins before it."""
    if uow.session.get(Job, order.id) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    mine = next((job for job in part.jobs if job.key == order.job), None)
    if mine is None or mine.recipe is None or not mine.recipe.again:
        raise Refused("job", f"{part.name} has no such job that lays cloth on")
    facts = done_so_far(uow, {part.id: part}).facts
    gate = next((n for n, step in enumerate(mine.steps) if step.gate), 0)
    if f"{part.id}:{key_in(mine, mine.steps[gate].key)}" not in facts:
        raise Refused("job", "its cloth is not on yet: nothing of it can have come loose")
    left = [key_in(mine, step.key) for step in mine.steps[gate + 1 :]]
    before = next((key for key in left if f"{part.id}:{key}" not in facts), "")
    products = {row.role: row.data_sheet_id for row in job_row(uow.get(Part, part_id), order.job).products
                if row.role in ("cloth", "cement")}  # fmt: skip
    asked = AddJob(order.id, mine.recipe.again, mine.key, True, {"where": order.where.strip()[:80]}, products)
    add_job(uow, part_id, asked, now)
    uow.session.flush()
    uow.get(Job, order.id).before_key = before
    return Kept(order.id)
