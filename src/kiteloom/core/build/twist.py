"""Where the twist of a panel is read, and what is asked there: from its own shape."""

from __future__ import annotations

import math
from itertools import pairwise

from kiteloom.core.build.checks import Check, Point
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Loft, Station

#: So far off a panel is looked into before its next skin (common practice) [°].
TOLERANCE_DEG = 0.25
#: Fewer stations than this say little of a line; so each panel between two is read half way too.
_FEW = 4
#: More places than this nobody reads before the next skin.
_MOST = 12


def twist_check(shape: Shape | None) -> Check:
    """What an inclinometer must read along a panel, its root levelled, nose up positive.

    A panel without sections has no twist of its own: root, middle and tip are asked to agree.

    >>> [(point.name, point.nominal) for point in twist_check(None).points]
    [('root', 0.0), ('half way', 0.0), ('tip', 0.0)]
    """
    if not isinstance(shape, Loft):
        span = shape.span_m if shape is not None else None
        at = [None if span is None else round(share * span, 3) for share in (0, 0.5, 1)]
        points = [Point(name, 0.0, at_m) for name, at_m in zip(("root", "half way", "tip"), at, strict=True)]
    else:
        points = _of_stations(shape.stations)
    return Check("angle", tuple(points), -TOLERANCE_DEG, TOLERANCE_DEG)


def _of_stations(stations: tuple[Station, ...]) -> list[Point]:
    """At every station, half way between few; against the widest, which is levelled."""
    widest = max(stations, key=lambda station: station.chord_m)
    tips = ("root", "tip") if widest is stations[0] else ("one end", "other end")
    rows = [(station.at_m, station.twist_deg) for station in stations]
    if len(rows) < _FEW:
        rows += [((inner.at_m + outer.at_m) / 2, _between(inner, outer)) for inner, outer in pairwise(stations)]
        rows.sort()
    if len(rows) > _MOST:
        rows = [rows[round(n * (len(rows) - 1) / (_MOST - 1))] for n in range(_MOST)]
    inside = [f"place {n}" for n in range(2, len(rows))] if len(rows) > 3 else ["half way"]
    return [
        Point(name, round(twist - widest.twist_deg, 2) + 0.0, round(at - stations[0].at_m, 3))
        for name, (at, twist) in zip((tips[0], *inside, tips[1]), rows, strict=True)
    ]


def _between(inner: Station, outer: Station) -> float:
    """The twist half way along straight edges: of the line from one edge's middle to the other's [°]."""
    fall = sum(one.chord_m * math.sin(math.radians(one.twist_deg)) for one in (inner, outer))
    back = sum(one.chord_m * math.cos(math.radians(one.twist_deg)) for one in (inner, outer))
    return math.degrees(math.atan2(fall, back))
