"""What would help most: each single relief and what it brings, the best first. The bottleneck, by name."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.reliefs import LONGER_MIN, SOONER_MIN, WARMER_K
from kiteloom.store.models import PlanStudy
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.better_order import State, state_of
from kiteloom.views.what_if import TOLD_MIN, not_yet
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.plan.standing import last_deed
from kiteloom.workshop.plan.studies import newest_study
from kiteloom.workshop.plan.supposing import Supposed


@dataclass(frozen=True)
class Help:
    """One relief: what it is, what it brings, in words and as a share of what the best brings.

    ``suppose`` is the change to suppose, where it is one the shop could make.
    """

    name: str
    brings: str
    share: float
    suppose: Supposed | None


@dataclass(frozen=True)
class WhatHelps:
    """What each relief tried so far brings, the best first.

    ``nothing`` are those that bring nothing by themselves; ``old`` where somebody noted something since it was asked.
    """

    id: str
    state: State
    sentence: str
    helps: list[Help]
    nothing: list[str]
    old: bool


def what_helps(uow: UnitOfWork, now: datetime, *, searching: bool) -> WhatHelps:
    """What each relief brings.

    Parameters
    ----------
    searching : bool
        Whether the worker is at it, or it waits there.
    """
    row, shop = newest_study(uow, "helps"), shop_plan(uow, minute_of(now))
    if row is None or shop is None:
        return WhatHelps("", "none", "", [], [], old=False)
    state, old = state_of(row, searching=searching), row.change != last_deed(uow)
    gains: list[list[Any]] = row.found.get("gains", [])
    if not gains:
        return WhatHelps(row.id, state, not_yet(row, state), [], [], old=old)
    finish, left = row.found["without"]
    found: list[tuple[float, str, str, Supposed | None]] = []
    nothing: list[str] = []
    for kind, of, end, less in gains:
        name = _name(shop, kind, of)
        placed = max(left - less, 0)
        brings = max(finish - end, 0.0)
        if placed:
            more = f"{placed} more step{'s' if placed > 1 else ''} can be planned"
            found.append((1e9 * placed + brings, name, more, _as_change(kind, of)))
        elif brings >= TOLD_MIN:
            found.append((brings, name, f"{shop.saying.about(brings)} sooner", _as_change(kind, of)))
        else:
            nothing.append(name)
    found.sort(key=lambda one: -one[0])
    most = max((rank for rank, *_ in found), default=1.0)
    helps = [Help(name, brings, max(rank / most, 0.02), change) for rank, name, brings, change in found]
    return WhatHelps(row.id, state, _sentence(shop, row, state, helps), helps, nothing, old=old)


def _sentence(shop: ShopPlan, row: PlanStudy, state: State, helps: list[Help]) -> str:
    tried = len(row.found["gains"])
    so_far = f" so far, {tried} tried" if state == "looking" else ""
    if not helps:
        return f"No single relief brings the end nearer{so_far}."
    finish, known, anew = row.found["without"][0], shop.plan.finish, ""
    if known is not None and known - finish >= TOLD_MIN:
        anew = f" Another order alone brings {shop.saying.about(known - finish)}: these count from there."
    return f"{helps[0].name} helps most{so_far}: {helps[0].brings}.{anew}"


def _name(shop: ShopPlan, kind: str, of: str) -> str:
    units = shop.saying.units
    if kind == "person":
        return f"One more person{f' who can do {of}' if of else ''}"
    if kind == "station":
        name = shop.names.get(of, of)
        return f"{name[0].upper()}{name[1:]} twice" if _serves(shop, of) == 1 else f"{name}: one more"
    if kind == "longer":
        return f"{LONGER_MIN} minutes more a day"
    if kind == "warmer":
        return f"{show(WARMER_K, 'difference', units)} warmer everywhere"
    return f"{of[0].upper()}{of[1:]}: {SOONER_MIN / 1440:.0f} days sooner"


def _as_change(kind: str, of: str) -> Supposed | None:
    """The relief as something to suppose."""
    if kind == "person":
        return Supposed("person", skills=[of] if of else [])
    return Supposed("station", of, count="1") if kind == "station" else None


def _serves(shop: ShopPlan, station: str) -> int:
    return next((one.capacity for one in shop.input.stations if one.id == station), 0)
