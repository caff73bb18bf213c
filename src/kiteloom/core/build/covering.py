"""What covering a panel takes: cloth with its wraps and seams, cement by landing area, tapes and attachments by length.

Wraps, overlaps and lands are common practice; the pitch of lacing, rivets or screws is the designer's.
"""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

from shapely.geometry import LineString, Polygon, box

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.laminate.pieces import Cutting, Joints, Piece, cut_up
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Loft
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import polygons_of, skin_of

#: A seam is kept so far off the leading edge, to either side (common practice) [m].
NOSE_OFF_M = 0.05
#: The least land that an edge of cloth is glued on (common practice) [m].
LEAST_LAND_M = 0.025


@dataclass(frozen=True)
class Panel:
    """What cloth goes over: along its longer edge, across it, its skin, and where it is glued [m, m²].

    ``ribs_m`` are the girths of its ribs, one for each rib and side that is covered.
    """

    along_m: float
    across_m: float
    skin_m2: float
    edges_m: float
    ends_m: float
    ribs_m: tuple[float, ...] = ()

    @property
    def around_m(self) -> float:
        """All round: both edges, root and tip."""
        return self.edges_m + self.ends_m


@lru_cache(maxsize=128)
def panel_of(shape: Shape, side: Side | Literal["whole"]) -> Panel:
    """A shape as cloth goes over it; what has no ribs of its own has none.

    Both sides of a loft are covered by one envelope: across is all round it, and its edges count once.

    >>> panel_of(PLANK, "whole").along_m, round(panel_of(PLANK, "upper").across_m, 2)
    (4.0, 1.02)
    """
    sides: tuple[Side, ...] = ("upper", "lower") if side == "whole" else (side,)
    skin = sum(shape.skin_area_m2(one) for one in sides)
    if not isinstance(shape, Loft):
        along = shape.span_m
        # Nothing is known of it but its area and its edge: as wide as it is on average.
        across = skin / along if along > 0 else 0.0
        around = sum(shape.around_m(one) for one in sides) / len(sides)
        return Panel(along, across, skin, min(2 * along, around), max(around - 2 * along, 0.0))
    at = [station.at_m for station in shape.stations]
    return Panel(
        max(shape.leading_edge_m, shape.trailing_edge_m),
        max(sum(shape.girth_at_m(one, side) for side in sides) for one in at),
        skin,
        shape.leading_edge_m + shape.trailing_edge_m,
        sum(shape.girth_m(one, end) for one in sides for end in ("root", "tip")),
        tuple(shape.girth_at_m(one, side) for one in shape.ribs.at_m for side in sides),
    )


@dataclass(frozen=True)
class Cloth:
    """A cloth as it comes off the roll, and how it is laid: round edges, and over itself at seams [m, g/m²]."""

    width_m: float
    areal_weight_g_m2: float
    wrap_m: float
    overlap_m: float

    def __post_init__(self) -> None:
        between("cloth.width_m", self.width_m, 0, 10, unit="m", name="the width of the cloth", open_low=True)
        between("cloth.areal_weight_g_m2", self.areal_weight_g_m2, 0, 2000, unit="g/m²", name="the cloth's weight")
        between("wrap_m", self.wrap_m, 0, 1, unit="m", name="the wrap")
        between("overlap_m", self.overlap_m, 0, 1, unit="m", name="the overlap")
        if self.overlap_m >= self.width_m:
            words = f"the overlap is {self.overlap_m:g} m; it can't be as wide as the cloth, {self.width_m:g} m"
            raise Refused("overlap_m", words)


@dataclass(frozen=True)
class Widths:
    """So many pieces, each so long along the panel and so wide; and what is on the part [g]."""

    count: int
    length_m: float
    width_m: float
    on_part_g: float

    @property
    def off_roll_m(self) -> float:
        """What they take off the roll, one after the other [m]."""
        return self.count * self.length_m


def widths(panel: Panel, cloth: Cloth, most: int | None = None) -> Widths:
    """How a panel is covered from the roll, its warp along the span; from so many widths where that is said.

    >>> flat = Panel(3.0, 2.0, 6.0, 6.0, 4.0)
    >>> found = widths(flat, Cloth(1.8, 92, 0.02, 0.05))
    >>> found.count, round(found.length_m, 2), round(found.width_m, 3), round(found.on_part_g)
    (2, 3.04, 1.045, 584)
    """
    across = panel.across_m + 2 * cloth.wrap_m
    along = panel.along_m + 2 * cloth.wrap_m
    count = 1
    if across > cloth.width_m + 1e-9:
        count = math.ceil((across - cloth.overlap_m) / (cloth.width_m - cloth.overlap_m) - 1e-9)
    count = max(count, most or 1)
    wide = (across + (count - 1) * cloth.overlap_m) / count
    area = panel.skin_m2 + cloth.wrap_m * panel.around_m + (count - 1) * cloth.overlap_m * along
    return Widths(count, along, wide, area * cloth.areal_weight_g_m2)


