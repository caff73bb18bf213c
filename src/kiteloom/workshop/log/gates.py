"""Closings: the list each gathers by itself, what was done of it, who looked and signed, and the shop's own lists."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select, text

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.closing import Closing, Line, Noted, closing, may_sign
from kiteloom.core.build.step import Step
from kiteloom.core.log.facts import Fact
from kiteloom.store.models import CrewMember, GateList, GateNote
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.build.jobs import BuiltJob, key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.hinges import BALANCE
from kiteloom.workshop.log.notes import finished_at

Kind = Literal["add", "done", "not needed", "open", "sign", "reopen", "asked", "seen", "list"]
#: How the keys of lines begin that a closing gathers by itself.
OF_ITSELF = ("job:", "step:")
#: The longest line; so many lines a list has; so many lists there are.
LONGEST, MOST_LINES, MOST_LISTS = 200, 80, 20


@dataclass(frozen=True)
class NoteGate:
    """What happened at a closing. The client makes the id.

    ``line`` is the line it is about; ``note`` the words of a new line, why one is not needed or why it is opened again,
    or the day an inspector was asked for; for ``list`` the id of one of the shop's lists.
    """

    id: str
    part_id: str
    step_key: str
    kind: Kind
    line: str = ""
    note: str = ""
    crew_member_id: str | None = None


def closes(step: Step) -> bool:
    """Whether a step shuts something in: then somebody else looks first. A balance is read, not signed."""
    return step.gate and step.kind != BALANCE


def shut_in(part: BuiltPart, found: Mapping[str, BuiltPart]) -> list[BuiltPart]:
    """The parts that a closing shuts in: what the part is built from."""
    keys = dict.fromkeys(other for other, _ in part.after)
    return [found[key] for key in keys if key in found]


def gathered(part: BuiltPart, step: Step, found: Mapping[str, BuiltPart], done: Mapping[str, float]) -> list[Line]:
    """What a closing gathers by itself: jobs of what it shuts in, and steps of its own part that need access.

    ``done`` has when each step of the shop was finished [min], by key.
    """
    lines = []
    for other in shut_in(part, found):
        for job in other.jobs:
            keys = [f"{other.id}:{key_in(job, one.key)}" for one in job.steps]
            state: Literal["open", "done"] = "done" if all(key in done for key in keys) else "open"
            lines.append(Line(_of_job(other, job), f"{other.name}: {job.name}", state))
    for one in part.in_shop:
        if one.access and one.key != step.key:
            lines.append(Line(f"step:{one.in_part}"[:60], one.name, "done" if one.key in done else "open"))
    return lines


def _of_job(part: BuiltPart, job: BuiltJob) -> str:
    return f"job:{part.id}:{job.key}"


def gate_notes(uow: UnitOfWork) -> Mapping[tuple[str, str], list[GateNote]]:
    """What happened at closings, oldest first, by part and step."""

    def read() -> dict[tuple[str, str], list[GateNote]]:
        found: dict[tuple[str, str], list[GateNote]] = {}
        for row in uow.session.scalars(select(GateNote).order_by(text("rowid"))):
            found.setdefault((row.part_id, row.step_key), []).append(row)
        return found

    return uow.once("gate notes", read)


def closing_of(
    uow: UnitOfWork, part: BuiltPart, step: Step, found: Mapping[str, BuiltPart], done: Mapping[str, float]
) -> Closing:
    """A closing as it stands; ``step`` is the part's own."""
    rows = gate_notes(uow).get((part.id, step.in_part), [])
    notes = [Noted(row.id, row.kind, row.line, row.note, row.crew_member_id or "") for row in rows]
    return closing(gathered(part, step, found, done), notes)


def _for_one(uow: UnitOfWork, part: BuiltPart, step: Step) -> Closing:
    """The same, read for one closing."""
    found = {key: built_part(uow, key) for key in dict.fromkeys(other for other, _ in part.after)}
    done = {
        f"{each.id}:{key}": at
        for each in (part, *found.values())
        for key, at in finished_at(uow, each.id).items()
    }  # fmt: skip
    return closing_of(uow, part, step, found, done)


def note_gate(uow: UnitOfWork, order: NoteGate, now: datetime) -> Kept:
    """Keep what happened at a closing."""
    same = {"part_id": order.part_id, "step_key": order.step_key, "kind": order.kind}
    if uow.kept_already(GateNote, order.id, **same) is not None:
        return Kept(order.id)
    part = built_part(uow, order.part_id)
    part.step(order.step_key)
    step = next(one for one in part.in_shop if one.in_part == order.step_key)
    if not closes(step):
        raise Refused("step_key", f"“{step.name}” closes nothing")
    found, note = _for_one(uow, part, step), " ".join(order.note.split())
    who = uow.get(CrewMember, order.crew_member_id).id if order.crew_member_id else ""
    _may(uow, part, order, found, note, who)
    told = {"part_id": part.id, "step_key": order.step_key, "crew_member_id": who or None, "happened_at": now,
            "recorded_at": now}  # fmt: skip
    if order.kind == "list":
        rows = uow.get(GateList, order.note)
        for n, words in enumerate(rows.lines):
            key = stable_id("gate line", rows.id, words)
            uow.add(GateNote(id=order.id if n == 0 else stable_id(order.id, key), kind="list", line=key, note=words,
                             **told))  # fmt: skip
    else:
        line = order.id if order.kind == "add" else order.line[:120]
        uow.add(GateNote(id=order.id, kind=order.kind, line=line, note=note[:LONGEST], **told))
    uow.changed("gate", part.id)
    return Kept(order.id)


