"""The two-seat motor-glider Reedling, being built by a club in a boathouse. All invented.

Wing skins of glass and foam, laid in a mould under vacuum. The data folder is seeded as if
the club had been at it for a week, whatever day it is.
"""

from __future__ import annotations

import math
import random
from datetime import datetime, timedelta
from typing import Any

from kiteloom.core.quantities import Typed
from kiteloom.store.models import Project
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.batches import PourBatch, correct_batch, keep_batch
from kiteloom.workshop.climate import import_logger, say_outlook
from kiteloom.workshop.founding import Founding, stable_id

ZONE = "Europe/Vienna"
HOURS = [{"weekday": day, "start": 9 * 60, "end": (17 if day == 5 else 18) * 60} for day in range(6)]

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


def _cloth(weight: float, share: float, *, balanced: bool, width: float = 1.27) -> dict[str, Any]:
    return {
        "areal_weight_g_m2": weight,
        "fibre_density_g_cm3": 2.56,
        "fibre_weight_fraction": share,
        "balanced": balanced,
        "roll_width_m": width,
    }


CLOTHS = {
    "Sedge 163 twill glass": _cloth(163, 0.58, balanced=True),
    "Sedge 280 twill glass": _cloth(280, 0.58, balanced=True),
    "Sedge 200 spar tape, one-way glass": _cloth(200, 0.6, balanced=False, width=0.3),
    "Wicker 300 stitched ±45 glass": _cloth(300, 0.57, balanced=True),
}
CORES = {
    "Bulrush 60, 6 mm foam": {"thickness_mm": 6, "density_kg_m3": 60, "resin_uptake_g_m2_per_side": 140},
    "Bulrush 75, 8 mm foam": {"thickness_mm": 8, "density_kg_m3": 75, "resin_uptake_g_m2_per_side": 120},
}


def seed(store: Store, now: datetime) -> bool:
    """Fill an empty data folder; a folder that has a project is left as it is."""
    with store.writing() as uow:
        if uow.all(Project):
            return False
        found_shop(uow, now)
    with store.writing() as uow:
        import_logger(uow, stable_id("demo", "logger"), "boathouse-logger.csv", _logger_csv(now), now)
        say_outlook(uow, stable_id("demo", "outlook"), Typed("9 °C", "°C"), Typed("19 °C", "°C"), now)
    with store.writing() as uow:
        _work_so_far(uow, now)
    return True


def found_shop(uow: UnitOfWork, now: datetime) -> None:
    """The boathouse, its people and products, and the wing, with nothing measured or mixed yet."""
    founding = Founding(uow, now)
    founding.shop("The boathouse", ZONE, HOURS)
    slow = founding.data_sheet("laminating resin", "Tarn 210 with 214 slow", TARN_SLOW)
    founding.data_sheet("laminating resin", "Tarn 210 with 212 fast", TARN_FAST)
    founding.data_sheet("laminating resin", "Mere 8", MERE)
    cloth = {name: founding.data_sheet("cloth", name, says) for name, says in CLOTHS.items()}
    core = {name: founding.data_sheet("core", name, says) for name, says in CORES.items()}
    founding.lot(slow, "T-4471", (now - timedelta(days=40)).date(), (now + timedelta(days=320)).date())
    for name in ("Bo", "Imre", "Odile", "Sanna"):
        founding.crew_member(name)
    wing = founding.assembly("Reedling", "Wing", 1)
    form = founding.form(
        "Reedling outer wing",
        {"span_m": 7.2, "root_chord_m": 1.12, "tip_chord_m": 0.62, "sweep_m": 0.12},
        {"naca": "4415"},
        {"naca": "4412"},
    )
    light, heavy = cloth["Sedge 163 twill glass"], cloth["Sedge 280 twill glass"]
    books = {
        "upper": {
            "plies": [
                {"cloth_id": light, "angle_deg": 45},
                {"cloth_id": heavy, "angle_deg": 0},
                {"cloth_id": heavy, "angle_deg": 45},
            ],
            "core_id": core["Bulrush 75, 8 mm foam"],
            "core_after": 2,
        },
        "lower": {
            "plies": [
                {"cloth_id": heavy, "angle_deg": 45},
                {"cloth_id": light, "angle_deg": 0},
                {"cloth_id": light, "angle_deg": 45},
            ],
            "core_id": core["Bulrush 60, 6 mm foam"],
            "core_after": 2,
        },
    }
    rank = 0
    for side, book in books.items():
        design = founding.design(form, f"{side.capitalize()} wing skin", side, slow, book)
        for hand in ("left", "right"):
            rank += 1
            founding.surface(wing, design, hand, f"{hand.capitalize()} wing, {side} skin", rank)


def _logger_csv(now: datetime) -> str:
    """A week of readings every half hour in an unheated boathouse, the same for the same moment."""
    weather = random.Random(71)
    start = now.replace(minute=0, second=0, microsecond=0) - timedelta(days=7)
    lines, drift = ["time,temperature °C"], 0.0
    for half_hour in range(int((now - start) / timedelta(minutes=30)) + 1):
        at = start + timedelta(minutes=30 * half_hour)
        drift = 0.98 * drift + weather.gauss(0, 0.12)
        day = math.cos((at.hour + at.minute / 60 - 14) * math.pi / 12)
        lines.append(f"{at.isoformat()},{14.5 + 4.2 * day + drift:.1f}")
    return "\n".join(lines)


def _work_so_far(uow: UnitOfWork, now: datetime) -> None:
    """Yesterday's outer skin of the right wing's lower side: three cups, one written down wrong."""
    form = stable_id("form", "Reedling outer wing")
    surface = stable_id("surface", stable_id("design", form, "Lower wing skin"), "right")
    slow = stable_id("sheet", "Tarn 210 with 214 slow")
    begin = now - timedelta(hours=20)
    cups = [("612", "171.5", "Imre"), ("598", "167", "Sanna"), ("640", "181", "Imre")]
    for number, (resin, hardener, who) in enumerate(cups):
        key = stable_id("demo", "batch", str(number))
        order = PourBatch(
            key,
            surface,
            "skin-1/layup",
            slow,
            ("Tarn 210 A", "Tarn 214 B slow"),
            780,
            Typed(resin, "g"),
            Typed(hardener, "g"),
            stable_id("lot", slow, "T-4471"),
            stable_id("crew", who),
            begin + timedelta(minutes=35 * number),
        )
        keep_batch(uow, order, now)
    wrong, right = stable_id("demo", "batch", "1"), stable_id("demo", "batch", "1b")
    correct_batch(uow, wrong, right, Typed("589", "g"), Typed("167", "g"), "read the scale upside down", now)
