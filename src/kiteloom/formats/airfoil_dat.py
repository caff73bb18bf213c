"""Section coordinate files: one line of points round the section, or upper and lower lists."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused
from kiteloom.core.shape.section import Section, section_from_points, section_from_sides

#: Fewer points than this draw a polygon, not a section.
FEW = 25


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
        An optional name line, then pairs of x and y. Either one line of points from the
        trailing edge over the top round the nose, or a pair of counts followed by the upper
        and the lower list. Fractions of the chord; a file in percent is understood and said.

    Raises
    ------
    Refused
        Naming the line, the value and the limit.
    """
    points: list[list[float]] = []
    title = ""
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), start=1):
        cells = line.replace(",", " ").replace(";", " ").split()
        if not cells:
            continue
        try:
            points.append([float(cell) for cell in cells[:2]])
        except ValueError:
            if points:
                raise Refused("section", f"line {number}: “{line.strip()}” isn't a pair of x and y") from None
            title = title or line.strip()
            continue
        if len(cells) < 2:
            raise Refused("section", f"line {number}: “{line.strip()}” has 1 number; 2 are wanted, x and y")
    called = title or name or "section file"
    sides = _two_lists(points)
    flat = [point for side in sides for point in side] if sides else points
    if len(flat) < 5:
        raise Refused("section", f"the file has {len(flat)} points; at least 5 are wanted")
    note = ""
    if 50 <= max(point[0] for point in flat) <= 105:
        note = "The file is in percent of the chord; it was divided by 100."
        flat = [[x / 100, y / 100] for x, y in flat]
    if len(flat) < FEW:
        note = f"{note} It has only {len(flat)} points, and is straight between them.".strip()
    if sides:
        count = len(sides[0])
        return SectionFile(section_from_sides(called, flat[:count], flat[count:]), note)
    return SectionFile(section_from_points(called, flat), note)


def _two_lists(points: list[list[float]]) -> tuple[list[list[float]], list[list[float]]] | None:
    """Upper and lower when the first pair counts them, else None."""
    if not points:
        return None
    upper, lower = points[0]
    counts = upper.is_integer() and lower.is_integer() and upper >= 2 and lower >= 2
    if not counts or len(points) - 1 != upper + lower:
        return None
    return points[1 : 1 + int(upper)], points[1 + int(upper) :]
