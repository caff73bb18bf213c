"""Closing down: what runs overnight, what must stay on, and what is looked at first when the shop opens."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import clock
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import curing
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import zones
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Closing:
    """A list to walk through before the lights go out. ``soon``: the shop closes within the hour, or is closed."""

    words: str
    soon: bool
    before: list[str]
    """Work that was begun: to be finished, or laid aside."""
    runs: list[str]
    stays_on: list[str]
    first: list[str]


#: So long before it the list comes to the top [min].
SOON_MIN = 60.0


def closing_of(uow: UnitOfWork, shop: ShopPlan, closes: float | None, opens: float | None) -> Closing | None:
    """What holds over the night that comes, or that it is; None where the shop has no hours ahead."""
    if opens is None:
        return None
    say, night = shop.saying, closes if closes is not None else shop.now
    words = f"The shop closes {say.at(closes)} and opens {say.at(opens)}." if closes else f"It opens {say.at(opens)}."
    live = _overnight(shop, night)
    return Closing(
        words,
        closes is None or closes - shop.now <= SOON_MIN,
        [
            f"{placed.step.name}, {shop.names[placed.step.part]}: finish it, or lay it aside."
            for placed in shop.plan.placed
            if placed.state == "running"
        ],
        [_runs(shop, placed) for placed in live],
        [*_stations(shop, live), *_heaters(uow, shop)],
        _first(shop, night, opens),
    )


def _overnight(shop: ShopPlan, night: float) -> list[Placed]:
    """Cures that are on when the shop closes: live ones, those being laid, and those of mixes still to come today."""
    coming = [p for p in shop.plan.placed if p.state != "done" and p.mixed is not None]
    ahead = [p for p in coming if p.state == "running" or (p.mixed is not None and p.mixed <= night)]
    found = [p for p in (*curing(shop.plan, shop.now), *ahead) if p.ready is None or p.ready > night]
    return sorted(found, key=lambda placed: placed.ready or float("inf"))


def _runs(shop: ShopPlan, placed: Placed) -> str:
    say, stage = shop.saying, placed.step.wait_stage
    what = f"{shop.names[placed.step.part]}, {placed.step.name.lower()}"
    if placed.spoilt:
        return f"{what}: out of its ratio or marked bad; no hour holds for it."
    if placed.ready is None:
        return f"{what}: does not reach “{stage}” at these temperatures."
    lowest = min(c for _, c in shop.air_at(placed).profile.between(shop.now, max(placed.ready, shop.now + 1)))
    least = placed.cure.min_c if placed.cure else None
    cold = f"; it gets {show(lowest, 'temperature', say.units)} there"
    if least is not None and lowest < least:
        cold += f", and below {show(least, 'temperature', say.units)} it stands still"
    until = f"“{stage}” from {say.at(placed.ready)}" if stage else f"stands until {say.at(placed.ready)}"
    return f"{what}: {until}{cold}."


def _stations(shop: ShopPlan, live: list[Placed]) -> list[str]:
    """Stations that hold a part through its wait."""
    found = []
    for placed in live:
        if placed.step.holds and placed.step.stations:
            named = joined([shop.names.get(name, name) for name in placed.step.stations])
            until = shop.saying.at(placed.ready) if placed.ready is not None else "somebody decides"
            found.append(f"{named}: {shop.names[placed.step.part]}, until {until}.")
    return found


def _heaters(uow: UnitOfWork, shop: ShopPlan) -> list[str]:
    found = []
    for zone in zones(uow):
        if zone.heat_c is None:
            continue
        holds = f"Heater of the {zone.name.lower()}: {show(zone.heat_c, 'temperature', shop.saying.units)}"
        day_long = zone.heat_from % 1440 == zone.heat_to % 1440
        found.append(f"{holds}{'' if day_long else f', {clock(zone.heat_from)} to {clock(zone.heat_to)}'}.")
    return found


def _first(shop: ShopPlan, night: float, opens: float) -> list[str]:
    """What is due by opening, and what each begins with."""
    say = shop.saying
    ready = [p for p in shop.plan.placed if p.cure and not p.spoilt and p.ready and night < p.ready <= opens + 60]
    checks = [
        f"{shop.names[p.step.part]}: check for “{p.step.wait_stage}”, due {say.at(p.ready or opens)}."
        for p in sorted(ready, key=lambda placed: placed.ready or 0.0)
        if p.step.wait_stage
    ]
    begins = [p for p in shop.plan.placed if p.state in ("to do", "paused") and opens <= p.begins <= opens + 30]
    return checks + [
        f"{say.at(p.begins)}, {joined([shop.names.get(name, name) for name in p.people])}: "
        f"{p.step.name.lower()}, {shop.names[p.step.part]}."
        for p in begins
        if p.people
    ]
