"""A side of a part laid flat → places on it, areas of any piece of it, and the way back to its drawing.

Laid flat, x runs from root to tip along the true length square to the ribs and y toward the leading edge along the
girth; metres. Cloth that is draped lies so within what it gives by itself. Straight between stations is straight here.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely import area, get_coordinates, intersection, segmentize, set_coordinates, union_all
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.flat import Flat, Shape, Strips
from kiteloom.core.shape.loft import Hand, Loft, Ring, Station, along_chord, mirrored
from kiteloom.core.shape.outline import Place
from kiteloom.core.shape.section import Floats, Side, arc_lengths

#: Places along the chord at which a side is laid flat; where its sections have fewer points, those too.
_ACROSS = 241
#: Bands along the chord, and strips along the span of a bay, by which its skin's own area is kept.
_BANDS, _STRIPS = 24, 8
#: Skin that is laid flat this true needs no correction [-].
_TRUE = 1e-5
#: Places along a flat outline at which its depth is taken.
_SLICES = 200
#: How tight a side curves is taken over so much to either side: tighter than that is an edge, no curve [m].
_WINDOW_M = 0.015
#: Lines are bent on their way back to the drawing no coarser than this [m].
_BEND_M = 0.05


@dataclass(frozen=True, eq=False)
class Skin:
    """One side of a part laid flat.

    Parameters
    ----------
    at_m, x_m : array (n,)
        Places along the span as the part's shape counts them, and where they lie [m]; both grow.
    across : array (m,)
        Shares of the chord, 0 at the leading edge and 1 at the trailing one.
    y_m : array (n, m)
        Where those lie at each place along the span [m]; they fall from the leading edge on.
    whole : Polygon or MultiPolygon
        All of it.
    lead_m, chord_m : array (n,)
        Where its leading edge lies aft on the drawing, and its chord there [m].
    patches, factor : array of Polygon, array
        Pieces whose true area is not their flat one, and true ÷ flat of each.
    bend : array (n, m) or None
        How tight it curves across the chord at those places [1/m]; None where it is flat.
    """

    at_m: Floats
    x_m: Floats
    across: Floats
    y_m: Floats
    whole: BaseGeometry
    lead_m: Floats
    chord_m: Floats
    patches: tuple[BaseGeometry, ...] = ()
    factor: tuple[float, ...] = ()
    bend: Floats | None = None

    def bend_at(self, at_m: float) -> tuple[Floats, Floats]:
        """How tight it curves across the chord at a place along the span [1/m], and the girth up to there [m].

        >>> skin = skin_of(PLANK, "upper")
        >>> bend, girth = skin.bend_at(2.0)
        >>> round(float(girth[-1]), 3), round(float(np.interp(0.5, skin.across, bend)), 1)
        (1.02, 0.2)
        """
        n, t = _between(self.at_m, np.array([at_m]))
        near, far = int(n[0]), int(n[0]) + 1
        girth = -(self.y_m[near] * (1 - t) + self.y_m[far] * t)
        bend = np.zeros_like(girth) if self.bend is None else self.bend[near] * (1 - t) + self.bend[far] * t
        return bend, girth - girth[0]

    def area_of(self, piece: BaseGeometry) -> float:
        """The true area of a piece laid flat [m²].

        >>> skin = skin_of(PLANK, "upper")
        >>> round(skin.area_of(skin.whole), 3), round(PLANK.skin_area_m2("upper"), 3)
        (4.079, 4.079)
        """
        return _true_area(self, piece)

    def between(self, from_m: float, to_m: float, lead: float = 0.0, tail: float = 1.0) -> BaseGeometry:
        """From one place along the span to another, between two shares of the chord.

        >>> skin = skin_of(PLANK, "lower")
        >>> round(skin.between(1, 2).area, 3), round(skin.between(0, 4, 0, 0.5).area, 3)
        (1.02, 2.067)
        """
        inner = self.at_m[(self.at_m > from_m) & (self.at_m < to_m)]
        at = np.array([from_m, *inner, to_m])
        there = [self.place(at, np.full(len(at), share)) for share in (lead, tail)]
        ring = np.concatenate((there[0], there[1][::-1]))
        return intersection(Polygon(ring).buffer(0), self.whole)

    def place(self, at_m: Floats, share: Floats) -> Floats:
        """Places by the span and the share of the chord there, laid flat: (k,), (k,) → (k, 2) [m]."""
        n, t = _between(self.at_m, at_m)
        x = self.x_m[n] * (1 - t) + self.x_m[n + 1] * t
        m, part = _between(self.across, np.asarray(share, dtype=float))
        near, far = (self.y_m[rows, m] * (1 - part) + self.y_m[rows, m + 1] * part for rows in (n, n + 1))
        return np.column_stack((x, near * (1 - t) + far * t))

    def found(self, places: Floats) -> Floats:
        """Places laid flat by the span and the share of the chord: (k, 2) [m] → (k, 2) [m, -]."""
        n, t = _between(self.x_m, places[:, 0])
        t = np.clip(t, 0, 1)
        at = self.at_m[n] * (1 - t) + self.at_m[n + 1] * t
        # Down from the leading edge on: where each place lies between two shares of the chord there.
        down = -(self.y_m[n] * (1 - t)[:, None] + self.y_m[n + 1] * t[:, None])
        wanted = -places[:, 1]
        m = np.clip((down <= wanted[:, None]).sum(axis=1) - 1, 0, len(self.across) - 2)
        row = np.arange(len(m))
        step = down[row, m + 1] - down[row, m]
        part = np.clip((wanted - down[row, m]) / np.where(step > 0, step, 1.0), 0, 1)
        share = self.across[m] * (1 - part) + self.across[m + 1] * part
        return np.column_stack((at, share))

    def edges_at(self, at_m: float) -> tuple[float, float]:
        """Where the leading edge lies aft on the drawing at a place along the span, and the chord there [m].

        >>> skin_of(PLANK, "upper").edges_at(2.0)
        (0.0, 1.0)
        """
        lead, chord = (float(np.interp(at_m, self.at_m, line)) for line in (self.lead_m, self.chord_m))
        return lead, chord

    def point(self, at_m: float, share: float, hand: Hand) -> tuple[float, float]:
        """A place by the span and the share of the chord, on the part's drawing (to the side, aft) [m].

        >>> skin_of(PLANK, "upper").point(2.0, 0.25, "right")
        (2.0, 0.25)
        """
        lead, chord = self.edges_at(at_m)
        return (mirrored(-at_m, hand), lead + share * chord)

    def drawn(self, piece: BaseGeometry, hand: Hand) -> tuple[Ring, ...]:
        """A piece as its rings lie on the part's drawing (to the side, aft) [m]."""
        if piece.is_empty:
            return ()
        bent = segmentize(piece, _BEND_M)
        back = self.found(get_coordinates(bent))
        lead, chord = (np.interp(back[:, 0], self.at_m, line) for line in (self.lead_m, self.chord_m))
        plan = set_coordinates(bent, np.column_stack((back[:, 0], lead + back[:, 1] * chord)))
        return tuple(
            tuple((mirrored(-float(x), hand), float(y)) for x, y in ring.coords[:-1])
            for polygon in polygons_of(plan)
            for ring in (polygon.exterior, *polygon.interiors)
        )


