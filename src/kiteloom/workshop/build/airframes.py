"""Airframes and their assemblies: founded, named, put in order; what is empty can go."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Assembly, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved

#: The longest name of anything here.
LONGEST = 80


@dataclass(frozen=True)
class FoundAirframe:
    """A new airframe. The client makes the id, so a retry adds nothing."""

    id: str
    name: str


@dataclass(frozen=True)
class FoundAssembly:
    """A new assembly of an airframe."""

    id: str
    airframe_id: str
    name: str


@dataclass(frozen=True)
class EditNamed:
    """Another name for an airframe or an assembly, where an assembly stands among the others, or that it goes."""

    version: int
    name: str | None = None
    move: Literal["sooner", "later"] | None = None
    away: bool = False


def found_airframe(uow: UnitOfWork, order: FoundAirframe, now: datetime) -> Kept:
    """Found an airframe."""
    if uow.kept_already(Project, order.id) is None:
        name = named(order.name, "name", [row.name for row in uow.all(Project)], "an airframe")
        uow.add(Project(id=order.id, name=name, rank=len(uow.all(Project)), updated_at=now))
        uow.changed("airframe", order.id)
    return Kept(order.id)


def found_assembly(uow: UnitOfWork, order: FoundAssembly, now: datetime) -> Kept:
    """Found an assembly, after those the airframe has."""
    if uow.kept_already(Assembly, order.id) is None:
        airframe = uow.get(Project, order.airframe_id)
        mine = assemblies_of(uow, airframe.id)
        name = named(order.name, "name", [row.name for row in mine], f"an assembly of {airframe.name}")
        rank = max((row.rank for row in mine), default=0) + 1
        uow.add(Assembly(id=order.id, project_id=airframe.id, name=name, rank=rank, updated_at=now))
        uow.changed("airframe", airframe.id)
    return Kept(order.id)


def edit_airframe(uow: UnitOfWork, airframe_id: str, order: EditNamed, now: datetime) -> Saved:
    """Call an airframe otherwise; one with nothing in it may go."""
    row = uow.get_for_edit(Project, airframe_id, order.version)
    if order.away:
        return _gone(uow, row, row.name, assemblies_of(uow, row.id), "assemblies")
    if order.name is not None:
        others = [other.name for other in uow.all(Project) if other.id != row.id]
        name = named(order.name, "name", others, "an airframe")
        if name != row.name:
            words = [f"{row.name} → {name}"]
            row.name = name
            uow.edited(row, words, now, "airframe")
    return Saved(row.version)


def edit_assembly(uow: UnitOfWork, assembly_id: str, order: EditNamed, now: datetime) -> Saved:
    """Call an assembly otherwise, or let it change places with its neighbour; one with no part in it may go."""
    row = uow.get_for_edit(Assembly, assembly_id, order.version)
    if order.away:
        parts = list(uow.session.scalars(select(Part).where(Part.assembly_id == row.id)))
        return _gone(uow, row, row.name, parts, "parts, those taken out counted")
    mine = assemblies_of(uow, row.project_id)
    words: list[str] = []
    if order.name is not None:
        name = named(order.name, "name", [other.name for other in mine if other.id != row.id], "an assembly")
        if name != row.name:
            words.append(f"{row.name} → {name}")
            row.name = name
    if order.move is not None:
        moved(mine, row, order.move, row.name)
        words.append(f"{row.name} moved")
    if words:
        uow.edited(row, words, now, "airframe")
    return Saved(row.version)


def _gone(uow: UnitOfWork, row: Assembly | Project, name: str, within: Sequence[object], what: str) -> Saved:
    """Take an empty airframe or assembly away: nothing was ever done of it."""
    if within:
        raise Refused("away", f"{name} has {len(within)} {what}; only what is empty can go")
    version, key = row.version, row.id
    uow.session.delete(row)
    uow.changed("airframe", key)
    return Saved(version)


def assemblies_of(uow: UnitOfWork, airframe_id: str) -> list[Assembly]:
    """An airframe's assemblies in order."""
    query = select(Assembly).where(Assembly.project_id == airframe_id).order_by(Assembly.rank, Assembly.name)
    return list(uow.session.scalars(query))


def parts_here(uow: UnitOfWork, airframe_id: str) -> list[Part]:
    """An airframe's parts in order, without those that are hidden."""
    mine = {row.id for row in assemblies_of(uow, airframe_id)}
    found = uow.all(Part, Part.rank, Part.name)
    return [part for part in found if part.assembly_id in mine and part.hidden_at is None]


def named(text: str, field_: str, taken: Iterable[str], what: str) -> str:
    """A name as it is kept; `Refused` for none, one too long, or one that is taken."""
    name = " ".join(text.split())
    if not name:
        raise Refused(field_, f"the name is empty; give {what} a name")
    if len(name) > LONGEST:
        raise Refused(field_, f"“{name[:20]}…” has {len(name)} letters; a name has at most {LONGEST}")
    if any(name.lower() == other.lower() for other in taken):
        raise Refused(field_, f"there is {what} called “{name}” already; choose another name")
    return name


def moved(rows: Sequence[Part | Assembly], row: Part | Assembly, move: str, name: str) -> None:
    """Let a row change places with the one before or after it."""
    at = next(n for n, other in enumerate(rows) if other.id == row.id)
    to = at + (-1 if move == "sooner" else 1)
    if not 0 <= to < len(rows):
        raise Refused("move", f"{name} is the {'first' if move == 'sooner' else 'last'} already")
    ranks = sorted(other.rank for other in rows)
    ordered = list(rows)
    ordered[at], ordered[to] = ordered[to], ordered[at]
    if len(set(ranks)) < len(ranks):
        ranks = [ranks[0] + n for n in range(len(ranks))]
    for rank, other in zip(ranks, ordered, strict=True):
        other.rank = rank
