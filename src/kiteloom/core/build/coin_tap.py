"""A glue line tapped with a coin over a grid: where it sounds dull there is a void.

Tapping finds voids; it does not show cure. How much must hold is the designer's to say.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between

#: About one tap to so much of the line [m].
EACH_M = 0.04
#: So many taps along and across at the most.
MOST_ALONG, MOST_ACROSS = 60, 4

Cell = tuple[int, int]


@dataclass(frozen=True)
class Grid:
    """So many taps along a glue line, and across it."""

    along: int
    across: int

    @property
    def cells(self) -> int:
        """All of them."""
        return self.along * self.across


def grid_of(length_m: float, width_m: float) -> Grid:
    """The grid a glue line is tapped on.

    >>> grid_of(1.2, 0.03), grid_of(15.0, 0.1)
    (Grid(along=30, across=1), Grid(along=60, across=2))
    """
    along = min(max(round(length_m / EACH_M), 3), MOST_ALONG)
    return Grid(along, min(max(round(width_m / EACH_M), 1), MOST_ACROSS))


@dataclass(frozen=True)
class Covered:
    """How much of it holds [%], and the longest void along it, in taps."""

    pct: float
    longest: int

    def holds(self, least_pct: float) -> bool:
        """Whether as much of it holds as must.

        >>> Covered(95.0, 1).holds(95), Covered(93.3, 2).holds(95)
        (True, False)
        """
        return self.pct >= least_pct - 1e-9


def covered(grid: Grid, voids: Collection[Cell]) -> Covered:
    """How much of a glue line holds; `Refused` for a void beside it.

    >>> covered(Grid(10, 1), [(3, 0), (4, 0)])
    Covered(pct=80.0, longest=2)
    """
    between("along", grid.along, 1, MOST_ALONG, name="the number of taps along it")
    between("across", grid.across, 1, MOST_ACROSS, name="the number of taps across it")
    for along, across in voids:
        if not (0 <= along < grid.along and 0 <= across < grid.across):
            raise Refused(
                "voids",
                f"a void is marked at {along + 1}, {across + 1}; the joint has {grid.along} × {grid.across} places",
            )
    there = set(voids)
    longest = run = 0
    for along in range(grid.along):
        run = run + 1 if any((along, across) in there for across in range(grid.across)) else 0
        longest = max(longest, run)
    return Covered(100 * (1 - len(there) / grid.cells), longest)
