"""Shapes that are flat, measured by strips, or like pieces: the same questions answered as a loft answers."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np

from kiteloom.core.base.fields import Asked, asked_of
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.shape.loft import Hand, Loft, Ring, mirrored
from kiteloom.core.shape.outline import Outline
from kiteloom.core.shape.section import Point, Side

_LENGTH: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}
_ACROSS: dict[str, Any] = {"dimension": "length", "unit": ("m", "in")}


class _Flat:
    """What every shape without a section answers from its rings: places by shares of the box around it."""

    def rings(self) -> tuple[Ring, ...]:
        """Closed lines, x along from root to tip, y toward the leading edge [m]."""
        raise NotImplementedError

    def outline(self, hand: Hand) -> tuple[Ring, ...]:
        """As it is drawn (y to the side, x aft) [m]; a left one lies on negative y."""
        return tuple(tuple((mirrored(-x, hand), -y) for x, y in ring) for ring in self.rings())

    @cached_property
    def _box(self) -> tuple[float, float, float, float]:
        points = np.array([point for ring in self.rings() for point in ring])
        (left, low), (right, high) = points.min(axis=0), points.max(axis=0)
        return float(left), float(low), float(right), float(high)

    @property
    def edge_m(self) -> float:
        """All its edges [m]."""
        raise NotImplementedError

    def around_m(self, _: Side) -> float:
        """All round one side: its edges [m]."""
        return self.edge_m

    @property
    def span_m(self) -> float:
        """How long it is along its axis [m]."""
        left, _, right, _ = self._box
        return right - left

    def point(self, along: float, across: float, hand: Hand) -> Point:
        """A place by its shares of the box around it, from root to tip and from its leading edge aft [m]."""
        left, low, right, high = self._box
        return mirrored(-(left + along * (right - left)), hand), -(high - across * (high - low))

    def shares(self, at: Point, hand: Hand) -> tuple[float, float] | None:
        """The shares of a place of its drawing; None beside it."""
        left, low, right, high = self._box
        along = (-mirrored(at[0], hand) - left) / (right - left)
        across = (high + at[1]) / (high - low)
        inside = -0.02 <= along <= 1.02 and -0.02 <= across <= 1.02
        return (min(max(along, 0.0), 1.0), min(max(across, 0.0), 1.0)) if inside else None


@dataclass(frozen=True)
class Flat(_Flat):
    """A flat outline, or several, with their holes; both faces are alike."""

    outlines: tuple[Outline, ...]

    kind = "outline"

    def __post_init__(self) -> None:
        between("outline", len(self.outlines), 1, 5000, name="the number of outlines")

    def skin_area_m2(self, _: Side) -> float:
        """One face, without its holes [m²].

        >>> Flat((Outline(((0, 0), (1000, 0), (1000, 200), (0, 200))),)).skin_area_m2("upper")
        0.2
        """
        return sum(one.area_mm2 for one in self.outlines) / 1e6

    @property
    def edge_m(self) -> float:
        """All its edges, those of its holes too [m]."""
        return sum(one.edge_mm for one in self.outlines) / 1000

    def rings(self) -> tuple[Ring, ...]:
        """Outer edges and holes [m]."""
        rings = (ring for one in self.outlines for ring in (one.outer, *one.holes))
        return tuple(tuple((x / 1000, y / 1000) for x, y in ring) for ring in rings)


@dataclass(frozen=True)
class StripAt:
    """One measure across a part: how far along it was taken, and what the tape read [m]."""

    at_m: Annotated[float, Asked("Along", **_ACROSS, low=0, high=100)]
    across_m: Annotated[float, Asked("Measured", **_ACROSS, low=0, high=20)]


#: What a tape was laid round: all round the part, or across one face of it.
Round = Literal["all round", "one face"]


@dataclass(frozen=True)
class Strips(_Flat):
    """Girths or widths measured at distances along a part that has no drawing; straight in between.

    Distances count along the surface, as a tape lies on it. All round, either side is taken as half of it.
    """

    strips: tuple[StripAt, ...]
    measured: Round = "one face"

    kind = "strips"

    def __post_init__(self) -> None:
        between("strips", len(self.strips), 2, 200, name="the number of measures")
        if self.measured not in ("all round", "one face"):
            raise Refused("measured", f"“{self.measured}” is not how it was measured; it is all round or one face")
        for n, row in enumerate(self.strips):
            for name, (asked, _) in asked_of(StripAt).items():
                asked.within(f"strips.{n}.{name}", getattr(row, name))
        for n, (before, row) in enumerate(pairwise(self.strips), 1):
            if row.at_m <= before.at_m:
                raise Refused(
                    f"strips.{n}.at_m",
                    f"measure {n + 1} was taken at {plain(row.at_m)} m, measure {n} at {plain(before.at_m)} m; "
                    "each must lie beyond the one before",
                )
        if not any(row.across_m for row in self.strips):
            raise Refused("strips.0.across_m", "every measure is 0 m; at least one must be above 0")

    @cached_property
    def _share(self) -> float:
        return 0.5 if self.measured == "all round" else 1.0

    def skin_area_m2(self, _: Side) -> float:
        """One side: Σ mean measure × distance; half of it where it was measured all round [m²].

        >>> Strips((StripAt(0, 1.2), StripAt(0.5, 0.8)), "all round").skin_area_m2("upper")
        0.25
        """
        whole = sum((b.at_m - a.at_m) * (a.across_m + b.across_m) / 2 for a, b in pairwise(self.strips))
        return whole * self._share

    @property
    def edge_m(self) -> float:
        """Both long edges and both ends, as the strip lies flat [m]."""
        ring = self.rings()[0]
        return sum(math.dist(a, b) for a, b in pairwise((*ring, ring[0])))

    def rings(self) -> tuple[Ring, ...]:
        """One side laid flat, equal to both sides of its middle line [m]."""
        half = [(row.at_m, row.across_m * self._share / 2) for row in self.strips]
        ring = [*half, *((at, -y) for at, y in reversed(half))]
        return (tuple(dict.fromkeys(ring)),)


@dataclass(frozen=True)
class Piece:
    """Like pieces: how many, what they are, and the size of one.

    A face is length × width unless its area is said; all sides of one are both faces and, with a thickness, its edges.
    """

    name: Annotated[str, Asked("What", "words")]
    count: Annotated[int, Asked("How many", "count", low=1, high=2000)]
    length_m: Annotated[float | None, Asked("Length", **_LENGTH, low=0, high=50, open_low=True)] = None
    width_m: Annotated[float | None, Asked("Width", **_LENGTH, low=0, high=20, open_low=True)] = None
    thickness_m: Annotated[float | None, Asked("Thickness", **_LENGTH, low=0, high=5, open_low=True)] = None
    face_m2: Annotated[
        float | None, Asked("One face", dimension="area", unit=("m²", "ft²"), low=0, high=100, open_low=True)
    ] = None

    @property
    def one_face_m2(self) -> float:
        """One face of one piece [m²]; 0 where nothing says it.

        >>> Piece("rib", 1, 1.2, 0.1).one_face_m2, Piece("rib", 1, face_m2=0.08).one_face_m2
        (0.12, 0.08)
        """
        if self.face_m2 is not None:
            return self.face_m2
        return (self.length_m or 0.0) * (self.width_m or 0.0)

    @property
    def all_sides_m2(self) -> float:
        """Both faces of one piece and its edges [m²].

        >>> Piece("block", 1, 0.2, 0.1, 0.05).all_sides_m2.__round__(3)
        0.07
        """
        around = 2 * ((self.length_m or 0.0) + (self.width_m or 0.0))
        return 2 * self.one_face_m2 + around * (self.thickness_m or 0.0)


@dataclass(frozen=True)
class Pieces(_Flat):
    """Sets of like pieces: ribs, stringers, blocks, brackets."""

    pieces: tuple[Piece, ...]

    kind = "pieces"

    def __post_init__(self) -> None:
        between("pieces", len(self.pieces), 1, 200, name="the number of kinds")
        for n, row in enumerate(self.pieces):
            if not row.name.strip():
                raise Refused(f"pieces.{n}.name", "a kind of piece has no name yet")
            for name, (asked, _) in asked_of(Piece).items():
                if getattr(row, name) is not None:
                    asked.within(f"pieces.{n}.{name}", getattr(row, name))
            if row.length_m is None and row.face_m2 is None:
                raise Refused(f"pieces.{n}.length_m", f"{row.name} has neither a length nor a face; one is wanted")

    @property
    def count(self) -> int:
        """How many pieces there are."""
        return sum(row.count for row in self.pieces)

    @property
    def all_sides_m2(self) -> float:
        """All sides of all pieces [m²]."""
        return sum(row.count * row.all_sides_m2 for row in self.pieces)

    @property
    def length_m(self) -> float:
        """All their lengths together [m]."""
        return sum(row.count * (row.length_m or 0.0) for row in self.pieces)

    @property
    def edge_m(self) -> float:
        """Round all of them, where their size is said [m]."""
        return sum(row.count * 2 * (row.length_m + row.width_m) for row in self.pieces if row.length_m and row.width_m)

    def skin_area_m2(self, _: Side) -> float:
        """One face of all of them [m²].

        >>> Pieces((Piece("rib", 13, 1.2, 0.1), Piece("block", 4, face_m2=0.02))).skin_area_m2("upper").__round__(3)
        1.64
        """
        return sum(row.count * row.one_face_m2 for row in self.pieces)

    def rings(self) -> tuple[Ring, ...]:
        """One of each kind as a rectangle, one beside the other [m]."""
        return tuple(_row_of(self.pieces))


def _row_of(pieces: Iterable[Piece]) -> Iterable[Ring]:
    down = 0.0
    for row in pieces:
        length = row.length_m or row.one_face_m2**0.5
        width = row.width_m or (row.one_face_m2 / length if row.one_face_m2 else 0.02)
        yield ((0.0, down), (length, down), (length, down - width), (0.0, down - width))
        down -= width * 1.25 + 0.02


#: Whatever a part's shape may be; its ``kind`` says which.
Shape = Loft | Flat | Strips | Pieces
Kind = Literal["loft", "outline", "strips", "pieces"]
#: What each kind is called.
KINDS: dict[Kind, str] = {
    "loft": "by stations",
    "outline": "flat outline",
    "strips": "measured strips",
    "pieces": "like pieces",
}
