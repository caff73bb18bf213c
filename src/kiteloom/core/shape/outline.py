"""Lines and loops → outlines with their holes, areas and lengths.

Lines come in any order and direction; ends that nearly meet are joined. What does not close, or crosses, is named with
its place. Lengths are in millimetres here: it is what drawings are made in.
"""

from __future__ import annotations

import math
import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.spatial import cKDTree
from shapely import STRtree, is_valid_reason
from shapely.geometry import LinearRing, Polygon

from kiteloom.core.base.problems import Refused, plain
from kiteloom.core.base.quantities import parse
from kiteloom.core.shape.section import Floats

#: A place or a corner: x, y [mm].
Place = tuple[float, float]
Line = Sequence[Place]

#: Ends no farther apart than this are one [mm].
JOIN_MM = 0.05
#: Ends no farther apart than this were meant to be the same [mm].
_SAME_MM = 1e-4
#: Curves are drawn as lines that stray no farther from them [mm].
STRAY_MM = 0.02
#: More corners than this are a scan, not an outline.
MOST_CORNERS = 200_000
#: Nothing larger is built [mm].
LARGEST_MM = 100_000.0

TWICE = "a loop drawn twice was taken once"


@dataclass(frozen=True)
class Outline:
    """One piece seen flat: its outer edge and its holes; each closes by itself [mm]."""

    outer: tuple[Place, ...]
    holes: tuple[tuple[Place, ...], ...] = ()

    @property
    def area_mm2(self) -> float:
        """Its area without its holes [mm²].

        >>> square, hole = ((0, 0), (10, 0), (10, 10), (0, 10)), ((2, 2), (4, 2), (4, 4), (2, 4))
        >>> Outline(square, (hole,)).area_mm2
        96.0
        """
        return abs(_area(self.outer)) - sum(abs(_area(hole)) for hole in self.holes)

    @property
    def edge_mm(self) -> float:
        """The length of its edges, those of its holes too [mm].

        >>> Outline(((0, 0), (3, 0), (3, 4))).edge_mm
        12.0
        """
        return sum(math.dist(a, b) for ring in (self.outer, *self.holes) for a, b in pairwise((*ring, ring[0])))


class NoOutline(Refused):
    """Lines that make no outline: why, and the places where it fails, to be shown on their drawing."""

    def __init__(self, sentence: str, places: Sequence[Place], lines: Sequence[Line]) -> None:
        super().__init__("outline", sentence)
        self.places, self.lines = tuple(places), tuple(tuple(line) for line in lines)


def loops_of(lines: Iterable[Line]) -> tuple[list[tuple[Place, ...]], list[str]]:
    """Closed loops from lines in any order and direction, and what was assumed.

    Raises
    ------
    NoOutline
        With the place and the size of the gap, where a loop does not close.

    >>> loops_of([[(0, 0), (10, 0)], [(0, 10), (0, 0)], [(10, 0.01), (0, 10)]])[0]
    [((0.0, 0.0), (10.0, 0.01), (0.0, 10.0))]
    """
    kept, assumed = _once(lines)
    loops = [line[:-1] for line in kept if len(line) > 3 and math.dist(line[0], line[-1]) <= JOIN_MM]
    pieces = [line for line in kept if not (len(line) > 3 and math.dist(line[0], line[-1]) <= JOIN_MM)]
    if not pieces:
        return loops, assumed
    ends = np.array([end for line in pieces for end in (line[0], line[-1])])
    node = _one_place(ends)
    meet: dict[int, list[int]] = defaultdict(list)
    for end, at in enumerate(node):
        meet[at].append(end)
    loose = [ends_here[0] for ends_here in meet.values() if len(ends_here) % 2]
    if loose:
        raise _open(ends[loose], [*loops, *pieces])
    used = [False] * len(pieces)
    for first in range(len(pieces)):
        if not used[first]:
            loops += _walk(first, pieces, node, meet, used)
    return loops, assumed


def _once(lines: Iterable[Line]) -> tuple[list[tuple[Place, ...]], list[str]]:
    """Lines without points that repeat and without those drawn twice."""
    kept: dict[frozenset[tuple[float, float]] | tuple[Place, ...], tuple[Place, ...]] = {}
    twice = False
    for line in lines:
        clean = [(float(x), float(y)) for x, y in line[:1]]
        for x, y in line[1:]:
            if (x, y) != clean[-1]:
                clean.append((float(x), float(y)))
        if len(clean) < 2 or (len(clean) == 2 and math.dist(*clean) <= JOIN_MM / 1000):
            continue
        rounded = tuple((round(x, 3), round(y, 3)) for x, y in clean)
        key = min(rounded, rounded[::-1])
        twice = twice or key in kept
        kept.setdefault(key, tuple(clean))
    return list(kept.values()), ["a line drawn twice was taken once"] if twice else []


