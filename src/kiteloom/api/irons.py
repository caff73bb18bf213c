"""Irons and their dials. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views import irons
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.log.irons import NoteIron, SayIron, note_iron, say_iron

bp = Routes("irons", "Irons")


@bp.get("/irons")
@bp.gives(irons.IronsView)
def read_irons() -> irons.IronsView:
    """Every iron with its readings."""
    with store().reading() as uow:
        return irons.irons_view(uow, now())


@bp.post("/irons")
@bp.takes(SayIron)
@bp.gives(Saved)
def say_an_iron(order: SayIron) -> Saved:
    """Say or rename an iron, or put it away."""
    with store().writing() as uow:
        return say_iron(uow, order, now())


@bp.post("/irons/<iron_id>/readings")
@bp.takes(NoteIron)
@bp.gives(Kept, 201)
def read_an_iron(iron_id: str, order: NoteIron) -> Kept:
    """Note what a thermometer read."""
    with store().writing() as uow:
        return note_iron(uow, iron_id, order, now())
