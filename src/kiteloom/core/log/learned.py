"""How long a kind of work really takes here: the factor of actual to estimate, once there are three."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from statistics import median

#: So many of a kind before anything is said of it.
ENOUGH = 3

#: What work takes differs from its estimate by about a third, either way, where nothing is known of it (common
#: practice): the standard deviation of the logarithm of what it takes over what was estimated [-].
ESTIMATE_SPREAD = 0.3

#: What is known before anything was done weighs as much as so many.
_WEIGHT = 4


@dataclass(frozen=True)
class Done:
    """One finished step: its kind, the minutes estimated and the minutes taken."""

    kind: str
    estimated_min: float
    took_min: float


@dataclass(frozen=True)
class Learned:
    """A kind's factor, how many it was learned from, and how far one of them is off it.

    ``spread`` is the standard deviation of the logarithm of actual over estimate [-], drawn towards `ESTIMATE_SPREAD`
    while few are done.
    """

    kind: str
    factor: float
    count: int
    spread: float = ESTIMATE_SPREAD


def learned(done: Iterable[Done]) -> dict[str, Learned]:
    """The median of actual ÷ estimate by kind of step; kinds with fewer than three are left out.

    >>> found = learned([Done("peel", 60, took) for took in (66, 90, 54)])
    >>> found["peel"].factor, found["peel"].count, round(found["peel"].spread, 2)
    (1.1, 3, 0.27)
    """
    ratios: dict[str, list[float]] = defaultdict(list)
    for one in done:
        if one.estimated_min > 0 and one.took_min > 0:
            ratios[one.kind].append(one.took_min / one.estimated_min)
    return {
        kind: Learned(kind, median(found), len(found), _spread(found))
        for kind, found in ratios.items()
        if len(found) >= ENOUGH
    }


def _spread(ratios: list[float]) -> float:
    middle = math.log(median(ratios))
    squares = sum((math.log(ratio) - middle) ** 2 for ratio in ratios)
    return math.sqrt((_WEIGHT * ESTIMATE_SPREAD**2 + squares) / (_WEIGHT + len(ratios)))
