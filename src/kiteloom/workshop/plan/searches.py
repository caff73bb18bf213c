"""Searches for a better order: in the worker, kept while it gets better, stopped, made the plan, or left."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from datetime import time as time_of_day
from importlib.metadata import version
from typing import Literal, cast

from sqlalchemy import select, text

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.plan.aims import SOONEST, Aim, judged
from kiteloom.core.plan.better import MOST_SECONDS
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.looks import Order, freed, orders
from kiteloom.core.plan.place import place
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.standing import begins_of
from kiteloom.store.models import PlanSearch, StandingOrder
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.memory import BESIDE
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.base.worker import End, Search, Worker
from kiteloom.workshop.plan.kept import MadeFrom, keep_plan, made_from
from kiteloom.workshop.plan.plan import shop_plan

#: What a search is stopped by: one at a time.
KEY = "a better order"

#: What a plan does not do that is no better by what it was looked for.
NO_BETTER = {
    "soonest": "ends no sooner than",
    "calm": "has no calmer days than",
    "turnings": "turns things no less often than",
    "heating": "needs warmth for no less time than",
}


@dataclass(frozen=True)
class LookForOrder:
    """Look for a better order for so many seconds. The client makes the id; ``done_by`` is the last of calm days."""

    id: str
    seconds: float = 30.0
    seed: int = 1
    aim: Literal["soonest", "calm", "turnings", "heating"] = "soonest"
    done_by: date | None = None
    saves_h: float | None = None
    """Days that are kept as they were accepted are moved if that saves at least so many hours; None is never."""


def look_for_order(worker: Worker, store: Store, wanted: LookForOrder, now: datetime) -> Kept:
    """Have a better order looked for, in its turn."""
    between("seconds", wanted.seconds, 1, MOST_SECONDS, unit="s", name="the time to search")
    between("seed", wanted.seed, 0, 1_000_000, name="the seed")
    if wanted.saves_h is not None:
        between("saves_h", wanted.saves_h, 0, 2000, unit="h", name="what moving the kept days must save")
    with store.reading() as uow:
        done_by = _end_of(uow, wanted.done_by, now)
        aim = Aim(wanted.aim, None if done_by is None else minute_of(done_by), zone_here(uow))
        if uow.session.get(PlanSearch, wanted.id) is not None:
            return Kept(wanted.id)
        shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    if KEY in worker.known():
        raise Refused("", "a better order is being looked for already; stop that first")
    if not any(placed.state in ("to do", "paused") for placed in shop.plan.placed):
        raise Refused("", "nothing is planned whose order could be another")

    def began() -> None:
        _told(store, wanted.id, "looking", "")

    def told(found: Order) -> None:
        with store.writing() as uow:
            row = uow.get(PlanSearch, wanted.id)
            row.ends = [*row.ends, [found.after_s, found.finish, found.bound, found.measure]]
            row.keys, row.overnight, row.begins, row.frees = found.keys, found.overnight, found.begins, found.frees
            uow.changed("search", row.id)

    def ended(how: End, why: str) -> None:
        _told(store, wanted.id, how, why)

    with store.writing() as uow:
        if uow.session.get(PlanSearch, wanted.id) is not None:
            return Kept(wanted.id)
        uow.add(PlanSearch(id=wanted.id, seconds=wanted.seconds, seed=wanted.seed, version=version("kiteloom"),
                           state="waiting", words="", ends=[], keys=[], aim=wanted.aim, done_by=done_by,
                           asked_at=now))  # fmt: skip
        uow.changed("search", wanted.id)
    given = (shop.input, wanted.seconds, wanted.seed, aim, None if wanted.saves_h is None else 60 * wanted.saves_h)
    try:
        worker.ask(Search(KEY, orders, given, wanted.seconds + 60, began, told, ended))
    except Refused:
        with store.writing() as uow:  # somebody else was quicker: theirs is shown, not this
            uow.session.delete(uow.get(PlanSearch, wanted.id))
            uow.changed("search", wanted.id)
        raise
    return Kept(wanted.id)


def _end_of(uow: UnitOfWork, day: date | None, now: datetime) -> datetime | None:
    """When a day is over in the shop; `Refused` for one that is."""
    if day is None:
        return None
    zone = zone_here(uow)
    between("done_by", (day - now.astimezone(zone).date()).days, 0, 730, unit="days", name="the last day, from today,")
    return datetime.combine(day + timedelta(days=1), time_of_day(), tzinfo=zone)


def aim_of(uow: UnitOfWork, row: PlanSearch) -> Aim:
    """What an order was looked for."""
    kind = cast(Literal["soonest", "calm", "turnings", "heating"], row.aim)
    return Aim(kind, None if row.done_by is None else minute_of(row.done_by), zone_here(uow))


def _told(store: Store, search_id: str, state: str, words: str) -> None:
    with store.writing() as uow:
        row = uow.get(PlanSearch, search_id)
        row.state, row.words = state, words
        uow.changed("search", row.id)


def newest_search(uow: UnitOfWork) -> PlanSearch | None:
    """The last search that was asked for, unless it was left."""
    row = uow.session.scalar(select(PlanSearch).order_by(text("plan_search.rowid DESC")).limit(1))
    return row if row is not None and row.hidden_at is None else None


def placed_over(uow: UnitOfWork, row: PlanSearch, now: datetime) -> Plan | None:
    """The plan its order gives over what is known now; None where nothing was found."""
    minute = minute_of(now)
    shop = shop_plan(uow, minute)
    if shop is None or not row.keys:
        return None
    order = _job_of(shop.input, row, minute)
    state = (uow.last_change(BESIDE), math.floor(minute), row.id, len(row.ends))
    return uow.memory.made(state, "the plan of a search", lambda: place(order))


def _job_of(job: PlanInput, row: PlanSearch, minute: float) -> PlanInput:
    """A job in the order that was found."""
    stands = {key: at for key, at in row.begins.items() if at > minute}
    free = freed(job) if row.frees else job
    return replace(free, order=tuple(row.keys), stands=stands, overnight=row.overnight)


def keep_order(store: Store, search_id: str, now: datetime) -> Kept:
    """Make what a search found the plan, placed over what is known now; `Refused` where it is no better any more."""

    def look(uow: UnitOfWork) -> tuple[Plan | None, Plan, MadeFrom | None]:
        row, shop = uow.get(PlanSearch, search_id), shop_plan(uow, minute_of(now))
        if shop is None:
            raise need_temperature()
        plan = placed_over(uow, row, now)
        made = (
            made_from(uow, _job_of(shop.input, row, minute_of(now)), plan) if plan is not None and row.frees else None
        )
        return plan, shop.plan, made

    def keep(uow: UnitOfWork, looked: tuple[Plan | None, Plan, MadeFrom | None]) -> Kept:
        row = uow.get(PlanSearch, search_id)
        if row.kept_at is not None:
            return Kept(row.id)
        (plan, known, made), aim = looked, aim_of(uow, row)
        if plan is None:
            raise Refused("", "nothing was found that could be kept")
        if not worth_it(plan, known, aim):
            raise Refused("", f"over what was noted since it {NO_BETTER[row.aim]} the plan there is; look again")
        take_order(uow, plan, now, aim)
        if made is not None:
            # The days that are kept are kept as this plan has them from now on.
            keep_plan(uow, stable_id("accepted", row.id), "accepted", plan, minute_of(now), made)
        row.kept_at = now
        uow.changed("plan", "a better order")
        uow.changed("search", row.id)
        return Kept(row.id)

    return store.after_a_look(look, keep)


def worth_it(plan: Plan, known: Plan, aim: Aim) -> bool:
    """Whether a plan is better than the one there is by what it was looked for; its end by a minute at least."""
    if aim.kind == "soonest":
        return (len(plan.unplaced), plan.finish or plan.start) < (len(known.unplaced), known.finish or known.start)
    return judged(plan, aim) < judged(known, aim)


def take_order(uow: UnitOfWork, plan: Plan, now: datetime, aim: Aim = SOONEST) -> None:
    """Let a plan's order stand from now on."""
    row, begins = uow.session.get(StandingOrder, 1), begins_of(plan)
    if row is None:
        row = StandingOrder(id=1, judged=uow.last_change(), moved="", recorded_at=now, keys=[], begins={}, said={})
        uow.add(row)
    row.keys, row.begins, row.said, row.overnight = list(plan.order), begins, begins, plan.overnight
    row.finish = None if plan.finish is None else moment_of(plan.finish)
    row.aim, row.done_by = aim.kind, None if aim.by is None else moment_of(aim.by)
    row.recorded_at = now


def stop_search(worker: Worker) -> None:
    """Stop looking: the best so far stays."""
    worker.stop(KEY)


def leave_search(uow: UnitOfWork, search_id: str, now: datetime) -> Kept:
    """Leave what a search found: the plan stays as it is."""
    row = uow.get(PlanSearch, search_id)
    row.hidden_at = row.hidden_at or now
    uow.changed("search", row.id)
    return Kept(row.id)


def settle(uow: UnitOfWork) -> None:
    """What was looked for when the program ended is looked for no more; the best it had found stays."""
    for row in uow.all(PlanSearch):
        if row.state in ("waiting", "looking"):
            row.state, row.words = "stopped", "the program was stopped meanwhile"
