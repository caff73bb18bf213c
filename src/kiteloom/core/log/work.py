"""Notes of work (started, paused, finished) → what has been done of a step, and what may be noted next."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.calendar import Interval
from kiteloom.core.log.facts import Fact, Mixed

Kind = Literal["start", "pause", "finish", "skip"]


@dataclass(frozen=True)
class Note:
    """One note: what, when [min], and by whom."""

    kind: Kind
    at: float
    crew: tuple[str, ...] = ()


def fact_of(notes: Iterable[Note], mixed: tuple[Mixed, ...] = ()) -> Fact:
    """What was done of a step, from its notes in the order of their time, and its batches.

    >>> fact = fact_of([Note("start", 0), Note("pause", 40), Note("start", 100), Note("finish", 120)])
    >>> fact.worked_min, fact.done
    (60, True)
    """
    pieces: list[Interval] = []
    since: float | None = None
    finished: float | None = None
    skipped = False
    people: tuple[str, ...] = ()
    for note in notes:
        skipped = note.kind == "skip"
        if note.kind == "start":
            since, finished, people = (note.at if since is None else since), None, note.crew or people
            continue
        if since is not None:
            pieces.append((since, note.at))
            since = None
        if note.kind in ("finish", "skip"):
            finished = note.at
    return Fact(tuple(pieces), since, finished, mixed, people, skipped)


def speaks_against(kind: Kind, fact: Fact, at: float, *, again: bool = False) -> str | None:
    """Why a note can't follow what was noted before; None when it can. ``again`` is a step done once more.

    >>> speaks_against("finish", Fact(finished=90.0), 100) is None
    False
    >>> speaks_against("pause", Fact(), 100)
    'nobody is working on it'
    """
    last = max([fact.running_since or 0.0, fact.finished or 0.0, *(end for _, end in fact.pieces)])
    if at < last:
        return f"it lies {last - at:.0f} min before the note it follows; it can't be earlier"
    if kind == "start" and fact.running_since is not None:
        return "it was started already"
    if kind == "start" and fact.finished is not None and not again:
        return "it was finished already; take that back first"
    if kind == "pause" and fact.running_since is None:
        return "nobody is working on it"
    if kind in ("finish", "skip") and fact.finished is not None:
        return "it was finished already"
    if kind == "skip" and fact.mixed:
        return "a mix is on it; it can't be said not to apply"
    return None


@dataclass(frozen=True)
class Spell:
    """Work between two notes [min]: which note began it, and which ended it; None where it still runs."""

    first: int
    last: int | None
    start: float
    end: float
    people: tuple[str, ...]


def spells(notes: Sequence[Note], now: float) -> list[Spell]:
    """A step's work, from its notes in the order of their time; what runs, until now.

    Whoever is named at a start works until the next note; a note that names nobody leaves who was there.

    >>> [(s.start, s.end) for s in spells([Note("start", 0), Note("pause", 40), Note("start", 90)], 99)]
    [(0, 40), (90, 99)]
    """
    found: list[Spell] = []
    since: float | None = None
    first = 0
    people: tuple[str, ...] = ()
    for n, note in enumerate((*notes, Note("pause", now))):
        if since is not None:
            found.append(Spell(first, n if n < len(notes) else None, since, max(note.at, since), people))
        starts = note.kind == "start"
        since, first, people = (note.at, n, note.crew or people) if starts else (None, n, people)
    return found


def spent(notes: Iterable[Note], now: float) -> dict[str, float]:
    """Minutes each of the crew worked on a step, from its notes in the order of their time; what runs, until now.

    >>> spent([Note("start", 0, ("bo", "imre")), Note("pause", 40), Note("start", 100, ("bo",))], 130)
    {'bo': 70.0, 'imre': 40.0}
    """
    found: dict[str, float] = {}
    for spell in spells(list(notes), now):
        for person in spell.people:
            found[person] = found.get(person, 0.0) + spell.end - spell.start
    return found
