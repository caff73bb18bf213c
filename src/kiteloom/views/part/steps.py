"""A placed step as a builder reads it: its work, its wait with the knots of its cure, and why not sooner."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from kiteloom.core.base.calendar import Interval
from kiteloom.core.base.figures import Figure
from kiteloom.core.base.quantities import show
from kiteloom.core.build.step import Estimate, Step
from kiteloom.core.cure.figures import stage_figure
from kiteloom.core.cure.glass import GlassTransition, full_in_reach
from kiteloom.core.cure.post_cure import harden
from kiteloom.core.cure.progress import HORIZON_MIN, CureTimes, Progress, cure_times, follow
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.placed import Placed
from kiteloom.views.open_time import open_words
from kiteloom.workshop.air.climate import BAND_C
from kiteloom.workshop.base.saying import Span
from kiteloom.workshop.build.parts import glass_of
from kiteloom.workshop.plan.learning import learned_words
from kiteloom.workshop.plan.plan import ShopPlan


def estimate_words(step: Step, units: Any) -> str:
    """Where a step's minutes come from."""
    estimate: Estimate | None = step.estimate
    if estimate is not None:
        return f"Hands-on, assumed: {estimate.words(step.people, units)}."
    people = f"{step.people} people" if step.people != 1 else "1 person"
    return f"Hands-on, as this shop says: {step.minutes:.0f} min, {people}."


def _stalled_words(stalled_h: float) -> str:
    """That a cure stands still for a while, and that more than later hours may follow from it."""
    if stalled_h < 0.05:
        return ""
    words = f"Too cold for {stalled_h:.1f} h of this wait: the cure stands still then."
    return (
        f"{words} What lies uncured in cold damp air may blush and stay weak: wash it, and let the witness decide, "
        "not the later hour."
    )


State = Literal["to do", "running", "paused", "done"]


FULL = "full"


@dataclass(frozen=True)
class Knot:
    """A stage of a cure: when, early and late, and in words. ``figure`` says from what."""

    name: str
    at: datetime | None
    early: datetime | None
    late: datetime | None
    words: str
    reached: bool
    figure: Figure | None


@dataclass(frozen=True)
class StepView:
    """A step in time: its work, its wait's end, and the knots of its cure."""

    part_id: str
    key: str
    name: str
    minutes: float
    people: int
    who: list[str]
    estimate: str
    caution: str
    own: bool
    edited: bool
    state: State
    note_id: str
    start: datetime
    end: datetime
    ready: datetime | None
    pieces: list[Span]
    thread: Span | None
    knots: list[Knot]
    stalled: str
    words: str
    why: str
    learned: str
    learned_used: bool
    awaited: str
    has_sheet: bool
    unserved: list[str]
    job: str
    version: int
    open_time: str
    """That it outlasts its first mix, and what would help."""
    stations: list[str]
    """The kinds of place a step of the shop's own needs."""
    skipped: str
    """Why it does not apply here; ``""`` where it does."""


def step_view(shop: ShopPlan, placed: Placed) -> StepView:
    """One step of a plan."""
    step, say = placed.step, shop.saying
    part = shop.parts[step.part]
    made_up = step.by_plan
    glass = None if made_up else glass_of(part, step.in_part)
    knots: list[Knot] = []
    stalled = 0.0
    if placed.cure is not None and placed.mixed is not None and not placed.spoilt:
        air = shop.air_at(placed)
        progress = follow(placed.cure, placed.mixed, air.profile, humidity=air.humid)
        times = cure_times(placed.cure, placed.mixed, air.profile, BAND_C, air.humid)
        knots = knots_of(shop, placed, times, progress, glass)
        stalled = progress.stalled_by((placed.ready or placed.mixed + HORIZON_MIN) - placed.mixed)
    return StepView(
        part.id,
        step.in_part,
        step.name,
        step.minutes,
        step.people,
        [shop.names.get(person, person) for person in placed.people],
        estimate_words(step, say.units),
        step.caution_in(say.units),
        step.own,
        step.estimate is None and not step.own and not made_up,
        placed.state,
        shop.done.last_note.get(step.key, ""),
        say.moment(placed.start),
        say.moment(placed.end),
        say.perhaps(placed.ready),
        [say.span(piece) for piece in placed.pieces],
        thread_of(shop, placed),
        knots,
        _stalled_words(stalled),
        words_of(shop, placed),
        why_not_sooner(placed, shop.plan.by_key, shop.names, say.at, say.units),
        learned_words(part, step, shop.learned, used=shop.uses_learned),
        shop.uses_learned,
        shop.awaited.get(step.key, ""),
        step.called_out,
        [] if made_up else [kind for kind in part.step(step.in_part).stations if kind not in shop.served],
        step.job,
        0 if made_up else part.job_of(step.in_part).version,
        open_words(shop, placed),
        list(part.step(step.in_part).stations) if step.own else [],
        shop.done.reasons.get(step.key, "") if (fact := shop.fact(step.key)) is not None and fact.skipped else "",
    )


def wait_of(placed: Placed) -> Interval | None:
    """Its wait, from the mix or the end of the work until it is over; None when there is none, or no end of it."""
    if placed.ready is None or placed.ready <= placed.end:
        return None
    return placed.mixed if placed.mixed is not None else placed.end, round(placed.ready)


def thread_of(shop: ShopPlan, placed: Placed) -> Span | None:
    """The same in the shop's time."""
    wait = wait_of(placed)
    return shop.saying.span(wait) if wait else None


