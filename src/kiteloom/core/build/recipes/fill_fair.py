"""A surface filled and faired: thin fills, each sanded, then primer and pinholes.

Filling straight on foam is done twice because the first fill sinks. Low spots can be filled
later; high spots must have gone before the skin went on. Weight goes on here unnoticed, so
each fill has its grams.

Hands-on minutes and grams per square metre are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import between
from kiteloom.core.build.recipe import Item, Need, Recipe, Role, Task, wet
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.need.resin import ResinNeed

#: The stage a filler's sheet must give for this recipe.
SAND = "sand"
#: What a first fill takes, and every one after it (common practice) [g/m²].
FIRST_G_M2, NEXT_G_M2 = 260.0, 110.0

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
    ['look', 'fill-1/spread', 'fill-1/sand', 'fill-2/spread', 'fill-2/sand', 'check']
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
        spread = Estimate(20, per_m2_min=14 if n == 1 else 9, area_m2=area)
        sand = Estimate(20, per_m2_min=26 if n == 1 else 20, area_m2=area)
        sinks = " (it sinks)" if given.on_foam and n == 1 else ""
        fill = Step(f"fill-{n}/spread", f"Spread fill {n} of {passes}{sinks}", spread.minutes, 1, (After(last),),
                    estimate=spread, caution=_FILL, stations=("wing stands",), kind="spread",
                    skills=("finishing",))  # fmt: skip
        found += [
            wet(fill, filler, SAND),
            Step(f"fill-{n}/sand", f"Long-board fill {n}", sand.minutes, 1, (After(fill.key),), may_pause=True,
                 estimate=sand, caution=_DUST, stations=("wing stands",), kind="sand"),
        ]  # fmt: skip
        last = f"fill-{n}/sand"
    check = Estimate(20, per_m2_min=5, area_m2=area)
    found.append(
        Step("check", "Check with the batten, wipe, fill pinholes", check.minutes, 1, (After(last),), may_pause=True,
             estimate=check, caution=_DUST, stations=("wing stands",))
    )  # fmt: skip
    return tuple(found)


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed filler by step.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('fill-1/spread', 547), ('fill-2/spread', 232)]
    """
    found = []
    for n in range(1, task.given.fills + task.given.on_foam + 1):
        spread = task.area_m2() * (FIRST_G_M2 if n == 1 else NEXT_G_M2)
        cup = spread / (1 - task.losses.cup_pct / 100) - spread
        found.append(Need(f"fill-{n}/spread", "filler", ResinNeed(spread, 0, 0, 0, cup)))
    return tuple(found)


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
        Item("clean", "Tools cleaned, witness kept"),
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
    shaped=True,
)
