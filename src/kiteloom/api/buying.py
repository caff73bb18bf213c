"""Needs, orders, items, costs, labels. Thin."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Response
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.api.mix import address_here
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores import costs, items, needs, order_list, orders, papers, two_ways
from kiteloom.workshop.base.saved import Kept, OnlyId, Saved
from kiteloom.workshop.build.item_uses import UseItem, use_item
from kiteloom.workshop.log.ahead import item_ledger
from kiteloom.workshop.log.answers import Answer, AnswerLooked, take_answer
from kiteloom.workshop.log.orders import OrderPacks, TellOrder, order_packs, put_order_away, questions, tell_order
from kiteloom.workshop.stores.buying import SayBuying, SayOffer, SaySupplier, say_buying, say_offer, say_supplier
from kiteloom.workshop.stores.items import NoteItem, SayItem, note_item, say_item
from kiteloom.workshop.stores.kit_lists import KitFile, KitLooked, take_kit_list

bp = Routes("buying", "Buying")


class OfWhat(BaseModel):
    """Of which airframe, assembly or part; how many days of it."""

    airframe: str = ""
    assembly: str = ""
    part: str = ""
    days: int = needs.DAYS


@bp.get("/needs")
@bp.asks(OfWhat)
@bp.gives(needs.NeedsView)
def read_needs(asked: OfWhat) -> needs.NeedsView:
    """What is needed when, and what of it is short."""
    with store().reading() as uow:
        return needs.needs_view(uow, now(), asked.airframe, asked.assembly, asked.part, min(max(asked.days, 1), 1000))


@bp.get("/order-list")
@bp.gives(order_list.OrderList)
def read_order_list() -> order_list.OrderList:
    """What to order today, and by when the rest."""
    with store().reading() as uow:
        return order_list.order_list(uow, now())


class PaperForm(BaseModel):
    """From whom, and as what: pdf, csv or mail."""

    supplier: str
    form: str = "pdf"


@bp.get("/order-list/file")
@bp.asks(PaperForm)
def order_paper(asked: PaperForm) -> Response:
    """What is to be ordered from one seller today, on paper, as a table, or as the text of a mail."""
    with store().reading() as uow:
        content, kind, name = papers.order_file(uow, now(), asked.supplier, asked.form)
    return file(content, kind, name, save=asked.form == "csv")


@bp.get("/orders")
@bp.gives(orders.OrdersView)
def read_orders() -> orders.OrdersView:
    """The board of orders, and who sells what."""
    with store().reading() as uow:
        return orders.orders_view(uow, now())


@dataclass(frozen=True)
class OrderAll:
    """Several lines ordered together."""

    lines: tuple[OrderPacks, ...]


@bp.post("/orders")
@bp.takes(OrderAll)
@bp.gives(Kept, 201)
def order_them(order: OrderAll) -> Kept:
    """Put packs on the list, or note that they are ordered: all of them or none."""
    kept = Kept("")
    with store().writing() as uow:
        for line in order.lines[:500]:
            kept = order_packs(uow, line, now())
    return kept


@bp.post("/orders/<line_id>/look")
@bp.takes(TellOrder)
@bp.gives(orders.ArrivalLook)
def look_at_arrival(line_id: str, order: TellOrder) -> orders.ArrivalLook:
    """What is odd about what came; nothing is kept."""
    with store().reading() as uow:
        return orders.ArrivalLook(questions(uow, line_id, order, now()))


@bp.post("/orders/<line_id>/notes")
@bp.takes(TellOrder)
@bp.gives(Kept, 201)
def tell(line_id: str, order: TellOrder) -> Kept:
    """Note what became of an order."""
    return store().after_a_look(
        lambda uow: questions(uow, line_id, order, now()),
        lambda uow, odd: tell_order(uow, line_id, order, odd, now()),
    )


@bp.post("/orders/<line_id>/away")
@bp.takes(OnlyId)
@bp.gives(Kept)
def away(line_id: str, order: OnlyId) -> Kept:  # noqa: ARG001  # a body is asked of every order
    """Take a line off the list that was never ordered."""
    with store().writing() as uow:
        return put_order_away(uow, line_id, now())


@bp.post("/orders/answers")
@bp.takes(Answer)
@bp.gives(AnswerLooked)
def answered(order: Answer) -> AnswerLooked:
    """Look at what a seller answers, or take it: the days each line comes."""
    with store().writing() if order.take else store().reading() as uow:
        return take_answer(uow, order, now())


@bp.get("/orders/answers/simulated")
@bp.asks(PaperForm)
def simulated(asked: PaperForm) -> Response:
    """What a simulated shop answers to what is on order from it."""
    with store().reading() as uow:
        text = papers.simulated_answer(uow, now(), asked.supplier)
    return file(text, "text/csv; charset=utf-8", "answer.csv")


@bp.patch("/buying")
@bp.takes(SayBuying)
@bp.gives(Kept)
def how_we_buy(order: SayBuying) -> Kept:
    """Say the currency, and how many days early."""
    with store().writing() as uow:
        return say_buying(uow, order, now())


@bp.post("/suppliers")
@bp.takes(SaySupplier)
@bp.gives(Saved)
def supplier(order: SaySupplier) -> Saved:
    """Keep who sells, or change it."""
    with store().writing() as uow:
        return say_supplier(uow, order, now())


@bp.post("/offers")
@bp.takes(SayOffer)
@bp.gives(Saved)
def offer(order: SayOffer) -> Saved:
    """Keep a pack and its price, or change it."""
    with store().writing() as uow:
        return say_offer(uow, order, now())


@bp.get("/items")
@bp.gives(items.ItemsView)
def read_items() -> items.ItemsView:
    """Every item that is not mixed."""
    with store().reading() as uow:
        return items.items_view(uow, now())


@bp.post("/items")
@bp.takes(SayItem)
@bp.gives(Saved)
def item(order: SayItem) -> Saved:
    """Keep an item, or change it."""
    with store().writing() as uow:
        return say_item(uow, order, now())


@bp.post("/items/uses")
@bp.takes(UseItem)
@bp.gives(Saved)
def item_use(order: UseItem) -> Saved:
    """Say which step takes how many."""
    with store().writing() as uow:
        return use_item(uow, order, now())


@bp.post("/items/<item_id>/notes")
@bp.takes(NoteItem)
@bp.gives(Kept, 201)
def item_note(item_id: str, order: NoteItem) -> Kept:
    """Note what was found, is missing, damaged, thrown away, used or counted."""

    def keep(uow: UnitOfWork, has: float | None) -> Kept:
        return note_item(uow, item_id, order, has, now())

    return store().after_a_look(lambda uow: item_ledger(uow, item_id).left, keep)


@bp.post("/items/lists")
@bp.takes(KitFile)
@bp.gives(KitLooked)
def kit_list(order: KitFile) -> KitLooked:
    """Look at a kit's list, or take it."""
    with store().writing() if order.take else store().reading() as uow:
        return take_kit_list(uow, order, now())


