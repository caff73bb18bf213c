"""A decision is signed: by a name, and with what it rests on."""

from __future__ import annotations

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.sign_in import NotYours


def signed(uow: UnitOfWork, crew_member_id: str | None, note: str) -> tuple[str, str]:
    """The id of who decides and the words kept of why, at most 500 letters; Refused where either is missing."""
    if crew_member_id is None:
        raise Refused("crew_member_id", "a decision is signed; say who decides")
    who = by_own_hand(uow, uow.get(CrewMember, crew_member_id))
    if not note.strip():
        raise Refused("note", "the note is empty; say in a few words what the decision rests on")
    return who.id, note.strip()[:500]


def by_own_hand(uow: UnitOfWork, who: CrewMember) -> CrewMember:
    """Who signs, where people sign in: nobody signs for somebody else, or another pair of eyes would be a name.

    Raises
    ------
    NotYours
        When it is not who is signed in.
    """
    if uow.who is not None and uow.who.crew_member_id != who.id:
        raise NotYours(f"{who.name} signs with a PIN of their own: sign in as {who.name}.", who.id)
    return who
