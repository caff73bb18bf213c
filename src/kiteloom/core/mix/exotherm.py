"""How hot a cup gets, and how long it can be worked with.

A cup heats itself: its reaction gives off heat faster than its wall loses it, warmth speeds the
reaction, and the pot goes off in the hand. The balance is

    m·c·dT/dt = m·H·dα/dt − h·A·(T − T_room),   dα/dt = k(T)·(1 − α)²

with k Arrhenius, second order because resin and hardener react one for the other, and k's one
constant fitted so that the pot life on the sheet comes out for the mass and temperature it was
stated for. A mix counts as workable until its conversion is `WORKABLE`; a sheet does not say
at what thickness its pot life ends, so that share is a choice (common practice), and the fit takes
most of its weight.
"""

from __future__ import annotations

import math
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.integrate import ODEintWarning, odeint
from scipy.optimize import brentq

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.cure.system import GAS_J_MOL_K, KELVIN

#: Conversion at which a mix is too thick to spread [-] (common practice).
WORKABLE = 0.3


#: How far a cup is followed: what is left gives no heat worth naming [-].
_SPENT = 0.995


#: Mixed resin where the sheet gives no densities [g/ml] (common practice).
DENSITY_G_ML = 1.1


_CURVE = 160


@dataclass(frozen=True)
class Heat:
    """What a mix gives off and how a cup loses it.

    Parameters
    ----------
    heat_j_g : float
        Heat of the whole reaction [J/g]; 450 for a filled-free epoxy (common practice).
    capacity_j_gk : float
        Heat capacity [J/(g K)].
    loss_w_m2k : float
        What wall and surface lose to still air [W/(m² K)]; 0 is an insulated cup.
    """

    heat_j_g: float = 450.0
    capacity_j_gk: float = 1.8
    loss_w_m2k: float = 12.0

    def __post_init__(self) -> None:
        between("heat_j_g", self.heat_j_g, 0, 3000, unit="J/g")
        between("heat_capacity_j_gk", self.capacity_j_gk, 0.2, 10, unit="J/(g K)")
        between("loss_w_m2k", self.loss_w_m2k, 0, 10_000, unit="W/(m² K)")


@dataclass(frozen=True)
class HotMix:
    """What the heat of a product's cups follows from: pot life, activation energy, density mixed [g/ml]."""

    pot_life: PotLife
    activation_energy_kj_mol: float
    density_g_ml: float = DENSITY_G_ML
    heat: Heat = Heat()

    def __post_init__(self) -> None:
        between("activation_energy_kj_mol", self.activation_energy_kj_mol, 0, 250, unit="kJ/mol")
        between("density_g_ml", self.density_g_ml, 0.1, 25, unit="g/ml")

    def rate(self, temp_c: float) -> float:
        """Reaction rate over that at the pot life's temperature [-].

        >>> HotMix(PotLife(25, 100, 23), 55).rate(23)
        1.0
        """
        energy = self.activation_energy_kj_mol * 1000 / GAS_J_MOL_K
        return math.exp(-energy * (1 / (temp_c + KELVIN) - 1 / (self.pot_life.temp_c + KELVIN)))


@dataclass(frozen=True, eq=False)
class Warming:
    """One cup from its mix on.

    ``minutes``, ``celsius`` and ``conversion`` have one length, from the mix until it is spent.
    """

    working_min: float
    peak_c: float
    peak_at_min: float
    minutes: NDArray[np.float64]
    celsius: NDArray[np.float64]
    conversion: NDArray[np.float64]

    def hottest_until(self, minute: float) -> float:
        """The hottest it has been by some minutes after the mix [°C].

        >>> warming = warm_up(HotMix(PotLife(25, 100, 23), 55), 100, 23)
        >>> warming.hottest_until(5) < warming.hottest_until(25)
        True
        """
        if minute >= self.peak_at_min:
            return self.peak_c
        return float(max(np.interp(minute, self.minutes, self.celsius), self.celsius[0]))


def cup_area_cm2(mass_g: float, density_g_ml: float = DENSITY_G_ML) -> float:
    """Wall, bottom and surface of a cup as tall as it is wide [cm²].

    The bottom stands on the bench and loses as little as the wall: it is counted.

    >>> round(cup_area_cm2(100), 1)
    111.9
    """
    width: float = (4 * mass_g / (math.pi * density_g_ml)) ** (1 / 3)
    return 1.5 * math.pi * width**2


#: No cup is followed for longer [min].
_LONGEST_MIN = 3 * 1440.0

