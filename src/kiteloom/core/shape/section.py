"""Sections: NACA four digits or points, their sides and girths, in fractions of the chord.

References
----------
NACA Report 460 (1933), the four-digit sections; thickness with its open trailing edge.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.problems import Refused, plain

Side = Literal["upper", "lower"]


Floats = NDArray[np.float64]


Point = tuple[float, float]


_PER_SIDE = 160

#: Thicker than this is no wing, but a slip of the finger [-].
MOST_THICK = 0.40
#: More points than this are no section, but a scan.
MOST_POINTS = 2000


@dataclass(frozen=True)
class Section:
    """An airfoil section: each side from the nose to the trailing edge, fractions of the chord."""

    name: str
    upper: tuple[Point, ...]
    lower: tuple[Point, ...]

    def side(self, side: Side) -> Floats:
        """One side's points, nose first; shape (n, 2).

        >>> naca4("0012").side("upper")[0].tolist()
        [0.0, 0.0]
        """
        return np.array(self.upper if side == "upper" else self.lower)


@lru_cache(maxsize=100)
def naca4(code: str) -> Section:
    """A NACA four-digit section.

    Parameters
    ----------
    code : str
        Camber [% chord], its place [tenths], thickness [% chord, two digits]: ``"2412"``.

    Raises
    ------
    Refused
        If it is not four digits, has no thickness, or camber without a place for it.

    Examples
    --------
    >>> round(section_girth(naca4("0012"), "upper"), 4)
    1.0196
    """
    if not re.fullmatch(r"\d{4}", code):
        more = "; load the coordinate file of one of five" if re.fullmatch(r"\d{5}", code) else ""
        raise Refused("naca", f"“{code}” is not a NACA section of four digits; write it like 2412{more}")
    m, p, t = int(code[0]) / 100, int(code[1]) / 10, int(code[2:]) / 100
    if not t:
        raise Refused("naca", f"NACA {code} has a thickness of 0 %; it must be above 0 %")
    if t > MOST_THICK:
        raise Refused("naca", f"NACA {code} would be {t:.0%} thick; at most {MOST_THICK:.0%} are built")
    if bool(m) != bool(p):
        raise Refused("naca", f"NACA {code} has camber {m:.0%} at {p:.0%} of the chord; both must be 0, or neither")
    # With its camber so far ahead the lower side turns round a small loop at the nose.
    x = (1 - np.cos(np.linspace(0, math.pi, 4 * _PER_SIDE if p == 0.1 else _PER_SIDE))) / 2
    half = 5 * t * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1015 * x**4)
    if m:
        ahead = x < p
        camber = np.where(ahead, m / p**2 * (2 * p * x - x**2), m / (1 - p) ** 2 * (1 - 2 * p + 2 * p * x - x**2))
        slope = np.where(ahead, 2 * m / p**2 * (p - x), 2 * m / (1 - p) ** 2 * (p - x))
    else:
        camber = slope = np.zeros_like(x)
    angle = np.arctan(slope)
    upper = zip(x - half * np.sin(angle), camber + half * np.cos(angle), strict=True)
    lower = zip(x + half * np.sin(angle), camber - half * np.cos(angle), strict=True)
    return Section(
        f"NACA {code}",
        tuple((float(a), float(b)) for a, b in upper),
        tuple((float(a), float(b)) for a, b in lower),
    )


def _checked(points: Sequence[Sequence[float]], least: int, what: str) -> Floats:
    if len(points) > MOST_POINTS:
        raise Refused("section", f"{what} has {len(points)} points; at most {MOST_POINTS} are computed with")
    if len(points) < least:
        raise Refused("section", f"{what} has {len(points)} points; at least {least} are wanted")
    if any(len(point) != 2 for point in points):
        raise Refused("section", f"{what} has a point that is not a pair of x and y")
    array = np.array(points, dtype=float)
    if not np.isfinite(array).all():
        raise Refused("section", f"{what} has a point that is not an ordinary number")
    high = float(array[:, 0].max())
    if high > 1.05:
        raise Refused("section", f"{what} reaches x = {plain(high)}; points are fractions of the chord, from 0 to 1")
    if float(array[:, 0].min()) < -0.05:
        raise Refused(
            "section", f"{what} reaches x = {plain(float(array[:, 0].min()))}; x can't be below 0 by more than 0.05"
        )
    if float(np.abs(array[:, 1]).max()) > 0.5:
        raise Refused(
            "section",
            f"{what} reaches y = {plain(float(np.abs(array[:, 1]).max()))}; at most 0.5 of the chord is wanted",
        )
    return array


def section_from_sides(name: str, upper: Sequence[Sequence[float]], lower: Sequence[Sequence[float]]) -> Section:
    """A section from its two sides, each in either direction; at least 3 points a side.

    Raises
    ------
    Refused
        If points are few, in percent, out of the chord, or the sides are swapped.

    >>> flat = section_from_sides("board", [[0, 0], [0.5, 0.05], [1, 0]], [[1, 0], [0.5, -0.05], [0, 0]])
    >>> flat.upper[1], flat.lower[1]
    ((0.5, 0.05), (0.5, -0.05))
    """
    sides = []
    for what, points in (("the upper side", upper), ("the lower side", lower)):
        array = _checked(points, 3, what)
        array = array if array[0, 0] <= array[-1, 0] else array[::-1]
        keep = np.concatenate(([True], np.any(np.diff(array, axis=0) != 0, axis=1)))
        sides.append(array[keep])
    for what, array in zip(("the upper side", "the lower side"), sides, strict=True):
        if array[0, 0] > 0.02 or array[-1, 0] < 0.98:
            raise Refused(
                "section",
                f"{what} runs from x = {plain(float(array[0, 0]))} to {plain(float(array[-1, 0]))}; "
                "it must run from the nose at 0 to the trailing edge at 1",
            )
    stations = np.linspace(0.1, 0.9, 9)
    top, bottom = (np.interp(stations, array[:, 0], array[:, 1]) for array in sides)
    if np.any(top < bottom):
        at = stations[int(np.argmin(top - bottom))]
        raise Refused(
            "section", f"at x = {plain(float(at))} the upper side lies below the lower; thickness can't be below 0"
        )
    if not np.any(top > bottom):
        raise Refused("section", "the section has a thickness of 0; it must be above 0")
    return Section(name, *(tuple((float(a), float(b)) for a, b in array) for array in sides))


def section_from_points(name: str, points: Sequence[Sequence[float]]) -> Section:
    """A section from one line of points: trailing edge, over the top, round the nose, back.

    The other way round is understood too. At least 5 points.

    >>> line = [[1, 0], [0.5, 0.05], [0, 0], [0.5, -0.05], [1, 0]]
    >>> section_from_points("board", line).upper[-1]
    (1.0, 0.0)
    """
    array = _checked(points, 5, "the section")
    nose = int(np.argmin(array[:, 0]))
    first, second = array[: nose + 1][::-1], array[nose:]
    if len(first) < 3 or len(second) < 3:
        raise Refused(
            "section",
            f"the section has {min(len(first), len(second))} points on one side of the nose; at least 3 are wanted",
        )
    # A line that goes round the other way has its upper side second.
    x, y = array[:, 0], array[:, 1]
    area = float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
    upper, lower = (first, second) if area > 0 else (second, first)
    return section_from_sides(name, upper.tolist(), lower.tolist())


def section_girth(section: Section, side: Side) -> float:
    """Arc length of one side, in chords, without the trailing edge's own thickness.

    >>> round(section_girth(naca4("0012"), "upper"), 4)
    1.0196
    """
    return float(arc_lengths(section.side(side))[-1])


def arc_lengths(points: Floats) -> Floats:
    """Length along a line of points up to each of them; the points' own unit.

    >>> arc_lengths(np.array([[0.0, 0.0], [3.0, 4.0], [3.0, 6.0]])).tolist()
    [0.0, 5.0, 7.0]
    """
    return np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))))
