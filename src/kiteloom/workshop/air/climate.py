"""The air of the shop's zones: as a probe or a logger read it, and as it is expected."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, tzinfo
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from sqlalchemy import select

from kiteloom.core.air.building import Day, ZoneModel, outside_curve, with_mean_days, with_typed
from kiteloom.core.air.moisture import equilibrium_pct, humidity
from kiteloom.core.air.profile import (
    COLDEST_H,
    DAY_MIN,
    KEPT,
    DayOutlook,
    Known,
    Profile,
    day_curve,
    record_then_forecast,
    what_is_known,
)
from kiteloom.core.base.calendar import (
    Interval,
    Shift,
    WorkingHours,
    local_midnight,
    minute_of,
    when,
)
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, UnitSystem, show
from kiteloom.core.cure.progress import HORIZON_MIN
from kiteloom.core.plan.input import Damp
from kiteloom.store.models import Forecast, Outlook, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.readings import SETTLE_MIN, recorded
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.base.taken_back import taken_back

#: The zone every shop has, where parts are built.
MAIN = "main shop"


#: An expected temperature may be off by so much, either way [K]; a recorded one by the logger's own error.
BAND_C = 2.0


#: How long what is expected is carried on: a start two months ahead, and the longest cure after it.
_DAYS = 2 * int(HORIZON_MIN / 1440) + 15


#: Wood follows the air of so long a time (common practice for thin pieces) [min].
WOOD_MIN = 3 * DAY_MIN


@dataclass(frozen=True, eq=False)
class ShopTemperature:
    """A zone's temperature and dew point over all time that matters, and where they came from, in words."""

    known: Known
    dew: Profile | None
    words: str

    @property
    def profile(self) -> Profile:
        """The temperature itself."""
        return self.known.profile

    def humidity(self, minute: float) -> float | None:
        """Relative humidity [%], where a dew point is known."""
        if self.dew is None:
            return None
        return humidity(self.profile.at(minute), min(self.dew.at(minute), self.profile.at(minute)))

    def wood_pct(self, now: float) -> float | None:
        """The moisture wood comes to here, by the air of the last days, where a dew point is known [%]."""
        if self.dew is None:
            return None
        hours = np.arange(now - WOOD_MIN, now + 1, 60.0)
        warm = np.interp(hours, self.profile.minutes, self.profile.celsius)
        damp = humidity(warm, np.minimum(np.interp(hours, self.dew.minutes, self.dew.celsius), warm))
        return equilibrium_pct(float(warm.mean()), float(np.mean(damp)))

    @property
    def humid(self) -> Profile | None:
        """Relative humidity as far as a dew point is known [%]; None where none is."""
        known = None if self.dew is None else _damp(self.profile, self.dew)
        return None if known is None else known.humidity

    def mean_rh(self, start: float, end: float) -> float | None:
        """Mean humidity over a span, as far as it is known [%]; None where nothing of it is."""
        if self.humid is None:
            return None
        first, last = max(start, float(self.humid.minutes[0])), min(end, float(self.humid.minutes[-1]))
        return self.humid.mean(first, last) if first < last else None

    def margin(self, minute: float) -> float | None:
        """How far air, and a part as warm as it, is above its dew point [K]."""
        return None if self.dew is None else max(self.profile.at(minute) - self.dew.at(minute), 0.0)


#: How much warmer heaters make their zones until a time, by the zones' names: kelvin times days [K·d].
Heating = Callable[[float], dict[str, float]]


def heating(uow: UnitOfWork, now: float) -> Heating:
    """What heaters do from now on, against the same zones without them."""
    rows = [zone for zone in zones(uow) if zone.heat_c is not None]
    pairs = {
        zone.name: (shop_temperature(uow, now, now, zone.id), shop_temperature(uow, now, now, zone.id, heated=False))
        for zone in rows
    }

    def until(end: float) -> dict[str, float]:
        return {
            name: max(air.profile.mean(now, end) - bare.profile.mean(now, end), 0.0) * (end - now) / DAY_MIN
            for name, (air, bare) in pairs.items()
            if air is not None and bare is not None and end > now
        }

    return until


def damp_of(air: ShopTemperature, now: float) -> Damp | None:
    """Humidity and dew margin, as far ahead as a dew point is known; None where it is not."""
    if air.dew is None or air.dew.minutes[-1] <= now:
        return None
    return _damp(air.profile, air.dew)


