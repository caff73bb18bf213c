"""The activation energy of a cure, and a cure followed through a temperature history."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from kiteloom.api.calc.forms import MOST_POINTS, CureSystemIn, DegreesIn, TimeForm
from kiteloom.api.house import Routes
from kiteloom.core.air.profile import Profile
from kiteloom.core.cure.progress import cure_times
from kiteloom.core.cure.system import fit_activation
from kiteloom.core.stores import reading as stores_reading

bp = Routes("calc_cure", "Calculations", "/calc")


class PointIn(BaseModel):
    """Hours of one stage at one temperature."""

    c: float
    hours: float


class ActivationIn(BaseModel):
    """The same stage at several temperatures."""

    points: list[PointIn] = Field(max_length=1000)


class ActivationOut(BaseModel):
    """What fits them."""

    activation_energy_kj_mol: float
    q10_20_30: float


@bp.post("/activation")
@bp.takes(ActivationIn)
@bp.gives(ActivationOut)
def activation(order: ActivationIn) -> dict[str, float]:
    """Fit the activation energy."""
    return fit_activation([(point.c, point.hours) for point in order.points])._asdict()


class CureIn(BaseModel):
    """A mix, and the temperature it will have."""

    system: CureSystemIn
    start: str
    temperature: list[DegreesIn] = Field(max_length=MOST_POINTS)
    temperature_band_c: float = 0.0


class StageOut(BaseModel):
    """When a stage is reached."""

    name: str
    hours_at_reference: float
    at: str | None
    early: str | None
    late: str | None


class CureOut(BaseModel):
    """When each stage is reached, and hours below the minimum."""

    stages: list[StageOut]
    stalled_h: float


@bp.post("/cure")
@bp.takes(CureIn)
@bp.gives(CureOut)
def cure(order: CureIn) -> dict[str, Any]:
    """Follow a cure through a temperature history."""
    form = TimeForm(order.start)
    start = form.read("start", order.start)
    points = [(form.read(f"temperature.{i}.at", p.at), p.c) for i, p in enumerate(order.temperature)]
    system = stores_reading.cure_system(order.system.model_dump())
    found = cure_times(system, start, Profile.of(points), order.temperature_band_c)

    def at(minutes: float | None) -> str | None:
        return form.write(None if minutes is None else start + minutes)

    return {
        "stages": [
            {
                "name": s.name,
                "hours_at_reference": s.hours,
                "at": at(s.minutes),
                "early": at(s.early),
                "late": at(s.late),
            }
            for s in found.stages
        ],
        "stalled_h": found.stalled_h,
    }
