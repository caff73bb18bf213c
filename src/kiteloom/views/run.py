"""A step's run sheet as it stands, and the same on paper."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from sqlalchemy import and_, select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show, system_of
from kiteloom.core.build.faces import moisture_says, room_says
from kiteloom.core.build.gluing import OTHER_MOIST
from kiteloom.core.build.step import Step
from kiteloom.core.build.task import Item
from kiteloom.core.build.vacuum import beyond_words, gauge_words
from kiteloom.core.plan.placed import Placed
from kiteloom.formats.run_sheet_pdf import run_sheet_page
from kiteloom.store.models import DataSheet, Photo, Tick
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.actions import Action, actions_of
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.cut.codes import PieceCode, codes_of, pieces_words
from kiteloom.workshop.log.faces import ticks_that_count
from kiteloom.workshop.log.irons import dials_for
from kiteloom.workshop.log.open_cups import open_cups
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.sheets import resin_of

#: The stage from which nothing is moved any more.
SETS = "gel"
#: The item at which the pump is on.
ON = "vacuum"


@dataclass(frozen=True)
class ItemView:
    """One instruction, and whether it is ticked."""

    key: str
    words: str
    detail: str
    cloth: str
    warp: tuple[float, float] | None
    woven: bool
    done_at: datetime | None
    asks: Literal["", "look", "vacuum", "moisture"]
    """What is noted with it: who looked as well, what the gauge reads, or the moisture."""
    noted: str


@dataclass(frozen=True)
class HeatView:
    """What an iron is set to: for what, how hot, and where the dial of each iron of the shop stands then."""

    words: str
    temperature: str
    dials: list[str]


@dataclass(frozen=True)
class RunSheet:
    """A step to be worked with wet gloves. Grams are 0 where none is computed."""

    part_id: str
    step_key: str
    name: str
    part: str
    items: list[ItemView]
    mixed_g: float
    budget_g: float
    use_by: datetime | None
    cup: str
    caution: str
    heats: list[HeatView]
    state: str
    crew: list[str]
    actions: list[Action]
    still: str
    """That more of it is still to mix, by what was computed."""
    people: list[Choice]
    """Who may look as well."""
    clamped: bool
    """Whether clamps or a bag must be on while the cup can be used."""
    sets_at: datetime | None
    """When a joint that is together sets, at the temperature it has: its alignment is looked at once more before."""
    batch_id: str
    """The cup that is open for it: photographs belong to it; where there is none, to the step."""
    photos: list[str]
    then: list[Choice]
    """The joint that is worked with the same cup next: its part, and what it is called; with its step after a slash."""


def run_sheet_of(uow: UnitOfWork, part_id: str, step_key: str, now: datetime) -> RunSheet:
    """A step's sheet as it stands."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    step = _step(shop, part_id, step_key)
    items = shop.part(part_id).items_of(step_key)
    if not items:
        raise Refused("step_key", f"“{step.name}” has no run sheet: nothing is called out in it")
    ticks = ticks_that_count(uow, shop.part(part_id), step_key, minute_of(now))
    codes = codes_of(uow, part_id, shop.part(part_id).job_of(step_key).key)
    placed = shop.plan.by_key.get(step.key)
    air = shop.air_at(placed) if placed is not None else shop.air
    room = air.wood_pct(shop.now)
    need = shop.part(part_id).needs.get(step_key)
    with_one_mix = _with_one_mix(shop, step.key)
    cups = [cup for cup in open_cups(uow, now) if f"{cup.part_id}:{cup.step_key}" in with_one_mix]
    return RunSheet(
        part_id,
        step_key,
        step.name,
        shop.names[part_id],
        [_with_pieces(_item(shop, item, ticks, room), codes) for item in items],
        shop.done.mixed_g.get(step.key, 0.0),
        need.total_g if need else 0.0,
        cups[0].until if cups else None,
        cups[0].words if cups else "",
        step.caution,
        [
            HeatView(words, show(celsius, "temperature", units_of(uow)), dials_for(uow, celsius, minute_of(now)))
            for words, celsius in step.heats
        ],
        placed.state if placed else "to do",
        [shop.names.get(person, person) for person in placed.people] if placed else [],
        [action for action in actions_of(shop, placed) if action.kind != "run"] if placed else [],
        _still(shop, step.key),
        [Choice(member.id, shop.names[member.id]) for member in shop.input.crew if member.id in shop.names],
        bool(step.closed_by),
        _sets_at(shop, shop.part(part_id), placed),
        cups[0].batch_id if cups else "",
        _photos(uow, part_id, step.in_part, cups[0].batch_id if cups else ""),
        _then(shop, step.key),
    )


def _with_one_mix(shop: ShopPlan, key: str) -> list[str]:
    """A step and those before it that it shares one mix with, by their keys."""
    found = [key]
    while (placed := shop.plan.by_key.get(found[-1])) is not None:
        before = next((link.step for link in placed.step.after if link.same_mix), None)
        if before is None:
            break
        found.append(before)
    return found


