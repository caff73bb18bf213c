"""Pieces → their places on a roll: none over another, inside its width, on its grain, as short as time allows.

First their boxes are packed, which takes no time; then the packer of outlines looks for something shorter. What it
finds is looked at apart before it is believed, and the shortest of all is taken.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from threading import Thread

import numpy as np
import rectpack
import spyrrow
from shapely import STRtree, union_all
from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from kiteloom.core.base.problems import Refused, between

#: More pieces than this are not nested.
MOST_PIECES = 3000
#: So many settle best together in the packer of outlines; more than `_TOGETHER` take it longer to place once than it
#: has time.
_AT_BEST, _TOGETHER = 50, 250
#: So many groups are packed at a time.
_LANES = 2
#: Boxes of no more pieces than this are packed by the slower, closer way too.
_FEW = 120
#: The packer of outlines computes no finer [mm].
_SLACK_MM = 0.05
#: What the packer of outlines has found is looked at so often [s].
_LOOK_S = 0.4
#: Reports of it that are layouts.
_FEASIBLE = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas)
#: Strips are pushed into one another no farther [mm].
_REACH_MM = 150.0
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
    shapes = [p for _, p in placed]
    apart = roll.gap_mm - 2 * _SLACK_MM
    if apart > 0:
        first, second = STRtree(shapes).query(shapes, predicate="dwithin", distance=apart)
        return bool(np.all(first == second))
    first, second = STRtree(shapes).query(shapes, predicate="intersects")
    return all(
        a >= b or shapes[a].intersection(shapes[b]).area < _TOUCH_MM2 for a, b in zip(first, second, strict=True)
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
    """Pieces as the packer of outlines places them, better and better.

    Many are taken in groups of large and small, each packed as a strip of its own: a few dozen settle far closer in the
    time there is than all at once, which is more than the ends of the strips cost. Two are packed at a time; a group by
    itself twice, with another beginning.
    """
    count = sum(one.copies for one in lying)
    # Whole rounds: no lane stands still while another has a group more.
    rounds = min(round(count / _AT_BEST / _LANES), max(1, math.floor(seconds)))
    groups = _mixed(lying, max(1, rounds * _LANES))
    # Too many for the time there is are left to their boxes.
    fit = [n for n, group in enumerate(groups) if sum(one.copies for one in group) <= _TOGETHER]
    wanted = fit if len(groups) > 1 else fit * _LANES
    share = seconds / math.ceil(len(wanted) / _LANES) if wanted else 0.0
    tries = [_Try(groups[n], roll, share, seed + i // len(groups)) for i, n in enumerate(wanted)]
    lanes = [Thread(target=_one_by_one, args=(tries[lane::_LANES],), daemon=True) for lane in range(_LANES)]
    for lane in lanes:
        lane.start()
    found = [[] if n in fit else list(boxes(group, roll)) for n, group in enumerate(groups)]
    going = True
    while going:
        lanes[0].join(_LOOK_S)
        if not lanes[0].is_alive():
            lanes[1].join(_LOOK_S)
        going = any(lane.is_alive() for lane in lanes)
        better = False
        for n, one in zip(wanted, tries, strict=True):
            placed = one.newest()
            if placed is not None and (not found[n] or _length(placed) < _length(found[n])):
                found[n], better = placed, True
        if not going and not all(found):
            # Of some it could place nothing: they stay in their boxes.
            found, better = (
                [placed or list(boxes(group, roll)) for placed, group in zip(found, groups, strict=True)],
                True,
            )
        if better and all(found):
            yield _one_after_another(found, roll)


def _one_by_one(tries: Sequence[_Try]) -> None:
    for one in tries:
        one.solve()


def _mixed(lying: Sequence[Lying], count: int) -> list[list[Lying]]:
    """So many groups, each with its share of large pieces and of small ones."""
    ranked = sorted(lying, key=lambda one: -one.shape.area)
    ones = [n for n, one in enumerate(ranked) for _ in range(one.copies)]
    dealt = [Counter(ones[i::count]) for i in range(count)]
    return [[replace(ranked[n], copies=copies) for n, copies in hand.items()] for hand in dealt if hand]


def _one_after_another(groups: Sequence[Sequence[Placed]], roll: Roll) -> list[Placed]:
    """Strips joined end to end: each pushed into the one before as far as their pieces let it, either end first."""
    found = list[Placed]()
    for group in groups:
        best: tuple[float, list[Placed]] | None = None
        for turned in (group, _turned_about(group, roll)):
            moved = _pushed(found, turned, roll)
            end = _length(moved)
            if best is None or end < best[0]:
                best = (end, moved)
        assert best is not None
        found += best[1]
    return found


def _turned_about(group: Sequence[Placed], roll: Roll) -> list[Placed]:
    """A strip the other way round."""
    end = _length(group)
    return [(key, translate(rotate(shape, 180, origin=(0, 0)), end, roll.width_mm)) for key, shape in group]


def _pushed(before: Sequence[Placed], group: Sequence[Placed], roll: Roll) -> list[Placed]:
    """A strip behind those before it, as near as the gap lets it."""
    after = _length(before)
    if not before:
        return list(group)
    tail = union_all([shape for _, shape in before if shape.bounds[2] > after - _REACH_MM])
    head = union_all([shape for _, shape in group if shape.bounds[0] < _REACH_MM])
    near, far = after + roll.gap_mm - _REACH_MM, after + roll.gap_mm
    while far - near > _SLACK_MM:
        middle = (near + far) / 2
        apart = tail.distance(translate(head, middle)) >= roll.gap_mm + _SLACK_MM
        near, far = (near, middle) if apart else (middle, far)
    return [(key, translate(shape, far)) for key, shape in group]


class _Try:
    """A group of pieces for the packer of outlines: it looks in a thread of its own, and is asked meanwhile."""

    def __init__(self, lying: Sequence[Lying], roll: Roll, seconds: float, seed: int) -> None:
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
        self._strip = spyrrow.StripPackingInstance("roll", roll.width_mm + 2 * grow + _SLACK_MM, items)
        self._time = spyrrow.StripPackingConfig(
            total_computation_time=max(1, math.floor(seconds)), num_workers=1, seed=seed
        )
        self._lying, self._roll = lying, roll
        self._reports = spyrrow.ProgressQueue()
        self._last: list[spyrrow.StripPackingSolution] = []

    def solve(self) -> None:
        """Look, until the time is over."""
        try:
            self._last.append(self._strip.solve(self._time, self._reports))
        except BaseException as error:  # what it can't place it says in no other way
            if type(error).__name__ != "PanicException":
                raise

    def newest(self) -> list[Placed] | None:
        """The best it has found since it was asked last; None where there is nothing new."""
        said = [solution for kind, solution in self._reports.drain() if kind in _FEASIBLE]
        said += [self._last.pop()] if self._last else []
        return _squared(_as_placed(said[-1], self._lying), self._roll) if said else None


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