@bp.get("/costs")
@bp.gives(costs.CostsView)
def read_costs() -> costs.CostsView:
    """What was spent, and what is to come."""
    with store().reading() as uow:
        return costs.costs_view(uow, now())


@bp.post("/costs/compare")
@bp.takes(two_ways.TwoWays)
@bp.gives(two_ways.Compared)
def compare(order: two_ways.TwoWays) -> two_ways.Compared:
    """Two products for the same need."""
    with store().reading() as uow:
        return two_ways.compare(uow, order, now())


@dataclass(frozen=True)
class Pitches:
    """Ribs at several pitches."""

    rows: list[two_ways.PitchRow]


@bp.post("/costs/pitches")
@bp.takes(two_ways.PitchOrder)
@bp.gives(Pitches)
def pitches(order: two_ways.PitchOrder) -> Pitches:
    """A sheet's width against the pitch of ribs."""
    with store().reading() as uow:
        return Pitches(two_ways.pitches(uow, order))


class LabelsOf(BaseModel):
    """Labels of what: lot, remnant or part, and which, between commas."""

    kind: str
    ids: str


@bp.get("/labels")
@bp.asks(LabelsOf)
def labels(asked: LabelsOf) -> Response:
    """Labels with a code that opens what they are on, as PDF."""
    with store().reading() as uow:
        page = papers.labels(uow, address_here(), asked.kind, [one for one in asked.ids.split(",") if one])
    return file(page, "application/pdf", "labels.pdf")
