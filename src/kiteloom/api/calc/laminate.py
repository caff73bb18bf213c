"""A stack weighed and measured."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.calc.shape import Pair, SurfaceIn
from kiteloom.api.house import Routes
from kiteloom.core.base.problems import between
from kiteloom.core.laminate import stack as laminate_stack
from kiteloom.core.laminate.cover import Cover, Region, book_weights, cover_of
from kiteloom.core.laminate.nest import nest
from kiteloom.core.laminate.pieces import Cutting, Piece, pieces_of
from kiteloom.core.laminate.rolls import Cut, Nest, Roll
from kiteloom.core.laminate.zones import Band, Zone
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import skin_of
from kiteloom.core.stores import reading as stores_reading

#: A caller is not kept waiting longer [s].
MOST_SECONDS = 120.0

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


class ZoneIn(BaseModel):
    """From one place along the span to another [m], between two shares of the chord."""

    name: str
    span_m: Pair
    chord: Pair


class BookPlyIn(PlyIn):
    """A ply, and the zone it lies in; everywhere without one."""

    zone: str | None = None


class BookCoreIn(CoreIn):
    """A core, and the zone it lies in; everywhere without one."""

    zone: str | None = None


class BookIn(BaseModel):
    """A ply book on one side of a surface."""

    surface: SurfaceIn
    side: Side
    zones: list[ZoneIn] = Field(default=[], max_length=40)
    plies: list[BookPlyIn] = Field(max_length=200)
    resin_density_g_cm3: float
    core: BookCoreIn | None = None

    def cover(self) -> Cover:
        """As it lies on the side."""
        plies = tuple(
            laminate_stack.Ply(stores_reading.cloth(ply.name, ply.model_dump()), ply.angle_deg, ply.zone or "")
            for ply in self.plies
        )
        core = self.core
        sheet = stores_reading.core_sheet("core", core.model_dump()) if core else None
        zones = tuple(Zone(zone.name, Band(*zone.span_m, *zone.chord)) for zone in self.zones)
        after, where = (core.after_ply, core.zone or "") if core else (0, "")
        return cover_of(
            laminate_stack.Stack(plies, sheet, after, zones, where), skin_of(self.surface.loft(), self.side)
        )


class BookPlyOut(BaseModel):
    """What one ply covers and weighs."""

    area_m2: float
    fibre_g: float
    resin_g: float


class BookCoreOut(BaseModel):
    """What the core covers and weighs, and the resin its faces take up."""

    area_m2: float
    core_g: float
    resin_g: float


class BookOut(BaseModel):
    """A ply book weighed."""

    plies: list[BookPlyOut]
    core: BookCoreOut | None
    regions: list[Region]
    fibre_g: float
    resin_g: float
    core_g: float
    total_g: float


@bp.post("/ply-book")
@bp.takes(BookIn)
@bp.gives(BookOut)
def ply_book(order: BookIn) -> dict[str, Any]:
    """Weigh a ply book with zones."""
    cover = order.cover()
    found = book_weights(cover.stack, cover.covered, order.resin_density_g_cm3)
    core = cover.stack.core
    return {
        "plies": [
            {"area_m2": area, "fibre_g": ply.fibre_g, "resin_g": ply.resin_g}
            for area, ply in zip(cover.covered.plies, found.plies, strict=True)
        ],
        "core": {"area_m2": cover.covered.core, "core_g": found.core_g, "resin_g": found.core_resin_g}
        if core
        else None,
        "regions": cover.regions(order.resin_density_g_cm3),
        "fibre_g": found.fibre_g,
        "resin_g": found.resin_g,
        "core_g": found.core_g,
        "total_g": found.total_g,
    }


class PiecesIn(BookIn):
    """A ply book, and how it is cut."""

    roll_width_mm: float
    trim_mm: float = 0.0
    overlap_mm: float = 0.0


class PiecesOut(BaseModel):
    """Pieces, ready to be nested."""

    pieces: list[Piece]


@bp.post("/pieces")
@bp.takes(PiecesIn)
@bp.gives(PiecesOut)
def pieces(order: PiecesIn) -> dict[str, Any]:
    """Cut a ply book into pieces that fit the roll."""
    cutting = Cutting(order.roll_width_mm / 1000, order.trim_mm / 1000, order.overlap_mm / 1000)
    return {"pieces": pieces_of(order.cover(), cutting)}


class CutIn(BaseModel):
    """A piece to be nested: its outline in the part's axes [mm], the angle of its warp there [°], and how many."""

    id: str
    outline_mm: list[Pair] = Field(max_length=5000)
    angle_deg: float
    quantity: int = 1


class NestIn(BaseModel):
    """Pieces, and the roll they are cut from."""

    pieces: list[CutIn] = Field(max_length=3000)
    roll_width_mm: float
    gap_mm: float
    seconds: float
    quarter_turns: bool = False
    seed: int = 1


@bp.post("/nest")
@bp.takes(NestIn)
@bp.gives(Nest)
def nested(order: NestIn) -> Nest:
    """Lay pieces out on a roll."""
    pieces = [Cut(one.id, tuple(one.outline_mm), one.angle_deg, one.quantity) for one in order.pieces]
    between("seconds", order.seconds, 0, MOST_SECONDS, unit="s", name="the time to look")
    return nest(pieces, Roll(order.roll_width_mm, order.gap_mm, order.quarter_turns), order.seconds, order.seed)
