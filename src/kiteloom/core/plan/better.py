"""A better order of a job: searched for, and confirmed by the exact placer.

A solver looks for orders by a model that freezes what depends on the hour; each of its orders is placed exactly, and
only what the placer confirms is a plan. Between its rounds orders are perturbed and placed again, which sees what the
model leaves out: set-ups, who is with whom, waits that change with the hour. The model of the next round has the
waits of the best plan so far.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.problems import between
from kiteloom.core.plan.aims import SOONEST, Aim, day_of, days_of, judged, stretched
from kiteloom.core.plan.best import Best, Often, promising
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.leading import FIRST_DAYS, Leading
from kiteloom.core.plan.near import (
    CLOSE,
    by_due,
    by_latest,
    few_moved,
    last_sooner,
    latest,
    paused_later,
    perturbed,
    pushed_right,
    todo_of,
)
from kiteloom.core.plan.place import Placings, place
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.search import Search
from kiteloom.core.plan.standing import begins_of

#: A search is asked for so long at the most [s], or for so many rounds.
MOST_SECONDS, MOST_ROUNDS = 300.0, 200

#: The share of a round's time that goes to the solver, less where hands bind: its model is none of who is free when.
SOLVER_SHARE, HANDS_SHARE = 0.5, 0.1

#: How long a round is [s]: the first, each later.
FIRST_S, ROUND_S = 3.0, 6.0

#: A round by count: so much of the solver's own measure of work, and so many orders placed.
ROUND_WORK, ROUND_TRIES = 1.0, 12

#: So many leads are tried before the first round, each by itself not counted.
FIRST_LEADS = 20

#: So often a few steps go elsewhere by chance, or what may pause goes later; else what ends last goes sooner.
FEW_SHARE, PAUSED_SHARE = 0.4, 0.4

#: So long who is free waits for what comes before the next in an order [min], one of these.
PATIENCE = (10.0, 20.0, 30.0, 60.0, 240.0)

#: Where whoever is free goes on, so often it is with what is due, if all is to end on the evening before; else pushed
#: right.
DUE_SHARE = 0.5

#: A plan so much worse is still gone on from now and then, in one of three cases or so [min].
WORSE_MIN = 1.0

#: What is so much worse than may be gone on from before it is whole is given up [min].
GIVE_UP = 20.0

#: How much a minute of the end counts beside one of its work on the whole: on the last day it is soon another's turn.
FINISH_SHARE = 0.2

#: Of more steps than this a round's model moves only so many.
WINDOW = 400

#: Every so many rounds the model has the waits of the best plan, else those of the solver's own last.
FROM_BEST = 4

#: The share of each wait that every second round's model takes.
WAITS = (0.95, 0.85, 0.7)

#: A plan that ends no later than so long after the best may be gone on from [min].
DRIFT_MIN = 600.0

#: So often an order is placed as that one was: with long waits late in the day, or as soon as they can.
SAME = 0.8


@dataclass(frozen=True)
class Budget:
    """How long to look: so many seconds, or so many rounds, which give the same plan each time; and the seed."""

    seconds: float = 0.0
    rounds: int | None = None
    seed: int = 1

    def __post_init__(self) -> None:
        between("seconds", self.seconds, 0, MOST_SECONDS, unit="s", name="the time to search")
        if self.rounds is not None:
            between("rounds", self.rounds, 0, MOST_ROUNDS, name="the number of rounds")


def better(
    job: PlanInput,
    budget: Budget,
    found: Callable[[Plan], object] = lambda _: None,
    stopped: Callable[[], bool] = lambda: False,
    first: Plan | None = None,
    *,
    late: bool = True,
    aim: Aim = SOONEST,
) -> Plan:
    """The best plan of a job that is found within a budget; never worse than the one it begins with.

    Parameters
    ----------
    found : function
        Told of each better plan, the first of all, and of each sharper bound.
    stopped : function
        Whether to end now.
    first : Plan or None
        Where to begin; the exact placing of the job if none is given.
    late : bool
        Whether long waits may be put late in the day; else everything goes as soon as it can.
    aim : Aim
        What is better.

    Returns
    -------
    Plan
        Its bound is the sharpest that was proven meanwhile.

    Examples
    --------
    >>> better(small, Budget(rounds=1)).finish == plan.finish
    True
    """
    best = Best(first or place(job), found, aim)
    begun_with = best.plan
    if (budget.seconds > 0 or budget.rounds) and todo_of(best.plan):
        search = _Rounds(job, budget, best, stopped, late=late)
        search.begin()
        while not search.over():
            search.go()
    if judged(best.plan, aim) == judged(begun_with, aim):
        # Nothing is moved for nothing.
        return begun_with.proven(best.plan.bound, best.plan.limit)
    # Placed once more, to be told what holds each step.
    stands = begins_of(best.plan) if aim.kind == "calm" else {}
    again = place(replace(job, order=best.plan.order, stands=stands, overnight=best.plan.overnight))
    sharper = max((again, best.plan), key=lambda plan: plan.bound)
    return again.proven(sharper.bound, sharper.limit)


class _Rounds:
    """Rounds of a search: a solver's orders, then orders near the best."""

    def __init__(self, job: PlanInput, budget: Budget, best: Best, stopped: Callable[[], bool], *, late: bool) -> None:
        self._budget, self._best, self._stopped, self._late = budget, best, stopped, late
        # What stands further ahead may move: a better order is looked for everywhere.
        self._job = replace(job, order=(), stands={})
        self._begun, self._turn, self._chance = time.monotonic(), 0, random.Random(budget.seed)
        self._search, self._placed = Search(self._job), Placings(self._job, best.plan.bound)
        self._stations = {station.id: station.capacity for station in job.stations}
        self._hands_bind = best.plan.limit is not None and best.plan.limit.kind in ("crew", "skill")
        self._base = best.plan
        """The plan whose waits the next model has."""
        self._leading = Leading(self._job)
        self._leads: dict[str, float] = {}
        self._led: Plan | None = None
        """The best plan by leads, and what leads in it."""
        self._often = [Often(self._free, best)]
        if self._leading.scarce or self._hands_bind:
            self._often.append(Often(self._lead_near, best))

    def over(self) -> bool:
        """Whether to go no further: told so, nothing can be better, or the budget is used up."""
        rounds = self._budget.rounds
        used_up = self._left() <= 0 if rounds is None else self._turn >= rounds
        return self._stopped() or self._best.proven or used_up

    def begin(self) -> None:
        """The order it would have by itself, and that pushed right: what stands may be far from it. Then what leads."""
        plan = self._best.plan
        for overnight in (True, False) if self._late else (False,):
            for pushed in (False, True):
                if self.over():
                    return
                plan = self._tried(by_latest(plan, self._stations) if pushed else (), overnight=overnight)
        if self._job.plain:
            return  # its time is the solver's
        for name in self._leading.scarce:
            if self.over():
                return
            self._lead({name: FIRST_DAYS}, overnight=False)
        for _ in range(FIRST_LEADS):
            if self.over():
                return
            self._lead_near()

    def _free(self) -> None:
        """Whoever is free goes on, with what is due first to end on the evening before, or as pushed right."""
        plan = self._best.plan
        if self._chance.random() < DUE_SHARE:
            order = by_due(plan, self._stations, self._chance)
        else:
            order = pushed_right(plan, self._stations, self._chance, CLOSE)
        self._told(self._placed.as_free(order, plan.overnight, self._chance.choice(PATIENCE)))

    def _lead_near(self) -> None:
        leads = self._leading.near(self._leads, self._chance, full=self._hands_bind)
        self._lead(leads, overnight=self._late and self._chance.random() < 0.5)

    def _lead(self, leads: dict[str, float], *, overnight: bool) -> None:
        plan = self._tried(self._leading.order(leads), overnight=overnight)
        if self._led is None or promising(plan, self._best.aim) <= promising(self._led, self._best.aim):
            self._led, self._leads = plan, leads

    def go(self) -> None:
        """One round."""
        length = min(self._left(), ROUND_S if self._turn else FIRST_S)
        until = time.monotonic() + length
        self._solve(length)
        if not self._job.plain:
            self._near(until)
        self._turn += 1

    def _solve(self, length: float) -> None:
        """A solver's orders, in its share of a round."""
        # Loaded where it is wanted: it takes a second, and few ask for it.
        from kiteloom.core.plan.solved import Effort, Model

        # What the solver's order came to, better or not, has the waits it would have; now and then from the best again.
        if self._turn % FROM_BEST == 0 or len(self._base.unplaced) > len(self._best.plan.unplaced):
            self._base = self._best.plan
        waits = 1.0 if self._turn % 2 == 0 else self._chance.choice(WAITS)
        model = Model(self._job, self._base, self._search, _window(self._base, self._chance), waits)
        seed = self._budget.seed + self._turn
        if self._budget.rounds is not None:
            effort = Effort(work=ROUND_WORK, seed=seed)
        else:
            # A model that is the job itself is solved to its end; any other is soon made anew from what it found.
            share = HANDS_SHARE if self._hands_bind else SOLVER_SHARE
            effort = Effort(self._left() if self._job.plain else share * length, seed=seed)
        bound = model.solve(effort, self._solved, self.over)
        if bound is not None:
            self._best.bounded(bound)

    def _solved(self, order: Sequence[str]) -> None:
        tried = [self._tried(order, overnight=overnight) for overnight in (True, False) if self._late or not overnight]
        self._base = min(tried, key=lambda plan: promising(plan, self._best.aim))

    def _near(self, until: float) -> None:
        """Orders that lead, and orders near the best, or near what is hardly worse: another way may be found there."""
        near = walked = self._best.plan
        tries, turn = 0, 0
        while not (self._stopped() or self._best.proven):
            if tries >= ROUND_TRIES if self._budget.rounds is not None else time.monotonic() > until:
                return
            tries += 1
            often = next((often for often in self._often if often.due()), None)
            if often is not None:
                if often.go():
                    near = walked = self._best.plan
            elif self._hands_bind:
                walked = self._walk(walked)
            else:
                turn += 1
                near = self._late_ones(near, turn)

    def _late_ones(self, near: Plan, turn: int) -> Plan:
        """A plan by how late everything could be, or with one part elsewhere; the best where that is far worse."""
        if turn % 3 == 0:
            order = perturbed(near, self._chance)
        elif turn % 2:
            order = by_latest(near, self._stations)
        else:
            order = pushed_right(near, self._stations, self._chance)
        same = self._chance.random() < SAME
        plan = self._tried(order, overnight=self._late and (near.overnight if same else not near.overnight))
        return plan if _about(plan, self._best.plan) else self._best.plan

    def _walk(self, plan: Plan) -> Plan:
        """A plan with a few steps elsewhere in its order, what may pause later, or what ends last sooner, if it is
        better for it or, now and then, hardly worse.

        References
        ----------
        S. Kirkpatrick, C. D. Gelatt and M. P. Vecchi, "Optimization by simulated annealing", 1983 (from memory).
        """
        aim, kind = self._best.aim, self._chance.random()
        if kind < FEW_SHARE:
            order = few_moved(plan, self._chance)
        elif kind < FEW_SHARE + PAUSED_SHARE:
            order = paused_later(plan, self._chance)
        else:
            order = last_sooner(plan, self._stations, self._chance)
        # Where steps stand later than they could be, nothing stands as there.
        like = plan if aim.by is None else None
        worse = self._chance.expovariate(1 / WORSE_MIN)
        later = worse + GIVE_UP if aim.kind == "soonest" else math.inf
        other = self._tried(order, overnight=self._late and plan.overnight, like=like, later=later)
        if aim.kind != "soonest" or len(other.unplaced) != len(plan.unplaced):
            return min(plan, other, key=lambda one: promising(one, aim))
        return other if _length(other) <= _length(plan) + worse else plan

    def _tried(
        self, order: Sequence[str], *, overnight: bool, like: Plan | None = None, later: float = math.inf
    ) -> Plan:
        plan = self._placed(order, overnight, {}, like, later)
        return plan if plan is like else self._told(plan)  # like that: given up

    def _told(self, plan: Plan) -> Plan:
        """A plan, once it is said what it is, and, where there is a date, what it is when it is calm."""
        self._best.tell(plan)
        by, overnight = self._best.aim.by, plan.overnight
        if by is not None and plan.finish is not None and plan.finish < by:
            # As soon as it can is not calm: the same order over the time there is, and a full day made less so.
            spread = stretched(plan, by, self._chance.uniform(0.3, 1.0), latest(plan, self._stations))
            calm = self._placed(sorted(spread, key=lambda key: spread[key]), overnight, spread)
            self._best.tell(calm)
            if not self.over():
                self._best.tell(self._placed(calm.order, overnight, self._unburdened(self._best.plan)))
        return plan

    def _unburdened(self, plan: Plan) -> dict[str, float]:
        """Where the steps of a plan stand, some of its fullest days a day or two later."""
        zone = self._best.aim.zone
        hours, begins = days_of(plan, zone), begins_of(plan)
        full = sorted(hours, key=lambda day: hours[day])[-3:]
        for placed in todo_of(plan):
            if day_of(placed.begins, zone) in full and self._chance.random() < 0.3:
                begins[placed.step.key] += self._chance.choice((1, 1, 2)) * DAY_MIN
        return begins

    def _left(self) -> float:
        if self._budget.rounds is not None:
            return math.inf
        return self._budget.seconds - (time.monotonic() - self._begun)


def _length(plan: Plan) -> float:
    """How long a plan is: how late its work is over on the whole, and a little of how late all is [min]."""
    return plan.work_over + FINISH_SHARE * (plan.finish or plan.start)


def _about(plan: Plan, best: Plan) -> bool:
    """Whether a plan is hardly worse than the best: from there another way may be found."""
    if plan.finish is None or best.finish is None or len(plan.unplaced) > len(best.unplaced):
        return False
    return plan.finish <= best.finish + DRIFT_MIN


def _window(plan: Plan, chance: random.Random) -> set[str] | None:
    """The steps a round's model may move: all of few, else those from some moment on, or of some weeks."""
    keys = [p.step.key for p in todo_of(plan)]
    if len(keys) <= WINDOW:
        return None
    first = len(keys) - WINDOW if chance.random() < 0.4 else chance.randrange(len(keys) - WINDOW)
    return set(keys[first : first + WINDOW])