def _sets_at(shop: ShopPlan, part: BuiltPart, placed: Placed | None) -> datetime | None:
    """When what holds a joint gels; None before it is mixed, after it has set, and for what is no joint."""
    fact = shop.fact(placed.step.key) if placed is not None else None
    if placed is None or placed.step.key != part.bond or fact is None or fact.mixed_at is None:
        return None
    cure = placed.cure
    if cure is None or not cure.has(SETS):
        return None
    at = shop.plan.airs.reaches(cure, fact.mixed_at, cure.hours(SETS), placed.air)
    return shop.saying.moment(at) if at is not None and at > shop.now else None


def _photos(uow: UnitOfWork, part_id: str, step_key: str, batch_id: str) -> list[str]:
    of_step = and_(Photo.part_id == part_id, Photo.step_key == step_key)
    query = select(Photo.id).where(Photo.batch_id == batch_id if batch_id else of_step).order_by(Photo.happened_at)
    return list(uow.session.scalars(query))


def _then(shop: ShopPlan, key: str) -> list[Choice]:
    return [
        Choice(f"{placed.step.part}/{placed.step.in_part}", shop.names[placed.step.part])
        for placed in shop.plan.placed
        if placed.state == "to do" and any(link.same_mix and link.step == key for link in placed.step.after)
    ]


def _still(shop: ShopPlan, key: str) -> str:
    left = shop.left_g(key)
    if left <= 0:
        return ""
    grams = show(left, "mass", shop.saying.units)
    return f"{grams} of it are still to mix, by what was computed. Was less taken, or is a cup not written down?"


def _with_pieces(item: ItemView, codes: Mapping[int, list[PieceCode]]) -> ItemView:
    """A ply with what is written on its pieces, before what else is said of it."""
    number = item.key.removeprefix("ply-")
    words = pieces_words(codes.get(int(number) - 1, [])) if item.cloth and number.isdigit() else ""
    return replace(item, detail=f"{words} {item.detail}".strip()) if words else item


def _item(shop: ShopPlan, item: Item, ticks: Mapping[str, Tick], room: float | None) -> ItemView:
    tick = ticks.get(item.key)
    noted = []
    if tick is not None and tick.second_id:
        noted.append(f"{shop.names.get(tick.second_id, 'somebody who left')} looked as well")
    if tick is not None and tick.mbar is not None:
        # With the pump shut off it is held against what it read before.
        before = ticks[ON].mbar if item.key != ON and ON in ticks else None
        noted.append(gauge_words(tick.mbar, before, shop.saying.units))
        beyond = beyond_words(tick.mbar, shop.above_sea_m, shop.saying.units) if shop.above_sea_m is not None else ""
        noted += [beyond] if beyond else []
    if tick is not None and tick.moisture_pct is not None:
        noted.append(f"{tick.moisture_pct:g} % moisture")
        noted += _of_wood(item, tick.moisture_pct, ticks, room)
    at = tick.happened_at if tick is not None else None
    detail = "; ".join(row.words(shop.saying.units) for row in item.scored) or item.detail
    return ItemView(item.key, item.words, detail, item.cloth, item.warp, item.woven, at, item.asks, "; ".join(noted))


def _of_wood(item: Item, pct: float, ticks: Mapping[str, Tick], room: float | None) -> list[str]:
    """What the moisture of a piece asks for: against the other piece, and against the room."""
    other = next((tick.moisture_pct for key, tick in ticks.items() if key != item.key and tick.moisture_pct), None)
    says = [moisture_says(pct, other if item.key == OTHER_MOIST.key else None)]
    says += [room_says(pct, room)] if room is not None else []
    return [words for words in says if words]


def _step(shop: ShopPlan, part_id: str, step_key: str) -> Step:
    part = shop.parts.get(part_id)
    found = next((s for s in part.in_shop if s.in_part == step_key), None) if part else None
    if found is None:
        raise Refused("step_key", f"“{step_key}” is not a step of this part")
    return found


def run_sheet_pdf(uow: UnitOfWork, part_id: str, step_key: str, now: datetime) -> bytes:
    """The same sheet on paper."""
    sheet = run_sheet_of(uow, part_id, step_key, now)
    grams = f"About {show(sheet.budget_g, 'mass', units_of(uow))} in all." if sheet.budget_g else ""
    crew = f"With {', '.join(sheet.crew)}." if sheet.crew else ""
    sheet_id, _ = built_part(uow, part_id).product_of(step_key)
    product = uow.get(DataSheet, sheet_id) if sheet_id else None
    if product is not None:
        parts = resin_of(product).parts
        grams = f"{product.name}{f', {parts.ratio}' if parts is not None else ''}. {grams}"
    rows = [
        (item.words, f"{item.detail} {item.noted}".strip(), item.warp, item.done_at is not None) for item in sheet.items
    ]
    return run_sheet_page(
        f"{sheet.name} · {sheet.part}",
        f"{crew} {grams}".strip(),
        sheet.caution,
        rows,
        letter=system_of(units_of(uow)) == "us",
    )
