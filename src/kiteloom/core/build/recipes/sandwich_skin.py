"""A bagged sandwich skin laid in a mould: outer skin, core, inner skin, each under vacuum.

The outer skin goes into the mould first and is peeled and inspected before the core is
bedded on it; the inner skin follows on the core. Without a core it is one skin.

Hands-on minutes are common practice for a crew of three on skins of 2 to 8 m²; they are
assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem
from kiteloom.core.laminate.stack import Stack, ply_figures
from kiteloom.core.need.resin import Losses, ResinNeed, resin_need

NAME = "bagged sandwich skin"


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


_WAX = "Release wax and its solvent burn; their vapour travels: no flame, fresh air."


_RESIN = "Hardener sensitises skin: gloves, sleeves, fresh air. Small cups: a big one can smoke and catch fire."


_DUST = "Glass and foam dust: mask, goggles, extraction; edges of cured skins cut."


@dataclass(frozen=True)
class SkinJob:
    """What the recipe is given: the skin's area [m²], its stack, and the resin it is laid with."""

    area_m2: float
    stack: Stack
    cure: CureSystem
    resin_density_g_cm3: float
    losses: Losses

    def __post_init__(self) -> None:
        self.cure.hours(PEEL)
        self.cure.hours(SAND)


def steps(job: SkinJob) -> tuple[Step, ...]:
    """The steps of one skin, in order, under stable keys."""
    outer, inner = len(job.stack.outside), len(job.stack.inside)
    area = job.area_m2

    def step(
        key: str, name: str, rate: _Rate, caution: str, *after: After, plies: int = 1, cures: bool = False
    ) -> Step:
        estimate = rate.estimate(area, plies)
        cure, until = (job.cure, PEEL) if cures else (None, None)
        # Work with an open mix is done in one go; anything else may wait for the morning.
        return Step(
            key,
            name,
            estimate.minutes,
            rate.people,
            after,
            cure,
            until,
            not cures,
            estimate,
            caution,
            stations=("vacuum pump",) if cures else (),
            holds=cures,
            skills=("layup",) if cures else (),
            kind="layup" if cures else "",
        )

    found = [step("prepare", "Prepare mould, cut cloth", _PREPARE, _WAX)]
    last = "prepare"
    if outer:
        found += [
            step("skin-1/layup", "Lay and bag the outer skin", _LAYUP, _RESIN, After(last), plies=outer, cures=True),
            step("skin-1/peel", "Peel and inspect the outer skin", _PEEL, _DUST, After("skin-1/layup")),
        ]
        last = "skin-1/peel"
    if job.stack.core is not None:
        found.append(step("core/bed", "Bed the core and bag it", _CORE, _RESIN, After(last), cures=True))
        last = "core/bed"
    if inner:
        found += [
            step("skin-2/layup", "Lay and bag the inner skin", _LAYUP, _RESIN, After(last), plies=inner, cures=True),
            step("skin-2/peel", "Peel the inner skin", _PEEL, _DUST, After("skin-2/layup")),
        ]
        last = "skin-2/peel"
    sanded = next(s.key for s in reversed(found) if s.cure is not None)
    found.append(step("trim", "Trim and sand the edges", _TRIM, _DUST, After(last), After(sanded, SAND)))
    return tuple(found)


def resin_needs(job: SkinJob) -> dict[str, ResinNeed]:
    """Mixed resin by step key, losses included.

    The core's outer face is filled when it is bedded, its inner face under the inner skin.
    """

    def laminate(plies: range) -> float:
        return sum(ply_figures(job.stack.plies[i].cloth, job.resin_density_g_cm3).resin_g_m2 for i in plies)

    core = job.stack.core
    outer = len(job.stack.outside)
    uptake = core.resin_uptake_g_m2_per_side if core else 0.0
    needs = {}
    if outer:
        needs["skin-1/layup"] = resin_need(job.area_m2, laminate(range(outer)), 0, job.losses)
    if core is not None:
        # Bedding takes up resin on the mould side; nothing is bled, the bag only presses.
        needs["core/bed"] = resin_need(job.area_m2, 0, uptake, job.losses, bagged=False)
    if job.stack.inside:
        inner = laminate(range(outer, len(job.stack.plies)))
        needs["skin-2/layup"] = resin_need(job.area_m2, inner, uptake, job.losses)
    return needs
