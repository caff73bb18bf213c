"""Times as loggers write them, of a clock that may not be the shop's: local times to minutes since 1970."""

from __future__ import annotations

import re
from datetime import datetime, timedelta, tzinfo
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import Refused

Order = Literal["year first", "day first", "month first"]
Clock = Literal["shop", "winter", "utc"]

_NUMERIC = re.compile(
    r"(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})[ T,]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*([AaPp])?\.?[Mm]?\.?$"
)
_EPOCH = datetime(1970, 1, 1)  # noqa: DTZ001 - local times are counted before their offset is known
_EPOCH_DAY = _EPOCH.toordinal()


def moment_in(cell: str, order: Order) -> datetime | None:
    """The time a cell holds, its figures in an order; None where it holds none."""
    match = _NUMERIC.match(cell)
    if match is None:
        try:
            return datetime.fromisoformat(cell) if len(cell) > 10 else None
        except ValueError:
            return None
    first, second, third, hour, minute, sec, half = match.groups()
    a, b, c, h = int(first), int(second), int(third), int(hour)
    if half:
        h = h % 12 + (12 if half in "pP" else 0)
    if len(first) == 4:
        year, month, day = a, b, c
    else:
        year = c if c > 99 else 2000 + c
        day, month = (a, b) if order != "month first" else (b, a)
    try:
        return datetime(year, month, day, h, int(minute), int(sec or 0))  # noqa: DTZ001 - its zone follows
    except ValueError:
        return None


class LocalTimes:
    """Local times → minutes since 1970; an hour's offset is looked up once."""

    def __init__(self, zone: tzinfo, clock: Clock) -> None:
        self._zone, self._clock = zone, clock
        self._hours: dict[int, tuple[float, float]] = {}
        self._seen: set[float] = set()

    @property
    def changed(self) -> bool:
        """Whether the clocks changed within what was read."""
        return len(self._seen) > 1

    def minute(self, stamp: str, order: Order, last: float) -> float:
        """Of a time in an order of its figures, after the one read before [min]; `Refused` where it is none."""
        moment = moment_in(stamp, order)
        if moment is None:
            raise Refused("file", f"“{stamp[:40]}” isn't a time; write it like 2026-05-14 16:40")
        if not 1970 < moment.year < 2200:
            raise Refused("file", f"“{stamp[:40]}” lies in the year {moment.year}; it must be after 1970")
        if moment.tzinfo is not None:
            return moment.timestamp() / 60
        hour = (moment.toordinal() - _EPOCH_DAY) * 24 + moment.hour
        if hour not in self._hours:
            self._hours[hour] = self._offsets(moment)
        first, second = self._hours[hour]
        wall = hour * 60 + moment.minute + moment.second / 60
        at = wall - first
        if first != second and at <= last:
            at, first = wall - second, second
        self._seen.add(first)
        return at

    def _offsets(self, moment: datetime) -> tuple[float, float]:
        """Minutes ahead of UTC, the first and the second time this hour comes."""
        if self._clock == "utc":
            return 0.0, 0.0
        if self._clock == "winter":
            january = moment.replace(month=1, day=10, tzinfo=self._zone).utcoffset()
            july = moment.replace(month=7, day=10, tzinfo=self._zone).utcoffset()
            least = min(january or timedelta(), july or timedelta()).total_seconds() / 60
            return least, least
        whole = moment.replace(minute=30, second=0, microsecond=0)
        both = [
            (whole.replace(tzinfo=self._zone, fold=fold).utcoffset() or timedelta()).total_seconds() / 60
            for fold in (0, 1)
        ]
        if both[0] < both[1]:  # an hour that is jumped over: it is read as if the clock had not been set yet
            both[1] = both[0]
        return both[0], both[1]


def utc_texts(minutes: NDArray[np.float64]) -> list[str]:
    """Times as the store keeps them: ``"2026-05-14 07:20:00.000000"``."""
    moments = np.round(minutes * 60).astype("int64").astype("datetime64[s]").astype("datetime64[us]")
    return [text.replace("T", " ") for text in np.datetime_as_string(moments).tolist()]
