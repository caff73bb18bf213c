"""A panel with a shaped foam core, skinned wet on one side, turned, then skinned on the other.

A wing skinned on one side can twist, so its twist is read before the first skin, between the
two and after the second. High spots of the foam go before a skin goes on: later they can only
be sanded by cutting fibres. The foam drinks resin, so it is slurried first.

Hands-on minutes are common practice for a crew of two or three on panels of 1 to 8 m²; they
are assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from kiteloom.core.base.problems import between
from kiteloom.core.build.recipe import SURFACES, Recipe
from kiteloom.core.build.run_sheet import laid, let_in
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.laminate.cover import alike, resin_g
from kiteloom.core.need import supplies
from kiteloom.core.need.resin import resin_need
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.section import Side

#: The stages a laminating resin's sheet must give for this recipe.
PEEL, SAND = "peel", "sand"
#: The two ways the panel lies, and what the skins on them are called.
WAYS = (("top", "upper side up"), ("bottom", "lower side up"))
#: What is skinned that way.
_SIDES: tuple[Side, Side] = ("upper", "lower")
#: A slurry takes so much more resin than the core's own uptake (common practice) [-].
SLURRY = 1.3

_DUST = "Foam and glass dust: mask, goggles, extraction. Never cut urethane or PVC foam with a hot wire."
_CUPS = "Small cups: a big one can smoke and catch fire."
_STYRENE = "What it gives off dissolves polystyrene foam: try it on a scrap first."


@dataclass(frozen=True)
class Given:
    """Nothing besides the part's shape, the plies of each side, its core and the resin."""


def _areas(task: Task[Given]) -> tuple[float, float]:
    top, bottom = (task.shape.skin_area_m2(side) for side in _SIDES)
    between("area_m2", top, 0, 200, unit="m²", name="the upper side", open_low=True)
    between("area_m2", bottom, 0, 200, unit="m²", name="the lower side", open_low=True)
    return top, bottom


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))][:6]
    ['core', 'twist/before', 'top/shape', 'top/layup', 'top/peel', 'twist/between']
    """
    top, bottom = _areas(task)
    whole, resin = top + bottom, task.products["resin"]

    def dry(key: str, name: str, estimate: Estimate, *after: str, way: str = "", kind: str = "") -> Step:
        links = tuple(After(link) for link in after)
        return Step(key, name, estimate.minutes, 1, links, may_pause=True, estimate=estimate, caution=_DUST,
                    stations=("wing stands",), way=way, kind=kind)  # fmt: skip

    care = f"{_CUPS} {_STYRENE}" if resin.chemistry == "peroxide" else _CUPS

    def twist(when: str, name: str, after: str, way: str) -> Step:
        estimate = Estimate(20)
        return Step(f"twist/{when}", name, estimate.minutes, 1, (After(after),), estimate=estimate,
                    stations=("wing stands",), way=way, kind="twist")  # fmt: skip

    def skin(side: str, area: float, face: Side, way: str, *after: str) -> tuple[Step, Step, Step]:
        shape = Estimate(20, per_m2_min=18, area_m2=area)
        lay = Estimate(40, 11, *alike(task.covered_on(face).plies))
        peel = Estimate(15, per_m2_min=6, area_m2=area)
        prepare = dry(f"{side}/shape", f"Take the {side}'s high spots down", shape, *after, way=way, kind="shape")
        layup = Step(f"{side}/layup", f"Slurry and skin the {side}", lay.minutes, 3, (After(prepare.key),),
                     estimate=lay, caution=care, stations=("wing stands",), holds=True, way=way, kind="layup",
                     skills=("layup",))  # fmt: skip
        peeled = dry(f"{side}/peel", f"Peel the {side}, trim its edges", peel, layup.key, way=way, kind="peel")
        return prepare, wet(layup, resin, PEEL, closed=True), peeled

    (_, up), (_, down) = WAYS
    first = skin("top", top, "upper", up, "twist/before")
    second = skin("bottom", bottom, "lower", down, "twist/between")
    cut = dry("core", "Cut, join and jig the core", Estimate(60, per_m2_min=25, area_m2=whole / 2), kind="core")
    edges = dry("edges", "Sand the edges flush", Estimate(20, per_m2_min=5, area_m2=whole), "twist/after")
    return (
        cut,
        twist("before", "Read the twist before any skin", "core", up),
        *first,
        twist("between", "Read the twist between the skins", "top/peel", up),
        *second,
        twist("after", "Read the twist after both skins", "bottom/peel", down),
        replace(edges, after=(*edges.after, After("bottom/layup", SAND))),
    )


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed resin by step: the plies of each side, and the slurry its foam drinks; nothing is bled by hand.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('top/layup', 1711), ('bottom/layup', 1711)]
    """
    stack, density = task.laid, task.products["resin"].cured_density_g_ml
    drinks = SLURRY * (stack.core.resin_uptake_g_m2_per_side if stack.core else 0.0)
    found = []
    for (name, _), side in zip(WAYS, _SIDES, strict=True):
        laminate = resin_g(stack, task.covered_on(side), range(len(stack.plies)), density)
        slurry = drinks * task.shape.skin_area_m2(side)
        found.append(Need(f"{name}/layup", "resin", resin_need(laminate, slurry, task.losses)))
    return tuple(found)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """The core, and each side's cloth and peel ply.

    >>> [one.name for one in uses(example(RECIPE)) if one.step == "top/layup"]
    ['twill', 'twill', 'twill', 'peel ply']
    """
    stack, losses = task.laid, task.losses
    found: list[Supply] = []
    if stack.core is not None:
        found += supplies.core("core", stack.core, sum(_areas(task)) / 2, losses)
    for (name, _), side in zip(WAYS, _SIDES, strict=True):
        covered = task.covered_on(side)
        for ply, area in zip(stack.plies, covered.plies, strict=True):
            found += supplies.cloth(f"{name}/layup", ply.cloth, area, losses)
        found += supplies.by_hand(f"{name}/layup", task.shape.skin_area_m2(side), losses)
    return tuple(found)


def items(task: Task[Given], _: str) -> tuple[Item, ...]:
    """The run sheet of a side's layup: by hand, the foam slurried first.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'slurry', 'wet', 'ply-1', 'ply-2', 'ply-3', 'peel-ply', 'edges', 'clean']
    """
    slurry = (*let_in(task.laid.hard), Item("slurry", "Foam slurried until it drinks no more"))
    return laid(task.laid.plies, 1, task.hand, before=slurry, bagged=False)


RECIPE = Recipe(
    "foam",
    "foam core skinned on two sides",
    "A shaped foam core skinned wet on one side, turned, then skinned on the other; its twist read between.",
    Given,
    (Role("resin", "Laminating resin", ("laminating resin",), ((PEEL,), (SAND,))),),
    steps,
    needs,
    items,
    uses,
    stations=("wing stands",),
    shapes=SURFACES,
    laid_up=True,
    by_hand=True,
    covers=Task.covered_on_both,
    lies=lambda task: task.lies(_SIDES),
)
