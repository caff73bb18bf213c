"""Weights: parts, airframes, hinges. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views import airframe_weights as airframe_page
from kiteloom.views.part import weight as part_page
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.masses import (
    EditArm,
    EditHinge,
    EditItem,
    EditLimits,
    edit_arm,
    edit_hinge,
    edit_item,
    edit_limits,
)
from kiteloom.workshop.log.hinges import NoteHinge, note_hinge
from kiteloom.workshop.log.weighings import NoteWeighing, note_weighing

bp = Routes("weight", "Weights")


@bp.get("/parts/<part_id>/weight")
@bp.gives(part_page.WeightView)
def read_part(part_id: str) -> part_page.WeightView:
    """What a part weighs, and how it hangs on its hinge."""
    with store().reading() as uow:
        return part_page.weight_view(uow, part_id)


@bp.post("/parts/<part_id>/weighings")
@bp.takes(NoteWeighing)
@bp.gives(Kept, 201)
def weigh(part_id: str, order: NoteWeighing) -> Kept:
    """Note what a part weighs."""
    with store().writing() as uow:
        return note_weighing(uow, part_id, order, now())


@bp.post("/parts/<part_id>/hinge-readings")
@bp.takes(NoteHinge)
@bp.gives(Kept, 201)
def read_hinge(part_id: str, order: NoteHinge) -> Kept:
    """Note what a control surface reads on its hinge."""
    with store().writing() as uow:
        return note_hinge(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/hinge")
@bp.takes(EditHinge)
@bp.gives(Saved)
def change_hinge(part_id: str, order: EditHinge) -> Saved:
    """Say where a control surface hinges."""
    with store().writing() as uow:
        return edit_hinge(uow, part_id, order, now())


@bp.patch("/parts/<part_id>/arm")
@bp.takes(EditArm)
@bp.gives(Saved)
def change_arm(part_id: str, order: EditArm) -> Saved:
    """Type a part's arm."""
    with store().writing() as uow:
        return edit_arm(uow, part_id, order, now())


@bp.get("/airframes/<airframe_id>/weights")
@bp.gives(airframe_page.AirframeWeights)
def read_airframe(airframe_id: str) -> airframe_page.AirframeWeights:
    """An airframe weighed together."""
    with store().reading() as uow:
        return airframe_page.airframe_weights(uow, airframe_id)


@bp.put("/airframes/<airframe_id>/items")
@bp.takes(EditItem)
@bp.gives(Saved)
def change_item(airframe_id: str, order: EditItem) -> Saved:
    """Add something it carries, or change it."""
    with store().writing() as uow:
        return edit_item(uow, airframe_id, order, now())


@bp.patch("/airframes/<airframe_id>/limits")
@bp.takes(EditLimits)
@bp.gives(Saved)
def change_limits(airframe_id: str, order: EditLimits) -> Saved:
    """Say where its arms count from, and its limits."""
    with store().writing() as uow:
        return edit_limits(uow, airframe_id, order, now())
