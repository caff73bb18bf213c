"""Some of a job done again at one tap: a place of cloth set again, one more fill; before what is still to be done."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.store.models import Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.build.job_edits import AddJob, add_job
from kiteloom.workshop.build.jobs import BuiltJob, job_row, key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.work import done_so_far

#: The longest place.
LONGEST = 80


@dataclass(frozen=True)
class SetAgain:
    """Which job, and where. The client makes the id, so a retry adds nothing."""

    id: str
    job: str
    where: str = ""


def set_again(uow: UnitOfWork, part_id: str, order: SetAgain, now: datetime) -> Kept:
    """Add the job that does it again, on this part alone; nothing of what follows begins before it."""
    if uow.session.get(Job, order.id) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    mine = next((job for job in part.jobs if job.key == order.job), None)
    again = mine.recipe.again if mine is not None and mine.recipe is not None else None
    if mine is None or again is None:
        raise Refused("job", f"{part.name} has no such job that is done again in places")
    gate = _gate(mine)
    if not begun(uow, part, mine):
        raise Refused("job", f"“{mine.steps[gate].name}” is not done yet: there is nothing to do again")
    facts = done_so_far(uow, {part.id: part}).facts
    left = [key_in(mine, step.key) for step in mine.steps[gate + 1 :]]
    before = next((key for key in left if f"{part.id}:{key}" not in facts), "")
    roles = {role.key for role in recipe_of(again.recipe).roles}
    products = {row.role: row.data_sheet_id for row in job_row(uow.get(Part, part_id), order.job).products
                if row.role in roles}  # fmt: skip
    given = {**again.given, **({again.where: order.where.strip()[:LONGEST]} if again.where else {})}
    # In the order in which it was found: another fill comes after the one that was not enough.
    earlier = [job.key for job in part.jobs if before and job.before == before]
    asked = AddJob(order.id, again.recipe, earlier[-1] if earlier else mine.key, True, given, products)
    add_job(uow, part_id, asked, now)
    uow.session.flush()
    uow.get(Job, order.id).before_key = before
    return Kept(order.id)


def begun(uow: UnitOfWork, part: BuiltPart, job: BuiltJob) -> bool:
    """Whether so much of a job is done that some of it can be done again: its first step, or its gate."""
    return f"{part.id}:{key_in(job, job.steps[_gate(job)].key)}" in done_so_far(uow, {part.id: part}).facts


def _gate(job: BuiltJob) -> int:
    return next((n for n, step in enumerate(job.steps) if step.gate), 0)
