"""A closing: what must be done before cloth or a skin shuts something in, and who looked.

What people regret, in this order, is common practice: a hole not drilled, a cable not fished, a bracket not fitted, a
bead not smoothed. The kit maker and the licensed inspector decide what a closing needs.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import parse

State = Literal["open", "done", "not needed"]

#: A line that does not say how long it takes is taken to take so long (an assumption) [min].
LINE_MIN = 10.0
_TAKES = re.compile(r"[,;]\s+(\d[\d.,: ]*(?:min|minutes?|h|hours?)\b[\d ]*(?:min|minutes?)?)$")

#: What jobs that follow a closing ask for before it.
HINGES = "Hinge brackets drilled and clecoed, not mounted"
DRAINS = "Drain holes marked, and drilled where they can’t be afterwards"
EDGES = "Edges and beads smooth enough for cloth and paint"

#: What a shop that has said nothing may begin its list with.
USUAL = (
    HINGES,
    DRAINS,
    "Conduits, cables and their strings in; pulled once",
    "Pitot, static and antenna mounts in",
    "Inspection rings where a hand must reach",
    "Stiffeners in thin trailing edges",
    "Two coats of varnish, or primer, on all that will be shut in",
    EDGES,
    "Nothing loose left inside: shaken, swept, vacuumed",
)


@dataclass(frozen=True)
class Line:
    """One line of a list: its key, its words, how it stands, by whom and why; ``by`` is an id.

    ``hands`` are all who did it, or said that it is not needed. ``steps`` are those that do it, by their keys;
    ``minutes`` is what it takes where nothing else plans it: a line that was typed.
    """

    key: str
    words: str
    state: State = "open"
    by: str = ""
    why: str = ""
    hands: frozenset[str] = frozenset()
    minutes: float = 0.0
    steps: tuple[str, ...] = ()


@dataclass(frozen=True)
class Noted:
    """Something that happened at a closing, oldest first; ``day`` is the one an inspector was asked for."""

    id: str
    kind: str
    line: str = ""
    note: str = ""
    by: str = ""
    day: date | None = None


@dataclass(frozen=True)
class Closing:
    """A closing as it stands: its lines, who signed it, and what was asked of an inspector.

    ``asked`` and ``asked_on`` are what the inspector was asked to see, and the day; ``seen`` is the note with which
    that was kept; ``reopened`` is why it was opened again last.
    """

    lines: tuple[Line, ...]
    signed: str = ""
    """The note's id with which it was signed; ``""`` while it is open."""
    signed_by: str = ""
    reopened: str = ""
    asked: str = ""
    asked_on: date | None = None
    seen: str = ""
    looked: Mapping[str, str] = field(default_factory=dict)
    """Who has looked at which line, by its key, while others are still to be looked at."""

    @property
    def waits(self) -> bool:
        """Whether an inspector was asked for who has not seen it yet: it is not closed before."""
        return (bool(self.asked) or self.asked_on is not None) and not self.seen

    @property
    def minutes(self) -> float:
        """What its open lines take that nothing else plans [min]."""
        return sum(line.minutes for line in self.left)

    @property
    def left(self) -> tuple[Line, ...]:
        """The lines that are open."""
        return tuple(line for line in self.lines if line.state == "open")


def takes_min(words: str, field: str = "note") -> float:
    """How long a line takes, where it says so at its end [min]; `Refused` for more than 100 h.

    >>> takes_min("Fish the pitot line, 1 h 30"), takes_min("Drain holes; 20 min"), takes_min("Two coats, edges too")
    (90.0, 20.0, 10.0)
    """
    found = _TAKES.search(words.strip())
    if found is None:
        return LINE_MIN
    minutes = parse(found[1], "time", "min", field)
    return between(field, minutes, 0, 6000, unit="min", name="what a line takes", open_low=True)


def _minutes(words: str) -> float:
    """The same of a line that is kept already: whatever stands at its end, it is read."""
    try:
        return takes_min(words)
    except Refused:
        return LINE_MIN


def closing(gathered: Sequence[Line], notes: Sequence[Noted]) -> Closing:
    """How a closing stands.

    Parameters
    ----------
    gathered : sequence of Line
        What it gathers by itself, with how far each is.
    notes : sequence of Noted
        In the order they were kept.

    >>> notes = [Noted("a", "add", "a", "Fish the cable"), Noted("b", "done", "a", "", "bo")]
    >>> found = closing([Line("s", "Drill")], notes)
    >>> [(line.words, line.state) for line in found.lines], [line.key for line in found.left]
    ([('Drill', 'open'), ('Fish the cable', 'done')], ['s'])
    """
    lines = {line.key: line for line in gathered}
    signed = signed_by = reopened = asked = seen = ""
    asked_on: date | None = None
    looked: dict[str, str] = {}
    for note in notes:
        if note.kind in ("add", "list"):
            lines.setdefault(note.line, Line(note.line, note.note, minutes=_minutes(note.note)))
        elif note.kind in ("done", "not needed", "open") and note.line in lines:
            state: State = note.kind  # type: ignore[assignment]  # one of its words
            hands = frozenset({note.by} if note.by and state != "open" else ())
            lines[note.line] = replace(lines[note.line], state=state, by=note.by, why=note.note, hands=hands)
            looked.pop(note.line, None)
        elif note.kind == "sign" and note.line:
            looked[note.line] = note.by
        elif note.kind == "sign":
            signed, signed_by, reopened = note.id, note.by, ""
        elif note.kind == "reopen":
            signed = signed_by = ""
            reopened = note.note
            looked.clear()
        elif note.kind == "asked":
            asked, asked_on, seen = note.note, note.day, ""
        elif note.kind == "seen":
            seen = note.id
    return Closing(tuple(lines.values()), signed, signed_by, reopened, asked, asked_on, seen, looked)


def may_look(line: Line, who: str, crew: Collection[str]) -> bool:
    """Whether somebody may look at a line: who did not do it, or anybody where all of the crew did.

    >>> varnish = Line("v", "Varnish", "done", hands=frozenset({"bo", "imre"}))
    >>> may_look(varnish, "bo", {"bo", "imre", "odile"}), may_look(varnish, "bo", {"bo", "imre"})
    (False, True)
    """
    return who not in line.hands or not set(crew) - line.hands


def looks_at(found: Closing, who: str, crew: Collection[str]) -> tuple[str, ...]:
    """The lines that somebody's signature covers, by their keys: those nobody has looked at that this one may look at.

    Parameters
    ----------
    who : str
        Who signs.
    crew : collection of str
        All who could.

    Raises
    ------
    Refused
        While lines are open, once it is signed, and for somebody who did all that is left to be looked at.
    """
    if found.signed:
        raise Refused("kind", "it is signed already")
    if found.left:
        count = len(found.left)
        first = found.left[0].words
        raise Refused("kind", f"{count} of {len(found.lines)} lines are open: first “{first}”")
    left = [line for line in found.lines if line.key not in found.looked]
    mine = tuple(line.key for line in left if may_look(line, who, crew))
    if left and not mine:
        raise Refused(
            "crew_member_id", "whoever looks must be somebody else than who did the work; let another person look"
        )
    return mine
