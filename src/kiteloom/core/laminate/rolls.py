"""Pieces and the roll they are cut from: their warp along it, packed by the boxes around them, and looked at apart."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import rectpack
from shapely import STRtree
from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from kiteloom.core.base.problems import Refused, between

#: More pieces than this are not nested.
MOST_PIECES = 3000
#: Boxes of no more pieces than this are packed by the slower, closer way too.
_FEW = 120
#: No packer computes finer [mm].
SLACK_MM = 0.05
#: Two pieces that share less are beside each other [mm²].
_TOUCH_MM2 = 1.0

Corner = tuple[float, float]
#: A piece by its id, and its outline where it lies.
Placed = tuple[str, Polygon]


@dataclass(frozen=True)
class Cut:
    """A piece to be nested: its outline in the part's axes [mm], the angle of its warp there [°], and how many."""

    id: str
    outline_mm: tuple[Corner, ...]
    angle_deg: float
    quantity: int = 1


@dataclass(frozen=True)
class Placement:
    """One copy of a piece on the roll, counted from 1: warp along x, from selvedge to selvedge along y [mm]."""

    id: str
    copy: int
    outline_mm: tuple[Corner, ...]


@dataclass(frozen=True)
class Nest:
    """Pieces placed on a roll; ``oversize`` are those wider than it, which are not."""

    length_mm: float
    utilisation_pct: float
    placements: tuple[Placement, ...]
    oversize: tuple[str, ...]


@dataclass(frozen=True)
class Roll:
    """How pieces may lie: the roll's width, the gap between two of them [mm], and whether quarter turns are allowed."""

    width_mm: float
    gap_mm: float = 0.0
    quarter_turns: bool = False

    def __post_init__(self) -> None:
        between("roll_width_mm", self.width_mm, 0, 20_000, unit="mm", name="the roll width", open_low=True)
        between("gap_mm", self.gap_mm, 0, self.width_mm, unit="mm", name="the gap")

    @property
    def turns(self) -> tuple[float, ...]:
        """How a piece may be turned once its warp lies along the roll [°]."""
        return (0.0, 180.0, 90.0, 270.0) if self.quarter_turns else (0.0, 180.0)


@dataclass(frozen=True)
class Lying:
    """A piece with its warp along the roll, and how it may be turned there."""

    id: str
    shape: Polygon
    copies: int
    turns: tuple[float, ...]


def lying_of(pieces: Sequence[Cut], roll: Roll) -> tuple[list[Lying], tuple[str, ...]]:
    """Pieces with their warp along the roll, and those that are wider than it; `Refused` as `nest` says."""
    lying, oversize = list[Lying](), list[str]()
    for n, piece in enumerate(pieces):
        turned = _lying(piece, n, roll)
        if turned.turns:
            lying.append(turned)
        else:
            oversize.append(piece.id)
    count = sum(piece.quantity for piece in pieces)
    if count > MOST_PIECES:
        raise Refused("pieces", f"there are {count} pieces; at most {MOST_PIECES} are nested")
    return lying, tuple(dict.fromkeys(oversize))


def _lying(piece: Cut, n: int, roll: Roll) -> Lying:
    between(f"pieces.{n}.quantity", piece.quantity, 1, MOST_PIECES, name=f"the number of “{piece.id}”")
    shape = Polygon(piece.outline_mm) if len(piece.outline_mm) > 2 else Polygon()
    if shape.is_empty or not shape.is_valid or shape.area <= 0:
        corners = len(piece.outline_mm)
        raise Refused(f"pieces.{n}.outline_mm", f"the outline of “{piece.id}” is none: its {corners} corners cross or "
                      "enclose nothing")  # fmt: skip
    shape = rotate(shape, -piece.angle_deg, origin=(0, 0))
    fits = tuple(turn for turn in roll.turns if across(shape, turn) <= roll.width_mm + 1e-6)
    return Lying(piece.id, shape, piece.quantity, fits)