@lru_cache(maxsize=KEPT)
def _damp(profile: Profile, dew: Profile) -> Damp | None:
    """Humidity and dew margin of an air as far as a dew point is known; None where it is nowhere."""
    known, first, last = profile.minutes, dew.minutes[0], dew.minutes[-1]
    minutes = known[(known >= first) & (known <= last)]
    if not len(minutes):
        return None
    warm = np.interp(minutes, known, profile.celsius)
    damp = np.minimum(np.interp(minutes, dew.minutes, dew.celsius), warm)
    return Damp(Profile(minutes, np.asarray(humidity(warm, damp))), Profile(minutes, warm - damp))


def zones(uow: UnitOfWork) -> list[Zone]:
    """The shop's zones, the main one first."""
    return uow.once("zones", lambda: uow.all(Zone, Zone.rank))


def model_of(zone: Zone) -> ZoneModel:
    """How a zone follows the weather."""
    return ZoneModel(zone.lag_h, zone.gain_k, zone.heat_c)


def heating_of(zone: Zone, shop_zone: tzinfo, start: float, end: float) -> list[Interval]:
    """When a zone's heater runs."""
    return WorkingHours(shop_zone, _heater_shifts(zone)).intervals(start, end)


def _heater_shifts(zone: Zone) -> tuple[Shift, ...]:
    if zone.heat_c is None:
        return ()
    spans = [(zone.heat_from, zone.heat_to)]
    if zone.heat_from >= zone.heat_to:  # over midnight
        spans = [span for span in ((0, zone.heat_to), (zone.heat_from, 1440)) if span[0] < span[1]]
    return tuple(Shift(day, *span) for day in range(7) for span in spans)


def shop_temperature(
    uow: UnitOfWork, since: float, now: float, zone_id: str = MAIN, *, heated: bool = True
) -> ShopTemperature | None:
    """A zone's air from two days before ``since`` on; None when nothing was ever given.

    Parameters
    ----------
    heated : bool
        Whether its heater is on in its hours; else as it would be without one from its last reading on.
    """
    shop_zone = zone_here(uow)
    record, dew_read = recorded(uow, zone_id, since - SETTLE_MIN)
    typed = [row for row in _typed(uow) if row.zone == zone_id]
    # The newest counts: weather is followed by the zone and its heater, a room's own is taken as it was said.
    weather = typed[-1] if typed and typed[-1].place == "outside" else None
    outlooks = [_outlook(row, shop_zone) for row in typed if row.place == "room"] if weather is None else []
    newest = select(Forecast).order_by(Forecast.happened_at.desc()).limit(1)
    said = uow.once("forecast", lambda: uow.session.scalar(newest))
    rows_said = said.days if said else []
    days = tuple(Day(row["midnight"], row["low_c"], row["high_c"], row.get("dew_c")) for row in rows_said)
    if weather is not None:
        coldest = _next_low(minute_of(weather.happened_at), shop_zone)
        days = tuple(with_typed(days, coldest, weather.low_c, weather.high_c))
    zone = uow.get(Zone, zone_id)
    model, dew = _expected(zone, shop_zone, days, record, now, heated=heated) if days else (None, None)
    known = what_is_known(record, outlooks, now, _DAYS, model)
    if known is None:
        return None
    if dew_read is not None:
        dew = dew_read if dew is None else record_then_forecast(dew_read, dew)
    return ShopTemperature(known, dew, _words(known, said, weather, now, shop_zone, units_of(uow)))


def _typed(uow: UnitOfWork) -> list[Outlook]:
    """What was typed of the air to come and still counts, in order."""

    def read() -> list[Outlook]:
        rows = uow.all(Outlook, Outlook.happened_at, Outlook.recorded_at)
        return [row for row in rows if row.id not in taken_back(uow)]

    return uow.once("outlooks", read)


def _outlook(row: Outlook, shop_zone: tzinfo) -> DayOutlook:
    said_at = minute_of(row.happened_at)
    return DayOutlook(said_at, local_midnight(said_at, shop_zone), row.low_c, row.high_c)


def _next_low(minute: float, shop_zone: tzinfo) -> float:
    """The midnight of the day whose morning is coldest next."""
    midnight = local_midnight(minute, shop_zone)
    return midnight if minute < midnight + 60 * COLDEST_H else local_midnight(midnight + 1.5 * DAY_MIN, shop_zone)


