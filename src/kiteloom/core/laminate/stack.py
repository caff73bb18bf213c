"""Ply stack → thickness, weight, resin, symmetry, code.

References
----------
CMH-17 / MIL-HDBK-17: ply thickness m_f/(ρ_f·V_f) and volume fraction from weight fraction.
"""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass, replace
from itertools import pairwise

from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.laminate.zones import Zone, checked
from kiteloom.core.shape.loft import Hand, mirrored
from kiteloom.core.stores.materials import Cloth, CoreSheet

#: More zones than this are no ply book that somebody lays.
MOST_ZONES = 40
#: Each laying-up of one side of a core, as it is called; there are at most so many.
STAGES = ("first bag", "second bag", "third bag", "fourth bag")
MOST_STAGES = len(STAGES)
#: Where a ply lies that lies in no zone.
EVERYWHERE = "all of the side"


@dataclass(frozen=True)
class Ply:
    """One cloth at one angle [°], −180 to 180; see `true_angle` for what the angle means.

    ``zone`` names where it lies, ``""`` everywhere; ``stage`` counts the layings-up on its side of the core.
    """

    cloth: Cloth
    angle_deg: float
    zone: str = ""
    stage: int = 1

    def __post_init__(self) -> None:
        between("angle_deg", self.angle_deg, -180, 180, unit="°", name="angle")
        between("stage", self.stage, 1, MOST_STAGES, name="the stage of a ply")


@dataclass(frozen=True)
class PlyFigures:
    """One wet-out ply: thickness [mm], fibre volume fraction [-], resin [g/m²]."""

    thickness_mm: float
    fibre_volume_fraction: float
    resin_g_m2: float


def ply_figures(cloth: Cloth, resin_density_g_cm3: float) -> PlyFigures:
    """Thickness and resin of one ply.

    Parameters
    ----------
    resin_density_g_cm3 : float
        Cured resin [g/cm³]; above 0.

    Notes
    -----
    No voids: m_r = m_f·(1/w_f − 1), V_f = (m_f/ρ_f)/(m_f/ρ_f + m_r/ρ_r), t = m_f/(ρ_f·V_f).

    Examples
    --------
    >>> figures = ply_figures(Cloth("glass", 290, 2.56, 0.55), 1.15)
    >>> round(figures.fibre_volume_fraction, 3), round(figures.thickness_mm, 3)
    (0.354, 0.32)
    """
    between("resin_density_g_cm3", resin_density_g_cm3, 0.1, 25, unit="g/cm³")
    resin = cloth.areal_weight_g_m2 * (1 / cloth.fibre_weight_fraction - 1)
    fibre_volume, resin_volume = cloth.areal_weight_g_m2 / cloth.fibre_density_g_cm3, resin / resin_density_g_cm3
    return PlyFigures((fibre_volume + resin_volume) / 1000, fibre_volume / (fibre_volume + resin_volume), resin)


