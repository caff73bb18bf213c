"""What is placed next: what is pinned or must follow in time, then parts that were begun, then the longest chain."""

from __future__ import annotations

import heapq
import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence

from kiteloom.core.build.step import Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.units import units_of


class Line:
    """What is to be placed, and what of it is the same in whichever order: units, their chains, what comes before them.

    Steps that must follow each other in time come together, as a unit.
    """

    def __init__(self, job: PlanInput, todo: Sequence[Step]) -> None:
        keys = {step.key for step in todo}
        self.units = units_of(todo)
        unit_of = self.unit_of = {step.key: n for n, unit in enumerate(self.units) for step in unit}
        # What was begun goes on before anything new: it takes up its mould, its jig, its bench.
        begun = {step.part for step in job.steps if step.part and step.key in job.facts}
        mean = job.profile.mean(job.start, job.start + 14 * 1440)
        tails, ranks = tails_of(job.in_order, mean), {step.key: rank for rank, step in enumerate(job.steps)}
        wanted = _wanted(job, todo)
        self.natural = [
            min((wanted[s.key], s.part not in begun, -tails[s.key], ranks[s.key]) for s in unit) for unit in self.units
        ]
        """What each unit goes by where no order stands: when it is wanted, whether its part was begun, its chain."""
        self.last_first = sorted(range(len(self.units)), key=lambda n: self.natural[n], reverse=True)
        """The units as they would go where no order stands, the last first."""
        self.waits = [0] * len(self.units)
        """For how many others each unit waits."""
        self.followers: dict[int, set[int]] = defaultdict(set)
        for n, unit in enumerate(self.units):
            before = {unit_of[link.step] for step in unit for link in step.after if link.step in keys} - {n}
            self.waits[n] = len(before)
            for other in before:
                self.followers[other].add(n)
        self.bits = {step.key: 1 << n for n, step in enumerate(todo)}
        self.before: dict[str, int] = {}
        """The bits of all that comes before each step."""
        for step in todo:
            mine = 0
            for link in step.after:
                if link.step in self.bits:
                    mine |= self.bits[link.step] | self.before[link.step]
            self.before[step.key] = mine
        self.turned = {step.key: step for step in todo if step.way}


class Queue:
    """What is placed next: what is pinned or must follow in time, parts that were begun, then the longest chain.

    Where an order stands, it is that instead of the chain. A patient queue puts a turning off
    while anything can still be done as the thing lies.
    """

    def __init__(self, line: Line, order: Sequence[str], way: Callable[[str], str], *, patient: bool) -> None:
        self._line, self._way, self._patient, self.waited = line, way, patient, False
        stands = _standing(order, line)
        self._order = [(own[0], own[1], rank, own[2], own[3]) for own, rank in zip(line.natural, stands, strict=True)]
        self._waiting, self._turned = line.waits[:], dict(line.turned)
        self._ready: list[tuple[tuple[float, bool, float, float, int], int]] = []
        self._aside: list[int] = []
        for n, waits in enumerate(self._waiting):
            if not waits:
                self._came(n)

    def next(self) -> tuple[Step, ...] | None:
        """The next unit; None when all are placed."""
        while self._ready or self._aside:
            if not self._ready:
                return self._line.units[self._aside.pop(0)]  # nothing else is left to wait for
            _, n = heapq.heappop(self._ready)
            if self._patient and self._should_wait(self._line.units[n]):
                self._aside.append(n)
                self.waited = True
                continue
            return self._line.units[n]
        return None

    def placed(self, unit: Sequence[Step]) -> None:
        """That a unit was placed, or left out."""
        n = self._line.unit_of[unit[0].key]
        for step in unit:
            self._turned.pop(step.key, None)
        for follower in self._line.followers[n]:
            self._waiting[follower] -= 1
            if not self._waiting[follower]:
                self._came(follower)
        for other in self._aside:
            self._came(other)
        self._aside.clear()

    def _came(self, n: int) -> None:
        """That a unit waits for nothing more."""
        heapq.heappush(self._ready, (self._order[n], n))

    def _should_wait(self, unit: Sequence[Step]) -> bool:
        """Whether it would turn a thing on which something can still be done before."""
        own = {step.key for step in unit}
        for step in unit:
            present = self._way(step.thing) if step.way else ""
            if not present or present == step.way:
                continue
            mine = [other for other in self._turned.values() if other.thing == step.thing and other.key not in own]
            turned = 0
            for other in mine:
                turned |= self._line.bits[other.key] if other.way != present else 0
            for key in own:
                turned |= self._line.bits[key]
            if any(other.way == present and not self._line.before[other.key] & turned for other in mine):
                return True
        return False


