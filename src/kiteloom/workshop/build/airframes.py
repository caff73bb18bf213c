"""Founding airframes, assemblies and parts; naming, ordering and placing them; copies, mirror images, differences."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal
from uuid import NAMESPACE_URL, uuid5

from sqlalchemy import func, select

from kiteloom.core.base.fields import read
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.place import Place
from kiteloom.store.models import Assembly, Design, Job, JobProduct, Part, Project, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.shape.typed import ShapeTyped, read_shape

Hand = Literal["left", "right", "centre", "both"]
Side = Literal["upper", "lower", "whole"]
#: The longest name of anything here.
LONGEST = 80
#: So many parts are planned at the most.
MOST_PARTS = 2000


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


@dataclass(frozen=True)
class FoundPart:
    """A new part, or a left and a right one. The client makes the ids.

    It belongs to an assembly that is there, or to one of an airframe that is named here and made when it is new.
    Its shape is typed, or that of another part (``shape_of``), or said later. ``place`` is text by field.
    """

    id: str
    name: str
    assembly_id: str = ""
    airframe_id: str = ""
    assembly: str = ""
    hand: Hand = "centre"
    side: Side = "whole"
    shape: ShapeTyped | None = None
    shape_of: str = ""
    place: dict[str, str] = field(default_factory=dict)
    other_id: str = ""
    """The id of the right one, where both are founded."""


@dataclass(frozen=True)
class EditPart:
    """What is said of a part itself: its name, assembly, hand, side, place; or where it stands among the others.

    ``reason`` is why its hand or side is changed where it is laid up already.
    """

    version: int
    name: str | None = None
    assembly_id: str | None = None
    hand: Literal["left", "right", "centre"] | None = None
    side: Side | None = None
    reason: str = ""
    place: dict[str, str] | None = None
    move: Literal["sooner", "later"] | None = None


@dataclass(frozen=True)
class CopyPart:
    """A part copied: with its jobs as a part of its own, or as the mirror image that shares all with it."""

    id: str
    how: Literal["copy", "mirror"]
    name: str = ""
    assembly_id: str = ""


@dataclass(frozen=True)
class GiveShape:
    """A shape for a part that has none: typed, or that of another part."""

    id: str
    shape: ShapeTyped | None = None
    shape_of: str = ""


def made_id(kind: str, of: str) -> str:
    """The id of a row that is made with another: the same each time, so a retry adds nothing.

    >>> len(made_id("shape", "3f9dc30c-312c-503d-a104-08775ed7d293"))
    36
    """
    return str(uuid5(NAMESPACE_URL, f"kiteloom/{kind}/{of}"))


def found_airframe(uow: UnitOfWork, order: FoundAirframe, now: datetime) -> Kept:
    """Found an airframe."""
    if uow.kept_already(Project, order.id) is None:
        name = _named(order.name, "name", [row.name for row in uow.all(Project)], "an airframe")
        uow.add(Project(id=order.id, name=name, rank=len(uow.all(Project)), updated_at=now))
        uow.changed("airframe", order.id)
    return Kept(order.id)


def found_assembly(uow: UnitOfWork, order: FoundAssembly, now: datetime) -> Kept:
    """Found an assembly, after those the airframe has."""
    if uow.kept_already(Assembly, order.id) is None:
        airframe = uow.get(Project, order.airframe_id)
        mine = assemblies_of(uow, airframe.id)
        name = _named(order.name, "name", [row.name for row in mine], f"an assembly of {airframe.name}")
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
        name = _named(order.name, "name", others, "an airframe")
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
        name = _named(order.name, "name", [other.name for other in mine if other.id != row.id], "an assembly")
        if name != row.name:
            words.append(f"{row.name} → {name}")
            row.name = name
    if order.move is not None:
        _moved(mine, row, order.move, row.name)
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


def found_part(uow: UnitOfWork, order: FoundPart, now: datetime) -> Kept:
    """Found a part, or a left and a right one of the same design."""
    if uow.kept_already(Part, order.id) is not None:
        return Kept(order.id)
    assembly = _assembly(uow, order, now)
    hands = ("left", "right") if order.hand == "both" else (order.hand,)
    called = order.name.strip()
    names = [f"{hand.capitalize()} {_small(called)}" for hand in hands] if len(hands) > 1 and called else [called]
    mine = parts_here(uow, assembly.project_id)
    names = [_part_name(uow, name, assembly, mine) for name in names]
    if len(hands) > 1 and not order.other_id:
        raise Refused("other_id", "a left and a right part are founded, and only one has an id; two are wanted")
    if (count := uow.session.scalar(select(func.count()).select_from(Part)) or 0) + len(hands) > MOST_PARTS:
        raise Refused("name", f"there are {count} parts in the shop; at most {MOST_PARTS} are planned")
    place = _place(uow, order.place)
    shape_id = _shape(uow, GiveShape(made_id("shape", order.id), order.shape, order.shape_of), called, now)
    design = Design(id=made_id("design", order.id), shape_id=shape_id, name=called, side=order.side, updated_at=now)
    uow.add(design)
    rank = _last_rank(uow)
    for n, (hand, name) in enumerate(zip(hands, names, strict=True)):
        key = order.id if n == 0 else order.other_id
        uow.add(_row(key, assembly.id, design.id, hand, name, rank + 1 + n, now, place))
        uow.changed("part", key)
    return Kept(order.id)


def _assembly(uow: UnitOfWork, order: FoundPart, now: datetime) -> Assembly:
    """The assembly a part is founded in; made where it is only named."""
    if order.assembly_id:
        return uow.get(Assembly, order.assembly_id)
    name, airframe = " ".join(order.assembly.split()), uow.get(Project, order.airframe_id)
    known = next((row for row in assemblies_of(uow, airframe.id) if row.name.lower() == name.lower()), None)
    if known is not None:
        return known
    if not name:
        raise Refused("assembly", "the assembly is not named yet: wing, tail, fuselage")
    key = made_id("assembly", order.id)
    try:
        found_assembly(uow, FoundAssembly(key, airframe.id, name), now)
    except Refused as refused:
        raise Refused("assembly", refused.sentence) from None
    return uow.get(Assembly, key)


def _row(
    key: str, assembly_id: str, design_id: str, hand: str, name: str, rank: int, now: datetime, place: dict[str, Any]
) -> Part:
    return Part(
        id=key,
        assembly_id=assembly_id,
        design_id=design_id,
        hand=hand,
        name=name,
        rank=rank,
        thing="",
        place=dict(place),
        updated_at=now,
    )


def give_shape(uow: UnitOfWork, part_id: str, order: GiveShape, now: datetime) -> Kept:
    """Give a part that has none its shape."""
    part = uow.get(Part, part_id)
    if uow.kept_already(Shape, order.id) is None:
        if part.design.shape_id is not None:
            raise Refused("shape", f"{part.name} has a shape already; change that one")
        part.design.shape_id = _shape(uow, order, part.design.name, now)
        if part.design.shape_id is None:
            raise Refused("shape", "nothing was given; type a shape or name the part that has it")
        uow.edited(part.design, [f"{part.design.name} has a shape"], now, "design")
    return Kept(order.id)


def _shape(uow: UnitOfWork, order: GiveShape, name: str, now: datetime) -> str | None:
    if order.shape_of:
        other = uow.get(Part, order.shape_of)
        if other.design.shape_id is None:
            raise Refused("shape_of", f"{other.name} has no shape yet")
        return other.design.shape_id
    if order.shape is None:
        return None
    read_ = read_shape(order.shape, units_of(uow))
    uow.add(Shape(id=order.id, name=name, kind=order.shape.kind, says=read_.says, updated_at=now))
    return order.id


def edit_part(uow: UnitOfWork, part_id: str, order: EditPart, now: datetime) -> Saved:
    """Say something else of a part: all of what was said, or nothing."""
    part = uow.get_for_edit(Part, part_id, order.version)
    words: list[str] = []
    if order.assembly_id is not None and order.assembly_id != part.assembly_id:
        assembly = uow.get(Assembly, order.assembly_id)
        if assembly.project_id != part.assembly.project_id:
            name = _part_name(uow, order.name or part.name, assembly, parts_here(uow, assembly.project_id))
            part.name = name
        words.append(f"{part.name} moved from {part.assembly.name} to {assembly.name}")
        part.assembly = assembly
    if order.name is not None and order.name.strip() != part.name:
        others = [other for other in parts_here(uow, part.assembly.project_id) if other.id != part.id]
        name = _part_name(uow, order.name, part.assembly, others)
        words.append(f"{part.name} → {name}")
        part.name = name
    if order.side is not None and order.side != part.design.side:
        words.append(f"{part.name}: {part.design.side} → {order.side}")
        part.design.side = order.side
        uow.changed("design", part.design_id)
    if order.hand is not None and order.hand != part.hand:
        words.append(f"{part.name}: {part.hand} → {order.hand}")
        part.hand = order.hand
    if order.place is not None:
        place = _place(uow, order.place)
        if place != part.place:
            words.append(f"{part.name} has {'another place' if place else 'no place any more'}")
            part.place = place
    if order.move is not None:
        mine = [row for row in parts_here(uow, part.assembly.project_id) if row.assembly_id == part.assembly_id]
        _moved(mine, part, order.move, part.name)
        words.append(f"{part.name} moved")
    if words:
        uow.edited(part, words, now, "part")
    return Saved(part.version)


def copy_part(uow: UnitOfWork, part_id: str, order: CopyPart, now: datetime) -> Kept:
    """Copy a part with its jobs, or add its mirror image, which shares shape and jobs with it."""
    if uow.kept_already(Part, order.id) is not None:
        return Kept(order.id)
    part = uow.get(Part, part_id)
    assembly = uow.get(Assembly, order.assembly_id) if order.assembly_id else part.assembly
    mine = parts_here(uow, assembly.project_id)
    if order.how == "mirror":
        if part.hand == "centre":
            raise Refused("how", f"{part.name} lies in the centre; only a left or a right part has a mirror image")
        hand = "right" if part.hand == "left" else "left"
        twin = next((row for row in mine if row.design_id == part.design_id and row.hand == hand), None)
        if twin is not None:
            raise Refused("how", f"{twin.name} is the mirror image of {part.name} already")
        name, design_id = order.name.strip() or _mirrored_name(part.name, hand), part.design_id
    else:
        name, hand = order.name.strip() or _copy_name(part.name, [row.name for row in mine]), part.hand
        design_id = _own_design(uow, part, made_id("design", order.id), name, now)
    name = _part_name(uow, name, assembly, mine)
    row = _row(order.id, assembly.id, design_id, hand, name, _last_rank(uow) + 1, now, part.place)
    uow.add(row)
    if order.how == "copy":
        for job in part.jobs:
            _copied_job(uow, job, None, order.id, now)
    uow.changed("part", order.id)
    return Kept(order.id)


def let_differ(uow: UnitOfWork, part_id: str, version: int, now: datetime) -> Saved:
    """Give a part a design and a shape of its own, as those it shared were: from now on a change counts for it alone.

    Its jobs keep their keys, so what was done of them stays done.
    """
    part = uow.get_for_edit(Part, part_id, version)
    same = select(func.count()).select_from(Part).where(Part.design_id == part.design_id)
    shared = part.design.shape_id is not None and (
        (
            uow.session.scalar(select(func.count()).select_from(Design).where(Design.shape_id == part.design.shape_id))
            or 0
        )
        > 1
    )
    if (uow.session.scalar(same) or 0) < 2 and not shared:
        raise Refused("part", f"{part.name} shares nothing with another part already")
    design_id = _own_design(uow, part, made_id("design", f"{part.id}/{part.version}"), part.name, now)
    part.design = uow.get(Design, design_id)
    uow.edited(part, [f"{part.name} differs from its like now"], now, "part")
    return Saved(part.version)


def _own_design(uow: UnitOfWork, part: Part, key: str, name: str, now: datetime) -> str:
    """A design with the same jobs under the same keys, and a shape of its own that is the same."""
    design, shape = part.design, part.design.shape
    shape_id = None
    if shape is not None:
        shape_id = made_id("shape", key)
        uow.add(Shape(id=shape_id, name=name, kind=shape.kind, says=shape.says, updated_at=now))
    uow.add(Design(id=key, shape_id=shape_id, name=name, side=design.side, updated_at=now))
    for job in design.jobs:
        _copied_job(uow, job, key, None, now)
    return key


def _copied_job(uow: UnitOfWork, job: Job, design_id: str | None, part_id: str | None, now: datetime) -> None:
    row = Job(
        id=made_id("job", f"{design_id or part_id}/{job.key}"),
        design_id=design_id,
        part_id=part_id,
        key=job.key,
        rank=job.rank,
        recipe=job.recipe,
        given=dict(job.given),
        ply_book=dict(job.ply_book),
        losses=dict(job.losses),
        step_edits=dict(job.step_edits),
        before_key=job.before_key,
        hidden_at=job.hidden_at,
        updated_at=now,
    )
    row.products = [JobProduct(role=one.role, data_sheet_id=one.data_sheet_id) for one in job.products]
    uow.add(row)


def _place(uow: UnitOfWork, texts: dict[str, str]) -> dict[str, Any]:
    """Where it lies, as kept; nothing where no distance aft was said."""
    says = read(Place, {name: text for name, text in texts.items() if text.strip()}, units_of(uow))
    if not texts.get("aft_m", "").strip():
        if "side_m" in says:
            raise Refused("aft_m", "how far aft of the nose it lies is not given yet")
        return {}
    return says


def _named(text: str, field_: str, taken: Iterable[str], what: str) -> str:
    name = " ".join(text.split())
    if not name:
        raise Refused(field_, f"the name is empty; give {what} a name")
    if len(name) > LONGEST:
        raise Refused(field_, f"“{name[:20]}…” has {len(name)} letters; a name has at most {LONGEST}")
    if any(name.lower() == other.lower() for other in taken):
        raise Refused(field_, f"there is {what} called “{name}” already; choose another name")
    return name


def _part_name(uow: UnitOfWork, text: str, assembly: Assembly, mine: Iterable[Part]) -> str:
    airframe = uow.get(Project, assembly.project_id)
    return _named(text, "name", [part.name for part in mine], f"a part of {airframe.name}")


def _small(name: str) -> str:
    """As it reads after a word: without its capital, unless it is an abbreviation."""
    return name if name[1:2].isupper() else name[:1].lower() + name[1:]


def _mirrored_name(name: str, hand: str) -> str:
    """The name with its left and right exchanged; with its hand before it where it says neither."""
    old = "left" if hand == "right" else "right"
    for word, new in ((old.capitalize(), hand.capitalize()), (old, hand)):
        if word in name.split():
            return " ".join(new if part == word else part for part in name.split())
    return f"{hand.capitalize()} {_small(name)}"


def _copy_name(name: str, taken: list[str]) -> str:
    lower = {other.lower() for other in taken}
    return next(found for n in range(2, len(taken) + 3) if (found := f"{name} {n}").lower() not in lower)


def _last_rank(uow: UnitOfWork) -> int:
    return uow.session.scalar(select(func.max(Part.rank))) or 0


def _moved(rows: Sequence[Part | Assembly], row: Part | Assembly, move: str, name: str) -> None:
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
