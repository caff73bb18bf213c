"""What every step ahead takes, by day from the plan; what of it is there, what comes, and what will be missed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta, tzinfo
from typing import Literal

from kiteloom.core.base.calendar import day_words, minute_of, moment_of
from kiteloom.core.base.quantities import show
from kiteloom.core.build.behind import behind, followers
from kiteloom.core.build.step_id import StepId
from kiteloom.core.need.buying import Held, Wanted, served
from kiteloom.core.stores.wares import Takes, Ware
from kiteloom.store.models import Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.airframes import assemblies_of, parts_here
from kiteloom.workshop.log.ahead import There, items_ahead, on_the_way, takes_ahead, there_of
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.buying import name_of

State = Literal["there", "comes", "short", "uncounted", "no sheet"]


@dataclass(frozen=True)
class Lack:
    """A need with its day, what nothing serves of it, and the day what serves it comes.

    ``by`` is the day it counts from: what can't be planned comes after all that is.
    """

    takes: Takes
    day: date | None
    by: date
    short: float
    comes: date | None


@dataclass(frozen=True)
class OfWare:
    """Everything that is known of one ware: its needs in order of their days, what is there, what is on order."""

    ware: Ware
    name: str
    lacks: tuple[Lack, ...]
    there: There
    coming: tuple[Held, ...]

    @property
    def takes(self) -> float:
        """What all steps ahead take."""
        return sum(lack.takes.amount for lack in self.lacks)

    @property
    def short(self) -> float:
        """What nothing serves."""
        return sum(lack.short for lack in self.lacks)

    @property
    def first(self) -> Lack | None:
        """The first need that is not served."""
        return next((lack for lack in self.lacks if lack.short > 0), None)

    @property
    def counted(self) -> bool:
        """Whether what is there can be told: it is on the shelf by its sheet or an item, and all of it is counted."""
        return self.ware.kind != "name" and not self.there.uncounted

    def state(self, lack: Lack) -> State:
        """How one of its needs stands."""
        if self.ware.kind == "name":
            return "no sheet"
        if self.there.uncounted:
            return "uncounted"
        return "short" if lack.short > 0 else "comes" if lack.comes is not None else "there"


def wares_ahead(uow: UnitOfWork, shop: ShopPlan) -> list[OfWare]:
    """Every ware that a step ahead takes, the first to be missed leading."""
    return remembered(uow, shop.now, "wares ahead", lambda: _wares(uow, shop, takes_ahead(uow, shop.parts, shop.done)))


def items_to_use(uow: UnitOfWork, shop: ShopPlan) -> list[OfWare]:
    """Every item that a step ahead takes, the first to be missed leading."""
    return uow.once("items to use", lambda: _wares(uow, shop, items_ahead(uow, shop.parts, shop.done)))


def _wares(uow: UnitOfWork, shop: ShopPlan, takes: Sequence[Takes]) -> list[OfWare]:
    zone = zone_here(uow)
    today = moment_of(shop.now, zone).date()
    finish = shop.plan.finish if shop.plan.finish is not None else shop.now
    last = max(moment_of(finish, zone).date(), today) + timedelta(days=1)
    by_ware: dict[Ware, list[tuple[Takes, date | None]]] = defaultdict(list)
    for one in takes:
        placed = shop.plan.by_key.get(f"{one.part}:{one.step}")
        day = max(moment_of(placed.begins, zone).date(), today) if placed is not None else None
        by_ware[one.ware].append((one, day))
    coming = on_the_way(uow, today)
    found = []
    for ware, rows in by_ware.items():
        rows.sort(key=lambda row: row[1] or last)
        there, comes = there_of(uow, ware), tuple(coming.get(ware, ()))
        wanted = [Wanted(one.amount, day or last) for one, day in rows]
        missing = served(wanted, [*there.held, *comes], today)
        lacks = tuple(
            Lack(one, day, day or last, short, when) for (one, day), (short, when) in zip(rows, missing, strict=True)
        )
        found.append(OfWare(ware, name_of(uow, ware), lacks, there, comes))

    def asks(one: OfWare) -> tuple[int, date, str]:
        first = one.first if one.counted else None
        waits = any(lack.comes is not None for lack in one.lacks)
        return (0 if first else 3 if one.ware.kind == "name" else 1 if waits else 2,
                (first.day if first else None) or last, one.name)  # fmt: skip

    return sorted(found, key=asks)


@dataclass(frozen=True)
class NeedLine:
    """So much of a ware for a step, and how that stands, in words."""

    ware: str
    name: str
    amount: str
    part_id: str
    part: str
    step_key: str
    step: str
    state: State
    words: str


@dataclass(frozen=True)
class NeedDay:
    """What is needed on a day; without one what can't be planned. ``short`` is the head of its column."""

    day: date | None
    words: str
    short: str
    lines: list[NeedLine]