@dataclass(frozen=True)
class Stack:
    """A ply book, outside to inside, which is also the order it is laid in a mould.

    Parameters
    ----------
    plies : tuple of Ply
    core : CoreSheet or None
    core_after : int
        How many plies lie outside the core.
    zones : tuple of Zone
        Where plies may lie that do not cover all of the side.
    core_zone : str
        Where the core lies; ``""`` everywhere.

    Raises
    ------
    Refused
        Without a ply; where a ply or the core lies in a zone that is not there, two zones have one name, or a ply is
        laid before one of an earlier stage.
    """

    plies: tuple[Ply, ...]
    core: CoreSheet | None = None
    core_after: int = 0
    zones: tuple[Zone, ...] = ()
    core_zone: str = ""

    def __post_init__(self) -> None:
        if not self.plies:
            raise Refused("plies", "plies is empty; at least 1 ply is wanted")
        self._check_zones()
        if self.core is not None:
            between("core.after_ply", self.core_after, 0, len(self.plies), name="plies outside the core")
            between(
                "core.thickness_mm", self.core.thickness_mm, 0, 1000, unit="mm", open_low=True, name="core thickness"
            )
            between(
                "core.density_kg_m3", self.core.density_kg_m3, 0, 2000, unit="kg/m³", open_low=True, name="core density"
            )
            between(
                "core.resin_uptake_g_m2_per_side",
                self.core.resin_uptake_g_m2_per_side,
                0,
                5000,
                unit="g/m²",
                name="core resin per side",
            )

    def _check_zones(self) -> None:
        names: set[str] = set()
        between("zones", len(self.zones), 0, MOST_ZONES, name="the number of zones")
        for n, zone in enumerate(self.zones):
            checked(zone, n)
            if zone.name.lower() in names:
                raise Refused(f"zones.{n}.name", f"two zones are called “{zone.name}”; each wants its own name")
            names.add(zone.name.lower())
        there = ", ".join(f"“{zone.name}”" for zone in self.zones) or "no zone at all"
        known = {"", *(zone.name for zone in self.zones)}
        for n, ply in enumerate(self.plies):
            if ply.zone not in known:
                raise Refused(
                    f"plies.{n}.zone", f"ply {n + 1} lies in zone “{ply.zone}”, which is not there; {there} is"
                )
        if self.core_zone not in known:
            raise Refused("core.zone", f"the core lies in zone “{self.core_zone}”, which is not there; {there} is")
        for n, (before, ply) in enumerate(pairwise(self.plies), 1):
            if ply.stage < before.stage and not (self.core is not None and n == self.core_after):
                why = f"ply {n + 1} is laid in stage {ply.stage}, after one of stage {before.stage}"
                raise Refused(f"plies.{n}.stage", f"{why}; a side's stages follow one another")

    def lies_in(self, name: str) -> bool:
        """Whether a ply, the core or something let into it lies in a zone of that name.

        >>> SANDWICH.lies_in("")
        True
        """
        there = {ply.zone for ply in self.plies} | {zone.name for zone in self.hard}
        return name in there or (self.core is not None and self.core_zone == name)

    def zone(self, name: str) -> Zone | None:
        """A zone by its name; None for all of the side."""
        return next((zone for zone in self.zones if zone.name == name), None)

    def under(self, names: frozenset[str]) -> tuple[tuple[Ply, ...], int | None]:
        """The plies where some zones lie over each other, and after how many of them the core; None without one there.

        >>> from kiteloom.core.laminate.zones import Band
        >>> stack = replace(SANDWICH, plies=(SANDWICH.plies[0], replace(SANDWICH.plies[1], zone="root"),
        ...                 SANDWICH.plies[2]), zones=(Zone("root", Band(0, 1)),))
        >>> len(stack.under(frozenset())[0]), stack.under(frozenset({"root"}))[1]
        (2, 2)
        """
        here = names | {""}
        plies = tuple(ply for ply in self.plies if ply.zone in here)
        if self.core is None or self.core_zone not in here:
            return plies, None
        return plies, sum(ply.zone in here for ply in self.plies[: self.core_after])

    @property
    def hard(self) -> tuple[Zone, ...]:
        """Its hard points: zones where something is let into the core; none without a core."""
        return tuple(zone for zone in self.zones if zone.insert) if self.core is not None else ()

    @property
    def outside(self) -> tuple[Ply, ...]:
        """Plies outside the core; all of them without one.

        >>> [ply.angle_deg for ply in SANDWICH.outside]
        [45, 0]
        """
        return self.plies[: self.core_after] if self.core else self.plies

    @property
    def inside(self) -> tuple[Ply, ...]:
        """Plies inside the core.

        >>> [ply.angle_deg for ply in SANDWICH.inside]
        [45]
        """
        return self.plies[self.core_after :] if self.core else ()


def laid_by_hand(stack: Stack) -> Stack:
    """The same stack laid by hand, without a bag: wetter plies.

    >>> [ply.cloth.fibre_weight_fraction for ply in laid_by_hand(SANDWICH).plies]
    [0.5, 0.5, 0.5]
    """
    plies = []
    for ply in stack.plies:
        cloth = ply.cloth
        assumed = cloth.assumed - {"fibre_weight_fraction"}
        if "hand_weight_fraction" in cloth.assumed:
            assumed |= {"fibre_weight_fraction"}
        share = cloth.hand_weight_fraction
        plies.append(replace(ply, cloth=replace(cloth, fibre_weight_fraction=share, assumed=assumed)))
    return replace(stack, plies=tuple(plies))


@dataclass(frozen=True)
class StackFigures:
    """What a stack weighs and measures, per square metre of skin."""

    plies: tuple[PlyFigures, ...]
    thickness_mm: float
    fibre_g_m2: float
    resin_g_m2: float
    core_g_m2: float
    symmetric: bool
    balanced: bool
    code: str

    @property
    def areal_weight_g_m2(self) -> float:
        """Fibre, resin and core [g/m²].

        >>> round(stack_figures(SANDWICH, 1.15).areal_weight_g_m2)
        2288
        """
        return self.fibre_g_m2 + self.resin_g_m2 + self.core_g_m2


def true_angle(angle_deg: float, hand: Hand) -> float:
    """A design's angle on the part of one hand [°], above −90 and up to 90.

    Seen from outside the part; 0° along the span from root to tip; positive from there
    toward the leading edge on the left-hand part. The right-hand part is its mirror image.

    Examples
    --------
    >>> true_angle(45, "left"), true_angle(45, "right"), true_angle(135, "left"), true_angle(-90, "right")
    (45, -45, -45, 90)
    """
    return 90 - (90 - mirrored(angle_deg, hand)) % 180


