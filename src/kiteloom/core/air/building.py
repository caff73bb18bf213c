"""From the weather outside to the temperature of a zone of the shop: a slow building, and a heater with hours."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from scipy.signal import lfilter

from kiteloom.core.air.profile import COLDEST_H, DAY_MIN, WARMEST_H, Profile
from kiteloom.core.base.calendar import Interval
from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.base.problems import Refused, between

#: How often a zone is computed [min].
STEP_MIN = 10.0


#: A heater brings the air two thirds of the way in an hour, and sooner where the lag is below six: in a
#: sixth of it, six times as strong as holding takes (common practice) [min], [-].
WARM_UP_MIN, WARM_UP_SHARE = 60.0, 1 / 6


#: A heater switches within so much of its set point; from there on it holds it [K].
SWITCHES_K = 0.5


#: No zone of a shop, a hot box included, is heated above this [°C]; a post-cure has limits of its own.
MOST_HEAT_C = 60.0


@dataclass(frozen=True)
class Day:
    """A day's weather outside: its local midnight [min], low and high, and dew point where it is said [°C]."""

    midnight: float
    low_c: float
    high_c: float
    dew_c: float | None = None

    def __post_init__(self) -> None:
        between("low", self.low_c, -60, 60, unit="°C", name="the low")
        between("high", self.high_c, -60, 60, unit="°C", name="the high")
        if self.low_c > self.high_c:
            raise Refused("low", f"the low is {self.low_c:g} °C and the high {self.high_c:g} °C; it can't be above it")


@dataclass(frozen=True)
class ZoneModel:
    """How a zone follows the weather.

    Parameters
    ----------
    lag_h : float
        Time in which a difference between zone and outside falls to a third [h]; 0.5 to 1000.
    gain_k : float
        How much warmer it is than outside in the long run: sun, people, the house beside it [K].
    heat_c : float or None
        The heater's set point [°C]; None is no heater.
    """

    lag_h: Annotated[
        float, Asked("Follows the weather within", dimension="time", scale=60, unit=("h", "h"), low=0.5, high=1000)
    ] = 6.0
    gain_k: Annotated[
        float,
        Asked("Warmer than outside by", dimension="temperature difference", unit=("K", "°F"), low=-30, high=30),
    ] = 0.0
    heat_c: Annotated[
        float | None,
        Asked("Heater holds", dimension="temperature", unit=("°C", "°F"), low=-10, high=MOST_HEAT_C),
    ] = None

    def __post_init__(self) -> None:
        for field, (asked, _) in asked_of(ZoneModel).items():
            if getattr(self, field) is not None:
                asked.within(field, getattr(self, field))

    def follow(
        self, outside: Profile, start: float, start_c: float, end: float, heating: Sequence[Interval] = ()
    ) -> Profile:
        """The zone from a known temperature on.

        Parameters
        ----------
        start, start_c : float
            When, and what it read then [min], [°C].
        heating : sequence of intervals
            When the heater may run, in order [min].

        >>> outside = Profile.steady(5)
        >>> round(ZoneModel(lag_h=6).follow(outside, 0, 20, 360).at(360), 2)  # after one lag: 5 + 15/e
        10.52
        """
        count = max(math.ceil((end - start) / STEP_MIN), 1)
        minutes = start + STEP_MIN * np.arange(count + 1, dtype=np.float64)
        driving = np.interp(minutes, outside.minutes, outside.celsius) + self.gain_k
        keeps = math.exp(-STEP_MIN / 60 / self.lag_h)
        lagging, _ = lfilter([1 - keeps], [1, -keeps], driving[1:], zi=[keeps * start_c])
        bare = Profile(minutes, np.concatenate(([start_c], lagging)))
        return bare if self.heat_c is None else heated(bare, self.heat_c, heating, self.lag_h)


def outside_curve(days: Sequence[Day]) -> Profile:
    """Days' lows (about 06:00) and highs (about 15:00) joined by half cosines.

    >>> curve = outside_curve([Day(0, 4, 14), Day(1440, 6, 10)])
    >>> [round(curve.at(h * 60), 1) for h in (6, 10.5, 15, 30, 39)]
    [4.0, 9.0, 14.0, 6.0, 10.0]
    """
    if not days:
        raise Refused("days", "the forecast has 0 days; at least 1 is wanted")
    ends = [
        point
        for day in sorted(days, key=lambda d: d.midnight)
        for point in ((day.midnight + 60 * COLDEST_H, day.low_c), (day.midnight + 60 * WARMEST_H, day.high_c))
    ]
    at, celsius = np.array(ends).T[:, :, None]
    share = np.arange(12) / 12
    minutes = at[:-1] + np.diff(at, axis=0) * share
    curve = celsius[:-1] + np.diff(celsius, axis=0) * (1 - np.cos(math.pi * share)) / 2
    return Profile(np.append(minutes, at[-1]), np.append(curve, celsius[-1]))


