"""A data sheet as it is typed, and back: text in the shop's units ↔ what the sheet says."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.fields import Says, number_text
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import UnitSystem, parse, system_of
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.mix.exotherm import PotLife
from kiteloom.core.mix.ratio import Ratio
from kiteloom.core.stores import reading
from kiteloom.core.stores.fields import CURING, MIXED, Field, fields_of
from kiteloom.core.stores.sheets import cure_from, said, with_said

#: Nothing is known to keep for longer, or to come later: a hundred years [days].
MOST_DAYS = 36_500.0

_RATIO = re.compile(r"\s*([\d.,]+)\s*(?::|/|to|zu)\s*([\d.,]+)\s*$")


_RANGE = re.compile(r"\s*([\d.,]+)\s*(?:–|—|-|to|bis|…)\s*([\d.,]+)\s*%?\s*$")


@dataclass(frozen=True)
class StagesForm:
    """Hours of each stage at one or several temperatures, as typed; the first temperature is the reference."""

    temps: tuple[str, ...] = ("",)
    rows: tuple[tuple[str, tuple[str, ...]], ...] = ()


@dataclass(frozen=True)
class Form:
    """A sheet's fields as text, by key, and its stages."""

    texts: Mapping[str, str]
    stages: StagesForm = StagesForm()


def written(kind: str, says: Says, units: UnitSystem = "metric") -> Form:
    """A sheet as text.

    >>> written("core", {"thickness_mm": 6.35}, "us").texts["thickness_mm"]
    '0.25 in'
    """
    texts = {}
    for field in fields_of(kind):
        value = said(says, field.key)
        texts[field.key] = "" if value is None else _text(field, value, units)
    return Form(texts, _stages_written(says, units) if kind in CURING else StagesForm())


def _text(field: Field, value: Any, units: UnitSystem) -> str:
    if field.style == "ratio":
        return f"{plain(value['resin'])} : {plain(value['hardener'])}"
    if field.style == "range":
        return f"{plain(value[0])} – {plain(value[1])}"
    return field.text(value, units)


def _stages_written(says: Says, units: UnitSystem) -> StagesForm:
    rows = said(says, "cure.stages") or ()
    symbol = "°F" if system_of(units) == "us" else "°C"
    reference = said(says, "cure.reference_c")
    others = sorted({point["c"] for row in rows for point in row.get("also") or ()})
    temps = tuple(
        number_text(c, "temperature", symbol) for c in ([reference] if reference is not None else []) + others
    )
    lines = []
    for row in rows:
        known = {point["c"]: plain(point["hours"]) for point in row.get("also") or ()}
        lines.append((row["name"], (plain(row["hours"]), *(known.get(c, "") for c in others))))
    return StagesForm(temps or ("",), tuple(lines))


def read(kind: str, name: str, form: Form, units: UnitSystem = "metric") -> tuple[dict[str, Any], list[Refused]]:
    """What a sheet says, and every field that can't be read or lies beyond its limits.

    Nothing is refused because it is missing.

    >>> read("core", "Foam", Form({"thickness_mm": "1/4 in", "density_kg_m3": "75"}))[0]
    {'thickness_mm': 6.35, 'density_kg_m3': 75.0}
    """
    says: dict[str, Any] = {}
    problems: list[Refused] = []

    def trying(work: Callable[[], None]) -> None:
        try:
            work()
        except Refused as refused:
            problems.append(refused)

    if not name.strip():
        problems.append(Refused("name", "the sheet has no name; give it the product's, like “Sedge 163 twill glass”"))
    for field in fields_of(kind):
        text = form.texts.get(field.key, "")
        if text.strip():
            trying(lambda field=field, text=text: with_said(says, field.key, _value(field, text, units)))  # type: ignore[misc]
    if kind in CURING:
        trying(lambda: _read_stages(says, form.stages, units))
    if not problems:
        problems += _beyond_limits(kind, name, says)
    return says, problems


