"""The rows. Quantities are SI with the unit in the column's name; times are UTC minutes or moments.

What is edited in place carries a ``version`` that a stale save fails on. What happened is
append-only: triggers of the first migration refuse an update or a delete.
"""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, DateTime, ForeignKey, MetaData, String, TypeDecorator
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

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
    """The one shop: its zone, hours, units."""

    __tablename__ = "shop"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    zone: Mapped[str]
    units: Mapped[str]
    hours: Mapped[list[Any]]
    closed: Mapped[list[Any]]
    planning: Mapped[dict[str, Any]] = mapped_column(default=dict)
    __table_args__ = (CheckConstraint("id = 1", name="one"), CheckConstraint("units IN ('metric','us')", name="units"))


class Project(Base):
    """One airframe."""

    __tablename__ = "project"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]


class Assembly(Base):
    """A wing, a tail: parts that belong together."""

    __tablename__ = "assembly"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    project_id: Mapped[str] = mapped_column(ForeignKey("project.id"))
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)


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


class Design(Edited, Base):
    """What left and right share: a shape, which side of it, and jobs. Several identical parts may share one."""

    __tablename__ = "design"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    shape_id: Mapped[str | None] = mapped_column(ForeignKey("shape.id"))
    name: Mapped[str]
    side: Mapped[str]
    shape: Mapped[Shape | None] = relationship()
    jobs: Mapped[list[Job]] = relationship(order_by="Job.rank", foreign_keys="Job.design_id", lazy="selectin")
    __table_args__ = (CheckConstraint("side IN ('upper','lower','whole')", name="side"),)


class Job(Edited, Base):
    """One way of building, in order with the others: of a design, or of one part for a repair or a difference.

    ``key`` is made once and never changes: facts are found by it. ``given`` is read by its recipe.
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
    """The physical part: a design and a hand.

    ``after`` are the parts that must be built before it goes together; ``thing`` is what it is
    turned with, where that is not itself.
    """

    __tablename__ = "part"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    assembly_id: Mapped[str] = mapped_column(ForeignKey("assembly.id"))
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id"))
    hand: Mapped[str]
    name: Mapped[str]
    rank: Mapped[int] = mapped_column(default=0)
    after: Mapped[list[Any]] = mapped_column(default=list)
    thing: Mapped[str] = mapped_column(default="")
    assembly: Mapped[Assembly] = relationship()
    design: Mapped[Design] = relationship()
    jobs: Mapped[list[Job]] = relationship(order_by="Job.rank", foreign_keys="Job.part_id", lazy="selectin")
    __table_args__ = (CheckConstraint("hand IN ('left','right','centre')", name="hand"),)


class DataSheet(Edited, Base):
    """What the maker says of a product; ``says`` is read by its kind."""

    __tablename__ = "data_sheet"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    kind: Mapped[str]
    name: Mapped[str]
    says: Mapped[dict[str, Any]]
    hidden_at: Mapped[datetime | None]


class Lot(Base):
    """A received quantity of a product, or of one of its two components."""

    __tablename__ = "lot"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"))
    lot_number: Mapped[str]
    received_on: Mapped[date]
    expires_on: Mapped[date | None]
    component: Mapped[str] = mapped_column(default="both")
    received_g: Mapped[float | None]


class LotNote(Fact, Base):
    """That a lot was opened, found bad, cleared again, or counted: then so much of it was left."""

    __tablename__ = "lot_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    lot_id: Mapped[str] = mapped_column(ForeignKey("lot.id"), index=True)
    kind: Mapped[str]
    grams: Mapped[float | None]
    note: Mapped[str] = mapped_column(default="")
    __table_args__ = (CheckConstraint("kind IN ('opened','bad','cleared','counted')", name="kind"),)


class Pump(Fact, Base):
    """That so many strokes of a product's pump were weighed."""

    __tablename__ = "pump"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"), index=True)
    component: Mapped[str]
    strokes: Mapped[int]
    grams: Mapped[float]
    __table_args__ = (CheckConstraint("component IN ('resin','hardener')", name="part"),)


class CrewMember(Edited, Base):
    """Somebody who works here: skills, and hours of their own where they differ from the shop's."""

    __tablename__ = "crew_member"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    name: Mapped[str]
    skills: Mapped[list[Any]] = mapped_column(default=list)
    hours: Mapped[list[Any]] = mapped_column(default=list)
    hidden_at: Mapped[datetime | None]


