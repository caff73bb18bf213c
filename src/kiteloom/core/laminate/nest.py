"""Pieces → their places on a roll: none over another, inside its width, on its grain, as short as time allows.

First their boxes are packed, which takes no time; then the packer of outlines looks for something shorter. What it
finds is looked at apart before it is believed, and the shortest of all is taken.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from threading import Thread

import rectpack
import spyrrow
from shapely import STRtree
from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from kiteloom.core.base.problems import Refused, between

#: More pieces than this are not nested.
MOST_PIECES = 3000
#: So many are looked at together by the packer of outlines: more take it longer to place once than it has time.
_TOGETHER = 250
#: Boxes of no more pieces than this are packed by the slower, closer way too.
_FEW = 120
#: The packer of outlines computes no finer [mm].
_SLACK_MM = 0.05
#: What the packer of outlines has found is looked at so often [s].
_LOOK_S = 0.2
#: Reports of it that are layouts.
_FEASIBLE = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas)
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


def nest(pieces: Sequence[Cut], roll: Roll, seconds: float, seed: int = 1) -> Nest:
    """The shortest layout found.

    Parameters
    ----------
    seconds : float
        How long to look; 0 packs boxes only [s].

    Raises
    ------
    Refused
        For too many pieces, or an outline that is none.

    >>> strip = Cut("a", ((0, 0), (900, 0), (900, 400), (0, 400)), 0, 5)
    >>> found = nest([strip], Roll(1000, 10), 0)
    >>> found.length_mm, len(found.placements), found.oversize
    (2720.0, 5, ())
    """
    *_, best = nesting(pieces, roll, seconds, seed)
    return best


def nesting(pieces: Sequence[Cut], roll: Roll, seconds: float, seed: int = 1) -> Iterator[Nest]:
    """Layouts, each shorter than the one before; the first comes at once, the last after so many seconds or sooner.

    Raises
    ------
    Refused
        As `nest` does.
    """
    between("seconds", seconds, 0, 3600, unit="s", name="the time to look")
    lying, oversize = lying_of(pieces, roll)
    best = list(boxes(lying, roll))
    yield _as_nest(best, lying, roll, oversize)
    if seconds > 0 and _length(best) > _least(lying, roll) + _SLACK_MM:
        for found in _outlines(lying, roll, seconds, seed):
            if _length(found) < _length(best) - _SLACK_MM and sound(found, roll):
                best = found
                yield _as_nest(best, lying, roll, oversize)


def _as_nest(placed: Sequence[Placed], lying: Sequence[Lying], roll: Roll, oversize: tuple[str, ...]) -> Nest:
    length = _length(placed)
    area = sum(one.shape.area * one.copies for one in lying)
    used = 100 * area / (length * roll.width_mm) if length else 0.0
    return Nest(length, used, tuple(numbered(placed)), oversize)


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


def sound(placed: Sequence[Placed], roll: Roll) -> bool:
    """Whether no piece lies over another or over an edge of the roll, and the gap is kept.

    >>> square = Polygon([(0, 0), (10, 0), (10, 10), (0, 10)])
    >>> sound([("a", square), ("b", translate(square, 5))], Roll(10))
    False
    """
    if any(low < -_SLACK_MM or high > roll.width_mm + _SLACK_MM for _, low, _, high in (p.bounds for _, p in placed)):
        return False
    grown = [p.buffer(max(roll.gap_mm / 2 - _SLACK_MM, 0), join_style="mitre") for _, p in placed]
    first, second = STRtree(grown).query(grown, predicate="intersects")
    return all(
        a >= b or grown[a].intersection(grown[b]).area < _TOUCH_MM2 for a, b in zip(first, second, strict=True)
    )  # fmt: skip


def _lying(piece: Cut, n: int, roll: Roll) -> Lying:
    between(f"pieces.{n}.quantity", piece.quantity, 1, MOST_PIECES, name=f"the number of “{piece.id}”")
    shape = Polygon(piece.outline_mm) if len(piece.outline_mm) > 2 else Polygon()
    if shape.is_empty or not shape.is_valid or shape.area <= 0:
        corners = len(piece.outline_mm)
        raise Refused(f"pieces.{n}.outline_mm", f"the outline of “{piece.id}” is none: its {corners} corners cross or "
                      "enclose nothing")  # fmt: skip
    shape = rotate(shape, -piece.angle_deg, origin=(0, 0))
    fits = tuple(turn for turn in roll.turns if _across(shape, turn) <= roll.width_mm + 1e-6)
    return Lying(piece.id, shape, piece.quantity, fits)


def _across(shape: Polygon, turn: float) -> float:
    left, low, right, high = shape.bounds
    return high - low if turn % 180 == 0 else right - left


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


def _outlines(lying: Sequence[Lying], roll: Roll, seconds: float, seed: int) -> Iterator[list[Placed]]:
    """Pieces as the packer of outlines places them, better and better; many are taken in groups, large ones first."""
    groups = _grouped(lying)
    count = sum(one.copies for one in lying)
    shares = [seconds * sum(one.copies for one in group) / count for group in groups]
    # A group that has no second to itself would take one all the same.
    looked_at = [share >= 1 or len(groups) == 1 for share in shares]
    found = [list(boxes(group, roll)) for group in groups]
    for n, group in enumerate(groups):
        if not looked_at[n]:
            continue
        for placed in _packed(group, roll, shares[n], seed):
            if _length(placed) < _length(found[n]):
                found[n] = placed
                yield _one_after_another(found, roll)


def _grouped(lying: Sequence[Lying]) -> list[list[Lying]]:
    ranked = sorted(lying, key=lambda one: -one.shape.area)
    so_far, groups = 0, []
    for one in ranked:
        groups.append((so_far // _TOGETHER, one))
        so_far += one.copies
    return [[one for _, one in group] for _, group in groupby(groups, key=lambda row: row[0])]


def _one_after_another(groups: Sequence[Sequence[Placed]], roll: Roll) -> list[Placed]:
    after, found = 0.0, list[Placed]()
    for group in groups:
        found += [(key, translate(shape, after)) for key, shape in group]
        after += _length(group) + roll.gap_mm
    return found


def _packed(lying: Sequence[Lying], roll: Roll, seconds: float, seed: int) -> Iterator[list[Placed]]:
    """What the packer of outlines finds, while it looks; nothing where it can't place them."""
    grow = roll.gap_mm / 2 + _SLACK_MM
    items = [
        spyrrow.Item(
            str(n),
            [(x, y) for x, y in one.shape.buffer(grow, join_style="mitre", mitre_limit=2.0).exterior.coords[:-1]],
            one.copies,
            list(one.turns),
        )
        for n, one in enumerate(lying)
    ]
    # What just fits is refused by it: the strip is a little wider than all that is asked for.
    strip = spyrrow.StripPackingInstance("roll", roll.width_mm + 2 * grow + _SLACK_MM, items)
    look = spyrrow.StripPackingConfig(total_computation_time=max(1, math.floor(seconds)), seed=seed)
    reports, last = spyrrow.ProgressQueue(), list[spyrrow.StripPackingSolution]()

    def solve() -> None:
        try:
            last.append(strip.solve(look, reports))
        except BaseException as error:  # what it can't place it says in no other way
            if type(error).__name__ != "PanicException":
                raise

    looking = Thread(target=solve, daemon=True)
    looking.start()
    while looking.is_alive():
        looking.join(_LOOK_S)
        said = [solution for kind, solution in reports.drain() if kind in _FEASIBLE]
        for solution in said[-1:]:
            yield _squared(_as_placed(solution, lying), roll)
    for solution in last:
        yield _squared(_as_placed(solution, lying), roll)


