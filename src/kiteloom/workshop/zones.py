"""The shop's zones: their air as it was read and is expected, and their heaters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.building import ZoneModel
from kiteloom.core.calendar import clock, clock_minutes, minute_of, nights, zone_of
from kiteloom.core.climate import DAY_MIN
from kiteloom.core.problems import Refused
from kiteloom.core.quantities import Typed, show
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import shop_temperature, zones
from kiteloom.workshop.saying import Degrees, Saying, Span
from kiteloom.workshop.shape import Saved
from kiteloom.workshop.shop import the_shop, units_of

#: Shown behind and ahead of now [days].
BACK, AHEAD = 2, 5
FIELDS = {
    "heat": "Heater holds",
    "heat_from": "Heater from",
    "heat_to": "Heater until",
    "lag": "Follows the weather within",
    "gain": "Warmer than outside by",
}


#: The model's own names for what these fields say.
_BELONGS = {"heat_c": "heat", "lag_h": "lag", "gain_k": "gain"}


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
        "gain": (f"{difference:g}", "K" if say.units == "metric" else "°F warmer"),
    }
    labels = {**FIELDS, "gain": f"{FIELDS['gain']} ({temperature})"}
    return [ZoneField(field, labels[field], *texts[field]) for field in FIELDS]


def edit_zone(uow: UnitOfWork, zone_id: str, version: int, fields: dict[str, Typed], now: datetime) -> Saved:
    """Change how a zone follows the weather, or its heater; an empty set point is no heater."""
    zone = uow.get_for_edit(Zone, zone_id, version)
    us = units_of(uow) == "us"
    words = []
    for field, typed in fields.items():
        if field not in FIELDS:
            raise Refused(field, f"“{field}” is not a field of a zone; they are {', '.join(FIELDS)}")
        words.append(f"{zone.name}: {FIELDS[field].lower()} {typed.text.strip() or 'nothing'}")
        if field == "heat":
            zone.heat_c = typed.read("temperature", "heat") if typed.text.strip() else None
        elif field in ("heat_from", "heat_to"):
            setattr(zone, field, clock_minutes(typed.text, field))
        elif field == "lag":
            zone.lag_h = typed.read("time", "lag") / 60
        else:
            try:
                zone.gain_k = float(typed.text.replace(",", ".").replace("K", "")) / (1.8 if us else 1)
            except ValueError:
                raise Refused("gain", f"“{typed.text}” isn't a number of degrees; write it like 2.5") from None
    try:
        ZoneModel(zone.lag_h, zone.gain_k, zone.heat_c)
    except Refused as refused:
        raise Refused(_BELONGS.get(refused.field, refused.field), refused.sentence) from None
    if fields:
        uow.edited(zone, words, now, "zone")
    return Saved(zone.version)
