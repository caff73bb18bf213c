"""A tank under pressure: what was read, what its air alone would read, and what is missing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.base.calendar import lasting, minute_of, when
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import show
from kiteloom.core.build.leak import held
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.tanks import reading_of, tank_job, tank_reads, tank_says


@dataclass(frozen=True)
class TankReadView:
    """One reading; ``at_h`` since it was pumped up, and what a tight tank would read then [kPa]."""

    id: str
    at_h: float
    gauge_kpa: float
    expected_kpa: float
    words: str
    """When it was."""
    gauge: str
    expected: str
    missing: str
    air: str
    """How warm the tank was, and the barometer."""


@dataclass(frozen=True)
class TankView:
    """A leak test: what is asked, what was read since it was pumped up, and what that says."""

    asked: str
    lasts_h: float
    allowed_kpa: float
    readings: list[TankReadView]
    verdict: Literal["reading", "tight", "leaks"]
    says: list[str]
    caution: str


_CAUTION = (
    "Air under pressure tears a tank: a pump by hand, a gauge and a valve that lets go, no face over it. Pressure, "
    "time and what may be missing are the kit maker’s; a licensed inspector decides."
)


def tank_view(uow: UnitOfWork, part_id: str) -> TankView:
    """The leak test of a part; `Refused` where it is no tank."""
    part, units, zone = built_part(uow, part_id), units_of(uow), zone_here(uow)
    found, says = tank_job(part), tank_says(uow, part)
    if found is None or says is None:
        raise Refused("part_id", f"{part.name} is no tank: nothing of it is tried with air")
    test, rows = found[1], tank_reads(uow).get(part_id, [])
    readings = []
    for row in rows:
        first, mine = reading_of(rows[0]), reading_of(row)
        told = held(first, mine, test.volume_l)
        barometer = f", barometer {show(row.air_kpa, 'barometer', units)}" if row.air_kpa is not None else ""
        noted = f", {row.note}" if row.note else ""
        readings.append(
            TankReadView(
                row.id,
                told.minutes / 60,
                row.gauge_kpa,
                told.expected_kpa,
                f"{when(minute_of(row.happened_at), zone)}{noted}",
                show(row.gauge_kpa, "pressure", units),
                show(told.expected_kpa, "pressure", units),
                show(round(told.missing_kpa, 6) + 0.0, "pressure", units),
                f"{show(row.temp_c, 'temperature', units)}{barometer}",
            )
        )
    asked = (
        f"Pumped up to {show(test.test_kpa, 'pressure', units)}; it stands for {lasting(test.lasts_min)} and may lose "
        f"{show(test.allowed_kpa, 'pressure', units)} beyond what its air explains."
    )
    return TankView(asked, test.lasts_min / 60, test.allowed_kpa, readings, says.verdict, list(says.says), _CAUTION)
