"""Tanks under pressure: what was read of them, and what that says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, text

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.leak import LeakTest, TankReading, Tightness, tightness
from kiteloom.store.models import TankRead
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.build.jobs import BuiltJob
from kiteloom.workshop.build.parts import BuiltPart, built_part

#: Text is kept so long at most.
LONGEST = 500


@dataclass(frozen=True)
class NoteTank:
    """What was read of a tank; ``begins`` as it was just pumped up. The client makes the id."""

    id: str
    gauge: Typed
    temperature: Typed
    barometer: Typed | None = None
    begins: bool = False
    note: str = ""


def tank_job(part: BuiltPart) -> tuple[BuiltJob, LeakTest] | None:
    """The job of a part that is tried with air, and how; None where it has none."""
    for job in part.jobs:
        if job.recipe is not None and job.recipe.tries is not None and job.task is not None:
            return job, job.recipe.tries(job.task.given)
    return None


def note_tank(uow: UnitOfWork, part_id: str, order: NoteTank, now: datetime) -> Kept:
    """Keep a reading; the first of a tank begins its test."""
    if uow.kept_already(TankRead, order.id, part_id=part_id) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    if tank_job(part) is None:
        raise Refused("part_id", f"{part.name} is no tank: nothing of it is tried with air")
    outside = order.barometer
    found = TankReading(
        0.0,
        order.gauge.read("pressure", "gauge") / 10,
        order.temperature.read("temperature", "temperature"),
        outside.read("pressure", "barometer") / 10 if outside is not None and outside.text.strip() else None,
    )
    begins = order.begins or not tank_reads(uow).get(part_id)
    uow.add(TankRead(id=order.id, part_id=part_id, begins=begins, gauge_kpa=found.gauge_kpa, temp_c=found.temp_c,
                     air_kpa=found.air_kpa, note=order.note.strip()[:LONGEST], happened_at=now,
                     recorded_at=now))  # fmt: skip
    uow.changed("part", part_id)
    return Kept(order.id)


def tank_reads(uow: UnitOfWork) -> Mapping[str, list[TankRead]]:
    """The readings that count of each tank since it was pumped up last, by part, oldest first."""

    def read() -> dict[str, list[TankRead]]:
        gone, found = taken_back(uow), dict[str, list[TankRead]]()
        for row in uow.session.scalars(select(TankRead).order_by(TankRead.happened_at, text("rowid"))):
            if row.id not in gone:
                mine = found.setdefault(row.part_id, [])
                if row.begins:
                    mine.clear()
                mine.append(row)
        return found

    return uow.once("tank reads", read)


def tank_says(uow: UnitOfWork, part: BuiltPart) -> Tightness | None:
    """What the readings of a tank say; None where it is none."""
    found = tank_job(part)
    if found is None:
        return None
    readings = [reading_of(row) for row in tank_reads(uow).get(part.id, ())]
    return tightness(readings, found[1], units_of(uow))


def reading_of(row: TankRead) -> TankReading:
    """A row as the core takes it."""
    return TankReading(minute_of(row.happened_at), row.gauge_kpa, row.temp_c, row.air_kpa)
