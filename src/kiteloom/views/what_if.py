"""What if: what is supposed, in words; the plan there is beside the plan it would be; what can be supposed here."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import day_words
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.aims import days_of, turnings
from kiteloom.core.plan.few_orders import brings_by
from kiteloom.core.stores.fields import CURING
from kiteloom.store.models import CrewMember, DataSheet, Delivery, JobProduct, OrderLine, PlanStudy, Station, Zone
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.views.against_accepted import was_then
from kiteloom.views.better_order import State, state_of
from kiteloom.workshop.air.climate import zones
from kiteloom.workshop.base.saying import Choice, Saying, joined
from kiteloom.workshop.base.shop import units_of, week_typed, zone_here
from kiteloom.workshop.plan.people import SKILLS, crew_of, stations_of
from kiteloom.workshop.plan.studies import Beside, newest_study, supposed_of, supposed_shop
from kiteloom.workshop.plan.supposing import BEFALLS, Supposed, days_said, together
from kiteloom.workshop.stores.buying import to_come

#: A difference that is told [min].
TOLD_MIN = 30.0

_DAYS = ("Mondays", "Tuesdays", "Wednesdays", "Thursdays", "Fridays", "Saturdays", "Sundays")


@dataclass(frozen=True)
class Measure:
    """One thing in which plans are compared: as it is, and as it would be; ``better`` where that is the better one."""

    name: str
    now: str
    then: str
    better: Literal["now", "then", ""]


@dataclass(frozen=True)
class Replacing:
    """A product that jobs take, and what could be in its place."""

    id: str
    name: str
    to: list[Choice]


@dataclass(frozen=True)
class CanSuppose:
    """What can be supposed here."""

    zones: list[Choice]
    people: list[Choice]
    skills: list[str]
    stations: list[Choice]
    awaited: list[Choice]
    products: list[Replacing]


@dataclass(frozen=True)
class WhatIf:
    """The last what-if: what is supposed, how far it is looked into, and the plan beside the one there is.

    ``mine`` where some of it is the shop's to make so.
    """

    id: str
    state: State
    asked: list[Supposed]
    said: list[str]
    sentence: str
    because: str
    measures: list[Measure]
    fails: list[str]
    mine: bool
    kept: bool
    can: CanSuppose


def what_if(store: Store, uow: UnitOfWork, now: datetime, *, searching: bool) -> WhatIf:
    """The last what-if, compared with the plan there is.

    Parameters
    ----------
    searching : bool
        Whether the worker is at it, or it waits there.
    """
    row, can = newest_study(uow, "what if"), _can(uow)
    if row is None:
        return WhatIf("", "none", [], [], "", "", [], [], mine=False, kept=False, can=can)
    asked, state = supposed_of(row), state_of(row, searching=searching)
    said = [said_of(uow, one) for one in asked]
    mine, kept = any(one.kind not in BEFALLS for one in asked), row.kept_at is not None
    plain = (row.id, state, asked, said)
    if kept or state == "failed" or not row.found:
        but = " but for the weather" if any(one.kind in BEFALLS for one in asked) else ""
        words = f"It is so since {day_words(row.kept_at, zone_here(uow))}{but}." if row.kept_at is not None else ""
        words = words or not_yet(row, state)
        return WhatIf(*plain, words, "", [], [], mine=mine, kept=kept, can=can)
    try:
        beside = supposed_shop(store, uow, row, now)
    except Refused as refused:
        words = f"The shop can't be changed so any more: {refused.sentence}."
        return WhatIf(*plain, words, "", [], [], mine=False, kept=False, can=can)
    assert beside is not None  # it was found
    sentence, because = _words(beside, row.found, asked)
    return WhatIf(*plain, sentence, because, _measures(beside), _fails(beside), mine=mine, kept=False, can=can)


def supposed(store: Store, uow: UnitOfWork, now: datetime) -> Beside | None:
    """The shop as the last what-if supposes it; None where there is none, or it is not looked into yet."""
    row = newest_study(uow, "what if")
    if row is None or row.kept_at is not None or not row.found:
        return None
    try:
        return supposed_shop(store, uow, row, now)
    except Refused:
        return None


def not_yet(row: PlanStudy, state: State) -> str:
    """Why there is no answer yet."""
    if state == "failed":
        return f"It could not be looked into: {row.words}."
    if state == "waiting":
        return "It waits for its turn."
    return "It is being looked into." if state == "looking" else "It was stopped before anything was found."


def _words(beside: Beside, found: Mapping[str, float], asked: Sequence[Supposed]) -> tuple[str, str]:
    """When all ends then; and what of it the change does, not another order alone."""
    say, then, was = beside.now.saying, beside.shop.plan.finish, beside.now.plan.finish
    if then is None or was is None:
        return "Nothing is planned then.", ""
    without = min(found["without"], was)
    brings = brings_by(without, then, {one.does for one in asked})
    if was - without < TOLD_MIN:
        than = f"{_by(say, was - then)} than" if abs(was - then) >= TOLD_MIN else "as"
        return f"All done {say.at(then)}, {than} in the plan there is.", _brings(say, brings, len(asked))
    # Another order alone would be sooner: what the change does is told against that, not against the plan there is.
    than = f"{_by(say, brings)} than without" if abs(brings) >= TOLD_MIN else "no sooner and no later than without"
    anew = f"The plan there is ends {say.at(was)}; placed anew without, it ends {say.at(without)}."
    return f"All done {say.at(then)}, {than}.", anew


def _by(say: Saying, sooner: float) -> str:
    return f"{say.about(sooner)} {'sooner' if sooner > 0 else 'later'}"


def _brings(say: Saying, brings: float, count: int) -> str:
    """What of it the changes do."""
    it, brings_it, costs_it = ("They", "bring", "cost") if count > 1 else ("The change itself", "brings", "costs")
    does = f"{brings_it if brings > 0 else costs_it} {say.about(brings)}"
    return f"{it} {does if abs(brings) >= TOLD_MIN else f'{brings_it} nothing and {costs_it} nothing'}."


def _measures(beside: Beside) -> list[Measure]:
    shops, say = (beside.now, beside.shop), beside.now.saying
    ends = [shop.plan.finish or shop.now for shop in shops]
    hours, turns = [days_of(shop.plan, say.zone) for shop in shops], [turnings(shop.plan) for shop in shops]
    work, days = [round(sum(one.values())) for one in hours], [len(one) for one in hours]
    left = [len(shop.plan.unplaced) for shop in shops]
    moved, ahead = _moved(beside)
    differ = [
        Measure("Days with work", str(days[0]), str(days[1]), ""),
        Measure("Turnings", str(turns[0]), str(turns[1]), _less(turns)),
        Measure("Left out", _steps(left[0]), _steps(left[1]), _less(left)),
    ]
    return [
        Measure("All done", say.at(ends[0]), say.at(ends[1]), _less(ends)),
        Measure("Work ahead", f"{work[0]} h", f"{work[1]} h", _less(work)),
        *(one for one in differ if one.now != one.then),
        _heating(beside, [end - shop.now for end, shop in zip(ends, shops, strict=True)]),
        Measure("At another time", "", f"{moved} of {ahead} steps", ""),
    ]


def _heating(beside: Beside, spans: Sequence[float]) -> Measure:
    """What the heaters of the first two rooms do where they do another thing; where none does, the main shop's."""
    days = [max(span / DAY_MIN, 0.1) for span in spans]
    lifts = [
        {name: much / length for name, much in heats.items()}
        for heats, length in zip((beside.heating_now, beside.heating), days, strict=True)
    ]
    names = [name for name in {**lifts[0], **lifts[1]} if abs(lifts[0].get(name, 0) - lifts[1].get(name, 0)) > 0.2]
    names, units = names[:2], beside.now.saying.units

    def words(which: int) -> str:
        rows = [(name, lifts[which].get(name, 0.0)) for name in names or list(lifts[which])[:1]]
        length = f"for {days[which]:.0f} days"
        said = [f"{name.lower()} +{show(lift, 'difference', units)} {length}" for name, lift in rows if lift]
        return ", ".join(said) or "none"

    took = [sum(lifts[which].get(name, 0.0) for name in names) * days[which] for which in (0, 1)]
    return Measure("Heating", words(0), words(1), _less(took))


