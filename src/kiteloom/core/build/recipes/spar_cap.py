"""A spar cap laid in a mould in two stages, the first in the cool room, then warmed through.

A thick stack laid at once heats itself and keeps its resin. Half of it is laid, bagged and
peeled, then the rest goes on. The first stage cures in the cool room on purpose: slower cure
gives the vacuum longer to pull resin out of the stack. A few hours in the hot box finish it, on its
mould: freshly peeled its glass transition is a few degrees above the box, and free it would creep.

Hands-on minutes are common practice, and assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipe import Lies, Recipe
from kiteloom.core.build.run_sheet import BARE, laid
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.build.task import Item, Need, Role, Task
from kiteloom.core.build.wet import wet
from kiteloom.core.laminate.cover import Covered, cover_of, even, resin_g
from kiteloom.core.laminate.stack import Ply
from kiteloom.core.need import supplies
from kiteloom.core.need.resin import resin_need
from kiteloom.core.need.supplies import Supply
from kiteloom.core.shape.flat import StripAt, Strips
from kiteloom.core.shape.skin import skin_of

#: The stage a laminating resin's sheet must give for this recipe.
PEEL = "peel"
#: In the hot box after the second stage (common practice) [min].
WARM_MIN = 10 * 60.0

_WAX = "Release wax and its solvent burn; their vapour travels: no flame, fresh air."
_STAYS = "Its peel ply stays on until the minute the second half goes down."
_CUPS = "Small cups: a big one can smoke and catch fire."
_DUST = "Carbon dust: mask, goggles, extraction; it conducts, keep it out of sockets; cut edges are sharp."


@dataclass(frozen=True)
class Given:
    """The cap itself."""

    length_m: Annotated[float, Asked("Length of the cap", dimension="length", unit=("m", "in"), low=0.1, high=20)]
    width_m: Annotated[float, Asked("Width of the cap", dimension="length", unit=("mm", "in"), low=0.005, high=1)]
    warm_c: Annotated[
        float, Asked("Warmed through at least at", dimension="temperature", unit=("°C", "°F"), low=30, high=60)
    ] = 40.0


def halves(plies: tuple[Ply, ...]) -> tuple[tuple[Ply, ...], tuple[Ply, ...]]:
    """The plies of the first stage and of the second: of an odd number the first has one more.

    >>> halves((1, 2, 3))
    ((1, 2), (3,))
    """
    half = (len(plies) + 1) // 2
    return plies[:half], plies[half:]


def _stages(task: Task[Given]) -> tuple[tuple[Ply, ...], tuple[Ply, ...]]:
    plies = task.laid.plies
    if task.laid.zones:
        raise Refused("zones", "a spar cap is laid over its whole length and width; its ply book can't have zones")
    if len(plies) < 2:
        raise Refused("plies", f"the ply book has {len(plies)} plies; two stages want at least 2")
    return halves(plies)


def steps(task: Task[Given]) -> tuple[Step, ...]:
    """The steps, in order, under stable keys.

    >>> [step.key for step in steps(example(RECIPE))]
    ['prepare', 'stage-1/layup', 'stage-1/peel', 'stage-2/layup', 'stage-2/peel', 'warm', 'trim']
    """
    given, stages, resin = task.given, _stages(task), task.products["resin"]

    def dry(
        key: str, name: str, estimate: Estimate, after: str = "", caution: str = _DUST, station: str = "bench"
    ) -> Step:
        links = (After(after),) if after else ()
        return Step(key, name, estimate.minutes, 1, links, may_pause=True, estimate=estimate, caution=caution,
                    stations=(station,))  # fmt: skip

    def lay(number: int, name: str, after: str, room: tuple[str, ...]) -> Step:
        plies = len(stages[number - 1])
        estimate = Estimate(40, each_min=4 + 3 * given.length_m, count=plies, piece="plies")
        step = Step(f"stage-{number}/layup", name, estimate.minutes, 2, (After(after),), estimate=estimate,
                    caution=_CUPS, stations=("cap mould", "vacuum pump", *room), holds=True, kind="layup",
                    skills=("layup",))  # fmt: skip
        return wet(step, resin, PEEL, closed=True)

    warm, trim = Estimate(15), Estimate(30, per_m2_min=8, area_m2=given.length_m * 2 * given.width_m)
    return (
        dry("prepare", "Wax the mould, cut the unidirectional cloth",
            Estimate(45, each_min=3, count=len(task.laid.plies), piece="plies"), caution=_WAX),
        lay(1, "Lay and bag the first half", "prepare", ("cool room",)),
        dry("stage-1/peel", "Open the bag, look for dry fibres", Estimate(25), "stage-1/layup",
            caution=f"{_STAYS} {_DUST}", station="cap mould"),
        lay(2, "Lay and bag the second half", "stage-1/peel", ()),
        dry("stage-2/peel", "Peel it on its mould", Estimate(30), "stage-2/layup", station="cap mould"),
        Step("warm", "Put it into the hot box, on its mould", warm.minutes, 1, (After("stage-2/peel"),), estimate=warm,
             caution="The box is hot, and what softens in it creeps: on its mould, or straight along its length; "
             "ramp slowly.", stations=("hot box", "cap mould"), holds=True, wait_min=WARM_MIN,
             min_c=given.warm_c),
        dry("trim", "Take it from the mould, trim and weigh it", trim, "warm"),
    )  # fmt: skip


def needs(task: Task[Given]) -> tuple[Need, ...]:
    """Mixed resin by step: the plies of each stage.

    >>> cap = replace(example(RECIPE), given=Given(length_m=6.0, width_m=0.05))
    >>> [(need.step, round(need.takes.total_g)) for need in needs(cap)]
    [('stage-1/layup', 167), ('stage-2/layup', 98)]
    """
    density, covered, first = task.products["resin"].cured_density_g_ml, covers(task), len(_stages(task)[0])
    rows = range(first), range(first, len(task.laid.plies))
    return tuple(
        Need(
            f"stage-{n}/layup",
            "resin",
            resin_need(resin_g(task.laid, covered, plies, density), 0, task.losses, covered.plies[0]),
        )
        for n, plies in enumerate(rows, 1)
    )


def covers(task: Task[Given]) -> Covered:
    """Every ply is as long and as wide as the cap.

    >>> covers(replace(example(RECIPE), given=Given(length_m=6.0, width_m=0.05))).plies[0].__round__(2)
    0.3
    """
    return even(task.laid, task.given.length_m * task.given.width_m)


def lies(task: Task[Given]) -> Lies:
    """Every ply a strip as long and as wide as the cap.

    >>> (side, cover), = lies(replace(example(RECIPE), given=Given(length_m=6.0, width_m=0.05)))
    >>> cover.skin.whole.bounds
    (0.0, -0.025, 6.0, 0.025)
    """
    _stages(task)
    strip = Strips((StripAt(0.0, task.given.width_m), StripAt(task.given.length_m, task.given.width_m)))
    return (("upper", cover_of(task.laid, skin_of(strip, "upper"))),)


def uses(task: Task[Given]) -> tuple[Supply, ...]:
    """Cloth, wax, and what lies under both bags.

    >>> cap = replace(example(RECIPE), given=Given(length_m=6.0, width_m=0.05))
    >>> [(one.name, round(one.amount, 1)) for one in uses(cap) if one.kind == "run"]
    [('sealant tape', 15.1), ('tacky tape', 2.4), ('sealant tape', 15.1), ('tacky tape', 2.4)]
    """
    length, width, losses = task.given.length_m, task.given.width_m, task.losses
    area, around = length * width, 2 * (length + width)
    found = list(supplies.waxed("prepare", area))
    for n, plies in enumerate(_stages(task), 1):
        for ply in plies:
            found += supplies.cloth(f"stage-{n}/layup", ply.cloth, area, losses)
        found += supplies.bagged(f"stage-{n}/layup", area, around, losses)
    return tuple(found)


def items(task: Task[Given], key: str) -> tuple[Item, ...]:
    """The run sheet of a stage's layup.

    >>> [item.key for item in items(example(RECIPE), steps(example(RECIPE))[1].key)]
    ['ready', 'wet', 'ply-1', 'ply-2', 'peel-ply', 'film', 'bag', 'vacuum', 'leak', 'clean']
    """
    first, second = _stages(task)
    return (
        laid(first, 1, task.hand)
        if key.startswith("stage-1")
        else laid(second, len(first) + 1, task.hand, before=(BARE,))
    )


RECIPE = Recipe(
    "cap",
    "spar cap in two stages",
    "A thick stack of unidirectional cloth, half laid at a time, the first half in the cool room, then warmed through.",
    Given,
    (Role("resin", "Laminating resin", ("laminating resin",), ((PEEL,),)),),
    steps,
    needs,
    items,
    uses,
    stations=("bench", "cap mould", "vacuum pump", "cool room", "hot box"),
    laid_up=True,
    covers=covers,
    lies=lies,
)
