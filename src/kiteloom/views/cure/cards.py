"""Cures: what is curing now and what will be mixed next, over the temperature it really has; and what if."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from kiteloom.core.air.building import heated
from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.calendar import clock_minutes, local_midnight, minute_of, moment_of, nights
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.cure.progress import HORIZON_MIN, cure_times, follow
from kiteloom.core.plan.placed import Placed
from kiteloom.store.models import Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.cure.place import PartAirView, part_air_view
from kiteloom.views.cure.release import ReleaseView, release_view
from kiteloom.views.part.steps import Knot, knots_of
from kiteloom.views.part.times import ribbon_of
from kiteloom.workshop.air.climate import BAND_C, MAIN, need_temperature
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Degrees, Span
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.build.parts import glass_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan

#: Planned mixes shown behind what cures already.
NEXT = 4


#: A what-if looks no further than this [days].
AHEAD_DAYS = 60


@dataclass(frozen=True)
class CureCard:
    """One cure: its thread over the temperature, its knots, what it has had and what is expected.

    ``work`` is the hands-on work before a mix still to come; its end is when the cure begins.
    """

    part_id: str
    step_key: str
    name: str
    part: str
    product: str
    state: Literal["curing", "reached", "planned"]
    sentence: str
    had: str
    stalled: str
    work: Span
    thread: Span
    open_ended: bool
    span: Span
    knots: list[Knot]
    stage: str
    ribbon: list[Degrees]
    recorded_until: datetime | None
    min_c: float | None
    nights: list[Span]
    release: ReleaseView | None
    place: PartAirView


@dataclass(frozen=True)
class CuresView:
    """Every cure, the soonest first. Without any temperature there is only ``ask``."""

    now: datetime
    cards: list[CureCard]
    temperature: str
    ask: str


@dataclass(frozen=True)
class WhatIf:
    """What to try: another start of a mix still to come, or a heater from one time of day to another."""

    part_id: str
    step_key: str
    start: datetime | None = None
    heater: Typed | None = None
    heater_from: str = ""
    heater_to: str = ""


@dataclass(frozen=True)
class Tried:
    """The same card as it would be, and what that changes."""

    card: CureCard
    sentence: str


def cures_view(uow: UnitOfWork, now: datetime) -> CuresView:
    """What cures, and the next mixes."""
    return remembered(uow, minute_of(now), "cures_view", lambda: _cures_view(uow, now))


def _cures_view(uow: UnitOfWork, now: datetime) -> CuresView:
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        return CuresView(now, [], "", need_temperature().sentence)
    cards = [card_of(uow, shop, placed) for placed in _shown(shop)]
    return CuresView(shop.saying.moment(shop.now), cards, f"Temperature {shop.air.words}.", "")


def _shown(shop: ShopPlan) -> list[Placed]:
    begun = {p.step.key for p in shop.plan.placed if p.state != "to do"}
    waiting = {link.step for step in shop.input.steps if step.key not in begun for link in step.after}
    live = [
        p
        for p in shop.plan.placed
        if p.cure and p.state == "done" and (p.ready is None or p.ready > shop.now or p.step.key in waiting)
    ]
    live += [p for p in shop.plan.placed if p.cure and p.state == "running"]
    # What is due to be checked comes first, the longest overdue leading; then what still cures, the soonest leading.
    live.sort(key=lambda p: p.ready if p.ready is not None else math.inf)
    ahead = sorted((p for p in shop.plan.placed if p.cure and p.state in ("to do", "paused")), key=lambda p: p.begins)
    return live + ahead[:NEXT]


def card_of(uow: UnitOfWork, shop: ShopPlan, placed: Placed) -> CureCard:
    """A cure's card, as the plan has it; it shows a post-cure to its end, the part's own or one that is tried."""
    assert placed.cure is not None
    assert placed.mixed is not None
    say, mixed, step = shop.saying, placed.mixed, placed.step
    part = shop.parts[step.part]
    air = shop.air_at(placed)
    progress = follow(placed.cure, mixed, air.profile, humidity=air.humid)
    times = cure_times(placed.cure, mixed, air.profile, BAND_C, air.humid)
    # What is out of its ratio has no stage that any sheet promises.
    knots = [] if placed.spoilt else knots_of(shop, placed, times, progress, glass_of(part, step.in_part))
    knows = step.wait_stage is not None and placed.cure.has(step.wait_stage)
    wanted = placed.cure.hours(step.wait_stage or "") if knows else placed.cure.last.hours
    had = progress.at(max(shop.now - mixed, 0)) if shop.now > mixed else 0.0
    state: Literal["curing", "reached", "planned"] = "planned"
    if placed.state == "done":
        state = "reached" if placed.ready is not None and placed.ready <= shop.now else "curing"
    until = placed.ready if placed.ready is not None else mixed + 5 * DAY_MIN
    if state == "reached":
        ahead = [mixed + t.minutes for t in times.stages if t.minutes is not None]
        until = next((at for at in ahead if shop.now < at < shop.now + 1.5 * DAY_MIN), shop.now)
    stood = progress.stalled_by(min(shop.now, until) - mixed) if shop.now > mixed else 0.0
    in_all = progress.stalled_by(until - mixed)
    first = min(placed.begins, mixed) - 3 * 60
    until = max(until, shop.heated.get(part.id, (until, until))[1])
    last = max(until, shop.now) + 6 * 60
    return CureCard(
        part.id,
        step.in_part,
        step.name,
        part.name,
        part.product_of(step.in_part)[1],
        state,
        _sentence(shop, placed),
        "" if placed.spoilt else _had(shop, placed, had, wanted),
        "" if placed.spoilt else _stalled(shop, placed, stood, in_all),
        say.span((min(placed.begins, mixed), mixed)),
        say.span((mixed, until)),
        placed.ready is None,
        say.span((first, last)),
        knots,
        step.wait_stage or "",
        ribbon_of(shop, first, last, placed.air),
        say.perhaps(shop.air.known.recorded_until),
        placed.cure.min_c,
        [say.span(night) for night in nights(say.zone, first, last)],
        release_view(uow, part.id, step.in_part) if state != "planned" else None,
        part_air_view(uow, part.id, moment_of(shop.now)),
    )


def _sentence(shop: ShopPlan, placed: Placed) -> str:
    say, stage = shop.saying, placed.step.wait_stage or "full"
    if placed.state in ("to do", "paused"):
        first = f"To be mixed {say.at(placed.begins)}"
    elif placed.state == "running":
        first = "Being mixed now"
    else:
        first = f"Mixed {say.at(placed.mixed or placed.end)}"
    if placed.spoilt:
        return f"{first}. {spoilt_words(shop, placed)}"
    if placed.ready is None:
        return f"{first}: “{stage}” is not reached within 60 days at these temperatures."
    if placed.ready <= shop.now:
        return f"{first}: check for “{stage}” now, due since {say.at(placed.ready)}."
    return f"{first}: check for “{stage}” from {say.at(placed.ready)}."


def spoilt_words(shop: ShopPlan, placed: Placed) -> str:
    """What holds of a mix that is out of its ratio or marked bad."""
    if placed.ready is None:
        return "Out of its ratio or marked bad: no hour of its sheet holds; it waits for somebody to decide and sign."
    return f"Out of its ratio or marked bad; somebody decided and signed {shop.saying.at(placed.ready)}."


def _had(shop: ShopPlan, placed: Placed, had: float, wanted: float) -> str:
    assert placed.cure is not None
    assert placed.mixed is not None
    reference = show(placed.cure.reference_c, "temperature", shop.saying.units)
    stage = placed.step.wait_stage or ""
    if not placed.cure.has(stage):
        stage = placed.cure.last.name
    if shop.now <= placed.mixed:
        return f"“{stage}” takes {wanted:g} h at {reference}."
    mean = show(shop.air_at(placed).profile.mean(placed.mixed, shop.now), "temperature", shop.saying.units)
    real = (shop.now - placed.mixed) / 60
    if had >= wanted:
        return f"{real:.1f} h at {mean} on average count as {had:.1f} h at {reference}; “{stage}” takes {wanted:g}."
    return f"{real:.1f} h at {mean} on average count as {had:.1f} of the {wanted:g} h it takes at {reference}."


def _stalled(shop: ShopPlan, placed: Placed, so_far: float, in_all: float) -> str:
    if placed.cure is None or placed.cure.min_c is None or in_all < 0.05:
        return ""
    least = show(placed.cure.min_c, "temperature", shop.saying.units)
    stands = placed.state == "done" and shop.air_at(placed).profile.at(shop.now) < placed.cure.min_c
    if stands:
        return f"It stands still now: below {least}. So far {so_far:.1f} h, {in_all:.1f} h expected in all."
    if in_all - so_far < 0.05:
        return f"It stood still for {so_far:.1f} h below {least}."
    if so_far >= 0.05:
        return f"It stood still for {so_far:.1f} h below {least}; {in_all:.1f} h expected in all."
    return f"It will stand still for {in_all:.1f} h below {least}."


def try_out(uow: UnitOfWork, order: WhatIf, now: datetime) -> Tried:
    """What another start, or a heater, would make of a cure. Nothing is kept."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    key = f"{order.part_id}:{order.step_key}"
    placed = shop.plan.by_key.get(key)
    if placed is None or placed.cure is None or placed.mixed is None:
        raise Refused("step_key", f"“{order.step_key}” has no cure in the plan of this part")
    before = card_of(uow, shop, placed)
    start = in_shop_zone(uow, order.start, "start")
    if start is not None:
        if placed.state not in ("to do", "paused"):
            raise Refused("start", f"“{placed.step.name}” was mixed already; only a mix still to come can be moved")
        begin = minute_of(start)
        between("start", (begin - shop.now) / DAY_MIN, -1, AHEAD_DAYS, unit="days", name="the start, from now,")
        shift = begin - placed.begins
        placed = replace(
            placed,
            start=placed.start + shift,
            end=placed.end + shift,
            mixed=placed.mixed + shift,
            pieces=tuple((a + shift, b + shift) for a, b in placed.pieces),
        )
    if order.heater is not None:
        zone = uow.session.get(Zone, placed.air) or uow.get(Zone, MAIN)
        shop = _with_heater(shop, order, placed, zone.lag_h)
    assert placed.cure is not None
    assert placed.mixed is not None
    stage = placed.step.wait_stage
    if stage is not None and placed.cure.has(stage):
        air = shop.air_at(placed)
        found = follow(placed.cure, placed.mixed, air.profile, humidity=air.humid).reaches(placed.cure.hours(stage))
        placed = replace(placed, ready=None if found is None else placed.mixed + found)
    after = card_of(uow, shop, placed)
    return Tried(after, _change(shop, before, after))


