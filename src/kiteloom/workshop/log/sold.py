"""What can be bought of a ware, other products of its use among it; and what was paid for what is used."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from kiteloom.core.need.buying import Pack
from kiteloom.core.stores.sheets import said
from kiteloom.core.stores.wares import Ware
from kiteloom.store.models import Offer
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.log.ahead import stands_for, wares_of
from kiteloom.workshop.log.used_up import lot_ledger, lots_here, sheets_here
from kiteloom.workshop.stores.buying import lines_here, notes_of_order, offers_here, suppliers


@dataclass(frozen=True)
class Sold:
    """A pack that serves a ware. ``factor`` is how much of the ware one of its own metres or pieces is."""

    offer: Offer
    currency: str
    factor: float = 1.0

    @property
    def pack(self) -> Pack:
        """It, in what the ware is counted in."""
        return Pack(self.offer.amount * self.factor, self.offer.price, self.offer.lead_days)


def sold_here(uow: UnitOfWork) -> Mapping[Ware, list[Sold]]:
    """Everything that can be bought, by what it serves: of one use (two peel plies) any product does."""

    def read() -> dict[Ware, list[Sold]]:
        currency = {row.id: row.currency for row in suppliers(uow)}
        found: dict[Ware, list[Sold]] = defaultdict(list)
        for ware, rows in offers_here(uow).items():
            serves, factor = ware, 1.0
            if ware.kind == "sheet" and ware.component == "both":
                sheet_id, factor = stands_for(uow, sheets_here(uow)[ware.id])
                serves = Ware("sheet", sheet_id)
            found[serves] += [Sold(row, currency[row.supplier_id], factor) for row in rows]
        return found

    return uow.once("sold", read)


def keeps_days(uow: UnitOfWork, ware: Ware) -> int | None:
    """So long it is good unopened, by its sheet [days]; None where nothing says so."""
    days = said(sheets_here(uow)[ware.id].says, "keep.sealed_days") if ware.kind == "sheet" else None
    return None if days is None else int(days)


def unit_prices(uow: UnitOfWork, currency: str) -> Mapping[Ware, float]:
    """What one unit of each ware costs today in a currency, in its cheapest pack by the unit."""
    found: dict[Ware, float] = {}
    for ware, rows in sold_here(uow).items():
        each = [row.pack.price / row.pack.amount for row in rows if row.currency == currency]
        if each:
            found[ware] = min(each)
    return found


def paid_prices(uow: UnitOfWork, currency: str) -> Mapping[Ware, float]:
    """What was paid for one unit of what is used of each ware: of its lots, or items, that came by an order.

    Lots count by what was used of them; what came without an order, or in another currency, is left out.
    """
    of_lot, items = {}, defaultdict[Ware, list[tuple[float, float]]](list)
    for line in lines_here(uow):
        if line.currency != currency:
            continue
        for note in notes_of_order(uow, line.id):
            amount = note.amount if note.amount is not None else line.amount
            if note.kind == "received" and note.lot_id is not None and amount:
                of_lot[note.lot_id] = line.price / amount
            elif note.kind == "received" and line.item_id is not None:
                items[Ware("item", line.item_id)].append((note.packs * amount, note.packs * line.price))
    used = defaultdict[Ware, list[tuple[float, float]]](list)
    for lot in lots_here(uow) if of_lot else ():
        taken, wares = lot_ledger(uow, lot).used, wares_of(uow, lot)
        # A kit's money is its components' by their weight; a roll's is all of one ware, whatever its width.
        whole = sum(share for _, share in wares)
        for ware, share in wares if lot.id in of_lot else ():
            used[ware].append((taken * share, taken * of_lot[lot.id] * share / whole))
    return {ware: sum(money for _, money in rows) / amount for ware, rows in (used | items).items()
            if (amount := sum(one for one, _ in rows)) > 0}  # fmt: skip
