"""What releases a part: a reading on the witness of every mix, or a signed decision. Never a prediction.

The witness is a thin coupon of each mix, about as thick as what was laid, at the part's temperature:
a leftover in its cup gets hot and is hard long before the part. The clock says "check from". A part
with several mixes waits for the slowest: each must have a reading that passes. Tapping finds voids and
says nothing of the cure. A mix out of its ratio, or marked bad, can be hard to a thumbnail and have a
fraction of its strength: no reading releases it, only somebody who decides and signs.
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
class MixOn:
    """A mix that is on a step: its batch, when it was mixed [min], and since when it is known to be spoilt."""

    batch: str
    at: float
    spoilt: float | None = None


@dataclass(frozen=True)
class Release:
    """Whether a part may go on: what is still to be read, what was found soft, what waits for a decision.

    ``soft_at`` is when the last reading that did not pass was taken [min], ``decided_at`` when the last
    spoilt mix was let through; None when there is none.
    """

    released: bool
    unread: tuple[str, ...]
    soft: tuple[str, ...]
    soft_at: float | None
    spoilt: tuple[str, ...] = ()
    decided_at: float | None = None

    @property
    def again_at(self) -> float | None:
        """When it is to be read again [min]; None where nothing was found soft.

        >>> release([MixOn("a", 0)], [WitnessReading(600, "thumbnail", False, "a")]).again_at
        720.0
        """
        return None if self.soft_at is None else self.soft_at + AGAIN_MIN


def release(mixes: Sequence[MixOn], readings: Sequence[WitnessReading]) -> Release:
    """Whether readings release what a step's mixes made.

    Parameters
    ----------
    readings : sequence of WitnessReading
        In any order. The last one of a mix counts; of a spoilt one the last decision since that was known.

    Examples
    --------
    >>> mixes = [MixOn("a", 0), MixOn("b", 30)]
    >>> release(mixes, [WitnessReading(600, "thumbnail", True, "a")]).unread
    ('b',)
    >>> release(mixes, [WitnessReading(600, "decision", True)]).released
    True
    >>> release([MixOn("a", 0, spoilt=0)], [WitnessReading(600, "thumbnail", True, "a")]).spoilt
    ('a',)
    """
    unread, soft, spoilt = [], [], []
    soft_at: float | None = None
    decided: list[float] = []
    for mix in mixes:
        mine = [r for r in readings if r.at >= mix.at and r.batch in ("", mix.batch) and r.how != "tap"]
        if mix.spoilt is not None:
            mine = [r for r in mine if not r.passes or (r.how == "decision" and _knowing(r, mix.at, mix.spoilt))]
        last = max(reversed(mine), key=lambda r: r.at, default=None)  # of one minute the one kept last
        if mix.spoilt is not None:
            if last is None or not last.passes:
                spoilt.append(mix.batch)
            else:
                decided.append(last.at)
        elif last is None:
            unread.append(mix.batch)
        elif not last.passes:
            soft.append(mix.batch)
            soft_at = last.at if soft_at is None else max(soft_at, last.at)
    released = not (unread or soft or spoilt)
    return Release(released, tuple(unread), tuple(soft), soft_at, tuple(spoilt), max(decided, default=None))


def _knowing(reading: WitnessReading, mixed: float, spoilt: float) -> bool:
    """Whether it was taken once it was known that a mix is spoilt: of one out of its ratio, from the mix on."""
    return reading.at > spoilt or (spoilt <= mixed and reading.at >= mixed)
