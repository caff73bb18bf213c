"""Where a part is, and what was read on it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import show
from kiteloom.core.cure.post_cure import Leg
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import zones
from kiteloom.workshop.air.parts import heat_ends, heatings, is_to_come, part_readings, place_of, stays
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.plan.post_cure import heat_words


@dataclass(frozen=True)
class Place:
    """A zone a part may be in."""

    id: str
    name: str


@dataclass(frozen=True)
class PartAirView:
    """Where a part is, what it was last read at, and where it may be moved."""

    part_id: str
    zone_id: str
    words: str
    zones: list[Place]
    heating_id: str
    heating: str
    typed_id: str
    """The typed reading it shows; ``""`` where a probe reads it, or nobody has."""


def part_air_view(uow: UnitOfWork, part_id: str, now: datetime) -> PartAirView:
    """Where a part is."""
    zone_id, units, shop_zone = place_of(uow, part_id, now), units_of(uow), zone_here(uow)
    last = next((row for row in reversed(part_readings(uow)) if row.part_id == part_id), None)
    words = f"In the {uow.get(Zone, zone_id).name.lower()}"
    planned = [row for row in stays(uow).get(part_id, []) if is_to_come(row, now)]
    if planned:
        at = when(minute_of(planned[0].happened_at), shop_zone, minute_of(now))
        words += f" until {at}, then in the {uow.get(Zone, planned[0].zone_id).name.lower()}"
    if last is None:
        words += "; taken to be as warm as its air."
    else:
        at = when(minute_of(last.happened_at), shop_zone, minute_of(now))
        how = "by its probe" if last.source == "probe" else "typed"
        words += f"; itself {show(last.temp_c, 'temperature', units)} {at}, {how}."
    mine = [h for h in heatings(uow) if h.part_id == part_id]
    heating, ends = "", heat_ends(uow, part_id)[1]
    if mine:
        begin = minute_of(mine[-1].happened_at)
        legs = [Leg(**leg) for leg in mine[-1].legs]
        holds = ", ".join(f"{show(leg.to_c, 'temperature', units)} for {leg.hold_h:g} h" for leg in legs)
        heat = heat_words(uow, mine[-1].heat_from)
        heating = f"Post-cure {when(begin, shop_zone, minute_of(now))}: {holds}{f', {heat}' if heat else ''}."
    live = mine[-1].id if mine and ends > minute_of(now) else ""
    places = [Place(zone.id, zone.name) for zone in zones(uow)]
    typed = last.id if last is not None and last.source == "typed" else ""
    return PartAirView(part_id, zone_id, words, places, live, heating, typed)
