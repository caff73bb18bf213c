"""Closing down: what runs overnight, what must stay on, and what is looked at first when the shop opens."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import moment_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.alarms import to_check
from kiteloom.core.plan.night import SOON_MIN, begins_first, coldest, due_by_opening, overnight
from kiteloom.core.plan.placed import Placed
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.keeping import moved_tonight
from kiteloom.workshop.air.climate import MAIN, zones
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Closing:
    """A list to walk through before the lights go out. ``soon``: the shop closes within the hour, or is closed."""

    words: str
    soon: bool
    before: list[str]
    """Work that was begun: to be finished, or laid aside; and what stands where it gets too cold, or too warm."""
    runs: list[str]
    stays_on: list[str]
    first: list[str]


def closing_of(uow: UnitOfWork, shop: ShopPlan, closes: float | None, opens: float | None) -> Closing | None:
    """What holds over the night that comes, or that it is; None where the shop has no hours ahead."""
    if opens is None:
        return None
    say, night = shop.saying, closes if closes is not None else shop.now
    words = f"The shop closes {say.at(closes)} and opens {say.at(opens)}." if closes else f"It opens {say.at(opens)}."
    live = overnight(shop.plan, shop.now, night)
    soon = closes is None or closes - shop.now <= SOON_MIN
    return Closing(
        words,
        soon,
        [
            f"{placed.step.name}, {shop.names[placed.step.part]}: finish it, or lay it aside."
            for placed in shop.plan.placed
            if placed.state == "running"
        ]
        + moved_tonight(uow, moment_of(shop.now), {MAIN: shop.air, **shop.airs}),
        [_runs(shop, placed) for placed in live],
        [*_stations(shop, live), *_heaters(uow, shop)],
        _first(shop, night, opens, unread=soon),
    )


def _runs(shop: ShopPlan, placed: Placed) -> str:
    say, stage = shop.saying, placed.step.wait_stage
    what = f"{shop.names[placed.step.part]}, {placed.step.name.lower()}"
    if placed.spoilt:
        return f"{what}: out of its ratio or marked bad; no hour holds for it."
    if placed.ready is None:
        return f"{what}: does not reach “{stage}” at these temperatures."
    lowest = coldest(shop.plan, placed, shop.now)
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
        first, last = (shop.saying.clock(minutes) for minutes in (zone.heat_from, zone.heat_to))
        found.append(f"{holds}{'' if day_long else f', {first} to {last}'}.")
    return found


def _first(shop: ShopPlan, night: float, opens: float, *, unread: bool) -> list[str]:
    """What nobody has looked at yet, what is due by opening, and what each begins with."""
    say, names = shop.saying, shop.names
    overdue = to_check(shop.plan, shop.releases, shop.now) if unread else []
    checks = [(check.placed, f"due since {say.at(check.since)}") for check in overdue]
    checks += [(p, f"due {say.at(p.ready or opens)}") for p in due_by_opening(shop.plan, night, opens)]
    return [f"{names[p.step.part]}: check for “{p.step.wait_stage}”, {when}." for p, when in checks] + [
        f"{say.at(p.begins)}, {joined([names.get(name, name) for name in p.people])}: "
        f"{p.step.name.lower()}, {names[p.step.part]}."
        for p in begins_first(shop.plan, opens)
    ]