def _standing(order: Sequence[str], line: Line) -> list[float]:
    """The place of each unit in the order that stands; what is new comes where it would have come by itself."""
    places = {key: place for place, key in enumerate(order)}
    found, next_one = [0.0] * len(line.units), math.inf
    for n in line.last_first:
        known = [places[step.key] for step in line.units[n] if step.key in places]
        next_one = float(min(known)) if known else next_one
        found[n] = next_one if known else next_one - 0.5
    return found


def _wanted(job: PlanInput, todo: Sequence[Step]) -> dict[str, float]:
    """When each step is wanted, for its own sake or for that of what follows; inf when by none.

    It is for a pin, or because it must follow in time something that was begun: that waits for
    nobody.
    """
    wanted = {step.key: job.pins[step.key].start if step.key in job.pins else math.inf for step in todo}
    for step in reversed(todo):
        if any(link.tight and link.step in job.facts for link in step.after):
            wanted[step.key] = min(wanted[step.key], job.start)
        for link in step.after:
            if link.step in wanted:
                wanted[link.step] = min(wanted[link.step], wanted[step.key])
    return wanted


def passed_by(steps: Sequence[Step], facts: Mapping[str, Fact]) -> set[str]:
    """Steps of the same job, with no facts of their own, before one that has some: they are taken as done.

    Other jobs are not, nor parts it is built from: a fill that was noted too soon makes no skin. Nor is a
    gate ever, or what comes before it: a closing is looked at and noted by somebody.

    >>> passed_by(small.steps, {"layup": Fact(((0, 90),), finished=90.0)})
    {'bed'}
    """
    by_key = {step.key: step for step in steps}
    passed: set[str] = set()
    seen: set[str] = set()
    trail = [(step, link.step) for step in steps if step.key in facts for link in step.after]
    while trail:
        after, key = trail.pop()
        before = by_key[key]
        closing = before.gate and key not in facts
        if key in seen or (before.part, before.job) != (after.part, after.job) or closing:
            continue
        seen.add(key)
        if key not in facts:
            passed.add(key)
        trail += [(before, link.step) for link in before.after]
    return passed


def tails_of(steps: Sequence[Step], celsius: float) -> dict[str, float]:
    """The longest chain from the start of each step to the end [min], all at one temperature.

    >>> {key: round(minutes / 60, 1) for key, minutes in tails_of(small.steps, 20).items()}
    {'bed': 15.6, 'layup': 14.6, 'peel': 0.5}
    """

    def wait(step: Step, until: str) -> float:
        stage = step.wait_stage if until == "wait" else until
        if step.cure is None or stage is None:
            return step.wait_min
        return 60 * step.cure.hours(stage) / max(step.cure.rate_at(celsius), 1e-3)

    return longest_chains(steps, wait)


def longest_chains(steps: Sequence[Step], wait: Callable[[Step, str], float]) -> dict[str, float]:
    """The longest chain from the start of each step to the end [min].

    Parameters
    ----------
    wait : function
        How long after a step's work an event others wait for comes, its own wait or a stage [min].
    """
    tails = {step.key: step.length + wait(step, "wait") for step in steps}
    by_key = {step.key: step for step in steps}
    for step in reversed(steps):
        for link in step.after:
            before = by_key.get(link.step)
            if before is None:
                continue
            event = 0.0 if link.until == "end" else wait(before, link.until)
            tails[link.step] = max(tails[link.step], before.length + event + tails[step.key])
    return tails
