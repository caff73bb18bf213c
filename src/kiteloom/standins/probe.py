"""A simulated probe that logs the air of one zone, heater and all, and can fall silent."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from kiteloom.core.air.building import ZoneModel
from kiteloom.core.air.moisture import Air, humidity
from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import Interval
from kiteloom.standins.weather import SimulatedSky

#: The air is followed for so long before the first reading, to forget where it began [min].
_SETTLE_MIN = 4 * DAY_MIN


@dataclass
class SimulatedProbe:
    """Logs a reading at every whole ``every_min`` minutes.

    Parameters
    ----------
    heating : callable
        When the zone's heater may run between two times.
    silent : list of intervals
        When nothing is logged [min].
    """

    sky: SimulatedSky
    model: ZoneModel
    heating: Callable[[float, float], Sequence[Interval]]
    every_min: float = 1.0
    silent: list[Interval] = field(default_factory=list)

    def readings(self, after: float, until: float) -> list[tuple[float, Air]]:
        """What was logged after one moment, up to another, oldest first."""
        marks = []
        mark = (int(after // self.every_min) + 1) * self.every_min
        while mark <= until:
            if not any(a <= mark <= b for a, b in self.silent):
                marks.append(mark)
            mark += self.every_min
        if not marks:
            return []
        # Begun at a local midnight, so that the same minute reads the same however it is asked for.
        begin = self.sky.days(marks[0] - _SETTLE_MIN, marks[0] - _SETTLE_MIN)[0].midnight
        outside, dew = self.sky.outside(begin, marks[-1])
        first = outside.at(begin) + self.model.gain_k
        air = self.model.follow(outside, begin, first, marks[-1], self.heating(begin, marks[-1]))
        found = []
        for mark in marks:
            chance = random.Random(f"{self.sky.seed}/{self.model.lag_h}/{int(mark)}")
            temp = round(air.at(mark) + chance.gauss(0, 0.06), 1)
            found.append((mark, Air(temp, round(humidity(temp, dew.at(mark) + 1.0) + chance.gauss(0, 0.4), 1))))
        return [(mark, Air(a.temp_c, min(a.rh_pct or 0, 99.0))) for mark, a in found]
