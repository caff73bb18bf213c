"""Readings held against what was asked: nominal and tolerance, stations in a row, before and after.

What another skin does to a twist is common practice; tolerances are the kit's or the designer's.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show


@dataclass(frozen=True)
class Measure:
    """A kind of reading: how it is typed and kept, and how it is shown.

    ``lined`` when a straight line through its stations says something: an angle along a span, offsets to a string.
    ``summed`` when its stations lie in a row, one behind the other, and their sum is checked too.
    """

    asked: Asked
    shows: str
    lined: bool = False
    summed: bool = False


def _mm(label: str, low: float, high: float) -> Asked:
    return Asked(label, dimension="length", scale=1e-3, unit=("mm", "in"), low=low, high=high)


#: Lengths are kept in mm, angles in degrees, masses in grams, pressures in mbar, torque in N·m.
MEASURES: dict[str, Measure] = {
    "length": Measure(_mm("Length", 0, 30_000), "reading"),
    "spacing": Measure(_mm("Spacing", 0, 30_000), "reading", summed=True),
    "angle": Measure(Asked("Angle", dimension="angle", unit=("°", "°"), low=-180, high=180), "degrees", lined=True),
    "gap": Measure(_mm("Gap", 0, 100), "thickness"),
    "straightness": Measure(_mm("Offset to the string", -500, 500), "thickness", lined=True),
    "weight": Measure(Asked("Weight", dimension="mass", unit=("g", "oz"), low=0, high=5e6), "mass"),
    "moisture": Measure(Asked("Moisture", dimension="share", unit=("%", "%"), low=2, high=60), "share"),
    "hardness": Measure(Asked("Hardness", low=0, high=1000), "hardness"),
    "vacuum": Measure(Asked("Vacuum", dimension="pressure", unit=("mbar", "inHg"), low=0, high=1050), "vacuum"),
    "torque": Measure(Asked("Torque", dimension="torque", unit=("N·m", "lbf·in"), low=0, high=1000), "torque"),
}
#: A reading off by about one of these was read in another unit, or its point slipped.
_SLIPS = (10.0, 12.0, 25.4, 28.35, 100.0, 1000.0)
#: So near to it [-].
_NEAR = 0.12
#: A foot [m].
FOOT_M = 0.3048
#: Further out than this is not told apart [tolerances].
_FAR = 9.0


@dataclass(frozen=True)
class Point:
    """A place that is read: what it is called, what is asked there, and where along the part it lies [m]."""

    name: str
    nominal: float
    at_m: float | None = None


@dataclass(frozen=True)
class Check:
    """What is read, and by how much it may be off what is asked: from ``low`` to ``high``."""

    kind: str
    points: tuple[Point, ...]
    low: float
    high: float

    def __post_init__(self) -> None:
        if self.kind not in MEASURES:
            raise Refused("kind", f"“{self.kind[:40]}” is nothing that is read; it is one of {', '.join(MEASURES)}")
        if not self.points:
            raise Refused("points", "nothing is read yet; name at least one place")
        if self.low > self.high:
            raise Refused("low", f"the tolerance goes from {self.low:g} to {self.high:g}: its ends are swapped")

    @property
    def measure(self) -> Measure:
        """Its kind."""
        return MEASURES[self.kind]


@dataclass(frozen=True)
class Said:
    """One place as it was read; ``off`` is found − asked, None where it was not read."""

    point: Point
    found: float | None
    off: float | None
    holds: bool
    share: float = 0.0
    """How far off, as a share of the tolerance on that side, with its sign: 1 is at its end; at most `_FAR`."""


@dataclass(frozen=True)
class Judged:
    """All places as they were read, whether all hold, and that in sentences."""

    rows: tuple[Said, ...]
    holds: bool
    says: tuple[str, ...]


def judged(check: Check, found: Sequence[float | None], units: UnitSystem = "metric") -> Judged:
    """Readings held against what is asked.

    >>> ribs = Check("spacing", (Point("1 to 2", 900), Point("2 to 3", 900)), -1, 1)
    >>> judged(ribs, [900.4, 902.5]).says
    ('2 to 3: 902.5 mm, asked 900.0 mm: 2.5 mm too much.', 'Together 1802.9 mm, asked 1800.0 mm.')
    """
    if len(found) != len(check.points):
        raise Refused("values", f"{len(found)} readings for {len(check.points)} places; one for each is wanted")
    rows = []
    for point, value in zip(check.points, found, strict=True):
        if value is None:
            rows.append(Said(point, None, None, holds=True))
            continue
        off = value - point.nominal
        rows.append(Said(point, value, off, check.low - 1e-9 <= off <= check.high + 1e-9, _share(check, off)))
    shows = check.measure.shows
    wrong = sorted((row for row in rows if not row.holds), key=lambda row: -abs(row.off or 0.0))
    says = []
    for row in wrong[:1]:
        off = row.off or 0.0
        much = "too much" if off > 0 else "too little"
        says.append(f"{row.point.name[:1].upper()}{row.point.name[1:]}: {show(row.found or 0.0, shows, units)}, asked "
                    f"{show(row.point.nominal, shows, units)}: {show(abs(off), shows, units)} {much}.")  # fmt: skip
    if len(wrong) > 1:
        says.append(f"{len(wrong)} of {len(rows)} places are out of tolerance; this one most.")
    read = [row for row in rows if row.found is not None]
    if not wrong and len(read) == len(rows):
        says.append("Within tolerance." if len(rows) == 1 else f"All {len(rows)} within tolerance.")
    elif not wrong:
        says.append(f"{len(read)} of {len(rows)} are read.")
    if check.measure.summed and len(rows) > 1 and len(read) == len(rows):
        together, asked = sum(row.found or 0.0 for row in rows), sum(row.point.nominal for row in rows)
        says.append(f"Together {show(together, shows, units)}, asked {show(asked, shows, units)}.")
    says += line_words(check, found, units)
    return Judged(tuple(rows), not wrong, tuple(says))


def _share(check: Check, off: float) -> float:
    room = check.high if off > 0 else -check.low
    if room <= 0:
        return 0.0 if abs(off) < 1e-9 else math.copysign(_FAR, off)
    return math.copysign(min(abs(off) / room, _FAR), off)


def line_of(points: Sequence[Point], found: Sequence[float | None]) -> tuple[float, float, int] | None:
    """A straight line through what was read off nominal: its slope per metre, its value at 0, and the place furthest
    from it; None with fewer than three places that lie somewhere.

    >>> line_of([Point("a", 0, 0), Point("b", 0, 1), Point("c", 0, 2)], [0.0, 0.5, 1.0])
    (0.5, 0.0, 0)
    """
    there = [
        (n, point.at_m, value - point.nominal)
        for n, (point, value) in enumerate(zip(points, found, strict=True))
        if point.at_m is not None and value is not None
    ]
    if len(there) < 3 or len({at for _, at, _ in there}) < 2:
        return None
    at = np.array([one[1] for one in there])
    off = np.array([one[2] for one in there])
    slope, start = np.polyfit(at, off, 1)
    worst = int(np.argmax(np.round(np.abs(off - (slope * at + start)), 9)))
    return round(float(slope), 9) + 0.0, round(float(start), 9) + 0.0, there[worst][0]


def line_words(check: Check, found: Sequence[float | None], units: UnitSystem) -> list[str]:
    """What the line through the stations says; nothing where there is none."""
    line = line_of(check.points, found) if check.measure.lined else None
    if line is None:
        return []
    slope, start, worst = line
    point, shows = check.points[worst], check.measure.shows
    value = found[worst]
    leaves = abs((value or 0.0) - point.nominal - (slope * (point.at_m or 0.0) + start))
    what = "It twists" if check.kind == "angle" else "The line leans"
    each, name = (1.0, "metre") if units == "metric" else (FOOT_M, "foot")
    leans = show(abs(slope) * each, shows, units)
    return [f"{what} {leans} a {name}; {point.name} leaves that line most, by {show(leaves, shows, units)}."]


def _furthest(
    points: Sequence[Point], some: Sequence[float | None], others: Sequence[float | None]
) -> tuple[Point, float, float] | None:
    """The place where two rows of readings differ most, and both; None where no place was read in both."""
    both = [
        (point, one, other)
        for point, one, other in zip(points, some, others, strict=True)
        if one is not None and other is not None
    ]
    return max(both, key=lambda row: abs(row[2] - row[1]), default=None)


def moved_words(
    check: Check,
    before: Sequence[float | None],
    after: Sequence[float | None],
    units: UnitSystem,
    *,
    to_come: bool = True,
) -> str:
    """What happened between two readings of the same places, and what a like skin on the other side will do.

    ``to_come`` is whether that skin is still to come.

    >>> tip = Check("angle", (Point("tip", 0.0, 7.2),), -0.25, 0.25)
    >>> moved_words(tip, [0.1], [0.45], "metric").split(". ")[0]
    'Tip has moved by 0.35°, from 0.10° to 0.45°'
    """
    most = _furthest(check.points, before, after)
    if most is None:
        return ""
    point, one, other = most
    shows = check.measure.shows
    name = f"{point.name[:1].upper()}{point.name[1:]}"
    was, is_ = show(one, shows, units), show(other, shows, units)
    words = f"{name} has moved by {show(abs(other - one), shows, units)}, from {was} to {is_}."
    if abs(other - one) > max(check.high, -check.low) + 1e-9:
        words += " That is more than it may be off: find out why before the next skin."
    if to_come and check.measure.lined and abs(other - one) > 1e-9:
        words += (
            f" A like skin on the other side pulls back about as much (common practice): expect about "
            f"{show(one, shows, units)} there, and weight it straight while it sets."
        )
    return words


def apart_words(
    check: Check, mine: Sequence[float | None], theirs: Sequence[float | None], name: str, units: UnitSystem
) -> str:
    """Where a part differs most from one of its kind; ``""`` where no place was read on both.

    >>> tip = Check("angle", (Point("root", 0.0), Point("tip", -2.0)), -0.25, 0.25)
    >>> apart_words(tip, [0.0, -2.05], [0.05, -1.6], "the left wing", "metric")
    'It differs most from the left wing at tip, by 0.45°: -2.05° against -1.60°.'
    """
    most = _furthest(check.points, mine, theirs)
    if most is None:
        return ""
    point, one, other = most
    apart, here, there = (show(value, check.measure.shows, units) for value in (abs(one - other), one, other))
    return f"It differs most from {name} at {point.name}, by {apart}: {here} against {there}."


def odd_reading(check: Check, found: Sequence[float | None], units: UnitSystem = "metric") -> str:
    """A question about a reading that looks as if it were of another unit; ``""`` when none does.

    >>> odd_reading(Check("length", (Point("bracket", 1346.0),), -2, 2), [53.0])
    'bracket: 53.0 mm is about 25 times less than the 1346.0 mm asked. Was it read in another unit?'
    """
    shows = check.measure.shows
    for point, value in zip(check.points, found, strict=True):
        if not value or not point.nominal or value * point.nominal < 0:
            continue
        ratio = value / point.nominal
        times, more = (ratio, "more") if ratio > 1 else (1 / ratio, "less")
        if any(abs(times / slip - 1) < _NEAR for slip in _SLIPS):
            return (
                f"{point.name}: {show(value, shows, units)} is about {times:.0f} times {more} than the "
                f"{show(point.nominal, shows, units)} asked. Was it read in another unit?"
            )
    return ""