def _expected(
    zone: Zone, shop_zone: tzinfo, days: tuple[Day, ...], record: Profile | None, now: float, *, heated: bool
) -> tuple[Profile, Profile | None]:
    """What a forecast makes of a zone from its last reading on, and of its dew point."""
    last = (float(record.minutes[-1]), float(record.celsius[-1])) if record is not None else (now, None)
    heater = WorkingHours(shop_zone, _heater_shifts(zone))
    model = model_of(zone) if heated else replace(model_of(zone), heat_c=None)
    return _followed(model, days, *last, heater), _dew_of(days)


@lru_cache(maxsize=KEPT)
def _dew_of(said: tuple[Day, ...]) -> Profile | None:
    """The dew point of four months, where it is said."""
    dews = [(day.midnight + DAY_MIN / 2, day.dew_c) for day in with_mean_days(said, _DAYS) if day.dew_c is not None]
    return Profile.of(dews) if dews else None


@lru_cache(maxsize=KEPT)
def _followed(
    model: ZoneModel, said: tuple[Day, ...], start: float, first: float | None, heater: WorkingHours
) -> Profile:
    """Four months of a zone: nearly always asked for again before another reading comes."""
    days = with_mean_days(said, _DAYS)
    outside, end = outside_curve(days), days[-1].midnight
    if first is None:
        first = outside.at(start) + model.gain_k
    return model.follow(outside, start, first, end, heater.intervals(start, end))


def _words(
    known: Known, said: Forecast | None, weather: Outlook | None, now: float, zone: tzinfo, units: UnitSystem
) -> str:
    expected = "the last recorded day is repeated"
    if said is not None:
        expected = f"the forecast of {when(minute_of(said.happened_at), zone, now)} as this zone follows it"
    if weather is not None:
        low, high = (show(celsius, "temperature", units) for celsius in (weather.low_c, weather.high_c))
        at = when(minute_of(weather.happened_at), zone, now)
        expected = f"low {low} and high {high} outside, typed {at}, as this zone and its heater follow it"
    elif known.outlook is not None:
        low, high = (show(celsius, "temperature", units) for celsius in (known.outlook.low_c, known.outlook.high_c))
        typed = f"low {low} and high {high}, typed {when(known.outlook.said_at, zone, now)}"
        expected = f"{typed}, for a day and a half, then {expected}" if said else f"{typed}, for every day to come"
    if known.recorded_until is None or known.loaded_until is None:
        return f"expected: {expected}"
    words = f"recorded until {when(known.recorded_until, zone, now)}"
    if known.loaded_until > known.recorded_until:
        words += f"; a loaded file runs on to {when(known.loaded_until, zone, now)}"
    return f"{words}; after that {expected}"


def keep_forecast(uow: UnitOfWork, key: str, days: Sequence[Day], now: datetime) -> None:
    """Keep what is said of the coming days."""
    if uow.session.get(Forecast, key) is not None:
        return
    rows: list[dict[str, Any]] = [
        {"midnight": day.midnight, "low_c": day.low_c, "high_c": day.high_c, "dew_c": day.dew_c} for day in days
    ]
    outside_curve(days)
    uow.add(Forecast(id=key, days=rows, happened_at=now, recorded_at=now))
    uow.changed("climate", key)


@dataclass(frozen=True)
class SayOutlook:
    """Tonight's low and tomorrow's high, as typed: the room's own, or of the weather. The client makes the id."""

    id: str
    low: Typed
    high: Typed
    zone: str = MAIN
    place: Literal["room", "outside"] = "room"


def say_outlook(uow: UnitOfWork, order: SayOutlook, now: datetime) -> Kept:
    """Keep tonight's low and tomorrow's high."""
    if uow.session.get(Outlook, order.id) is None:
        low_c, high_c = order.low.read("temperature", "low"), order.high.read("temperature", "high")
        day_curve(low_c, high_c, 0, 1)
        said = {
            "zone": order.zone,
            "place": order.place,
            "low_c": low_c,
            "high_c": high_c,
            "happened_at": now,
            "recorded_at": now,
        }
        uow.add(Outlook(id=order.id, **said))
        uow.changed("climate", order.id)
    return Kept(order.id)


def need_temperature() -> Refused:
    """The refusal of a time that has no temperature to stand on."""
    return Refused(
        "temperature", "no temperature was ever given; type tonight's low and tomorrow's high, or load a logger's file"
    )
