"""What builders write into the logbook themselves: notes, questions to the kit maker, and their answers."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember, LogAnswer, LogNote, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept

#: So many letters has a note, or an answer, at most.
LONGEST_NOTE = 8_000
#: So many have a name of whoever answered, and a revision.
LONGEST_NAME = 120


@dataclass(frozen=True)
class WriteNote:
    """A note, or a question; of a part and one of its steps, or of the whole shop. The client makes the id.

    ``corrects_id`` is the note it is written instead of: that one stays in the book, and does not count. What is only
    spoken or photographed has no words: ``shown`` says that such a thing comes after it.
    """

    id: str
    kind: Literal["note", "question"]
    words: str
    part_id: str | None = None
    step_key: str = ""
    crew_member_id: str | None = None
    corrects_id: str | None = None
    shown: bool = False


@dataclass(frozen=True)
class AnswerQuestion:
    """What a question was answered, by whom, and which revision of the manual it changed. The client makes the id."""

    id: str
    words: str
    by_whom: str
    revision: str = ""
    crew_member_id: str | None = None


def write_note(uow: UnitOfWork, order: WriteNote, now: datetime) -> Kept:
    """Write it into the book."""
    words = _words(order.words, "words", empty=order.shown and order.kind == "note")
    same = {"kind": order.kind, "words": words, "part_id": order.part_id, "corrects_id": order.corrects_id}
    if uow.kept_already(LogNote, order.id, **same) is not None:
        return Kept(order.id)
    if order.part_id is not None:
        uow.get(Part, order.part_id)
    if order.crew_member_id is not None:
        uow.get(CrewMember, order.crew_member_id)
    if order.corrects_id is not None:
        was = uow.get(LogNote, order.corrects_id)
        if uow.session.scalar(select(LogNote.id).where(LogNote.corrects_id == was.id)) is not None:
            raise Refused("corrects_id", "this was corrected already; correct what stands now")
        if was.kind != order.kind:
            raise Refused("kind", f"a {was.kind} is corrected by a {was.kind}; write the {order.kind} beside it")
    uow.add(
        LogNote(
            id=order.id,
            **same,
            step_key=order.step_key[:120],
            crew_member_id=order.crew_member_id,
            happened_at=now,
            recorded_at=now,
        )
    )
    uow.changed("log", order.id)
    return Kept(order.id)


def answer_question(uow: UnitOfWork, note_id: str, order: AnswerQuestion, now: datetime) -> Kept:
    """Write down what a question was answered; another answer later counts instead, the first one stays."""
    if uow.kept_already(LogAnswer, order.id, log_note_id=note_id, words=order.words.strip()) is not None:
        return Kept(order.id)
    if uow.get(LogNote, note_id).kind != "question":
        raise Refused("log_note_id", "this is a note; only a question is answered")
    words = _words(order.words, "words")
    by_whom = " ".join(order.by_whom.split())
    if not by_whom:
        raise Refused("by_whom", "who answered it is not said; name them")
    if len(by_whom) > LONGEST_NAME:
        raise Refused("by_whom", f"the name has {len(by_whom)} letters; at most {LONGEST_NAME} are kept")
    if len(order.revision.strip()) > LONGEST_NAME:
        raise Refused("revision", f"it has {len(order.revision.strip())} letters; at most {LONGEST_NAME} are kept")
    if order.crew_member_id is not None:
        uow.get(CrewMember, order.crew_member_id)
    uow.add(
        LogAnswer(
            id=order.id,
            log_note_id=note_id,
            words=words,
            by_whom=by_whom,
            revision=order.revision.strip(),
            crew_member_id=order.crew_member_id,
            happened_at=now,
            recorded_at=now,
        )
    )
    uow.changed("log", note_id)
    return Kept(order.id)


def _words(text: str, field: str, *, empty: bool = False) -> str:
    words = text.strip()
    if not words and not empty:
        raise Refused(field, "nothing is written yet; a few words are enough")
    if len(words) > LONGEST_NOTE:
        raise Refused(field, f"it has {len(words)} letters; at most {LONGEST_NOTE} are kept in one note")
    return words
