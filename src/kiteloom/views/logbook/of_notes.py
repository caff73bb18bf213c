"""The book's entries that builders write themselves: notes, questions and their answers."""

from __future__ import annotations

from collections.abc import Iterator

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.log.logbook import Entry, Kind
from kiteloom.store.models import LogAnswer, LogNote
from kiteloom.views.logbook.pen import Pen

ONLY_SHOWN = "No words: see what was photographed or spoken."


def notes(pen: Pen) -> Iterator[Entry]:
    """Each note and question, with its answers; what was corrected stands where it was written."""
    rows = {row.id: row for row in pen.uow.all(LogNote)}
    corrected = {row.corrects_id: row for row in rows.values() if row.corrects_id}
    answers: dict[str, list[LogAnswer]] = {}
    for answer in sorted(pen.uow.all(LogAnswer), key=lambda row: (row.happened_at, row.recorded_at)):
        stands = rows[answer.log_note_id]
        while (later := corrected.get(stands.id)) is not None:
            stands = later
        answers.setdefault(stands.id, []).append(answer)
    for row in rows.values():
        later, was = corrected.get(row.id), rows.get(row.corrects_id or "")
        kind: Kind = "question" if row.kind == "question" else "note"
        mine = answers.get(row.id, [])
        yield Entry(
            row.id,
            kind,
            minute_of(row.happened_at),
            "",
            row.words,
            row.part_id or "",
            row.step_key,
            (row.crew_member_id,) if row.crew_member_id else (),
            sub=tuple(_answered(pen, answer, stands=answer is mine[-1]) for answer in mine),
            corrects=f"It was written as: {was.words or ONLY_SHOWN}" if was is not None else "",
            against=f"Corrected {pen.at(later.recorded_at)}" if later is not None else "",
            photos=pen.photos(row.id),
            spoken=pen.spoken(row.id),
            open=kind == "question" and not mine and later is None,
        )


def _answered(pen: Pen, row: LogAnswer, *, stands: bool) -> str:
    changed = f" It changed the manual: {row.revision}." if row.revision else ""
    before = "" if stands else " (answered again since)"
    return f"{row.by_whom}, {pen.at(row.happened_at)}{before}: {row.words}{changed}"
