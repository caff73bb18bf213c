"""A part's jobs, read from their rows, and what their recipes make of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, cast

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipe import Built, Recipe, build, cant_step
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.stays import what_stays
from kiteloom.core.build.step import Step
from kiteloom.core.build.step_id import StepId
from kiteloom.core.build.task import Item, Task
from kiteloom.core.laminate.cover import Covered
from kiteloom.core.laminate.stack import Stack, laid_by_hand
from kiteloom.core.need.resin import Losses, ResinNeed
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.flat import Shape as Form
from kiteloom.core.shape.loft import Hand
from kiteloom.core.shape.section import Side
from kiteloom.core.stores.fields import CURING
from kiteloom.core.stores.materials import Material, ResinSheet
from kiteloom.core.weight.part import Stays
from kiteloom.store.models import DataSheet, Job, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.joints import gaps_of, ties_of
from kiteloom.workshop.build.own_steps import with_edits
from kiteloom.workshop.laminate.plies import stack_of
from kiteloom.workshop.need.losses import losses_of
from kiteloom.workshop.shape.shapes import form_of
from kiteloom.workshop.stores.sheets import material_of, resin_of


@dataclass(frozen=True)
class BuiltJob:
    """One job of a part. Keys of ``steps`` and ``needs`` are its own, not yet the part's.

    ``sheets`` are the ids of its products by role; ``cant`` says why it can't be made, where it can't.
    ``recipe`` is None where the data folder names one there is not.
    """

    id: str
    key: str
    version: int
    name: str
    recipe: Recipe | None
    sheets: Mapping[str, str]
    products: Mapping[str, ResinSheet]
    losses: Losses
    steps: tuple[Step, ...]
    recipe_steps: tuple[Step, ...]
    needs: Mapping[str, ResinNeed]
    roles: Mapping[str, str]
    """The role whose product a step is worked with, by its key."""
    items: Mapping[str, tuple[Item, ...]]
    stack: Stack | None = None
    covered: Covered | None = None
    """What its ply book covers; None where nothing is laid up."""
    cant: tuple[str, ...] = ()
    supplies: tuple[Supply, ...] = ()
    """What its steps use up besides their mixes; their keys are its own."""
    before: str = ""
    """The step of the part it goes before, where it does not stand in the row of jobs."""
    task: Task[Any] | None = None
    """What its recipe worked on; None where it can't be made."""
    stays: tuple[Stays, ...] = ()
    """What of it stays on the part, by its own steps."""
    asks: tuple[str, ...] = ()
    """What of it is questioned, not forbidden."""

    def role_of(self, local: str) -> str:
        """The role of the product a step is worked with; ``""`` where the job has none."""
        return self.roles.get(local) or next((role for role in self.sheets if role in self.products), "")


def jobs_of(part: Part) -> list[Job]:
    """The rows of a part's jobs in order: its design's and its own, without those that are hidden."""
    mine = [job for job in [*part.design.jobs, *part.jobs] if job.hidden_at is None]
    return sorted(mine, key=lambda job: (job.rank, job.key))


def job_row(part: Part, key: str) -> Job:
    """One of a part's jobs by its key, hidden or not; `Refused` when it has none so called."""
    for job in [*part.design.jobs, *part.jobs]:
        if job.key == key:
            return job
    raise Refused("job", f"{part.name} has no job “{key[:40]}”")


def parts_of_job(uow: UnitOfWork, job: Job) -> list[Part]:
    """The parts a job builds: all of its design's, or the one it belongs to."""
    mine = Part.design_id == job.design_id if job.design_id else Part.id == job.part_id
    return list(uow.session.scalars(select(Part).where(mine, Part.hidden_at.is_(None)).order_by(Part.rank)))


def hand_of(part: Part) -> Hand:
    """How a part is drawn and mirrored: what is in the centre is drawn as it was typed."""
    return "right" if part.hand == "right" else "left"


def stack_of_job(uow: UnitOfWork, job: Job) -> Stack | None:
    """What a job lays up; None without a ply book."""
    return stack_of(uow, job.ply_book) if job.ply_book.get("plies") else None


