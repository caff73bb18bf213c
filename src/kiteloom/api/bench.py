"""The mixing bench and the batches kept from it. Thin."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, scale, store
from kiteloom.formats.lid_labels import lid_labels
from kiteloom.views.bench import batches, bench, cups, trail
from kiteloom.views.bench.scale import ScaleView, scale_view
from kiteloom.workshop.base import shop
from kiteloom.workshop.log import batch_notes
from kiteloom.workshop.log import batches as log_batches
from kiteloom.workshop.mix.scale import use_it
from kiteloom.workshop.stores import pumps

bp = APIBlueprint("bench", __name__, url_prefix="/api/v1", tag="Mixing")


class BenchOut(RootModel[bench.Bench]):
    """What to mix with."""


class CupOut(RootModel[bench.Cup]):
    """A cup to pour."""


class PourOut(RootModel[bench.Pour]):
    """How a cup stands."""


class BatchOut(RootModel[batches.BatchView]):
    """A kept batch."""


@bp.get("/bench")
@bp.output(BenchOut)
def read_bench() -> bench.Bench:
    """Products, crew and lots to mix with."""
    with store().reading() as uow:
        return bench.bench(uow, now())


class CupIn(BaseModel):
    """A chosen cup of a product."""

    sheet_id: str
    amount: TypedIn


@bp.post("/bench/cup")
@bp.input(CupIn)
@bp.output(CupOut)
def cup(json_data: CupIn) -> bench.Cup:
    """Both masses to pour; nothing is kept."""
    with store().reading() as uow:
        return bench.cup(uow, json_data.sheet_id, json_data.amount.value())


class PourIn(BaseModel):
    """What is in the cup; without hardener, what it wants."""

    sheet_id: str
    resin: TypedIn
    hardener: TypedIn | None = None
    since: datetime | None = None
    used: bool = False


@bp.post("/bench/pour")
@bp.input(PourIn)
@bp.output(PourOut)
def pour(json_data: PourIn) -> bench.Pour:
    """Judge a cup; nothing is kept."""
    hardener = json_data.hardener.value() if json_data.hardener else None
    with store().reading() as uow:
        since = shop.in_shop_zone(uow, json_data.since)
        in_cup = bench.InCup(json_data.resin.value(), hardener, since, json_data.used)
        return bench.pour(uow, json_data.sheet_id, in_cup, now())


class BatchIn(BaseModel):
    """A poured cup to keep. The client makes the id, so a retry adds nothing."""

    id: str
    part_id: str
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
    hardener_lot_id: str | None = None
    used: bool = False
    another: bool = False


@bp.post("/batches")
@bp.input(BatchIn)
@bp.output(BatchOut, status_code=201)
def keep_batch(json_data: BatchIn) -> batches.BatchView:
    """Keep a cup as a batch on its part."""
    given = json_data.model_dump(exclude={"resin_lid", "hardener_lid", "resin", "hardener"})
    order = log_batches.PourBatch(
        **given,
        lids=(json_data.resin_lid, json_data.hardener_lid),
        resin=json_data.resin.value(),
        hardener=json_data.hardener.value(),
    )
    with store().writing() as uow:
        log_batches.keep_batch(uow, order, now())
    with store().reading() as uow:
        return batches.batch_view(uow, json_data.id)


class CorrectionIn(BaseModel):
    """What a batch really was."""

    id: str
    resin: TypedIn
    hardener: TypedIn
    note: str


@bp.post("/batches/<batch_id>/correction")
@bp.input(CorrectionIn)
@bp.output(BatchOut, status_code=201)
def correct_batch(batch_id: str, json_data: CorrectionIn) -> batches.BatchView:
    """Correct a batch: a new row that names the old one."""
    with store().writing() as uow:
        resin, hardener = json_data.resin.value(), json_data.hardener.value()
        log_batches.correct_batch(uow, batch_id, json_data.id, resin, hardener, json_data.note, now())
    with store().reading() as uow:
        return batches.batch_view(uow, json_data.id)


class CupsViewOut(RootModel[cups.CupsView]):
    """An amount in cups."""


class SplitIn(BaseModel):
    """An amount, and what the crew uses up in a minute."""

    sheet_id: str
    amount: TypedIn
    spread: TypedIn
    scale_step_g: float | None = None


@bp.post("/bench/cups")
@bp.input(SplitIn)
@bp.output(CupsViewOut)
def split(json_data: SplitIn) -> cups.CupsView:
    """Split an amount into cups at the shop's present temperature; nothing is kept."""
    amount, spread = json_data.amount.value(), json_data.spread.value()
    with store().reading() as uow:
        return cups.cups_view(uow, json_data.sheet_id, amount, spread, json_data.scale_step_g, now())


class FilledOut(RootModel[bench.FilledView]):
    """A filled mix."""


class FilledIn(BaseModel):
    """What is to be filled, with which filler, for what."""

    sheet_id: str
    powder_id: str
    use: str
    consistency: str
    volume: TypedIn


