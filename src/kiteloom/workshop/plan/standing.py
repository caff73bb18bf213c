"""Keeping the order that stands, and saying what moved the end."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy import and_, func, not_, or_, select

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.build.step import GRID_MIN
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.place import place
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.standing import begins_of, clearly_better, has_moved, made_anew, mover, much_later, standing
from kiteloom.store.models import Change, StandingOrder
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.base.memory import BESIDE
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan

_NOTHING: dict[str, Any] = {"keys": [], "begins": {}, "said": {}}


def keep_standing(store: Store, now: datetime) -> None:
    """Keep the order of the plan, or take another that is clearly better; and what moved the end, when it moved.

    Another is looked for once somebody has done or changed something, or when the end is clearly later than said.
    """
    minute = minute_of(now)
    with store.reading() as uow:
        shop, row, change = shop_plan(uow, minute), _row(uow), last_deed(uow)
        if shop is None:
            return
        taken, fresh = shop.plan, None
        said = minute_of(row.finish) if row is not None and row.finish is not None else None
        late = said is not None and much_later(taken, said)
        if row is None or row.judged != change or late:
            # The first order is looked for with care, and so is another once the end has gone.
            fresh = made_anew(shop.input, led=row is None or late)
            stands = standing(begins_of(fresh), minute)
            other = place(replace(shop.input, order=fresh.order, stands=stands, overnight=True))
            if row is None or (clearly_better(other, taken) and _may_give_way(row, other, taken)):
                taken = other
            else:
                fresh = None
        moved = _what_moved(shop, row, taken, other=fresh is not None) if row is not None else ""
        if row is not None and not moved and row.judged == change and set(taken.order) <= set(row.keys):
            return
    with store.writing() as uow:
        row = _row(uow)
        if row is None:
            row = StandingOrder(id=1, judged=change, recorded_at=now, moved="", **_NOTHING)
            uow.add(row)
        if fresh is not None:
            row.begins, row.overnight, row.aim, row.done_by = begins_of(fresh), True, "soonest", None
        if moved or row.finish is None:
            row.said = begins_of(taken)
            row.finish = None if taken.finish is None else moment_of(taken.finish)
        if moved:
            row.moved, row.moved_at = moved, now
        row.keys, row.judged, row.recorded_at = list(taken.order), change, now
        uow.changed("plan", "standing")


def _may_give_way(row: StandingOrder, other: Plan, taken: Plan) -> bool:
    """Whether an order gives way to one that ends sooner: one that stands for another aim does so only for more steps,
    or where it misses the time it is to be done by."""
    if row.aim == "soonest" or len(other.unplaced) < len(taken.unplaced):
        return True
    return row.done_by is not None and taken.finish is not None and taken.finish > minute_of(row.done_by)


def last_deed(uow: UnitOfWork) -> int:
    """The last change that somebody made: not what a probe read, what was forecast, ticked or kept by itself."""
    read = and_(Change.topic == "climate", or_(Change.ref.like("probe %"), Change.ref.like("forecast %")))
    kept = and_(Change.topic == "plan", or_(Change.ref == "standing", Change.ref.like("evening %")))
    by_itself = or_(Change.topic.in_(("alert", "copy", *BESIDE)), read, kept)
    return uow.session.scalar(select(func.max(Change.seq)).where(not_(by_itself))) or 0


def last_move(uow: UnitOfWork, within_min: float, minute: float) -> str:
    """What moved the end last, if it was so lately; else ``""``."""
    row = _row(uow)
    recent = row is not None and row.moved_at is not None and minute - minute_of(row.moved_at) <= within_min
    return row.moved if row is not None and recent else ""


def _row(uow: UnitOfWork) -> StandingOrder | None:
    return uow.session.get(StandingOrder, 1)


def _what_moved(shop: ShopPlan, row: StandingOrder, taken: Plan, *, other: bool) -> str:
    """Why the end is elsewhere than when that was last said, in a sentence; ``""`` while it is not."""
    if row.finish is None or taken.finish is None:
        return ""
    was, end, say = minute_of(row.finish), taken.finish, shop.saying
    if not has_moved(taken, was):
        return ""
    words = f"The end moved from {say.at(was)} to {say.at(end, was)} at {say.at(shop.now)}"
    if other:
        return f"{words}: another order is taken, the one before would have ended clearly later than it."
    step_of = mover(taken, row.said, later=end > was)
    if step_of is None:
        return f"{words}: steps were added, taken out or noted."
    where, before = shop.names[step_of.step.part], row.said[step_of.step.key]
    step = f"“{step_of.step.name}” ({where}) moved from {say.at(before)} to {say.at(step_of.begins, before)}"
    if end < was:
        return f"{words}: {step}."
    if step_of.begins <= shop.now + GRID_MIN:
        return f"{words}: {step}, and nobody has begun it."
    return f"{words}: {step}. {why_not_sooner(step_of, taken.by_key, shop.names, say.at, say.units)}"
