"""What would help most: every single relief tried by itself, and what each would bring. The bottleneck, by name."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import Shift, WorkingHours
from kiteloom.core.plan.aims import judged
from kiteloom.core.plan.few_orders import few_orders, with_and_without
from kiteloom.core.plan.input import Member, PlanInput
from kiteloom.core.plan.leading import Leading
from kiteloom.core.plan.plan import Plan

#: So much warmer [K], so much sooner [min], so much longer a day [min].
WARMER_K, SOONER_MIN, LONGER_MIN = 2.0, 7 * DAY_MIN, 60


@dataclass(frozen=True)
class Relief:
    """One thing more than there is.

    ``of`` is the skill of one more person (``""`` for one without any), the id of the station there is one more of,
    the zone that is warmer (``""`` for everywhere), or what is awaited; ``""`` where the shop is open longer.
    """

    kind: Literal["person", "station", "warmer", "sooner", "longer"]
    of: str = ""


@dataclass(frozen=True)
class Gain:
    """What a relief brings: when all ends with it, and how many steps are left out then.

    Without a relief it is what the same orders make of the job as it is.
    """

    relief: Relief | None
    finish: float
    left_out: int


def reliefs(job: PlanInput, plan: Plan) -> list[Relief]:
    """Every single relief that what is still to do could use.

    >>> [relief.kind for relief in reliefs(small, plan)]
    ['person', 'longer', 'warmer']
    """
    todo = [p.step for p in plan.placed if p.state in ("to do", "paused")] + [u.step for u in plan.unplaced]
    skills = dict.fromkeys(skill for step in todo for skill in step.skills)
    used = [name for step in todo for name in step.stations]
    stations = [Relief("station", one.id) for one in job.stations if used.count(one.id) > one.capacity]
    awaited = dict.fromkeys(s.awaits for s in todo if s.awaits and s.not_before and s.not_before > job.start)
    found = [Relief("person", skill) for skill in skills or ("",)]
    found += [*stations, Relief("longer"), Relief("warmer")]
    return [*found, *(Relief("sooner", what) for what in awaited)]


def relieved(job: PlanInput, relief: Relief) -> PlanInput:
    """The job with one thing more.

    >>> len(relieved(small, Relief("person", "layup")).crew) - len(small.crew)
    1
    """
    if relief.kind == "person":
        other = Member("one more person", frozenset({relief.of} if relief.of else ()))
        return replace(job, crew=(*job.crew, other))
    if relief.kind == "station":
        more = [replace(s, capacity=s.capacity + 1) if s.id == relief.of else s for s in job.stations]
        return replace(job, stations=tuple(more))
    if relief.kind == "longer":
        return replace(job, hours=_longer(job.hours))
    if relief.kind == "warmer":
        own = {name: profile.shifted(WARMER_K) for name, profile in job.own.items()}
        zones = {name: profile.shifted(WARMER_K) for name, profile in job.zones.items()}
        return replace(job, profile=job.profile.shifted(WARMER_K), own=own, zones=zones)
    steps = tuple(
        replace(s, not_before=s.not_before - SOONER_MIN) if s.awaits == relief.of and s.not_before else s
        for s in job.steps
    )
    return replace(job, steps=steps)


def _longer(hours: WorkingHours) -> WorkingHours:
    """An hour longer on each day there is work, to midnight at most."""
    last = {day: max(s.end for s in hours.shifts if s.weekday == day) for day in {s.weekday for s in hours.shifts}}
    shifts = tuple(
        Shift(s.weekday, s.start, min(s.end + LONGER_MIN, 1440)) if s.end == last[s.weekday] else s
        for s in hours.shifts
    )
    return replace(hours, shifts=shifts)


def gains(job: PlanInput, plan: Plan) -> Iterator[Gain]:
    """What each relief brings by itself, one after the other; first, and whenever it gets better, the job without any.

    A gain counts from the last of those without: an order that is good with a relief is tried without it too.

    >>> [gain.relief and gain.relief.kind for gain in gains(small, plan)]
    [None, 'person', 'longer', 'warmer']
    """
    base = few_orders(job, [plan.order, *Leading(job).fullest()])
    yield _gain(None, base)
    for relief in reliefs(job, plan):
        without, found = with_and_without(job, relieved(job, relief), [base.order])
        if judged(without) < judged(base):
            base = without
            yield _gain(None, base)
        yield _gain(relief, min(found, base, key=judged))


def _gain(relief: Relief | None, plan: Plan) -> Gain:
    return Gain(relief, plan.finish or plan.start, len(plan.unplaced))
