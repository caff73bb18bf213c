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
from kiteloom.core.plan.chain import chain_of
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.place import Placings
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
        found = Placings(drawn, job.start)(plan.order, False)
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
