"""The shop's temperature as it was read and as it is expected."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo

from sqlalchemy import insert, select

from kiteloom.core.calendar import local_midnight, minute_of, moment_of, when, zone_of
from kiteloom.core.climate import DayOutlook, Known, Profile, day_curve, what_is_known
from kiteloom.core.cure import HORIZON_MIN
from kiteloom.core.problems import Refused
from kiteloom.core.quantities import Typed, UnitSystem, show
from kiteloom.formats.logger_csv import read_logger_csv
from kiteloom.store.models import Outlook, Temperature, TemperatureImport
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.shop import the_shop, units_of

#: The one zone this shop has so far.
ZONE = "main shop"
#: An expected temperature may be off by so much, either way [K]; a recorded one by the logger's own error.
BAND_C = 2.0
#: How long the last outlook is repeated: a start two months ahead, and the longest cure after it.
_DAYS = 2 * int(HORIZON_MIN / 1440) + 15


@dataclass(frozen=True)
class ShopTemperature:
    """Temperature over all time that matters, and where it came from, in words."""

    known: Known
    words: str

    @property
    def profile(self) -> Profile:
        """The temperature itself."""
        return self.known.profile


def shop_temperature(uow: UnitOfWork, since: float, now: float) -> ShopTemperature | None:
    """The shop's temperature from two days before ``since`` on; None when nothing was ever given."""
    zone = zone_of(the_shop(uow).zone)
    query = select(Temperature.happened_at, Temperature.temp_c).where(Temperature.zone == ZONE)
    readings = uow.session.execute(query.where(Temperature.happened_at >= moment_of(since - 2 * 1440))).all()
    if not readings:
        last_at = uow.session.scalar(
            query.with_only_columns(Temperature.happened_at).order_by(Temperature.happened_at.desc()).limit(1)
        )
        if last_at is not None:
            readings = uow.session.execute(query.where(Temperature.happened_at >= last_at - timedelta(days=2))).all()
    record = Profile.of([(minute_of(at), celsius) for at, celsius in readings]) if readings else None
    outlooks = [
        DayOutlook(minute_of(row.happened_at), local_midnight(minute_of(row.happened_at), zone), row.low_c, row.high_c)
        for row in uow.all(Outlook, Outlook.happened_at, Outlook.recorded_at)
    ]
    known = what_is_known(record, outlooks, now, _DAYS)
    return None if known is None else ShopTemperature(known, _words(known, now, zone, units_of(uow)))


def _words(known: Known, now: float, zone: tzinfo, units: UnitSystem) -> str:
    expected = "the last recorded day is repeated"
    if known.outlook is not None:
        low, high = (show(celsius, "temperature", units) for celsius in (known.outlook.low_c, known.outlook.high_c))
        expected = f"low {low} and high {high}, typed {when(known.outlook.said_at, zone, now)}, for every day to come"
    if known.recorded_until is None or known.loaded_until is None:
        return f"expected: {expected}"
    words = f"recorded until {when(known.recorded_until, zone, now)}"
    if known.loaded_until > known.recorded_until:
        words += f"; a loaded file runs on to {when(known.loaded_until, zone, now)}"
    return f"{words}; after that {expected}"


@dataclass(frozen=True)
class Imported:
    """What a logger's file brought, in figures and in words."""

    id: str
    rows_read: int
    rows_new: int
    words: str


def import_logger(uow: UnitOfWork, key: str, name: str, text: str, now: datetime) -> Imported:
    """Take in a logger's file: all of it or nothing. Readings already known stay as they are."""
    shop = the_shop(uow)
    zone = zone_of(shop.zone)
    known = uow.session.get(TemperatureImport, key)
    if known is not None:
        return Imported(key, known.rows_read, known.rows_new, "This file was taken in before; nothing was added.")
    file = read_logger_csv(text, zone)
    first, last = file.readings[0][0], file.readings[-1][0]
    taken = TemperatureImport(
        id=key, zone=ZONE, name=name, rows_read=file.rows, rows_new=0, happened_at=now, recorded_at=now
    )
    span = select(Temperature.happened_at).where(
        Temperature.zone == ZONE, Temperature.happened_at.between(moment_of(first), moment_of(last))
    )
    have = {minute_of(at) for at in uow.session.scalars(span)}
    rows = [
        {"zone": ZONE, "happened_at": moment_of(minute), "temp_c": celsius, "import_id": key}
        for minute, celsius in file.readings
        if round(minute * 60) / 60 not in have
    ]
    taken.rows_new = len(rows)
    uow.add(taken)
    if rows:
        uow.session.execute(insert(Temperature), rows)
        uow.changed("climate", key)
    coldest = show(min(celsius for _, celsius in file.readings), "temperature", units_of(uow))
    span_words = f"{when(first, zone)} to {when(last, zone)}"
    words = f"{len(rows)} new readings of {file.rows} rows, {span_words}, coldest {coldest}."
    if not rows:
        words = f"All {file.rows} rows were known already; nothing was added."
    elif last > minute_of(now):
        words += " It runs past the shop's clock: those hours count as expected, not recorded."
    elif last < minute_of(now) - 36 * 60:
        words += " It ends more than a day ago: what comes after its last reading is expected, not recorded."
    return Imported(key, file.rows, len(rows), words)


def say_outlook(uow: UnitOfWork, key: str, low: Typed, high: Typed, now: datetime) -> None:
    """Keep tonight's low and tomorrow's high."""
    if uow.session.get(Outlook, key) is not None:
        return
    low_c, high_c = low.read("temperature", "low"), high.read("temperature", "high")
    day_curve(low_c, high_c, 0, 1)
    uow.add(Outlook(id=key, zone=ZONE, low_c=low_c, high_c=high_c, happened_at=now, recorded_at=now))
    uow.changed("climate", key)


def temperature_now(uow: UnitOfWork, now: datetime) -> float | None:
    """The shop's temperature at this moment, recorded or expected [°C]."""
    known = shop_temperature(uow, minute_of(now), minute_of(now))
    return None if known is None else known.profile.at(minute_of(now))


def need_temperature() -> Refused:
    """The refusal of a time that has no temperature to stand on."""
    return Refused(
        "temperature", "no temperature was ever given; type tonight's low and tomorrow's high, or load a logger's file"
    )
