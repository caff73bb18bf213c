"""Run sheets: what is ticked while a step is worked with wet gloves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, text

from kiteloom.core import run_sheet
from kiteloom.core.calendar import minute_of
from kiteloom.core.problems import Refused
from kiteloom.core.quantities import show
from kiteloom.core.recipes import paste_bond
from kiteloom.core.run_sheet import Item
from kiteloom.core.schedule.job import Step
from kiteloom.formats.run_sheet_pdf import run_sheet_page
from kiteloom.store.models import Surface, Tick
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import need_temperature
from kiteloom.workshop.cups import open_cups
from kiteloom.workshop.plan import ShopPlan, shop_plan
from kiteloom.workshop.shop import units_of
from kiteloom.workshop.skins import stack_of


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


@dataclass(frozen=True)
class RunSheet:
    """A step to be worked with wet gloves. Grams are 0 where none is computed."""

    surface_id: str
    step_key: str
    name: str
    surface: str
    items: list[ItemView]
    mixed_g: float
    budget_g: float
    use_by: datetime | None
    cup: str
    caution: str
    state: str
    crew: list[str]


def items_of(uow: UnitOfWork, surface_id: str, step: Step) -> tuple[Item, ...]:
    """The instructions of a step; none where there is nothing to call out."""
    surface = uow.get(Surface, surface_id)
    design, given = surface.design, surface.design.parameters
    stack = stack_of(uow, design.ply_book) if design.ply_book else None
    barrier = ""
    if design.recipe == paste_bond.NAME:
        barrier = paste_bond.barrier_between(given["one"], given["other"])
    return run_sheet.items(design.recipe, step, "left" if surface.hand == "left" else "right", stack, barrier)


def run_sheet_of(uow: UnitOfWork, surface_id: str, step_key: str, now: datetime) -> RunSheet:
    """A step's sheet as it stands."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    step = _step(shop, surface_id, step_key)
    items = items_of(uow, surface_id, step)
    if not items:
        raise Refused("step_key", f"“{step.name}” has no run sheet: nothing is called out in it")
    ticks = ticks_of(uow, surface_id, step_key)
    placed = shop.plan.by_key.get(step.key)
    need = shop.parts[surface_id].needs.get(step_key)
    cups = [cup for cup in open_cups(uow, now) if (cup.surface_id, cup.step_key) == (surface_id, step_key)]
    return RunSheet(
        surface_id,
        step_key,
        step.name,
        shop.names[surface_id],
        [ItemView(i.key, i.words, i.detail, i.cloth, i.warp, i.woven, ticks.get(i.key)) for i in items],
        shop.done.mixed_g.get(step.key, 0.0),
        need.total_g if need else 0.0,
        cups[0].until if cups else None,
        cups[0].words if cups else "",
        step.caution,
        placed.state if placed else "to do",
        [shop.names.get(person, person) for person in placed.people] if placed else [],
    )


def _step(shop: ShopPlan, surface_id: str, step_key: str) -> Step:
    part = shop.parts.get(surface_id)
    found = next((s for s in part.in_shop if s.local == step_key), None) if part else None
    if found is None:
        raise Refused("step_key", f"“{step_key}” is not a step of this surface")
    return found


def ticks_of(uow: UnitOfWork, surface_id: str, step_key: str) -> dict[str, datetime]:
    """When each item was ticked last, without those that were unticked after."""
    query = select(Tick).where(Tick.surface_id == surface_id, Tick.step_key == step_key)
    found: dict[str, datetime] = {}
    for row in uow.session.scalars(query.order_by(Tick.happened_at, Tick.recorded_at, text("rowid"))):
        if row.done:
            found[row.item] = row.happened_at
        else:
            found.pop(row.item, None)
    return found


@dataclass(frozen=True)
class NoteTick:
    """That an item was done, or was not. The client makes the id; it may be sent long after."""

    id: str
    surface_id: str
    step_key: str
    item: str
    done: bool
    happened_at: datetime | None = None


def note_ticks(uow: UnitOfWork, orders: Sequence[NoteTick], now: datetime) -> int:
    """Keep ticks, also those made while the tablet was not connected; says how many were new."""
    new = 0
    for order in orders:
        if uow.session.get(Tick, order.id) is not None:
            continue
        uow.get(Surface, order.surface_id)
        if not order.item or len(order.item) > 60:
            raise Refused("item", f"“{order.item[:40]}” is not an item of a run sheet")
        uow.add(
            Tick(
                id=order.id,
                surface_id=order.surface_id,
                step_key=order.step_key[:120],
                item=order.item,
                done=order.done,
                # A tablet's clock a little ahead of the shop's is taken as now.
                happened_at=min(order.happened_at or now, now),
                recorded_at=now,
            )
        )
        uow.changed("tick", order.id)
        new += 1
    return new


def run_sheet_pdf(uow: UnitOfWork, surface_id: str, step_key: str, now: datetime) -> bytes:
    """The same sheet on paper."""
    sheet = run_sheet_of(uow, surface_id, step_key, now)
    grams = f"About {show(sheet.budget_g, 'mass', units_of(uow))} in all." if sheet.budget_g else ""
    crew = f"With {', '.join(sheet.crew)}." if sheet.crew else ""
    rows = [(item.words, item.detail, item.warp, item.done_at is not None) for item in sheet.items]
    return run_sheet_page(f"{sheet.name} · {sheet.surface}", f"{crew} {grams}".strip(), sheet.caution, rows)
