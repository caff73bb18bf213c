"""A surface filled and faired: thin fills, each sanded, then primer and pinholes.

Filling straight on foam is done twice because the first fill sinks. Low spots can be filled
later; high spots must have gone before the skin went on. Weight goes on here unnoticed, so
each fill has its grams.

Hands-on minutes and grams per square metre are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import between
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem
from kiteloom.core.need.resin import Losses, ResinNeed

NAME = "filling and fairing"


#: The stage a filler's sheet must give for this recipe.
SAND = "sand"


#: What a first fill takes, and every one after it (common practice) [g/m²].
FIRST_G_M2, NEXT_G_M2 = 260.0, 110.0


_DUST = "Sanding dust: mask, extraction; stop at the first fibre that shows."


_FILL = "Hardener sensitises skin: gloves, fresh air. Balloons float: mask while they are dry."


@dataclass(frozen=True)
class FairJob:
    """What the recipe is given: the area [m²], how many fills it gets on a hard skin, and whether it is bare foam."""

    area_m2: float
    fills: int
    on_foam: bool
    filler: CureSystem
    losses: Losses

    def __post_init__(self) -> None:
        between("area_m2", self.area_m2, 0, 200, unit="m²", name="the area to fair", open_low=True)
        between("fills", self.fills, 1, 6, name="the number of fills")
        self.filler.hours(SAND)

    @property
    def passes(self) -> int:
        """How often it is filled: once more on foam, where the first fill sinks."""
        return self.fills + self.on_foam


def steps(job: FairJob) -> tuple[Step, ...]:
    """The steps, in order, under stable keys."""
    found: list[Step] = []
    last = "look"
    look = Estimate(15, per_m2_min=6, area_m2=job.area_m2)
    found.append(
        Step("look", "Abrade, mark low spots with a batten", look.minutes, 1, may_pause=True, estimate=look,
             caution=_DUST, stations=("wing stands",))
    )  # fmt: skip
    for n in range(1, job.passes + 1):
        spread = Estimate(20, per_m2_min=14 if n == 1 else 9, area_m2=job.area_m2)
        sand = Estimate(20, per_m2_min=26 if n == 1 else 20, area_m2=job.area_m2)
        sinks = " (it sinks)" if job.on_foam and n == 1 else ""
        found += [
            Step(f"fill-{n}/spread", f"Spread fill {n} of {job.passes}{sinks}", spread.minutes, 1, (After(last),),
                 job.filler, SAND, estimate=spread, caution=_FILL, stations=("wing stands",), min_c=job.filler.min_c,
                 limits_until=job.filler.stages[0].name, kind="spread", skills=("finishing",)),
            Step(f"fill-{n}/sand", f"Long-board fill {n}", sand.minutes, 1, (After(f"fill-{n}/spread"),),
                 may_pause=True, estimate=sand, caution=_DUST, stations=("wing stands",), kind="sand"),
        ]  # fmt: skip
        last = f"fill-{n}/sand"
    check = Estimate(20, per_m2_min=5, area_m2=job.area_m2)
    found.append(
        Step("check", "Check with the batten, wipe, fill pinholes", check.minutes, 1, (After(last),), may_pause=True,
             estimate=check, caution=_DUST, stations=("wing stands",))
    )  # fmt: skip
    return tuple(found)


def filler_needs(job: FairJob) -> dict[str, ResinNeed]:
    """Mixed filler by step key."""
    needs = {}
    for n in range(1, job.passes + 1):
        spread = job.area_m2 * (FIRST_G_M2 if n == 1 else NEXT_G_M2)
        needs[f"fill-{n}/spread"] = ResinNeed(spread, 0, 0, 0, spread / (1 - job.losses.cup_pct / 100) - spread)
    return needs
