"""What a data sheet lacks, and how fast its product gets hard.

A question is never a refusal: the maker may know better.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import plain
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.cure.glass import GEL
from kiteloom.core.cure.system import (
    DOUBLES_K,
    GAS_J_MOL_K,
    KELVIN,
    STANDARD_RH_PCT,
    CureSystem,
    Stage,
    relative_rates,
)
from kiteloom.core.mix.exotherm import HotMix, PotLife, fitted
from kiteloom.core.stores.fields import (
    ASSUMED,
    BY_TABLE,
    CURING,
    FIBRES,
    USES,
    Field,
    fields_of,
)

#: Two gel times that differ more than so many times are told [-].
APART = 2.0


def said(says: Says, key: str) -> Any:
    """What stands at a dotted key; None when nothing does.

    >>> said({"cure": {"min_c": 12}}, "cure.min_c"), said({}, "cure.min_c")
    (12, None)
    """
    found: Any = says
    for part in key.split("."):
        found = found.get(part) if isinstance(found, Mapping) else None
    return found


def with_said(says: dict[str, Any], key: str, value: Any) -> None:
    """Put a value at a dotted key; None takes it out.

    >>> says = {}
    >>> with_said(says, "cure.min_c", 12)
    >>> says
    {'cure': {'min_c': 12}}
    """
    *path, last = key.split(".")
    inner = says
    for part in path:
        inner = inner.setdefault(part, {}) if isinstance(inner.get(part, {}), dict) else {}
    if value is None:
        inner.pop(last, None)
        if path and not inner:
            with_said(says, ".".join(path), None)
    else:
        inner[last] = value


@dataclass(frozen=True)
class Lacks:
    """A figure a sheet does not give: what can't be computed, and what is assumed instead, if anything."""

    field: str
    label: str
    words: str
    assumed: bool


def lacking(kind: str, says: Says, units: UnitSystem = "metric") -> list[Lacks]:
    """What can't be computed from this sheet, or only with what common practice assumes.

    >>> [lack.words[:41] for lack in lacking("core", {"thickness_mm": 6, "density_kg_m3": 60, "softens_c": 80})]
    ['“Resin it drinks, per side” is not said: ']
    """
    found = []
    for field in fields_of(kind):
        if not field.without or said(says, field.key) is not None:
            continue
        if _beside_the_point(field.key, says):
            continue
        value = _assumed_for(field.key, says)
        without = field.without
        if value is None:
            words = f"“{field.label}” is not said: {without} can't be computed."
            found.append(Lacks(field.key, field.label, words, False))
        else:
            shown = _shown(field, value, units)
            words = f"“{field.label}” is not said: {without} is computed with {shown} (assumed, common practice)."
            found.append(Lacks(field.key, field.label, words, True))
    if kind in CURING and not said(says, "cure.stages"):
        words = "No stage has its hours: when it may be touched, sanded or recoated can't be computed."
        found.append(Lacks("stages", "Stages", words, False))
    elif kind in CURING and says.get("chemistry") in BY_TABLE and not _has_points(says):
        words = (
            "No hours at a second temperature: the pace of a cold night is computed with twice as fast "
            f"for every {show(DOUBLES_K, 'difference', units)} (assumed, common practice)."
        )
        found.append(Lacks("stages", "Stages", words, True))
    return found


def _assumed_for(key: str, says: Says) -> float | None:
    if key == "fibre_density_g_cm3":
        return FIBRES.get(str(says.get("fibre")))
    return ASSUMED.get(key)


def _beside_the_point(key: str, says: Says) -> bool:
    """A figure that another one stands for."""
    if key == "roll_width_m" and says.get("used_as"):
        counted, used = USES.get(str(says["used_as"]), ("", "area"))
        return counted == used
    chemistry = says.get("chemistry")
    one_part = chemistry in BY_TABLE and not says.get("ratio") and not says.get("ratio_by_volume")
    if one_part and key.split(".")[0] in _TWO_PARTS:
        return True
    if key in ("pot_life.mass_g", "pot_life.temp_c"):
        return said(says, "pot_life.minutes") is None
    if key == "ratio":
        return any(says.get(other) for other in ("ratio_by_volume", "range_pct")) or "equivalents" in says
    if key == "ratio_by_volume":
        return said(says, "resin_density_g_ml") is not None or chemistry == "peroxide"
    if key == "tolerance_pct":
        return says.get("range_pct") is not None
    if key.startswith("cure.activation"):
        return chemistry in BY_TABLE or _has_points(says)
    if key.startswith("glass_transition"):
        return chemistry != "amine epoxy"
    return False


