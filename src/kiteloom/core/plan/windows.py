"""When each step of a job can be worked on, if all of it is to end by a time."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.calendar import Interval, both, without
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.cure.progress import HORIZON_MIN
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.input import PlanInput, Thing
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.search import Search
from kiteloom.core.plan.use import worked_by

Floats = NDArray[np.float64]


class Windows:
    """When each step can be worked on at the soonest, and at the latest if all is to end by a time."""

    def __init__(
        self, job: PlanInput, search: Search, todo: Sequence[Step], alone: Mapping[str, Placed], until: float
    ) -> None:
        self.steps, self._alone, self._airs, self._start, self._until = todo, alone, search.airs, job.start, until
        self.heads = np.array([alone[step.key].begins for step in todo])
        worked = {key: fact.worked_min for key, fact in job.facts.items()}
        self.left = np.array([max(step.length - worked.get(step.key, 0.0), GRID_MIN) for step in todo])
        at = {step.key: n for n, step in enumerate(todo)}
        self._follow: list[list[tuple[int, str]]] = [[] for _ in todo]
        for n, step in enumerate(todo):
            for link in step.after:
                if link.step in at:
                    self._follow[at[link.step]].append((n, link.until))
        self._shop = search.hours.open
        self._rows_of: dict[Kind | None, tuple[list[Interval], list[float]]] = {}
        self._rows = [self._hours(step) for step in todo]

    def until(self, end: float) -> tuple[Floats, Floats]:
        """The latest each step's work can begin, and the latest it can be over, if all is to end by a time [min]."""
        begins, over = np.empty(len(self.steps)), np.empty(len(self.steps))
        for n in range(len(self.steps) - 1, -1, -1):
            step = self.steps[n]
            wanted = {} if self._alone[step.key].ready is None else {"wait": end}
            for follower, event in self._follow[n]:
                wanted[event] = min(wanted.get(event, end), float(begins[follower]))
            latest = min((self._before(step, event, by) for event, by in wanted.items()), default=end)
            begins[n], over[n] = self._worked(n, latest)
        return begins, over

    def turnings(self, things: Sequence[Thing]) -> list[Turnings]:
        """The turnings that can't be left out."""
        lying: dict[str, dict[str, list[int]]] = {thing.id: defaultdict(list) for thing in things}
        for n, step in enumerate(self.steps):
            if step.way:
                lying[step.thing][step.way].append(n)
        found = []
        for thing in things:
            present = thing.turning[0] if thing.turning else thing.way
            ways = tuple(tuple(rows) for way, rows in lying[thing.id].items() if way != present)
            # Where nothing has said yet how it lies, one of them is free.
            many = len(ways) if present else len(ways) - 1
            if many > 0:
                found.append(Turnings(thing.turn("", 0), many, ways))
        return found

    def _before(self, step: Step, event: str, by: float) -> float:
        """The latest a step's work can end if an event of it is to come by a time."""
        stage = step.wait_stage if event == "wait" else event
        if event == "end" or stage is None or step.cure is None:
            return by - (step.wait_min if event == "wait" else 0.0)
        return self._airs.made_by(step.cure, step.cure.hours(stage), by, self._airs.where(step))

    def least_wait(self, step: Step, event: str = "wait") -> float:
        """The least it is from a step's work to an event of it, whenever it is done [min]; 0 where it never comes."""
        stage = step.wait_stage if event == "wait" else event
        if event == "end" or stage is None or step.cure is None:
            return step.wait_min if event == "wait" else 0.0
        if self._alone[step.key].ready is None or not step.cure.has(stage):
            return 0.0
        hours, air = step.cure.hours(stage), self._airs.where(step)
        return self._airs.least(step.cure, hours, self._start, self._until, air)

    def fit(self, step: Step) -> list[Interval]:
        """When the air is as a step's limits want it."""
        until = self._until + HORIZON_MIN
        return without([(self._start, until)], self._airs.spells(step, self._airs.where(step), until))

    def _hours(self, step: Step) -> tuple[list[Interval], list[float]]:
        """When a step can be worked on: the shop's hours, so far as the air stays fit for as long as it must."""
        key = kind_of(step, self._airs.where(step)) if step.limited else None
        if key not in self._rows_of:
            spans = both(self._shop, self.lasting(step)) if step.limited else self._shop
            self._rows_of[key] = (spans, [opens for opens, _ in spans])
        return self._rows_of[key]

    def lasting(self, step: Step) -> list[Interval]:
        """When a step with limits can be worked on for its air: until it would no longer stay fit for long enough."""
        until, cure = step.limits_until, step.cure
        stage = step.wait_stage if until == "wait" else until
        never = until == "wait" and self._alone[step.key].ready is None
        if never or (until != "end" and stage is not None and cure is not None and not cure.has(stage)):
            return self.fit(step)
        left = [(begins, self._before(step, until, ends)) for begins, ends in self.fit(step)]
        return [(begins, ends) for begins, ends in left if begins < ends]

    def times_a_day(self, chosen: Sequence[int], days: Sequence[Interval]) -> Floats:
        """How often at the most a station can be taken by any of some steps on each day, one after the other."""
        # Of those with one wait the shortest work is through first.
        least: dict[tuple[CureSystem | None, str, str], float] = {}
        for n in chosen:
            step = self.steps[n]
            cures = step.holds and step.wait_stage and step.cure is not None and self._alone[step.key].ready is not None
            kind = (step.cure, step.wait_stage or "", self._airs.where(step)) if cures else (None, "", "")
            takes = float(self.left[n]) + (step.wait_min if step.holds and not step.wait_stage else 0.0)
            least[kind] = min(least.get(kind, math.inf), takes)
        counts = []
        for opens, closes in days:
            at, count = max(opens, self._start), 0
            while at < min(closes, self._until):
                count += 1
                overs = []
                for (cure, stage, air), takes in least.items():
                    ready = self._airs.reaches(cure, at + takes, cure.hours(stage), air) if cure is not None else None
                    overs.append(at + takes if ready is None else ready)
                at = min(overs)
            counts.append(float(count))
        return np.array(counts)

    def _worked(self, n: int, by: float) -> tuple[float, float]:
        """The latest a step's work can begin, and be over, if it is to be over by a time."""
        spans, starts = self._rows[n]
        return worked_by(spans, starts, float(self.left[n]), by, pauses=self.steps[n].may_pause)


@dataclass(frozen=True)
class Turnings:
    """As many turnings of a thing, each before the first step of some other way, by which of the steps those are."""

    turn: Step
    many: int
    ways: tuple[tuple[int, ...], ...]

    def over(self, begins: Floats) -> list[float]:
        """When each must be over, if the steps begin at the latest then [min]."""
        return sorted(min(float(begins[n]) for n in rows) for rows in self.ways)[-self.many :]


Air = tuple[str, float | None, float | None, float | None, float | None]


def air_of(step: Step, air: str) -> Air:
    """The air a step has, and its limits."""
    return air, step.min_c, step.max_c, step.max_rh_pct, step.margin_k


Kind = tuple[Air, CureSystem | None, str | None, str, float]


def kind_of(step: Step, air: str) -> Kind:
    """All that says when its air is fit for a step."""
    return air_of(step, air), step.cure, step.wait_stage, step.limits_until, step.wait_min