def _one_place(ends: Floats) -> list[int]:
    """For each end the number of its place.

    Ends that are the same share one, and so do the nearest two of those that met no other within `JOIN_MM`: lines
    shorter than that are not drawn together.
    """
    root = list(range(len(ends)))

    def find(n: int) -> int:
        while root[n] != n:
            root[n] = root[root[n]]
            n = root[n]
        return n

    for a, b in cKDTree(ends).query_pairs(_SAME_MM):
        root[find(a)] = find(b)
    alone = [at for at, count in Counter(find(n) for n in range(len(ends))).items() if count % 2]
    if len(alone) > 1:
        places = ends[alone]
        near = cKDTree(places).query_pairs(JOIN_MM, output_type="ndarray")
        apart = np.linalg.norm(places[near[:, 0]] - places[near[:, 1]], axis=1)
        met: set[int] = set()
        for a, b in near[np.argsort(apart)].tolist():
            if a not in met and b not in met:
                met |= {a, b}
                root[find(alone[a])] = find(alone[b])
    return [find(n) for n in range(len(ends))]


def _open(loose: Floats, lines: Sequence[Line]) -> NoOutline:
    """Where it does not close, and how far apart its loose ends are."""
    places = [(float(x), float(y)) for x, y in loose]
    if len(places) < 2:
        return NoOutline(f"the outline does not close at {_said(places[0])}", places, lines)
    away, nearest = (np.asarray(found)[:, 1] for found in cKDTree(loose).query(loose, k=2))
    n = int(np.argmin(away))
    other = places[int(nearest[n])]
    more = len(places) // 2 - 1
    gap = plain(round(float(away[n]), 3))
    tail = f"; and at {more} more place{'s' if more > 1 else ''}" if more > 0 else ""
    return NoOutline(
        f"the outline does not close: from {_said(places[n])} to {_said(other)} it is {gap} mm open, "
        f"and up to {JOIN_MM} mm is joined{tail}",
        places,
        lines,
    )


