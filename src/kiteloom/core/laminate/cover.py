"""A ply book on a part's side → where each ply lies, what it covers, and the stacks side by side.

A ply of a zone with a step ends short of the one of that zone laid before it, by so much.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from shapely import difference, intersection, union_all
from shapely.geometry.base import BaseGeometry

from kiteloom.core.laminate.stack import Ply, Stack, is_balanced, is_symmetric, ply_figures, stack_code
from kiteloom.core.laminate.zones import INSERTS, stepped, zone_on
from kiteloom.core.shape.loft import Hand
from kiteloom.core.shape.skin import Skin

#: Less than this of a side is where two edges nearly meet, not a piece of it [-].
_SLIVER = 1e-7


@dataclass(frozen=True)
class Covered:
    """What a ply book covers [m²].

    ``plies`` is each ply by itself, ``core`` the core; ``outside`` and ``inside`` what lies under any ply of that side
    of it, by stage; ``core_faces`` what of the core's outer and of its inner face a ply lies on.
    """

    plies: tuple[float, ...]
    core: float
    outside: tuple[float, ...]
    inside: tuple[float, ...]
    core_faces: tuple[float, float]
    inserts: tuple[float, ...] = ()
    """What is let into the core, in the order of its hard points."""
    scores_ml: float = 0.0
    """What fills the open scores of the core [ml]."""


def even(stack: Stack, area_m2: float) -> Covered:
    """A book whose every ply covers the same.

    >>> even(SANDWICH, 2.0).core_faces
    (2.0, 2.0)
    """
    sides = [tuple(area_m2 for _ in stages(side)) for side in (stack.outside, stack.inside)]
    core = area_m2 if stack.core else 0.0
    faces = (core * bool(stack.outside), core * bool(stack.inside))
    return Covered((area_m2,) * len(stack.plies), core, sides[0], sides[1], faces)


def together(one: Covered, other: Covered) -> Covered:
    """What one and the same book covers on two sides.

    >>> together(even(SANDWICH, 2.0), even(SANDWICH, 1.5)).plies
    (3.5, 3.5, 3.5)
    """

    def both(a: tuple[float, ...], b: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(x + y for x, y in zip(a, b, strict=True))

    outer, inner = both(one.core_faces, other.core_faces)
    return Covered(
        both(one.plies, other.plies),
        one.core + other.core,
        both(one.outside, other.outside),
        both(one.inside, other.inside),
        (outer, inner),
        both(one.inserts, other.inserts),
        one.scores_ml + other.scores_ml,
    )


def alike(areas: Sequence[float]) -> tuple[float, int]:
    """Areas as so much, so many times; all together, once, where they differ [m²].

    >>> alike((2.0, 2.0)), alike((2.0, 0.5))
    ((2.0, 2), (2.5, 1))
    """
    return (areas[0], len(areas)) if len(set(areas)) == 1 else (sum(areas), 1)


def resin_g(stack: Stack, covered: Covered, plies: Sequence[int], resin_density_g_cm3: float) -> float:
    """The resin that stays in some plies of a book [g].

    >>> round(resin_g(SANDWICH, even(SANDWICH, 2.0), range(2), 1.15))
    811
    """
    return sum(
        covered.plies[n] * ply_figures(stack.plies[n].cloth, resin_density_g_cm3).resin_g_m2 for n in plies
    )  # fmt: skip


def stages(plies: tuple[Ply, ...]) -> tuple[int, ...]:
    """The stages in which plies of one side are laid, in order.

    >>> stages(SANDWICH.outside)
    (1,)
    """
    return tuple(dict.fromkeys(ply.stage for ply in plies))


@dataclass(frozen=True)
class Region:
    """A piece of a side that the same zones lie over, and the stack there.

    ``plies`` are places in the book; ``code`` is empty brackets where nothing lies.
    """

    zones: tuple[str, ...]
    area_m2: float
    plies: tuple[int, ...]
    thickness_mm: float
    code: str
    symmetric: bool
    balanced: bool


@dataclass(frozen=True, eq=False)
class Cover:
    """A ply book as it lies on a side."""

    stack: Stack
    skin: Skin

    @cached_property
    def zones(self) -> dict[str, BaseGeometry]:
        """Each zone laid flat, without its steps; ``""`` is all of the side."""
        found = {zone.name: zone_on(self.skin, zone, n) for n, zone in enumerate(self.stack.zones)}
        return {"": self.skin.whole, **found}

    @cached_property
    def plies(self) -> tuple[BaseGeometry, ...]:
        """Each ply laid flat, with its step."""
        before: dict[str, int] = defaultdict(int)
        found = []
        for ply in self.stack.plies:
            zone = self.stack.zone(ply.zone)
            by = zone.step_m * before[ply.zone] if zone is not None else 0.0
            found.append(stepped(self.skin, self.zones[ply.zone], by))
            before[ply.zone] += 1
        return tuple(found)

    @cached_property
    def core(self) -> BaseGeometry | None:
        """The core laid flat, cut out where something is let into it; None without one."""
        if self.stack.core is None:
            return None
        whole = self.zones[self.stack.core_zone]
        hard = self.inserts
        return difference(whole, union_all(list(hard.values()))) if hard else whole

    @cached_property
    def inserts(self) -> dict[str, BaseGeometry]:
        """What is let into the core, by its zone, laid flat; nothing without a core."""
        if self.stack.core is None:
            return {}
        within = self.zones[self.stack.core_zone]
        return {zone.name: intersection(self.zones[zone.name], within) for zone in self.stack.hard}

    def under(self, plies: tuple[int, ...]) -> BaseGeometry:
        """What lies under any of some plies."""
        return union_all([self.plies[n] for n in plies])

    @cached_property
    def covered(self) -> Covered:
        """The areas of all of it [m²].

        >>> from kiteloom.core.laminate.zones import Band, Zone
        >>> zones = (Zone("root", Band(0, 1), step_m=0.05),)
        >>> plies = (SANDWICH.plies[0], *(replace(SANDWICH.plies[1], zone="root"),) * 2)
        >>> found = cover_of(Stack(plies, zones=zones), skin_of(PLANK, "upper")).covered
        >>> [round(area, 3) for area in found.plies], round(found.outside[0], 3)
        ([4.079, 1.02, 0.969], 4.079)
        """
        area, outer = self.skin.area_of, len(self.stack.outside)
        numbered = tuple(enumerate(self.stack.plies))

        def by_stage(side: tuple[tuple[int, Ply], ...]) -> tuple[float, ...]:
            return tuple(
                area(self.under(tuple(n for n, ply in side if ply.stage == stage)))
                for stage in stages(tuple(ply for _, ply in side))
            )

        faces = [0.0, 0.0]
        if self.core is not None:
            for n, side in enumerate((numbered[:outer], numbered[outer:])):
                faces[n] = area(intersection(self.core, self.under(tuple(i for i, _ in side)))) if side else 0.0
        return Covered(
            tuple(area(piece) for piece in self.plies),
            area(self.core) if self.core is not None else 0.0,
            by_stage(numbered[:outer]),
            by_stage(numbered[outer:]),
            (faces[0], faces[1]),
            tuple(area(piece) for piece in self.inserts.values()),
        )

    @cached_property
    def _pieces(self) -> dict[tuple[str, ...], BaseGeometry]:
        pieces: dict[tuple[str, ...], BaseGeometry] = {(): self.skin.whole}
        for zone in self.stack.zones:
            if zone.no_joints and not self.stack.lies_in(zone.name):
                continue  # Stated for its joints alone: the stack under it is that around it.
            split: dict[tuple[str, ...], BaseGeometry] = {}
            for names, piece in pieces.items():
                split[names] = difference(piece, self.zones[zone.name])
                split[*names, zone.name] = intersection(piece, self.zones[zone.name])
            pieces = {names: piece for names, piece in split.items() if piece.area > _SLIVER * self.skin.whole.area}
        return pieces

    def piece(self, names: tuple[str, ...]) -> BaseGeometry:
        """What just these zones lie over, laid flat."""
        return self._pieces[names]

    def regions(self, resin_density_g_cm3: float, hand: Hand = "left") -> tuple[Region, ...]:
        """The side split by which zones lie over it, steps left out; first what no zone lies over.

        >>> from kiteloom.core.laminate.zones import Band, Zone
        >>> zones = (Zone("root", Band(0, 1)), Zone("nose", Band(0, 4, 0, 0.25)))
        >>> plies = (SANDWICH.plies[0], replace(SANDWICH.plies[1], zone="root"))
        >>> cover = cover_of(Stack(plies, zones=zones), skin_of(PLANK, "upper"))
        >>> [(row.zones, round(row.area_m2, 2), row.code) for row in cover.regions(1.15)]
        [((), 2.26, '[45]'), (('root',), 0.75, '[45/0]'), (('root', 'nose'), 0.27, '[45/0]'), (('nose',), 0.8, '[45]')]
        """
        order = [zone.name for zone in self.stack.zones]
        ranked = sorted(self._pieces, key=lambda names: [order.index(name) for name in names])
        return tuple(self._region(names, self._pieces[names], resin_density_g_cm3, hand) for names in ranked)

    def _region(self, names: tuple[str, ...], piece: BaseGeometry, density: float, hand: Hand) -> Region:
        stack = self.stack
        plies, core_after = stack.under(frozenset(names))
        thickness = sum(ply_figures(ply.cloth, density).thickness_mm for ply in plies)
        if core_after is not None and stack.core is not None:
            thickness += stack.core.thickness_mm
        core = stack.core if core_after is not None else None
        here = Stack(tuple(Ply(ply.cloth, ply.angle_deg) for ply in plies), core, core_after or 0) if plies else None
        return Region(
            names,
            self.skin.area_of(piece),
            tuple(n for n, ply in enumerate(stack.plies) if ply.zone in {"", *names}),
            thickness,
            stack_code(here, hand) if here else "[core]" if core is not None else "[]",
            here is None or is_symmetric(here),
            here is None or is_balanced(here),
        )


@lru_cache(maxsize=100)
def cover_of(stack: Stack, skin: Skin) -> Cover:
    """A ply book on a side; one and the same for the same two.

    Raises
    ------
    Refused
        If a zone does not lie on the side.
    """
    cover = Cover(stack, skin)
    _ = cover.zones
    return cover


@dataclass(frozen=True)
class PlyWeight:
    """One ply wet out: its fibre and its resin [g]."""

    fibre_g: float
    resin_g: float


@dataclass(frozen=True)
class BookWeights:
    """A ply book wet out: its plies, its core, the resin that takes up, and what is let into it [g]."""

    plies: tuple[PlyWeight, ...]
    core_g: float
    core_resin_g: float
    inserts_g: tuple[float, ...] = ()

    @property
    def fibre_g(self) -> float:
        """All cloth [g]."""
        return sum(ply.fibre_g for ply in self.plies)

    @property
    def resin_g(self) -> float:
        """All resin that stays, in plies and core [g]."""
        return sum(ply.resin_g for ply in self.plies) + self.core_resin_g

    @property
    def total_g(self) -> float:
        """All of it [g]."""
        return self.fibre_g + self.resin_g + self.core_g + sum(self.inserts_g)


def inserts_g(stack: Stack, covered: Covered) -> tuple[float, ...]:
    """What is let into the core, in the order of its hard points [g].

    >>> inserts_g(SANDWICH, even(SANDWICH, 2.0))
    ()
    """
    thick = stack.core.thickness_mm if stack.core is not None else 0.0
    return tuple(
        area * thick * INSERTS[zone.insert] for zone, area in zip(stack.hard, covered.inserts, strict=True)
    )  # fmt: skip


def book_weights(stack: Stack, covered: Covered, resin_density_g_cm3: float) -> BookWeights:
    """What a ply book weighs.

    >>> round(book_weights(SANDWICH, even(SANDWICH, 2.0), 1.15).total_g)
    4577
    """
    plies = tuple(
        PlyWeight(
            area * ply.cloth.areal_weight_g_m2, area * ply_figures(ply.cloth, resin_density_g_cm3).resin_g_m2
        )
        for ply, area in zip(stack.plies, covered.plies, strict=True)
    )  # fmt: skip
    core = stack.core
    if core is None:
        return BookWeights(plies, 0.0, 0.0)
    core_g = covered.core * core.thickness_mm * core.density_kg_m3
    drinks = sum(covered.core_faces) * core.resin_uptake_g_m2_per_side + covered.scores_ml * resin_density_g_cm3
    return BookWeights(plies, core_g, drinks, inserts_g(stack, covered))