def warp_direction(angle_deg: float, hand: Hand) -> tuple[float, float]:
    """Unit vector of a ply's warp on the planform as `Panel.outline` draws it (to the side, aft).

    >>> [round(x, 3) for x in warp_direction(45, "left")]
    [-0.707, -0.707]
    """
    turned = math.radians(angle_deg)
    return mirrored(-math.cos(turned), hand), -math.sin(turned)


def _fibre_directions(ply: Ply) -> tuple[float, ...]:
    """Angles whose fibres the ply holds, above −90 and up to 90, in order."""
    turned = round(true_angle(ply.angle_deg, "left"), 6)
    if not ply.cloth.balanced:
        return (turned,)
    return tuple(sorted((turned, round(true_angle(turned + 90, "left"), 6))))


def _same_cloth(cloth: Cloth) -> tuple[object, ...]:
    """What two plies must have alike to be of one cloth, by more than its name."""
    return (cloth.name, cloth.areal_weight_g_m2, cloth.fibre_density_g_cm3, cloth.fibre_weight_fraction)


def is_symmetric(stack: Stack) -> bool:
    """Whether cloth, weight and angle are the same about the mid-plane, core included.

    A stitched cloth is layers at several heights: upside down it would be needed for its mirror image,
    and plies are laid face up, so nothing with one in it is symmetric.

    >>> is_symmetric(SANDWICH)  # 45 and 0 outside the core, 45 inside
    False
    """
    if any(ply.cloth.stitched for ply in stack.plies):
        return False
    layers: list[object] = [(_same_cloth(ply.cloth), _fibre_directions(ply)) for ply in stack.plies]
    if stack.core is not None:
        layers.insert(stack.core_after, "core")
    return layers == layers[::-1]


def is_balanced(stack: Stack) -> bool:
    """Whether every cloth has as much fibre at −θ as at +θ; 0° and 90° need no partner.

    >>> tape = Cloth("tape", 300, 1.8, 0.6)
    >>> is_balanced(Stack((Ply(tape, 45),))), is_balanced(Stack((Ply(tape, 45), Ply(tape, -45))))
    (False, True)
    """
    weights: dict[tuple[object, float], float] = defaultdict(float)
    for ply in stack.plies:
        directions = _fibre_directions(ply)
        for angle in directions:
            if abs(angle) not in (0.0, 90.0):
                sign = 1 if angle > 0 else -1
                weights[_same_cloth(ply.cloth), abs(angle)] += sign * ply.cloth.areal_weight_g_m2 / len(directions)
    return all(abs(weight) < 1e-6 for weight in weights.values())


def stack_code(stack: Stack, hand: Hand = "left") -> str:
    """The stack in short, outside to inside: ``[45/0/core/0/45]``.

    >>> stack_code(SANDWICH)
    '[45/0/core/45]'
    """
    names = [plain(true_angle(ply.angle_deg, hand)) for ply in stack.plies]
    if stack.core is not None:
        names.insert(stack.core_after, "core")
    return f"[{'/'.join(names)}]"


def stack_figures(stack: Stack, resin_density_g_cm3: float) -> StackFigures:
    """Thickness and weights of a whole stack, wet out, without voids.

    Parameters
    ----------
    resin_density_g_cm3 : float
        Cured resin [g/cm³].

    Notes
    -----
    Resin the core takes up fills its cells: it weighs, but adds no thickness. A face that no ply lies on
    takes up none.

    >>> found = stack_figures(SANDWICH, 1.15)
    >>> round(found.thickness_mm, 2), round(found.fibre_g_m2), found.code
    (8.86, 840, '[45/0/core/45]')
    """
    plies = tuple(ply_figures(ply.cloth, resin_density_g_cm3) for ply in stack.plies)
    thickness = sum(ply.thickness_mm for ply in plies)
    resin = sum(ply.resin_g_m2 for ply in plies)
    core_g_m2 = 0.0
    if stack.core is not None:
        thickness += stack.core.thickness_mm
        resin += (bool(stack.outside) + bool(stack.inside)) * stack.core.resin_uptake_g_m2_per_side
        core_g_m2 = stack.core.thickness_mm * stack.core.density_kg_m3
    return StackFigures(
        plies,
        thickness,
        sum(ply.cloth.areal_weight_g_m2 for ply in stack.plies),
        resin,
        core_g_m2,
        is_symmetric(stack),
        is_balanced(stack),
        stack_code(stack),
    )
