"""How an order stands by what became of it, and the day it is awaited."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

State = Literal["to order", "ordered", "part received", "received", "wrong", "cancelled"]


@dataclass(frozen=True)
class Standing:
    """How an order stands: what of it came, was wrong, and how many packs are still to come."""

    state: State
    received: int
    wrong: int
    to_come: int


def standing(packs: int, notes: Sequence[tuple[str, int]]) -> Standing:
    """How an order stands. What was wrong is not awaited any more: its need is open again.

    Parameters
    ----------
    packs : int
        How many were asked for.
    notes : sequence of (kind, packs)
        Ordered, received, wrong or cancelled, in any order.

    >>> standing(3, [("ordered", 0), ("received", 1), ("wrong", 1)])
    Standing(state='part received', received=1, wrong=1, to_come=1)
    """
    came = sum(count for kind, count in notes if kind == "received")
    wrong = sum(count for kind, count in notes if kind == "wrong")
    kinds = {kind for kind, _ in notes}
    left = max(packs - came - wrong, 0)
    if "cancelled" in kinds:
        return Standing("cancelled", came, wrong, 0)
    if "ordered" not in kinds:
        return Standing("to order", came, wrong, 0)
    if left:
        return Standing("part received" if came or wrong else "ordered", came, wrong, left)
    return Standing("wrong" if wrong else "received", came, wrong, 0)


def comes_on(expected: date | None, today: date) -> date:
    """The day an order is awaited; what is overdue, or has no day, is awaited tomorrow at the soonest.

    >>> str(comes_on(date(2026, 5, 1), date(2026, 5, 14)))
    '2026-05-15'
    """
    return today + timedelta(days=1) if expected is None or expected < today else expected
