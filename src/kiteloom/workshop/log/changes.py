"""Changing on paper what is built already: it asks why, and is kept as a deviation of each part it is on."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select

from kiteloom.core.build.step_id import StepId
from kiteloom.store.models import Job, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.jobs import job_row, parts_of_job
from kiteloom.workshop.build.part_edits import EditPart, edit_part
from kiteloom.workshop.build.plies import EditPlies, edit_plies
from kiteloom.workshop.log.deviations import as_built_otherwise
from kiteloom.workshop.log.mixes import on_steps
from kiteloom.workshop.shape.shapes import EditShape, edit_shape, parts_of_shape


def change_plies(uow: UnitOfWork, part_id: str, order: EditPlies, now: datetime) -> Saved:
    """Replace a ply book; where a mix is on a part it builds, with the reason."""
    job = uow.get(Job, job_row(uow.get(Part, part_id), order.job).id)
    before = job.version
    saved = edit_plies(uow, part_id, order, now)
    if saved.version != before:
        on = {part for part, key in on_steps(uow) if StepId.within(part, key).job == job.key}
        laid = [part for part in parts_of_job(uow, job) if part.id in on]
        as_built_otherwise(uow, laid, "The ply book was changed", order.reason, now)
    return saved


def change_shape(uow: UnitOfWork, shape_id: str, order: EditShape, now: datetime) -> Saved:
    """Change a shape; where a mix is on a part of it, with the reason."""
    before = uow.get(Shape, shape_id).version
    saved = edit_shape(uow, shape_id, order, now)
    if saved.version != before:
        as_built_otherwise(uow, parts_of_shape(uow, shape_id), "The shape was changed", order.reason, now)
    return saved


def change_part(uow: UnitOfWork, part_id: str, order: EditPart, now: datetime) -> Saved:
    """Say something else of a part; another hand or side where a mix is on it with the reason."""
    part = uow.get(Part, part_id)
    before = (part.hand, part.design.side)
    saved = edit_part(uow, part_id, order, now)
    if (part.hand, part.design.side) != before:
        query = select(Part).where(Part.design_id == part.design_id, Part.hidden_at.is_(None)).order_by(Part.rank)
        same = list(uow.session.scalars(query)) if part.design.side != before[1] else [part]
        as_built_otherwise(uow, same, "Its hand or side was changed", order.reason, now)
    return saved
