"""Today: one sentence and one button; the bench; what fits before closing; what is held."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import local_midnight, minute_of, moment_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import (
    Fit,
    as_it_lies,
    fits_before_closing,
    held,
    missed,
    opening,
)
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.actions import Action, actions_of, to_start, what_of, why_held
from kiteloom.views.open_time import open_words
from kiteloom.views.part.deviations import open_deviations
from kiteloom.views.today.closing import Closing, closing_of
from kiteloom.views.today.day import PersonDay, day_by_person
from kiteloom.views.today.first_sentence import first_words
from kiteloom.views.today.missing import missing_words
from kiteloom.views.today.morning import Morning, morning
from kiteloom.views.today.resume import ResumeCard, resume_card
from kiteloom.views.today.rows import Row, begins_by, bench_rows, due_rows, held_row, later_row, row_of
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.copies import copy_doubt
from kiteloom.workshop.base.memory import BESIDE, remembered
from kiteloom.workshop.base.saying import Span
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.plan.late import late_since_evening
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class Lies:
    """A thing as it lies now: what else needs it so, before it is turned."""

    name: str
    way: str
    words: str
    rows: list[Row]


@dataclass(frozen=True)
class ToDecide:
    """Something found wrong, or read outside its limits, that nobody has decided yet; ``tab`` of its part's page."""

    part_id: str
    tab: Literal["record", "checks", "joint", "leak"]
    words: str


@dataclass(frozen=True)
class TodayView:
    """The page a builder opens first. Without any temperature there is only ``ask``."""

    sentence: str
    detail: str
    caution: str
    actions: list[Action]
    cold: str
    """That it is too cold for open mixes, and what would make them possible; ``""`` when it is not."""
    hours: Span | None
    due: list[Row]
    """What is to be looked at now: witnesses, the longest overdue first."""
    day: list[PersonDay]
    bench: list[Row]
    fits: list[Row]
    fits_words: str
    later: list[Row]
    """What else the plan begins before the shop closes."""
    held: list[Row]
    """What can't begin before closing: those that go soonest, then what can't be planned."""
    done: list[Row]
    done_words: str
    ask: str
    late: str
    """That last night moved the plan: the first sentence then says it, and ``detail`` what can be done meanwhile."""
    moved: str
    """What else is later for it."""
    lies: list[Lies]
    closing: Closing | None
    resume: ResumeCard | None
    decide: list[ToDecide]
    morning: Morning
    """What the shop still has to say before there is a plan, and what is missed."""
    more_held: int
    """How many more are held, later."""
    copies: str = ""
    """That the shop could not be copied, or has not been for long."""


#: So many of what is held stand on Today: who works looks a day or two ahead.
HELD_FIRST = 12


@dataclass(frozen=True)
class HeldView:
    """What is held after those that stand on Today, the soonest first."""

    rows: list[Row]


def today_view(uow: UnitOfWork, now: datetime) -> TodayView:
    """What to do now, with what of it is not there."""
    minute = minute_of(now)

    def told() -> TodayView:
        found = remembered(uow, minute, "today_view", lambda: _today_view(uow, now))
        shop = shop_plan(uow, minute)
        return found if shop is None or found.ask else with_missing(uow, shop, found)

    # Pieces are cut while the plan stands.
    return remembered(uow, minute, "today with what is missing", told, [topic for topic in BESIDE if topic != "cut"])


def with_missing(uow: UnitOfWork, shop: ShopPlan, view: TodayView) -> TodayView:
    """The page with what is not there of each step that could be started."""

    def told(row: Row) -> Row:
        placed = shop.plan.by_key.get(f"{row.part_id}:{row.step_key}")
        return replace(row, words=f"{row.words}{missing_words(uow, shop, placed)}") if placed is not None else row

    first = next((action for action in view.actions if action.kind == "start"), None)
    placed = shop.plan.by_key.get(f"{first.part_id}:{first.step_key}") if first is not None else None
    detail = f"{view.detail}{missing_words(uow, shop, placed)}" if placed is not None else view.detail
    return replace(view, detail=detail, fits=[told(row) for row in view.fits], later=[told(row) for row in view.later])


