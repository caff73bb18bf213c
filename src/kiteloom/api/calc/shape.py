"""Shapes measured: a surface by its stations, and flat outlines."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from kiteloom.api.house import Routes
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape import reading
from kiteloom.core.shape.loft import Loft, Planform, straight
from kiteloom.core.shape.outline import outlines_of
from kiteloom.formats.outline_files import loops_in

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


class StationIn(BaseModel):
    """A station of a wing of several panels [m], its twist nose up [°]."""

    at_m: float
    chord_m: float
    leading_edge_m: float = 0.0
    height_m: float = 0.0
    twist_deg: float = 0.0
    section: SectionIn


class SurfaceIn(BaseModel):
    """A panel and its sections, or stations."""

    planform: PlanformIn | None = None
    section: SectionIn | None = None
    tip_section: SectionIn | None = None
    stations: list[StationIn] | None = Field(None, max_length=200)

    def loft(self) -> Loft:
        """As it is computed with; `Refused` where neither stations nor a planform with its section are given."""
        if self.stations is not None:
            for name in ("planform", "section", "tip_section"):
                if getattr(self, name) is not None:
                    raise Refused(name, f"{name} and stations are both given; one of them is wanted")
            return reading.loft([row.model_dump() for row in self.stations])
        if self.planform is None:
            raise Refused("planform", "planform is missing, and so are stations; one of them is wanted")
        if self.section is None:
            raise Refused("section", "section is missing; a planform wants one")
        tip = reading.section(self.tip_section.model_dump(), "tip section") if self.tip_section else None
        return straight(Planform(**self.planform.model_dump()), reading.section(self.section.model_dump()), tip)


class GirthsOut(BaseModel):
    """The girths at a station [m]."""

    at_m: float
    girth_upper_m: float
    girth_lower_m: float


class SurfaceOut(BaseModel):
    """Areas [m²], girths and edges [m], each side by itself; root and tip are the first and the last station."""

    planform_area_m2: float
    upper_area_m2: float
    lower_area_m2: float
    root_girth_upper_m: float
    root_girth_lower_m: float
    tip_girth_upper_m: float
    tip_girth_lower_m: float
    leading_edge_m: float
    trailing_edge_m: float
    stations: list[GirthsOut]


@bp.post("/surface")
@bp.takes(SurfaceIn)
@bp.gives(SurfaceOut)
def surface(order: SurfaceIn) -> dict[str, Any]:
    """Measure a surface."""
    loft = order.loft()
    return {
        "planform_area_m2": loft.area_m2,
        "upper_area_m2": loft.skin_area_m2("upper"),
        "lower_area_m2": loft.skin_area_m2("lower"),
        "root_girth_upper_m": loft.girth_m("upper", "root"),
        "root_girth_lower_m": loft.girth_m("lower", "root"),
        "tip_girth_upper_m": loft.girth_m("upper", "tip"),
        "tip_girth_lower_m": loft.girth_m("lower", "tip"),
        "leading_edge_m": loft.leading_edge_m,
        "trailing_edge_m": loft.trailing_edge_m,
        "stations": [
            {"at_m": row.at_m, "girth_upper_m": row.girth_m("upper"), "girth_lower_m": row.girth_m("lower")}
            for row in loft.stations
        ],
    }


class OutlineIn(BaseModel):
    """Closed loops [mm], or the text of a drawing and the unit it is in."""

    loops_mm: list[list[Pair]] | None = Field(None, max_length=20_000)
    dxf: str | None = None
    svg: str | None = None
    unit: str | None = None


class OutlineOne(BaseModel):
    """One outline and its holes [mm]."""

    outer_mm: list[Pair]
    holes_mm: list[list[Pair]]


class OutlineOut(BaseModel):
    """Outlines, their area without holes, and the length of all edges."""

    area_mm2: float
    perimeter_mm: float
    outlines: list[OutlineOne]
    unit: str
    assumed: list[str]


@bp.post("/outline")
@bp.takes(OutlineIn)
@bp.gives(OutlineOut)
def outline(order: OutlineIn) -> dict[str, Any]:
    """Measure a flat outline."""
    given = [name for name in ("loops_mm", "dxf", "svg") if getattr(order, name) is not None]
    if len(given) != 1:
        said = " and ".join(given) or "none of them"
        raise Refused("loops_mm", f"{said} is given; exactly one of loops_mm, dxf and svg is wanted")
    if order.loops_mm is not None:
        loops: list[Any] = order.loops_mm
        unit, assumed = "mm", list[str]()
    else:
        kind: Literal["dxf", "svg"] = "dxf" if order.dxf is not None else "svg"
        loops, unit, assumed = loops_in(kind, order.dxf or order.svg or "", order.unit)
    outlines, more = outlines_of(loops)
    return {
        "area_mm2": sum(one.area_mm2 for one in outlines),
        "perimeter_mm": sum(one.edge_mm for one in outlines),
        "outlines": [{"outer_mm": one.outer, "holes_mm": one.holes} for one in outlines],
        "unit": unit,
        "assumed": [*assumed, *more],
    }
