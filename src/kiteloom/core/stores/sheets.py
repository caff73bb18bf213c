"""What a data sheet lacks, what is odd about it, and how fast its product gets hard.

A question is never a refusal: the maker may know better.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import plain
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.cure.glass import GEL
from kiteloom.core.cure.system import DOUBLES_K, GAS_J_MOL_K, KELVIN, CureSystem, Stage, relative_rates
from kiteloom.core.mix.exotherm import HotMix, PotLife, fitted
from kiteloom.core.mix.ratio import hardener_per_hundred
from kiteloom.core.stores.fields import (
    ASSUMED,
    BY_TABLE,
    CONSISTENCIES,
    CURING,
    FIBRES,
    HAZARD_OF,
    STAGES,
    Field,
    fields_of,
)

#: A stage that is so far off its own table is asked about [-].
OFF_PACE = 0.1
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
    moisture-cured one goes by its table, which is a rule of thumb.

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
        return CureSystem(0.0, reference, stages, min_c, 0.0, table=table, assumed=not _has_points(says))
    if energy is None:
        energy = fitted_energy(reference, rows)
    if energy is None or not 0 < energy <= 250:
        guess = ASSUMED["cure.activation_energy_kj_mol"]
        return CureSystem(guess, reference, stages, min_c, band or 10.0, assumed=True)
    return CureSystem(energy, reference, stages, min_c, band)


def _hazard_questions(says: Says) -> list[Question | None]:
    """A chemistry whose usual hazard the sheet does not name."""
    named, chemistry = says.get("hazards") or (), says.get("chemistry")
    wanted = HAZARD_OF.get(str(chemistry))
    if wanted is None or wanted in named:
        return []
    return [Question("hazards", f"It gets hard by {chemistry}, and “{wanted}” is not among its hazards?")]


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


@dataclass(frozen=True)
class Question:
    """Something on a sheet that looks wrong; asked, never refused."""

    field: str
    sentence: str


def questions(kind: str, says: Says, units: UnitSystem = "metric") -> list[Question]:
    """What somebody who knows the trade would ask about this sheet.

    >>> odd = {"pot_life": {"minutes": 300}, "cure": {"reference_c": 20, "stages": [{"name": "gel", "hours": 4}]}}
    >>> questions("laminating resin", odd)[0].sentence
    'The pot life of 300 min is longer than the 240 min to gel. Is one of them another temperature or mass?'
    """
    fields_of(kind)
    found = [*_ratio_questions(says), *_stage_questions(says, units), *_limit_questions(says, units)]
    found += [*_hazard_questions(says), *_iron_questions(says, units), *_filler_questions(says)]
    return [question for question in found if question is not None]


def _ratio_questions(says: Says) -> list[Question | None]:
    found: list[Question | None] = []
    weight, volume = says.get("ratio"), says.get("ratio_by_volume")
    densities = says.get("resin_density_g_ml"), says.get("hardener_density_g_ml")
    tolerance = says.get("tolerance_pct") or ASSUMED["tolerance_pct"]
    if weight and weight.get("basis", "weight") == "weight":
        k = weight["hardener"] / weight["resin"]
        if volume and all(densities):
            other = volume["hardener"] / volume["resin"] * densities[1] / densities[0]
            off = 100 * (other / k - 1)
            if abs(off) > tolerance:
                found.append(
                    Question(
                        "ratio_by_volume",
                        f"By volume and these densities it would be 100 : {plain(round(100 * other, 1))} by weight, "
                        f"{abs(off):.0f} % {'more' if off > 0 else 'less'} hardener than the ratio by weight. "
                        "Which of the three figures is wrong?",
                    )
                )
        if k > 1 and not volume:
            found.append(
                Question(
                    "ratio",
                    f"{plain(round(100 * k, 1))} parts of hardener to 100 of resin: more hardener than resin. "
                    "Do the two stand the wrong way round?",
                )
            )
        found.append(_equivalent_question(says, 100 * k, tolerance))
    for key, name in (("resin_density_g_ml", "resin"), ("hardener_density_g_ml", "hardener")):
        density = says.get(key)
        if density is not None and not 0.7 <= density <= 2.2:
            found.append(Question(key, f"A {name} of {plain(density)} g/ml? Most lie between 0.9 and 1.8."))
    span = says.get("range_pct")
    if span and span[1] > 4:
        found.append(Question("range_pct", f"Up to {plain(span[1])} % hardener? Peroxides are usually 1 to 2 %."))
    if says.get("chemistry") == "peroxide" and not span and says.get("ratio"):
        found.append(Question("range_pct", "Peroxide-cured, with one ratio: does the sheet not give a range?"))
    if (says.get("tolerance_pct") or 0) > 15:
        found.append(Question("tolerance_pct", f"±{plain(says['tolerance_pct'])} % off is a lot for a two-part mix."))
    return found


def _equivalent_question(says: Says, per_hundred: float, tolerance: float) -> Question | None:
    known = says.get("equivalents") or {}
    if known.get("epoxide") and known.get("amine"):
        by_them = hardener_per_hundred(known["amine"], known["epoxide"])
        if abs(by_them / per_hundred - 1) * 100 > tolerance:
            return Question(
                "equivalents.amine",
                f"The equivalent weights ask for 100 : {plain(round(by_them, 1))} by weight, "
                f"the ratio says 100 : {plain(round(per_hundred, 1))}.",
            )
    return None


def _stage_questions(says: Says, units: UnitSystem) -> list[Question | None]:
    rows = said(says, "cure.stages") or []
    found: list[Question | None] = []
    order = {name: i for i, name in enumerate(STAGES)}
    known = [row for row in rows if row["name"] in order]
    for one, other in pairwise(known):
        first, second = (one, other) if order[one["name"]] < order[other["name"]] else (other, one)
        if first["hours"] > second["hours"]:
            found.append(
                Question(
                    "stages",
                    f"“{first['name']}” after {plain(first['hours'])} h and “{second['name']}” already after "
                    f"{plain(second['hours'])} h?",
                )
            )
    gel = next((row["hours"] for row in rows if row["name"] == "gel"), None)
    minutes = said(says, "pot_life.minutes")
    if gel is not None and minutes is not None and minutes > gel * 60:
        found.append(
            Question(
                "pot_life.minutes",
                f"The pot life of {plain(minutes)} min is longer than the {plain(gel * 60)} min to gel. "
                "Is one of them another temperature or mass?",
            )
        )
    reference = said(says, "cure.reference_c")
    for row in rows:
        for point in row.get("also") or ():
            if reference is not None and (point["c"] - reference) * (point["hours"] - row["hours"]) > 0:
                warmer = show(max(point["c"], reference), "temperature", units)
                found.append(Question("stages", f"“{row['name']}” takes longer at {warmer} than colder?"))
    found += _pace_questions(says, units)
    given = said(says, "cure.activation_energy_kj_mol")
    energy = given if given is not None else fitted_energy(reference if reference is not None else 20.0, rows)
    if energy is not None and says.get("chemistry") not in BY_TABLE and not 30 <= energy <= 120:
        what = "The activation energy of" if given is not None else "The stages at several temperatures fit"
        found.append(
            Question(
                "cure.activation_energy_kj_mol",
                f"{what} {energy:.0f} kJ/mol; most lie between 30 and 120.",
            )
        )
    return found


def _pace_questions(says: Says, units: UnitSystem) -> list[Question]:
    """Where the one pace of all stages is off what the sheet says of one of them at another temperature."""
    system, found = cure_from(says), []
    for row in said(says, "cure.stages") or ():
        for point in row.get("also") or ():
            assert system is not None
            hours = row["hours"] / system.rate_at(point["c"])
            if abs(hours / point["hours"] - 1) > OFF_PACE:
                at = show(point["c"], "temperature", units)
                found.append(
                    Question(
                        "stages",
                        f"“{row['name']}” takes {plain(point['hours'])} h at {at} by the sheet and "
                        f"{plain(round(hours, 1))} h by the one pace that all its stages are computed with. "
                        "Are the hours right? The longer of the two is the safer.",
                    )
                )
    return found


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


def _iron_questions(says: Says, units: UnitSystem) -> list[Question | None]:
    """An iron that is to be hotter than the cloth or the tape may ever get."""
    limit, found = says.get("limit_c"), list[Question | None]()
    for key, what in (("slack_c", "taking up slack"), ("finish_c", "finishing"), ("tack_c", "tacking")):
        celsius = says.get(key)
        if limit is not None and celsius is not None and celsius >= limit:
            hot, most = (show(c, "temperature", units) for c in (celsius, limit))
            found.append(Question(key, f"The iron {what} at {hot}, and never above {most}? It would be ruined."))
    slack, finish = says.get("slack_c"), says.get("finish_c")
    if slack is not None and finish is not None and slack > finish:
        found.append(Question("finish_c", "The iron finishes colder than it takes up slack?"))
    return found


def _filler_questions(says: Says) -> list[Question | None]:
    """Consistencies that get thinner with more filler."""
    parts = says.get("parts") or {}
    known = [(name, parts[name]) for name in CONSISTENCIES if name in parts]
    return [
        Question(
            f"parts.{stiff}", f"Like {stiff} with {plain(more)} parts, and like {thin} already with {plain(less)}?"
        )
        for (thin, less), (stiff, more) in pairwise(known)
        if more <= less
    ]


def _limit_questions(says: Says, units: UnitSystem) -> list[Question | None]:
    found: list[Question | None] = []
    low, high = said(says, "cure.min_c"), said(says, "cure.max_c")
    reference = said(says, "cure.reference_c")
    if low is not None and high is not None and low >= high:
        a, b = (show(c, "temperature", units) for c in (low, high))
        found.append(Question("cure.max_c", f"It stands still below {a} and is not to be warmer than {b}?"))
    if low is not None and reference is not None and reference < low:
        a, b = (show(c, "temperature", units) for c in (reference, low))
        found.append(
            Question("cure.min_c", f"Its hours are given for {a}, where it is said to stand still (below {b}).")
        )
    cold, warm = said(says, "keep.min_c"), said(says, "keep.max_c")
    if cold is not None and warm is not None and cold >= warm:
        a, b = (show(c, "temperature", units) for c in (cold, warm))
        found.append(Question("keep.max_c", f"Stored not below {a} and not above {b}?"))
    sealed, opened = said(says, "keep.sealed_days"), said(says, "keep.opened_days")
    if sealed is not None and opened is not None and opened > sealed:
        found.append(Question("keep.opened_days", "It keeps longer opened than sealed?"))
    return found
