"""How the core says no: a sentence that names the value and the limit."""

from __future__ import annotations

import math
import sys


class Refused(ValueError):
    """An input the job cannot be done with.

    Parameters
    ----------
    field : str
        The input's name as the caller gave it (``"resin_g"``), or ``""``.
    sentence : str
        What is wrong, with the value and the limit, for a builder to read.
    """

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(sentence)
        self.field = field
        self.sentence = sentence


def plain(value: float) -> str:
    """The number as a person would write it.

    Examples
    --------
    >>> plain(-5.0), plain(0.1 + 0.2), plain(2.5e6), plain(1e30)
    ('-5', '0.3', '2500000', '1e+30')
    """
    return f"{value:.0f}" if 999_999.5 <= abs(value) < 1e15 else f"{value:.6g}"


def between(
    field: str,
    value: float,
    low: float = -math.inf,
    high: float = math.inf,
    *,
    unit: str = "",
    name: str = "",
    open_low: bool = False,
) -> float:
    """Return ``value`` if it lies within its limits.

    Parameters
    ----------
    field, name : str
        The field's machine name, and its name in the sentence (the field's when empty).
    low, high : float
        Limits, both allowed, in the value's own unit.
    open_low : bool
        Whether the low limit itself is out ("must be above 0").

    Raises
    ------
    Refused
        If it is not finite or outside the limits.

    Examples
    --------
    >>> between("resin_g", -5, 0, unit="g")
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: resin_g is -5 g; it can't be below 0 g
    """
    called = name or field
    tail = f" {unit}" if unit and unit != "°" else unit
    # Whole numbers have no limit in Python, and some are too large to be measured at all.
    if not abs(value) <= sys.float_info.max:
        raise Refused(field, f"{called} is {str(value)[:40]}; it must be an ordinary number")
    if open_low and value <= low:
        raise Refused(field, f"{called} is {plain(value)}{tail}; it must be above {plain(low)}{tail}")
    if value < low:
        raise Refused(field, f"{called} is {plain(value)}{tail}; it can't be below {plain(low)}{tail}")
    if value > high:
        raise Refused(field, f"{called} is {plain(value)}{tail}; it can't be above {plain(high)}{tail}")
    return value
