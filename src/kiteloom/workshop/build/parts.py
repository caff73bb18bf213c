"""Every part with its jobs: the steps of building it, in order, under the keys facts are found by."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.chain import chained, ends_of
from kiteloom.core.build.gates import before_gates, practised_first
from kiteloom.core.build.in_turn import in_turn
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.step import After, Step
from kiteloom.core.build.step_id import StepId
from kiteloom.core.build.task import Item
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.need.resin import ResinNeed
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import Assembly, DataSheet, Design, Job, JobProduct, Part, Project, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.jobs import BuiltJob, Known, built_job, jobs_of, key_in
from kiteloom.workshop.build.joints import Glued, InOrder, Ties, in_order_by_airframe, ties_of


@dataclass(frozen=True)
class BuiltPart:
    """A part and its jobs in order."""

    id: str
    name: str
    rank: int
    hand: str
    assembly: str
    airframe_id: str
    design_id: str
    jobs: tuple[BuiltJob, ...]
    thing: str = ""
    """What it is turned with; ``""`` when it is turned by itself, or not at all."""
    after: tuple[tuple[str, str], ...] = ()
    """Parts that must be built before a step of this one, and that step's key."""
    ties: Ties | None = None
    """What it ties, where it is a joint and that was said."""

    @cached_property
    def steps(self) -> tuple[Step, ...]:
        """The steps of all its jobs, chained, under the part's keys."""
        return chained([(job.key, job.steps) for job in self.jobs], {job.key: job.before for job in self.jobs})

    @cached_property
    def in_shop(self) -> tuple[Step, ...]:
        """Its steps among those of all parts."""
        return tuple(replace(step, thing=self.thing).of_part(self.id) for step in self.steps)

    @cached_property
    def needs(self) -> Mapping[str, ResinNeed]:
        """What steps take, by their keys in the part."""
        return {key_in(job, local): need for job in self.jobs for local, need in job.needs.items()}

    @property
    def ends(self) -> tuple[str, ...]:
        """The keys, among those of all parts, of the steps that nothing of its own follows."""
        return ends_of(self.in_shop)

    def job_of(self, key: str) -> BuiltJob:
        """The job of a step, by its key in the part; `Refused` when there is none."""
        wanted = StepId.within(self.id, key).job
        for job in self.jobs:
            if job.key == wanted:
                return job
        raise Refused("step_key", f"“{key[:60]}” is not a step of {self.name}; it is no longer built so")

    @cached_property
    def bond(self) -> str:
        """The key, among those of all parts, of the step that brings its faces together; ``""`` where it has none."""
        job = self.bonding
        if job is None or job.recipe is None or job.recipe.joint is None or job.cant:
            return ""
        return StepId(self.id, job.key, job.recipe.joint.together).key

    @property
    def faces_ready(self) -> str:
        """The key, in the part, of the step that makes its faces ready; ``""`` where it has none."""
        job = self.bonding
        return key_in(job, job.recipe.joint.ready) if job and job.recipe and job.recipe.joint else ""

    @property
    def bonding(self) -> BuiltJob | None:
        """The job that makes it a joint; None where it is none."""
        return next((job for job in self.jobs if job.recipe is not None and job.recipe.joint is not None), None)

    @property
    def adhesive(self) -> tuple[str, ResinSheet | None]:
        """The sheet's id and the product that holds its faces; ``""`` and None where it is none."""
        job = self.bonding
        role = job.recipe.joint.role if job and job.recipe and job.recipe.joint else ""
        return (job.sheets.get(role, ""), job.products.get(role)) if job else ("", None)

    def items_of(self, key: str) -> tuple[Item, ...]:
        """The run sheet of a step, by its key in the part; none where nothing is called out."""
        return self.job_of(key).items.get(StepId.within(self.id, key).local, ())

    def job_with(self, has: Callable[[Recipe], object], key: str | None, otherwise: str) -> BuiltJob:
        """The job of a key, or the first, whose recipe has something.

        Raises
        ------
        Refused
            If it has none such: ``otherwise`` says so after its name; or that job can't be made.
        """
        for job in self.jobs:
            if job.recipe is not None and has(job.recipe) and key in (None, job.key):
                if job.cant or job.task is None:
                    raise Refused("job", "; ".join(job.cant))
                return job
        raise Refused("job", f"{self.name} {otherwise}")

    def product_of(self, key: str) -> tuple[str, str]:
        """The sheet's id and the name of the product a step is worked with; both ``""`` without one."""
        job = self.job_of(key)
        role = job.role_of(StepId.within(self.id, key).local)
        product = job.products.get(role)
        return job.sheets.get(role, ""), product.name if product else ""

    def step(self, key: str) -> Step:
        """A step by its key in the part; `Refused` when it has none so called."""
        for step in self.steps:
            if step.key == key:
                return step
        names = ", ".join(step.key for step in self.steps)
        raise Refused("step_key", f"“{key[:60]}” is not a step of {self.name}; it has {names}")


