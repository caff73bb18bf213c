"""What the gauge of a bag reads, and whether it stands with the pump shut off."""

from __future__ import annotations

from kiteloom.core.base.problems import between
from kiteloom.core.base.quantities import Typed, UnitSystem, show

#: A bag that loses no more in five minutes, shut off, is tight enough (common practice: an inch of mercury) [mbar].
MOST_FALL_MBAR = 34.0

#: No bag has more vacuum than the air outside presses [mbar].
MOST_MBAR = 1050.0


#: Of the standard atmosphere: at the sea [mbar], and how it thins with height.
_SEA_MBAR, _PER_M, _POWER = 1013.25, 2.25577e-5, 5.25588


def best_mbar(above_sea_m: float) -> float:
    """The most vacuum there can be so high above the sea: what the air presses on a standard day [mbar].

    References
    ----------
    ICAO standard atmosphere, troposphere.

    >>> round(best_mbar(0) / 33.8639, 2), round(best_mbar(1524) / 33.8639, 2)  # inHg at the sea and at 5,000 ft
    (29.92, 24.9)
    """
    between("above_sea", above_sea_m, -500, 6000, unit="m", name="the height above the sea")
    best: float = _SEA_MBAR * (1 - _PER_M * above_sea_m) ** _POWER
    return best


#: A gauge that reads more than the air presses by so much is off, or the weather is [mbar].
_GAUGE_OFF_MBAR = 35.0


def beyond_words(mbar: float, above_sea_m: float, units: UnitSystem = "metric") -> str:
    """That a gauge reads more than there can be here; ``""`` where it does not.

    >>> beyond_words(950, 1500)
    'more than the 846 mbar there can be at this height: is the gauge right?'
    """
    best = best_mbar(above_sea_m)
    if mbar <= best + _GAUGE_OFF_MBAR:
        return ""
    return f"more than the {show(best, 'vacuum', units)} there can be at this height: is the gauge right?"


def gauge(typed: Typed, field: str = "reading") -> float:
    """A gauge's reading below the air outside [mbar]; `Refused` names what was typed and the limit.

    >>> gauge(Typed("0.8", "bar")), round(gauge(Typed("25", "inHg")))
    (800.0, 847)
    """
    return between(field, abs(typed.read("pressure", field)), 0, MOST_MBAR, unit="mbar", name="the gauge")


def gauge_words(mbar: float, before: float | None = None, units: UnitSystem = "metric") -> str:
    """A reading in words; with the one before the pump was shut off, how much it fell.

    >>> gauge_words(820), gauge_words(810, 820)
    ('gauge 820 mbar', 'gauge 810 mbar, fallen by 10 mbar')
    >>> gauge_words(700, 820)
    'gauge 700 mbar, fallen by 120 mbar: more than 34 mbar, find the leak before it is trusted'
    """
    words = f"gauge {show(mbar, 'vacuum', units)}"
    if before is None:
        return words
    fell = before - mbar
    if fell <= 0:
        return f"{words}, it stands"
    words += f", fallen by {show(fell, 'vacuum', units)}"
    if fell > MOST_FALL_MBAR:
        words += f": more than {show(MOST_FALL_MBAR, 'vacuum', units)}, find the leak before it is trusted"
    return words
