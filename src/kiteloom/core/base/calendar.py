"""Working hours of a shop in its own zone → intervals on the program's clock.

The program's clock counts UTC minutes since 1970. Local hours become UTC intervals here,
once, so a day on which the clocks change has the right length everywhere else.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from functools import lru_cache
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


def zone_of(name: str) -> tzinfo:
    """The IANA zone of that name; `Refused` if there is none.

    >>> zone_of("Europe/Nowhere")
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: “Europe/Nowhere” is not a zone; write it like Europe/Vienna
    """
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise Refused("zone", f"“{name}” is not a zone; write it like Europe/Vienna") from None


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


def clock(minutes: int) -> str:
    """Minutes after midnight as ``HH:MM``.

    >>> clock(405)
    '06:45'
    """
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def clock_minutes(text: str, field: str = "hours") -> int:
    """``"08:30"``, ``"8.30"``, ``"9"`` or ``"24:00"`` as minutes after midnight.

    >>> clock_minutes("08:30"), clock_minutes("9"), clock_minutes("24:00")
    (510, 540, 1440)
    """
    hours, colon, minutes = text.strip().replace(".", ":").partition(":")
    minutes = minutes if colon else "00"
    figures = hours.isdecimal() and minutes.isdecimal() and hours.isascii() and minutes.isascii()
    if not (figures and len(hours) <= 2 and len(minutes) == 2):
        raise Refused(field, f"“{text[:40]}” isn't a time of day; write it like 08:30")
    total = int(hours) * 60 + int(minutes)
    if int(minutes) > 59 or total > 1440:
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
        found: list[Interval] = []
        day = moment_of(start, self.zone).date() - timedelta(days=1)
        last = moment_of(end, self.zone).date()
        week = [joined_up((s.start, s.end) for s in self.shifts if s.weekday == day) for day in range(7)]
        while day <= last:
            for begin, stop in [] if day in self.closed else week[day.weekday()]:
                opens, closes = (_local(day, int(minutes), self.zone) for minutes in (begin, stop))
                opens, closes = max(opens, start), min(closes, end)
                if opens < closes:
                    found.append((opens, closes))
            day += timedelta(days=1)
        return joined_up(found)


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
    words = local.strftime("%H:%M")
    if now is None:
        return f"{local:%a} {local.day} {local:%b} {words}"
    days = (local.date() - moment_of(now, zone).date()).days
    if days == 0:
        return words
    return f"{local:%a} {words}" if 0 < days < 7 else f"{local:%a} {local.day} {local:%b} {words}"


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


def longest(intervals: Sequence[Interval]) -> float:
    """Length of the longest interval [min]; 0 when there is none.

    >>> longest([(0, 30), (60, 150)]), longest([])
    (90, 0.0)
    """
    return max((end - start for start, end in intervals), default=0.0)
