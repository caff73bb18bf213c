"""A part's ply book: the stack drawn and weighed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.figures import Figure
from kiteloom.core.laminate.figures import ply_weights, stack_weights
from kiteloom.core.laminate.stack import stack_code, stack_figures, true_angle, warp_direction
from kiteloom.store.models import Design, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.skins import skin
from kiteloom.workshop.shape.shapes import parts_of_shape
from kiteloom.workshop.stores.sheets import sheets


@dataclass(frozen=True)
class PlyView:
    """One ply as it lies on this part: true angle [°], warp direction on the planform, its figures."""

    cloth_id: str
    cloth: str
    areal_weight_g_m2: float
    angle_deg: float
    balanced: bool
    place: Literal["outside", "inside"]
    warp: tuple[float, float]
    thickness_mm: float
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class CoreView:
    """The core, after so many plies."""

    core_id: str
    name: str
    thickness_mm: float
    after: int


@dataclass(frozen=True)
class PliesView:
    """The ply book of one part, outside to inside, which is the order it is laid."""

    design_id: str
    version: int
    decides: list[str]
    plies: list[PlyView]
    core: CoreView | None
    code: str
    symmetric: bool
    balanced: bool
    sentence: str
    figures: tuple[Figure, ...]
    cloths: list[Choice]
    cores: list[Choice]


def plies_view(uow: UnitOfWork, part_id: str) -> PliesView:
    """Read it."""
    found = skin(uow, part_id)
    stack, book = found.stack, found.design.ply_book
    figures = stack_figures(stack, found.resin.cured_density_g_ml)
    plies = [
        PlyView(
            row["cloth_id"],
            ply.cloth.name,
            ply.cloth.areal_weight_g_m2,
            true_angle(ply.angle_deg, found.hand),
            ply.cloth.balanced,
            "outside" if index < len(stack.outside) else "inside",
            warp_direction(ply.angle_deg, found.hand),
            one.thickness_mm,
            ply_weights(ply, one, found.area_m2),
        )
        for index, (row, ply, one) in enumerate(zip(book["plies"], stack.plies, figures.plies, strict=True))
    ]
    core = CoreView(book["core_id"], stack.core.name, stack.core.thickness_mm, stack.core_after) if stack.core else None
    return PliesView(
        found.design.id,
        found.design.version,
        [s.name for s in _parts_of(uow, found.design)],
        plies,
        core,
        stack_code(stack, found.hand),
        figures.symmetric,
        figures.balanced,
        _sentence(figures.symmetric, figures.balanced),
        stack_weights(stack, figures, found.area_m2, found.resin.cured_density_g_ml),
        [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "cloth")],
        [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "core")],
    )


def _sentence(symmetric: bool, balanced: bool) -> str:
    first = "Symmetric about its mid-plane" if symmetric else "Not symmetric: a free panel of it bends as it cures"
    second = "balanced in ±θ" if balanced else "not balanced in ±θ: it twists when pulled"
    return f"{first}; {second}. The schedule belongs to the designer."


def _parts_of(uow: UnitOfWork, design: Design) -> list[Part]:
    return [s for s in parts_of_shape(uow, design.shape_id) if s.design_id == design.id]
