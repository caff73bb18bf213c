"""A stack weighed and measured."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes
from kiteloom.core.laminate import stack as laminate_stack
from kiteloom.core.stores import reading as stores_reading

bp = Routes("calc_laminate", "Calculations", "/calc")


class PlyIn(BaseModel):
    """A ply of a laminate."""

    name: str
    areal_weight_g_m2: float
    fibre_density_g_cm3: float
    angle_deg: float
    fibre_weight_fraction: float
    balanced: bool = False
    stitched: bool = False


class CoreIn(BaseModel):
    """A core between plies."""

    after_ply: int
    thickness_mm: float
    density_kg_m3: float
    resin_uptake_g_m2_per_side: float


class LaminateIn(BaseModel):
    """A stack, outside to inside."""

    plies: list[PlyIn] = Field(max_length=200)
    resin_density_g_cm3: float
    core: CoreIn | None = None


class PlyOut(BaseModel):
    """One ply, wet out."""

    thickness_mm: float
    fibre_volume_fraction: float
    resin_g_m2: float


class LaminateOut(BaseModel):
    """A stack, wet out."""

    plies: list[PlyOut]
    thickness_mm: float
    fibre_g_m2: float
    resin_g_m2: float
    areal_weight_g_m2: float
    symmetric: bool
    balanced: bool
    code: str


@bp.post("/laminate")
@bp.takes(LaminateIn)
@bp.gives(LaminateOut)
def stack(order: LaminateIn) -> dict[str, Any]:
    """Weigh and measure a stack."""
    plies = tuple(
        laminate_stack.Ply(stores_reading.cloth(ply.name, ply.model_dump()), ply.angle_deg) for ply in order.plies
    )
    core = order.core
    sheet = stores_reading.core_sheet("core", core.model_dump()) if core else None
    found = laminate_stack.stack_figures(
        laminate_stack.Stack(plies, sheet, core.after_ply if core else 0), order.resin_density_g_cm3
    )
    return {
        "plies": [
            {
                "thickness_mm": ply.thickness_mm,
                "fibre_volume_fraction": ply.fibre_volume_fraction,
                "resin_g_m2": ply.resin_g_m2,
            }
            for ply in found.plies
        ],
        "thickness_mm": found.thickness_mm,
        "fibre_g_m2": found.fibre_g_m2,
        "resin_g_m2": found.resin_g_m2,
        "areal_weight_g_m2": found.areal_weight_g_m2,
        "symmetric": found.symmetric,
        "balanced": found.balanced,
        "code": found.code,
    }
