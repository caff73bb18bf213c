"""Orders as they stand, who sells what, and arrivals that are looked at."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import asked_of, number_text
from kiteloom.core.base.quantities import format_of
from kiteloom.core.stores.arrivals import Looks
from kiteloom.core.stores.lots import Measure
from kiteloom.core.stores.orders import State
from kiteloom.core.stores.wares import Ware
from kiteloom.store.models import CrewMember, OrderLine, Shop, Supplier
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import amount_words, weekday_words
from kiteloom.views.stores.order_list import money
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.stores.buying import (
    ahead_days,
    currency_here,
    lines_here,
    margin_days,
    measure_of,
    name_of,
    notes_of_order,
    offers_here,
    standing_of,
    suppliers,
    ware_of,
)
from kiteloom.workshop.stores.items import items_here
from kiteloom.workshop.stores.lots import MEASURES
from kiteloom.workshop.stores.shelf import on_shelf

#: In this order they ask for somebody.
_STATES: tuple[State, ...] = ("to order", "part received", "ordered", "wrong", "received", "cancelled")


@dataclass(frozen=True)
class AskedView:
    """One thing that may be read off a bag."""

    field: str
    label: str
    unit: str
    choices: tuple[str, ...]


@dataclass(frozen=True)
class OrderRow:
    """One order: what, from whom, how it stands and what became of it, in words."""

    id: str
    ware: str
    name: str
    """What was ordered, by its name of that day; and what it is called now, where that is another."""
    supplier_id: str
    supplier: str
    packs: str
    price: str
    state: State
    received: int
    wrong: int
    to_come: int
    noted: int
    """How many packs were noted so far: a page that is older is asked whether it means another parcel."""
    expected_on: date | None
    words: str
    overdue: bool
    is_item: bool
    measure: Measure
    each: str
    """What a pack of it holds, as it was ordered."""
    history: list[str]


@dataclass(frozen=True)
class OfferRow:
    """A pack that is sold, as text to edit."""

    id: str
    version: int
    ware: str
    name: str
    words: str
    amount: str
    measure: Measure
    price: str
    lead_days: int
    seen: str


@dataclass(frozen=True)
class SellerRow:
    """Somebody who sells."""

    id: str
    version: int
    name: str
    currency: str
    postage: str
    free_from: str
    offers: list[OfferRow]


@dataclass(frozen=True)
class WareChoice:
    """Something that can be sold: what it is, and what it is counted in."""

    id: str
    name: str
    measure: Measure


@dataclass(frozen=True)
class OrdersView:
    """The board of orders: to order, ordered, part received, wrong, received, cancelled."""

    orders: list[OrderRow]
    sellers: list[SellerRow]
    wares: list[WareChoice]
    people: list[Choice]
    asked: list[AskedView]
    currency: str
    margin_days: int
    ahead_days: int
    shop_version: int


def orders_view(uow: UnitOfWork, now: datetime) -> OrdersView:
    """Every order, what asks for somebody leading."""
    rows = [_row(uow, line, now) for line in reversed(lines_here(uow))]
    rows.sort(key=lambda row: (_STATES.index(row.state), row.expected_on or date.max))
    units = units_of(uow)
    asked = [
        AskedView(name, one.label, one.unit_for(units), tuple(choice for choice in one.choices if choice))
        for name, (one, _) in asked_of(Looks).items()
    ]
    people = [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
    shop = uow.get(Shop, 1)
    return OrdersView(rows, [_seller(uow, row) for row in suppliers(uow)], _wares(uow), people, asked,
                      currency_here(uow), margin_days(uow), ahead_days(uow), shop.version)  # fmt: skip


def _wares(uow: UnitOfWork) -> list[WareChoice]:
    found = []
    for sheet in on_shelf(uow):
        mixed = any(sheet.says.get(name) for name in ("ratio", "ratio_by_volume", "range_pct"))
        for component in ("both", "resin", "hardener") if mixed else ("both",):
            ware = Ware("sheet", sheet.id, component)
            found.append(WareChoice(ware.key, name_of(uow, ware), measure_of(uow, ware)))
    found += [WareChoice(Ware("item", item.id).key, item.name, "count") for item in items_here(uow)]
    return sorted(found, key=lambda one: one.name)


def _row(uow: UnitOfWork, line: OrderLine, now: datetime) -> OrderRow:
    notes, zone = notes_of_order(uow, line.id), zone_here(uow)
    stands, ware = standing_of(line, notes), ware_of(line)
    measure = measure_of(uow, ware)
    today = now.astimezone(zone).date()
    named = name_of(uow, ware)
    name = line.name if named == line.name else f"{line.name}, now called {named}"
    overdue = stands.to_come > 0 and line.expected_on is not None and line.expected_on < today
    words = _words(line, stands.state, stands.received, stands.wrong, stands.to_come)
    if stands.to_come and line.expected_on is not None:
        day = weekday_words(line.expected_on, zone)
        words += f", awaited {day}" if not overdue else f", awaited since {day}: overdue"
    people = {row.id: row.name for row in uow.once("crew", lambda: uow.all(CrewMember))}
    history = []
    for note in notes:
        who = f", {people[note.crew_member_id]}" if note.crew_member_id in people else ""
        many = f"{note.packs} " if note.packs else ""
        said = f": {note.note}" if note.note else ""
        history.append(f"{when(minute_of(note.happened_at), zone, minute_of(now))}{who}: {many}{note.kind}{said}")
    return OrderRow(
        line.id, ware.key, name, line.supplier_id, uow.get(Supplier, line.supplier_id).name,
        f"{line.packs} × {line.words}", money(line.price * line.packs, line.currency), stands.state, stands.received,
        stands.wrong, stands.to_come, stands.received + stands.wrong, line.expected_on, words, overdue,
        line.item_id is not None, measure, amount_words(uow, line.amount, measure), history,
    )  # fmt: skip


def _words(line: OrderLine, state: State, received: int, wrong: int, to_come: int) -> str:
    if state in ("to order", "cancelled"):
        return state
    if not (received or wrong):
        return "ordered"
    said = ((received, f"of {line.packs} came"), (wrong, "wrong"), (to_come, "to come"))
    what = ", ".join(f"{many} {words}" for many, words in said if many)
    return f"{what}: its need is open again" if wrong and not to_come else what


def _seller(uow: UnitOfWork, row: Supplier) -> SellerRow:
    zone = zone_here(uow)
    offers = []
    for ware, rows in offers_here(uow).items():
        for offer in rows:
            if offer.supplier_id == row.id:
                measure = measure_of(uow, ware)
                offers.append(OfferRow(
                    offer.id, offer.version, ware.key, name_of(uow, ware), offer.words,
                    _to_edit(uow, offer.amount, measure), measure, f"{offer.price:.2f}", offer.lead_days,
                    weekday_words(offer.seen_on, zone),
                ))  # fmt: skip
    offers.sort(key=lambda offer: (offer.name, offer.words))
    free = f"{row.free_from:.2f}" if row.free_from is not None else ""
    return SellerRow(row.id, row.version, row.name, row.currency, f"{row.postage:.2f}", free, offers)


def _to_edit(uow: UnitOfWork, amount: float, measure: Measure) -> str:
    """An amount as it is typed: kept again it is the same."""
    dimension, _, _ = MEASURES[measure]
    unit = "" if measure == "count" else format_of(measure, units_of(uow)).unit
    return number_text(amount, dimension, unit, 9)


@dataclass(frozen=True)
class ArrivalLook:
    """What is odd about what came; nothing is kept."""

    odd: list[str]
