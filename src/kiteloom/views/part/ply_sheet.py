"""A part's ply book on paper, for the cutting table and the mould."""

from __future__ import annotations

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show, system_of
from kiteloom.core.build.wet import hazards_of
from kiteloom.core.laminate.cover import BookWeights, book_weights
from kiteloom.core.laminate.stack import EVERYWHERE, STAGES, stack_code
from kiteloom.core.shape.loft import Ring
from kiteloom.formats.ply_book_pdf import PlyLine, ply_book_page
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.plies import PliesView, plies_view
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import BuiltJob, hand_of
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.shape.shapes import form_of


def ply_book_pdf(uow: UnitOfWork, part_id: str, key: str | None) -> bytes:
    """The ply book of one of its jobs, by its key."""
    part, units = uow.get(Part, part_id), units_of(uow)
    view = plies_view(uow, part_id, key)
    job = next(job for job in built_part(uow, part_id).jobs if job.key == view.job)
    if job.stack is None or job.covered is None:
        raise Refused(
            "plies", f"the ply book of {part.name} can't be printed yet: {'; '.join(job.cant) or view.sentence}"
        )
    resin = next(iter(job.products.values()))
    weights = book_weights(job.stack, job.covered, resin.cured_density_g_ml)
    outline: tuple[Ring, ...] = form_of(part.design.shape).outline(hand_of(part)) if part.design.shape else ()
    total = f"{show(weights.fibre_g, 'mass', units)} of cloth, {show(weights.resin_g, 'mass', units)} of resin in it"
    head = f"{job.name}, with {resin.name}. {total}; what is lost on the way is not counted here."
    if not view.zones:
        head = f"{stack_code(job.stack, hand_of(part))}. {head}"
    foot = [
        *view.doubts,
        f"Take care: {hazards_of(resin)} Glass and carbon fibres: gloves, sleeves, extraction where it is cut.",
        "The schedule belongs to the designer; the maker’s instructions decide.",
    ]
    lines = _lines(job, view, weights, units)
    return ply_book_page(
        f"Ply book · {part.name}", head, outline, lines, foot, letter=system_of(units) == "us"
    )  # fmt: skip


def _lines(job: BuiltJob, view: PliesView, weights: BookWeights, units: UnitSystem) -> list[PlyLine]:
    """Plies and core in laying order, a heading where a stage begins."""
    stack, covered = job.stack, job.covered
    assert stack is not None
    assert covered is not None
    found: list[PlyLine] = []
    before: tuple[str, int] = ("", 0)
    for n, (ply, shown, grams) in enumerate(zip(stack.plies, view.plies, weights.plies, strict=True)):
        if stack.core is not None and n == stack.core_after:
            found.append(_core(view, covered.core, weights, units))
        stage = (shown.place, ply.stage)
        pieces = f". {shown.pieces}" if shown.pieces else ""
        found.append(
            PlyLine(
                f"{n + 1} · {ply.cloth.name}",
                f"{shown.angle_deg:g}°, {ply.zone or EVERYWHERE}, {show(covered.plies[n], 'area', units)}{pieces}",
                f"{show(grams.fibre_g, 'mass', units)} cloth, {show(grams.resin_g, 'mass', units)} resin",
                shown.rings,
                shown.warp,
                _heading(stage, job) if stage != before else "",
            )
        )
        before = stage
    if stack.core is not None and stack.core_after == len(stack.plies):
        found.append(_core(view, covered.core, weights, units))
    return found


def _heading(stage: tuple[str, int], job: BuiltJob) -> str:
    place, number = stage
    side = f", {place} the core" if job.stack is not None and job.stack.core is not None else ""
    staged = job.recipe is not None and job.recipe.staged
    return f"{STAGES[number - 1].capitalize() if staged else 'Laid'}{side}"


def _core(view: PliesView, area_m2: float, weights: BookWeights, units: UnitSystem) -> PlyLine:
    core = view.core
    assert core is not None
    rings = next((zone.rings for zone in view.zones if zone.name == core.zone), ())
    scored = "".join(f". Scored {row.where}, {row.cuts}" for row in view.scoring.rows)
    let_in = f"; let in {show(sum(weights.inserts_g), 'mass', units)}" if weights.inserts_g else ""
    return PlyLine(
        f"Core · {core.name}",
        f"{core.zone or EVERYWHERE}, {show(area_m2, 'area', units)}{scored}",
        f"{show(weights.core_g, 'mass', units)}, takes up {show(weights.core_resin_g, 'mass', units)} resin{let_in}",
        rings,
        under="Core",
    )
