"""Who is signed in at a tablet, who may sign in, and what each may do; inspectors' links."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.guests import guests_of
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import the_shop, zone_here
from kiteloom.workshop.base.sign_in import Present, names_of, needed

#: What each may do, in a line.
ROLES = {
    "lead": "Builds, and says who works here and what each may do",
    "builder": "Builds: everything but people, PINs, links and the shop itself",
    "looker-on": "Sees everything, changes nothing; stays signed in, like the screen on the wall",
}


@dataclass(frozen=True)
class Me:
    """Who is signed in: ``id`` is of one of the crew, empty for an inspector."""

    id: str
    name: str
    role: str
    builds: bool
    leads: bool


@dataclass(frozen=True)
class SignInView:
    """Whether people sign in here at all, who does so at this tablet, and who may; and whose shop it is."""

    shop: str
    needed: bool
    me: Me | None
    people: list[Choice]


@dataclass(frozen=True)
class GuestView:
    """An inspector who was given a link."""

    id: str
    name: str
    words: str
    ended: bool


@dataclass(frozen=True)
class InvitedView:
    """A link that was made: the last part of it, said this once."""

    guest: GuestView
    link: str


def sign_in_view(uow: UnitOfWork, there: Present | None) -> SignInView:
    """Read whether and who."""
    me = None
    if there is not None:
        me = Me(there.who.crew_member_id or "", there.name, there.role, there.builds, there.leads)
    return SignInView(the_shop(uow).name, needed(uow), me, [Choice(row.id, row.name) for row in names_of(uow)])


def guests_view(uow: UnitOfWork, now: datetime) -> list[GuestView]:
    """Who was given a link, and until when it leads in."""
    zone, minute, found = zone_here(uow), minute_of(now), []
    for row in guests_of(uow):
        ended, at = row.ends_at <= now, when(minute_of(row.ends_at), zone, minute)
        found.append(GuestView(row.id, row.name, f"The link {'ended' if ended else 'ends'} {at}", ended))
    return found