def with_typed(days: Sequence[Day], midnight: float, low_c: float, high_c: float) -> list[Day]:
    """A forecast in which one day is what somebody typed of the weather; added where it was not said at all.

    >>> [(day.low_c, day.high_c) for day in with_typed([Day(0, 4, 12), Day(1440, 6, 18)], 1440, -8, 2)]
    [(4, 12), (-8, 2)]
    """
    dew = next((day.dew_c for day in days if day.midnight == midnight), None)
    typed = Day(midnight, low_c, high_c, None if dew is None else min(dew, low_c))
    return sorted([*(day for day in days if day.midnight != midnight), typed], key=lambda day: day.midnight)


def with_mean_days(days: Sequence[Day], count: int) -> list[Day]:
    """A forecast, and after it so many days more of its own mean: no better is known.

    >>> [day.low_c for day in with_mean_days([Day(0, 4, 12), Day(1440, 6, 18)], 1)]
    [4, 6, 5.0]
    """
    low, high = (float(np.mean([getattr(day, name) for day in days])) for name in ("low_c", "high_c"))
    dews = [day.dew_c for day in days if day.dew_c is not None]
    dew = float(np.mean(dews)) if dews else None
    last = days[-1].midnight
    return [*days, *(Day(last + DAY_MIN * n, low, high, dew) for n in range(1, count + 1))]


def heated(profile: Profile, set_c: float, spans: Sequence[Interval], lag_h: float) -> Profile:
    """A temperature with a heater that holds a set point over some spans, and helps only where it is colder.

    Parameters
    ----------
    spans : sequence of intervals
        When the heater may run, in order [min].
    lag_h : float
        The zone's lag: what the heater added leaves with it, as any difference to the outside does [h].

    Notes
    -----
    The zone nears the set point within `WARM_UP_MIN`, sooner in a light building; once there it is held.
    The heater is taken to be strong enough. Off, what it added leaves with the lag.

    Examples
    --------
    >>> cold = Profile.of([(0, 10), (1440, 10)])
    >>> warm = heated(cold, 18, [(600, 720)], lag_h=6)
    >>> [round(warm.at(m), 1) for m in (0, 600, 660, 720, 1080)]
    [10.0, 10.0, 15.1, 16.9, 12.5]
    """
    between("heater", set_c, -10, MOST_HEAT_C, unit="°C", name="the heater's set point")
    first, last = float(profile.minutes[0]), float(profile.minutes[-1])
    spans = [(max(a, first - 1), b) for a, b in spans if b > first]
    if not spans:
        return profile
    cool_down = 60 * lag_h
    end = max(last, min(spans[-1][1], last + 60 * DAY_MIN) + min(5 * cool_down, 10 * DAY_MIN))
    steps = np.arange(first, end + STEP_MIN, STEP_MIN)
    minutes = np.union1d(profile.minutes, steps)
    air = np.interp(minutes, profile.minutes, profile.celsius)
    starts, ends = np.array([a for a, _ in spans]), np.array([b for _, b in spans])
    which = np.searchsorted(starts, minutes, side="right") - 1
    on = (which >= 0) & (minutes <= ends[np.maximum(which, 0)])
    lengths = np.diff(minutes)
    warm_up = min(WARM_UP_MIN, WARM_UP_SHARE * cool_down)
    warming, cooling = np.exp(-lengths / warm_up).tolist(), np.exp(-lengths / cool_down).tolist()
    wanted = (set_c - air).tolist()
    at, extra = 0.0, [0.0]
    before, holds = wanted[0], bool(air[0] >= set_c - SWITCHES_K)
    for missing, runs, warms, cools in zip(wanted[1:], (on[1:] & on[:-1]).tolist(), warming, cooling, strict=True):
        short, at, before = before - at, at * cools, missing
        if runs and at < missing:
            # It is the zone that nears the set point: what it loses meanwhile a heater that is strong enough makes up.
            at = missing if holds else max(at, missing - short * warms)
        holds = runs and at >= missing - SWITCHES_K
        extra.append(at)
    return Profile(minutes, air + np.array(extra))