def _walk(
    first: int, pieces: list[tuple[Place, ...]], node: list[int], meet: dict[int, list[int]], used: list[bool]
) -> list[tuple[Place, ...]]:
    """The loops that are met from one piece on; where the way comes back to a place, a loop is cut off."""
    loops: list[tuple[Place, ...]] = []
    way: list[tuple[int, tuple[Place, ...]]] = []  # the place each piece starts from, and its points
    rank: dict[int, int] = {}  # where on the way a place was left
    end = 2 * first
    while True:
        piece = end // 2
        used[piece] = True
        points = pieces[piece] if end % 2 == 0 else pieces[piece][::-1]
        rank[node[end]] = len(way)
        way.append((node[end], points))
        here = node[end ^ 1]
        back = rank.get(here)
        if back is not None:
            loop = tuple(point for _, part in way[back:] for point in part[:-1])
            if len(loop) > 2:
                loops.append(loop)
            for at, _ in way[back:]:
                del rank[at]
            del way[back:]
        onward = [each for each in meet[here] if not used[each // 2]]
        if not onward:
            return loops
        end = onward[0]


def outlines_of(loops: Sequence[Line]) -> tuple[list[Outline], list[str]]:
    """Which loop is a hole in which: one in a loop is a hole, one in a hole an outline again; and what was assumed.

    Raises
    ------
    NoOutline
        Where a loop has fewer than three corners or no area, or crosses itself or another.

    >>> square, hole = [(0, 0), (10, 0), (10, 10), (0, 10)], [(2, 2), (4, 2), (4, 4), (2, 4)]
    >>> [(len(one.holes), one.area_mm2) for one in outlines_of([hole, square])[0]]
    [(1, 96.0)]
    """
    if not loops:
        raise NoOutline("there is no closed line in it; an outline has at least one", [], [])
    corners = sum(len(loop) for loop in loops)
    if corners > MOST_CORNERS:
        raise NoOutline(f"the outline has {corners} corners; at most {MOST_CORNERS} are computed with", [], [])
    shapes: list[tuple[Polygon, tuple[Place, ...]]] = []
    for n, loop in enumerate(loops, 1):
        shapes.append(_simple(n, loop, loops))
    shapes.sort(key=lambda one: -one[0].area)
    kept, twice = _no_crossing(shapes, loops)
    depth: list[int] = []
    found: dict[int, list[int]] = {}
    tree = STRtree([polygon for polygon, _ in kept])
    for n, (polygon, _) in enumerate(kept):
        # Sorted by area: what holds it comes before, the smallest of them last.
        around = [int(m) for m in tree.query(polygon, "within") if m != n and kept[m][0].area > polygon.area]
        parent = max(around, default=None)
        depth.append(len(around))
        if depth[n] % 2 == 0:
            found[n] = []
        elif parent is not None:
            found[parent].append(n)
    outlines = [Outline(kept[n][1], tuple(kept[m][1] for m in holes)) for n, holes in found.items()]
    return outlines, [TWICE] if twice else []


def _simple(n: int, loop: Line, loops: Sequence[Line]) -> tuple[Polygon, tuple[Place, ...]]:
    ring = [(float(x), float(y)) for x, y in loop]
    for x, y in ring:
        if not (abs(x) <= LARGEST_MM and abs(y) <= LARGEST_MM):
            raise NoOutline(
                f"loop {n} reaches {plain(x)}, {plain(y)} mm; at most {plain(LARGEST_MM)} mm are built", [], []
            )
    ring = [point for point, before in zip(ring, [ring[-1], *ring[:-1]], strict=True) if point != before] or ring[:1]
    if len(ring) < 3:
        raise NoOutline(f"loop {n} has {len(ring)} corners; at least 3 are wanted", ring, loops)
    polygon = Polygon(ring)
    if not polygon.is_valid:
        said = re.search(r"\[(\S+) (\S+)\]", is_valid_reason(polygon))
        places = [(float(said[1]), float(said[2]))] if said else []
        where = f" at {_said(places[0])}" if places else ""
        raise NoOutline(f"the outline crosses or touches itself{where}", places, loops)
    if not polygon.area:
        raise NoOutline(f"loop {n} has an area of 0 mm²; it must be above 0", ring[:1], loops)
    return polygon, tuple(ring)


def _no_crossing(
    shapes: list[tuple[Polygon, tuple[Place, ...]]], loops: Sequence[Line]
) -> tuple[list[tuple[Polygon, tuple[Place, ...]]], bool]:
    """Those that are left when each is taken once; refused where two cross."""
    tree, gone = STRtree([polygon for polygon, _ in shapes]), set[int]()
    for n, (polygon, ring) in enumerate(shapes):
        for m in sorted(int(m) for m in tree.query(polygon, "intersects")):
            if m <= n or m in gone or n in gone:
                continue
            other = shapes[m][0]
            if _same(polygon, other):
                gone.add(m)
            elif not (polygon.contains(other) or polygon.touches(other)):
                cut = LinearRing(ring).intersection(LinearRing(shapes[m][1]))
                at = cut.representative_point()
                place = (float(at.x), float(at.y))
                raise NoOutline(f"two loops cross at {_said(place)}", [place], loops)
    return [one for n, one in enumerate(shapes) if n not in gone], bool(gone)


def _same(one: Polygon, other: Polygon) -> bool:
    """Drawn twice: no corner of one lies farther from the other's edge than ends are joined."""
    if abs(one.area - other.area) > JOIN_MM * max(one.length, other.length):
        return False
    return bool(one.exterior.hausdorff_distance(other.exterior) <= JOIN_MM)


def _said(place: Place) -> str:
    return f"x {plain(round(place[0], 2) + 0.0)}, y {plain(round(place[1], 2) + 0.0)} mm"


def _area(ring: Sequence[Place]) -> float:
    x, y = np.array(ring, dtype=float).T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)) / 2


def typed_loops(text: str, default: str) -> list[list[Place]]:
    """Loops as somebody types them: a line a corner, x and y; an empty line begins the next loop [mm].

    Parameters
    ----------
    default : str
        The unit a bare number is meant in.

    >>> typed_loops("0, 0\\n1 m; 0\\n1 m; 20 cm", "mm")
    [[(0.0, 0.0), (1000.0, 0.0), (1000.0, 200.0)]]
    """
    loops: list[list[Place]] = [[]]
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            if loops[-1]:
                loops.append([])
            continue
        cells = [cell for cell in re.split(r"[;\t]|,\s|,(?=-)|\s{2,}", line.strip()) if cell.strip()]
        if len(cells) == 1:
            cells = line.replace(",", " ").split()
        if len(cells) != 2:
            raise Refused(
                "outline", f"line {number}: “{line.strip()[:40]}” has {len(cells)} numbers; x and y are wanted"
            )
        try:
            x, y = (1000 * parse(cell, "length", default, "outline") for cell in cells)
        except Refused as refused:
            raise Refused("outline", f"line {number}: {refused.sentence}") from None
        loops[-1].append((x, y))
    return [loop for loop in loops if loop]
