"""Every closing with what is left before it, and one closing's list."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import day_words, lasting, minute_of, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.closing import USUAL, Closing, Line
from kiteloom.core.build.step import Step
from kiteloom.store.models import GateNote
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.actions import Action, actions_of
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.gates import OF_ITSELF, closes, closing_of, crew_of, gate_lists, gate_notes, shut_in
from kiteloom.workshop.log.photos import photos_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan

GateState = Literal["open", "ready to sign", "inspector", "signed", "closed"]


@dataclass(frozen=True)
class GateCard:
    """One closing: when it is planned, what is left before it, how many hours that is, and what it shuts in."""

    part_id: str
    step_key: str
    part: str
    step: str
    state: GateState
    when: str
    left: list[str]
    more: int
    lines: int
    hours: str
    shuts_in: list[str]
    asked: str


@dataclass(frozen=True)
class GateListView:
    """One of the shop's own lists."""

    id: str
    version: int
    name: str
    lines: list[str]


@dataclass(frozen=True)
class GatesView:
    """All closings, the soonest first; the shop's lists, and lines to begin one with."""

    gates: list[GateCard]
    lists: list[GateListView]
    usual: list[str]
    caution: str


@dataclass(frozen=True)
class LineView:
    """One line: how it stands, who answers for it, why; ``note_id`` is what photographs belong to. ``of_itself`` when
    the closing gathered it.
    """

    key: str
    words: str
    state: Literal["open", "done", "not needed"]
    sentence: str
    of_itself: bool
    note_id: str
    photos: list[str]


@dataclass(frozen=True)
class GateView:
    """One closing with its list."""

    part_id: str
    step_key: str
    part: str
    step: str
    state: GateState
    when: str
    sentence: str
    hours: str
    lines: list[LineView]
    shuts_in: list[str]
    asked: str
    seen: str
    trail: list[str]
    lists: list[GateListView]
    people: list[Choice]
    actions: list[Action]
    caution: str


_CAUTION = (
    "The kit maker’s manual, local rules and the licensed inspector say what must be seen before something is closed. "
    "A signature here says that somebody looked; it approves nothing."
)


#: What is said of who looked at a closing, opened it again, or was asked to see it.
TOLD = {
    "sign": "Looked and signed",
    "reopen": "Opened again",
    "asked": "Inspector asked for",
    "seen": "Seen by the inspector",
}


def _shop(uow: UnitOfWork, now: datetime) -> ShopPlan:
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    return shop


def gates_view(uow: UnitOfWork, now: datetime) -> GatesView:
    """Every closing."""
    shop = _shop(uow, now)
    found = []
    for part in shop.parts.values():
        for step in part.in_shop:
            if closes(step):
                found.append((_begins(shop, step), _card(uow, shop, part, step)))
    cards = [card for _, card in sorted(found, key=lambda one: (one[1].state == "closed", one[0], one[1].part))]
    return GatesView(cards, _lists(uow), list(USUAL), _CAUTION)


def _lists(uow: UnitOfWork) -> list[GateListView]:
    return [GateListView(row.id, row.version, row.name, list(row.lines)) for row in gate_lists(uow)]


def _begins(shop: ShopPlan, step: Step) -> float:
    placed = shop.plan.by_key.get(step.key)
    return placed.begins if placed is not None else float("inf")


def _state(shop: ShopPlan, step: Step, found: Closing) -> GateState:
    if shop.fact(step.key) is not None:
        return "closed"
    if found.signed:
        return "inspector" if found.waits else "signed"
    return "open" if found.left else "ready to sign"


def _when(shop: ShopPlan, step: Step) -> str:
    placed = shop.plan.by_key.get(step.key)
    if placed is None:
        return "not planned yet"
    return f"closed {shop.saying.at(placed.begins)}" if placed.state != "to do" else shop.saying.at(placed.begins)


def _card(uow: UnitOfWork, shop: ShopPlan, part: BuiltPart, step: Step) -> GateCard:
    found = closing_of(uow, part, step, shop.parts)
    inside = shut_in(part, shop.parts)
    return GateCard(
        part.id,
        step.in_part,
        shop.names[part.id],
        step.name,
        _state(shop, step, found),
        _when(shop, step),
        [line.words for line in found.left[:4]],
        max(len(found.left) - 4, 0),
        len(found.lines),
        _hours_before(shop, found),
        [shop.names[other.id] for other in inside],
        _asked(shop, found) if found.waits else "",
    )


def _hours_before(shop: ShopPlan, found: Closing) -> str:
    """The work that is left of its open lines; ``""`` for none."""
    keys = {key for line in found.left for key in line.steps}
    todo = sum(placed.step.length for placed in shop.plan.placed if placed.step.key in keys and placed.state == "to do")
    minutes = found.minutes + todo
    return lasting(minutes) if minutes else ""


