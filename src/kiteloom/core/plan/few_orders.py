"""The best of a few orders of a job: quick, and the same few for jobs that are compared.

What a change brings is the difference of two plans that had the same chances: an order that is good with the change
may be as good without it, and then the change brings nothing.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace

from kiteloom.core.plan.aims import judged
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.near import by_latest
from kiteloom.core.plan.place import Placings
from kiteloom.core.plan.plan import Plan


def few_orders(job: PlanInput, orders: Sequence[Sequence[str]] = ()) -> Plan:
    """The best plan of the order a job has by itself, of those that are given, and of the best of them pushed right.

    Parameters
    ----------
    orders : sequence of sequences of str
        Orders that were good for a job like it.

    Returns
    -------
    Plan
        Without a bound; nothing further ahead stands where it stood.

    >>> few_orders(small).finish == plan.finish
    True
    """
    free = replace(job, order=(), stands={})
    placed = Placings(free, job.start)
    best = min((placed(order, False) for order in ((), *orders)), key=judged)
    again = placed(by_latest(best, {station.id: station.capacity for station in job.stations}), False)
    return min(best, again, key=judged)


def brings_by(without: float, then: float, does: Collection[str]) -> float:
    """How much sooner the end is by changes [min]; below 0 where they make it later.

    Parameters
    ----------
    without, then : float
        The ends of the best of a few orders without them, and with them [min].
    does : collection of str
        What the changes can do to it: ``"eases"``, ``"binds"``, or ``""`` for either. What can only ease a plan costs
        nothing, and what can only bind one brings nothing: where a greedy placing says so, that is its own fault.

    References
    ----------
    R. L. Graham, "Bounds on multiprocessing timing anomalies", 1969 (from memory).

    >>> brings_by(100, 120, {"eases"}), brings_by(100, 120, {"eases", "binds"}), brings_by(100, 80, {"binds"})
    (0.0, -20, 0.0)
    """
    if set(does) == {"eases"}:
        return max(without - then, 0.0)
    return min(without - then, 0.0) if set(does) == {"binds"} else without - then


def with_and_without(job: PlanInput, other: PlanInput, orders: Sequence[Sequence[str]]) -> tuple[Plan, Plan]:
    """The best plans of a few orders of two jobs of the same steps, each given the other's best order too.

    >>> [found.finish == plan.finish for found in with_and_without(small, small, [])]
    [True, True]
    """
    one = few_orders(job, orders)
    changed = few_orders(other, [*orders, one.order])
    back = Placings(replace(job, order=(), stands={}), job.start)(changed.order, False)
    return min(one, back, key=judged), changed
