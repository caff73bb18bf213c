"""The mixing bench and the batches kept from it. Thin."""

from __future__ import annotations

from datetime import datetime

from apiflask import APIBlueprint
from pydantic import BaseModel, RootModel

from kiteloom.api.house import TypedIn, now, store
from kiteloom.workshop import batches, bench

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
        return bench.bench(uow)


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


@bp.post("/bench/pour")
@bp.input(PourIn)
@bp.output(PourOut)
def pour(json_data: PourIn) -> bench.Pour:
    """Judge a cup; nothing is kept."""
    hardener = json_data.hardener.value() if json_data.hardener else None
    with store().reading() as uow:
        return bench.pour(uow, json_data.sheet_id, json_data.resin.value(), hardener)


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
def keep_batch(json_data: BatchIn) -> batches.BatchView:
    """Keep a cup as a batch on its surface."""
    given = json_data.model_dump(exclude={"resin_lid", "hardener_lid", "resin", "hardener"})
    order = batches.PourBatch(
        **given,
        lids=(json_data.resin_lid, json_data.hardener_lid),
        resin=json_data.resin.value(),
        hardener=json_data.hardener.value(),
    )
    with store().writing() as uow:
        return batches.keep_batch(uow, order, now())


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
        return batches.correct_batch(uow, batch_id, json_data.id, resin, hardener, json_data.note, now())