def words_of(shop: ShopPlan, placed: Placed) -> str:
    """When its work is, and from when to check it."""
    step, say = placed.step, shop.saying
    left = shop.left_g(step.key)
    still = f", {show(left, 'mass', say.units)} of it still to mix" if left > 0 else ""
    fact = shop.fact(step.key)
    if placed.state == "done":
        mixed = fact is not None and bool(fact.mixed)
        verb, at = ("Last batch mixed", placed.mixed) if mixed else ("Finished", placed.end)
        first = f"{verb} {say.at(at if at is not None else placed.end)}{still if mixed else ''}"
    elif placed.state == "running":
        first = f"Being worked on since {say.at(placed.pieces[-1][0])}, to about {say.at(placed.end, shop.now)}{still}"
    else:
        first = f"{say.at(placed.begins)} to {say.at(placed.end, placed.begins)}"
        if placed.state == "paused":
            first = f"Begun {say.at(placed.start)}; taken up again {first}"
    if placed.spoilt:
        signed = f"signed for {say.at(placed.ready)}" if placed.ready is not None else "somebody must decide and sign"
        return f"{first}; out of its ratio or marked bad: no clock holds for it, {signed}."
    if step.wait_stage is None:
        if not step.wait_min:
            return f"{first}."
        return f"{first}; then let it stand until {say.at(placed.ready or placed.end, placed.end)}."
    if placed.ready is None:
        return f"{first}; not ready for “{step.wait_stage}” within 60 days."
    if placed.ready <= shop.now and placed.state == "done":
        release = shop.releases.get(step.key)
        if release is not None and release.released:
            return f"{first}; “{step.wait_stage}” was read, and it is released."
        if any(p.state != "to do" and any(link.step == step.key for link in p.step.after) for p in shop.plan.placed):
            return f"{first}."
    if placed.ready <= shop.now:
        return f"{first}; check for “{step.wait_stage}”, due since {say.at(placed.ready)}."
    return f"{first}; check for “{step.wait_stage}” from {say.at(placed.ready)}."


def knots_of(
    shop: ShopPlan, placed: Placed, times: CureTimes, progress: Progress, glass: GlassTransition | None
) -> list[Knot]:
    """The stages of a cure; full only where its glass transition lets it."""
    assert placed.cure is not None
    assert placed.mixed is not None
    say, mixed, knots = shop.saying, placed.mixed, []
    air = shop.air_at(placed)
    for stage in times.stages:
        at, early, late = (None if m is None else mixed + m for m in (stage.minutes, stage.early, stage.late))
        words = ""
        if stage.name == FULL and glass is not None:
            reach = full_in_reach(glass, air.profile, mixed)
            if reach.warm_at is None:
                at = early = late = None
                words = _out_of_reach(glass, reach.warmest_c, shop)
            else:
                at, early, late = (None if t is None else max(t, reach.warm_at) for t in (at, early, late))
            heat = _full_by_heat(shop, placed, glass)
            if heat is not None and (at is None or heat < at):
                at = early = late = heat
                words = f"{say.at(heat)}, by its post-cure"
        span = stage.minutes if stage.minutes is not None else HORIZON_MIN
        figure = None
        if not words:  # where its glass transition says when, the hours of the sheet do not
            figure = stage_figure(
                placed.cure,
                stage,
                air.profile.mean(mixed, mixed + span),
                progress.stalled_by(span),
                air.words,
                air.known.assumed(mixed, mixed + span),
                air.mean_rh(mixed, mixed + span),
            )
        knots.append(
            Knot(
                stage.name,
                say.perhaps(at),
                say.perhaps(early),
                say.perhaps(late),
                words or _knot_words(shop, at, early, late),
                at is not None and at <= shop.now,
                figure,
            )
        )
    return knots


def _full_by_heat(shop: ShopPlan, placed: Placed, glass: GlassTransition) -> float | None:
    """When a post-cure has brought its glass transition to that of full: by the end of its last hold.

    None without one, or when it does not come so far.
    """
    held, _ = shop.heated.get(placed.step.part, (0.0, 0.0))
    if placed.cure is None or placed.mixed is None or held <= placed.mixed:
        return None
    found = harden(placed.cure, glass, placed.mixed, shop.air_at(placed).profile, held)
    return held if found.glass_then(held) >= glass.full_c else None


def _out_of_reach(glass: GlassTransition, warmest_c: float, shop: ShopPlan) -> str:
    units = shop.saying.units
    stops, full, needs = (
        show(celsius, "temperature", units) for celsius in (warmest_c + glass.above_cure_k, glass.full_c, glass.needs_c)
    )
    return f"out of reach: its glass transition stops near {stops}, full is {full}; it takes a day at {needs}"


def _knot_words(shop: ShopPlan, at: float | None, early: float | None, late: float | None) -> str:
    if at is None:
        return "not within 60 days"
    say = shop.saying
    soonest = early if early is not None else at
    ends = [soonest, at, *([late] if late is not None else [])]

    def named(minute: float) -> str:
        # Where one of them is of another day, each names its own.
        other = next((m for m in ends if say.moment(m).date() != say.moment(minute).date()), at)
        return say.at(minute, other)

    latest = "later than 60 days" if late is None else named(late)
    words = f"between {named(soonest)} and {latest}"
    return f"{say.at(at)} ({words})"
