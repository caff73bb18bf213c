"""What somebody who knows the trade would ask about a data sheet: asked, never refused."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from kiteloom.core.base.fields import Says
from kiteloom.core.base.problems import plain
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.mix.ratio import hardener_per_hundred
from kiteloom.core.stores.fields import ASSUMED, BY_TABLE, CONSISTENCIES, HAZARD_OF, STAGES, fields_of
from kiteloom.core.stores.sheets import cure_from, fitted_energy, said

#: A stage that is so far off its own table is asked about [-].
OFF_PACE = 0.1


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


def _hazard_questions(says: Says) -> list[Question | None]:
    """A chemistry whose usual hazard the sheet does not name."""
    named, chemistry = says.get("hazards") or (), says.get("chemistry")
    wanted = HAZARD_OF.get(str(chemistry))
    if wanted is None or wanted in named:
        return []
    return [Question("hazards", f"It gets hard by {chemistry}, and “{wanted}” is not among its hazards?")]


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
