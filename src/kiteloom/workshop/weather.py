"""The strip on top of every view: temperature now and tonight, and what is waiting."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.calendar import minute_of, moment_of, when, zone_of
from kiteloom.store.models import Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.airframe import peeling
from kiteloom.workshop.climate import shop_temperature
from kiteloom.workshop.shop import the_shop
from kiteloom.workshop.times import Degrees


@dataclass(frozen=True)
class Wait:
    """Something that cures: where, from when to check it, in words."""

    surface_id: str
    at: datetime
    words: str


@dataclass(frozen=True)
class WeatherView:
    """Temperature now [°C], the coldest of the next 24 hours, and live waits, soonest first."""

    temp_c: float | None
    expected: bool
    low_c: float | None
    low_words: str
    ribbon: list[Degrees]
    waits: list[Wait]


def weather(uow: UnitOfWork, now: datetime) -> WeatherView:
    """Read the strip."""
    zone, today = zone_of(the_shop(uow).zone), minute_of(now)
    waits = []
    for surface in uow.all(Surface, Surface.rank):
        due = peeling(uow, surface, today)
        if due is not None and due > today:
            waits.append(Wait(surface.id, moment_of(due, zone), f"{surface.name}: peel {when(due, zone, today)}"))
    waits.sort(key=lambda wait: wait.at)
    known = shop_temperature(uow, today, today)
    if known is None:
        return WeatherView(None, True, None, "", [], waits)
    ribbon = [(minute, known.profile.at(minute)) for minute in (today + 30 * i for i in range(49))]
    low_at, low = min(ribbon, key=lambda point: point[1])
    return WeatherView(
        known.profile.at(today),
        known.known.assumed(today - 60, today - 60),
        low,
        when(low_at, zone, today),
        [Degrees(moment_of(minute, zone), celsius) for minute, celsius in ribbon],
        waits,
    )
