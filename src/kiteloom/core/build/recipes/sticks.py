"""Caps, stringers and blocks: sawn from stock lengths with least waste, scarfed where longer, laminated, bent.

A scarf is 10 to 12 times as long as the wood is thick; laminations spring open unless their glue cures in the form.
How far wood bends cold, what glue takes and hands-on minutes are common practice; where a scarf may stand is the
designer's.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.figures import Given as By
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.gluing import GLUE_G_M2, MOIST, SPRUCE_KG_M3, TOOLS, too_cold
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Sawn, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.need.lengths import Wanted, cut_list, scarfed, segments_of
from kiteloom.core.need.resin import spread
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.flat import Piece, Pieces
from kiteloom.core.weight.part import Stays

HANDLE = "handle"
#: A strip of spruce bends cold round so many of its thicknesses, soaked or steamed round so many (common practice) [-].
COLD, SOAKED = 100.0, 40.0
#: So long it soaks [min], and dries in its form after [min] (common practice).
SOAK_MIN, FORM_MIN = 60.0, 1440.0
_SCARFS = {"12 to 1": 12.0, "10 to 1": 10.0, "none": 0.0}
_BENDS = ("straight", "cold", "soaked or steamed")


@dataclass(frozen=True)
class Given:
    """Its stock, how it is scarfed, laminated and bent."""

    stock_m: Annotated[
        float, Asked("A length as it is bought", dimension="length", unit=("m", "ft"), low=0.1, high=15)
    ] = 2.4
    shelf: Annotated[str, Asked("On the shelf, of its first section, m", "words")] = ""
    saw_m: Annotated[float, Asked("The saw takes", dimension="length", unit=("mm", "in"), low=0, high=0.01)] = 0.003
    scarf: Annotated[str, Asked("Scarfs, where longer", "choice", choices=tuple(_SCARFS))] = "12 to 1"
    off_from_m: Annotated[
        float | None, Asked("No scarf between", dimension="length", unit=("m", "in"), low=0, high=30)
    ] = None
    off_to_m: Annotated[float | None, Asked("and", dimension="length", unit=("m", "in"), low=0, high=30)] = None
    layers: Annotated[int, Asked("Layers it is laminated of", "count", low=1, high=40)] = 1
    bend: Annotated[str, Asked("It is", "choice", choices=_BENDS)] = _BENDS[0]
    radius_m: Annotated[
        float | None, Asked("Bent to a radius of", dimension="length", unit=("m", "in"), low=0.02, high=100)
    ] = None


def _pieces(task: Task[Given]) -> tuple[Piece, ...]:
    shape = task.shape
    assert isinstance(shape, Pieces)
    for row in shape.pieces:
        if row.length_m is None or row.thickness_m is None or row.width_m is None:
            raise Refused("shape", f"{row.name} needs its length, width and thickness to be sawn")
    return shape.pieces


def shelf_of(given: Given) -> tuple[float, ...]:
    """The lengths on the shelf [m].

    >>> shelf_of(Given(shelf="1.8, 2.1; 0.9"))
    (1.8, 2.1, 0.9)
    """
    found = []
    for text in re.split(r"[;\s]+|,\s+", given.shelf.strip()):
        if not text.strip(","):
            continue
        try:
            length = float(text.strip(",m").replace(",", "."))
        except ValueError:
            raise Refused("shelf", f"“{text[:20]}” is no length; write them like 1.8, 2.1") from None
        found.append(between("shelf", length, 0, 15, unit="m", name="a length on the shelf", open_low=True))
    return tuple(found)


def sawn(task: Task[Given]) -> tuple[Sawn, ...]:
    """What is sawn, one list for each section; scarfed pieces as the lengths they are made of.

    >>> caps = replace(example(RECIPE), form=Pieces((Piece("cap", 4, 3.0, 0.02, 0.012),)))
    >>> found = sawn(caps)[0]
    >>> found.list.bought, [[round(length, 3) for _, length in bar.pieces] for bar in found.list.bars][0]
    (8, [1.572])
    """
    return _sawn(task.given, _pieces(task))


@lru_cache(maxsize=128)
def _sawn(given: Given, pieces: tuple[Piece, ...]) -> tuple[Sawn, ...]:
    """Asked for by steps, needs and screens alike, and searched for once."""
    ratio = _SCARFS[given.scarf]
    keep = None
    if given.off_from_m is not None and given.off_to_m is not None:
        keep = (min(given.off_from_m, given.off_to_m), max(given.off_from_m, given.off_to_m))
    sections: dict[tuple[float, float], list[Piece]] = {}
    for row in pieces:
        assert row.width_m is not None
        assert row.thickness_m is not None
        sections.setdefault((row.width_m, row.thickness_m / given.layers), []).append(row)
    found = []
    for n, ((width, thick), rows) in enumerate(sections.items()):
        wanted, scarfs, overlap = [], [], ratio * thick
        for row in rows:
            assert row.length_m is not None
            count = row.count * given.layers
            at = scarfed(row.length_m, given.stock_m, overlap, keep) if ratio else []
            if not at:
                wanted.append(Wanted(row.name, row.length_m, count))
                continue
            scarfs.append((row.name, tuple(at)))
            for letter, length in zip("abcdefghijklmnop", segments_of(row.length_m, at, overlap), strict=False):
                wanted.append(Wanted(f"{row.name} {letter}", length, count))
        listed = cut_list(wanted, given.stock_m, shelf_of(given) if n == 0 else (), given.saw_m)
        named = ", ".join(dict.fromkeys(row.name for row in rows))
        found.append(Sawn(named, width, thick, listed, tuple(scarfs), overlap))
    return tuple(found)


def _scarfs(lists: tuple[Sawn, ...], task: Task[Given]) -> tuple[int, float]:
    """How many scarfs there are, and their area together [m²]."""
    count, area = 0, 0.0
    rows = {row.name: row for row in _pieces(task)}
    for one in lists:
        for name, at in one.scarfs:
            many = rows[name].count * task.given.layers * len(at)
            count += many
            area += many * one.scarf_m * one.width_m
    return count, area


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(replace(example(RECIPE), form=Pieces((Piece("cap", 4, 3.0, 0.02, 0.012),))))]
    ['saw', 'scarf/plane', 'scarf/glue', 'dress']
    """
    given, lists = task.given, sawn(task)
    pieces = sum(len(bar.pieces) for one in lists for bar in one.list.bars)
    count, _ = _scarfs(lists, task)
    glue = task.products.get("glue")
    if glue is None and (count or given.layers > 1):
        what = [f"{count} scarfs"] if count else []
        what += [f"{given.layers} layers"] if given.layers > 1 else []
        raise Refused("products", f"choose a wood glue first: {' and '.join(what)} are to be glued")
    last = "saw"
    cut = Estimate(20, each_min=3, count=pieces, piece="cuts")
    lengths = sum(one.list.bought for one in lists)
    name = f"Saw {pieces} lengths out of {lengths} of stock"
    found = [Step("saw", name, cut.minutes, 1, may_pause=True, estimate=cut,
                  caution=TOOLS, stations=("bench",), kind="saw", listed=True)]  # fmt: skip

    def add(key: str, name: str, estimate: Estimate, *, glued: bool = False, **more: object) -> None:
        nonlocal last
        step = Step(key, name, estimate.minutes, 1, (After(last),), estimate=estimate, caution=TOOLS,
                    stations=("bench",), may_pause=not glued, **more)  # type: ignore[arg-type]  # fmt: skip
        if glued:
            assert glue is not None
            step = wet(step, glue, HANDLE, closed=True)
        found.append(step)
        last = key

    if count:
        add(
            "scarf/plane",
            f"Plane {count} scarfs, {given.scarf}",
            Estimate(15, each_min=12, count=count, piece="scarfs"),
        )
        add("scarf/glue", "Glue the scarfs, film round them, clamped straight",
            Estimate(20, each_min=6, count=count, piece="scarfs"), glued=True, holds=True, kind="glue",
            skills=("woodwork",))  # fmt: skip
    many = sum(row.count for row in _pieces(task))
    if given.bend == _BENDS[2]:
        add("soak", "Soak or steam it until it bends", Estimate(20), wait_min=SOAK_MIN, kind="soak")
        add("form", "Bend it round its form, let it dry there", Estimate(15, each_min=5, count=many, piece="pieces"),
            wait_min=FORM_MIN, kind="form")  # fmt: skip
    if given.layers > 1:
        add("laminate/glue", f"Laminate {many} of {given.layers} layers in their form, clamped overnight",
            Estimate(25, each_min=20, count=many, piece="pieces"), glued=True, holds=True, kind="glue",
            skills=("woodwork",))  # fmt: skip
    add(
        "dress",
        "Plane to size, mark each with its name and its end",
        Estimate(15, each_min=5, count=many, piece="pieces"),
    )
    return tuple(found)