def _steps(count: int) -> str:
    return "1 step" if count == 1 else f"{count or 'no'} steps"


def _less(pair: Sequence[float]) -> Literal["now", "then", ""]:
    return "" if abs(pair[0] - pair[1]) < 1e-6 else "now" if pair[0] < pair[1] else "then"


def _moved(beside: Beside) -> tuple[int, int]:
    """How many steps ahead have another time, and how many there are."""
    then = beside.shop.plan.by_key
    ahead = [p for p in beside.now.plan.placed if p.state == "to do" and p.step.key in then]
    moved = [p for p in ahead if was_then(then[p.step.key], {"start": p.begins, "end": p.end}) is not None]
    return len(moved), len(ahead)


def _fails(beside: Beside) -> list[str]:
    """What can't be planned then, and could before."""
    before, names = {one.step.key for one in beside.now.plan.unplaced}, beside.shop.names
    return [
        f"“{one.step.name}” ({names.get(one.step.part, '')}) can't be planned then: {one.why}."
        for one in beside.shop.plan.unplaced
        if one.step.key not in before
    ][:5]


def said_of(uow: UnitOfWork, one: Supposed) -> str:
    """A change in words, as somebody would say it."""
    units, zone = units_of(uow), zone_here(uow)
    if one.kind == "heat":
        held = show(one.value.read("temperature", "value"), "temperature", units) if one.value else ""
        return f"The {uow.get(Zone, one.of).name.lower()} is held at {held} round the clock"
    if one.kind == "person":
        can = f" who can do {joined(one.skills)}" if one.skills else ""
        theirs = {row["weekday"] for row in week_typed(one.week)} if one.week else set()
        days = f", on {joined([_DAYS[day] for day in sorted(theirs)])}" if 0 < len(theirs) < 7 else ""
        return f"{one.name.strip() or 'One more'} on the crew{can}{days}"
    if one.kind == "station":
        return f"{uow.get(Station, one.of).name} serves {one.whole()} more"
    if one.kind == "late":
        delivery = uow.session.get(Delivery, one.of)
        what = delivery.what if delivery is not None else uow.get(OrderLine, one.of).name
        count = one.whole()
        days = f"{abs(count)} day{'s' if abs(count) != 1 else ''}"
        return f"{what[0].upper()}{what[1:]}: {days} {'later' if count >= 0 else 'sooner'}"
    if one.kind == "product":
        return f"{uow.get(DataSheet, one.to).name} in place of {uow.get(DataSheet, one.of).name}"
    first, last = (day_words(day, zone) for day in days_said(one))
    if one.kind == "away":
        return f"{uow.get(CrewMember, one.of).name} is away from {first} to {last}"
    colder = show(one.value.read("temperature difference", "value"), "difference", units) if one.value else ""
    return f"Outside it is {colder} colder from {first} to {last}"


