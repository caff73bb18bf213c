"""The shelf: data sheets, lots, pumps."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class DataSheet(Edited, Base):
    """What the maker says of a product; ``says`` is read by its kind."""

    __tablename__ = "data_sheet"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    kind: Mapped[str]
    name: Mapped[str]
    says: Mapped[dict[str, Any]]
    hidden_at: Mapped[datetime | None]


class Lot(Base):
    """A received quantity of a product, or of one of its two components.

    ``measure`` is what ``received``, and the amount of each count, is in: mass [g], run [m] or count.
    """

    __tablename__ = "lot"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"))
    lot_number: Mapped[str]
    received_on: Mapped[date]
    made_on: Mapped[date | None]
    expires_on: Mapped[date | None]
    component: Mapped[str] = mapped_column(default="both")
    received: Mapped[float | None]
    measure: Mapped[str] = mapped_column(default="mass")


class LotNote(Fact, Base):
    """That a lot was opened, found bad, cleared again, moved to another zone, thrown away, or counted: then so much of
    it was left.

    ``amount`` is what is left, or thrown away; ``note`` the zone it was moved to, or why.
    """

    __tablename__ = "lot_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    lot_id: Mapped[str] = mapped_column(ForeignKey("lot.id"), index=True)
    kind: Mapped[str]
    amount: Mapped[float | None]
    note: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    __table_args__ = (CheckConstraint("kind IN ('opened','bad','cleared','counted','moved','thrown')", name="kind"),)


class Pump(Fact, Base):
    """That so many strokes of a product's pump were weighed."""

    __tablename__ = "pump"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    component: Mapped[str]
    strokes: Mapped[int]
    grams: Mapped[float]
    __table_args__ = (CheckConstraint("component IN ('resin','hardener')", name="part"),)
