"""A part called, placed and ordered otherwise; its copy, its mirror image, and letting it differ."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import func, select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Assembly, Decision, Design, Job, JobProduct, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.airframes import moved, parts_here
from kiteloom.workshop.build.founding_parts import Side, last_rank, part_name, part_row, placed, small


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


def edit_part(uow: UnitOfWork, part_id: str, order: EditPart, now: datetime) -> Saved:
    """Say something else of a part: all of what was said, or nothing."""
    part = uow.get_for_edit(Part, part_id, order.version)
    words: list[str] = []
    if order.assembly_id is not None and order.assembly_id != part.assembly_id:
        assembly = uow.get(Assembly, order.assembly_id)
        if assembly.project_id != part.assembly.project_id:
            name = part_name(uow, order.name or part.name, assembly, parts_here(uow, assembly.project_id))
            part.name = name
        words.append(f"{part.name} moved from {part.assembly.name} to {assembly.name}")
        part.assembly = assembly
    if order.name is not None and order.name.strip() != part.name:
        others = [other for other in parts_here(uow, part.assembly.project_id) if other.id != part.id]
        name = part_name(uow, order.name, part.assembly, others)
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
        place = placed(uow, order.place)
        if place != part.place:
            words.append(f"{part.name} has {'another place' if place else 'no place any more'}")
            part.place = place
    if order.move is not None:
        mine = [row for row in parts_here(uow, part.assembly.project_id) if row.assembly_id == part.assembly_id]
        moved(mine, part, order.move, part.name)
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
        design_id = _own_design(uow, part, stable_id("design", order.id), name, now)
    name = part_name(uow, name, assembly, mine)
    row = part_row(order.id, assembly.id, design_id, hand, name, last_rank(uow) + 1, now, part.place)
    uow.add(row)
    if order.how == "copy":
        # What mends this part mends no other.
        mends = set(uow.session.scalars(select(Decision.job_id).where(Decision.job_id.is_not(None))))
        for job in part.jobs:
            if job.id in mends:
                continue
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
    design_id = _own_design(uow, part, stable_id("design", f"{part.id}/{part.version}"), part.name, now)
    part.design = uow.get(Design, design_id)
    uow.edited(part, [f"{part.name} differs from its like now"], now, "part")
    return Saved(part.version)


def _own_design(uow: UnitOfWork, part: Part, key: str, name: str, now: datetime) -> str:
    """A design with the same jobs under the same keys, and a shape of its own that is the same."""
    design, shape = part.design, part.design.shape
    shape_id = None
    if shape is not None:
        shape_id = stable_id("shape", key)
        uow.add(Shape(id=shape_id, name=name, kind=shape.kind, says=shape.says, updated_at=now))
    uow.add(Design(id=key, shape_id=shape_id, name=name, side=design.side, updated_at=now))
    for job in design.jobs:
        _copied_job(uow, job, key, None, now)
    return key


def _copied_job(uow: UnitOfWork, job: Job, design_id: str | None, part_id: str | None, now: datetime) -> None:
    row = Job(
        id=stable_id("job", f"{design_id or part_id}/{job.key}"),
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


def _mirrored_name(name: str, hand: str) -> str:
    """The name with its left and right exchanged; with its hand before it where it says neither."""
    old = "left" if hand == "right" else "right"
    for word, new in ((old.capitalize(), hand.capitalize()), (old, hand)):
        if word in name.split():
            return " ".join(new if part == word else part for part in name.split())
    return f"{hand.capitalize()} {small(name)}"


def _copy_name(name: str, taken: list[str]) -> str:
    lower = {other.lower() for other in taken}
    return next(found for n in range(2, len(taken) + 3) if (found := f"{name} {n}").lower() not in lower)
