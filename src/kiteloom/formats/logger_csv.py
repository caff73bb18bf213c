"""A temperature logger's CSV: its columns in any order, °C or °F, the usual forms of dates."""

from __future__ import annotations

import csv
import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import tzinfo
from itertools import islice, pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import parse
from kiteloom.formats.local_times import Clock, LocalTimes, Order, moment_in

Floats = NDArray[np.float64]

#: Readings outside these are a broken sensor, not a shop [°C].
COLDEST_C, WARMEST_C = -50.0, 70.0
#: How often the reading of a long file says how far it is [rows].
TELL_EVERY = 20_000
_LOOK_AT = 400
_NAMES = {
    "time": ("time", "date", "when", "zeit", "datum", "stamp"),
    "temp": ("temp", "°c", "°f", "degc", "degf", "celsius", "fahrenheit"),
    "humidity": ("humid", "%rh", "rh", "feuchte"),
}


@dataclass(frozen=True)
class Layout:
    """Which column is what, and how its times and temperatures are meant.

    ``clock`` says what a time without an offset is: the shop's own, the shop's winter time
    all year round, or UTC. ``second`` is the column of the time of day, where date and time
    stand apart.
    """

    time: int
    temp: int
    humidity: int | None = None
    second: int | None = None
    unit: Literal["°C", "°F"] = "°C"
    order: Order = "day first"
    clock: Clock = "shop"


@dataclass(frozen=True)
class LoggerFile:
    """What a file holds, in the order of time; of two readings at one time the first stays.

    ``minutes`` since 1970, ``celsius``, and ``rh_pct`` (nan where there is none) have one length.
    ``bad`` are the first rows that can't be read, in sentences.
    """

    minutes: Floats
    celsius: Floats
    rh_pct: Floats
    rows: int
    empty: int
    repeated: int
    unread: int
    bad: tuple[str, ...]
    went_back: tuple[str, ...]
    changed_clock: bool

    @property
    def gaps(self) -> list[tuple[float, float]]:
        """Stretches without a reading much longer than the usual interval [min]."""
        if len(self.minutes) < 3:
            return []
        apart = np.diff(self.minutes)
        usual = float(np.quantile(apart, 0.25, method="lower"))
        limit = max(3 * usual, 60.0)
        return [(float(self.minutes[i]), float(self.minutes[i + 1])) for i in np.nonzero(apart > limit)[0]]


@dataclass(frozen=True)
class Sheet:
    """A file's rows before they are understood: names of columns, some cells of each, a guessed layout."""

    delimiter: str
    header: int
    columns: tuple[str, ...]
    samples: tuple[tuple[str, ...], ...]
    layout: Layout


def _table(lines: Iterable[str], delimiter: str) -> Iterator[list[str]]:
    """The rows of a table; `Refused` where it is none."""
    try:
        yield from csv.reader(lines, delimiter=delimiter)
    except csv.Error as wrong:
        raise Refused("file", f"the file isn't a table that can be read: {str(wrong)[:80]}") from None


def look_at(text: str) -> Sheet:
    """Guess a file's layout from its first rows.

    Raises
    ------
    Refused
        When there is nothing, a header only, or no column for times or temperatures.
    """
    text = text.lstrip("\ufeff")
    head = [line for line in islice(_lines(text), _LOOK_AT + 30) if line.strip()]
    if not head:
        raise Refused("file", "the file has 0 rows; at least 1 reading is wanted")
    delimiter = max(";\t,", key=lambda mark: sum(line.count(mark) for line in head[:40]))
    rows = [[cell.strip() for cell in row] for row in _table(head, delimiter)]
    first = next((i for i, row in enumerate(rows) if _looks_read(row, delimiter)), None)
    if first is None:
        if len(rows) == 1:
            raise Refused("file", "the file has a header and 0 readings; at least 1 is wanted")
        shown = ", ".join(rows[min(1, len(rows) - 1)])[:60]
        raise Refused("file", f"no row has a time and a number beside it; row 2 reads “{shown}”")
    width = len(rows[first])
    header = next((rows[i] for i in range(first - 1, -1, -1) if len(rows[i]) >= width), None) if first else None
    names = tuple(header[:width]) if header else tuple(f"column {i + 1}" for i in range(width))
    body = rows[first : first + _LOOK_AT]
    layout = _guess(names if header else None, body, delimiter)
    samples = tuple(tuple(row[i] if i < len(row) else "" for row in body[:3]) for i in range(width))
    return Sheet(delimiter, first, names, samples, layout)


