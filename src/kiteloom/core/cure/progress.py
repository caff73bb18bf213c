"""Temperature history → how far a cure has come → when each stage is reached.

The maturity method: time at any temperature counts as more or less time at the data
sheet's temperature, by an Arrhenius factor. ASTM C1074 states it for concrete.
"""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from dataclasses import dataclass, replace

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.problems import between
from kiteloom.core.cure.system import CureSystem, Floats, rates

HORIZON_MIN = 60 * 24 * 60.0


#: One panel of the quadrature spans at most this much temperature [K].
_PANEL_K = 2.0


# Gauss–Legendre, three points: exact to the fifth degree, so 2 K panels err below 1e-9.
_NODES = np.array([-math.sqrt(0.6), 0.0, math.sqrt(0.6)])


_WEIGHTS = np.array([5.0, 8.0, 5.0]) / 18.0


_PANEL = tuple(zip(_NODES.tolist(), _WEIGHTS.tolist(), strict=True))


class Progress:
    """A cure followed from its start.

    ``minutes`` from the start and the equivalent hours at the reference by then; ``stalled_h``
    are the hours below the product's minimum by then. All arrays have one length.
    """

    def __init__(
        self,
        minutes: Floats,
        equivalent_h: Floats,
        stalled_h: Floats,
        temps: Floats,
        system: CureSystem,
        shares: Floats | None = None,
    ) -> None:
        """With the temperatures by then, and of what cures by moisture the air's against the sheet's."""
        self.minutes, self.equivalent_h, self.stalled_h = minutes, equivalent_h, stalled_h
        self._temps, self._system, self._shares = temps, system, shares
        self._lists: tuple[list[float], list[float], list[float]] | None = None

    def at(self, minute: float) -> float:
        """Equivalent hours after so many minutes.

        >>> round(follow(EPOXY, 0, Profile.steady(23)).at(90), 2)
        1.5
        """
        minutes, had, _ = self._rows()
        i = min(max(bisect_right(minutes, minute) - 1, 0), len(minutes) - 2)
        return had[i] + self._within(i, minute)

    def stalled_by(self, minute: float) -> float:
        """Hours it stood still, by so many minutes after the start.

        >>> round(follow(EPOXY, 0, Profile.steady(5)).stalled_by(120), 2)  # below its 12 °C nothing happens
        2.0
        """
        return float(np.interp(minute, self.minutes, self.stalled_h))

    def reaches(self, hours: float) -> float | None:
        """Minutes after the start at which it has had so many hours; None if not within the horizon.

        >>> follow(EPOXY, 0, Profile.steady(5)).reaches(4) is None
        True
        """
        minutes, had, temps = self._rows()
        if had[-1] < hours:
            return None
        i = max(bisect_left(had, hours) - 1, 0)
        low, high, missing, gain = minutes[i], minutes[i + 1], hours - had[i], had[i + 1] - had[i]
        if gain <= missing:
            return high
        # Newton's steps from where it would be at an even rate, kept inside the panel: what was had grows by the rate.
        minute = low + (high - low) * missing / gain
        warm, slope = temps[i], (temps[i + 1] - temps[i]) / (high - low)
        for _ in range(50):
            short = missing - self._within(i, minute)
            step = 60 * short / max(self._system.rate_at(warm + slope * (minute - low)) * self._share(i, minute), 1e-12)
            minute = min(max(minute + step, low), high)
            # What is still missing goes by the square of the step; where moisture counts too, by more.
            if abs(step) < 1e-7 or (self._shares is None and step * step * abs(slope) < 1e-7):
                break
        return minute

    def _rows(self) -> tuple[list[float], list[float], list[float]]:
        """Minutes, hours had and temperatures as lists: a plan asks them ten thousand times over."""
        if self._lists is None:
            self._lists = self.minutes.tolist(), self.equivalent_h.tolist(), self._temps.tolist()
        return self._lists

    def _within(self, i: int, minute: float) -> float:
        minutes, _, temps = self._rows()
        start, first = minutes[i], temps[i]
        part = (minute - start) / (minutes[i + 1] - start)
        if _stalled((first + temps[i + 1]) / 2, self._system):
            return 0.0
        rate, rise = self._system.rate_at, (temps[i + 1] - first) * part / 2
        mean: float
        if self._shares is None:
            # Written out, for the same.
            (low, ends), (middle, most), (high, _) = _PANEL
            mean = ends * (rate(first + rise * (1 + low)) + rate(first + rise * (1 + high)))
            mean += most * rate(first + rise * (1 + middle))
        else:
            half = (minute - start) / 2
            mean = sum(
                w * rate(first + rise * (1 + node)) * self._share(i, start + half * (1 + node)) for node, w in _PANEL
            )
        return mean * (minute - start) / 60

    def _share(self, i: int, minute: float) -> float:
        if self._shares is None:
            return 1.0
        part = (minute - float(self.minutes[i])) / float(self.minutes[i + 1] - self.minutes[i])
        return float(self._shares[i]) + part * float(self._shares[i + 1] - self._shares[i])


def _stalled(temp_c: float, system: CureSystem) -> bool:
    return system.min_c is not None and temp_c < system.min_c


