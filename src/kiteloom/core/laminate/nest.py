"""Pieces → their places on a roll: none over another, inside its width, on its grain, as short as time allows.

First their boxes are packed, which takes no time; then the packer of outlines looks for something shorter. What it
finds is looked at apart before it is believed, and the shortest of all is taken.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from kiteloom.core.base.problems import between
from kiteloom.core.laminate.outlines import outlines
from kiteloom.core.laminate.rolls import (
    SLACK_MM,
    Cut,
    Lying,
    Nest,
    Placed,
    Roll,
    across,
    boxes,
    length_of,
    lying_of,
    numbered,
    sound,
)


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
    if seconds > 0 and length_of(best) > _least(lying, roll) + SLACK_MM:
        for found in outlines(lying, roll, seconds, seed):
            if length_of(found) < length_of(best) - SLACK_MM and sound(found, roll):
                best = found
                yield _as_nest(best, lying, roll, oversize)


def _as_nest(placed: Sequence[Placed], lying: Sequence[Lying], roll: Roll, oversize: tuple[str, ...]) -> Nest:
    length = length_of(placed)
    area = sum(one.shape.area * one.copies for one in lying)
    used = 100 * area / (length * roll.width_mm) if length else 0.0
    return Nest(length, used, tuple(numbered(placed)), oversize)


def _least(lying: Sequence[Lying], roll: Roll) -> float:
    """No layout is shorter: all pieces side by side, and the longest by itself [mm]."""
    area = sum(one.shape.area * one.copies for one in lying)
    longest = max((min(across(one.shape, turn + 90) for turn in one.turns) for one in lying), default=0.0)
    return max(area / roll.width_mm, longest)
