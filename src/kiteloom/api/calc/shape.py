"""A panel measured."""

from __future__ import annotations

from pydantic import BaseModel

from kiteloom.api.house import Routes
from kiteloom.core.shape import reading

bp = Routes("calc_shape", "Calculations", "/calc")


Pair = tuple[float, float]


class TwoSidesIn(BaseModel):
    """A section's two sides."""

    upper: list[Pair]
    lower: list[Pair]


class SectionIn(BaseModel):
    """Four digits, or points in fractions of the chord: one line, or upper and lower."""

    naca: str | None = None
    points: list[Pair] | list[list[Pair]] | TwoSidesIn | None = None
    upper: list[Pair] | None = None
    lower: list[Pair] | None = None
    name: str | None = None


class PlanformIn(BaseModel):
    """One panel [m]."""

    span_m: float
    root_chord_m: float
    tip_chord_m: float
    sweep_m: float = 0.0


class SurfaceIn(BaseModel):
    """A panel and its sections."""

    planform: PlanformIn
    section: SectionIn
    tip_section: SectionIn | None = None


class SurfaceOut(BaseModel):
    """Areas [m²] and girths [m], each side by itself."""

    planform_area_m2: float
    upper_area_m2: float
    lower_area_m2: float
    root_girth_upper_m: float
    root_girth_lower_m: float
    tip_girth_upper_m: float
    tip_girth_lower_m: float


@bp.post("/surface")
@bp.takes(SurfaceIn)
@bp.gives(SurfaceOut)
def surface(order: SurfaceIn) -> dict[str, float]:
    """Measure a panel."""
    tip = reading.section(order.tip_section.model_dump()) if order.tip_section else None
    panel = reading.panel(order.planform.model_dump(), reading.section(order.section.model_dump()), tip)
    return {
        "planform_area_m2": panel.planform.area_m2,
        "upper_area_m2": panel.skin_area_m2("upper"),
        "lower_area_m2": panel.skin_area_m2("lower"),
        "root_girth_upper_m": panel.girth_m("upper", "root"),
        "root_girth_lower_m": panel.girth_m("lower", "root"),
        "tip_girth_upper_m": panel.girth_m("upper", "tip"),
        "tip_girth_lower_m": panel.girth_m("lower", "tip"),
    }
