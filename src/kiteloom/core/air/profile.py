"""The shop's temperature: records, a day curve for what is to come, and the two joined."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import Refused, between

DAY_MIN = 24 * 60.0


#: Coldest about sunrise, warmest in mid-afternoon (common practice).
COLDEST_H, WARMEST_H = 6.0, 15.0


#: Time in which a difference between shop and forecast falls to a third (common practice) [min].
LAG_MIN = 6 * 60.0


#: What is typed for a room is taken over within about so long from its last reading: no room falls off a cliff [min].
TYPED_LAG_MIN = 2 * 60.0


#: An outlook said so long before the last reading says nothing of the days after it [min].
STALE_MIN = 36 * 60.0


#: Of so many pairs what they come to is kept: nearly always it is asked again before another reading comes.
KEPT = 32


@dataclass(frozen=True, eq=False)
class Profile:
    """Temperature against time: linear between points, held before the first and after the last.

    Parameters
    ----------
    minutes : array
        Whole program's clock: minutes since the epoch [min], strictly rising.
    celsius : array
        As long as ``minutes`` [°C].
    """

    minutes: NDArray[np.float64]
    celsius: NDArray[np.float64]

    @classmethod
    def of(cls, points: Sequence[tuple[float, float]]) -> Profile:
        """From (minute, °C) pairs in any order; of two at one time the later given wins.

        Raises
        ------
        Refused
            If there are none, or one is not between −60 and 300 °C.

        >>> Profile.of([(60, 18), (0, 12)]).at(30)
        15.0
        """
        if not points:
            raise Refused("temperature", "temperature has no entries; at least 1 is wanted")
        for _, celsius in points:
            between("temperature.c", celsius, -60, 300, unit="°C", name="temperature")
        known = dict(points)
        minutes = np.array(sorted(known), dtype=float)
        return cls(minutes, np.array([known[minute] for minute in minutes], dtype=float))

    @classmethod
    def steady(cls, celsius: float) -> Profile:
        """One temperature for ever.

        >>> Profile.steady(20).at(12345)
        20.0
        """
        return cls.of([(0.0, celsius)])

    def at(self, minute: float) -> float:
        """Temperature at a time [°C].

        >>> warming = Profile.of([(0, 10), (60, 16)])
        >>> warming.at(20), warming.at(600)
        (12.0, 16.0)
        """
        return float(np.interp(minute, self.minutes, self.celsius))

    def shifted(self, kelvin: float) -> Profile:
        """The same times, warmer or colder throughout.

        >>> Profile.of([(0, 10), (60, 16)]).shifted(2).at(60)
        18.0
        """
        return Profile(self.minutes, self.celsius + kelvin) if kelvin else self

    def between(self, start: float, end: float) -> list[tuple[float, float]]:
        """The (minute, °C) points from start to end, both ends included.

        >>> Profile.of([(0, 10), (60, 16), (120, 16)]).between(30, 90)
        [(30, 13.0), (60.0, 16.0), (90, 16.0)]
        """
        inside = (self.minutes > start) & (self.minutes < end)
        minutes = [start, *self.minutes[inside].tolist(), end]
        return list(zip(minutes, np.interp(minutes, self.minutes, self.celsius).tolist(), strict=True))

    def mean(self, start: float, end: float) -> float:
        """Mean temperature over a span longer than nothing [°C].

        >>> Profile.of([(0, 10), (60, 16)]).mean(0, 60)
        13.0
        """
        points = self.between(start, end)
        area = sum((b[0] - a[0]) * (a[1] + b[1]) / 2 for a, b in pairwise(points))
        return area / (end - start)

    def followed_by(self, later: Profile) -> Profile:
        """This one to its last point, then ``later``.

        >>> Profile.of([(0, 10), (60, 12)]).followed_by(Profile.steady(20)).at(61)
        12.0
        """
        rest = later.minutes > self.minutes[-1]
        return Profile(
            np.concatenate((self.minutes, later.minutes[rest])),
            np.concatenate((self.celsius, later.celsius[rest])),
        )


@lru_cache(maxsize=KEPT)
def record_then_forecast(record: Profile, forecast: Profile, lag_min: float = LAG_MIN) -> Profile:
    """The record, then the forecast corrected by the last reading.

    What the forecast was off by at that moment fades away over some hours: a shop's walls
    remember (first-order lag, ``lag_min``).

    >>> record = Profile.of([(0, 12), (60, 14)])
    >>> joined = record_then_forecast(record, Profile.steady(10))
    >>> joined.at(60), joined.at(61)  # 4 K warmer than was said, and so from now on
    (14.0, 14.0)
    """
    end = float(record.minutes[-1])
    off = float(record.celsius[-1]) - forecast.at(end)
    since = np.maximum(forecast.minutes - end, 0)
    return record.followed_by(Profile(forecast.minutes, forecast.celsius + off * np.exp(-since / lag_min)))


def day_curve(low_c: float, high_c: float, midnight_min: float, days: int) -> Profile:
    """A daily low and high, joined by half cosines, for some days from a local midnight.

    Parameters
    ----------
    low_c, high_c : float
        Night's low (about 06:00) and day's high (about 15:00) [°C]; the low not above the high.
    midnight_min : float
        Local midnight the first day begins with [min].
    days : int
        How many days the same low and high repeat.

    Examples
    --------
    >>> curve = day_curve(8, 20, 0, 2)
    >>> round(curve.at(6 * 60), 2), round(curve.at(15 * 60), 2), round(curve.at(30 * 60), 2)
    (8.0, 20.0, 8.0)
    """
    between("low", low_c, -40, 50, unit="°C", name="the low")
    between("high", high_c, -40, 60, unit="°C", name="the high")
    if low_c > high_c:
        raise Refused("low", f"the low is {low_c:g} °C and the high {high_c:g} °C; the low can't be above the high")
    points = []
    for minute in range(0, int(days * DAY_MIN) + 1, 30):
        hour = minute / 60 % 24
        if COLDEST_H <= hour <= WARMEST_H:
            phase = math.pi * (hour - COLDEST_H) / (WARMEST_H - COLDEST_H) + math.pi
        else:
            phase = math.pi * ((hour - WARMEST_H) % 24) / (24 - WARMEST_H + COLDEST_H)
        points.append((midnight_min + minute, (low_c + high_c) / 2 + (high_c - low_c) / 2 * math.cos(phase)))
    return Profile.of(points)


@lru_cache(maxsize=KEPT)
def last_day_repeated(record: Profile, days: int) -> Profile:
    """The record's last 24 hours laid over the following days: the plainest forecast there is.

    A record shorter than a day is held at its mean.

    >>> record = Profile.of([(0, 12), (720, 20), (1440, 12)])
    >>> last_day_repeated(record, 2).at(1440 + 720)
    20.0
    """
    end = float(record.minutes[-1])
    if end - float(record.minutes[0]) < DAY_MIN:
        return Profile.of([(end + 1, float(record.celsius.mean()))])
    day = record.between(end - DAY_MIN, end)[1:]
    return Profile.of([(minute + DAY_MIN * n, celsius) for n in range(1, days + 1) for minute, celsius in day])


@dataclass(frozen=True)
class DayOutlook:
    """A night's low and a day's high [°C], when it was said and that day's local midnight [min]."""

    said_at: float
    midnight: float
    low_c: float
    high_c: float


