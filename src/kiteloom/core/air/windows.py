"""Straight-shot windows: when a whole sequence, unbroken, keeps within its limits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kiteloom.core.air.moisture import LEAST_MARGIN_K, dew_point
from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Interval, WorkingHours
from kiteloom.core.base.problems import Refused, between

#: The dew margin bends between records; it is looked at this often [min].
_LOOK_MIN = 10.0


#: No forecast is longer [days].
LONGEST_DAYS = 400


@dataclass(frozen=True)
class Part:
    """One part of a sequence; hands-on parts lie inside working hours."""

    name: str
    minutes: float
    hands_on: bool = True

    def __post_init__(self) -> None:
        between("parts.minutes", self.minutes, 0, 100_000, unit="min", name=self.name or "a part", open_low=True)


@dataclass(frozen=True)
class Limits:
    """What must hold throughout [°C, %]; None is no limit."""

    min_c: float | None = None
    max_c: float | None = None
    max_rh_pct: float | None = None


@dataclass(frozen=True)
class Window:
    """The sequence may begin from ``start`` to ``latest_start``; begun then it is over at ``end`` [min]."""

    start: float
    end: float
    latest_start: float


def straight_shots(
    parts: Sequence[Part], limits: Limits, temperature: Profile, humidity: Profile | None, hours: WorkingHours
) -> list[Window]:
    """Every window in the span of the temperature.

    Parameters
    ----------
    humidity : Profile or None
        Relative humidity [%]. Where it is given the dew margin must be 3 K (ISO 8502-4), besides any
        limit. Before its first record and after its last it is taken to be as there, which nobody knows:
        whoever shows a window that reaches beyond says so.

    >>> cold_then_warm = Profile.of([(at("15T06:00"), 8), (at("15T12:00"), 20), (at("15T18:00"), 20)])
    >>> shots = straight_shots([Part("coat", 60)], Limits(min_c=15), cold_then_warm, None, DAYS)
    >>> [((shot.start - at("15T00:00")) / 60, (shot.end - at("15T00:00")) / 60) for shot in shots]
    [(9.5, 18.0)]
    """
    if not parts:
        raise Refused("parts", "parts is empty; at least 1 is wanted")
    if limits.max_rh_pct is not None and humidity is None:
        raise Refused(
            "humidity", f"a humidity limit of {limits.max_rh_pct:g} % is given, but no humidity to hold to it"
        )
    begin, end = float(temperature.minutes[0]), float(temperature.minutes[-1])
    between("temperature", (end - begin) / 1440, high=LONGEST_DAYS, unit="days", name="the temperature's span")
    total = sum(part.minutes for part in parts)
    good = [(begin, end)]
    if limits.min_c is not None:
        good = _common(good, _where(temperature.minutes, temperature.celsius - limits.min_c))
    if limits.max_c is not None:
        good = _common(good, _where(temperature.minutes, limits.max_c - temperature.celsius))
    if humidity is not None and limits.max_rh_pct is not None:
        good = _common(good, _where(humidity.minutes, limits.max_rh_pct - humidity.celsius))
    if humidity is not None:
        minutes = np.union1d(np.union1d(temperature.minutes, humidity.minutes), np.arange(begin, end, _LOOK_MIN))
        air = np.interp(minutes, temperature.minutes, temperature.celsius)
        rh = np.interp(minutes, humidity.minutes, humidity.celsius)
        good = _common(good, _where(minutes, air - dew_point(air, rh) - LEAST_MARGIN_K))
    starts = [(opens, closes - total) for opens, closes in good if closes - total >= opens]
    open_hours = hours.intervals(begin, end)
    offset = 0.0
    for part in parts:
        if part.hands_on:
            fits = [
                (opens - offset, closes - part.minutes - offset)
                for opens, closes in open_hours
                if closes - opens >= part.minutes
            ]
            starts = _common(starts, fits)
        offset += part.minutes
    return [Window(first, last + total, last) for first, last in starts]


def _where(minutes: np.ndarray, margin: np.ndarray) -> list[Interval]:
    """Where a margin, linear between its points and held beyond them, is not negative."""
    found: list[Interval] = []
    since = -np.inf if margin[0] >= 0 else None
    for i in range(1, len(minutes)):
        before, after = margin[i - 1], margin[i]
        if (before >= 0) == (after >= 0):
            continue
        at = float(minutes[i - 1] + before / (before - after) * (minutes[i] - minutes[i - 1]))
        if since is None:
            since = at
        else:
            found.append((since, at))
            since = None
    return [*found, (since, np.inf)] if since is not None else found


def _common(one: Sequence[Interval], other: Sequence[Interval]) -> list[Interval]:
    """What lies in both of two lists of intervals, each in order."""
    found, i, j = [], 0, 0
    while i < len(one) and j < len(other):
        first, last = max(one[i][0], other[j][0]), min(one[i][1], other[j][1])
        if first <= last:
            found.append((first, last))
        if one[i][1] < other[j][1]:
            i += 1
        else:
            j += 1
    return found
