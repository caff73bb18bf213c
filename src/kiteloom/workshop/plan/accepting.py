"""Accepting the plan as it stands."""

from __future__ import annotations

from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import need_temperature
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.plan.kept import keep_plan
from kiteloom.workshop.plan.plan import shop_plan


def accept_plan(uow: UnitOfWork, key: str, now: datetime) -> Kept:
    """Keep the plan as it stands; what comes is compared with it, and its coming days can be frozen."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        raise need_temperature()
    return Kept(keep_plan(uow, key, "accepted", shop.plan, minute_of(now)).id)
