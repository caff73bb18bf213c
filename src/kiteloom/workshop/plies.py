"""A surface's ply book: the stack drawn and weighed, and editing it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from kiteloom.core.figures import Figure
from kiteloom.core.from_what import ply_weights, stack_weights
from kiteloom.core.laminate import Ply, Stack, stack_code, stack_figures, true_angle, warp_direction
from kiteloom.core.problems import Refused, between, plain
from kiteloom.core.quantities import Typed
from kiteloom.store.models import DataSheet, Design, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.saying import Choice
from kiteloom.workshop.shape import Saved
from kiteloom.workshop.skins import sheets, skin, stack_of, surfaces_of_form


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
    """The ply book of one surface, outside to inside, which is the order it is laid."""

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


def plies_view(uow: UnitOfWork, surface_id: str) -> PliesView:
    """Read it."""
    found = skin(uow, surface_id)
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
        [s.name for s in _surfaces_of(uow, found.design)],
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


def _surfaces_of(uow: UnitOfWork, design: Design) -> list[Surface]:
    return [s for s in surfaces_of_form(uow, design.form_id) if s.design_id == design.id]


@dataclass(frozen=True)
class PlyEdit:
    """A ply as typed: a cloth and its angle as seen on this part."""

    cloth_id: str
    angle: Typed


def edit_plies(
    uow: UnitOfWork,
    surface_id: str,
    version: int,
    plies: Sequence[PlyEdit],
    core_id: str | None,
    core_after: int,
    now: datetime,
) -> Saved:
    """Replace the ply book of a surface's design: all of it, or nothing.

    Angles are as seen on this part, so on a right-hand part they are mirrored back.
    """
    found = skin(uow, surface_id)
    design = uow.get_for_edit(Design, found.design.id, version)
    rows = []
    for number, ply in enumerate(plies):
        field = f"plies.{number}.angle"
        angle = between(field, ply.angle.read("angle", field), -180, 180, unit="°", name="the angle")
        if uow.get(DataSheet, ply.cloth_id).kind != "cloth":
            raise Refused(f"plies.{number}.cloth_id", f"“{uow.get(DataSheet, ply.cloth_id).name}” is not a cloth")
        rows.append({"cloth_id": ply.cloth_id, "angle_deg": true_angle(angle, found.hand)})
    book: dict[str, Any] = {"plies": rows, "core_id": core_id, "core_after": core_after if core_id else 0}
    after = stack_of(uow, book)
    if book != design.ply_book:
        design.ply_book = book
        uow.edited(design, _what_changed(found.stack, after), now, "design")
    return Saved(design.version)


def _names(stack: Stack) -> list[str]:
    def name(ply: Ply) -> str:
        return f"{ply.cloth.name} at {plain(true_angle(ply.angle_deg, 'left'))}°"

    names = [name(ply) for ply in stack.plies]
    if stack.core:
        names.insert(stack.core_after, stack.core.name)
    return names


def _what_changed(before: Stack, after: Stack) -> list[str]:
    old, new = _names(before), _names(after)
    gone, came = [n for n in old if old.count(n) > new.count(n)], [n for n in new if new.count(n) > old.count(n)]
    words = []
    if gone:
        words.append(f"took out {', '.join(gone)}")
    if came:
        words.append(f"put in {', '.join(came)}")
    return [f"plies: {' and '.join(words) or 'put in another order'}, now {stack_code(after)}"]