class Absence(Base):
    """That somebody is away for a while; hidden when it was taken back."""

    __tablename__ = "absence"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    crew_member_id: Mapped[str] = mapped_column(ForeignKey("crew_member.id"), index=True)
    start: Mapped[datetime]
    end: Mapped[datetime]
    note: Mapped[str] = mapped_column(default="")
    recorded_at: Mapped[datetime]
    hidden_at: Mapped[datetime | None]


class Station(Edited, Base):
    """A place or device: what it serves as, how many at a time, and the zone whose air it has."""

    __tablename__ = "station"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    capacity: Mapped[int]
    zone_id: Mapped[str | None] = mapped_column(ForeignKey("zone.id"))
    serves: Mapped[list[Any]] = mapped_column(default=list)
    hidden_at: Mapped[datetime | None]


class Pin(Fact, Base):
    """That a step is wanted at a time, by somebody perhaps; or, without a time, that it is not any more."""

    __tablename__ = "pin"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    start: Mapped[datetime | None]
    crew: Mapped[list[Any]]


class Delivery(Edited, Base):
    """What a step waits for, when it is expected, and when it came."""

    __tablename__ = "delivery"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    what: Mapped[str]
    expected_on: Mapped[date]
    arrived_at: Mapped[datetime | None]
    hidden_at: Mapped[datetime | None]


class KeptPlan(Fact, Base):
    """A plan as it was: accepted by somebody, or as it stood when the shop closed. ``rows`` are its steps."""

    __tablename__ = "kept_plan"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    kind: Mapped[str]
    rows: Mapped[list[Any]]
    finish: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("kind IN ('accepted','evening')", name="kind"),)


class Tick(Fact, Base):
    """That one thing of a run sheet was done, or was not after all."""

    __tablename__ = "tick"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    item: Mapped[str]
    done: Mapped[bool]


