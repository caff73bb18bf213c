"""What to order, by when: the cheapest packs that cover what is short, from whom, with their parcels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.need.buying import Bought, Line, Wanted, lines_of
from kiteloom.core.need.parcels import SOON_DAYS, Seller, Urgency, bundled, urgency
from kiteloom.core.stores.packs import packs_of
from kiteloom.store.models import Supplier
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import OfWare, amount_words, first_words, stops_words, wares_ahead, weekday_words
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.log.sold import Sold, keeps_days, sold_here
from kiteloom.workshop.log.used_up import sheets_here
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.buying import (
    ahead_days,
    currency_here,
    lines_here,
    margin_days,
    name_of,
    suppliers,
    ware_of,
)


@dataclass(frozen=True)
class PacksView:
    """So many of a pack. ``order_id`` is that of the order it makes: two who order the same make one."""

    order_id: str
    offer_id: str
    words: str
    seller: str
    count: int
    price: str


@dataclass(frozen=True)
class ToOrder:
    """One ware that is short: how much, what lacks it first, what to buy, by when."""

    ware: str
    name: str
    short: str
    first: str
    stops: str
    """How much stops without it."""
    part_id: str
    step_key: str
    packs: list[PacksView]
    cost: float
    left_over: str
    order_by: date
    order_by_words: str
    urgency: Urgency
    expected_on: date
    """When it comes, ordered today."""
    words: str
    """Why nothing can be said to buy; ``""`` where it can."""


@dataclass(frozen=True)
class FromSeller:
    """What is ordered from one seller today, with its parcel; and what could go along."""

    supplier_id: str
    name: str
    currency: str
    lines: list[ToOrder]
    goods: str
    postage: str
    total: str
    cost: float
    along: list[ToOrder]
    along_words: str


@dataclass(frozen=True)
class OrderList:
    """What to order today by seller, what is due later, and what nobody is known to sell."""

    words: str
    today: list[FromSeller]
    later: list[ToOrder]
    unsold: list[ToOrder]
    uncounted: list[str]
    total: str
    currency: str
    margin_days: int
    ahead_days: int
    ask: str


@dataclass(frozen=True)
class _Short:
    """One time of ordering a ware; ``turn`` counts those times."""

    of: OfWare
    line: Line
    sold: tuple[Sold, ...]
    turn: int


def order_list(uow: UnitOfWork, now: datetime) -> OrderList:
    """What to order, as the plan stands."""
    shop = shop_plan(uow, minute_of(now))
    currency, margin = currency_here(uow), margin_days(uow)
    if shop is None:
        ask = "Say the shop’s temperature first: days come from the plan."
        return OrderList("", [], [], [], [], "", currency, margin, ahead_days(uow), ask)
    return remembered(uow, minute_of(now), "order list", lambda: _order_list(uow, shop))


def _order_list(uow: UnitOfWork, shop: ShopPlan) -> OrderList:
    today = moment_of(shop.now, zone_here(uow)).date()
    currency, margin = currency_here(uow), margin_days(uow)
    sellers = {row.id: row for row in suppliers(uow)}
    wares = [one for one in wares_ahead(uow, shop) if one.counted and one.short > 0]
    shorts, unsold = [], []
    for one in wares:
        sold = _sold(uow, one, currency)
        if not sold:
            unsold.append(_unsold(uow, shop, one, today))
            continue
        wanted = [Wanted(lack.takes.amount, lack.by) for lack in one.lacks]
        lines = lines_of(today, wanted, [*one.there.held, *one.coming], [row.pack for row in sold], margin,
                         ahead_days(uow), keeps_days(uow, one.ware))  # fmt: skip
        shorts += [_Short(one, line, sold, turn) for turn, line in enumerate(lines)]
    due = [one for one in shorts if one.line.order_by <= today]
    later = sorted((one for one in shorts if one.line.order_by > today), key=lambda one: one.line.order_by)
    groups = _groups(uow, shop, due, later, sellers, currency, today)
    words = _words(due, later, unsold)
    total = sum(group.cost for group in groups if group.currency == currency)
    rows = [_view(uow, shop, one, one.line.bought, today) for one in later]
    blind = [one.name for one in wares_ahead(uow, shop) if one.there.uncounted]
    return OrderList(words, groups, rows, unsold, blind, money(total, currency), currency, margin, ahead_days(uow), "")


def money(amount: float, currency: str) -> str:
    """So much money."""
    return f"{amount:.2f} {currency}"


def _words(due: Sequence[_Short], later: Sequence[_Short], unsold: Sequence[ToOrder]) -> str:
    if not due and not later and not unsold:
        return "Nothing that the plan takes is short."
    late = max((one.line.late_days for one in due), default=0)
    said = f"{len(due)} to order today" if due else "Nothing to order today"
    said += f", the latest {late} {'day' if late == 1 else 'days'} late" if late else ""
    if later:
        said += f"; {len(later)} later"
    return f"{said}; {len(unsold)} that nobody is known to sell." if unsold else f"{said}."


def _sold(uow: UnitOfWork, one: OfWare, currency: str) -> tuple[Sold, ...]:
    """What can be bought of it in the shop's currency; of what is only sold in another, in the first of those."""
    rows = sold_here(uow).get(one.ware, ())
    of = {row.currency for row in rows}
    used = currency if currency in of else min(of, default="")
    return tuple(row for row in rows if row.currency == used)