def _today_view(uow: UnitOfWork, now: datetime) -> TodayView:
    minute = minute_of(now)
    shop = shop_plan(uow, minute)
    begin = morning(uow, has_air=shop is not None)
    if shop is None:
        return _asks(need_temperature().sentence, begin)
    if not shop.parts or begin.next is not None:
        return _asks("" if shop.parts else "No part is here yet.", begin)
    today, opens = opening(shop.input, minute)
    sentence, detail, caution, actions = first_words(shop, is_open=today is not None, opens=opens)
    late = late_since_evening(uow, shop)
    if late is not None:
        meanwhile = f"Meanwhile: {sentence}" if today is not None else sentence
        sentence, detail = late.sentence, " ".join(words for words in (meanwhile, detail) if words)
    until = today[1] if today else opens or minute
    say = shop.saying
    found = fits_before_closing(shop.input, minute, shop.plan.ground)
    fits, fitting = [_fit_row(shop, fit) for fit in found], {fit.placed.step.key for fit in found}
    words = f"The shop closes {say.at(today[1])} and opens {say.at(opens)}." if today and opens else ""
    done, done_words = _done_today(uow, shop)
    lies = _lies(shop)
    shown = fitting | {f"{row.part_id}:{row.step_key}" for lying in lies for row in lying.rows}
    soon = [p for p in shop.plan.placed if begins_by(p, until) and p.step.key not in shown]
    waits = _waits(shop, minute, until, found)
    shop.plan.told({placed.step.key for placed in (*soon, *waits[:HELD_FIRST])})
    return TodayView(
        sentence,
        detail,
        caution,
        actions,
        _too_cold(shop),
        say.span(today) if today else None,
        due_rows(shop),
        day_by_person(uow, shop, until),
        bench_rows(shop),
        fits,
        words,
        [later_row(shop, placed) for placed in soon],
        [held_row(shop, placed) for placed in waits[:HELD_FIRST]] + _left(shop),
        done,
        done_words,
        "",
        late.sentence if late else "",
        late.moved if late else "",
        lies,
        closing_of(uow, shop, today[1] if today else None, opens),
        resume_card(uow, shop),
        [
            ToDecide(one.part.id, one.tab, f"{one.part.name}: {one.name}. {one.words}")
            for one in shop.outside
            if not one.decided
        ]
        + [
            ToDecide(part.id, "record", f"{part.name}: {view.words} {view.sentence}")
            for part, view in open_deviations(uow, moment_of(minute))
        ],
        begin,
        len(waits[HELD_FIRST:]),
        copy_doubt(uow, moment_of(minute)),
    )


def held_later(uow: UnitOfWork, now: datetime) -> HeldView:
    """What Today leaves out of what is held."""
    return remembered(uow, minute_of(now), "held later", lambda: _held_later(uow, minute_of(now)))


def _held_later(uow: UnitOfWork, minute: float) -> HeldView:
    shop = shop_plan(uow, minute)
    if shop is None:
        return HeldView([])
    today, opens = opening(shop.input, minute)
    fits = fits_before_closing(shop.input, minute, shop.plan.ground)
    later = _waits(shop, minute, today[1] if today else opens or minute, fits)[HELD_FIRST:]
    shop.plan.told({placed.step.key for placed in later})
    return HeldView([held_row(shop, placed) for placed in later])


def _waits(shop: ShopPlan, minute: float, until: float, fits: Sequence[Fit]) -> list[Placed]:
    """What can't begin before closing, and is not offered to be begun today all the same."""
    offered = {fit.placed.step.key for fit in fits}
    return [placed for placed in held(shop.plan, minute, until) if placed.step.key not in offered]


def _too_cold(shop: ShopPlan) -> str:
    """That open mixes are held because it is too cold for them here, and what would make them possible."""
    held = [left.step for left in shop.plan.unplaced if left.step.cure is not None and left.step.min_c is not None]
    here = shop.air.profile.at(shop.now)
    needs = [step.min_c for step in held if step.min_c is not None and here < step.min_c]
    if not needs:
        return ""
    units = shop.saying.units
    now, least, most = (show(celsius, "temperature", units) for celsius in (here, min(needs), max(needs)))
    asked = most if least == most else f"{least} to {most}"
    return (
        f"{len(needs)} steps with an open mix are held: it is {now} here, and they need {asked}. "
        "Heat the shop, or take the part where it is warm."
    )


