"""Orders in which all that leads to a scarce station, or a scarce skill, goes first.

The longest chain says what is late by itself, not what queues: a mould that serves one set a day is the end of a plan
long before any chain of its own would be. What comes before such a step gets a lead of some days over its chain. So
may what takes most of the crew, and what is long and can't pause: where hands are full, what is short, what is done
alone and what may pause at closing time go last, for they fit into what is left of every day.
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

#: What takes more than half of the crew, what takes all of it, and what is much work without a pause, as they lead.
MOST, ALL, LONG = "more than half of the crew", "all of the crew", "long work"

Leads = Mapping[str, float]
"""Days by station or skill, or by one of those."""


class Leading:
    """Orders of a job by its longest chains and by what leads.

    Attributes
    ----------
    scarce : list of str
        Stations and skills that some steps want and others don't, the fullest first.
    together : list of str
        What may lead where hands are full.

    >>> Leading(small).scarce, Leading(small).together, Leading(small).order({})
    ([], ['long work'], ['bed', 'layup', 'peel'])
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
        before = {name: _before(self._steps, on_it) for name, on_it in wanted.items()}

        def load(name: str) -> float:
            # One that waits on it may well keep it for the night.
            minutes = sum(s.length + (s.holds and name in s.stations) * DAY_MIN / 2 for s in wanted[name])
            return minutes / max(serve[name], 1)

        self.scarce = sorted((name for name, keys in before.items() if keys), key=load, reverse=True)
        for name, hands in ((MOST, len(job.crew) // 2 + 1), (ALL, len(job.crew))):
            keys = _before(self._steps, [step for step in self._steps if step.people >= max(hands, 2)])
            if keys and keys not in before.values():
                before[name] = keys
        firm = [step for step in self._steps if not step.may_pause]
        work = {step.key: step.length * step.people for step in firm}
        most = max(work.values(), default=0.0) or 1.0
        self._share = {name: dict.fromkeys(keys, 1.0) for name, keys in before.items()}
        self._share[LONG] = {key: minutes / most for key, minutes in work.items()}
        """How much of its lead each step has."""
        self.together = [name for name in (LONG, MOST, ALL) if name in self._share]

    def order(self, leads: Leads) -> list[str]:
        """All steps, the longest chain first, what leads to something lengthened by its lead."""
        ranks = {step.key: -self._tails[step.key] for step in self._steps}
        for name, days in leads.items():
            for key, share in self._share[name].items():
                ranks[key] -= days * DAY_MIN * share
        return sorted(ranks, key=lambda key: ranks[key])

    def fullest(self) -> list[list[str]]:
        """Orders in which one of the fullest few leads."""
        return [self.order({name: FIRST_DAYS}) for name in self.scarce[:FEW]]

    def near(self, leads: Leads, chance: random.Random, *, full: bool) -> dict[str, float]:
        """Leads like others: one of them is another, the fuller ones more often.

        Parameters
        ----------
        full : bool
            Whether hands are full: then what they are to do together, and for long, is the fullest.
        """
        some = [*self.together, *self.scarce] if full else self.scarce
        few = some[: max(round(len(some) * chance.random()), 1)]
        return {**leads, chance.choice(few): chance.choice(DAYS)} if few else dict(leads)


def _before(steps: Sequence[Step], on_it: Sequence[Step]) -> set[str]:
    """Some steps and all that comes before them."""
    found = {step.key for step in on_it}
    for step in reversed(steps):
        if step.key in found:
            found.update(link.step for link in step.after)
    return found
