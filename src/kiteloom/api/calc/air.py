"""Air judged, and windows found in it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.calc.forms import MOST_POINTS, CalendarIn, DegreesIn, TimeForm, profile
from kiteloom.api.house import Routes
from kiteloom.core.air.moisture import judge_air
from kiteloom.core.air.windows import Limits, Part, straight_shots
from kiteloom.core.base.problems import Refused, between

bp = Routes("calc_air", "Calculations", "/calc")


class ClimateIn(BaseModel):
    """Air, perhaps a surface in it, and a product's limits."""

    temp_c: float
    rh_pct: float
    surface_c: float | None = None
    min_c: float | None = None
    max_rh_pct: float | None = None


class ClimateOut(BaseModel):
    """The dew margin, and whether work may go on."""

    dew_point_c: float
    margin_c: float
    ok: bool
    reasons: list[str]


@bp.post("/climate")
@bp.takes(ClimateIn)
@bp.gives(ClimateOut)
def climate(order: ClimateIn) -> dict[str, Any]:
    """Judge a surface in this air."""
    found = judge_air(**order.model_dump())
    return {
        "dew_point_c": found.dew_point_c,
        "margin_c": found.margin_c,
        "ok": found.ok,
        "reasons": list(found.reasons),
    }


class HumidityIn(BaseModel):
    """A relative humidity at a time."""

    at: str
    rh_pct: float


class PartIn(BaseModel):
    """One part of a sequence."""

    name: str = ""
    minutes: float
    hands_on: bool = True


class WindowsIn(BaseModel):
    """A sequence, its limits, and the air of the days to come."""

    temperature: list[DegreesIn] = Field(max_length=MOST_POINTS)
    humidity: list[HumidityIn] | None = Field(None, max_length=MOST_POINTS)
    min_c: float
    max_c: float | None = None
    max_rh_pct: float | None = None
    parts: list[PartIn] = Field(max_length=100)
    calendar: CalendarIn


class WindowOut(BaseModel):
    """When it may begin, and its end when begun last."""

    start: str
    end: str
    latest_start: str


class WindowsOut(BaseModel):
    """Every window in the list's span."""

    windows: list[WindowOut]
    humidity_known_until: str | None = None


@bp.post("/windows")
@bp.takes(WindowsIn)
@bp.gives(WindowsOut)
def windows(order: WindowsIn) -> dict[str, Any]:
    """When the whole sequence fits."""
    if not order.temperature:
        raise Refused("temperature", "temperature has no entries; at least 1 is wanted")
    form = TimeForm(order.temperature[0].at, "temperature.0.at")
    air = profile(form, "temperature", [(p.at, p.c) for p in order.temperature])
    for i, entry in enumerate(order.humidity or []):
        between(f"humidity.{i}.rh_pct", entry.rh_pct, 0, 100, unit="%", open_low=True)
    damp = profile(form, "humidity", [(h.at, h.rh_pct) for h in order.humidity]) if order.humidity else None
    parts = [Part(part.name, part.minutes, part.hands_on) for part in order.parts]
    limits = Limits(order.min_c, order.max_c, order.max_rh_pct)
    found = straight_shots(parts, limits, air, damp, order.calendar.value(form))
    return {
        "windows": [
            {"start": form.write(w.start), "end": form.write(w.end), "latest_start": form.write(w.latest_start)}
            for w in found
        ],
        "humidity_known_until": form.write(float(damp.minutes[-1])) if damp else None,
    }
