"""The Loom: every surface's steps in time, lane by lane, over the nights and the temperature."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from kiteloom.core.calendar import local_midnight, minute_of, nights
from kiteloom.core.climate import DAY_MIN
from kiteloom.core.problems import between
from kiteloom.core.schedule.explain import why_not_sooner
from kiteloom.core.schedule.placed import Placed
from kiteloom.core.today import State, opening, state_of
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import need_temperature
from kiteloom.workshop.plan import ShopPlan, shop_plan
from kiteloom.workshop.saying import Degrees, Span
from kiteloom.workshop.steps import State as StepState
from kiteloom.workshop.steps import thread_of, words_of
from kiteloom.workshop.times import ribbon_of

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

    ``held_by`` is the step that held it, ``"surface:key"``, or ``""``.
    """

    id: str
    surface_id: str
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


@dataclass(frozen=True)
class Lane:
    """A surface, or somebody on the crew."""

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


def loom_view(uow: UnitOfWork, start: datetime | None, days: int, now: datetime) -> LoomView:
    """A stretch of the plan; from the next working day on, when no start is given."""
    between("days", days, 1, LONGEST_DAYS, unit="days", name="the stretch shown")
    minute = minute_of(now)
    shop = shop_plan(uow, minute)
    if shop is None:
        return LoomView(now, None, "", [], [], [], [], [], None, need_temperature().sentence)
    say = shop.saying
    if start is None:
        today, opens = opening(shop.job, minute)
        begin = local_midnight(minute if today else opens or minute, say.zone)
    else:
        begin = minute_of(start)
        between("start", (begin - minute) / DAY_MIN, -400, 730, unit="days", name="the start, from today,")
    end = local_midnight(minute_of(say.moment(begin) + timedelta(days=days)) + 60, say.zone)
    lanes = []
    for part in shop.parts.values():
        mine = [p for p in shop.plan.placed if p.step.part == part.id]
        left = next((u for u in shop.plan.unplaced if u.step.part == part.id), None)
        blocks = [_block(shop, p) for p in mine if p.start < end and (p.ready or p.end) > begin]
        why = f"“{left.step.name}” can't be planned: {left.why}." if left else ""
        lanes.append(Lane(part.id, part.name, state_of(mine, minute), blocks, why))
    crew = []
    for member in shop.job.crew:
        pieces = [
            piece
            for p in shop.plan.placed
            if member.id in p.people and p.state != "done"
            for piece in p.pieces[p.worked :]
            if piece[0] < end and piece[1] > begin
        ]
        crew.append(CrewLane(shop.names.get(member.id, member.id), [say.span(piece) for piece in sorted(pieces)]))
    closed, at = [], begin
    for opens, closes in shop.job.hours.intervals(begin, end):
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
    )


def _block(shop: ShopPlan, placed: Placed) -> Block:
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
        step.local,
        step.name,
        placed.state,
        [shop.names.get(person, person) for person in placed.people],
        [say.span(piece) for piece in placed.pieces],
        thread_of(shop, placed),
        marks,
        words_of(shop, placed),
        why_not_sooner(placed, shop.plan.by_key(), shop.names, say.at, say.units),
        step.caution,
        held,
    )


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