def across(shape: Polygon, turn: float) -> float:
    """How wide an outline is across the roll, turned by a quarter or by halves [mm].

    >>> across(Polygon([(0, 0), (10, 0), (10, 4), (0, 4)]), 180)
    4.0
    """
    left, low, right, high = shape.bounds
    return high - low if turn % 180 == 0 else right - left


def sound(placed: Sequence[Placed], roll: Roll) -> bool:
    """Whether no piece lies over another or over an edge of the roll, and the gap is kept.

    >>> square = Polygon([(0, 0), (10, 0), (10, 10), (0, 10)])
    >>> sound([("a", square), ("b", translate(square, 5))], Roll(10))
    False
    """
    if any(low < -SLACK_MM or high > roll.width_mm + SLACK_MM for _, low, _, high in (p.bounds for _, p in placed)):
        return False
    shapes = [p for _, p in placed]
    apart = roll.gap_mm - 2 * SLACK_MM
    if apart > 0:
        first, second = STRtree(shapes).query(shapes, predicate="dwithin", distance=apart)
        return bool(np.all(first == second))
    first, second = STRtree(shapes).query(shapes, predicate="intersects")
    return all(
        a >= b or shapes[a].intersection(shapes[b]).area < _TOUCH_MM2 for a, b in zip(first, second, strict=True)
    )  # fmt: skip


def boxes(lying: Sequence[Lying], roll: Roll) -> Iterator[Placed]:
    """Each piece in the box around it."""
    around = []
    for n, one in enumerate(lying):
        left, low, right, high = rotate(one.shape, one.turns[0], origin=(0, 0)).bounds
        around += [(n, right - left, high - low)] * one.copies
    free = roll.quarter_turns
    ways = [rectpack.GuillotineBssfSas] + [rectpack.MaxRectsBl, rectpack.MaxRectsBssf] * (len(around) <= _FEW)
    best: list[tuple[int, float, float, float]] = []
    for way in ways if around else ():
        packer = rectpack.newPacker(
            mode=rectpack.PackingMode.Offline, pack_algo=way, sort_algo=rectpack.SORT_LSIDE, rotation=free
        )
        for n, along, across in around:
            packer.add_rect(across + roll.gap_mm, along + roll.gap_mm, n)
        packer.add_bin(
            roll.width_mm + roll.gap_mm, sum(along + across + 2 * roll.gap_mm for _, along, across in around)
        )
        packer.pack()
        # Its bin stands upright, the roll lies.
        found = [(int(n), float(y), float(x), float(h)) for _, x, y, _, h, n in packer.rect_list()]
        if len(found) == len(around) and (not best or _end(found) < _end(best)):
            best = found
    for n, x, y, along in best:
        one = lying[n]
        turned = rotate(one.shape, one.turns[0], origin=(0, 0))
        left, low, right, _ = turned.bounds
        if abs(right - left + roll.gap_mm - along) > 1e-6:
            turned = rotate(turned, 90, origin=(0, 0))
            left, low, _, _ = turned.bounds
        yield one.id, translate(turned, x - left, y - low)


def _end(found: Sequence[tuple[int, float, float, float]]) -> float:
    return max(x + along for _, x, _, along in found)


def length_of(placed: Sequence[Placed]) -> float:
    """How far off the roll pieces reach [mm].

    >>> length_of([("a", Polygon([(0, 0), (10, 0), (10, 4)]))])
    10.0
    """
    return round(max((shape.bounds[2] for _, shape in placed), default=0.0), 6)


def numbered(placed: Sequence[Placed]) -> Iterator[Placement]:
    """Pieces as placements, the copies of each counted from 1."""
    count: dict[str, int] = {}
    for key, shape in placed:
        count[key] = count.get(key, 0) + 1
        ring = tuple((round(x, 4), round(y, 4)) for x, y in shape.exterior.coords[:-1])
        yield Placement(key, count[key], ring)
