"""The Reedling's fuel tank: rinsed, sealed, pumped up last evening and read this morning. All invented."""

from __future__ import annotations

from datetime import datetime

from kiteloom.core.base.quantities import Typed
from kiteloom.demo.week import Week, working_day
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.log.gates import NoteGate, note_gate
from kiteloom.workshop.log.tanks import NoteTank, note_tank

TANK = "Fuel tank"
#: When it was read: working days ago, the gauge, the tank's own air, the barometer.
READ = (
    (1, "17:40", "7.00", "19.5", "1016"),
    (1, "17:55", "6.95", "19.4", "1016"),
    (0, "06:40", "6.18", "16.5", "1012"),
)


def tank_so_far(uow: UnitOfWork, now: datetime, week: Week) -> None:
    """What was done to it, who looked before it was closed, and what was read."""
    ids = {part.name: part.id for part in uow.all(Part)}
    week.work(TANK, "fit", 8, "09:10", "10:40", "Teo")
    week.work(TANK, "tap", 8, "11:00", "11:25", "Teo")
    for n, (days, start, end) in enumerate(((7, "16:05", "16:20"), (7, "17:30", "17:45"), (6, "09:05", "09:20")), 1):
        week.work(TANK, f"rinse-{n}", days, start, end, "Odile")
    sign = NoteGate(stable_id("demo", "gate", TANK), ids[TANK], "seal", "sign",
                    note="looked inside with a mirror and a lamp", crew_member_id=stable_id("crew", "Bo"))  # fmt: skip
    note_gate(uow, sign, working_day(now, 6, "10:30"))
    week.work(TANK, "seal", 6, "10:40", "11:25", "Odile")
    week.work(TANK, "pump", 1, "17:30", "17:55", "Imre")
    for n, (days, clock, gauge, own, outside) in enumerate(READ):
        order = NoteTank(stable_id("demo", "tank", str(n)), Typed(gauge, "kPa"), Typed(own, "°C"),
                         Typed(outside, "mbar"), n == 0)  # fmt: skip
        note_tank(uow, ids[TANK], order, working_day(now, days, clock))
