"""Steps of covering that both schools share: the look before, passes of the iron, what holds the cloth, what it takes.

Orders and hands-on minutes are common practice.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.problems import Refused
from kiteloom.core.build import covering
from kiteloom.core.build.closing import EDGES
from kiteloom.core.build.clothing import cloth_of, landing_of, loose_of, panel_in, ribs_of, widths_of
from kiteloom.core.build.covering import LEAST_LAND_M, Panel
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Task
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.weight.part import Stays

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


def bays_in_turn(count: int) -> tuple[int, ...]:
    """The order an iron goes over bays, so that none pulls its neighbour: every other one, then those between.

    >>> bays_in_turn(5)
    (1, 3, 5, 2, 4)
    """
    return (*range(1, count + 1, 2), *range(2, count + 1, 2))


def _bays(task: Task[Any]) -> int:
    shape = task.shape
    ribs = ribs_of(task)
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
        land = task.says(1000 * LEAST_LAND_M, "step")
        name = f"Glue strips of thin plywood or aluminium on: {land} of land along edges"
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
    land, width = f"over {task.says(1000 * given.land_m, 'step')}", panel_in(task)[1]
    over = f"over its {task.says(1000 * width, 'step')}"
    found = [Item("edges", f"Leading and trailing edge, {land}"), Item("ends", f"Root and tip, {land}")]
    ribs = min(ribs_of(task), MOST_BAYS)
    for n in range(1, ribs + 1):
        slides = n in loose
        words = f"Rib {n}: not glued, the cloth slides on it" if slides else f"Rib {n}, {over}"
        found.append(Item(f"rib-{n}", words))
    if not ribs and width:
        found.append(Item("ribs", f"Every rib, {over}"))
    found += [Item(f"stringer-{n}", f"Stringer {n}, over its whole width") for n in range(1, given.glued_stringers + 1)]
    if given.slides:
        last = given.glued_stringers + given.slides
        name = f"Stringer {last}" if given.slides == 1 else f"Stringers {given.glued_stringers + 1} to {last}"
        found.append(Item("slides", f"{name}: not glued, the cloth slides on {'it' if given.slides == 1 else 'them'}"))
    if given.openings_m:
        found.append(Item("openings", f"Openings, wrapped round by {task.says(1000 * given.opening_wrap_m, 'step')}"))
    return tuple(found)