def _with_heater(shop: ShopPlan, order: WhatIf, placed: Placed, lag_h: float) -> ShopPlan:
    assert order.heater is not None
    assert placed.mixed is not None
    set_c = order.heater.read("temperature", "heater")
    from_min = clock_minutes(order.heater_from or "20:00", "heater_from")
    to_min = clock_minutes(order.heater_to, "heater_to") if order.heater_to.strip() else None
    first = min(shop.now, placed.mixed)
    midnight = local_midnight(max(shop.now, placed.mixed - DAY_MIN / 2), shop.saying.zone)
    begin = midnight + from_min
    if begin + 60 < max(shop.now, placed.mixed - DAY_MIN / 2):
        begin += DAY_MIN
    length = HORIZON_MIN if to_min is None else (to_min - from_min) % 1440 or 1440
    spans = [(begin, begin + length)]
    part_air = shop.air_at(placed)
    known = part_air.profile
    points = known.between(first - DAY_MIN, max(placed.mixed, shop.now) + HORIZON_MIN)
    warm = heated(Profile.of(points), set_c, spans, lag_h)
    air = replace(part_air, known=replace(part_air.known, profile=warm))
    return replace(shop, airs={**shop.airs, placed.air: air})


def _change(shop: ShopPlan, before: CureCard, after: CureCard) -> str:
    was, now = (next((k.at for k in c.knots if k.name == c.stage), None) for c in (before, after))
    stage, say = after.stage, shop.saying
    if now is None:
        return f"“{stage}” would not be reached within 60 days."
    words = f"“{stage}” would be reached {say.at(minute_of(now))}"
    if was is None:
        return f"{words}; as planned it is not reached at all."
    minutes = (now - was).total_seconds() / 60
    if abs(minutes) < 1:
        return f"{words}, as planned."
    return f"{words}, {say.lasting(abs(minutes))} {'later' if minutes > 0 else 'sooner'} than planned."