def _value(field: Field, text: str, units: UnitSystem) -> Any:
    if field.style == "ratio":
        found = _RATIO.match(text)
        if not found:
            raise Refused(field.key, f"“{text.strip()}” isn't a ratio; write it like 100 : 28 or 2 : 1")
        resin, hardener = (parse(part, "number", "", field.key) for part in found.groups())
        basis = "volume" if field.key.endswith("volume") else "weight"
        try:
            Ratio(resin, hardener)
        except Refused as refused:
            raise Refused(field.key, refused.sentence) from None
        return {"resin": resin, "hardener": hardener, "basis": basis}
    if field.style == "range":
        found = _RANGE.match(text)
        if not found:
            raise Refused(field.key, f"“{text.strip()}” isn't a range; write it like 1 – 2")
        low, high = (between(field.key, parse(p, "number", "", field.key), 0.01, 50, unit="%") for p in found.groups())
        if low >= high:
            raise Refused(field.key, f"the range goes from {plain(low)} to {plain(high)} %; the first must be lower")
        return [low, high]
    if field.style != "quantity":
        return field.value(field.key, text, units)
    value = parse(text, field.dimension, field.unit_for(units), field.key) / field.scale
    if field.dimension == "temperature":
        return between(field.key, value, -60, 400, unit="°C", name=field.label)
    if field.key in ("keep.sealed_days", "keep.opened_days", "lead_days"):
        return between(field.key, value, 0, MOST_DAYS, unit="days", open_low=True, name=field.label)
    may_be_none = ("cure.activation_energy_band_kj_mol", "resin_uptake_g_m2_per_side", "glass_transition.above_cure_k")
    return between(field.key, value, 0, 1e7, open_low=field.key not in may_be_none, name=field.label)


def _read_stages(says: dict[str, Any], form: StagesForm, units: UnitSystem) -> None:
    symbol = "°F" if system_of(units) == "us" else "°C"
    rows = [(name.strip(), hours) for name, hours in form.rows if name.strip() or any(h.strip() for h in hours)]
    if not rows:
        return
    temps = [parse(text, "temperature", symbol, "stages") if text.strip() else None for text in form.temps]
    if temps[0] is None:
        raise Refused("stages", "the first column of the stages has no temperature; hours mean nothing without one")
    stages: list[dict[str, Any]] = []
    for name, hours in rows:
        if not name:
            raise Refused("stages", f"a stage with {hours[0] or 'no'} hours has no name; call it gel, handle or sand")
        if any(name == other["name"] for other in stages):
            raise Refused("stages", f"“{name}” stands there twice")
        read_hours = [parse(text, "time", "h", "stages") / 60 if text.strip() else None for text in hours]
        for value in read_hours:
            if value is not None:
                between("stages", value, 0, 10_000, unit="h", name=f"“{name}”", open_low=True)
        if read_hours[0] is None:
            raise Refused("stages", f"“{name}” has no hours in the first column")
        row: dict[str, Any] = {"name": name, "hours": read_hours[0]}
        also = [
            {"c": celsius, "hours": value}
            for celsius, value in zip(temps[1:], read_hours[1:], strict=False)
            if celsius is not None and value is not None
        ]
        if also:
            row["also"] = also
        stages.append(row)
    with_said(says, "cure.reference_c", temps[0])
    with_said(says, "cure.stages", stages)


def _beyond_limits(kind: str, name: str, says: Says) -> list[Refused]:
    """What the calculations themselves refuse of what is there."""
    tries: list[Callable[[], object]] = []
    pot, glass = says.get("pot_life") or {}, says.get("glass_transition") or {}
    if kind in MIXED and any(says.get(key) for key in ("ratio", "range_pct", "equivalents")):
        tries.append(lambda: reading.mix_system({**says, "tolerance_pct": says.get("tolerance_pct", 5)}))
    if kind in CURING:
        tries.append(lambda: cure_from(says))
    if len(pot) == 3:
        tries.append(lambda: PotLife(**pot))
    if glass.get("full_c") is not None:
        tries.append(lambda: GlassTransition(**glass))
    if kind == "cloth" and says.get("areal_weight_g_m2") is not None:
        tries.append(lambda: reading.cloth(name, {"fibre": "glass", **says}))
    found = []
    for attempt in tries:
        try:
            attempt()
        except Refused as refused:
            found.append(refused)
    return found


