"""What is placed next where whoever is free goes on: of what can begin soonest, the first in an order.

An order that is gone through as it stands has a step wait its turn in it though somebody is idle; what may pause is
then placed long before a day ends that it could fill. Here nobody is idle who could begin something, but what begins
within some minutes of that, and comes before it in the order, is not passed over.
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Callable, Sequence

from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.queue import Line, Queue
from kiteloom.core.plan.search import Search

#: What says from when enough hands are free for a step: its length, whether it may pause, how many, of which skill.
Need = tuple[float, bool, int, tuple[str, ...]]


class AsFree(Queue):
    """What can begin soonest, or within some minutes of that, the first in an order before others.

    Parameters
    ----------
    search : Search
        What is taken so far of people and stations.
    comes, begins : function
        From when what comes before a step allows it, and from when it can go as everything lies [min]; -inf where it
        can't.
    patience : float
        So long the next waits for what comes before it in the order [min].

    References
    ----------
    The parallel scheme: R. Kolisch, "Serial and parallel resource-constrained project scheduling methods revisited",
    European Journal of Operational Research 90, 1996 (from memory).
    """

    def __init__(
        self,
        line: Line,
        order: Sequence[str],
        search: Search,
        comes: Callable[[Step], float],
        begins: Callable[[Step], float],
        patience: float,
    ) -> None:
        self._search, self._comes, self._begins, self._patience = search, comes, begins, patience
        self._soon: list[tuple[float, tuple[float, bool, float, float, int], int]] = []
        """What waits for nothing more, by when it could begin when that was last asked."""
        self._free: dict[Need, tuple[float, float]] = {}
        """From when enough hands are free for a need: since when it was asked, and when that is."""
        super().__init__(line, order, lambda _: "", patient=False)

    def next(self) -> tuple[Step, ...] | None:
        """The next unit; None when all are placed.

        >>> line, search, soon = Line(small, small.steps), Search(small), lambda step: small.start
        >>> queue = AsFree(line, (), search, soon, soon, 20)
        >>> [step.key for step in queue.next()]
        ['bed']
        """
        while self._soon:
            begins, order, n = heapq.heappop(self._soon)
            now = self._when(n, begins, begins)
            if now <= begins:
                return self._line.units[self._wanted_first(n, begins)]
            heapq.heappush(self._soon, (now, order, n))
        return None

    def placed(self, unit: Sequence[Step]) -> None:
        """That a unit was placed, or left out."""
        self._free.clear()
        super().placed(unit)

    def _came(self, n: int) -> None:
        heapq.heappush(self._soon, (self._comes(self._line.units[n][0]), self._order[n], n))

    def _wanted_first(self, soonest: int, begins: float) -> int:
        """Of what can begin within the patience of a time the first in the order; one that can then is known."""
        until = begins + self._patience
        row = [(self._order[soonest], begins, soonest)]
        while self._soon and self._soon[0][0] <= until:
            known, order, n = heapq.heappop(self._soon)
            row.append((order, known, n))
        row.sort()
        chosen = -1
        for order, known, n in row:
            now = known if chosen >= 0 or n == soonest else self._when(n, known, until)
            if chosen < 0 and now <= until:
                chosen = n
            else:
                heapq.heappush(self._soon, (now, order, n))
        return chosen

    def _when(self, n: int, known: float, until: float) -> float:
        """From when a unit can begin, of which one knows a time it can't before; just some time after a last one where
        it can't until that."""
        step = self._line.units[n][0]
        hands = self._hands(step, known)
        return hands if hands > until else max(hands, self._begins(step))

    def _hands(self, step: Step, known: float) -> float:
        """A time before which too few hands are free for a step, as far as that is soon said."""
        if not step.people:
            return known
        length, alone = self._search.needed(step), step.people == 1
        need = (length, step.may_pause, step.people, step.skills if alone else ())
        since, soonest = self._free.get(need, (math.inf, math.inf))
        if not since <= known <= soonest:
            teams = self._search.roster.teams(step)
            # Who pauses by which hours is said for one; of several of different hours just that they are there.
            whole = alone or len(teams) == 1
            free = [
                self._search.people[member.id]
                .free(hours if whole else self._search.hours)
                .soonest(known, length if whole else GRID_MIN, pauses=step.may_pause and whole)
                for hours, each in (teams if whole else teams[:1])
                for member in self._search.job.crew
                if member.skills.issuperset(need[3])
                and (not whole or not each or any(member.id in who for who in each))
            ]
            soonest = sorted(free)[step.people - 1] if len(free) >= step.people else known
            self._free[need] = known, soonest
        return max(known, soonest)
