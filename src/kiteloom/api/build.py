"""The airframe, its parts and their jobs and steps: what is built, and how. Thin."""

from __future__ import annotations

from pydantic import BaseModel

from kiteloom.api.house import Routes, now, store
from kiteloom.views.part import built_from, head, job
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.built_from import SayBuilt, say_built
from kiteloom.workshop.build.job_edits import AddJob, ChangeJob, add_job, change_job
from kiteloom.workshop.build.step_edits import (
    DropStep,
    EditMinutes,
    NameStep,
    OwnStep,
    PlaceStep,
    add_step,
    drop_step,
    edit_minutes,
    name_step,
    place_step,
)
from kiteloom.workshop.log.set_again import SetAgain, set_again

bp = Routes("build", "Parts and jobs")


class OfJob(BaseModel):
    """Of which job, by its key; the first that has what is asked for when none is named."""

    job: str | None = None


@bp.get("/parts/<part_id>")
@bp.gives(head.PartHead)
def read_part(part_id: str) -> head.PartHead:
    """Who a part is."""
    with store().reading() as uow:
        return head.part_head(uow, part_id, now())


@bp.get("/parts/<part_id>/built-from")
@bp.gives(built_from.BuiltFrom)
def read_built_from(part_id: str) -> built_from.BuiltFrom:
    """What a part is built from, and what it is turned with."""
    with store().reading() as uow:
        return built_from.built_from(uow, part_id)


@bp.post("/parts/<part_id>/built-from")
@bp.takes(SayBuilt)
@bp.gives(Saved)
def say_built_from(part_id: str, order: SayBuilt) -> Saved:
    """Say what a part is built from."""
    with store().writing() as uow:
        return say_built(uow, part_id, order, now())


@bp.get("/parts/<part_id>/job")
@bp.asks(OfJob)
@bp.gives(job.JobView)
def read_job(part_id: str, asked: OfJob) -> job.JobView:
    """A job's form and products, as its recipe asks them."""
    with store().reading() as uow:
        return job.job_view(uow, part_id, asked.job or "")


@bp.post("/parts/<part_id>/jobs/look")
@bp.takes(job.LookAtJob)
@bp.gives(job.JobLook)
def look_at_a_job(part_id: str, order: job.LookAtJob) -> job.JobLook:
    """What a job would come to; nothing is kept."""
    with store().reading() as uow:
        return job.look_at_job(uow, part_id, order, now())


@bp.post("/parts/<part_id>/jobs")
@bp.takes(AddJob)
@bp.gives(Saved, 201)
def put_job(part_id: str, order: AddJob) -> Saved:
    """Add a job between two others."""
    with store().writing() as uow:
        return add_job(uow, part_id, order, now())


@bp.post("/parts/<part_id>/jobs/again")
@bp.takes(SetAgain)
@bp.gives(Kept, 201)
def put_again(part_id: str, order: SetAgain) -> Kept:
    """Set a place again where cloth did not stick."""
    with store().writing() as uow:
        return set_again(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/job")
@bp.takes(ChangeJob)
@bp.gives(Saved)
def alter_job(part_id: str, order: ChangeJob) -> Saved:
    """Change what a job is given, move it, take it out or put it back."""
    with store().writing() as uow:
        return change_job(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/minutes")
@bp.takes(EditMinutes)
@bp.gives(Saved)
def change_minutes(part_id: str, order: EditMinutes) -> Saved:
    """Change a step's hands-on minutes."""
    with store().writing() as uow:
        return edit_minutes(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/step-name")
@bp.takes(NameStep)
@bp.gives(Saved)
def change_name(part_id: str, order: NameStep) -> Saved:
    """Call a step otherwise."""
    with store().writing() as uow:
        return name_step(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/step-stations")
@bp.takes(PlaceStep)
@bp.gives(Saved)
def change_stations(part_id: str, order: PlaceStep) -> Saved:
    """Say which stations a step of the shop's own needs."""
    with store().writing() as uow:
        return place_step(uow, part_id, order, now())


@bp.post("/parts/<part_id>/steps")
@bp.takes(OwnStep)
@bp.gives(Saved, 201)
def put_step(part_id: str, order: OwnStep) -> Saved:
    """Add a step after another."""
    with store().writing() as uow:
        return add_step(uow, part_id, order, now())


@bp.post("/parts/<part_id>/steps/drop")
@bp.takes(DropStep)
@bp.gives(Saved)
def take_step_out(part_id: str, order: DropStep) -> Saved:
    """Take a step of the shop's own out again."""
    with store().writing() as uow:
        return drop_step(uow, part_id, order, now())
