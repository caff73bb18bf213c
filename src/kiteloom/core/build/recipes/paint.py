"""Paint: masked, put on in coats each inside the window of the one before, unmasked while it gives.

Masking takes longer than painting. Too soon the next coat traps solvent, too late it does not hold without sanding;
where a sheet says when its window closes, the next coat is put inside it. Where it is sprayed, a booth is a station.

Hands-on minutes, and what goes beside the part by each way of putting it on, are common practice.
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
from kiteloom.core.build.wet import hazards_of, life_of, stage_of, wet
from kiteloom.core.need.coats import BESIDE, MINUTES, Coating, coats
from kiteloom.core.need.resin import spread
from kiteloom.core.need.supplies import Supply, brushed
from kiteloom.core.weight.part import Stays

#: When it may be coated again, and when it may be handled.
RECOAT, HANDLE = ("recoat opens", "recoat", "handle"), ("handle", "sand", "full")
#: The stage at which it is too late to coat again without sanding, where the sheet gives one.
CLOSES = "recoat closes"
SPRAYED = ("spray gun", "cans")
#: What one coat takes mixed, where the sheet does not say (common practice) [g/m²].
COAT_G_M2 = 110.0
#: How far a litre goes in one coat, where the sheet does not say (common practice) [m²/l].
COAT_M2_L = 10.0

_DUST = "Sanding dust: mask, extraction."


@dataclass(frozen=True)
class Given:
    """How many coats, how they are put on, and what is masked."""

    coats: Annotated[int, Asked("Coats", "count", low=1, high=8)] = 2
    method: Annotated[str, Asked("Put on by", "choice", choices=tuple(BESIDE))] = "spray gun"
    masked_m: Annotated[
        float,
        Asked("Edges to mask: glue faces, brackets", dimension="length", unit=("m", "ft"), low=0, high=500),
    ] = 5.0
    thinned: Annotated[float, Asked("Thinned by", dimension="share", scale=100, unit=("%", "%"), low=0, high=0.5)] = 0.0
    together: Annotated[str, Asked("Painted in one go with others called", "words")] = ""


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['mask', 'coat-1', 'coat-2', 'unmask']
    """
    given, area, paint = task.given, task.area_m2(), task.products["paint"]
    between("area_m2", area, 0, 200, unit="m²", name="the area to paint", open_low=True)
    recoat, handle = stage_of(paint.curing, RECOAT), stage_of(paint.curing, HANDLE)
    sprayed = given.method in SPRAYED
    mask = Estimate(30, per_m2_min=10, area_m2=area, each_min=4, count=round(given.masked_m), piece="m of edge masked")
    found = [
        Step("mask", "Scuff, wash, wipe and mask", mask.minutes, 1, may_pause=True, estimate=mask,
             caution=f"{_DUST} {hazards_of(paint)}".strip(), stations=("wing stands",), kind="mask")
    ]  # fmt: skip
    last: tuple[After, ...] = (After("mask"),)
    for n in range(1, given.coats + 1):
        # Mixed, it stands its time before it is put on.
        coat = Estimate(20 + paint.induction_min, per_m2_min=MINUTES[given.method], area_m2=area)
        key = f"coat-{n}"
        step = Step(key, f"Paint, coat {n} of {given.coats}", coat.minutes, 1, last, estimate=coat,
                    caution="Never spray without the mask the maker names; supplied air for what contains isocyanate."
                    if sprayed else "",
                    stations=("booth",) if sprayed else ("wing stands",), holds=True, kind=f"coat by {given.method}",
                    skills=("finishing",), life=life_of(paint) if paint.parts is not None else None)  # fmt: skip
        found.append(wet(step, paint, recoat if n < given.coats else handle))
        last = (After(key, recoat, closes=CLOSES if paint.curing.has(CLOSES) else ""),)
    look = Estimate(10, per_m2_min=3, area_m2=area, each_min=1, count=round(given.masked_m), piece="m of mask")
    found.append(
        Step("unmask", "Strip the mask, look it over, weigh it", look.minutes, 1, (After(f"coat-{given.coats}"),),
             may_pause=True, estimate=look, caution="Fresh paint marks: clean gloves.", stations=("wing stands",))
    )  # fmt: skip
    return tuple(found)


def _coat_keys(task: Task[Given]) -> list[str]:
    return [f"coat-{n}" for n in range(1, task.given.coats + 1)]


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed paint by coat; nothing of what comes ready in one part.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('coat-1', 313), ('coat-2', 313)]
    """
    paint = task.products["paint"]
    if paint.parts is None:
        return ()
    on = task.area_m2() * (paint.coat_g_m2 or COAT_G_M2)
    takes = spread(on, task.losses, BESIDE[task.given.method])
    return tuple(Need(key, "paint", takes) for key in _coat_keys(task))


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """What comes ready in one part, by coat, and masking tape."""
    paint, found = task.products["paint"], []
    if task.given.masked_m:
        found.append(Supply("mask", "masking tape", task.given.masked_m, "run", "the edges to mask"))
    if paint.parts is None:
        for key in _coat_keys(task):
            if task.given.thinned:
                one = coats(task.area_m2(), 1, paint.spread_m2_l or COAT_M2_L, 0.0, 1.0)
                found.append(Supply(key, "thinner", 1000 * one.litres * task.given.thinned, "volume",
                                    "what is on it × thinned by"))  # fmt: skip
            found += brushed(key, paint, task.area_m2(), task.losses, BESIDE[task.given.method])
    return tuple(found)


def dried(task: Task[Given]) -> tuple[Stays, ...]:
    """What dries on the part of what is not mixed."""
    paint = task.products["paint"]
    if paint.parts is not None or paint.spread_m2_l is None:
        return ()
    one = coats(task.area_m2(), 1, paint.spread_m2_l, 0.0, paint.wet_density_g_ml, paint.solids)
    rule = "its area ÷ what a litre spreads over × what is left dry"
    return tuple(Stays(key, "coat", paint.name, one.dry_g or 0.0, rule) for key in _coat_keys(task))


def together(task: Task[Given]) -> tuple[str, tuple[str, ...]]:
    """The name of the round it is painted in, and its coats."""
    return " ".join(task.given.together.lower().split()), tuple(_coat_keys(task))


def coating(task: Task[Given]) -> Coating:
    """What its coats are reckoned by."""
    paint = task.products["paint"]
    return Coating(
        task.area_m2(), task.given.coats, paint.spread_m2_l or COAT_M2_L, paint.wet_density_g_ml, paint.solids,
        task.losses.cup_pct / 100,
    )  # fmt: skip


def items(task: Task[Given], _: str) -> tuple[Item, ...]:
    """The run sheet of a coat.

    >>> [item.key for item in items(example(RECIPE), "coat-1")]
    ['ready', 'mask', 'stir', 'edges', 'coat', 'light', 'gun', 'clean']
    """
    return sprayed_or_laid(
        "Tacked off and dry; what must not be painted is masked",
        "Stirred up from the bottom, strained, thinned as its sheet says",
        sprayed=task.given.method in SPRAYED,
    )


RECIPE = Recipe(
    "paint",
    "painting",
    "Masked, painted in coats each inside the window of the one before, unmasked.",
    Given,
    (Role("paint", "Paint", ("paint",), (RECOAT, HANDLE)),),
    steps,
    needs,
    items,
    supplies=uses,
    stations=("wing stands", "booth"),
    shapes=ANY_SHAPE,
    wood=dried,
    before_closing=(DRAINS,),
    together=together,
    coats=coating,
)
