"""A part's name, state and jobs, at the head of its page."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.build.recipe import Recipe, fits_shape
from kiteloom.core.build.recipes import RECIPES
from kiteloom.core.plan.today import State, state_of
from kiteloom.core.shape.place import Place
from kiteloom.store.models import CrewMember, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.airframe import Side, state_of_part
from kiteloom.views.bench.batches import care_of_part
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.job_edits import name_of
from kiteloom.workshop.build.jobs import BuiltJob, job_row, parts_of_job
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.faces import faces_of
from kiteloom.workshop.log.hinges import balance_care, hinge_readings
from kiteloom.workshop.log.hours import hours_in, hours_so_far
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.shape.shapes import form_of, parts_of_shape

JobState = Literal["done", "now", "ahead", "can't be made"]


@dataclass(frozen=True)
class AgainView:
    """What is asked, what a button says, and whether it asks where."""

    question: str
    words: str
    where: bool


@dataclass(frozen=True)
class JobHead:
    """One job in the column: how far it is, and why it can't be made where it can't."""

    id: str
    key: str
    name: str
    version: int
    state: JobState
    sentence: str
    laid_up: bool
    joint: bool
    tried: bool
    """Whether it is tried with air: it has a leak test."""
    cut: bool
    """Whether pieces are cut for it that no ply book says."""
    cloth: bool
    sawn: bool
    """Whether lengths are sawn for it: it has a cut list."""
    again: AgainView | None
    """What does some of it again at one tap."""
    painted: bool
    """Whether its coats go on with those of other parts, and ways of putting them on are compared."""
    """Whether it bonds two parts."""
    shared: list[str]


@dataclass(frozen=True)
class HiddenJob:
    """A job that was hidden, and can be put back."""

    id: str
    key: str
    name: str
    version: int


@dataclass(frozen=True)
class WayView:
    """A way of building that a job can be added of; ``unfit`` says why the part's shape does not allow it."""

    key: str
    name: str
    about: str
    unfit: str


@dataclass(frozen=True)
class FaceOfPart:
    """A face of it that a joint ties: which joint, where, and how it is, in words."""

    joint_id: str
    joint: str
    where: str
    state: str
    sentence: str


@dataclass(frozen=True)
class PartHead:
    """Who a part is: its name, what it shares its design and shape with, and its jobs in order.

    ``place`` is where it lies on its airframe, as text by field; ``sharing`` says whether it shares its shape or its
    jobs with another part. ``hours`` says what was worked on it so far, ``care`` what is on it that is not as it
    should be.
    """

    id: str
    name: str
    version: int
    hand: Literal["left", "right", "centre"]
    side: Side
    shaped: bool
    assembly: str
    assembly_id: str
    project: str
    project_id: str
    place: dict[str, str]
    taken_out: bool
    sharing: bool
    design_id: str
    design: str
    shape: str
    mirrored: list[str]
    state: State
    sentence: str
    hours: str
    care: list[str]
    faces: list[FaceOfPart]
    jobs: list[JobHead]
    hidden: list[HiddenJob]
    ways: list[WayView]


def part_head(uow: UnitOfWork, part_id: str, now: datetime) -> PartHead:
    """Who a part is."""
    part = uow.get(Part, part_id)
    design = part.design
    same = [
        s for s in uow.all(Part, Part.rank) if s.design_id == part.design_id and s.id != part.id and not s.hidden_at
    ]
    shop = shop_plan(uow, minute_of(now))
    state, sentence = state_of_part(uow, part, shop)
    built = shop.parts[part_id] if shop and part_id in shop.parts else built_part(uow, part_id)
    rows = [*design.jobs, *part.jobs]
    names = {row.id: row.name for row in uow.all(CrewMember)}
    form = form_of(design.shape) if design.shape else None
    return PartHead(
        part.id,
        part.name,
        part.version,
        cast(Any, part.hand),
        cast(Any, design.side),
        design.shape is not None,
        part.assembly.name,
        part.assembly_id,
        uow.get(Project, part.assembly.project_id).name,
        part.assembly.project_id,
        _placed(part, units_of(uow)),
        part.hidden_at is not None,
        bool(same) or (design.shape is not None and len(parts_of_shape(uow, design.shape.id)) > 1),
        design.id,
        design.name,
        design.shape.name if design.shape else "",
        [other.name for other in same],
        state,
        sentence,
        hours_in(hours_so_far(uow, now).by_part.get(part_id, {}), names),
        [*care_of_part(uow, part_id, now), *(_balance(uow, built) if design.hinge else [])],
        _faces(uow, part_id, shop, now),
        [_job_head(uow, part, job, shop) for job in built.jobs],
        [HiddenJob(row.id, row.key, name_of(row), row.version) for row in rows if row.hidden_at is not None],
        [WayView(recipe.key, recipe.name, recipe.about, fits_shape(recipe, form)) for recipe in RECIPES],
    )


