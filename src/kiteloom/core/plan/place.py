"""Exact placing: each step at the first moment it can go, its wait at the temperature it will have.

Steps are taken longest remaining chain first, each once all before it are placed, and put at
the first moment at which hours, people, stations, set-up and air allow (serial schedule
generation). It is the only source of times.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.placer import Known, Placer
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.prefix import Marks, Near
from kiteloom.core.plan.queue import passed_by


def place(job: PlanInput, ground: Ground | None = None) -> Plan:
    """Place every step at the first moment it can go: parts that were begun first, then the longest chain.

    Parameters
    ----------
    ground : Ground or None
        What another plan stands on, of use where this one stands on the same.

    Returns
    -------
    Plan
        What can't be placed is left out with the reason, and so are its followers; the rest
        is planned.

    Notes
    -----
    A later start never makes a cure ready sooner, so whatever fills a resource, or is too
    cold, must be over before the work can begin: the search jumps from one such end to the
    next and misses no earlier start. Steps that must follow others in time are placed with
    them, and the first is moved until the last can keep its time. Everything that can be done
    before a thing is turned is done before; a plan that turns it sooner is taken when it ends
    sooner. Where an order stands they are taken in it: it says all that.

    >>> [(p.step.key, round(p.start - small.start), round(p.end - small.start)) for p in place(small).placed]
    [('bed', 0, 60), ('layup', 60, 150), ('peel', 1420, 1450)]
    """
    patient = Placer(job, ground)
    if job.order:
        return patient.plan(patient=False)
    plan = patient.plan(patient=True)
    if not patient.waited:
        return plan
    hasty = Placer(job, patient.search.ground).plan(patient=False)

    def end(plan: Plan) -> tuple[int, float]:
        return len(plan.unplaced), plan.finish or job.start

    return hasty if end(hasty) < end(plan) else plan


class Placings:
    """Places a job in one order after another, long waits late in the day or as soon as they can.

    Its hours and airs, what comes before what, and what can't go in any order, are worked out once for all.

    Parameters
    ----------
    bound : float
        What no plan can end before [min], as far as it is known: it is not worked out again, nor is what held each
        step.

    >>> Placings(small, plan.bound)(["bed", "layup", "peel"], True).finish == plan.finish
    True
    """

    def __init__(self, job: PlanInput, bound: float) -> None:
        self._job, self._bound, self._ground, self._marks = job, bound, Ground(job), Marks()
        first = Placer(job, self._ground)
        first.settle()
        left = first.never()
        self._known = Known(first.line(), left)

    def __call__(
        self,
        order: Sequence[str],
        overnight: bool,
        stands: Mapping[str, float] | None = None,
        like: Plan | None = None,
        later: float = math.inf,
    ) -> Plan:
        """The plan of an order, steps no sooner than they stand, as in the job where nothing is said.

        As far as it is that of a plan that was so placed before, steps stand as there; once its work is on the whole
        so much later than there [min] it is given up: then the plan is that plan.
        """
        stands = self._job.stands if stands is None else stands
        known = like is not None and like.ground is self._ground and like.overnight == overnight
        near = Near(like, self._marks, later) if like is not None and known else None
        return self._placer(order, overnight, stands).plan(bound=self._bound, near=near)

    def as_free(self, order: Sequence[str], overnight: bool, patience: float) -> Plan:
        """The plan where whoever is free goes on with what can begin, the first in an order before others.

        Parameters
        ----------
        patience : float
            So long the next waits for what comes before it in the order [min].

        >>> Placings(small, plan.bound).as_free([], True, 20).finish == plan.finish
        True
        """
        return self._placer(order, overnight, {}).plan(bound=self._bound, as_free=patience)

    def _placer(self, order: Sequence[str], overnight: bool, stands: Mapping[str, float]) -> Placer:
        asked = self._job.but(order=tuple(order), overnight=overnight, stands=stands)
        return Placer(asked, self._ground, tells=False, known=self._known)


def if_next(job: PlanInput, ground: Ground | None = None, *, cures: bool = False) -> dict[str, Placed]:
    """Where each step whose way is free would go if it came next, before anything else that is planned.

    What needs something turned first is left out; so is what waits for no stage, where only what ``cures`` is asked.

    >>> {key: round(p.start - small.start) for key, p in if_next(small).items()}
    {'bed': 0}
    """
    # What the accepted plan has for today may be begun sooner by who is free; what somebody pinned may not.
    free = job.but(stands={}, pins={key: pin for key, pin in job.pins.items() if not pin.kept})
    placer = Placer(free, ground)
    placer.settle()
    passed = passed_by(job.steps, job.facts)
    found = {}
    for step in job.steps:
        if step.key in placer.search.placed or step.key in passed or (cures and step.wait_stage is None):
            continue
        if step.way and placer.turning.way(step.thing) not in ("", step.way):
            continue
        if all(link.step in placer.search.placed or link.step in passed for link in step.after):
            placed = placer.one(step)
            if isinstance(placed, Placed):
                found[step.key] = placed
    return found
