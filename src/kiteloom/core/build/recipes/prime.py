"""One or two coats of primer, the second inside the recoat window.

A coat goes on something sanded and wiped. Too soon the second traps solvent, too late it does
not hold without sanding; where the sheet says when the window closes, the second is put inside
it. A sprayer leaves about a third beside the part.

Hands-on minutes, grams of a coat and what is lost by spraying are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import between
from kiteloom.core.build.closing import DRAINS
from kiteloom.core.build.recipe import ANY_SHAPE, Recipe
from kiteloom.core.build.run_sheet import sprayed_or_laid
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import hazards_of, stage_of, wet
from kiteloom.core.need.resin import spread

#: The stages a primer's sheet must give: when it can be recoated, and when sanded.
RECOAT, SAND = ("recoat opens", "recoat"), ("sand", "handle")
#: The stage at which it is too late to recoat without sanding to a key, where the sheet gives one.
CLOSES = "recoat closes"
#: What one coat takes mixed, where the sheet does not say (common practice for a filling epoxy primer) [g/m²].
COAT_G_M2 = 130.0
#: What goes beside the part, of what is put on (common practice) [-].
BESIDE = {"roller": 0.05, "spray": 0.35}

#: Pinholes show in the first coat; they are filled before the last.
PINHOLES = ("filled after the first coat", "none")

_DUST = "Sanding dust: mask, extraction."


@dataclass(frozen=True)
class Given:
    """How many coats, and how they are put on."""

    coats: Annotated[int, Asked("Coats", "count", low=1, high=2)] = 2
    method: Annotated[str, Asked("Put on by", "choice", choices=tuple(BESIDE))] = "roller"
    pinholes: Annotated[str, Asked("Pinholes", "choice", choices=PINHOLES)] = PINHOLES[0]


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['ready', 'coat-1', 'pinholes', 'coat-2', 'look']
    """
    given, area, primer = task.given, task.area_m2(), task.products["primer"]
    between("area_m2", area, 0, 200, unit="m²", name="the area to prime", open_low=True)
    recoat, sand = stage_of(primer.curing, RECOAT), stage_of(primer.curing, SAND)
    ready = Estimate(30, per_m2_min=12, area_m2=area)
    found = [
        Step("ready", "Sand, blow off, wipe, mask", ready.minutes, 1, may_pause=True, estimate=ready,
             caution=f"{_DUST} {hazards_of(primer)}", stations=("wing stands",))
    ]  # fmt: skip
    last: tuple[After, ...] = (After("ready"),)
    for n in range(1, given.coats + 1):
        coat = Estimate(20, per_m2_min=6 if given.method == "roller" else 4, area_m2=area)
        key = f"coat-{n}"
        step = Step(key, f"Prime, coat {n} of {given.coats}", coat.minutes, 1, last, estimate=coat,
                    caution="Never spray without the mask the maker names." if given.method == "spray" else "",
                    stations=("wing stands",), kind="coat", skills=("finishing",))  # fmt: skip
        holes = n == 1 and given.coats > 1 and given.pinholes == PINHOLES[0]
        found.append(wet(step, primer, recoat if n < given.coats and not holes else sand))
        last = (After(key, recoat, closes=CLOSES if primer.curing.has(CLOSES) else ""),)
        if holes:
            # Sanded, it may be coated whenever it is dry: no window closes.
            fill = Estimate(15, per_m2_min=14, area_m2=area)
            found.append(
                Step("pinholes", "Fill pinholes with glazing paste, sand, wipe", fill.minutes, 1, (After(key, sand),),
                     may_pause=True, estimate=fill, caution=_DUST, stations=("wing stands",), listed=True,
                     kind="pinholes")
            )  # fmt: skip
            last = (After("pinholes"),)
    look = Estimate(15, per_m2_min=6, area_m2=area)
    found.append(
        Step("look", "Sand to a key, look for pinholes", look.minutes, 1, (After(f"coat-{given.coats}"),),
             may_pause=True, estimate=look, caution=_DUST, stations=("wing stands",))
    )  # fmt: skip
    return tuple(found)


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed primer by step: what goes on, what goes beside it, and what stays in the cup.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('coat-1', 287), ('coat-2', 287)]
    """
    on = task.area_m2() * (task.products["primer"].coat_g_m2 or COAT_G_M2)
    takes = spread(on, task.losses, BESIDE[task.given.method])
    return tuple(Need(f"coat-{n}", "primer", takes) for n in range(1, task.given.coats + 1))


def items(task: Task[Given], step_key: str) -> tuple[Item, ...]:
    """The run sheet of a coat, and of its pinholes.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'mask', 'stir', 'edges', 'coat', 'light', 'gun', 'clean']
    """
    if step_key == "pinholes":
        return (
            Item("light", "A lamp laid flat along it: each pinhole marked"),
            Item("fill", "Paste drawn across each, pressed in, nothing left standing"),
            Item("sand", "Sanded flush when dry, the primer not rubbed through"),
            Item("wipe", "Blown out, wiped, looked over once more with the lamp"),
        )
    return sprayed_or_laid(
        "Sanded, wiped and dry; glue faces masked",
        "Primer stirred up from the bottom, mixed, strained",
        sprayed=task.given.method == "spray",
    )


RECIPE = Recipe(
    "prime",
    "priming",
    "One or two coats of primer, the second inside its recoat window, then sanded to a key.",
    Given,
    (Role("primer", "Primer", ("primer",), (RECOAT, SAND)),),
    steps,
    needs,
    items,
    stations=("wing stands",),
    shapes=ANY_SHAPE,
    before_closing=(DRAINS,),
)
