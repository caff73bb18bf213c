"""Ply books. Thin."""

from __future__ import annotations

from flask import Response

from kiteloom.api.build import OfJob
from kiteloom.api.house import Routes, file, now, store
from kiteloom.views.part import cloth, pieces, plies, ply_sheet, sawn
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.plies import EditPlies
from kiteloom.workshop.log.changes import change_plies as change_ply_book

bp = Routes("laminate", "Plies")


@bp.get("/parts/<part_id>/plies")
@bp.asks(OfJob)
@bp.gives(plies.PliesView)
def read_plies(part_id: str, asked: OfJob) -> plies.PliesView:
    """The ply book of one of its jobs."""
    with store().reading() as uow:
        return plies.plies_view(uow, part_id, asked.job)


@bp.get("/parts/<part_id>/pieces")
@bp.asks(OfJob)
@bp.gives(pieces.PiecesView)
def read_pieces(part_id: str, asked: OfJob) -> pieces.PiecesView:
    """The pieces of one of its jobs, by its key."""
    with store().reading() as uow:
        return pieces.pieces_view(uow, part_id, asked.job)


@bp.get("/parts/<part_id>/cloth")
@bp.asks(OfJob)
@bp.gives(cloth.ClothView)
def read_cloth(part_id: str, asked: OfJob) -> cloth.ClothView:
    """How the cloth that covers it lies, laid flat."""
    with store().reading() as uow:
        return cloth.cloth_view(uow, part_id, asked.job)


@bp.get("/parts/<part_id>/cut-list")
@bp.asks(OfJob)
@bp.gives(sawn.CutListView)
def read_cut_list(part_id: str, asked: OfJob) -> sawn.CutListView:
    """The lengths that are sawn for it."""
    with store().reading() as uow:
        return sawn.cut_list_view(uow, part_id, asked.job)


@bp.get("/parts/<part_id>/plies.pdf")
@bp.asks(OfJob)
def ply_book_sheet(part_id: str, asked: OfJob) -> Response:
    """The ply book on paper."""
    with store().reading() as uow:
        page = ply_sheet.ply_book_pdf(uow, part_id, asked.job)
    return file(page, "application/pdf", "ply-book.pdf")


@bp.post("/parts/<part_id>/plies/look")
@bp.takes(EditPlies)
@bp.gives(plies.PliesView)
def look_at_plies(part_id: str, order: EditPlies) -> plies.PliesView:
    """A ply book as typed, drawn and weighed; nothing is kept."""
    with store().reading() as uow:
        return plies.look_at_plies(uow, part_id, order)


@bp.put("/parts/<part_id>/plies")
@bp.takes(EditPlies)
@bp.gives(Saved)
def change_plies(part_id: str, order: EditPlies) -> Saved:
    """Replace the ply book of one of its jobs."""
    with store().writing() as uow:
        return change_ply_book(uow, part_id, order, now())
