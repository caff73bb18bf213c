"""A glued wood frame: ribs on a spar in a jig, laminated tip blocks, stringers, then gussets and leading edge.

Every joint is fitted dry before the glue is mixed: setting up takes most of the time, the
gluing itself is short. Hands-on minutes are common practice, and assumptions until the
crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base import figures
from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.gluing import GLUE_G_M2, MOIST, OTHER_MOIST, SPRUCE_KG_M3, TOOLS, too_cold
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.need.resin import spread
from kiteloom.core.shape.flat import Pieces, Shape
from kiteloom.core.shape.loft import Loft
from kiteloom.core.weight.part import Stays

#: The stages a wood glue's sheet must give for this recipe.
HANDLE, SAND = "handle", "sand"

#: One on each side of a rib's joint with the spar (common practice).
GUSSETS = 2

#: What of a lightened or built-up rib is wood (common practice) [-].
SOLID = 0.4
#: What is glued of a joint, of a gusset, of a laminated block between its layers (common practice) [m²].
JOINT_M2, GUSSET_M2, BLOCK_M2 = 12e-4, 16e-4, 0.03
#: How wide a stringer is glued (common practice) [m].
STRINGER_M = 0.01


@dataclass(frozen=True)
class Given:
    """How the ribs stand, and what else there is to glue."""

    gussets_per_rib: Annotated[int, Asked("Gussets on each rib", "count", low=0, high=40)] = GUSSETS
    rib_pitch_m: Annotated[
        float | None,
        Asked("Rib pitch, where its shape has no ribs", dimension="length", unit=("mm", "in"), low=0.02, high=5),
    ] = None
    stringers: Annotated[int, Asked("Stringers", "count", low=0, high=200)] = 0
    blocks: Annotated[int, Asked("Laminated blocks", "count", low=0, high=200)] = 0
    thick_m: Annotated[
        float | None,
        Asked("Its ribs, or its sheet, thick", dimension="length", unit=("mm", "in"), low=0.0002, high=0.5),
    ] = None
    solid: Annotated[
        float,
        Asked(
            "Of a rib, or the box round a piece, that is wood",
            dimension="share",
            scale=100,
            unit=("%", "%"),
            low=0.02,
            high=1,
        ),
    ] = SOLID
    long_g: Annotated[
        float | None,
        Asked("Its spar, edges and stringers weigh", dimension="mass", unit=("kg", "lb"), low=0, high=200_000),
    ] = None
    joint_m2: Annotated[
        float, Asked("Glued of one joint", dimension="area", unit=("cm²", "in²"), low=1e-5, high=0.5)
    ] = JOINT_M2
    gusset_m2: Annotated[
        float, Asked("Glued of one gusset", dimension="area", unit=("cm²", "in²"), low=1e-5, high=0.5)
    ] = GUSSET_M2
    density_kg_m3: Annotated[
        float, Asked("Density of its wood", dimension="density", unit=("kg/m³", "lb/ft³"), low=80, high=1400)
    ] = SPRUCE_KG_M3


def ribs_of(task: Task[Given]) -> int:
    """How many ribs there are: as the pitch asks over the part's span, both ends included; else its shape's own.

    >>> ribs_of(example(RECIPE))
    2
    """
    pitch, shape = task.given.rib_pitch_m, task.shape
    if pitch is not None:
        ribs = int(shape.span_m / pitch + 1e-9) + 1
    elif isinstance(shape, Pieces):
        ribs = shape.count
    else:
        ribs = len(shape.ribs.at_m) if isinstance(shape, Loft) else 0
        if not ribs:
            raise Refused("rib_pitch_m", "not given yet: Rib pitch, or ribs in its shape")
    return int(between("ribs", ribs, 1, 500))


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps of one frame, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['cut', 'fit', 'frame/glue', 'frame/clean', 'gussets/glue', 'sand']
    """
    given, glue, ribs = task.given, task.products["glue"], ribs_of(task)
    joints, gussets = 2 * ribs, given.gussets_per_rib * ribs  # each rib meets the spar and the trailing edge
    between("gussets", gussets, 0, 2000)

    def step(
        key: str, name: str, estimate: Estimate, caution: str, *after: After, station: str, people: int = 1
    ) -> Step:
        return Step(
            key, name, estimate.minutes, people, after, None, None, True, estimate, caution, stations=(station,)
        )

    def glued(key: str, name: str, estimate: Estimate, *after: str, people: int = 2, station: str = "jig") -> Step:
        links = tuple(After(link) for link in after)
        step = Step(key, name, estimate.minutes, people, links, estimate=estimate, stations=(station,), holds=True,
                    kind="glue", skills=("woodwork",))  # fmt: skip
        return wet(step, glue, HANDLE, closed=True)

    found = [
        step("cut", "Cut ribs and strips", Estimate(30, each_min=14, count=ribs, piece="ribs"), TOOLS, station="bench"),
        step(
            "fit",
            "Dry fit in the jig, check square",
            Estimate(45, each_min=8, count=joints, piece="joints"),
            TOOLS,
            After("cut"),
            station="jig",
        ),
        glued(
            "frame/glue", "Glue ribs to spar and edge", Estimate(20, each_min=4, count=joints, piece="joints"), "fit"
        ),
        step(
            "frame/clean",
            "Unclamp, scrape squeeze-out",
            Estimate(15, each_min=2, count=joints, piece="joints"),
            TOOLS,
            After("frame/glue"),
            station="bench",
        ),
    ]
    before = ["frame/clean"]
    if given.blocks:
        # Thin strips bent round a form: they spring open again unless they cure in it.
        strips = Estimate(25, each_min=20, count=given.blocks, piece="blocks")
        found.append(
            glued("blocks/glue", "Laminate tip blocks in their form", strips, "cut", people=1, station="bench")
        )
        shape = Estimate(10, each_min=25, count=given.blocks, piece="blocks")
        found.append(
            step("blocks/shape", "Shape and fit the blocks", shape, TOOLS, After("blocks/glue"), station="bench")
        )
        before.append("blocks/shape")
    if given.stringers:
        long = Estimate(30, each_min=18, count=given.stringers, piece="stringers")
        found.append(glued("stringers/glue", "Let in and glue the stringers", long, *before))
        before = ["stringers/glue"]
    found += [
        glued(
            "gussets/glue",
            "Glue gussets and leading edge",
            Estimate(25, each_min=3, count=gussets, piece="gussets"),
            *before,
        ),
        step(
            "sand",
            "Sand, round every edge",
            Estimate(20, each_min=6, count=ribs, piece="ribs"),
            TOOLS,
            After("gussets/glue", SAND),
            station="bench",
        ),
    ]
    return tuple(found)


