"""Inspectors' links: made, said once, ended."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Guest
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.pins import NotLetIn, digest_of

#: An inspector's link lasts so many days at most.
LONGEST_LINK_DAYS = 90


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
        row.digest = digest_of(link)
        return link
    who = uow.who.crew_member_id if uow.who else None
    uow.add(
        Guest(id=order.id, name=name, digest=digest_of(link), ends_at=ends, recorded_at=now, crew_member_id=who,
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


def guest_of(uow: UnitOfWork, link: str, now: datetime) -> Guest:
    """Whose link it is, by its last part; `NotLetIn` when it leads nowhere, or has ended."""
    guest = uow.session.scalar(select(Guest).where(Guest.digest == digest_of(link)))
    if guest is None:
        raise NotLetIn("This link leads nowhere: ask the shop for another.")
    if now >= guest.ends_at:
        raise NotLetIn("This link has ended: ask the shop for another.")
    return guest
