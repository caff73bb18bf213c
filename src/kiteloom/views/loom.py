"""The Loom: every part's steps in time, lane by lane, over the nights and the temperature."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import Interval, joined_up, local_midnight, minute_of, nights
from kiteloom.core.base.problems import between
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.standing import name_of
from kiteloom.core.plan.today import State, opening, state_of
from kiteloom.store.models import Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.against_accepted import Shifted, compared_words, headline, shifted_since, was_then
from kiteloom.views.loom_step import marks_of
from kiteloom.views.part.steps import State as StepState
from kiteloom.views.part.steps import wait_of
from kiteloom.views.part.times import thinned
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Choice, Span
from kiteloom.workshop.base.shop import the_shop
from kiteloom.workshop.plan.kept import accepted
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.standing import last_move
from kiteloom.workshop.plan.studies import Beside
from kiteloom.workshop.plan.wanted import frozen_days, frozen_until

#: What one look may span [days].
LONGEST_DAYS = 120


#: A stretch in whole minutes from the view's ``zero``: a build of hundreds of steps is still a small answer.
Stretch = tuple[int, int]


@dataclass(frozen=True)
class Named:
    """A step as parts built alike have it: its key in the part, and its name."""

    key: str
    name: str


@dataclass(frozen=True)
class Block:
    """A step on its lane: stretches of work, and the minutes of its wait: its start, a knot a stage, its end.

    ``part`` and ``step`` are places in the view's ``parts`` and ``steps``. What is ``fixed`` can't be dragged.
    """

    part: int
    step: int
    state: StepState
    pieces: list[Stretch]
    wait: list[int]
    flags: list[Literal["closes", "pinned", "fixed"]]


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
    pieces: list[Stretch]


@dataclass(frozen=True)
class LoomView:
    """The plan over a stretch of time. Without any temperature there is only ``ask``.

    ``ribbon`` is the temperature at minutes from ``zero`` [min, °C]; ``was`` where the accepted plan had a step
    that has another time now, by ``"part:key"``, when it was asked for.
    """

    now: datetime
    zero: datetime
    span: Span | None
    sentence: str
    parts: list[str]
    part_names: list[str]
    steps: list[Named]
    lanes: list[Lane]
    crew: list[CrewLane]
    nights: list[Stretch]
    closed: list[Stretch]
    ribbon: list[tuple[int, float]]
    recorded_until: datetime | None
    ask: str
    compared: str
    """How the plan stands against the one that was accepted; ``""`` when none was."""
    due: list[Due]
    frozen_until: datetime | None
    freeze_days: int
    shop_version: int
    was: dict[str, Stretch]
    shifted: list[Shifted]
    """What has another time than in the accepted plan, when it was asked for."""
    order: str
    """The name of the order that is shown: what is accepted."""
    moved: str
    """What moved the end, within a day; ``""`` when nothing did."""
    airframes: list[Choice]
    """The airframes of the shop, where it builds several; each can be looked at by itself."""


By = Literal["part", "person", "station"]
#: So many days it shows as it opens.
DAYS = 14


def as_it_opens(uow: UnitOfWork, now: datetime) -> LoomView:
    """The fortnight by part, from the next working day on: it stands on most tablets that show a Loom."""
    return remembered(uow, minute_of(now), "the Loom as it opens", lambda: loom_view(uow, None, DAYS, now))


def loom_view(
    uow: UnitOfWork,
    start: datetime | None,
    days: int,
    now: datetime,
    by: By = "part",
    *,
    compare: bool = False,
    airframe: str = "",
    beside: Beside | None = None,
) -> LoomView:
    """A stretch of the plan in lanes, of one airframe if named; without a start from the next working day on.

    Parameters
    ----------
    beside : Beside or None
        A shop that is supposed: its plan is shown, and the plan there is as what was.
    """
    between("days", days, 1, LONGEST_DAYS, unit="days", name="the stretch shown")
    settings = the_shop(uow)
    frozen = frozen_days(uow)
    minute = minute_of(now)
    rows = uow.all(Project, Project.rank, Project.name)
    airframes = [Choice(row.id, row.name) for row in rows] if len(rows) > 1 else []
    if airframe:
        uow.get(Project, airframe)
    shop = shop_plan(uow, minute) if beside is None else beside.shop
    if shop is None:
        ask = need_temperature().sentence
        return LoomView(
            now,
            now,
            None,
            "",
            [],
            [],
            [],
            [],
            [],
            [],
            [],
            [],
            None,
            ask,
            "",
            [],
            None,
            frozen,
            settings.version,
            {},
            [],
            "",
            "",
            airframes,
        )
    say = shop.saying
    if start is None:
        today, opens = opening(shop.input, minute)
        begin = local_midnight(minute if today else opens or minute, say.zone)
        if beside is not None:  # where the two plans first differ
            begin = local_midnight(beside.differs_from or begin, say.zone)
    else:
        begin = minute_of(start)
        between("start", (begin - minute) / DAY_MIN, -400, 730, unit="days", name="the start, from today,")
    end = local_midnight(minute_of(say.moment(begin) + timedelta(days=days)) + 60, say.zone)
    kept = accepted(uow)
    before = {row["key"]: row for row in kept.rows} if kept else {}
    if beside is not None:
        before = {p.step.key: {"start": p.begins, "end": p.end} for p in beside.now.plan.placed}
        compare = True

    def stretch(interval: Interval) -> Stretch:
        return round(interval[0] - begin), round(interval[1] - begin)

    lanes: list[Lane] = []
    was: dict[str, Stretch] = {}
    differ: set[str] = set()
    """Lanes on which something stands elsewhere than it does: of what is supposed they come first."""
    parts = {part_id: n for n, part_id in enumerate(shop.parts)}
    steps: dict[Named, int] = {}
    for key, name, mine, left in _lanes(shop, by, airframe):
        seen = [p for p in mine if p.start < end and (p.ready or p.end) > begin]
        # A wait keeps a part, and the station it stands on; the people are free again.
        blocks = [
            _block(shop, p, (parts, steps), stretch, by == "part" or (by == "station" and p.step.holds)) for p in seen
        ]
        if beside is not None:  # what is only supposed is not pinned
            blocks = [replace(block, flags=[*block.flags, "fixed"]) for block in blocks]
        moved = {p.step.key: stretch(old) for p in seen if compare and (old := was_then(p, before.get(p.step.key)))}
        was |= moved
        lane = Lane(key, name, state_of(mine, minute), blocks, left)
        if beside is not None and moved:
            lanes.insert(sum(one.id in differ for one in lanes), lane)
            differ.add(lane.id)
        else:
            lanes.append(lane)
    crew = []
    for member in shop.input.crew if by != "person" else ():
        pieces = [
            piece
            for p in shop.plan.placed
            if member.id in p.people and p.state != "done"
            for piece in p.pieces[p.worked :]
            if piece[0] < end and piece[1] > begin
        ]
        crew.append(CrewLane(shop.names.get(member.id, member.id), [stretch(piece) for piece in joined_up(pieces)]))
    closed, at = [], begin
    for opens, closes in shop.input.hours.intervals(begin, end):
        if opens > at:
            closed.append((at, opens))
        at = closes
    return LoomView(
        say.moment(minute),
        say.moment(begin),
        say.span((begin, end)),
        headline(shop) if beside is None else f"Supposed: {headline(shop)[0].lower()}{headline(shop)[1:]}",
        list(parts),
        [shop.names[part_id] for part_id in parts],
        list(steps),
        lanes,
        crew,
        [stretch(night) for night in nights(say.zone, begin, end)],
        [stretch(span) for span in [*closed, *([(at, end)] if at < end else [])]],
        [(round(at - begin), round(c, 1)) for at, c in thinned(shop, begin, end, "", 300)],
        say.perhaps(shop.air.known.recorded_until),
        "",
        compared_words(shop, kept),
        [
            Due(key, what, say.moment(step.not_before))
            for key, what in shop.awaited.items()
            for step in shop.input.steps
            if step.key == key and step.not_before is not None and begin <= step.not_before < end
        ],
        say.perhaps(frozen_until(uow, minute)),
        frozen,
        settings.version,
        was,
        shifted_since(shop, before) if compare else [],
        name_of(shop.plan),
        last_move(uow, DAY_MIN, minute),
        airframes,
    )


def _lanes(shop: ShopPlan, by: By, airframe: str) -> list[tuple[str, str, list[Placed], str]]:
    """Each lane: its id, its name, what is on it, and what of it can't be planned; of one airframe if it is named."""
    shown = {part.id: part for part in shop.parts.values() if airframe in ("", part.airframe_id)}
    every = [p for p in shop.plan.placed if p.step.part in shown]
    if by == "person":
        return [
            (
                member.id,
                shop.names.get(member.id, member.id),
                [p for p in every if member.id in p.people],
                "",
            )
            for member in shop.input.crew
        ]
    if by == "station":
        return [
            (row.id, row.name, [p for p in every if row.id in p.step.stations], "")
            for row in sorted(shop.input.stations, key=lambda station: station.name)
        ]
    found = []
    for part in shown.values():
        left = next((u for u in shop.plan.unplaced if u.step.part == part.id), None)
        why = f"“{left.step.name}” can't be planned: {left.why}." if left else ""
        name = part.name if airframe else shop.names[part.id]
        found.append((part.id, name, shop.by_part.get(part.id, []), why))
    return found


def _block(
    shop: ShopPlan,
    placed: Placed,
    places: tuple[Mapping[str, int], dict[Named, int]],
    stretch: Callable[[Interval], Stretch],
    waits: bool,
) -> Block:
    step, (parts, steps) = placed.step, places
    flags: list[Literal["closes", "pinned", "fixed"]] = ["closes"] if step.gate else []
    flags += ["pinned"] if placed.pinned is not None else []
    flags += ["fixed"] if placed.state != "to do" or step.by_plan else []
    wait = wait_of(placed) if waits else None
    knots = [at for _, at in marks_of(shop, placed) if wait and at < wait[1]]
    return Block(
        parts[step.part],
        steps.setdefault(Named(step.in_part, step.name), len(steps)),
        placed.state,
        [stretch(piece) for piece in placed.pieces],
        [stretch((at, at))[0] for at in (wait[0], *knots, wait[1])] if wait else [],
        flags,
    )
