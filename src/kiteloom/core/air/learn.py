"""How a zone follows the weather, learned from what a logger read there and what the weather was."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kiteloom.core.air.building import Day, ZoneModel, outside_curve
from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.calendar import Interval
from kiteloom.core.base.problems import Refused

#: A building is learned from so many days at least: from fewer, one sunny day is all there is.
ENOUGH_DAYS = 4.0

#: Lags [h] and excesses [K] that are tried, from a tent to a cellar.
_LAGS = (0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 13.0, 16.0, 24.0, 36.0, 60.0, 100.0, 200.0)
_GAINS = tuple(float(gain) for gain in range(-4, 15, 2))

#: A heater that runs for more of the time leaves no hours in which the building shows itself [-].
MOST_HEATED = 0.9

#: What fits no better than by this is not worth changing what is set [K].
CLEARLY_K = 0.2


@dataclass(frozen=True)
class Learnt:
    """A model that was learned, and how far it and the one that is set are off on average [K], over so many days."""

    model: ZoneModel
    off_k: float
    was_off_k: float
    days: float

    @property
    def clearly(self) -> bool:
        """Whether it fits clearly better than what is set.

        >>> Learnt(ZoneModel(8, 1), 0.4, 1.1, 7).clearly, Learnt(ZoneModel(8, 1), 0.4, 0.5, 7).clearly
        (True, False)
        """
        return self.was_off_k - self.off_k >= CLEARLY_K


def learnt(record: Profile, days: Sequence[Day], model: ZoneModel, heating: Sequence[Interval]) -> Learnt:
    """The lag and the excess with which a zone's heater and the weather give what was read.

    Parameters
    ----------
    record : Profile
        What was read in the zone [min, °C].
    days : sequence of Day
        The weather outside in that time.
    model : ZoneModel
        As it is set now; its heater's set point is taken as it is.
    heating : sequence of intervals
        When its heater could run, in order [min].

    Notes
    -----
    Each lag is tried with each excess, then those around the best; the mean square over what was
    read decides. The first day only lets the model settle.

    Raises
    ------
    Refused
        With less than `ENOUGH_DAYS` of both, or where a heater runs nearly all the time.

    >>> sky, true = [Day(1440.0 * n, 2.0 + n % 3, 12.0 - n % 2) for n in range(8)], ZoneModel(8, 1.5)
    >>> read = true.follow(outside_curve(sky), 600, 9, 9000)
    >>> found = learnt(read, sky, ZoneModel(3, 0), ())
    >>> found.model.lag_h, found.model.gain_k, found.off_k < 0.2 < found.was_off_k
    (8.0, 1.5, True)
    """
    outside = outside_curve(days) if days else None
    first = max(float(record.minutes[0]), float(outside.minutes[0])) if outside is not None else 0.0
    last = min(float(record.minutes[-1]), float(outside.minutes[-1])) if outside is not None else 0.0
    known = max(last - first, 0.0) / DAY_MIN
    if outside is None or known < ENOUGH_DAYS:
        raise Refused(
            "record",
            f"{known:.1f} days of both its record and the weather are known; at least {ENOUGH_DAYS:g} are wanted",
        )
    sky, seen = outside, (record.minutes >= first + DAY_MIN) & (record.minutes <= last)
    minutes, read = record.minutes[seen], record.celsius[seen]
    spans = [span for span in heating if span[1] > first and span[0] < last]
    if sum(min(b, last) - max(a, first) for a, b in spans) > MOST_HEATED * (last - first):
        raise Refused(
            "record", "its heater runs nearly all the time; only hours without it tell how it follows the weather"
        )

    def off(tried: ZoneModel) -> float:
        made = tried.follow(sky, first, record.at(first), last, spans)
        return float(np.sqrt(np.mean((np.interp(minutes, made.minutes, made.celsius) - read) ** 2)))

    def best(lags: Sequence[float], gains: Sequence[float]) -> ZoneModel:
        # What a heater is off for is no excess of the building's own below the weather.
        least = 0.0 if spans and model.heat_c is not None else -30.0
        pairs = itertools.product(lags, [gain for gain in gains if gain >= least])
        return min((replace(model, lag_h=lag, gain_k=gain) for lag, gain in pairs), key=off)

    rough = best(_LAGS, _GAINS)
    fine = best([rough.lag_h], [rough.gain_k + 0.5 * n for n in range(-3, 4)])
    around = [round(fine.lag_h * factor, 1) for factor in (0.75, 0.85, 1.0, 1.15, 1.3)]
    found = best([lag for lag in around if 0.5 <= lag <= 1000], [fine.gain_k + 0.5 * n for n in (-1, 0, 1)])
    return Learnt(found, off(found), off(model), known)
