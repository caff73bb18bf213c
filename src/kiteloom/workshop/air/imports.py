"""A logger's file: looked at before it is taken, then taken whole or not at all."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

import numpy as np

from kiteloom.core.base.calendar import moment_of, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.formats.local_times import Clock, Order, utc_texts
from kiteloom.formats.logger_csv import Layout, LoggerFile, look_at, read_logger_csv
from kiteloom.store.models import TemperatureImport, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.beside import beside_record, give_way
from kiteloom.workshop.air.climate import MAIN
from kiteloom.workshop.air.readings import STANDS
from kiteloom.workshop.air.staging import TALLY
from kiteloom.workshop.base.saying import Degrees
from kiteloom.workshop.base.shop import the_shop, units_of, zone_at, zone_here

CHUNK = 20_000


@dataclass(frozen=True)
class Column:
    """A column of a file, with some of its cells."""

    index: int
    name: str
    samples: list[str]


@dataclass(frozen=True)
class Understood:
    """A row as it was understood."""

    at: datetime
    words: str
    c: float
    rh_pct: float | None


@dataclass(frozen=True)
class Choices:
    """How a file is to be read; what is None is guessed."""

    time: int | None = None
    temp: int | None = None
    humidity: int | None = None
    unit: Literal["°C", "°F"] | None = None
    order: Order | None = None
    clock: Clock | None = None


@dataclass(frozen=True)
class TakeFile:
    """A logger's file: its text when it is new, how to read it, and whether to leave out what can't be read.

    ``both`` says what counts where the zone has readings already: they stay and the file fills only what they
    leave open, or the file replaces them.
    """

    id: str
    name: str
    zone: str = MAIN
    text: str | None = None
    choices: Choices = Choices()
    without_bad: bool = False
    both: Literal["keep", "replace"] = "keep"


@dataclass(frozen=True)
class Preview:
    """What a file holds and what taking it would add.

    ``differs`` says by how much it is off what is recorded in the same hours; ``""`` where it agrees.
    """

    id: str
    name: str
    zone: str
    columns: list[Column]
    time: int
    temp: int
    humidity: int | None
    unit: Literal["°C", "°F"]
    order: Order
    clock: Clock
    rows: int
    new: int
    unread: int
    differs: str
    sentence: str
    notes: list[str]
    bad: list[str]
    first: list[Understood]
    last: list[Understood]
    ribbon: list[Degrees]


@dataclass(frozen=True)
class Imported:
    """What a file brought, in figures and in words."""

    id: str
    rows_read: int
    rows_new: int
    words: str


def preview(uow: UnitOfWork, order: TakeFile, content: str, now: float) -> Preview:
    """Look at a file: how it was understood, and what taking it would add. Nothing is kept of it."""
    key, zone_id = order.id, order.zone
    zone_row, zone = uow.get(Zone, zone_id), zone_here(uow)
    sheet = look_at(content)
    layout = _chosen(sheet.layout, order.choices, len(sheet.columns))
    try:
        file = read_logger_csv(content, zone, layout, lambda share: TALLY.tell(key, share, "Reading the file"))
    finally:
        TALLY.over(key)
    units = units_of(uow)
    beside = beside_record(uow, zone_id, file)
    known = 0 if order.both == "replace" else int(beside.between.sum())
    new = len(file.minutes) - known
    coldest, warmest = (show(float(c), "temperature", units) for c in (file.celsius.min(), file.celsius.max()))
    first, last = float(file.minutes[0]), float(file.minutes[-1])
    span = f"{when(first, zone)} to {when(last, zone)}"
    count_words = f"{new:,}".replace(",", " ")
    sentence = f"{count_words} new readings for the {zone_row.name.lower()}, {span}, {coldest} to {warmest}."
    if new == 0:
        sentence = f"The zone has readings for all of its {len(file.minutes)}; taking the file would add nothing."
    if order.both == "replace" and beside.there:
        sentence = f"{sentence[:-1]}; {beside.there} readings that are recorded give way."

    def row(i: int) -> Understood:
        minute, rh = float(file.minutes[i]), float(file.rh_pct[i])
        return Understood(
            moment_of(minute, zone), when(minute, zone), float(file.celsius[i]), None if math.isnan(rh) else rh
        )

    count = len(file.minutes)
    every = max(count // 500, 1)
    return Preview(
        key,
        order.name,
        zone_id,
        [Column(i, label, list(sheet.samples[i])) for i, label in enumerate(sheet.columns)],
        layout.time,
        layout.temp,
        layout.humidity,
        layout.unit,
        layout.order,
        layout.clock,
        file.rows,
        new,
        file.unread,
        beside.differs(units),
        sentence,
        [
            *_either_way(sheet.samples[layout.time], layout.order),
            *_notes(file, known, now, lambda minute: when(minute, zone)),
        ],
        list(file.bad),
        [row(i) for i in range(min(4, count))],
        [row(i) for i in range(max(count - 2, 4), count)],
        [
            Degrees(moment_of(float(m), zone), float(c))
            for m, c in zip(file.minutes[::every], file.celsius[::every], strict=True)
        ],
    )


def _chosen(guess: Layout, choices: Choices, columns: int) -> Layout:
    for field in ("time", "temp", "humidity"):
        value = getattr(choices, field)
        least = -1 if field == "humidity" else 0
        if value is not None and not least <= value < columns:
            raise Refused(field, f"column {value + 1} is not there; the file has {columns}")
    given = {
        field: value
        for field in ("time", "temp", "humidity", "unit", "order", "clock")
        if (value := getattr(choices, field)) is not None
    }
    if given.get("humidity", 0) < 0:
        given["humidity"] = None
    layout = replace(guess, **given)
    if layout.time != guess.time:
        layout = replace(layout, second=None)
    if layout.temp == layout.time:
        raise Refused("temp", f"column {layout.temp + 1} is the time already; choose another for the temperature")
    return layout


_DATE = re.compile(r"(\d{1,2})[/.-](\d{1,2})[/.-]\d{2,4}")


def _either_way(cells: Sequence[str], order: Order) -> list[str]:
    """That a file's dates could be read with the day or with the month first."""
    found = [match for cell in cells if (match := _DATE.match(cell.strip()))]
    if order == "year first" or not found or any(max(int(m[1]), int(m[2])) > 12 for m in found):
        return []
    if all(m[1] == m[2] for m in found):
        return []
    other = "the month" if order == "day first" else "the day"
    return [f"“{found[0][0]}” is read with {order.removesuffix(' first')} first; if {other} comes first, say so below."]


