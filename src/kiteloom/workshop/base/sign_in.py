"""Who is let in: by name and PIN or passphrase, or by a link that ends; and for how long.

A shop where nobody has a PIN asks for none. The first who gets one is a lead, and from then on everybody signs in.
"""

from __future__ import annotations

import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal
from uuid import uuid4

from sqlalchemy import Select, delete, select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember, Secret, SignIn
from kiteloom.store.unit_of_work import Store, UnitOfWork, Who
from kiteloom.workshop.base.guests import guest_of
from kiteloom.workshop.base.pins import digest_of, hashed, not_easy, proven

Role = Literal["lead", "builder", "looker-on"]
#: A builder's tablet is theirs until nothing was ordered for so long, and at most for so long.
IDLE, SHIFT = timedelta(hours=4), timedelta(hours=16)
#: Who only looks may stay: the screen on the wall.
LOOKING = timedelta(days=30)
#: Not every order is worth writing down that somebody is still there.
STILL_HERE = timedelta(minutes=5)


@dataclass(frozen=True)
class Present:
    """Who is signed in, what they are here, and when they ordered something last.

    ``digest`` is of what their tablet keeps.
    """

    who: Who
    name: str
    role: Role | Literal["inspector"]
    used_at: datetime
    digest: str

    @property
    def leads(self) -> bool:
        """Whether they say who works here and what each may do."""
        return self.role == "lead"

    @property
    def builds(self) -> bool:
        """Whether they may change what is built."""
        return self.role in ("lead", "builder")


class NotYours(Exception):
    """That somebody else must sign in for this: who, where it is one of the crew."""

    def __init__(self, sentence: str, person_id: str = "") -> None:
        super().__init__(sentence)
        self.person_id = person_id


def needed(uow: UnitOfWork) -> bool:
    """Whether people sign in here: somebody of the crew has a PIN or passphrase."""
    return uow.session.scalar(_who_has().limit(1)) is not None


def have_secrets(uow: UnitOfWork) -> frozenset[str]:
    """The ids of who has a PIN or passphrase, and still works here."""
    return frozenset(uow.session.scalars(_who_has()))


def _who_has() -> Select[str]:
    mine = select(Secret.crew_member_id).join(CrewMember, CrewMember.id == Secret.crew_member_id)
    return mine.where(CrewMember.hidden_at.is_(None))


def present(uow: UnitOfWork, token: str, now: datetime) -> Present | None:
    """Who is signed in with what a tablet keeps; None when that has ended or never was."""
    row = uow.session.get(SignIn, digest_of(token)) if token else None
    if row is None or not row.began_at <= now + timedelta(days=1) or now >= row.ends_at:
        return None
    if row.guest is not None:
        if now >= row.guest.ends_at:
            return None
        return Present(Who(guest_id=row.guest.id), row.guest.name, "inspector", row.used_at, row.digest)
    person = row.crew_member
    if person is None or person.hidden_at is not None:
        return None
    role: Role = person.role  # type: ignore[assignment]
    if role != "looker-on" and now >= row.used_at + IDLE:
        return None
    return Present(Who(person.id), person.name, role, row.used_at, row.digest)


def used(store: Store, there: Present, now: datetime) -> None:
    """Somebody ordered something: their tablet stays theirs for a while. Not every time is written down."""
    if now - there.used_at <= STILL_HERE:
        return
    with store.writing() as uow:
        row = uow.session.get(SignIn, there.digest)
        if row is not None:
            row.used_at = max(row.used_at, now)


@dataclass(frozen=True)
class SignInAs:
    """Somebody's id, and their PIN or passphrase."""

    person_id: str
    secret: str


def sign_in(store: Store, order: SignInAs, now: datetime) -> str:
    """Let somebody in; what their tablet is to keep.

    Raises
    ------
    NotLetIn
        When it is wrong, or too many were wrong before; each wrong one is counted.
    """
    role = proven(store, order.person_id, order.secret, now)
    with store.writing() as uow:
        ends = now + (LOOKING if role == "looker-on" else SHIFT)
        return _begun(uow, now, ends, crew_member_id=order.person_id)


def come_by_link(store: Store, link: str, now: datetime) -> str:
    """Let an inspector in by the last part of a link; what their tablet is to keep. `NotLetIn` when it has ended."""
    with store.writing() as uow:
        guest = guest_of(uow, link, now)
        return _begun(uow, now, guest.ends_at, guest_id=guest.id)


def _begun(uow: UnitOfWork, now: datetime, ends: datetime, **who: str) -> str:
    token = secrets.token_urlsafe(32)
    uow.session.execute(delete(SignIn).where(SignIn.ends_at < now))
    uow.add(SignIn(digest=digest_of(token), began_at=now, used_at=now, ends_at=ends, **who))
    return token


def sign_out(uow: UnitOfWork, token: str) -> None:
    """A tablet is nobody's any more."""
    uow.session.execute(delete(SignIn).where(SignIn.digest == digest_of(token)))


