"""What builders write into the logbook themselves: notes, questions to the kit maker, and their answers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kiteloom.store.models.base import Base, Fact

if TYPE_CHECKING:
    from kiteloom.store.models.plan import CrewMember


class LogNote(Fact, Base):
    """A note, or a question to the kit maker; of a part and one of its steps, of a whole airframe, or of the shop."""

    __tablename__ = "log_note"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    corrects_id: Mapped[str | None] = mapped_column(ForeignKey("log_note.id"), unique=True)
    kind: Mapped[str]
    words: Mapped[str]
    part_id: Mapped[str | None] = mapped_column(ForeignKey("part.id"), index=True)
    step_key: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember | None] = relationship()
    __table_args__ = (CheckConstraint("kind IN ('note','question')", name="kind"),)


class LogAnswer(Fact, Base):
    """What a question was answered, by whom, and which revision of the manual it changed; the last one counts."""

    __tablename__ = "log_answer"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    log_note_id: Mapped[str] = mapped_column(ForeignKey("log_note.id"), index=True)
    words: Mapped[str]
    by_whom: Mapped[str]
    revision: Mapped[str] = mapped_column(default="")
    crew_member_id: Mapped[str | None] = mapped_column(ForeignKey("crew_member.id"))
    crew_member: Mapped[CrewMember | None] = relationship()
