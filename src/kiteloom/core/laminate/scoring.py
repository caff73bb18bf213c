"""Where a core must be scored to follow the side it is bedded on: how far apart, how deep, and the resin that fills it.

A sheet bends cold as far as its faces stretch; where the side curves tighter it is cut from its outer face, most of
the way through: what is left bends, and between two cuts it stays flat, standing off by a gap that its bed fills.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from shapely import contains_xy
from shapely.geometry.base import BaseGeometry

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.cover import Cover
from kiteloom.core.shape.section import Floats
from kiteloom.core.stores.materials import CoreSheet

#: A flat strip may stand off the side by so much: its bed still fills it (common practice) [m].
GAP_M = 0.0005
#: Tighter than so many of its thicknesses no scored core follows (common practice) [-].
LEAST = 3.0
#: A scored place narrower than this share of the chord is where two limits nearly meet [-].
_NARROW = 0.002
#: Inside the edge of the core by this its own edge counts as inside [m].
_INSIDE_M = 0.002


@dataclass(frozen=True)
class Scored:
    """Where a core is scored at one place along the span: between two shares of the chord, lines along the span.

    ``radius_m`` is the tightest it follows there, ``apart_m`` and ``deep_m`` how the cuts lie; ``sharp`` is up to, or
    from, which share of the chord it is tighter than a scored core follows, None where it is not.
    """

    at_m: float
    lead: float
    tail: float
    radius_m: float
    apart_m: float
    deep_m: float
    sharp: tuple[float, float] | None = None

    def where(self, units: UnitSystem) -> str:
        """Where it is, in a sentence's part.

        >>> Scored(1.5, 0.0, 0.12, 0.16, 0.0253, 0.0048).where("metric")
        'at 1.500 m from 0 to 12 % of the chord'
        """
        return (
            f"at {show(self.at_m, 'length', units)} from {100 * self.lead:.0f} to {100 * self.tail:.0f} % of the chord"
        )

    def words(self, units: UnitSystem) -> str:
        """How it is scored there, as it is called at the bench.

        >>> Scored(1.5, 0.0, 0.12, 0.16, 0.0253, 0.0048).words("metric")
        'at 1.500 m from 0 to 12 % of the chord, every 25 mm, 5 mm deep'
        """
        return f"{self.where(units)}, {self.cuts(units)}"

    def cuts(self, units: UnitSystem) -> str:
        """How far apart and how deep they are.

        >>> Scored(1.5, 0.0, 0.12, 0.16, 0.0253, 0.0048).cuts("us")
        'every 1 in, 3/16 in deep'
        """
        apart, deep = (show(1000 * value, "step", units) for value in (self.apart_m, self.deep_m))
        return f"every {apart}, {deep} deep"

    def care(self, units: UnitSystem) -> str:
        """That it curves tighter than a scored core follows, where it does; else ``""``."""
        if self.sharp is None:
            return ""
        first, last = (f"{100 * share:.0f}" for share in self.sharp)
        least = show(1000 * self.radius_m, "step", units)
        return (
            f"Between {first} and {last} % of the chord it curves tighter than {least}: no scored sheet of this "
            "thickness follows. End the core before it, or shape it there from a block."
        )


@dataclass(frozen=True)
class Scoring:
    """All of it: place by place along the span, and the resin that fills the open cuts [ml]."""

    rows: tuple[Scored, ...] = ()
    fills_ml: float = 0.0


def apart_m(radius_m: float) -> float:
    """How far apart cuts lie so that a flat strip stands off no more than the bed fills [m]: √(8·R·gap).

    >>> round(apart_m(0.2), 4)
    0.0283
    """
    return math.sqrt(8 * radius_m * GAP_M)


def deep_m(core: CoreSheet, radius_m: float) -> float:
    """How deep they go so that what is left bends to a radius [m]: t·(1 − R ÷ what it bends to unscored).

    >>> round(deep_m(FOAM, 0.25), 4), deep_m(FOAM, 1.0)
    (0.003, 0.0)
    """
    return core.thickness_mm / 1000 * max(1 - radius_m / core.bend_m, 0.0)


@lru_cache(maxsize=200)
def scoring_of(cover: Cover) -> Scoring:
    """How the core of a ply book is scored on its side; nothing without a core, or where it follows unscored.

    >>> from kiteloom.core.laminate.cover import cover_of
    >>> found = scoring_of(cover_of(SANDWICH, skin_of(PLANK, "upper")))
    >>> [(row.at_m, round(row.tail, 2), round(1000 * row.apart_m)) for row in found.rows]
    [(0.0, 0.07, 11), (4.0, 0.07, 11)]
    """
    core, skin, lies = cover.stack.core, cover.skin, cover.core
    if core is None or lies is None or lies.is_empty or skin.bend is None:
        return Scoring()
    found: list[Scored] = []
    fills = []
    places = _places(cover, lies)
    for at in places.tolist():
        bend, girth = skin.bend_at(at)
        inside = _inside(lies, skin.place(np.full(len(skin.across), at), skin.across))
        rows, volume = _scored(core, at, skin.across, bend, girth, inside)
        found += rows
        fills.append(volume)
    return Scoring(tuple(found), 1e6 * float(np.trapezoid(fills, places)))


def _places(cover: Cover, lies: BaseGeometry) -> Floats:
    """The ends of the core along the span, and the stations between them."""
    skin = cover.skin
    left, _, right, _ = lies.bounds
    ends = np.interp([left, right], skin.x_m, skin.at_m)
    return np.array([ends[0], *skin.at_m[(skin.at_m > ends[0]) & (skin.at_m < ends[1])], ends[1]])


def _inside(lies: BaseGeometry, places: Floats) -> NDArray[np.bool_]:
    """Whether the core lies at some places; at its own ends as just inside them."""
    left, _, right, _ = lies.bounds
    x = np.clip(places[:, 0], left + _INSIDE_M, right - _INSIDE_M)
    return np.asarray(contains_xy(lies.buffer(_INSIDE_M / 2), x, places[:, 1]))


def _scored(
    core: CoreSheet, at_m: float, across: Floats, bend: Floats, girth: Floats, inside: NDArray[np.bool_]
) -> tuple[list[Scored], float]:
    """The places of one station that are scored, and what fills its cuts for each metre of span [m²]."""
    sharpest = 1 / (LEAST * core.thickness_mm / 1000)
    rows, fills = [], 0.0
    for first, last in _runs((bend * core.bend_m > 1) & inside):
        if across[last] - across[first] < _NARROW:
            continue
        here = slice(first, last + 1)
        radius = 1 / min(float(bend[here].max()), sharpest)
        sharp = across[here][bend[here] > sharpest]
        deep = deep_m(core, radius)
        follows = np.minimum(bend[here], sharpest)
        # A cut opened by an angle of its spacing over the radius is a wedge: half its depth squared times that angle.
        fills += deep**2 / 2 * float(np.trapezoid(follows, girth[here]))
        rows.append(
            Scored(
                at_m,
                float(across[first]),
                float(across[last]),
                radius,
                apart_m(radius),
                deep,
                (float(sharp.min()), float(sharp.max())) if len(sharp) else None,
            )
        )
    return rows, fills


def _runs(marked: NDArray[np.bool_]) -> Iterator[tuple[int, int]]:
    """Where a row is marked: the first and the last of each run."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], marked.astype(int), [0]))))
    for first, after in zip(edges[::2], edges[1::2], strict=True):
        yield int(first), int(after) - 1


