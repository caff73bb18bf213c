"""Irons for covering, and what a thermometer found at places of their dials."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class Iron(Edited, Base):
    """An iron of the shop."""

    __tablename__ = "iron"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    hidden_at: Mapped[datetime | None]


class IronReading(Fact, Base):
    """What a thermometer found where its dial stood [°C]."""

    __tablename__ = "iron_reading"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    iron_id: Mapped[str] = mapped_column(ForeignKey("iron.id"), index=True)
    dial: Mapped[float]
    temp_c: Mapped[float]
