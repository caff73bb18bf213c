"""A decision is signed: by a name, and with what it rests on."""

from __future__ import annotations

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember
from kiteloom.store.unit_of_work import UnitOfWork


def signed(uow: UnitOfWork, crew_member_id: str | None, note: str) -> tuple[str, str]:
    """The id of who decides and the words kept of why, at most 500 letters; Refused where either is missing."""
    if crew_member_id is None:
        raise Refused("crew_member_id", "a decision is signed; say who decides")
    who = uow.get(CrewMember, crew_member_id)
    if not note.strip():
        raise Refused("note", "the note is empty; say in a few words what the decision rests on")
    return who.id, note.strip()[:500]
