"""A bond line: what it takes with squeeze-out and fillets, and where the dry fit showed a gap."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Protocol

from kiteloom.core.base.problems import Refused, between

#: Squeeze-out all round: so much more than the glue line holds (common practice) [-].
SQUEEZE_OUT = 1.5
#: A wider gap is not glued but filled, or the parts are fitted anew [mm].
MOST_GAP_MM = 50.0


def line_g(length_m: float, width_m: float, thickness_mm: float, density_g_ml: float) -> float:
    """What a glue line holds: length × width × thickness × density [g].

    >>> round(line_g(3.0, 0.02, 0.5, 1.1), 1)
    33.0
    """
    between("length_m", length_m, 0, 1000, unit="m", name="the length of the glue line", open_low=True)
    between("width_m", width_m, 0, 10, unit="m", name="the width of the glue line", open_low=True)
    between("thickness_mm", thickness_mm, 0, 100, unit="mm", name="the thickness of the glue line", open_low=True)
    between("density_g_ml", density_g_ml, 0.1, 25, unit="g/ml", name="the density")
    return length_m * width_m * thickness_mm * 1000 * density_g_ml


def fillet_g(length_m: float, fillets: int, radius_mm: float, density_g_ml: float) -> float:
    """What fillets along a joint hold: concave, of a radius, in a right corner, (1 − π/4)·r² each [g].

    >>> round(fillet_g(2.0, 2, 6.0, 1.1), 1)
    34.0
    """
    between("fillets", fillets, 0, 20, name="the number of fillets")
    between("fillet_mm", radius_mm, 0, 100, unit="mm", name="the radius of a fillet")
    return fillets * (1 - math.pi / 4) * radius_mm**2 * length_m * density_g_ml


class GlueLine(Protocol):
    """What is said of a joint's glue line: its size, of what its two faces are, whether it must last in the wet,
    the fillets along it, and how much of it must hold.
    """

    length_m: float
    width_m: float
    thickness_mm: float
    one: str
    other: str
    wet: bool
    fillets: int
    fillet_mm: float
    least_pct: float


@dataclass(frozen=True)
class Gap:
    """A gap that a dry fit showed: where along the joint [m], and how wide [mm]."""

    at_m: float
    gap_mm: float


def gaps_checked(gaps: Sequence[Gap], length_m: float, field: str = "gaps") -> tuple[Gap, ...]:
    """Gaps in their order along the joint; `Refused` where one can't be, or two are at one place."""
    for n, gap in enumerate(gaps):
        between(f"{field}.{n}.at_m", gap.at_m, 0, length_m, unit="m", name="where the gap is, along the joint,")
        between(f"{field}.{n}.gap_mm", gap.gap_mm, 0, MOST_GAP_MM, unit="mm", name="the gap")
    found = sorted(gaps, key=lambda gap: gap.at_m)
    for n, (one, other) in enumerate(pairwise(found), 1):
        if other.at_m - one.at_m < 1e-6:
            raise Refused(f"{field}.{n}.at_m", f"two gaps are at {one.at_m:g} m; one of them is meant elsewhere")
    return tuple(found)


def thickness_mm(thickness: float, gaps: Sequence[Gap], length_m: float) -> float:
    """The mean thickness of a glue line whose gaps were read: as wide as the gap, nowhere thinner than planned [mm].

    Between two places it goes evenly from one to the other; before the first and after the last it is as there.

    >>> thickness_mm(0.5, [Gap(0, 0.5), Gap(1, 2.5)], 2.0)  # one metre from 0.5 to 2.5 mm, one of 2.5 mm
    2.0
    """
    if not gaps:
        return thickness
    ends = [Gap(0.0, gaps[0].gap_mm), *gaps, Gap(length_m, gaps[-1].gap_mm)]
    area = 0.0
    for one, other in pairwise(ends):
        long, (low, high) = other.at_m - one.at_m, sorted((one.gap_mm, other.gap_mm))
        if high <= thickness:
            area += thickness * long
        elif low >= thickness:
            area += (low + high) / 2 * long
        else:
            wide = long * (high - thickness) / (high - low)
            area += thickness * (long - wide) + (thickness + high) / 2 * wide
    return area / length_m


def too_wide(gaps: Sequence[Gap], widest_mm: float) -> tuple[Gap, ...]:
    """Where a gap is wider than an adhesive fills.

    >>> too_wide([Gap(0, 0.2), Gap(1, 2.5)], 2.0)
    (Gap(at_m=1, gap_mm=2.5),)
    """
    return tuple(gap for gap in gaps if gap.gap_mm > widest_mm + 1e-9)
