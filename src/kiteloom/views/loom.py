"""The Loom: every part's steps in time, lane by lane, over the nights and the temperature."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any, Literal

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import local_midnight, minute_of, nights
from kiteloom.core.base.problems import between
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import State, opening, state_of
from kiteloom.store.models import KeptPlan
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.part.steps import State as StepState
from kiteloom.views.part.steps import thread_of, words_of
from kiteloom.views.part.times import ribbon_of
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saying import Degrees, Span
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.plan.kept import accepted
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.wanted import frozen_days, frozen_until

#: What one look may span [days].
LONGEST_DAYS = 120


@dataclass(frozen=True)
class Mark:
    """A stage on a thread."""

    name: str
    at: datetime


@dataclass(frozen=True)
class Block:
    """A step on its lane: blocks of work, the thread of its wait, and why it is not sooner.

    ``held_by`` is the step that held it, ``"part:key"``, or ``""``.
    """

    id: str
    part_id: str
    key: str
    name: str
    state: StepState
    people: list[str]
    pieces: list[Span]
    thread: Span | None
    marks: list[Mark]
    words: str
    why: str
    caution: str
    held_by: str
    part: str
    gate: bool
    pinned: datetime | None
    was: Span | None
    """When the accepted plan had it, where that differs."""
    movable: bool


@dataclass(frozen=True)
class Due:
    """A delivery that a step waits for."""

    step_id: str
    what: str
    at: datetime


@dataclass(frozen=True)
class Lane:
    """A part, somebody on the crew, or a station."""

    id: str
    name: str
    state: State
    blocks: list[Block]
    left: str


@dataclass(frozen=True)
class CrewLane:
    """When somebody works."""

    name: str
    pieces: list[Span]


@dataclass(frozen=True)
class LoomView:
    """The plan over a stretch of time. Without any temperature there is only ``ask``."""

    now: datetime
    span: Span | None
    sentence: str
    lanes: list[Lane]
    crew: list[CrewLane]
    nights: list[Span]
    closed: list[Span]
    ribbon: list[Degrees]
    recorded_until: datetime | None
    ask: str
    compared: str
    """How the plan stands against the one that was accepted; ``""`` when none was."""
    due: list[Due]
    frozen_until: datetime | None
    freeze_days: int
    shop_version: int


By = Literal["part", "person", "station"]


def loom_view(uow: UnitOfWork, start: datetime | None, days: int, now: datetime, by: By = "part") -> LoomView:
    """A stretch of the plan in lanes; from the next working day on, when no start is given."""
    between("days", days, 1, LONGEST_DAYS, unit="days", name="the stretch shown")
    settings = the_shop(uow)
    frozen = frozen_days(uow)
    minute = minute_of(now)
    shop = shop_plan(uow, minute)
    if shop is None:
        ask = need_temperature().sentence
        return LoomView(now, None, "", [], [], [], [], [], None, ask, "", [], None, frozen, settings.version)
    shop.plan.told()
    say = shop.saying
    if start is None:
        today, opens = opening(shop.input, minute)
        begin = local_midnight(minute if today else opens or minute, say.zone)
    else:
        begin = minute_of(start)
        between("start", (begin - minute) / DAY_MIN, -400, 730, unit="days", name="the start, from today,")
    end = local_midnight(minute_of(say.moment(begin) + timedelta(days=days)) + 60, say.zone)
    kept = accepted(uow)
    before = {row["key"]: row for row in kept.rows} if kept else {}
    lanes = []
    for key, name, mine, left in _lanes(shop, by):
        seen = [p for p in mine if p.start < end and (p.ready or p.end) > begin]
        blocks = [_block(shop, p, before.get(p.step.key)) for p in seen]
        holds = [p.step.holds for p in seen]
        # A wait keeps a part, and the station it stands on; the people are free again.
        keeps = [by == "part" or (by == "station" and held) for held in holds]
        blocks = [b if kept_on else replace(b, thread=None, marks=[]) for b, kept_on in zip(blocks, keeps, strict=True)]
        lanes.append(Lane(key, name, state_of(mine, minute), blocks, left))
    crew = []
    for member in shop.input.crew if by != "person" else ():
        pieces = [
            piece
            for p in shop.plan.placed
            if member.id in p.people and p.state != "done"
            for piece in p.pieces[p.worked :]
            if piece[0] < end and piece[1] > begin
        ]
        crew.append(CrewLane(shop.names.get(member.id, member.id), [say.span(piece) for piece in sorted(pieces)]))
    closed, at = [], begin
    for opens, closes in shop.input.hours.intervals(begin, end):
        if opens > at:
            closed.append((at, opens))
        at = closes
    return LoomView(
        say.moment(minute),
        say.span((begin, end)),
        _sentence(shop),
        lanes,
        crew,
        [say.span(night) for night in nights(say.zone, begin, end)],
        [say.span(span) for span in [*closed, *([(at, end)] if at < end else [])]],
        ribbon_of(shop, begin, end, ""),
        say.perhaps(shop.air.known.recorded_until),
        "",
        _compared(shop, kept),
        [
            Due(key, what, say.moment(max(step.not_before, begin)))
            for key, what in shop.awaited.items()
            for step in shop.input.steps
            if step.key == key and step.not_before is not None and step.not_before < end
        ],
        say.perhaps(frozen_until(uow, minute)),
        frozen,
        settings.version,
    )


def _lanes(shop: ShopPlan, by: By) -> list[tuple[str, str, list[Placed], str]]:
    """Each lane: its id, its name, what is on it, and what of it can't be planned."""
    if by == "person":
        return [
            (
                member.id,
                shop.names.get(member.id, member.id),
                [p for p in shop.plan.placed if member.id in p.people],
                "",
            )
            for member in shop.input.crew
        ]
    if by == "station":
        return [
            (row.id, row.name, [p for p in shop.plan.placed if row.id in p.step.stations], "")
            for row in sorted(shop.input.stations, key=lambda station: station.name)
        ]
    found = []
    for part in shop.parts.values():
        left = next((u for u in shop.plan.unplaced if u.step.part == part.id), None)
        why = f"“{left.step.name}” can't be planned: {left.why}." if left else ""
        found.append((part.id, part.name, [p for p in shop.plan.placed if p.step.part == part.id], why))
    return found