def _may(uow: UnitOfWork, part: BuiltPart, order: NoteGate, found: Closing, note: str, who: str) -> None:
    """Refuse what can't be noted of a closing as it stands."""
    if order.kind == "list":
        if not uow.get(GateList, order.note).lines:
            raise Refused("note", "that list has no lines")
    elif order.kind == "add":
        _line(note)
    elif order.kind in ("done", "not needed", "open"):
        line = next((line for line in found.lines if line.key == order.line), None)
        if line is None:
            raise Refused("line", "that line is not on this list (any more)")
        if order.kind == "done" and line.key.startswith(OF_ITSELF):
            raise Refused("line", f"“{line.words}” is done when the logbook says so; finish its steps")
        if found.signed:
            raise Refused("line", "the list is signed; open the closing again first, with the reason")
        if order.kind == "not needed" and not note:
            raise Refused("note", f"say in a few words why “{line.words}” is not needed")
        if order.kind != "open" and not who:
            raise Refused("crew_member_id", "somebody answers for it; say who")
    elif order.kind == "sign":
        if not who:
            raise Refused("crew_member_id", "a closing is signed; say who looked")
        crew = [row for row in uow.all(CrewMember) if row.hidden_at is None]
        may_sign(found, who, alone=len(crew) < 2)
    elif order.kind == "reopen":
        if not found.signed:
            raise Refused("kind", "it is not signed, so there is nothing to open again")
        if order.step_key in finished_at(uow, part.id):
            raise Refused("kind", "it is closed: what closes it is on. Take that work back first, or cut it open and "
                          "write down a deviation")  # fmt: skip
        if not note or not who:
            raise Refused("note" if who else "crew_member_id", "say who opens it again, and why")
    elif order.kind == "asked":
        if not note:
            raise Refused("note", "say for which day the inspector is asked, and of what")
    elif order.kind == "seen" and not note:
        raise Refused("note", "say who saw it, and where it is signed")


def _line(words: str) -> str:
    if not words or len(words) > LONGEST:
        raise Refused("note", f"the line has {len(words)} letters; it has 1 to {LONGEST}")
    return words


def speaks_against_gate(uow: UnitOfWork, part: BuiltPart, step: Step) -> str:
    """Why a closing can't be begun; ``""`` where it is signed."""
    if not closes(step):
        return ""
    found = _for_one(uow, part, next(one for one in part.in_shop if one.in_part == step.key))
    if found.signed:
        return ""
    if found.left:
        return f"{len(found.left)} of {len(found.lines)} lines before it are open: first “{found.left[0].words}”"
    return "nobody has looked and signed yet"


def unsigned(uow: UnitOfWork, found: Mapping[str, BuiltPart], facts: Mapping[str, Fact]) -> frozenset[str]:
    """Closings that nobody has signed, and that were not begun, by their steps' keys."""
    done = {key: fact.finished for key, fact in facts.items() if fact.finished is not None}
    return frozenset(
        step.key
        for part in found.values()
        for step in part.in_shop
        if closes(step) and step.key not in facts and not closing_of(uow, part, step, found, done).signed
    )


@dataclass(frozen=True)
class SayGateList:
    """One of the shop's own lists, its lines in order. ``version`` 0 is a new one; the client makes its id."""

    id: str
    version: int
    name: str
    lines: tuple[str, ...]


def say_gate_list(uow: UnitOfWork, order: SayGateList, now: datetime) -> Saved:
    """Say or change a list; closings that took it keep their lines."""
    known = uow.session.get(GateList, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name, lines = " ".join(order.name.split()), [" ".join(words.split()) for words in order.lines if words.strip()]
    if not name or len(name) > 80:
        raise Refused("name", f"the name has {len(name)} letters; it has 1 to 80")
    if not 1 <= len(lines) <= MOST_LINES:
        raise Refused("lines", f"the list has {len(lines)} lines; it has 1 to {MOST_LINES}")
    for n, words in enumerate(lines):
        if len(words) > LONGEST:
            raise Refused(f"lines.{n}", f"the line has {len(words)} letters; it has at most {LONGEST}")
    if known is None:
        if len(uow.all(GateList)) >= MOST_LISTS:
            raise Refused("id", f"there are {MOST_LISTS} lists; at most as many are kept")
        uow.add(GateList(id=order.id, name=name, lines=lines, updated_at=now))
        uow.changed("gate", order.id)
        return Saved(1)
    row = uow.get_for_edit(GateList, order.id, order.version)
    row.name, row.lines = name, lines
    uow.edited(row, [f"the list “{name}” has {len(lines)} lines"], now, "gate")
    return Saved(row.version)


def gate_lists(uow: UnitOfWork) -> list[GateList]:
    """The shop's lists."""
    return [row for row in uow.all(GateList, GateList.name) if row.hidden_at is None]


def crew_of(uow: UnitOfWork) -> Iterable[CrewMember]:
    """Who may look and sign."""
    return [row for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
