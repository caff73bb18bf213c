"""Airframes, their assemblies and parts: founded, named, placed, copied, taken out and back. Thin."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.views import airframe, airframe_takes
from kiteloom.workshop.base.saved import Kept, OnlyVersion, Saved
from kiteloom.workshop.build.airframe_in import AirframeLooked, TakeAirframe, take_airframe
from kiteloom.workshop.build.airframe_out import export_airframe
from kiteloom.workshop.build.airframes import (
    EditNamed,
    FoundAirframe,
    FoundAssembly,
    edit_airframe,
    edit_assembly,
    found_airframe,
    found_assembly,
)
from kiteloom.workshop.build.founding_parts import FoundPart, GiveShape, found_part, give_shape
from kiteloom.workshop.build.part_edits import CopyPart, EditPart, copy_part, let_differ
from kiteloom.workshop.log.changes import change_part as change_a_part
from kiteloom.workshop.log.hiding import HidePart, hide_part

bp = Routes("airframe", "Airframes")


class Which(BaseModel):
    """Which airframe; the first where none is named."""

    id: str = ""


@bp.get("/airframe")
@bp.asks(Which)
@bp.gives(airframe.AirframeView)
def read_airframe(asked: Which) -> airframe.AirframeView:
    """Every part of an airframe with its place and state."""
    with store().reading() as uow:
        return airframe.airframe(uow, now(), asked.id)


class TakenBy(BaseModel):
    """Of which assembly; of all where none is named."""

    assembly: str = ""


@bp.get("/airframes/<airframe_id>/takes")
@bp.asks(TakenBy)
@bp.gives(airframe_takes.AirframeTakes)
def read_takes(airframe_id: str, asked: TakenBy) -> airframe_takes.AirframeTakes:
    """What is still to be used up for it."""
    with store().reading() as uow:
        return airframe_takes.airframe_takes(uow, now(), airframe_id, asked.assembly)


@bp.post("/airframes")
@bp.takes(FoundAirframe)
@bp.gives(Kept, 201)
def put_airframe(order: FoundAirframe) -> Kept:
    """Found an airframe."""
    with store().writing() as uow:
        return found_airframe(uow, order, now())


@bp.patch("/airframes/<airframe_id>")
@bp.takes(EditNamed)
@bp.gives(Saved)
def change_airframe(airframe_id: str, order: EditNamed) -> Saved:
    """Call an airframe otherwise."""
    with store().writing() as uow:
        return edit_airframe(uow, airframe_id, order, now())


@bp.get("/airframes/<airframe_id>/file")
def airframe_file(airframe_id: str) -> Response:
    """The whole airframe as one file."""
    with store().reading() as uow:
        return file(export_airframe(uow, airframe_id), "application/json", "airframe.json", save=True)


@bp.post("/airframes/file")
@bp.takes(TakeAirframe)
@bp.gives(AirframeLooked)
def take_a_file(order: TakeAirframe) -> AirframeLooked:
    """Look at an airframe's file, or take it in."""
    with store().writing() as uow:
        return take_airframe(uow, order, now())


@bp.post("/assemblies")
@bp.takes(FoundAssembly)
@bp.gives(Kept, 201)
def put_assembly(order: FoundAssembly) -> Kept:
    """Found an assembly."""
    with store().writing() as uow:
        return found_assembly(uow, order, now())


@bp.patch("/assemblies/<assembly_id>")
@bp.takes(EditNamed)
@bp.gives(Saved)
def change_assembly(assembly_id: str, order: EditNamed) -> Saved:
    """Call an assembly otherwise, or move it."""
    with store().writing() as uow:
        return edit_assembly(uow, assembly_id, order, now())


@bp.post("/airframes/parts")
@bp.takes(FoundPart)
@bp.gives(Kept, 201)
def put_part(order: FoundPart) -> Kept:
    """Found a part, or a left and a right one."""
    with store().writing() as uow:
        return found_part(uow, order, now())


@bp.post("/airframes/parts/<part_id>/shape")
@bp.takes(GiveShape)
@bp.gives(Kept, 201)
def put_shape(part_id: str, order: GiveShape) -> Kept:
    """Give a part that has none its shape."""
    with store().writing() as uow:
        return give_shape(uow, part_id, order, now())


@bp.patch("/parts/<part_id>")
@bp.takes(EditPart)
@bp.gives(Saved)
def change_part(part_id: str, order: EditPart) -> Saved:
    """Change a part's name, assembly, side or place, or where it stands."""
    with store().writing() as uow:
        return change_a_part(uow, part_id, order, now())


@bp.post("/parts/<part_id>/copy")
@bp.takes(CopyPart)
@bp.gives(Kept, 201)
def copy_a_part(part_id: str, order: CopyPart) -> Kept:
    """Copy a part with its jobs, or add its mirror image."""
    with store().writing() as uow:
        return copy_part(uow, part_id, order, now())


@bp.post("/parts/<part_id>/differ")
@bp.takes(OnlyVersion)
@bp.gives(Saved)
def differ(part_id: str, order: OnlyVersion) -> Saved:
    """Let a part differ from those it shared its shape and jobs with."""
    with store().writing() as uow:
        return let_differ(uow, part_id, order.version, now())


@bp.post("/parts/<part_id>/hidden")
@bp.takes(HidePart)
@bp.gives(Saved)
def hide(part_id: str, order: HidePart) -> Saved:
    """Take a part out of its airframe, or take it back."""
    with store().writing() as uow:
        return hide_part(uow, part_id, order, now())
