"""As far as an order is that of a plan, all stands as it does there: nothing of it is looked for again.

Nor is it taken again step by step: what was taken is kept every so many steps, to go on from. After that it is counted
how much later all is than there, for an order that only gets worse is given up soon.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from kiteloom.core.build.step import Step
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.queue import Queue
from kiteloom.core.plan.search import Taken
from kiteloom.core.plan.turning import Turning

#: After so many steps more what is taken is kept.
MARK_EVERY = 48

#: What is taken, and how everything lies.
State = tuple[Taken, Turning]


class Marks:
    """What was taken after some of the steps of one plan after another, to go on from there with other steps."""

    def __init__(self) -> None:
        self._rows: list[Placed] = []
        self._states: dict[int, State] = {}

    def of(self, plan: Plan, begun: int) -> None:
        """From now on they are those of a plan: what it has of its steps in common with the last stays.

        Parameters
        ----------
        begun : int
            So many stand at first, whatever the plan.
        """
        rows = [plan.by_key[key] for key in plan.order[begun:]]
        differs = (n for n, (now, then) in enumerate(zip(rows, self._rows, strict=False)) if now is not then)
        same = next(differs, min(len(rows), len(self._rows)))
        self._rows, self._states = rows, {n: state for n, state in self._states.items() if n <= same}

    def last(self, count: int) -> tuple[int, State | None]:
        """The last that is kept after so many steps or fewer, and after how many that is.

        >>> marks, state = Marks(), (({}, {}, {}), Turning([]))
        >>> marks.keep(MARK_EVERY, state)
        >>> marks.last(MARK_EVERY - 1), marks.last(MARK_EVERY + 1) == (MARK_EVERY, state)
        ((0, None), True)
        """
        at = max((n for n in self._states if n <= count), default=0)
        return at, self._states.get(at)

    def due(self, count: int) -> bool:
        """Whether what is taken after so many steps is to be kept.

        >>> Marks().due(MARK_EVERY), Marks().due(MARK_EVERY - 1)
        (True, False)
        """
        return count - self.last(count)[0] >= MARK_EVERY

    def keep(self, count: int, state: State) -> None:
        """What is taken after so many steps.

        >>> marks = Marks()
        >>> marks.keep(MARK_EVERY, (({}, {}, {}), Turning([])))
        >>> marks.due(MARK_EVERY + 1)
        False
        """
        self._states[count] = state


@dataclass(frozen=True)
class Near:
    """A plan of the same job whose steps stand as they do there, as far as the order is the same; and what was taken on
    the way there. So much later on the whole than it [min] another is given up: then it is that plan."""

    plan: Plan
    marks: Marks
    later: float = math.inf


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
    marks : Marks or None
        Those of the last plan that steps stood as in: they are of this one now.
    """

    def __init__(self, plan: Plan, begun: int, steps: Sequence[Step], marks: Marks | None = None) -> None:
        there, own = plan.by_key, {step.key for step in steps}
        self._next = [(there[key], key in own) for key in reversed(plan.order[begun:])]
        """What is next last, and whether it is a step of the job, not a turning for the one after it."""
        self.plan, self._there, self._later = plan, there, 0.0
        self.known: list[tuple[Placed, bool]] = []
        """Those that stand as there, each turning before what it is for, and whether it is none."""
        self.marks: Marks = marks or Marks()
        self.marks.of(plan, begun)
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

    def along(self, queue: Queue) -> tuple[Step, ...] | None:
        """The first unit of a queue that is not the next of the plan, what comes before it noted as known; None where
        there is none.

        >>> from kiteloom.core.plan.queue import Line
        >>> prefix, line = Prefix(plan, 0, small.steps), Line(small, small.steps)
        >>> prefix.along(Queue(line, ("bed", "layup", "peel"), lambda _: "", patient=False)) is None
        True
        >>> [placed.step.key for placed, _ in prefix.known]
        ['bed', 'layup', 'peel']
        """
        while (unit := queue.next()) is not None and self._goes_on(unit):
            queue.placed(unit)
        return unit

    def _goes_on(self, unit: Sequence[Step]) -> bool:
        """Whether the next steps of the plan are those of a unit, each turning before what it is for."""
        wanted, found = {step.key for step in unit}, list[tuple[Placed, bool]]()
        while wanted and self._next:
            placed, own = self._next.pop()
            if own and placed.step.key not in wanted:
                break
            wanted.discard(placed.step.key)
            found.append((placed, own))
        if not wanted:
            self.known += found
        return not wanted
