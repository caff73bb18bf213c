"""Work on a step: started, paused, finished, taken back. Hours are kept as a side effect."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import select

from kiteloom.core.base.calendar import last_at, minute_of, moment_of, when
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import Step
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.log.work import Kind, fact_of, speaks_against
from kiteloom.core.need.resin import worth_mixing
from kiteloom.core.plan.input import TURN, Thing
from kiteloom.core.stores.sheets import cure_from
from kiteloom.store.models import Assembly, CrewMember, Joint, Part, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import in_shop_zone, zone_here
from kiteloom.workshop.build.parts import BuiltPart, built_part, part_as_built, steps_in_shop
from kiteloom.workshop.log.faces import speaks_against_faces
from kiteloom.workshop.log.gates import speaks_against_gate
from kiteloom.workshop.log.hinges import BALANCE, speaks_against_balance
from kiteloom.workshop.log.measured import unread
from kiteloom.workshop.log.mixes import on_steps
from kiteloom.workshop.log.notes import notes_from, standing_notes
from kiteloom.workshop.log.outside import held_by, outside
from kiteloom.workshop.log.witness import releases, unreleased_before
from kiteloom.workshop.stores.lots import sheets_of_batches


@dataclass(frozen=True)
class NoteWork:
    """An order to note work on a step. The client makes the id, so a retry adds nothing.

    ``at`` is a time of day as typed, for what was forgotten: the last time the clock showed it. ``note`` is
    why it goes before its time.
    """

    id: str
    part_id: str
    step_key: str
    kind: Kind
    crew: tuple[str, ...] = ()
    happened_at: datetime | None = None
    at: str = ""
    again: bool = False
    note: str = ""


@dataclass(frozen=True)
class Noted:
    """What was noted, in words; ``added`` is False when it was there already."""

    id: str
    kind: Literal["start", "pause", "finish", "skip", "undo"]
    added: bool
    words: str


def note_work(uow: UnitOfWork, order: NoteWork, now: datetime) -> Noted:
    """Note that a step was started, paused or finished.

    A step that somebody else has finished meanwhile is not finished twice: their note stands.
    """
    same = {"part_id": order.part_id, "step_key": order.step_key, "kind": order.kind}
    known = uow.kept_already(Work, order.id, **same)
    if known is not None:
        return Noted(known.id, cast(Kind, known.kind), False, "This was noted before; nothing was added.")
    found = part_as_built(uow, order.part_id)
    turns = order.step_key.startswith(TURN)
    step = turn_step(found.name, order.step_key) if turns else found.step(order.step_key)
    zone = zone_here(uow)
    told = moment_of(last_at(order.at, minute_of(now), zone)) if order.at.strip() else None
    happened = told or in_shop_zone(uow, order.happened_at) or now
    if happened > now:
        raise Refused("happened_at", "the work lies in the future; it can't be later than now")
    between("happened_at", (now - happened).days, high=366, unit="days", name="the work's age")
    rows = [row for row in standing_notes(uow, order.part_id) if row.step_key == order.step_key]
    minute = minute_of(happened)
    fact = fact_of(notes_from(rows))
    if order.kind == "finish" and fact.finished is not None:
        last = next(row for row in reversed(rows) if row.kind == "finish")
        at = when(minute_of(last.happened_at), zone, minute_of(now))
        return Noted(last.id, "finish", False, f"“{step.name}” was finished already, {at}; nothing was added.")
    against = speaks_against(order.kind, fact, minute, again=order.again)
    if against is not None:
        raise Refused("kind", f"“{step.name}” of {found.name}: {against}")
    parts = _with_others(uow, found)
    linked = {step.in_part if step.part == found.id else step.key: step for step in steps_in_shop(parts)}
    waits = unreleased_before(linked.get(step.key, step), releases(uow)) if order.kind != "pause" else []
    if waits and not fact.pieces and fact.running_since is None:
        before = next(s.name for s in linked.values() if s.key == waits[0])
        raise Refused(
            "release",
            f"“{step.name}” waits for a reading: “{before}” is not released. Press the witness, "
            "and write down how it is",
        )
    for member in order.crew:
        uow.get(CrewMember, member)
    if order.kind == "skip" and not order.note.strip():
        raise Refused("note", f"say in a few words why “{step.name}” does not apply")
    together = f"{found.id}:{step.key}" == found.bond and order.kind in ("start", "finish") and not fact.pieces
    if together and fact.running_since is None and not order.note.strip():
        unready = speaks_against_faces(uow, found, minute)
        if unready:
            raise Refused("note", f"“{step.name}” of {found.name}: {unready}")
    if order.kind in ("start", "finish") and not fact.pieces and fact.running_since is None:
        held = held_by(outside(uow, parts), linked.values()).get(f"{found.id}:{step.key}")
        if held:
            raise Refused("check", f"“{step.name}” of {found.name}: {held}")
        unlooked = speaks_against_gate(uow, found, step)
        if unlooked:
            raise Refused("gate", f"“{step.name}” of {found.name} closes it, and {unlooked}. See Gates")
    if step.kind == BALANCE and order.kind == "finish":
        unbalanced = speaks_against_balance(uow, found)
        if unbalanced:
            raise Refused("reading", f"“{step.name}” of {found.name}: {unbalanced}")
    if order.kind == "finish":
        unread_ = unread(uow, found, step)
        if unread_:
            raise Refused("reading", f"“{step.name}” of {found.name}: {unread_}")
    uow.add(
        Work(
            id=order.id,
            part_id=found.id,
            step_key=step.key,
            step_name=step.name,
            kind=order.kind,
            estimate_min=step.minutes,
            crew=list(order.crew) or list(fact.people),
            note=order.note.strip()[:500],
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("work", order.id)
    verb = {"start": "Started", "pause": "Paused", "finish": "Finished", "skip": "Does not apply:"}[order.kind]
    return Noted(order.id, order.kind, True, f"{verb} “{step.name}”, {when(minute, zone, minute_of(now))}.")


def _with_others(uow: UnitOfWork, part: BuiltPart) -> list[BuiltPart]:
    """What a part is built from, the other joints of its airframe where it is one, and itself."""
    keys = dict.fromkeys([*(other for other, _ in part.after), *_joints(uow, part)])
    return [*(part_as_built(uow, key) for key in keys), part]


def _joints(uow: UnitOfWork, part: BuiltPart) -> list[str]:
    """The other joints of its airframe, for a joint: which come before it follows from all of them."""
    if part.ties is None:
        return []
    query = select(Joint.part_id).join(Part, Part.id == Joint.part_id).join(Assembly, Part.assembly_id == Assembly.id)
    mine = query.where(Assembly.project_id == part.airframe_id, Part.hidden_at.is_(None), Part.id != part.id)
    return list(uow.session.scalars(mine))


def turn_step(name: str, key: str) -> Step:
    """The step a turning's key names."""
    _, _, rest = key.partition("/")
    number, _, way = rest.partition("/")
    if not (number.isascii() and number.isdecimal() and len(number) < 6) or not way or len(way) > 60:
        raise Refused("step_key", f"“{key[:60]}” is not a turning; it reads like {TURN}1/upper side up")
    turn = Thing(name, name).turn(way, int(number))
    return replace(turn, key=key)


