"""The shop's own routes: airframe, surfaces, mixing, temperature, settings. Thin."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal, cast

from apiflask import APIBlueprint
from flask import current_app
from pydantic import BaseModel, RootModel

from kiteloom.core.quantities import FORMATS, Format, Typed
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop import airframe, climate, mixing, plies, shape, shop, times, weather
from kiteloom.workshop.clock import Clock

bp = APIBlueprint("shop", __name__, url_prefix="/api/v1", tag="Shop")


def _store() -> Store:
    return cast(Store, current_app.extensions["kiteloom.store"])


def _now() -> datetime:
    return cast(Clock, current_app.extensions["kiteloom.clock"]).now()


# What goes out are the workshop's own views; Pydantic writes them and OpenAPI describes them.


class NowOut(RootModel[shop.Now]):
    """The shop's time, and changes."""


class ShopOut(RootModel[shop.ShopView]):
    """Settings."""


class AirframeOut(RootModel[airframe.AirframeView]):
    """Every surface."""


class SurfaceHeadOut(RootModel[airframe.SurfaceHead]):
    """Who a surface is."""


class ShapeOut(RootModel[shape.ShapeView]):
    """Its shape."""


class PliesOut(RootModel[plies.PliesView]):
    """Its ply book."""


class MixViewOut(RootModel[mixing.MixView]):
    """Its resin."""


class TimesOut(RootModel[times.TimesView]):
    """Its steps in time."""


class SavedOut(RootModel[shape.Saved]):
    """A save."""


class BenchOut(RootModel[mixing.Bench]):
    """What to mix with."""


class CupOut(RootModel[mixing.Cup]):
    """A cup to pour."""


class PourOut(RootModel[mixing.Pour]):
    """How a cup stands."""


class BatchOut(RootModel[mixing.BatchView]):
    """A kept batch."""


class ImportedOut(RootModel[climate.Imported]):
    """What a file brought."""


class WeatherOut(RootModel[weather.WeatherView]):
    """The strip on top."""


class SinceIn(BaseModel):
    """After which change; −1 lists nothing."""

    since: int = -1


class FormatsOut(BaseModel):
    """How each kind of figure is shown in each unit system."""

    kinds: dict[str, dict[Literal["metric", "us"], Format]]


class TypedIn(BaseModel):
    """What was typed, and the unit a bare number was meant in."""

    text: str
    unit: str

    def value(self) -> Typed:
        """As the core takes it."""
        return Typed(self.text, self.unit)


@bp.get("/now")
@bp.input(SinceIn, location="query")
@bp.output(NowOut)
def now(query_data: SinceIn) -> shop.Now:
    """The shop's time, and what changed after ``since`` (−1: nothing is listed)."""
    with _store().reading() as uow:
        return shop.what_changed(uow, query_data.since, _now())


@bp.get("/formats")
@bp.output(FormatsOut)
def formats() -> dict[str, Any]:
    """The one table by which figures are shown."""
    return {"kinds": {kind: table for kind, (_, table) in FORMATS.items()}}


@bp.get("/shop")
@bp.output(ShopOut)
def read_shop() -> shop.ShopView:
    """Settings."""
    with _store().reading() as uow:
        return shop.shop_view(uow)


class DayIn(BaseModel):
    """Working hours of one weekday."""

    weekday: int
    opens: str
    closes: str


class ShopIn(BaseModel):
    """Settings to change."""

    version: int
    units: str | None = None
    zone: str | None = None
    hours: list[DayIn] | None = None


@bp.patch("/shop")
@bp.input(ShopIn)
@bp.output(ShopOut)
def edit_shop(json_data: ShopIn) -> shop.ShopView:
    """Change units, zone or hours."""
    hours = None if json_data.hours is None else [shop.DayHours(**day.model_dump()) for day in json_data.hours]
    with _store().writing() as uow:
        return shop.edit_shop(uow, json_data.version, _now(), units=json_data.units, zone=json_data.zone, hours=hours)


@bp.get("/weather")
@bp.output(WeatherOut)
def read_weather() -> weather.WeatherView:
    """Temperature now and tonight, and what waits."""
    with _store().reading() as uow:
        return weather.weather(uow, _now())


@bp.get("/airframe")
@bp.output(AirframeOut)
def read_airframe() -> airframe.AirframeView:
    """Every surface with its outline and state."""
    with _store().reading() as uow:
        return airframe.airframe(uow, _now())


@bp.get("/surfaces/<surface_id>")
@bp.output(SurfaceHeadOut)
def read_surface(surface_id: str) -> airframe.SurfaceHead:
    """Who a surface is."""
    with _store().reading() as uow:
        return airframe.surface_head(uow, surface_id, _now())


@bp.get("/surfaces/<surface_id>/shape")
@bp.output(ShapeOut)
def read_shape(surface_id: str) -> shape.ShapeView:
    """Its planform, sections and figures."""
    with _store().reading() as uow:
        return shape.shape_view(uow, surface_id)


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


@bp.patch("/forms/<form_id>")
@bp.input(FormIn)
@bp.output(SavedOut)
def edit_form(form_id: str, json_data: FormIn) -> shape.Saved:
    """Change a form."""
    measures = {field: typed.value() for field, typed in json_data.measures.items()}
    section = shape.SectionEdit(**json_data.section.model_dump()) if json_data.section else None
    with _store().writing() as uow:
        return shape.edit_form(uow, form_id, json_data.version, measures, section, _now())


@bp.get("/surfaces/<surface_id>/plies")
@bp.output(PliesOut)
def read_plies(surface_id: str) -> plies.PliesView:
    """Its ply book."""
    with _store().reading() as uow:
        return plies.plies_view(uow, surface_id)


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


