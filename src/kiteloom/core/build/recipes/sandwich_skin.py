"""A bagged sandwich skin laid in a mould: outer skin, core, inner skin, each under vacuum.

The outer skin goes into the mould first and is peeled and inspected before the core is
bedded on it; the inner skin follows on the core. Without a core it is one skin. Caps and local
layers may follow in stages of their own, each laid on the peeled one before and bagged again.

Hands-on minutes are common practice for a crew of three on skins of 2 to 8 m²; they are
assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from kiteloom.core.build.recipe import SURFACES, Recipe, Scores, on_its_side
from kiteloom.core.build.run_sheet import BARE, CLEAN, PRESSED, READY, laid, let_in
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.laminate.cover import Covered, alike, resin_g, stages
from kiteloom.core.laminate.scoring import scoring_of
from kiteloom.core.laminate.stack import Ply
from kiteloom.core.need import supplies
from kiteloom.core.need.resin import resin_need
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.loft import Loft
from kiteloom.core.shape.section import Side

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
    stack, resin, area, covered = task.laid, task.products["resin"], task.area_m2(), covers(task)

    def dry(key: str, name: str, rate: _Rate, caution: str, *after: After, over: float = area) -> Step:
        estimate = rate.estimate(over, 1)
        return Step(key, name, estimate.minutes, rate.people, after, may_pause=True, estimate=estimate, caution=caution)

    def bagged(key: str, name: str, rate: _Rate, after: str, areas: Sequence[float]) -> Step:
        # Work with an open mix is done in one go; anything else may wait for the morning.
        estimate = rate.estimate(*alike(areas))
        step = Step(key, name, estimate.minutes, rate.people, (After(after),), estimate=estimate, caution=_CUPS,
                    stations=("vacuum pump",), holds=True, skills=("layup",), kind="layup")  # fmt: skip
        return wet(step, resin, PEEL, closed=True)

    found = [dry("prepare", "Prepare mould, cut cloth", _PREPARE, _WAX)]

    def skin(side: str, rows: tuple[_Stage, ...], under: tuple[float, ...], opening: str, last: str) -> None:
        for row, bled in zip(rows, under, strict=True):
            first = row.number == 1
            what = f"the {side} skin" if first else f"the local layers on the {side} skin"
            areas = [covered.plies[n] for n in row.plies]
            found.append(bagged(f"{row.key}/layup", f"Lay and bag {what}", _LAYUP, found[-1].key, areas))
            name, care = f"{opening if first else 'Peel'} {what}", last if row is rows[-1] else _PEELED
            laid_up = After(found[-1].key)
            found.append(dry(f"{row.key}/peel", name, _PEEL, care, laid_up, over=bled))

    outer, inner = _stages(task)
    skin("outer", outer, covered.outside, "Open the bag, inspect", _PEELED)
    if stack.core is not None:
        found.append(bagged("core/bed", "Bed the core and bag it", _CORE, found[-1].key, (covered.core,)))
    skin("inner", inner, covered.inside, "Peel", _DUST)
    sanded = next(s.key for s in reversed(found) if s.cure is not None)
    found.append(dry("trim", "Trim and sand the edges", _TRIM, _DUST, After(found[-1].key), After(sanded, SAND)))
    return tuple(found)


@dataclass(frozen=True)
class _Stage:
    """Plies of one side that are laid and bagged together: their places in the book, and the key of their steps."""

    number: int
    key: str
    plies: tuple[int, ...]


def _stages(task: Task[Given]) -> tuple[tuple[_Stage, ...], tuple[_Stage, ...]]:
    """The stages outside the core, and inside it."""
    stack, outer = task.laid, len(task.laid.outside)
    numbered = tuple(enumerate(stack.plies))

    def of(side: tuple[tuple[int, Ply], ...], key: str) -> tuple[_Stage, ...]:
        rows = stages(tuple(ply for _, ply in side))
        keys = {stage: key if stage == 1 else f"{key}.{stage}" for stage in rows}
        return tuple(_Stage(row, keys[row], tuple(n for n, ply in side if ply.stage == row)) for row in rows)

    return of(numbered[:outer], "skin-1"), of(numbered[outer:], "skin-2")


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed resin by step, losses included.

    The core's outer face is filled when it is bedded, its inner face under the first layers inside.

    >>> [(need.step, round(need.takes.total_g)) for need in needs(example(RECIPE))]
    [('skin-1/layup', 1111), ('core/bed', 779), ('skin-2/layup', 903)]
    """
    stack, density, covered = task.laid, task.products["resin"].cured_density_g_ml, covers(task)
    outer, inner = _stages(task)
    uptake = stack.core.resin_uptake_g_m2_per_side if stack.core else 0.0
    found = []

    def laid_up(row: _Stage, core_g: float, bled: float) -> None:
        takes = resin_need(resin_g(stack, covered, row.plies, density), core_g, task.losses, bled)
        found.append(Need(f"{row.key}/layup", "resin", takes))

    for row, bled in zip(outer, covered.outside, strict=True):
        laid_up(row, 0.0, bled)
    if stack.core is not None:
        # Bedding takes up resin on the mould side, on a wet skin, and fills the scores that open there; nothing is
        # bled, the bag only presses.
        bed = covered.core * (uptake + BED_G_M2) + covered.scores_ml * density
        found.append(Need("core/bed", "resin", resin_need(0.0, bed, task.losses)))
    for n, (row, bled) in enumerate(zip(inner, covered.inside, strict=True)):
        laid_up(row, covered.core_faces[1] * uptake if n == 0 else 0.0, bled)
    return tuple(found)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Cloth, core, wax, and what lies under each bag.

    >>> [one.name for one in uses(replace(example(RECIPE), form=PLANK))][:6]
    ['release wax, coats', 'twill', 'twill', 'peel ply', 'release film with holes', 'breather']
    """
    stack, covered, losses = task.laid, covers(task), task.losses
    sides: tuple[Side, ...] = ("upper", "lower") if task.side == "whole" else (task.side,)
    around = sum(task.shape.around_m(side) for side in sides)
    outer, inner = _stages(task)
    found = list(supplies.waxed("prepare", task.area_m2()))

    def laid_up(rows: tuple[_Stage, ...], under: tuple[float, ...]) -> None:
        for row, area in zip(rows, under, strict=True):
            step = f"{row.key}/layup"
            for n in row.plies:
                found.extend(supplies.cloth(step, stack.plies[n].cloth, covered.plies[n], losses))
            # A smaller piece has a shorter edge, by the root of its share.
            edge = around * (area / task.area_m2()) ** 0.5
            found.extend(supplies.bagged(step, area, edge, losses))

    laid_up(outer, covered.outside)
    if stack.core is not None:
        found += supplies.core("core/bed", stack.core, covered.core, losses)
        found += supplies.bagged("core/bed", covered.core, around, losses, bled=False)
    laid_up(inner, covered.inside)
    return tuple(found)


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
            *_scores(task),
            Item("face", "Core’s face slurried until it drinks no more", stack.core.name if stack.core else ""),
            Item("holes", "Core drilled, a hole a hand apart: trapped air must get out under the bag"),
            Item("wet", "A coat on the skin too, even and wet, edges and joints filled"),
            *let_in(stack.hard),
            Item("down", "Core down, joints closed, hard points where they are marked"),
            *PRESSED,
            CLEAN,
        )
    outer, inner = _stages(task)
    row = next(row for row in (*outer, *inner) if key == f"{row.key}/layup")
    # On a core the face was bedded today or is foam; on a cured skin the peel ply still lies.
    on_cured = row.number > 1 or (row in inner and stack.core is None and bool(stack.outside))
    plies = tuple(stack.plies[n] for n in row.plies)
    return laid(plies, row.plies[0] + 1, task.hand, before=(BARE,) if on_cured else ())


def scores(task: Task[Given]) -> Scores:
    """How the core is scored on each side it is bedded on; not at all on a flat one.

    >>> on_a_plank = replace(example(RECIPE), form=PLANK, side="lower")
    >>> [(side, round(scoring.fills_ml)) for side, scoring in scores(on_a_plank)], scores(example(RECIPE))
    ([('lower', 124)], ())
    """
    if task.laid.core is None or not isinstance(task.form, Loft):
        return ()
    return tuple((side, scoring_of(cover)) for side, cover in on_its_side(task))


def covers(task: Task[Given]) -> Covered:
    """What its ply book covers, and what fills the scores of its core."""
    return replace(task.covered(), scores_ml=sum(scoring.fills_ml for _, scoring in scores(task)))


def _scores(task: Task[Given]) -> Iterator[Item]:
    for side, scoring in scores(task):
        which = f", {side} side" if task.side == "whole" else ""
        if scoring.rows:
            words = f"Core scored from its outer face{which}, lines along the span"
            yield Item(f"score-{side}", words, scored=scoring.rows)


RECIPE = Recipe(
    "skin",
    "bagged sandwich skin",
    "Outer skin, core and inner skin laid in a mould, each under vacuum.",
    Given,
    (Role("resin", "Laminating resin", ("laminating resin",), ((PEEL,), (SAND,))),),
    steps,
    needs,
    items,
    uses,
    stations=("vacuum pump",),
    shapes=SURFACES,
    laid_up=True,
    staged=True,
    covers=covers,
    scores=scores,
)
