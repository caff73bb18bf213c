"""Covering a frame with cloth: what both schools share, from the look before to the run sheet of a pass.

Cloth closes what is under it: each covering is a gate. Wraps, lands, orders and hands-on minutes are common practice;
what holds the cloth besides, and at what pitch, is the designer's.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal, cast

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.problems import Refused
from kiteloom.core.build import covering
from kiteloom.core.build.closing import EDGES
from kiteloom.core.build.covering import LEAST_LAND_M, Panel, Widths
from kiteloom.core.build.recipe import FlatCover, Item, Role, Task
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.laminate.pieces import Piece
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.loft import Loft, Ribs
from kiteloom.core.stores.materials import CoverCloth, EdgeTape
from kiteloom.core.weight.part import Stays

#: When cement holds, and when what dries may be coated again.
DRY, RECOAT = ("handle", "recoat opens", "recoat"), ("recoat opens", "recoat", "handle")
#: An iron takes so long over a square metre (common practice) [min].
IRON_MIN_M2 = 12.0
#: More bays than this are not called out one by one.
MOST_BAYS = 40
#: Cord for one stitch goes round the rib and on to the next (common practice) [m].
CORD_M = 0.15

IRON = "Hot iron: no solvent open near it, and never above what the cloth’s sheet says."
SHARP = "Sharp edges cut cloth and hands: gloves."
TOOLS = "Knives, needles and drills: the hand behind the edge, goggles."
LIFT = "Enough hands to lift and turn it; nothing rests on its cloth."
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
    loose, sides = loose_of(task), max(len(panel.ribs_m) // max(_ribs_of(task), 1), 1)
    ribs = tuple(girth for n, girth in enumerate(panel.ribs_m) if n // sides + 1 not in loose)
    stringers = given.glued_stringers * panel.along_m * rib_m
    land = covering.landing_m2(replace(panel, ribs_m=ribs), rib_m, given.land_m)
    return float(land + stringers + given.openings_m * given.opening_wrap_m)


def _ribs_of(task: Task[Any]) -> int:
    shape = _ribbed(task)
    return len(shape.ribs.at_m) if isinstance(shape, Loft) else 0


def loose_of(task: Task[Any]) -> frozenset[int]:
    """The numbers of ribs its cloth is not glued to; `Refused` for one there is not."""
    found = set()
    for text in re.split(r"[,;\s]+", task.given.loose_ribs.strip()):
        if not text:
            continue
        if not text.isdecimal() or not 1 <= int(text) <= _ribs_of(task):
            raise Refused("loose_ribs", f"“{text[:20]}” is no rib of it; they are 1 to {_ribs_of(task)}")
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


def _turn(task: Task[Any], first: bool) -> str:
    when = task.given.practice
    practised = when == WHEN[1] or (when == WHEN[0] and task.side == "lower")
    if first:
        return "first" if practised else ""
    return "" if practised or when == WHEN[2] else "after"


def laid_on(task: Task[Any], step: Step) -> Step:
    """The step that lays the cloth on, for practice where nobody will see it."""
    return replace(step, practice=_turn(task, True) or (_turn(task, False) if step.cure is not None else ""))


def glue_begun(task: Task[Any], step: Step) -> Step:
    """The first step with glue: where the cloth will be seen it comes after what is practised on."""
    return replace(step, practice=_turn(task, False))


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
            words = f"the sheet of {hot.name} asks for {hot.finish_c:g} °C and allows {hot.limit_c:g} °C"
            raise Refused("products", f"{words}: look at it again")
    if isinstance(tape, EdgeTape) and tape.width_mm < 1000 * rib_width_m:
        wide = f"{tape.name} is {tape.width_mm:g} mm wide, and its ribs are {1000 * rib_width_m:g} mm"
        raise Refused("products", f"{wide}: a tape must reach over them")
    if task.given.held != "cement alone" and task.given.pitch_m is None:
        raise Refused("pitch_m", f"not given yet: the pitch of its {task.given.held}, from the designer or the chart")


def bays_in_turn(count: int) -> tuple[int, ...]:
    """The order an iron goes over bays, so that none pulls its neighbour: every other one, then those between.

    >>> bays_in_turn(5)
    (1, 3, 5, 2, 4)
    """
    return (*range(1, count + 1, 2), *range(2, count + 1, 2))


def _bays(task: Task[Any]) -> int:
    shape = task.shape
    ribs = _ribs_of(task)
    if not ribs and task.given.rib_pitch_m:
        ribs = int(shape.span_m / task.given.rib_pitch_m + 1e-9) + 1
    return min(max(ribs - 1, 1), MOST_BAYS)


def dry(key: str, name: str, estimate: Estimate, *after: str, caution: str = "", **more: Any) -> Step:
    """A step with nothing wet, on the wing stands."""
    links = tuple(After(one) for one in after)
    return Step(key, name, estimate.minutes, more.pop("people", 1), links, may_pause=True, estimate=estimate,
                caution=caution, stations=("wing stands",), **more)  # fmt: skip


def iron_pass(key: str, name: str, celsius: float | None, panel: Panel, after: str) -> Step:
    """A pass of the iron over the whole part."""
    estimate = Estimate(15, per_m2_min=IRON_MIN_M2, area_m2=panel.skin_m2)
    heats = (("at", celsius),) if celsius is not None else ()
    return dry(key, name, estimate, after, caution=IRON, kind="iron", listed=True, skills=("finishing",), heats=heats)


def before(task: Task[Any], panel: Panel) -> list[Step]:
    """What is done to the frame and the cloth before any glue."""
    name = f"Look it over: {EDGES[0].lower()}{EDGES[1:]}"
    found = [dry("look", name, Estimate(20, per_m2_min=4, area_m2=panel.skin_m2), caution=SHARP)]
    last = "look"
    if task.given.land_m < LEAST_LAND_M - 1e-9:
        name = f"Glue strips of thin plywood or aluminium on: {1000 * LEAST_LAND_M:g} mm of land along edges"
        found.append(dry("strips", name, Estimate(20, each_min=8, count=4, piece="edges"), last, caution=TOOLS))
        last = "strips"
    if task.given.thin_edge == "is thin":
        found.append(
            dry("stiffen", "Stiffen the thin trailing edge, for the hot pass", Estimate(45), last, caution=TOOLS)
        )
        last = "stiffen"
    cut = widths_of(task, panel)
    name = f"Cut {cut.count} {'width' if cut.count == 1 else 'widths'} of {cloth_of(task).name}"
    found.append(dry("cut", name, Estimate(20, each_min=15, count=cut.count, piece="widths"), last, caution=TOOLS))
    return found


def held_besides(task: Task[Any], panel: Panel, after: str) -> list[Step]:
    """The step that laces, rivets or screws it to its ribs; none where cement alone holds it."""
    given = task.given
    if given.held == "cement alone" or given.pitch_m is None:
        return []
    count = covering.attachments(panel, given.pitch_m)
    if not count:
        raise Refused("held", f"it has no ribs for its {given.held} to go through")
    verb = {"lacing": "Lace", "rivets": "Rivet", "screws": "Screw"}[given.held]
    each = {"lacing": 1.2, "rivets": 0.6, "screws": 0.8}[given.held]
    estimate = Estimate(30, each_min=each, count=count, piece="places")
    return [dry("hold", f"{verb} the cloth to its ribs in {count} places", estimate, after, people=2, caution=TOOLS)]


def taped_m(task: Task[Any], panel: Panel) -> float:
    """Tape over every rib, edge and end, and round its openings [m]."""
    return float(covering.tape_m(panel) + task.given.openings_m)


def tapes_words(task: Task[Any]) -> str:
    """What goes on with its tapes."""
    given = task.given
    more = [
        f"{count} {name}{'s' if count > 1 else ''}"
        for count, name in ((given.grommets, "grommet"), (given.rings, "ring"))
        if count
    ]
    return f"Tapes over ribs and edges{''.join(f', {words}' for words in more)}"


def cloth_and_glue(task: Task[Any], panel: Panel, rib_m: float, coats: dict[str, int]) -> Iterable[Supply]:
    """The cloth off its roll, and cement in so many coats by step."""
    found = widths_of(task, panel)
    rule = "so many widths × (the longer edge + both wraps), one after the other"
    yield Supply("cut", cloth_of(task).name, found.off_roll_m, "run", rule, (By("widths", found.count, "count"),))
    land = landing_of(task, panel, rib_m)
    for step, count in coats.items():
        yield from brushed(step, task.products["cement"], land * count, task.losses, of="where it is glued")


def attached(task: Task[Any], panel: Panel) -> Iterable[Supply]:
    """What holds it besides: places, and the cord of lacing."""
    given = task.given
    if given.held == "cement alone" or given.pitch_m is None:
        return
    count, pitch = covering.attachments(panel, given.pitch_m), By("pitch", given.pitch_m, "length")
    rule = "on each rib and side one at either end, and between at the pitch"
    yield Supply("hold", "stitches" if given.held == "lacing" else given.held, count, "count", rule, (pitch,))
    if given.held == "lacing":
        yield Supply("hold", "lacing cord", count * CORD_M, "run", f"{CORD_M:g} m a stitch")


def stays_of(task: Task[Any], uses: Iterable[Supply]) -> tuple[Stays, ...]:
    """The cloth on the part, and what dries on it of what was used up."""
    cloth, laid = cloth_of(task), widths_of(task, panel_in(task)[0])
    found = [Stays("cut", "cloth", cloth.name, laid.on_part_g, "skin, wraps and seams × its weight")]
    by_name = {product.name: product for product in task.products.values()}
    for one in uses:
        product = by_name.get(one.name)
        if product is not None and one.kind == "volume":
            dry = one.amount * product.wet_density_g_ml * (1 - task.losses.cup_pct / 100) * product.solids
            found.append(Stays(one.step, "coat", one.name, dry, "what is on it × what is left dry"))
    return tuple(found)


def items(task: Task[Any], step_key: str) -> tuple[Item, ...]:
    """The run sheet: of a pass every other bay, then those between; of what is glued, its order.

    >>> [item.key for item in items(clothed("wrap"), "slack")]
    ['scrap', 'bay-1', 'bay-3', 'bay-2', 'twist']
    """
    if step_key in ("slack", "finish"):
        limit = cloth_of(task).limit_c
        paper = "Where it must be hotter than its sheet allows: two layers of white paper between." if limit else ""
        return (
            Item("scrap", "Tried on a scrap of it, and read with a thermometer"),
            *(Item(f"bay-{n}", f"Bay {n}", paper if n == 1 else "") for n in bays_in_turn(_bays(task))),
            Item("twist", "Looked along its trailing edge: straight, nothing pulled"),
        )
    if step_key == "tapes":
        cut = (Item("openings", "Grommets and rings under their tape; their holes are cut last"),)
        return (
            Item("ready", "Dusted and tacked off, tried on a scrap"),
            Item("edges", "Down along edges and ends first, no wrinkle"),
            Item("ribs", "Then over every rib, its middle on the rib"),
            *(cut if task.given.grommets or task.given.rings else ()),
            Item("look", "Pressed down all over, looked over against the light"),
        )
    if step_key in ("cement", "set") or step_key.startswith(("frame-", "cloth-")):
        wet = "Air moving, no flame or hot iron near what is wet"
        return (
            Item("ready", "Both faces coated and dry" if step_key == "set" else wet),
            *_places(task),
            Item("look", "It holds all over: cloth glued on one face only is lifted, both coated, dried, set again"),
        )
    return (
        Item("ready", "Dusted and tacked off"),
        Item("edges", "Thin, crossed, half over the last"),
        Item("light", "Looked over against the light while it is wet"),
        Item("look", "Brush or gun cleaned"),
    )


def _places(task: Task[Any]) -> tuple[Item, ...]:
    """Each edge, rib and stringer in turn: what is glued, over what width, and where the cloth slides."""
    given, loose = task.given, loose_of(task)
    land = f"over {1000 * given.land_m:g} mm"
    width = 1000 * panel_in(task)[1]
    found = [Item("edges", f"Leading and trailing edge, {land}"), Item("ends", f"Root and tip, {land}")]
    ribs = min(_ribs_of(task), MOST_BAYS)
    for n in range(1, ribs + 1):
        slides = n in loose
        words = f"Rib {n}: not glued, the cloth slides on it" if slides else f"Rib {n}, over its {width:g} mm"
        found.append(Item(f"rib-{n}", words))
    if not ribs and width:
        found.append(Item("ribs", f"Every rib, over its {width:g} mm"))
    found += [Item(f"stringer-{n}", f"Stringer {n}, over its whole width") for n in range(1, given.glued_stringers + 1)]
    if given.slides:
        last = given.glued_stringers + given.slides
        name = f"Stringer {last}" if given.slides == 1 else f"Stringers {given.glued_stringers + 1} to {last}"
        found.append(Item("slides", f"{name}: not glued, the cloth slides on {'it' if given.slides == 1 else 'them'}"))
    if given.openings_m:
        found.append(Item("openings", f"Openings, wrapped round by {1000 * given.opening_wrap_m:g} mm"))
    return tuple(found)


CLOTH = Role("cloth", "Covering cloth", ("cover cloth",))
