"""Covering a frame with cloth, by two schools: coats put on one by one, or cloth that is coloured and sealed already.

Plain cloth is cemented on, shrunk in stages with a calibrated iron, coated, taped over its ribs, laced, taped again,
filled and blocked against sunlight; colour follows as paint. Pre-finished cloth is set by the iron on two coats of
adhesive on either face, each dried; its slack is taken up, it is finished, its edges are taped, and it is done.

Cloth closes what is under it: each is a gate. Wraps, lands, orders and hands-on minutes are common practice; what holds
the cloth besides, and at what pitch, is the designer's.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal, cast

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.problems import Refused
from kiteloom.core.build import covering
from kiteloom.core.build.closing import EDGES
from kiteloom.core.build.covering import LEAST_LAND_M, Panel, Widths
from kiteloom.core.build.recipe import SURFACES, Item, Recipe, Role, Task
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.wet import limited, stage_of, wet
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.shape.loft import Loft, Ribs
from kiteloom.core.stores.fields import SCHOOLS
from kiteloom.core.stores.materials import CoverCloth, EdgeTape, ResinSheet
from kiteloom.core.weight.part import Stays

COATED, SEALED = SCHOOLS
#: When cement holds, and when what dries may be coated again.
DRY, RECOAT = ("handle", "recoat opens", "recoat"), ("recoat opens", "recoat", "handle")
#: Coats of adhesive on either face (common practice for heat-set adhesive).
COATS_EACH = 2
#: An iron takes so long over a square metre (common practice) [min].
IRON_MIN_M2 = 12.0
#: More bays than this are not called out one by one.
MOST_BAYS = 40
#: Cord for one stitch goes round the rib and on to the next (common practice) [m].
CORD_M = 0.15

_IRON = "Hot iron: no solvent open near it, and never above what the sheet says. The cloth maker’s instructions decide."
_EDGES = "Sharp edges cut cloth and hands: gloves."
_TOOLS = "Knives, needles and drills: the hand behind the edge, goggles."
_LIFT = "Enough hands to lift and turn it; nothing rests on its cloth."
_RIBS: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}
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


@dataclass(frozen=True)
class Coated(Given):
    """The same, and how many coats go on the cloth."""

    fills: Annotated[int, Asked("Fill coats", "count", low=0, high=8)] = 2
    blocks: Annotated[int, Asked("Coats that block sunlight", "count", low=1, high=6)] = 2


def _panel(task: Task[Any]) -> tuple[Panel, float]:
    """What is covered, and how wide its ribs are [m]; ribs of a shape that has none stand at their pitch."""
    shape, given = task.shape, task.given
    own = shape.ribs if isinstance(shape, Loft) else Ribs()
    if isinstance(shape, Loft) and not own.at_m and given.rib_pitch_m:
        first = shape.stations[0].at_m
        count = int(shape.span_m / given.rib_pitch_m + 1e-9) + 1
        shape = replace(shape, ribs=Ribs(tuple(first + n * given.rib_pitch_m for n in range(count))))
    panel = covering.panel_of(shape, task.side)
    width = given.rib_width_m or own.width_m
    if panel.ribs_m and not width:
        raise Refused("rib_width_m", "not given yet: Width of a rib, where its shape does not say")
    return panel, width


def _cloth(task: Task[Any]) -> CoverCloth:
    return cast(CoverCloth, task.materials["cloth"])


def _widths(task: Task[Any], panel: Panel) -> Widths:
    cloth, given = _cloth(task), task.given
    return covering.widths(
        panel, covering.Cloth(cloth.roll_width_m, cloth.areal_weight_g_m2, given.wrap_m, given.overlap_m)
    )


def _fits(task: Task[Any], school: str, rib_width_m: float) -> None:
    """Refuse a cloth or a cement of the other school, and a tape narrower than its rib."""
    cloth, cement = _cloth(task), task.products["cement"]
    for name, of in ((cloth.name, cloth.school), (cement.name, cement.school)):
        if of and of != school:
            raise Refused("products", f"{name} belongs to the school of {of}; this is covering by {school}")
    tape = task.materials.get("tape")
    for hot in task.materials.values():
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
    ribs = len(shape.ribs.at_m) if isinstance(shape, Loft) else 0
    if not ribs and task.given.rib_pitch_m:
        ribs = int(shape.span_m / task.given.rib_pitch_m + 1e-9) + 1
    return min(max(ribs - 1, 1), MOST_BAYS)


def _dry(key: str, name: str, estimate: Estimate, *after: str, caution: str = "", **more: Any) -> Step:
    links = tuple(After(one) for one in after)
    return Step(key, name, estimate.minutes, more.pop("people", 1), links, may_pause=True, estimate=estimate,
                caution=caution, stations=("wing stands",), **more)  # fmt: skip


def _iron(key: str, name: str, celsius: float | None, panel: Panel, after: str) -> Step:
    """A pass of the iron over the whole part."""
    estimate = Estimate(15, per_m2_min=IRON_MIN_M2, area_m2=panel.skin_m2)
    heats = (("at", celsius),) if celsius is not None else ()
    return _dry(key, name, estimate, after, caution=_IRON, kind="iron", listed=True, skills=("finishing",), heats=heats)


def _before(task: Task[Any], panel: Panel) -> list[Step]:
    """What is done to the frame and the cloth before any glue."""
    name = f"Look it over: {EDGES[0].lower()}{EDGES[1:]}"
    found = [_dry("look", name, Estimate(20, per_m2_min=4, area_m2=panel.skin_m2), caution=_EDGES)]
    last = "look"
    if task.given.land_m < LEAST_LAND_M - 1e-9:
        name = f"Glue strips of thin plywood or aluminium on: {1000 * LEAST_LAND_M:g} mm of land along edges"
        found.append(_dry("strips", name, Estimate(20, each_min=8, count=4, piece="edges"), last, caution=_TOOLS))
        last = "strips"
    if task.given.thin_edge == "is thin":
        found.append(
            _dry("stiffen", "Stiffen the thin trailing edge, for the hot pass", Estimate(45), last, caution=_TOOLS)
        )
        last = "stiffen"
    cut = _widths(task, panel)
    name = f"Cut {cut.count} {'width' if cut.count == 1 else 'widths'} of {_cloth(task).name}"
    found.append(_dry("cut", name, Estimate(20, each_min=15, count=cut.count, piece="widths"), last, caution=_TOOLS))
    return found


def _held(task: Task[Any], panel: Panel, after: str) -> list[Step]:
    given = task.given
    if given.held == "cement alone" or given.pitch_m is None:
        return []
    count = covering.attachments(panel, given.pitch_m)
    if not count:
        raise Refused("held", f"it has no ribs for its {given.held} to go through")
    verb = {"lacing": "Lace", "rivets": "Rivet", "screws": "Screw"}[given.held]
    each = {"lacing": 1.2, "rivets": 0.6, "screws": 0.8}[given.held]
    estimate = Estimate(30, each_min=each, count=count, piece="places")
    return [_dry("hold", f"{verb} the cloth to its ribs in {count} places", estimate, after, people=2, caution=_TOOLS)]


def coated_steps(task: Task[Coated]) -> tuple[Step, ...]:
    """The steps of plain cloth, in order, under stable keys.

    >>> [step.key for step in coated_steps(clothed("cover"))][:6]
    ['look', 'cut', 'cement', 'slack', 'finish', 'first']
    """
    panel, rib_m = _panel(task)
    _fits(task, COATED, rib_m)
    cloth, cement, coat, block = _cloth(task), *(task.products[role] for role in ("cement", "coat", "block"))
    glue = Estimate(40, per_m2_min=25, area_m2=covering.landing_m2(panel, rib_m, task.given.land_m))
    found = [*_before(task, panel)]
    on = Step("cement", "Cement the cloth on, round its edges first", glue.minutes, 2, (After("cut"),), estimate=glue,
              stations=("wing stands",), holds=True, gate=True, kind="cement", skills=("finishing",))  # fmt: skip
    found.append(wet(on, cement, stage_of(cement.curing, DRY)))
    found.append(_iron("slack", "Iron its slack out", cloth.slack_c, panel, "cement"))
    found.append(_iron("finish", "Iron it to its last setting", cloth.finish_c, panel, "slack"))

    def coats(key: str, name: str, product: ResinSheet, count: int, after: str) -> str:
        estimate = Estimate(15, per_m2_min=6, area_m2=panel.skin_m2)
        for n in range(1, count + 1):
            one = key if count == 1 else f"{key}-{n}"
            said = name if count == 1 else f"{name}, {n} of {count}"
            step = Step(one, said, estimate.minutes, 1, (After(after),), estimate=estimate, stations=("wing stands",),
                        holds=True, kind="coat", skills=("finishing",))  # fmt: skip
            found.append(wet(step, product, stage_of(product.curing, RECOAT)))
            after = one
        return after

    last = coats("first", "Brush the first coat, into the weave", coat, 1, "finish")
    if panel.ribs_m:
        taped = Estimate(15, each_min=3, count=len(panel.ribs_m), piece="ribs")
        found.append(_dry("ribs", "Reinforcing tape over every rib", taped, last, caution=_EDGES))
        last = "ribs"
    held = _held(task, panel, last)
    found += held
    last = held[-1].key if held else last
    tapes = Estimate(30, each_min=6, count=max(round(covering.tape_m(panel)), 1), piece="m of tape")
    over = Step("tapes", _tapes(task), tapes.minutes, 2, (After(last),), estimate=tapes, stations=("wing stands",),
                holds=True, kind="tapes", skills=("finishing",))  # fmt: skip
    found.append(wet(over, cement, stage_of(cement.curing, DRY)))
    last = coats("fill", "Fill coat", coat, task.given.fills, "tapes")
    last = coats("block", "Coat that blocks sunlight", block, task.given.blocks, last)
    found.append(_dry("done", "Look it over against the light, weigh it", Estimate(20), last, caution=_LIFT))
    return tuple(found)


def _tapes(task: Task[Any]) -> str:
    given = task.given
    more = [
        f"{count} {name}{'s' if count > 1 else ''}"
        for count, name in ((given.grommets, "grommet"), (given.rings, "ring"))
        if count
    ]
    return f"Tapes over ribs and edges{''.join(f', {words}' for words in more)}"


def sealed_steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps of pre-finished cloth, in order, under stable keys.

    >>> [step.key for step in sealed_steps(clothed("wrap"))]
    ['look', 'cut', 'frame-1', 'frame-2', 'cloth-1', 'cloth-2', 'set', 'slack', 'finish', 'tapes', 'done']
    """
    panel, rib_m = _panel(task)
    _fits(task, SEALED, rib_m)
    cloth, glue = _cloth(task), task.products["cement"]
    tape = cast(EdgeTape, task.materials["tape"])
    land = covering.landing_m2(panel, rib_m, task.given.land_m)
    found = [*_before(task, panel)]
    last = "cut"
    brush = Estimate(15, per_m2_min=20, area_m2=land)
    for key, name in (("frame", "Adhesive on the frame"), ("cloth", "Adhesive on the cloth")):
        for n in range(1, COATS_EACH + 1):
            step = Step(f"{key}-{n}", f"{name}, coat {n} of {COATS_EACH}", brush.minutes, 1, (After(last),),
                        estimate=brush, stations=("wing stands",), kind="adhesive", skills=("finishing",))  # fmt: skip
            found.append(wet(step, glue, stage_of(glue.curing, RECOAT if n < COATS_EACH else DRY)))
            last = step.key
    lay = Estimate(30, per_m2_min=30, area_m2=land)
    on = Step("set", "Lay the cloth on, set it with the iron: edges, then ribs", lay.minutes, 2, (After(last),),
              estimate=lay, caution=_IRON, stations=("wing stands",), gate=True, kind="set",
              skills=("finishing",))  # fmt: skip
    # Until it is set it may not be colder than its adhesive stands.
    found.append(replace(limited(on, glue), limits_until="end"))
    found.append(_iron("slack", "Iron its slack out", cloth.slack_c, panel, "set"))
    found.append(_iron("finish", "Iron it tight", cloth.finish_c, panel, "slack"))
    held = _held(task, panel, "finish")
    found += held
    metres = max(round(covering.tape_m(panel)), 1)
    named = (("tack at", tape.tack_c), ("finish at", tape.finish_c), ("the tape is ruined from", tape.limit_c))
    heats = tuple((words, celsius) for words, celsius in named if celsius is not None)
    tapes = Estimate(20, each_min=4, count=metres, piece="m of tape")
    found.append(_dry("tapes", _tapes(task), tapes, held[-1].key if held else "finish",
                      caution=f"{_IRON} Never peel a tape off cold.", skills=("finishing",), heats=heats))  # fmt: skip
    found.append(_dry("done", "Look it over against the light, weigh it", Estimate(20), "tapes", caution=_LIFT))
    return tuple(found)