@dataclass(frozen=True)
class WareRow:
    """One ware: what all steps ahead take, what is there, on order and short, and when that is missed first."""

    ware: str
    name: str
    takes: str
    there: str
    coming: str
    short: str
    state: State
    first: str
    stops: str
    """How much stops without it."""
    part_id: str
    """Of the step that misses it first; ``""`` where none does."""
    step_key: str


@dataclass(frozen=True)
class NeedsView:
    """Needs by day and by ware; of an airframe, an assembly or a part where that is asked for."""

    words: str
    wares: list[WareRow]
    days: list[NeedDay]
    more_days: int
    """Days further ahead that are not shown yet."""
    airframes: list[Choice]
    assemblies: list[Choice]
    parts: list[Choice]
    ask: str


#: So many days of needs are shown at first.
DAYS = 14


def needs_view(
    uow: UnitOfWork, now: datetime, airframe_id: str = "", assembly_id: str = "", part_id: str = "", days: int = DAYS
) -> NeedsView:
    """What is needed when, and what of it is short."""
    shop = shop_plan(uow, minute_of(now))
    airframes = [Choice(row.id, row.name) for row in uow.all(Project, Project.name)]
    if shop is None:
        return NeedsView("", [], [], 0, airframes, [], [], "Say the shop's temperature first: days come from the plan.")
    rows = [
        part for part in uow.all(Part, Part.rank)
        if part.id in shop.parts and assembly_id in ("", part.assembly_id)
        and (not airframe_id or part.id in {one.id for one in parts_here(uow, airframe_id)})
    ]  # fmt: skip
    wanted = {part_id} if part_id else {row.id for row in rows}
    wares = [one for one in wares_ahead(uow, shop) if any(lack.takes.part in wanted for lack in one.lacks)]
    shown, more = _by_day(uow, shop, wares, wanted, days)
    short = [one for one in wares if one.counted and any(k.short > 0 and k.takes.part in wanted for k in one.lacks)]
    words = f"{len(wares)} things are taken by the steps ahead; " + (
        "nothing of it is short." if not short else f"{len(short)} of them are short."
    )
    unnamed = [Choice(row.id, row.name) for row in assemblies_of(uow, airframe_id)] if airframe_id else []
    return NeedsView(words, [_row(uow, shop, one, wanted) for one in wares], shown, more, airframes, unnamed,
                     [Choice(row.id, row.name) for row in rows], "")  # fmt: skip


def _by_day(
    uow: UnitOfWork, shop: ShopPlan, wares: Sequence[OfWare], wanted: set[str], days: int
) -> tuple[list[NeedDay], int]:
    """The first days of needs, what can't be planned the last of all, and how many more days there are."""
    found: dict[date | None, list[tuple[OfWare, Lack]]] = defaultdict(list)
    for one in wares:
        for lack in one.lacks:
            if lack.takes.part in wanted:
                found[lack.day].append((one, lack))
    zone = zone_here(uow)
    order = {"short": 0, "comes": 1, "uncounted": 2, "there": 3, "no sheet": 4}
    every = sorted(found, key=lambda day: day or date.max)
    shown = []
    for day in every[:days]:
        lines = sorted((_line(uow, shop, *row) for row in found[day]), key=lambda line: (order[line.state], line.name))
        words = "Can’t be planned yet" if day is None else weekday_words(day, zone)
        shown.append(NeedDay(day, words, "" if day is None else f"{day:%a} {day.day}", lines))
    return shown, max(len(every) - days, 0)


