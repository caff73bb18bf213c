"""Contract JSON and stored JSON → the same core values: one way in.

Types were checked by whoever read the JSON; limits are checked by the values themselves.
"""

from __future__ import annotations

from typing import Any

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import Refused
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.mix.exotherm import DENSITY_G_ML, Heat, HotMix, PotLife
from kiteloom.core.mix.ratio import MixSystem, Ratio, hardener_per_hundred
from kiteloom.core.stores.fields import ASSUMED, BY_TABLE, FIBRES
from kiteloom.core.stores.materials import (
    Cloth,
    CoreSheet,
    CoverCloth,
    EdgeTape,
    Material,
    ResinSheet,
    Solvent,
    WoodSheet,
)
from kiteloom.core.stores.sheets import cure_from, said

#: Less hardener than this only starts the reaction, where nobody says how it gets hard [-].
STARTER = 0.05


def mix_system(says: Says) -> MixSystem:
    """A contract's SYSTEM, or a data sheet's mixing.

    A sheet's ratio is the one by weight; else the one by volume; else the middle of a peroxide's
    range, its half width being the tolerance; else what the equivalent weights ask for.

    >>> mix_system({"ratio": {"resin": 100, "hardener": 28, "basis": "weight"}}).by_weight
    0.28
    """
    ratio, tolerance = says.get("ratio") or says.get("ratio_by_volume"), says.get("tolerance_pct")
    span, known = says.get("range_pct"), says.get("equivalents") or {}
    if ratio is None and span is not None:
        low, high = span
        ratio = {"resin": 100, "hardener": (low + high) / 2, "basis": "weight"}
        tolerance = 100 * (high - low) / (high + low)
    if ratio is None and known.get("epoxide") and known.get("amine"):
        parts = hardener_per_hundred(known["amine"], known["epoxide"])
        ratio = {"resin": 100, "hardener": parts, "basis": "weight"}
    if ratio is None:
        raise Refused("ratio", "the sheet gives no ratio; without it nothing can be weighed")
    chemistry = says.get("chemistry")
    # So little of it starts a reaction: nothing of it reacts one for the other.
    starts = chemistry == "peroxide" or (chemistry is None and ratio["hardener"] < STARTER * ratio["resin"])
    return MixSystem(
        Ratio(ratio["resin"], ratio["hardener"], ratio["basis"]),
        says.get("resin_density_g_ml"),
        says.get("hardener_density_g_ml"),
        tolerance,
        not starts,
    )


def hot_mix(says: Says, heat: Heat | None = None, mix: MixSystem | None = None) -> HotMix:
    """A contract's SYSTEM with its pot life and activation energy: what the heat of a cup follows from."""
    pot, parts = says["pot_life"], mix or mix_system(says)
    life = PotLife(pot["minutes"], pot["mass_g"], pot["temp_c"])
    return HotMix(life, says["activation_energy_kj_mol"], mixed_density(parts), heat or Heat())


def mixed_density(parts: MixSystem) -> float:
    """Both parts mixed, wet [g/ml]; common practice where the sheet gives no densities.

    >>> round(mixed_density(MixSystem(Ratio(100, 25), 1.2, 1.0)), 3)
    1.154
    """
    if parts.resin_density_g_ml is None or parts.hardener_density_g_ml is None:
        return DENSITY_G_ML
    k = parts.by_weight
    return (1 + k) / (1 / parts.resin_density_g_ml + k / parts.hardener_density_g_ml)


def cure_system(says: Says) -> CureSystem:
    """A contract's cure system.

    >>> says = {"activation_energy_kj_mol": 55, "reference_c": 23, "stages": [{"name": "peel", "hours": 10}]}
    >>> cure_system(says).hours("peel")
    10
    """
    return CureSystem(
        says["activation_energy_kj_mol"],
        says["reference_c"],
        tuple(Stage(stage["name"], stage["hours"]) for stage in says["stages"]),
        says.get("min_c"),
        says.get("activation_energy_band_kj_mol") or 0.0,
    )


def cloth(name: str, says: Says) -> Cloth:
    """A cloth's data sheet, or a contract's ply; what the sheet lacks is common practice, or refused.

    >>> glass = cloth("twill", {"areal_weight_g_m2": 280, "fibre_density_g_cm3": 2.56})
    >>> glass.fibre_density_g_cm3, sorted(glass.assumed)
    (2.56, ['fibre_weight_fraction', 'hand_weight_fraction'])
    """
    density, assumed = says.get("fibre_density_g_cm3"), []
    if density is None and says.get("fibre") in FIBRES:
        density = FIBRES[says["fibre"]]
        assumed.append("fibre_density_g_cm3")
    share = says.get("fibre_weight_fraction")
    if share is None:
        share = ASSUMED["fibre_weight_fraction"]
        assumed.append("fibre_weight_fraction")
    hand = says.get("hand_weight_fraction")
    if hand is None:
        hand = min(share, ASSUMED["hand_weight_fraction"])
        assumed.append("hand_weight_fraction")
    return Cloth(
        name,
        _needed(name, says, "areal_weight_g_m2", "weight"),
        _needed(name, {"fibre_density_g_cm3": density}, "fibre_density_g_cm3", "density of its fibre"),
        share,
        bool(says.get("balanced")),
        says.get("roll_width_m"),
        frozenset(assumed),
        bool(says.get("stitched")),
        hand,
        says.get("fibre_off_deg") or 0.0,
    )


