"""What happened: work, batches, readings, ticks."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kiteloom.store.models.base import Base, Fact

if TYPE_CHECKING:
    from kiteloom.store.models.plan import CrewMember
    from kiteloom.store.models.stores import Lot


class Work(Fact, Base):
    """That a step was started, paused or finished, or does not apply; or that such a note was taken back.

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
    note: Mapped[str] = mapped_column(default="")
    """Why it goes before its time, where it does."""
    __table_args__ = (CheckConstraint("kind IN ('start','pause','finish','skip','undo')", name="kind"),)


class Batch(Fact, Base):
    """One mix that was made. ``says`` keeps the data sheet as it was that day.

    ``part_id`` is None, and ``step_name`` what it was for, where it is for no planned step. ``filler`` is what it
    was thickened with: its sheet's id and name, how stiff, and how many grams; ``{}`` for nothing.
    """

    __tablename__ = "batch"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    corrects_id: Mapped[str | None] = mapped_column(ForeignKey("batch.id"), unique=True)
    part_id: Mapped[str | None] = mapped_column(ForeignKey("part.id"), index=True)
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
    filler: Mapped[dict[str, Any]] = mapped_column(default=dict)
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
    """A photograph of a batch, a deviation, what was done before a closing, a note, a step or a reading; of a note it
    may be a recording.

    ``data`` is turned right and says nothing of where it was taken; ``small`` is to be shown among others, None of a
    recording and of what was kept before there were any. ``digest`` is of the file that was sent: what was sent once
    more is kept once, as ``same_id``.
    """

    __tablename__ = "photo"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    batch_id: Mapped[str | None] = mapped_column(ForeignKey("batch.id"), index=True)
    media: Mapped[str]
    data: Mapped[bytes]
    deviation_id: Mapped[str | None] = mapped_column(ForeignKey("deviation.id"), index=True)
    gate_note_id: Mapped[str | None] = mapped_column(ForeignKey("gate_note.id"), index=True)
    log_note_id: Mapped[str | None] = mapped_column(ForeignKey("log_note.id"), index=True)
    part_id: Mapped[str | None] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str] = mapped_column(default="", server_default="")
    measured_id: Mapped[str | None] = mapped_column(ForeignKey("measured.id"), index=True)
    same_id: Mapped[str | None] = mapped_column(ForeignKey("photo.id"))
    digest: Mapped[str] = mapped_column(String(64), default="", server_default="", index=True)
    small: Mapped[bytes | None]


class Deviation(Fact, Base):
    """What was found wrong on a part, or built otherwise than drawn.

    ``along`` and ``across`` are where on its drawing: shares of its span from the root, and of its chord from the
    leading edge.
    """

    __tablename__ = "deviation"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    kind: Mapped[str]
    words: Mapped[str]
    along: Mapped[float | None]
    across: Mapped[float | None]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember | None] = relationship()


class Decision(Fact, Base):
    """What somebody decided about a deviation, and why; mending names its job."""

    __tablename__ = "decision"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    deviation_id: Mapped[str] = mapped_column(ForeignKey("deviation.id"), index=True)
    kind: Mapped[str]
    note: Mapped[str]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    job_id: Mapped[str | None] = mapped_column(ForeignKey("job.id"))
    crew_member: Mapped[CrewMember | None] = relationship()
    __table_args__ = (CheckConstraint("kind IN ('accept','mend','scrap','open')", name="kind"),)


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


class CoinTap(Fact, Base):
    """A glue line tapped over a grid: ``voids`` are pairs of places, along and across."""

    __tablename__ = "coin_tap"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    along: Mapped[int]
    across: Mapped[int]
    voids: Mapped[list[Any]]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    note: Mapped[str] = mapped_column(default="")
    crew_member: Mapped[CrewMember | None] = relationship()


class TapRuling(Fact, Base):
    """What somebody decided about voids, and why."""

    __tablename__ = "tap_ruling"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    coin_tap_id: Mapped[str] = mapped_column(ForeignKey("coin_tap.id"), index=True)
    kind: Mapped[str]
    note: Mapped[str]
    crew_member_id: Mapped[str] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember] = relationship()
    __table_args__ = (CheckConstraint("kind IN ('accept','inject','redo')", name="kind"),)


class GateNote(Fact, Base):
    """What happened at a closing: a line was added, done, is not needed or open again; somebody looked and signed, or
    opened it again; the inspector was asked for, or saw it.

    ``line`` is the line it is about, by its key; ``note`` its words, why, or what was asked for; ``day`` for which day.
    """

    __tablename__ = "gate_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    kind: Mapped[str]
    line: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember | None] = relationship()
    day: Mapped[date | None]
    __table_args__ = (
        CheckConstraint(
            "kind IN ('add','done','not needed','open','sign','reopen','asked','seen','list')", name="kind"
        ),
    )


class Measured(Fact, Base):
    """What a check found on one part: a value for each of its places, None where one was not read.

    ``moment`` is before or after the step it goes with, between two of them, or once.
    """

    __tablename__ = "measured"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    check_id: Mapped[str] = mapped_column(ForeignKey("part_check.id"), index=True)
    moment: Mapped[str]
    values: Mapped[list[Any]]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    note: Mapped[str] = mapped_column(default="")
    crew_member: Mapped[CrewMember | None] = relationship()
    __table_args__ = (CheckConstraint("moment IN ('once','before','between','after')", name="moment"),)


class Judgement(Fact, Base):
    """What somebody decided about a reading out of tolerance, and why."""

    __tablename__ = "judgement"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    measured_id: Mapped[str] = mapped_column(ForeignKey("measured.id"), index=True)
    kind: Mapped[str]
    note: Mapped[str]
    crew_member_id: Mapped[str] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember] = relationship()
    __table_args__ = (CheckConstraint("kind IN ('accept','mend','redo')", name="kind"),)


class TakenBack(Fact, Base):
    """That something written down does not count: ``what`` it was, and which. The row itself stays."""

    __tablename__ = "taken_back"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    what: Mapped[str]
    of_id: Mapped[str] = mapped_column(String(36), unique=True)
    note: Mapped[str]
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))


class Tick(Fact, Base):
    """That one thing of a run sheet was done, or was not after all."""

    __tablename__ = "tick"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str]
    item: Mapped[str]
    done: Mapped[bool]
    second_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    """Who looked as well."""
    mbar: Mapped[float | None]
    """What the gauge read."""
    moisture_pct: Mapped[float | None]
    """What the meter read on wood."""


class DryFit(Fact, Base):
    """The gaps a dry fit of a joint showed: ``at_m`` along it and ``gap_mm``; the last one counts."""

    __tablename__ = "dry_fit"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("part.id"), index=True)
    gaps: Mapped[list[Any]]
    note: Mapped[str] = mapped_column(default="")
