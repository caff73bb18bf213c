"""A panel with a shaped foam core, skinned wet on one side, turned, then skinned on the other.

A wing skinned on one side can twist, so its twist is read before the first skin, between the
two and after the second. High spots of the foam go before a skin goes on: later they can only
be sanded by cutting fibres. The foam drinks resin, so it is slurried first.

Hands-on minutes are common practice for a crew of two or three on panels of 1 to 8 m²; they
are assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem
from kiteloom.core.laminate.stack import Ply, ply_figures
from kiteloom.core.need.resin import Losses, ResinNeed, resin_need

NAME = "foam core skinned on two sides"


#: The stages a laminating resin's sheet must give for this recipe.
PEEL, SAND = "peel", "sand"


#: The two ways the panel lies, and what the skins on them are called.
WAYS = (("top", "upper side up"), ("bottom", "lower side up"))


#: A slurry takes so much more resin than the core's own uptake (common practice) [-].
SLURRY = 1.3


_DUST = "Foam and glass dust: mask, goggles, extraction. Never cut urethane or PVC foam with a hot wire."


_RESIN = "Hardener sensitises skin: gloves, sleeves, fresh air. Small cups: a big one can smoke and catch fire."


@dataclass(frozen=True)
class FoamJob:
    """What the recipe is given: the areas of the two sides [m²], the plies of each, and the resin."""

    top_m2: float
    bottom_m2: float
    plies: tuple[Ply, ...]
    uptake_g_m2: float
    cure: CureSystem
    resin_density_g_cm3: float
    losses: Losses

    def __post_init__(self) -> None:
        between("area_m2", self.top_m2, 0, 200, unit="m²", name="the upper side", open_low=True)
        between("area_m2", self.bottom_m2, 0, 200, unit="m²", name="the lower side", open_low=True)
        if not self.plies:
            raise Refused("plies", "the ply book has 0 plies; at least 1 is wanted on each side")
        self.cure.hours(PEEL)
        self.cure.hours(SAND)


def steps(job: FoamJob) -> tuple[Step, ...]:
    """The steps, in order, under stable keys."""
    whole = job.top_m2 + job.bottom_m2

    def dry(
        key: str, name: str, estimate: Estimate, *after: str, way: str = "", people: int = 1, kind: str = ""
    ) -> Step:
        links = tuple(After(link) for link in after)
        return Step(key, name, estimate.minutes, people, links, may_pause=True, estimate=estimate, caution=_DUST,
                    stations=("wing stands",), way=way, kind=kind)  # fmt: skip

    def twist(when: str, name: str, after: str, way: str) -> Step:
        estimate = Estimate(20)
        return Step(f"twist/{when}", name, estimate.minutes, 1, (After(after),), estimate=estimate,
                    stations=("wing stands",), way=way, kind="twist")  # fmt: skip

    def skin(side: str, area: float, way: str, *after: str) -> tuple[Step, Step, Step]:
        shape = Estimate(20, per_m2_min=18, area_m2=area)
        lay = Estimate(40, per_m2_min=11, area_m2=area, plies=len(job.plies))
        peel = Estimate(15, per_m2_min=6, area_m2=area)
        prepare = dry(f"{side}/shape", f"Take the {side}'s high spots down", shape, *after, way=way, kind="shape")
        laid = Step(
            f"{side}/layup",
            f"Slurry and skin the {side}",
            lay.minutes,
            3,
            (After(prepare.key),),
            job.cure,
            PEEL,
            estimate=lay,
            caution=_RESIN,
            stations=("wing stands",),
            holds=True,
            min_c=job.cure.min_c,
            limits_until=job.cure.stages[0].name,
            way=way,
            kind="layup",
            skills=("layup",),
        )
        peeled = dry(f"{side}/peel", f"Peel the {side}, trim its edges", peel, laid.key, way=way, kind="peel")
        return prepare, laid, peeled

    (_, up), (_, down) = WAYS
    first = skin("top", job.top_m2, up, "twist/before")
    second = skin("bottom", job.bottom_m2, down, "twist/between")
    cut = dry("core", "Cut, join and jig the core", Estimate(60, per_m2_min=25, area_m2=whole / 2), kind="core")
    edges = dry("edges", "Sand the edges flush", Estimate(20, per_m2_min=5, area_m2=whole), "twist/after")
    return (
        cut,
        twist("before", "Read the twist before any skin", "core", up),
        *first,
        twist("between", "Read the twist between the skins", "top/peel", up),
        *second,
        twist("after", "Read the twist after both skins", "bottom/peel", down),
        _sanded(edges),
    )


def _sanded(step: Step) -> Step:
    return Step(step.key, step.name, step.minutes, step.people, (*step.after, After("bottom/layup", SAND)),
                may_pause=True, estimate=step.estimate, caution=step.caution, stations=step.stations)  # fmt: skip


def resin_needs(job: FoamJob) -> dict[str, ResinNeed]:
    """Mixed resin by step key: the plies of each side, and the slurry its foam drinks."""
    laminate = sum(ply_figures(ply.cloth, job.resin_density_g_cm3).resin_g_m2 for ply in job.plies)
    slurry = SLURRY * job.uptake_g_m2
    return {
        f"{side}/layup": resin_need(area, laminate, slurry, job.losses)
        for side, area in (("top", job.top_m2), ("bottom", job.bottom_m2))
    }
