"""How a step could go that the air holds up: which room, how long it takes there, and what that does to the plan."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.air.room import too_long
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.ways import SHOP, ways_to_go
from kiteloom.core.plan.ways import Way as Found
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, need_temperature, shop_temperature, zones
from kiteloom.workshop.air.parts import length_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class Way:
    """One way: what to do, what it does to the step and to the plan, and what to send to take it."""

    kind: Literal["heat", "station", "part"]
    zone_id: str
    station_id: str
    heat: str
    words: str
    then: str
    plan: str


@dataclass(frozen=True)
class WaysView:
    """How a step could go; ``none`` says that nothing here would help."""

    ways: list[Way]
    none: str


def ways_view(uow: UnitOfWork, part_id: str, step_key: str, now: datetime) -> WaysView:
    """Try each room and its heater. Nothing is kept."""
    minute, part = minute_of(now), uow.get(Part, part_id)
    shop = shop_plan(uow, minute)
    if shop is None:
        raise need_temperature()
    shop.part(part_id).step(step_key)
    rooms, small, names, held = {SHOP: shop.air.profile}, set(), {SHOP: "main shop"}, {}
    for zone in zones(uow):
        if zone.heat_c is not None:
            held[SHOP if zone.id == MAIN else zone.id] = zone.heat_c
        if zone.id == MAIN:
            continue
        air = shop_temperature(uow, minute, minute, zone.id)
        names[zone.id] = zone.name.lower()
        if air is not None:
            rooms[zone.id] = air.profile
        if too_long(part.name, length_of(part), zone.name, zone.longest_m):
            small.add(zone.id)
    found = ways_to_go(shop.input, f"{part_id}:{step_key}", rooms, small, held)
    none = "" if found else "No room of this shop is warm enough for it and takes it, and heating does not help."
    return WaysView([_way(shop, f"{part_id}:{step_key}", way, names) for way in found], none)


def _way(shop: ShopPlan, key: str, way: Found, names: dict[str, str]) -> Way:
    say, room, placed = shop.saying, names[way.zone], way.plan.by_key[key]
    heat = show(way.celsius, "temperature", say.units) if way.celsius is not None else ""
    if way.kind == "heat":
        words = f"Hold the {room} at {heat}"
    elif way.kind == "station":
        words = f"Set “{shop.names.get(way.station, way.station)}” up in the {room}"
    else:
        words = f"Put {shop.names[placed.step.part]} into the {room}"
    then = f"{placed.step.name} {say.at(placed.begins)}"
    if placed.ready is not None and placed.step.wait_stage:
        wait = say.lasting(placed.ready - placed.end)
        then += f"; check for “{placed.step.wait_stage}” from {say.at(placed.ready)}, after {wait}"
    return Way(
        way.kind, way.zone or MAIN, way.station, heat, f"{words}.", f"{then}.", _cost(shop, way)
    )  # fmt: skip


def _cost(shop: ShopPlan, way: Found) -> str:
    say = shop.saying
    more = len(shop.plan.unplaced) - len(way.plan.unplaced)
    steps = f"{more} more step{'s' if more > 1 else ''} can be planned; " if more > 0 else ""
    if more < 0:
        steps = f"{-more} other step{'s' if more < -1 else ''} can't be planned then; "
    end, was = way.plan.finish, shop.plan.finish
    words = f"{steps}all done {say.at(end)}" if end is not None else f"{steps}nothing is planned"
    if was is not None and end != was:
        words += f", not {say.at(was)}"
    words += "."
    return words[0].upper() + words[1:]
