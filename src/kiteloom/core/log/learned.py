"""How long a kind of work really takes here: the factor of actual to estimate, once there are three."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from statistics import median

#: So many of a kind before anything is said of it.
ENOUGH = 3


@dataclass(frozen=True)
class Done:
    """One finished step: its kind, the minutes estimated and the minutes taken."""

    kind: str
    estimated_min: float
    took_min: float


@dataclass(frozen=True)
class Learned:
    """A kind's factor, and how many it was learned from."""

    kind: str
    factor: float
    count: int


def learned(done: Iterable[Done]) -> dict[str, Learned]:
    """The median of actual ÷ estimate by kind of step; kinds with fewer than three are left out.

    >>> found = learned([Done("peel", 60, took) for took in (66, 90, 54)])
    >>> found["peel"].factor, found["peel"].count
    (1.1, 3)
    """
    ratios: dict[str, list[float]] = defaultdict(list)
    for one in done:
        if one.estimated_min > 0 and one.took_min > 0:
            ratios[one.kind].append(one.took_min / one.estimated_min)
    return {kind: Learned(kind, median(found), len(found)) for kind, found in ratios.items() if len(found) >= ENOUGH}
