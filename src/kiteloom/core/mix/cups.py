"""Splitting a mix into cups that are used before they go off, and that the scale can weigh."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from scipy.optimize import brentq

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.mix.exotherm import HotMix, Warming, warm_up
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


#: No cup is larger, whatever its heat allows, until a shop says otherwise (common practice: 300 to 500 g) [g].
LARGEST_CUP_G = 500.0


#: A cup may hold so much more than what is still to mix, for nobody mixes to the gram [-] (common practice).
SPARE_SHARE = 0.05


#: What a cup holds beyond either limit by less is the scale's, not the builder's [g].
_ROUNDED_G = 1.0


#: So many tints tell the tags of cups apart.
TINTS = 6


#: A cup's two lids are read once more after so long [min]: another can may stand there by then (common practice).
LIDS_MIN = 60.0


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


def cup_letter(nth: int) -> str:
    """What is written on the nth cup of a day, from 0; after Z comes A again.

    >>> cup_letter(0), cup_letter(27)
    ('A', 'B')
    """
    return chr(ord("A") + nth % 26)


def cup_tint(letter: str) -> int:
    """Which of the tints the tag of a cup has, from 0.

    >>> cup_tint("A"), cup_tint("H")
    (0, 1)
    """
    return (ord(letter) - ord("A")) % TINTS


def too_much(grams: float, most_g: float, left_g: float | None, units: UnitSystem = "metric") -> list[str]:
    """What speaks against a cup of this size: the largest of this shop, and what is still to mix [g], if that is known.

    >>> too_much(200, 500, 195), too_much(600, 500, None)[0][:58]
    ([], '600 g is more than the 500 g of one cup here: it may get h')
    """
    cup, found = show(grams, "mass", units), []
    if grams > most_g + _ROUNDED_G:
        found.append(
            f"{cup} is more than the {show(most_g, 'mass', units)} of one cup here: it may get hot and go off before "
            "it is used up."
        )
    if left_g is not None and grams > left_g + max(RESIDUE_G, SPARE_SHARE * left_g) + _ROUNDED_G:
        found.append(f"{cup} is more than the {show(left_g, 'mass', units)} that are still to mix.")
    return found


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
    most_g : float
        No cup is larger, whatever its heat allows [g].
    within_sheet : bool
        Nobody counts on more than the sheet's pot life at the room's rate, however little a cup heats itself: see
        `usable_life`.
    stir_min, stand_min : float
        How long it is stirred, and then has to stand, before anything is spread [min].
    """

    spread_g_min: float
    residue_g: float = 0.0
    life_share: float = LIFE_SHARE
    peak_limit_c: float = PEAK_LIMIT_C
    scale_step_g: float | None = None
    most_g: float = math.inf
    within_sheet: bool = False
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
        if self.most_g != math.inf:
            between("most_g", self.most_g, 1, 100_000, unit="g", name="the largest cup")
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
    """The cups of one mix, and the largest and the smallest that would do [g]; no smallest without a scale.

    ``coarse`` when the scale's step is too coarse for the smaller part of such a cup.
    """

    cups: tuple[PlannedCup, ...]
    largest_g: float
    smallest_g: float | None
    held_by: str
    coarse: bool = False


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

    low, high = math.log(0.11), math.log(min(max(upto_g, 0.2), using.most_g, 99_000.0))
    if room(high) >= 0:
        return math.exp(high)
    if room(low) < 0:
        return 0.0
    return math.exp(brentq(room, low, high, xtol=1e-3, rtol=1e-6)) * (1 - 2e-3)


def _slack(mix: HotMix, mass_g: float, temp_c: float, using: Using) -> float:
    """Above 0 while a cup of this mass will do: the nearer of its two limits [-]."""
    cup = warm_up(mix, mass_g, temp_c)
    emptied = using.emptied(mass_g)
    in_time = 1 - emptied / (using.life_share * _life(mix, cup, temp_c, using))
    span = max(using.peak_limit_c - temp_c, 1e-9)
    return min(in_time, (using.peak_limit_c - cup.hottest_until(emptied)) / span)


def _life(mix: HotMix, cup: Warming, temp_c: float, using: Using) -> float:
    """Until when a cup can be used, in a room of one temperature [min]."""
    if not using.within_sheet:
        return cup.working_min
    return min(cup.working_min, mix.pot_life.minutes / mix.rate(temp_c))


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
    coarse = smallest is not None and each < smallest
    parts, heat = masses(system, total_g=each), warm_up(mix, each, temp_c)
    takes, emptied, life = each / using.spread_g_min, using.emptied(each), _life(mix, heat, temp_c, using)
    peak = heat.hottest_until(emptied)
    # Each is mixed so long before the last is empty that it can be used then.
    cups = [PlannedCup(parts, i * takes, i * takes + emptied, i * takes + life, peak) for i in range(number)]
    held_by = _held_by(mix, largest, temp_c, using) if number > 1 else ""
    return Cups(tuple(cups), largest, smallest, held_by, coarse)


def too_coarse(system: MixSystem, found: Cups, scale_step_g: float, units: UnitSystem = "metric") -> str:
    """That a scale is too coarse for such cups, and how large one it can weigh; ``""`` where it will do.

    >>> from kiteloom.core.mix.exotherm import PotLife
    >>> from kiteloom.core.mix.ratio import Ratio
    >>> system, mix = MixSystem(Ratio(100, 28), tolerance_pct=3), HotMix(PotLife(45, 100, 23), 55)
    >>> too_coarse(system, split(system, mix, 80, 20, Using(40, scale_step_g=1)), 1)
    "a scale with steps of 1.0 g can't weigh the smaller part of an 80.0 g cup to ±3 %; it needs a cup of 152.4 g"
    """
    if not found.coarse or found.smallest_g is None:
        return ""
    step, cup, least = (show(g, "scale", units) for g in (scale_step_g, found.cups[0].parts.total_g, found.smallest_g))
    article = "an" if cup[0] == "8" or cup.startswith(("11.", "18.")) else "a"
    return (
        f"a scale with steps of {step} can't weigh the smaller part of {article} {cup} cup to "
        f"±{system.tolerance_pct:g} %; it needs a cup of {least}"
    )


def _held_by(mix: HotMix, largest_g: float, temp_c: float, using: Using) -> str:
    """Which limit makes the largest cup no larger."""
    if largest_g > 0.99 * using.most_g:
        return "the shop"
    cup, emptied = warm_up(mix, largest_g * 1.01, temp_c), using.emptied(largest_g * 1.01)
    return "heat" if cup.hottest_until(emptied) > using.peak_limit_c - 0.5 else "working life"
