"""What every row is, the shop, and what is told of changes."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, DateTime, MetaData, TypeDecorator
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

NAMES = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s",
    "pk": "pk_%(table_name)s",
}


class UtcMoment(TypeDecorator[datetime]):
    """A moment with an offset in Python, UTC in the file."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """To naive UTC."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """To a moment that knows it is UTC."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """All rows."""

    metadata = MetaData(naming_convention=NAMES)
    type_annotation_map = {datetime: UtcMoment, dict[str, Any]: JSON, list[Any]: JSON}  # noqa: RUF012


class Edited:
    """Edited in place: a stale ``version`` is refused, never silently lost."""

    version: Mapped[int] = mapped_column(default=1)
    updated_at: Mapped[datetime]


class Fact:
    """It happened: never changed, corrected by a new row."""

    happened_at: Mapped[datetime] = mapped_column(index=True)
    recorded_at: Mapped[datetime]


class Shop(Edited, Base):
    """The one shop: its zone, hours, units; ``bench`` is its scale and its largest cup, where they were said.

    ``skipped`` are the questions of the first morning that were put off. ``clock`` is of 24 or 12 hours; ``dates`` have
    the day or the month first.
    """

    __tablename__ = "shop"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    zone: Mapped[str]
    units: Mapped[str]
    hours: Mapped[list[Any]]
    closed: Mapped[list[Any]]
    planning: Mapped[dict[str, Any]] = mapped_column(default=dict)
    bench: Mapped[dict[str, Any]] = mapped_column(default=dict)
    skipped: Mapped[list[Any]] = mapped_column(default=list)
    clock: Mapped[str] = mapped_column(default="24")
    dates: Mapped[str] = mapped_column(default="day")
    __table_args__ = (CheckConstraint("id = 1", name="one"), CheckConstraint("units IN ('metric','us')", name="units"))


class Edit(Base):
    """What one save of an edited row changed, in words: the later of two browsers is told it."""

    __tablename__ = "edit"
    table: Mapped[str] = mapped_column(primary_key=True)
    ref: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    words: Mapped[list[Any]]
    recorded_at: Mapped[datetime]


class Change(Base):
    """That something changed, for pages that ask. ``ref`` is the row's id."""

    __tablename__ = "change"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    topic: Mapped[str]
    ref: Mapped[str]
    __table_args__ = {"sqlite_autoincrement": True}  # noqa: RUF012
