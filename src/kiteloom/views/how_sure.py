"""How sure the end is: the dates that hold in so many of a hundred drawn plans, and the steps that decide them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import day_words, minute_of, moment_of
from kiteloom.core.plan.how_sure import DRAWS, MOST_DRAWS
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.better_order import State, state_of
from kiteloom.views.what_if import not_yet
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.standing import last_deed
from kiteloom.workshop.plan.studies import newest_study


@dataclass(frozen=True)
class DayOfEnds:
    """How many of the drawn plans end on one day."""

    day: datetime
    plans: int


@dataclass(frozen=True)
class DecidesEnd:
    """A step that decides the end, and how: the best known ways to shorten what matters."""

    step_id: str
    name: str
    part: str
    words: str


@dataclass(frozen=True)
class HowSureView:
    """What the drawn plans say of the end.

    ``dates`` are those that hold in 5, 50 and 95 of 100, ``known`` the end of the plan there is; ``old`` where
    somebody noted something since it was asked.
    """

    id: str
    state: State
    sentence: str
    drawn: int
    days: list[DayOfEnds]
    dates: list[datetime]
    known: datetime | None
    decide: list[DecidesEnd]
    risk: str
    old: bool
    draws: int = DRAWS
    most_draws: int = MOST_DRAWS


def how_sure_view(uow: UnitOfWork, now: datetime, *, searching: bool) -> HowSureView:
    """What the drawn plans say of the end.

    Parameters
    ----------
    searching : bool
        Whether the worker is at it, or it waits there.
    """
    row, shop = newest_study(uow, "sure"), shop_plan(uow, minute_of(now))
    if row is None or shop is None:
        return HowSureView("", "none", "", 0, [], [], None, [], "", old=False)
    state, old, say = state_of(row, searching=searching), row.change != last_deed(uow), shop.saying
    known = say.perhaps(shop.plan.finish)
    ends: list[float] = row.found.get("ends", [])
    if not ends:
        return HowSureView(row.id, state, not_yet(row, state), 0, [], [], known, [], "", old=old)
    early, middle, late = row.found["dates"]
    count: dict[datetime, int] = {}
    for end in ends:
        day = moment_of(end, say.zone).replace(hour=0, minute=0, second=0, microsecond=0)
        count[day] = count.get(day, 0) + 1
    words = (
        f"Half of the plans are done by {_day(shop, middle)}, 95 of 100 by {_day(shop, late)}, "
        f"and 5 of 100 by {_day(shop, early)} already."
    )
    if shop.plan.finish is not None:
        by = sum(end <= shop.plan.finish for end in ends) / len(ends)
        words += f" The date of the plan, {_day(shop, shop.plan.finish)}, holds in {_of_100(by)}."
    more = row.found["left_out"]
    risk = f"In {_of_100(more)} a step is left out that the plan has: something comes too late for it." if more else ""
    decide = [
        DecidesEnd(key, placed.step.name, shop.names.get(placed.step.part, ""), _decides(shop, share, off))
        for key, share, off in row.found["decide"]
        if (placed := shop.plan.by_key.get(key)) is not None and off >= 1
    ]
    days = [DayOfEnds(day, plans) for day, plans in sorted(count.items())]
    dates = [say.moment(end) for end in (early, middle, late)]
    return HowSureView(row.id, state, words, len(ends), days, dates, known, decide, risk, old=old)


def _day(shop: ShopPlan, minute: float) -> str:
    day = shop.saying.moment(minute).date()
    return f"{day:%a} {day_words(day, shop.saying.zone)}"


def _of_100(share: float) -> str:
    return f"{round(100 * share)} of 100"


def _decides(shop: ShopPlan, share: float, off: float) -> str:
    return f"holds the end in {_of_100(share)}; may take {shop.saying.lasting(off)} more or less"
