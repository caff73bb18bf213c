"""The shop's settings, and what has changed since a page last asked."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import moment_of, zone_of
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.pages import touched
from kiteloom.workshop.base.shop import DayHours, days_of, the_shop, units_of


@dataclass(frozen=True)
class ShopView:
    """The shop as its settings sheet shows it."""

    name: str
    zone: str
    units: Literal["metric", "us"]
    hours: list[DayHours]
    version: int


@dataclass(frozen=True)
class Changed:
    """One change: what kind of thing, and its id."""

    seq: int
    topic: str
    ref: str


@dataclass(frozen=True)
class Now:
    """The shop's time, what changed since, and which pages' questions that touches."""

    now: datetime
    zone: str
    seq: int
    changes: list[Changed]
    touched: list[str]


def shop_view(uow: UnitOfWork) -> ShopView:
    """Read the settings."""
    shop = the_shop(uow)
    return ShopView(shop.name, shop.zone, units_of(uow), days_of(shop.hours), shop.version)


def what_changed(uow: UnitOfWork, since: int, now: datetime) -> Now:
    """The time, and the changes after a sequence number."""
    shop = the_shop(uow)
    zone = zone_of(shop.zone)
    changes = (
        [Changed(change.seq, change.topic, change.ref) for change in uow.changes_since(since)] if since >= 0 else []
    )
    last = changes[-1].seq if changes else uow.last_change()
    return Now(
        moment_of(now.timestamp() / 60, zone), shop.zone, last, changes, touched(change.topic for change in changes)
    )
