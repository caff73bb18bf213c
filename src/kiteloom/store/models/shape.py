"""Shapes."""

from __future__ import annotations

from typing import Any

from sqlalchemy import CheckConstraint, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited


class Shape(Edited, Base):
    """A shape that designs share: its kind, and what it says as `core/shape/reading` takes it."""

    __tablename__ = "shape"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    kind: Mapped[str]
    says: Mapped[dict[str, Any]]
    __table_args__ = (CheckConstraint("kind IN ('loft','outline','strips','pieces')", name="kind"),)
