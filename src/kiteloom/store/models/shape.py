"""Shapes."""

from __future__ import annotations

from typing import Any

from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited


class Shape(Edited, Base):
    """A shape that designs share: a loft by its stations, root first, as `core/shape/reading` takes them [m]."""

    __tablename__ = "shape"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    stations: Mapped[list[Any]]
