"""A simulated sky, and what a forecast says of it: the same for the same seed and day."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass
from datetime import date, timedelta, tzinfo

from kiteloom.core.air.building import Day, outside_curve
from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.calendar import local_midnight, moment_of

DAYS_AHEAD = 10


@dataclass(frozen=True)
class SimulatedSky:
    """Weather by the season, with spells of some days and a daily swing."""

    seed: int
    zone: tzinfo

    def day(self, midnight: float) -> Day:
        """The weather of the local day that begins then."""
        on = moment_of(midnight, self.zone).date()
        chance = self._chance(on)
        season = -math.cos(2 * math.pi * (on.timetuple().tm_yday - 15) / 365)
        spell = sum(self._chance(on + timedelta(days=n)).gauss(0, 1) for n in range(-2, 3)) / 2
        mean = 8.5 + 10.5 * season + 1.8 * spell
        swing = 6.0 + 2.5 * season + chance.uniform(0, 4)
        low = mean - swing / 2
        return Day(midnight, round(low, 1), round(mean + swing / 2, 1), round(low - chance.uniform(-1.0, 2.5), 1))

    def _chance(self, on: date) -> random.Random:
        return random.Random(f"{self.seed}/{on.toordinal()}")

    def days(self, start: float, end: float) -> list[Day]:
        """Every local day from one moment to another."""
        found, midnight = [], local_midnight(start, self.zone)
        while midnight <= end:
            found.append(self.day(midnight))
            midnight = local_midnight(midnight + 1.5 * DAY_MIN, self.zone)
        return found

    def outside(self, start: float, end: float) -> tuple[Profile, Profile]:
        """Air temperature and dew point outside between two times [°C]."""
        days = self.days(start - DAY_MIN, end + DAY_MIN)
        dew = Profile.of([(day.midnight + DAY_MIN / 2, day.dew_c or 0.0) for day in days])
        return outside_curve(days), dew


@dataclass(frozen=True)
class SimulatedForecast:
    """What is said of the coming days: less sure the further ahead."""

    sky: SimulatedSky

    def days(self, now: float) -> list[Day]:
        """Today and the ten days after it."""
        said = []
        for ahead, day in enumerate(self.sky.days(now, now + DAYS_AHEAD * DAY_MIN)):
            chance = random.Random(f"{self.sky.seed}/said/{int(now // 360)}/{ahead}")
            miss = chance.gauss(0, 0.25 + 0.2 * ahead)
            said.append(
                Day(
                    day.midnight,
                    round(day.low_c + miss, 1),
                    round(day.high_c + miss, 1),
                    round((day.dew_c or 0) + miss, 1),
                )
            )
        return said
