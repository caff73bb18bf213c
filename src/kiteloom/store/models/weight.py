"""What was weighed, and what else an airframe carries."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kiteloom.store.models.base import Base, Edited, Fact


class Weighing(Fact, Base):
    """What a part weighed before one of its jobs, or after it; the last one of them counts."""

    __tablename__ = "weighing"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    job_key: Mapped[str]
    moment: Mapped[str]
    grams: Mapped[float]
    note: Mapped[str] = mapped_column(default="")
    __table_args__ = (CheckConstraint("moment IN ('before','after')", name="moment"),)


class HingeReading(Fact, Base):
    """What a control surface held level on its hinge read: so many grams so far behind it, negative nose heavy; and the
    balance weight that was on it.
    """

    __tablename__ = "hinge_reading"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    grams: Mapped[float]
    arm_m: Mapped[float]
    mounted_g: Mapped[float] = mapped_column(default=0.0)
    note: Mapped[str] = mapped_column(default="")


class MassItem(Edited, Base):
    """Something an airframe carries that is no part of it here: a fitting, an engine; or a load, as people and fuel."""

    __tablename__ = "mass_item"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    project_id: Mapped[str] = mapped_column(ForeignKey("project.id"), index=True)
    name: Mapped[str]
    grams: Mapped[float]
    aft_m: Mapped[float]
    load: Mapped[bool] = mapped_column(default=False)
    hidden_at: Mapped[datetime | None]
