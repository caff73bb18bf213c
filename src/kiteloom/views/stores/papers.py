"""Papers of the stores: order sheets, and labels with a code that opens what they are on."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from kiteloom.core.base.problems import Refused
from kiteloom.formats.labels import Label, labels_pdf
from kiteloom.formats.order_sheet import SheetLine, order_csv, order_mail, order_pdf
from kiteloom.standins.supplier import Asked, answer
from kiteloom.store.models import DataSheet, Item, Lot, Offer, Part, Remnant
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import weekday_words
from kiteloom.views.stores.order_list import of_seller
from kiteloom.workshop.base.shop import the_shop, units_of, zone_here
from kiteloom.workshop.stores.buying import lines_here, notes_of_order, standing_of, ware_of

#: So many labels at once.
MOST_LABELS = 500


def order_file(uow: UnitOfWork, now: datetime, supplier_id: str, form: str) -> tuple[bytes | str, str, str]:
    """What is to be ordered from one seller today, as pdf, csv or mail; with its media type and its name."""
    group, zone = of_seller(uow, now, supplier_id), zone_here(uow)
    lines = []
    for line in group.lines:
        for packs in line.packs:
            offer = uow.get(Offer, packs.offer_id)
            number = uow.get(Item, offer.item_id).number if offer.item_id else ""
            wanted = "soon" if line.urgency in ("late", "today") else weekday_words(line.order_by, zone)
            lines.append(SheetLine(packs.count, offer.words, line.name, number, packs.price, wanted))
    shop = the_shop(uow).name or "the shop"
    sums = [("Goods", group.goods), ("Parcel", group.postage), ("Together", group.total)]
    if form == "csv":
        return order_csv(lines), "text/csv; charset=utf-8", "order.csv"
    if form == "mail":
        return order_mail(group.name, shop, lines, group.total), "text/plain; charset=utf-8", "order.txt"
    if form != "pdf":
        raise Refused("form", f"“{form[:20]}” is not a form; it is pdf, csv or mail")
    day = weekday_words(now.astimezone(zone).date(), zone)
    paper = order_pdf(group.name, shop, day, lines, sums, letter=units_of(uow) == "us")
    return paper, "application/pdf", "order.pdf"


def simulated_answer(uow: UnitOfWork, now: datetime, supplier_id: str) -> str:
    """What a simulated shop answers to what is on order from it."""
    today = now.astimezone(zone_here(uow)).date()
    asked = []
    for line in lines_here(uow):
        if line.supplier_id == supplier_id and standing_of(line, notes_of_order(uow, line.id)).to_come:
            offers = [row.lead_days for row in uow.all(Offer) if ware_of(row) == ware_of(line)]
            asked.append(Asked(line.id, line.name, line.packs, min(offers, default=7)))
    return answer(asked, today)


def labels(uow: UnitOfWork, address: str, kind: str, ids: Sequence[str]) -> bytes:
    """Labels of lots, remnants or parts, in the order they are named."""
    if not ids or len(ids) > MOST_LABELS:
        raise Refused("ids", f"{len(ids)} labels are asked for; from 1 to {MOST_LABELS} are made at once")
    if kind not in ("lot", "remnant", "part"):
        raise Refused("kind", f"“{kind[:20]}” has no label; lots, remnants and parts have")
    root = address.rstrip("/")
    make = {"lot": _lot, "remnant": _remnant, "part": _part}[kind]
    return labels_pdf([make(uow, root, one) for one in ids])


def _lot(uow: UnitOfWork, root: str, lot_id: str) -> Label:
    lot, zone = uow.get(Lot, lot_id), zone_here(uow)
    sheet = uow.get(DataSheet, lot.data_sheet_id)
    of = f"{sheet.name}, {lot.component}" if lot.component != "both" else sheet.name
    came = f"came {weekday_words(lot.received_on, zone)} {lot.received_on.year}"
    until = f"good until {weekday_words(lot.expires_on, zone)} {lot.expires_on.year}" if lot.expires_on else ""
    lines = (f"Lot {lot.lot_number}", came, until, "Opened: ____________")
    return Label(of, tuple(line for line in lines if line), f"{root}/stores/{sheet.id}?lot={lot.id}")


def _remnant(uow: UnitOfWork, root: str, remnant_id: str) -> Label:
    row = uow.get(Remnant, remnant_id)
    sheet = uow.get(DataSheet, row.data_sheet_id)
    edge = row.rings[0] if row.rings else []
    wide = max((x for x, _ in edge), default=0) - min((x for x, _ in edge), default=0)
    high = max((y for _, y in edge), default=0) - min((y for _, y in edge), default=0)
    size = f"{wide / 1000:.2f} × {high / 1000:.2f} m"
    return Label(sheet.name, (f"Remnant, {size}", row.note), f"{root}/cut?remnant={row.id}", "warp, or grain")


def _part(uow: UnitOfWork, root: str, part_id: str) -> Label:
    part = uow.get(Part, part_id)
    side = {"upper": "TOP", "lower": "BOTTOM"}.get(part.design.side, "")
    hand = {"left": "LEFT", "right": "RIGHT"}.get(part.hand, "")
    marks = " · ".join(word for word in (hand, side) if word)
    return Label(part.name, tuple(line for line in (marks, part.assembly.name) if line), f"{root}/part/{part.id}",
                 "this end aft")  # fmt: skip
