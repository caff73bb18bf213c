"""Who is let in: by name and PIN or passphrase, or by a link that ends; and for how long.

A shop where nobody has a PIN asks for none. The first who gets one is a lead, and from then on everybody signs in.
"""

from __future__ import annotations

import os
import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256
from itertools import pairwise
from threading import Lock
from typing import Literal
from uuid import uuid4

from cryptography.exceptions import InvalidKey
from cryptography.hazmat.primitives.kdf.argon2 import Argon2id
from sqlalchemy import Select, delete, select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember, Guest, Secret, SignIn
from kiteloom.store.unit_of_work import Store, UnitOfWork, Who

Role = Literal["lead", "builder", "looker-on"]
#: A PIN has so many figures; a passphrase has at least so many letters, and neither has more than the last.
PIN, PASSPHRASE, LONGEST = (4, 12), 8, 200
#: So many wrong ones cost nothing; each that follows doubles the wait, from the first to the last [s].
FREE_TRIES, FIRST_WAIT_S, LAST_WAIT_S = 5, 30, 900
#: A builder's tablet is theirs until nothing was ordered for so long, and at most for so long.
IDLE, SHIFT = timedelta(hours=4), timedelta(hours=16)
#: Who only looks may stay: the screen on the wall.
LOOKING = timedelta(days=30)
#: Not every order is worth writing down that somebody is still there.
STILL_HERE = timedelta(minutes=5)
#: An inspector's link lasts so many days at most.
LONGEST_LINK_DAYS = 90
#: What a hash costs: RFC 9106 asks for as much memory as can be spared; a small shop computer spares 32 MB.
_TURNS, _LANES, _KIB = 3, 2, 32 * 1024
# One is compared at a time: nobody tries eight at once, and the memory of one is enough.
_one_at_a_time = Lock()


@dataclass(frozen=True)
class Present:
    """Who is signed in, what they are here, and until when. ``digest`` is of what their tablet keeps."""

    who: Who
    name: str
    role: Role | Literal["inspector"]
    ends_at: datetime
    digest: str


class NotYours(Exception):
    """That somebody else must sign in for this: who, where it is one of the crew."""

    def __init__(self, sentence: str, person_id: str = "") -> None:
        super().__init__(sentence)
        self.person_id = person_id


class NotLetIn(Exception):
    """That a PIN, passphrase or link did not let anybody in, and how long to wait [s]; 0 for not at all."""

    def __init__(self, sentence: str, wait_s: int = 0) -> None:
        super().__init__(sentence)
        self.wait_s = wait_s


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
    row = uow.session.get(SignIn, _digest(token)) if token else None
    if row is None or not row.began_at <= now + timedelta(days=1) or now >= row.ends_at:
        return None
    if row.guest is not None:
        ends = min(row.ends_at, row.guest.ends_at)
        return (
            None if now >= ends else Present(Who(guest_id=row.guest.id), row.guest.name, "inspector", ends, row.digest)
        )
    person = row.crew_member
    if person is None or person.hidden_at is not None:
        return None
    ends = row.ends_at if person.role == "looker-on" else min(row.ends_at, row.used_at + IDLE)
    role: Role = person.role  # type: ignore[assignment]
    return None if now >= ends else Present(Who(person.id), person.name, role, ends, row.digest)


def still_here(uow: UnitOfWork, there: Present, now: datetime) -> bool:
    """Whether that somebody ordered something is worth writing down."""
    row = uow.session.get(SignIn, there.digest)
    return row is not None and now - row.used_at > STILL_HERE


def used(uow: UnitOfWork, there: Present, now: datetime) -> None:
    """Somebody ordered something: their tablet stays theirs for a while."""
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
    role = _proven(store, order.person_id, order.secret, now)
    with store.writing() as uow:
        ends = now + (LOOKING if role == "looker-on" else SHIFT)
        return _begun(uow, now, ends, crew_member_id=order.person_id)


