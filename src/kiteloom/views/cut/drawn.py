"""A layout as it is drawn: what is cut from, and each piece where it lies with its corners and its name."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from string import ascii_uppercase
from typing import Any

from shapely import maximum_inscribed_circle
from shapely.geometry import Polygon

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.layout import Laid, Layout
from kiteloom.store.models import CutLayout

Ring = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class CornerView:
    """A corner of a piece: its letter, and where it lies from the end of its stock and from its lower edge."""

    name: str
    x_mm: float
    y_mm: float
    along: str
    across: str


@dataclass(frozen=True)
class PieceView:
    """One copy of a piece where it lies: what is written on it, its outline [mm], which way its tip points [°]."""

    key: str
    code: str
    part_id: str
    part: str
    job: str | None
    ply: int
    outline_mm: Ring
    middle_mm: tuple[float, float]
    room_mm: float
    """How far from there its edge is, at least."""
    reach_mm: float
    """How far it goes from there along the roll, to its nearer end."""
    tip_deg: float
    size: str
    cut: bool
    corners: list[CornerView]
    """None where it is bounded by a curve: too many to be measured."""


@dataclass(frozen=True)
class StockView:
    """What pieces are cut from, with its edges [mm] and how large it is in words."""

    kind: str
    name: str
    size: str
    rings: tuple[Ring, ...]
    length_mm: float
    width_mm: float
    pieces: list[PieceView]


def drawn_stocks(layout: Layout, kept: CutLayout, done: set[str], units: UnitSystem) -> list[StockView]:
    """What a layout is cut from, in its order, each with its pieces; ``done`` holds the keys of those that are cut."""
    pieces = {piece["key"]: piece for piece in kept.pieces}
    found = []
    sheets_seen = remnants_seen = 0
    for n, stock in enumerate(layout.stocks):
        xs, ys = zip(*stock.rings[0], strict=True)
        length, width = max(xs) - min(xs), max(ys) - min(ys)
        sheets_seen += stock.kind == "sheet"
        remnants_seen += stock.kind == "remnant"
        number = {"roll": "", "sheet": f" {sheets_seen}", "remnant": f" {remnants_seen}"}[stock.kind]
        size = f"{show(length / 1000, 'length', units)} × {show(width / 1000, 'length', units)}"
        found.append(
            StockView(
                stock.kind,
                f"{stock.kind.capitalize()}{number}",
                size,
                stock.rings,
                length,
                width,
                [_piece(one, pieces[one.id], done, units, (min(xs), min(ys))) for one in layout.laid if one.stock == n],
            )
        )
    return found


def _piece(
    one: Laid, piece: Mapping[str, Any], done: set[str], units: UnitSystem, base: tuple[float, float]
) -> PieceView:
    outline = one.outline_mm
    xs, ys = zip(*outline, strict=True)
    key = f"{one.id}#{one.copy}"
    code = piece["code"] + (f" · {one.copy}" if piece["quantity"] > 1 else "")
    size = f"{show((max(xs) - min(xs)) / 1000, 'length', units)} × {show((max(ys) - min(ys)) / 1000, 'length', units)}"
    middle, room = _middle(outline)
    return PieceView(
        key,
        code,
        piece["part_id"],
        piece["part"],
        piece["job"],
        piece["ply"],
        outline,
        middle,
        room,
        round(min(middle[0] - min(xs), max(xs) - middle[0]), 1),
        _turned(piece["outline_mm"], outline),
        size,
        key in done,
        corners_of(outline, base, units),
    )


#: A piece with more corners is bounded by a curve.
MOST_CORNERS = 12


def corners_of(outline: Ring, base: tuple[float, float], units: UnitSystem) -> list[CornerView]:
    """The corners of a piece, lettered in order; none where there are too many to be measured."""
    if len(outline) > MOST_CORNERS:
        return []
    return [
        CornerView(
            ascii_uppercase[n],
            x,
            y,
            show(x - base[0], "step", units),
            show(y - base[1], "step", units),
        )
        for n, (x, y) in enumerate(outline)
    ]


def _turned(before: Any, after: Ring) -> float:
    """By how much an outline was turned when it was laid down [°]: the direction from root to tip there."""
    (ax, ay), (bx, by) = before[0], before[1]
    (cx, cy), (dx, dy) = after[0], after[1]
    turn = math.degrees(math.atan2(dy - cy, dx - cx) - math.atan2(by - ay, bx - ax))
    return round(turn % 360, 2)


def _middle(outline: Ring) -> tuple[tuple[float, float], float]:
    """A place inside a piece, far from its edges, where its name is written, and how far they are [mm]."""
    spoke = maximum_inscribed_circle(Polygon(outline), tolerance=5)
    x, y = spoke.coords[0]
    return (round(float(x), 1), round(float(y), 1)), round(float(spoke.length), 1)
