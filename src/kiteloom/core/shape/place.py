"""Where a part lies on its airframe, and how it is seen there from above.

Axes of the airframe: x aft of its nose, y to the right of its middle line; metres.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal, get_args

from kiteloom.core.base.fields import Asked
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Ring

_LENGTH: dict[str, Any] = {"dimension": "length", "unit": ("m", "in")}

#: How its span runs: out to the side, from nose to tail, or up.
Lies = Literal["out to the side", "fore and aft", "upright"]
#: What stands upright is drawn so wide, at least [m].
EDGE_M = 0.03


@dataclass(frozen=True)
class Place:
    """Where its root's leading edge lies, and how its span runs."""

    aft_m: Annotated[float, Asked("Aft of the nose", **_LENGTH, low=-10, high=100)]
    side_m: Annotated[float, Asked("Out from the middle", **_LENGTH, low=-50, high=50)] = 0.0
    lies: Annotated[str, Asked("Its span runs", "choice", choices=get_args(Lies))] = "out to the side"


def in_plan(shape: Shape, place: Place, hand: str) -> tuple[Ring, ...]:
    """A shape seen from above where it lies on its airframe: rings of points (to the right, aft) [m].

    A part in the centre lies across the middle line, whatever its drawing counts from.

    >>> from kiteloom.core.shape.flat import Flat
    >>> from kiteloom.core.shape.outline import Outline
    >>> board = Flat((Outline(((0, 0), (2000, 0), (2000, -500), (0, -500))),))
    >>> in_plan(board, Place(1.0, 0.5), "left")[0][:2]
    ((-0.5, 1.0), (-2.5, 1.0))
    >>> in_plan(board, Place(1.0, 0.5), "centre")[0][:2]
    ((1.0, 1.0), (-1.0, 1.0))
    """
    # As a left one is drawn: its span runs to negative y.
    rings = shape.outline("left")
    afts = [x for ring in rings for _, x in ring]
    sides = [-y for ring in rings for y, _ in ring]
    if place.lies == "out to the side":
        if hand == "centre":
            middle = (min(sides) + max(sides)) / 2
            return _moved(rings, middle, place.aft_m)
        found = _moved(rings, -place.side_m, place.aft_m)
    elif place.lies == "fore and aft":
        middle = (min(afts) + max(afts)) / 2
        out = 0.0 if hand == "centre" else place.side_m
        found = tuple(tuple((x - middle - out, place.aft_m - y) for y, x in ring) for ring in rings)
    else:
        # Upright it is seen on edge: as long as it is deep, or as long as it is.
        first, last = min(afts), max(afts)
        out = 0.0 if hand == "centre" else place.side_m
        half = EDGE_M / 2
        ring = (
            (-out - half, place.aft_m + first),
            (-out + half, place.aft_m + first),
            (-out + half, place.aft_m + last),
            (-out - half, place.aft_m + last),
        )
        found = (ring,)
    return found if hand != "right" else tuple(tuple((-y, x) for y, x in ring) for ring in found)


def _moved(rings: tuple[Ring, ...], side: float, aft: float) -> tuple[Ring, ...]:
    return tuple(tuple((y + side, x + aft) for y, x in ring) for ring in rings)