def _asks(ask: str, begin: Morning) -> TodayView:
    return TodayView(
        *("", "", "", [], "", None, [], [], [], [], "", [], [], [], "", ask, "", "", [], None, None, []), begin, 0
    )


def _fit_row(shop: ShopPlan, fit: Fit) -> Row:
    placed, say = fit.placed, shop.saying
    ready = fit.ready
    stage = placed.step.wait_stage
    if fit.cured_by_opening:
        words = f"Begin by {say.time(fit.latest)} and “{stage}” is reached {say.at(ready)}, before the shop opens."
    else:
        words = f"Begin by {say.time(fit.latest)}; “{stage}” is reached only {say.at(ready)}, after the shop opens."
    if fit.frees:
        words += f" It frees “{fit.frees[0]}”."
    too_long = open_words(shop, placed)
    words += f" {too_long}" if too_long else ""
    return row_of(
        shop,
        placed,
        "fits" if fit.cured_by_opening else "soft",
        words,
        [to_start(shop, placed)],
    )


def _lies(shop: ShopPlan) -> list[Lies]:
    """Things that lie one way now, and what is done so before they are turned."""
    found = []
    for lies in as_it_lies(shop.input, shop.plan):
        turn = lies.turn
        if turn is None:
            words = "Nothing turns it after that."
        elif turn.state == "running":
            words = "It is being turned now."
        elif lies.steps:
            words = f"Then it is turned {shop.saying.at(turn.begins)}: {turn.step.name.partition(': ')[2]}."
        else:
            words = (
                f"All is done as it lies; turn it {shop.saying.at(turn.begins)}: {turn.step.name.partition(': ')[2]}."
            )
        rows = []
        for placed in lies.steps:
            now = placed.begins <= shop.now + 5
            actions = actions_of(shop, placed) if now else []
            why = "It can go now." if now else f"{shop.saying.at(placed.begins)}. {why_held(shop, placed)}"
            rows.append(row_of(shop, placed, "fits" if now else "held", why, actions))
        found.append(Lies(lies.thing.name, lies.thing.way, words, rows))
    return found


def _left(shop: ShopPlan) -> list[Row]:
    """The first step of each part that can't be planned at all."""
    rows, seen = [], set()
    for left in shop.plan.unplaced:
        if left.step.part not in seen:
            seen.add(left.step.part)
            words = f"Can't be planned: {left.why}."
            again = [
                Action(
                    "start",
                    f"Do “{before.step.name}” again",
                    what_of(shop, before),
                    before.step.part,
                    before.step.in_part,
                    again=True,
                )
                for before in missed(shop.plan, left.step)
            ]
            where = shop.names[left.step.part]
            rows.append(Row(left.step.part, left.step.in_part, left.step.name, where, words, "held", [], again))
    return rows


def _done_today(uow: UnitOfWork, shop: ShopPlan) -> tuple[list[Row], str]:
    """What was finished since midnight, and the hours of all who worked."""
    midnight = local_midnight(shop.now, zone_here(uow))
    rows, hours = [], 0.0
    for placed in shop.plan.placed:
        fact = shop.fact(placed.step.key)
        if fact is None:
            continue
        people = max(len(fact.people), 1)
        stretches = [*fact.pieces, *([(fact.running_since, shop.now)] if fact.running_since is not None else [])]
        hours += people * sum(max(min(end, shop.now) - max(start, midnight), 0) for start, end in stretches)
        if fact.finished is not None and fact.finished >= midnight:
            took, asked = (shop.saying.lasting(m) for m in (fact.worked_min, placed.step.length))
            words = f"Finished {shop.saying.at(fact.finished)} after {took}; {asked} were planned."
            reason = shop.done.reasons.get(placed.step.key, "")
            words += f" Begun before its time: {reason}." if reason else ""
            note = shop.done.last_note.get(placed.step.key, "")
            undo = (
                [Action("undo", "Take back", what_of(shop, placed), placed.step.part, placed.step.in_part, note)]
                if note
                else []
            )
            rows.append(row_of(shop, placed, "held", words, undo))
    return rows, f"{shop.saying.lasting(hours)} of work today." if hours >= 1 else ""
