"""Where a part lies on its airframe, and how it is seen there from above.

Axes of the airframe: x aft of its nose, y to the right of its middle line; metres.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any, Literal, get_args

from shapely.geometry import Polygon
from shapely.ops import unary_union

from kiteloom.core.base.fields import Asked
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Loft, Ring

_LENGTH: dict[str, Any] = {"dimension": "length", "unit": ("m", "in")}

#: How its span runs, and from which side it is seen: flat, or on edge as the side of a fuselage is.
Lies = Literal["out to the side", "fore and aft", "fore and aft, on edge", "upright"]
#: What is seen on edge is drawn so wide [m].
EDGE_M = 0.03


@dataclass(frozen=True)
class Place:
    """Where its root's leading edge lies, or the foremost of a part without stations; and how its span runs."""

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
    rings = [[(-y, x) for y, x in ring] for ring in shape.outline("left")]
    along, across = ([p[n] for ring in rings for p in ring] for n in (0, 1))
    # A loft counts from its own root's leading edge; what was drawn or measured otherwise from its foremost.
    root, nose = (0.0, 0.0) if isinstance(shape, Loft) else (min(along), min(across))
    centre = hand == "centre"
    out = 0.0 if centre else place.side_m
    if place.lies == "out to the side":
        base = (min(along) + max(along)) / 2 if centre else root - out
        found = tuple(tuple((base - a, place.aft_m + c - nose) for a, c in ring) for ring in rings)
    elif place.lies == "fore and aft":
        middle = (min(across) + max(across)) / 2
        found = tuple(tuple((c - middle - out, place.aft_m + a - root) for a, c in ring) for ring in rings)
    else:
        of, first = (across, nose) if place.lies == "upright" else (along, root)
        ends = (place.aft_m + min(of) - first, place.aft_m + max(of) - first)
        half = EDGE_M / 2
        found = (((-out - half, ends[0]), (-out + half, ends[0]), (-out + half, ends[1]), (-out - half, ends[1])),)
    return found if hand != "right" else tuple(tuple((-y, x) for y, x in ring) for ring in found)


@lru_cache(maxsize=500)
def centroid(form: Shape) -> tuple[float, float]:
    """The middle of a shape as it is drawn: along from its root, and aft [m].

    >>> from kiteloom.core.shape.flat import StripAt, Strips
    >>> centroid(Strips((StripAt(0, 0.4), StripAt(2, 0.4))))
    (1.0, 0.0)
    """
    whole = unary_union([Polygon([(-y, x) for y, x in ring]).buffer(0) for ring in form.outline("left")])
    at = whole.centroid
    return round(float(at.x), 9) + 0.0, round(float(at.y), 9) + 0.0


def middle_aft_m(shape: Shape, place: Place) -> float:
    """How far aft of the nose the middle of a shape lies where it stands [m].

    >>> from kiteloom.core.shape.flat import StripAt, Strips
    >>> middle_aft_m(Strips((StripAt(0, 0.4), StripAt(2, 0.4))), Place(1.5))
    1.7
    """
    along, across = centroid(shape)
    if isinstance(shape, Loft):
        root, nose = 0.0, 0.0
    else:
        points = [(-y, x) for ring in shape.outline("left") for y, x in ring]
        root, nose = min(at for at, _ in points), min(aft for _, aft in points)
    return place.aft_m + (across - nose if place.lies in ("out to the side", "upright") else along - root)