@dataclass(frozen=True)
class GivePin:
    """A PIN or passphrase for somebody; who changes their own says the one they had."""

    person_id: str
    secret: str
    had: str = ""


def give_pin(store: Store, order: GivePin, by: Present | None, now: datetime) -> None:
    """Give somebody a PIN or passphrase: the first of a shop makes a lead. Who was signed in with the old one is out.

    Raises
    ------
    Refused
        When it is too easily found.
    NotLetIn
        When the one they had is wrong.
    NotYours
        When it is another's, and who gives it is no lead.
    """
    not_easy(order.secret)
    if by is not None and by.who.crew_member_id == order.person_id:
        proven(store, order.person_id, order.had, now)
    elif by is not None and not by.leads:
        raise NotYours("A PIN is given by a lead, or changed by whose it is.")
    kept = hashed(order.secret)
    with store.writing() as uow:
        person, first = uow.get(CrewMember, order.person_id), not needed(uow)
        if by is None and not first:
            raise NotYours("Somebody has a PIN by now: sign in first.")
        if person.hidden_at is not None:
            raise Refused("person_id", f"{person.name} does not work here any more")
        _given(uow, person, kept, now, lead=first, but="" if by is None else by.digest)


def give_pin_here(store: Store, name: str, secret: str, now: datetime) -> str:
    """Give somebody one at the keyboard of the shop's computer, and make them a lead; their name as it is kept.

    The first of a crew is welcomed so. `Refused` when it is too easily found, or nobody of the crew has that name.
    """
    not_easy(secret)
    kept, name = hashed(secret), " ".join(name.split())[:60]
    with store.writing() as uow:
        crew = [row for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
        found = [row for row in crew if row.name.lower() == name.lower()]
        if not name or (crew and not found):
            raise Refused("name", f"“{name}” does not work here; the crew is {', '.join(row.name for row in crew)}")
        person = found[0] if found else CrewMember(id=str(uuid4()), name=name, updated_at=now)
        if not found:
            uow.add(person)
        _given(uow, person, kept, now, lead=True)
        return person.name


def _given(uow: UnitOfWork, person: CrewMember, kept: str, now: datetime, *, lead: bool, but: str = "") -> None:
    row = uow.session.get(Secret, person.id)
    if row is None:
        uow.add(Secret(crew_member_id=person.id, hashed=kept, set_at=now))
    else:
        row.hashed, row.set_at, row.wrong, row.wrong_at = kept, now, 0, None
    if lead and person.role != "lead":
        person.role = "lead"
        uow.edited(person, [f"{person.name} is a lead"], now, "crew")
    _out(uow, person.id, but)
    uow.changed("crew", person.id)


def take_pin(uow: UnitOfWork, person_id: str, *, here_only: bool) -> None:
    """Take somebody's PIN away; with the last one nobody signs in any more, which is for this machine only."""
    person = uow.get(CrewMember, person_id)
    row = uow.session.get(Secret, person.id)
    if row is None:
        return
    others = have_secrets(uow) - {person.id}
    if others:
        _keep_a_lead(uow, person)
    elif not here_only:
        raise Refused(
            "person_id",
            f"{person.name}’s is the last PIN, and this shop is open to the network; serve it to this machine only "
            "first",
        )
    uow.session.delete(row)
    _out(uow, person.id)
    uow.changed("crew", person.id)


@dataclass(frozen=True)
class GiveRole:
    """What somebody may do here, and the version of what was seen of them."""

    role: Role
    version: int


def give_role(uow: UnitOfWork, person_id: str, order: GiveRole, now: datetime) -> None:
    """Say what somebody may do here."""
    person = uow.get_for_edit(CrewMember, person_id, order.version)
    if order.role != "lead":
        _keep_a_lead(uow, person)
    if person.role != order.role:
        person.role = order.role
        uow.edited(person, [f"{person.name} is a {order.role}"], now, "crew")


def leaves(uow: UnitOfWork, person: CrewMember) -> None:
    """Somebody does not work here any more: their tablets are nobody's; a lead stays."""
    if have_secrets(uow) - {person.id}:
        _keep_a_lead(uow, person)
    _out(uow, person.id)


def _keep_a_lead(uow: UnitOfWork, person: CrewMember) -> None:
    """Refuse to let the last lead go who can sign in, where people do."""
    has = have_secrets(uow)
    leads = {row.id for row in uow.all(CrewMember) if row.role == "lead" and row.id in has}
    if person.id in leads and len(leads) == 1:
        raise Refused("person_id", f"{person.name} is the only lead who can sign in; make somebody else a lead first")


def _out(uow: UnitOfWork, person_id: str, but: str = "") -> None:
    uow.session.execute(delete(SignIn).where(SignIn.crew_member_id == person_id, SignIn.digest != but))


def names_of(uow: UnitOfWork) -> Iterable[CrewMember]:
    """Who may sign in by name."""
    has = have_secrets(uow)
    return [row for row in uow.all(CrewMember, CrewMember.name) if row.id in has]
