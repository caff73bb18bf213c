"""Orders: put on the list, ordered, received, wrong, cancelled; what came is questioned by what the steps need."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.calendar import day_words, minute_of, when
from kiteloom.core.base.fields import read
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.stores.arrivals import Looks, arrived, holds
from kiteloom.store.models import CrewMember, Item, Lot, Offer, OrderLine, OrderNote, Supplier
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import built_part, built_parts
from kiteloom.workshop.log.ahead import on_the_way, takes_ahead, there_of
from kiteloom.workshop.log.work import done_so_far
from kiteloom.workshop.stores.buying import (
    measure_of,
    name_of,
    notes_of_order,
    standing_of,
    ware_of,
)
from kiteloom.workshop.stores.items import looks_of, uses_of_items
from kiteloom.workshop.stores.lots import MEASURES, ReceiveLot, receive_lot

Became = Literal["ordered", "received", "wrong", "cancelled"]
MOST_PACKS = 10_000


@dataclass(frozen=True)
class OrderPacks:
    """So many packs of an offer, on the list of what is to be ordered; ``ordered`` where they were ordered at once.

    The client makes the id, so a retry adds nothing.
    """

    id: str
    offer_id: str
    packs: int
    ordered: bool = False
    expected_on: date | None = None


def order_packs(uow: UnitOfWork, order: OrderPacks, now: datetime) -> Kept:
    """Put packs on the list, or note that they are ordered."""
    if uow.kept_already(OrderLine, order.id, packs=order.packs) is not None:
        return Kept(order.id)
    offer = uow.get(Offer, order.offer_id)
    supplier, ware = uow.get(Supplier, offer.supplier_id), ware_of(offer)
    between("packs", order.packs, 0, MOST_PACKS, open_low=True, name="the number of packs")
    if offer.hidden_at is not None:
        raise Refused("offer_id", f"{supplier.name} does not sell that any more")
    line = OrderLine(id=order.id, supplier_id=supplier.id, data_sheet_id=offer.data_sheet_id, item_id=offer.item_id,
                     component=offer.component, name=name_of(uow, ware), words=offer.words, amount=offer.amount,
                     packs=order.packs, price=offer.price, currency=supplier.currency, expected_on=None,
                     updated_at=now)  # fmt: skip
    uow.add(line)
    if order.ordered:
        day = order.expected_on or now.astimezone(zone_here(uow)).date() + timedelta(days=offer.lead_days)
        _ordered(uow, line, TellOrder(stable_id("ordered", order.id), "ordered", expected_on=day), now)
    uow.changed("order", line.id)
    return Kept(line.id)


@dataclass(frozen=True)
class TellOrder:
    """What became of an order: ordered, awaited on another day, so many packs received, so many wrong, or cancelled.

    ``texts`` are what is read off the bag; ``known`` how many packs had come when the page was read; ``sure`` that it
    is right although it looks odd.
    """

    id: str
    kind: Became
    packs: int = 0
    expected_on: date | None = None
    note: str = ""
    crew_member_id: str | None = None
    texts: dict[str, str] = field(default_factory=dict)
    lot_number: str = ""
    expires_on: date | None = None
    known: int | None = None
    sure: bool = False
    each: Typed | None = None
    """What each pack holds, where somebody weighed, measured or counted it."""


def questions(uow: UnitOfWork, line_id: str, order: TellOrder, now: datetime) -> list[str]:
    """What is odd about what came, by what was ordered and what the steps need; nothing is kept."""
    line = uow.get(OrderLine, line_id)
    if order.kind != "received" or uow.session.get(OrderNote, order.id) is not None:
        return []
    units, stands = units_of(uow), standing_of(line, notes_of_order(uow, line_id))
    found: list[str] = []
    if order.known is not None and order.known != stands.received + stands.wrong:
        last = notes_of_order(uow, line_id)[-1]
        by = f", by {uow.get(CrewMember, last.crew_member_id).name}" if last.crew_member_id else ""
        at = when(minute_of(last.happened_at), zone_here(uow), minute_of(now))
        found.append(f"{last.packs} of it were noted meanwhile ({last.kind} {at}{by}). Is this another parcel?")
    if order.packs > stands.to_come:
        found.append(f"{order.packs} came, and {stands.to_come} were still to come.")
    if line.item_id is not None:
        item = uow.get(Item, line.item_id)
        stacks = [
            (built_part(uow, use.part_id).step(use.step_key).name, use.stack_mm)
            for use in uses_of_items(uow)
            if use.item_id == item.id and use.stack_mm is not None
        ]
        bag = Looks(**read(Looks, {key: value for key, value in order.texts.items() if value.strip()}, units))
        found += arrived(looks_of(item), bag, stacks, units)
    each = _each(uow, line, order)
    odd = holds(each, line.amount, measure_of(uow, ware_of(line)), units) if each is not None else ""
    found += [odd] if odd else []
    came = order.packs * (line.amount if each is None else each)
    if 0 < order.packs < stands.to_come or (odd and came < stands.to_come * line.amount):
        found += _too_little(uow, line, order.packs, came, stands.to_come, now)
    return found


def _each(uow: UnitOfWork, line: OrderLine, order: TellOrder) -> float | None:
    """What each pack that came holds, as it was read; None where nobody looked."""
    if order.each is None or not order.each.text.strip():
        return None
    dimension, unit, most = MEASURES[measure_of(uow, ware_of(line))]
    each = order.each.read(dimension, "each")
    return between("each", each, 0, most, unit=unit, open_low=True, name="what each holds")


def _too_little(uow: UnitOfWork, line: OrderLine, packs: int, came: float, asked: int, now: datetime) -> list[str]:
    """That less came than was ordered, and that steps will lack it."""
    ware, kind, units = ware_of(line), measure_of(uow, ware_of(line)), units_of(uow)
    parts = {part.id: part for part in built_parts(uow)}
    done = done_so_far(uow, parts)
    needed = sum(one.amount for one in takes_ahead(uow, parts, done) if one.ware == ware)
    today = now.astimezone(zone_here(uow)).date()
    other = sum(one.amount for one in on_the_way(uow, today).get(ware, ())) - asked * line.amount
    there = there_of(uow, ware).amount + other + came
    found = [f"{packs} of {asked} came."] if packs < asked else []
    if there < needed - 1e-9:
        rest = " The rest stays awaited." if packs < asked else ""
        lacks, takes, has = (show(value, kind, units) for value in (needed - there, needed, there))
        found.append(f"The steps ahead take {takes} and there is {has}: {lacks} too little." + rest)
    return found


def tell_order(uow: UnitOfWork, line_id: str, order: TellOrder, odd: Sequence[str], now: datetime) -> Kept:
    """Note what became of an order; what came is put on the shelf.

    Parameters
    ----------
    odd : sequence of str
        What is odd about it, from `questions`; it is kept only by who is sure.
    """
    line = uow.get(OrderLine, line_id)
    if uow.kept_already(OrderNote, order.id, order_line_id=line.id, kind=order.kind) is not None:
        return Kept(order.id)
    if order.crew_member_id is not None:
        uow.get(CrewMember, order.crew_member_id)
    stands = standing_of(line, notes_of_order(uow, line.id))
    if order.kind == "ordered":
        _ordered(uow, line, order, now)
    elif order.kind == "cancelled":
        if stands.state in ("received", "wrong", "cancelled"):
            raise Refused("kind", f"{line.name} is {stands.state} already")
        _note(uow, line, order, now)
    else:
        if stands.state in ("to order", "cancelled"):
            raise Refused("kind", f"{line.name} is “{stands.state}”: note first that it was ordered")
        between("packs", order.packs, 0, MOST_PACKS, open_low=True, name="the number of packs")
        if odd and not order.sure:
            raise Refused("sure", " ".join(odd))
        if order.kind == "wrong" and not order.note.strip():
            raise Refused("note", "say in a few words what is wrong with it")
        lot_id = _on_the_shelf(uow, line, order, now) if order.kind == "received" and line.data_sheet_id else None
        said = "; ".join([*odd, order.note.strip()] if odd else [order.note.strip()])
        _note(uow, line, order, now, lot_id, said)
    uow.changed("order", line.id)
    return Kept(order.id)


def _ordered(uow: UnitOfWork, line: OrderLine, order: TellOrder, now: datetime) -> None:
    today = now.astimezone(zone_here(uow)).date()
    if order.expected_on is not None and order.expected_on < today:
        raise Refused("expected_on", f"{order.expected_on} is past; it can't come before {today}")
    if order.expected_on is not None:
        days = (order.expected_on - today).days
        between("expected_on", days, 0, 730, unit="days", name="the delivery, from today,")
    stands = standing_of(line, notes_of_order(uow, line.id))
    if stands.state in ("received", "wrong", "cancelled"):
        raise Refused("kind", f"{line.name} is {stands.state} already")
    line.expected_on = order.expected_on or line.expected_on
    line.version, line.updated_at = line.version + 1, now
    _note(uow, line, order, now)


def _note(
    uow: UnitOfWork, line: OrderLine, order: TellOrder, now: datetime, lot_id: str | None = None, said: str = ""
) -> None:
    packs = order.packs if order.kind in ("received", "wrong") else 0
    if order.kind == "ordered" and line.expected_on is not None:
        said = said or f"awaited {line.expected_on:%a} {day_words(line.expected_on, zone_here(uow))}"
    uow.add(OrderNote(id=order.id, order_line_id=line.id, kind=order.kind, packs=packs,
                      note=(said or order.note.strip())[:500], crew_member_id=order.crew_member_id, lot_id=lot_id,
                      amount=_each(uow, line, order) if packs else None, happened_at=now,
                      recorded_at=now))  # fmt: skip


def _on_the_shelf(uow: UnitOfWork, line: OrderLine, order: TellOrder, now: datetime) -> str:
    """A lot of what came; of a number that is there already a second one."""
    measure = measure_of(uow, ware_of(line))
    number = order.lot_number.strip()
    if not number:
        raise Refused("lot_number", "the lot has no number; it stands on the label, often beside the date")
    taken = set(uow.session.scalars(select(Lot.lot_number).where(Lot.data_sheet_id == line.data_sheet_id)))
    names = [number, *(f"{number} · {n}" for n in range(2, len(taken) + 2))]
    free = next(name for name in names if name not in taken)
    key, unit = stable_id("lot of", order.id), MEASURES[measure][1]
    today = now.astimezone(zone_here(uow)).date()
    each = _each(uow, line, order)
    amount = Typed(f"{order.packs * (line.amount if each is None else each):.9g}", unit)
    of = line.data_sheet_id or ""
    receive_lot(uow, ReceiveLot(key, of, free, today, line.component, order.expires_on, amount), now)
    return key


def put_order_away(uow: UnitOfWork, line_id: str, now: datetime) -> Kept:
    """Take a line off the list that was never ordered."""
    line = uow.get(OrderLine, line_id)
    if standing_of(line, notes_of_order(uow, line.id)).state != "to order":
        raise Refused("kind", f"{line.name} was ordered: cancel it instead")
    line.hidden_at, line.updated_at, line.version = now, now, line.version + 1
    uow.changed("order", line.id)
    return Kept(line.id)
