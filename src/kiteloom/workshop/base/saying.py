"""Times put into words and moments of the shop's zone."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, tzinfo

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import Interval, clock, lasting, moment_of, time_words, when
from kiteloom.core.base.quantities import UnitSystem


@dataclass(frozen=True)
class Choice:
    """Something to choose, by its id or key."""

    id: str
    name: str


@dataclass(frozen=True)
class AsText:
    """A figure to edit, as text in a unit."""

    field: str
    label: str
    text: str
    unit: str


@dataclass(frozen=True)
class Span:
    """From a moment to a moment."""

    start: datetime
    end: datetime


@dataclass(frozen=True)
class Degrees:
    """The shop's temperature at a moment."""

    at: datetime
    c: float


@dataclass(frozen=True)
class Saying:
    """How this shop says a time: in its zone, seen from now."""

    zone: tzinfo
    now: float
    units: UnitSystem

    def at(self, minute: float, beside: float | None = None) -> str:
        """A time with its day, or without when it stands beside one of the same day."""
        words = when(minute, self.zone, self.now)
        if beside is None:
            return words
        day, other = (moment_of(m, self.zone).date() for m in (minute, beside))
        if day == other:
            return self.time(minute)
        return f"today {words}" if day == moment_of(self.now, self.zone).date() else words

    def time(self, minute: float) -> str:
        """The time of day alone."""
        return time_words(moment_of(self._said(minute), self.zone))

    def clock(self, minutes: int) -> str:
        """Minutes after midnight, as a clock of the shop shows them."""
        return clock(minutes, getattr(self.zone, "clock", "24"))

    def moment(self, minute: float) -> datetime:
        """A time as a moment of the shop's zone."""
        return moment_of(minute, self.zone)

    def perhaps(self, minute: float | None) -> datetime | None:
        """The same for a time that may not be, to the minute it is said in words."""
        return None if minute is None else moment_of(self._said(minute), self.zone)

    def span(self, interval: Interval) -> Span:
        """An interval as moments, to the minutes it is said in words."""
        return Span(*(moment_of(self._said(minute), self.zone) for minute in interval))

    def _said(self, minute: float) -> int:
        return math.floor(minute) if minute <= self.now else round(minute)

    def lasting(self, minutes: float) -> str:
        """A length as a builder says it: ``"2 h 10 min"``."""
        return lasting(minutes)

    def about(self, minutes: float) -> str:
        """How much sooner or later: in days where it is some."""
        days = round(abs(minutes) / DAY_MIN)
        return f"{days} days" if days > 1 else lasting(abs(minutes))


def joined(names: Sequence[str], last: str = "and") -> str:
    """Names as they are said: ``"Bo, Imre and Sanna"``."""
    return f" {last} ".join([", ".join(names[:-1]), names[-1]]) if len(names) > 1 else "".join(names)
