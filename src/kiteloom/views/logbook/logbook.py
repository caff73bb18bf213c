"""The logbook: day by day what was worked, mixed, read, closed, found wrong, decided, delivered and written down."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime, time
from itertools import repeat

from kiteloom.core.base.calendar import day_words, lasting, minute_of, moment_of, time_words
from kiteloom.core.log.logbook import KINDS, Entry, Sought, by_day, text_of
from kiteloom.store.models import CrewMember, DataSheet, Lot, Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.logbook import of_notes, of_parts, of_stores, of_work
from kiteloom.views.logbook.of_notes import ONLY_SHOWN
from kiteloom.views.logbook.pen import Pen
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.parts import part_names
from kiteloom.workshop.plan.people import crew_of

#: What the book is written from.
SOURCES = (
    of_work.work,
    of_work.photographed,
    of_work.mixes,
    of_parts.witnesses,
    of_parts.measured,
    of_parts.taps,
    of_parts.weighed,
    of_parts.instruments,
    of_parts.closings,
    of_parts.found_wrong,
    of_stores.came,
    of_stores.orders,
    of_stores.lots,
    of_stores.items,
    of_notes.notes,
)

#: So many entries are shown at once, and what else is of their days.
AT_ONCE = 60

KIND_WORDS = {
    "work": "Work",
    "mix": "Mixes",
    "reading": "Readings",
    "closing": "Before closing",
    "wrong": "Found wrong",
    "decision": "Decisions",
    "stores": "Stores",
    "note": "Notes",
    "question": "Questions",
    "photographs": "With photographs",
}


@dataclass(frozen=True)
class EntryView:
    """One entry: when, about what, by whom; ``against`` is why it does not count any more."""

    id: str
    kind: str
    kind_words: str
    time: str
    of: str
    words: str
    part_id: str
    part: str
    step_key: str
    who: str
    who_ids: list[str]
    by_hand: str
    """Who wrote it down, where people sign in and it names somebody else."""
    sub: list[str]
    corrects: str
    against: str
    photos: list[str]
    spoken: list[str]
    open: bool
    """Of a question: that nobody has answered it."""
    text: str
    """What somebody wrote, without what is said where they wrote nothing."""


@dataclass(frozen=True)
class DayView:
    """A day: how long was worked on it, in all and by whom, where that is asked for."""

    day: date
    title: str
    hours: str
    entries: list[EntryView]


@dataclass(frozen=True)
class LogbookView:
    """Some days of the book, the newest first; ``before`` asks for those before, None where there are none."""

    sentence: str
    days: list[DayView]
    before: date | None
    open: int
    """How many questions nobody has answered."""
    parts: list[Choice]
    people: list[Choice]
    products: list[Choice]
    lots: list[Choice]
    kinds: list[Choice]
    airframes: list[Choice]
    """Whose build record can be printed."""


@dataclass(frozen=True)
class NoteForm:
    """What a note can be of, and who can have written it."""

    parts: list[Choice]
    people: list[Choice]


def note_form(uow: UnitOfWork) -> NoteForm:
    """Parts that are built here, by name; the crew."""
    names = part_names(uow)
    parts = [Choice(row.id, names[row.id]) for row in uow.all(Part, Part.rank) if row.hidden_at is None]
    return NoteForm(sorted(parts, key=lambda part: part.name), [Choice(row.id, row.name) for row in crew_of(uow)])


def logbook_view(uow: UnitOfWork, sought: Sought, before: date | None, now: datetime) -> LogbookView:
    """The newest days of the book that have what is sought, or those before a day."""
    pen = Pen.of(uow)
    entries = uow.memory.made(uow.last_change(), "logbook", lambda: written(pen))
    worked = [(one.until(minute_of(now)), one.people) for one in of_work.worked(pen).stretches]
    if sought.part or sought.words or sought.kind not in ("", "work") or sought.product or sought.lot:
        worked = []  # the hours of a day are all of it, or one's own
    if sought.person:
        worked = [(span, (sought.person,)) for span, people in worked if sought.person in people]
    texts: Iterable[str] = repeat("")
    if sought.words:
        names = pen.names
        texts = uow.memory.made(uow.last_change(), "logbook words", lambda: [text_of(one, names) for one in entries])
    found = [entry for entry, text in zip(entries, texts, strict=False) if sought.takes(entry, text)]
    until = (
        minute_of(datetime.combine(before, time.max, pen.zone))
        if before is not None
        else max(minute_of(now), _last(found))
    )
    days, earlier = by_day((entry for entry in found if entry.at <= until), worked, pen.zone, AT_ONCE)
    sentence = "" if found else _nothing(bool(entries))
    used = {key for entry in entries for key in (*entry.products, *entry.lots)}
    parts, people = {entry.part for entry in entries}, {person for entry in entries for person in entry.people}
    return LogbookView(
        sentence,
        [
            DayView(
                day.day,
                f"{day.day:%A} {day_words(day.day, pen.zone, year=day.day.year != now.year)}",
                _hours(pen, day.hours),
                [_entry(pen, entry) for entry in day.entries],
            )
            for day in days
        ],
        earlier,
        sum(1 for entry in entries if entry.open),
        [Choice(key, name) for key, name in sorted(pen.names.items(), key=lambda one: one[1]) if key in parts],
        [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.id in people],
        [Choice(row.id, row.name) for row in uow.all(DataSheet, DataSheet.name) if row.id in used],
        [
            Choice(row.id, f"{row.lot_number}, {pen.name(row.data_sheet_id)}")
            for row in uow.all(Lot, Lot.lot_number)
            if row.id in used
        ],
        [Choice(kind, KIND_WORDS[kind]) for kind in (*KINDS, "photographs")],
        [Choice(row.id, row.name) for row in uow.all(Project, Project.rank)],
    )


def written(pen: Pen) -> list[Entry]:
    """All entries of the book, oldest first."""
    return sorted((entry for source in SOURCES for entry in source(pen)), key=lambda entry: entry.at)


def _last(entries: list[Entry]) -> float:
    return max((entry.at for entry in entries), default=0.0)


def _nothing(some: bool) -> str:
    if some:
        return "Nothing in the book is like that. Take away one of what is asked for."
    return "Nothing is written yet. What you do, mix and read is written here by itself; write a note beside it."


def _hours(pen: Pen, hours: Mapping[str, float]) -> str:
    each = sorted(hours.items(), key=lambda one: -one[1])
    whole = sum(hours.values())
    if whole < 1:
        return ""
    if len(each) == 1:
        return f"{pen.who([each[0][0]])} {lasting(whole)}"
    return f"{lasting(whole)}: {', '.join(f'{pen.who([person])} {lasting(minutes)}' for person, minutes in each)}"


def _entry(pen: Pen, entry: Entry) -> EntryView:
    return EntryView(
        entry.id,
        entry.kind,
        {**KIND_WORDS, "mix": "Mix", "reading": "Reading", "decision": "Decision", "note": "Note",
         "question": "Question"}[entry.kind],
        time_words(moment_of(entry.at, pen.zone)),
        entry.of,
        entry.words or ONLY_SHOWN,
        entry.part,
        pen.name(entry.part),
        entry.step,
        pen.who(entry.people),
        list(entry.people),
        pen.by_hand(entry.id, entry.people),
        list(entry.sub),
        entry.corrects,
        entry.against,
        list(entry.photos),
        list(entry.spoken),
        entry.open,
        entry.words,
    )  # fmt: skip
