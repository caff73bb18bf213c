"""Adding, moving, hiding and giving the jobs of a part. A job with facts is hidden, never lost."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.fields import asked_of, read
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import RECIPES, recipe_of
from kiteloom.core.build.task import Role
from kiteloom.store.models import DataSheet, Job, JobProduct, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import job_row, jobs_of


@dataclass(frozen=True)
class AddJob:
    """A job to add, with what it is given as typed and its products by role. The client makes the id, so a retry
    adds nothing.

    ``after`` is the key of the job it comes after, None for the first place; ``alone`` when only this
    part gets it, not all of its design.
    """

    id: str
    recipe: str
    after: str | None = None
    alone: bool = False
    given: dict[str, str] = field(default_factory=dict)
    products: dict[str, str] = field(default_factory=dict)


def only_fitting(uow: UnitOfWork, role: Role) -> DataSheet | None:
    """The one product on the shelf that a role can take; None where there is none, or a choice."""
    rows = uow.all(DataSheet, DataSheet.name)
    fits = [sheet for sheet in rows if sheet.kind in role.kinds and not sheet.hidden_at]
    return fits[0] if len(fits) == 1 else None


def add_job(uow: UnitOfWork, part_id: str, order: AddJob, now: datetime) -> Saved:
    """Add a job between two others, with the products its roles have elsewhere where there is only one choice."""
    known = uow.session.get(Job, order.id)
    if known is not None:
        return Saved(known.version)
    part, recipe = uow.get(Part, part_id), recipe_of(order.recipe)
    mine = jobs_of(part)
    at = 0 if order.after is None else next((n for n, job in enumerate(mine, 1) if job.key == order.after), None)
    if at is None:
        raise Refused("after", f"{part.name} has no job “{(order.after or '')[:40]}” to come after")
    job = Job(
        id=order.id,
        design_id=None if order.alone else part.design_id,
        part_id=part.id if order.alone else None,
        key=_fresh_key(uow, part),
        rank=at,
        recipe=recipe.key,
        given=read(recipe.given, order.given, units_of(uow)),
        ply_book={},
        losses={},
        step_edits={},
        updated_at=now,
    )
    for role in recipe.roles:
        chosen = order.products.get(role.key)
        fits = uow.get(DataSheet, chosen) if chosen else only_fitting(uow, role)
        if fits is not None and fits.kind not in role.kinds:
            raise Refused("products", f"{fits.name} is a {fits.kind}; {' or '.join(role.kinds)} is wanted")
        if fits is not None:
            job.products.append(JobProduct(role=role.key, data_sheet_id=fits.id))
    uow.add(job)
    _ranked([*mine[:at], job, *mine[at:]])
    uow.changed("design", job.id)
    return Saved(job.version)


def _fresh_key(uow: UnitOfWork, part: Part) -> str:
    """A key that no job of this part, or of one of its design, ever had; hidden ones too."""
    parts = select(Part.id).where(Part.design_id == part.design_id)
    mine = (Job.design_id == part.design_id) | Job.part_id.in_(parts)
    taken = set(uow.session.scalars(select(Job.key).where(mine)))
    return next(key for n in range(2, len(taken) + 3) if (key := f"j{n}") not in taken)


def _ranked(jobs: list[Job]) -> None:
    for rank, job in enumerate(jobs):
        job.rank = rank


@dataclass(frozen=True)
class ChangeJob:
    """What a job is given, as typed, and its products by role; or where it stands, or that it is taken out."""

    job: str
    version: int
    given: dict[str, str] = field(default_factory=dict)
    products: dict[str, str] = field(default_factory=dict)
    move: Literal["sooner", "later"] | None = None
    hidden: bool | None = None


def change_job(uow: UnitOfWork, part_id: str, order: ChangeJob, now: datetime) -> Saved:
    """Change one job of a part."""
    part = uow.get(Part, part_id)
    job = uow.get_for_edit(Job, job_row(part, order.job).id, order.version)
    if order.move is not None:
        _move(uow, part, job, sooner=order.move == "sooner", now=now)
    elif order.hidden is not None:
        _hide(uow, job, hidden=order.hidden, now=now)
    else:
        _give(uow, job, order, now)
    return Saved(job.version)


def _move(uow: UnitOfWork, part: Part, job: Job, *, sooner: bool, now: datetime) -> None:
    """Let a job change places with the one before or after it; two who move the same are told of each other."""
    mine = jobs_of(part)
    at = next((n for n, other in enumerate(mine) if other.id == job.id), None)
    to = None if at is None else at + (-1 if sooner else 1)
    if at is None or to is None or not 0 <= to < len(mine):
        raise Refused("job", f"it is the {'first' if sooner else 'last'} job of {part.name} already")
    mine[at], mine[to] = mine[to], mine[at]
    _ranked(mine)
    where = "before" if sooner else "after"
    uow.edited(job, [f"{name_of(job)} put {where} {name_of(mine[at])}"], now, "design")


def _hide(uow: UnitOfWork, job: Job, *, hidden: bool, now: datetime) -> None:
    """Take a job out, or put it back; what was noted of it stays, and shows as no longer built so."""
    if (job.hidden_at is not None) != hidden:
        job.hidden_at = now if hidden else None
        uow.edited(job, [f"{name_of(job)} {'taken out' if hidden else 'put back'}"], now, "design")


def _give(uow: UnitOfWork, job: Job, order: ChangeJob, now: datetime) -> None:
    """Say what a job is given, and its products by role: all of what was typed, or nothing."""
    recipe, units, words = recipe_of(job.recipe), units_of(uow), []
    given, asked = dict(job.given), asked_of(recipe.given)
    said = read(recipe.given, order.given, units)
    for name in order.given:
        one = asked[name][0]
        old = one.text(given[name], units) if name in given else "nothing"
        if name not in said:
            given.pop(name, None)
        else:
            given[name] = said[name]
        new = one.text(given[name], units) if name in given else "nothing"
        if old != new:
            words.append(f"{one.label} {old} → {new}")
    roles = {role.key: role for role in recipe.roles}
    chosen = {row.role: row for row in job.products}
    for name, sheet_id in order.products.items():
        if name not in roles:
            raise Refused("products", f"“{name[:40]}” is not asked for; {recipe.name} asks for {', '.join(roles)}")
        sheet = uow.get(DataSheet, sheet_id)
        if sheet.kind not in roles[name].kinds:
            raise Refused("products", f"{sheet.name} is a {sheet.kind}; {' or '.join(roles[name].kinds)} is wanted")
        if name in chosen and chosen[name].data_sheet_id != sheet.id:
            words.append(f"{roles[name].label} {chosen[name].data_sheet.name} → {sheet.name}")
            chosen[name].data_sheet_id = sheet.id
        elif name not in chosen:
            words.append(f"{roles[name].label}: {sheet.name}")
            job.products.append(JobProduct(role=name, data_sheet_id=sheet.id))
    job.given = given
    if words:
        uow.edited(job, words, now, "design")


def name_of(job: Job) -> str:
    """What a job is called: its recipe's name, or what stands in the file where there is no such recipe."""
    return next((recipe.name for recipe in RECIPES if recipe.key == job.recipe), job.recipe)
