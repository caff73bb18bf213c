"""The shelf: data sheets and lots. Thin."""

from __future__ import annotations

from datetime import date
from typing import Any

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, store
from kiteloom.views.stores import lots, shelf
from kiteloom.workshop.stores import lots as stores_lots
from kiteloom.workshop.stores import sheet_files
from kiteloom.workshop.stores import shelf as stores_shelf

bp = APIBlueprint("shelf", __name__, url_prefix="/api/v1", tag="Shelf")


class ShelfOut(RootModel[shelf.ShelfView]):
    """Every product."""


class SheetOut(RootModel[shelf.SheetView]):
    """A data sheet."""


class CheckedOut(RootModel[shelf.Checked]):
    """What is odd or lacking."""


class SheetKeptOut(RootModel[stores_shelf.Kept]):
    """A sheet that was kept."""


class LookedOut(RootModel[sheet_files.Looked]):
    """A file against the shelf."""


class LotOut(RootModel[lots.LotView]):
    """A lot."""


class TrailOut(RootModel[lots.LotTrail]):
    """A lot and what was made of it."""


@bp.get("/shelf")
@bp.output(ShelfOut)
def read_shelf() -> shelf.ShelfView:
    """Every product, kind by kind."""
    with store().reading() as uow:
        return shelf.shelf(uow, now())


class BlankIn(BaseModel):
    """What kind of sheet to type, or like which one."""

    kind: str = ""
    like: str = ""


@bp.get("/shelf/blank")
@bp.input(BlankIn, location="query")
@bp.output(SheetOut)
def blank(query_data: BlankIn) -> shelf.SheetView:
    """A sheet still to be typed."""
    with store().reading() as uow:
        return shelf.blank_sheet(uow, query_data.kind, query_data.like)


class FormIn(BaseModel):
    """In which form, and of which sheet; of all when empty."""

    form: str = "json"
    sheet: str = ""


@bp.get("/shelf/file")
@bp.input(FormIn, location="query")
def export(query_data: FormIn) -> Response:
    """Sheets as a file."""
    with store().reading() as uow:
        text = sheet_files.export_sheets(uow, query_data.form, query_data.sheet)
    media = {"json": "application/json", "csv": "text/csv"}[query_data.form]
    name = f"data-sheets.{query_data.form}"
    return Response(
        text, content_type=f"{media}; charset=utf-8", headers={"Content-Disposition": f"attachment; filename={name}"}
    )


class StageHoursIn(BaseModel):
    """A stage's hours, as typed."""

    name: str
    hours: list[str]


class SheetIn(BaseModel):
    """A sheet as typed."""

    kind: str
    name: str
    texts: dict[str, str]
    temps: list[str] = []
    stages: list[StageHoursIn] = []

    def form(self) -> Any:
        """As the workshop takes it."""
        return stores_shelf.form_of(self.texts, self.temps, [(row.name, row.hours) for row in self.stages])


@bp.post("/shelf/check")
@bp.input(SheetIn)
@bp.output(CheckedOut)
def check(json_data: SheetIn) -> shelf.Checked:
    """Look at a sheet while it is typed; nothing is kept."""
    with store().reading() as uow:
        return shelf.check(uow, json_data.kind, json_data.name, json_data.form())


class NewSheetIn(SheetIn):
    """A new sheet. The client makes the id, so a retry adds nothing."""

    id: str


@bp.post("/shelf")
@bp.input(NewSheetIn)
@bp.output(SheetKeptOut, status_code=201)
def keep(json_data: NewSheetIn) -> stores_shelf.Kept:
    """Put a sheet on the shelf."""
    order = stores_shelf.SheetOrder(json_data.id, json_data.kind, json_data.name, json_data.form())
    with store().writing() as uow:
        return stores_shelf.keep_sheet(uow, order, now())


class SheetFileIn(BaseModel):
    """A file of sheets; looked at only, until told to take it."""

    text: str
    take: bool = False
    replace: bool = False


@bp.post("/shelf/import")
@bp.input(SheetFileIn)
@bp.output(LookedOut)
def import_sheets(json_data: SheetFileIn) -> sheet_files.Looked:
    """Look at a file of sheets, or take it."""
    using = store().writing() if json_data.take else store().reading()
    with using as uow:
        return sheet_files.import_sheets(uow, json_data.text, json_data.take, json_data.replace, now())


@bp.get("/shelf/<sheet_id>")
@bp.output(SheetOut)
def read_sheet(sheet_id: str) -> shelf.SheetView:
    """One sheet."""
    with store().reading() as uow:
        return shelf.sheet_view(uow, sheet_id, now())


class EditSheetIn(SheetIn):
    """A sheet as it was typed over a version of it."""

    version: int


@bp.patch("/shelf/<sheet_id>")
@bp.input(EditSheetIn)
@bp.output(SheetKeptOut)
def edit(sheet_id: str, json_data: EditSheetIn) -> stores_shelf.Kept:
    """Change a sheet."""
    order = stores_shelf.SheetOrder(sheet_id, json_data.kind, json_data.name, json_data.form(), json_data.version)
    with store().writing() as uow:
        return stores_shelf.edit_sheet(uow, order, now())


class HideIn(BaseModel):
    """Off the shelf, or back on it."""

    version: int
    hidden: bool


@bp.patch("/shelf/<sheet_id>/hidden")
@bp.input(HideIn)
@bp.output(SheetKeptOut)
def hide(sheet_id: str, json_data: HideIn) -> stores_shelf.Kept:
    """Take a sheet off the shelf, or put it back within thirty days."""
    with store().writing() as uow:
        if json_data.hidden:
            return stores_shelf.hide_sheet(uow, sheet_id, json_data.version, now())
        return stores_shelf.unhide_sheet(uow, sheet_id, now())


class LotIn(BaseModel):
    """A lot that came. The client makes the id."""

    id: str
    sheet_id: str
    lot_number: str
    component: str = "both"
    received_on: date
    expires_on: date | None = None
    amount: TypedIn | None = None


@bp.post("/lots")
@bp.input(LotIn)
@bp.output(LotOut, status_code=201)
def receive(json_data: LotIn) -> lots.LotView:
    """Receive a lot."""
    order = stores_lots.ReceiveLot(
        json_data.id,
        json_data.sheet_id,
        json_data.lot_number,
        json_data.component,
        json_data.received_on,
        json_data.expires_on,
        json_data.amount.value() if json_data.amount else None,
    )
    with store().writing() as uow:
        stores_lots.receive_lot(uow, order, now())
    with store().reading() as uow:
        return lots.lot_of(uow, json_data.id, now())


@bp.get("/lots/<lot_id>")
@bp.output(TrailOut)
def trail(lot_id: str) -> lots.LotTrail:
    """A lot, and every part it is on."""
    with store().reading() as uow:
        return lots.lot_trail(uow, lot_id, now())


class LotNoteIn(BaseModel):
    """What happened to a lot."""

    id: str
    kind: str
    amount: TypedIn | None = None
    note: str = ""


@bp.post("/lots/<lot_id>/notes")
@bp.input(LotNoteIn)
@bp.output(TrailOut, status_code=201)
def note(lot_id: str, json_data: LotNoteIn) -> lots.LotTrail:
    """Note that a lot was opened, counted, found bad or cleared."""
    amount = json_data.amount.value() if json_data.amount else None
    with store().writing() as uow:
        stores_lots.note_lot(uow, lot_id, json_data.id, json_data.kind, amount, json_data.note, now())
    with store().reading() as uow:
        return lots.lot_trail(uow, lot_id, now())