def cleaned(kind: str, name: str, says: Says) -> tuple[dict[str, Any], list[Refused]]:
    """A sheet out of a file, as somebody else wrote it: only what its kind can say, each value of its own type.

    >>> says, refused = cleaned("solvent", "Fen", {"density_kg_m3": 790, "colour": "clear"})
    >>> says, [str(each) for each in refused]
    ({'density_kg_m3': 790.0}, [])
    """
    kept: dict[str, Any] = {}
    problems: list[Refused] = []
    ratio = says.get("ratio")
    if isinstance(ratio, Mapping) and ratio.get("basis") == "volume":
        says = {**says, "ratio": None, "ratio_by_volume": ratio}
    for field in fields_of(kind):
        value = said(says, field.key)
        if value is None:
            continue
        if _fits(field, value):
            with_said(kept, field.key, value)
        else:
            problems.append(
                Refused(field.key, f"{field.label} is {str(value)[:40]!r}, which is no {_KIND[field.style]}")
            )
    stages = said(says, "cure.stages")
    if kind in CURING and stages is not None:
        if _stages_fit(stages) and _is_number(said(says, "cure.reference_c")):
            with_said(kept, "cure.reference_c", said(says, "cure.reference_c"))
            with_said(kept, "cure.stages", stages)
        else:
            problems.append(Refused("stages", "the stages aren't a list of names and hours at a temperature"))
    if not problems:
        # What is typed has limits, and what comes in a file has the same.
        kept, problems = read(kind, name, written(kind, kept))
    return kept, problems


_KIND = {
    "quantity": "number",
    "words": "text",
    "choice": "choice",
    "yes": "yes or no",
    "ratio": "ratio",
    "range": "range of two numbers",
    "list": "list of words",
}


def _is_number(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool) and abs(value) < 1e12


def _fits(field: Field, value: Any) -> bool:
    if field.style == "quantity":
        return _is_number(value)
    if field.style == "yes":
        return isinstance(value, bool)
    if field.style == "ratio":
        return isinstance(value, Mapping) and all(_is_number(value.get(part)) for part in ("resin", "hardener"))
    if field.style == "range":
        return isinstance(value, list) and len(value) == 2 and all(_is_number(part) for part in value)
    if field.style == "list":
        return isinstance(value, list) and all(isinstance(part, str) and ";" not in part for part in value)
    return isinstance(value, str)


def _stages_fit(stages: Any) -> bool:
    return isinstance(stages, list) and all(
        isinstance(row, Mapping)
        and isinstance(row.get("name"), str)
        and _is_number(row.get("hours"))
        and isinstance(row.get("also", []), list)
        and all(
            isinstance(p, Mapping) and _is_number(p.get("c")) and _is_number(p.get("hours"))
            for p in row.get("also", [])
        )
        for row in stages
    )


def same(one: Says, other: Says) -> bool:
    """Whether two sheets say the same.

    >>> same({"ratio": [100, 28]}, {"ratio": [100, 28], "note": None})
    True
    """
    return bool(_plain(one) == _plain(other))


def _plain(value: Any) -> Any:
    if isinstance(value, Mapping):
        return {key: _plain(inner) for key, inner in value.items() if inner is not None}
    if isinstance(value, Sequence) and not isinstance(value, str):
        return [_plain(inner) for inner in value]
    return float(value) if isinstance(value, int) and not isinstance(value, bool) else value


def differences(kind: str, one: Says, other: Says, units: UnitSystem = "metric") -> list[str]:
    """What changed between two sheets of a kind, in words.

    >>> differences("laminating resin", {"tolerance_pct": 3}, {"tolerance_pct": 2})
    ['Ratio may be off by 3 % → 2 %']
    """
    before, after = written(kind, one, units), written(kind, other, units)
    labels = {field.key: field.label for field in fields_of(kind)}
    words = [
        f"{labels[key]} {before.texts[key] or 'nothing'} → {after.texts[key] or 'nothing'}"
        for key in labels
        if before.texts[key] != after.texts[key]
    ]
    if before.stages != after.stages:
        words.append("stages")
    return words
