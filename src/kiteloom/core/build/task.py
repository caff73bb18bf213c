"""What a recipe works on and what it makes of it: plain values, that screens and plans read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Generic, Literal, TypeVar

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.bond_line import Gap
from kiteloom.core.build.covering import Land
from kiteloom.core.laminate.cover import Cover, Covered, cover_of, even, together
from kiteloom.core.laminate.pieces import Piece
from kiteloom.core.laminate.scoring import Scored
from kiteloom.core.laminate.stack import Stack
from kiteloom.core.need.lengths import CutList
from kiteloom.core.need.resin import Losses, ResinNeed
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Hand
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import skin_of
from kiteloom.core.stores.materials import Material, ResinSheet

G = TypeVar("G")


@dataclass(frozen=True)
class Role:
    """A product a recipe asks for.

    Parameters
    ----------
    key, label : str
        The role's name in the file, and what the builder calls it.
    kinds : tuple of str
        Kinds of data sheet it may be.
    stages : tuple of tuple of str
        Stages its sheet must give: of each tuple any one.
    optional : bool
        Whether a job may do without it; its recipe says where it can't.
    """

    key: str
    label: str
    kinds: tuple[str, ...]
    stages: tuple[tuple[str, ...], ...] = ()
    optional: bool = False


@dataclass(frozen=True)
class Task(Generic[G]):
    """What a recipe works on. Plain values only.

    ``form`` is its part's shape and ``side`` the side that is built; ``stack`` what is laid up;
    ``products`` are by role.
    """

    given: G
    products: Mapping[str, ResinSheet]
    losses: Losses = field(default_factory=Losses)
    form: Shape | None = None
    side: Side | Literal["whole"] = "whole"
    hand: Hand = "left"
    stack: Stack | None = None
    faces: tuple[str, str] = ("One face", "The other face")
    """What the two sides of a joint are called."""
    gaps: tuple[Gap, ...] = ()
    """What the dry fit of a joint showed."""
    materials: Mapping[str, Material] = field(default_factory=dict)
    """Cloth and tape that covers, by role."""
    units: UnitSystem = "metric"
    """In which its words are said."""

    def says(self, value: float, kind: str) -> str:
        """A figure in the shop's own units, as `show` says it.

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> replace(example(recipe_of("skin")), units="us").says(25, "step")
        '1 in'
        """
        return show(value, kind, self.units)

    def area_m2(self) -> float:
        """The area of the side that is built; of both sides together for the whole [m²].

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> example(recipe_of("skin")).area_m2()
        2
        """
        sides: tuple[Side, ...] = ("upper", "lower") if self.side == "whole" else (self.side,)
        return sum(self.shape.skin_area_m2(side) for side in sides)

    def covered_on(self, side: Side) -> Covered:
        """What its ply book covers on one side.

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> example(recipe_of("skin")).covered_on("upper").plies
        (2, 2, 2)
        """
        if not self.laid.zones:
            return even(self.laid, self.shape.skin_area_m2(side))
        return cover_of(self.laid, skin_of(self.shape, side)).covered

    def covered(self) -> Covered:
        """What its ply book covers on the side that is built; on both sides together for the whole.

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> replace(example(recipe_of("skin")), side="whole").covered().plies
        (4, 4, 4)
        """
        return self.covered_on(self.side) if self.side != "whole" else self.covered_on_both()

    def covered_on_both(self) -> Covered:
        """What its ply book covers on both sides together."""
        return together(self.covered_on("upper"), self.covered_on("lower"))

    def lies(self, sides: tuple[Side, ...]) -> tuple[tuple[Side, Cover], ...]:
        """Its ply book as it lies on some sides."""
        return tuple((side, cover_of(self.laid, skin_of(self.shape, side))) for side in sides)

    @property
    def shape(self) -> Shape:
        """Its part's shape; `Refused` without one."""
        if self.form is None:
            raise Refused("shape", "the part has no shape yet; give it one first")
        return self.form

    @property
    def laid(self) -> Stack:
        """What is laid up; `Refused` without a ply.

        >>> from kiteloom.core.build.recipes import recipe_of
        >>> len(example(recipe_of("skin")).laid.plies)
        3
        """
        if self.stack is None or not self.stack.plies:
            raise Refused("plies", "the ply book has 0 plies; at least 1 is wanted")
        return self.stack


@dataclass(frozen=True)
class Need:
    """What a step takes of a product: its key, the role, and how much, with what is lost on the way."""

    step: str
    role: str
    takes: ResinNeed


@dataclass(frozen=True)
class Item:
    """One instruction. ``key`` stays the same; a ply carries its cloth and where its warp runs (side, aft).

    ``asks`` says what is noted with it: who looked as well, what the gauge reads, or the moisture.
    """

    key: str
    words: str
    detail: str = ""
    cloth: str = ""
    warp: tuple[float, float] | None = None
    woven: bool = False
    asks: Literal["", "look", "vacuum", "moisture"] = ""
    scored: tuple[Scored, ...] = ()
    """How a core is scored, where that is what it says."""


@dataclass(frozen=True)
class Sawn:
    """What is sawn out of lengths of one section, by its pieces' names; each scarf by its piece, from its end [m]."""

    pieces: str
    width_m: float
    thickness_m: float
    list: CutList
    scarfs: tuple[tuple[str, tuple[float, ...]], ...] = ()
    scarf_m: float = 0.0
    """How long one scarf is [m]."""


@dataclass(frozen=True)
class Again:
    """A job that does some of another again: its recipe, what is asked first, what its button says, what it is given.

    ``where`` is the field that takes where it is; ``""`` where nobody is asked. ``brings_in`` are the kinds of reading
    that it mends where they are out of tolerance.
    """

    recipe: str
    question: str
    words: str
    where: str = ""
    given: Mapping[str, str] = field(default_factory=dict)
    brings_in: tuple[str, ...] = ()


@dataclass(frozen=True)
class FlatCover:
    """Cloth laid flat, x from root to tip, y up over its leading edge at 0 [m].

    The panel, the widths it is cut in, where it is glued and where it slides; how wide lands and ribs are [m], and how
    much of it is glued [m²].
    """

    outline: tuple[tuple[float, float], ...]
    pieces: tuple[Piece, ...]
    lands: tuple[Land, ...]
    land_m: float
    rib_m: float
    cloth: str
    landing_m2: float

    @property
    def bays_m(self) -> tuple[float, ...]:
        """The middle of each bay between two ribs, along the panel [m]."""
        at: dict[int, float] = {}
        for land in self.lands:
            if land.number:
                at.setdefault(land.number, sum(x for x, _ in land.ring) / len(land.ring))
        return tuple((one + other) / 2 for one, other in pairwise(at[number] for number in sorted(at)))


@dataclass(frozen=True)
class JointSteps:
    """Of a way of building that ties two parts: the step that makes their faces ready, the one that brings them
    together, and the role of what holds them. What it is given is a `GlueLine`.
    """

    ready: str
    together: str
    role: str
