"""Two ways to buy or build side by side: two products for one need, sheets over ribs at several pitches."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, format_of, show
from kiteloom.core.need.buying import Pack, cheapest
from kiteloom.core.need.pitch import over_ribs
from kiteloom.core.stores.lots import counted_in
from kiteloom.core.stores.packs import in_measure, weighs
from kiteloom.core.stores.wares import Ware
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import amount_words, wares_ahead
from kiteloom.views.stores.order_list import money
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.stores.buying import currency_here, offers_here, suppliers


@dataclass(frozen=True)
class TwoWays:
    """Two products for the same need: what is asked to be compared, by the sheets."""

    ware: str
    other_sheet_id: str
    takes_min: Typed | None = None
    """How long the work with the first takes: each of the shop's unit of area, else of mass, length, or a piece."""
    other_min: Typed | None = None


@dataclass(frozen=True)
class WayCost:
    """One product for all that needs it: packs, cost, left over, and what it weighs on the airframe."""

    name: str
    takes: str
    packs: str
    cost: str
    left_over: str
    weighs: str
    hours: str
    words: str


@dataclass(frozen=True)
class Compared:
    """Two ways side by side, and what speaks for which."""

    ways: list[WayCost]
    says: list[str]


def compare(uow: UnitOfWork, order: TwoWays, now: datetime) -> Compared:
    """Two products for everything that needs the one: by the area they cover, or by the mass that is mixed."""
    ware, currency = Ware.of(order.ware), currency_here(uow)
    shop = shop_plan(uow, minute_of(now))
    one = next((row for row in wares_ahead(uow, shop) if row.ware == ware), None) if shop is not None else None
    if one is None or ware.kind != "sheet":
        raise Refused("ware", "nothing ahead takes that")
    mine, other = uow.get(DataSheet, ware.id), uow.get(DataSheet, order.other_sheet_id)
    if mine.kind != other.kind or counted_in(mine.says, mine.kind) != counted_in(other.says, other.kind):
        raise Refused("other_sheet_id", f"{other.name} is a {other.kind}; a {mine.kind} is wanted")
    of, by = weighs(mine.kind, mine.says), weighs(other.kind, other.says)
    measure = counted_in(mine.says, mine.kind)
    area = one.takes / of.g_m2 if measure == "mass" and of.g_m2 else None
    if area is None and measure == "run" and of.width_m:
        area = one.takes * of.width_m
    amount = one.takes if area is None else in_measure(area, "area", measure, by)
    if amount is None:
        raise Refused("other_sheet_id", f"the sheet of {other.name} does not say how much of it covers the same")
    rows, grams, hours = [], [], []
    for name, takes, key, weight, each, field in (
        (mine.name, one.takes, ware, of.g_m2, order.takes_min, "takes_min"),
        (other.name, amount, replace(ware, id=other.id), by.g_m2, order.other_min, "other_min"),
    ):
        rows.append(_way(uow, name, takes, key, measure, currency))
        grams.append(area * weight if area is not None and weight is not None else None)
        kind = measure if area is None else "area"
        hours.append(_hours(uow, takes if area is None else area, kind, each, field))
    says = []
    if grams[0] is not None and grams[1] is not None:
        rows = [replace(row, weighs=show(value, "mass", units_of(uow))) for row, value in zip(rows, grams, strict=True)
                if value is not None]  # fmt: skip
        more = grams[1] - grams[0]
        heavier = f"{show(abs(more), 'mass', units_of(uow))} {'heavier' if more > 0 else 'lighter'}"
        says.append(f"{other.name} is {heavier} dry; resin that it takes up is not counted.")
    rows = [
        replace(row, hours="" if value is None else f"{value:.1f} h") for row, value in zip(rows, hours, strict=True)
    ]
    if hours[0] is not None and hours[1] is not None:
        more_h = hours[1] - hours[0]
        says.append(f"{other.name} takes {abs(more_h):.1f} h {'more' if more_h > 0 else 'less'} by hand.")
    return Compared(rows, says)


def _hours(uow: UnitOfWork, work: float, kind: str, each: Typed | None, field: str) -> float | None:
    """How long the work takes at so long for each of the shop's unit of it [h]; None where that was not said."""
    if each is None or not each.text.strip():
        return None
    said = None if kind == "count" else format_of(kind, units_of(uow))
    factor = 1.0 if said is None else (said.large or said).factor
    minutes = between(field, each.read("time", field), 0, 10_000, unit="min", name="the work with it")
    return work * factor * minutes / 60


def _way(uow: UnitOfWork, name: str, takes: float, ware: Ware, measure: str, currency: str) -> WayCost:
    currencies = {row.id: row.currency for row in suppliers(uow)}
    sold = [one for one in offers_here(uow).get(ware, ()) if currencies[one.supplier_id] == currency]
    said = amount_words(uow, takes, measure)
    if not sold:
        return WayCost(name, said, "", "", "", "", "", f"Nobody is known to sell it in {currency}.")
    bought = cheapest(takes, [Pack(one.amount, one.price, one.lead_days) for one in sold])
    packs = ", ".join(f"{count} × {one.words}" for one, count in zip(sold, bought.counts, strict=True) if count)
    over = amount_words(uow, bought.left_over, measure)
    return WayCost(name, said, packs, money(bought.cost, currency), over, "", "", "")


@dataclass(frozen=True)
class PitchOrder:
    """A span, how far a sheet goes along it, and pitches of ribs, as typed."""

    span: Typed
    sheet: Typed
    pitches: tuple[Typed, ...]
    rib: Typed | None = None
    """What one rib weighs, where that is known."""
    rib_min: Typed | None = None
    """How long one rib takes to make and fit."""
    joint_min: Typed | None = None
    """How long one joint of two sheets takes."""
    price: Typed | None = None
    """Of one sheet, in the shop's currency."""


@dataclass(frozen=True)
class PitchRow:
    """Ribs at one pitch."""

    pitch: str
    sheets: int
    ribs: int
    used: str
    waste: str
    ribs_weigh: str
    hours: str
    cost: str


def pitches(uow: UnitOfWork, order: PitchOrder) -> list[PitchRow]:
    """Sheets over ribs at several pitches: what is wasted, and what more ribs weigh."""
    between("pitches", len(order.pitches), 1, 12, name="the number of pitches")
    units = units_of(uow)
    span, sheet = order.span.read("length", "span"), order.sheet.read("length", "sheet")
    rib = _typed(order.rib, "mass", "rib")
    rib_min, joint_min = _typed(order.rib_min, "time", "rib_min"), _typed(order.joint_min, "time", "joint_min")
    price = _typed(order.price, "number", "price")
    found = over_ribs(span, sheet, [one.read("length", "pitch") for one in order.pitches])
    return [
        PitchRow(show(one.pitch_m, "length", units), one.sheets, one.ribs, show(one.used_m, "length", units),
                 f"{one.waste_pct:.0f} %", show(one.ribs * rib, "mass", units) if rib is not None else "",
                 f"{one.hours(rib_min or 0, joint_min or 0):.1f} h" if rib_min or joint_min else "",
                 money(one.sheets * price, currency_here(uow)) if price is not None else "")
        for one in found
    ]  # fmt: skip


def _typed(typed: Typed | None, dimension: str, field: str) -> float | None:
    """A value that may be left out."""
    if typed is None or not typed.text.strip():
        return None
    return between(field, typed.read(dimension, field), 0, 1e7, name=field.replace("_", " "))
