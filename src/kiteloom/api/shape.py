"""Shapes: looked at, measured, edited. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views.part import shape
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.log.changes import change_shape as change_a_shape
from kiteloom.workshop.shape.shapes import EditShape

bp = Routes("shape", "Shapes")


@bp.get("/parts/<part_id>/shape")
@bp.gives(shape.ShapeView)
def read_shape(part_id: str) -> shape.ShapeView:
    """Its planform, sections and figures."""
    with store().reading() as uow:
        return shape.shape_view(uow, part_id)


@bp.post("/shapes/look")
@bp.takes(shape.LookAtShape)
@bp.gives(shape.ShapeLook)
def look(order: shape.LookAtShape) -> shape.ShapeLook:
    """What was typed, drawn and measured, or why it can't be; nothing is kept."""
    with store().reading() as uow:
        return shape.look_at_shape(uow, order)


@bp.patch("/shapes/<shape_id>")
@bp.takes(EditShape)
@bp.gives(Saved)
def change_shape(shape_id: str, order: EditShape) -> Saved:
    """Change a shape."""
    with store().writing() as uow:
        return change_a_shape(uow, shape_id, order, now())
