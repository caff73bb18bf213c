"""A bagged sandwich skin laid in a mould: outer skin, core, inner skin, each under vacuum.

The outer skin goes into the mould first and is peeled and inspected before the core is
bedded on it; the inner skin follows on the core. Without a core it is one skin.

Hands-on minutes are common practice for a crew of three on skins of 2 to 8 m²; they are
assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.build.recipe import SURFACES, Item, Need, Recipe, Role, Task, wet
from kiteloom.core.build.run_sheet import BARE, CLEAN, PRESSED, READY, laid
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.laminate.stack import ply_figures
from kiteloom.core.need.resin import resin_need

#: The stages a laminating resin's sheet must give for this recipe.
PEEL, SAND = "peel", "sand"


@dataclass(frozen=True)
class _Rate:
    """Minutes for a fixed part, and per square metre and ply, by so many people."""

    fixed: float
    per_m2: float
    people: int

    def estimate(self, area_m2: float, plies: int) -> Estimate:
        return Estimate(self.fixed, self.per_m2, area_m2, plies)


_PREPARE = _Rate(45, 10, 2)


_LAYUP = _Rate(50, 8, 3)


_PEEL = _Rate(15, 5, 1)


_CORE = _Rate(50, 11, 3)


_TRIM = _Rate(30, 8, 1)


#: The coat on the cured skin and the joints of the core, besides what its cells drink (common practice: 300
#: to 600 in all) [g/m²].
BED_G_M2 = 250.0


_WAX = "Release wax and its solvent burn; their vapour travels: no flame, fresh air."
_CUPS = "Small cups: a big one can smoke and catch fire."
_DUST = "Glass and foam dust: mask, goggles, extraction; edges of cured skins cut."

_PEELED = f"Its peel ply stays on until the minute the next layer goes down. {_DUST}"


@dataclass(frozen=True)
class Given:
    """Nothing besides the part's shape, its ply book and the resin."""


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps of one skin, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['prepare', 'skin-1/layup', 'skin-1/peel', 'core/bed', 'skin-2/layup', 'skin-2/peel', 'trim']
    """
    stack, resin, area = task.laid, task.products["resin"], task.area_m2()
    outer, inner = len(stack.outside), len(stack.inside)

    def dry(key: str, name: str, rate: _Rate, caution: str, *after: After) -> Step:
        estimate = rate.estimate(area, 1)
        return Step(key, name, estimate.minutes, rate.people, after, may_pause=True, estimate=estimate, caution=caution)

    def bagged(key: str, name: str, rate: _Rate, after: str, plies: int = 1) -> Step:
        # Work with an open mix is done in one go; anything else may wait for the morning.
        estimate = rate.estimate(area, plies)
        step = Step(key, name, estimate.minutes, rate.people, (After(after),), estimate=estimate, caution=_CUPS,
                    stations=("vacuum pump",), holds=True, skills=("layup",), kind="layup")  # fmt: skip
        return wet(step, resin, PEEL, closed=True)

    found = [dry("prepare", "Prepare mould, cut cloth", _PREPARE, _WAX)]
    last = "prepare"
    if outer:
        found += [
            bagged("skin-1/layup", "Lay and bag the outer skin", _LAYUP, last, outer),
            dry("skin-1/peel", "Open the bag, inspect the outer skin", _PEEL, _PEELED, After("skin-1/layup")),
        ]
        last = "skin-1/peel"
    if stack.core is not None:
        found.append(bagged("core/bed", "Bed the core and bag it", _CORE, last))
        last = "core/bed"
    if inner:
        found += [
            bagged("skin-2/layup", "Lay and bag the inner skin", _LAYUP, last, inner),
            dry("skin-2/peel", "Peel the inner skin", _PEEL, _DUST, After("skin-2/layup")),
        ]
        last = "skin-2/peel"
    sanded = next(s.key for s in reversed(found) if s.cure is not None)
    found.append(dry("trim", "Trim and sand the edges", _TRIM, _DUST, After(last), After(sanded, SAND)))
    return tuple(found)


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed resin by step, losses included.

    The core's outer face is filled when it is bedded, its inner face under the inner skin.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('skin-1/layup', 1111), ('core/bed', 779), ('skin-2/layup', 903)]
    """
    stack, density, area = task.laid, task.products["resin"].cured_density_g_ml, task.area_m2()

    def laminate(plies: range) -> float:
        return sum(ply_figures(stack.plies[i].cloth, density).resin_g_m2 for i in plies)

    core, outer = stack.core, len(stack.outside)
    uptake = core.resin_uptake_g_m2_per_side if core else 0.0
    found = {}
    if outer:
        found["skin-1/layup"] = resin_need(area, laminate(range(outer)), 0, task.losses)
    if core is not None:
        # Bedding takes up resin on the mould side, on a wet skin; nothing is bled, the bag only presses.
        found["core/bed"] = resin_need(area, 0, uptake + BED_G_M2, task.losses, bagged=False)
    if stack.inside:
        found["skin-2/layup"] = resin_need(area, laminate(range(outer, len(stack.plies))), uptake, task.losses)
    return tuple(Need(step, "resin", takes) for step, takes in found.items())


def items(task: Task[Given], key: str) -> tuple[Item, ...]:
    """The run sheet of a layup, or of bedding the core.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'wet', 'ply-1', 'ply-2', 'peel-ply', 'film', 'bag', 'vacuum', 'leak', 'clean']
    """
    stack = task.laid
    if key == "core/bed":
        return (
            READY,
            *([BARE] if stack.outside else []),
            Item(
                "face", "Core scored, its face slurried until it drinks no more", stack.core.name if stack.core else ""
            ),
            Item("holes", "Core drilled, a hole a hand apart: trapped air must get out under the bag"),
            Item("wet", "A coat on the skin too, even and wet, edges and joints filled"),
            Item("down", "Core down, joints closed, hard points where they are marked"),
            *PRESSED,
            CLEAN,
        )
    if key == "skin-1/layup":
        return laid(stack.outside, 1, task.hand)
    # On a core the face was bedded today or is foam; on a cured skin the peel ply still lies.
    before = () if stack.core is not None or not stack.outside else (BARE,)
    return laid(stack.inside, len(stack.outside) + 1, task.hand, before=before)


RECIPE = Recipe(
    "skin",
    "bagged sandwich skin",
    "Outer skin, core and inner skin laid in a mould, each under vacuum.",
    Given,
    (Role("resin", "Laminating resin", ("laminating resin",), ((PEEL,), (SAND,))),),
    steps,
    needs,
    items,
    stations=("vacuum pump",),
    shapes=SURFACES,
    laid_up=True,
)
