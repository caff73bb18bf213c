"""Cloth that covers a part, laid flat: its widths with their seams, where it is glued, where it slides."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.clothing_steps import bays_in_turn
from kiteloom.core.build.task import FlatCover
from kiteloom.core.laminate.pieces import Piece
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.parts import built_part

Ring = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class WidthView:
    """A width of cloth: its code, how large, and its edges laid flat [m]."""

    code: str
    size: str
    outline: Ring


@dataclass(frozen=True)
class LandView:
    """Where it is glued, or slides: edge, rib or loose rib, by its number; its edges laid flat [m]."""

    kind: str
    number: int
    ring: Ring


@dataclass(frozen=True)
class BayView:
    """A bay, the middle of it along the panel [m], and when its turn comes."""

    at_m: float
    turn: int


@dataclass(frozen=True)
class ClothView:
    """A covering laid flat, root to the left, its upper side above the leading edge at 0 [m]."""

    job: str
    cloth: str
    outline: Ring
    widths: list[WidthView]
    lands: list[LandView]
    bays: list[BayView]
    """Bays between ribs, where the iron goes over them in turn."""
    sides: list[str]
    """What is above and below the leading edge where both sides are one envelope; else none."""
    words: list[str]
    """Lands, seams and what slides, in sentences."""
    asks: list[str]


def cloth_view(uow: UnitOfWork, part_id: str, key: str | None = None) -> ClothView:
    """How the cloth of one of a part's jobs lies; `Refused` where none covers it."""
    part, units = built_part(uow, part_id), units_of(uow)
    job = part.job_with(lambda recipe: recipe.cloth, key, "is not covered with cloth by this job")
    assert job.recipe is not None
    assert job.recipe.cloth is not None
    assert job.task is not None
    flat = job.recipe.cloth(job.task)
    low, high = min(y for _, y in flat.outline), max(y for _, y in flat.outline)
    return ClothView(
        job.key,
        flat.cloth,
        flat.outline,
        [_width(piece, units) for piece in flat.pieces],
        [LandView(one.kind, one.number, one.ring) for one in flat.lands],
        _bays(flat),
        list(_sides(uow.get(Part, part_id))) if low < -0.01 and high > 0.01 else [],
        list(_words(flat, units)),
        list(job.asks),
    )


def _bays(flat: FlatCover) -> list[BayView]:
    """Where the ribs are known: each bay between two of them, every other one first."""
    middles = flat.bays_m
    return [BayView(middles[bay - 1], turn) for turn, bay in enumerate(bays_in_turn(len(middles)), 1)]


def _sides(part: Part) -> tuple[str, str]:
    upright = (part.place or {}).get("lies") == "upright"
    return ("left side", "right side") if upright else ("upper side", "lower side")


def _width(piece: Piece, units: UnitSystem) -> WidthView:
    ring = tuple((x / 1000, y / 1000) for x, y in piece.outline_mm)
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    size = f"{show(max(xs) - min(xs), 'length', units)} × {show(max(ys) - min(ys), 'length', units)}"
    return WidthView(piece.id, size, ring)


def _words(flat: FlatCover, units: UnitSystem) -> list[str]:
    seams = len(flat.pieces) - 1
    slides = [str(one) for one in dict.fromkeys(land.number for land in flat.lands if land.kind == "loose rib")]
    found = [
        f"{len(flat.pieces)} {'width' if not seams else 'widths'} of {flat.cloth}, its warp along the span.",
        f"Glued over {show(1000 * flat.land_m, 'step', units)} along edges and ends, over the "
        f"{show(1000 * flat.rib_m, 'step', units)} of a rib: {show(flat.landing_m2, 'area', units)} in all.",
    ]
    if slides:
        found.append(f"It slides on rib {', '.join(slides)}.")
    return found