def _lines(text: str) -> list[str]:
    return text.splitlines() if len(text) < 4_000_000 else text[:4_000_000].splitlines()


def _looks_read(row: list[str], delimiter: str) -> bool:
    times = any(_is_time(cell) or _is_time(" ".join(row[i : i + 2])) for i, cell in enumerate(row))
    return times and sum(_number(cell, delimiter) is not None for cell in row) >= 1


def _is_time(cell: str) -> bool:
    return moment_in(cell, "day first") is not None or moment_in(cell, "month first") is not None


def _number(cell: str, delimiter: str) -> float | None:
    try:
        return float(cell if delimiter == "," else cell.replace(",", "."))
    except ValueError:
        try:
            return parse(cell, "temperature", "°C")
        except Refused:
            return None


def _guess(header: tuple[str, ...] | None, body: list[list[str]], delimiter: str) -> Layout:
    names = [name.lower().replace("\ufffd", "°") for name in header] if header else []

    def named(what: str, besides: set[int]) -> int | None:
        return next((i for i, n in enumerate(names) if i not in besides and any(w in n for w in _NAMES[what])), None)

    sample = body[0]
    time = next((i for i, cell in enumerate(sample) if _is_time(cell)), None)
    second = None
    if time is None:
        time = next((i for i in range(len(sample) - 1) if _is_time(" ".join(sample[i : i + 2]))), 0)
        second = time + 1
    taken = {time} | ({second} if second is not None else set())
    temp = named("temp", taken)
    if temp is None and header is not None and not any(_number(n, delimiter) is not None for n in header):
        humid = named("humidity", taken)
        numbers = [
            i for i in range(len(sample)) if i not in taken and i != humid and _number(sample[i], delimiter) is not None
        ]
        readings = [i for i in numbers if not _counts_rows(body, i, delimiter)]
        if not readings:
            raise Refused("file", f"no column of the header “{', '.join(header)}” is named after a temperature")
        temp = readings[0]
    if temp is None:
        temp = next(i for i in range(len(sample)) if i not in taken and _number(sample[i], delimiter) is not None)
    humidity = named("humidity", {*taken, temp})
    label = names[temp] if names else ""
    unit: Literal["°C", "°F"] = (
        "°F" if any(w in label for w in ("°f", "fahrenheit", "degf", "(f)", "_f", "[f]")) else "°C"
    )
    cells = [row[time] for row in body if len(row) > time]
    return Layout(time, temp, humidity, second, unit, _guess_order(cells, unit))


def _counts_rows(body: list[list[str]], column: int, delimiter: str) -> bool:
    """Whether a column only numbers the rows."""
    values = [_number(row[column], delimiter) for row in body if len(row) > column]
    steps = {b - a for a, b in pairwise(v for v in values if v is not None)}
    return len(values) > 2 and steps == {1.0}


def _guess_order(cells: list[str], unit: str) -> Order:
    parts = [match.groups() for cell in cells if (match := re.match(r"(\d{1,4})([./-])(\d{1,2})[./-]", cell))]
    if any(len(first) == 4 for first, _, _ in parts):
        return "year first"
    if any(int(first) > 12 for first, _, _ in parts):
        return "day first"
    if any(int(second) > 12 for _, _, second in parts):
        return "month first"
    slashes = any(mark == "/" for _, mark, _ in parts)
    return "month first" if slashes and unit == "°F" else "day first"