def scoring_figures(row: Scored, core: CoreSheet) -> tuple[Figure, ...]:
    """How the cuts lie at one place, each answering “from what?”.

    >>> [(one.label, round(one.value, 1)) for one in scoring_figures(Scored(0, 0, 0.1, 0.2, 0.0283, 0.0036), FOAM)]
    [('Tightest curve', 200.0), ('Cuts apart', 28.3), ('Cuts deep', 3.6)]
    """
    key = f"score:{row.at_m:g}:{row.lead:.4f}"
    radius = Given("tightest curve", 1000 * row.radius_m, "step")
    bends = Given("bends unscored to", 1000 * core.bend_m, "step", assumed=core.bends_to_m is None)
    thick = Given("thickness of the core", core.thickness_mm, "step")
    gap = Given("gap its bed fills", 1000 * GAP_M, "thickness", assumed=True)
    practice = "Common practice; the core’s maker may say otherwise."
    return (
        Figure(f"{key}:radius", "Tightest curve", 1000 * row.radius_m, "step",
               "radius across the chord of the shape itself, no tighter than a scored core follows", (), practice),
        Figure(f"{key}:apart", "Cuts apart", 1000 * row.apart_m, "step", "√(8 × tightest curve × gap its bed fills)",
               (radius, gap), practice),
        Figure(f"{key}:deep", "Cuts deep", 1000 * row.deep_m, "step",
               "thickness × (1 − tightest curve ÷ what it bends to unscored)", (thick, radius, bends), practice),
    )  # fmt: skip