def _faces(uow: UnitOfWork, part_id: str, shop: ShopPlan | None, now: datetime) -> list[FaceOfPart]:
    """The faces of a part that joints tie and have not bonded yet."""
    if shop is None:
        return []
    minute, found = minute_of(now), []
    for joint in shop.parts.values():
        if joint.ties is None or joint.bond in shop.done.facts:
            continue
        for tied, face in zip(joint.ties.faces, faces_of(uow, joint, minute), strict=False):
            if tied.part_id == part_id:
                words = face.now.words(shop.saying.at)
                found.append(FaceOfPart(joint.id, joint.name, tied.where, face.now.state, words))
    return found


def _balance(uow: UnitOfWork, built: BuiltPart) -> list[str]:
    """What a control surface that was read on its hinge asks for."""
    read = hinge_readings(uow, built.id)
    return balance_care(uow, built) if read else []


def _placed(part: Part, units: UnitSystem) -> dict[str, str]:
    asked = asked_of(Place)
    return {name: asked[name][0].text(value, units) for name, value in part.place.items() if name in asked}


def _job_head(uow: UnitOfWork, part: Part, job: BuiltJob, shop: ShopPlan | None) -> JobHead:
    state, sentence = _how_far(part, job, shop)
    others = [other.name for other in parts_of_job(uow, job_row(part, job.key)) if other.id != part.id]
    laid_up = job.recipe is not None and job.recipe.laid_up
    joint = job.recipe is not None and job.recipe.joint is not None
    tried, cut, cloth, sawn, painted = (job.recipe is not None and ask(job.recipe) is not None for ask in _HAS)
    again = job.recipe.again if job.recipe is not None else None
    said = AgainView(again.question, again.words, bool(again.where)) if again is not None else None
    return JobHead(job.id, job.key, job.name, job.version, state, sentence, laid_up, joint, tried, cut, cloth, sawn,
                   said, painted, others)  # fmt: skip


#: What of a recipe gives a job a tab of its own.
_HAS: tuple[Callable[[Recipe], object], ...] = (
    lambda recipe: recipe.tries,
    lambda recipe: recipe.pieces,
    lambda recipe: recipe.cloth,
    lambda recipe: recipe.sawn,
    lambda recipe: recipe.coats,
)


def _how_far(part: Part, job: BuiltJob, shop: ShopPlan | None) -> tuple[JobState, str]:
    if job.cant:
        return "can't be made", "; ".join(job.cant)
    if shop is None:
        return "ahead", f"{len(job.steps)} steps"
    placed = [p for p in shop.plan.placed if p.step.part == part.id and p.step.job == job.key and not p.step.by_plan]
    left = [u for u in shop.plan.unplaced if u.step.part == part.id and u.step.job == job.key]
    found = state_of(placed, shop.now)
    if placed and not left and found == "done":
        return "done", f"Done {shop.saying.at(max(p.ready or p.end for p in placed))}"
    if any(p.state != "to do" for p in placed):
        return "now", f"{sum(p.done for p in placed)} of {len(job.steps)} steps done"
    if left:
        return "ahead", f"“{left[0].step.name}” can't be planned: {left[0].why}"
    begins = min((p.begins for p in placed), default=None)
    return "ahead", f"From {shop.saying.at(begins)}" if begins is not None else f"{len(job.steps)} steps"
