"""A part's ply book: the stack drawn and weighed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.figures import ply_weights, stack_weights
from kiteloom.core.laminate.stack import (
    Stack,
    StackFigures,
    stack_code,
    stack_figures,
    true_angle,
    warp_direction,
)
from kiteloom.core.stores.fields import ASSUMED
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.jobs import hand_of, job_row, parts_of_job
from kiteloom.workshop.build.parts import built_part
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

    job_id: str
    job: str
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


def plies_view(uow: UnitOfWork, part_id: str, key: str | None = None) -> PliesView:
    """The ply book of one of its jobs, by its key; of the first that lays something up where none is named."""
    part = uow.get(Part, part_id)
    built = built_part(uow, part_id)
    laid = [job for job in built.jobs if job.recipe is not None and job.recipe.laid_up and key in (None, job.key)]
    if not laid:
        raise Refused("job", f"{part.name} has no ply book: nothing is laid up in it")
    job, hand = laid[0], hand_of(part)
    row = job_row(part, job.key)
    cloths = [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "cloth")]
    cores = [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "core")]
    names = [other.name for other in parts_of_job(uow, row)]
    if job.stack is None:
        empty = "Nothing is laid up yet: add the first ply."
        return PliesView(job.id, job.key, job.version, names, [], None, "", True, True, empty, (), cloths, cores)
    stack, book = job.stack, row.ply_book
    resin = next(iter(job.products.values()), None)
    density = resin.cured_density_g_ml if resin else ASSUMED["cured_density_g_ml"]
    figures = stack_figures(stack, density)
    plies = [
        PlyView(
            line["cloth_id"],
            ply.cloth.name,
            ply.cloth.areal_weight_g_m2,
            true_angle(ply.angle_deg, hand),
            ply.cloth.balanced,
            "outside" if index < len(stack.outside) else "inside",
            warp_direction(ply.angle_deg, hand),
            one.thickness_mm,
            ply_weights(ply, one, job.area_m2),
        )
        for index, (line, ply, one) in enumerate(zip(book.get("plies", ()), stack.plies, figures.plies, strict=True))
    ]
    core = CoreView(book["core_id"], stack.core.name, stack.core.thickness_mm, stack.core_after) if stack.core else None
    return PliesView(
        job.id,
        job.key,
        job.version,
        names,
        plies,
        core,
        stack_code(stack, hand),
        figures.symmetric,
        figures.balanced,
        _sentence(stack, figures),
        stack_weights(stack, figures, job.area_m2, density),
        cloths,
        cores,
    )


def _sentence(stack: Stack, figures: StackFigures) -> str:
    first = "Symmetric about its mid-plane"
    stitched = next((ply.cloth.name for ply in stack.plies if ply.cloth.stitched), "")
    if stitched:
        first = (
            f"Not symmetric: the layers of {stitched} lie one on the other, so a free panel twists as it cures, "
            "unless its mirror image is laid face down"
        )
    elif not figures.symmetric:
        first = "Not symmetric: a free panel of it bends as it cures"
    second = "balanced in ±θ" if figures.balanced else "not balanced in ±θ: it twists when pulled"
    return f"{first}; {second}. The schedule belongs to the designer."
