"""The packer of outlines: pieces placed on a roll closer than their boxes let them, better and better.

All that is known of the package that does it stands here.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace
from threading import Thread

import spyrrow
from shapely import union_all
from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from kiteloom.core.laminate.rolls import SLACK_MM, Lying, Placed, Roll, boxes, length_of

#: So many settle best together; more than `_TOGETHER` take it longer to place once than it has time.
_AT_BEST, _TOGETHER = 50, 250
#: So many groups are packed at a time.
_LANES = 2
#: What it has found is looked at so often [s].
_LOOK_S = 0.4
#: Reports of it that are layouts.
_FEASIBLE = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas)
#: Strips are pushed into one another no farther [mm].
_REACH_MM = 150.0


def outlines(lying: Sequence[Lying], roll: Roll, seconds: float, seed: int) -> Iterator[list[Placed]]:
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
            if placed is not None and (not found[n] or length_of(placed) < length_of(found[n])):
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
            end = length_of(moved)
            if best is None or end < best[0]:
                best = (end, moved)
        assert best is not None
        found += best[1]
    return found


def _turned_about(group: Sequence[Placed], roll: Roll) -> list[Placed]:
    """A strip the other way round."""
    end = length_of(group)
    return [(key, translate(rotate(shape, 180, origin=(0, 0)), end, roll.width_mm)) for key, shape in group]


def _pushed(before: Sequence[Placed], group: Sequence[Placed], roll: Roll) -> list[Placed]:
    """A strip behind those before it, as near as the gap lets it."""
    after = length_of(before)
    if not before:
        return list(group)
    tail = union_all([shape for _, shape in before if shape.bounds[2] > after - _REACH_MM])
    head = union_all([shape for _, shape in group if shape.bounds[0] < _REACH_MM])
    near, far = after + roll.gap_mm - _REACH_MM, after + roll.gap_mm
    while far - near > SLACK_MM:
        middle = (near + far) / 2
        apart = tail.distance(translate(head, middle)) >= roll.gap_mm + SLACK_MM
        near, far = (near, middle) if apart else (middle, far)
    return [(key, translate(shape, far)) for key, shape in group]


class _Try:
    """A group of pieces for the packer of outlines: it looks in a thread of its own, and is asked meanwhile."""

    def __init__(self, lying: Sequence[Lying], roll: Roll, seconds: float, seed: int) -> None:
        grow = roll.gap_mm / 2 + SLACK_MM
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
        self._strip = spyrrow.StripPackingInstance("roll", roll.width_mm + 2 * grow + SLACK_MM, items)
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
