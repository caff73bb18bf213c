"""A closed tank under pressure: what its air, colder or warmer, makes of that, and what is left over is the leak.

The gas law: in a closed tank pressure ÷ temperature stays, the pressure absolute and the temperature in kelvin. A gauge
reads against the air outside, so a falling barometer lifts it. How far a tank may fall is its kit maker's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.cure.system import KELVIN

#: The air outside where nobody read a barometer [kPa].
STANDARD_KPA = 101.325
#: What a thermometer laid on a tank may be off by (common practice) [K].
THERMOMETER_K = 0.5
#: Pumped up to less, or more, than these shares of what is asked, that is said (common practice) [-].
LEAST_SHARE, MOST_SHARE = 0.95, 1.25


@dataclass(frozen=True)
class TankReading:
    """What was read of a tank: when [min], its gauge [kPa], its air [°C], the barometer [kPa] where it was read."""

    at_min: float
    gauge_kpa: float
    temp_c: float
    air_kpa: float | None = None

    def __post_init__(self) -> None:
        between("gauge_kpa", self.gauge_kpa, 0, 200, unit="kPa", name="the gauge")
        between("temp_c", self.temp_c, -40, 80, unit="°C", name="the tank's air")
        if self.air_kpa is not None:
            between("air_kpa", self.air_kpa, 50, 110, unit="kPa", name="the barometer")


@dataclass(frozen=True)
class Held:
    """One reading against the first: what its gauge should read with nothing lost, and what is missing [kPa].

    ``doubt_kpa`` is what a thermometer off by half a kelvin makes; ``leak_ml_min`` the air lost, as it is outside.
    """

    expected_kpa: float
    missing_kpa: float
    doubt_kpa: float
    minutes: float
    leak_ml_min: float | None


def held(first: TankReading, now: TankReading, volume_l: float | None = None) -> Held:
    """What a closed tank should read now, from what it read first.

    Raises
    ------
    Refused
        If it was read before the first time, or its volume is out of bounds.

    >>> found = held(TankReading(0, 20, 20, 101.3), TankReading(600, 19.59, 19, 101.3), 40)
    >>> round(found.expected_kpa, 2), round(found.missing_kpa, 2)
    (19.59, -0.0)
    """
    if now.at_min < first.at_min:
        raise Refused("at", "it was read before the test began")
    if volume_l is not None:
        between("volume_l", volume_l, 0, 2000, unit="l", name="the volume", open_low=True)
    outside = first.air_kpa if first.air_kpa is not None else STANDARD_KPA
    outside_now = now.air_kpa if now.air_kpa is not None else outside
    if first.air_kpa is None and now.air_kpa is not None:
        outside = outside_now
    whole = first.gauge_kpa + outside
    expected = whole * (now.temp_c + KELVIN) / (first.temp_c + KELVIN) - outside_now
    missing = expected - now.gauge_kpa
    minutes = now.at_min - first.at_min
    lost = None
    if volume_l is not None and minutes > 0:
        lost = 1000 * volume_l * missing / outside_now / minutes
    return Held(expected, missing, whole / (first.temp_c + KELVIN) * THERMOMETER_K, minutes, lost)


@dataclass(frozen=True)
class LeakTest:
    """How a tank is tried: pumped up to [kPa], how long [min], what may be missing [kPa]; what it holds [l]."""

    test_kpa: float
    lasts_min: float
    allowed_kpa: float
    volume_l: float | None = None


@dataclass(frozen=True)
class Tightness:
    """What a test says so far: not enough read yet, tight, or leaking; and in sentences."""

    verdict: Literal["reading", "tight", "leaks"]
    says: tuple[str, ...]


def tightness(readings: Sequence[TankReading], test: LeakTest, units: UnitSystem = "metric") -> Tightness:
    """What readings say of a tank, in order, the first as it was pumped up.

    >>> cold = [TankReading(0, 20, 20, 101.3), TankReading(720, 19.5, 19, 101.3)]
    >>> tightness(cold, LeakTest(20, 600, 0.3)).verdict, tightness(cold, LeakTest(20, 900, 0.3)).verdict
    ('tight', 'reading')
    """
    if not readings:
        return Tightness("reading", ("Not pumped up yet.",))
    if len(readings) == 1:
        return Tightness("reading", ("Pumped up; read it again later.",))
    last = readings[-1]
    found = held(readings[0], last, test.volume_l)

    def kpa(value: float) -> str:
        return show(abs(value), "pressure", units)

    fell = readings[0].gauge_kpa - last.gauge_kpa
    moved = found.expected_kpa - readings[0].gauge_kpa
    went, would = "fell" if fell >= 0 else "rose", "fall" if moved <= 0 else "rise"
    says = [f"The gauge {went} by {kpa(fell)}; its air and the barometer alone make it {would} by {kpa(moved)}."]
    says.append(f"{kpa(found.missing_kpa)} {'is missing' if found.missing_kpa >= 0 else 'is too much'}; "
                f"{kpa(test.allowed_kpa)} may be missing.")  # fmt: skip
    if any(one.air_kpa is None for one in (readings[0], last)):
        says.append(f"The barometer was not read at both ends: in a night weather moves a gauge by {kpa(1)} or more.")
    if abs(found.missing_kpa) <= found.doubt_kpa:
        says.append(f"A thermometer off by {THERMOMETER_K:g} K looks like {kpa(found.doubt_kpa)}.")
    if readings[0].gauge_kpa < LEAST_SHARE * test.test_kpa:
        says.append(f"It was pumped up to {kpa(readings[0].gauge_kpa)} only; {kpa(test.test_kpa)} is asked.")
    if readings[0].gauge_kpa > MOST_SHARE * test.test_kpa:
        says.append(
            f"It was pumped up to {kpa(readings[0].gauge_kpa)}; {kpa(test.test_kpa)} is asked, and more tears it."
        )
    if found.missing_kpa < -max(test.allowed_kpa, found.doubt_kpa):
        says.append("More than its warming explains: the thermometer does not read the tank's air, or it was pumped.")
        return Tightness("reading", tuple(says))
    if found.missing_kpa > test.allowed_kpa:
        if found.leak_ml_min is not None:
            says.append(f"That is {show(found.leak_ml_min, 'volume', units)} of air a minute. "
                        "Soap water finds it; let the pressure off before anything is opened.")  # fmt: skip
        return Tightness("leaks", tuple(says))
    if readings[0].gauge_kpa < LEAST_SHARE * test.test_kpa:
        return Tightness("reading", tuple(says))
    if found.minutes < test.lasts_min - 1e-9:
        says.append("It has not stood long enough yet.")
        return Tightness("reading", tuple(says))
    return Tightness("tight", tuple(says))