@dataclass(frozen=True, eq=False)
class Known:
    """The temperature as far as it is known.

    ``recorded_from`` and ``recorded_until`` bound what was really read [min], None without a
    record; a loaded file may run on past now, to ``loaded_until``, which counts as expected.
    ``outlook`` is the one that counts for the days to come; None: the last recorded day does.
    """

    profile: Profile
    recorded_from: float | None
    recorded_until: float | None
    loaded_until: float | None
    outlook: DayOutlook | None

    def assumed(self, start: float, end: float) -> bool:
        """Whether any of a span was not recorded.

        >>> known = what_is_known(Profile.of([(0, 12), (60, 14)]), [], 60, 1)
        >>> known.assumed(0, 30), known.assumed(0, 90)
        (False, True)
        """
        if self.recorded_from is None or self.recorded_until is None:
            return True
        return start < self.recorded_from or end > self.recorded_until


def what_is_known(
    record: Profile | None,
    outlooks: Sequence[DayOutlook],
    now: float,
    days: int,
    model: Profile | None = None,
) -> Known | None:
    """Join the record with what is expected after it; None when there is nothing at all.

    Parameters
    ----------
    outlooks : sequence of DayOutlook
        In the order they were said; each counts from then until the next, the last for
        ``days`` more. Those said `STALE_MIN` or more before the last reading no longer count;
        when none does, the last recorded day is repeated.
    model : Profile or None
        What the weather forecast makes of the zone. Where there is one, an outlook that was
        typed overrules it for the day and a half it speaks of.

    >>> what_is_known(None, [], 0, 3) is None
    True
    >>> known = what_is_known(Profile.of([(0, 12), (60, 14)]), [], 60, 3)
    >>> known.recorded_from, known.recorded_until
    (0.0, 60.0)
    """
    if record is None:
        if model is not None:
            return Known(_overruled(model, tuple(outlooks[-1:])), None, None, None, outlooks[-1] if outlooks else None)
        if not outlooks:
            return None
        return Known(_said(tuple(outlooks), _end_of_day(now), days), None, None, None, outlooks[-1])
    end = float(record.minutes[-1])
    recent = tuple(outlook for outlook in outlooks if outlook.said_at > end - STALE_MIN)
    ahead = int(max(now - end, 0) / DAY_MIN) + days
    if model is not None:
        forecast = _overruled(model, recent, end)
    else:
        forecast = _said(recent, _end_of_day(now), days) if recent else last_day_repeated(record, ahead)
    whole = record_then_forecast(record, forecast, TYPED_LAG_MIN if recent else LAG_MIN)
    return Known(whole, float(record.minutes[0]), min(end, now), end, recent[-1] if recent else None)


