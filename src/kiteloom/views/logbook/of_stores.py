"""The book's entries of what came into the shop, what was ordered, and what became of lots."""

from __future__ import annotations

from collections.abc import Iterator

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.log.logbook import Entry
from kiteloom.store.models import Delivery, Item, ItemNote, Lot, LotNote, OrderLine, OrderNote
from kiteloom.views.logbook.pen import Pen


def came(pen: Pen) -> Iterator[Entry]:
    """Deliveries that steps waited for."""
    for row in pen.uow.all(Delivery):
        if row.arrived_at is not None:
            at = minute_of(row.arrived_at)
            yield Entry(row.id, "stores", at, row.what, "Arrived.", row.part_id, row.step_key)


def orders(pen: Pen) -> Iterator[Entry]:
    """What was ordered, and what became of it."""
    lines = {row.id: row for row in pen.uow.all(OrderLine)}
    verbs = {"ordered": "Ordered", "received": "Received", "wrong": "Wrong", "cancelled": "Cancelled"}
    for row in pen.uow.all(OrderNote):
        line = lines[row.order_line_id]
        packs = line.packs if row.kind == "ordered" else row.packs
        count = f", {packs} × {line.words}" if packs else ""
        yield Entry(
            row.id, "stores", minute_of(row.happened_at), line.name, f"{verbs[row.kind]}{count}.",
            people=(row.crew_member_id,) if row.crew_member_id else (),
            products=(line.data_sheet_id,) if line.data_sheet_id else (), lots=(row.lot_id,) if row.lot_id else (),
            sub=(row.note,) if row.note else (),
        )  # fmt: skip


def lots(pen: Pen) -> Iterator[Entry]:
    """Lots opened, counted, moved, found bad or thrown away."""
    rows = {row.id: row for row in pen.uow.all(Lot)}
    verbs = {"opened": "Opened", "bad": "Found bad", "cleared": "Cleared again", "counted": "Counted",
             "moved": "Moved", "thrown": "Thrown away"}  # fmt: skip
    for row in pen.uow.all(LotNote):
        lot = rows[row.lot_id]
        amount = f": {pen.show(row.amount, lot.measure)}" if row.amount is not None else ""
        why = f": {pen.names.get(row.note, row.note)}" if row.note else ""
        yield Entry(
            row.id, "stores", minute_of(row.happened_at), f"{pen.name(lot.data_sheet_id)}, lot {lot.lot_number}",
            f"{verbs[row.kind]}{amount}{why}.", people=(row.crew_member_id,) if row.crew_member_id else (),
            products=(lot.data_sheet_id,), lots=(lot.id,),
        )  # fmt: skip


def items(pen: Pen) -> Iterator[Entry]:
    """Items found, missing, damaged, counted, thrown away or used."""
    rows = {row.id: row for row in pen.uow.all(Item)}
    for row in pen.uow.all(ItemNote):
        words = f"{row.kind[:1].upper()}{row.kind[1:]}: {row.amount:g}{f', {row.note}' if row.note else ''}."
        people = (row.crew_member_id,) if row.crew_member_id else ()
        yield Entry(row.id, "stores", minute_of(row.happened_at), rows[row.item_id].name, words, people=people)
