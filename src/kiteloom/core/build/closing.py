"""A closing: what must be done before cloth or a skin shuts something in, and who looked.

What people regret, in this order, is common practice: a hole not drilled, a cable not fished, a bracket not fitted, a
bead not smoothed. The kit maker and the licensed inspector decide what a closing needs.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from kiteloom.core.base.problems import Refused

State = Literal["open", "done", "not needed"]

#: What a shop that has said nothing may begin its list with.
USUAL = (
    "Hinge brackets drilled and clecoed, not mounted",
    "Drain holes marked, and drilled where they can’t be afterwards",
    "Conduits, cables and their strings in; pulled once",
    "Pitot, static and antenna mounts in",
    "Inspection rings where a hand must reach",
    "Stiffeners in thin trailing edges",
    "Two coats of varnish, or primer, on all that will be shut in",
    "Edges and beads smooth enough for cloth and paint",
    "Nothing loose left inside: shaken, swept, vacuumed",
)


@dataclass(frozen=True)
class Line:
    """One line of a list: its key, its words, how it stands, by whom and why; ``by`` is an id."""

    key: str
    words: str
    state: State = "open"
    by: str = ""
    why: str = ""


@dataclass(frozen=True)
class Noted:
    """Something that happened at a closing, oldest first."""

    id: str
    kind: str
    line: str = ""
    note: str = ""
    by: str = ""


@dataclass(frozen=True)
class Closing:
    """A closing as it stands: its lines, who signed it, and what was asked of an inspector.

    ``seen`` is the note with which the inspector's look was kept; ``reopened`` why it was opened again last.
    """

    lines: tuple[Line, ...]
    signed: str = ""
    """The note's id with which it was signed; ``""`` while it is open."""
    signed_by: str = ""
    reopened: str = ""
    asked: str = ""
    seen: str = ""

    @property
    def left(self) -> tuple[Line, ...]:
        """The lines that are open."""
        return tuple(line for line in self.lines if line.state == "open")


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
    for note in notes:
        if note.kind in ("add", "list"):
            lines.setdefault(note.line, Line(note.line, note.note))
        elif note.kind in ("done", "not needed", "open") and note.line in lines:
            state: State = note.kind  # type: ignore[assignment]  # one of its words
            lines[note.line] = replace(lines[note.line], state=state, by=note.by, why=note.note)
        elif note.kind == "sign":
            signed, signed_by, reopened = note.id, note.by, ""
        elif note.kind == "reopen":
            signed = signed_by = ""
            reopened = note.note
        elif note.kind == "asked":
            asked = note.note
        elif note.kind == "seen":
            seen = note.id
    return Closing(tuple(lines.values()), signed, signed_by, reopened, asked, seen)


def may_sign(found: Closing, who: str, alone: bool) -> None:
    """Refuse a signature: lines that are open, or somebody who did a line of it and is not alone in the shop.

    Parameters
    ----------
    who : str
        Who signs.
    alone : bool
        Whether there is nobody else to look.
    """
    if found.signed:
        raise Refused("kind", "it is signed already")
    if found.left:
        count = len(found.left)
        first = found.left[0].words
        raise Refused("kind", f"{count} of {len(found.lines)} lines are open: first “{first}”")
    did = {line.by for line in found.lines if line.by}
    if who in did and not alone:
        raise Refused(
            "crew_member_id", "whoever looks must be somebody else than who did the work; let another person look"
        )
