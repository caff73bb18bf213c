"""Orders in which all that leads to a scarce station, or a scarce skill, goes first.

The longest chain says what is late by itself, not what queues: a mould that serves one set a day is the end of a plan
long before any chain of its own would be. What comes before such a step gets a lead of some days over its chain.
"""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.build.step import Step, in_order
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.queue import tails_of

#: The lead that is tried of each by itself, and those of several together [days].
FIRST_DAYS, DAYS = 7.0, (0.0, 1.0, 3.0, 7.0, 14.0, 30.0)

#: Where few orders are tried only the fullest lead, so many of them.
FEW = 6

Leads = Mapping[str, float]
"""Days by station or skill."""


class Leading:
    """Orders of a job by its longest chains and by what leads.

    Attributes
    ----------
    scarce : list of str
        Stations and skills that some steps want and others don't, the fullest first.

    >>> Leading(small).scarce, Leading(small).order({})
    ([], ['bed', 'layup', 'peel'])
    """

    def __init__(self, job: PlanInput) -> None:
        self._steps = in_order(job.steps)
        self._tails = tails_of(self._steps, job.profile.mean(job.start, job.start + 14 * DAY_MIN))
        serve = {station.id: station.capacity for station in job.stations}
        for skill in sorted({skill for step in self._steps for skill in step.skills}):
            serve.setdefault(skill, sum(skill in member.skills for member in job.crew))
        wanted = {
            name: [step for step in self._steps if name in step.stations or name in step.skills] for name in serve
        }
        self._before = {name: _before(self._steps, on_it) for name, on_it in wanted.items()}

        def load(name: str) -> float:
            # One that waits on it may well keep it for the night.
            minutes = sum(s.length + (s.holds and name in s.stations) * DAY_MIN / 2 for s in wanted[name])
            return minutes / max(serve[name], 1)

        some = [name for name, before in self._before.items() if before]
        self.scarce = sorted(some, key=load, reverse=True)

    def order(self, leads: Leads) -> list[str]:
        """All steps, the longest chain first, what leads to something lengthened by its lead."""
        ranks = {step.key: -self._tails[step.key] for step in self._steps}
        for name, days in leads.items():
            for key in self._before[name]:
                ranks[key] -= days * DAY_MIN
        return sorted(ranks, key=lambda key: ranks[key])

    def fullest(self) -> list[list[str]]:
        """Orders in which one of the fullest few leads."""
        return [self.order({name: FIRST_DAYS}) for name in self.scarce[:FEW]]

    def near(self, leads: Leads, chance: random.Random) -> dict[str, float]:
        """Leads like others: one of them is another, the fuller ones more often."""
        few = self.scarce[: max(round(len(self.scarce) * chance.random()), 1)]
        return {**leads, chance.choice(few): chance.choice(DAYS)} if few else dict(leads)


def _before(steps: Sequence[Step], on_it: Sequence[Step]) -> set[str]:
    """Some steps and all that comes before them."""
    found = {step.key for step in on_it}
    for step in reversed(steps):
        if step.key in found:
            found.update(link.step for link in step.after)
    return found