def take_back(uow: UnitOfWork, work_id: str, key: str, now: datetime) -> Noted:
    """Take a note back: a new row that names it; the old one stays."""
    if uow.kept_already(Work, key, undoes_id=work_id) is not None:
        return Noted(key, "undo", False, "This was taken back before; nothing was added.")
    row = uow.get(Work, work_id)
    if row.kind == "undo":
        raise Refused("id", "this is a note taken back already; note the work again instead")
    later = [r for r in standing_notes(uow, row.part_id) if r.step_key == row.step_key]
    if row.id not in {r.id for r in later}:
        raise Refused("id", f"“{row.step_name}”: this note was taken back already")
    if later[-1].id != row.id:
        raise Refused("id", f"“{row.step_name}”: something was noted after it; take that back first")
    _nothing_stands_on_it(uow, row)
    uow.add(
        Work(
            id=key,
            undoes_id=row.id,
            part_id=row.part_id,
            step_key=row.step_key,
            step_name=row.step_name,
            kind="undo",
            estimate_min=row.estimate_min,
            crew=row.crew,
            happened_at=row.happened_at,
            recorded_at=now,
        )
    )
    uow.changed("work", key)
    return Noted(key, "undo", True, f"Taken back: “{row.step_name}”, {row.kind}.")


def _nothing_stands_on_it(uow: UnitOfWork, row: Work) -> None:
    """What was begun because a step was through keeps it through: the later one is taken back first."""
    if row.kind not in ("finish", "skip"):
        return
    begun = {note.step_key for note in standing_notes(uow, row.part_id)}
    for step in built_part(uow, row.part_id).steps:
        if step.key in begun and any(link.step == row.step_key for link in step.after):
            raise Refused("id", f"“{step.name}” was begun after “{row.step_name}”; take that back first")


