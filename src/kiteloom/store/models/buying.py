"""What is bought and counted besides mixes: items, who uses them, suppliers, offers, orders and what came of them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class Item(Edited, Base):
    """Something that is not mixed: a fitting, a fastener, a bush, a die, a tool, a tube. Counted in pieces.

    ``says`` is its thread, length, hand and so on, as far as they are known; ``listed`` how many a kit's list promises;
    ``place`` where it lies.
    """

    __tablename__ = "item"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    number: Mapped[str] = mapped_column(default="")
    says: Mapped[dict[str, Any]] = mapped_column(default=dict)
    kit: Mapped[str] = mapped_column(default="")
    listed: Mapped[float | None]
    hidden_at: Mapped[datetime | None]
    place: Mapped[str] = mapped_column(default="", server_default="")


class ItemUse(Edited, Base):
    """That a step of a part takes so many of an item; ``stack_mm`` is what a fastener of it goes through [mm]."""

    __tablename__ = "item_use"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    item_id: Mapped[str] = mapped_column(ForeignKey("item.id"), index=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    count: Mapped[float]
    stack_mm: Mapped[float | None]
    hidden_at: Mapped[datetime | None]


class ItemNote(Fact, Base):
    """That so many of an item were found in a kit, are missing from it, are damaged, were counted, thrown away or used.

    ``counted`` says how many there are; who counted more than the book has says why.
    """

    __tablename__ = "item_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    item_id: Mapped[str] = mapped_column(ForeignKey("item.id"), index=True)
    kind: Mapped[str]
    amount: Mapped[float]
    note: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    __table_args__ = (CheckConstraint("kind IN ('found','missing','damaged','counted','thrown','used')", name="kind"),)


class Supplier(Edited, Base):
    """Who sells: what a parcel costs, from which sum on it costs nothing, in which currency."""

    __tablename__ = "supplier"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    currency: Mapped[str]
    postage: Mapped[float] = mapped_column(default=0.0)
    free_from: Mapped[float | None]
    hidden_at: Mapped[datetime | None]


class Offer(Edited, Base):
    """A pack of a product, or of one of its components, or of an item, as a supplier had it on a day.

    ``amount`` is in what the product's lots are counted in.
    """

    __tablename__ = "offer"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    supplier_id: Mapped[str] = mapped_column(ForeignKey("supplier.id"), index=True)
    data_sheet_id: Mapped[str | None] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    item_id: Mapped[str | None] = mapped_column(ForeignKey("item.id"), index=True)
    component: Mapped[str] = mapped_column(default="both")
    words: Mapped[str]
    amount: Mapped[float]
    price: Mapped[float]
    lead_days: Mapped[int]
    seen_on: Mapped[date]
    hidden_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("(data_sheet_id IS NULL) <> (item_id IS NULL)", name="of_one"),)


class OrderLine(Edited, Base):
    """So many packs of one thing from one supplier: what is to be ordered, and was.

    ``name`` and ``words`` are what was ordered, whatever it is called later; ``amount`` is that of a pack, and
    ``price`` its price in ``currency``.
    """

    __tablename__ = "order_line"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    supplier_id: Mapped[str] = mapped_column(ForeignKey("supplier.id"), index=True)
    data_sheet_id: Mapped[str | None] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    item_id: Mapped[str | None] = mapped_column(ForeignKey("item.id"), index=True)
    component: Mapped[str] = mapped_column(default="both")
    name: Mapped[str]
    words: Mapped[str]
    amount: Mapped[float]
    packs: Mapped[int]
    price: Mapped[float]
    currency: Mapped[str]
    expected_on: Mapped[date | None]
    hidden_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("(data_sheet_id IS NULL) <> (item_id IS NULL)", name="of_one"),)


class OrderNote(Fact, Base):
    """What became of an order: ordered, so many packs received, so many wrong, or cancelled.

    ``lot_id`` is the lot that was made of what came; ``amount`` what each pack held, where it is not what was ordered.
    """

    __tablename__ = "order_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    order_line_id: Mapped[str] = mapped_column(ForeignKey("order_line.id"), index=True)
    kind: Mapped[str]
    packs: Mapped[int] = mapped_column(default=0)
    note: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    lot_id: Mapped[str | None] = mapped_column(ForeignKey("lot.id"))
    amount: Mapped[float | None]
    __table_args__ = (CheckConstraint("kind IN ('ordered','received','wrong','cancelled')", name="kind"),)