def gate_view(uow: UnitOfWork, part_id: str, step_key: str, now: datetime) -> GateView:
    """One closing with its list."""
    shop = _shop(uow, now)
    part = shop.part(part_id)
    step = next((one for one in part.in_shop if one.in_part == step_key), None)
    if step is None or not closes(step):
        raise Refused("step_key", f"“{step_key[:60]}” closes nothing of {part.name}")
    found = closing_of(uow, part, step, shop.parts)
    rows = gate_notes(uow).get((part_id, step_key), [])
    by_id = {row.id: row for row in rows}
    state = _state(shop, step, found)
    placed = shop.plan.by_key.get(step.key)
    last = {row.line: row for row in rows if row.kind in ("done", "not needed")}
    photos = photos_of(uow, "gate note", [row.id for row in last.values()])
    return GateView(
        part_id,
        step_key,
        shop.names[part_id],
        step.name,
        state,
        _when(shop, step),
        _sentence(shop, found, state, by_id),
        _hours_before(shop, found),
        [
            LineView(line.key, line.words, line.state, _line_words(shop, found, line, last.get(line.key)),
                     line.key.startswith(OF_ITSELF), last[line.key].id if line.key in last else "",
                     photos.get(last[line.key].id, []) if line.key in last else [])
            for line in found.lines
        ],
        [shop.names[other.id] for other in shut_in(part, shop.parts)],
        _asked(shop, found),
        by_id[found.seen].note if found.seen else "",
        [_told(uow, row) for row in rows if row.kind in ("sign", "reopen", "asked", "seen") and not row.line],
        _lists(uow),
        [Choice(row.id, row.name) for row in crew_of(uow)],
        [action for action in actions_of(shop, placed) if action.kind != "gate"] if placed is not None else [],
        _CAUTION,
    )  # fmt: skip


def _line_words(shop: ShopPlan, found: Closing, line: Line, row: GateNote | None) -> str:
    if line.state == "open":
        return ""
    if row is None:
        said = f"finished, by the logbook{_names(shop, line.hands, ': ')}"
    else:
        who = shop.names.get(row.crew_member_id or "", "somebody who left")
        at = shop.saying.at(minute_of(row.happened_at))
        said = f"{who}, {at}{f': {line.why}' if line.why else ''}"
        said = said if line.state == "done" else f"not needed, {said}"
    looked = found.looked.get(line.key, "")
    return f"{said}; {shop.names.get(looked, 'somebody who left')} has looked" if looked else said


def _names(shop: ShopPlan, people: Iterable[str], before: str = "") -> str:
    names = sorted(shop.names.get(person, "somebody who left") for person in people)
    return f"{before}{', '.join(names)}" if names else ""


def _sentence(shop: ShopPlan, found: Closing, state: GateState, by_id: dict[str, GateNote]) -> str:
    if state == "closed":
        return "It is closed."
    if state in ("signed", "inspector"):
        row = by_id[found.signed]
        who = shop.names.get(row.crew_member_id or "", "somebody who left")
        then = "It may be closed" if state == "signed" else "It waits for the inspector"
        return f"{who} looked and signed, {shop.saying.at(minute_of(row.happened_at))}. {then}."
    if found.left:
        again = f" Opened again: {found.reopened}." if found.reopened else ""
        return f"{len(found.left)} of {len(found.lines)} lines are open.{again}"
    if not found.lines:
        return "Nothing is on its list yet: take one of the shop’s lists, or add lines."
    if found.looked:
        left = [line for line in found.lines if line.key not in found.looked]
        hands = _names(shop, frozenset[str]().union(*(line.hands for line in left)))
        who = _names(shop, set(found.looked.values()))
        count = "one line is" if len(left) == 1 else f"{len(left)} lines are"
        seen = f"{who} looked at {len(found.looked)} of {len(found.lines)} lines"
        return f"{seen}; {count} left for somebody else than {hands}."
    return "Every line is done or not needed. Somebody else looks now, and signs."


def _asked(shop: ShopPlan, found: Closing) -> str:
    """For which day an inspector was asked, and of what; ``""`` where none was."""
    day = f"{found.asked_on:%a} {day_words(found.asked_on, shop.saying.zone)}" if found.asked_on is not None else ""
    return ", ".join(words for words in (day, found.asked) if words)


def _told(uow: UnitOfWork, row: GateNote) -> str:
    who = f", {row.crew_member.name}" if row.crew_member else ""
    zone = zone_here(uow)
    asked = f" {row.day:%a} {day_words(row.day, zone)}" if row.day else ""
    at = when(minute_of(row.happened_at), zone)
    return f"{TOLD[row.kind]}{asked}{who}, {at}{f': {row.note}' if row.note else ''}"
