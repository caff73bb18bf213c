"""What releases a part: a reading on the kept cup or test panel, or a signed decision. Never a prediction.

The clock says "check from". A part with several batches waits for the slowest: every one of
them must have a reading that passes, unless somebody signs for the lot of them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

How = Literal["thumbnail", "hardness", "tap", "decision"]


#: Found soft, it is looked at again after so long [min] (common practice).
AGAIN_MIN = 120.0


@dataclass(frozen=True)
class WitnessReading:
    """A reading [min]: of one batch, or of all mixed before it when ``batch`` is empty."""

    at: float
    how: How
    passes: bool
    batch: str = ""


@dataclass(frozen=True)
class Release:
    """Whether a part may go on: what is still to be read, and what was found soft last.

    ``soft_at`` is when the last reading that did not pass was taken [min]; None when none stands.
    """

    released: bool
    unread: tuple[str, ...]
    soft: tuple[str, ...]
    soft_at: float | None


def release(batches: Sequence[tuple[str, float]], readings: Sequence[WitnessReading]) -> Release:
    """Whether readings release what a step's batches made.

    Parameters
    ----------
    batches : sequence of (id, minute)
        Those that count, and when each was mixed.
    readings : sequence of WitnessReading
        In any order. The last one of a batch counts.

    Examples
    --------
    >>> cups = [("a", 0), ("b", 30)]
    >>> release(cups, [WitnessReading(600, "thumbnail", True, "a")]).unread
    ('b',)
    >>> release(cups, [WitnessReading(600, "decision", True)]).released
    True
    """
    unread, soft = [], []
    soft_at: float | None = None
    for key, mixed in batches:
        mine = [r for r in readings if r.at >= mixed and r.batch in ("", key)]
        last = max(mine, key=lambda r: r.at, default=None)
        if last is None:
            unread.append(key)
        elif not last.passes:
            soft.append(key)
            soft_at = last.at if soft_at is None else max(soft_at, last.at)
    return Release(not unread and not soft, tuple(unread), tuple(soft), soft_at)
