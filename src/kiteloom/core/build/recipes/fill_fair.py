"""A surface filled and faired: thin fills, each sanded, then the pinholes.

Filling straight on foam is done twice because the first fill sinks, and it is thicker. Low spots can be
filled later; high spots must have gone before the skin went on. Weight goes on here unnoticed, so each
fill has its grams: its thickness times the density of the filler.

Hands-on minutes and thicknesses are common practice. Long-boarding varies most between people: two to
three times either way, so let the crew's own hours replace it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import between
from kiteloom.core.build.closing import EDGES
from kiteloom.core.build.recipe import SURFACES, Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Again, Item, Need, Role, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.need.resin import spread

#: The stage a filler's sheet must give for this recipe.
SAND = "sand"
#: How thick a fill is on average: on bare foam, the first on a skin, every one after it (common practice) [mm].
FOAM_MM, FIRST_MM, NEXT_MM = 0.6, 0.36, 0.15
#: What pinholes take (common practice) [mm].
PINHOLES_MM = 0.02

_DUST = "Sanding dust: mask, extraction; stop at the first fibre that shows."
_FILL = "Balloons float: mask while they are dry."


@dataclass(frozen=True)
class Given:
    """How often a hard skin is filled, and whether it is bare foam: once more there, where the first fill sinks."""

    fills: Annotated[int, Asked("Fills", "count", low=1, high=6)] = 2
    on_foam: Annotated[bool, Asked("Straight on foam", "yes")] = False


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['look', 'fill-1/spread', 'fill-1/sand', 'fill-2/spread', 'fill-2/sand', 'pinholes', 'check']
    """
    given, area, filler = task.given, task.area_m2(), task.products["filler"]
    between("area_m2", area, 0, 200, unit="m²", name="the area to fair", open_low=True)
    passes = given.fills + given.on_foam
    look = Estimate(15, per_m2_min=6, area_m2=area)
    found = [
        Step("look", "Abrade, mark low spots with a batten", look.minutes, 1, may_pause=True, estimate=look,
             caution=_DUST, stations=("wing stands",))
    ]  # fmt: skip
    last = "look"
    for n in range(1, passes + 1):
        spreading = Estimate(20, per_m2_min=14 if n == 1 else 9, area_m2=area)
        sand = Estimate(20, per_m2_min=50 if n == 1 else 40, area_m2=area)
        sinks = " (it sinks)" if given.on_foam and n == 1 else ""
        fill = Step(f"fill-{n}/spread", f"Spread fill {n} of {passes}{sinks}", spreading.minutes, 1, (After(last),),
                    estimate=spreading, caution=_FILL, stations=("wing stands",), kind="spread",
                    skills=("finishing",))  # fmt: skip
        found += [
            wet(fill, filler, SAND),
            Step(f"fill-{n}/sand", f"Long-board fill {n}", sand.minutes, 1, (After(fill.key),), may_pause=True,
                 estimate=sand, caution=_DUST, stations=("wing stands",), kind="sand"),
        ]  # fmt: skip
        last = f"fill-{n}/sand"
    holes, check = Estimate(15, per_m2_min=4, area_m2=area), Estimate(20, per_m2_min=8, area_m2=area)
    pinholes = Step("pinholes", "Draw filler over the pinholes", holes.minutes, 1, (After(last),), estimate=holes,
                    caution=_FILL, stations=("wing stands",), kind="spread", skills=("finishing",))  # fmt: skip
    found += [
        wet(pinholes, filler, SAND),
        Step("check", "Sand them flush, check with the batten, wipe", check.minutes, 1, (After("pinholes"),),
             may_pause=True, estimate=check, caution=_DUST, stations=("wing stands",)),
    ]  # fmt: skip
    return tuple(found)


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed filler by step: thickness times density.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('fill-1/spread', 872), ('fill-2/spread', 363), ('pinholes', 48)]
    """
    given = task.given
    thick = [FOAM_MM, FIRST_MM] if given.on_foam else [FIRST_MM]
    thick += [NEXT_MM] * (given.fills - 1)
    g_m2_mm = 1000 * task.products["filler"].cured_density_g_ml
    fills = [(f"fill-{n}/spread", mm) for n, mm in enumerate(thick, 1)]
    return tuple(
        Need(key, "filler", spread(task.area_m2() * mm * g_m2_mm, task.losses))
        for key, mm in [*fills, ("pinholes", PINHOLES_MM)]
    )


def items(_: Task[Given], __: str) -> tuple[Item, ...]:
    """The run sheet of a fill.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'mix', 'low', 'long', 'thin', 'clean']
    """
    return (
        Item("ready", "Abraded, dusted, low spots marked"),
        Item("mix", "Filler mixed until it is one colour"),
        Item("low", "Low spots first, pressed in against trapped air"),
        Item("long", "Drawn off with the long blade along the span"),
        Item("thin", "No more than a few millimetres at once"),
        CLEAN,
    )


RECIPE = Recipe(
    "fair",
    "filling and fairing",
    "Thin fills, each sanded, until the batten lies on it.",
    Given,
    (Role("filler", "Filler", ("filler",), ((SAND,),)),),
    steps,
    needs,
    items,
    stations=("wing stands",),
    shapes=SURFACES,
    before_closing=(EDGES,),
    again=Again(
        "fair",
        "Is the reading not in yet?",
        "One more fill, thin",
        given={"fills": "1", "on_foam": "no"},
        brings_in=("straightness", "gap"),
    ),
)
