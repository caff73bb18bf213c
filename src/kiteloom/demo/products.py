"""The products of the boathouse, all invented: what their makers would say of them."""

from __future__ import annotations

from typing import Any

TARN_SLOW: dict[str, Any] = {
    "lids": {"resin": "Tarn 210 A", "hardener": "Tarn 214 B slow"},
    "chemistry": "amine epoxy",
    "ratio": {"resin": 100, "hardener": 28, "basis": "weight"},
    "resin_density_g_ml": 1.14,
    "hardener_density_g_ml": 0.96,
    "tolerance_pct": 3,
    "cured_density_g_ml": 1.15,
    "pot_life": {"minutes": 45, "mass_g": 100, "temp_c": 23},
    "cure": {
        "activation_energy_kj_mol": 55,
        "activation_energy_band_kj_mol": 5,
        "reference_c": 23,
        "min_c": 12,
        "stages": [
            {"name": "gel", "hours": 4},
            {"name": "peel", "hours": 10},
            {"name": "sand", "hours": 18},
            {"name": "full", "hours": 168},
        ],
    },
    "glass_transition": {"full_c": 47, "above_cure_k": 25, "most_c": 78},
    "hardness": {"least": 75, "scale": "Shore D"},
    "keep": {"sealed_days": 730, "opened_days": 365, "min_c": 8, "max_c": 30},
    "packs": "1.28 kg, 6.4 kg, 25.6 kg",
    "price": "6.4 kg: 118",
    "lead_days": 9,
    "hazards": ["Hardener sensitises skin"],
}
#: Looks like the slow one on the bench, and is not mixed like it.
TARN_FAST: dict[str, Any] = {
    **TARN_SLOW,
    "lids": {"resin": "Tarn 210 A", "hardener": "Tarn 212 B fast"},
    "ratio": {"resin": 100, "hardener": 34, "basis": "weight"},
    "pot_life": {"minutes": 18, "mass_g": 100, "temp_c": 23},
    "cure": {
        **TARN_SLOW["cure"],
        "min_c": 10,
        "stages": [
            {"name": "gel", "hours": 1.5},
            {"name": "peel", "hours": 5},
            {"name": "sand", "hours": 9},
            {"name": "full", "hours": 120},
        ],
    },
}
MERE: dict[str, Any] = {
    **TARN_SLOW,
    "lids": {"resin": "Mere 8 resin", "hardener": "Mere 8 hardener"},
    "ratio": {"resin": 2, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 1.12,
    "hardener_density_g_ml": 1.01,
    "tolerance_pct": 5,
    "cured_density_g_ml": 1.13,
}


HERON: dict[str, Any] = {
    "lids": {"resin": "Heron glue A", "hardener": "Heron glue B"},
    "chemistry": "amine epoxy",
    "ratio": {"resin": 1, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 1.17,
    "hardener_density_g_ml": 1.02,
    "tolerance_pct": 10,
    "cured_density_g_ml": 1.15,
    "pot_life": {"minutes": 40, "mass_g": 50, "temp_c": 20},
    "cure": {
        "activation_energy_kj_mol": 52,
        "activation_energy_band_kj_mol": 6,
        "reference_c": 20,
        "min_c": 8,
        "stages": [
            {"name": "gel", "hours": 3},
            {"name": "handle", "hours": 9},
            {"name": "sand", "hours": 16},
            {"name": "full", "hours": 120},
        ],
    },
    "hazards": ["Hardener sensitises skin"],
}
SALLOW: dict[str, Any] = {
    **HERON,
    "lids": {"resin": "Sallow varnish", "hardener": "Sallow catalyst"},
    "ratio": None,
    "ratio_by_volume": {"resin": 2, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 1.02,
    "hardener_density_g_ml": 0.97,
    "pot_life": {"minutes": 240, "mass_g": 200, "temp_c": 20},
    "cure": {
        "activation_energy_kj_mol": 50,
        "activation_energy_band_kj_mol": 6,
        "reference_c": 20,
        "min_c": 7,
        "stages": [
            {"name": "recoat", "hours": 6},
            {"name": "handle", "hours": 14},
            {"name": "full", "hours": 168},
        ],
    },
    "induction_min": 30,
    "spread_m2_l": 11,
    "hazards": ["Burns", "Hardener sensitises skin"],
}


def _cloth(weight: float, share: float, *, balanced: bool, width: float = 1.27, fibre: float = 2.56) -> dict[str, Any]:
    return {
        "areal_weight_g_m2": weight,
        "fibre_density_g_cm3": fibre,
        "fibre_weight_fraction": share,
        "balanced": balanced,
        "roll_width_m": width,
    }


CLOTHS = {
    "Sedge 163 twill glass": _cloth(163, 0.58, balanced=True),
    "Sedge 280 twill glass": _cloth(280, 0.58, balanced=True),
    "Sedge 200 spar tape, one-way glass": _cloth(200, 0.6, balanced=False, width=0.3),
    "Rush 200 one-way carbon": _cloth(200, 0.62, balanced=False, width=0.3, fibre=1.8),
    "Wicker 300 stitched ±45 glass": {**_cloth(300, 0.57, balanced=True), "stitched": True, "fibre_off_deg": 45},
}
CORES = {
    "Bulrush 60, 6 mm foam": {
        "thickness_mm": 6,
        "density_kg_m3": 60,
        "resin_uptake_g_m2_per_side": 140,
        "softens_c": 80,
        "size_m": {"length": 1.2, "width": 1.0},
    },
    "Bulrush 75, 8 mm foam": {
        "thickness_mm": 8,
        "density_kg_m3": 75,
        "resin_uptake_g_m2_per_side": 120,
        "softens_c": 85,
        "size_m": {"length": 1.2, "width": 1.0},
    },
}

_SOLVENT = ["Burns", "Vapour"]
HERON_PASTE: dict[str, Any] = {
    "lids": {"resin": "Heron 30 A, white", "hardener": "Heron 30 B, black"},
    "chemistry": "amine epoxy",
    "ratio": {"resin": 100, "hardener": 100, "basis": "weight"},
    "ratio_by_volume": {"resin": 1, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 1.12,
    "hardener_density_g_ml": 1.1,
    "tolerance_pct": 10,
    "pot_life": {"minutes": 60, "mass_g": 50, "temp_c": 23},
    "cure": {
        "reference_c": 23,
        "min_c": 12,
        "stages": [
            {"name": "gel", "hours": 2.5, "also": [{"c": 15, "hours": 5}]},
            {"name": "handle", "hours": 8, "also": [{"c": 15, "hours": 17}]},
            {"name": "sand", "hours": 14, "also": [{"c": 15, "hours": 30}]},
            {"name": "full", "hours": 120},
        ],
    },
    "glass_transition": {"full_c": 62},
    "widest_gap_mm": 3,
    "keep": {"sealed_days": 730, "opened_days": 365, "min_c": 5, "max_c": 30},
    "packs": "2 × 0.5 kg, 2 × 5 kg",
    "lead_days": 7,
    "hazards": ["Hardener sensitises skin"],
}
#: The filler that looks like the adhesive, and is mixed two to one: it never hardens at one to one.
HERON_FAIRING: dict[str, Any] = {
    **{key: says for key, says in HERON_PASTE.items() if key != "widest_gap_mm"},
    "lids": {"resin": "Heron 35 A, white", "hardener": "Heron 35 B, blue"},
    "ratio": {"resin": 100, "hardener": 50, "basis": "weight"},
    "ratio_by_volume": {"resin": 2, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 0.72,
    "hardener_density_g_ml": 0.72,
    "tolerance_pct": 5,
    "pot_life": {"minutes": 30, "mass_g": 100, "temp_c": 23},
    "cure": {
        "activation_energy_kj_mol": 54,
        "reference_c": 23,
        "min_c": 12,
        "stages": [{"name": "gel", "hours": 1.5}, {"name": "sand", "hours": 8}, {"name": "full", "hours": 96}],
    },
    "hazards": ["Hardener sensitises skin", "Dust"],
}
#: By volume and these densities it would be 100 : 17.6; the sheet says 100 : 20.
SALLOW_PRIMER: dict[str, Any] = {
    "lids": {"resin": "Sallow primer, grey", "hardener": "Sallow primer hardener"},
    "chemistry": "amine epoxy",
    "ratio": {"resin": 100, "hardener": 20, "basis": "weight"},
    "ratio_by_volume": {"resin": 4, "hardener": 1, "basis": "volume"},
    "resin_density_g_ml": 1.35,
    "hardener_density_g_ml": 0.95,
    "tolerance_pct": 5,
    "induction_min": 15,
    "pot_life": {"minutes": 300, "mass_g": 200, "temp_c": 20},
    "cure": {
        "reference_c": 20,
        "min_c": 10,
        "max_rh_pct": 80,
        "stages": [
            {"name": "recoat opens", "hours": 3},
            {"name": "sand", "hours": 16},
            {"name": "recoat closes", "hours": 48},
            {"name": "full", "hours": 168},
        ],
    },
    "spread_m2_l": 9,
    "keep": {"sealed_days": 540, "opened_days": 180},
    "hazards": ["Burns", "Vapour", "Hardener sensitises skin"],
}
SALLOW_ENAMEL: dict[str, Any] = {
    "lids": {"resin": "Sallow enamel, cream", "hardener": "Sallow enamel hardener"},
    "chemistry": "polyurethane",
    "ratio": {"resin": 100, "hardener": 35, "basis": "weight"},
    "resin_density_g_ml": 1.2,
    "hardener_density_g_ml": 1.05,
    "tolerance_pct": 5,
    "pot_life": {"minutes": 180, "mass_g": 200, "temp_c": 20},
    "cure": {
        "reference_c": 20,
        "min_c": 12,
        "max_rh_pct": 80,
        "stages": [
            {"name": "recoat opens", "hours": 1.5},
            {"name": "handle", "hours": 12},
            {"name": "recoat closes", "hours": 24},
            {"name": "full", "hours": 168},
        ],
    },
    "spread_m2_l": 10,
    "solids": 0.55,
    "keep": {"sealed_days": 540, "opened_days": 120},
    "hazards": ["Isocyanate", "Burns", "Vapour"],
}
OSIER_GELCOAT: dict[str, Any] = {
    "lids": {"resin": "Osier gelcoat", "hardener": "Osier peroxide"},
    "chemistry": "peroxide",
    "range_pct": [1, 2],
    "resin_density_g_ml": 1.2,
    "hardener_density_g_ml": 1.12,
    "pot_life": {"minutes": 15, "mass_g": 100, "temp_c": 23},
    "cure": {
        "activation_energy_kj_mol": 60,
        "reference_c": 23,
        "min_c": 16,
        "stages": [{"name": "gel", "hours": 0.4}, {"name": "recoat", "hours": 2}, {"name": "full", "hours": 24}],
    },
    "hazards": ["Peroxide", "Burns", "Vapour"],
}
GULL_SEALANT: dict[str, Any] = {
    "chemistry": "moisture",
    "cure": {
        "reference_c": 20,
        "min_c": 4,
        "stages": [
            {"name": "handle", "hours": 12, "also": [{"c": 10, "hours": 26}]},
            {"name": "full", "hours": 72, "also": [{"c": 10, "hours": 140}]},
        ],
    },
    "keep": {"sealed_days": 270, "min_c": 1},
    "packs": "tube of 310 ml",
    "lead_days": 14,
    "hazards": ["Vapour"],
}
RUSH_CEMENT: dict[str, Any] = {
    "chemistry": "drying",
    "cure": {
        "reference_c": 20,
        "min_c": 4.4,
        "max_rh_pct": 75,
        "stages": [
            {"name": "recoat opens", "hours": 0.75, "also": [{"c": 10, "hours": 1.6}, {"c": 30, "hours": 0.4}]},
            {"name": "handle", "hours": 3, "also": [{"c": 10, "hours": 6}, {"c": 30, "hours": 1.6}]},
        ],
    },
    "spread_m2_l": 5,
    "school": "separate coats",
    "keep": {"sealed_days": 365, "min_c": 2},
    "packs": "1 l, 5 l",
    "hazards": [*_SOLVENT, "Static"],
}
RUSH_HEAT_SET: dict[str, Any] = {
    **RUSH_CEMENT,
    "cure": {
        "reference_c": 20,
        "min_c": 4.4,
        "max_rh_pct": 80,
        "stages": [
            {"name": "recoat opens", "hours": 0.5, "also": [{"c": 10, "hours": 1.1}, {"c": 30, "hours": 0.3}]},
            {"name": "handle", "hours": 1, "also": [{"c": 10, "hours": 2.2}, {"c": 30, "hours": 0.6}]},
        ],
    },
    "spread_m2_l": 6,
    "school": "pre-finished",
}


def _coat(solids: float, spread_m2_l: float) -> dict[str, Any]:
    """A coat of one part that dries."""
    stages = [
        {"name": "recoat opens", "hours": 2, "also": [{"c": 10, "hours": 4.5}, {"c": 30, "hours": 1}]},
        {"name": "handle", "hours": 4, "also": [{"c": 10, "hours": 9}, {"c": 30, "hours": 2}]},
        {"name": "full", "hours": 48, "also": [{"c": 10, "hours": 110}, {"c": 30, "hours": 24}]},
    ]
    return {
        "chemistry": "drying",
        "cure": {"reference_c": 20, "min_c": 12, "max_rh_pct": 70, "stages": stages},
        "spread_m2_l": spread_m2_l,
        "solids": solids,
        "keep": {"sealed_days": 730, "min_c": 2},
        "packs": "1 l, 5 l",
        "hazards": [*_SOLVENT, "Static"],
    }


POWDERS: dict[str, dict[str, Any]] = {
    "Thistle flock": {
        "use": "structural",
        "true_density_g_ml": 1.5,
        "parts": {"syrup": 4, "mayonnaise": 9, "peanut butter": 15},
        "hazards": ["Dust"],
    },
    "Alder flour": {
        "use": "fillet",
        "true_density_g_ml": 1.45,
        "parts": {"mayonnaise": 20, "peanut butter": 35},
        "hazards": ["Dust"],
    },
    "Puffin balloons": {
        "use": "fairing",
        "true_density_g_ml": 0.25,
        "parts": {"syrup": 8, "mayonnaise": 18, "peanut butter": 30},
        "hazards": ["Dust"],
    },
}
LINDEN: dict[str, Any] = {
    "areal_weight_g_m2": 92,
    "roll_width_m": 1.8,
    "school": "pre-finished",
    "slack_c": 140,
    "finish_c": 155,
    "limit_c": 200,
}
LINDEN_PLAIN: dict[str, Any] = {
    "areal_weight_g_m2": 70,
    "roll_width_m": 1.7,
    "school": "separate coats",
    "slack_c": 121,
    "finish_c": 177,
    "limit_c": 190,
}
LINDEN_TAPE: dict[str, Any] = {"width_mm": 40, "tack_c": 90, "finish_c": 120, "limit_c": 140}
BIRCH: dict[str, Any] = {
    "thickness_mm": 1.5,
    "density_kg_m3": 680,
    "size_m": {"length": 1.22, "width": 1.22},
    "lead_days": 10,
}
KELP: dict[str, Any] = {"density_kg_m3": 790, "hazards": [*_SOLVENT, "Static"]}
#: What is used up under a bag and at the cup.
CONSUMABLES: dict[str, dict[str, Any]] = {
    "Moth peel ply": {"used_as": "peel ply", "roll_width_m": 1.5, "packs": "25 m"},
    "Moth bag film": {"used_as": "bag film", "roll_width_m": 2.0, "packs": "25 m"},
    "Moth sealant tape": {"used_as": "sealant tape", "packs": "15 m"},
    "Moth gloves": {"used_as": "gloves, pairs", "packs": "50 pairs"},
}

#: Every product of the boathouse: kind, name, what its sheet says.
SHEETS: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("laminating resin", "Tarn 210 with 214 slow", TARN_SLOW),
    ("laminating resin", "Tarn 210 with 212 fast", TARN_FAST),
    ("laminating resin", "Mere 8", MERE),
    ("laminating resin", "Osier gelcoat", OSIER_GELCOAT),
    ("paste adhesive", "Heron 30 paste", HERON_PASTE),
    ("wood glue", "Heron glue", HERON),
    ("filler", "Heron 35 fairing paste", HERON_FAIRING),
    ("sealant", "Gull tank sealant", GULL_SEALANT),
    ("cement", "Rush covering cement", RUSH_CEMENT),
    ("cement", "Rush heat-set adhesive", RUSH_HEAT_SET),
    ("paint", "Rush clear coat", _coat(0.25, 7)),
    ("paint", "Rush silver block", _coat(0.4, 8)),
    ("varnish", "Sallow varnish", SALLOW),
    ("primer", "Sallow primer", SALLOW_PRIMER),
    ("paint", "Sallow enamel", SALLOW_ENAMEL),
    *(("filler powder", name, says) for name, says in POWDERS.items()),
    *(("cloth", name, says) for name, says in CLOTHS.items()),
    *(("core", name, says) for name, says in CORES.items()),
    ("cover cloth", "Linden 92, cream", LINDEN),
    ("cover cloth", "Linden 70, plain", LINDEN_PLAIN),
    ("tape", "Linden edge tape", LINDEN_TAPE),
    ("sheet", "Birch plywood 1.5 mm", BIRCH),
    ("solvent", "Kelp cleaner", KELP),
    *(("consumable", name, says) for name, says in CONSUMABLES.items()),
)
