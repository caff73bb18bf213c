"""Accepting the plan as it stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.standing import name_of
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.plan.kept import MadeFrom, keep_plan, made_from
from kiteloom.workshop.plan.plan import shop_plan


@dataclass(frozen=True)
class AcceptPlan:
    """Accept the plan whose order was seen: ``order`` is its name; ``""`` for whatever stands."""

    id: str
    order: str = ""


def accept_plan(store: Store, wanted: AcceptPlan, now: datetime) -> Kept:
    """Keep the plan as it was seen, with all it was made from.

    What comes is compared with it, and its coming days can be frozen.
    """

    def look(uow: UnitOfWork) -> tuple[Plan, MadeFrom]:
        shop = shop_plan(uow, minute_of(now))
        if shop is None:
            raise need_temperature()
        if wanted.order not in ("", name_of(shop.plan)):
            end = "" if shop.plan.finish is None else f": it ends {shop.saying.at(shop.plan.finish)} now"
            raise Refused("order", f"the plan has another order than the one looked at{end}. Look, and accept again")
        return shop.plan, made_from(uow, shop.input, shop.plan)

    def keep(uow: UnitOfWork, seen: tuple[Plan, MadeFrom]) -> Kept:
        return Kept(keep_plan(uow, wanted.id, "accepted", seen[0], minute_of(now), seen[1]).id)

    return store.after_a_look(look, keep)
