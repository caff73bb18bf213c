"""The shop's settings, and what has changed since a page last asked."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal, cast

from kiteloom.core.base.calendar import Clock, Dates, moment_of
from kiteloom.core.base.quantities import show, system_of
from kiteloom.core.mix.cups import LARGEST_CUP_G, SCALE_STEP_G
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.pages import touched
from kiteloom.workshop.base.copies import copy_words
from kiteloom.workshop.base.shop import the_shop, units_of, week_of, zone_at


@dataclass(frozen=True)
class ShopView:
    """The shop as its settings sheet shows it: its hours as seven lines of text, Monday first.

    ``scale_step``, ``largest_cup`` and ``above_sea`` are text, ``""`` where nobody said; ``assumed`` says what
    counts then.
    """

    name: str
    zone: str
    units: Literal["metric", "us"]
    version: int
    week: list[str]
    closed: list[date]
    scale_unit: Literal["g", "oz"]
    scale_step: str
    largest_cup: str
    above_sea: str
    assumed: str
    clock: Clock
    dates: Dates
    copies: str
    """Where it is copied to, and when it was last."""


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


def shop_view(uow: UnitOfWork, now: datetime) -> ShopView:
    """Read the settings."""
    shop = the_shop(uow)
    units = units_of(uow)
    said = {key: show(grams, "scale", units) for key, grams in shop.bench.items() if key.endswith("_g")}
    high = shop.bench.get("above_sea_m")
    step, cup = show(SCALE_STEP_G, "scale", units), show(LARGEST_CUP_G, "mass", units)
    return ShopView(
        shop.name,
        shop.zone,
        system_of(units),
        shop.version,
        week_of(shop.hours, shop.clock),
        [date.fromisoformat(day) for day in shop.closed],
        "oz" if units.endswith("oz") else "g",
        said.get("scale_step_g", ""),
        said.get("largest_cup_g", ""),
        show(high, "run", units) if high is not None else "",
        f"Left empty, a scale that can be read says its own step, any other is taken to show {step}; "
        f"and no cup is planned above {cup} (common practice: a bigger one gets hot before it is used up).",
        cast(Clock, shop.clock),
        cast(Dates, shop.dates),
        copy_words(uow, now),
    )


def what_changed(uow: UnitOfWork, since: int, now: datetime) -> Now:
    """The time, and the changes after a sequence number."""
    shop = the_shop(uow)
    zone = zone_at(shop)
    changes = (
        [Changed(change.seq, change.topic, change.ref) for change in uow.changes_since(since)] if since >= 0 else []
    )
    last = changes[-1].seq if changes else uow.last_change()
    return Now(
        moment_of(now.timestamp() / 60, zone), shop.zone, last, changes, touched(change.topic for change in changes)
    )