#: Room temperature [°C] against minutes after the mix.
Room = Callable[[float], float]


def warm_up(mix: HotMix, mass_g: float, temp_c: float, area_cm2: float | None = None) -> Warming:
    """Follow one cup.

    Parameters
    ----------
    mass_g : float
        Both parts [g]; 0.1 to 100,000.
    temp_c : float
        Of the room, and of the mix when it is made [°C]; −30 to 120.
    area_cm2 : float or None
        Surface that loses heat [cm²]; a cup as tall as it is wide when None.

    Notes
    -----
    Followed with the conversion as its clock: ``dT/dα`` and ``dt/dα`` are smooth where the
    temperature against time is a spike, and the working life is the time at one conversion.

    Examples
    --------
    >>> slow = HotMix(PotLife(45, 100, 23), 55)
    >>> round(warm_up(slow, 100, 23).working_min, 3)
    45.0
    >>> warm_up(slow, 500, 23).working_min < 40
    True
    """
    cooling = _cooling(mix, mass_g, temp_c, area_cm2)
    begun = np.linspace(0, WORKABLE, _CURVE // 2)
    alphas = np.concatenate((begun, np.linspace(WORKABLE, _SPENT, _CURVE // 2 + 1)[1:]))
    celsius, minutes = _followed(mix, fitted(mix), temp_c, cooling, alphas)
    top = int(np.argmax(celsius))
    peak_c, peak_at = float(celsius[top]), float(minutes[top])
    working = float(minutes[len(begun) - 1])
    shown = minutes <= max(24 * 60.0, 3 * working, 3 * peak_at)
    return Warming(working, peak_c, peak_at, minutes[shown], celsius[shown], alphas[shown])


def peak_band(
    mix: HotMix, mass_g: float, temp_c: float, band_c: float, until_min: float = math.inf
) -> tuple[float, float]:
    """How hot a cup gets, by some minutes after the mix, in a room a little colder and a little warmer [°C].

    A degree or two decides whether a cup runs away: never one figure alone.

    >>> low, high = peak_band(HotMix(PotLife(25, 100, 23), 55), 100, 23, 2)
    >>> low < warm_up(HotMix(PotLife(25, 100, 23), 55), 100, 23).peak_c < high
    True
    """
    low, high = (warm_up(mix, mass_g, temp_c + off).hottest_until(until_min) for off in (-band_c, band_c))
    return min(low, high), max(low, high)


def working_life(mix: HotMix, mass_g: float, room: Room) -> float:
    """Minutes a cup stays workable in a room that warms or cools after the mix; as warm as the room when mixed.

    >>> slow = HotMix(PotLife(45, 100, 23), 55)
    >>> round(working_life(slow, 100, lambda minute: 23.0), 2)
    45.0
    >>> working_life(slow, 100, lambda minute: 23.0 + minute / 10) < 43
    True
    """
    start_c = room(0.0)
    cooling = _cooling(mix, mass_g, start_c, None)
    _, minutes = _followed(mix, fitted(mix), start_c, cooling, np.array([0.0, WORKABLE]), room)
    return float(minutes[-1])


def usable_life(mix: HotMix, mass_g: float, room: Room) -> float:
    """Minutes a cup is to be used within: what its heat leaves, never longer than the sheet gives it at that rate.

    A cup smaller or colder than the sheet's own heats itself less, and the balance gives it several times the
    sheet's minutes; nobody counts on that. Only the slower reaction stretches them.

    >>> slow = HotMix(PotLife(45, 100, 23), 55)
    >>> [round(usable_life(slow, grams, lambda minute: 17.0)) for grams in (83, 100, 900)]
    [71, 71, 58]
    """
    return min(working_life(mix, mass_g, room), _by_rate(mix, room))


def _by_rate(mix: HotMix, room: Room) -> float:
    """Minutes until the room's own rate has used up the sheet's pot life."""
    left, minute, step = mix.pot_life.minutes, 0.0, 5.0
    while minute < _LONGEST_MIN:
        rate = mix.rate(room(minute + step / 2))
        if rate * step >= left:
            return minute + left / rate
        left -= rate * step
        minute += step
    return minute


def _cooling(mix: HotMix, mass_g: float, temp_c: float, area_cm2: float | None) -> float:
    """h·A/(m·c) of a cup [1/min], its mass and temperature within their limits."""
    between("mass_g", mass_g, 0.1, 100_000, unit="g", name="the cup")
    between("temp_c", temp_c, -30, 120, unit="°C", name="the temperature")
    if area_cm2 is not None:
        between("area_cm2", area_cm2, 0, 1e8, unit="cm²")
    area = cup_area_cm2(mass_g, mix.density_g_ml) if area_cm2 is None else area_cm2
    return mix.heat.loss_w_m2k * area * 1e-4 / (mass_g * mix.heat.capacity_j_gk) * 60


@lru_cache(maxsize=256)
def fitted(mix: HotMix) -> float:
    """The rate constant at the pot life's temperature [1/min] with which the sheet's pot life comes out.

    The sheet's cup is an ordinary one: as tall as it is wide, on a bench, whatever cup is asked for.

    >>> mix = HotMix(PotLife(25, 100, 23), 55)
    >>> fitted(mix) > 0, round(warm_up(mix, 100, 23).working_min, 1)
    (True, 25.0)
    """
    pot, heat = mix.pot_life, mix.heat
    loss = Heat().loss_w_m2k * cup_area_cm2(pot.mass_g, mix.density_g_ml) * 1e-4
    cooling = loss / (pot.mass_g * heat.capacity_j_gk) * 60
    to_end = np.array([0.0, WORKABLE])

    def off(log_k: float) -> float:
        _, minutes = _followed(mix, math.exp(log_k), pot.temp_c, cooling, to_end)
        return math.log(float(minutes[-1])) - math.log(pot.minutes)

    # Without its own heat it would need the fastest constant, with all of it kept the slowest.
    slowest = mix.rate(pot.temp_c + WORKABLE * heat.heat_j_g / heat.capacity_j_gk)
    plain = math.log(WORKABLE / (1 - WORKABLE) / pot.minutes)
    return math.exp(brentq(off, plain - math.log(slowest) - 0.01, plain + 0.01, xtol=1e-7, rtol=1e-9))


def _followed(
    mix: HotMix, k: float, start_c: float, cooling: float, alphas: NDArray[np.float64], room: Room | None = None
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Temperature [°C] and minutes at each conversion; ``cooling`` is h·A/(m·c) [1/min]."""
    energy = mix.activation_energy_kj_mol * 1000 / GAS_J_MOL_K
    pot_k = mix.pot_life.temp_c + KELVIN
    gain = mix.heat.heat_j_g / mix.heat.capacity_j_gk

    def slopes(state: NDArray[np.float64], alpha: float) -> tuple[float, float]:
        left = 1 - alpha
        wait = math.exp(energy * (1 / (max(state[0], -60.0) + KELVIN) - 1 / pot_k)) / (k * left * left)
        around = start_c if room is None else room(state[1])
        return gain - cooling * (state[0] - around) * wait, wait

    with warnings.catch_warnings():
        warnings.simplefilter("error", ODEintWarning)
        try:
            found = odeint(slopes, (start_c, 0.0), alphas, rtol=1e-7, atol=1e-7, mxstep=8000)
        except (ODEintWarning, OverflowError):
            raise Refused("mass_g", "this cup can't be followed: its reaction is too sudden to compute") from None
    return found[:, 0], found[:, 1]


@dataclass(frozen=True)
class PotLife:
    """Minutes a stated mass stays workable at a stated temperature."""

    minutes: float
    mass_g: float
    temp_c: float

    def __post_init__(self) -> None:
        between("pot_life.minutes", self.minutes, 0.1, 20_000, unit="min", name="the pot life")
        between("pot_life.mass_g", self.mass_g, 0.1, 50_000, unit="g", name="the mass of the pot life")
        between("pot_life.temp_c", self.temp_c, -30, 120, unit="°C", name="the temperature of the pot life")

    def words(self, cup_g: float, units: UnitSystem) -> str:
        """What the sheet promises for a cup of this mass: a bigger one than it names heats itself.

        >>> PotLife(25, 100, 23).words(80, "metric")
        'Pot life 25 min for 100 g at 23.0 °C.'
        >>> PotLife(25, 100, 23).words(400, "metric")
        "Less than the sheet's 25 min for 100 g at 23.0 °C: a bigger cup heats itself. Spread it out at once."
        """
        stated = (
            f"{self.minutes:g} min for {show(self.mass_g, 'mass', units)} at {show(self.temp_c, 'temperature', units)}"
        )
        if cup_g <= self.mass_g:
            return f"Pot life {stated}."
        return f"Less than the sheet's {stated}: a bigger cup heats itself. Spread it out at once."
