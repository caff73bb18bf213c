"""Covering a frame with cloth: what both schools share, from the look before to the run sheet of a pass.

Cloth closes what is under it: each covering is a gate. Wraps, lands, orders and hands-on minutes are common practice;
what holds the cloth besides, and at what pitch, is the designer's.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal, cast

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused
from kiteloom.core.build import covering
from kiteloom.core.build.covering import LEAST_LAND_M, Panel, Widths
from kiteloom.core.build.task import FlatCover, Role, Task
from kiteloom.core.laminate.pieces import Piece
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Loft, Ribs
from kiteloom.core.stores.materials import CoverCloth, EdgeTape

#: When cement holds, and when what dries may be coated again.
DRY, RECOAT = ("handle", "recoat opens", "recoat"), ("recoat opens", "recoat", "handle")


_RIBS: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}


#: When it is covered: what nobody sees is practised on first, and the rest comes after (common practice).
WHEN = ("by its side: a lower one first", "first, for practice", "in its turn")


#: The strength of cloth, new and at the least, by how fast and loaded the aircraft is (AC 43.13-1B ch. 2, from memory)
#: [lb/in].
STRENGTH: dict[str, tuple[float, float]] = {
    "over 9 lb/ft² or 160 mph": (80.0, 56.0),
    "to 9 lb/ft² and 160 mph": (65.0, 46.0),
    "a glider to 8 lb/ft² and 135 mph": (50.0, 35.0),
}


STRENGTHS = ("not compared", *STRENGTH)


Held = Literal["lacing", "rivets", "screws", "cement alone"]


@dataclass(frozen=True)
class Given:
    """What of the frame the cloth is glued to, how it goes round, and what else holds it."""

    rib_width_m: Annotated[
        float | None, Asked("Width of a rib, where its shape does not say", **_RIBS, low=0.002, high=0.3)
    ] = None
    rib_pitch_m: Annotated[float | None, Asked("Rib pitch, where its shape has no ribs", **_RIBS, low=0.02, high=5)] = (
        None
    )
    land_m: Annotated[float, Asked("Land along edges and ends", **_RIBS, low=0.002, high=0.5)] = LEAST_LAND_M
    wrap_m: Annotated[float, Asked("Wrap round edges", **_RIBS, low=0, high=0.5)] = 0.02
    overlap_m: Annotated[float, Asked("Overlap at seams", **_RIBS, low=0.01, high=0.5)] = 0.05
    slides: Annotated[int, Asked("Stringers it must slide on, not bonded", "count", low=0, high=200)] = 0
    glued_stringers: Annotated[int, Asked("Stringers it is glued to", "count", low=0, high=200)] = 0
    loose_ribs: Annotated[str, Asked("Ribs it is not glued to, by number", "words")] = ""
    openings_m: Annotated[
        float, Asked("Openings in it: their edges together", dimension="length", unit=("m", "in"), low=0, high=50)
    ] = 0.0
    opening_wrap_m: Annotated[float, Asked("Wrap round an opening", **_RIBS, low=0.006, high=0.02)] = 0.012
    practice: Annotated[str, Asked("It is covered", "choice", choices=WHEN)] = WHEN[0]
    asked_of_it: Annotated[str, Asked("Its cloth is compared with AC 43.13-1B ch. 2", "choice", choices=STRENGTHS)] = (
        STRENGTHS[0]
    )
    thin_edge: Annotated[str, Asked("Its trailing edge", "choice", choices=("stands the iron", "is thin"))] = (
        "stands the iron"
    )
    held: Annotated[
        str, Asked("Besides, it is held by", "choice", choices=("cement alone", "lacing", "rivets", "screws"))
    ] = "cement alone"
    pitch_m: Annotated[
        float | None,
        Asked("Pitch of that, the designer’s or the chart’s (AC 43.13-1B ch. 2)", **_RIBS, low=0.005, high=0.5),
    ] = None
    grommets: Annotated[int, Asked("Drain grommets", "count", low=0, high=200)] = 0
    rings: Annotated[int, Asked("Inspection rings", "count", low=0, high=100)] = 0


def _ribbed(task: Task[Any]) -> Shape:
    """Its shape, with ribs at their pitch where it has none of its own."""
    shape, pitch = task.shape, task.given.rib_pitch_m
    if not isinstance(shape, Loft) or shape.ribs.at_m or not pitch:
        return shape
    first, count = shape.stations[0].at_m, int(shape.span_m / pitch + 1e-9) + 1
    return replace(shape, ribs=Ribs(tuple(first + n * pitch for n in range(count))))


def panel_in(task: Task[Any]) -> tuple[Panel, float]:
    """What is covered, and how wide its ribs are [m]; ribs of a shape that has none stand at their pitch."""
    shape, given = _ribbed(task), task.given
    own = task.shape.ribs if isinstance(task.shape, Loft) else Ribs()
    panel = covering.panel_of(shape, task.side)
    width = given.rib_width_m or own.width_m
    if panel.ribs_m and not width:
        raise Refused("rib_width_m", "not given yet: Width of a rib, where its shape does not say")
    return panel, width


def cloth_of(task: Task[Any]) -> CoverCloth:
    """Its cloth."""
    return cast(CoverCloth, task.materials["cloth"])


def _as_laid(task: Task[Any], roll_m: float | None = None) -> covering.Cloth:
    cloth, given = cloth_of(task), task.given
    return covering.Cloth(roll_m or cloth.roll_width_m, cloth.areal_weight_g_m2, given.wrap_m, given.overlap_m)


def pieces(task: Task[Any], roll_m: float | None = None) -> tuple[Piece, ...]:
    """Its widths as they are cut, from a roll of its own width or of another.

    >>> [piece.id for piece in pieces(clothed("wrap"))], [piece.id for piece in pieces(clothed("wrap"), 2.2)]
    (['1a', '1b'], ['1'])
    """
    return covering.cut_cloth(task.shape, task.side, _as_laid(task, roll_m))[0]


def flat_of(task: Task[Any]) -> FlatCover:
    """Its cloth laid flat: the panel, the widths it is cut in, where it is glued and where it slides.

    >>> found = flat_of(clothed("wrap", {"loose_ribs": "2"}))
    >>> [(one.kind, one.number) for one in found.lands if one.number], found.land_m
    ([('rib', 1), ('loose rib', 2), ('rib', 3), ('rib', 4)], 0.025)
    """
    _, rib_m = panel_in(task)
    outline, glued = covering.lands(_ribbed(task), task.side, rib_m, task.given.land_m, loose_of(task))
    return FlatCover(outline, pieces(task), glued, task.given.land_m, rib_m, cloth_of(task).name, landing_of(
        task, panel_in(task)[0], rib_m))  # fmt: skip


def widths_of(task: Task[Any], panel: Panel) -> Widths:
    """How its cloth is cut for a panel; one width more where a seam would lie on the leading edge."""
    cloth = _as_laid(task)
    return covering.widths(panel, cloth, len(pieces(task)) if isinstance(task.shape, Loft) else None)


def landing_of(task: Task[Any], panel: Panel, rib_m: float) -> float:
    """Where its cloth is glued: ribs but those it is not, stringers it is, edges, ends and openings [m²]."""
    given = task.given
    loose, sides = loose_of(task), max(len(panel.ribs_m) // max(ribs_of(task), 1), 1)
    ribs = tuple(girth for n, girth in enumerate(panel.ribs_m) if n // sides + 1 not in loose)
    stringers = given.glued_stringers * panel.along_m * rib_m
    land = covering.landing_m2(replace(panel, ribs_m=ribs), rib_m, given.land_m)
    return float(land + stringers + given.openings_m * given.opening_wrap_m)


def ribs_of(task: Task[Any]) -> int:
    """How many ribs its cloth goes over."""
    shape = _ribbed(task)
    return len(shape.ribs.at_m) if isinstance(shape, Loft) else 0


def loose_of(task: Task[Any]) -> frozenset[int]:
    """The numbers of ribs its cloth is not glued to; `Refused` for one there is not."""
    found = set()
    for text in re.split(r"[,;\s]+", task.given.loose_ribs.strip()):
        if not text:
            continue
        if not text.isdecimal() or not 1 <= int(text) <= ribs_of(task):
            raise Refused("loose_ribs", f"“{text[:20]}” is no rib of it; they are 1 to {ribs_of(task)}")
        found.add(int(text))
    return frozenset(found)


def asks(task: Task[Any]) -> tuple[str, ...]:
    """What is asked of its cloth and where it lies.

    >>> weak = replace(clothed("wrap").materials["cloth"], strength_lb_in=60.0)
    >>> task = clothed("wrap", {"asked_of_it": "to 9 lb/ft² and 160 mph"})
    >>> asks(replace(task, materials={**task.materials, "cloth": weak}))[0][:71]
    'Linden is 60 lb/in strong when new; 65 lb/in new and 46 lb/in at the le'
    """
    cloth, found = cloth_of(task), []
    if task.given.asked_of_it in STRENGTH:
        new, least = STRENGTH[task.given.asked_of_it]
        wanted = f"{new:g} lb/in new and {least:g} lb/in at the least are asked for {task.given.asked_of_it}"
        if cloth.strength_lb_in is None:
            found.append(f"The sheet of {cloth.name} does not say how strong it is; {wanted} (AC 43.13-1B ch. 2).")
        elif cloth.strength_lb_in < new:
            found.append(
                f"{cloth.name} is {cloth.strength_lb_in:g} lb/in strong when new; {wanted} (AC 43.13-1B ch. 2)."
            )
    if covering.cut_cloth(task.shape, task.side, _as_laid(task))[1]:
        found.append("A seam lies on its leading edge: a wider roll, or less wrap, puts it beside.")
    return tuple(found)


def practice_of(task: Task[Any]) -> Literal["first", "after", ""]:
    """Whether it is covered first, for practice where nobody will see it, after that, or whenever its turn comes.

    >>> practice_of(replace(clothed("wrap"), side="lower")), practice_of(clothed("wrap"))
    ('first', 'after')
    """
    when = task.given.practice
    if when == WHEN[1] or (when == WHEN[0] and task.side == "lower"):
        return "first"
    return "" if when == WHEN[2] else "after"


def must_fit(task: Task[Any], school: str, rib_width_m: float) -> None:
    """Refuse a cloth or a cement of the other school, and a tape narrower than its rib."""
    cloth, cement = cloth_of(task), task.products["cement"]
    for name, of in ((cloth.name, cloth.school), (cement.name, cement.school)):
        if of and of != school:
            raise Refused("products", f"{name} belongs to the school of {of}; this is covering by {school}")
    tape = task.materials.get("tape")
    for hot in task.materials.values():
        if not isinstance(hot, CoverCloth | EdgeTape):
            continue
        if hot.limit_c is not None and hot.finish_c is not None and hot.finish_c > hot.limit_c:
            asks, allows = (task.says(celsius, "temperature") for celsius in (hot.finish_c, hot.limit_c))
            words = f"the sheet of {hot.name} asks for {asks} and allows {allows}: look at it again"
            raise Refused("products", words)
    if isinstance(tape, EdgeTape) and tape.width_mm < 1000 * rib_width_m:
        is_wide, ribs = (task.says(width, "reading") for width in (tape.width_mm, 1000 * rib_width_m))
        wide = f"{tape.name} is {is_wide} wide, and its ribs are {ribs}"
        raise Refused("products", f"{wide}: a tape must reach over them")
    if task.given.held != "cement alone" and task.given.pitch_m is None:
        raise Refused("pitch_m", f"not given yet: the pitch of its {task.given.held}, from the designer or the chart")


CLOTH = Role("cloth", "Covering cloth", ("cover cloth",))
