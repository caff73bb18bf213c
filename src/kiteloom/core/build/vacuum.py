"""What the gauge of a bag reads, and whether it stands with the pump shut off."""

from __future__ import annotations

from kiteloom.core.base.problems import between
from kiteloom.core.base.quantities import Typed, UnitSystem, show

#: A bag that loses no more in five minutes, shut off, is tight enough (common practice: an inch of mercury) [mbar].
MOST_FALL_MBAR = 34.0

#: No bag has more vacuum than the air outside presses [mbar].
MOST_MBAR = 1050.0


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
