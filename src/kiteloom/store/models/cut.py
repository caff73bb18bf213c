"""What is cut from what: cut plans, ways of cutting them, layouts, and what is left over."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kiteloom.store.models.base import Base, Edited, Fact


class CutPlan(Edited, Base):
    """Pieces that are cut together: of which jobs of which parts, what their ply books take of one product.

    ``rows`` name a part and the key of its job; no job, None, means the part's own outline. ``data_sheet_id`` is what
    the ply books call for; ``plies`` which of theirs are cut.
    """

    __tablename__ = "cut_plan"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"))
    rows: Mapped[list[Any]]
    plies: Mapped[str] = mapped_column(default="all")
    hidden_at: Mapped[datetime | None]
    ways: Mapped[list[CutWay]] = relationship(order_by="CutWay.rank", lazy="selectin")


class CutWay(Edited, Base):
    """One way of cutting them: from which product, and how; ``says`` is read by what that is, roll or sheet."""

    __tablename__ = "cut_way"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    cut_plan_id: Mapped[str] = mapped_column(ForeignKey("cut_plan.id"), index=True)
    rank: Mapped[int]
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"))
    says: Mapped[dict[str, Any]] = mapped_column(default=dict)
    hidden_at: Mapped[datetime | None]


class CutLayout(Base):
    """The best layout of a way so far, and whether it is still looked for.

    ``made_of`` is a digest of the pieces and how they are cut: another one means it is out of date.
    """

    __tablename__ = "cut_layout"
    cut_way_id: Mapped[str] = mapped_column(ForeignKey("cut_way.id"), primary_key=True)
    state: Mapped[str]
    words: Mapped[str] = mapped_column(default="")
    made_of: Mapped[str]
    pieces: Mapped[list[Any]]
    found: Mapped[dict[str, Any]]
    asked_at: Mapped[datetime]
    __table_args__ = (CheckConstraint("state IN ('waiting','looking','done','stopped','failed')", name="state"),)


class PieceCut(Fact, Base):
    """That one copy of a piece was cut, or was not after all; ``piece`` is its key in the layout."""

    __tablename__ = "piece_cut"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    cut_way_id: Mapped[str] = mapped_column(ForeignKey("cut_way.id"), index=True)
    piece: Mapped[str]
    done: Mapped[bool]


class WayCut(Fact, Base):
    """That a layout is cut: it stays as it is, what it used of the shelf is gone, what it left over is there."""

    __tablename__ = "way_cut"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    cut_way_id: Mapped[str] = mapped_column(ForeignKey("cut_way.id"), unique=True)


class Remnant(Fact, Base):
    """What was left over: its edges with the warp along x [mm], outer edge first, then holes."""

    __tablename__ = "remnant"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    rings: Mapped[list[Any]]
    cut_way_id: Mapped[str | None] = mapped_column(ForeignKey("cut_way.id"))
    note: Mapped[str] = mapped_column(default="")


class RemnantNote(Fact, Base):
    """That a remnant was used up, thrown away, or is there after all."""

    __tablename__ = "remnant_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    remnant_id: Mapped[str] = mapped_column(ForeignKey("remnant.id"), index=True)
    kind: Mapped[str]
    cut_way_id: Mapped[str | None] = mapped_column(ForeignKey("cut_way.id"))
    __table_args__ = (CheckConstraint("kind IN ('used','thrown','there')", name="kind"),)