def _proven(store: Store, person_id: str, secret: str, now: datetime) -> str:
    """The role of somebody whose PIN or passphrase is right; `NotLetIn` where it is not."""
    with _one_at_a_time:
        with store.reading() as uow:
            person, row = uow.session.get(CrewMember, person_id), uow.session.get(Secret, person_id)
            if person is None or person.hidden_at is not None or row is None:
                raise NotLetIn("Nobody of that name has a PIN here.")
            name, hashed, role = person.name, row.hashed, person.role
            _not_yet(row, name, now)
        right = _is(secret, hashed)
        with store.writing() as uow:
            row = uow.get(Secret, person_id)
            row.wrong, row.wrong_at = (0, None) if right else (row.wrong + 1, now)
            wrong = row.wrong
    if right:
        return role
    left, wait = FREE_TRIES - wrong, _wait_s(wrong)
    more = f"{left} more can be tried" if left > 0 else f"the next can be tried in {_in_words(wait)}"
    raise NotLetIn(f"That is not {name}’s PIN or passphrase; {more}.", wait)


def _not_yet(row: Secret, name: str, now: datetime) -> None:
    """Refuse to compare anything while somebody has to wait."""
    if row.wrong_at is None:
        return
    wait = timedelta(seconds=_wait_s(row.wrong))
    # A clock that was set back makes nobody wait longer.
    left = min(wait, row.wrong_at + wait - now).total_seconds()
    if left > 0:
        words = _in_words(left)
        raise NotLetIn(
            f"{row.wrong} wrong ones were tried for {name}; the next can be tried in {words}. A lead can give a new "
            "PIN.",
            int(left) + 1,
        )


def _wait_s(wrong: int) -> int:
    return 0 if wrong < FREE_TRIES else min(FIRST_WAIT_S * 2 ** min(wrong - FREE_TRIES, 10), LAST_WAIT_S)


