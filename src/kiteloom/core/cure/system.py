"""How fast a product cures: its stages, and the rate at a temperature."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import Refused, between

GAS_J_MOL_K = 8.314462618


KELVIN = 273.15


#: The humidity that a sheet's hours are meant at where a product cures by moisture (ISO 291's standard air) [%].
STANDARD_RH_PCT = 50.0


#: What dries or cures by moisture goes twice as fast so much warmer, where its sheet is silent (common practice) [K].
DOUBLES_K = 10.0


Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Stage:
    """A state the cure comes to (gel, peel …) after so many hours at the reference temperature."""

    name: str
    hours: float

    def __post_init__(self) -> None:
        between(
            "stages.hours",
            self.hours,
            0,
            10_000,
            unit="h",
            name=f"{self.name or 'a stage'}, hours at the reference",
            open_low=True,
        )


@dataclass(frozen=True)
class CureSystem:
    """How fast a chemically cured product goes.

    Parameters
    ----------
    activation_energy_kj_mol : float
        0 to 250 kJ/mol; 0 is a clock that heeds no temperature.
    reference_c : float
        Temperature of the stages' hours [°C].
    stages : tuple of Stage
        Hours count from the mix.
    min_c : float or None
        Below it the cure stands still [°C].
    activation_energy_band_kj_mol : float
        How far the energy may be off, either way.
    table : tuple of (°C, rate)
        For what dries or cures by moisture: its rate relative to the reference, in place of an
        energy; a rule of thumb, two rows at least. Empty for what reacts.
    assumed : bool
        Whether the energy, or the table, is common practice, the sheet being silent.
    reference_rh_pct : float or None
        For what cures by the air's moisture: the humidity of the stages' hours [%]; at half of it, it goes half as
        fast. None for what heeds no humidity.

    References
    ----------
    J. Comyn, "Moisture cure of adhesives and sealants", Int. J. Adhesion and Adhesives 18 (1998): the depth that is
    cured grows with the square root of vapour pressure × time (from memory).
    """

    activation_energy_kj_mol: float
    reference_c: float
    stages: tuple[Stage, ...]
    min_c: float | None = None
    activation_energy_band_kj_mol: float = 0.0
    table: tuple[tuple[float, float], ...] = ()
    assumed: bool = False
    reference_rh_pct: float | None = None

    def __post_init__(self) -> None:
        between("activation_energy_kj_mol", self.activation_energy_kj_mol, 0, 250, unit="kJ/mol")
        between("activation_energy_band_kj_mol", self.activation_energy_band_kj_mol, 0, 100, unit="kJ/mol")
        between("reference_c", self.reference_c, -50, 300, unit="°C")
        if self.min_c is not None:
            between("min_c", self.min_c, -50, 300, unit="°C")
        if len(self.table) == 1:
            raise Refused("table", "the table has 1 row; at least 2 are wanted")
        if not self.stages:
            raise Refused("stages", "stages is empty; at least one stage with its hours is wanted")

    @property
    def rule_of_thumb(self) -> bool:
        """Whether it goes by a table, not by a rate of reaction.

        >>> EPOXY.rule_of_thumb
        False
        """
        return bool(self.table)

    @property
    def first(self) -> Stage:
        """The stage it comes to soonest, in whatever order the sheet names them.

        >>> CureSystem(55, 23, (Stage("full", 168), Stage("gel", 4))).first.name
        'gel'
        """
        return min(self.stages, key=lambda stage: stage.hours)

    @property
    def last(self) -> Stage:
        """The stage it comes to last.

        >>> CureSystem(55, 23, (Stage("full", 168), Stage("gel", 4))).last.name
        'full'
        """
        return max(self.stages, key=lambda stage: stage.hours)

    def has(self, stage: str) -> bool:
        """Whether the sheet gives this stage.

        >>> EPOXY.has("peel"), EPOXY.has("drill")
        (True, False)
        """
        return stage in self._hours

    def paced(self, reference_c: float, stages: tuple[Stage, ...]) -> CureSystem:
        """Other stages at another reference, by the same pace, and without a minimum: the life of a mix.

        >>> EPOXY.paced(13, (Stage("use by", 1),)).rate_at(13)
        1.0
        """
        there = self.rate_at(reference_c) if self.table else 1.0
        table = tuple((celsius, pace / there) for celsius, pace in self.table)
        return replace(self, reference_c=reference_c, stages=stages, min_c=None, table=table)

    def rate_at(self, celsius: float) -> float:
        """How many hours at the reference one hour at this temperature is worth, its minimum apart [-].

        >>> EPOXY.rate_at(23), round(EPOXY.rate_at(13), 2)
        (1.0, 0.46)
        """
        # As `rates` has it, one number at a time: a plan asks this a hundred thousand times over.
        if not self.table:
            return math.exp(-self._kelvins * (1 / (celsius + KELVIN) - 1 / (self.reference_c + KELVIN)))
        knots, logs, cold, warm = self._logs
        at = bisect_right(knots, celsius)
        if at == 0:
            return math.exp(logs[0] + cold * (celsius - knots[0]))
        if at == len(knots):
            return math.exp(logs[-1] + warm * (celsius - knots[-1]))
        part = (celsius - knots[at - 1]) / (knots[at] - knots[at - 1])
        return math.exp(logs[at - 1] + part * (logs[at] - logs[at - 1]))

    @cached_property
    def _hours(self) -> dict[str, float]:
        """Hours to each stage; of two of one name the first counts."""
        return {stage.name: stage.hours for stage in reversed(self.stages)}

    @cached_property
    def _kelvins(self) -> float:
        """Its activation energy over the gas constant [K]."""
        return self.activation_energy_kj_mol * 1000 / GAS_J_MOL_K

    @cached_property
    def _logs(self) -> tuple[list[float], list[float], float, float]:
        """Its table as logarithms, and how they go on below its first row and above its last; never the other way."""
        celsius, logs = [row[0] for row in self.table], [math.log(row[1]) for row in self.table]
        cold = max((logs[1] - logs[0]) / (celsius[1] - celsius[0]), 0.0)
        warm = max((logs[-1] - logs[-2]) / (celsius[-1] - celsius[-2]), 0.0)
        return celsius, logs, cold, warm

    def hours(self, stage: str) -> float:
        """Hours to a stage at the reference temperature; `Refused` if the sheet lacks it.

        >>> EPOXY.hours("peel")
        10
        """
        found = self._hours.get(stage)
        if found is not None:
            return found
        names = ", ".join(known.name for known in self.stages)
        raise Refused("stage", f"“{stage}” is not a stage of this product; it has {names}")


def rate(temp_c: float, activation_energy_kj_mol: float, reference_c: float) -> float:
    """How many hours at the reference one hour at this temperature is worth [-].

    References
    ----------
    ASTM C1074: exp[−Q(1/T − 1/T_s)], with Q = Eₐ/R.

    Examples
    --------
    >>> round(rate(10, 5000 * 8.314462618 / 1000, 20), 4)
    0.5475
    """
    energy = activation_energy_kj_mol * 1000 / GAS_J_MOL_K
    return math.exp(-energy * (1 / (temp_c + KELVIN) - 1 / (reference_c + KELVIN)))


def relative_rates(
    reference_c: float, stages: Sequence[tuple[float, Sequence[tuple[float, float]]]]
) -> tuple[tuple[float, float], ...]:
    """A drying table as rates relative to its reference, coldest first.

    Parameters
    ----------
    stages : sequence of (hours at the reference, [(°C, hours), …])
        Where stages differ, their mean (of the logarithms) counts. A sheet that gives no second
        temperature is taken to go twice as fast for every `DOUBLES_K` (common practice).

    Examples
    --------
    >>> relative_rates(20, [(4, [(10, 8), (30, 2)])])
    ((10, 0.5), (20, 1.0), (30, 2.0))
    """
    logs: dict[float, list[float]] = {reference_c: [0.0]}
    if not any(celsius != reference_c for _, points in stages for celsius, _ in points):
        for kelvin in (-DOUBLES_K, DOUBLES_K):
            logs[reference_c + kelvin] = [kelvin / DOUBLES_K * math.log(2)]
    for hours, points in stages:
        for celsius, other in points:
            if celsius != reference_c:
                logs.setdefault(celsius, []).append(math.log(hours / other))
    return tuple((celsius, math.exp(sum(rows) / len(rows))) for celsius, rows in sorted(logs.items()))


def rates(temp_c: Floats, system: CureSystem) -> Floats:
    """What an hour at each temperature is worth of an hour at the reference, its minimum apart [-].

    Between the rows of a table, and beyond its ends, the logarithm of the rate is linear.

    >>> rates(np.array([23.0]), CureSystem(55, 23, (Stage("gel", 4),))).tolist()
    [1.0]
    """
    if system.table:
        celsius, logs, cold, warm = system._logs
        beyond = cold * np.minimum(temp_c - celsius[0], 0) + warm * np.maximum(temp_c - celsius[-1], 0)
        return np.exp(np.interp(temp_c, celsius, logs) + beyond)
    return np.exp(-system._kelvins * (1 / (temp_c + KELVIN) - 1 / (system.reference_c + KELVIN)))


class Activation(NamedTuple):
    """A fitted activation energy, and the rate at 30 °C over that at 20 °C."""

    activation_energy_kj_mol: float
    q10_20_30: float


def fit_activation(points: Sequence[tuple[float, float]]) -> Activation:
    """Activation energy from the same stage's hours at several temperatures.

    Parameters
    ----------
    points : sequence of (°C, hours)
        Two or more, at two temperatures at least; hours above 0.

    Notes
    -----
    Least squares on ln t against 1/T; with two points it is Eₐ = R·ln(t₁/t₂)/(1/T₁ − 1/T₂).

    Examples
    --------
    >>> round(fit_activation([(20, 10), (30, 5)]).activation_energy_kj_mol, 1)
    51.2
    """
    if len(points) < 2:
        raise Refused("points", f"points has {len(points)} entries; at least 2 are wanted")
    for celsius, hours in points:
        between("points.c", celsius, -50, 300, unit="°C")
        between("points.hours", hours, 0, unit="h", open_low=True)
        between("points.hours", hours, 1e-3, 1e6, unit="h")
    inverse = np.array([1 / (celsius + KELVIN) for celsius, _ in points])
    if max(celsius for celsius, _ in points) - min(celsius for celsius, _ in points) < 0.1:
        raise Refused(
            "points", f"points all lie within 0.1 °C of {points[0][0]:g} °C; two different temperatures are wanted"
        )
    logs = np.log([hours for _, hours in points])
    centred = inverse - inverse.mean()
    slope = float(centred @ (logs - logs.mean()) / (centred @ centred))
    energy = between(
        "points", slope * GAS_J_MOL_K / 1000, -1000, 1000, unit="kJ/mol", name="the activation energy of these points"
    )
    return Activation(energy, rate(30, energy, 20))
