"""A zone's building learned from its record, and from the weather that was said for those days."""

from __future__ import annotations

import numpy as np

from kiteloom.core.air.building import Day
from kiteloom.core.air.learn import Learnt, learnt
from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Forecast, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import heating_of, model_of
from kiteloom.workshop.air.readings import readings
from kiteloom.workshop.base.shop import zone_here

#: No more than the last days are learned from: a building changes with its doors and the season.
LEARN_DAYS = 14


def learn_zone(uow: UnitOfWork, zone_id: str, now: float) -> Learnt:
    """The lag and excess of a zone that fit what was read there; `Refused` where too little is known."""
    zone = uow.get(Zone, zone_id)
    rows = [(minute, celsius) for minute, celsius, _ in readings(uow, zone_id, now - LEARN_DAYS * DAY_MIN)]
    if len(rows) < 2:
        raise Refused("record", f"nothing was read in the {zone.name.lower()} yet; load a logger's file")
    said: dict[float, Day] = {}
    for forecast in uow.all(Forecast, Forecast.happened_at):
        # What was said last of a day is nearest to what it was.
        said |= {row["midnight"]: Day(row["midnight"], row["low_c"], row["high_c"]) for row in forecast.days}
    days = sorted((day for day in said.values() if day.midnight <= now), key=lambda day: day.midnight)
    start, end = rows[0][0], rows[-1][0]
    heating = heating_of(zone, zone_here(uow), start, end)
    minutes, celsius = (np.array(column) for column in zip(*rows, strict=True))
    return learnt(Profile(minutes, celsius), _unbroken(days), model_of(zone), heating)


def _unbroken(days: list[Day]) -> list[Day]:
    """The last days without a gap between them."""
    found: list[Day] = []
    for day in reversed(days):
        if found and found[-1].midnight - day.midnight > 1.2 * DAY_MIN:
            break
        found.append(day)
    return found[::-1]