def _in_words(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 100 else f"{seconds / 60:.0f} min"


def come_by_link(store: Store, link: str, now: datetime) -> str:
    """Let an inspector in by the last part of a link; what their tablet is to keep. `NotLetIn` when it has ended."""
    with store.reading() as uow:
        guest = uow.session.scalar(select(Guest).where(Guest.digest == _digest(link)))
        if guest is None:
            raise NotLetIn("This link leads nowhere: ask the shop for another.")
        if now >= guest.ends_at:
            raise NotLetIn("This link has ended: ask the shop for another.")
        key, ends = guest.id, guest.ends_at
    with store.writing() as uow:
        return _begun(uow, now, ends, guest_id=key)


def _begun(uow: UnitOfWork, now: datetime, ends: datetime, **who: str) -> str:
    token = secrets.token_urlsafe(32)
    uow.session.execute(delete(SignIn).where(SignIn.ends_at < now))
    uow.add(SignIn(digest=_digest(token), began_at=now, used_at=now, ends_at=ends, **who))
    return token


def sign_out(uow: UnitOfWork, token: str) -> None:
    """A tablet is nobody's any more."""
    uow.session.execute(delete(SignIn).where(SignIn.digest == _digest(token)))


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
    _not_easy(order.secret)
    if by is not None and by.who.crew_member_id == order.person_id:
        _proven(store, order.person_id, order.had, now)
    elif by is not None and by.role != "lead":
        raise NotYours("A PIN is given by a lead, or changed by whose it is.")
    with _one_at_a_time:
        hashed = _hashed(order.secret)
    with store.writing() as uow:
        person, first = uow.get(CrewMember, order.person_id), not needed(uow)
        if by is None and not first:
            raise NotYours("Somebody has a PIN by now: sign in first.")
        if person.hidden_at is not None:
            raise Refused("person_id", f"{person.name} does not work here any more")
        _given(uow, person, hashed, now, lead=first, but="" if by is None else by.digest)


def give_pin_here(store: Store, name: str, secret: str, now: datetime) -> str:
    """Give somebody one at the keyboard of the shop's computer, and make them a lead; their name as it is kept.

    The first of a crew is welcomed so. `Refused` when it is too easily found, or nobody of the crew has that name.
    """
    _not_easy(secret)
    hashed, name = _hashed(secret), " ".join(name.split())[:60]
    with store.writing() as uow:
        crew = [row for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
        found = [row for row in crew if row.name.lower() == name.lower()]
        if not name or (crew and not found):
            raise Refused("name", f"“{name}” does not work here; the crew is {', '.join(row.name for row in crew)}")
        person = found[0] if found else CrewMember(id=str(uuid4()), name=name, updated_at=now)
        if not found:
            uow.add(person)
        _given(uow, person, hashed, now, lead=True)
        return person.name


def _given(uow: UnitOfWork, person: CrewMember, hashed: str, now: datetime, *, lead: bool, but: str = "") -> None:
    row = uow.session.get(Secret, person.id)
    if row is None:
        uow.add(Secret(crew_member_id=person.id, hashed=hashed, set_at=now))
    else:
        row.hashed, row.set_at, row.wrong, row.wrong_at = hashed, now, 0, None
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


@dataclass(frozen=True)
class InviteGuest:
    """An inspector's name, and for how many days their link is to last. The client makes the id."""

    id: str
    name: str
    days: int


def invite(uow: UnitOfWork, order: InviteGuest, now: datetime) -> str:
    """Make a link for an inspector; its last part, which is said once and kept nowhere."""
    name = " ".join(order.name.split())
    if not 1 <= len(name) <= 80:
        raise Refused("name", f"the inspector’s name has {len(name)} letters; it has 1 to 80")
    if not 1 <= order.days <= LONGEST_LINK_DAYS:
        raise Refused("days", f"the link would last {order.days} days; it lasts 1 to {LONGEST_LINK_DAYS}")
    link, ends = secrets.token_urlsafe(24), now + timedelta(days=order.days)
    row = uow.session.get(Guest, order.id)
    if row is not None:  # sent twice: the link of the second is the one that was heard
        row.digest = _digest(link)
        return link
    who = uow.who.crew_member_id if uow.who else None
    uow.add(
        Guest(id=order.id, name=name, digest=_digest(link), ends_at=ends, recorded_at=now, crew_member_id=who,
              updated_at=now)
    )  # fmt: skip
    uow.changed("crew", order.id)
    return link


def end_link(uow: UnitOfWork, guest_id: str, now: datetime) -> None:
    """An inspector's link ends now."""
    row = uow.get(Guest, guest_id)
    if row.ends_at > now:
        row.ends_at = now
        uow.edited(row, [f"the link of {row.name} was ended"], now, "crew")


def guests_of(uow: UnitOfWork) -> list[Guest]:
    """Everybody who was given a link, the newest first."""
    return uow.all(Guest, Guest.recorded_at.desc())


def names_of(uow: UnitOfWork) -> Iterable[CrewMember]:
    """Who may sign in by name."""
    has = have_secrets(uow)
    return [row for row in uow.all(CrewMember, CrewMember.name) if row.id in has]


def _not_easy(secret: str) -> None:
    """Refuse a PIN or passphrase that is soon found; what it is is not repeated."""
    if len(secret) > LONGEST:
        raise Refused("secret", f"it has {len(secret)} letters; at most {LONGEST} are kept")
    if not secret.isascii() or not secret.isdigit() or len(secret) > PIN[1]:
        if len(secret.strip()) < PASSPHRASE:
            raise Refused(
                "secret",
                f"it has {len(secret.strip())} letters; a PIN has {PIN[0]} to {PIN[1]} figures, a passphrase at least "
                f"{PASSPHRASE} letters",
            )
        return
    if len(secret) < PIN[0]:
        raise Refused("secret", f"it has {len(secret)} figures; a PIN has {PIN[0]} to {PIN[1]}")
    steps = {int(b) - int(a) for a, b in pairwise(secret)}
    if len(steps) == 1 and steps <= {-1, 0, 1}:
        raise Refused("secret", "its figures are all the same or in a row; choose one that nobody tries first")


def _hashed(secret: str) -> str:
    kdf = Argon2id(salt=os.urandom(16), length=32, iterations=_TURNS, lanes=_LANES, memory_cost=_KIB)
    return kdf.derive_phc_encoded(secret.encode())


def _is(secret: str, hashed: str) -> bool:
    if len(secret) > LONGEST:
        return False
    try:
        Argon2id.verify_phc_encoded(secret.encode(), hashed)
    except InvalidKey:
        return False
    return True


def _digest(token: str) -> str:
    """What is kept of a token: with so many letters drawn at random a plain digest says nothing of it."""
    return sha256(token.encode()).hexdigest()
