"""Who sells what at which price, what is on order, and how the shop buys."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import text

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.stores.lots import Measure, counted_in
from kiteloom.core.stores.orders import Standing, standing
from kiteloom.core.stores.wares import Ware
from kiteloom.store.models import DataSheet, Item, Offer, OrderLine, OrderNote, Shop, Supplier
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import the_shop, zone_here
from kiteloom.workshop.stores.lots import MEASURES

#: Of a shop that did not say: its currency, how many days sooner than by its lead something is ordered, and for how
#: many days what is wanted is bought at once.
CURRENCY, MARGIN_DAYS, AHEAD_DAYS = "EUR", 2, 90
#: The longest name.
LONGEST = 120


def currency_here(uow: UnitOfWork) -> str:
    """The currency in which ways to buy are compared."""
    found: str = the_shop(uow).planning.get("currency", CURRENCY)
    return found


def margin_days(uow: UnitOfWork) -> int:
    """So many days sooner than by its lead something is ordered."""
    found: int = the_shop(uow).planning.get("margin_days", MARGIN_DAYS)
    return found


def ahead_days(uow: UnitOfWork) -> int:
    """What is wanted within so many days of the first that lacks it is bought at once."""
    found: int = the_shop(uow).planning.get("ahead_days", AHEAD_DAYS)
    return found


@dataclass(frozen=True)
class SayBuying:
    """The shop's currency, how many days sooner than by its lead alone it orders, and for how many days at once."""

    version: int
    currency: str
    margin_days: int
    ahead_days: int = AHEAD_DAYS


def say_buying(uow: UnitOfWork, order: SayBuying, now: datetime) -> Kept:
    """Say how the shop buys."""
    shop = uow.get_for_edit(Shop, 1, order.version)
    currency = _currency(order.currency)
    between("margin_days", order.margin_days, 0, 90, unit="days", name="the margin")
    between("ahead_days", order.ahead_days, 1, 1000, unit="days", name="what is bought at once")
    said = {"currency": currency, "margin_days": order.margin_days, "ahead_days": order.ahead_days}
    shop.planning = {**shop.planning, **said}
    words = f"buys in {currency}, {order.margin_days} days early, for {order.ahead_days} days at once"
    uow.edited(shop, [words], now, "shop")
    return Kept("1")


def _currency(typed: str) -> str:
    currency = typed.strip().upper()
    if len(currency) != 3 or not currency.isascii() or not currency.isalpha():
        raise Refused("currency", f"“{typed[:20]}” is not a currency; it has three letters, like {CURRENCY}")
    return currency


@dataclass(frozen=True)
class SaySupplier:
    """Somebody who sells. ``version`` 0 is a new one; the client makes its id."""

    id: str
    version: int
    name: str
    currency: str
    postage: Typed
    free_from: Typed | None = None


