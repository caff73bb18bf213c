"""The shop itself: its zone, hours and units; and what has changed since a page last asked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, tzinfo
from typing import Any, cast

from kiteloom.core.base.calendar import Clock, Dates, Shift, WorkingHours, clock, spells, zone_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, UnitSystem
from kiteloom.store.models import Shop, Zone
from kiteloom.store.unit_of_work import UnitOfWork

#: A year outside these was typed by mistake, or comes from a clock that was never set.
EARLIEST, LATEST = 1970, 2200
#: A shop, or somebody, has no more spells of work in a week.
MOST_SPELLS = 50


def the_shop(uow: UnitOfWork) -> Shop:
    """The one shop's row."""
    return uow.once("the shop", lambda: uow.get(Shop, 1))


def furnish(uow: UnitOfWork, now: datetime) -> None:
    """Give a new data folder its shop, metric, in UTC, weekdays from eight to five; and the zone every shop has."""
    if uow.session.get(Shop, 1) is None:
        hours = [{"weekday": day, "start": 8 * 60, "end": 17 * 60} for day in range(5)]
        uow.add(Shop(id=1, name="", zone="UTC", units="metric", hours=hours, closed=[], updated_at=now))
    if uow.session.get(Zone, "main shop") is None:
        uow.add(
            Zone(id="main shop", name="Main shop", rank=0, lag_h=6, gain_k=0, heat_from=0, heat_to=0, updated_at=now)
        )


def zone_at(shop: Shop) -> tzinfo:
    """A shop's zone, and how it writes times."""
    return zone_of(shop.zone, cast(Clock, shop.clock), cast(Dates, shop.dates))


def zone_here(uow: UnitOfWork) -> tzinfo:
    """The shop's zone, and how it writes times."""
    return zone_at(the_shop(uow))


def in_shop_zone(uow: UnitOfWork, moment: datetime | None, field: str = "happened_at") -> datetime | None:
    """A moment without an offset is the shop's own time; `Refused` names the field of one in another age."""
    if moment is None:
        return None
    between(field, moment.year, EARLIEST, LATEST, name="the year")
    return moment if moment.tzinfo is not None else moment.replace(tzinfo=zone_here(uow))


def units_of(uow: UnitOfWork) -> UnitSystem:
    """The unit system sentences are written in, and what the shop's scale counts in."""
    shop = the_shop(uow)
    ounces = shop.bench.get("scale_unit") == "oz"
    if shop.units == "us":
        return "us, oz" if ounces else "us"
    return "metric, oz" if ounces else "metric"


def working_hours(shop: Shop) -> WorkingHours:
    """Its hours as the core takes them."""
    closed = frozenset(date.fromisoformat(day) for day in shop.closed)
    return WorkingHours(zone_at(shop), shifts_of(shop.hours), closed)


def shifts_of(rows: Iterable[dict[str, Any]]) -> tuple[Shift, ...]:
    """Kept hours, a shop's or a person's, as the core takes them."""
    return tuple(Shift(row["weekday"], row["start"], row["end"]) for row in rows)


def week_of(rows: Iterable[dict[str, Any]], written: str = "24") -> list[str]:
    """Kept hours as seven lines of text, Monday first, as somebody would type them."""
    days = [""] * 7
    for row in sorted(rows, key=lambda row: row["start"]):
        spell = "–".join(clock(row[end], cast(Clock, written)) for end in ("start", "end"))
        days[row["weekday"]] = f"{days[row['weekday']]}, {spell}".removeprefix(", ")
    return days


def week_typed(week: list[str]) -> list[dict[str, Any]]:
    """Seven lines of text, Monday first, as hours are kept; `Refused` names the day that can't be."""
    if len(week) != 7:
        raise Refused("week", f"there are {len(week)} days in it; a week has 7")
    shifts = [shift for day, text in enumerate(week) for shift in spells(text, day, f"week.{day}")]
    if len(shifts) > MOST_SPELLS:
        raise Refused("week", f"there are {len(shifts)} spells of work in the week; at most {MOST_SPELLS} are planned")
    return [{"weekday": shift.weekday, "start": shift.start, "end": shift.end} for shift in shifts]


#: So many closed days are kept ahead and behind.
MOST_CLOSED = 400