class Known:
    """Products and shapes read once for all jobs that share them: one object each."""

    def __init__(self) -> None:
        self._resins: dict[str, ResinSheet] = {}
        self._forms: dict[str, Form] = {}

    def resin(self, sheet: DataSheet) -> ResinSheet:
        """A product's sheet."""
        if sheet.id not in self._resins:
            self._resins[sheet.id] = resin_of(sheet)
        return self._resins[sheet.id]

    def form(self, shape: Shape) -> Form:
        """A shape as it is computed with."""
        if shape.id not in self._forms:
            self._forms[shape.id] = form_of(shape)
        return self._forms[shape.id]


def built_job(
    uow: UnitOfWork, part: Part, job: Job, known: Known | None = None, book: dict[str, Any] | None = None
) -> BuiltJob:
    """What a job's recipe makes of it, with what this shop changed of its steps.

    ``book`` is a ply book to look at in the place of its own.
    """
    known, design = known or Known(), part.design
    recipe: Recipe | None = None
    products: dict[str, ResinSheet] = {}
    materials: dict[str, Material] = {}
    lacks: list[str] = []
    stack: Stack | None = None
    try:
        stack = (
            stack_of_job(uow, job) if book is None else stack_of(uow, book)
        )  # also of a job that can't be made yet: its ply book is there to be seen
    except Refused as refused:
        lacks.append(refused.sentence)
    for row in job.products:
        try:
            if row.data_sheet.kind in CURING:
                products[row.role] = known.resin(row.data_sheet)
            else:
                materials[row.role] = material_of(row.data_sheet)
        except Refused as refused:
            lacks.append(f"{row.data_sheet.name}: {refused.sentence}")

    def task(given: Any) -> Task[Any]:
        if lacks:
            raise Refused("products", "; ".join(lacks))
        return Task(
            given,
            products,
            losses_of(job),
            known.form(design.shape) if design.shape is not None else None,
            cast("Side | Literal['whole']", design.side),
            hand_of(part),
            stack,
            materials=materials,
            units=units_of(uow),
            **(_of_joint(uow, part) if recipe is not None and recipe.joint is not None else {}),
        )

    try:
        recipe = recipe_of(job.recipe)
        if stack is not None and recipe.by_hand:
            stack = laid_by_hand(stack)
        found = build(recipe, job.given, task)
    except Refused as refused:
        found = Built((cant_step(f"“{job.recipe[:40]}”", [refused.sentence]),), (), {}, (refused.sentence,))
    return BuiltJob(
        job.id,
        job.key,
        job.version,
        recipe.name if recipe else job.recipe,
        recipe,
        {row.role: row.data_sheet_id for row in sorted(job.products, key=lambda row: row.role)},
        products,
        losses_of(job),
        with_edits(found.steps, job.step_edits),
        found.steps,
        {need.step: need.takes for need in found.needs},
        _worked_with(found, products),
        found.items,
        stack,
        found.covered,
        found.cant,
        found.supplies,
        job.before_key,
        found.task,
        _stays(recipe, found),
        found.asks,
    )


def _worked_with(found: Built, products: Mapping[str, ResinSheet]) -> dict[str, str]:
    """The role whose product each step is worked with: what it takes of, else what cures in it."""
    roles = {need.step: need.role for need in found.needs}
    for step in found.steps:
        if step.cure is not None and step.key not in roles:
            role = next((name for name, product in products.items() if product.cure is step.cure), None)
            roles |= {step.key: role} if role is not None else {}
    return roles


def _of_joint(uow: UnitOfWork, part: Part) -> dict[str, Any]:
    """What only a joint's task says: the names of its sides, and the gaps of its dry fit."""
    ties = ties_of(part)
    names = {"faces": tuple(uow.get(Part, face.part_id).name for face in ties.faces)} if ties is not None else {}
    return {**names, "gaps": gaps_of(uow, part.id)}


def _stays(recipe: Recipe | None, found: Built) -> tuple[Stays, ...]:
    if found.task is None or recipe is None or found.cant:
        return ()
    return (*recipe.wood(found.task), *what_stays(found.task, found.needs, found.covered))


def key_in(job: BuiltJob, local: str) -> str:
    """A step's key among those of its part."""
    return StepId("", job.key, local).in_part