def _compared(shop: ShopPlan, kept: KeptPlan | None) -> str:
    """How much later or sooner the end is than in the accepted plan."""
    if kept is None:
        return ""
    say, end = shop.saying, shop.plan.finish
    of = f"the plan accepted {say.at(minute_of(kept.happened_at))}"
    if kept.finish is None or end is None:
        return f"There was no end in {of}."
    late = end - minute_of(kept.finish)
    before = {row["key"]: row for row in kept.rows}
    later = sum(
        p.state == "to do" and p.step.key in before and p.begins - before[p.step.key]["start"] >= 30
        for p in shop.plan.placed
    )
    steps = f"{later} steps are later than in {of}" if later != 1 else f"1 step is later than in {of}"
    if abs(late) < 30:
        return f"{steps}; the end is the same." if later else f"As in {of}."
    return f"{steps}; the end is {say.lasting(abs(late))} {'later' if late > 0 else 'sooner'}."


def _block(shop: ShopPlan, placed: Placed, before: Mapping[str, Any] | None = None) -> Block:
    step, say = placed.step, shop.saying
    marks: list[Mark] = []
    if placed.cure is not None and placed.mixed is not None and step.wait_stage is not None:
        last = placed.cure.hours(step.wait_stage) if placed.cure.has(step.wait_stage) else float("inf")
        for stage in placed.cure.stages:
            at = (
                shop.plan.airs.reaches(placed.cure, placed.mixed, stage.hours, placed.air)
                if stage.hours <= last
                else None
            )
            if at is not None:
                marks.append(Mark(stage.name, say.moment(round(at))))
    because = placed.because
    held = because.by or (because.of if because.kind in ("after", "cure") else "")
    return Block(
        step.key,
        step.part,
        step.in_part,
        step.name,
        placed.state,
        [shop.names.get(person, person) for person in placed.people],
        [say.span(piece) for piece in placed.pieces],
        thread_of(shop, placed),
        marks,
        words_of(shop, placed),
        why_not_sooner(placed, shop.plan.by_key, shop.names, say.at, say.units),
        step.caution,
        held,
        shop.names.get(step.part, ""),
        step.gate,
        say.perhaps(placed.pinned),
        _was(shop, placed, before),
        placed.state == "to do" and step.kind != "turn",
    )


def _was(shop: ShopPlan, placed: Placed, before: Mapping[str, Any] | None) -> Span | None:
    if before is None or placed.state != "to do" or abs(placed.begins - before["start"]) < 30:
        return None
    return shop.saying.span((before["start"], before["end"]))


def _sentence(shop: ShopPlan) -> str:
    finish, bound = shop.plan.finish, shop.plan.bound
    if finish is None:
        return "Nothing is planned yet."
    say = shop.saying
    words = f"All done {say.at(finish)}"
    if shop.plan.unplaced:
        words += f", but for {len(shop.plan.unplaced)} steps that can't be planned"
    if finish - bound < 60:
        return f"{words}; no plan can end sooner."
    return f"{words}; no plan can end before {say.at(bound)}."
