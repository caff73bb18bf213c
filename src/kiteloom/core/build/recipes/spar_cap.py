"""A spar cap laid in a mould in two stages, the first in the cool room, then warmed through.

A thick stack laid at once heats itself and keeps its resin. Half of it is laid, bagged and
peeled, then the rest goes on. The first stage cures in the cool room on purpose: slower cure
gives the vacuum longer to pull resin out of the stack. A few hours in the hot box finish it.

Hands-on minutes are common practice, and assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem
from kiteloom.core.laminate.stack import Ply, ply_figures
from kiteloom.core.need.resin import Losses, ResinNeed, resin_need

NAME = "spar cap in two stages"


#: The stage a laminating resin's sheet must give for this recipe.
PEEL = "peel"


#: In the hot box after the second stage (common practice) [min].
WARM_MIN = 10 * 60.0


_WAX = "Release wax and its solvent burn; their vapour travels: no flame, fresh air."


_RESIN = "Hardener sensitises skin: gloves, sleeves, fresh air. Small cups: a big one can smoke and catch fire."


_DUST = "Carbon dust: mask, goggles, extraction; it conducts, keep it out of sockets; cut edges are sharp."


@dataclass(frozen=True)
class CapJob:
    """What the recipe is given: the cap's length and width [m], its plies outside first, and the resin."""

    length_m: float
    width_m: float
    plies: tuple[Ply, ...]
    cure: CureSystem
    resin_density_g_cm3: float
    losses: Losses

    def __post_init__(self) -> None:
        between("cap_length_m", self.length_m, 0.1, 20, unit="m", name="the cap's length")
        between("cap_width_m", self.width_m, 0.005, 1, unit="m", name="the cap's width")
        if len(self.plies) < 2:
            raise Refused("plies", f"the ply book has {len(self.plies)} plies; two stages want at least 2")
        self.cure.hours(PEEL)

    @property
    def stages(self) -> tuple[tuple[Ply, ...], tuple[Ply, ...]]:
        """The plies of each stage."""
        return halves(self.plies)


def halves(plies: tuple[Ply, ...]) -> tuple[tuple[Ply, ...], tuple[Ply, ...]]:
    """The plies of the first stage and of the second: of an odd number the first has one more."""
    half = (len(plies) + 1) // 2
    return plies[:half], plies[half:]


def steps(job: CapJob) -> tuple[Step, ...]:
    """The steps, in order, under stable keys."""

    def dry(
        key: str, name: str, estimate: Estimate, after: str = "", caution: str = _DUST, station: str = "bench"
    ) -> Step:
        links = (After(after),) if after else ()
        return Step(key, name, estimate.minutes, 1, links, may_pause=True, estimate=estimate, caution=caution,
                    stations=(station,))  # fmt: skip

    def lay(number: int, name: str, after: str, room: tuple[str, ...]) -> Step:
        plies = len(job.stages[number - 1])
        estimate = Estimate(40, each_min=4 + 3 * job.length_m, count=plies, piece="plies")
        return Step(
            f"stage-{number}/layup",
            name,
            estimate.minutes,
            2,
            (After(after),),
            job.cure,
            PEEL,
            estimate=estimate,
            caution=_RESIN,
            stations=("cap mould", "vacuum pump", *room),
            holds=True,
            kind="layup",
            skills=("layup",),
        )

    warm = Estimate(15)
    return (
        dry("prepare", "Wax the mould, cut the unidirectional cloth",
            Estimate(45, each_min=3, count=len(job.plies), piece="plies"), caution=_WAX),
        lay(1, "Lay and bag the first half", "prepare", ("cool room",)),
        dry("stage-1/peel", "Peel it, look for dry fibres", Estimate(25), "stage-1/layup", station="cap mould"),
        lay(2, "Lay and bag the second half", "stage-1/peel", ()),
        dry("stage-2/peel", "Peel and take it from the mould", Estimate(30), "stage-2/layup", station="cap mould"),
        Step("warm", "Put it into the hot box", warm.minutes, 1, (After("stage-2/peel"),), estimate=warm,
             caution="The box is hot, and what softens in it creeps: supported along its length; ramp slowly.",
             stations=("hot box",), holds=True, wait_min=WARM_MIN),
        dry("trim", "Trim and weigh it", Estimate(30, per_m2_min=8, area_m2=job.length_m * 2 * job.width_m), "warm"),
    )  # fmt: skip


def resin_needs(job: CapJob) -> dict[str, ResinNeed]:
    """Mixed resin by step key."""
    area = job.length_m * job.width_m
    return {
        f"stage-{n}/layup": resin_need(
            area,
            sum(ply_figures(ply.cloth, job.resin_density_g_cm3).resin_g_m2 for ply in plies),
            0,
            job.losses,
        )
        for n, plies in enumerate(job.stages, 1)
    }
