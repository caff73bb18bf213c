"""The stateless calculations: JSON in, JSON out, nothing stored; the same core as the plans."""

from __future__ import annotations

from typing import Any, Literal

from apiflask import APIBlueprint
from pydantic import BaseModel

from kiteloom.api.time_form import TimeForm
from kiteloom.core.air.profile import Profile
from kiteloom.core.cure.progress import cure_times, fit_activation
from kiteloom.core.laminate import stack as laminate_stack
from kiteloom.core.mix import cups as mix_cups
from kiteloom.core.mix import exotherm as mix_exotherm
from kiteloom.core.mix import ratio
from kiteloom.core.shape import reading
from kiteloom.core.stores import reading as stores_reading

bp = APIBlueprint("calc", __name__, url_prefix="/api/v1/calc", tag="Calculations")


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
@bp.input(MixIn)
@bp.output(MixOut)
def mix(json_data: MixIn) -> dict[str, Any]:
    """Both parts for a wanted amount."""
    system = stores_reading.mix_system(json_data.system.model_dump())
    wanted = ratio.masses(system, total_g=json_data.total_g, total_ml=json_data.total_ml, resin_g=json_data.resin_g)
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
@bp.input(MixCheckIn)
@bp.output(MixCheckOut)
def mix_check(json_data: MixCheckIn) -> dict[str, Any]:
    """Judge what was poured."""
    found = ratio.judge(
        stores_reading.mix_system(json_data.system.model_dump()), json_data.resin_g, json_data.hardener_g
    )
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
@bp.input(CupsIn)
@bp.output(CupsOut)
def cups(json_data: CupsIn) -> dict[str, Any]:
    """Split an amount into cups that are used before they go off."""
    says = json_data.system.model_dump()
    using = mix_cups.Using(
        json_data.spread_g_min,
        json_data.residue_g,
        json_data.life_share,
        json_data.peak_limit_c,
        json_data.scale_step_g,
    )
    hot = stores_reading.hot_mix(says)
    found = mix_cups.split(stores_reading.mix_system(says), hot, json_data.total_g, json_data.temp_c, using)
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
@bp.input(ExothermIn)
@bp.output(ExothermOut)
def exotherm(json_data: ExothermIn) -> dict[str, Any]:
    """Follow one cup from its mix until it is spent."""
    heat = mix_exotherm.Heat(json_data.heat_j_g, json_data.heat_capacity_j_gk, json_data.loss_w_m2k)
    hot = stores_reading.hot_mix(json_data.system.model_dump(), heat)
    found = mix_exotherm.warm_up(hot, json_data.mass_g, json_data.temp_c, json_data.area_cm2)
    rows = zip(found.minutes.tolist(), found.celsius.tolist(), found.conversion.tolist(), strict=True)
    return {
        "working_min": found.working_min,
        "peak_c": found.peak_c,
        "peak_at_min": found.peak_at_min,
        "curve": [{"min": minute, "c": celsius, "conversion": alpha} for minute, celsius, alpha in rows],
    }


class PointIn(BaseModel):
    """Hours of one stage at one temperature."""

    c: float
    hours: float


class ActivationIn(BaseModel):
    """The same stage at several temperatures."""

    points: list[PointIn]


class ActivationOut(BaseModel):
    """What fits them."""

    activation_energy_kj_mol: float
    q10_20_30: float


@bp.post("/activation")
@bp.input(ActivationIn)
@bp.output(ActivationOut)
def activation(json_data: ActivationIn) -> dict[str, float]:
    """Fit the activation energy."""
    return fit_activation([(point.c, point.hours) for point in json_data.points])._asdict()


class StageIn(BaseModel):
    """A stage and its hours at the reference, from the mix."""

    name: str
    hours: float


class CureSystemIn(BaseModel):
    """How fast a product cures."""

    activation_energy_kj_mol: float
    reference_c: float
    activation_energy_band_kj_mol: float | None = None
    min_c: float | None = None
    stages: list[StageIn]


class DegreesIn(BaseModel):
    """A temperature at a time."""

    at: str
    c: float


class CureIn(BaseModel):
    """A mix, and the temperature it will have."""

    system: CureSystemIn
    start: str
    temperature: list[DegreesIn]
    temperature_band_c: float = 0.0


class StageOut(BaseModel):
    """When a stage is reached."""

    name: str
    hours_at_reference: float
    at: str | None
    early: str | None
    late: str | None


class CureOut(BaseModel):
    """When each stage is reached, and hours below the minimum."""

    stages: list[StageOut]
    stalled_h: float


