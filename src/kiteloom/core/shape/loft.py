"""Planform and section → areas by side, girths, edges, outline.

A panel is lofted straight between its root and tip sections. Each side is its own skin.
Axes of a left-hand panel seen from above: x aft from the root's leading edge, y from root
to tip, z up; metres. Section points are fractions of the chord.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np

from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.base.problems import between
from kiteloom.core.shape.section import Floats, Point, Section, Side, arc_lengths, section_girth

Hand = Literal["left", "right"]


_STRIPS = 24


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
        for field, (asked, _) in asked_of(Planform).items():
            asked.within(field, getattr(self, field))

    @property
    def area_m2(self) -> float:
        """Area seen from above [m²].

        >>> round(Planform(7.2, 1.1, 0.6).area_m2, 3)
        6.12
        """
        return self.span_m * (self.root_chord_m + self.tip_chord_m) / 2

    @property
    def leading_edge_m(self) -> float:
        """Length of the leading edge [m].

        >>> Planform(4, 1, 1, sweep_m=3).leading_edge_m
        5.0
        """
        return math.hypot(self.span_m, self.sweep_m)

    @property
    def trailing_edge_m(self) -> float:
        """Length of the trailing edge [m].

        >>> Planform(4, 1, 1, sweep_m=3).trailing_edge_m
        5.0
        """
        return math.hypot(self.span_m, self.sweep_m + self.tip_chord_m - self.root_chord_m)


@dataclass(frozen=True)
class Panel:
    """A planform with a section at each end: one bay of a loft."""

    planform: Planform
    root: Section
    tip: Section

    def girth_m(self, side: Side, at: Literal["root", "tip"]) -> float:
        """Arc length of one side at the root or the tip [m].

        >>> section = naca4("0012")
        >>> round(Panel(Planform(3, 1.2, 0.6), section, section).girth_m("upper", "tip"), 3)
        0.612
        """
        section, chord = (
            (self.root, self.planform.root_chord_m) if at == "root" else (self.tip, self.planform.tip_chord_m)
        )
        return section_girth(section, side) * chord

    @lru_cache(maxsize=500)  # noqa: B019 (a panel is only figures, and a change to one part asks for all again)
    def skin_area_m2(self, side: Side) -> float:
        """Area of one side of the loft, triangulated [m²].

        With one section from root to tip every strip is flat and the figure is that of the
        polygon; with two, the twisted strips are cut into 24 along the span.

        >>> section = naca4("0012")
        >>> panel = Panel(Planform(3, 1.2, 0.6), section, section)
        >>> round(panel.skin_area_m2("upper"), 3)  # a little more than the planform's 2.7 m²
        2.753
        """
        root, tip = self.root.side(side), self.tip.side(side)
        root, tip = _matched(root, tip)
        plan = self.planform
        strips = 1 if self.root.side(side).shape == self.tip.side(side).shape and np.allclose(root, tip) else _STRIPS
        share = np.linspace(0, 1, strips + 1)[:, None, None]
        at_root = np.column_stack((root[:, 0], np.zeros(len(root)), root[:, 1])) * plan.root_chord_m
        at_tip = np.column_stack((tip[:, 0], np.zeros(len(tip)), tip[:, 1])) * plan.tip_chord_m
        at_tip += np.array([plan.sweep_m, plan.span_m, 0.0])
        grid = at_root[None] * (1 - share) + at_tip[None] * share
        a, b, c, d = grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]
        first = np.linalg.norm(np.cross(b - a, c - a), axis=-1)
        second = np.linalg.norm(np.cross(c - a, d - a), axis=-1)
        return float((first.sum() + second.sum()) / 2)


@dataclass(frozen=True)
class Station:
    """A section of a loft.

    Parameters
    ----------
    along_m, chord_m, leading_m : float
        How far along the span it stands, its chord, and how far aft its leading edge lies [m].
    section : Section
        In chords.
    """

    along_m: float
    chord_m: float
    leading_m: float
    section: Section


@dataclass(frozen=True)
class Loft:
    """Sections at two stations along the span or more, root first, straight between them.

    Raises
    ------
    Refused
        If there are fewer than two, or one does not lie beyond the one before.
    """

    stations: tuple[Station, ...]

    def __post_init__(self) -> None:
        between("stations", len(self.stations), 2, 200, name="the number of stations")
        _ = self.bays

    @cached_property
    def bays(self) -> tuple[Panel, ...]:
        """The panels between its stations."""
        return tuple(
            Panel(
                Planform(b.along_m - a.along_m, a.chord_m, b.chord_m, b.leading_m - a.leading_m), a.section, b.section
            )
            for a, b in pairwise(self.stations)
        )

    @property
    def span_m(self) -> float:
        """From its first station to its last [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0.5, 1, 0, flat), Station(2.5, 0.5, 0.1, flat))).span_m
        2.0
        """
        return self.stations[-1].along_m - self.stations[0].along_m

    @property
    def area_m2(self) -> float:
        """Area seen from above [m²].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, 0, flat), Station(2, 1, 0, flat), Station(4, 0.5, 0.1, flat))).area_m2
        3.5
        """
        return sum(bay.planform.area_m2 for bay in self.bays)

    @property
    def leading_edge_m(self) -> float:
        """Length of the leading edge [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, 0, flat), Station(4, 1, 3, flat))).leading_edge_m
        5.0
        """
        return sum(bay.planform.leading_edge_m for bay in self.bays)

    @property
    def trailing_edge_m(self) -> float:
        """Length of the trailing edge [m].

        >>> flat = naca4("0009")
        >>> Loft((Station(0, 1, 0, flat), Station(4, 1, 3, flat))).trailing_edge_m
        5.0
        """
        return sum(bay.planform.trailing_edge_m for bay in self.bays)

    def girth_m(self, side: Side, at: Literal["root", "tip"]) -> float:
        """Arc length of one side at the root or the tip [m].

        >>> flat = naca4("0012")
        >>> round(Loft((Station(0, 1.2, 0, flat), Station(3, 0.6, 0, flat))).girth_m("upper", "tip"), 3)
        0.612
        """
        return self.bays[0 if at == "root" else -1].girth_m(side, at)

    def skin_area_m2(self, side: Side) -> float:
        """Area of one side, triangulated bay by bay [m²].

        >>> flat = naca4("0012")
        >>> root, middle, tip = Station(0, 1.2, 0, flat), Station(1, 1.0, 0, flat), Station(3, 0.6, 0, flat)
        >>> round(Loft((root, tip)).skin_area_m2("upper"), 3), round(Loft((root, middle, tip)).skin_area_m2("upper"), 3)
        (2.753, 2.753)
        """
        return sum(bay.skin_area_m2(side) for bay in self.bays)

    def outline(self, hand: Hand) -> tuple[Point, ...]:
        """Planform corners (y to the side, x aft) [m]: leading edge from root to tip, then the trailing one back.

        Seen from above with the nose up, a left one lies on negative y.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, 0, flat), Station(3, 0.6, 0.1, flat))).outline("right")
        ((0, 0), (3, 0.1), (3, 0.7), (0, 1.2))
        """
        leading = [(row.along_m, row.leading_m) for row in self.stations]
        trailing = [(row.along_m, row.leading_m + row.chord_m) for row in reversed(self.stations)]
        return tuple((mirrored(-y, hand), x) for y, x in (*leading, *trailing))

    def _edge(self, along_m: float) -> tuple[float, float]:
        """Leading edge and chord at a distance along the span [m]."""
        at = [row.along_m for row in self.stations]
        leads, chords = [row.leading_m for row in self.stations], [row.chord_m for row in self.stations]
        return float(np.interp(along_m, at, leads)), float(np.interp(along_m, at, chords))

    def point(self, along: float, across: float, hand: Hand) -> Point:
        """A place on the planform, in the coordinates of its outline [m], by shares of its span and of the chord there.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, 0, flat), Station(3, 0.6, 0.1, flat))).point(0.5, 0, "right")
        (1.5, 0.05)
        """
        first, last = self.stations[0].along_m, self.stations[-1].along_m
        side = first + along * (last - first)
        leads, chord = self._edge(side)
        return mirrored(-side, hand), leads + across * chord

    def shares(self, at: Point, hand: Hand) -> tuple[float, float] | None:
        """The shares of span and chord of a place on its outline; None beside the part.

        >>> flat = naca4("0012")
        >>> Loft((Station(0, 1.2, 0, flat), Station(3, 0.6, 0.1, flat))).shares((1.5, 0.05), "right")
        (0.5, 0.0)
        """
        first, last = self.stations[0].along_m, self.stations[-1].along_m
        side = -mirrored(at[0], hand)
        leads, chord = self._edge(side)
        along, across = (side - first) / (last - first), (at[1] - leads) / chord
        inside = -0.01 <= along <= 1.01 and -0.02 <= across <= 1.02
        return (min(max(along, 0.0), 1.0), min(max(across, 0.0), 1.0)) if inside else None


def mirrored(value: float, hand: Hand) -> float:
    """The one mirror: designs are drawn left-handed; what is measured to the side, or turned,
    changes sign on the right-hand part.

    >>> mirrored(45, "left"), mirrored(45, "right")
    (45, -45)
    """
    return value if hand == "left" else -value


def _matched(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """Both sides at the union of their arc-length fractions, so that neither loses a corner."""
    first, second = arc_lengths(one), arc_lengths(other)
    first, second = first / first[-1], second / second[-1]
    at = np.unique(np.concatenate((first, second)))
    return (
        np.column_stack([np.interp(at, first, one[:, i]) for i in (0, 1)]),
        np.column_stack([np.interp(at, second, other[:, i]) for i in (0, 1)]),
    )
