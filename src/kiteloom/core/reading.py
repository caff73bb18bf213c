"""Contract JSON and stored JSON → the same core values: one way in.

Types were checked by whoever read the JSON; limits are checked by the values themselves.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from kiteloom.core.cure import CureSystem, Stage
from kiteloom.core.exotherm import DENSITY_G_ML, Heat, HotMix
from kiteloom.core.glass import GlassTransition
from kiteloom.core.materials import Cloth, CoreSheet, PotLife, ResinSheet
from kiteloom.core.mixing import MixSystem, Ratio
from kiteloom.core.problems import Refused
from kiteloom.core.shape import Panel, Planform, Section, naca4, section_from_points, section_from_sides

Says = Mapping[str, Any]


def mix_system(says: Says) -> MixSystem:
    """A contract's SYSTEM."""
    ratio = says["ratio"]
    return MixSystem(
        Ratio(ratio["resin"], ratio["hardener"], ratio["basis"]),
        says.get("resin_density_g_ml"),
        says.get("hardener_density_g_ml"),
        says.get("tolerance_pct"),
        says.get("chemistry") != "peroxide",
    )


def hot_mix(says: Says, heat: Heat | None = None) -> HotMix:
    """A contract's SYSTEM with its pot life and activation energy: what the heat of a cup follows from."""
    pot, parts = says["pot_life"], mix_system(says)
    density = DENSITY_G_ML
    if parts.resin_density_g_ml is not None and parts.hardener_density_g_ml is not None:
        k = parts.by_weight
        density = (1 + k) / (1 / parts.resin_density_g_ml + k / parts.hardener_density_g_ml)
    life = PotLife(pot["minutes"], pot["mass_g"], pot["temp_c"])
    return HotMix(life, says["activation_energy_kj_mol"], density, heat or Heat())


def cure_system(says: Says) -> CureSystem:
    """A contract's cure system."""
    return CureSystem(
        says["activation_energy_kj_mol"],
        says["reference_c"],
        tuple(Stage(stage["name"], stage["hours"]) for stage in says["stages"]),
        says.get("min_c"),
        says.get("activation_energy_band_kj_mol") or 0.0,
    )


def section(says: Says, name: str = "section") -> Section:
    """``{"naca": …}``, ``{"points": …}`` in one line or two lists, or ``{"upper": …, "lower": …}``."""
    called = says.get("name") or name
    if says.get("naca"):
        return naca4(says["naca"])
    if says.get("upper") and says.get("lower"):
        return section_from_sides(called, says["upper"], says["lower"])
    points = says.get("points")
    if isinstance(points, Mapping):
        return section_from_sides(called, points["upper"], points["lower"])
    if not points:
        raise Refused("section", "section has neither “naca” nor “points”; one of them is wanted")
    if isinstance(points[0][0], (list, tuple)):
        if len(points) != 2:
            raise Refused("section.points", f"section.points has {len(points)} lists; 2 are wanted, upper and lower")
        return section_from_sides(called, points[0], points[1])
    return section_from_points(called, points)


def section_says(read: Section) -> dict[str, Any]:
    """A section as JSON that `section` reads back."""
    if read.name.startswith("NACA "):
        return {"naca": read.name.removeprefix("NACA ")}
    return {"name": read.name, "upper": [list(p) for p in read.upper], "lower": [list(p) for p in read.lower]}


def panel(planform: Says, root: Section, tip: Section | None = None) -> Panel:
    """A wing panel; the tip has the root's section unless given."""
    return Panel(
        Planform(planform["span_m"], planform["root_chord_m"], planform["tip_chord_m"], planform.get("sweep_m") or 0.0),
        root,
        tip or root,
    )


def cloth(name: str, says: Says) -> Cloth:
    """A cloth's data sheet, or a contract's ply."""
    return Cloth(
        name,
        says["areal_weight_g_m2"],
        says["fibre_density_g_cm3"],
        says["fibre_weight_fraction"],
        bool(says.get("balanced")),
        says.get("roll_width_m"),
    )


def core_sheet(name: str, says: Says) -> CoreSheet:
    """A core's data sheet, or a contract's core."""
    return CoreSheet(name, says["thickness_mm"], says["density_kg_m3"], says["resin_uptake_g_m2_per_side"])


def resin_sheet(name: str, says: Says) -> ResinSheet:
    """A laminating resin's data sheet."""
    lids, pot = says["lids"], says["pot_life"]
    return ResinSheet(
        name,
        lids["resin"],
        lids["hardener"],
        says["chemistry"],
        mix_system(says),
        cure_system(says["cure"]),
        says["cured_density_g_ml"],
        PotLife(pot["minutes"], pot["mass_g"], pot["temp_c"]),
        tuple(says.get("hazards", ())),
        GlassTransition(**says["glass_transition"]) if says.get("glass_transition") else None,
    )
