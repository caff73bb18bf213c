"""The airframe and its parts: shape, plies, resin, steps. Thin."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from apiflask import APIBlueprint
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, store
from kiteloom.views import airframe
from kiteloom.views.part import built_from, head, plies, shape, takes, times
from kiteloom.workshop.base import saved, shop
from kiteloom.workshop.build import built_from as build_built_from
from kiteloom.workshop.build import plies as build_plies
from kiteloom.workshop.need import losses
from kiteloom.workshop.shape import shapes

bp = APIBlueprint("parts", __name__, url_prefix="/api/v1", tag="Parts")


class AirframeOut(RootModel[airframe.AirframeView]):
    """Every part."""


class PartHeadOut(RootModel[head.PartHead]):
    """Who a part is."""


class ShapeOut(RootModel[shape.ShapeView]):
    """Its shape."""


class PliesOut(RootModel[plies.PliesView]):
    """Its ply book."""


class MixViewOut(RootModel[takes.MixView]):
    """Its resin."""


class TimesOut(RootModel[times.TimesView]):
    """Its steps in time."""


class BuiltFromOut(RootModel[built_from.BuiltFrom]):
    """What it is built from."""


class SavedOut(RootModel[saved.Saved]):
    """A save."""


@bp.get("/airframe")
@bp.output(AirframeOut)
def read_airframe() -> airframe.AirframeView:
    """Every part with its outline and state."""
    with store().reading() as uow:
        return airframe.airframe(uow, now())


@bp.get("/parts/<part_id>")
@bp.output(PartHeadOut)
def read_part(part_id: str) -> head.PartHead:
    """Who a part is."""
    with store().reading() as uow:
        return head.part_head(uow, part_id, now())


@bp.get("/parts/<part_id>/shape")
@bp.output(ShapeOut)
def read_shape(part_id: str) -> shape.ShapeView:
    """Its planform, sections and figures."""
    with store().reading() as uow:
        return shape.shape_view(uow, part_id)


class SectionEditIn(BaseModel):
    """A new section for one end or both."""

    end: Literal["root", "tip", "both"]
    naca: str | None = None
    file: str | None = None
    file_name: str = ""


class FormIn(BaseModel):
    """Measures as typed, by field, and perhaps a section."""

    version: int
    measures: dict[str, TypedIn] = {}
    section: SectionEditIn | None = None


@bp.patch("/shapes/<shape_id>")
@bp.input(FormIn)
@bp.output(SavedOut)
def edit_shape(shape_id: str, json_data: FormIn) -> saved.Saved:
    """Change a shape."""
    measures = {field: typed.value() for field, typed in json_data.measures.items()}
    section = shapes.SectionEdit(**json_data.section.model_dump()) if json_data.section else None
    with store().writing() as uow:
        return shapes.edit_shape(uow, shape_id, json_data.version, measures, section, now())


@bp.get("/parts/<part_id>/plies")
@bp.output(PliesOut)
def read_plies(part_id: str) -> plies.PliesView:
    """Its ply book."""
    with store().reading() as uow:
        return plies.plies_view(uow, part_id)


class PlyEditIn(BaseModel):
    """A ply: its cloth, and its angle as typed, seen on this part."""

    cloth_id: str
    angle: TypedIn


class PlyBookIn(BaseModel):
    """A whole ply book, outside to inside."""

    version: int
    plies: list[PlyEditIn]
    core_id: str | None = None
    core_after: int = 0


@bp.put("/parts/<part_id>/plies")
@bp.input(PlyBookIn)
@bp.output(SavedOut)
def edit_plies(part_id: str, json_data: PlyBookIn) -> saved.Saved:
    """Replace the ply book of its design."""
    rows = [build_plies.PlyEdit(ply.cloth_id, ply.angle.value()) for ply in json_data.plies]
    with store().writing() as uow:
        return build_plies.edit_plies(
            uow, part_id, json_data.version, rows, json_data.core_id, json_data.core_after, now()
        )


@bp.get("/parts/<part_id>/mix")
@bp.output(MixViewOut)
def read_mix(part_id: str) -> takes.MixView:
    """Resin it takes, and its batches."""
    with store().reading() as uow:
        return takes.mix_view(uow, part_id, now())


class LossesIn(BaseModel):
    """Losses as typed, by field."""

    version: int
    losses: dict[str, TypedIn]


@bp.patch("/designs/<design_id>/losses")
@bp.input(LossesIn)
@bp.output(SavedOut)
def edit_losses(design_id: str, json_data: LossesIn) -> saved.Saved:
    """Say where the shop knows better."""
    typed = {field: text.value() for field, text in json_data.losses.items()}
    with store().writing() as uow:
        return losses.edit_losses(uow, design_id, json_data.version, typed, now())


class StartIn(BaseModel):
    """When to start; now, when nothing is given. Without an offset it is the shop's time."""

    start: datetime | None = None


@bp.get("/parts/<part_id>/times")
@bp.input(StartIn, location="query")
@bp.output(TimesOut)
def read_times(part_id: str, query_data: StartIn) -> times.TimesView:
    """Its steps in time."""
    with store().reading() as uow:
        start = shop.in_shop_zone(uow, query_data.start)
        return times.times_view(uow, part_id, start, now())


@bp.get("/parts/<part_id>/built-from")
@bp.output(BuiltFromOut)
def read_built_from(part_id: str) -> built_from.BuiltFrom:
    """What a part is built from, and what it is turned with."""
    with store().reading() as uow:
        return built_from.built_from(uow, part_id)


class NeededIn(BaseModel):
    """A part that must be built before a step."""

    part_id: str
    step_key: str


class SayBuiltIn(BaseModel):
    """All that a part is built from."""

    version: int
    needs: list[NeededIn]
    thing: str = ""


@bp.post("/parts/<part_id>/built-from")
@bp.input(SayBuiltIn)
@bp.output(SavedOut)
def say_built(part_id: str, json_data: SayBuiltIn) -> saved.Saved:
    """Say what a part is built from."""
    needs = [(need.part_id, need.step_key) for need in json_data.needs]
    with store().writing() as uow:
        return build_built_from.say_built(
            uow, part_id, build_built_from.SayBuilt(json_data.version, needs, json_data.thing), now()
        )
