"""Who works here and where, what is wanted and awaited, plans that were kept, alerts, copies of the shop."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class CrewMember(Edited, Base):
    """Somebody who works here: skills, and hours of their own where they differ from the shop's."""

    __tablename__ = "crew_member"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    skills: Mapped[list[Any]] = mapped_column(default=list)
    hours: Mapped[list[Any]] = mapped_column(default=list)
    hidden_at: Mapped[datetime | None]
    role: Mapped[str] = mapped_column(default="builder")
    __table_args__ = (CheckConstraint("role IN ('lead','builder','looker-on')", name="role"),)


class Absence(Base):
    """That somebody is away for a while; hidden when it was taken back."""

    __tablename__ = "absence"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    crew_member_id: Mapped[str] = mapped_column(ForeignKey("crew_member.id"), index=True)
    start: Mapped[datetime]
    end: Mapped[datetime]
    note: Mapped[str] = mapped_column(default="")
    recorded_at: Mapped[datetime]
    hidden_at: Mapped[datetime | None]


class Station(Edited, Base):
    """A place or device: what it serves as, how many at a time, and the zone whose air it has."""

    __tablename__ = "station"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    capacity: Mapped[int]
    zone_id: Mapped[str | None] = mapped_column(ForeignKey("zone.id"))
    serves: Mapped[list[Any]] = mapped_column(default=list)
    hidden_at: Mapped[datetime | None]


class Pin(Fact, Base):
    """That a step is wanted at a time, by somebody perhaps; or, without a time, that it is not any more."""

    __tablename__ = "pin"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    start: Mapped[datetime | None]
    crew: Mapped[list[Any]]


class Delivery(Edited, Base):
    """What a step waits for, when it is expected, and when it came."""

    __tablename__ = "delivery"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    what: Mapped[str]
    expected_on: Mapped[date]
    arrived_at: Mapped[datetime | None]
    hidden_at: Mapped[datetime | None]


class KeptPlan(Fact, Base):
    """A plan as it was: accepted by somebody, or as it stood when the shop closed. ``rows`` are its steps.

    Of one that was accepted ``made_from`` is all it was made from, packed; ``keys`` are its steps in the order in which
    they were placed, ``seed`` that of the search the order came from, and ``version`` that of the code.
    """

    __tablename__ = "kept_plan"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    kind: Mapped[str]
    rows: Mapped[list[Any]]
    finish: Mapped[datetime | None]
    made_from: Mapped[bytes | None] = mapped_column(deferred=True)
    keys: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    seed: Mapped[int | None]
    version: Mapped[str] = mapped_column(default="", server_default="")
    __table_args__ = (CheckConstraint("kind IN ('accepted','evening')", name="kind"),)


class StandingOrder(Base):
    """The order the plan has, until another is clearly better: one row.

    ``keys`` are its steps in the order in which they are placed, ``begins`` where they stand [min]; ``overnight``
    whether long waits begin late in the day, where nothing that follows is later for it. ``aim`` is what it was chosen
    for, ``done_by`` the time that goes with it, ``judged`` the last change it was judged after. ``said`` is when its
    steps began, and ``finish`` when all ended, when a move of the end was last said, in ``moved``.
    """

    __tablename__ = "standing_order"
    id: Mapped[int] = mapped_column(primary_key=True)
    keys: Mapped[list[Any]]
    begins: Mapped[dict[str, Any]]
    judged: Mapped[int]
    said: Mapped[dict[str, Any]]
    finish: Mapped[datetime | None]
    moved: Mapped[str]
    moved_at: Mapped[datetime | None]
    recorded_at: Mapped[datetime]
    overnight: Mapped[bool] = mapped_column(default=True, server_default="1")
    aim: Mapped[str] = mapped_column(default="soonest", server_default="soonest")
    done_by: Mapped[datetime | None]


class PlanSearch(Base):
    """A search for a better order of the plan: what was asked for, how it goes, and the best order so far.

    ``aim`` is what it looks for, ``done_by`` the time that goes with it. ``ends`` are the ends it found, each with the
    seconds since it began, what no plan can end before [min], and what it comes to by its aim; ``keys`` its steps in
    order, ``overnight`` as in the order that stands, ``begins`` where they stand, where the aim puts them later than
    they could be; ``frees`` whether it moves days that are kept as they were accepted. ``version`` is that of the code,
    and ``kept_at`` when it became the plan.
    """

    __tablename__ = "plan_search"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    seconds: Mapped[float]
    seed: Mapped[int]
    version: Mapped[str]
    state: Mapped[str]
    words: Mapped[str] = mapped_column(default="")
    ends: Mapped[list[Any]]
    keys: Mapped[list[Any]]
    overnight: Mapped[bool] = mapped_column(default=True)
    aim: Mapped[str] = mapped_column(default="soonest", server_default="soonest")
    done_by: Mapped[datetime | None]
    begins: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    frees: Mapped[bool] = mapped_column(default=False, server_default="0")
    asked_at: Mapped[datetime]
    kept_at: Mapped[datetime | None]
    hidden_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("state IN ('waiting','looking','done','stopped','failed')", name="state"),)


class PlanStudy(Base):
    """A question put to the plan: what if, what would help most, how sure its end is; and what was found so far.

    ``asked`` is what was asked, ``found`` the answer as far as it is known. ``change`` is the last change that it was
    asked after, ``version`` that of the code, and ``kept_at`` when what was supposed was made so.
    """

    __tablename__ = "plan_study"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    kind: Mapped[str]
    asked: Mapped[list[Any]]
    found: Mapped[dict[str, Any]]
    seed: Mapped[int]
    change: Mapped[int]
    version: Mapped[str]
    state: Mapped[str]
    words: Mapped[str] = mapped_column(default="")
    asked_at: Mapped[datetime]
    kept_at: Mapped[datetime | None]
    hidden_at: Mapped[datetime | None]
    __table_args__ = (
        CheckConstraint("kind IN ('what if','helps','sure')", name="kind"),
        CheckConstraint("state IN ('waiting','looking','done','stopped','failed')", name="state"),
    )


class Alert(Base):
    """Something a builder must hear of, until it is silenced by hand, or its cause is over: it may come again then.

    ``about`` says what it is about, uniquely.
    """

    __tablename__ = "alert"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    kind: Mapped[str]
    about: Mapped[str] = mapped_column(unique=True)
    link: Mapped[str]
    words: Mapped[str]
    happened_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    silenced_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("kind IN ('stage','stalled','dew','silent','cup','mix','lot')", name="kind"),)


class ShopCopy(Fact, Base):
    """That the whole shop was copied into a file, of so many bytes; or why it could not be."""

    __tablename__ = "shop_copy"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    path: Mapped[str]
    size: Mapped[int]
    failed: Mapped[str] = mapped_column(default="")
