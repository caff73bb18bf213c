"""A part's ply book, edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import Typed
from kiteloom.core.laminate.stack import Ply, Stack, stack_code, true_angle
from kiteloom.store.models import DataSheet, Job, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.jobs import hand_of, job_row, stack_of_job
from kiteloom.workshop.laminate.plies import stack_of


@dataclass(frozen=True)
class PlyEdit:
    """A ply as typed: a cloth and its angle as seen on this part."""

    cloth_id: str
    angle: Typed


@dataclass(frozen=True)
class EditPlies:
    """A job's whole ply book, outside to inside."""

    version: int
    plies: tuple[PlyEdit, ...]
    job: str = ""
    core_id: str | None = None
    core_after: int = 0
    reason: str = ""
    """Why, where it is laid up already."""


def edit_plies(uow: UnitOfWork, part_id: str, order: EditPlies, now: datetime) -> Saved:
    """Replace the ply book of a part's job: all of it, or nothing.

    Angles are as seen on this part, so on a right-hand part they are mirrored back.
    """
    part = uow.get(Part, part_id)
    hand = hand_of(part)
    job = uow.get_for_edit(Job, job_row(part, order.job).id, order.version)
    before = stack_of_job(uow, job)
    rows = []
    for number, ply in enumerate(order.plies):
        field = f"plies.{number}.angle"
        angle = between(field, ply.angle.read("angle", field), -180, 180, unit="°", name="the angle")
        if uow.get(DataSheet, ply.cloth_id).kind != "cloth":
            raise Refused(f"plies.{number}.cloth_id", f"“{uow.get(DataSheet, ply.cloth_id).name}” is not a cloth")
        rows.append({"cloth_id": ply.cloth_id, "angle_deg": true_angle(angle, hand)})
    core_after = order.core_after if order.core_id else 0
    book: dict[str, Any] = {"plies": rows, "core_id": order.core_id, "core_after": core_after}
    after = stack_of(uow, book)
    if book != job.ply_book:
        job.ply_book = book
        uow.edited(job, _what_changed(before, after), now, "design")
    return Saved(job.version)


def _names(stack: Stack) -> list[str]:
    def name(ply: Ply) -> str:
        return f"{ply.cloth.name} at {plain(true_angle(ply.angle_deg, 'left'))}°"

    names = [name(ply) for ply in stack.plies]
    if stack.core:
        names.insert(stack.core_after, stack.core.name)
    return names


def _what_changed(before: Stack | None, after: Stack) -> list[str]:
    old, new = _names(before) if before else [], _names(after)
    gone, came = [n for n in old if old.count(n) > new.count(n)], [n for n in new if new.count(n) > old.count(n)]
    words = []
    if gone:
        words.append(f"took out {', '.join(gone)}")
    if came:
        words.append(f"put in {', '.join(came)}")
    return [f"plies: {' and '.join(words) or 'put in another order'}, now {stack_code(after)}"]
