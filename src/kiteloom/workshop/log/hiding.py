"""Taking a part out of its airframe, and back: nothing is lost, and what was done of it stays."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Batch, Part, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.airframes import parts_here
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.work import done_so_far

#: So long what was hidden can be taken back.
KEPT = timedelta(days=30)


@dataclass(frozen=True)
class HidePart:
    """That a part is taken out of its airframe, or taken back."""

    version: int
    hidden: bool


def hide_part(uow: UnitOfWork, part_id: str, order: HidePart, now: datetime) -> Saved:
    """Take a part out, or back; not while it is being worked on."""
    part = uow.get_for_edit(Part, part_id, order.version)
    if (part.hidden_at is not None) == order.hidden:
        return Saved(part.version)
    if order.hidden:
        done = done_so_far(uow, {part.id: built_part(uow, part.id)})
        running = [key for key, fact in done.facts.items() if fact.running_since is not None]
        if running:
            raise Refused("hidden", f"{part.name} is being worked on; pause or finish that first")
    else:
        taken = [other.name for other in parts_here(uow, part.assembly.project_id)]
        if any(name.lower() == part.name.lower() for name in taken):
            raise Refused("hidden", f"another part is called “{part.name}” by now; call that one otherwise first")
    part.hidden_at = now if order.hidden else None
    uow.edited(part, [f"{part.name} taken {'out' if order.hidden else 'back'}"], now, "part")
    return Saved(part.version)


def hidden_parts(uow: UnitOfWork, now: datetime) -> list[tuple[Part, bool]]:
    """Parts that were taken out and can be taken back, each with whether anything was done of it."""
    hidden = select(Part).where(Part.hidden_at.is_not(None)).order_by(Part.hidden_at.desc())
    rows = list(uow.session.scalars(hidden))
    if not rows:
        return []
    worked = set(uow.session.scalars(select(Work.part_id))) | set(uow.session.scalars(select(Batch.part_id)))
    found = [(row, row.id in worked) for row in rows]
    return [(row, done) for row, done in found if done or (row.hidden_at and now - row.hidden_at <= KEPT)]
