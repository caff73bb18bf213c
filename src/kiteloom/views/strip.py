"""The strip on top of every view: the air now and tonight, what waits, and what must be heard."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from kiteloom.core.air.moisture import LEAST_MARGIN_K
from kiteloom.core.base.calendar import minute_of, moment_of, when
from kiteloom.core.plan.today import curing
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import shop_temperature
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Degrees
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.log.newest import clock_doubt
from kiteloom.workshop.log.open_cups import OpenCup, open_cups
from kiteloom.workshop.plan.alerts import AlertView, open_alerts
from kiteloom.workshop.plan.plan import shop_plan

#: A reading older than this is no longer what the air is now [min].
FRESH_MIN = 60.0


@dataclass(frozen=True)
class Wait:
    """Something that cures: where, from when to check it, in words, and shorter for a small screen."""

    part_id: str
    step_key: str
    at: datetime
    words: str
    short: str


@dataclass(frozen=True)
class WeatherView:
    """The air now, the coldest of the next 24 hours, live waits, soonest first, and alerts not yet silenced.

    The dew margin is None where no humidity is known [K].
    """

    temp_c: float | None
    rh_pct: float | None
    margin_k: float | None
    margin_tone: Literal["ready", "care", "stop"]
    margin_low_k: float | None
    expected: bool
    low_c: float | None
    low_words: str
    ribbon: list[Degrees]
    waits: list[Wait]
    alerts: list[AlertView]
    cups: list[OpenCup]
    clock_doubt: str = ""
    """That the clock stands before what was written down last."""


def weather(uow: UnitOfWork, now: datetime) -> WeatherView:
    """Read the strip."""
    return remembered(
        uow, minute_of(now), "weather", lambda: replace(_weather(uow, now), clock_doubt=clock_doubt(uow, now))
    )


def _weather(uow: UnitOfWork, now: datetime) -> WeatherView:
    zone, today = zone_here(uow), minute_of(now)
    shop, alerts, cups = shop_plan(uow, today), open_alerts(uow), open_cups(uow, now)
    waits = []
    for placed in curing(shop.plan, today) if shop else ():
        if placed.ready is not None and shop is not None:
            stage = placed.step.wait_stage or "let it stand"
            short = f"{stage} {when(placed.ready, zone, today)}"
            words = f"{shop.names[placed.step.part]}: {short}"
            waits.append(Wait(placed.step.part, placed.step.in_part, moment_of(placed.ready, zone), words, short))
    air = shop.air if shop else shop_temperature(uow, today, today)
    if air is None:
        return WeatherView(None, None, None, "ready", None, True, None, "", [], waits, alerts, cups)
    minutes = [today + 30 * i for i in range(49)]
    ribbon = [(minute, air.profile.at(minute)) for minute in minutes]
    low_at, low = min(ribbon, key=lambda point: point[1])
    margin = air.margin(today)
    margins = [m for minute in minutes if (m := air.margin(minute)) is not None]
    tone: Literal["ready", "care", "stop"] = "ready"
    if margin is not None and margin < LEAST_MARGIN_K:
        tone = "stop"
    elif margins and min(margins) < LEAST_MARGIN_K:
        tone = "care"
    return WeatherView(
        air.profile.at(today),
        air.humidity(today),
        margin,
        tone,
        min(margins) if margins else None,
        air.known.assumed(today - FRESH_MIN, today - FRESH_MIN),
        low,
        when(low_at, zone, today),
        [Degrees(moment_of(minute, zone), celsius) for minute, celsius in ribbon],
        waits,
        alerts,
        cups,
    )
