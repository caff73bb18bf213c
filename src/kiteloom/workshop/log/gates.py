"""Closings: the list each gathers by itself, what was done of it, who looked and signed, and the shop's own lists."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal

from sqlalchemy import select, text

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.closing import Closing, Line, Noted, closing, looks_at, takes_min
from kiteloom.core.build.step import Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.log.work import fact_of
from kiteloom.store.models import Batch, CrewMember, GateList, GateNote, Guest, Link, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.sign_in import NotYours
from kiteloom.workshop.build.jobs import BuiltJob, key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.hinges import BALANCE
from kiteloom.workshop.log.notes import finished_at, notes_by_part, notes_from
from kiteloom.workshop.log.signing import by_own_hand

Kind = Literal["add", "done", "not needed", "open", "sign", "reopen", "asked", "seen", "list"]
#: How the keys of lines begin that a closing gathers by itself.
OF_ITSELF = ("job:", "step:")
#: The longest line; so many lines a list has; so many lists there are.
LONGEST, MOST_LINES, MOST_LISTS = 200, 80, 20


@dataclass(frozen=True)
class NoteGate:
    """What happened at a closing. The client makes the id.

    ``line`` is the line it is about; ``note`` the words of a new line, why one is not needed or why it is opened again,
    or what an inspector is asked to see on ``day``; for ``list`` the id of one of the shop's lists.
    """

    id: str
    part_id: str
    step_key: str
    kind: Kind
    line: str = ""
    note: str = ""
    crew_member_id: str | None = None
    day: date | None = None


def closes(step: Step) -> bool:
    """Whether a step shuts something in: then somebody else looks first. A balance is read, not signed."""
    return step.gate and step.kind != BALANCE


def shut_in(part: BuiltPart, found: Mapping[str, BuiltPart]) -> list[BuiltPart]:
    """The parts that a closing shuts in: what the part is built from."""
    keys = dict.fromkeys(other for other, _ in part.after)
    return [found[key] for key in keys if key in found]


@dataclass(frozen=True)
class Worked:
    """What the logbook says of steps, by their keys in the shop: which are finished, and whose hands were in it."""

    done: frozenset[str]
    hands: Mapping[str, frozenset[str]] = field(default_factory=dict)


def worked(uow: UnitOfWork) -> Worked:
    """The same, of all parts: who was noted on a step, and who mixed for it."""
    rows: dict[str, list[Work]] = defaultdict(list)
    hands: dict[str, set[str]] = defaultdict(set)
    for row in (row for mine in notes_by_part(uow).values() for row in mine):
        rows[f"{row.part_id}:{row.step_key}"].append(row)
        hands[f"{row.part_id}:{row.step_key}"].update(row.crew)
    mixed = select(Batch.part_id, Batch.step_key, Batch.crew_member_id).where(Batch.part_id.is_not(None))
    for part_id, step_key, who in uow.session.execute(mixed.where(Batch.crew_member_id.is_not(None))):
        hands[f"{part_id}:{step_key}"].add(str(who))
    done = {key for key, mine in rows.items() if fact_of(notes_from(mine)).finished is not None}
    return Worked(frozenset(done), {key: frozenset(who) for key, who in hands.items()})


def gathered(part: BuiltPart, step: Step, found: Mapping[str, BuiltPart], log: Worked) -> list[Line]:
    """What a closing gathers by itself: jobs of what it shuts in, and of its own part before it; steps of its part that
    need access; and what jobs that follow want done before, of its part and of those that are built from it.
    """

    def line(key: str, words: str, steps: Iterable[str]) -> Line:
        keys = list(steps)
        hands = frozenset().union(*(log.hands.get(one, frozenset()) for one in keys))
        state: Literal["open", "done"] = "done" if all(one in log.done for one in keys) else "open"
        return Line(key, words, state, hands=hands, steps=tuple(keys))

    jobs = [job.key for job in part.jobs]
    here = jobs.index(step.job) if step.job in jobs else len(jobs)
    later = part.jobs[here + 1 :]
    lines = [
        line(_of_job(other, job), f"{other.name}: {job.name}",
             (f"{other.id}:{key_in(job, one.key)}" for one in job.steps))
        for other, mine in (*((other, other.jobs) for other in shut_in(part, found)), (part, part.jobs[:here]))
        for job in mine
    ]  # fmt: skip
    own = (one for one in part.in_shop if one.access and one.key != step.key)
    follow = [*later, *(job for other in found.values() if part.id in dict(other.after) for job in other.jobs)]
    wanted = dict.fromkeys(words for job in follow if job.recipe is not None for words in job.recipe.before_closing)
    return [
        *lines,
        *(line(f"step:{one.in_part}"[:60], one.name, (one.key,)) for one in own),
        *(Line(wanted_key(words), words, minutes=takes_min(words)) for words in wanted),
    ]


def wanted_key(words: str) -> str:
    """The key of a line that jobs which follow want done before."""
    return stable_id("wanted before", words)


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
    uow: UnitOfWork, part: BuiltPart, step: Step, found: Mapping[str, BuiltPart], log: Worked | None = None
) -> Closing:
    """A closing as it stands; ``step`` is the part's own."""
    rows = gate_notes(uow).get((part.id, step.in_part), [])
    notes = [Noted(row.id, row.kind, row.line, row.note, row.crew_member_id or "", row.day) for row in rows]
    log = log or uow.once("worked", lambda: worked(uow))
    # What the shop's own list has in the same words is there once.
    typed = {row.note for row in rows if row.kind in ("add", "list")}
    return closing([line for line in gathered(part, step, found, log) if line.words not in typed], notes)


