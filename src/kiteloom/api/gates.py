"""Closings: their lists, who looked, the shop's own lists. Thin."""

from __future__ import annotations

from flask import request
from pydantic import BaseModel

from kiteloom.api.house import Routes, now, store
from kiteloom.views import gates
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.log import photos
from kiteloom.workshop.log.gates import NoteGate, SayGateList, note_gate, say_gate_list

bp = Routes("gates", "Gates")


class OfGate(BaseModel):
    """A closing, by its part and step."""

    part_id: str
    step_key: str


@bp.get("/gates")
@bp.gives(gates.GatesView)
def read_gates() -> gates.GatesView:
    """Every closing with what is left before it."""
    with store().reading() as uow:
        return gates.gates_view(uow, now())


@bp.get("/gate")
@bp.asks(OfGate)
@bp.gives(gates.GateView)
def read_gate(asked: OfGate) -> gates.GateView:
    """One closing with its list."""
    with store().reading() as uow:
        return gates.gate_view(uow, asked.part_id, asked.step_key, now())


@bp.post("/gate/notes")
@bp.takes(NoteGate)
@bp.gives(Kept, 201)
def note_closing(order: NoteGate) -> Kept:
    """Note what happened at a closing."""
    with store().writing() as uow:
        return note_gate(uow, order, now())


@bp.post("/gate-lists")
@bp.takes(SayGateList)
@bp.gives(Saved)
def say_list(order: SayGateList) -> Saved:
    """Say or change one of the shop's own lists."""
    with store().writing() as uow:
        return say_gate_list(uow, order, now())


@bp.put("/gate-notes/<note_id>/photos/<photo_id>")
@bp.gives(Kept, 201)
def keep_gate_photo(note_id: str, photo_id: str) -> Kept:
    """Keep a photograph of what was done; its bytes are the body."""
    shot = photos.looked_at(request.get_data())
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "gate note", note_id, photo_id, shot, now()))
