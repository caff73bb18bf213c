"""Section coordinate files in any common layout.

One line of points round the section, from the trailing edge or from the nose; upper and lower lists, counted or apart
by an empty line; or three columns: x, upper, lower.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.section import Section, section_from_points, section_from_sides

#: Fewer points than this draw a polygon, not a section.
FEW = 25
Points = list[list[float]]


@dataclass(frozen=True)
class SectionFile:
    """The section, and what was done to understand it, in words ("" when nothing)."""

    section: Section
    note: str


def read_airfoil_dat(text: str, name: str = "") -> SectionFile:
    """The section in a coordinate file.

    Parameters
    ----------
    text : str
        An optional name line, then pairs of x and y, or three columns. Fractions of the chord; a file in percent, or
        in lengths from a nose at 0, is understood and said.

    Raises
    ------
    Refused
        Naming the line, the value and the limit.
    """
    title, blocks = _blocks(text)
    called = title or name or "section file"
    rows = [row for block in blocks for row in block]
    three = bool(rows) and all(len(row) == 3 for row in rows)
    if len(rows) < (3 if three else 5):
        raise Refused("section", f"the file has {len(rows)} points; at least 5 are wanted")
    counted = None if three else _counted(rows)
    if counted:
        sides: tuple[Points, Points] | None = counted
    elif three:
        sides = [[x, y] for x, y, _ in rows], [[x, y] for x, _, y in rows]
    else:
        sides = _two_blocks(blocks) or _from_the_nose(rows)
    flat = [row[:2] for row in ([*sides[0], *sides[1]] if sides else rows)]
    scale, note = _scale(flat)
    flat = [[x / scale, y / scale] for x, y in flat]
    if len(flat) < FEW:
        note = f"{note} It has only {len(flat)} points, and is straight between them.".strip()
    if sides:
        count = len(sides[0])
        upper, lower = flat[:count], flat[count:]
        if not (counted or three) and np.mean([y for _, y in upper]) < np.mean([y for _, y in lower]):
            upper, lower = lower, upper
        return SectionFile(section_from_sides(called, upper, lower), note)
    return SectionFile(section_from_points(called, flat), note)


def _blocks(text: str) -> tuple[str, list[Points]]:
    """The name line and the numbers, in blocks apart by empty lines."""
    title, blocks = "", [[]]  # type: tuple[str, list[Points]]
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), start=1):
        cells = line.replace(",", " ").replace(";", " ").split()
        if not cells:
            if blocks[-1]:
                blocks.append([])
            continue
        try:
            row = [float(cell) for cell in cells[:3]]
        except ValueError:
            if any(blocks):
                raise Refused("section", f"line {number}: “{line.strip()}” isn't a pair of x and y") from None
            title = title or line.strip()
            continue
        if len(cells) < 2:
            raise Refused("section", f"line {number}: “{line.strip()}” has 1 number; 2 are wanted, x and y")
        blocks[-1].append(row)
    return title, [block for block in blocks if block]


def _counted(rows: Points) -> tuple[Points, Points] | None:
    """Upper and lower when the first pair counts them, else None."""
    upper, lower = rows[0][:2]
    if not (upper.is_integer() and lower.is_integer() and upper >= 2 and lower >= 2):
        return None
    if len(rows) - 1 != upper + lower:
        return None
    return rows[1 : 1 + int(upper)], rows[1 + int(upper) :]


def _two_blocks(blocks: list[Points]) -> tuple[Points, Points] | None:
    """Two lists apart by an empty line, each from one end of the chord to the other."""
    if len(blocks) != 2 or min(len(block) for block in blocks) < 3:
        return None
    spans = [abs(block[-1][0] - block[0][0]) for block in blocks]
    chord = max(row[0] for block in blocks for row in block)
    return (blocks[0], blocks[1]) if min(spans) > 0.9 * chord else None


def _from_the_nose(rows: Points) -> tuple[Points, Points] | None:
    """One line from the nose round the trailing edge and back, cut at the tail; None when it begins elsewhere."""
    x = [row[0] for row in rows]
    chord = max(x)
    if not (x[0] < 0.05 * chord and x[-1] < 0.05 * chord):
        return None
    tail = x.index(chord)
    first, second = rows[: tail + 1], rows[tail:]
    # A blunt tail has its last points above each other: the second list begins with the lower of them.
    if len(second) > 1 and second[1][0] == chord:
        second = second[1:]
    return (first, second) if min(len(first), len(second)) >= 3 else None


def _scale(flat: Points) -> tuple[float, str]:
    """What the points are to be divided by to be fractions of the chord, and that in words."""
    longest = max(x for x, _ in flat)
    if 95 <= longest <= 105:
        return 100.0, "The file is in percent of the chord; it was divided by 100."
    if longest > 1.05 and min(x for x, _ in flat) > -0.05 * longest:
        return longest, f"The file's chord is {longest:g}; every point was divided by it."
    return 1.0, ""
