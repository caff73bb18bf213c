"""A spot mended with a tapered patch: cut back to sound laminate, laid up again, flushed.

Every ply reaches further than the one below it by the taper times its thickness: 1 : 20 for a lightly loaded
glass skin, 1 : 40 or more where it carries (common practice). What the patch must be is the kit maker's or a
licensed inspector's to say, above all in a spar, a fitting or carbon.

Minutes are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.build.recipe import Recipe
from kiteloom.core.build.run_sheet import CLEAN
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import stage_of, wet
from kiteloom.core.need.resin import spread

#: The stages a resin's sheet must give one of: from then on a patch is flushed.
FLUSH = ("sand", "peel")
#: How thick a hand-laid ply is for each g/m² of its cloth (common practice: glass at half resin by weight) [mm].
MM_PER_G_M2 = 1.1e-3

_DUST = "Sanding dust: mask, extraction; stop at the first sound fibre."


@dataclass(frozen=True)
class Given:
    """The spot that is bad, and what is laid over it."""

    length_mm: Annotated[
        float, Asked("Length of the bad spot", dimension="length", scale=1e-3, unit=("mm", "in"), low=5, high=3000)
    ] = 60.0
    width_mm: Annotated[
        float, Asked("Width of the bad spot", dimension="length", scale=1e-3, unit=("mm", "in"), low=5, high=3000)
    ] = 40.0
    plies: Annotated[int, Asked("Plies of the patch", "count", low=1, high=12)] = 2
    cloth_g_m2: Annotated[
        float, Asked("Weight of its cloth", dimension="areal weight", unit=("g/m²", "oz/yd²"), low=20, high=1200)
    ] = 280.0
    taper: Annotated[int, Asked("Tapered 1 to", "count", low=5, high=100)] = 20


def areas_m2(given: Given) -> list[float]:
    """What each ply of the patch covers, the smallest first [m²].

    >>> [round(1e4 * area) for area in areas_m2(Given(100, 100, 2, 300, 20))]  # cm²
    [128, 160]
    """
    step = given.taper * given.cloth_g_m2 * MM_PER_G_M2
    sides = [(given.length_mm + 2 * n * step, given.width_mm + 2 * n * step) for n in range(1, given.plies + 1)]
    return [1e-6 * length * width for length, width in sides]


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['cut-back', 'lay', 'flush']
    """
    given, resin = task.given, task.products["resin"]
    area = areas_m2(given)[-1]
    back = Estimate(25, per_m2_min=300, area_m2=area)
    lay = Estimate(20, per_m2_min=60, area_m2=area, plies=given.plies)
    flush = Estimate(20, per_m2_min=200, area_m2=area)
    patch = Step("lay", f"Lay the patch, {given.plies} plies", lay.minutes, 1,
                 (After("cut-back", "end", within_min=240),), estimate=lay, skills=("layup",),
                 caution="Sound laminate, washed, abraded and wiped, stays ready for some hours only.")  # fmt: skip
    return (
        Step("cut-back", f"Cut back to sound laminate, taper 1 : {given.taper}", back.minutes, 1, may_pause=True,
             estimate=back, caution=_DUST),
        wet(patch, resin, stage_of(resin.curing, FLUSH)),
        Step("flush", "Flush it, tap it round, look again", flush.minutes, 1, (After("lay"),), may_pause=True,
             estimate=flush, caution=_DUST),
    )  # fmt: skip


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed resin of the patch: as much as its cloth weighs, laid by hand.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('lay', 3)]
    """
    cloth = sum(areas_m2(task.given)) * task.given.cloth_g_m2
    return (Need("lay", "resin", spread(cloth, task.losses)),)


def items(task: Task[Given], _: str) -> tuple[Item, ...]:
    """The run sheet of the patch.

    >>> [item.key for item in items(example(RECIPE), "lay")]
    ['ready', 'wet', 'ply-1', 'ply-2', 'film', 'clean']
    """
    called = [
        Item(
            f"ply-{n}",
            f"Ply {n}: {task.says(area, 'small area')}",
            "Smallest first, its warp as the ply it replaces.",
        )
        for n, area in enumerate(areas_m2(task.given), 1)
    ]
    return (
        Item("ready", "Tapered edge dull all over, washed, abraded, wiped; cloth cut"),
        Item("wet", "The cut wetted out"),
        *called,
        Item("film", "Peel ply or film on, air worked out, held down while it gels"),
        CLEAN,
    )


RECIPE = Recipe(
    "patch",
    "mending with a patch",
    "A bad spot cut back to sound laminate, tapered, laid up again and flushed.",
    Given,
    (Role("resin", "Laminating resin", ("laminating resin",), (FLUSH,)),),
    steps,
    needs,
    items,
)
