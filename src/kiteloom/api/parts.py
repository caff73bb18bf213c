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
from kiteloom.workshop.build import job_edits
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


class JobIn(BaseModel):
    """Of which job, by its key; the first that has what is asked for when none is named."""

    job: str | None = None


@bp.get("/parts/<part_id>/plies")
@bp.input(JobIn, location="query")
@bp.output(PliesOut)
def read_plies(part_id: str, query_data: JobIn) -> plies.PliesView:
    """The ply book of one of its jobs."""
    with store().reading() as uow:
        return plies.plies_view(uow, part_id, query_data.job)


class PlyEditIn(BaseModel):
    """A ply: its cloth, and its angle as typed, seen on this part."""

    cloth_id: str
    angle: TypedIn


class PlyBookIn(BaseModel):
    """A job's whole ply book, outside to inside."""

    job: str = ""
    version: int
    plies: list[PlyEditIn]
    core_id: str | None = None
    core_after: int = 0


@bp.put("/parts/<part_id>/plies")
@bp.input(PlyBookIn)
@bp.output(SavedOut)
def edit_plies(part_id: str, json_data: PlyBookIn) -> saved.Saved:
    """Replace the ply book of one of its jobs."""
    rows = [build_plies.PlyEdit(ply.cloth_id, ply.angle.value()) for ply in json_data.plies]
    with store().writing() as uow:
        return build_plies.edit_plies(
            uow, part_id, json_data.job, json_data.version, rows, json_data.core_id, json_data.core_after, now()
        )


class TakesIn(JobIn):
    """Of which job, by its key or a step's; of all when neither is named."""

    step: str | None = None


@bp.get("/parts/<part_id>/mix")
@bp.input(TakesIn, location="query")
@bp.output(MixViewOut)
def read_mix(part_id: str, query_data: TakesIn) -> takes.MixView:
    """What it takes, and its batches."""
    with store().reading() as uow:
        return takes.mix_view(uow, part_id, query_data.job, query_data.step, now())


class LossesIn(BaseModel):
    """Losses as typed, by field."""

    version: int
    losses: dict[str, TypedIn]


@bp.patch("/jobs/<job_id>/losses")
@bp.input(LossesIn)
@bp.output(SavedOut)
def edit_losses(job_id: str, json_data: LossesIn) -> saved.Saved:
    """Say where the shop knows better."""
    typed = {field: text.value() for field, text in json_data.losses.items()}
    with store().writing() as uow:
        return losses.edit_losses(uow, job_id, json_data.version, typed, now())


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


class JobViewOut(RootModel[head.JobView]):
    """What a job is given."""


@bp.get("/parts/<part_id>/job")
@bp.input(JobIn, location="query")
@bp.output(JobViewOut)
def read_job(part_id: str, query_data: JobIn) -> head.JobView:
    """A job's form and products, as its recipe asks them."""
    with store().reading() as uow:
        return head.job_view(uow, part_id, query_data.job or "")


class AddJobIn(BaseModel):
    """A job to add after another. The client makes the id."""

    id: str
    recipe: str
    after: str | None = None
    alone: bool = False


@bp.post("/parts/<part_id>/jobs")
@bp.input(AddJobIn)
@bp.output(SavedOut, status_code=201)
def add_job(part_id: str, json_data: AddJobIn) -> saved.Saved:
    """Add a job between two others."""
    with store().writing() as uow:
        return job_edits.add_job(uow, part_id, job_edits.AddJob(**json_data.model_dump()), now())


class ChangeJobIn(BaseModel):
    """What a job is given, as typed, and its products; or where it stands, or that it is taken out."""

    job: str
    version: int
    given: dict[str, str] = {}
    products: dict[str, str] = {}
    move: Literal["sooner", "later"] | None = None
    hidden: bool | None = None


@bp.patch("/parts/<part_id>/job")
@bp.input(ChangeJobIn)
@bp.output(SavedOut)
def change_job(part_id: str, json_data: ChangeJobIn) -> saved.Saved:
    """Change one job."""
    key, version = json_data.job, json_data.version
    with store().writing() as uow:
        if json_data.move is not None:
            return job_edits.move_job(uow, part_id, key, version, sooner=json_data.move == "sooner", now=now())
        if json_data.hidden is not None:
            return job_edits.hide_job(uow, part_id, key, version, hidden=json_data.hidden, now=now())
        return job_edits.give_job(uow, part_id, key, version, json_data.given, json_data.products, now())