def _view(uow: UnitOfWork, shop: ShopPlan, one: _Short, bought: Bought, today: date) -> ToOrder:
    measure, zone = one.of.lacks[0].takes.measure, zone_here(uow)
    sellers = {row.id: row for row in suppliers(uow)}
    first, by = next(k for k in one.of.lacks if k.short > 0 and max(k.by, today) >= one.line.first), one.line.order_by
    chosen = [(row, count) for row, count in zip(one.sold, bought.counts, strict=True) if count]
    # What was ordered of it before tells the next order from this one; two who order it from one page make one.
    alike = {ware_of(row.offer) for row in one.sold}
    made = str(sum(ware_of(line) in alike for line in lines_here(uow)))
    packs = []
    for row, count in chosen:
        offer, seller = row.offer, sellers[row.offer.supplier_id]
        key = stable_id("to order", offer.id, made, str(one.turn))
        words = offer.words if ware_of(offer) == one.of.ware else f"{offer.words} of {name_of(uow, ware_of(offer))}"
        packs.append(PacksView(key, offer.id, words, seller.name, count, money(offer.price * count, seller.currency)))
    lead = max(row.offer.lead_days for row, _ in chosen)
    late = (today - by).days
    words = f"{late} {'day' if late == 1 else 'days'} late" if late > 0 else weekday_words(by, zone)
    return ToOrder(
        one.of.ware.key, one.of.name, amount_words(uow, one.line.short, measure), first_words(uow, shop, first),
        stops_words(uow, shop, one.of), first.takes.part, first.takes.step, packs, bought.cost,
        amount_words(uow, bought.left_over, measure) if bought.left_over > 0.005 else "", by, words, urgency(by, today),
        today + timedelta(days=lead), "",
    )  # fmt: skip


def _unsold(uow: UnitOfWork, shop: ShopPlan, one: OfWare, today: date) -> ToOrder:
    measure, first = one.lacks[0].takes.measure, one.first
    assert first is not None
    words = "Nobody is known to sell it: say who does, in which packs."
    if one.ware.kind == "sheet":
        sheet = sheets_here(uow)[one.ware.id]
        named = ", ".join(amount_words(uow, pack.amount, measure) for pack in packs_of(sheet.kind, sheet.says))
        words += f" Its sheet names packs of {named}." if named else ""
    return ToOrder(one.ware.key, one.name, amount_words(uow, one.short, measure), first_words(uow, shop, first),
                   stops_words(uow, shop, one), first.takes.part, first.takes.step, [], 0.0, "", today, "", "today",
                   today, words)  # fmt: skip


def _groups(
    uow: UnitOfWork,
    shop: ShopPlan,
    due: Sequence[_Short],
    later: Sequence[_Short],
    sellers: dict[str, Supplier],
    currency: str,
    today: date,
) -> list[FromSeller]:
    """What is due by seller: all of one currency chosen together, parcels counted."""
    found: list[FromSeller] = []
    for used in sorted({one.sold[0].currency for one in due}, key=lambda c: c != currency):
        mine = [one for one in due if one.sold[0].currency == used]
        found += _of_currency(uow, shop, mine, later, sellers, used, today)
    return found


def _of_currency(
    uow: UnitOfWork,
    shop: ShopPlan,
    due: Sequence[_Short],
    later: Sequence[_Short],
    sellers: dict[str, Supplier],
    currency: str,
    today: date,
) -> list[FromSeller]:
    who = {row.id: Seller(row.id, row.postage, row.free_from) for row in sellers.values() if row.currency == currency}
    packs = [[(row.offer.supplier_id, row.pack) for row in one.sold] for one in due]
    choice = bundled([one.line.short for one in due], packs, list(who.values()))
    bought = choice.bought if choice is not None else tuple(one.line.bought for one in due)
    postage = dict(choice.postage) if choice is not None else {}
    found = []
    for key, seller in who.items():
        lines, goods = [], 0.0
        for one, its in zip(due, bought, strict=True):
            counts = tuple(
                count if row.offer.supplier_id == key else 0 for row, count in zip(one.sold, its.counts, strict=True)
            )
            if any(counts):
                cost = sum(row.offer.price * count for row, count in zip(one.sold, counts, strict=True))
                lines.append(_view(uow, shop, one, Bought(counts, cost, its.left_over), today))
                goods += cost
        if not lines:
            continue
        along = [
            _view(uow, shop, one, one.line.bought, today)
            for one in later
            if urgency(one.line.order_by, today) == "soon"
            and all(
                row.offer.supplier_id == key
                for row, count in zip(one.sold, one.line.bought.counts, strict=True) if count
            )
        ]  # fmt: skip
        more = sum(line.cost for line in along)
        parcel = postage.get(key, seller.parcel(goods))
        saves = seller.parcel(more) + parcel - seller.parcel(goods + more)
        words = f"Due within {SOON_DAYS} days." if along else ""
        if along and saves > 0:
            words = f"Due within {SOON_DAYS} days, and in one parcel it saves {money(saves, currency)} of postage."
        found.append(
            FromSeller(key, sellers[key].name, currency, lines, money(goods, currency),
                       money(parcel, currency) if parcel else "free", money(goods + parcel, currency), goods + parcel,
                       along, words)
        )  # fmt: skip
    return found


def of_seller(uow: UnitOfWork, now: datetime, supplier_id: str) -> FromSeller:
    """What is ordered from one seller today; `Refused` where nothing is."""
    for group in order_list(uow, now).today:
        if group.supplier_id == supplier_id:
            return group
    raise Refused("supplier_id", f"nothing is to be ordered from {uow.get(Supplier, supplier_id).name} today")
