"""Who may come in: what people sign in with, inspectors' links, who is signed in where, and who wrote what down."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kiteloom.store.models.base import Base, Edited

if TYPE_CHECKING:
    from kiteloom.store.models.plan import CrewMember


class Secret(Base):
    """The hash of somebody's PIN or passphrase, and the wrong ones since the last right one."""

    __tablename__ = "secret"
    crew_member_id: Mapped[str] = mapped_column(ForeignKey("crew_member.id"), primary_key=True)
    hashed: Mapped[str]
    set_at: Mapped[datetime]
    wrong: Mapped[int] = mapped_column(default=0)
    wrong_at: Mapped[datetime | None]


class Guest(Edited, Base):
    """An inspector, who comes in by a link until it ends. ``digest`` is the link's; the link itself is kept nowhere."""

    __tablename__ = "guest"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    digest: Mapped[str] = mapped_column(unique=True)
    ends_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))


class SignIn(Base):
    """That somebody is signed in at a tablet, until ``ends_at``; by the digest of what the tablet keeps."""

    __tablename__ = "sign_in"
    digest: Mapped[str] = mapped_column(primary_key=True)
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"), index=True)
    guest_id: Mapped[str | None] = mapped_column(ForeignKey("guest.id"), index=True)
    began_at: Mapped[datetime]
    used_at: Mapped[datetime]
    ends_at: Mapped[datetime]
    crew_member: Mapped[CrewMember | None] = relationship()
    guest: Mapped[Guest | None] = relationship()
    __table_args__ = (CheckConstraint("(crew_member_id IS NULL) <> (guest_id IS NULL)", name="one"),)


class Written(Base):
    """Who was signed in when a fact, or one version of an edited row, was written down."""

    __tablename__ = "written"
    table: Mapped[str] = mapped_column(primary_key=True)
    ref: Mapped[str] = mapped_column(primary_key=True)
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    guest_id: Mapped[str | None] = mapped_column(ForeignKey("guest.id"))
    crew_member: Mapped[CrewMember | None] = relationship()
    guest: Mapped[Guest | None] = relationship()
    __table_args__ = (CheckConstraint("(crew_member_id IS NULL) <> (guest_id IS NULL)", name="one"),)
