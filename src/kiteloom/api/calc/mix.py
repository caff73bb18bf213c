"""Masses, a judged mix, cups, the heat of a cup. JSON in, JSON out, nothing stored; the same core as the plans."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel

from kiteloom.api.house import Routes
from kiteloom.core.base.problems import Refused
from kiteloom.core.mix import cups as mix_cups
from kiteloom.core.mix import exotherm as mix_exotherm
from kiteloom.core.mix import ratio
from kiteloom.core.stores import reading as stores_reading

bp = Routes("calc_mix", "Calculations", "/calc")


class RatioIn(BaseModel):
    """Parts of resin and hardener."""

    resin: float
    hardener: float
    basis: Literal["weight", "volume"] = "weight"


class SystemIn(BaseModel):
    """How a product is mixed."""

    ratio: RatioIn
    resin_density_g_ml: float | None = None
    hardener_density_g_ml: float | None = None
    tolerance_pct: float | None = None
    chemistry: str | None = None


class MixIn(BaseModel):
    """A wanted mix: exactly one amount."""

    system: SystemIn
    total_g: float | None = None
    total_ml: float | None = None
    resin_g: float | None = None


class MixOut(BaseModel):
    """What to pour."""

    resin_g: float
    hardener_g: float
    resin_ml: float | None
    hardener_ml: float | None
    hardener_per_100_resin_by_weight: float
    hardener_per_100_resin_by_volume: float | None


@bp.post("/mix")
@bp.takes(MixIn)
@bp.gives(MixOut)
def mix(order: MixIn) -> dict[str, Any]:
    """Both parts for a wanted amount."""
    system = stores_reading.mix_system(order.system.model_dump())
    wanted = ratio.masses(system, total_g=order.total_g, total_ml=order.total_ml, resin_g=order.resin_g)
    volume = system.by_volume
    return {
        "resin_g": wanted.resin_g,
        "hardener_g": wanted.hardener_g,
        "resin_ml": wanted.resin_ml,
        "hardener_ml": wanted.hardener_ml,
        "hardener_per_100_resin_by_weight": 100 * system.by_weight,
        "hardener_per_100_resin_by_volume": None if volume is None else 100 * volume,
    }


class MixCheckIn(BaseModel):
    """What was poured."""

    system: SystemIn
    resin_g: float
    hardener_g: float


class TopUpOut(BaseModel):
    """The part that is short."""

    part: Literal["resin", "hardener"]
    grams: float


class MixCheckOut(BaseModel):
    """How it stands."""

    deviation_pct: float | None
    verdict: Literal["in", "near", "out"]
    top_up: TopUpOut | None
    advice: str


@bp.post("/mix-check")
@bp.takes(MixCheckIn)
@bp.gives(MixCheckOut)
def mix_check(order: MixCheckIn) -> dict[str, Any]:
    """Judge what was poured."""
    found = ratio.judge(stores_reading.mix_system(order.system.model_dump()), order.resin_g, order.hardener_g)
    short = found.top_up
    return {
        "deviation_pct": found.deviation_pct,
        "verdict": found.verdict,
        "top_up": {"part": short.component, "grams": short.grams} if short else None,
        "advice": found.advice,
    }


class PotLifeIn(BaseModel):
    """Minutes a mass stays workable at a temperature."""

    minutes: float
    mass_g: float
    temp_c: float


class HotSystemIn(SystemIn):
    """A product whose cups heat themselves."""

    pot_life: PotLifeIn
    activation_energy_kj_mol: float


class CupsIn(BaseModel):
    """An amount to spread, and how."""

    system: HotSystemIn
    total_g: float
    spread_g_min: float
    temp_c: float
    residue_g: float = 0.0
    life_share: float = mix_cups.LIFE_SHARE
    peak_limit_c: float = mix_cups.PEAK_LIMIT_C
    scale_step_g: float | None = None


class PlannedCupOut(BaseModel):
    """One cup; minutes count from the first mix."""

    total_g: float
    resin_g: float
    hardener_g: float
    mix_at_min: float
    use_by_min: float
    peak_c: float


class CupsOut(BaseModel):
    """The cups, and the largest that would do."""

    cups: list[PlannedCupOut]
    largest_g: float
    smallest_g: float | None


@bp.post("/cups")
@bp.takes(CupsIn)
@bp.gives(CupsOut)
def cups(order: CupsIn) -> dict[str, Any]:
    """Split an amount into cups that are used before they go off."""
    says = order.system.model_dump()
    using = mix_cups.Using(
        order.spread_g_min,
        order.residue_g,
        order.life_share,
        order.peak_limit_c,
        order.scale_step_g,
    )
    system = stores_reading.mix_system(says)
    hot = stores_reading.hot_mix(says)
    found = mix_cups.split(system, hot, order.total_g, order.temp_c, using)
    if found.coarse and order.scale_step_g is not None:
        raise Refused("scale_step_g", mix_cups.too_coarse(system, found, order.scale_step_g))
    return {
        "cups": [
            {
                "total_g": cup.parts.total_g,
                "resin_g": cup.parts.resin_g,
                "hardener_g": cup.parts.hardener_g,
                "mix_at_min": cup.mix_at_min,
                "use_by_min": cup.use_by_min,
                "peak_c": cup.peak_c,
            }
            for cup in found.cups
        ],
        "largest_g": found.largest_g,
        "smallest_g": found.smallest_g,
    }


class ExothermIn(BaseModel):
    """A cup, or a film when its area is given."""

    system: HotSystemIn
    mass_g: float
    temp_c: float
    heat_j_g: float = 450.0
    heat_capacity_j_gk: float = 1.8
    loss_w_m2k: float = 12.0
    area_cm2: float | None = None


class WarmthOut(BaseModel):
    """A cup at one moment."""

    min: float
    c: float
    conversion: float


class ExothermOut(BaseModel):
    """How long it can be worked with, and how hot it gets."""

    working_min: float
    peak_c: float
    peak_at_min: float
    curve: list[WarmthOut]


@bp.post("/exotherm")
@bp.takes(ExothermIn)
@bp.gives(ExothermOut)
def exotherm(order: ExothermIn) -> dict[str, Any]:
    """Follow one cup from its mix until it is spent."""
    heat = mix_exotherm.Heat(order.heat_j_g, order.heat_capacity_j_gk, order.loss_w_m2k)
    hot = stores_reading.hot_mix(order.system.model_dump(), heat)
    found = mix_exotherm.warm_up(hot, order.mass_g, order.temp_c, order.area_cm2)
    rows = zip(found.minutes.tolist(), found.celsius.tolist(), found.conversion.tolist(), strict=True)
    return {
        "working_min": found.working_min,
        "peak_c": found.peak_c,
        "peak_at_min": found.peak_at_min,
        "curve": [{"min": minute, "c": celsius, "conversion": alpha} for minute, celsius, alpha in rows],
    }