def _between(grid: Floats, value: Floats) -> tuple[NDArray[np.intp], Floats]:
    """Between which two of a growing row values lie, and how far from the one to the other."""
    n = np.clip(np.searchsorted(grid, value, side="right") - 1, 0, len(grid) - 2)
    return n, (value - grid[n]) / (grid[n + 1] - grid[n])


@lru_cache(maxsize=2000)
def _true_area(skin: Skin, piece: BaseGeometry) -> float:
    flat = float(piece.area)
    if not skin.patches or piece.is_empty:
        return flat
    shared = area(intersection(piece, np.array(skin.patches, dtype=object)))
    return flat + float(np.sum(shared * (np.array(skin.factor) - 1)))


def polygons_of(piece: BaseGeometry) -> tuple[Polygon, ...]:
    """The polygons a geometry is made of; lines and points it touches are left out.

    >>> from shapely import MultiPolygon, box
    >>> len(polygons_of(MultiPolygon([box(0, 0, 1, 1), box(2, 0, 3, 1)])))
    2
    """
    if isinstance(piece, Polygon):
        return () if piece.is_empty else (piece,)
    return tuple(one for part in getattr(piece, "geoms", ()) for one in polygons_of(part))


@lru_cache(maxsize=200)
def skin_of(form: Shape, side: Side) -> Skin:
    """A side of a part laid flat.

    Raises
    ------
    Refused
        For like pieces, that have no one surface.

    >>> from kiteloom.core.shape.flat import StripAt
    >>> skin_of(Strips((StripAt(0, 1.2), StripAt(0.5, 0.8))), "upper").whole.area
    0.5
    """
    if isinstance(form, Loft):
        return _of_loft(form, side)
    if isinstance(form, Strips):
        return _of_strips(form)
    if isinstance(form, Flat):
        return _of_outline(form)
    raise Refused("shape", f"its shape is like pieces ({form.count} of them); zones lie on one surface")


def _of_strips(form: Strips) -> Skin:
    half = np.array([row.across_m for row in form.strips]) * (0.5 if form.measured == "all round" else 1.0) / 2
    at = np.array([row.at_m for row in form.strips])
    return Skin(at, at, np.array([0.0, 1.0]), np.column_stack((half, -half)), _polygon(form.rings()), -half, 2 * half)


def _of_outline(form: Flat) -> Skin:
    whole = union_all(
        [
            Polygon(*_metres(one.outer, one.holes))
            for one in form.outlines
        ]
    )  # fmt: skip
    left, low, right, high = whole.bounds
    corners = get_coordinates(whole)[:, 0]
    at = np.unique(np.concatenate((np.linspace(left, right, _SLICES), corners if len(corners) < _SLICES else [])))
    at = at[np.concatenate(([True], np.diff(at) > 1e-9))]
    slices = intersection(np.array([LineString([(x, low - 1), (x, high + 1)]) for x in at]), whole)
    depth = np.array([one.bounds if not one.is_empty else (x, 0, x, 0) for one, x in zip(slices, at, strict=True)])
    return Skin(
        at, at, np.array([0.0, 1.0]), depth[:, [3, 1]], whole, -depth[:, 3], np.maximum(depth[:, 3] - depth[:, 1], 1e-9)
    )