_TWO_PARTS = (
    "lids",
    "ratio",
    "ratio_by_volume",
    "tolerance_pct",
    "pot_life",
    "hardener_density_g_ml",
    "glass_transition",
)


def _has_points(says: Says) -> bool:
    return any(stage.get("also") for stage in said(says, "cure.stages") or ())


def _shown(field: Field, value: float, units: UnitSystem) -> str:
    if field.dimension == "areal weight":
        return show(value, "areal weight", units)
    if field.dimension == "share":
        return f"{plain(value * field.scale)} %"
    unit = field.label.rsplit(", ", 1)[-1] if field.dimension == "number" else field.unit[0]
    return f"{plain(value)} {unit}"


def cure_from(says: Says) -> CureSystem | None:
    """How a sheet's product gets hard; None when it gives no stages.

    A reacting product goes by its activation energy: the sheet's own, else one fitted to its
    stages at several temperatures, else "doubles every 10 °C" (assumed). A drying or
    moisture-cured one goes by its table, which is a rule of thumb; the latter by the air's humidity too.

    >>> cure_from({}) is None
    True
    """
    cure = says.get("cure") or {}
    rows = cure.get("stages") or ()
    if not rows:
        return None
    stages = tuple(Stage(row["name"], row["hours"]) for row in rows)
    reference, min_c = cure.get("reference_c", 20.0), cure.get("min_c")
    energy, band = cure.get("activation_energy_kj_mol"), cure.get("activation_energy_band_kj_mol") or 0.0
    if says.get("chemistry") in BY_TABLE:
        table = relative_rates(reference, [(row["hours"], _points(row)) for row in rows])
        damp = STANDARD_RH_PCT if says["chemistry"] == "moisture" else None
        return CureSystem(0.0, reference, stages, min_c, 0.0, table, not _has_points(says), damp)
    if energy is None:
        energy = fitted_energy(reference, rows)
    if energy is None or not 0 < energy <= 250:
        guess = ASSUMED["cure.activation_energy_kj_mol"]
        return CureSystem(guess, reference, stages, min_c, band or 10.0, assumed=True)
    return CureSystem(energy, reference, stages, min_c, band)


def _points(row: Says) -> list[tuple[float, float]]:
    return [(point["c"], point["hours"]) for point in row.get("also") or ()]


def fitted_energy(reference_c: float, rows: Sequence[Says]) -> float | None:
    """One activation energy for all stages that have hours at several temperatures [kJ/mol]; None without any.

    Least squares on ln t against 1/T, each stage about its own mean.

    >>> rows = [{"name": "gel", "hours": 4, "also": [{"c": 30, "hours": 2}]}]
    >>> round(fitted_energy(20, rows), 1)
    51.2
    """
    above = below = 0.0
    for row in rows:
        points = [(reference_c, row["hours"]), *_points(row)]
        inverse = [1 / (celsius + KELVIN) for celsius, _ in points]
        logs = [math.log(hours) for _, hours in points]
        mean_i, mean_l = sum(inverse) / len(points), sum(logs) / len(points)
        above += sum((i - mean_i) * (log - mean_l) for i, log in zip(inverse, logs, strict=True))
        below += sum((i - mean_i) ** 2 for i in inverse)
    return above / below * GAS_J_MOL_K / 1000 if below > 1e-12 else None


def two_kinetics(says: Says, units: UnitSystem = "metric") -> str:
    """That pot life and gel time are two kinetics, where they differ: cups go by the one, cures by the other.

    >>> pot = {"minutes": 45, "mass_g": 100, "temp_c": 23}
    >>> cure = {"reference_c": 23, "activation_energy_kj_mol": 55, "stages": [{"name": "gel", "hours": 4}]}
    >>> two_kinetics({"pot_life": pot, "cure": cure})[:61]
    'By its pot life a thin film would gel after 10.7 h at 23.0 °C'
    """
    system, pot = cure_from(says), says.get("pot_life") or {}
    if system is None or not system.has("gel") or len(pot) != 3 or says.get("chemistry") in BY_TABLE:
        return ""
    mix = HotMix(PotLife(**pot), system.activation_energy_kj_mol)
    film_h = GEL / (1 - GEL) / fitted(mix) / mix.rate(system.reference_c) / 60
    gel_h = system.hours("gel")
    if 1 / APART < film_h / gel_h < APART:
        return ""
    at = show(system.reference_c, "temperature", units)
    return (
        f"By its pot life a thin film would gel after {plain(round(film_h, 1))} h at {at}, by its stages after "
        f"{plain(gel_h)} h. Each is right for its own: cups go by the pot life, cures by the stages."
    )
