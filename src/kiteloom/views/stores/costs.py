"""What was spent and what is still to come, by airframe and by part; and two ways to buy or build compared."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.stores.wares import Takes, Ware
from kiteloom.store.models import DataSheet, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import wares_ahead
from kiteloom.views.stores.order_list import money, order_list
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.log.ahead import takes_ahead
from kiteloom.workshop.log.sold import paid_prices, unit_prices
from kiteloom.workshop.log.work import Done
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.stores.buying import (
    currency_here,
    lines_here,
    notes_of_order,
    standing_of,
)


@dataclass(frozen=True)
class CostRow:
    """A part, or an airframe: what it used so far at what was paid, and what its steps ahead take at today's prices."""

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
    prices, paid = unit_prices(uow, currency), paid_prices(uow, currency)
    ahead = _by_part(takes_ahead(uow, shop.parts, shop.done))
    nothing = Done({}, {}, {}, {})
    whole = _by_part(takes_ahead(uow, shop.parts, nothing))
    parts = [_row(part.id, part.name, whole.get(part.id, []), ahead.get(part.id, []), prices, paid, currency)
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


def _by_part(takes: Sequence[Takes]) -> dict[str, list[Takes]]:
    found: dict[str, list[Takes]] = defaultdict(list)
    for one in takes:
        found[one.part].append(one)
    return found


def _row(
    part_id: str,
    name: str,
    whole: Sequence[Takes],
    ahead: Sequence[Takes],
    prices: Mapping[Ware, float],
    paid: Mapping[Ware, float],
    currency: str,
) -> CostRow:
    used = defaultdict[Ware, float](float)
    for sign, takes in ((1, whole), (-1, ahead)):
        for one in takes:
            used[one.ware] += sign * one.amount
    rest = sum(one.amount * prices.get(one.ware, 0.0) for one in ahead)
    # What floating point leaves over of what is all still to come is nothing.
    so_far = sum(amount * paid.get(ware, prices.get(ware, 0.0)) for ware, amount in used.items() if amount > 1e-6)
    unknown = len(
        {one.ware for one in whole if one.ware.kind != "name" and one.ware not in prices and one.ware not in paid}
    )
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
