"""A lot on the shelf: how much is left of it, and until when it is good."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal, cast

from kiteloom.core.base.fields import Says
from kiteloom.core.stores.fields import USES

#: How a lot is counted: by mass [g], off the roll [m], or in pieces.
Measure = Literal["mass", "run", "count"]

#: A lot is shown as running out so long before its day [days].
SOON_DAYS = 30


@dataclass(frozen=True)
class ShelfLife:
    """What a sheet says of keeping [days]; None when it is silent."""

    sealed_days: float | None = None
    opened_days: float | None = None


def good_until(expires: date | None, since: date, opened: date | None, life: ShelfLife) -> date | None:
    """The first day it is no longer known to be good: by its label, else by the sheet; earlier once opened.

    Parameters
    ----------
    since : date
        The day it was made, from which makers count; where nobody knows it the day it came, which is too
        long by what it lay with the dealer.

    >>> good_until(None, date(2026, 1, 1), date(2026, 2, 1), ShelfLife(365, 90))
    datetime.date(2026, 5, 2)
    """
    days = [expires] if expires else []
    if not days and life.sealed_days is not None:
        days.append(_later(since, life.sealed_days))
    if opened is not None and life.opened_days is not None:
        days.append(_later(opened, life.opened_days))
    return min(days, default=None)


def _later(day: date, days: float) -> date:
    """So many days later; the last day there is for what keeps for ever."""
    return date.max if days > (date.max - day).days else day + timedelta(days=days)


#: Kinds that come on a roll, or as sheets; cloth of a laminate is weighed.
_COUNTED = {"tape": "run", "cover cloth": "run", "sheet": "count"}


def counted_in(says: Says, kind: str = "") -> Measure:
    """How lots of a product are counted, by its sheet and its kind.

    >>> counted_in({"used_as": "sealant tape"}), counted_in({"used_as": "cups"}), counted_in({})
    ('run', 'count', 'mass')
    >>> counted_in({}, "sheet"), counted_in({}, "tape")
    ('count', 'run')
    """
    counted, _ = USES.get(str(says.get("used_as")), (_COUNTED.get(kind, "mass"), ""))
    return cast(Measure, counted)


def too_little(
    resin_g: float, hardener_g: float, lots: Iterable[tuple[str, float | None]]
) -> tuple[str, float, float] | None:
    """The part of a mix of which the shelf holds too little: which, how much is left, and how much it takes [g].

    Parameters
    ----------
    lots : iterable of (part, grams left)
        ``resin``, ``hardener`` or ``both``; None where nobody counts it. What nobody counts, or
        never came, is not missed.

    >>> too_little(500, 140, [("resin", 900), ("hardener", 60), ("hardener", 30)])
    ('hardener', 90, 140)
    """
    left: dict[str, list[float | None]] = {}
    for part, grams in lots:
        left.setdefault(part, []).append(grams)
    kits = left.pop("both", [])
    if kits:
        # A kit holds both in their ratio; what is counted apart only adds to it.
        left, wanted = {"": kits + [g for rows in left.values() for g in rows]}, {"": resin_g + hardener_g}
    else:
        wanted = {"resin": resin_g, "hardener": hardener_g}
    short = []
    for part, grams in wanted.items():
        known = [max(g, 0) for g in left.get(part, []) if g is not None]
        if known and len(known) == len(left[part]) and sum(known) < grams:
            short.append((sum(known) / grams, (part, sum(known), grams)))
    return min(short)[1] if short else None