def _line(uow: UnitOfWork, shop: ShopPlan, one: OfWare, lack: Lack) -> NeedLine:
    takes, zone = lack.takes, zone_here(uow)
    state = one.state(lack)
    words = {
        "there": "there",
        "comes": f"comes {weekday_words(lack.comes, zone)}" if lack.comes is not None else "",
        "short": f"{amount_words(uow, lack.short, takes.measure)} short",
        "uncounted": "not counted",
        "no sheet": "on no sheet",
    }[state]
    amount, step = amount_words(uow, takes.amount, takes.measure), step_name(shop, takes.part, takes.step)
    part = shop.names[takes.part]
    return NeedLine(one.ware.key, one.name, amount, takes.part, part, takes.step, step, state, words)


def _row(uow: UnitOfWork, shop: ShopPlan, one: OfWare, wanted: set[str]) -> WareRow:
    """A ware, as the parts that are looked at take it; what is there is there for all."""
    mine = [lack for lack in one.lacks if lack.takes.part in wanted]
    measure = one.lacks[0].takes.measure
    first = next((lack for lack in mine if lack.short > 0), None) if one.counted else None
    state: State = one.state(first or mine[0])
    if state == "there" and any(lack.comes is not None for lack in mine):
        state = "comes"
    return WareRow(
        one.ware.key,
        one.name,
        amount_words(uow, sum(lack.takes.amount for lack in mine), measure),
        "not counted" if one.there.uncounted else amount_words(uow, one.there.amount, measure) if one.counted else "",
        amount_words(uow, sum(held.amount for held in one.coming), measure) if one.coming else "",
        amount_words(uow, sum(lack.short for lack in mine), measure) if first is not None else "",
        state,
        first_words(uow, shop, first) if first is not None else "",
        stops_words(uow, shop, one) if first is not None else "",
        first.takes.part if first is not None else "",
        first.takes.step if first is not None else "",
    )


def first_words(uow: UnitOfWork, shop: ShopPlan, lack: Lack) -> str:
    """The day something is missed first, and what stops then."""
    name = step_name(shop, lack.takes.part, lack.takes.step)
    day = weekday_words(lack.day, zone_here(uow)) if lack.day is not None else "not planned yet"
    return f"{day}: {name}, {shop.names[lack.takes.part]}"


def stops_words(uow: UnitOfWork, shop: ShopPlan, one: OfWare) -> str:
    """How much stops without a ware: the steps that lack it, and all that stands behind them."""
    links = uow.once("followers in the plan", lambda: followers(shop.input.steps))
    lacking = {f"{lack.takes.part}:{lack.takes.step}" for lack in one.lacks if lack.short > 0}
    there = {step.key: step.part for step in shop.input.steps if step.key not in shop.done.facts
             or shop.done.facts[step.key].finished is None}  # fmt: skip
    after = (behind(lacking, links) - lacking) & set(there)
    said = f"{len(lacking)} {'step stops' if len(lacking) == 1 else 'steps stop'} without it"
    if not after:
        return f"{said}; nothing else stands behind."
    parts = len({there[key] for key in after | lacking if key in there})
    stand = "1 more stands" if len(after) == 1 else f"{len(after)} more stand"
    return f"{said}, {stand} behind: in {parts} {'part' if parts == 1 else 'parts'}."


def step_name(shop: ShopPlan, part_id: str, step_key: str) -> str:
    """What a step is called."""
    part = shop.parts.get(part_id)
    found = next((step.name for step in part.steps if step.key == step_key), "") if part is not None else ""
    return found or StepId.within(part_id, step_key).local


def amount_words(uow: UnitOfWork, amount: float, measure: str) -> str:
    """So much of a ware, as the shop says it; pieces without a point where they are whole."""
    if measure == "count":
        return f"{amount:.0f}" if abs(amount - round(amount)) < 0.005 else f"{amount:.2f}"
    return show(amount, measure, units_of(uow))


def weekday_words(day: date, zone: tzinfo) -> str:
    """A day with its weekday, as other times of the shop are said."""
    return f"{day:%a} {day_words(day, zone)}"
