"""Shapes."""

from __future__ import annotations

from typing import Any

from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited


class Shape(Edited, Base):
    """A shape that designs share: planform in metres, sections as their own JSON."""

    __tablename__ = "shape"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    span_m: Mapped[float]
    root_chord_m: Mapped[float]
    tip_chord_m: Mapped[float]
    sweep_m: Mapped[float]
    root_section: Mapped[dict[str, Any]]
    tip_section: Mapped[dict[str, Any]]
