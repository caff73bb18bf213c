"""The job as a solver for whole numbers takes it: an order comes from it, never a time.

Starts are whole steps of the grid. What depends on the hour, a cure's length above all, is taken as long as it is
in the plan that is to be bettered; work that may pause goes in pieces; set-ups are left out. Whatever it finds is an
order for the exact placer, which alone says when anything is. Where none of that is needed the model is the job
itself, and its bound is one that no plan can beat.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Any

from ortools.sat.python import cp_model

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.placed import Placed, deadline_of, event_of
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.search import Search

#: Work that may pause is taken in pieces of so many steps of the grid, and in no more than so many of them.
PIECE, MOST_PIECES = 12, 8


@dataclass(frozen=True)
class Effort:
    """How long a solver may look: in seconds, or in its own measure of work, the same each time; and its seed."""

    seconds: float = math.inf
    work: float = math.inf
    seed: int = 1


class Model:
    """A job whose waits are those of one of its plans.

    It is the job itself where that is plain.

    Parameters
    ----------
    free : collection of str or None
        The steps that may move, by key; all that is not begun when None.
    waits : float
        The share of each wait that is taken: less than all, orders are found that the plan's own hours speak against.
    """

    def __init__(
        self, job: PlanInput, plan: Plan, search: Search, free: Collection[str] | None = None, waits: float = 1.0
    ) -> None:
        self._share = waits
        self.job, self._search, self._plan = job, search, plan
        self._model = cp_model.CpModel()
        self._origin = math.floor(job.start / GRID_MIN) * GRID_MIN
        todo = [p for p in plan.placed if p.state in ("to do", "paused") and p.step.kind != "turn"]
        self._todo = [p for p in todo if free is None or p.step.key in free]
        self._stay = {p.step.key: self._down(p.begins) for p in todo if free is not None and p.step.key not in free}
        """What does not move, and where it is."""
        self._horizon = max((self._up(p.over) for p in plan.placed), default=0) + 1
        self._starts: dict[str, Any] = {}
        self._ends: dict[str, Any] = {}
        self._work: dict[str, list[Any]] = {}
        """The stretches of work of each step."""
        for placed in self._todo:
            self._put(placed)
        for placed in todo:
            self._link(placed)
        self._people()
        self._stations()
        self._end = self._model.new_int_var(0, self._horizon, "end")
        for placed in plan.placed:
            over = self._event(placed, "wait")
            if over is not None:
                self._model.add(self._end >= over)
        # Where the end stands behind what may move, the one whose steps end soonest leaves the most room.
        ends = list(self._ends.values()) if self._stay else []
        self._model.minimize(self._end * (10 * len(ends) or 1) + sum(ends))

    def solve(self, effort: Effort, found: Callable[[list[str]], object], stopped: Callable[[], bool]) -> float | None:
        """Look for orders, better and better by the model; each is told as soon as it is found.

        Returns
        -------
        float or None
            What no plan ends before [min], where the model is exact; else None.
        """
        solver = cp_model.CpSolver()
        solver.parameters.random_seed = effort.seed
        if math.isfinite(effort.seconds):
            solver.parameters.max_time_in_seconds = max(effort.seconds, 0.05)
            solver.parameters.num_workers = 8
        else:
            solver.parameters.interleave_search = True
            solver.parameters.num_workers = 8
            solver.parameters.max_deterministic_time = effort.work
        solver.solve(self._model, _Told(self._starts, self._stay, found, stopped))
        best = solver.best_objective_bound
        return self._origin + best * GRID_MIN if self.job.plain and math.isfinite(best) and best > 0 else None

    def _down(self, minute: float) -> int:
        return math.floor((minute - self._origin) / GRID_MIN + 1e-9)

    def _up(self, minute: float) -> int:
        return math.ceil((minute - self._origin) / GRID_MIN - 1e-9)

    def _put(self, placed: Placed) -> None:
        step, key = placed.step, placed.step.key
        # As it pauses in the plan, and where it might else.
        parts: list[tuple[int, int]] = []
        size = max(PIECE, round(step.length / GRID_MIN / MOST_PIECES)) if step.may_pause else 10**6
        for begins, ends in placed.pieces[placed.worked :]:
            at, last = self._down(begins), self._down(ends)
            while at < last:
                parts.append((at, min(size, last - at)))
                at += size
        least = self._least(step)
        stretches, before = [], None
        for n, (at, part) in enumerate(parts):
            # Only the wait behind the last piece must have the air it needs.
            span = 0
            if step.limited and n == len(parts) - 1:
                fit = self._search.limited_until(step, placed.end, placed.ready, placed.air) - placed.end
                span = math.ceil(min(self._share * fit / GRID_MIN, 1e5))
            domain = self._domain(placed.step, placed.air, part, span, least)
            # A plan that stands is a solution.
            domain = domain.union_with(cp_model.Domain.from_values([at]))
            start = self._model.new_int_var_from_domain(domain, f"{key}/{n}")
            self._model.add_hint(start, at)
            if before is not None:
                self._model.add(start >= before)
            stretches.append(self._model.new_fixed_size_interval_var(start, part, f"{key}/{n}"))
            before = start + part
            if n == 0:
                self._starts[key] = start
        self._work[key], self._ends[key] = stretches, before

    def _least(self, step: Step) -> float:
        holds = [self.job.start, step.not_before or 0.0, self.job.stands.get(step.key, 0.0)]
        pin = self._search.pin(step)
        return max([*holds, pin.start if pin else 0.0])

    def _domain(self, step: Step, air: str, length: int, span: int, least: float) -> cp_model.Domain:
        """Where a stretch of work may begin: inside the hours, and in fit air to the end of its wait."""
        spans: list[list[int]] = []
        for opens, closes in self._search.hours.open:
            first, last = max(self._up(opens), self._up(least)), self._down(closes) - length
            if first > self._horizon:
                break
            if first <= last:
                spans.append([first, min(last, self._horizon)])
        found = cp_model.Domain.from_intervals(spans)
        if step.limited:
            # Both ends of a spell are left free where the grid does not tell.
            unfit = [
                [
                    self._down(a) - length - span + 1 if math.isfinite(a) else -(10**6),
                    self._up(b) - 1 if math.isfinite(b) else 10**6,
                ]
                for a, b in self._search.airs.spells(step, air, self._origin + self._horizon * GRID_MIN)
            ]
            never = cp_model.Domain.from_intervals([row for row in unfit if row[0] <= row[1]])
            free = found.intersection_with(never.complement())
            found = found if free.is_empty() else free
        return found

    def _event(self, placed: Placed, until: str) -> Any:
        """When an event of a step comes, as long after its end as in the plan; None if it never does."""
        at = event_of(placed, until, self._plan.airs)
        if at is None:
            at = placed.end if until == "wait" else None
        if at is None:
            return None
        if placed.step.key in self._ends:
            return self._ends[placed.step.key] + self._steps(at - placed.end)
        return max(self._up(at), 0)

    def _steps(self, wait: float) -> int:
        """A wait of the plan in steps of the grid, as much of it as is taken."""
        return math.ceil(self._share * wait / GRID_MIN - 1e-9)

    def _link(self, placed: Placed) -> None:
        key = placed.step.key
        start = self._starts.get(key, self._stay.get(key))
        for link in placed.step.after:
            before = self._plan.by_key.get(link.step)
            event = self._event(before, link.until) if before is not None else None
            if before is None or event is None or not {key, link.step} & set(self._starts):
                continue
            self._model.add(start >= event)
            last = deadline_of(before, link, self._plan.airs)
            if link.tight and math.isfinite(last) and link.step in self._ends:
                slack = math.floor((last - before.end) / GRID_MIN + 1e-9)
                self._model.add(start <= self._ends[link.step] + slack)

    def _people(self) -> None:
        """No more at work than there are, of all and of each skill."""
        crew = self.job.crew
        skills: dict[str, list[Any]] = defaultdict(list)
        every: list[Any] = []
        many: list[int] = []
        for placed in self._todo:
            if placed.step.people:
                every += self._work[placed.step.key]
                many += [placed.step.people] * len(self._work[placed.step.key])
            for skill in placed.step.skills:
                skills[skill] += self._work[placed.step.key]
        busy = [
            (piece, name)
            for p in self._plan.placed
            if p.state != "done" and p.step.key not in self._starts
            for piece in p.pieces[p.worked :]
            for name in p.people
        ]
        gone = [(span, member.id) for member in crew for span in self._search.roster.gone[member.id]]
        fixed = [(self._fixed(span), name) for span, name in (*busy, *gone)]
        away = [(interval, name) for interval, name in fixed if interval is not None]
        if every:
            self._model.add_cumulative([*every, *(one for one, _ in away)], [*many, *([1] * len(away))], len(crew))
        for skill, stretches in skills.items():
            have = {member.id for member in crew if skill in member.skills}
            theirs = [one for one, name in away if name in have]
            self._model.add_cumulative([*stretches, *theirs], [1] * (len(stretches) + len(theirs)), len(have))

    def _fixed(self, span: Interval) -> Any:
        first, last = max(self._up(span[0]) if math.isfinite(span[0]) else 0, 0), self._horizon
        if math.isfinite(span[1]):
            last = min(self._down(span[1]), last)
        return self._model.new_fixed_size_interval_var(first, last - first, "") if first < last else None

    def _stations(self) -> None:
        """No more on a station than it serves, through the wait where it is held."""
        for station in self.job.stations:
            taken = []
            for placed in self._plan.placed:
                if station.id not in placed.step.stations or (placed.state == "done" and not placed.step.holds):
                    continue
                over = (math.inf if placed.ready is None else placed.ready) if placed.step.holds else placed.end
                key = placed.step.key
                if key not in self._starts:
                    fixed = self._fixed((placed.start, over))
                    taken += [fixed] if fixed is not None else []
                    continue
                wait = self._horizon if math.isinf(over) else self._steps(over - placed.end) if placed.step.holds else 0
                size = self._model.new_int_var(0, 2 * self._horizon, "")
                whole = self._model.new_interval_var(self._starts[key], size, self._ends[key] + wait, key)
                taken.append(whole)
            if len(taken) > station.capacity:
                self._model.add_cumulative(taken, [1] * len(taken), station.capacity)


class _Told(cp_model.CpSolverSolutionCallback):
    """Tells each solution as the order of its starts."""

    def __init__(
        self,
        starts: dict[str, Any],
        stay: dict[str, int],
        found: Callable[[list[str]], object],
        stopped: Callable[[], bool],
    ) -> None:
        super().__init__()
        self._starts, self._stay, self._found, self._stopped = starts, stay, found, stopped

    def on_solution_callback(self) -> None:
        """Called by the solver."""
        at = self._stay | {key: self.value(start) for key, start in self._starts.items()}
        self._found(sorted(at, key=lambda key: at[key]))
        if self._stopped():
            self.stop_search()
