"""The shop's zones: their air as it was read and is expected, and their heaters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import clock, minute_of, nights, zone_of
from kiteloom.core.base.quantities import show
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import shop_temperature, zones
from kiteloom.workshop.air.zones import FIELDS, HOURS, MODEL, asked_for
from kiteloom.workshop.base.saying import Degrees, Saying, Span
from kiteloom.workshop.base.shop import the_shop, units_of

#: Shown behind and ahead of now [days].
BACK, AHEAD = 2, 5


@dataclass(frozen=True)
class ZoneField:
    """A measure to edit, as text."""

    field: str
    label: str
    text: str
    unit: str


@dataclass(frozen=True)
class ZoneView:
    """One zone: now, two days behind and five ahead; the dew point beside the temperature."""

    id: str
    name: str
    version: int
    temp_c: float | None
    rh_pct: float | None
    dew_c: float | None
    margin_k: float | None
    words: str
    span: Span
    ribbon: list[Degrees]
    dew: list[Degrees]
    recorded_until: datetime | None
    nights: list[Span]
    fields: list[ZoneField]


@dataclass(frozen=True)
class ZonesView:
    """Every zone."""

    now: datetime
    zones: list[ZoneView]


def zones_view(uow: UnitOfWork, now: datetime) -> ZonesView:
    """Read the zones."""
    shop, minute = the_shop(uow), minute_of(now)
    say = Saying(zone_of(shop.zone), minute, units_of(uow))
    return ZonesView(say.moment(minute), [_view(uow, zone, say) for zone in zones(uow)])


def _view(uow: UnitOfWork, zone: Zone, say: Saying) -> ZoneView:
    start, end = say.now - BACK * DAY_MIN, say.now + AHEAD * DAY_MIN
    air = shop_temperature(uow, start, say.now, zone.id)
    minutes = [start + 30 * i for i in range(int((end - start) / 30) + 1)]
    spread = [say.span(night) for night in nights(say.zone, start, end)]
    fields = _fields(zone, say)
    if air is None:
        ask = "Nothing was read here yet, and nothing is expected: load a logger's file, or type a low and a high."
        empty: list[Degrees] = []
        return ZoneView(
            zone.id, zone.name, zone.version, None, None, None, None, ask, say.span((start, end)), empty, empty, None,
            spread, fields,
        )  # fmt: skip
    return ZoneView(
        zone.id,
        zone.name,
        zone.version,
        air.profile.at(say.now),
        air.humidity(say.now),
        air.dew.at(say.now) if air.dew else None,
        air.margin(say.now),
        f"{air.words[0].upper()}{air.words[1:]}.",
        say.span((start, end)),
        [Degrees(say.moment(m), air.profile.at(m)) for m in minutes],
        [Degrees(say.moment(m), min(air.dew.at(m), air.profile.at(m))) for m in minutes] if air.dew else [],
        say.perhaps(air.known.recorded_until),
        spread,
        fields,
    )


def _fields(zone: Zone, say: Saying) -> list[ZoneField]:
    heat = "" if zone.heat_c is None else show(zone.heat_c, "temperature", say.units)
    temperature = "°F" if say.units == "us" else "°C"
    difference = zone.gain_k * (1.8 if say.units == "us" else 1)
    texts = {
        "heat": (heat, temperature),
        "heat_from": (clock(zone.heat_from), ""),
        "heat_to": (clock(zone.heat_to), ""),
        "lag": (f"{zone.lag_h:g} h", "h"),
        "gain": (f"{difference:g}", asked_for("gain").unit_for(say.units)),
    }
    labels = {**HOURS, **{field: asked_for(field).label for field in MODEL}}
    labels["gain"] += f" ({temperature})"
    return [ZoneField(field, labels[field], *texts[field]) for field in FIELDS]