@bp.put("/surfaces/<surface_id>/plies")
@bp.input(PlyBookIn)
@bp.output(SavedOut)
def edit_plies(surface_id: str, json_data: PlyBookIn) -> shape.Saved:
    """Replace the ply book of its design."""
    rows = [plies.PlyEdit(ply.cloth_id, ply.angle.value()) for ply in json_data.plies]
    with _store().writing() as uow:
        return plies.edit_plies(
            uow, surface_id, json_data.version, rows, json_data.core_id, json_data.core_after, _now()
        )


@bp.get("/surfaces/<surface_id>/mix")
@bp.output(MixViewOut)
def read_mix(surface_id: str) -> mixing.MixView:
    """Resin it takes, and its batches."""
    with _store().reading() as uow:
        return mixing.mix_view(uow, surface_id)


class LossesIn(BaseModel):
    """Losses as typed, by field."""

    version: int
    losses: dict[str, TypedIn]


@bp.patch("/designs/<design_id>/losses")
@bp.input(LossesIn)
@bp.output(SavedOut)
def edit_losses(design_id: str, json_data: LossesIn) -> shape.Saved:
    """Say where the shop knows better."""
    losses = {field: typed.value() for field, typed in json_data.losses.items()}
    with _store().writing() as uow:
        return mixing.edit_losses(uow, design_id, json_data.version, losses, _now())


@bp.get("/bench")
@bp.output(BenchOut)
def read_bench() -> mixing.Bench:
    """Products, crew and lots to mix with."""
    with _store().reading() as uow:
        return mixing.bench(uow)


class CupIn(BaseModel):
    """A chosen cup of a product."""

    sheet_id: str
    amount: TypedIn


@bp.post("/bench/cup")
@bp.input(CupIn)
@bp.output(CupOut)
def cup(json_data: CupIn) -> mixing.Cup:
    """Both masses to pour; nothing is kept."""
    with _store().reading() as uow:
        return mixing.cup(uow, json_data.sheet_id, json_data.amount.value())


class PourIn(BaseModel):
    """What is in the cup; without hardener, what it wants."""

    sheet_id: str
    resin: TypedIn
    hardener: TypedIn | None = None


@bp.post("/bench/pour")
@bp.input(PourIn)
@bp.output(PourOut)
def pour(json_data: PourIn) -> mixing.Pour:
    """Judge a cup; nothing is kept."""
    hardener = json_data.hardener.value() if json_data.hardener else None
    with _store().reading() as uow:
        return mixing.pour(uow, json_data.sheet_id, json_data.resin.value(), hardener)


class BatchIn(BaseModel):
    """A poured cup to keep. The client makes the id, so a retry adds nothing."""

    id: str
    surface_id: str
    step_key: str
    sheet_id: str
    resin_lid: str
    hardener_lid: str
    wanted_g: float
    resin: TypedIn
    hardener: TypedIn
    lot_id: str | None = None
    crew_member_id: str | None = None
    happened_at: datetime | None = None
    note: str = ""


@bp.post("/batches")
@bp.input(BatchIn)
@bp.output(BatchOut, status_code=201)
def keep_batch(json_data: BatchIn) -> mixing.BatchView:
    """Keep a cup as a batch on its surface."""
    given = json_data.model_dump(exclude={"resin_lid", "hardener_lid", "resin", "hardener"})
    order = mixing.PourBatch(
        **given,
        lids=(json_data.resin_lid, json_data.hardener_lid),
        resin=json_data.resin.value(),
        hardener=json_data.hardener.value(),
    )
    with _store().writing() as uow:
        return mixing.keep_batch(uow, order, _now())


class CorrectionIn(BaseModel):
    """What a batch really was."""

    id: str
    resin: TypedIn
    hardener: TypedIn
    note: str


@bp.post("/batches/<batch_id>/correction")
@bp.input(CorrectionIn)
@bp.output(BatchOut, status_code=201)
def correct_batch(batch_id: str, json_data: CorrectionIn) -> mixing.BatchView:
    """Correct a batch: a new row that names the old one."""
    with _store().writing() as uow:
        resin, hardener = json_data.resin.value(), json_data.hardener.value()
        return mixing.correct_batch(uow, batch_id, json_data.id, resin, hardener, json_data.note, _now())


class StartIn(BaseModel):
    """When to start; now, when nothing is given. Without an offset it is the shop's time."""

    start: datetime | None = None


@bp.get("/surfaces/<surface_id>/times")
@bp.input(StartIn, location="query")
@bp.output(TimesOut)
def read_times(surface_id: str, query_data: StartIn) -> times.TimesView:
    """Its steps in time."""
    with _store().reading() as uow:
        start = shop.in_shop_zone(uow, query_data.start)
        return times.times_view(uow, surface_id, start, _now())


class ImportIn(BaseModel):
    """A logger's file, as text."""

    id: str
    name: str
    text: str


@bp.post("/climate/imports")
@bp.input(ImportIn)
@bp.output(ImportedOut, status_code=201)
def import_logger(json_data: ImportIn) -> climate.Imported:
    """Take in a logger's file: all or nothing."""
    with _store().writing() as uow:
        return climate.import_logger(uow, json_data.id, json_data.name, json_data.text, _now())


class OutlookIn(BaseModel):
    """Tonight's low and tomorrow's high, as typed."""

    id: str
    low: TypedIn
    high: TypedIn


class KeptOut(BaseModel):
    """That it was kept."""

    id: str


@bp.post("/climate/outlooks")
@bp.input(OutlookIn)
@bp.output(KeptOut, status_code=201)
def say_outlook(json_data: OutlookIn) -> dict[str, str]:
    """Keep a low and a high."""
    with _store().writing() as uow:
        climate.say_outlook(uow, json_data.id, json_data.low.value(), json_data.high.value(), _now())
    return {"id": json_data.id}
