"""The mixing bench: cups, pouring, filling, the scale. Thin."""

from __future__ import annotations

from flask import Response, current_app, request
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, scale, store
from kiteloom.formats.lid_labels import lid_labels
from kiteloom.views.bench import bench, cups, filled, limits, trail
from kiteloom.views.bench.scale import ScaleView, scale_view
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.parts import WORK_TOPICS
from kiteloom.workshop.mix.scale import UseScale, use_it
from kiteloom.workshop.stores.pumps import WeighPump, weigh_pump

bp = Routes("mix", "Mixing")


@bp.get("/bench")
@bp.gives(bench.Bench)
def read_bench() -> bench.Bench:
    """Products, crew and lots to mix with."""
    with store().reading() as uow:
        return bench.bench(uow, now())


@bp.post("/bench/cup")
@bp.takes(bench.WantedCup)
@bp.gives(bench.Cup)
def cup(order: bench.WantedCup) -> bench.Cup:
    """Both masses to pour; nothing is kept."""
    with store().reading() as uow:
        return bench.cup(uow, order, now())


@bp.post("/bench/pour")
@bp.takes(bench.InCup)
@bp.gives(bench.Pour)
def pour(order: bench.InCup) -> bench.Pour:
    """Judge a cup; nothing is kept."""
    with store().reading() as uow:
        return bench.pour(uow, order, now())


@bp.post("/bench/cups")
@bp.takes(cups.SplitCups)
@bp.gives(cups.CupsView)
def split(order: cups.SplitCups) -> cups.CupsView:
    """Split an amount into cups at the shop's present temperature; nothing is kept."""
    with store().reading() as uow:
        return cups.cups_view(uow, order, scale(), now())


@bp.post("/bench/limits")
@bp.takes(limits.WhereItGoes)
@bp.gives(limits.BenchLimits)
def air_limits(order: limits.WhereItGoes) -> limits.BenchLimits:
    """Whether a product can be worked with where it goes, now; nothing is kept."""
    with store().reading() as uow:
        return limits.limits_view(uow, order, now())


@bp.post("/bench/filled")
@bp.takes(filled.Thicken)
@bp.gives(filled.FilledView)
def thicken(order: filled.Thicken) -> filled.FilledView:
    """Grams of mix and filler for a volume; nothing is kept."""
    with store().reading() as uow:
        return filled.thicken(uow, order)


class Uses(BaseModel):
    """Steps that a product would do for."""

    uses: list[trail.OtherUse]


@bp.get("/bench/<sheet_id>/uses")
@bp.gives(Uses)
def uses(sheet_id: str) -> Uses:
    """What a mix of this product could go on, what can begin now leading."""
    with store().reading() as uow:
        return Uses(uses=trail.other_uses(uow, sheet_id, ("", ""), now()))


@bp.post("/bench/<sheet_id>/pumps")
@bp.takes(WeighPump)
@bp.gives(bench.Product, 201)
def keep_pump(sheet_id: str, order: WeighPump) -> bench.Product:
    """Keep what a pump's stroke is."""
    with store().writing() as uow:
        weigh_pump(uow, sheet_id, order, now())
    with store().reading() as uow:
        return bench.product_of(uow, sheet_id, now())


class OfSheet(BaseModel):
    """Of which product; of all when empty."""

    sheet: str = ""


@bp.get("/lids")
@bp.asks(OfSheet)
def lids(asked: OfSheet) -> Response:
    """Labels for the lids, as PDF."""
    with store().reading() as uow:
        address = address_here()
        # Some seconds of drawing: made once for each state of the shelf.
        page = uow.built.made(
            uow.last_change(WORK_TOPICS),
            f"lids {asked.sheet[:36]} {address}",
            lambda: lid_labels(bench.lids(uow, asked.sheet, address)),
        )
        return file(page, "application/pdf", "lids.pdf")


def address_here() -> str:
    """Where a phone finds this shop: under the name it was started with, else the one it was asked by."""
    name = current_app.config.get("NAME")
    port = request.host.rpartition(":")[2] if ":" in request.host else ""
    return f"{request.scheme}://{name}:{port}" if name and port.isdigit() else request.host_url


def _scale() -> ScaleView:
    with store().reading() as uow:
        return scale_view(scale(), units_of(uow))


@bp.get("/scale")
@bp.gives(ScaleView)
def read_scale() -> ScaleView:
    """The scale on the bench, now."""
    return _scale()


@bp.post("/scale")
@bp.takes(UseScale)
@bp.gives(ScaleView)
def use_scale(order: UseScale) -> ScaleView:
    """Set it to zero; a simulated one can also be poured on."""
    use_it(scale(), order)
    return _scale()
