"""A way taken that lets a step go: a room heated round the clock, a station set up elsewhere, a part moved."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Station, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.parts import MovePart, move_part
from kiteloom.workshop.air.zones import asked_for
from kiteloom.workshop.base.shop import units_of


@dataclass(frozen=True)
class TakeWay:
    """What to change. The client makes the id; taken twice it is done once."""

    id: str
    kind: Literal["heat", "station", "part"]
    zone_id: str
    station_id: str = ""
    part_id: str = ""
    heat: Typed | None = None


def take_way(uow: UnitOfWork, order: TakeWay, now: datetime) -> None:
    """Change what lets it go."""
    zone = uow.get(Zone, order.zone_id)
    if order.kind == "part":
        move_part(uow, order.part_id, MovePart(order.id, zone.id), now)
    elif order.kind == "station":
        row = uow.get(Station, order.station_id)
        if row.zone_id != zone.id:
            row.zone_id = zone.id
            uow.edited(row, [f"{row.name} is set up in the {zone.name.lower()}"], now, "crew")
    elif order.heat is None:
        raise Refused("heat", "the heater's set point is missing")
    else:
        celsius = asked_for("heat").meant("heat", order.heat, units_of(uow))
        if (zone.heat_c, zone.heat_from, zone.heat_to) != (celsius, 0, 1440):
            zone.heat_c, zone.heat_from, zone.heat_to = celsius, 0, 1440
            uow.edited(zone, [f"{zone.name}: heater holds {order.heat.text.strip()}, round the clock"], now, "zone")
