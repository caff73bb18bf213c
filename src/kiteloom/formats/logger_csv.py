"""A temperature logger's CSV: a time column and a temperature column, °C or °F."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from datetime import datetime, tzinfo

from kiteloom.core.calendar import minute_of
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import parse

_TIME_WORDS = ("time", "date", "when", "zeit", "datum")
_TEMP_WORDS = ("temp", "°c", "°f", "degc", "degf", "celsius", "fahrenheit")
_FORMS = ("%d.%m.%Y %H:%M", "%d.%m.%Y %H:%M:%S", "%Y/%m/%d %H:%M", "%Y/%m/%d %H:%M:%S")
#: Readings outside these are a broken sensor, not a shop [°C].
COLDEST_C, WARMEST_C = -50.0, 70.0


@dataclass(frozen=True)
class LoggerFile:
    """Readings in time order, as (minutes since 1970, °C); of two at one time the first stays."""

    readings: tuple[tuple[float, float], ...]
    rows: int
    repeated: int


def read_logger_csv(text: str, zone: tzinfo) -> LoggerFile:
    """The readings in a logger's file.

    Parameters
    ----------
    text : str
        Comma, semicolon or tab between columns; a header names them, or the first two are
        time and temperature. Times are ISO 8601 or day.month.year; without an offset they
        are local. A decimal comma is understood where commas don't part the columns.
    zone : tzinfo
        The shop's zone, for times without an offset.

    Raises
    ------
    Refused
        Naming the row, the value and the limit. Nothing of the file is taken then.
    """
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise Refused("file", "the file has 0 rows; at least 1 reading is wanted")
    delimiter = max(";\t,", key=lines[0].count) if any(mark in lines[0] for mark in ";\t,") else ","
    rows = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=delimiter)]
    header = rows[0] if not any(character.isdigit() for character in rows[0][0]) else None
    time_at, temp_at, unit = _columns(header)
    body = rows[1:] if header else rows
    if not body:
        raise Refused("file", "the file has a header and 0 readings; at least 1 is wanted")
    known: dict[float, float] = {}
    for number, row in enumerate(body, start=2 if header else 1):
        if len(row) <= max(time_at, temp_at):
            raise Refused(
                "file", f"row {number} has {len(row)} columns; at least {max(time_at, temp_at) + 1} are wanted"
            )
        if not row[temp_at]:
            continue
        known.setdefault(minute_of(_time(row[time_at], number, zone)), _celsius(row[temp_at], number, unit))
    if not known:
        raise Refused("file", "the file has 0 readings with a temperature; at least 1 is wanted")
    return LoggerFile(tuple(sorted(known.items())), len(body), len(body) - len(known))


def _columns(header: list[str] | None) -> tuple[int, int, str]:
    if header is None:
        return 0, 1, "°C"
    names = [name.lower() for name in header]
    time_at = next((i for i, name in enumerate(names) if any(word in name for word in _TIME_WORDS)), None)
    temp_at = next(
        (i for i, name in enumerate(names) if i != time_at and any(word in name for word in _TEMP_WORDS)), None
    )
    if time_at is None or temp_at is None:
        what = "time" if time_at is None else "temperature"
        raise Refused("file", f"no column of the header “{', '.join(header)}” is named after a {what}")
    fahrenheit = any(word in names[temp_at] for word in ("°f", "fahrenheit", "degf", "(f)", "_f"))
    return time_at, temp_at, "°F" if fahrenheit else "°C"


def _time(text: str, row: int, zone: tzinfo) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        for form in _FORMS:
            try:
                moment = datetime.strptime(text, form)  # noqa: DTZ007 - the zone follows below
                break
            except ValueError:
                continue
        else:
            raise Refused("file", f"row {row}: “{text}” isn't a time; write it like 2026-05-14 16:40") from None
    return moment if moment.tzinfo else moment.replace(tzinfo=zone)


def _celsius(text: str, row: int, unit: str) -> float:
    try:
        value = parse(text, "temperature", unit)
        return between("file", value, COLDEST_C, WARMEST_C, unit="°C", name=f"row {row}: the temperature")
    except Refused as refused:
        sentence = refused.sentence if refused.sentence.startswith("row") else f"row {row}: {refused.sentence}"
        raise Refused("file", sentence) from None
