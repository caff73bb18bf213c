"""Where a part is, and what was read on it: its own temperature, which wins over the air's."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.air.part import FAR_K, as_read, moved
from kiteloom.core.base.calendar import minute_of, moment_of, when, zone_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.cure.post_cure import Leg, during, programme
from kiteloom.store.models import Heating, Part, PartPlace, PartTemperature, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, ShopTemperature, shop_temperature
from kiteloom.workshop.base.shop import the_shop, units_of
from kiteloom.workshop.base.taken_back import taken_back


def place_of(uow: UnitOfWork, part_id: str) -> str:
    """The zone a part is in: the main shop until it was moved."""
    query = select(PartPlace.zone_id).where(PartPlace.part_id == part_id)
    order = (PartPlace.happened_at.desc(), PartPlace.recorded_at.desc())
    return uow.session.scalar(query.order_by(*order).limit(1)) or MAIN


def heatings(uow: UnitOfWork) -> list[Heating]:
    """The post-cures that stand: those called off are left out."""

    def read() -> list[Heating]:
        rows = uow.all(Heating, Heating.happened_at, Heating.recorded_at)
        undone = {row.undoes_id for row in rows}
        return [row for row in rows if row.undoes_id is None and row.id not in undone]

    return uow.once("heatings", read)


def part_readings(uow: UnitOfWork) -> list[PartTemperature]:
    """What was read on parts and counts, in order of time."""
    return [row for row in uow.all(PartTemperature, PartTemperature.happened_at) if row.id not in taken_back(uow)]


def part_airs(uow: UnitOfWork, since: float, now: float, main: ShopTemperature) -> dict[str, ShopTemperature]:
    """The temperature of every part that was moved or read."""
    places: dict[str, list[PartPlace]] = defaultdict(list)
    for place in uow.all(PartPlace, PartPlace.happened_at, PartPlace.recorded_at):
        places[place.part_id].append(place)
    readings: dict[str, list[PartTemperature]] = defaultdict(list)
    for reading in part_readings(uow):
        readings[reading.part_id].append(reading)
    heats: dict[str, list[Heating]] = defaultdict(list)
    for heating in heatings(uow):
        heats[heating.part_id].append(heating)
    shop_zone = zone_of(the_shop(uow).zone)
    airs: dict[str, ShopTemperature] = {MAIN: main}
    found = {}
    for part_id in {*places, *readings, *heats}:
        stays = [(since, MAIN)] + [(minute_of(p.happened_at), p.zone_id) for p in places.get(part_id, ())]
        for _, zone_id in stays:
            if zone_id not in airs:
                airs[zone_id] = shop_temperature(uow, since, now, zone_id) or main
        profile = moved([(at, airs[zone_id].profile) for at, zone_id in stays])
        read = [(minute_of(row.happened_at), row.temp_c) for row in readings.get(part_id, ())]
        profile = as_read(profile, [point for point in read if point[0] >= since - 1440])
        for heating in heats.get(part_id, ()):
            begin = minute_of(heating.happened_at)
            legs = [Leg(**leg) for leg in heating.legs]
            profile = during(profile, programme(begin, profile.at(begin), legs))
        air = airs[stays[-1][1]]
        words = air.words
        if len(stays) > 1:
            words = f"of the {uow.get(Zone, stays[-1][1]).name.lower()}, {words}"
        if read:
            own = show(read[-1][1], "temperature", units_of(uow))
            words = f"of the part itself, {own} {when(read[-1][0], shop_zone, now)}, carried on with the air; {words}"
        if heats.get(part_id):
            words = f"with a post-cure {when(minute_of(heats[part_id][-1].happened_at), shop_zone, now)}, {words}"
        found[part_id] = replace(air, known=replace(air.known, profile=profile), words=words)
    return found


def heated_to(uow: UnitOfWork, part_id: str) -> float:
    """When a part's last post-cure is over [min], from a room of 20 °C; 0 without one."""
    mine = [h for h in heatings(uow) if h.part_id == part_id]
    if not mine:
        return 0.0
    legs = [Leg(**leg) for leg in mine[-1].legs]
    return float(programme(minute_of(mine[-1].happened_at), 20.0, legs).minutes[-1])


@dataclass(frozen=True)
class MovePart:
    """Where a part is moved to. The client makes the id."""

    id: str
    zone_id: str


def move_part(uow: UnitOfWork, part_id: str, order: MovePart, now: datetime) -> None:
    """Move a part to another zone; its cure goes on at that zone's temperature."""
    part = uow.get(Part, part_id)
    if uow.session.get(PartPlace, order.id) is None:
        zone = uow.get(Zone, order.zone_id)
        if place_of(uow, part_id) == zone.id:
            raise Refused("zone_id", f"{part.name} is in the {zone.name.lower()} already")
        uow.add(PartPlace(id=order.id, part_id=part.id, zone_id=zone.id, happened_at=now, recorded_at=now))
        uow.changed("climate", part.id)


@dataclass(frozen=True)
class ReadPart:
    """A reading of the part itself. The client makes the id."""

    id: str
    temp: Typed
    sure: bool = False
    """Whether it is so although it is far from the air."""


def read_part(uow: UnitOfWork, part_id: str, order: ReadPart, now: datetime) -> None:
    """Keep an infrared reading of a part; it wins over the air's."""
    part = uow.get(Part, part_id)
    if uow.session.get(PartTemperature, order.id) is None:
        typed_c = order.temp.read("temperature", "temp")
        celsius = between("temp", typed_c, -30, 200, unit="°C", name="the part's own temperature")
        air = shop_temperature(uow, minute_of(now), minute_of(now), place_of(uow, part_id))
        if air is not None and not order.sure and not heated_to(uow, part_id) > minute_of(now):
            here = air.profile.at(minute_of(now))
            if abs(celsius - here) > FAR_K:
                units = units_of(uow)
                read, around = (show(c, "temperature", units) for c in (celsius, here))
                raise Refused(
                    "sure",
                    f"the part would be at {read}, and the air around it is at {around}. Is it so?",
                )
        kept = {"part_id": part.id, "temp_c": celsius, "source": "typed", "happened_at": now, "recorded_at": now}
        uow.add(PartTemperature(id=order.id, **kept))
        uow.changed("climate", part.id)


def record_part(uow: UnitOfWork, part_id: str, readings: list[tuple[float, float]], now: datetime) -> None:
    """Keep what a probe on a part logged."""
    for minute, celsius in readings:
        key = f"{part_id[:18]}@{round(minute)}"
        if uow.session.get(PartTemperature, key) is None:
            at = moment_of(minute)
            row = PartTemperature(
                id=key, part_id=part_id, temp_c=celsius, source="probe", happened_at=at, recorded_at=now
            )
            uow.session.add(row)
    if readings:
        uow.changed("climate", f"probe {part_id}")