def _notes(file: LoggerFile, known: int, now: float, say: Callable[[float], str]) -> list[str]:
    notes = []
    if known and known < len(file.minutes):
        lie = "reading lies" if known == 1 else "readings lie"
        notes.append(f"{known} {lie} between recorded ones, which stay as they are.")
    if file.repeated:
        repeat = "row repeats" if file.repeated == 1 else "rows repeat"
        notes.append(f"{file.repeated} {repeat} a time; the first of each stays.")
    if file.empty:
        have = "row has no temperature and is" if file.empty == 1 else "rows have no temperature and are"
        notes.append(f"{file.empty} {have} left out.")
    gaps = file.gaps
    if gaps:
        longest = max(gaps, key=lambda gap: gap[1] - gap[0])
        hours = (longest[1] - longest[0]) / 60
        what = "1 gap" if len(gaps) == 1 else f"{len(gaps)} gaps"
        notes.append(f"{what}, the longest {hours:.1f} h from {say(longest[0])}; a gap is drawn straight.")
    if file.changed_clock:
        notes.append("The clocks change within the file; the order of its rows says which hour is which.")
    notes += [f"The logger's clock went back: {words}." for words in file.went_back]
    if file.minutes[-1] > now:
        notes.append("It runs past the shop's clock: those hours count as expected, not recorded.")
    elif file.minutes[-1] < now - 36 * 60:
        notes.append("It ends more than a day ago: what comes after its last reading is expected, not recorded.")
    return notes


