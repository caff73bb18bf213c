"""What an airframe carries besides its parts, its limits, arms that are typed, and hinges of control surfaces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy import select

from kiteloom.core.base.fields import asked_of, made, missing, read
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.weight.hinge import Hinge
from kiteloom.core.weight.whole import Limits
from kiteloom.store.models import Design, MassItem, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of

#: Nothing carried is heavier [g], or lies farther from the nose [m].
MOST_G, FAR_M = 5_000_000.0, 100.0
#: So many things besides parts.
MOST_ITEMS = 300


@dataclass(frozen=True)
class EditItem:
    """Something carried: its name, what it weighs, how far aft of the nose; a load is on board only in flight.

    The client makes the id of a new one; 0 is no version yet.
    """

    id: str
    version: int
    name: str
    weighs: Typed
    aft: Typed
    load: bool = False
    hidden: bool = False


@dataclass(frozen=True)
class EditLimits:
    """Datum and limits of an airframe, as typed by field; an empty text takes a limit away."""

    version: int
    texts: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class EditArm:
    """How far aft of the nose a part's middle lies, as typed; empty where its shape and place say so."""

    version: int
    arm: Typed


@dataclass(frozen=True)
class EditHinge:
    """A control surface's hinge, as typed by field; nothing in it where it has none."""

    version: int
    texts: Mapping[str, str] = field(default_factory=dict)


def edit_item(uow: UnitOfWork, airframe_id: str, order: EditItem, now: datetime) -> Saved:
    """Add something carried, or change it; `Refused` by field."""
    airframe, known = uow.get(Project, airframe_id), uow.session.get(MassItem, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name, grams, aft = checked_item(order.name, order.weighs.read("mass", "weighs"), order.aft.read("length", "aft"))
    if known is None:
        room_for(uow, airframe.id)
        uow.add(
            MassItem(id=order.id, project_id=airframe.id, name=name, grams=grams, aft_m=aft, load=order.load,
                     updated_at=now)
        )  # fmt: skip
        uow.changed("weight", airframe.id)
        return Saved(1)
    row = uow.get_for_edit(MassItem, order.id, order.version)
    row.name, row.grams, row.aft_m, row.load = name, grams, aft, order.load
    row.hidden_at = now if order.hidden else None
    uow.edited(row, [f"{name} {'taken away' if order.hidden else 'changed'}"], now, "weight")
    return Saved(row.version)


def checked_item(name: str, grams: float, aft_m: float) -> tuple[str, float, float]:
    """Something carried, its name without stray spaces; `Refused` by field where it can't be."""
    short = " ".join(name.split())[:80]
    if not short:
        raise Refused("name", "the name is empty; say what it is")
    return (
        short,
        between("weighs", grams, 0, MOST_G, unit="g", name=f"the weight of “{short}”"),
        between("aft", aft_m, -FAR_M, FAR_M, unit="m", name=f"the place of “{short}”"),
    )


def room_for(uow: UnitOfWork, airframe_id: str) -> None:
    """`Refused` where nothing more can be carried."""
    if len(items_of(uow, airframe_id)) >= MOST_ITEMS:
        raise Refused("name", f"{MOST_ITEMS} things are carried already; no more are counted")


def items_of(uow: UnitOfWork, airframe_id: str) -> list[MassItem]:
    """What an airframe carries, by name."""
    mine = MassItem.project_id == airframe_id
    query = select(MassItem).where(mine, MassItem.hidden_at.is_(None)).order_by(MassItem.load, MassItem.name)
    return list(uow.session.scalars(query))


def edit_limits(uow: UnitOfWork, airframe_id: str, order: EditLimits, now: datetime) -> Saved:
    """Say where arms count from, and the limits."""
    row, units = uow.get_for_edit(Project, airframe_id, order.version), units_of(uow)
    said = read(Limits, order.texts, units)
    says = {name: value for name, value in {**row.limits, **said}.items() if order.texts.get(name, "x").strip()}
    limits_of(says)
    if says != row.limits:
        row.limits = says
        words = [f"{asked_of(Limits)[name][0].label} {text or 'taken away'}" for name, text in order.texts.items()]
        uow.edited(row, words, now, "airframe")
    return Saved(row.version)


def limits_of(says: Mapping[str, object]) -> Limits:
    """An airframe's datum and limits as they are computed with; `Refused` where one lies before the other."""
    found = made(Limits, says)
    if found.fore_m is not None and found.aft_m is not None and found.aft_m <= found.fore_m:
        raise Refused("aft_m", "the aft limit must lie behind the forward one")
    return found


def edit_arm(uow: UnitOfWork, part_id: str, order: EditArm, now: datetime) -> Saved:
    """Type how far aft of the nose a part's middle lies, or leave it to its shape."""
    part = uow.get_for_edit(Part, part_id, order.version)
    arm = None
    if order.arm.text.strip():
        arm = checked_arm(order.arm.read("length", "arm"))
    if arm != part.arm_m:
        part.arm_m = arm
        uow.edited(
            part, [f"{part.name}: its arm was {'typed' if arm is not None else 'left to its shape'}"], now, "part"
        )
    return Saved(part.version)


def checked_arm(arm_m: float) -> float:
    """How far aft of the nose a part's middle lies; `Refused` where it can't."""
    return between("arm", arm_m, -FAR_M, FAR_M, unit="m", name="its arm")


def edit_hinge(uow: UnitOfWork, part_id: str, order: EditHinge, now: datetime) -> Saved:
    """Say where a control surface hinges; it counts for its mirror image too."""
    part = uow.get(Part, part_id)
    design, units = uow.get_for_edit(Design, part.design_id, order.version), units_of(uow)
    texts = {name: text for name, text in order.texts.items() if text.strip()}
    says = read(Hinge, texts, units) if texts else {}
    hinge_of(says)
    if says != design.hinge:
        design.hinge = says
        uow.edited(design, [f"{design.name}: its hinge was {'said' if says else 'taken away'}"], now, "design")
    return Saved(design.version)


def hinge_of(says: Mapping[str, Any]) -> Hinge | None:
    """Where a control surface hinges, None for what has none; `Refused` where something of it is missing."""
    lacks = missing(Hinge, says) if says else []
    if lacks:
        raise Refused("root_m", f"not given yet: {', '.join(lacks)}")
    return made(Hinge, says) if says else None