@lru_cache(maxsize=128)
def cut_cloth(shape: Shape, side: Side | Literal["whole"], cloth: Cloth) -> tuple[tuple[Piece, ...], bool]:
    """The widths of cloth for a panel as they are cut, warp along its span; and whether a seam lies on its nose.

    Both sides of a loft are one envelope, laid flat about its leading edge, closed behind; seams lie off that edge.
    Of what has no section each side is cut by itself.

    >>> pieces, on_nose = cut_cloth(PLANK, "whole", Cloth(1.2, 92, 0.02, 0.05))
    >>> [piece.id for piece in pieces], on_nose, cut_cloth(PLANK, "upper", Cloth(1.2, 92, 0.02, 0.05))[0][0].id
    (['1a', '1b'], False, '1')
    """
    cutting = Cutting(cloth.width_m, cloth.wrap_m, cloth.overlap_m)
    if not isinstance(shape, Loft):
        sides: tuple[Side, ...] = ("upper", "lower") if side == "whole" else (side,)
        found: list[Piece] = []
        for n, one in enumerate(sides, 1):
            found += cut_up(skin_of(shape, one).whole, n - 1, f"{n}", 0.0, cutting, Joints())
        return tuple(found), False
    flat = _laid_flat(shape, side)
    left, _, right, _ = flat.bounds
    joints = Joints((box(left - 1, -NOSE_OFF_M, right + 1, NOSE_OFF_M),))
    pieces = cut_up(flat, 0, "1", 0.0, cutting, joints)
    return pieces, joints.strayed > 0


def _laid_flat(shape: Loft, side: Side | Literal["whole"]) -> Polygon:
    """Its skin along its longer edge, the upper side above its leading edge at 0 and the lower below [m]."""
    at = [(one.at_m, _along(shape, one.at_m)) for one in shape.stations]
    over = [(x, shape.girth_at_m(y, "upper") if side != "lower" else 0.0) for y, x in at]
    under = [(x, -shape.girth_at_m(y, "lower") if side != "upper" else 0.0) for y, x in at]
    return Polygon([*over, *reversed(under)])


def _along(shape: Loft, at_m: float) -> float:
    longer = max(shape.leading_edge_m, shape.trailing_edge_m)
    return (at_m - shape.stations[0].at_m) * longer / shape.span_m


@dataclass(frozen=True)
class Land:
    """Where cloth is glued as it lies flat: what it is, a rib's number or 0, and its edges [m]."""

    kind: Literal["edge", "rib", "loose rib"]
    number: int
    ring: tuple[tuple[float, float], ...]


def lands(
    shape: Shape, side: Side | Literal["whole"], rib_m: float, edge_m: float, loose: Collection[int]
) -> tuple[tuple[tuple[float, float], ...], tuple[Land, ...]]:
    """A panel laid flat, and where its cloth is glued there, or slides; of what has no section one side [m].

    >>> flat, found = lands(PLANK, "whole", 0.012, 0.025, ())
    >>> [one.kind for one in found], len(flat)
    (['edge', 'edge', 'edge', 'edge', 'edge'], 4)
    """
    if not isinstance(shape, Loft):
        whole = polygons_of(skin_of(shape, "lower" if side == "lower" else "upper").whole)[0]
        return _ring(whole), tuple(Land("edge", 0, _ring(one)) for one in _bands(whole, edge_m))
    whole = _laid_flat(shape, side)
    left, _, right, _ = whole.bounds
    found = [Land("edge", 0, _ring(one)) for one in _bands(whole, edge_m)]
    if side == "whole":
        nose = whole.intersection(box(left, -edge_m / 2, right, edge_m / 2))
        found += [Land("edge", 0, _ring(one)) for one in polygons_of(nose)]
    for n, at in enumerate(shape.ribs.at_m, 1):
        x = _along(shape, at)
        for one in polygons_of(whole.intersection(box(x - rib_m / 2, -10, x + rib_m / 2, 10))):
            found.append(Land("loose rib" if n in loose else "rib", n, _ring(one)))
    return _ring(whole), tuple(found)


def _bands(whole: Polygon, edge_m: float) -> list[Polygon]:
    """So wide a land along each edge [m]."""
    inner = whole.buffer(-edge_m, join_style="mitre")
    corners = list(whole.exterior.coords)
    sides = [LineString(pair).buffer(edge_m, cap_style="flat").intersection(whole) for pair in pairwise(corners)]
    return [one for side in sides for one in polygons_of(side.difference(inner))]


def _ring(of: Polygon) -> tuple[tuple[float, float], ...]:
    return tuple((round(x, 4), round(y, 4)) for x, y in of.exterior.coords[:-1])


def landing_m2(panel: Panel, rib_width_m: float, edge_m: float) -> float:
    """Where cloth is glued: ribs by their width, edges and ends by their land [m²].

    >>> round(landing_m2(Panel(3.0, 2.0, 6.0, 6.0, 4.0, (1.0, 1.0)), 0.01, 0.025), 3)
    0.27
    """
    return sum(panel.ribs_m) * rib_width_m + panel.around_m * edge_m


def adhesive_l(landing: float, coats: int, spread_m2_l: float, lost: float = 0.0) -> float:
    """Cement, or adhesive, for so many coats on a landing area, with what is lost of it [l].

    >>> round(adhesive_l(0.27, 4, 5.0, 0.1), 3)
    0.24
    """
    between("spread_m2_l", spread_m2_l, 0, 100, unit="m²/l", name="what a litre spreads over", open_low=True)
    between("loss_pct", 100 * lost, 0, 95, unit="%", name="the loss")
    return landing * coats / spread_m2_l / (1 - lost)


def tape_m(panel: Panel) -> float:
    """Tape over every rib, edge and end [m]."""
    return sum(panel.ribs_m) + panel.around_m


def attachments(panel: Panel, pitch_m: float) -> int:
    """Lacing stitches, rivets or screws: on each rib and side one at either end, and between at the pitch.

    >>> attachments(Panel(3.0, 2.0, 6.0, 6.0, 4.0, (1.0, 0.9)), 0.0625)
    33
    """
    between("attachment_pitch_mm", 1000 * pitch_m, 5, 1000, unit="mm", name="the pitch of what holds the cloth")
    return sum(math.ceil(girth / pitch_m - 1e-9) + 1 for girth in panel.ribs_m)
