"""Pumps that give one stroke each: how many of both come nearest to a cup, and how far off that is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.mix.ratio import Masses, MixSystem

#: A pump is known once so many of its strokes were weighed together.
LEAST_STROKES = 3


@dataclass(frozen=True)
class Strokes:
    """Whole strokes of each pump, what they give [g], and how far the ratio is off [%]."""

    resin: int
    hardener: int
    resin_g: float
    hardener_g: float
    deviation_pct: float


def per_stroke(strokes: int, grams: float) -> float:
    """Grams of one stroke, from several weighed together.

    >>> per_stroke(3, 24.6)
    8.2
    """
    if strokes < LEAST_STROKES:
        raise Refused("strokes", f"{strokes} strokes were weighed; weigh {LEAST_STROKES} or more together")
    between("strokes", strokes, LEAST_STROKES, 100)
    between("grams", grams, 0, 10_000, unit="g", name="what they weighed", open_low=True)
    return round(grams / strokes, 9)


def strokes_for(system: MixSystem, wanted: Masses, resin_stroke_g: float, hardener_stroke_g: float) -> Strokes:
    """Whole strokes for a cup: within a stroke of resin either way, those with the truest ratio.

    Examples
    --------
    >>> from kiteloom.core.mix.ratio import Ratio, masses
    >>> epoxy = MixSystem(Ratio(100, 28), tolerance_pct=5)
    >>> strokes_for(epoxy, masses(epoxy, total_g=128), 8.0, 2.5)
    Strokes(resin=12, hardener=11, resin_g=96.0, hardener_g=27.5, deviation_pct=2.31)
    """
    about = wanted.resin_g / resin_stroke_g
    found = []
    for resin in {max(n, 1) for n in range(math.ceil(about - 1), math.floor(about + 1) + 1)}:
        hardener = max(round(resin * resin_stroke_g * system.by_weight / hardener_stroke_g), 1)
        given = resin * resin_stroke_g, hardener * hardener_stroke_g
        off = 100 * (given[1] / given[0] / system.by_weight - 1)
        found.append(Strokes(resin, hardener, round(given[0], 6), round(given[1], 6), round(off, 2)))
    return min(found, key=lambda s: (abs(s.deviation_pct), abs(s.resin_g - wanted.resin_g)))
