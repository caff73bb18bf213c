"""What a plan stands on: the hours, the airs, and when everybody is there."""

from __future__ import annotations

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.plan.airs import LOOKAHEAD_MIN, Airs
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.use import Hours, Roster


class Ground:
    """What a job stands on that is the same whatever was done, in whichever order: worked out once for its plans."""

    def __init__(self, job: PlanInput) -> None:
        end = job.start + LOOKAHEAD_MIN
        self.hours: Hours = Hours.of(job.hours.intervals(job.start, end))
        self.always: Hours = Hours.of([(job.start, end)])
        self.airs: Airs = Airs(job)
        self.roster: Roster = Roster(job, self.hours, job.start, end)
        self._job = job

    def serves(self, job: PlanInput) -> bool:
        """Whether another job stands on it too.

        >>> ground = Ground(small)
        >>> ground.serves(replace(small, order=("bed",))), ground.serves(replace(small, start=small.start + 5))
        (True, False)
        """
        mine, theirs = _airs_of(self._job), _airs_of(job)
        return (
            _people_of(self._job) == _people_of(job)
            and mine.keys() == theirs.keys()
            and all(_alike(air, theirs[name]) for name, air in mine.items())
        )


def _people_of(job: PlanInput) -> tuple[object, ...]:
    """Who works when, and in which zone stations are."""
    return job.start, job.hours, job.crew, [(station.id, station.zone) for station in job.stations]


def _airs_of(job: PlanInput) -> dict[tuple[str, str], Profile]:
    """Every temperature and humidity of a job."""
    warm = {("own", name): air for name, air in job.own.items()} | {("zone", name): a for name, a in job.zones.items()}
    damp = {("humidity", name): damp.humidity for name, damp in job.damp.items()}
    margins = {("margin", name): damp.margin for name, damp in job.damp.items()}
    return {("shop", ""): job.profile} | warm | damp | margins


def _alike(one: Profile, other: Profile) -> bool:
    if one is other:
        return True
    return np.array_equal(one.minutes, other.minutes) and np.array_equal(one.celsius, other.celsius)