@bp.post("/bench/filled")
@bp.input(FilledIn)
@bp.output(FilledOut)
def thicken(json_data: FilledIn) -> bench.FilledView:
    """Grams of mix and filler for a volume; nothing is kept."""
    given = json_data.model_dump(exclude={"volume"})
    with store().reading() as uow:
        return bench.thicken(uow, **given, volume=json_data.volume.value())


class ProductViewOut(RootModel[bench.Product]):
    """A product on the bench."""


class UsesOut(BaseModel):
    """Steps that a product would do for."""

    uses: list[trail.OtherUse]


@bp.get("/bench/<sheet_id>/uses")
@bp.output(UsesOut)
def uses(sheet_id: str) -> UsesOut:
    """What a mix of this product could go on, what can begin now leading."""
    with store().reading() as uow:
        return UsesOut(uses=trail.other_uses(uow, sheet_id, ("", ""), now()))


class PumpIn(BaseModel):
    """Several strokes of a pump, weighed together."""

    id: str
    component: str
    strokes: int = 3
    grams: TypedIn


@bp.post("/bench/<sheet_id>/pumps")
@bp.input(PumpIn)
@bp.output(ProductViewOut, status_code=201)
def weigh_pump(sheet_id: str, json_data: PumpIn) -> bench.Product:
    """Keep what a pump's stroke is."""
    with store().writing() as uow:
        typed = json_data.grams.value()
        pumps.weigh_pump(uow, sheet_id, json_data.id, json_data.component, json_data.strokes, typed, now())
    with store().reading() as uow:
        return bench.product_of(uow, sheet_id, now())


class LidsIn(BaseModel):
    """Of which product; of all when empty."""

    sheet: str = ""


@bp.get("/lids")
@bp.input(LidsIn, location="query")
def lids(query_data: LidsIn) -> Response:
    """Labels for the lids, as PDF."""
    with store().reading() as uow:
        page = lid_labels(bench.lids(uow, query_data.sheet, request.host_url))
    return Response(page, content_type="application/pdf", headers={"Content-Disposition": "inline; filename=lids.pdf"})


class ScaleOut(RootModel[ScaleView]):
    """What the scale reads."""


@bp.get("/scale")
@bp.output(ScaleOut)
def read_scale() -> ScaleView:
    """The scale on the bench, now."""
    with store().reading() as uow:
        units = shop.units_of(uow)
    return scale_view(scale(), units)


class ScaleIn(BaseModel):
    """Zero it; or, where it is simulated, pour on it, put something on it, pull its plug."""

    tare: bool = False
    pour_g_s: float | None = None
    put_g: float | None = None
    plugged: bool | None = None


@bp.post("/scale")
@bp.input(ScaleIn)
@bp.output(ScaleOut)
def use_scale(json_data: ScaleIn) -> ScaleView:
    """Set it to zero; a simulated one can also be poured on."""
    device = scale()
    with store().reading() as uow:
        units = shop.units_of(uow)
    order = json_data.model_dump(exclude_none=True)
    use_it(device, order)
    return scale_view(device, units)


class TrailBatchOut(RootModel[trail.Trail]):
    """A batch and what became of it."""


@bp.get("/batches/<batch_id>")
@bp.output(TrailBatchOut)
def read_batch(batch_id: str) -> trail.Trail:
    """One batch: where it went, what is left, where else it could go."""
    with store().reading() as uow:
        return trail.trail(uow, batch_id, now())


class BatchNoteIn(BaseModel):
    """What became of a batch. The client makes the id."""

    id: str
    kind: Literal["on", "emptied", "bad", "cleared"]
    part_id: str | None = None
    step_key: str = ""
    grams: TypedIn | None = None
    note: str = ""


@bp.post("/batches/<batch_id>/notes")
@bp.input(BatchNoteIn)
@bp.output(TrailBatchOut, status_code=201)
def note_batch(batch_id: str, json_data: BatchNoteIn) -> trail.Trail:
    """Note that it went on a part too, was used up, or is bad."""
    given = json_data.model_dump(exclude={"grams"})
    order = batch_notes.NoteBatch(**given, grams=json_data.grams.value() if json_data.grams else None)
    with store().writing() as uow:
        batch_notes.note_batch(uow, batch_id, order, now())
    with store().reading() as uow:
        return trail.trail(uow, batch_id, now())


class PhotoOut(BaseModel):
    """A photograph that was kept."""

    id: str


@bp.put("/batches/<batch_id>/photos/<photo_id>")
@bp.output(PhotoOut, status_code=201)
def keep_photo(batch_id: str, photo_id: str) -> PhotoOut:
    """Keep a photograph of a batch; its bytes are the body."""
    data = request.get_data()
    with store().writing() as uow:
        return PhotoOut(id=batch_notes.keep_photo(uow, batch_id, photo_id, data, now()))


@bp.get("/photos/<photo_id>")
def photo(photo_id: str) -> Response:
    """A photograph."""
    with store().reading() as uow:
        media, data = batch_notes.photo(uow, photo_id)
    return Response(data, content_type=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})