@bp.post("/cure")
@bp.input(CureIn)
@bp.output(CureOut)
def cure(json_data: CureIn) -> dict[str, Any]:
    """Follow a cure through a temperature history."""
    form = TimeForm(json_data.start)
    start = form.read("start", json_data.start)
    points = [(form.read(f"temperature.{i}.at", p.at), p.c) for i, p in enumerate(json_data.temperature)]
    system = stores_reading.cure_system(json_data.system.model_dump())
    found = cure_times(system, start, Profile.of(points), json_data.temperature_band_c)

    def at(minutes: float | None) -> str | None:
        return form.write(None if minutes is None else start + minutes)

    return {
        "stages": [
            {
                "name": s.name,
                "hours_at_reference": s.hours,
                "at": at(s.minutes),
                "early": at(s.early),
                "late": at(s.late),
            }
            for s in found.stages
        ],
        "stalled_h": found.stalled_h,
    }


Pair = tuple[float, float]


class TwoSidesIn(BaseModel):
    """A section's two sides."""

    upper: list[Pair]
    lower: list[Pair]


class SectionIn(BaseModel):
    """Four digits, or points in fractions of the chord: one line, or upper and lower."""

    naca: str | None = None
    points: list[Pair] | list[list[Pair]] | TwoSidesIn | None = None
    upper: list[Pair] | None = None
    lower: list[Pair] | None = None
    name: str | None = None


class PlanformIn(BaseModel):
    """One panel [m]."""

    span_m: float
    root_chord_m: float
    tip_chord_m: float
    sweep_m: float = 0.0


class SurfaceIn(BaseModel):
    """A panel and its sections."""

    planform: PlanformIn
    section: SectionIn
    tip_section: SectionIn | None = None


class SurfaceOut(BaseModel):
    """Areas [m²] and girths [m], each side by itself."""

    planform_area_m2: float
    upper_area_m2: float
    lower_area_m2: float
    root_girth_upper_m: float
    root_girth_lower_m: float
    tip_girth_upper_m: float
    tip_girth_lower_m: float


@bp.post("/surface")
@bp.input(SurfaceIn)
@bp.output(SurfaceOut)
def surface(json_data: SurfaceIn) -> dict[str, float]:
    """Measure a panel."""
    tip = reading.section(json_data.tip_section.model_dump()) if json_data.tip_section else None
    panel = reading.panel(json_data.planform.model_dump(), reading.section(json_data.section.model_dump()), tip)
    return {
        "planform_area_m2": panel.planform.area_m2,
        "upper_area_m2": panel.skin_area_m2("upper"),
        "lower_area_m2": panel.skin_area_m2("lower"),
        "root_girth_upper_m": panel.girth_m("upper", "root"),
        "root_girth_lower_m": panel.girth_m("lower", "root"),
        "tip_girth_upper_m": panel.girth_m("upper", "tip"),
        "tip_girth_lower_m": panel.girth_m("lower", "tip"),
    }


class PlyIn(BaseModel):
    """A ply of a laminate."""

    name: str
    areal_weight_g_m2: float
    fibre_density_g_cm3: float
    angle_deg: float
    fibre_weight_fraction: float
    balanced: bool = False


class CoreIn(BaseModel):
    """A core between plies."""

    after_ply: int
    thickness_mm: float
    density_kg_m3: float
    resin_uptake_g_m2_per_side: float


class LaminateIn(BaseModel):
    """A stack, outside to inside."""

    plies: list[PlyIn]
    resin_density_g_cm3: float
    core: CoreIn | None = None


class PlyOut(BaseModel):
    """One ply, wet out."""

    thickness_mm: float
    fibre_volume_fraction: float
    resin_g_m2: float


class LaminateOut(BaseModel):
    """A stack, wet out."""

    plies: list[PlyOut]
    thickness_mm: float
    fibre_g_m2: float
    resin_g_m2: float
    areal_weight_g_m2: float
    symmetric: bool
    balanced: bool
    code: str


@bp.post("/laminate")
@bp.input(LaminateIn)
@bp.output(LaminateOut)
def stack(json_data: LaminateIn) -> dict[str, Any]:
    """Weigh and measure a stack."""
    plies = tuple(
        laminate_stack.Ply(stores_reading.cloth(ply.name, ply.model_dump()), ply.angle_deg) for ply in json_data.plies
    )
    core = json_data.core
    sheet = stores_reading.core_sheet("core", core.model_dump()) if core else None
    found = laminate_stack.stack_figures(
        laminate_stack.Stack(plies, sheet, core.after_ply if core else 0), json_data.resin_density_g_cm3
    )
    return {
        "plies": [
            {
                "thickness_mm": ply.thickness_mm,
                "fibre_volume_fraction": ply.fibre_volume_fraction,
                "resin_g_m2": ply.resin_g_m2,
            }
            for ply in found.plies
        ],
        "thickness_mm": found.thickness_mm,
        "fibre_g_m2": found.fibre_g_m2,
        "resin_g_m2": found.resin_g_m2,
        "areal_weight_g_m2": found.areal_weight_g_m2,
        "symmetric": found.symmetric,
        "balanced": found.balanced,
        "code": found.code,
    }