def _metres(outer: tuple[Place, ...], holes: tuple[tuple[Place, ...], ...]) -> tuple[Floats, list[Floats]]:
    return np.array(outer) / 1000, [np.array(hole) / 1000 for hole in holes]


def _of_loft(form: Loft, side: Side) -> Skin:
    stations = form.stations
    sides = [row.section.side(side) for row in stations]
    along = [along_chord(points) for points in sides]
    across: Floats = np.unique(np.round(np.concatenate(along), 9))
    if len(across) > 3 * _ACROSS:
        across = np.asarray((1 - np.cos(np.linspace(0, np.pi, _ACROSS))) / 2)
    girth = np.array(
        [
            row.chord_m * np.interp(across, share, arc_lengths(points))
            for row, share, points in zip(stations, along, sides, strict=True)
        ]
    )
    lead, chord = np.array([row.leading_edge_m for row in stations]), np.array([row.chord_m for row in stations])
    y = -lead[:, None] - girth
    at, x = np.array([row.at_m for row in stations]), [0.0]
    patches: list[BaseGeometry] = []
    factor: list[float] = []
    points = [
        np.column_stack([np.interp(across, s, p[:, i]) for i in (0, 1)]) for s, p in zip(along, sides, strict=True)
    ]
    for n, (a, b) in enumerate(pairwise(range(len(stations)))):
        true, cells = _bay(stations[a], stations[b], points[a], points[b], across)
        mean = (girth[a, -1] + girth[b, -1]) / 2
        x.append(x[-1] + true.sum() / mean)
        for (row, band), real in np.ndenumerate(true):
            corners = _cell(
                x[n], x[n + 1], y[a], y[b], row / len(true), (row + 1) / len(true), cells[band], cells[band + 1]
            )
            cell = Polygon(corners)
            if cell.area > 0 and abs(real / cell.area - 1) > _TRUE:
                patches.append(cell.buffer(0))
                factor.append(float(real / cell.area))
    found = np.array(x)
    bend = np.array([_bend(row.chord_m * line, lies) for row, line, lies in zip(stations, points, girth, strict=True)])
    return Skin(at, found, across, y, _polygon_of_rows(found, y), lead, chord, tuple(patches), tuple(factor), bend)


def _bend(points: Floats, girth: Floats) -> Floats:
    """How tight a line curves at its points: through each and those a window to either side of it [1/m]."""
    if girth[-1] <= 2 * _WINDOW_M:
        return np.zeros(len(girth))
    middle = np.clip(girth, _WINDOW_M, girth[-1] - _WINDOW_M)
    a, b, c = (
        np.column_stack([np.interp(middle + by, girth, points[:, i]) for i in (0, 1)])
        for by in (-_WINDOW_M, 0.0, _WINDOW_M)
    )
    one, two, all_ = b - a, c - b, c - a
    twice = np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0])
    sides = np.linalg.norm(one, axis=1) * np.linalg.norm(two, axis=1) * np.linalg.norm(all_, axis=1)
    return np.asarray(2 * twice / np.where(sides > 0, sides, 1.0))


def _bay(a: Station, b: Station, root: Floats, tip: Floats, across: Floats) -> tuple[Floats, list[int]]:
    """The true area of a bay by strips and bands [m²], and where along the chord its bands end."""
    share = np.linspace(0, 1, _STRIPS + 1)[:, None, None]
    grid = a.placed(root)[None] * (1 - share) + b.placed(tip)[None] * share
    one, two, three, four = grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]
    first = np.linalg.norm(np.cross(two - one, three - one), axis=-1)
    second = np.linalg.norm(np.cross(three - one, four - one), axis=-1)
    fine = (first + second) / 2
    cells = sorted({round(n) for n in np.linspace(0, len(across) - 1, min(_BANDS, len(across) - 1) + 1)})
    return np.add.reduceat(fine, cells[:-1], axis=1), cells


def _cell(
    x0: float, x1: float, root: Floats, tip: Floats, from_t: float, to_t: float, lead: int, tail: int
) -> list[tuple[float, float]]:
    """The corners of a piece of a bay, laid flat."""

    def corner(t: float, band: int) -> tuple[float, float]:
        return x0 * (1 - t) + x1 * t, float(root[band] * (1 - t) + tip[band] * t)

    return [corner(from_t, lead), corner(to_t, lead), corner(to_t, tail), corner(from_t, tail)]


def _polygon_of_rows(x: Floats, y: Floats) -> BaseGeometry:
    ring = np.concatenate((np.column_stack((x, y[:, 0])), np.column_stack((x, y[:, -1]))[::-1]))
    return Polygon(ring).buffer(0)


def _polygon(rings: tuple[Ring, ...]) -> BaseGeometry:
    return Polygon(rings[0]).buffer(0)