def take(uow: UnitOfWork, order: TakeFile, content: str, now: datetime) -> Imported:
    """Take in a logger's file: all that can be read of it, or nothing. Readings already known stay as they are.

    Raises
    ------
    Refused
        When rows can't be read and nobody said to leave them out; `Stopped` when it was stopped.
    """
    key, zone_id = order.id, order.zone
    shop, zone_row = the_shop(uow), uow.get(Zone, zone_id)
    zone, units = zone_at(shop), units_of(uow)
    before = uow.session.get(TemperatureImport, key)
    if before is not None:
        return Imported(key, before.rows_read, before.rows_new, "This file was taken in before; nothing was added.")
    try:
        TALLY.tell(key, 0.0, "Reading the file")
        sheet = look_at(content)
        layout = _chosen(sheet.layout, order.choices, len(sheet.columns))
        file = read_logger_csv(content, zone, layout, lambda s: TALLY.tell(key, 0.5 * s, "Reading the file"))
        if file.unread and not order.without_bad:
            more = f" (and {file.unread - 1} more)" if file.unread > 1 else ""
            raise Refused("file", f"{file.bad[0]}{more}; mend the file, or take it without what can't be read")
        new = _insert(uow, key, zone_id, file, replace=order.both == "replace")
    finally:
        TALLY.over(key)
    uow.add(
        TemperatureImport(
            id=key, zone=zone_id, name=order.name, rows_read=file.rows, rows_new=new, happened_at=now, recorded_at=now
        )
    )
    if new:
        uow.changed("climate", key)
    coldest = show(float(file.celsius.min()), "temperature", units)
    span = f"{when(float(file.minutes[0]), zone)} to {when(float(file.minutes[-1]), zone)}"
    words = f"{new} new readings of {file.rows} rows for the {zone_row.name.lower()}, {span}, coldest {coldest}."
    if not new:
        words = f"The zone has readings for all {file.rows} rows; nothing was added."
    notes = [
        note
        for note in _notes(file, 0, now.timestamp() / 60, lambda minute: when(minute, zone))
        if note.startswith("It ")
    ]
    return Imported(key, file.rows, new, " ".join([words, *notes]) if new else words)


def _insert(uow: UnitOfWork, key: str, zone_id: str, file: LoggerFile, *, replace: bool) -> int:
    """Add what the zone does not have yet, or all of it in place of what it has; how many that was."""
    wanted = np.ones(len(file.minutes), dtype=bool) if replace else ~beside_record(uow, zone_id, file).between
    connection = uow.session.connection()
    if replace:
        span = {"zone": zone_id, "key": key, "first": file.minutes[0] * 60, "last": file.minutes[-1] * 60}
        give_way(uow, span)
    # The import's own row comes last, because only then is it known what it added.
    connection.exec_driver_sql("PRAGMA defer_foreign_keys = ON")
    raw = connection.connection.cursor()
    have = raw.execute("SELECT total_changes()").fetchone()[0]
    minutes, celsius, humid = file.minutes[wanted], file.celsius[wanted], file.rh_pct[wanted]
    count = len(minutes)
    for start in range(0, count, CHUNK):
        TALLY.tell(key, 0.5 + 0.5 * start / count, "Keeping its readings")
        part = slice(start, start + CHUNK)
        damp = [None if math.isnan(rh) else rh for rh in humid[part].tolist()]
        rows = zip(utc_texts(minutes[part]), celsius[part].tolist(), damp, strict=True)
        raw.executemany(
            "INSERT INTO temperature (zone, happened_at, temp_c, rh_pct, source, import_id) "
            "VALUES (?, ?, ?, ?, 'imported', ?) ON CONFLICT DO UPDATE SET temp_c = excluded.temp_c, "
            "rh_pct = excluded.rh_pct, source = excluded.source, import_id = excluded.import_id "
            f"WHERE NOT {STANDS}",
            [(zone_id, at, degrees, rh, key) for at, degrees, rh in rows],
        )
    added: int = raw.execute("SELECT total_changes()").fetchone()[0] - have
    return added