def core_sheet(name: str, says: Says) -> CoreSheet:
    """A core's data sheet, or a contract's core.

    >>> core_sheet("foam", {"thickness_mm": 8, "density_kg_m3": 75}).uptake_assumed
    True
    """
    uptake, size = says.get("resin_uptake_g_m2_per_side"), says.get("size_m") or {}
    return CoreSheet(
        name,
        _needed(name, says, "thickness_mm", "thickness"),
        _needed(name, says, "density_kg_m3", "density"),
        ASSUMED["resin_uptake_g_m2_per_side"] if uptake is None else uptake,
        uptake is None,
        says.get("softens_c"),
        size["length"] * size["width"] if size.get("length") and size.get("width") else None,
        says.get("bends_to_m"),
    )


def _needed(name: str, says: Says, key: str, label: str) -> Any:
    if says.get(key) is None:
        raise Refused(key, f"the sheet of {name} gives no {label}; without it this can't be computed")
    return says[key]


def resin_sheet(name: str, says: Says) -> ResinSheet:
    """The data sheet of a product that gets hard; what common practice fills in is named in ``assumed``.

    What dries, or cures by moisture, and gives no ratio comes ready in one part.

    >>> sheet = resin_sheet("Tarn", {"ratio": {"resin": 100, "hardener": 28, "basis": "weight"}})
    >>> sheet.resin_lid, sorted(sheet.assumed)
    ('Tarn, resin', ['cured_density_g_ml', 'tolerance_pct'])
    """
    lids, pot = says.get("lids") or {}, says.get("pot_life") or {}
    assumed = {key for key in ("tolerance_pct", "cured_density_g_ml") if says.get(key) is None}
    assumed |= {"solids"} if says.get("solids") is None and says.get("spread_m2_l") is not None else set()
    filled = {"tolerance_pct": ASSUMED["tolerance_pct"], **{k: v for k, v in says.items() if v is not None}}
    if says.get("range_pct") is not None:
        assumed.discard("tolerance_pct")
    glass = says.get("glass_transition") or {}
    ready = says.get("chemistry") in BY_TABLE and not any(says.get(key) for key in ("ratio", "ratio_by_volume"))
    mix = None if ready else mix_system(filled)
    return ResinSheet(
        name,
        lids.get("resin") or f"{name}, resin",
        lids.get("hardener") or f"{name}, hardener",
        says.get("chemistry") or "amine epoxy",
        mix,
        cure_from(says),
        says.get("cured_density_g_ml") or ASSUMED["cured_density_g_ml"],
        PotLife(pot["minutes"], pot["mass_g"], pot["temp_c"]) if len(pot) == 3 else None,
        tuple(says.get("hazards", ())),
        GlassTransition(**glass) if glass.get("full_c") is not None else None,
        frozenset(assumed),
        says.get("induction_min") or 0.0,
        said(says, "cure.max_rh_pct"),
        said(says, "cure.max_c"),
        says.get("spread_m2_l"),
        ASSUMED["solids"] if says.get("solids") is None else says["solids"],
        DENSITY_G_ML if mix is None else mixed_density(mix),
        says.get("widest_gap_mm"),
        says.get("school") or "",
    )


def cover_cloth(name: str, says: Says) -> CoverCloth:
    """A covering cloth's data sheet.

    >>> cover_cloth("Linden", {"areal_weight_g_m2": 92, "roll_width_m": 1.8, "school": "pre-finished"}).finish_c is None
    True
    """
    return CoverCloth(
        name,
        _needed(name, says, "areal_weight_g_m2", "weight"),
        _needed(name, says, "roll_width_m", "width of its roll"),
        _needed(name, says, "school", "school of covering"),
        says.get("slack_c"),
        says.get("finish_c"),
        says.get("limit_c"),
        says.get("strength_lb_in"),
    )


def edge_tape(name: str, says: Says) -> EdgeTape:
    """A tape's data sheet.

    >>> edge_tape("tape", {"width_mm": 40, "tack_c": 90}).tack_c
    90
    """
    return EdgeTape(name, _needed(name, says, "width_mm", "width"), says.get("tack_c"), says.get("finish_c"),
                    says.get("limit_c"))  # fmt: skip


def material(kind: str, name: str, says: Says) -> Material:
    """What is built with that does not get hard: a cloth or tape that covers, a solvent, a sheet.

    Raises
    ------
    Refused
        If its sheet lacks what it is worked by, or nothing is built with it by itself.

    >>> material("sheet", "birch", {"thickness_mm": 1.5}).thickness_mm
    1.5
    """
    if kind == "cover cloth":
        return cover_cloth(name, says)
    if kind == "tape":
        return edge_tape(name, says)
    if kind == "solvent":
        density = says.get("density_kg_m3")
        return Solvent(name, tuple(says.get("hazards", ())), density / 1000 if density else None)
    if kind == "sheet":
        size = says.get("size_m") or {}
        thick = _needed(name, says, "thickness_mm", "thickness")
        return WoodSheet(name, thick, says.get("density_kg_m3"), size.get("length"), size.get("width"))
    raise Refused("products", f"{name} is a {kind}; nothing is built with it by itself")


def hot_sheet(name: str, says: Says) -> HotMix | None:
    """What the heat of a product's cups follows from; None when its sheet gives no pot life or stages.

    >>> hot_sheet(
    ...     "Tarn", {"ratio": {"resin": 100, "hardener": 28, "basis": "weight"}}
    ... ) is None  # it gives no pot life
    True
    """
    sheet = resin_sheet(name, says)
    if sheet.parts is None or sheet.pot_life is None or sheet.cure is None or sheet.cure.rule_of_thumb:
        return None
    return hot_mix({**says, "activation_energy_kj_mol": sheet.cure.activation_energy_kj_mol}, None, sheet.mix)
