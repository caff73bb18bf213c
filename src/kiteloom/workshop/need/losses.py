"""A job's losses: read, and edited where the shop knows them better."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.fields import asked_of, made
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.need.resin import Losses
from kiteloom.store.models import Job
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of


def losses_of(job: Job) -> Losses:
    """A job's losses; what it does not say is common practice."""
    return made(Losses, job.losses)


@dataclass(frozen=True)
class EditLosses:
    """Losses as typed, by field."""

    version: int
    losses: dict[str, Typed]


def edit_losses(uow: UnitOfWork, job_id: str, order: EditLosses, now: datetime) -> Saved:
    """Say where the shop knows its losses better than common practice."""
    job, losses = uow.get_for_edit(Job, job_id, order.version), order.losses
    units, words, said, fields = units_of(uow), [], dict(job.losses), asked_of(Losses)
    before = losses_of(job)
    for field, typed in losses.items():
        if field not in fields:
            raise Refused(field, f"“{field}” is not a loss; they are {', '.join(fields)}")
        asked, _ = fields[field]
        value = asked.meant(field, typed, units)
        words.append(f"{asked.label} {asked.text(getattr(before, field), units)} → {asked.text(value, units)}")
        said[field] = value
    job.losses = said
    if words:
        uow.edited(job, words, now, "design")
    return Saved(job.version)
