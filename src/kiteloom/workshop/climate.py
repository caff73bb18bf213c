"""The shop's temperature as it was read and as it is expected."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo

from sqlalchemy import insert, select

from kiteloom.core.calendar import local_midnight, minute_of, moment_of, when, zone_of
from kiteloom.core.climate import Profile, day_curve, last_day_repeated, record_then_forecast
from kiteloom.core.cure import HORIZON_MIN
from kiteloom.core.problems import Refused
from kiteloom.core.quantities import Typed, show
from kiteloom.formats.logger_csv import read_logger_csv
from kiteloom.store.models import Outlook, Temperature, TemperatureImport
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.shop import the_shop, units_of

#: The one zone this shop has so far.
ZONE = "main shop"
#: An expected temperature may be off by so much, either way [K]; a recorded one by the logger's own error.
BAND_C = 2.0
_DAYS = int(HORIZON_MIN / 1440) + 15


@dataclass(frozen=True)
class ShopTemperature:
    """Temperature over all time that matters, with where it came from.

    ``recorded_from`` and ``recorded_until`` bound the logger's readings [min]; outside them
    it is expected, in the way ``words`` says.
    """

    profile: Profile
    recorded_from: float | None
    recorded_until: float | None
    words: str

    def assumed(self, start: float, end: float) -> bool:
        """Whether any of a span was not recorded."""
        if self.recorded_from is None or self.recorded_until is None:
            return True
        return start < self.recorded_from or end > self.recorded_until


def shop_temperature(uow: UnitOfWork, since: float, now: float) -> ShopTemperature | None:
    """The record, then what is expected; None when nothing was ever given.

    After the last reading comes the low and high last typed; if that is older than a day and a
    half before the last reading, the last recorded day is repeated instead.
    """
    shop = the_shop(uow)
    zone, units = zone_of(shop.zone), units_of(uow)
    floor = moment_of(since - 2 * 1440)
    query = select(Temperature.happened_at, Temperature.temp_c).where(Temperature.zone == ZONE)
    readings = uow.session.execute(query.where(Temperature.happened_at >= floor)).all()
    if not readings:
        last_at = uow.session.scalar(
            query.with_only_columns(Temperature.happened_at).order_by(Temperature.happened_at.desc()).limit(1)
        )
        if last_at is not None:
            readings = uow.session.execute(query.where(Temperature.happened_at >= last_at - timedelta(days=2))).all()
    outlooks = uow.all(Outlook, Outlook.happened_at, Outlook.recorded_at)
    record = Profile.of([(minute_of(at), celsius) for at, celsius in readings]) if readings else None
    if record is not None:
        end = float(record.minutes[-1])
        recent = [o for o in outlooks if minute_of(o.happened_at) > end - 36 * 60]
        if not recent:
            days = int(max(now - end, 0) / 1440) + _DAYS
            repeated = record_then_forecast(record, last_day_repeated(record, days))
            return _recorded(record, repeated, "the last recorded day is repeated", now, zone)
        outlooks = recent
    if not outlooks:
        return None
    expected: Profile | None = None
    for outlook, following in zip(outlooks, [*outlooks[1:], None], strict=True):
        begins = local_midnight(minute_of(outlook.happened_at), zone)
        last = now if following is None else minute_of(following.happened_at)
        days = max(int((last - begins) / 1440), 0) + (_DAYS if following is None else 2)
        curve = day_curve(outlook.low_c, outlook.high_c, begins, days)
        expected = curve if expected is None else _until(expected, minute_of(outlook.happened_at)).followed_by(curve)
    assert expected is not None
    newest = outlooks[-1]
    low, high = (show(celsius, "temperature", units) for celsius in (newest.low_c, newest.high_c))
    since_when = when(minute_of(newest.happened_at), zone, now)
    typed = f"low {low} and high {high}, typed {since_when}, for every day to come"
    if record is None:
        return ShopTemperature(expected, None, None, f"expected: {typed}")
    return _recorded(record, record_then_forecast(record, expected), typed, now, zone)


def _recorded(record: Profile, whole: Profile, after: str, now: float, zone: tzinfo) -> ShopTemperature:
    """A record with what follows it; readings later than now were not read yet and count as expected."""
    end = float(record.minutes[-1])
    words = f"recorded until {when(min(end, now), zone, now)}"
    if end > now:
        words += f"; a loaded file runs on to {when(end, zone, now)}"
    return ShopTemperature(whole, float(record.minutes[0]), min(end, now), f"{words}; after that {after}")


def _until(profile: Profile, minute: float) -> Profile:
    keep = profile.minutes < minute
    return (
        Profile(profile.minutes[keep], profile.celsius[keep])
        if keep.any()
        else Profile.of([(minute - 1, profile.at(minute))])
    )


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