def follow(
    system: CureSystem,
    start_min: float,
    profile: Profile,
    horizon_min: float = HORIZON_MIN,
    humidity: Profile | None = None,
) -> Progress:
    """Follow a cure from its mix to the horizon.

    Parameters
    ----------
    start_min : float
        When it was mixed, on the profile's clock [min].
    profile : Profile
        Air or part temperature: linear between its points, held before and after.
    horizon_min : float
        How far to follow [min].
    humidity : Profile or None
        The air's, as far as it is known [%]; beyond, the sheet's own counts. Only what cures by moisture heeds it.

    Notes
    -----
    Points are added where the temperature crosses the product's minimum, so what is stalled
    is exact, and inside steep pieces, so each panel spans at most 2 K.

    >>> cure = follow(EPOXY, 0, Profile.steady(23))
    >>> round(cure.reaches(10))
    600
    """
    damp = _damp(system, humidity)
    knots = profile.minutes if damp is None else np.union1d(profile.minutes, damp.minutes)
    inside = (knots > start_min) & (knots < start_min + horizon_min)
    minutes = np.concatenate(([start_min], knots[inside], [start_min + horizon_min]))
    temps = np.interp(minutes, profile.minutes, profile.celsius)
    if system.min_c is not None:
        minutes, temps = _with_crossings(minutes, temps, system.min_c)
    panels = np.maximum(np.ceil(np.abs(np.diff(temps)) / _PANEL_K), 1).astype(int)
    if panels.max(initial=1) > 1:
        index = np.concatenate((np.repeat(np.arange(len(panels)), panels), [len(panels)]))
        offset = np.concatenate(([0], np.cumsum(panels)))[:-1]
        part = np.zeros(len(index))
        part[:-1] = (np.arange(len(index) - 1) - offset[index[:-1]]) / panels[index[:-1]]
        minutes, temps = (
            np.interp(index + part, np.arange(len(minutes)), minutes),
            np.interp(index + part, np.arange(len(temps)), temps),
        )
    length = np.diff(minutes) / 60
    middle, half = (temps[1:] + temps[:-1]) / 2, (temps[1:] - temps[:-1]) / 2
    shares = None if damp is None else np.interp(minutes, damp.minutes, damp.celsius)
    share, spread = (1.0, 0.0) if shares is None else ((shares[1:] + shares[:-1]) / 2, np.diff(shares) / 2)
    mean_rate = sum(
        w * rates(middle + half * x, system) * (share + spread * x) for x, w in zip(_NODES, _WEIGHTS, strict=True)
    )
    still = middle < system.min_c if system.min_c is not None else np.zeros(len(length), dtype=bool)
    gained = np.where(still, 0.0, mean_rate * length)
    return Progress(
        minutes - start_min,
        np.concatenate(([0.0], np.cumsum(gained))),
        np.concatenate(([0.0], np.cumsum(np.where(still, length, 0.0)))),
        temps,
        system,
        shares,
    )


def _damp(system: CureSystem, humidity: Profile | None) -> Profile | None:
    """An air's humidity against the sheet's; 1 from a minute before it is known, and a minute after."""
    if system.reference_rh_pct is None or humidity is None:
        return None
    first, last = humidity.minutes[0] - 1, humidity.minutes[-1] + 1
    shares = humidity.celsius / system.reference_rh_pct
    return Profile(np.concatenate(([first], humidity.minutes, [last])), np.concatenate(([1.0], shares, [1.0])))


def _with_crossings(minutes: Floats, temps: Floats, level: float) -> tuple[Floats, Floats]:
    above = temps - level
    crossing = np.nonzero(above[:-1] * above[1:] < 0)[0]
    if not len(crossing):
        return minutes, temps
    part = above[crossing] / (above[crossing] - above[crossing + 1])
    at = minutes[crossing] + part * (minutes[crossing + 1] - minutes[crossing])
    return np.insert(minutes, crossing + 1, at), np.insert(temps, crossing + 1, level)


@dataclass(frozen=True)
class StageTime:
    """When a stage is reached: minutes after the mix, with the band's early and late; None if not in time."""

    name: str
    hours: float
    minutes: float | None
    early: float | None
    late: float | None


@dataclass(frozen=True)
class CureTimes:
    """All stages of one cure, and the hours it stood still until the last of them."""

    stages: tuple[StageTime, ...]
    stalled_h: float


def cure_times(
    system: CureSystem,
    start_min: float,
    profile: Profile,
    temperature_band_c: float = 0.0,
    humidity: Profile | None = None,
) -> CureTimes:
    """When each stage is reached, early and late.

    Parameters
    ----------
    start_min : float
        The mix, on the profile's clock [min].
    temperature_band_c : float
        How far the temperature may be off, either way [K]; 0 to 30.
    humidity : Profile or None
        As in `follow`.

    Returns
    -------
    CureTimes
        Nothing is looked for beyond 60 days. The band takes the extremes of
        (Eₐ ± its band) × (temperature ± its band).

    Examples
    --------
    >>> steady = Profile.steady(23)
    >>> epoxy = CureSystem(55, 23, (Stage("gel", 4), Stage("peel", 12)))
    >>> [round(stage.minutes, 6) for stage in cure_times(epoxy, 0, steady).stages]
    [240.0, 720.0]
    """
    between("temperature_band_c", temperature_band_c, 0, 30, unit="K")
    expected = follow(system, start_min, profile, humidity=humidity)
    band = system.activation_energy_band_kj_mol
    cases = [expected]
    if band or temperature_band_c:
        for energy in {system.activation_energy_kj_mol - band, system.activation_energy_kj_mol + band}:
            varied = replace(system, activation_energy_kj_mol=min(max(energy, 0.0), 250.0))
            for shift in {-temperature_band_c, temperature_band_c}:
                cases.append(follow(varied, start_min, profile.shifted(shift), humidity=humidity))
    stages = []
    for stage in system.stages:
        reached = [case.reaches(stage.hours) for case in cases]
        early = min((minute for minute in reached if minute is not None), default=None)
        late = None if None in reached else max(minute for minute in reached if minute is not None)
        stages.append(StageTime(stage.name, stage.hours, reached[0], early, late))
    last = [stage.minutes for stage in stages]
    until = HORIZON_MIN if None in last else max(minute for minute in last if minute is not None)
    return CureTimes(tuple(stages), expected.stalled_by(until))
