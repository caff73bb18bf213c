"""Stations with sections → areas by side, girths, edges, ribs, outline.

A loft runs straight between its stations, point to point at equal fractions of the chord. Each side is its own skin.
Axes of a left-hand part seen from above: x aft, y along the span from root to tip, z up; metres. Section points are
fractions of the chord.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np

from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.shape.section import Floats, Point, Section, Side, arc_lengths, section_girth

Hand = Literal["left", "right"]
Ring = tuple[Point, ...]

_STRIPS = 24
#: So much of a step along the chord counts what goes up or down: a blunt nose keeps its corners.
_UPRIGHT = 1e-6
_LENGTH: dict[str, Any] = {"dimension": "length", "unit": ("m", "in")}


@dataclass(frozen=True)
class Planform:
    """One straight panel.

    Parameters
    ----------
    span_m, root_chord_m, tip_chord_m : float
        Root to tip across the panel, and the chords [m]. The tip may come to a point.
    sweep_m : float
        How far the tip's leading edge lies behind the root's [m]; negative is forward.
    """

    span_m: Annotated[float, Asked("Span of the panel", **_LENGTH, low=0, high=100, open_low=True)]
    root_chord_m: Annotated[float, Asked("Root chord", **_LENGTH, low=0, high=20, open_low=True)]
    tip_chord_m: Annotated[float, Asked("Tip chord", **_LENGTH, low=0, high=20)]
    sweep_m: Annotated[float, Asked("Leading edge sweep", **_LENGTH, low=-50, high=50)] = 0.0

    def __post_init__(self) -> None:
        for name, (asked, _) in asked_of(Planform).items():
            asked.within(name, getattr(self, name))


@dataclass(frozen=True)
class StationAt:
    """Where a station stands, and how its section lies there.

    Parameters
    ----------
    at_m, chord_m : float
        How far along the span, level, and its chord [m]. At either end the chord may come to a point.
    leading_edge_m, height_m : float
        How far aft and how high its leading edge lies [m].
    twist_deg : float
        By how much it is turned nose up about its leading edge [°].
    """

    at_m: Annotated[float, Asked("Along the span", **_LENGTH, low=-100, high=100)]
    chord_m: Annotated[float, Asked("Chord", **_LENGTH, low=0, high=20)]
    leading_edge_m: Annotated[float, Asked("Leading edge", **_LENGTH, low=-50, high=50)] = 0.0
    height_m: Annotated[float, Asked("Height", **_LENGTH, low=-50, high=50)] = 0.0
    twist_deg: Annotated[float, Asked("Twist", dimension="angle", unit=("°", "°"), low=-45, high=45)] = 0.0


@dataclass(frozen=True)
class Station(StationAt):
    """A station and its section, in chords."""

    section: Section = field(kw_only=True)

    def placed(self, points: Floats) -> Floats:
        """Points of its section where they are: (n, 2) in chords → (n, 3) aft, along, up [m].

        >>> Station(2, 1, 0.1, 0.2, 90 / 2, section=naca4("0012")).placed(np.array([[1.0, 0.0]])).round(3).tolist()
        [[0.807, 2.0, -0.507]]
        """
        turn = math.radians(self.twist_deg)
        x, z = self.chord_m * points[:, 0], self.chord_m * points[:, 1]
        aft = self.leading_edge_m + x * math.cos(turn) + z * math.sin(turn)
        up = self.height_m - x * math.sin(turn) + z * math.cos(turn)
        return np.column_stack((aft, np.full(len(x), self.at_m), up))

    def girth_m(self, side: Side) -> float:
        """Arc length of one side [m].

        >>> round(Station(0, 0.6, section=naca4("0012")).girth_m("upper"), 3)
        0.612
        """
        return section_girth(self.section, side) * self.chord_m

    @property
    def section_m2(self) -> float:
        """The area inside its section [m²].

        >>> round(Station(0, 0.5, section=naca4("0012")).section_m2, 4)
        0.0206
        """
        x, y = np.concatenate((self.section.side("upper"), self.section.side("lower")[::-1])).T
        return self.chord_m**2 * abs(float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))) / 2

    @property
    def tail(self) -> Floats:
        """Where its trailing edge is: midway between the last points of both sides; aft, along, up [m]."""
        ends = np.array([self.section.upper[-1], self.section.lower[-1]])
        return np.asarray(self.placed(ends.mean(axis=0)[None])[0])


@dataclass(frozen=True)
class Ribs:
    """Where ribs stand along the span [m], how wide their caps are, and the land along edges and ends [m]."""

    at_m: tuple[float, ...] = ()
    width_m: float = 0.0
    edge_m: float = 0.0


@dataclass(frozen=True)
class Loft:
    """Sections at two stations along the span or more, root first, straight between them.

    Raises
    ------
    Refused
        If there are fewer than two, one does not lie beyond the one before, or one in the middle has no chord; if a
        rib stands outside the span.
    """

    stations: tuple[Station, ...]
    ribs: Ribs = Ribs()

    kind = "loft"

    def __post_init__(self) -> None:
        between("stations", len(self.stations), 2, 200, name="the number of stations")
        for n, row in enumerate(self.stations):
            for name, (asked, _) in asked_of(StationAt).items():
                asked.within(f"stations.{n}.{name}", getattr(row, name))
        last = len(self.stations) - 1
        for n, (before, row) in enumerate(pairwise(self.stations), 1):
            if row.at_m <= before.at_m:
                raise Refused(
                    f"stations.{n}.at_m",
                    f"station {n + 1} stands at {plain(row.at_m)} m, station {n} at {plain(before.at_m)} m; "
                    "each must stand beyond the one before",
                )
        for n, row in enumerate(self.stations):
            if row.chord_m == 0 and (0 < n < last or (last == 1 and self.stations[1 - n].chord_m == 0)):
                raise Refused(
                    f"stations.{n}.chord_m",
                    f"the chord of station {n + 1} is 0 m; only the first or the last may come to a point",
                )
        first, end = self.stations[0].at_m, self.stations[-1].at_m
        for at in self.ribs.at_m:
            if not first - 1e-9 <= at <= end + 1e-9:
                raise Refused(
                    "ribs",
                    f"a rib at {plain(at)} m stands outside the span; it runs from {plain(first)} to {plain(end)} m",
                )

    @property
    def span_m(self) -> float:
        """From its first station to its last, level [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0.5, 1, section=flat), Station(2.5, 0.5, 0.1, section=flat))).span_m
        2.0
        """
        return self.stations[-1].at_m - self.stations[0].at_m

    @property
    def area_m2(self) -> float:
        """Σ mean chord × distance along the span; height and twist are left out [m²].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, section=flat), Station(2, 1, section=flat), Station(4, 0.5, section=flat))).area_m2
        3.5
        """
        return sum((b.at_m - a.at_m) * (a.chord_m + b.chord_m) / 2 for a, b in pairwise(self.stations))

    @property
    def leading_edge_m(self) -> float:
        """True length of the leading edge [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, section=flat), Station(4, 1, 3, section=flat))).leading_edge_m
        5.0
        """
        noses = ((row.at_m, row.leading_edge_m, row.height_m) for row in self.stations)
        return sum(math.dist(a, b) for a, b in pairwise(noses))

    @property
    def trailing_edge_m(self) -> float:
        """True length of the trailing edge, midway between the last points of both sides [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, section=flat), Station(4, 1, 3, section=flat))).trailing_edge_m
        5.0
        """
        return sum(math.dist(a, b) for a, b in pairwise(row.tail for row in self.stations))

    def girth_m(self, side: Side, at: Literal["root", "tip"]) -> float:
        """Arc length of one side at the first or the last station [m]."""
        return self.stations[0 if at == "root" else -1].girth_m(side)

    def girth_at_m(self, at_m: float, side: Side) -> float:
        """Arc length of one side at a distance along the span [m].

        >>> flat = naca4("0012")
        >>> round(Loft((Station(0, 1.2, section=flat), Station(3, 0.6, section=flat))).girth_at_m(1.5, "upper"), 3)
        0.918
        """
        return float(np.linalg.norm(np.diff(self._across(at_m, side), axis=0), axis=1).sum())

    def _across(self, at_m: float, side: Side) -> Floats:
        """Points of one side at a distance along the span: (n, 3) aft, along, up [m]."""
        at = [row.at_m for row in self.stations]
        n = min(max(int(np.searchsorted(at, at_m)), 1), len(at) - 1)
        before, row = self.stations[n - 1 : n + 1]
        root, tip = _matched(before.section.side(side), row.section.side(side))
        share = (at_m - before.at_m) / (row.at_m - before.at_m)
        return before.placed(root) * (1 - share) + row.placed(tip) * share

    def section_at(self, at_m: float) -> tuple[Point, ...]:
        """The outline of its section at a distance along the span, aft and up [m]: over the top, back below.

        >>> flat = naca4("0012")
        >>> ring = Loft((Station(0, 1, section=flat), Station(2, 0.5, section=flat))).section_at(1)
        >>> round(max(x for x, _ in ring), 3), round(max(z for _, z in ring), 3)
        (0.75, 0.045)
        """
        sides: tuple[Side, Side] = ("upper", "lower")
        over, under = ([(float(x), float(z)) for x, _, z in self._across(at_m, side)] for side in sides)
        return tuple(dict.fromkeys((*over, *reversed(under))))

    def skin_area_m2(self, side: Side) -> float:
        """Area of one side, triangulated bay by bay [m²].

        >>> flat = naca4("0012")
        >>> root, middle, tip = (Station(y, c, section=flat) for y, c in ((0, 1.2), (1, 1.0), (3, 0.6)))
        >>> round(Loft((root, tip)).skin_area_m2("upper"), 3), round(Loft((root, middle, tip)).skin_area_m2("upper"), 3)
        (2.753, 2.753)
        """
        return sum(_bay_area(a, b, side) for a, b in pairwise(self.stations))

    def landing_m2(self, side: Side) -> float:
        """Where cloth or a skin is glued on one side: ribs' girths × their width, edges and ends × their land [m²].

        >>> flat, ribs = naca4("0012"), Ribs((0.0, 1.0, 2.0), 0.01, 0.025)
        >>> round(Loft((Station(0, 1, section=flat), Station(2, 1, section=flat)), ribs).landing_m2("upper"), 3)
        0.182
        """
        across = sum(self.girth_at_m(at, side) for at in self.ribs.at_m)
        return across * self.ribs.width_m + self.around_m(side) * self.ribs.edge_m

    @cached_property
    def mean_section_m2(self) -> float:
        """The area inside its sections, on average along the span [m²]: between two, as of a cut pyramid.

        >>> flat = naca4("0012")
        >>> round(Loft((Station(0, 1, section=flat), Station(2, 0.5, section=flat))).mean_section_m2, 4)
        0.048
        """
        volume = 0.0
        for a, b in pairwise(self.stations):
            one, other = a.section_m2, b.section_m2
            volume += (b.at_m - a.at_m) * (one + math.sqrt(one * other) + other) / 3
        return volume / (self.stations[-1].at_m - self.stations[0].at_m)

    def around_m(self, side: Side) -> float:
        """All round one side: both edges and both ends [m].

        >>> round(PLANK.around_m("upper"), 2)
        10.04
        """
        return self.leading_edge_m + self.trailing_edge_m + self.girth_m(side, "root") + self.girth_m(side, "tip")

    @cached_property
    def rib_bays_m(self) -> tuple[float, ...]:
        """How far ribs stand apart, in order [m]."""
        return tuple(b - a for a, b in pairwise(self.ribs.at_m))

    def outline(self, hand: Hand) -> tuple[Ring, ...]:
        """Planform (y to the side, x aft) [m]: leading edge from root to tip, then the trailing one back.

        Seen from above with the nose up, a left one lies on negative y. Twist is left out.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, section=flat), Station(3, 0.6, 0.1, section=flat))).outline("right")
        (((0, 0.0), (3, 0.1), (3, 0.7), (0, 1.2)),)
        """
        leading = [(row.at_m, row.leading_edge_m) for row in self.stations]
        trailing = [(row.at_m, row.leading_edge_m + row.chord_m) for row in reversed(self.stations)]
        return (tuple((mirrored(-y, hand), x) for y, x in (*leading, *trailing)),)

    def _edge(self, at_m: float) -> tuple[float, float]:
        """Leading edge and chord at a distance along the span [m]."""
        at = [row.at_m for row in self.stations]
        leads, chords = [row.leading_edge_m for row in self.stations], [row.chord_m for row in self.stations]
        return float(np.interp(at_m, at, leads)), float(np.interp(at_m, at, chords))

    def ribs_drawn(self, hand: Hand) -> Iterator[tuple[Point, Point]]:
        """Each rib on the outline, from its nose to its tail [m]."""
        for at in self.ribs.at_m:
            lead, chord = self._edge(at)
            yield (mirrored(-at, hand), lead), (mirrored(-at, hand), lead + chord)

    def point(self, along: float, across: float, hand: Hand) -> Point:
        """A place on the planform, in the coordinates of its outline [m], by shares of its span and of the chord there.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, section=flat), Station(3, 0.6, 0.1, section=flat))).point(0.5, 0, "right")
        (1.5, 0.05)
        """
        at = self.stations[0].at_m + along * self.span_m
        lead, chord = self._edge(at)
        return mirrored(-at, hand), lead + across * chord

    def shares(self, at: Point, hand: Hand) -> tuple[float, float] | None:
        """The shares of span and chord of a place on its outline; None beside the part.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, section=flat), Station(3, 0.6, 0.1, section=flat))).shares((1.5, 0.05), "right")
        (0.5, 0.0)
        """
        side = -mirrored(at[0], hand)
        lead, chord = self._edge(side)
        along = (side - self.stations[0].at_m) / self.span_m
        across = (at[1] - lead) / chord if chord else 0.0
        inside = -0.01 <= along <= 1.01 and -0.02 <= across <= 1.02
        return (min(max(along, 0.0), 1.0), min(max(across, 0.0), 1.0)) if inside else None


def straight(planform: Planform, root: Section, tip: Section | None = None) -> Loft:
    """A straight panel as a loft of two stations; the tip has the root's section unless given.

    >>> straight(Planform(7.2, 1.1, 0.6), naca4("0012")).area_m2.__round__(3)
    6.12
    """
    return Loft(
        (
            Station(0.0, planform.root_chord_m, section=root),
            Station(planform.span_m, planform.tip_chord_m, planform.sweep_m, section=tip or root),
        )
    )


def mirrored(value: float, hand: Hand) -> float:
    """The one mirror: designs are drawn left-handed; what is measured to the side, or turned,
    changes sign on the right-hand part.

    >>> mirrored(45, "left"), mirrored(45, "right")
    (45, -45)
    """
    return value if hand == "left" else -value


@lru_cache(maxsize=2000)
def _bay_area(before: Station, row: Station, side: Side) -> float:
    """One side between two stations [m²]: flat strips where the section is the same and equally turned; else the
    twisted strips are cut along the span.
    """
    root, tip = before.section.side(side), row.section.side(side)
    same = root.shape == tip.shape and np.allclose(root, tip) and before.twist_deg == row.twist_deg
    root, tip = (root, tip) if same else _matched(root, tip)
    share = np.linspace(0, 1, (1 if same else _STRIPS) + 1)[:, None, None]
    grid = before.placed(root)[None] * (1 - share) + row.placed(tip)[None] * share
    a, b, c, d = grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]
    first = np.linalg.norm(np.cross(b - a, c - a), axis=-1)
    second = np.linalg.norm(np.cross(c - a, d - a), axis=-1)
    return float((first.sum() + second.sum()) / 2)


def _matched(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """Both sides at all the fractions of the chord that either has, so that neither loses a corner."""
    first, second = along_chord(one), along_chord(other)
    at = np.unique(np.concatenate((first, second)))
    return (
        np.column_stack([np.interp(at, first, one[:, i]) for i in (0, 1)]),
        np.column_stack([np.interp(at, second, other[:, i]) for i in (0, 1)]),
    )


def along_chord(points: Floats) -> Floats:
    """How far along the chord each point lies, from 0 at the first to 1 at the last; it grows from point to point."""
    along = np.maximum.accumulate(np.clip(points[:, 0], points[0, 0], points[-1, 0]))
    along = along + _UPRIGHT * arc_lengths(points)
    return np.asarray((along - along[0]) / (along[-1] - along[0]))
