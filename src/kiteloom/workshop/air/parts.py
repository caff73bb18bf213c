"""Where a part is, and what was read on it: its own temperature, which wins over the air's."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import datetime
from uuid import NAMESPACE_URL, uuid5

from kiteloom.core.air.part import FAR_K, as_read, moved
from kiteloom.core.air.profile import Profile
from kiteloom.core.air.room import too_long
from kiteloom.core.base.calendar import minute_of, moment_of, when
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.cure.post_cure import Leg, during, programme
from kiteloom.store.models import Heating, Part, PartPlace, PartTemperature, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, ShopTemperature, shop_temperature
from kiteloom.workshop.base.shop import in_shop_zone, units_of, zone_here
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.shape.shapes import form_of


def stays(uow: UnitOfWork) -> dict[str, list[PartPlace]]:
    """Where each part was put, in order of time; what was planned of it is void once it was moved before that."""

    def read() -> dict[str, list[PartPlace]]:
        found: dict[str, list[PartPlace]] = defaultdict(list)
        for row in uow.all(PartPlace, PartPlace.recorded_at, PartPlace.happened_at):
            found[row.part_id] = [*(r for r in found[row.part_id] if r.happened_at <= row.happened_at), row]
        return found

    return uow.once("stays", read)


def is_to_come(row: PartPlace, now: datetime) -> bool:
    """Whether a move is still only planned; one that was made is made, also within the minute a page was read in."""
    return row.happened_at > max(now, row.recorded_at)


def place_of(uow: UnitOfWork, part_id: str, now: datetime) -> str:
    """The zone a part is in: the main shop until it was moved."""
    return next((row.zone_id for row in reversed(stays(uow).get(part_id, [])) if not is_to_come(row, now)), MAIN)


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
    places = stays(uow)
    readings: dict[str, list[PartTemperature]] = defaultdict(list)
    for row in part_readings(uow):
        readings[row.part_id].append(row)
    heats: dict[str, list[Heating]] = defaultdict(list)
    for heating in heatings(uow):
        heats[heating.part_id].append(heating)
    shop_zone = zone_here(uow)
    airs: dict[str, ShopTemperature] = {MAIN: main}
    found = {}
    for part_id in {*places, *readings, *heats}:
        been = [(since, MAIN)] + [(minute_of(p.happened_at), p.zone_id) for p in places.get(part_id, ())]
        for _, zone_id in been:
            if zone_id not in airs:
                airs[zone_id] = shop_temperature(uow, since, now, zone_id) or main
        profile = moved([(at, airs[zone_id].profile) for at, zone_id in been])
        read = [(minute_of(row.happened_at), row.temp_c) for row in readings.get(part_id, ())]
        profile = as_read(profile, [point for point in read if point[0] >= since - 1440])
        for heating in heats.get(part_id, ()):
            begin = minute_of(heating.happened_at)
            profile = during(profile, heat_of(heating, profile.at(begin)))
        here = place_of(uow, part_id, moment_of(now))
        air = airs[here]
        words = air.words
        if len(been) > 1:
            words = f"of the {uow.get(Zone, here).name.lower()}, {words}"
        if read:
            own = show(read[-1][1], "temperature", units_of(uow))
            words = f"of the part itself, {own} {when(read[-1][0], shop_zone, now)}, carried on with the air; {words}"
        if heats.get(part_id):
            words = f"with a post-cure {when(minute_of(heats[part_id][-1].happened_at), shop_zone, now)}, {words}"
        found[part_id] = replace(air, known=replace(air.known, profile=profile), words=words)
    return found


def heat_of(heating: Heating, from_c: float) -> Profile:
    """The temperature of a post-cure that begins at one [°C]."""
    legs = [Leg(**leg) for leg in heating.legs]
    return programme(minute_of(heating.happened_at), from_c, legs, heating.cool_k_h)


def heat_ends(uow: UnitOfWork, part_id: str) -> tuple[float, float]:
    """When the last hold of a part's last post-cure ends, and when it is cool [min]; both 0 without one.

    It is taken to begin in a room of 20 °C.
    """
    mine = [h for h in heatings(uow) if h.part_id == part_id]
    if not mine:
        return 0.0, 0.0
    heat = heat_of(mine[-1], 20.0)
    held = heat.minutes[-1] if mine[-1].cool_k_h is None else heat.minutes[-2]
    return float(held), float(heat.minutes[-1])


@dataclass(frozen=True)
class MovePart:
    """Where a part is moved to, and when it comes back; without that it stays. The client makes the id."""

    id: str
    zone_id: str
    back: datetime | None = None
    sure: bool = False
    """Whether it goes in although it is longer than the zone is said to take."""


#: What is planned of a move is no further ahead than this [days].
BACK_DAYS = 60


def move_part(uow: UnitOfWork, part_id: str, order: MovePart, now: datetime) -> None:
    """Move a part to another zone; its cure goes on at that zone's temperature, until it is back."""
    part = uow.get(Part, part_id)
    if uow.session.get(PartPlace, order.id) is not None:
        return
    zone, here = uow.get(Zone, order.zone_id), place_of(uow, part_id, now)
    if here == zone.id:
        raise Refused("zone_id", f"{part.name} is in the {zone.name.lower()} already")
    long = too_long(part.name, length_of(part), zone.name, zone.longest_m, units_of(uow))
    if long and not order.sure:
        raise Refused("sure", f"{long} Does it go in all the same?")
    kept = {"part_id": part.id, "recorded_at": now}
    uow.add(PartPlace(id=order.id, zone_id=zone.id, happened_at=now, **kept))
    back = in_shop_zone(uow, order.back, "back")
    if back is not None:
        between("back", (back - now).total_seconds() / 86400, 0, BACK_DAYS, unit="days", name="its way back, from now,")
        uow.add(PartPlace(id=back_id(order.id), zone_id=here, happened_at=back, **kept))
    uow.changed("climate", part.id)


def back_id(move_id: str) -> str:
    """The id of the way back of a move.

    >>> len(back_id("3f9dc30c-312c-503d-a104-08775ed7d293"))
    36
    """
    return str(uuid5(NAMESPACE_URL, f"back/{move_id}"))


def length_of(part: Part) -> float | None:
    """How long a part is, by its shape [m]; None without one."""
    shape = part.design.shape
    return form_of(shape).span_m if shape is not None else None


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
        air = shop_temperature(uow, minute_of(now), minute_of(now), place_of(uow, part_id, now))
        if air is not None and not order.sure and not heat_ends(uow, part_id)[1] > minute_of(now):
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
