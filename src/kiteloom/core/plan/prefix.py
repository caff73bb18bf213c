"""As far as an order is that of a plan, all stands as it does there: nothing of it is looked for again.

After that it is counted how much later all is than there, for an order that only gets worse is given up soon.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Protocol

from kiteloom.core.build.step import Step
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan


class Places(Protocol):
    """Places a job in an order, long waits late in the day or as soon as they can, steps no sooner than they stand."""

    def __call__(
        self,
        order: Sequence[str],
        overnight: bool,
        stands: Mapping[str, float] = ...,
        like: Plan | None = ...,
        later: float = math.inf,
        /,
    ) -> Plan:
        """The plan of that order; as far as it is that of a plan that was so placed before, steps stand as there.

        Once its work is on the whole so much later than there [min] it is given up: the plan is that plan.
        """


class Prefix:
    """The first steps of a plan, as they were placed, for as long as they are taken in its order again.

    Parameters
    ----------
    plan : Plan
        Of the same job on the same ground, long waits put as late.
    begun : int
        So many stand at first, before any is looked for.
    steps : sequence of Step
        All of the job.
    """

    def __init__(self, plan: Plan, begun: int, steps: Sequence[Step]) -> None:
        there, own = plan.by_key, {step.key for step in steps}
        self._next = [(there[key], key in own) for key in reversed(plan.order[begun:])]
        """What is next last, and whether it is a step of the job, not a turning for the one after it."""
        self.plan, self._there, self._later = plan, there, 0.0
        self._work = sum(step.length * step.people for step in steps) or 1.0

    def later(self, unit: Sequence[Step], placed: Mapping[str, Placed]) -> float:
        """How much later the work of all units so far is than in the plan, by what there is of all [min].

        >>> Prefix(plan, 0, small.steps).later(small.steps, plan.by_key)
        0.0
        """
        for step in unit:
            now, then = placed.get(step.key), self._there.get(step.key)
            if now is not None and then is not None:
                self._later += step.length * step.people * (now.end - then.end) / self._work
        return self._later

    def of(self, unit: Sequence[Step]) -> list[tuple[Placed, bool]]:
        """The next steps of the plan, if they are those of a unit, each turning before what it is for, and whether it
        is none; of the first that are not, and ever after, nothing.

        >>> prefix = Prefix(plan, 0, small.steps)
        >>> [[placed.step.key for placed, _ in prefix.of([step])] for step in (small.steps[0], small.steps[2])]
        [['bed'], []]
        """
        wanted, found = {step.key for step in unit}, list[tuple[Placed, bool]]()
        while wanted and self._next:
            placed, own = self._next.pop()
            if own and placed.step.key not in wanted:
                break
            wanted.discard(placed.step.key)
            found.append((placed, own))
        if wanted:
            self._next.clear()
            return []
        return found
