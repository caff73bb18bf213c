"""What the shelf does not serve by its day, the cheapest packs that cover it, and when to order them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from functools import reduce

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from kiteloom.core.base.problems import Refused, between

#: Amounts and prices are taken to so many digits: what is typed has fewer.
_DIGITS = 9
#: With more steps than this, packs are found by whole-number programming instead of one step after another.
_MOST_STEPS = 100_000
#: So many packs of one kind are never bought.
_MOST_PACKS = 1_000_000


@dataclass(frozen=True)
class Wanted:
    """So much that is wanted on a day."""

    amount: float
    day: date


@dataclass(frozen=True)
class Held:
    """So much that is there, or comes on a day; good on the day it expires, and not after."""

    amount: float
    expires: date | None = None
    comes: date | None = None


@dataclass(frozen=True)
class Pack:
    """So much at a price, and how many days it takes to come."""

    amount: float
    price: float
    lead_days: int = 0

    def __post_init__(self) -> None:
        between("packs.amount", self.amount, 0, 1e12, name="a pack’s amount", open_low=True)
        between("packs.price", self.price, 0, 1e12, name="a pack’s price")
        between("packs.lead_days", self.lead_days, 0, 3650, unit="days", name="the days until it comes")


@dataclass(frozen=True)
class Bought:
    """So many of each pack, in their order; what they cost, and what is left over."""

    counts: tuple[int, ...]
    cost: float
    left_over: float

    def lead_days(self, packs: Sequence[Pack]) -> int:
        """The longest lead among what is bought."""
        return max((pack.lead_days for pack, count in zip(packs, self.counts, strict=True) if count), default=0)


def served(wanted: Sequence[Wanted], held: Sequence[Held], today: date) -> list[tuple[float, date | None]]:
    """What no stock serves of each want, and the day the last of what serves it comes; None where it is there.

    Parameters
    ----------
    wanted : sequence of Wanted
        Served in order of their day, the first first among those of one; what was wanted in the past counts as today.
    held : sequence of Held
        What is there, the soonest-expiring first, then what comes, the soonest first.

    Examples
    --------
    >>> day = date(2026, 5, 14)
    >>> served([Wanted(3, day), Wanted(4, day)], [Held(5), Held(1, comes=date(2026, 5, 20))], day)
    [(0, None), (1, datetime.date(2026, 5, 20))]
    """
    stock = sorted(held, key=lambda one: (one.comes or date.min, one.expires or date.max))
    left = [max(one.amount, 0.0) for one in stock]
    found: list[tuple[float, date | None]] = [(0, None)] * len(wanted)
    for n in sorted(range(len(wanted)), key=lambda n: max(wanted[n].day, today)):
        day, missing, comes = max(wanted[n].day, today), wanted[n].amount, None
        for m, one in enumerate(stock):
            if missing <= 0 or left[m] <= 0:
                continue
            if one.expires is not None and one.expires < max(day, one.comes or day):
                continue
            taken = min(left[m], missing)
            left[m] -= taken
            missing -= taken
            comes = one.comes or comes
        # What floating point leaves over of grams is nothing.
        found[n] = (missing if missing > 1e-9 * max(wanted[n].amount, 1.0) else 0, comes)
    return found


def cheapest(short: float, packs: Sequence[Pack]) -> Bought:
    """The cheapest packs that cover an amount, exactly; of those that cost the same the least left over, then the
    soonest.

    Parameters
    ----------
    short : float
        In the packs' own measure; above 0.

    Raises
    ------
    Refused
        Without a pack, or where it takes more than a million of them.

    Examples
    --------
    >>> cheapest(7, [Pack(1, 10), Pack(5, 40)])
    Bought(counts=(2, 1), cost=60.0, left_over=0.0)
    """
    if not packs:
        raise Refused("packs", f"{short:g} is short, and no pack of it is known")
    if short / max(pack.amount for pack in packs) > _MOST_PACKS:
        raise Refused("packs", f"{short:g} is short; that is more than {_MOST_PACKS} of the largest pack")
    best: tuple[Fraction, Fraction, int, tuple[int, ...]] | None = None
    for lead in sorted({pack.lead_days for pack in packs}):
        there = [n for n, pack in enumerate(packs) if pack.lead_days <= lead]
        counts = _cover(short, [packs[n] for n in there])
        of = [0] * len(packs)
        for n, count in zip(there, counts, strict=True):
            of[n] = count
        cost = sum((_exact(pack.price) * count for pack, count in zip(packs, of, strict=True)), Fraction(0))
        amount = sum((_exact(pack.amount) * count for pack, count in zip(packs, of, strict=True)), Fraction(0))
        found = (cost, amount, Bought(tuple(of), 0, 0).lead_days(packs), tuple(of))
        if best is None or found[:3] < best[:3]:
            best = found
    assert best is not None
    cost, amount, _, of_each = best
    return Bought(of_each, float(cost), float(amount - _exact(short)))


def _exact(value: float) -> Fraction:
    """A number as it was typed."""
    return Fraction(repr(value)) if math.isfinite(value) else Fraction(0)


def _cover(short: float, packs: Sequence[Pack]) -> tuple[int, ...]:
    """How many of each pack cover an amount for the least money, then with the least left over."""
    amounts = [_exact(pack.amount) for pack in packs]
    unit = reduce(_common, amounts)
    sizes = [int(amount / unit) for amount in amounts]
    steps = math.ceil(_exact(short) / unit)
    most = max(sizes)
    if steps + most > _MOST_STEPS:
        return _programmed(steps, sizes, [pack.price for pack in packs])
    # cost[n] is the least for exactly n units; the packs that cover lie between what is short and one pack more.
    prices = [_exact(pack.price) for pack in packs]
    whole = reduce(lambda a, b: a * b // math.gcd(a, b), (price.denominator for price in prices), 1)
    each = [int(price * whole) for price in prices]
    cost: list[int | None] = [0] + [None] * (steps + most - 1)
    last = [-1] * (steps + most)
    for n in range(1, steps + most):
        for k, (size, price) in enumerate(zip(sizes, each, strict=True)):
            before = cost[n - size] if n >= size else None
            mine = cost[n]
            if before is not None and (mine is None or before + price < mine):
                cost[n], last[n] = before + price, k
    reached = [(price, n) for n, price in enumerate(cost) if price is not None and n >= steps]
    _, at = min(reached)
    counts = [0] * len(packs)
    while at > 0:
        counts[last[at]] += 1
        at -= sizes[last[at]]
    return tuple(counts)


def _common(one: Fraction, other: Fraction) -> Fraction:
    """The largest amount that both are whole multiples of."""
    return Fraction(
        math.gcd(one.numerator * other.denominator, other.numerator * one.denominator),
        one.denominator * other.denominator,
    )


def _programmed(steps: int, sizes: Sequence[int], prices: Sequence[float]) -> tuple[int, ...]:
    """The same by whole-number programming: least money first, then least left over at that money."""
    size, price = np.array(sizes, dtype=float), np.array(prices, dtype=float)
    covers = LinearConstraint(size[None, :], lb=steps)
    bounds, whole = Bounds(0, np.ceil(steps / size)), np.ones(len(sizes), dtype=np.int64)
    first = milp(price, constraints=covers, bounds=bounds, integrality=whole)
    assert first.x is not None
    least = float(price @ np.round(first.x))
    no_dearer = LinearConstraint(price[None, :], ub=least + 1e-9 * max(least, 1.0))
    second = milp(size, constraints=[covers, no_dearer], bounds=bounds, integrality=whole)
    found = first.x if second.x is None else second.x
    return tuple(round(count) for count in found.tolist())


@dataclass(frozen=True)
class Line:
    """What is short of a product, what covers it, and when to order it; ``late_days`` from then to today.

    ``first`` is the first day that lacks it.
    """

    short: float
    bought: Bought
    order_by: date
    late_days: int
    first: date


def line_of(
    today: date, wanted: Sequence[Wanted], held: Sequence[Held], packs: Sequence[Pack], margin_days: int = 0
) -> Line | None:
    """What to buy of a product, all that is short at once; None where nothing is.

    Parameters
    ----------
    margin_days : int
        So much sooner than by its lead alone [days].

    Raises
    ------
    Refused
        If it is short and no pack is known.

    Examples
    --------
    >>> day = date(2026, 5, 14)
    >>> line = line_of(day, [Wanted(7, date(2026, 5, 30))], [Held(2)], [Pack(5, 40, lead_days=9)])
    >>> line.short, line.bought.counts, line.order_by, line.late_days
    (5, (1,), datetime.date(2026, 5, 21), 0)
    """
    return next(iter(lines_of(today, wanted, held, packs, margin_days)), None)


def lines_of(
    today: date,
    wanted: Sequence[Wanted],
    held: Sequence[Held],
    packs: Sequence[Pack],
    margin_days: int = 0,
    ahead_days: int | None = None,
    keeps_days: int | None = None,
) -> list[Line]:
    """What to buy of a product, one time after another: each covers what is wanted within so many days, and keeps.

    Parameters
    ----------
    ahead_days : int or None
        From the first day that lacks it on, what is wanted within so long is bought at once; None for all of it. What
        must be ordered by the same day goes along in any case.
    keeps_days : int or None
        So long a pack is good from the day it comes: it serves nothing that is wanted later.

    Examples
    --------
    >>> day = date(2026, 5, 14)
    >>> wanted = [Wanted(3, date(2026, 6, 1)), Wanted(4, date(2026, 6, 20)), Wanted(2, date(2026, 12, 1))]
    >>> [(line.short, line.bought.counts, str(line.order_by))
    ...     for line in lines_of(day, wanted, [], [Pack(5, 40, lead_days=9)], ahead_days=60)]
    [(7, (2,), '2026-05-23')]
    >>> [(line.short, str(line.order_by)) for line in lines_of(day, wanted, [], [Pack(8, 60, 9)], 0, 60, keeps_days=30)]
    [(7, '2026-05-23'), (2, '2026-11-22')]
    """
    for amount in (*(one.amount for one in wanted), *(one.amount for one in held)):
        between("amount", amount, 0, 1e12)
    missing = zip(wanted, served(wanted, held, today), strict=True)
    rest = sorted(((max(one.day, today), amount) for one, (amount, _) in missing if amount > 0), key=lambda row: row[0])
    lead = max((pack.lead_days for pack in packs), default=0) + margin_days
    found: list[Line] = []
    while rest:
        first = rest[0][0]
        # It comes before its first day, or as late as what is ordered today comes: what is good the shorter counts.
        good = None if keeps_days is None else max(first - timedelta(days=margin_days), today) + timedelta(keeps_days)
        last = None if ahead_days is None else max(first + timedelta(ahead_days), today + timedelta(lead))
        ends = [day for day in (good, last) if day is not None]
        until = max(first, min(ends)) if ends else rest[-1][0]
        short = sum(amount for day, amount in rest if day <= until)
        bought = cheapest(rounded(short), packs)
        order_by = first - timedelta(days=bought.lead_days(packs) + margin_days)
        found.append(Line(short, bought, order_by, max((today - order_by).days, 0), first))
        rest = _without([(day, amount) for day, amount in rest if day > until], bought.left_over, good)
    return found


def _without(rest: Sequence[tuple[date, float]], over: float, good: date | None) -> list[tuple[date, float]]:
    """What is wanted later, less what is left over of what was bought before, as long as that is good."""
    found = []
    for day, amount in rest:
        taken = min(over, amount) if good is None or day <= good else 0
        over -= taken
        if amount - taken > 1e-9 * max(amount, 1.0):
            found.append((day, amount - taken))
    return found


def rounded(amount: float) -> float:
    """An amount without what floating point adds at its end.

    >>> rounded(5.0000000001)
    5.0
    """
    return float(f"{amount:.{_DIGITS}g}")
