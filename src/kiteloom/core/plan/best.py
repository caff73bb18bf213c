"""The best plan of a search so far, and which ways of looking for a better one have found something."""

from __future__ import annotations

import math
from collections.abc import Callable

from kiteloom.core.plan.aims import Aim, judged
from kiteloom.core.plan.plan import Plan

#: After so many orders it is the turn of a way at first, of twice as many each time it found nothing, up to so many.
OFTEN, SELDOM = 4, 64

#: An end nearer than this to the bound is that bound [min].
NEAR = 1e-6


def promising(plan: Plan, aim: Aim) -> tuple[float, ...]:
    """As judged; of those alike the one whose steps end sooner, from where more may be found."""
    return (*judged(plan, aim), sum(p.over for p in plan.placed))


class Best:
    """The best plan so far."""

    def __init__(self, plan: Plan, found: Callable[[Plan], object], aim: Aim) -> None:
        self.plan, self._found, self.aim = plan, found, aim
        found(plan)

    @property
    def proven(self) -> bool:
        """Whether nothing can be better."""
        plan = self.plan
        if self.aim.kind != "soonest":
            return plan.finish is None
        return plan.finish is None or (not plan.unplaced and plan.finish <= plan.bound + NEAR)

    def tell(self, plan: Plan) -> bool:
        """Take a plan to go on from, if it is more promising; it is told of if it is better."""
        if promising(plan, self.aim) >= promising(self.plan, self.aim):
            return False
        better = judged(plan, self.aim) < judged(self.plan, self.aim)
        self.plan = plan.proven(self.plan.bound, self.plan.limit)
        if better:
            self._found(self.plan)
        return better

    def bounded(self, bound: float) -> None:
        """That no plan can end before a time."""
        if bound > self.plan.bound:
            self.plan = self.plan.proven(min(bound, self.plan.finish or math.inf), None)
            self._found(self.plan)


class Often:
    """How often a way of looking is gone: at first every few times, ever less while it finds nothing.

    Parameters
    ----------
    look : function
        Looks, and tells the best plan of what it finds.
    """

    def __init__(self, look: Callable[[], object], best: Best) -> None:
        self._look, self._best, self._every, self._left = look, best, OFTEN, OFTEN

    def due(self) -> bool:
        """Whether it is its turn; asked each time an order is tried."""
        self._left -= 1
        return self._left < 0

    def go(self) -> bool:
        """Look, and whether anything was found that is more promising.

        >>> best = Best(plan, lambda _: None, Aim())
        >>> seldom = Often(lambda: None, best)
        >>> [tries for tries in range(30) if seldom.due() and not seldom.go()]
        [4, 13]
        """
        before = self._best.plan
        self._look()
        found = self._best.plan is not before
        self._every = OFTEN if found else min(2 * self._every, SELDOM)
        self._left = self._every
        return found
