"""Cut plans, layouts, remnants. Thin."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store, worker
from kiteloom.views.cut import files
from kiteloom.views.cut import plan as plan_page
from kiteloom.views.cut import plans as plans_page
from kiteloom.workshop.base.saved import Kept, OnlyId, Saved
from kiteloom.workshop.cut.layouts import lay_out, stop_layout
from kiteloom.workshop.cut.plans import (
    EditCutPlan,
    EditWay,
    NewCutPlan,
    NewWay,
    edit_plan,
    edit_way,
    finish_cut,
    new_plan,
    new_way,
    tick_piece,
)
from kiteloom.workshop.cut.remnants import AddRemnant, NoteRemnant, add_remnant, note_remnant
from kiteloom.workshop.cut.ticks import TickPiece

bp = Routes("cut", "Cut plans")


@bp.get("/cut-plans")
@bp.gives(plans_page.CutPlansView)
def read_plans() -> plans_page.CutPlansView:
    """Every cut plan, what is in none yet, and remnants on the shelf."""
    with store().reading() as uow:
        return plans_page.cut_plans_view(uow)


@bp.post("/cut-plans")
@bp.takes(NewCutPlan)
@bp.gives(Kept, 201)
def begin(order: NewCutPlan) -> Kept:
    """Begin a cut plan."""
    with store().writing() as uow:
        return new_plan(uow, order, now())


@bp.get("/cut-plans/<plan_id>")
@bp.gives(plan_page.CutPlanView)
def read_plan(plan_id: str) -> plan_page.CutPlanView:
    """One cut plan."""
    before = worker().known()  # what ends while the page is made was still looked for when it was begun
    with store().reading() as uow:
        return plan_page.cut_plan_view(uow, plan_id, lambda way: way in before or way in worker().known())


@bp.patch("/cut-plans/<plan_id>")
@bp.takes(EditCutPlan)
@bp.gives(Saved)
def change_plan(plan_id: str, order: EditCutPlan) -> Saved:
    """Change what is in a plan, name it, put it away."""
    with store().writing() as uow:
        return edit_plan(uow, plan_id, order, now())


@bp.post("/cut-plans/<plan_id>/ways")
@bp.takes(NewWay)
@bp.gives(Kept, 201)
def another_way(plan_id: str, order: NewWay) -> Kept:
    """Another way of cutting the same, to compare."""
    with store().writing() as uow:
        return new_way(uow, plan_id, order, now())


@bp.patch("/cut-ways/<way_id>")
@bp.takes(EditWay)
@bp.gives(Saved)
def change_way(way_id: str, order: EditWay) -> Saved:
    """Change how a way cuts, or from what."""
    with store().writing() as uow:
        return edit_way(uow, way_id, order, now())


@bp.post("/cut-ways/<way_id>/layout")
@bp.gives(Kept, 202)
def begin_layout(way_id: str) -> Kept:
    """Look for its layout; what is found so far stands in the plan meanwhile."""
    with store().writing() as uow:
        lay_out(uow, worker(), store(), way_id, now())
    return Kept(way_id)


@bp.post("/cut-ways/<way_id>/stop")
@bp.gives(Kept)
def stop(way_id: str) -> Kept:
    """Stop looking; the best so far stays."""
    stop_layout(worker(), way_id)
    return Kept(way_id)


@bp.post("/cut-ways/<way_id>/pieces")
@bp.takes(TickPiece)
@bp.gives(Kept, 201)
def tick(way_id: str, order: TickPiece) -> Kept:
    """Note that a piece was cut, or was not after all."""
    with store().writing() as uow:
        tick_piece(uow, way_id, order, now())
    return Kept(order.id)


@bp.post("/cut-ways/<way_id>/cut")
@bp.takes(OnlyId)
@bp.gives(Kept, 201)
def finish(way_id: str, order: OnlyId) -> Kept:
    """Note that a layout is cut: what is left over goes onto the shelf."""
    with store().writing() as uow:
        finish_cut(uow, way_id, order.id, now())
    return Kept(order.id)


class OfPiece(BaseModel):
    """Which piece, at full size; all of the layout when empty."""

    piece: str = ""


@bp.get("/cut-ways/<way_id>/layout.<form>")
@bp.asks(OfPiece)
def layout(way_id: str, form: str, asked: OfPiece) -> Response:
    """Its layout as DXF, SVG or PDF; or one piece at full size, on paper."""
    with store().reading() as uow:
        found = files.layout_file(uow, way_id, form, asked.piece)
    return file(found.data, found.kind, found.name, save=form == "dxf")


@bp.post("/remnants")
@bp.takes(AddRemnant)
@bp.gives(Kept, 201)
def put_on_shelf(order: AddRemnant) -> Kept:
    """Put a remnant on the shelf."""
    with store().writing() as uow:
        return add_remnant(uow, order, now())


@bp.post("/remnants/<remnant_id>/notes")
@bp.takes(NoteRemnant)
@bp.gives(Kept, 201)
def note(remnant_id: str, order: NoteRemnant) -> Kept:
    """Note what became of a remnant."""
    with store().writing() as uow:
        note_remnant(uow, remnant_id, order, now())
    return Kept(order.id)
