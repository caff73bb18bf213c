"""An iron's dial against a thermometer: a straight line, asked the other way round for the dial of a temperature.

Irons are sold for shirts: their dials say little, and drift. That one is read again before it is trusted after a month
is common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show

#: After so many days a calibration is asked about [days].
OLD_DAYS = 30
#: Further from the line than this, a reading is asked about [K].
OFF_K = 8.0
#: Between these a covering iron is read [°C].
LEAST_C, MOST_C = 20.0, 300.0


@dataclass(frozen=True)
class Read:
    """What a thermometer found where the dial stood."""

    dial: float
    celsius: float

    def __post_init__(self) -> None:
        between("dial", self.dial, -1000, 1000, name="the dial")
        sole(self.celsius)


def sole(celsius: float, units: UnitSystem = "metric", field: str = "celsius") -> float:
    """A temperature that an iron's sole can have [°C]; `Refused` otherwise, in the shop's units.

    >>> sole(155.0)
    155.0
    """
    if not LEAST_C <= celsius <= MOST_C:
        found, low, high = (show(one, "temperature", units) for one in (celsius, LEAST_C, MOST_C))
        raise Refused(field, f"the iron is {found}; it is read from {low} to {high}")
    return celsius


@dataclass(frozen=True)
class Calibration:
    """The line through an iron's readings: temperature = ``start_c`` + ``per_dial`` × dial; and what was read of it.

    ``off_k`` is how far a reading lies from it at most.
    """

    per_dial: float
    start_c: float
    coldest_c: float
    hottest_c: float
    off_k: float

    def dial(self, celsius: float) -> float:
        """Where the dial stands for a temperature.

        >>> round(calibrated([Read(2, 100), Read(4, 160)]).dial(130), 6)
        3.0
        """
        return (celsius - self.start_c) / self.per_dial

    def beyond(self, celsius: float) -> bool:
        """Whether a temperature lies beyond what was read, so that the line is drawn on.

        >>> calibrated([Read(2, 100), Read(4, 160)]).beyond(175)
        True
        """
        return not self.coldest_c - 1e-9 <= celsius <= self.hottest_c + 1e-9


def calibrated(readings: Sequence[Read]) -> Calibration:
    """The line by least squares; `Refused` with fewer than two places of the dial, or one that gets no hotter.

    >>> found = calibrated([Read(1, 80), Read(3, 121), Read(5, 162)])
    >>> round(found.per_dial, 6), round(found.start_c, 6), round(found.off_k, 6)
    (20.5, 59.5, 0.0)
    """
    if len({one.dial for one in readings}) < 2:
        raise Refused("readings", f"{len(readings)} readings; at two places of the dial at least it must be read")
    dial, hot = np.array([one.dial for one in readings]), np.array([one.celsius for one in readings])
    slope, start = np.polyfit(dial, hot, 1)
    if slope <= 0:
        raise Refused("readings", "the higher the dial, the colder it was read: two are swapped, or it is broken")
    off = float(np.max(np.abs(hot - (slope * dial + start))))
    return Calibration(float(slope), float(start), float(hot.min()), float(hot.max()), off)


def dial_words(found: Calibration, celsius: float, age_days: float, units: UnitSystem) -> str:
    """Where an iron's dial stands for a temperature, and what is to be asked of that.

    >>> dial_words(calibrated([Read(2, 100), Read(4, 160)]), 175, 40, "metric")
    'dial 4.5, drawn on beyond the 160.0 °C it was read to; calibrated 40 days ago: read it again first'
    """
    words = f"dial {found.dial(celsius):.1f}"
    if found.beyond(celsius):
        end = found.hottest_c if celsius > found.hottest_c else found.coldest_c
        words += f", drawn on beyond the {show(end, 'temperature', units)} it was read to"
    if found.off_k > OFF_K:
        words += f"; its readings scatter by {show(found.off_k, 'difference', units)}"
    if age_days > OLD_DAYS:
        words += f"; calibrated {age_days:.0f} days ago: read it again first"
    return words