def _can(uow: UnitOfWork) -> CanSuppose:
    zone = zone_here(uow)
    awaited: dict[str, Choice] = {}
    for row in uow.all(Delivery, Delivery.expected_on, Delivery.id):
        if row.arrived_at is None and row.hidden_at is None:
            first = together(uow, row)[0].id
            awaited.setdefault(first, Choice(first, f"{row.what}, {day_words(row.expected_on, zone)}"))
    for line, _ in to_come(uow):
        day = f", {day_words(line.expected_on, zone)}" if line.expected_on else ""
        awaited[line.id] = Choice(line.id, f"{line.name}{day}")
    people, stations = crew_of(uow), stations_of(uow)
    skills = dict.fromkeys([*SKILLS, *(skill for row in people for skill in row.skills)])
    sheets = [row for row in uow.all(DataSheet, DataSheet.name) if row.hidden_at is None]
    taken = {row.data_sheet_id for row in uow.all(JobProduct)}
    products = [
        Replacing(row.id, row.name, [Choice(o.id, o.name) for o in sheets if o.kind == row.kind and o.id != row.id])
        for row in sheets
        if row.id in taken and row.kind in CURING
    ]
    return CanSuppose(
        [Choice(row.id, row.name) for row in zones(uow)],
        [Choice(row.id, row.name) for row in people],
        list(skills),
        [Choice(row.id, row.name) for row in stations],
        list(awaited.values()),
        [one for one in products if one.to],
    )
