"""Accepting the plan as it stands."""

from __future__ import annotations

from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.placed import Plan
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.plan.kept import keep_plan
from kiteloom.workshop.plan.plan import shop_plan


def accept_plan(store: Store, key: str, now: datetime) -> Kept:
    """Keep the plan as it stands; what comes is compared with it, and its coming days can be frozen."""

    def look(uow: UnitOfWork) -> Plan:
        shop = shop_plan(uow, minute_of(now))
        if shop is None:
            raise need_temperature()
        return shop.plan

    def keep(uow: UnitOfWork, plan: Plan) -> Kept:
        return Kept(keep_plan(uow, key, "accepted", plan, minute_of(now)).id)

    return store.after_a_look(look, keep)
