"""Notes of work that count, and which steps they finished."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from typing import cast

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.log.work import Kind, Note, fact_of
from kiteloom.store.models import Work
from kiteloom.store.unit_of_work import UnitOfWork


def standing_notes(uow: UnitOfWork, part_id: str | None = None) -> list[Work]:
    """Notes that count, in order of time: those taken back are left out."""

    def read() -> list[Work]:
        query = select(Work).order_by(Work.happened_at, Work.recorded_at)
        if part_id is not None:
            query = query.where(Work.part_id == part_id)
        rows = list(uow.session.scalars(query))
        undone = {row.undoes_id for row in rows}
        return [row for row in rows if row.kind != "undo" and row.id not in undone]

    return read() if part_id is not None else uow.once("standing notes", read)


def finished_steps(uow: UnitOfWork, part_id: str) -> set[str]:
    """The keys of a part's steps that were said to be finished."""
    return set(finished_at(uow, part_id))


def finished_at(uow: UnitOfWork, part_id: str) -> dict[str, float]:
    """When each step of a part that is finished was [min], by its key."""
    rows: dict[str, list[Work]] = defaultdict(list)
    # In a reading many parts may be asked of; in a write it is one.
    notes = standing_notes(uow, part_id) if uow.writes else notes_by_part(uow)[part_id]
    for row in notes:
        rows[row.step_key].append(row)
    found = {key: fact_of(notes_from(mine)).finished for key, mine in rows.items()}
    return {key: at for key, at in found.items() if at is not None}


def notes_by_part(uow: UnitOfWork) -> Mapping[str, list[Work]]:
    """Notes that count, in order of time, by part."""

    def read() -> dict[str, list[Work]]:
        found: dict[str, list[Work]] = defaultdict(list)
        for row in standing_notes(uow):
            found[row.part_id].append(row)
        return found

    return uow.once("notes by part", read)


def notes_from(rows: Iterable[Work]) -> list[Note]:
    """Rows of work as the core takes them."""
    return [Note(cast(Kind, row.kind), minute_of(row.happened_at), tuple(row.crew)) for row in rows]