@dataclass(frozen=True)
class BenchFacts:
    """The shop's own scale and cups, and how high it stands, as typed: an empty text is what nobody said."""

    scale_unit: str = "g"
    scale_step: Typed | None = None
    largest_cup: Typed | None = None
    above_sea: Typed | None = None


@dataclass(frozen=True)
class EditShop:
    """Settings to change. ``week`` are the hours as seven lines of text, Monday first; ``closed`` days of no work."""

    version: int
    units: str | None = None
    zone: str | None = None
    name: str | None = None
    week: list[str] | None = None
    closed: list[date] | None = None
    bench: BenchFacts | None = None
    clock: Clock | None = None
    dates: Dates | None = None


def edit_shop(uow: UnitOfWork, order: EditShop, now: datetime) -> None:
    """Change the name, units, zone, working hours, closed days, or what the bench has."""
    shop, units, zone = uow.get_for_edit(Shop, 1, order.version), order.units, order.zone
    words: list[str] = []
    if order.name is not None and order.name.strip()[:60] != shop.name:
        shop.name = order.name.strip()[:60]
        words.append(f"name {shop.name}")
    if units is not None and units != shop.units:
        if units not in ("metric", "us"):
            raise Refused("units", f"“{units}” is not a unit system; it is metric or us")
        words.append(f"units {shop.units} → {units}")
        shop.units = units
        if order.dates is None:
            shop.dates = "month" if units == "us" else "day"
    if zone is not None and zone != shop.zone:
        zone_of(zone)
        words.append(f"zone {shop.zone} → {zone}")
        shop.zone = zone
    if order.clock is not None and order.clock != shop.clock:
        shop.clock = order.clock
        words.append(f"a clock of {order.clock} hours")
    if order.dates is not None and order.dates != shop.dates:
        shop.dates = order.dates
        words.append(f"the {order.dates} first in dates")
    if order.week is not None:
        rows = week_typed(order.week)
        if not rows:
            raise Refused("week", "there are 0 working days; at least 1 is wanted")
        words.append("working hours")
        shop.hours = rows
    if order.closed is not None:
        days = sorted({day.isoformat() for day in order.closed})
        if len(days) > MOST_CLOSED:
            raise Refused("closed", f"there are {len(days)} closed days; at most {MOST_CLOSED} are kept")
        for day in order.closed:
            between("closed", day.year, EARLIEST, LATEST, name="the year")
        if days != list(shop.closed):
            words.append("closed days")
            shop.closed = days
    if order.bench is not None:
        shop.bench = _bench_typed(order.bench)
        words.append("the scale, the largest cup and the height")
    if words:
        uow.edited(shop, words, now, "shop")


def _bench_typed(order: BenchFacts) -> dict[str, Any]:
    if order.scale_unit not in ("g", "oz"):
        raise Refused("scale_unit", f"“{order.scale_unit[:20]}” is not what a scale counts in; it is g or oz")
    found: dict[str, Any] = {"scale_unit": order.scale_unit}
    asked = (
        ("scale_step_g", order.scale_step, 0.001, 100, "the scale's step"),
        ("largest_cup_g", order.largest_cup, 20, 20_000, "the largest cup"),
    )
    for key, typed, low, high, name in asked:
        if typed is not None and typed.text.strip():
            field = key.removesuffix("_g")
            found[key] = between(field, typed.read("mass", field), low, high, unit="g", name=name)
    high_up = order.above_sea
    if high_up is not None and high_up.text.strip():
        found["above_sea_m"] = between("above_sea", high_up.read("length", "above_sea"), -500, 6000, unit="m",
                                       name="the height above the sea")  # fmt: skip
    return found


#: What of the first morning can be put off.
PUT_OFF = ("people", "stations", "air")


@dataclass(frozen=True)
class PutOff:
    """A question of the first morning to be asked later."""

    matter: str


def put_off(uow: UnitOfWork, order: PutOff, now: datetime) -> None:
    """Ask a question of the first morning later, where its answer is missed."""
    if order.matter not in PUT_OFF:
        raise Refused("matter", f"“{order.matter[:40]}” can't be put off; what can: {', '.join(PUT_OFF)}")
    shop = the_shop(uow)
    if order.matter not in shop.skipped:
        shop.skipped = [*shop.skipped, order.matter]
        uow.edited(shop, [f"{order.matter} put off"], now, "shop")
