"""A part's own temperature over time: the zones it was in, and what was read on the part itself.

A part is taken to be as warm as the air of its zone until somebody reads it. Then the reading
wins: what it was off by from the air is carried between readings, and fades after the last, because
parts lag the air and come to it again. A warm reading makes no cure of hours in which nobody looked:
before the first, and across a gap longer than the lag, only what a part was colder is carried back.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.air.profile import Profile

Floats = NDArray[np.float64]

#: In such a time a part's difference from its air falls to a third (common practice) [min].
PART_LAG_MIN = 90.0

#: A reading further from the air than this is asked about [K].
FAR_K = 15.0


def moved(places: Sequence[tuple[float, Profile]]) -> Profile:
    """The air a part is in: each zone's from the time it was put there.

    Parameters
    ----------
    places : sequence of (minute, Profile)
        In order of time; the first holds before it too. At least one.

    >>> part = moved([(0, Profile.steady(18)), (600, Profile.steady(35))])
    >>> part.at(599), part.at(600.1)
    (18.0, 35.0)
    """
    minutes, celsius = places[0][1].minutes, places[0][1].celsius
    for at, zone in places[1:]:
        before = minutes < at
        last = float(np.interp(at, minutes, celsius))
        after = zone.minutes > at
        minutes = np.concatenate((minutes[before], [at, at + 1e-3], zone.minutes[after]))
        celsius = np.concatenate((celsius[before], [last, zone.at(at)], zone.celsius[after]))
    return Profile(minutes, celsius)


def as_read(air: Profile, readings: Sequence[tuple[float, float]]) -> Profile:
    """The temperature of a part whose air is known and that was read at times [min, °C].

    >>> part = as_read(Profile.steady(18), [(100, 26)])
    >>> part.at(100), round(part.at(190), 1), round(part.at(1000), 1)
    (26.0, 20.9, 18.0)
    >>> part.at(99.9) < 18.5, as_read(Profile.steady(18), [(100, 14)]).at(90) < 15  # colder before, not warmer
    (True, True)
    >>> gap = as_read(Profile.steady(18), [(0, 18), (360, 40)])
    >>> gap.at(350), gap.at(360)  # it may have been put into the sun just now
    (18.0, 40.0)
    """
    if not readings:
        return air
    known = dict(readings)
    at = np.array(sorted(known), dtype=float)
    off = np.array([known[minute] - air.at(minute) for minute in at])
    around = [
        at - 1e-3,
        at[0] - np.arange(1, 25) * PART_LAG_MIN / 4,
        at,
        at[-1] + np.arange(1, 25) * PART_LAG_MIN / 4,
    ]
    minutes = np.union1d(air.minutes, np.concatenate(around))
    inside = _carried(minutes, at, off)
    before = np.exp(-np.maximum(at[0] - minutes, 0) / PART_LAG_MIN)
    if off[0] > 0:
        before = np.where(minutes < at[0], 0.0, before)  # nobody had looked
    after = np.exp(-np.maximum(minutes - at[-1], 0) / PART_LAG_MIN)
    return Profile(minutes, np.interp(minutes, air.minutes, air.celsius) + inside * before * after)


def _carried(minutes: Floats, at: Floats, off: Floats) -> Floats:
    """What a part is off by between its readings [K]: in a line; across a long gap no warmer than it had faded to."""
    line = np.interp(minutes, at, off)
    if len(at) < 2:
        return line
    last = np.clip(np.searchsorted(at, minutes, side="right") - 1, 0, len(at) - 2)
    faded = off[last] * np.exp(-np.maximum(minutes - at[last], 0) / PART_LAG_MIN)
    unseen = (at[last + 1] - at[last] > PART_LAG_MIN) & (minutes > at[last]) & (minutes < at[last + 1])
    return np.where(unseen, np.minimum(line, faded), line)