def _for_one(uow: UnitOfWork, part: BuiltPart, step: Step) -> Closing:
    """The same, read for one closing."""
    follow = uow.session.scalars(select(Link.part_id).where(Link.other_id == part.id))
    keys = dict.fromkeys([*(other for other, _ in part.after), *follow])
    found = {key: built_part(uow, key) for key in keys}
    return closing_of(uow, part, step, found)


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
    who = by_own_hand(uow, uow.get(CrewMember, order.crew_member_id)).id if order.crew_member_id else ""
    guest = _guest(uow, order)
    if guest is not None:
        note = f"{guest.name}, by their own link: {note or 'seen'}"
    _may(uow, part, order, found, note, who, now)
    told = {"part_id": part.id, "step_key": order.step_key, "crew_member_id": who or None, "happened_at": now,
            "recorded_at": now}  # fmt: skip
    if order.kind == "list":
        rows = uow.get(GateList, order.note)
        for n, words in enumerate(rows.lines):
            key = stable_id("gate line", rows.id, words)
            uow.add(GateNote(id=order.id if n == 0 else stable_id(order.id, key), kind="list", line=key, note=words,
                             **told))  # fmt: skip
    elif order.kind == "sign":
        mine = looks_at(found, who, _crew_ids(uow))
        rest = [line for line in found.lines if line.key not in {*mine, *found.looked}]
        # What somebody else must look at is left; with nothing left it is signed.
        for n, key in enumerate(mine if rest else ()):
            uow.add(GateNote(id=order.id if n == 0 else stable_id(order.id, key), kind="sign", line=key, note=note,
                             **told))  # fmt: skip
        if not rest:
            uow.add(GateNote(id=order.id, kind="sign", note=note[:LONGEST], **told))
    else:
        line = order.id if order.kind == "add" else order.line[:120]
        day = order.day if order.kind == "asked" else None
        uow.add(GateNote(id=order.id, kind=order.kind, line=line, note=note[:LONGEST], day=day, **told))
    uow.changed("gate", part.id)
    return Kept(order.id)


def _guest(uow: UnitOfWork, order: NoteGate) -> Guest | None:
    """The inspector who notes it, where it is one: they sign that they have seen it, and change nothing."""
    if uow.who is None or uow.who.guest_id is None:
        return None
    if order.kind != "seen":
        raise NotYours("An inspector signs what they have seen; everything else is the crew’s.")
    return uow.get(Guest, uow.who.guest_id)


def _may(uow: UnitOfWork, part: BuiltPart, order: NoteGate, found: Closing, note: str, who: str, now: datetime) -> None:
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
        looks_at(found, who, _crew_ids(uow))
    elif order.kind == "reopen":
        if not found.signed:
            raise Refused("kind", "it is not signed, so there is nothing to open again")
        if order.step_key in finished_at(uow, part.id):
            raise Refused("kind", "it is closed: what closes it is on. Take that work back first, or cut it open and "
                          "write down a deviation")  # fmt: skip
        if not note or not who:
            raise Refused("note" if who else "crew_member_id", "say who opens it again, and why")
    elif order.kind == "asked":
        if order.day is None:
            raise Refused("day", "say for which day the inspector is asked")
        between("day", (order.day - now.date()).days, -1, 730, unit="days", name="the inspector's day, from today,")
    elif order.kind == "seen" and not note:
        raise Refused("note", "say who saw it, and where it is signed; or why it need not be seen")


def _crew_ids(uow: UnitOfWork) -> frozenset[str]:
    return frozenset(row.id for row in crew_of(uow))


def _line(words: str) -> str:
    takes_min(words)
    if not words or len(words) > LONGEST:
        raise Refused("note", f"the line has {len(words)} letters; it has 1 to {LONGEST}")
    return words


def speaks_against_gate(uow: UnitOfWork, part: BuiltPart, step: Step) -> str:
    """Why a closing can't be begun; ``""`` where it is signed, and seen by an inspector who was asked for."""
    if not closes(step):
        return ""
    found = _for_one(uow, part, next(one for one in part.in_shop if one.in_part == step.key))
    if found.signed:
        return "the inspector who was asked for has not seen it yet" if found.waits else ""
    if found.left:
        return f"{len(found.left)} of {len(found.lines)} lines before it are open: first “{found.left[0].words}”"
    return "nobody has looked and signed yet"


def open_closings(
    uow: UnitOfWork, found: Mapping[str, BuiltPart], facts: Mapping[str, Fact]
) -> list[tuple[Step, Closing]]:
    """Closings that were not begun, as they stand."""
    return [
        (step, closing_of(uow, part, step, found))
        for part in found.values()
        for step in part.in_shop
        if closes(step) and step.key not in facts
    ]


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
        takes_min(words, f"lines.{n}")
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