def _end_of_day(now: float) -> float:
    """The end of a day, by UTC [min]: what is expected is the same until then."""
    return math.ceil(now / DAY_MIN) * DAY_MIN


@lru_cache(maxsize=KEPT)
def _overruled(model: Profile, outlooks: tuple[DayOutlook, ...], read: float = math.inf) -> Profile:
    """A forecast with what was typed over it; joined to a record from its last reading on."""
    for outlook in outlooks:
        start, end = min(outlook.said_at, read), outlook.said_at + STALE_MIN
        curve = day_curve(outlook.low_c, outlook.high_c, outlook.midnight, 4)
        kept = [(m, c) for m, c in zip(model.minutes, model.celsius, strict=True) if not start <= m <= end]
        edges = [(start - 1, model.at(start - 1)), (end + 1, model.at(end + 1))]
        model = Profile.of([*kept, *edges, *curve.between(start, end)])
    return model


@lru_cache(maxsize=KEPT)
def _said(outlooks: tuple[DayOutlook, ...], today: float, days: int) -> Profile:
    """Each outlook's day curve from when it was said until the next; the last for some days more than today."""
    points: list[tuple[float, float]] = []
    for i, outlook in enumerate(outlooks):
        last = i + 1 == len(outlooks)
        until = max(today, outlook.said_at) + days * DAY_MIN if last else outlooks[i + 1].said_at
        length = int((until - outlook.midnight) / DAY_MIN) + 1
        curve = day_curve(outlook.low_c, outlook.high_c, outlook.midnight, length)
        begins = outlook.midnight if i == 0 else outlook.said_at
        points += [(minute, c) for minute, c in curve.between(begins, until) if last or minute < until]
    return Profile.of(points)
