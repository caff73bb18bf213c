"""What is looked for, and into, in a process apart: better and better answers about a plan.

They stand in the core, so that such a process has nothing else to load: it answers the sooner.
"""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from itertools import islice
from queue import SimpleQueue
from threading import Thread
from typing import Any

from kiteloom.core.plan.aims import SOONEST, Aim, measured
from kiteloom.core.plan.better import Budget, better
from kiteloom.core.plan.few_orders import with_and_without
from kiteloom.core.plan.how_sure import Future, futures, how_sure, off_of
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.leading import Leading
from kiteloom.core.plan.place import place
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.reliefs import gains
from kiteloom.core.plan.standing import begins_of

#: So many draws are told at a time, and so many steps that decide.
_AT_A_TIME, _DECIDE = 10, 12


@dataclass(frozen=True)
class Order:
    """An order that was found: after how many seconds, its end, what none can end before, what it comes to by its aim,
    and when steps begin, where the aim puts them later than they could be."""

    after_s: float
    finish: float
    bound: float
    measure: float
    keys: list[str] = field(default_factory=list)
    overnight: bool = True
    begins: dict[str, float] = field(default_factory=dict)
    frees: bool = False


def orders(
    job: PlanInput, seconds: float, seed: int, aim: Aim = SOONEST, saves_min: float | None = None
) -> Iterator[Order]:
    """Better and better orders of a job, the one it has now first.

    Where days are kept as they were accepted they stay so; in the second half of the time they may move, and what is
    found then is told if it ends so much sooner.

    >>> [*orders(small, 0.1, seed=1)][0].finish == plan.finish
    True
    """
    found: SimpleQueue[tuple[Plan, bool] | BaseException | None] = SimpleQueue()
    begun = time.monotonic()
    may_move = saves_min is not None and any(pin.kept for pin in job.pins.values())

    def look() -> None:
        try:
            budget = Budget(seconds / 2 if may_move else seconds, seed=seed)
            best = better(job, budget, lambda plan: found.put((plan, False)), aim=aim)
            if may_move:
                most = (best.finish or best.start) - (saves_min or 0.0)
                better(
                    freed(job),
                    budget,
                    lambda plan: found.put((plan, True)) if (plan.finish or plan.start) <= most else None,
                    aim=aim,
                )
            found.put(None)
        except BaseException as error:  # whoever waits is told
            found.put(error)

    Thread(target=look, daemon=True).start()
    while (told := found.get()) is not None:
        if isinstance(told, BaseException):
            raise told
        plan, frees = told
        finish = plan.start if plan.finish is None else plan.finish
        yield Order(
            round(time.monotonic() - begun, 1),
            finish,
            plan.bound,
            measured(plan, aim),
            list(plan.order),
            plan.overnight,
            begins_of(plan) if aim.kind == "calm" else {},
            frees,
        )


def freed(job: PlanInput) -> PlanInput:
    """The job without the days that are kept as they were accepted; what somebody pinned stays."""
    return replace(job, pins={key: pin for key, pin in job.pins.items() if not pin.kept}, stands={})


def compared(job: PlanInput, other: PlanInput) -> Iterator[dict[str, Any]]:
    """What the same few orders make of a job as it is, and as it is supposed.

    >>> next(compared(small, small))["without"] == plan.finish
    True
    """
    base, found = with_and_without(job, other, [job.order, *Leading(job).fullest()])
    yield {
        "without": base.finish or base.start,
        "finish": found.finish or found.start,
        "keys": list(found.order),
    }


def relieved_one_by_one(job: PlanInput) -> Iterator[dict[str, Any]]:
    """What each relief brings, more and more of them.

    >>> next(relieved_one_by_one(small))["gains"]
    []
    """
    plan = place(job)
    found: dict[str, Any] = {"without": None, "gains": []}
    for gain in gains(job, plan):
        row = [gain.finish, gain.left_out]
        if gain.relief is None:
            found = {**found, "without": row}
        else:
            found = {**found, "gains": [*found["gains"], [gain.relief.kind, gain.relief.of, *row]]}
        yield found


def drawn(
    job: PlanInput, spreads: Mapping[str, float], held: list[str], draws: int, seed: int
) -> Iterator[dict[str, Any]]:
    """What more and more drawn plans say.

    >>> [len(told["ends"]) for told in drawn(small, {}, [], 25, 1)]
    [10, 20, 25]
    """
    plan, known = place(job), list[Future]()
    ahead, off = futures(job, plan, spreads, held, seed), off_of(job, spreads)
    while len(known) < draws:
        known += islice(ahead, min(_AT_A_TIME, draws - len(known)))
        sure = how_sure(known, off, len(plan.unplaced))
        decide = [[one.key, one.share, one.off_min] for one in sure.decide[:_DECIDE]]
        yield {
            "ends": [one.finish for one in known],
            "dates": list(sure.dates),
            "decide": decide,
            "left_out": sure.left_out,
        }
