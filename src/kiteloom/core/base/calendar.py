"""Working hours of a shop in its own zone → intervals on the program's clock.

The program's clock counts UTC minutes since 1970. Local hours become UTC intervals here,
once, so a day on which the clocks change has the right length everywhere else.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from kiteloom.core.base.problems import Refused, between

Interval = tuple[float, float]


WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def minute_of(moment: datetime) -> float:
    """A moment with an offset, on the program's clock [min].

    >>> minute_of(datetime(1970, 1, 1, 1, 30, tzinfo=UTC))
    90.0
    """
    return moment.timestamp() / 60


def moment_of(minute: float, zone: tzinfo = UTC) -> datetime:
    """The moment of a time on the program's clock, to the second.

    >>> moment_of(90).isoformat()
    '1970-01-01T01:30:00+00:00'
    """
    return datetime.fromtimestamp(round(minute * 60), zone)


Clock = Literal["24", "12"]
Dates = Literal["day", "month"]


class WrittenZone(tzinfo):
    """A zone whose shop reads its clock in twelve hours, or writes the month before the day."""

    def __init__(self, zone: tzinfo, clock: Clock, dates: Dates) -> None:
        self.zone, self.clock, self.dates = zone, clock, dates

    def __reduce__(self) -> tuple[Callable[..., tzinfo], tuple[str, Clock, Dates]]:
        """So that it goes to another process as what it is."""
        return zone_of, (str(self.zone), self.clock, self.dates)

    def utcoffset(self, moment: datetime | None) -> timedelta | None:
        """As its zone."""
        return self.zone.utcoffset(self._there(moment))

    def dst(self, moment: datetime | None) -> timedelta | None:
        """As its zone."""
        return self.zone.dst(self._there(moment))

    def tzname(self, moment: datetime | None) -> str | None:
        """As its zone."""
        return self.zone.tzname(self._there(moment))

    def fromutc(self, moment: datetime) -> datetime:
        """As its zone."""
        return self.zone.fromutc(moment.replace(tzinfo=self.zone)).replace(tzinfo=self)

    def _there(self, moment: datetime | None) -> datetime | None:
        return moment.replace(tzinfo=self.zone) if moment is not None else None


@lru_cache(maxsize=200)
def zone_of(name: str, clock: Clock = "24", dates: Dates = "day") -> tzinfo:
    """The IANA zone of that name, and how its shop writes times; `Refused` if there is none.

    >>> zone_of("Europe/Nowhere")
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: “Europe/Nowhere” is not a zone; write it like Europe/Vienna
    """
    try:
        zone = ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise Refused("zone", f"“{name}” is not a zone; write it like Europe/Vienna") from None
    return zone if (clock, dates) == ("24", "day") else WrittenZone(zone, clock, dates)


@dataclass(frozen=True)
class Shift:
    """Working hours of one weekday (0 is Monday), minutes after local midnight, 0 to 1440."""

    weekday: int
    start: int
    end: int

    def __post_init__(self) -> None:
        between("hours.weekday", self.weekday, 0, 6, name="weekday")
        between("hours.from", self.start, 0, 1440, unit="min")
        between("hours.to", self.end, 0, 1440, unit="min")
        if self.start >= self.end:
            day = WEEKDAYS[self.weekday]
            raise Refused(
                "hours.to", f"{day} ends at {clock(self.end)} and starts at {clock(self.start)}; it must end later"
            )


def clock(minutes: int, written: Clock = "24") -> str:
    """Minutes after midnight as ``HH:MM``, or as a clock of twelve hours shows them.

    >>> clock(405), clock(405, "12"), clock(1440, "12")
    ('06:45', '6:45 am', '12:00 am')
    """
    if written == "12":
        hour = minutes // 60 % 24
        return f"{hour % 12 or 12}:{minutes % 60:02d} {'am' if hour < 12 else 'pm'}"
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def time_words(local: datetime) -> str:
    """The time of day of a moment, as its zone's shop writes it.

    >>> time_words(moment_of(1250, zone_of("UTC"))), time_words(moment_of(1250, zone_of("UTC", "12")))
    ('20:50', '8:50 pm')
    """
    return clock(local.hour * 60 + local.minute, getattr(local.tzinfo, "clock", "24"))


def date_words(local: datetime) -> str:
    """The day and month of a moment, as its zone's shop writes them.

    >>> date_words(moment_of(0, zone_of("UTC"))), date_words(moment_of(0, zone_of("UTC", dates="month")))
    ('1 Jan', 'Jan 1')
    """
    return day_words(local, local.tzinfo)


def day_words(day: date, zone: tzinfo | None, *, full: bool = False, year: bool = False) -> str:
    """A day in words as the shop of that zone writes it; its month in full, or with its year, where asked for.

    >>> day_words(date(2026, 5, 2), zone_of("UTC"), year=True)
    '2 May 2026'
    >>> day_words(date(2026, 12, 2), zone_of("UTC", dates="month"), full=True)
    'December 2'
    """
    month = f"{day:%B}" if full else f"{day:%b}"
    words = f"{month} {day.day}" if getattr(zone, "dates", "day") == "month" else f"{day.day} {month}"
    return f"{words} {day.year}" if year else words


def clock_minutes(text: str, field: str = "hours") -> int:
    """``"08:30"``, ``"8.30"``, ``"9"``, ``"9:30 pm"`` or ``"24:00"`` as minutes after midnight.

    >>> [clock_minutes(text) for text in ("08:30", "9", "24:00", "9:30 pm", "12am")]
    [510, 540, 1440, 1290, 0]
    """
    found = re.fullmatch(r"([0-9]{1,2})(?:[:.]([0-9]{2}))?(?:\s*([ap])\.?m\.?)?", text.strip().lower())
    if found is None:
        raise Refused(field, f"“{text[:40]}” isn't a time of day; write it like 08:30")
    hours, minutes = int(found[1]), int(found[2] or 0)
    if found[3]:
        if not 1 <= hours <= 12:
            raise Refused(field, f"“{text}” isn't a time of day; with am or pm the hours go from 1 to 12")
        hours = hours % 12 + (12 if found[3] == "p" else 0)
    total = hours * 60 + minutes
    if minutes > 59 or total > 1440:
        raise Refused(field, f"“{text}” isn't a time of day; the limit is 24:00")
    return total


def spells(text: str, weekday: int, field: str = "hours") -> list[Shift]:
    """The spells of work of one day, as typed; none for an empty text.

    >>> [(clock(spell.start), clock(spell.end)) for spell in spells("9-12:30, 13.30 – 17", 0)]
    [('09:00', '12:30'), ('13:30', '17:00')]
    """
    found: list[Shift] = []
    for typed in text.replace(";", ",").split(","):
        if not typed.strip():
            continue
        begin, dash, end = typed.replace("–", "-").replace("—", "-").replace(" to ", "-").partition("-")
        if not dash:
            raise Refused(field, f"{WEEKDAYS[weekday]}: “{typed.strip()[:40]}” has no end; write it like 9:00–12:30")
        shift = Shift(weekday, clock_minutes(begin, field), clock_minutes(end, field))
        for other in found:
            if shift.start < other.end and other.start < shift.end:
                two = f"{clock(other.start)}–{clock(other.end)} and {clock(shift.start)}–{clock(shift.end)}"
                raise Refused(field, f"{WEEKDAYS[weekday]}: {two} overlap; give each hour once")
        found.append(shift)
    return found


@dataclass(frozen=True)
class WorkingHours:
    """When the shop works: its zone, weekly shifts and closed dates."""

    zone: tzinfo
    shifts: tuple[Shift, ...]
    closed: frozenset[date] = frozenset()

    def intervals(self, start: float, end: float) -> list[Interval]:
        """Open intervals between two times, in order, merged where they touch [min].

        >>> hours = WorkingHours(UTC, (Shift(3, 540, 720), Shift(3, 780, 1080)))  # 1 January 1970 was a Thursday
        >>> hours.intervals(0, 1440)
        [(540.0, 720.0), (780.0, 1080.0)]
        """
        first, last = moment_of(start, self.zone).date() - timedelta(days=1), moment_of(end, self.zone).date()
        spans = [span for year in range(first.year, last.year + 1) for span in _of_year(self, year)]
        return joined_up((max(a, start), min(b, end)) for a, b in spans if a < end and b > start)


@lru_cache(maxsize=100)
def _of_year(hours: WorkingHours, year: int) -> list[Interval]:
    """The open intervals of the days of a year, in order."""
    found: list[Interval] = []
    week = [joined_up((s.start, s.end) for s in hours.shifts if s.weekday == day) for day in range(7)]
    for ordinal in range(date(year, 1, 1).toordinal(), date(year, 12, 31).toordinal() + 1):
        day = date.fromordinal(ordinal)
        for begin, stop in [] if day in hours.closed else week[day.weekday()]:
            opens, closes = (_local(day, int(minutes), hours.zone) for minutes in (begin, stop))
            if opens < closes:
                found.append((opens, closes))
    return found


@lru_cache(maxsize=10_000)
def _local(day: date, minutes: int, zone: tzinfo) -> float:
    local = datetime.combine(day + timedelta(days=minutes // 1440), time(minutes % 1440 // 60, minutes % 60))
    return minute_of(local.replace(tzinfo=zone))


def nights(zone: tzinfo, start: float, end: float) -> list[Interval]:
    """The nights between two times [min], taken as 21:00 to 06:00: the light itself is not computed.

    >>> nights(UTC, 720, 2160)
    [(1260.0, 1800.0)]
    """
    every = tuple(Shift(day, 21 * 60, 1440) for day in range(7)) + tuple(Shift(day, 0, 6 * 60) for day in range(7))
    return WorkingHours(zone, every).intervals(start, end)


def last_at(text: str, now: float, zone: tzinfo, field: str = "at") -> float:
    """The last time a clock of the shop showed a typed time of day [min].

    >>> vienna = zone_of("Europe/Vienna")
    >>> now = minute_of(datetime(2026, 5, 14, 9, 20, tzinfo=vienna))
    >>> [when(last_at(text, now, vienna), vienna, now) for text in ("08:10", "17:40")]
    ['08:10', 'Wed 13 May 17:40']
    """
    minutes = clock_minutes(text, field)
    day = moment_of(now, zone).date()
    today = _local(day, minutes, zone)
    return today if today <= now else _local(day - timedelta(days=1), minutes, zone)


def local_midnight(minute: float, zone: tzinfo) -> float:
    """The local midnight that begins the day of a time [min].

    >>> local_midnight(2000, UTC)
    1440.0
    """
    return minute_of(datetime.combine(moment_of(minute, zone).date(), time(), tzinfo=zone))


def when(minute: float, zone: tzinfo, now: float | None = None) -> str:
    """A time as a builder says it: ``"06:40"`` today, ``"Tue 06:40"`` within a week, else with its date.

    >>> now = minute_of(datetime(2026, 5, 14, 9, 20, tzinfo=UTC))
    >>> [when(now + minutes, UTC, now) for minutes in (60, 1440, 14_400)]
    ['10:20', 'Fri 09:20', 'Sun 24 May 09:20']
    """
    # As a clock on the wall shows it: what has been is of the minute it was in, what is to come of the nearest.
    past = now is not None and minute <= now
    local = moment_of(math.floor(minute) if past else round(minute), zone)
    words = time_words(local)
    if now is None:
        return f"{local:%a} {date_words(local)} {words}"
    days = (local.date() - moment_of(now, zone).date()).days
    if days == 0:
        return words
    return f"{local:%a} {words}" if 0 < days < 7 else f"{local:%a} {date_words(local)} {words}"


def lasting(minutes: float) -> str:
    """A length as a builder says it.

    >>> lasting(45), lasting(130)
    ('45 min', '2 h 10 min')
    """
    whole = round(minutes)
    if whole < 60:
        return f"{whole} min"
    return f"{whole // 60} h" + (f" {whole % 60} min" if whole % 60 else "")


def joined_up(intervals: Iterable[Interval]) -> list[Interval]:
    """Intervals [min] in order of time, those that touch or overlap as one.

    >>> joined_up([(60, 90), (0, 30), (30, 45)])
    [(0, 45), (60, 90)]
    """
    found: list[Interval] = []
    for start, end in sorted(intervals):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(end, found[-1][1]))
        else:
            found.append((start, end))
    return found


def both(one: Sequence[Interval], other: Sequence[Interval]) -> list[Interval]:
    """Where two rows of intervals, each in order, overlap.

    >>> both([(540, 720), (780, 1080)], [(600, 900)])
    [(600, 720), (780, 900)]
    """
    found: list[Interval] = []
    i, j, ones, others = 0, 0, len(one), len(other)
    while i < ones and j < others:
        (start, end), (begins, ends) = one[i], other[j]
        i, j = (i + 1, j) if end < ends else (i, j + 1)
        start, end = start if start > begins else begins, end if end < ends else ends
        if start < end:
            found.append((start, end))
    return found


def without(spans: Sequence[Interval], holes: Sequence[Interval]) -> list[Interval]:
    """Intervals in order less some holes in any.

    >>> without([(540, 1080)], [(900, 2000), (720, 780)])
    [(540, 720), (780, 900)]
    """
    left, at = [], -math.inf
    for start, end in sorted(holes):
        if start > at:
            left.append((at, start))
        at = max(at, end)
    return both(spans, [*left, (at, math.inf)] if at < math.inf else left)


def longest(intervals: Sequence[Interval]) -> float:
    """Length of the longest interval [min]; 0 when there is none.

    >>> longest([(0, 30), (60, 150)]), longest([])
    (90, 0.0)
    """
    return max((end - start for start, end in intervals), default=0.0)
