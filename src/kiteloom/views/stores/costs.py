"""What was spent and what is still to come, by airframe and by part; and two ways to buy or build compared."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.need.buying import Pack, cheapest
from kiteloom.core.need.pitch import over_ribs
from kiteloom.core.stores.lots import counted_in
from kiteloom.core.stores.packs import in_measure, weighs
from kiteloom.core.stores.wares import Takes, Ware
from kiteloom.store.models import DataSheet, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import amount_words, wares_ahead
from kiteloom.views.stores.order_list import money, order_list
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.ahead import takes_ahead
from kiteloom.workshop.log.work import Done
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.stores.buying import (
    currency_here,
    lines_here,
    notes_of_order,
    offers_here,
    standing_of,
    suppliers,
)


@dataclass(frozen=True)
class CostRow:
    """A part, or an airframe: what it used so far, and what its steps ahead take, at what each costs by the unit."""

    id: str
    name: str
    so_far: float
    ahead: float
    so_far_words: str
    ahead_words: str
    unknown: int
    """Of how many wares no price is known."""


@dataclass(frozen=True)
class Month:
    """What was ordered in a month, in one currency."""

    month: str
    ordered: str
    amount: float
    currency: str


@dataclass(frozen=True)
class CostsView:
    """Money: what was ordered by month, what is to be ordered, and what parts take."""

    words: str
    months: list[Month]
    airframes: list[CostRow]
    parts: list[CostRow]
    currency: str
    unpriced: list[str]
    wares: list[Choice]
    """What two products may be compared for: everything that a step ahead takes by the area or the mass."""
    products: list[Choice]
    ask: str


def costs_view(uow: UnitOfWork, now: datetime) -> CostsView:
    """What was spent and what is to come."""
    shop, currency = shop_plan(uow, minute_of(now)), currency_here(uow)
    months = _months(uow)
    if shop is None:
        ask = "Say the shop’s temperature first: what is to come follows from the plan."
        return CostsView("", months, [], [], currency, [], [], [], ask)
    prices = unit_prices(uow, currency)
    ahead = _by_part(takes_ahead(uow, shop.parts, shop.done))
    nothing = Done({}, {}, {}, {})
    whole = _by_part(takes_ahead(uow, shop.parts, nothing))
    parts = [_row(part.id, part.name, whole.get(part.id, []), ahead.get(part.id, []), prices, currency)
             for part in shop.parts.values()]  # fmt: skip
    by_id = {row.id: row for row in parts}
    airframes = []
    for project in uow.all(Project, Project.name):
        mine = [by_id[part.id] for part in uow.all(Part) if part.assembly.project_id == project.id and part.id in by_id]
        if mine:
            so_far, rest = sum(row.so_far for row in mine), sum(row.ahead for row in mine)
            airframes.append(CostRow(project.id, project.name, so_far, rest, money(so_far, currency),
                                     money(rest, currency), max(row.unknown for row in mine)))  # fmt: skip
    wares = wares_ahead(uow, shop)
    unpriced = [one.name for one in wares if one.ware.kind != "name" and one.ware not in prices]
    listed = order_list(uow, now)
    words = f"Used so far {money(sum(row.so_far for row in parts), currency)}, "
    words += f"to come {money(sum(row.ahead for row in parts), currency)}; to order today {listed.total}."
    sheets = [Choice(one.ware.key, one.name) for one in wares if one.ware.kind == "sheet"]
    alike = [Choice(sheet.id, sheet.name) for sheet in uow.all(DataSheet, DataSheet.name) if sheet.hidden_at is None]
    return CostsView(words, months, airframes, sorted(parts, key=lambda row: -row.so_far - row.ahead), currency,
                     unpriced, sheets, alike, "")  # fmt: skip


def unit_prices(uow: UnitOfWork, currency: str) -> Mapping[Ware, float]:
    """What one unit of each ware costs in a currency, in its cheapest pack by the unit."""
    sellers = {row.id: row for row in suppliers(uow)}
    found: dict[Ware, float] = {}
    for ware, offers in offers_here(uow).items():
        each = [offer.price / offer.amount for offer in offers if sellers[offer.supplier_id].currency == currency]
        if each:
            found[ware] = min(each)
    return found


def _by_part(takes: Sequence[Takes]) -> dict[str, list[Takes]]:
    found: dict[str, list[Takes]] = defaultdict(list)
    for one in takes:
        found[one.part].append(one)
    return found


def _row(
    part_id: str, name: str, whole: Sequence[Takes], ahead: Sequence[Takes], prices: Mapping[Ware, float], currency: str
) -> CostRow:
    def cost(takes: Sequence[Takes]) -> float:
        return sum(one.amount * prices[one.ware] for one in takes if one.ware in prices)

    rest = cost(ahead)
    so_far = max(cost(whole) - rest, 0.0)
    unknown = len({one.ware for one in whole if one.ware.kind != "name" and one.ware not in prices})
    return CostRow(part_id, name, so_far, rest, money(so_far, currency), money(rest, currency), unknown)


def _months(uow: UnitOfWork) -> list[Month]:
    zone, sums = zone_here(uow), defaultdict[tuple[str, str, str], float](float)
    for line in lines_here(uow):
        notes = notes_of_order(uow, line.id)
        at = next((note.happened_at for note in notes if note.kind == "ordered"), None)
        if at is None or standing_of(line, notes).state == "cancelled":
            continue
        day = moment_of(minute_of(at), zone)
        sums[f"{day:%Y-%m}", f"{day:%B %Y}", line.currency] += line.price * line.packs
    return [Month(name, money(amount, currency), amount, currency)
            for (_, name, currency), amount in sorted(sums.items(), reverse=True)]  # fmt: skip


@dataclass(frozen=True)
class TwoWays:
    """Two products for the same need: what is asked to be compared, by the sheets."""

    ware: str
    other_sheet_id: str


@dataclass(frozen=True)
class WayCost:
    """One product for all that needs it: packs, cost, left over, and what it weighs on the airframe."""

    name: str
    takes: str
    packs: str
    cost: str
    left_over: str
    weighs: str
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
    rows, grams = [], []
    for name, takes, key, weight in (
        (mine.name, one.takes, ware, of.g_m2), (other.name, amount, replace(ware, id=other.id), by.g_m2)
    ):  # fmt: skip
        rows.append(_way(uow, name, takes, key, measure, currency))
        grams.append(area * weight if area is not None and weight is not None else None)
    says = []
    if grams[0] is not None and grams[1] is not None:
        rows = [replace(row, weighs=show(value, "mass", units_of(uow))) for row, value in zip(rows, grams, strict=True)
                if value is not None]  # fmt: skip
        more = grams[1] - grams[0]
        heavier = f"{show(abs(more), 'mass', units_of(uow))} {'heavier' if more > 0 else 'lighter'}"
        says.append(f"{other.name} is {heavier} dry; resin that it takes up is not counted.")
    says.append("Hours are taken to be the same: nothing is known that would make one quicker.")
    return Compared(rows, says)


def _way(uow: UnitOfWork, name: str, takes: float, ware: Ware, measure: str, currency: str) -> WayCost:
    sellers = {row.id: row for row in suppliers(uow)}
    offers = [one for one in offers_here(uow).get(ware, ()) if sellers[one.supplier_id].currency == currency]
    said = amount_words(uow, takes, measure)
    if not offers:
        return WayCost(name, said, "", "", "", "", f"Nobody is known to sell it in {currency}.")
    bought = cheapest(takes, [Pack(one.amount, one.price, one.lead_days) for one in offers])
    packs = ", ".join(f"{count} × {one.words}" for one, count in zip(offers, bought.counts, strict=True) if count)
    over = amount_words(uow, bought.left_over, measure)
    return WayCost(name, said, packs, money(bought.cost, currency), over, "", "")


@dataclass(frozen=True)
class PitchOrder:
    """A span, how far a sheet goes along it, and pitches of ribs, as typed."""

    span: Typed
    sheet: Typed
    pitches: tuple[Typed, ...]
    rib: Typed | None = None
    """What one rib weighs, where that is known."""


@dataclass(frozen=True)
class PitchRow:
    """Ribs at one pitch."""

    pitch: str
    sheets: int
    ribs: int
    used: str
    waste: str
    ribs_weigh: str


def pitches(uow: UnitOfWork, order: PitchOrder) -> list[PitchRow]:
    """Sheets over ribs at several pitches: what is wasted, and what more ribs weigh."""
    between("pitches", len(order.pitches), 1, 12, name="the number of pitches")
    units = units_of(uow)
    span, sheet = order.span.read("length", "span"), order.sheet.read("length", "sheet")
    rib = order.rib.read("mass", "rib") if order.rib is not None and order.rib.text.strip() else None
    found = over_ribs(span, sheet, [one.read("length", "pitch") for one in order.pitches])
    return [
        PitchRow(show(one.pitch_m, "length", units), one.sheets, one.ribs, show(one.used_m, "length", units),
                 f"{one.waste_pct:.0f} %", show(one.ribs * rib, "mass", units) if rib is not None else "")
        for one in found
    ]  # fmt: skip
