"""Pieces → what each is cut from: remnants on the shelf first, then the roll, or as few sheets as will do.

A remnant or a sheet has edges of its own, so pieces go into it one by one, large ones first, each as far to its end and
its lower edge as it fits beside those that are there.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from shapely import contains, difference, get_coordinates, polygons, prepare, union_all
from shapely.affinity import rotate, translate
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from kiteloom.core.base.problems import between
from kiteloom.core.laminate.nest import nesting
from kiteloom.core.laminate.rolls import Corner, Cut, Lying, Placed, Roll, lying_of, numbered
from kiteloom.core.shape.skin import polygons_of

#: What is narrower than this is no remnant but waste (common practice) [mm].
NARROWEST_MM = 100.0
#: What is smaller is waste too (common practice) [mm²].
SMALLEST_MM2 = 40_000.0
#: Edges are known no finer [mm].
_SLACK_MM = 0.05
#: An outline of more corners is laid out by one round it that has fewer, nowhere further off it than twice this [mm].
_FEW_CORNERS, _ROUND_MM = 16, 2.0
#: Places are moved to as finely, and may miss an edge by as much [mm].
_TOUCH_MM = 2e-3
#: Places are tried so many at a time.
_AT_ONCE = 128
#: Sheets that may be used up by one layout.
MOST_SHEETS = 400

Kind = Literal["remnant", "roll", "sheet"]
#: Outer edge first, then holes [mm].
Rings = tuple[tuple[Corner, ...], ...]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Sheets:
    """Sheets of one size [mm], grain along their length; how pieces may lie on them."""

    length_mm: float
    width_mm: float
    gap_mm: float = 0.0
    quarter_turns: bool = False

    def __post_init__(self) -> None:
        between("sheet_length_mm", self.length_mm, 0, 20_000, unit="mm", name="the sheet’s length", open_low=True)
        between("sheet_width_mm", self.width_mm, 0, 20_000, unit="mm", name="the sheet’s width", open_low=True)
        between("gap_mm", self.gap_mm, 0, min(self.length_mm, self.width_mm), unit="mm", name="the gap")


@dataclass(frozen=True)
class Remnant:
    """What was left over before, with its warp or grain along x [mm]."""

    id: str
    rings: Rings


@dataclass(frozen=True)
class Stock:
    """What pieces are cut from: a remnant by its id, so much of the roll, a sheet; its edges [mm]."""

    kind: Kind
    id: str
    rings: Rings


@dataclass(frozen=True)
class Laid:
    """One copy of a piece, on which of the stocks, and its outline there [mm]."""

    id: str
    copy: int
    stock: int
    outline_mm: tuple[Corner, ...]


@dataclass(frozen=True)
class Layout:
    """Every piece on its stock; ``oversize`` are those that fit on none.

    ``run_mm`` is how far it goes on the roll, or on the last sheet.
    """

    stocks: tuple[Stock, ...]
    laid: tuple[Laid, ...]
    oversize: tuple[str, ...]
    run_mm: float

    @property
    def sheets(self) -> int:
        """How many new sheets it takes."""
        return sum(stock.kind == "sheet" for stock in self.stocks)

    @property
    def new_mm2(self) -> float:
        """What it takes of the roll, or of new sheets [mm²]."""
        return sum(_shape(stock.rings).area for stock in self.stocks if stock.kind != "remnant")

    @property
    def used_pct(self) -> float:
        """What of that is pieces [%]; 100 where all comes from remnants."""
        kinds = [stock.kind for stock in self.stocks]
        pieces = sum(Polygon(one.outline_mm).area for one in self.laid if kinds[one.stock] != "remnant")
        return 100 * pieces / self.new_mm2 if self.new_mm2 else 100.0


def layouts(
    pieces: Sequence[Cut], new: Roll | Sheets, remnants: Sequence[Remnant], seconds: float, seed: int = 1
) -> Iterator[Layout]:
    """Layouts, each better than the one before; the first comes at once.

    On a roll it ends after so many seconds or sooner; on sheets it goes on until it is no longer asked, and says the
    best so far again where it has found no better.

    Raises
    ------
    Refused
        For too many pieces, or an outline that is none.

    >>> strip = Cut("a", ((0, 0), (900, 0), (900, 400), (0, 400)), 0, 3)
    >>> left = Remnant("left", (((0, 0), (1000, 0), (1000, 450), (0, 450)),))
    >>> found = next(layouts([strip], Roll(1000, 10), [left], 0))
    >>> [stock.kind for stock in found.stocks], found.run_mm
    (['remnant', 'roll'], 900.0)
    >>> next(layouts([strip], Sheets(1000, 500, 10), [], 0)).sheets
    3
    """
    wide = Roll(20_000.0, 0.0, new.quarter_turns)
    lying, _ = lying_of(pieces, wide)
    ones = [replace(one, copies=1) for one in lying for _ in range(one.copies)]
    ones.sort(key=lambda one: -one.shape.area)
    fixed, rest = _from_remnants(ones, remnants, new.gap_mm)
    if isinstance(new, Roll):
        yield from _on_roll(pieces, fixed, rest, new, seconds, seed)
    else:
        yield from _on_sheets(fixed, rest, new, seed)


#: Stocks, and the pieces on each.
_Filled = list[tuple[Stock, list[Placed]]]


def _from_remnants(ones: list[Lying], remnants: Sequence[Remnant], gap: float) -> tuple[_Filled, list[Lying]]:
    """What remnants take in, the smallest first; a remnant that takes in nothing stays on the shelf."""
    filled: _Filled = []
    for remnant in sorted(remnants, key=lambda one: _shape(one.rings).area):
        placed, ones = _put_in(_shape(remnant.rings), ones, gap)
        if placed:
            filled.append((Stock("remnant", remnant.id, remnant.rings), placed))
    return filled, ones


def _on_roll(
    pieces: Sequence[Cut], fixed: _Filled, rest: list[Lying], roll: Roll, seconds: float, seed: int
) -> Iterator[Layout]:
    copies: dict[str, int] = {}
    for one in rest:
        copies[one.id] = copies.get(one.id, 0) + 1
    wanted = [replace(piece, quantity=copies[piece.id]) for piece in pieces if piece.id in copies]
    if not wanted:
        yield _as_layout(fixed, (), 0.0)
        return
    for found in nesting(wanted, roll, seconds, seed):
        placed = [(one.id, Polygon(one.outline_mm)) for one in found.placements]
        strip = box(0, 0, found.length_mm, roll.width_mm)
        on_roll: _Filled = [(Stock("roll", "", _rings(strip)), placed)] if placed else []
        yield _as_layout([*fixed, *on_roll], found.oversize, found.length_mm)


def _on_sheets(fixed: _Filled, rest: list[Lying], sheets: Sheets, seed: int) -> Iterator[Layout]:
    whole = box(0, 0, sheets.length_mm, sheets.width_mm)
    fit = [one for one in rest if _put_in(whole, [one], 0.0)[0]]
    fits = {one.id for one in fit}
    oversize = tuple(dict.fromkeys(one.id for one in rest if one.id not in fits))
    dice, best, order = random.Random(seed), None, list(fit)
    best_order = order
    while True:
        filled = _sheet_after_sheet(order, whole, sheets.gap_mm)
        run = max((shape.bounds[2] for _, shape in filled[-1][1]), default=0.0) if filled else 0.0
        found = _as_layout([*fixed, *filled], oversize, run)
        if best is None or (found.sheets, found.run_mm) < (best.sheets, best.run_mm - _SLACK_MM):
            best, best_order = found, order
        yield best
        if len(fit) < 2:
            return
        order = list(best_order)
        for _ in range(dice.randint(1, 3)):
            a, b = dice.sample(range(len(order)), 2)
            order[a], order[b] = order[b], order[a]


def _sheet_after_sheet(order: Sequence[Lying], whole: Polygon, gap: float) -> _Filled:
    filled: _Filled = []
    left = list(order)
    while left and len(filled) < MOST_SHEETS:
        placed, left = _put_in(whole, left, gap)
        filled.append((Stock("sheet", str(len(filled) + 1), _rings(whole)), placed))
    between("sheets", len(filled) + bool(left), 0, MOST_SHEETS, name="the number of sheets")
    return filled


def _put_in(stock: BaseGeometry, ones: Sequence[Lying], gap: float) -> tuple[list[Placed], list[Lying]]:
    """What of some pieces goes into one stock, in their order, and what does not."""
    free: BaseGeometry = stock.buffer(_SLACK_MM, join_style="mitre")
    placed, rest = list[Placed](), list[Lying]()
    for one in ones:
        around = _round(one.shape)
        found = _place(free, around, one.turns) if one.shape.area <= free.area else None
        if found is None:
            rest.append(one)
            continue
        (turn, across, up), taken = found
        lies = one.shape if turn == 0 else rotate(one.shape, turn, origin=(0, 0))
        placed.append((one.id, translate(lies, across, up)))
        free = difference(free, taken.buffer(gap - _SLACK_MM, join_style="mitre") if gap > _SLACK_MM else taken)
    return placed, rest


def _round(shape: Polygon) -> Polygon:
    """An outline of few corners round one of many: curves are laid out by it, corner to corner."""
    if len(shape.exterior.coords) <= _FEW_CORNERS + 1:
        return shape
    outer = Polygon(shape.exterior)
    wider = outer.buffer(_ROUND_MM + 0.02, join_style="mitre").simplify(_ROUND_MM)
    if not isinstance(wider, Polygon):
        return shape
    # As fine as moves are: else it comes to lie a hair's breadth over an edge.
    wider = Polygon(np.round(get_coordinates(wider.exterior), 2))
    return wider if wider.is_valid and contains(wider, outer) else shape


#: How a piece is turned [°] and moved [mm].
_Move = tuple[float, float, float]


def _place(free: BaseGeometry, piece: Polygon, turns: Sequence[float]) -> tuple[_Move, Polygon] | None:
    """Where a piece fits into what is free, nearest its end, then its lower edge; None where it fits nowhere."""
    left, low, right, high = free.bounds
    corners = get_coordinates(free)
    # What only touches an edge is inside, however it was rounded.
    free = free.buffer(_TOUCH_MM, join_style="mitre")
    prepare(free)
    best: tuple[tuple[float, float], _Move, Polygon] | None = None
    for turn in turns:
        shape = rotate(piece, turn, origin=(0, 0))
        x0, y0, x1, y1 = shape.bounds
        if x1 - x0 > right - left + _SLACK_MM or y1 - y0 > high - low + _SLACK_MM:
            continue
        ring = get_coordinates(shape.exterior)
        # A corner of the piece comes to a corner of what is free, or its box to the edges there.
        mine = np.concatenate((ring[:-1], [[x0, y0], [x0, y1], [x1, y0], [x1, y1]]))
        moves = (corners[:, None, :] - mine[None, :, :]).reshape(-1, 2)
        inside = (
            (moves[:, 0] + x0 >= left - _SLACK_MM)
            & (moves[:, 0] + x1 <= right + _SLACK_MM)
            & (moves[:, 1] + y0 >= low - _SLACK_MM)
            & (moves[:, 1] + y1 <= high + _SLACK_MM)
        )
        moves = np.unique(np.round(moves[inside], 3), axis=0)
        for at in range(0, len(moves), _AT_ONCE):  # sorted by how far from its end
            some = moves[at : at + _AT_ONCE]
            if best is not None and (some[0, 0] + x1, some[0, 1] + y1) >= best[0]:
                break
            shapes = np.asarray(polygons(ring + some[:, None, :]))
            fits = np.flatnonzero(contains(free, shapes))
            if len(fits):
                found = shapes[fits[0]]
                reach = (found.bounds[2], found.bounds[3])
                if best is None or reach < best[0]:
                    dx, dy = some[fits[0]]
                    best = (reach, (turn, float(dx), float(dy)), found)
                break
    return best[1:] if best is not None else None


def _as_layout(filled: _Filled, oversize: tuple[str, ...], run_mm: float) -> Layout:
    """Copies are counted through all stocks."""
    everywhere = [(n, key, shape) for n, (_, placed) in enumerate(filled) for key, shape in placed]
    found = numbered([(key, shape) for _, key, shape in everywhere])
    laid = tuple(Laid(one.id, one.copy, n, one.outline_mm) for one, (n, _, _) in zip(found, everywhere, strict=True))
    return Layout(tuple(stock for stock, _ in filled), laid, oversize, round(run_mm, 3))


def left_over(stock: Stock, laid: Sequence[Laid], gap_mm: float) -> tuple[Rings, ...]:
    """What is left of a stock once its pieces are cut out, without what is too narrow or too small to be kept.

    >>> board = Stock("sheet", "1", (((0, 0), (1000, 0), (1000, 500), (0, 500)),))
    >>> half = Laid("a", 1, 0, ((0, 0), (400, 0), (400, 500), (0, 500)))
    >>> [round(area_mm2(rings)) for rings in left_over(board, [half], 10)]
    [295000]
    """
    gone = union_all([Polygon(one.outline_mm).buffer(gap_mm, join_style="mitre") for one in laid])
    left = difference(_shape(stock.rings), gone)
    half = NARROWEST_MM / 2
    wide = left.buffer(-half).buffer(half, join_style="mitre", mitre_limit=1.5).intersection(left)
    return tuple(_rings(one) for one in polygons_of(wide.simplify(1.0)) if one.area >= SMALLEST_MM2)


def area_mm2(rings: Rings) -> float:
    """The area inside rings [mm²]."""
    return float(_shape(rings).area)


def _shape(rings: Rings) -> Polygon:
    return Polygon(rings[0], rings[1:])


def _rings(shape: Polygon) -> Rings:
    return tuple(
        tuple((round(float(x), 3), round(float(y), 3)) for x, y in ring.coords[:-1])
        for ring in (shape.exterior, *shape.interiors)
    )
