"""Which job is done again where a reading is out of tolerance, and what the one that mends it is called."""

from __future__ import annotations

from kiteloom.core.build.step_id import StepId
from kiteloom.store.models import PartCheck
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.checks import steps_of_moments
from kiteloom.workshop.build.jobs import BuiltJob
from kiteloom.workshop.build.parts import BuiltPart


def mending_id(measured_id: str) -> str:
    """The id of the job that mends what a reading found; it need not be there."""
    return stable_id("mend", measured_id)


def mends(part: BuiltPart, check: PartCheck, moment: str) -> BuiltJob | None:
    """The job that is done again where a reading of a check is out of tolerance; None where none knows how."""
    key = dict(steps_of_moments(part, check)).get(moment, "")  # type: ignore[call-overload]  # its words
    job = next((job for job in part.jobs if key and job.key == StepId.within(part.id, key).job), None)
    again = job.recipe.again if job is not None and job.recipe is not None else None
    return job if again is not None and check.kind in again.brings_in else None
