"""What a plan was made from, as JSON: everything it takes to place it again to the minute, and nothing else.

A value of the core is an object that names its kind, with the fields that differ from what they are anyway. Numbers are
kept exactly; ``"inf"`` and ``"-inf"`` stand for what JSON has no number for.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import MISSING, Field, fields, is_dataclass
from datetime import date, tzinfo
from typing import Any

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Shift, WorkingHours, zone_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.plan.input import Damp, Member, Pin, PlanInput, Station, Thing

KINDS = {
    kind.__name__: kind
    for kind in (PlanInput, Step, After, Estimate, CureSystem, Stage, Member, Station, Thing, Pin, Damp, Profile,
                 WorkingHours, Shift, Fact, Mixed)
}  # fmt: skip


def written(job: PlanInput) -> str:
    """What a plan is made from, as text.

    >>> read(written(small)).steps == small.steps
    True
    """
    return json.dumps(_out(job), ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def read(text: str) -> PlanInput:
    """What a plan was made from; `Refused` for a text that is none.

    >>> read('{"is": "Step"}')
    Traceback (most recent call last):
    kiteloom.core.base.problems.Refused: that is not what a plan is made from
    """
    try:
        found = _in(json.loads(text), {})
    except (KeyError, TypeError, ValueError):
        found = None
    if not isinstance(found, PlanInput):
        raise Refused("file", "that is not what a plan is made from")
    return found


def _out(value: Any) -> Any:
    if is_dataclass(value) and not isinstance(value, type):
        rows = {f.name: getattr(value, f.name) for f in fields(value) if f.init}
        kept = {f.name: _out(rows[f.name]) for f in fields(value) if f.init and not _plain(f, rows[f.name])}
        return {"is": type(value).__name__, **kept}
    if isinstance(value, np.ndarray):
        return value.tolist()
    if isinstance(value, frozenset):
        return {"is": "set", "of": [_out(one) for one in sorted(value)]}
    if isinstance(value, Mapping):
        return {"is": "map", "of": {key: _out(one) for key, one in value.items()}}
    if isinstance(value, tuple | list):
        return [_out(one) for one in value]
    if isinstance(value, tzinfo):
        how = (getattr(value, "clock", "24"), getattr(value, "dates", "day"))
        return {"is": "zone", "of": [str(getattr(value, "zone", value)), *how]}
    if isinstance(value, date):
        return {"is": "day", "of": value.isoformat()}
    if isinstance(value, float) and math.isinf(value):
        return {"is": "number", "of": "inf" if value > 0 else "-inf"}
    return value.item() if isinstance(value, np.generic) else value


def _plain(field: Field[Any], value: Any) -> bool:
    """Whether a field has what it has anyway."""
    if isinstance(value, np.ndarray):
        return False
    if field.default is not MISSING:
        return bool(type(value) is type(field.default) and value == field.default)
    return field.default_factory is not MISSING and value == field.default_factory()


def _in(value: Any, known: dict[str, Any]) -> Any:
    """A value as it was; what was the same object, or alike, is one again."""
    if isinstance(value, list):
        return tuple(_in(one, known) for one in value)
    if not isinstance(value, dict):
        return value
    kind = value["is"]
    if kind == "set":
        return frozenset(_in(value["of"], known))
    if kind == "map":
        return {key: _in(one, known) for key, one in value["of"].items()}
    if kind == "zone":
        return zone_of(*value["of"])
    if kind == "day":
        return date.fromisoformat(value["of"])
    if kind == "number":
        return float(value["of"])
    given = {name: _in(one, known) for name, one in value.items() if name != "is"}
    if kind == "Profile":
        return Profile(*(np.array(given[name], dtype=np.float64) for name in ("minutes", "celsius")))
    made = KINDS[kind](**given)
    # A plan knows products by who they are.
    return known.setdefault(json.dumps(value, sort_keys=True), made) if kind == "CureSystem" else made
