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
    """What is short of a product, what covers it, and when to order it; ``late_days`` from then to today."""

    short: float
    bought: Bought
    order_by: date
    late_days: int


def line_of(
    today: date, wanted: Sequence[Wanted], held: Sequence[Held], packs: Sequence[Pack], margin_days: int = 0
) -> Line | None:
    """What to buy of a product; None where nothing is short.

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
    for amount in (*(one.amount for one in wanted), *(one.amount for one in held)):
        between("amount", amount, 0, 1e12)
    missing = served(wanted, held, today)
    short = sum(amount for amount, _ in missing)
    if short <= 0:
        return None
    bought = cheapest(_rounded(short), packs)
    first = min(max(one.day, today) for one, (amount, _) in zip(wanted, missing, strict=True) if amount > 0)
    order_by = first - timedelta(days=bought.lead_days(packs) + margin_days)
    return Line(short, bought, order_by, max((today - order_by).days, 0))


def _rounded(amount: float) -> float:
    """An amount without what floating point adds at its end: 5.000000001 packs are 5."""
    return float(f"{amount:.{_DIGITS}g}")


#: With more who sell than this no ways of choosing among them are compared: there would be too many.
MOST_SELLERS = 8


@dataclass(frozen=True)
class Seller:
    """Who sells: what a parcel costs, and the sum from which it costs nothing; None where it always does."""

    name: str
    postage: float = 0.0
    free_from: float | None = None

    def parcel(self, goods: float) -> float:
        """What sending goods of so much costs; nothing for nothing.

        >>> Seller("Mill", 8.0, 100.0).parcel(40), Seller("Mill", 8.0, 100.0).parcel(140)
        (8.0, 0.0)
        """
        return 0.0 if goods <= 0 or (self.free_from is not None and goods >= self.free_from) else self.postage


@dataclass(frozen=True)
class Bundle:
    """What is bought of each ware, from which of the packs it has; postage by seller, and the whole cost."""

    bought: tuple[Bought, ...]
    postage: tuple[tuple[str, float], ...]
    cost: float


def bundled(
    short: Sequence[float], packs: Sequence[Sequence[tuple[str, Pack]]], sellers: Sequence[Seller]
) -> Bundle | None:
    """The cheapest way to cover several wares together, parcels and all: every choice of sellers is tried.

    Parameters
    ----------
    short : sequence of float
        What is short of each ware, above 0.
    packs : sequence of packs of each ware
        With who sells them, by name.

    Returns
    -------
    Bundle or None
        None where no choice covers all. Within a choice each ware has its cheapest packs; what a parcel that is free
        above a sum would save by buying more than is short is not looked for.

    Examples
    --------
    >>> mill, quay = Seller("Mill", 8.0), Seller("Quay", 6.0)
    >>> two = [[("Mill", Pack(1, 20)), ("Quay", Pack(1, 21))], [("Quay", Pack(1, 30))]]
    >>> bundled([1, 1], two, [mill, quay]).cost  # one parcel, not two
    57.0
    """
    used = [seller for seller in sellers if any(name == seller.name for row in packs for name, _ in row)]
    every = 2 ** len(used) - 1
    best: Bundle | None = None
    known: dict[tuple[int, tuple[int, ...]], Bought] = {}
    for choice in range(1, every + 1) if len(used) <= MOST_SELLERS else [every]:
        chosen = {seller.name: seller for n, seller in enumerate(used) if choice >> n & 1}
        found, goods = [], dict.fromkeys(chosen, 0.0)
        for n, (amount, row) in enumerate(zip(short, packs, strict=True)):
            there = tuple(m for m, (name, _) in enumerate(row) if name in chosen)
            if not there:
                break
            if (n, there) not in known:
                known[n, there] = _among(_rounded(amount), [pack for _, pack in row], there)
            found.append(known[n, there])
            for (name, pack), count in zip(row, known[n, there].counts, strict=True):
                if count:
                    goods[name] += count * pack.price
        else:
            postage = tuple((name, chosen[name].parcel(cost)) for name, cost in goods.items() if cost > 0)
            cost = sum(bought.cost for bought in found) + sum(each for _, each in postage)
            if best is None or cost < best.cost - 1e-9:
                best = Bundle(tuple(found), postage, cost)
    return best


def _among(short: float, packs: Sequence[Pack], there: Sequence[int]) -> Bought:
    """The cheapest of some of the packs, counted among all of them."""
    part = cheapest(short, [packs[m] for m in there])
    counts = [0] * len(packs)
    for m, count in zip(there, part.counts, strict=True):
        counts[m] = count
    return Bought(tuple(counts), part.cost, part.left_over)