def _as_placed(solution: spyrrow.StripPackingSolution, lying: Sequence[Lying]) -> list[Placed]:
    return [
        (
            lying[int(one.id)].id,
            translate(rotate(lying[int(one.id)].shape, one.rotation, origin=(0, 0)), *one.translation),
        )
        for one in solution.placed_items
    ]


def _squared(placed: list[tuple[str, Polygon]], roll: Roll) -> list[tuple[str, Polygon]]:
    """The same begun at the roll's end, each inside its selvedges."""
    start = min(shape.bounds[0] for _, shape in placed)
    low = min(shape.bounds[1] for _, shape in placed)
    found = []
    for key, shape in placed:
        moved = translate(shape, -start, -low)
        over = max(moved.bounds[3] - roll.width_mm, 0.0)
        found.append((key, translate(moved, 0, -over) if over else moved))
    return found


def _least(lying: Sequence[Lying], roll: Roll) -> float:
    """No layout is shorter: all pieces side by side, and the longest by itself [mm]."""
    area = sum(one.shape.area * one.copies for one in lying)
    longest = max((min(_across(one.shape, turn + 90) for turn in one.turns) for one in lying), default=0.0)
    return max(area / roll.width_mm, longest)


def _length(placed: Sequence[Placed]) -> float:
    return round(max((shape.bounds[2] for _, shape in placed), default=0.0), 6)


def numbered(placed: Sequence[Placed]) -> Iterator[Placement]:
    """Pieces as placements, the copies of each counted from 1."""
    count: dict[str, int] = {}
    for key, shape in placed:
        count[key] = count.get(key, 0) + 1
        ring = tuple((round(x, 4), round(y, 4)) for x, y in shape.exterior.coords[:-1])
        yield Placement(key, count[key], ring)
