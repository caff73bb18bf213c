"""Two coats of two-part varnish on a set of wood parts, with induction and a rub-down between.

A mix that has stood its time is brushed while it can be; the second coat goes on inside the
recoat window, where the sheet says when it closes.

Two-part varnish stands about 30 minutes after mixing before it is brushed (common practice).
Hands-on minutes are common practice too, and assumptions until the crew's own hours replace them.
"""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import between
from kiteloom.core.build.step import USE_BY, After, Estimate, Step
from kiteloom.core.cure.progress import CureSystem

NAME = "two coats of varnish"


#: The stages a varnish's sheet must give for this recipe.
RECOAT, HANDLE = ("recoat opens", "recoat"), ("handle", "sand")


#: The stage at which it is too late to recoat without sanding to a key, where the sheet gives one.
CLOSES = "recoat closes"


#: Common practice for two-part epoxy varnish [min].
INDUCTION_MIN = 30.0


_DUST = "Wood dust: mask, extraction."


_WET = "Varnish and its reducer burn and sensitise: gloves, fresh air, no flame."


@dataclass(frozen=True)
class CoatJob:
    """What the recipe is given: how many pieces, their area on all sides [m²], and the varnish.

    ``life`` is how long a mix can be used, as a cure with one stage; None where nobody knows.
    """

    pieces: int
    area_m2: float
    varnish: CureSystem
    induction_min: float = INDUCTION_MIN
    life: CureSystem | None = None

    def __post_init__(self) -> None:
        between("pieces", self.pieces, 1, 2000)
        between("area_m2", self.area_m2, 0, 1000, unit="m²", name="the area to varnish", open_low=True)
        _first(self.varnish, RECOAT)
        _first(self.varnish, HANDLE)


def _first(varnish: CureSystem, names: tuple[str, str]) -> str:
    """The stage a sheet gives of two names for much the same."""
    if varnish.has(names[0]):
        return names[0]
    varnish.hours(names[1])
    return names[1]


def steps(job: CoatJob) -> tuple[Step, ...]:
    """The steps, in order, under stable keys."""

    def dry(key: str, name: str, fixed: float, each: float, *after: After) -> Step:
        estimate = Estimate(fixed, each_min=each, count=job.pieces, piece="pieces")
        return Step(key, name, estimate.minutes, 1, after, None, None, True, estimate, _DUST, stations=("bench",))

    def coat(number: int, name: str, after: str, until: str, *window: After) -> tuple[Step, Step]:
        mixing = Estimate(10)
        brushing = Estimate(10, per_m2_min=9, area_m2=job.area_m2, each_min=1, count=job.pieces, piece="pieces")
        mix, key = f"coat-{number}/mix", f"coat-{number}/brush"
        return (
            Step(
                mix,
                "Mix varnish, let it stand",
                mixing.minutes,
                1,
                (After(after),),
                estimate=mixing,
                caution=_WET,
                wait_min=job.induction_min,
                life=job.life,
                kind="mix",
            ),
            Step(
                key,
                name,
                brushing.minutes,
                1,
                (After(mix, closes=USE_BY if job.life else "", same_mix=True), *window),
                job.varnish,
                until,
                estimate=brushing,
                caution=_WET,
                stations=("drying stand",),
                holds=True,
                min_c=job.varnish.min_c,
                margin_k=3.0,
                limits_until=job.varnish.stages[0].name,
                kind="brush",
                skills=("finishing",),
            ),
        )

    recoat, handle = _first(job.varnish, RECOAT), _first(job.varnish, HANDLE)
    again = (After("coat-1/brush", recoat, closes=CLOSES),) if job.varnish.has(CLOSES) else ()
    return (
        dry("sand", "Sand and dust off, mask glue faces", 20, 5),
        *coat(1, "Brush the first coat", "sand", recoat),
        dry("rub", "Rub down between the coats", 10, 2, After("coat-1/brush")),
        *coat(2, "Brush the second coat", "rub", handle, *again),
        dry("look", "Strip the masking, look for runs", 10, 1, After("coat-2/brush")),
    )