def coated_uses(task: Task[Coated]) -> tuple[Supply, ...]:
    """Cloth, cement, coats, cord and tape.

    >>> [one.name for one in coated_uses(clothed("cover"))]
    ['Linden', 'Tarn', 'Tarn', 'reinforcing tape', 'Tarn', 'tape over ribs and edges', 'Tarn', 'Tarn', 'Tarn', 'Tarn']
    """
    panel, rib_m = _panel(task)
    found = [*_cloth_and_glue(task, panel, rib_m, {"cement": 1, "tapes": 1})]
    if panel.ribs_m:
        found.append(Supply("ribs", "reinforcing tape", sum(panel.ribs_m), "run", "the girths of its ribs"))
    found += _attached(task, panel)
    found.append(Supply("tapes", "tape over ribs and edges", covering.tape_m(panel), "run", "ribs, edges and ends"))
    steps = [step.key for step in coated_steps(task)]
    for role, keys in (("coat", ("first", "fill")), ("block", ("block",))):
        for key in steps:
            if key.partition("-")[0] in keys:
                found += brushed(key, task.products[role], panel.skin_m2, task.losses)
    return tuple(sorted(found, key=lambda one: steps.index(one.step)))


def sealed_uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Cloth, adhesive by coats on either face, cord and edge tape.

    >>> [(one.name, one.kind) for one in sealed_uses(clothed("wrap"))][:2]
    [('Linden', 'run'), ('Tarn', 'volume')]
    """
    panel, rib_m = _panel(task)
    tape = cast(EdgeTape, task.materials["tape"])
    glued = {f"{face}-{n}": 1 for face in ("frame", "cloth") for n in range(1, COATS_EACH + 1)}
    return (
        *_cloth_and_glue(task, panel, rib_m, glued),
        *_attached(task, panel),
        Supply("tapes", tape.name, covering.tape_m(panel), "run", "ribs, edges and ends"),
    )


def _cloth_and_glue(task: Task[Any], panel: Panel, rib_m: float, coats: dict[str, int]) -> Iterable[Supply]:
    found = _widths(task, panel)
    rule = "so many widths × (the longer edge + both wraps), one after the other"
    yield Supply("cut", _cloth(task).name, found.off_roll_m, "run", rule, (By("widths", found.count, "count"),))
    land = covering.landing_m2(panel, rib_m, task.given.land_m)
    for step, count in coats.items():
        yield from brushed(step, task.products["cement"], land * count, task.losses, of="where it is glued")


def _attached(task: Task[Any], panel: Panel) -> Iterable[Supply]:
    given = task.given
    if given.held == "cement alone" or given.pitch_m is None:
        return
    count, pitch = covering.attachments(panel, given.pitch_m), By("pitch", given.pitch_m, "length")
    rule = "on each rib and side one at either end, and between at the pitch"
    yield Supply("hold", "stitches" if given.held == "lacing" else given.held, count, "count", rule, (pitch,))
    if given.held == "lacing":
        yield Supply("hold", "lacing cord", count * CORD_M, "run", f"{CORD_M:g} m a stitch")


def cloth_stays(task: Task[Any]) -> tuple[Stays, ...]:
    """The cloth on the part, and what dries on it.

    >>> [(one.kind, round(one.grams)) for one in cloth_stays(clothed("wrap"))][0]
    ('cloth', 791)
    """
    cloth, laid = _cloth(task), _widths(task, _panel(task)[0])
    found = [Stays("cut", "cloth", cloth.name, laid.on_part_g, "skin, wraps and seams × its weight")]
    uses = coated_uses(task) if isinstance(task.given, Coated) else sealed_uses(task)
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
        limit = _cloth(task).limit_c
        paper = "Where it must be hotter than its sheet allows: two layers of white paper between." if limit else ""
        return (
            Item("scrap", "Tried on a scrap of it, and read with a thermometer"),
            *(Item(f"bay-{n}", f"Bay {n}", paper if n == 1 else "") for n in bays_in_turn(_bays(task))),
            Item("twist", "Looked along its trailing edge: straight, nothing pulled"),
        )
    slides = f"Not on its {task.given.slides} stringers: the cloth slides on them." if task.given.slides else ""
    glued = step_key in ("cement", "set") or step_key.startswith(("frame-", "cloth-"))
    return (
        Item("ready", "Air moving, no flame or hot iron near what is wet" if glued else "Dusted and tacked off"),
        Item("edges", "Edges and ends first" if glued else "Thin, crossed, half over the last"),
        Item("ribs", "Then every rib, to its whole width", slides) if glued else Item("light", "Looked over wet"),
        Item("look", "Both faces wetted: cloth glued on one face does not hold" if glued else "Brush or gun cleaned"),
    )


_CEMENT = Role("cement", "Cement", ("cement",), (DRY,))
_CLOTH = Role("cloth", "Covering cloth", ("cover cloth",))
COAT_KINDS = ("varnish", "primer", "paint", "cement")
PLAIN = Recipe(
    "cover",
    "covering, coat by coat",
    "Plain cloth cemented on, shrunk by iron, coated, taped, held to its ribs, filled, blocked against sunlight.",
    Coated,
    (
        _CLOTH,
        _CEMENT,
        Role("coat", "First and fill coats", COAT_KINDS, (RECOAT,)),
        Role("block", "Sunlight block", COAT_KINDS, (RECOAT,)),
    ),
    coated_steps,
    items=items,
    supplies=coated_uses,
    stations=("wing stands",),
    shapes=SURFACES,
    wood=cloth_stays,
    before_closing=(EDGES,),
)
PREFINISHED = Recipe(
    "wrap",
    "covering with pre-finished cloth",
    "Coloured, sealed cloth set by iron on adhesive that dried on both faces; no paint after.",
    Given,
    (_CLOTH, Role("cement", "Heat-set adhesive", ("cement",), (DRY,)), Role("tape", "Edge tape", ("tape",))),
    sealed_steps,
    items=items,
    supplies=sealed_uses,
    stations=("wing stands",),
    shapes=SURFACES,
    wood=cloth_stays,
    before_closing=(EDGES,),
)
