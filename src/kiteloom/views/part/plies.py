"""A part's ply book: the stack drawn and weighed, its zones on the planform, and what is asked of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal

from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cover import cover_of, even
from kiteloom.core.laminate.doubts import doubts
from kiteloom.core.laminate.figures import ply_weights, stack_weights, zoned_weights
from kiteloom.core.laminate.stack import (
    EVERYWHERE,
    STAGES,
    Stack,
    StackFigures,
    stack_code,
    stack_figures,
    true_angle,
    warp_direction,
)
from kiteloom.core.laminate.zones import INSERT, JOINTS
from kiteloom.core.shape.loft import Ring
from kiteloom.core.shape.skin import Skin, skin_of
from kiteloom.core.stores.fields import ASSUMED
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.scores import ScoringView, scoring_view
from kiteloom.views.part.zones import NewZone, RegionView, ZoneView, new_zones, region_view, zone_view
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import BuiltJob, built_job, hand_of, job_row, parts_of_job
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.build.plies import EditPlies, typed_book
from kiteloom.workshop.cut.codes import codes_of, pieces_words
from kiteloom.workshop.shape.shapes import form_of
from kiteloom.workshop.stores.sheets import sheets


@dataclass(frozen=True)
class PlyView:
    """One ply as it lies on this part: true angle [°], warp direction on the planform, its figures.

    ``rings`` are its edges on the drawing where it does not cover all of the side.
    """

    cloth_id: str
    cloth: str
    areal_weight_g_m2: float
    angle_deg: float
    balanced: bool
    place: Literal["outside", "inside"]
    stage: int
    zone: str
    warp: tuple[float, float]
    thickness_mm: float
    rings: tuple[Ring, ...]
    figures: tuple[Figure, ...]
    pieces: str
    """What is written on its pieces, where they are laid out, and what is not cut yet."""
    cut_plan: str
    """The plan they are in, by its id; empty for none."""


@dataclass(frozen=True)
class CoreView:
    """The core, after so many plies."""

    core_id: str
    name: str
    thickness_mm: float
    after: int
    zone: str


@dataclass(frozen=True)
class PliesView:
    """The ply book of one part, outside to inside, which is the order it is laid.

    ``new_zones`` are empty where its part has no one surface to lie on; ``stages`` are those a side may be laid up in,
    none where it is laid at once; ``everywhere`` is what lying in no zone is called.
    """

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
    doubts: list[str]
    figures: tuple[Figure, ...]
    cloths: list[Choice]
    cores: list[Choice]
    zones: list[ZoneView]
    regions: list[RegionView]
    new_zones: list[NewZone]
    stages: list[str]
    everywhere: str
    scoring: ScoringView
    inserts: tuple[str, ...]
    """What may be let into its core at a hard point; none without a core."""
    joints: tuple[str, ...]
    """Where joints of the cloth may lie, of a zone."""


def plies_view(uow: UnitOfWork, part_id: str, key: str | None = None) -> PliesView:
    """The ply book of one of its jobs, by its key; of the first that lays something up where none is named."""
    part = uow.get(Part, part_id)
    built = built_part(uow, part_id)
    laid = [job for job in built.jobs if job.recipe is not None and job.recipe.laid_up and key in (None, job.key)]
    if not laid:
        raise Refused("job", f"{part.name} has no ply book: nothing is laid up in it")
    return _view(uow, part, laid[0], job_row(part, laid[0].key).ply_book)


def look_at_plies(uow: UnitOfWork, part_id: str, order: EditPlies) -> PliesView:
    """A ply book as typed, drawn and weighed; nothing is kept."""
    part = uow.get(Part, part_id)
    book = typed_book(uow, part, order)
    return _view(uow, part, built_job(uow, part, job_row(part, order.job), book=book), book)


def _view(uow: UnitOfWork, part: Part, job: BuiltJob, book: dict[str, Any]) -> PliesView:
    row, hand, units = job_row(part, job.key), hand_of(part), units_of(uow)
    stack, resin = job.stack, next(iter(job.products.values()), None)
    density = resin.cured_density_g_ml if resin else ASSUMED["cured_density_g_ml"]
    surface = _surface(part, job)
    view = PliesView(
        job.id,
        job.key,
        job.version,
        [other.name for other in parts_of_job(uow, row)],
        [],
        None,
        "",
        True,
        True,
        "Nothing is laid up yet: add the first ply.",
        [],
        (),
        [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "cloth")],
        [Choice(sheet.id, sheet.name) for sheet in sheets(uow, "core")],
        [],
        [],
        new_zones(surface, units) if surface is not None else [],
        list(STAGES) if job.recipe is not None and job.recipe.staged else [],
        EVERYWHERE,
        scoring_view(job, surface, density, hand, units),
        INSERT.choices if stack is not None and stack.core is not None else (),
        JOINTS.choices,
    )
    if stack is None:
        return view
    figures = stack_figures(stack, density)
    zones = [zone_view(surface, zone, n, hand, units) for n, zone in enumerate(stack.zones)]
    wrong = [zone.wrong for zone in zones if zone.wrong]
    cover = cover_of(stack, surface) if surface is not None and zones and not wrong else None
    # Before its resin is chosen a job can't be made; what its plies cover is known all the same.
    side = surface.area_of(surface.whole) if surface is not None else 0.0
    covered = job.covered or (cover.covered if cover is not None else even(stack, side))
    regions = cover.regions(density, hand) if cover is not None else ()
    codes = codes_of(uow, part.id, job.key)
    plies = [
        PlyView(
            line["cloth_id"],
            ply.cloth.name,
            ply.cloth.areal_weight_g_m2,
            true_angle(ply.angle_deg, hand),
            ply.cloth.balanced,
            "outside" if index < len(stack.outside) else "inside",
            ply.stage,
            ply.zone,
            warp_direction(ply.angle_deg, hand),
            one.thickness_mm,
            cover.skin.drawn(cover.plies[index], hand) if cover is not None and ply.zone else (),
            ply_weights(ply, one, covered.plies[index]),
            pieces_words(codes.get(index, [])),
            codes[index][0].plan_id if index in codes else "",
        )
        for index, (line, ply, one) in enumerate(zip(book.get("plies", ()), stack.plies, figures.plies, strict=True))
    ]
    core = None
    if stack.core is not None:
        core = CoreView(book["core_id"], stack.core.name, stack.core.thickness_mm, stack.core_after, stack.core_zone)
    if cover is None:
        weights = stack_weights(stack, figures, covered.plies[0], density, covered.scores_ml)
        return replace(
            view,
            plies=plies,
            core=core,
            code=stack_code(stack, hand),
            symmetric=figures.symmetric and not wrong,
            balanced=figures.balanced,
            sentence=f"What it weighs can't be said: {'; '.join(wrong)}." if wrong else _sentence(stack, figures),
            figures=() if wrong else weights,
            zones=zones,
        )
    return replace(
        view,
        plies=plies,
        core=core,
        code=f"{len(regions)} stacks side by side",
        balanced=all(region.balanced for region in regions),
        sentence="Each piece of the side has its own stack: touch it to see it. The schedule belongs to the designer.",
        doubts=list(doubts(cover, regions, density, units)),
        figures=zoned_weights(stack, covered, density),
        zones=zones,
        regions=[region_view(cover, region, hand) for region in regions],
    )


def _surface(part: Part, job: BuiltJob) -> Skin | None:
    """The side that zones of a job lie on; None where they can lie on none. Of the whole it is the upper."""
    shape = part.design.shape
    if shape is None or shape.kind == "pieces" or job.recipe is None or not job.recipe.shapes:
        return None
    return skin_of(form_of(shape), "lower" if part.design.side == "lower" else "upper")


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