def _glue_m2(task: Task[Given]) -> dict[str, float]:
    """What is glued by step [m²]: scarfs, and between layers."""
    count, area = _scarfs(sawn(task), task)
    found = {"scarf/glue": area} if count else {}
    if task.given.layers > 1:
        whole = sum(row.count * row.one_face_m2 for row in _pieces(task))
        found["laminate/glue"] = (task.given.layers - 1) * whole
    return found


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Glue by step, mixed small.

    >>> caps = replace(example(RECIPE), form=Pieces((Piece("bow", 2, 1.0, 0.03, 0.02),)), given=Given(layers=5))
    >>> [(need.step, round(need.takes.total_g)) for need in needs(caps)]
    [('laminate/glue', 76)]
    """
    if "glue" not in task.products:
        return ()
    return tuple(Need(key, "glue", spread(area * GLUE_G_M2, task.losses)) for key, area in _glue_m2(task).items())


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """The lengths that are bought, by section."""
    return tuple(
        Supply("saw", f"lengths for {one.pieces}", one.list.bought, "count", "by its cut list, what is there first",
               (By("a length", task.given.stock_m, "length"),))
        for one in sawn(task)
    )  # fmt: skip


def wood(task: Task[Given]) -> tuple[Stays, ...]:
    """What it weighs as dry spruce."""
    volume = sum(row.count * row.one_face_m2 * (row.thickness_m or 0.0) for row in _pieces(task))
    density = By("density of the wood", SPRUCE_KG_M3, "density", assumed=True)
    return (Stays("saw", "wood", "wood", 1000 * volume * SPRUCE_KG_M3, "size × density", (density,)),)


def asks(task: Task[Given]) -> tuple[str, ...]:
    """What is asked: too tight a bend, a glue whose least temperature is not known.

    >>> from dataclasses import replace
    >>> bow = Pieces((Piece("bow", 2, 1.0, 0.03, 0.012),))
    >>> asks(replace(example(RECIPE), form=bow, given=Given(bend="cold", radius_m=0.6)))[0]
    'Wood 12.0 mm thick bends cold to 1.200 m; 0.600 m asks for layers of at most 6.0 mm, or for soaking.'
    """
    given, found = task.given, []
    if given.bend != _BENDS[0] and given.radius_m is not None:
        thick = max((row.thickness_m or 0.0) / given.layers for row in _pieces(task))
        bends, how = (COLD, "cold") if given.bend == _BENDS[1] else (SOAKED, "soaked")
        if given.radius_m < bends * thick - 1e-9:
            more = " or for soaking" if given.bend == _BENDS[1] else " or for a form cut from the solid"
            is_thick, most = (task.says(1000 * size, "reading") for size in (thick, given.radius_m / bends))
            goes, asked = (task.says(size, "length") for size in (bends * thick, given.radius_m))
            bent = f"Wood {is_thick} thick bends {how} to {goes}"
            found.append(f"{bent}; {asked} asks for layers of at most {most},{more}.")
    return (*found, *too_cold(task))


def items(_: Task[Given], step_key: str) -> tuple[Item, ...]:
    """The run sheet of sawing, and of a glued joint.

    >>> [item.key for item in items(example(RECIPE), "scarf/glue")]
    ['ready', 'moist', 'coat', 'together', 'slip', 'clean']
    """
    if step_key == "saw":
        return (
            Item("ready", "Each length looked along: straight grain, no knots, no shakes where it carries"),
            Item("mark", "Marked by the cut list, the longest first, the saw's width between"),
            Item("saw", "Sawn, each marked with its name"),
            Item("rest", "What is left over marked with its length and laid on the shelf"),
        )
    return (
        Item("ready", "Faces planed fresh, clamps, film and a straight edge laid ready"),
        MOIST,
        Item("coat", "Both faces coated thin, end grain twice"),
        Item("together", "Joined on film against a straight edge or its form; contact pressure only for epoxy"),
        Item("slip", "Pinned so that a scarf can't slip along itself"),
        CLEAN,
    )


RECIPE = Recipe(
    "sticks",
    "caps, stringers and blocks",
    "Sawn out of stock lengths with least waste, scarfed, laminated, bent.",
    Given,
    (Role("glue", "Wood glue", ("wood glue", "paste adhesive"), ((HANDLE,),), optional=True),),
    steps,
    needs,
    items,
    supplies=uses,
    stations=("bench",),
    shapes=("pieces",),
    wood=wood,
    asks=asks,
    sawn=sawn,
)
