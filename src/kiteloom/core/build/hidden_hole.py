"""A hole that can't be seen any more, behind a skin or under a tip: where it is, how far off that may be, and the pilot
drill that still forgives it.

Plane geometry; how far off a measure is, and the steps of drills, are common practice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.problems import Refused, between

#: A tape read twice is off by as much [mm].
OFF_MM = 0.5
#: Pilot drills go up by so much, and there is none smaller [mm].
STEP_MM, LEAST_MM = 0.5, 1.0
STEP_IN_MM, LEAST_IN_MM = 25.4 / 64, 25.4 / 16


@dataclass(frozen=True)
class Found:
    """Where it is from the first point along the line to the second, and across it [mm]; how far off that may be."""

    along_mm: float
    across_mm: float
    off_mm: float


def by_two_measures(apart_mm: float, one_mm: float, other_mm: float, off_mm: float = OFF_MM) -> Found:
    """A hole by its distances from two points that are so far apart, on one side of the line between them.

    Notes
    -----
    Both circles cross at an angle θ; a measure off by e puts the crossing off by at most e ÷ min(sin θ/2, cos θ/2).

    >>> by_two_measures(50, 30, 40)
    Found(along_mm=18.0, across_mm=24.0, off_mm=0.7071067811865476)
    """
    for field, value, name in (("apart", apart_mm, "the distance of the two points"),
                               ("one", one_mm, "the measure from the first"),
                               ("other", other_mm, "the measure from the second")):  # fmt: skip
        between(field, value, 0, 20_000, unit="mm", name=name, open_low=True)
    between("off", off_mm, 0, 20, unit="mm", name="how far off a measure may be")
    if one_mm + other_mm < apart_mm or abs(one_mm - other_mm) > apart_mm:
        raise Refused(
            "other",
            f"{one_mm:g} and {other_mm:g} mm from two points {apart_mm:g} mm apart meet nowhere; measure them again",
        )
    along = (apart_mm**2 + one_mm**2 - other_mm**2) / (2 * apart_mm)
    across = math.sqrt(max(one_mm**2 - along**2, 0.0))
    cosine = (one_mm**2 + other_mm**2 - apart_mm**2) / (2 * one_mm * other_mm)
    half = math.acos(max(-1.0, min(1.0, cosine))) / 2
    steep = min(math.sin(half), math.cos(half))
    if steep < 0.1:
        raise Refused("apart", "the two measures meet at so flat an angle that they say nothing; take other points")
    return Found(along, across, off_mm / steep)


def by_pitch(pitch_mm: float, steps: int, off_mm: float = OFF_MM, pitch_off_mm: float = 0.1) -> Found:
    """A hole so many pitches from one that was found: off by how far the found one is, and by each pitch.

    >>> by_pitch(40, 3)
    Found(along_mm=120, across_mm=0.0, off_mm=0.8)
    """
    between("apart", pitch_mm, 0, 2000, unit="mm", name="the pitch", open_low=True)
    between("steps", steps, 1, 500, name="the number of pitches")
    between("off", off_mm, 0, 20, unit="mm", name="how far off the found one may be")
    between("pitch_off_mm", pitch_off_mm, 0, 20, unit="mm", name="how far off a pitch may be")
    return Found(pitch_mm * steps, 0.0, round(off_mm + steps * pitch_off_mm, 9))


def pilot_mm(hole_mm: float, off_mm: float, drills: Literal["metric", "us"] = "metric") -> float | None:
    """The largest pilot drill whose hole lies within the last one wherever it is; None where none does [mm].

    >>> pilot_mm(4.8, 0.7), pilot_mm(3.2, 1.2)
    (3.0, None)
    """
    between("hole", hole_mm, 0, 50, unit="mm", name="the hole", open_low=True)
    step, least = (STEP_IN_MM, LEAST_IN_MM) if drills == "us" else (STEP_MM, LEAST_MM)
    found = math.floor((hole_mm - 2 * off_mm) / step + 1e-9) * step
    return found if found >= least - 1e-9 else None
