"""Founding a part, or a left and a right one, with the shape it has."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import func, select

from kiteloom.core.base.fields import read
from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.place import Place
from kiteloom.store.models import Assembly, Design, Part, Project, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.airframes import (
    FoundAssembly,
    assemblies_of,
    found_assembly,
    named,
    parts_here,
)
from kiteloom.workshop.shape.typed import ShapeTyped, read_shape

Hand = Literal["left", "right", "centre", "both"]
Side = Literal["upper", "lower", "whole"]
#: So many parts are planned at the most.
MOST_PARTS = 2000


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
class GiveShape:
    """A shape for a part that has none: typed, or that of another part."""

    id: str
    shape: ShapeTyped | None = None
    shape_of: str = ""


def found_part(uow: UnitOfWork, order: FoundPart, now: datetime) -> Kept:
    """Found a part, or a left and a right one of the same design."""
    if uow.kept_already(Part, order.id) is not None:
        return Kept(order.id)
    assembly = _assembly(uow, order, now)
    hands = ("left", "right") if order.hand == "both" else (order.hand,)
    called = order.name.strip()
    names = [f"{hand.capitalize()} {small(called)}" for hand in hands] if len(hands) > 1 and called else [called]
    mine = parts_here(uow, assembly.project_id)
    names = [part_name(uow, name, assembly, mine) for name in names]
    if len(hands) > 1 and not order.other_id:
        raise Refused("other_id", "a left and a right part are founded, and only one has an id; two are wanted")
    if (count := uow.session.scalar(select(func.count()).select_from(Part)) or 0) + len(hands) > MOST_PARTS:
        raise Refused("name", f"there are {count} parts in the shop; at most {MOST_PARTS} are planned")
    place = placed(uow, order.place)
    shape_id = _shape(uow, GiveShape(stable_id("shape", order.id), order.shape, order.shape_of), called, now)
    design = Design(id=stable_id("design", order.id), shape_id=shape_id, name=called, side=order.side, updated_at=now)
    uow.add(design)
    rank = last_rank(uow)
    for n, (hand, name) in enumerate(zip(hands, names, strict=True)):
        key = order.id if n == 0 else order.other_id
        uow.add(part_row(key, assembly.id, design.id, hand, name, rank + 1 + n, now, place))
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
    key = stable_id("assembly", order.id)
    try:
        found_assembly(uow, FoundAssembly(key, airframe.id, name), now)
    except Refused as refused:
        raise Refused("assembly", refused.sentence) from None
    return uow.get(Assembly, key)


def part_row(
    key: str, assembly_id: str, design_id: str, hand: str, name: str, rank: int, now: datetime, place: dict[str, Any]
) -> Part:
    """A part that is not added yet."""
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


def placed(uow: UnitOfWork, texts: dict[str, str]) -> dict[str, Any]:
    """Where it lies, as kept; nothing where no distance aft was said."""
    says = read(Place, {name: text for name, text in texts.items() if text.strip()}, units_of(uow))
    if not texts.get("aft_m", "").strip():
        if "side_m" in says:
            raise Refused("aft_m", "how far aft of the nose it lies is not given yet")
        return {}
    return says


def part_name(uow: UnitOfWork, text: str, assembly: Assembly, mine: Iterable[Part]) -> str:
    """A part\'s name as it is kept; `Refused` where its airframe has it already."""
    airframe = uow.get(Project, assembly.project_id)
    return named(text, "name", [part.name for part in mine], f"a part of {airframe.name}")


def small(name: str) -> str:
    """As it reads after a word: without its capital, unless it is an abbreviation."""
    return name if name[1:2].isupper() else name[:1].lower() + name[1:]


def last_rank(uow: UnitOfWork) -> int:
    """The rank of the last part there is; 0 without any."""
    return uow.session.scalar(select(func.max(Part.rank))) or 0