class Reading(Fact, Base):
    """What was measured against its nominal: a twist, in degrees."""

    __tablename__ = "reading"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    corrects_id: Mapped[str | None] = mapped_column(ForeignKey("reading.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    found: Mapped[float]
    note: Mapped[str] = mapped_column(default="")


class Zone(Edited, Base):
    """A part of the shop with its own air: how it follows the weather, and its heater's hours."""

    __tablename__ = "zone"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    rank: Mapped[int]
    lag_h: Mapped[float]
    gain_k: Mapped[float]
    heat_c: Mapped[float | None]
    heat_from: Mapped[int]
    heat_to: Mapped[int]


class Work(Fact, Base):
    """That work on a step was started, paused or finished; or that such a note was taken back.

    The step's name, estimate and crew are kept as they were then.
    """

    __tablename__ = "work"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    undoes_id: Mapped[str | None] = mapped_column(ForeignKey("work.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    step_name: Mapped[str]
    kind: Mapped[str]
    estimate_min: Mapped[float]
    crew: Mapped[list[Any]]
    __table_args__ = (CheckConstraint("kind IN ('start','pause','finish','undo')", name="kind"),)


class Batch(Fact, Base):
    """One mix that was made. ``says`` keeps the data sheet as it was that day."""

    __tablename__ = "batch"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    corrects_id: Mapped[str | None] = mapped_column(ForeignKey("batch.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    step_name: Mapped[str]
    data_sheet_id: Mapped[str] = mapped_column(ForeignKey("data_sheet.id"))
    product: Mapped[str]
    says: Mapped[dict[str, Any]]
    lot_id: Mapped[str | None] = mapped_column(ForeignKey("lot.id"))
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    wanted_g: Mapped[float]
    resin_g: Mapped[float]
    hardener_g: Mapped[float]
    deviation_pct: Mapped[float | None]
    verdict: Mapped[str]
    temp_c: Mapped[float | None]
    rh_pct: Mapped[float | None]
    margin_k: Mapped[float | None]
    hardener_lot_id: Mapped[str | None] = mapped_column(ForeignKey("lot.id"))
    note: Mapped[str] = mapped_column(default="")
    lot: Mapped[Lot | None] = relationship(foreign_keys=[lot_id])
    hardener_lot: Mapped[Lot | None] = relationship(foreign_keys=[hardener_lot_id])
    crew_member: Mapped[CrewMember | None] = relationship()
    __table_args__ = (
        CheckConstraint("resin_g >= 0 AND hardener_g >= 0 AND resin_g + hardener_g > 0", name="masses"),
        CheckConstraint("verdict IN ('in','near','out')", name="verdict"),
    )


class BatchNote(Fact, Base):
    """What became of a batch: it went on a part, its cup was emptied, it was found bad or cleared again."""

    __tablename__ = "batch_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), index=True)
    kind: Mapped[str]
    part_id: Mapped[str | None] = mapped_column(ForeignKey("part.id"))
    step_key: Mapped[str] = mapped_column(default="")
    grams: Mapped[float | None]
    note: Mapped[str] = mapped_column(default="")
    __table_args__ = (CheckConstraint("kind IN ('on','emptied','bad','cleared')", name="kind"),)


class Photo(Fact, Base):
    """A photograph of a batch."""

    __tablename__ = "photo"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), index=True)
    media: Mapped[str]
    data: Mapped[bytes]


class Witness(Fact, Base):
    """A reading on a kept cup or test panel, or a signed decision: what releases a part, not the clock."""

    __tablename__ = "witness"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    corrects_id: Mapped[str | None] = mapped_column(ForeignKey("witness.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    batch_id: Mapped[str | None] = mapped_column(ForeignKey("batch.id"))
    kind: Mapped[str]
    value: Mapped[float | None]
    passes: Mapped[bool]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    note: Mapped[str] = mapped_column(default="")
    batch: Mapped[Batch | None] = relationship()
    crew_member: Mapped[CrewMember | None] = relationship()
    __table_args__ = (CheckConstraint("kind IN ('thumbnail','hardness','tap','decision')", name="kind"),)


class PartPlace(Fact, Base):
    """That a part was moved to a zone."""

    __tablename__ = "part_place"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    zone_id: Mapped[str] = mapped_column(ForeignKey("zone.id"))


class PartTemperature(Fact, Base):
    """A part's own temperature: by a probe on it, or an infrared reading that was typed."""

    __tablename__ = "part_temperature"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    temp_c: Mapped[float]
    source: Mapped[str]
    __table_args__ = (CheckConstraint("source IN ('probe','typed')", name="source"),)


class Heating(Fact, Base):
    """A post-cure of a part, ramps and holds from ``happened_at`` on, which may lie ahead; or one called off."""

    __tablename__ = "heating"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    undoes_id: Mapped[str | None] = mapped_column(ForeignKey("heating.id"), unique=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    legs: Mapped[list[Any]]


class TemperatureImport(Fact, Base):
    """A logger's file that was taken in."""

    __tablename__ = "temperature_import"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    zone: Mapped[str]
    name: Mapped[str]
    rows_read: Mapped[int]
    rows_new: Mapped[int]


class Temperature(Base):
    """A temperature of one zone of the shop, and its humidity where it was read: by a logger's file or a probe."""

    __tablename__ = "temperature"
    zone: Mapped[str] = mapped_column(primary_key=True)
    happened_at: Mapped[datetime] = mapped_column(primary_key=True)
    temp_c: Mapped[float]
    rh_pct: Mapped[float | None]
    source: Mapped[str] = mapped_column(default="imported")
    import_id: Mapped[str | None] = mapped_column(ForeignKey("temperature_import.id"))
    __table_args__ = (CheckConstraint("source IN ('probe','imported')", name="source"),)


class Forecast(Fact, Base):
    """The weather outside of the days to come, as it was said; the newest one counts."""

    __tablename__ = "forecast"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    days: Mapped[list[Any]]


class Alert(Base):
    """Something a builder must hear of, once; silenced by hand. ``about`` says what it is about, uniquely."""

    __tablename__ = "alert"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    kind: Mapped[str]
    about: Mapped[str] = mapped_column(unique=True)
    link: Mapped[str]
    words: Mapped[str]
    happened_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    silenced_at: Mapped[datetime | None]
    __table_args__ = (CheckConstraint("kind IN ('stage','stalled','dew','silent','cup')", name="kind"),)


class Outlook(Fact, Base):
    """A night's low and a day's high, as typed; the newest one counts."""

    __tablename__ = "outlook"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    zone: Mapped[str]
    low_c: Mapped[float]
    high_c: Mapped[float]


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
