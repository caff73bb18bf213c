"""Readings that belong to steps: the twist of a panel."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import Step
from kiteloom.core.build.twist import MOST_DEG, Twist, judged
from kiteloom.store.models import Reading, Work
from kiteloom.store.unit_of_work import UnitOfWork

TWIST = "twist"


def keep_twist(uow: UnitOfWork, key: str, part_id: str, step: Step, typed: str, now: datetime) -> None:
    """Keep the twist that was read; a step that is a reading is not finished without it."""
    text = typed.strip().rstrip("°").strip().replace(",", ".").replace("−", "-")
    if not text:
        raise Refused("reading", f"“{step.name}” has no reading yet; write down the twist in degrees, like 0.2")
    try:
        found = float(text)
    except ValueError:
        raise Refused("reading", f"“{typed.strip()[:40]}” isn't a number of degrees; write it like 0.2") from None
    between("reading", found, -MOST_DEG, MOST_DEG, unit="°", name="the twist")
    before = uow.session.scalar(
        select(Reading)
        .where(Reading.part_id == part_id, Reading.step_key == step.key)
        .order_by(Reading.recorded_at.desc())
        .limit(1)
    )
    uow.add(
        Reading(
            id=key,
            corrects_id=before.id if before else None,
            part_id=part_id,
            step_key=step.key,
            found=found,
            happened_at=now,
            recorded_at=now,
        )
    )


def twist_words(uow: UnitOfWork, part_id: str) -> tuple[str, bool]:
    """What a panel's readings say together, and whether they are within tolerance; ``""`` when there are none.

    A reading is one with the note that finished its step: with that taken back it does not count.
    """
    undone = select(Work.undoes_id).where(Work.undoes_id.is_not(None))
    mine = select(Reading).where(Reading.part_id == part_id, Reading.id.not_in(undone))
    standing: dict[str, Twist] = {}
    for row in uow.session.scalars(mine.order_by(Reading.happened_at, Reading.recorded_at)):
        standing.pop(row.step_key, None)  # read again: the last one counts, in its place
        standing[row.step_key] = Twist(row.step_key.partition("/")[2], row.found)
    return judged(list(standing.values())) if standing else ("", True)
