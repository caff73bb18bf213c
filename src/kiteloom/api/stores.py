"""The shelf: data sheets and lots. Thin."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.views.stores import lots, shelf
from kiteloom.workshop.stores.lots import NoteLot, ReceiveLot, note_lot, receive_lot
from kiteloom.workshop.stores.sheet_files import Looked, SheetFile, export_sheets, import_sheets
from kiteloom.workshop.stores.shelf import HideSheet, SheetKept, TypedSheet, edit_sheet, keep_sheet, put_away

bp = Routes("stores", "Stores")


@bp.get("/shelf")
@bp.gives(shelf.ShelfView)
def read_shelf() -> shelf.ShelfView:
    """Every product, kind by kind."""
    with store().reading() as uow:
        return shelf.shelf(uow, now())


class Blank(BaseModel):
    """What kind of sheet to type, or like which one."""

    kind: str = ""
    like: str = ""


@bp.get("/shelf/blank")
@bp.asks(Blank)
@bp.gives(shelf.SheetView)
def blank(asked: Blank) -> shelf.SheetView:
    """A sheet still to be typed."""
    with store().reading() as uow:
        return shelf.blank_sheet(uow, asked.kind, asked.like)


class InForm(BaseModel):
    """In which form, and of which sheet; of all when empty."""

    form: str = "json"
    sheet: str = ""


@bp.get("/shelf/file")
@bp.asks(InForm)
def export(asked: InForm) -> Response:
    """Sheets as a file."""
    with store().reading() as uow:
        text = export_sheets(uow, asked.form, asked.sheet)
    media = {"json": "application/json", "csv": "text/csv"}[asked.form]
    return file(text, f"{media}; charset=utf-8", f"data-sheets.{asked.form}", save=True)


@bp.post("/shelf/check")
@bp.takes(TypedSheet)
@bp.gives(shelf.Checked)
def check(order: TypedSheet) -> shelf.Checked:
    """Look at a sheet while it is typed; nothing is kept."""
    with store().reading() as uow:
        return shelf.check(uow, order)


@bp.post("/shelf")
@bp.takes(TypedSheet)
@bp.gives(SheetKept, 201)
def keep(order: TypedSheet) -> SheetKept:
    """Put a sheet on the shelf."""
    with store().writing() as uow:
        return keep_sheet(uow, order, now())


@bp.post("/shelf/import")
@bp.takes(SheetFile)
@bp.gives(Looked)
def take_sheets(order: SheetFile) -> Looked:
    """Look at a file of sheets, or take it."""
    with store().writing() if order.take else store().reading() as uow:
        return import_sheets(uow, order, now())


@bp.get("/shelf/<sheet_id>")
@bp.gives(shelf.SheetView)
def read_sheet(sheet_id: str) -> shelf.SheetView:
    """One sheet."""
    with store().reading() as uow:
        return shelf.sheet_view(uow, sheet_id, now())


@bp.patch("/shelf/<sheet_id>")
@bp.takes(TypedSheet)
@bp.gives(SheetKept)
def edit(sheet_id: str, order: TypedSheet) -> SheetKept:
    """Change a sheet."""
    with store().writing() as uow:
        return edit_sheet(uow, sheet_id, order, now())


@bp.patch("/shelf/<sheet_id>/hidden")
@bp.takes(HideSheet)
@bp.gives(SheetKept)
def hide(sheet_id: str, order: HideSheet) -> SheetKept:
    """Take a sheet off the shelf, or put it back within thirty days."""
    with store().writing() as uow:
        return put_away(uow, sheet_id, order, now())


@bp.post("/lots")
@bp.takes(ReceiveLot)
@bp.gives(lots.LotView, 201)
def receive(order: ReceiveLot) -> lots.LotView:
    """Receive a lot."""
    with store().writing() as uow:
        receive_lot(uow, order, now())
    with store().reading() as uow:
        return lots.lot_of(uow, order.id, now())


@bp.get("/lots/<lot_id>")
@bp.gives(lots.LotTrail)
def trail(lot_id: str) -> lots.LotTrail:
    """A lot, and every part it is on."""
    with store().reading() as uow:
        return lots.lot_trail(uow, lot_id, now())


@bp.post("/lots/<lot_id>/notes")
@bp.takes(NoteLot)
@bp.gives(lots.LotTrail, 201)
def note(lot_id: str, order: NoteLot) -> lots.LotTrail:
    """Note that a lot was opened, counted, found bad or cleared."""
    store().after_a_look(
        lambda uow: lots.lot_of(uow, lot_id, now()).left, lambda uow, has: note_lot(uow, lot_id, order, has, now())
    )
    with store().reading() as uow:
        return lots.lot_trail(uow, lot_id, now())
