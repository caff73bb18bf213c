"""The shop itself: its zone, hours and units; and what has changed since a page last asked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from kiteloom.core.base.calendar import Shift, WorkingHours, clock, clock_minutes, zone_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.store.models import Shop, Zone
from kiteloom.store.unit_of_work import UnitOfWork

#: A year outside these was typed by mistake, or comes from a clock that was never set.
EARLIEST, LATEST = 1970, 2200
#: A shop, or somebody, has no more spells of work in a week.
MOST_SPELLS = 50


@dataclass(frozen=True)
class DayHours:
    """Working hours of one weekday (0 is Monday), ``"08:00"`` to ``"17:00"``."""

    weekday: int
    opens: str
    closes: str


def the_shop(uow: UnitOfWork) -> Shop:
    """The one shop's row."""
    return uow.get(Shop, 1)


def furnish(uow: UnitOfWork, now: datetime) -> None:
    """Give a new data folder its shop, metric, in UTC, weekdays from eight to five; and the zone every shop has."""
    if uow.session.get(Shop, 1) is None:
        hours = [{"weekday": day, "start": 8 * 60, "end": 17 * 60} for day in range(5)]
        uow.add(Shop(id=1, name="", zone="UTC", units="metric", hours=hours, closed=[], updated_at=now))
    if uow.session.get(Zone, "main shop") is None:
        uow.add(
            Zone(id="main shop", name="Main shop", rank=0, lag_h=6, gain_k=0, heat_from=0, heat_to=0, updated_at=now)
        )


def in_shop_zone(uow: UnitOfWork, moment: datetime | None, field: str = "happened_at") -> datetime | None:
    """A moment without an offset is the shop's own time; `Refused` names the field of one in another age."""
    if moment is None:
        return None
    between(field, moment.year, EARLIEST, LATEST, name="the year")
    return moment if moment.tzinfo is not None else moment.replace(tzinfo=zone_of(the_shop(uow).zone))


def units_of(uow: UnitOfWork) -> UnitSystem:
    """The unit system sentences are written in."""
    return "us" if the_shop(uow).units == "us" else "metric"


def working_hours(shop: Shop) -> WorkingHours:
    """Its hours as the core takes them."""
    closed = frozenset(date.fromisoformat(day) for day in shop.closed)
    return WorkingHours(zone_of(shop.zone), shifts_of(shop.hours), closed)


def shifts_of(rows: Iterable[dict[str, Any]]) -> tuple[Shift, ...]:
    """Kept hours, a shop's or a person's, as the core takes them."""
    return tuple(Shift(row["weekday"], row["start"], row["end"]) for row in rows)


def days_of(rows: Iterable[dict[str, Any]]) -> list[DayHours]:
    """Kept hours as a page shows them."""
    return [DayHours(row["weekday"], clock(row["start"]), clock(row["end"])) for row in rows]


def hours_typed(hours: Iterable[DayHours]) -> list[dict[str, Any]]:
    """Typed hours as they are kept; `Refused` names the day that can't be."""
    rows, hours = [], list(hours)
    if len(hours) > MOST_SPELLS:
        raise Refused("hours", f"there are {len(hours)} spells of work in the week; at most {MOST_SPELLS} are planned")
    for day in hours:
        shift = Shift(day.weekday, clock_minutes(day.opens, "hours.opens"), clock_minutes(day.closes, "hours.closes"))
        rows.append({"weekday": shift.weekday, "start": shift.start, "end": shift.end})
    return rows


@dataclass(frozen=True)
class EditShop:
    """Settings to change."""

    version: int
    units: str | None = None
    zone: str | None = None
    hours: list[DayHours] | None = None


def edit_shop(uow: UnitOfWork, order: EditShop, now: datetime) -> None:
    """Change units, zone or working hours."""
    shop, units, zone, hours = uow.get_for_edit(Shop, 1, order.version), order.units, order.zone, order.hours
    words: list[str] = []
    if units is not None and units != shop.units:
        if units not in ("metric", "us"):
            raise Refused("units", f"“{units}” is not a unit system; it is metric or us")
        words.append(f"units {shop.units} → {units}")
        shop.units = units
    if zone is not None and zone != shop.zone:
        zone_of(zone)
        words.append(f"zone {shop.zone} → {zone}")
        shop.zone = zone
    if hours is not None:
        rows = hours_typed(hours)
        if not rows:
            raise Refused("hours", "there are 0 working days; at least 1 is wanted")
        words.append("working hours")
        shop.hours = rows
    if words:
        uow.edited(shop, words, now, "shop")
