"""Splitting a mix into cups that are used before they go off, and that the scale can weigh."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from scipy.optimize import brentq

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.mix.exotherm import HotMix, warm_up
from kiteloom.core.mix.ratio import Masses, MixSystem, masses

#: The share of a cup's working life it may take to use it up [-] (common practice).
LIFE_SHARE = 0.75


#: A cup hotter than this goes off in the hand [°C] (common practice).
PEAK_LIMIT_C = 60.0


#: What two people spread with brush and roller [g/min] (common practice).
SPREAD_G_MIN = 40.0


#: What stays in each cup and on its stick [g] (common practice).
RESIDUE_G = 5.0


#: Weighing done, a cup is stirred for so long before anything is spread (common practice) [min].
STIR_MIN = 3.0


#: A kitchen scale's step [g].
SCALE_STEP_G = 1.0


#: A mix is put right within this share of its working life, so that it can still be used [-] (common practice).
TOP_UP_SHARE = 0.5


#: Little time left: use it up now [min].
SOON_MIN = 5.0


#: A cup nobody said was emptied is forgotten so long after it has gone off [min].
FORGOTTEN_MIN = 60.0


#: More cups than this are no plan but a wrong figure.
_MOST = 500


CupState = Literal["stands", "open", "soon", "gone"]


def state_of_cup(now: float, stands_until: float, good_until: float) -> CupState | None:
    """What may be done with an open cup: let it stand, use it, use it up at once, nothing; None when it is forgotten.

    >>> [state_of_cup(minute, 30, 90) for minute in (10, 40, 86, 95, 200)]
    ['stands', 'open', 'soon', 'gone', None]
    """
    if now > good_until + FORGOTTEN_MIN:
        return None
    if now < stands_until:
        return "stands"
    if now >= good_until:
        return "gone"
    return "soon" if good_until - now <= SOON_MIN else "open"


@dataclass(frozen=True)
class Using:
    """How a mix is used up.

    Parameters
    ----------
    spread_g_min : float
        What the crew spreads [g/min].
    residue_g : float
        What stays behind in each cup [g].
    life_share : float
        Share of the working life a cup may take [-].
    peak_limit_c : float
        No cup may get hotter while it is being used [°C].
    scale_step_g : float or None
        The scale's step [g]; None when it does not matter.
    stir_min, stand_min : float
        How long it is stirred, and then has to stand, before anything is spread [min].
    """

    spread_g_min: float
    residue_g: float = 0.0
    life_share: float = LIFE_SHARE
    peak_limit_c: float = PEAK_LIMIT_C
    scale_step_g: float | None = None
    stir_min: float = 0.0
    stand_min: float = 0.0

    def __post_init__(self) -> None:
        between("spread_g_min", self.spread_g_min, 0, unit="g/min", name="the spreading rate", open_low=True)
        between("spread_g_min", self.spread_g_min, 0.01, 10_000, unit="g/min", name="the spreading rate")
        between("residue_g", self.residue_g, 0, 10_000, unit="g", name="what stays in each cup")
        between("life_share", self.life_share, 0.05, 1, name="the share of the working life")
        between("peak_limit_c", self.peak_limit_c, -20, 300, unit="°C", name="the limit of heat")
        if self.scale_step_g is not None:
            between("scale_step_g", self.scale_step_g, 0, 1000, unit="g", name="the scale's step", open_low=True)
        between("stir_min", self.stir_min, 0, 1e4, unit="min", name="the stirring")
        between("stand_min", self.stand_min, 0, 1e4, unit="min", name="the standing")

    def emptied(self, mass_g: float) -> float:
        """When a cup of this mass is empty, from its mix [min].

        >>> Using(40, stir_min=3, stand_min=30).emptied(200)
        38.0
        """
        return self.stir_min + self.stand_min + mass_g / self.spread_g_min


@dataclass(frozen=True)
class PlannedCup:
    """One cup: what to pour, when to mix it and until when it can be used [min from the first], its peak [°C]."""

    parts: Masses
    mix_at_min: float
    empty_at_min: float
    use_by_min: float
    peak_c: float


@dataclass(frozen=True)
class Cups:
    """The cups of one mix, and the largest and the smallest that would do [g]; no smallest without a scale."""

    cups: tuple[PlannedCup, ...]
    largest_g: float
    smallest_g: float | None
    held_by: str


def smallest_cup_g(system: MixSystem, scale_step_g: float) -> float:
    """The smallest cup whose smaller part the scale's step resolves to the tolerance [g].

    Common practice: a 1 g step on 10 g is 10 %.

    >>> from kiteloom.core.mix.ratio import Ratio
    >>> round(smallest_cup_g(MixSystem(Ratio(100, 28), tolerance_pct=5), 1.0), 1)
    91.4
    """
    if not system.tolerance_pct:
        raise Refused("tolerance_pct", "tolerance_pct is missing; without it no scale can be said to be good enough")
    smaller = scale_step_g * 100 / system.tolerance_pct
    k = system.by_weight
    return smaller * (1 + max(k, 1 / k))


def largest_cup_g(mix: HotMix, temp_c: float, using: Using, upto_g: float = 100_000.0) -> float:
    """The largest cup that is used up in time and stays cool enough [g].

    Both get worse with mass, so there is one largest; at most ``upto_g``, and 99 kg.

    >>> from kiteloom.core.mix.exotherm import PotLife
    >>> mix = HotMix(PotLife(25, 100, 23), 55)
    >>> large = largest_cup_g(mix, 21, Using(spread_g_min=20))
    >>> 100 < large < 1000, largest_cup_g(mix, 30, Using(spread_g_min=20)) < large
    (True, True)
    """

    def room(log_mass: float) -> float:
        return _slack(mix, math.exp(log_mass), temp_c, using)

    low, high = math.log(0.11), math.log(min(max(upto_g, 0.2), 99_000.0))
    if room(high) >= 0:
        return math.exp(high)
    if room(low) < 0:
        return 0.0
    return math.exp(brentq(room, low, high, xtol=1e-3, rtol=1e-6)) * (1 - 2e-3)


def _slack(mix: HotMix, mass_g: float, temp_c: float, using: Using) -> float:
    """Above 0 while a cup of this mass will do: the nearer of its two limits [-]."""
    cup = warm_up(mix, mass_g, temp_c)
    emptied = using.emptied(mass_g)
    in_time = 1 - emptied / (using.life_share * cup.working_min)
    span = max(using.peak_limit_c - temp_c, 1e-9)
    return min(in_time, (using.peak_limit_c - cup.hottest_until(emptied)) / span)


def split(
    system: MixSystem, mix: HotMix, total_g: float, temp_c: float, using: Using, units: UnitSystem = "metric"
) -> Cups:
    """Split an amount into equal cups, each ready to be spread when the one before is empty.

    Parameters
    ----------
    total_g : float
        What must be spread [g]; what stays in the cups comes on top.
    temp_c : float
        Of the room and the mix [°C].

    Raises
    ------
    Refused
        If even a cup the scale can just weigh would go off before it is used.

    >>> from kiteloom.core.mix.exotherm import PotLife
    >>> from kiteloom.core.mix.ratio import Ratio
    >>> system, mix = MixSystem(Ratio(100, 28)), HotMix(PotLife(25, 100, 23), 55)
    >>> cups = split(system, mix, 1200, 21, Using(spread_g_min=20)).cups
    >>> len(cups), round(sum(cup.parts.total_g for cup in cups))
    (4, 1200)
    """
    between("total_g", total_g, 0, 100_000, unit="g", name="the amount", open_low=True)
    between("total_g", total_g, 0.1, 100_000, unit="g", name="the amount")
    if using.peak_limit_c <= temp_c:
        room, limit = (show(c, "temperature", units) for c in (temp_c, using.peak_limit_c))
        raise Refused("peak_limit_c", f"the limit of heat is {limit} and the room has {room}; every cup is above it")
    smallest = None if using.scale_step_g is None else smallest_cup_g(system, using.scale_step_g)
    largest = largest_cup_g(mix, temp_c, using, total_g + using.residue_g)
    if largest <= using.residue_g or largest < 0.2:
        most, stays = show(largest, "scale", units), show(using.residue_g, "scale", units)
        raise Refused(
            "spread_g_min",
            f"the largest cup that is used in time is {most}, and {stays} stay in each; "
            "spread faster, cool the room, or take a slower hardener",
        )
    number = math.ceil(total_g / (largest - using.residue_g) - 1e-9)
    if number > _MOST:
        raise Refused(
            "total_g", f"it would take {number} cups of {show(largest, 'scale', units)}; at most {_MOST} are planned"
        )
    each = total_g / number + using.residue_g
    if smallest is not None and using.scale_step_g is not None and each < smallest:
        step, cup, least = (show(g, "scale", units) for g in (using.scale_step_g, each, smallest))
        raise Refused(
            "scale_step_g",
            f"a scale with steps of {step} can't weigh the smaller part of a {cup} cup to ±{system.tolerance_pct:g} %; "
            f"with it a cup needs {least} at least",
        )
    parts, heat = masses(system, total_g=each), warm_up(mix, each, temp_c)
    takes, emptied = each / using.spread_g_min, using.emptied(each)
    peak = heat.hottest_until(emptied)
    # Each is mixed so long before the last is empty that it can be used then.
    cups = [
        PlannedCup(parts, i * takes, i * takes + emptied, i * takes + heat.working_min, peak) for i in range(number)
    ]
    return Cups(tuple(cups), largest, smallest, _held_by(mix, largest, temp_c, using) if number > 1 else "")


def _held_by(mix: HotMix, largest_g: float, temp_c: float, using: Using) -> str:
    """Which of the two limits makes the largest cup no larger."""
    cup, emptied = warm_up(mix, largest_g * 1.01, temp_c), using.emptied(largest_g * 1.01)
    return "heat" if cup.hottest_until(emptied) > using.peak_limit_c - 0.5 else "working life"
