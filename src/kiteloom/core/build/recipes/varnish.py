"""Two coats of two-part varnish on a set of wood parts, with induction and a rub-down between.

A mix that has stood its time is brushed while it can be; the second coat goes on inside the
recoat window, where the sheet says when it closes.

Two-part varnish stands about 30 minutes after mixing before it is brushed (common practice).
Hands-on minutes are common practice too, and assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import between
from kiteloom.core.build.recipe import Item, Recipe, Role, Task, hazards_of, stage_of, wet
from kiteloom.core.build.step import USE_BY, After, Estimate, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.stores.materials import ResinSheet

#: The stages a varnish's sheet must give for this recipe.
RECOAT, HANDLE = ("recoat opens", "recoat"), ("handle", "sand")
#: The stage at which it is too late to recoat without sanding to a key, where the sheet gives one.
CLOSES = "recoat closes"
#: Common practice for two-part epoxy varnish [min].
INDUCTION_MIN = 30.0

_DUST = "Wood dust: mask, extraction."


@dataclass(frozen=True)
class Given:
    """The pieces: how close the ribs stand, and how much wood each has on all sides."""

    rib_pitch_m: Annotated[float, Asked("Rib pitch", dimension="length", unit=("mm", "in"), low=0.02, high=5)]
    rib_area_m2: Annotated[
        float, Asked("Wood of one rib, all sides", dimension="area", unit=("m²", "ft²"), low=0, high=20, open_low=True)
    ]


def life_of(product: ResinSheet) -> CureSystem | None:
    """How long a mix can be used, by its sheet's pot life, faster when warm; None where it says nothing.

    >>> life_of(product(EPOXY)) is None  # its sheet gives no pot life
    True
    """
    if product.pot_life is None:
        return None
    stage = Stage(USE_BY, product.pot_life.minutes / 60)
    return replace(product.curing, reference_c=product.pot_life.temp_c, stages=(stage,), min_c=None, table=())


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['sand', 'coat-1/mix', 'coat-1/brush', 'rub', 'coat-2/mix', 'coat-2/brush', 'look']
    """
    varnish = task.products["varnish"]
    pieces = int(task.shape.span_m / task.given.rib_pitch_m + 1e-9) + 1
    between("pieces", pieces, 1, 2000)
    area, life = pieces * task.given.rib_area_m2, life_of(varnish)
    recoat, handle = stage_of(varnish.curing, RECOAT), stage_of(varnish.curing, HANDLE)

    def dry(key: str, name: str, fixed: float, each: float, *after: After) -> Step:
        estimate = Estimate(fixed, each_min=each, count=pieces, piece="pieces")
        return Step(key, name, estimate.minutes, 1, after, may_pause=True, estimate=estimate, caution=_DUST,
                    stations=("bench",))  # fmt: skip

    def coat(number: int, name: str, after: str, until: str, *window: After) -> tuple[Step, Step]:
        mixing = Estimate(10)
        brushing = Estimate(10, per_m2_min=9, area_m2=area, each_min=1, count=pieces, piece="pieces")
        mix = f"coat-{number}/mix"
        brush = Step(f"coat-{number}/brush", name, brushing.minutes, 1,
                     (After(mix, closes=USE_BY if life else "", same_mix=True), *window), estimate=brushing,
                     stations=("drying stand",), holds=True, kind="brush", skills=("finishing",))  # fmt: skip
        return (
            Step(mix, "Mix varnish, let it stand", mixing.minutes, 1, (After(after),), estimate=mixing,
                 caution=hazards_of(varnish), wait_min=varnish.induction_min or INDUCTION_MIN, life=life, kind="mix"),
            wet(brush, varnish, until),
        )  # fmt: skip

    again = (After("coat-1/brush", recoat, closes=CLOSES),) if varnish.curing.has(CLOSES) else ()
    return (
        dry("sand", "Sand and dust off, mask glue faces", 20, 5),
        *coat(1, "Brush the first coat", "sand", recoat),
        dry("rub", "Rub down between the coats", 10, 2, After("coat-1/brush")),
        *coat(2, "Brush the second coat", "rub", handle, *again),
        dry("look", "Strip the masking, look for runs", 10, 1, After("coat-2/brush")),
    )


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of a coat.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'stood', 'edges', 'faces', 'runs', 'clean']
    """
    return (
        Item("ready", "Dusted and tacked off, glue faces masked, stand free"),
        Item("stood", "The mix has stood its time"),
        Item("edges", "Edges, holes and end grain first"),
        Item("faces", "Faces thin and wet in one direction"),
        Item("runs", "Runs brushed out after ten minutes, against the light"),
        Item("clean", "Brush cleaned, witness kept"),
    )


RECIPE = Recipe(
    "varnish",
    "two coats of varnish",
    "Two coats on a set of wood parts, each mix standing first, a rub-down between.",
    Given,
    (Role("varnish", "Varnish", ("varnish",), (RECOAT, HANDLE)),),
    steps,
    items=items,
    stations=("bench", "drying stand"),
    shaped=True,
)
