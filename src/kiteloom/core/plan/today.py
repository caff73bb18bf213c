"""What to do now: the first thing, what fits before closing and cures overnight, what is held."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.airs import Airs
from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.input import TURN, PlanInput, Thing
from kiteloom.core.plan.place import if_next
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan

State = Literal["planned", "in work", "curing", "done"]


def opening(job: PlanInput, now: float) -> tuple[Interval | None, float | None]:
    """The open hours it is now, None when closed, and when the shop opens next [min].

    >>> it_is_open, then = opening(small, small.start)
    >>> it_is_open == (at("14T09:00"), at("14T18:00")), then == at("15T09:00")
    (True, True)
    """
    spans = job.hours.intervals(now - 1440, now + 15 * 1440)
    today = next((span for span in spans if span[0] <= now < span[1]), None)
    after = today[1] if today else now
    return today, next((span[0] for span in spans if span[0] > after), None)


@dataclass(frozen=True)
class First:
    """The thing to do: start or go on with a step, finish one, or wait for the next."""

    kind: Literal["start", "finish", "wait", "nothing"]
    placed: Placed | None = None


def first_thing(plan: Plan, now: float, *, is_open: bool) -> First:
    """What comes first.

    Whatever can start at once, and of that what a cure has just let go (a builder's morning
    begins with what cured overnight); then what is being worked on; then what comes next.

    >>> first_thing(plan, plan.start, is_open=True).placed.step.name
    'Prepare the bed'
    """
    by_key = plan.by_key

    def let_go(placed: Placed) -> bool:
        waits = (by_key.get(link.step) for link in placed.step.after)
        return any(w is not None and w.step.wait_stage is not None and w.done for w in waits)

    ahead = [p for p in plan.placed if p.state in ("to do", "paused")]
    at_once = [p for p in ahead if p.begins <= now + GRID_MIN]
    first = min(at_once or ahead, key=lambda p: (not let_go(p), p.begins), default=None)
    if is_open and at_once:
        return First("start", first)
    running = next((p for p in plan.placed if p.state == "running"), None)
    if running is not None:
        return First("finish", running)
    return First("wait", first) if first is not None else First("nothing")


def way_is_free(plan: Plan, placed: Placed, now: float) -> bool:
    """Whether all that comes before a step is done and cured now: only hours, people or stations hold it."""
    by_key = plan.by_key
    events = [plan.event(by_key[link.step], link.until) for link in placed.step.after if link.step in by_key]
    return all(event is not None and event <= now for event in events)


@dataclass(frozen=True)
class Fit:
    """A step that can be begun today: when last, when it is ready then, and what the night makes of it.

    When it can be cured by opening, ``latest`` is the last start for which it still is; else
    the last at which the work ends by closing.
    """

    placed: Placed
    latest: float
    ready: float
    cured_by_opening: bool
    frees: tuple[str, ...]


def fits_before_closing(job: PlanInput, now: float, ground: Ground | None = None) -> list[Fit]:
    """What could be mixed before closing, best use of the night first.

    Only work whose way is free counts, with the people and stations not busy now. What can be
    cured when the shop opens again comes first, what must be begun soonest leading; then what
    can't, the soonest ready leading. ``ground`` is what the plan stands on, where that is known.
    """
    ground = ground or Ground(job)
    today, opens = opening(job, now)
    if today is None or opens is None:
        return []
    found = []
    frees: dict[str, list[str]] = defaultdict(list)
    for step in job.steps:
        for before in dict.fromkeys(link.step for link in step.after):
            frees[before].append(step.name)
    for key, placed in if_next(job, ground, cures=True).items():
        step = placed.step
        if step.wait_stage is None or placed.ready is None or placed.end > today[1]:
            continue
        length = placed.end - placed.start
        last = (today[1] - length) // GRID_MIN * GRID_MIN
        cured = placed.ready <= opens
        ready = _ready(ground.airs, placed, last + length)
        while cured and last > placed.start and (ready is None or ready > opens):
            last -= GRID_MIN
            ready = _ready(ground.airs, placed, last + length)
        if last <= placed.start:
            last, ready = placed.start, placed.ready
        found.append(Fit(placed, last, ready if ready is not None else placed.ready, cured, tuple(frees[key])))
    return sorted(found, key=lambda fit: (not fit.cured_by_opening, fit.latest if fit.cured_by_opening else fit.ready))


def _ready(airs: Airs, placed: Placed, mixed: float) -> float | None:
    assert placed.cure is not None
    assert placed.step.wait_stage is not None
    return airs.reaches(placed.cure, mixed, placed.cure.hours(placed.step.wait_stage), placed.air)


def held(plan: Plan, now: float, until: float) -> list[Placed]:
    """For each part, its next step that can't begin before a time, unless something of it goes on before.

    >>> [placed.step.key for placed in held(laid, laid.start, laid.start + 30)]
    ['peel']
    """
    seen: dict[str, Placed] = {}
    for placed in sorted(plan.placed, key=lambda p: p.begins):
        if placed.state in ("to do", "paused"):
            seen.setdefault(placed.step.part, placed)
    busy = {p.step.part for p in plan.placed if p.state == "running"}
    return [p for p in seen.values() if p.begins > max(until, now + GRID_MIN) and p.step.part not in busy]


def curing(plan: Plan, now: float) -> list[Placed]:
    """Live waits, the soonest ready first; those that are never ready come last.

    >>> [placed.step.key for placed in curing(laid, laid.start)]
    ['layup']
    """
    live = [p for p in plan.placed if _waits(p, now)]
    return sorted(live, key=lambda p: p.ready if p.ready is not None else float("inf"))


def _waits(placed: Placed, now: float) -> bool:
    """Whether its wait is still on. What has none is over, also when a clock that went back says it lies ahead."""
    wait = placed.mixed is not None or placed.step.wait_min > 0
    return placed.state == "done" and wait and (placed.ready is None or placed.ready > now)


def state_of(placed: Iterable[Placed], now: float) -> State:
    """A part's state, from its steps.

    >>> state_of(plan.placed, plan.start), state_of(laid.placed, laid.start)
    ('planned', 'curing')
    """
    steps = list(placed)
    if any(p.state == "running" for p in steps):
        return "in work"
    if any(_waits(p, now) for p in steps):
        return "curing"
    if not any(p.state in ("to do", "paused") for p in steps):
        return "done" if steps else "planned"
    return "in work" if any(p.state != "to do" for p in steps) else "planned"


def missed(plan: Plan, step: Step) -> list[Placed]:
    """What was done so long ago that a step can't follow it in time any more: it must be done again.

    >>> from kiteloom.core.build.step import After
    >>> soon = replace(small.steps[2], after=(After("layup", "end", within_min=60),))
    >>> [placed.step.key for placed in missed(laid, soon)]
    ['layup']
    """
    by_key = plan.by_key
    found = []
    for link in step.after:
        before = by_key.get(link.step)
        if link.tight and before is not None and before.done and plan.deadline(before, link) < plan.start:
            found.append(before)
    return found


def faded_in(plan: Plan, facts: Mapping[str, Fact]) -> frozenset[str]:
    """Steps that made something ready which does not stay so until what follows can begin: done, but to be done again.

    >>> from kiteloom.core.build.step import After
    >>> from kiteloom.core.plan.place import place
    >>> wipe = Step("wipe", "Wipe", 30, fades=True)
    >>> glue = Step("glue", "Glue", 30, after=(After("wipe", "end", within_min=60),))
    >>> facts = {"wipe": Fact(finished=0.0)}
    >>> faded_in(place(replace(small, steps=(wipe, glue), facts=facts)), facts)
    frozenset({'wipe'})
    """
    held = [left.step for left in plan.unplaced if left.missed]
    return frozenset(
        link.step
        for step in held
        for link in step.after
        if link.tight and link.step in facts and link.step in plan.by_key and plan.by_key[link.step].step.fades
    )


@dataclass(frozen=True)
class AsItLies:
    """A thing as it lies now: what of it can still be done so, and the turning that ends it, if one is planned."""

    thing: Thing
    steps: tuple[Placed, ...]
    turn: Placed | None


def as_it_lies(job: PlanInput, plan: Plan) -> list[AsItLies]:
    """Things that were begun, with all that needs their present way, before they are turned."""
    found = []
    for thing in job.things:
        if not thing.way:
            continue
        begins = f"{thing.part or thing.id}:{TURN}"
        turns = [p for p in plan.placed if p.step.key.startswith(begins) and p.state != "done"]
        until = turns[0].start if turns else float("inf")
        steps = tuple(
            p
            for p in plan.placed
            if p.step.thing == thing.id
            and p.step.way == thing.way
            and p.state in ("to do", "paused")
            and p.begins <= until
        )
        if steps or turns:
            found.append(AsItLies(thing, steps, turns[0] if turns else None))
    return found
