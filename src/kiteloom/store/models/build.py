"""What is built: the project, its parts, their designs and jobs."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kiteloom.store.models.base import Base, Edited

if TYPE_CHECKING:
    from kiteloom.store.models.shape import Shape
    from kiteloom.store.models.stores import DataSheet


class Project(Edited, Base):
    """One airframe. ``limits`` of its weight and balance are read by `core/weight/whole`."""

    __tablename__ = "project"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)
    limits: Mapped[dict[str, Any]] = mapped_column(default=dict)


class Assembly(Edited, Base):
    """A wing, a tail: parts that belong together."""

    __tablename__ = "assembly"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    project_id: Mapped[str] = mapped_column(ForeignKey("project.id"))
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)


class Design(Edited, Base):
    """What left and right share: a shape, which side of it, and jobs. Several identical parts may share one.

    ``hinge`` is of a control surface, as `core/weight/hinge` takes it; empty for what has none.
    """

    __tablename__ = "design"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    shape_id: Mapped[str | None] = mapped_column(ForeignKey("shape.id"))
    name: Mapped[str]
    side: Mapped[str]
    hinge: Mapped[dict[str, Any]] = mapped_column(default=dict)
    shape: Mapped[Shape | None] = relationship()
    jobs: Mapped[list[Job]] = relationship(order_by="Job.rank", foreign_keys="Job.design_id", lazy="selectin")
    __table_args__ = (CheckConstraint("side IN ('upper','lower','whole')", name="side"),)


class Job(Edited, Base):
    """One way of building, in order with the others: of a design, or of one part for a repair or a difference.

    ``key`` is made once and never changes: facts are found by it. ``given`` is read by its recipe. ``before_key`` is
    the step it must be through before, where it does not stand in the row: mending.
    """

    __tablename__ = "job"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    design_id: Mapped[str | None] = mapped_column(ForeignKey("design.id"), index=True)
    part_id: Mapped[str | None] = mapped_column(ForeignKey("part.id"), index=True)
    key: Mapped[str]
    rank: Mapped[int]
    recipe: Mapped[str]
    given: Mapped[dict[str, Any]] = mapped_column(default=dict)
    ply_book: Mapped[dict[str, Any]] = mapped_column(default=dict)
    losses: Mapped[dict[str, Any]] = mapped_column(default=dict)
    step_edits: Mapped[dict[str, Any]] = mapped_column(default=dict)
    before_key: Mapped[str] = mapped_column(default="")
    hidden_at: Mapped[datetime | None]
    products: Mapped[list[JobProduct]] = relationship(cascade="all, delete-orphan", lazy="selectin")
    __table_args__ = (CheckConstraint("(design_id IS NULL) <> (part_id IS NULL)", name="of_one"),)


class JobProduct(Base):
    """The product a job takes in a role."""

    __tablename__ = "job_product"
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), primary_key=True)
    role: Mapped[str] = mapped_column(primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    data_sheet: Mapped[DataSheet] = relationship()


class Part(Edited, Base):
    """The physical part: a design and a hand. ``thing`` is what it is turned with, where that is not itself.

    ``place`` says where it lies on the airframe, as `core/shape/place` takes it; empty where nobody said. ``arm_m`` is
    how far aft of the nose its middle lies, where that was typed.
    """

    __tablename__ = "part"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    assembly_id: Mapped[str] = mapped_column(ForeignKey("assembly.id"))
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"))
    hand: Mapped[str]
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)
    thing: Mapped[str] = mapped_column(default="")
    place: Mapped[dict[str, Any]] = mapped_column(default=dict)
    arm_m: Mapped[float | None]
    hidden_at: Mapped[datetime | None]
    assembly: Mapped[Assembly] = relationship()
    design: Mapped[Design] = relationship()
    jobs: Mapped[list[Job]] = relationship(order_by="Job.rank", foreign_keys="Job.part_id", lazy="selectin")
    links: Mapped[list[Link]] = relationship(
        order_by="Link.rank", foreign_keys="Link.part_id", lazy="selectin", cascade="all, delete-orphan"
    )
    joint: Mapped[Joint | None] = relationship(lazy="joined", cascade="all, delete-orphan")
    __table_args__ = (CheckConstraint("hand IN ('left','right','centre')", name="hand"),)


class Joint(Edited, Base):
    """What a part of kind joint ties, and what must be so when it is made.

    ``faces`` are its two: ``part_id``, ``where`` on it in words, and whether the joint ``fixes`` that part. ``loose``
    and ``located`` are ids of parts, ``after`` and ``shuts`` of joints, as `core/build/joint_order` takes them.
    ``fasteners`` is read by `core/build/fasteners`; empty where it has none.
    """

    __tablename__ = "joint"
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), primary_key=True)
    faces: Mapped[list[Any]]
    loose: Mapped[list[Any]] = mapped_column(default=list)
    located: Mapped[list[Any]] = mapped_column(default=list)
    after: Mapped[list[Any]] = mapped_column(default=list)
    shuts: Mapped[list[Any]] = mapped_column(default=list)
    fasteners: Mapped[dict[str, Any]] = mapped_column(default=dict)


class GateList(Edited, Base):
    """What the shop wants done before it closes something: lines in words, kept as a pattern."""

    __tablename__ = "gate_list"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    lines: Mapped[list[Any]]
    hidden_at: Mapped[datetime | None]


class PartCheck(Edited, Base):
    """What is read on every part of a design, and by how much it may be off: `core/build/checks` takes it.

    ``points`` have a ``name``, what is asked (``nominal``), and where along the part (``at_m``), which may be unknown.
    ``after_key`` is the step it goes with: what follows is held while a reading is out of tolerance. ``reads`` says
    whether it is read once, before and after that step, or at each step of its job that is a reading.
    """

    __tablename__ = "part_check"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"), index=True)
    name: Mapped[str]
    kind: Mapped[str]
    points: Mapped[list[Any]]
    low: Mapped[float]
    high: Mapped[float]
    after_key: Mapped[str] = mapped_column(default="")
    reads: Mapped[str] = mapped_column(default="once")
    hidden_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("reads IN ('once','twice','each')", name="reads"),)


class Link(Base):
    """That another part must be built before a step of a part."""

    __tablename__ = "link"
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), primary_key=True)
    rank: Mapped[int] = mapped_column(primary_key=True)
    step_key: Mapped[str]
    other_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
