"""What came of a lot or an item, what was used, thrown away and counted differently, and what is left: a sum that
always holds.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused

#: So much more than the book has is a pair of scales, not something that appeared [-].
SCALES = 0.02
Kind = Literal["came", "used", "thrown", "counted"]
#: Of one minute, what was used is counted already.
_RANK: dict[str, int] = {"came": 0, "used": 1, "thrown": 1, "counted": 2}


@dataclass(frozen=True)
class Event:
    """So much came, was used or thrown away, or was there when it was counted; and of what that is said."""

    minute: float
    kind: Kind
    amount: float
    words: str = ""

    @property
    def order(self) -> tuple[float, int]:
        """Where it stands among others."""
        return self.minute, _RANK[self.kind]


@dataclass(frozen=True)
class Ledger:
    """came = used + left + thrown + missing: what a count found less of than the book had is missing, more is below 0.

    ``came`` and ``left`` are None while nobody said how much there was.
    """

    came: float | None
    used: float = 0.0
    thrown: float = 0.0
    missing: float = 0.0
    left: float | None = None


def ledger(events: Iterable[Event]) -> Ledger:
    """Events of one lot, or one item, added up.

    Parameters
    ----------
    events : iterable of Event
        In any order. Before anything came, or was counted, nothing is known: a first count is then what came.

    >>> day = [Event(0, "came", 1000), Event(1, "used", 300), Event(2, "counted", 650), Event(3, "used", 100)]
    >>> ledger(day)
    Ledger(came=1000, used=400, thrown=0, missing=50, left=550)
    """
    came: float | None = None
    left: float | None = None
    used = thrown = missing = 0.0
    for event in sorted(events, key=lambda one: one.order):
        if event.kind == "came":
            came, left = (came or 0) + event.amount, (left or 0) + event.amount
        elif event.kind == "counted":
            if left is None or came is None:
                came = event.amount + used + thrown
            else:
                missing += left - event.amount
            left = event.amount
        else:
            if event.kind == "used":
                used += event.amount
            else:
                thrown += event.amount
            left = None if left is None else left - event.amount
    whole = Ledger(came, used, thrown, missing, left)
    return Ledger(*(None if value is None else _plain(value) for value in vars(whole).values()))  # type: ignore[arg-type]


def _plain(value: float) -> float:
    """Without a nought behind the point where it is whole."""
    return int(value) if value == int(value) else value


def shared(lots: Sequence[Sequence[Event]], uses: Iterable[Event]) -> list[list[Event]]:
    """Which lot each use is taken from: one after the other, each until it is empty, of those that are there.

    Parameters
    ----------
    lots : sequence of the events of each
        In the order they are used up: when it came, counts, what was thrown away. One of which nobody said how much
        there is takes no part before it is counted.

    Returns
    -------
    list of the uses of each lot
        What no lot has was there all the same: the last that was there has less than nothing.

    >>> [[use.amount for use in of] for of in shared([[Event(0, "came", 10)], [Event(50, "came", 10)]],
    ...     [Event(40, "used", 4), Event(60, "used", 8), Event(70, "used", 1)])]
    [[4, 6], [2, 1]]
    """
    found: list[list[Event]] = [[] for _ in lots]
    left: list[float | None] = [None] * len(lots)
    row = [(event, n) for n, events in enumerate(lots) for event in events] + [(use, -1) for use in uses]
    for event, n in sorted(row, key=lambda pair: pair[0].order):
        if n >= 0:
            before = left[n]
            if event.kind == "came":
                left[n] = (before or 0) + event.amount
            elif event.kind == "counted":
                left[n] = event.amount
            elif before is not None:
                left[n] = before - event.amount
            continue
        there = [m for m, amount in enumerate(left) if amount is not None]
        amount = event.amount
        for m in there:
            has = left[m] or 0
            taken = amount if m == there[-1] else min(max(has, 0), amount)
            if taken > 0:
                found[m].append(Event(event.minute, "used", taken, event.words))
            left[m] = has - taken
            amount -= taken
    return found


def count_says_why(amount: float, has: float, who: str | None, why: str, off: float = 0.0) -> None:
    """Nothing appears by a count without a name and a reason; ``off`` is how far scales may differ [-].

    >>> count_says_why(5, 3, None, "")
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: that is 2 more than the book has; say who counted
    """
    if amount <= has * (1 + off) + 1e-9:
        return
    more = f"that is {amount - has:.6g} more than the book has"
    if who is None:
        raise Refused("crew_member_id", f"{more}; say who counted")
    if not why.strip():
        raise Refused("note", f"{more}; say in a few words where they come from")
