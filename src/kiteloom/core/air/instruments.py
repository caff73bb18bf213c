"""Two instruments in one place: which readings of one the other fills, and by how much they differ."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.quantities import UnitSystem, show

#: Between two readings no further apart than this a zone needs no third, from another instrument [min].
FILLS_MIN = 40.0


#: Two instruments that differ by no more than this agree: a shop logger is good to half of it (common practice) [K].
AGREE_K = 1.0


@dataclass(frozen=True, eq=False)
class Beside:
    """One record beside another.

    Parameters
    ----------
    between : array
        Whether each of its readings lies between two of the other that are close together.
    off : array
        By how much those are off [K].
    there : int
        How many readings of the other lie in its span.
    """

    between: NDArray[np.bool_]
    off: NDArray[np.float64]
    there: int

    def differs(self, units: UnitSystem = "metric") -> str:
        """By how much two instruments differ, in words; ``""`` where they agree.

        >>> Beside(np.array([True]), np.array([4.0]), 2).differs()[:73]
        'In the hours both have, it differs from what is recorded by up to 4.0 °C,'
        """
        if not len(self.off) or self.off.max() <= AGREE_K:
            return ""
        most, mean = (show(float(k), "difference", units) for k in (self.off.max(), self.off.mean()))
        return (
            f"In the hours both have, it differs from what is recorded by up to {most}, by {mean} in the mean: "
            "another instrument, another place, or another clock? Two of them mixed would be neither."
        )


def beside(
    minutes: NDArray[np.float64],
    celsius: NDArray[np.float64],
    known_minutes: NDArray[np.float64],
    known_celsius: NDArray[np.float64],
) -> Beside:
    """Lay one record beside what is known; both are ordered by time [min] and in °C.

    >>> found = beside(np.array([10.0, 90.0]), np.array([20.0, 20.0]), np.array([0.0, 30.0, 120.0]), np.full(3, 18.0))
    >>> found.between.tolist(), found.off.tolist(), found.there
    ([True, False], [2.0], 1)
    """
    if not len(known_minutes):
        return Beside(np.zeros(len(minutes), dtype=bool), np.zeros(0), 0)
    last = len(known_minutes) - 1
    after = np.clip(np.searchsorted(known_minutes, minutes), 0, last)
    before = np.clip(np.searchsorted(known_minutes, minutes, side="right") - 1, 0, last)
    inside = (minutes >= known_minutes[0]) & (minutes <= known_minutes[-1])
    between = inside & (known_minutes[after] - known_minutes[before] <= FILLS_MIN)
    off = np.abs(celsius - np.interp(minutes, known_minutes, known_celsius))[between]
    there = int(((known_minutes >= minutes[0]) & (known_minutes <= minutes[-1])).sum())
    return Beside(between, off, there)
