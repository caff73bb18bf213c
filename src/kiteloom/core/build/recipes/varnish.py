"""Two coats of two-part varnish on a set of wood parts, with induction and a rub-down between.

A mix that has stood its time is used up while it can be; what can't be brushed with one is brushed with
several, the next one mixed while the last is used. The first coat is always rubbed down, once it can be
sanded, so the window for recoating without does not bind the second.

Two-part varnish stands about 30 minutes after mixing before it is brushed (common practice).
Hands-on minutes are common practice too, and assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.recipe import ANY_SHAPE, Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import USE_BY, After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import hazards_of, life_of, stage_of, wet
from kiteloom.core.mix.cups import LIFE_SHARE
from kiteloom.core.need.resin import spread
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.flat import Flat, Pieces, Strips
from kiteloom.core.shape.loft import Loft
from kiteloom.core.stores.fields import CAUTIONS
from kiteloom.core.stores.materials import ResinSheet

#: The stages a varnish's sheet must give for this recipe: what may just be recoated can't be rubbed down.
RECOAT, HANDLE = ("recoat opens", "recoat"), ("handle", "sand")
RUB = ("sand", "handle")
#: Common practice for two-part epoxy varnish [min].
INDUCTION_MIN = 30.0
#: A mix that can be brushed for less is none [min].
LEAST_USE_MIN = 10.0
#: What one coat takes mixed, where the sheet does not say (common practice) [g/m²].
COAT_G_M2 = 100.0

#: Masking tape put on along a line takes so long (common practice) [min/m].
MASK_MIN_M = 2.0

_DUST = "Wood dust: mask, extraction."


@dataclass(frozen=True)
class Given:
    """The pieces: how close the ribs stand, and how much wood each has on all sides."""

    rib_pitch_m: Annotated[
        float | None,
        Asked("Rib pitch, where its shape has no ribs", dimension="length", unit=("mm", "in"), low=0.02, high=5),
    ] = None
    rib_area_m2: Annotated[
        float | None,
        Asked("Wood of one rib, all sides", dimension="area", unit=("m²", "ft²"), low=0, high=20, open_low=True),
    ] = None
    masked_m: Annotated[
        float,
        Asked("Strips masked for glue and cloth", dimension="length", unit=("m", "ft"), low=0, high=1000),
    ] = 0.0


def mixes_of(product: ResinSheet, minutes: float, stands_min: float) -> int:
    """With how many mixes a coat is brushed, so that each is used up within a share of its life.

    >>> from kiteloom.core.mix.exotherm import PotLife
    >>> short = replace(product(EPOXY), pot_life=PotLife(60, 200, 20))
    >>> mixes_of(short, 180, 30), mixes_of(product(EPOXY), 180, 30)
    (12, 1)
    """
    if product.pot_life is None:
        return 1
    usable = LIFE_SHARE * product.pot_life.minutes - stands_min
    if usable < LEAST_USE_MIN:
        raise Refused(
            "varnish",
            f"{product.name} stands {stands_min:g} min before it is brushed, and its pot life is "
            f"{product.pot_life.minutes:g} min: nothing of it is left to brush with; check its sheet",
        )
    return math.ceil(minutes / usable)


def _wood(task: Task[Given]) -> tuple[int, float]:
    """How many pieces there are, and what they have on all sides [m²]: as a shape of pieces or faces says itself;
    ribs of a loft stand at their pitch, or where the shape has them.
    """
    shape, given = task.shape, task.given
    if isinstance(shape, Pieces):
        if not shape.all_sides_m2:
            raise Refused("shape", "its pieces have no width or face yet; varnish needs their area")
        return shape.count, shape.all_sides_m2
    if isinstance(shape, (Flat, Strips)):
        return 1, shape.skin_area_m2("upper") + shape.skin_area_m2("lower")
    own = len(shape.ribs.at_m) if isinstance(shape, Loft) else 0
    lacks = [] if given.rib_pitch_m or own else ["Rib pitch, or ribs in its shape"]
    lacks += [] if given.rib_area_m2 else ["Wood of one rib, all sides"]
    if lacks or given.rib_area_m2 is None:
        raise Refused("rib_area_m2", f"not given yet: {', '.join(lacks)}")
    pieces = int(shape.span_m / given.rib_pitch_m + 1e-9) + 1 if given.rib_pitch_m else own
    between("pieces", pieces, 1, 2000)
    return pieces, pieces * given.rib_area_m2


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['sand', 'coat-1/mix', 'coat-1/brush', 'rub', 'coat-2/mix', 'coat-2/brush', 'look']
    """
    varnish = task.products["varnish"]
    (pieces, area), life = _wood(task), life_of(varnish)
    handle, rubbed = stage_of(varnish.curing, HANDLE), stage_of(varnish.curing, RUB)
    stands = varnish.induction_min or INDUCTION_MIN
    brushing = Estimate(10, per_m2_min=9, area_m2=area, each_min=1, count=pieces, piece="pieces")
    mixes = mixes_of(varnish, brushing.minutes, stands)
    brushing = replace(brushing, fixed_min=10 * mixes)
    one_of = f"In {mixes} mixes: the next is mixed, and stands, while the one before is used up." if mixes > 1 else ""

    rags = f"Rags: {CAUTIONS['Rags']}" if varnish.chemistry == "drying" and "Rags" not in varnish.hazards else ""

    def dry(key: str, name: str, fixed: float, each: float, *after: After) -> Step:
        estimate = Estimate(fixed, each_min=each, count=pieces, piece="pieces")
        return Step(key, name, estimate.minutes, 1, after, may_pause=True, estimate=estimate, caution=_DUST,
                    stations=("bench",))  # fmt: skip

    def coat(number: int, name: str, after: str, until: str) -> tuple[Step, Step]:
        mixing = Estimate(10)
        mix = f"coat-{number}/mix"
        used = After(mix, closes=USE_BY if life else "", same_mix=True, uses_min=brushing.minutes / mixes)
        brush = Step(f"coat-{number}/brush", name, brushing.minutes, 1, (used,), estimate=brushing, caution=one_of,
                     stations=("drying stand",), holds=True, kind="brush", skills=("finishing",))  # fmt: skip
        return (
            Step(mix, "Mix varnish, let it stand", mixing.minutes, 1, (After(after),), estimate=mixing,
                 caution=f"{hazards_of(varnish)} {rags}".strip(), wait_min=stands, life=life, kind="mix"),
            wet(brush, varnish, until),
        )  # fmt: skip

    return (
        dry("sand", "Sand and dust off, mask glue faces", 20 + MASK_MIN_M * task.given.masked_m, 5),
        *coat(1, "Brush the first coat", "sand", rubbed),
        dry("rub", "Rub down between the coats", 10, 2, After("coat-1/brush")),
        *coat(2, "Brush the second coat", "rub", handle),
        dry("look", "Strip the masking, look for runs", 10, 1, After("coat-2/brush")),
    )


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed varnish by coat.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('coat-1/brush', 421), ('coat-2/brush', 421)]
    """
    on = _wood(task)[1] * (task.products["varnish"].coat_g_m2 or COAT_G_M2)
    return tuple(Need(f"coat-{n}/brush", "varnish", spread(on, task.losses)) for n in (1, 2))


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Masking tape over the strips that glue and cloth go on."""
    metres = task.given.masked_m
    return (Supply("sand", "masking tape", metres, "run", "strips for glue and cloth"),) if metres else ()


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of a coat.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'stood', 'edges', 'faces', 'runs', 'brush', 'clean']
    """
    return (
        Item("ready", "Dusted and tacked off, glue faces masked, stand free"),
        Item("stood", "The mix has stood its time"),
        Item("edges", "Edges, holes and end grain first"),
        Item("faces", "Faces thin and wet in one direction"),
        Item("runs", "Runs brushed out after ten minutes, against the light"),
        Item("brush", "Brush cleaned"),
        CLEAN,
    )


RECIPE = Recipe(
    "varnish",
    "two coats of varnish",
    "Two coats on a set of wood parts, each mix standing first, a rub-down between.",
    Given,
    (Role("varnish", "Varnish", ("varnish",), (RECOAT, HANDLE)),),
    steps,
    needs,
    items,
    supplies=uses,
    stations=("bench", "drying stand"),
    shapes=ANY_SHAPE,
)
