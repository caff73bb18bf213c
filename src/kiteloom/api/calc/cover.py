"""Covering and coats: cloth, adhesive, tape, attachments; litres, wet and dry."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import BaseModel, Field

from kiteloom.api.calc.shape import SurfaceIn
from kiteloom.api.house import Routes
from kiteloom.core.base.problems import between
from kiteloom.core.build import covering
from kiteloom.core.need import coats as paint
from kiteloom.core.shape.loft import Ribs

bp = Routes("calc_cover", "Calculations", "/calc")


class CoverClothIn(BaseModel):
    """A cloth off the roll."""

    width_m: float
    areal_weight_g_m2: float


class AdhesiveIn(BaseModel):
    """How far an adhesive goes in one coat, and how many coats go on either face."""

    spread_m2_l: float
    coats_structure: int = Field(ge=0, le=10)
    coats_cloth: int = Field(ge=0, le=10)
    loss_pct: float = 0.0


class CoverIn(BaseModel):
    """A panel and what it is covered with."""

    surface: SurfaceIn
    side: Literal["upper", "lower", "both"]
    cloth: CoverClothIn
    ribs_at_m: list[float] = Field(default_factory=list, max_length=500)
    rib_width_mm: float
    edge_landing_mm: float
    wrap_mm: float
    overlap_mm: float
    adhesive: AdhesiveIn
    attachment_pitch_mm: float | None = None


class WidthOut(BaseModel):
    """Pieces of cloth alike."""

    length_m: float
    width_m: float
    quantity: int


class CoverOut(BaseModel):
    """What it takes."""

    pieces: list[WidthOut]
    cloth_m: float
    cloth_g: float
    landing_m2: float
    adhesive_l: float
    tape_m: float
    attachments: int | None


@bp.post("/cover")
@bp.takes(CoverIn)
@bp.gives(CoverOut)
def cover(order: CoverIn) -> dict[str, Any]:
    """Cover a panel."""
    between("rib_width_mm", order.rib_width_mm, 0, 500, unit="mm", name="the width of a rib")
    between("edge_landing_mm", order.edge_landing_mm, 0, 500, unit="mm", name="the land along edges")
    ribs = Ribs(tuple(order.ribs_at_m), order.rib_width_mm / 1000, order.edge_landing_mm / 1000)
    panel = covering.panel_of(replace(order.surface.loft(), ribs=ribs), "whole" if order.side == "both" else order.side)
    cloth = covering.Cloth(
        order.cloth.width_m, order.cloth.areal_weight_g_m2, order.wrap_mm / 1000, order.overlap_mm / 1000
    )
    found, pitch, glue = covering.widths(panel, cloth), order.attachment_pitch_mm, order.adhesive
    landing = covering.landing_m2(panel, ribs.width_m, ribs.edge_m)
    return {
        "pieces": [{"length_m": found.length_m, "width_m": found.width_m, "quantity": found.count}],
        "cloth_m": found.off_roll_m,
        "cloth_g": found.on_part_g,
        "landing_m2": landing,
        "adhesive_l": covering.adhesive_l(
            landing, glue.coats_structure + glue.coats_cloth, glue.spread_m2_l, glue.loss_pct / 100
        ),
        "tape_m": covering.tape_m(panel),
        "attachments": None if pitch is None else covering.attachments(panel, pitch / 1000),
    }


class CoatsIn(BaseModel):
    """Coats of one product on an area."""

    area_m2: float
    coats: int
    spread_m2_l: float
    loss_pct: float
    density_g_ml: float
    solids_pct: float | None = None


@bp.post("/coats")
@bp.takes(CoatsIn)
@bp.gives(paint.Coats)
def coats(order: CoatsIn) -> paint.Coats:
    """Reckon coats."""
    solids = None if order.solids_pct is None else order.solids_pct / 100
    return paint.coats(order.area_m2, order.coats, order.spread_m2_l, order.loss_pct / 100, order.density_g_ml, solids)