def glued_m2(task: Task[Given]) -> dict[str, float]:
    """What is glued by step [m²].

    >>> {key: round(area, 4) for key, area in glued_m2(example(RECIPE)).items()}
    {'frame/glue': 0.0048, 'gussets/glue': 0.0064}
    """
    given, ribs = task.given, ribs_of(task)
    found = {"frame/glue": 2 * ribs * given.joint_m2}
    if given.blocks:
        found["blocks/glue"] = given.blocks * BLOCK_M2
    if given.stringers:
        found["stringers/glue"] = given.stringers * task.shape.span_m * STRINGER_M
    if given.gussets_per_rib:
        found["gussets/glue"] = ribs * given.gussets_per_rib * given.gusset_m2
    return found


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Glue by step, by the area of its joints; mixed small, each for its own step.

    >>> [(need.step, round(need.takes.total_g, 1)) for need in needs(example(RECIPE))]
    [('frame/glue', 1.5), ('gussets/glue', 2.0)]
    """
    glue = task.products["glue"]
    if glue.parts is None:
        return ()
    return tuple(Need(key, "glue", spread(area * GLUE_G_M2, task.losses)) for key, area in glued_m2(task).items())


def asks(task: Task[Given]) -> tuple[str, ...]:
    """What is asked of its glue."""
    return too_cold(task)


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of a wood joint.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'moist', 'other', 'coat', 'thick', 'together', 'square', 'wipe', 'clean']
    """
    return (
        Item("ready", "Everything is laid ready", "Dry fitted once more; clamps, film, blocks within reach."),
        MOIST,
        OTHER_MOIST,
        Item("coat", "Both faces coated thin; end grain twice"),
        Item("thick", "Thickened glue on one face"),
        Item("together", "Joined and held: contact pressure only, more starves an epoxy joint"),
        Item("square", "Square and straight, checked before it sets"),
        Item("wipe", "Squeeze-out wiped"),
        CLEAN,
    )


def wood(task: Task[Given]) -> tuple[Stays, ...]:
    """What its wood weighs: ribs, sheets or pieces by their size, long sticks as they were weighed; else nothing.

    >>> frame = example(RECIPE)
    >>> wood(replace(frame, given=Given())), [one.grams for one in wood(replace(frame, given=Given(long_g=1200.0)))]
    ((), [1200.0])
    """
    given, shape = task.given, task.shape
    density = figures.Given("density of the wood", given.density_kg_m3, "density", given.density_kg_m3 == SPRUCE_KG_M3)
    found = []
    volume, also = _volume(task, shape)
    if volume:
        rule = "size × thickness × density"
        found.append(Stays("frame/glue", "wood", "wood", 1000 * volume * given.density_kg_m3, rule, (density, *also)))
    if given.long_g:
        rule = "as it was weighed"
        found.append(Stays("frame/glue", "wood", "spar, edges and stringers", given.long_g, rule))
    return tuple(found)


def _volume(task: Task[Given], shape: Shape) -> tuple[float, tuple[figures.Given, ...]]:
    """How much wood its ribs, sheet or pieces are [m³], and from what."""
    thick = task.given.thick_m
    if isinstance(shape, Pieces):
        # A face that was said is the wood's own; length × width is the box round it.
        solid = [1.0 if row.face_m2 is not None else task.given.solid for row in shape.pieces]
        sizes = [(row.count * row.one_face_m2, row.thickness_m or thick or 0.0) for row in shape.pieces]
        share = figures.Given("of the box round a piece that is wood", 100 * task.given.solid, "share",
                              task.given.solid == SOLID)  # fmt: skip
        return sum(s * area * depth for s, (area, depth) in zip(solid, sizes, strict=True)), (share,)
    if thick is None:
        return 0.0, ()
    depth = figures.Given("thick", 1000 * thick, "thickness")
    if not isinstance(shape, Loft):
        area = shape.skin_area_m2("upper")
        return area * thick, (figures.Given("its area", area, "area"), depth)
    ribs, section = ribs_of(task), shape.mean_section_m2
    also = (
        figures.Given("ribs", ribs, "count"),
        figures.Given("area inside a section, on average", section, "area"),
        figures.Given("of a rib that is wood", 100 * task.given.solid, "share", task.given.solid == SOLID),
        depth,
    )
    return ribs * section * task.given.solid * thick, also


RECIPE = Recipe(
    "frame",
    "glued wood frame",
    "Ribs on a spar in a jig, laminated blocks, stringers, then gussets and leading edge.",
    Given,
    (Role("glue", "Wood glue", ("wood glue", "paste adhesive"), ((HANDLE,), (SAND,))),),
    steps,
    needs,
    items,
    stations=("bench", "jig"),
    shapes=("loft", "outline", "pieces"),
    wood=wood,
    asks=asks,
)