def built_part(uow: UnitOfWork, part_id: str, known: Known | None = None) -> BuiltPart:
    """One part with its jobs."""
    part = uow.get(Part, part_id)
    return BuiltPart(
        part.id,
        part.name,
        part.rank,
        part.hand,
        part.assembly.name,
        part.assembly.project_id,
        part.design_id,
        tuple(built_job(uow, part, job, known) for job in jobs_of(part)),
        part.thing,
        tuple((link.other_id, link.step_key) for link in part.links),
        ties_of(part),
    )


def glass_of(part: BuiltPart, key: str) -> GlassTransition | None:
    """The glass transition of what a step is worked with, by its key in the part; None where no sheet gives one."""
    job = part.job_of(key)
    product = job.products.get(job.role_of(StepId.within(part.id, key).local))
    return product.glass if product else None


#: What happens in the shop and changes nothing of what is built, or how.
WORK_TOPICS = ("work", "tick", "batch", "witness", "alert", "crew", "climate", "plan", "cut", "gate", "iron", "copy")


def built_parts(uow: UnitOfWork) -> list[BuiltPart]:
    """Every part, in order; made anew only when something other than work has changed."""

    def made() -> list[BuiltPart]:
        # All at once, not one by one as each part asks for its own.
        held, known = [uow.all(row) for row in (Design, Shape, DataSheet, Job, JobProduct)], Known()
        found = [built_part(uow, part.id, known) for part in uow.all(Part, Part.rank, Part.name) if not part.hidden_at]
        del held
        return found

    return uow.built.made(uow.last_change(WORK_TOPICS), "parts", made)


def part_as_built(uow: UnitOfWork, part_id: str) -> BuiltPart:
    """One part as all of them were built last, where nothing but work has changed since; for who has changed
    nothing else either."""
    known: list[BuiltPart] = uow.before.at(uow.last_change(WORK_TOPICS), "parts") or []
    return next((part for part in known if part.id == part_id), None) or built_part(uow, part_id)


def read_at_once(uow: UnitOfWork) -> None:
    """What parts are built from, read all at once where each of many would ask for its own."""
    uow.once("designs", lambda: [uow.all(row) for row in (Shape, Design, JobProduct)])


def part_names(uow: UnitOfWork) -> dict[str, str]:
    """What every part is called, hidden ones too; with its airframe's name where several are built in the shop."""
    query = select(Part.id, Part.name, Project.name).join(Assembly, Part.assembly_id == Assembly.id)
    rows = uow.session.execute(query.join(Project, Assembly.project_id == Project.id)).all()
    several = len({airframe for _, _, airframe in rows}) > 1
    return {key: f"{airframe} · {name}" if several else name for key, name, airframe in rows}


def joints_in_order(found: Iterable[BuiltPart]) -> dict[str, InOrder]:
    """The order joints are made in, by airframe."""
    parts = list(found)
    glued = [Glued(part.id, part.name, part.airframe_id, part.ties) for part in parts if part.ties is not None]
    return in_order_by_airframe(glued, {part.id: part.name for part in parts}) if glued else {}


def steps_in_shop(found: Iterable[BuiltPart]) -> tuple[Step, ...]:
    """Every part's steps, linked where one is built into another or joints have an order, each gate after what needs
    access.
    """
    by_id = {part.id: part for part in found}
    turns: dict[str, tuple[After, ...]] = {}
    against: dict[str, str] = {}
    for joints in joints_in_order(by_id.values()).values():
        if joints.order is not None:
            turns |= in_turn(
                joints.order, {name: by_id[key].bond for name, key in joints.ids.items() if by_id[key].bond}
            )
        against |= {by_id[key].bond: joints.against for key in joints.who}
    steps: list[Step] = []
    for part in by_id.values():
        more: dict[str, list[After]] = defaultdict(list)
        for other, key in part.after:
            if other in by_id:
                more[f"{part.id}:{key}"] += [After(end) for end in by_id[other].ends]
        for step in part.in_shop:
            links = (*more.get(step.key, ()), *turns.get(step.key, ()))
            bound = replace(step, after=(*step.after, *links)) if links else step
            steps.append(replace(bound, refused=against[step.key]) if against.get(step.key) else bound)
    return practised_first(before_gates(steps))