def say_supplier(uow: UnitOfWork, order: SaySupplier, now: datetime) -> Saved:
    """Keep a supplier, or change one."""
    known = uow.session.get(Supplier, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name, currency = _named(order.name), _currency(order.currency)
    if any(row.name.casefold() == name.casefold() and row.id != order.id for row in suppliers(uow)):
        raise Refused("name", f"{name} is there already")
    postage = _money(order.postage, "postage")
    free = order.free_from
    free_from = _money(free, "free_from") if free is not None and free.text.strip() else None
    if known is None:
        uow.add(Supplier(id=order.id, name=name, currency=currency, postage=postage, free_from=free_from,
                         updated_at=now))  # fmt: skip
        uow.changed("order", order.id)
        return Saved(1)
    row = uow.get_for_edit(Supplier, order.id, order.version)
    if currency != row.currency and any(line.supplier_id == row.id for line in lines_here(uow)):
        raise Refused("currency", f"{row.name} has orders in {row.currency}; name a second one for {currency}")
    row.name, row.currency, row.postage, row.free_from = name, currency, postage, free_from
    uow.edited(row, [f"{name}: postage {postage:g} {currency}"], now, "order")
    return Saved(row.version)


def _money(typed: Typed, field: str) -> float:
    return between(field, typed.read("number", field), 0, 1e7, name=field.replace("_", " "))


def _named(text_: str) -> str:
    name = " ".join(text_.split())
    if not name or len(name) > LONGEST:
        raise Refused("name", f"the name has {len(name)} letters; it has 1 to {LONGEST}")
    return name


def suppliers(uow: UnitOfWork) -> list[Supplier]:
    """Everybody who sells, by name."""
    return [row for row in uow.once("suppliers", lambda: uow.all(Supplier, Supplier.name)) if row.hidden_at is None]


def ware_of(row: Offer | OrderLine) -> Ware:
    """What an offer, or an order, is of."""
    if row.item_id is not None:
        return Ware("item", row.item_id)
    return Ware("sheet", row.data_sheet_id or "", row.component)


def measure_of(uow: UnitOfWork, ware: Ware) -> Measure:
    """What a ware is counted in."""
    if ware.kind != "sheet":
        return "count"
    sheet = uow.get(DataSheet, ware.id)
    return counted_in(sheet.says, sheet.kind)


def name_of(uow: UnitOfWork, ware: Ware) -> str:
    """What a ware is called now, with its component where it is one."""
    if ware.kind == "name":
        return ware.id
    if ware.kind == "item":
        item = uow.get(Item, ware.id)
        return item.name
    name = uow.get(DataSheet, ware.id).name
    return name if ware.component == "both" else f"{name}, {ware.component}"


@dataclass(frozen=True)
class SayOffer:
    """A pack of a ware, as a supplier has it today. ``version`` 0 is a new one; the client makes its id."""

    id: str
    version: int
    supplier_id: str
    ware: str
    words: str
    amount: Typed
    price: Typed
    lead_days: int
    away: bool = False


def say_offer(uow: UnitOfWork, order: SayOffer, now: datetime) -> Saved:
    """Keep an offer, or change it: its price is that of today."""
    known = uow.session.get(Offer, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    ware, supplier = Ware.of(order.ware), uow.get(Supplier, order.supplier_id)
    dimension, unit, most = MEASURES[measure_of(uow, ware)]
    amount = between("amount", order.amount.read(dimension, "amount"), 0, most, unit=unit, open_low=True, name="a pack")
    price = _money(order.price, "price")
    between("lead_days", order.lead_days, 0, 730, unit="days", name="the days until it comes")
    today = now.astimezone(zone_here(uow)).date()
    words = " ".join(order.words.split())[:60] or f"{amount:g} {unit}".strip()
    if known is None:
        uow.add(Offer(id=order.id, supplier_id=supplier.id, component=ware.component, words=words, amount=amount,
                      data_sheet_id=ware.id if ware.kind == "sheet" else None,
                      item_id=ware.id if ware.kind == "item" else None, price=price, lead_days=order.lead_days,
                      seen_on=today, updated_at=now))  # fmt: skip
        uow.changed("order", order.id)
        return Saved(1)
    row = uow.get_for_edit(Offer, order.id, order.version)
    row.words, row.amount, row.price, row.lead_days, row.seen_on = words, amount, price, order.lead_days, today
    row.hidden_at = now if order.away else None
    uow.edited(row, [f"{words} at {price:g} {supplier.currency}"], now, "order")
    return Saved(row.version)


def offers_here(uow: UnitOfWork) -> Mapping[Ware, list[Offer]]:
    """Everything that can be bought, by what it is."""

    def read() -> dict[Ware, list[Offer]]:
        found: dict[Ware, list[Offer]] = defaultdict(list)
        there = {row.id for row in suppliers(uow)}
        for row in uow.all(Offer, Offer.words):
            if row.hidden_at is None and row.supplier_id in there:
                found[ware_of(row)].append(row)
        return found

    return uow.once("offers", read)


def lines_here(uow: UnitOfWork) -> Sequence[OrderLine]:
    """Every line of an order that was not put away, oldest first."""

    def read() -> list[OrderLine]:
        return [row for row in uow.all(OrderLine, text("order_line.rowid")) if row.hidden_at is None]

    return uow.once("order lines", read)


def notes_of_order(uow: UnitOfWork, line_id: str) -> Sequence[OrderNote]:
    """What became of an order, in the order it was written down."""

    def read() -> dict[str, list[OrderNote]]:
        found: dict[str, list[OrderNote]] = defaultdict(list)
        for row in uow.all(OrderNote, text("order_note.rowid")):
            found[row.order_line_id].append(row)
        return found

    return uow.once("order notes", read).get(line_id, ())


def standing_of(line: OrderLine, notes: Sequence[OrderNote]) -> Standing:
    """How an order stands, by what became of it."""
    return standing(line.packs, [(note.kind, note.packs) for note in notes])


def to_come(uow: UnitOfWork) -> list[tuple[OrderLine, int]]:
    """What is on order, and how many packs of it are still to come."""
    found = [(line, standing_of(line, notes_of_order(uow, line.id)).to_come) for line in lines_here(uow)]
    return [(line, packs) for line, packs in found if packs]