def read_logger_csv(
    text: str,
    zone: tzinfo,
    layout: Layout | None = None,
    tell: Callable[[float], None] = lambda _: None,
) -> LoggerFile:
    """The readings in a logger's file.

    Parameters
    ----------
    text : str
        Comma, semicolon or tab between columns; a decimal comma is understood where commas
        don't part the columns. Lines above the first reading are its header.
    zone : tzinfo
        The shop's zone, for times without an offset.
    layout : Layout or None
        Which column is what; guessed when None.
    tell : callable
        Is told how far the reading is, 0 to 1; may raise to stop it.

    Notes
    -----
    On the night the clocks go back an hour comes twice; the order of the rows says which is
    which.

    Raises
    ------
    Refused
        When nothing of it can be read.
    """
    sheet = look_at(text)
    used = layout or sheet.layout
    lines = text.lstrip("\ufeff").splitlines()
    total = max(len(lines), 1)
    local = LocalTimes(zone, used.clock)
    minutes: list[float] = []
    temps: list[float] = []
    damp: list[float] = []
    bad: list[str] = []
    back: list[str] = []
    empty = unread = rows = 0
    last = -np.inf
    comma = sheet.delimiter != ","
    fahrenheit = used.unit == "°F"
    widest = max(used.time, used.temp, used.second or 0)
    skipped = 0
    for number, row in enumerate(_table(lines, sheet.delimiter), start=1):
        if number % TELL_EVERY == 0:
            tell(number / total)
        if not row or (len(row) == 1 and not row[0].strip()):
            continue
        if skipped < sheet.header:
            skipped += 1
            continue
        rows += 1
        if len(row) <= widest:
            unread += 1
            if len(bad) < 5:
                bad.append(f"row {number} has {len(row)} columns; at least {widest + 1} are wanted")
            continue
        cell = row[used.temp].strip()
        if not cell:
            empty += 1
            continue
        stamp = row[used.time].strip()
        if used.second is not None:
            stamp = f"{stamp} {row[used.second].strip()}"
        try:
            at = local.minute(stamp, used.order, last)
            value = _celsius(cell, comma=comma, fahrenheit=fahrenheit)
        except Refused as refused:
            unread += 1
            if len(bad) < 5:
                bad.append(f"row {number}: {refused.sentence}")
            continue
        if at < last - 0.5 and len(back) < 5:
            back.append(f"row {number} lies {(last - at) / 60:.1f} h before the row above it")
        last = at
        minutes.append(at)
        temps.append(value)
        damp.append(
            _percent(row[used.humidity], comma=comma)
            if used.humidity is not None and used.humidity < len(row)
            else np.nan
        )
    if not minutes:
        why = f": {bad[0]}" if bad else ""
        raise Refused("file", f"none of the file's {rows} rows can be read{why}")
    tell(1.0)
    # Whole seconds, the first of two at one time.
    keys = np.round(np.array(minutes) * 60)
    _, first = np.unique(keys, return_index=True)
    return LoggerFile(
        keys[first] / 60,
        np.array(temps)[first],
        np.array(damp)[first],
        rows,
        empty,
        len(minutes) - len(first),
        unread,
        tuple(bad),
        tuple(back),
        local.changed,
    )


def _celsius(cell: str, *, comma: bool, fahrenheit: bool) -> float:
    try:
        value = float(cell.replace(",", ".") if comma else cell)
        celsius = (value - 32) / 1.8 if fahrenheit else value
    except ValueError:
        celsius = parse(cell, "temperature", "°F" if fahrenheit else "°C")
    if COLDEST_C <= celsius <= WARMEST_C:
        return celsius
    return between("file", celsius, COLDEST_C, WARMEST_C, unit="°C", name="the temperature")


def _percent(cell: str, *, comma: bool) -> float:
    """A humidity; one that makes no sense is left out, its temperature stays."""
    try:
        value = float(cell.strip().rstrip("%").replace(",", ".") if comma else cell.strip().rstrip("%"))
    except ValueError:
        return np.nan
    return value if 0 < value <= 100 else np.nan
