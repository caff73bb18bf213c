"""How sure an end is: plans with drawn minutes and nights, the dates that hold in so many of a hundred, what decides.

Work seldom takes what was estimated, and weather never comes as it was said. Each draw is a future: every step takes
its minutes times a factor, every day is colder or warmer than expected, and the shop goes on in the order it has.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.problems import between
from kiteloom.core.log.learned import ESTIMATE_SPREAD
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.place import placings
from kiteloom.core.plan.placed import Placed, event_of
from kiteloom.core.plan.plan import Plan

#: So many plans are drawn at the most, and so many where nobody says otherwise.
MOST_DRAWS, DRAWS = 1000, 200

#: A day's mean is so far off what was expected of it: at first, and after a week and longer [K]; and so much of one
#: day's error is still there the next (from memory: what temperature forecasts of a week miss by) [-].
ERROR_NOW_K, ERROR_WEEK_K, STAYS = 1.0, 3.5, 0.7

#: The share of plans whose end is no later, of which the dates are told.
SHARES = (0.05, 0.5, 0.95)


@dataclass(frozen=True)
class Future:
    """One drawn plan: when all ends, how many steps are left out, and the chain of steps that held the end, by key."""

    finish: float
    left_out: int
    chain: tuple[str, ...]


@dataclass(frozen=True)
class Decides:
    """A step that decides the end: in what share of the plans it was on the chain that held it, and how far it may be
    off by itself [min]."""

    key: str
    share: float
    off_min: float


@dataclass(frozen=True)
class HowSure:
    """What the drawn plans say together.

    ``dates`` are those that hold in 5, 50 and 95 of 100 [min]; ``decide`` the steps that decide them, most first.
    """

    dates: tuple[float, float, float]
    decide: tuple[Decides, ...]
    left_out: float
    """The share of plans in which more steps are left out than in the plan there is."""


def futures(
    job: PlanInput, plan: Plan, spreads: Mapping[str, float], held: Collection[str] = (), seed: int = 1
) -> Iterator[Future]:
    """Drawn plans, one after the other and without end: whoever asks takes as many as they want.

    Parameters
    ----------
    spreads : mapping
        How far the minutes of a step may be off, by its key: the standard deviation of the logarithm of what it takes
        over what was estimated [-]; `ESTIMATE_SPREAD` where nothing is known.
    held : collection of str
        Airs by name that a heater holds: they are as warm as they are, whatever the night.
    seed : int
        The same seed draws the same.
    """
    between("seed", seed, 0, 1_000_000, name="the seed")
    chance = np.random.default_rng(seed)
    serves = {station.id: station.capacity for station in job.stations}
    while True:
        steps = tuple(
            replace(step, minutes=step.minutes * math.exp(chance.normal(0, spreads.get(step.key, ESTIMATE_SPREAD))))
            if step.minutes
            else step
            for step in job.steps
        )
        off = _off(job.start, chance)
        own = {name: other if name in held else _with(other, off) for name, other in job.own.items()}
        zones = {name: other if name in held else _with(other, off) for name, other in job.zones.items()}
        profile = job.profile if "" in held else _with(job.profile, off)
        drawn = replace(job, steps=steps, profile=profile, own=own, zones=zones, stands={})
        found = placings(drawn, job.start)(plan.order, False)
        chain = tuple(placed.step.key for placed in chain_of(found, serves))
        yield Future(found.finish or found.start, len(found.unplaced), chain)


def how_sure(drawn: Collection[Future], off_min: Mapping[str, float], left_out: int = 0) -> HowSure:
    """What drawn plans say together.

    Parameters
    ----------
    off_min : mapping
        How far each step may be off by itself, by its key [min].
    left_out : int
        How many steps the plan there is leaves out.

    >>> sure = how_sure([Future(100.0 + n, 0, ("peel", "bed")) for n in range(101)], {"bed": 20.0})
    >>> sure.dates, sure.decide[0]
    ((105.0, 150.0, 195.0), Decides(key='bed', share=1.0, off_min=20.0))
    """
    ends = np.array([one.finish for one in drawn])
    early, middle, late = (float(end) for end in np.quantile(ends, SHARES))
    count = Counter(key for one in drawn for key in one.chain)
    decide = [Decides(key, times / len(drawn), off_min.get(key, 0.0)) for key, times in count.items()]
    decide.sort(key=lambda one: one.share * one.off_min, reverse=True)
    more = sum(one.left_out > left_out for one in drawn)
    return HowSure((early, middle, late), tuple(decide), more / len(drawn))


def off_of(job: PlanInput, spreads: Mapping[str, float]) -> dict[str, float]:
    """How far each step may be off by itself: one standard deviation of what it takes, by its key [min].

    >>> round(off_of(small, {"bed": 0.5})["bed"])
    30
    """
    return {step.key: step.minutes * spreads.get(step.key, ESTIMATE_SPREAD) for step in job.steps}


def chain_of(plan: Plan, stations: Mapping[str, int]) -> list[Placed]:
    """The steps that held the end, the last first: each held by the next, by a link, a person, a station or a set-up.

    Parameters
    ----------
    stations : mapping
        How many each station serves.

    >>> [placed.step.key for placed in chain_of(plan, {})]
    ['peel', 'layup', 'bed']
    """
    ahead = [placed for placed in plan.placed if placed.state != "done"]
    if not ahead:
        return []
    found = [max(ahead, key=_over)]
    while (before := _held_by(plan, found[-1], stations)) is not None:
        found.append(before)
    return found


def _over(placed: Placed) -> float:
    return placed.end if placed.ready is None else placed.ready


def _held_by(plan: Plan, placed: Placed, stations: Mapping[str, int]) -> Placed | None:
    """The step that held one; where hours or the air did, the last it came after, or that its station was kept by."""
    met = placed.met
    before = plan.by_key.get(met.of if met.kind in ("after", "cure", "window") else met.by)
    if before is None:
        came = [
            (event, other)
            for link in placed.step.after
            if (other := plan.by_key.get(link.step)) is not None
            and (event := event_of(other, link.until, plan.airs)) is not None
        ]
        alone = {name for name in placed.step.stations if stations.get(name) == 1}
        came += [
            (over, other)
            for other in (plan.placed if alone else ())
            if alone & set(other.step.stations)
            and (over := _over(other) if other.step.holds else other.end) <= placed.begins
        ]
        before = max((row for row in came if row[1] is not placed), key=lambda row: row[0], default=(0.0, None))[1]
    earlier = before is not None and before.state != "done" and before.begins < placed.begins
    return before if earlier else None


def _off(start: float, chance: np.random.Generator) -> NDArray[np.float64]:
    """How far each day's mean is off, and when: two rows, a year long [min], [K]."""
    days = 365
    error, found = 0.0, np.empty(days)
    for day, drawn in enumerate(chance.standard_normal(days)):
        size = ERROR_NOW_K + (ERROR_WEEK_K - ERROR_NOW_K) * min(day / 7, 1.0)
        error = STAYS * error + math.sqrt(1 - STAYS**2) * drawn
        found[day] = size * error
    return np.vstack((start + DAY_MIN * np.arange(days), found))


def _with(profile: Profile, off: NDArray[np.float64]) -> Profile:
    """An air with another weather."""
    ahead = profile.minutes >= off[0, 0]
    return Profile(profile.minutes, profile.celsius + np.where(ahead, np.interp(profile.minutes, *off), 0.0))
