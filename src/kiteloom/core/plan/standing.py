"""The order that stands: a plan slides in the order it had until another is better by a clear margin.

A plan made anew every minute is as nervous as the air: half a kelvin moves one check past closing, another
team is free for the next step, and the end jumps by days. So an order is made with a reserve, as if every
wait were in somewhat colder air; it stands while the air drifts, what is further ahead keeping its place;
and it is judged again when somebody has done or changed something, or when it has become clearly worse.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import replace

from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.leading import Leading
from kiteloom.core.plan.place import place
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan

#: Another order is taken when it ends sooner by so much, or places more steps [min].
BETTER_MIN = 4 * 60.0

#: The end has moved when it is so much later or sooner than was said [min].
MOVED_MIN = 30.0

#: An order is made for air so much colder than is expected [K].
RESERVE_K = 0.75

#: So long nothing may be done without the order becoming another [min].
SLACKS_MIN = (60.0, 120.0)

#: Of more steps than these only one order is made for each that leads.
MANY = 300

#: What begins within so long slides freely; what is further ahead keeps its place [min].
NEAR_MIN = 36 * 60.0


def made_anew(job: PlanInput, *, led: bool = False) -> Plan:
    """The plan, whatever order stands, that ends soonest at its worst.

    Orders made for the air as it is expected, and for colder, are held against air colder by the reserve, and
    against an hour or two in which nothing is done; of many steps, where each takes long, only the coldest is made,
    and it is held against colder air alone.

    Parameters
    ----------
    led : bool
        Whether orders are tried too in which a scarce station or skill leads: where nobody's days hang on the order
        that stands.

    >>> made_anew(small).order
    ('bed', 'layup', 'peel')
    """
    many, free = len(job.steps) > MANY, replace(job, order=(), stands={}, overnight=True)
    coldest = _colder(free, RESERVE_K)
    found = [] if many else [place(_colder(free, reserve)) for reserve in (0.0, RESERVE_K / 2)]
    found.append(place(coldest))
    if led:
        found += [place(replace(coldest, order=tuple(order))) for order in Leading(coldest).fullest()]
    if len(found) == 1:
        return found[0]

    def worst(plan: Plan) -> tuple[int, float]:
        held = replace(job, order=plan.order, stands=standing(begins_of(plan), job.start), overnight=True)
        colder = _colder(held, RESERVE_K)
        tried = [place(colder)]
        tried += [place(replace(colder, start=job.start + late)) for late in (() if many else SLACKS_MIN)]
        return max(len(one.unplaced) for one in tried), max(one.finish or job.start for one in tried)

    return min(found, key=worst)


def begins_of(plan: Plan) -> dict[str, float]:
    """When each step begins [min].

    >>> begins_of(plan)["layup"] - plan.start
    60.0
    """
    return {placed.step.key: placed.begins for placed in plan.placed}


def _colder(job: PlanInput, kelvin: float) -> PlanInput:
    own = {name: profile.shifted(-kelvin) for name, profile in job.own.items()}
    zones = {name: profile.shifted(-kelvin) for name, profile in job.zones.items()}
    return replace(job, profile=job.profile.shifted(-kelvin), own=own, zones=zones)


def standing(begins: Mapping[str, float], now: float) -> dict[str, float]:
    """Where steps further ahead stand [min].

    >>> standing({"bed": 600.0, "layup": 9000.0}, now=500.0)
    {'layup': 9000.0}
    """
    return {key: begin for key, begin in begins.items() if begin > now + NEAR_MIN}


def clearly_better(fresh: Plan, standing: Plan) -> bool:
    """Whether another order is worth leaving the one that stands.

    >>> clearly_better(plan, plan)
    False
    """
    if len(fresh.unplaced) != len(standing.unplaced):
        return len(fresh.unplaced) < len(standing.unplaced)
    if fresh.finish is None or standing.finish is None:
        return False
    return fresh.finish <= standing.finish - BETTER_MIN


def much_later(plan: Plan, said: float) -> bool:
    """Whether a plan ends clearly later than was said [min].

    >>> much_later(plan, plan.finish), much_later(plan, plan.finish - BETTER_MIN)
    (False, True)
    """
    return plan.finish is not None and plan.finish >= said + BETTER_MIN


def has_moved(plan: Plan, said: float) -> bool:
    """Whether the end is so far from where it was said to be that it must be told [min].

    >>> has_moved(plan, plan.finish + 5), has_moved(plan, plan.finish + 45)
    (False, True)
    """
    return plan.finish is not None and abs(plan.finish - said) >= MOVED_MIN


def mover(plan: Plan, said: Mapping[str, float], *, later: bool) -> Placed | None:
    """The first step in time that moved as the end did, from when it was said to begin [min]; None if none did.

    >>> mover(plan, {"bed": plan.start, "layup": plan.start}, later=True).step.key
    'layup'
    """
    by = {p.step.key: p.begins - said[p.step.key] for p in plan.placed if p.state != "done" and p.step.key in said}
    moved = [plan.by_key[key] for key, minutes in by.items() if (minutes if later else -minutes) >= MOVED_MIN]
    return min(moved, key=lambda placed: placed.begins, default=None)


def name_of(plan: Plan) -> str:
    """A short name for the order of what is still to do: the same for as long as it stands.

    >>> name_of(plan) == name_of(plan), len(name_of(plan))
    (True, 12)
    """
    ahead = [key for key in plan.order if plan.by_key[key].state in ("to do", "paused")]
    return hashlib.sha256("\n".join(ahead).encode()).hexdigest()[:12]
