"""What a plan stands on: the hours, the airs, and when everybody is there."""

from __future__ import annotations

from kiteloom.core.plan.airs import LOOKAHEAD_MIN, Airs
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.use import Hours, Roster


class Ground:
    """What a job stands on that is the same whatever was done, in whichever order: worked out once for its plans.

    ``before`` is what another job stands on: its airs are taken over where they are the same.
    """

    def __init__(self, job: PlanInput, before: Ground | None = None) -> None:
        end = job.start + LOOKAHEAD_MIN
        self.hours: Hours = Hours.of(job.hours.intervals(job.start, end))
        self.always: Hours = Hours.of([(job.start, end)])
        self.airs: Airs = before.airs if before is not None and before.airs.serve(job) else Airs(job)
        self.roster: Roster = Roster(job, self.hours, job.start, end)
        self._job = job

    def serves(self, job: PlanInput) -> bool:
        """Whether another job stands on it too.

        >>> ground = Ground(small)
        >>> ground.serves(replace(small, order=("bed",))), ground.serves(replace(small, start=small.start + 5))
        (True, False)
        """
        mine = self._job
        same = job is mine or (job.start, job.hours, job.crew) == (mine.start, mine.hours, mine.crew)
        return same and self.airs.serve(job)
