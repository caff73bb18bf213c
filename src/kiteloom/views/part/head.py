"""A part's name, state and jobs, at the head of its page."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.build.recipes import RECIPES
from kiteloom.core.plan.today import State, state_of
from kiteloom.store.models import CrewMember, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.airframe import Side, state_of_part
from kiteloom.views.bench.batches import care_of_part
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.job_edits import name_of
from kiteloom.workshop.build.jobs import BuiltJob, job_row, parts_of_job
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.hours import hours_in, hours_so_far
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.sheets import sheets

JobState = Literal["done", "now", "ahead", "can't be made"]


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
    """A way of building that a job can be added of."""

    key: str
    name: str
    about: str


@dataclass(frozen=True)
class PartHead:
    """Who a part is: its name, what it shares its design and shape with, and its jobs in order.

    ``hours`` says what was worked on it so far, ``care`` what is on it that is not as it should be.
    """

    id: str
    name: str
    hand: Literal["left", "right", "centre"]
    side: Side
    shaped: bool
    assembly: str
    project: str
    design_id: str
    design: str
    shape: str
    mirrored: list[str]
    state: State
    sentence: str
    hours: str
    care: list[str]
    jobs: list[JobHead]
    hidden: list[HiddenJob]
    ways: list[WayView]


def part_head(uow: UnitOfWork, part_id: str, now: datetime) -> PartHead:
    """Who a part is."""
    part = uow.get(Part, part_id)
    design = part.design
    same = [s for s in uow.all(Part, Part.rank) if s.design_id == part.design_id and s.id != part.id]
    shop = shop_plan(uow, minute_of(now))
    state, sentence = state_of_part(uow, part, shop)
    built = shop.parts[part_id] if shop else built_part(uow, part_id)
    rows = [*design.jobs, *part.jobs]
    names = {row.id: row.name for row in uow.all(CrewMember)}
    return PartHead(
        part.id,
        part.name,
        cast(Any, part.hand),
        cast(Any, design.side),
        design.shape is not None,
        part.assembly.name,
        uow.get(Project, part.assembly.project_id).name,
        design.id,
        design.name,
        design.shape.name if design.shape else "",
        [other.name for other in same],
        state,
        sentence,
        hours_in(hours_so_far(uow, now).by_part.get(part_id, {}), names),
        care_of_part(uow, part_id, now),
        [_job_head(uow, part, job, shop) for job in built.jobs],
        [HiddenJob(row.id, row.key, name_of(row), row.version) for row in rows if row.hidden_at is not None],
        [WayView(recipe.key, recipe.name, recipe.about) for recipe in RECIPES],
    )


def _job_head(uow: UnitOfWork, part: Part, job: BuiltJob, shop: ShopPlan | None) -> JobHead:
    state, sentence = _how_far(part, job, shop)
    others = [other.name for other in parts_of_job(uow, job_row(part, job.key)) if other.id != part.id]
    laid_up = job.recipe is not None and job.recipe.laid_up
    return JobHead(job.id, job.key, job.name, job.version, state, sentence, laid_up, others)


def _how_far(part: Part, job: BuiltJob, shop: ShopPlan | None) -> tuple[JobState, str]:
    if job.cant:
        return "can't be made", "; ".join(job.cant)
    if shop is None:
        return "ahead", f"{len(job.steps)} steps"
    placed = [p for p in shop.plan.placed if p.step.part == part.id and p.step.job == job.key and p.step.kind != "turn"]
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


@dataclass(frozen=True)
class GivenField:
    """One thing a recipe asks, as text in the shop's units; ``assumed`` when nobody has said it."""

    field: str
    label: str
    style: str
    text: str
    unit: str
    choices: list[str]
    assumed: bool


@dataclass(frozen=True)
class RoleView:
    """A product a recipe asks for, what is chosen, and what could be. ``stages`` are those its sheet must give."""

    role: str
    label: str
    sheet_id: str
    choices: list[Choice]
    stages: list[str]


@dataclass(frozen=True)
class JobView:
    """What a job is given: its form and its products."""

    id: str
    key: str
    version: int
    name: str
    about: str
    given: list[GivenField]
    roles: list[RoleView]
    cant: list[str]
    shared: list[str]


def job_view(uow: UnitOfWork, part_id: str, key: str) -> JobView:
    """A job's form, as its recipe asks it."""
    part = uow.get(Part, part_id)
    row = job_row(part, key)
    job = next((each for each in built_part(uow, part_id).jobs if each.key == key), None)
    units = units_of(uow)
    recipe = job.recipe if job else None
    asked = asked_of(recipe.given) if recipe else {}

    def text(field: Asked, name: str, default: Any) -> str:
        value = row.given.get(name, default)
        return field.text(value, units) if isinstance(value, (str, int, float, bool)) else ""

    chosen = {product.role: product.data_sheet for product in row.products}
    roles = []
    for role in recipe.roles if recipe else ():
        offered = {sheet.id: sheet.name for kind in role.kinds for sheet in sheets(uow, kind)}
        if role.key in chosen:
            offered.setdefault(chosen[role.key].id, chosen[role.key].name)
        stages = [" or ".join(names) for names in role.stages]
        sheet_id = chosen[role.key].id if role.key in chosen else ""
        roles.append(RoleView(role.key, role.label, sheet_id, [Choice(*one) for one in offered.items()], stages))
    return JobView(
        row.id,
        row.key,
        row.version,
        recipe.name if recipe else row.recipe,
        recipe.about if recipe else "",
        [
            GivenField(
                name,
                field.label,
                field.style,
                text(field, name, default),
                field.unit_for(units),
                list(field.choices),
                name not in row.given,
            )
            for name, (field, default) in asked.items()
        ],
        roles,
        list(job.cant) if job else [],
        [other.name for other in parts_of_job(uow, row) if other.id != part.id],
    )
