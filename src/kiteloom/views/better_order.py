"""A search for a better order as it is shown: the end falling, what none can end before, whether it can be kept."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.plan.aims import Aim, measured
from kiteloom.core.plan.better import MOST_SECONDS
from kiteloom.core.plan.plan import Plan
from kiteloom.store.models import PlanSearch, PlanStudy
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.against_accepted import bound_words
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.searches import NO_BETTER, aim_of, newest_search, placed_over, worth_it
from kiteloom.workshop.plan.wanted import frozen_days

State = Literal["none", "waiting", "looking", "done", "stopped", "failed"]


@dataclass(frozen=True)
class EndThen:
    """The end of the best plan after so many seconds of searching."""

    after_s: float
    finish: datetime


@dataclass(frozen=True)
class BetterOrder:
    """The last search: how it goes, the ends it found, and whether its order can be made the plan.

    ``known`` is the end of the plan there is, and ``bound`` what no plan can end before, and why.
    """

    id: str
    state: State
    seconds: float
    asked_at: datetime | None
    ends: list[EndThen]
    known: datetime | None
    bound: datetime | None
    bound_why: str
    sentence: str
    can_keep: bool
    kept: bool
    aim: Literal["soonest", "calm", "turnings", "heating"]
    kept_days: int
    """How many days after today are kept as they were accepted."""
    most_seconds: float = MOST_SECONDS


def better_order(uow: UnitOfWork, now: datetime, *, searching: bool) -> BetterOrder:
    """The last search for a better order.

    Parameters
    ----------
    searching : bool
        Whether the worker is at it, or it waits there.
    """
    row, shop = newest_search(uow), shop_plan(uow, minute_of(now))
    known = shop.plan.finish if shop is not None else None
    end = moment_of(known) if known is not None else None
    if row is None or shop is None:
        return BetterOrder("", "none", 0, None, [], end, None, "", "", can_keep=False, kept=False,
                           aim="soonest", kept_days=frozen_days(uow))  # fmt: skip
    state = state_of(row, searching=searching)
    ends = [EndThen(after, moment_of(finish)) for after, finish, *_ in row.ends]
    bound = max((bound for _, _, bound, *_ in row.ends), default=None)
    sentence, can_keep = _words(uow, shop, row, state, now)
    if row.frees and row.kept_at is None:
        sentence += " It moves days that are kept as they were accepted."
    # A solver may have proven more than the sums it is said for.
    why = bound_words(shop) if bound is not None and abs(bound - shop.plan.bound) < DAY_MIN / 2 else ""
    return BetterOrder(row.id, state, row.seconds, row.asked_at, ends, end,
                       moment_of(bound) if bound is not None else None, why, sentence, can_keep,
                       row.kept_at is not None, aim_of(uow, row).kind, frozen_days(uow))  # fmt: skip


def state_of(row: PlanSearch | PlanStudy, *, searching: bool) -> State:
    """How far the worker is with what was asked of it; stopped where it is not at it any more."""
    state = cast(State, row.state)
    return "stopped" if state in ("waiting", "looking") and not searching else state


def _words(uow: UnitOfWork, shop: ShopPlan, row: PlanSearch, state: State, now: datetime) -> tuple[str, bool]:
    """How it stands in a sentence, and whether it can be kept."""
    say, known = shop.saying, shop.plan.finish
    if row.kept_at is not None:
        return f"This order is the plan since {say.at(minute_of(row.kept_at))}.", False
    if state == "failed":
        return f"The search failed: {row.words}.", False
    if not row.ends or known is None:
        return ("It waits for its turn." if state == "waiting" else "It places the plan there is first."), False
    aim, plan = aim_of(uow, row), None if state in ("waiting", "looking") else placed_over(uow, row, now)
    if aim.kind != "soonest":
        return _by_its_aim(shop, row, aim, plan)
    finish = row.ends[-1][1]
    if plan is None and state in ("waiting", "looking"):
        if known - finish < 1:
            return f"Nothing better than {say.at(known)} so far.", False
        return f"It ends {say.at(finish)} so far, {say.about(known - finish)} sooner than the plan.", False
    proven = max(bound for _, _, bound, *_ in row.ends) >= finish - 1
    if plan is None or plan.finish is None or not worth_it(plan, shop.plan, aim):
        if len(row.ends) > 1 and finish < known - 1:
            return "Over what was noted since it ends no sooner than the plan there is; look again.", False
        if proven:
            return "No order ends sooner than the plan there is: that is proven.", False
        return "Nothing better was found in that time.", False
    words = f"It ends {say.at(plan.finish)}, {say.about(known - plan.finish)} sooner than the plan there is."
    if proven:
        words += " No order ends sooner: that is proven."
    if abs(plan.finish - finish) >= 30:
        words += f" When it was found it ended {say.at(finish)}."
    return words, True


_COMES_TO = {
    "calm": ("The fullest day has {} h of work", "{} h"),
    "turnings": ("Turnings ahead: {}", "{}"),
    "heating": ("Something needs the warmth of its sheet for {} h", "{} h"),
}


def _by_its_aim(shop: ShopPlan, row: PlanSearch, aim: Aim, plan: Plan | None) -> tuple[str, bool]:
    """How far a search has come that does not look for the soonest end, and whether what it found can be kept."""
    _, finish, _, found = row.ends[-1] if plan is None else (0, plan.finish or plan.start, 0, measured(plan, aim))
    (comes_to, beside), there = _COMES_TO[aim.kind], measured(shop.plan, aim)
    than = "as in the plan there is" if round(found) == round(there) else f"not {beside.format(round(there))}"
    words = f"{comes_to.format(round(found))}, {than}. All done {shop.saying.at(finish)}"
    late = aim.by is not None and finish > aim.by
    words += f", later than {shop.saying.at(aim.by or 0)}: no order was found that is done by then." if late else "."
    if plan is None:
        return f"So far: {words[0].lower()}{words[1:]}", False
    if not worth_it(plan, shop.plan, aim):
        many = len(row.ends) > 1
        over = "Over what was noted since it" if many else "No better order was found in that time: it"
        return f"{over} {NO_BETTER[aim.kind]} the plan there is{'; look again' if many else ''}.", False
    return words, True