@dataclass(frozen=True)
class Done:
    """What was done in the whole shop: facts by step, the last note of each, grams mixed, and reasons given."""

    facts: dict[str, Fact]
    last_note: dict[str, str]
    mixed_g: dict[str, float]
    reasons: dict[str, str]

    def over(self, key: str) -> bool:
        """Whether a step is said to be finished, by its key in the shop."""
        fact = self.facts.get(key)
        return fact is not None and fact.finished is not None

    def left_g(self, part: BuiltPart, key: str) -> float:
        """What of a step, by its key in the part, is still worth mixing [g]; 0 where none is computed, and once it is
        said to be finished.
        """
        whole = f"{part.id}:{key}"
        need = part.needs.get(key)
        if need is None or self.over(whole):
            return 0.0
        left = need.total_g - self.mixed_g.get(whole, 0.0)
        return left if worth_mixing(left, need.total_g) else 0.0


def done_so_far(uow: UnitOfWork, parts: Mapping[str, BuiltPart]) -> Done:
    """Read notes and batches of every part: batches that count, on the steps they went on."""
    notes: dict[str, list[Work]] = defaultdict(list)
    for row in standing_notes(uow):
        notes[f"{row.part_id}:{row.step_key}"].append(row)
    mixed: dict[str, dict[tuple[int, bool], Mixed]] = defaultdict(dict)
    grams: dict[str, float] = defaultdict(float)
    said, released = sheets_of_batches(uow), releases(uow)
    cures = {text: cure_from(json.loads(text)) for text in set(said.values())}  # one object for all batches of a sheet
    for (part_id, step_key), mixes in on_steps(uow).items():
        key = f"{part_id}:{step_key}"
        stands = released[key]
        for mix in mixes:
            spoilt, undecided = mix.spoilt is not None, mix.batch.id in stands.spoilt
            cure = cures[said[mix.batch.id]]
            if cure is not None:
                decided = stands.decided_at if spoilt and not undecided else None
                mixed[key][id(cure), spoilt] = Mixed(mix.at, cure, spoilt, decided)  # of one product the last
            # What nobody has let through is not counted upon.
            grams[key] += 0.0 if undecided else mix.grams
    keys = {step.key for found in parts.values() for step in found.in_shop}
    keys |= {key for key in notes if key.partition(":")[2].startswith(TURN)}
    facts = {
        key: fact_of(notes_from(notes.get(key, [])), tuple(mixed[key].values()) if key in mixed else ())
        for key in keys
        if key in mixed or key in notes
    }
    reasons = {key: row.note for key, rows in notes.items() for row in rows if row.note}
    return Done(facts, {key: rows[-1].id for key, rows in notes.items()}, dict(grams), reasons)
