"""A better order of the plan: looked for, stopped, kept or left. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store, worker
from kiteloom.views.better_order import BetterOrder, better_order
from kiteloom.workshop.base.saved import Kept, OnlyId
from kiteloom.workshop.plan import searches

bp = Routes("better_order", "Plan")


@bp.get("/better-order")
@bp.gives(BetterOrder)
def read_better() -> BetterOrder:
    """The last search for a better order, and how it goes."""
    searching = searches.KEY in worker().known()
    with store().reading() as uow:
        return better_order(uow, now(), searching=searching or searches.KEY in worker().known())


@bp.post("/better-order")
@bp.takes(searches.LookForOrder)
@bp.gives(Kept, 201)
def look_for_better(order: searches.LookForOrder) -> Kept:
    """Look for a better order."""
    return searches.look_for_order(worker(), store(), order, now())


@bp.post("/better-order/stop")
@bp.takes(OnlyId)
@bp.gives(Kept)
def stop_better(order: OnlyId) -> Kept:
    """Stop looking: the best so far stays."""
    searches.stop_search(worker())
    return Kept(order.id)


@bp.post("/better-order/keep")
@bp.takes(OnlyId)
@bp.gives(Kept)
def keep_better(order: OnlyId) -> Kept:
    """Make the order that was found the plan."""
    return searches.keep_order(store(), order.id, now())


@bp.post("/better-order/leave")
@bp.takes(OnlyId)
@bp.gives(Kept)
def leave_better(order: OnlyId) -> Kept:
    """Leave what was found: the plan stays as it is."""
    with store().writing() as uow:
        return searches.leave_search(uow, order.id, now())
