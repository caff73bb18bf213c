"""The logbook: what is written in it, and what builders write into it. Thin."""

from __future__ import annotations

import tempfile
from datetime import date
from pathlib import Path

from flask import Response, request, send_file
from pydantic import BaseModel

from kiteloom.api.house import Routes, file, now, store
from kiteloom.core.log.logbook import Sought
from kiteloom.views.logbook import logbook, record
from kiteloom.views.logbook.archive import archived
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.log import photos
from kiteloom.workshop.log.logbook import AnswerQuestion, WriteNote, answer_question, write_note

bp = Routes("logbook", "Logbook")


class Asked(BaseModel):
    """What of the book is asked for; ``before`` the days until that one."""

    part: str = ""
    person: str = ""
    product: str = ""
    lot: str = ""
    kind: str = ""
    words: str = ""
    before: date | None = None


class OfStep(BaseModel):
    """Which step of a part."""

    step_key: str = ""


@bp.get("/logbook")
@bp.asks(Asked)
@bp.gives(logbook.LogbookView)
def read(asked: Asked) -> logbook.LogbookView:
    """Some days of the book."""
    sought = Sought(asked.part, asked.person, asked.product, asked.lot, asked.kind, asked.words[:200])
    with store().reading() as uow:
        return logbook.logbook_view(uow, sought, asked.before, now())


@bp.get("/archive.zip")
def download() -> Response:
    """Everything of the shop as open files."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.zip"
        archived(store(), path, now())
        packed = path.open("rb")  # it is read to its end although its name is gone by then
    name = f"shop-{now():%Y-%m-%d}.zip"
    return send_file(packed, "application/zip", as_attachment=True, download_name=name)


class Period(BaseModel):
    """From a day until another, both with it; all of it where neither is said."""

    since: date | None = None
    until: date | None = None


@bp.get("/parts/<part_id>/record.pdf")
@bp.asks(Period)
def print_part(part_id: str, asked: Period) -> Response:
    """A part's build record."""
    with store().reading() as uow:
        page = record.record_of_part(uow, part_id, asked.since, asked.until, now())
    return file(page, "application/pdf", "build-record.pdf")


@bp.get("/airframes/<airframe_id>/record.pdf")
@bp.asks(Period)
def print_airframe(airframe_id: str, asked: Period) -> Response:
    """An airframe's build record."""
    with store().reading() as uow:
        page = record.record_of_airframe(uow, airframe_id, asked.since, asked.until, now())
    return file(page, "application/pdf", "build-record.pdf")


@bp.get("/note-form")
@bp.gives(logbook.NoteForm)
def read_form() -> logbook.NoteForm:
    """What a note can be of, and who writes it."""
    with store().reading() as uow:
        return logbook.note_form(uow)


@bp.post("/log-notes")
@bp.takes(WriteNote)
@bp.gives(Kept, 201)
def write(order: WriteNote) -> Kept:
    """Write a note or a question into the book, or correct one."""
    with store().writing() as uow:
        return write_note(uow, order, now())


@bp.post("/log-notes/<note_id>/answers")
@bp.takes(AnswerQuestion)
@bp.gives(Kept, 201)
def answer(note_id: str, order: AnswerQuestion) -> Kept:
    """Write down what a question was answered."""
    with store().writing() as uow:
        return answer_question(uow, note_id, order, now())


@bp.put("/log-notes/<note_id>/photos/<photo_id>")
@bp.gives(Kept, 201)
def keep_shot(note_id: str, photo_id: str) -> Kept:
    """Keep a photograph with a note, or what was spoken into it; its bytes are the body."""
    shot = photos.looked_at(request.get_data(), may_be_spoken=True)
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "note", note_id, photo_id, shot, now()))


@bp.put("/steps/<part_id>/photos/<photo_id>")
@bp.asks(OfStep)
@bp.gives(Kept, 201)
def keep_photo_of_step(part_id: str, photo_id: str, asked: OfStep) -> Kept:
    """Keep a photograph of work on a step; its bytes are the body."""
    shot = photos.looked_at(request.get_data())
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "step", part_id, photo_id, shot, now(), asked.step_key))


@bp.put("/measured/<reading_id>/photos/<photo_id>")
@bp.gives(Kept, 201)
def keep_photo_of_reading(reading_id: str, photo_id: str) -> Kept:
    """Keep a photograph of a reading; its bytes are the body."""
    shot = photos.looked_at(request.get_data())
    with store().writing() as uow:
        return Kept(photos.keep_photo(uow, "reading", reading_id, photo_id, shot, now()))
