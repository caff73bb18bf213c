"""As far as an order is that of a plan, all stands as it does there: nothing of it is looked for again."""

from __future__ import annotations

from collections.abc import Sequence

from kiteloom.core.build.step import Step
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan


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
