"""A job's form, as its recipe asks it; and what a job would come to, before it is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from kiteloom.core.base.calendar import lasting
from kiteloom.core.base.fields import asked_of, read
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.step import Step
from kiteloom.core.build.task import Role
from kiteloom.store.models import DataSheet, Job, JobProduct, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.job_edits import only_fitting
from kiteloom.workshop.build.jobs import BuiltJob, built_job, job_row, parts_of_job
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.stores.sheets import sheets


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
    """A product a recipe asks for, what is chosen, and what could be. ``stages`` are those its sheet must give.

    ``kinds`` are the kinds of data sheet it may be, for one that is made on the spot.
    """

    role: str
    label: str
    sheet_id: str
    choices: list[Choice]
    stages: list[str]
    kinds: tuple[str, ...]


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
    asks: list[str]
    """What of it is questioned."""
    shared: list[str]


@dataclass(frozen=True)
class LookAtJob:
    """A job as it would be: its recipe, what it is given as typed, its products by role."""

    recipe: str
    given: dict[str, str] = field(default_factory=dict)
    products: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class StepLook:
    """A step as it would be."""

    name: str
    takes: str
    wait: str


@dataclass(frozen=True)
class JobLook:
    """What a job would come to: its form, its steps, hours and amounts; or why it can't be made yet."""

    recipe: str
    name: str
    about: str
    given: list[GivenField]
    roles: list[RoleView]
    cant: list[str]
    asks: list[str]
    """What of it is questioned."""
    then: str
    """What it asks for once it is there; ``""`` for nothing more."""
    steps: list[StepLook]
    work: str
    amounts: list[str]


def job_view(uow: UnitOfWork, part_id: str, key: str) -> JobView:
    """A job's form, as its recipe asks it."""
    part = uow.get(Part, part_id)
    row = job_row(part, key)
    job = next((each for each in built_part(uow, part_id).jobs if each.key == key), None)
    recipe = job.recipe if job else None
    return JobView(
        row.id,
        row.key,
        row.version,
        recipe.name if recipe else row.recipe,
        recipe.about if recipe else "",
        given_fields(recipe.given, row.given, units_of(uow)) if recipe else [],
        _roles(uow, recipe, {one.role: one.data_sheet for one in row.products}) if recipe else [],
        list(job.cant) if job else [],
        list(job.asks) if job else [],
        [other.name for other in parts_of_job(uow, row) if other.id != part.id],
    )


def look_at_job(uow: UnitOfWork, part_id: str, order: LookAtJob, now: datetime) -> JobLook:
    """A job as it would be built on a part; nothing is kept."""
    part, recipe, units = uow.get(Part, part_id), recipe_of(order.recipe), units_of(uow)
    given = read(recipe.given, order.given, units)
    chosen = {role: uow.get(DataSheet, sheet_id) for role, sheet_id in order.products.items() if sheet_id}
    for role in recipe.roles:
        fits = only_fitting(uow, role)
        if role.key not in order.products and fits is not None:
            chosen[role.key] = fits
    row = Job(
        id="",
        design_id=part.design_id,
        key="look",
        rank=0,
        version=1,
        recipe=recipe.key,
        given=given,
        ply_book={},
        losses={},
        step_edits={},
        before_key="",
        updated_at=now,
    )
    row.products = [JobProduct(role=role, data_sheet_id=sheet.id, data_sheet=sheet) for role, sheet in chosen.items()]
    built = built_job(uow, part, row)
    without_book = recipe.laid_up
    cant = [reason for reason in built.cant if not (without_book and reason.startswith("the ply book has 0"))]
    return JobLook(
        recipe.key,
        recipe.name,
        recipe.about,
        given_fields(recipe.given, given, units),
        _roles(uow, recipe, chosen),
        cant,
        list(built.asks),
        "Its ply book comes next: steps, hours and amounts follow from it." if without_book else "",
        [] if built.cant else [_step(built, step, units) for step in built.steps],
        "" if built.cant else _work(built.steps),
        [] if built.cant else _amounts(built, units),
    )


def given_fields(kind: type, given: Mapping[str, Any], units: UnitSystem) -> list[GivenField]:
    """What a kind of dataclass asks, as text by field, with what is given of it."""
    rows = []
    for name, (asked, default) in asked_of(kind).items():
        value = given.get(name, default)
        text = asked.text(value, units) if isinstance(value, (str, int, float, bool)) else ""
        rows.append(
            GivenField(
                name,
                asked.label,
                asked.style,
                text,
                asked.unit_for(units),
                list(asked.choices),
                name not in given,
            )
        )
    return rows


def _roles(uow: UnitOfWork, recipe: Recipe, chosen: Mapping[str, DataSheet]) -> list[RoleView]:
    return [_role(uow, role, chosen.get(role.key)) for role in recipe.roles]


def _role(uow: UnitOfWork, role: Role, sheet: DataSheet | None) -> RoleView:
    offered = {row.id: row.name for kind in role.kinds for row in sheets(uow, kind)}
    if sheet is not None:
        offered.setdefault(sheet.id, sheet.name)
    stages = [" or ".join(names) for names in role.stages]
    choices = [Choice(*one) for one in offered.items()]
    return RoleView(role.key, role.label, sheet.id if sheet else "", choices, stages, role.kinds)


def _step(built: BuiltJob, step: Step, units: UnitSystem) -> StepLook:
    people = f", {step.people} people" if step.people > 1 else ""
    need = built.needs.get(step.key)
    takes = f"; {show(need.total_g, 'mass', units)} of {_product(built, step.key)}" if need else ""
    wait = f"then until “{step.wait_stage}”" if step.wait_stage else ""
    if not wait and step.wait_min:
        wait = f"then {lasting(step.wait_min)}"
    return StepLook(step.name, f"{lasting(step.minutes)}{people}{takes}", wait)


def _product(built: BuiltJob, key: str) -> str:
    product = built.products.get(built.role_of(key))
    return product.name if product else "its product"


def _work(steps: tuple[Step, ...]) -> str:
    minutes = sum(step.minutes for step in steps)
    people = sum(step.minutes * max(step.people, 1) for step in steps)
    crew = f", {lasting(people)} of all hands together" if people > minutes else ""
    return f"{len(steps)} steps, {lasting(minutes)} of work{crew}"


def _amounts(built: BuiltJob, units: UnitSystem) -> list[str]:
    sums: dict[str, float] = {}
    for key, need in built.needs.items():
        name = _product(built, key)
        sums[name] = sums.get(name, 0.0) + need.total_g
    return [f"{show(grams, 'mass', units)} of {name}, with its losses" for name, grams in sums.items()]
