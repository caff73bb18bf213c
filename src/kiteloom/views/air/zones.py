"""The shop's zones: their air as it was read and is expected, and their heaters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import minute_of, nights
from kiteloom.core.base.quantities import show, system_of
from kiteloom.store.models import Outlook, TemperatureImport, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import shop_temperature, zones
from kiteloom.workshop.air.learning import learn_zone
from kiteloom.workshop.air.zones import FIELDS, HOURS, MODEL, asked_for
from kiteloom.workshop.base.saying import AsText, Degrees, Saying, Span
from kiteloom.workshop.base.shop import the_shop, units_of, zone_at, zone_here
from kiteloom.workshop.base.taken_back import taken_back

#: Shown behind and ahead of now [days].
BACK, AHEAD = 2, 5


@dataclass(frozen=True)
class Given:
    """An outlook that was typed, or a logger's file."""

    id: str
    what: Literal["outlook", "file"]
    words: str


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
    wood: str
    """The moisture wood comes to here, in words; ``""`` where it is not known how damp it is."""
    words: str
    span: Span
    ribbon: list[Degrees]
    dew: list[Degrees]
    recorded_until: datetime | None
    nights: list[Span]
    fields: list[AsText]
    given: list[Given]
    """What was typed or loaded and counts, the newest first: it can be taken back."""


@dataclass(frozen=True)
class ZonesView:
    """Every zone."""

    now: datetime
    zones: list[ZoneView]


def zones_view(uow: UnitOfWork, now: datetime) -> ZonesView:
    """Read the zones."""
    shop, minute = the_shop(uow), minute_of(now)
    say = Saying(zone_at(shop), minute, units_of(uow))
    return ZonesView(say.moment(minute), [_view(uow, zone, say) for zone in zones(uow)])


@dataclass(frozen=True)
class LearntView:
    """What a zone's record says of how it follows the weather, and the fields to save it with."""

    words: str
    fields: list[AsText]


def learnt_view(uow: UnitOfWork, zone_id: str, now: datetime) -> LearntView:
    """Learn a zone from its record. Nothing is kept."""
    zone, units = uow.get(Zone, zone_id), units_of(uow)
    found = learn_zone(uow, zone_id, minute_of(now))
    say = Saying(zone_here(uow), minute_of(now), units)
    gain = show(abs(found.model.gain_k), "difference", units)
    off, was = (show(k, "difference", units) for k in (found.off_k, found.was_off_k))
    if not found.clearly:
        of = f"{found.days:.0f} days of its record"
        return LearntView(f"{of} say nothing clearly better: as it is set it is off by {was} on average.", [])
    warmer = "warmer" if found.model.gain_k >= 0 else "colder"
    words = (
        f"{found.days:.0f} days of its record say: it follows the weather within {found.model.lag_h:g} h and is "
        f"{gain} {warmer} than outside. Computed so it is off by {off} on average; as it is set, by {was}."
    )
    as_found = Zone(name=zone.name, lag_h=found.model.lag_h, gain_k=found.model.gain_k, heat_c=None,
                    heat_from=0, heat_to=0)  # fmt: skip
    return LearntView(words, [field for field in _fields(as_found, say) if field.field in ("lag", "gain")])


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
            zone.id, zone.name, zone.version, None, None, None, None, "", ask, say.span((start, end)), empty, empty,
            None, spread, fields, _given(uow, zone, say),
        )  # fmt: skip
    return ZoneView(
        zone.id,
        zone.name,
        zone.version,
        air.profile.at(say.now),
        air.humidity(say.now),
        air.dew.at(say.now) if air.dew else None,
        air.margin(say.now),
        f"wood comes to {wood:.1f} %" if (wood := air.wood_pct(say.now)) is not None else "",
        f"{air.words[0].upper()}{air.words[1:]}.",
        say.span((start, end)),
        [Degrees(say.moment(m), air.profile.at(m)) for m in minutes],
        [Degrees(say.moment(m), min(air.dew.at(m), air.profile.at(m))) for m in minutes] if air.dew else [],
        say.perhaps(air.known.recorded_until),
        spread,
        fields,
        _given(uow, zone, say),
    )


def _given(uow: UnitOfWork, zone: Zone, say: Saying) -> list[Given]:
    """The outlook that counts, and the files that were loaded."""
    gone, found = taken_back(uow), []
    outlooks = [row for row in uow.all(Outlook, Outlook.happened_at) if row.zone == zone.id and row.id not in gone]
    for outlook in outlooks[-1:]:
        low, high = (show(c, "temperature", say.units) for c in (outlook.low_c, outlook.high_c))
        where = " outside" if outlook.place == "outside" else ""
        words = f"Low {low} and high {high}{where}, typed {say.at(minute_of(outlook.happened_at))}"
        found.append(Given(outlook.id, "outlook", words))
    for file in reversed(uow.all(TemperatureImport, TemperatureImport.happened_at)):
        if file.zone == zone.id and file.id not in gone:
            words = f"“{file.name}”, {file.rows_new} readings, loaded {say.at(minute_of(file.happened_at))}"
            found.append(Given(file.id, "file", words))
    return found


def _fields(zone: Zone, say: Saying) -> list[AsText]:
    heat = "" if zone.heat_c is None else show(zone.heat_c, "temperature", say.units)
    temperature = "°F" if system_of(say.units) == "us" else "°C"
    difference = zone.gain_k * (1.8 if system_of(say.units) == "us" else 1)
    texts = {
        "heat": (heat, temperature),
        "heat_from": (say.clock(zone.heat_from), ""),
        "heat_to": (say.clock(zone.heat_to), ""),
        "lag": (f"{zone.lag_h:g} h", "h"),
        "gain": (f"{difference:g}", asked_for("gain").unit_for(say.units)),
        "longest": (
            "" if zone.longest_m is None else asked_for("longest").text(zone.longest_m, say.units),
            asked_for("longest").unit_for(say.units),
        ),
    }
    labels = {**HOURS, **{field: asked_for(field).label for field in MODEL}}
    labels["gain"] += f" ({temperature})"
    return [AsText(field, labels[field], *texts[field]) for field in FIELDS]
