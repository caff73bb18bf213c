"""Who is ordered from: parcels counted, what is due, and what could go along."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from kiteloom.core.need.buying import Bought, Pack, cheapest, rounded

#: What is due within so long could go into the same parcel [days].
SOON_DAYS = 21

Urgency = Literal["late", "today", "soon", "later"]


def urgency(order_by: date, today: date) -> Urgency:
    """How much a day on which something is to be ordered presses.

    >>> urgency(date(2026, 5, 30), date(2026, 5, 14)), urgency(date(2026, 5, 13), date(2026, 5, 14))
    ('soon', 'late')
    """
    if order_by <= today:
        return "late" if order_by < today else "today"
    return "soon" if order_by <= today + timedelta(days=SOON_DAYS) else "later"


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
                known[n, there] = _among(rounded(amount), [pack for _, pack in row], there)
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
