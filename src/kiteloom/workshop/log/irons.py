"""The shop's irons, read with a thermometer, and where their dials stand for a temperature."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.iron import Calibration, Read, calibrated, dial_words, sole
from kiteloom.store.models import Iron, IronReading
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.base.taken_back import taken_back

#: A shop has so many irons at most.
MOST_IRONS = 20


@dataclass(frozen=True)
class SayIron:
    """An iron by its name. ``version`` 0 is a new one; the client makes its id."""

    id: str
    version: int
    name: str
    hidden: bool = False


def say_iron(uow: UnitOfWork, order: SayIron, now: datetime) -> Saved:
    """Say or rename an iron, or put it away."""
    known = uow.session.get(Iron, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name = " ".join(order.name.split())
    if not name or len(name) > 60:
        raise Refused("name", f"the name has {len(name)} letters; it has 1 to 60")
    here = irons_of(uow)
    same = next((row for row in here if row.name.lower() == name.lower() and row.id != order.id), None)
    if same is not None and not order.hidden:
        raise Refused("name", f"“{same.name}” is here already; add a letter to tell them apart")
    if known is None:
        if len(here) >= MOST_IRONS:
            raise Refused("id", f"there are {MOST_IRONS} irons; at most as many are kept")
        uow.add(Iron(id=order.id, name=name, updated_at=now))
        uow.changed("iron", order.id)
        return Saved(1)
    row = uow.get_for_edit(Iron, order.id, order.version)
    row.name, row.hidden_at = name, now if order.hidden else None
    uow.edited(row, [f"the iron “{name}”{' put away' if order.hidden else ''}"], now, "iron")
    return Saved(row.version)


@dataclass(frozen=True)
class NoteIron:
    """What a thermometer read where the dial stood. The client makes the id."""

    id: str
    dial: Typed
    reads: Typed


def note_iron(uow: UnitOfWork, iron_id: str, order: NoteIron, now: datetime) -> Kept:
    """Keep a reading."""
    if uow.kept_already(IronReading, order.id, iron_id=iron_id) is not None:
        return Kept(order.id)
    uow.get(Iron, iron_id)
    found = Read(
        between("dial", order.dial.read("number", "dial"), -1000, 1000, name="the dial"),
        sole(order.reads.read("temperature", "reads"), units_of(uow), "reads"),
    )
    uow.add(IronReading(id=order.id, iron_id=iron_id, dial=found.dial, temp_c=found.celsius, happened_at=now,
                        recorded_at=now))  # fmt: skip
    uow.changed("iron", iron_id)
    return Kept(order.id)


def irons_of(uow: UnitOfWork) -> list[Iron]:
    """The irons that are not put away, by name."""
    return uow.once("irons", lambda: [row for row in uow.all(Iron, Iron.name) if row.hidden_at is None])


def readings_of(uow: UnitOfWork) -> Mapping[str, list[IronReading]]:
    """The readings that count of each iron, oldest first."""

    def read() -> dict[str, list[IronReading]]:
        gone, found = taken_back(uow), dict[str, list[IronReading]]()
        for row in uow.session.scalars(select(IronReading).order_by(IronReading.happened_at, IronReading.dial)):
            if row.id not in gone:
                found.setdefault(row.iron_id, []).append(row)
        return found

    return uow.once("iron readings", read)


def calibration_of(uow: UnitOfWork, iron: Iron) -> Calibration:
    """The line through an iron's readings; `Refused` where there is none yet."""
    return calibrated([Read(row.dial, row.temp_c) for row in readings_of(uow).get(iron.id, ())])


def dials_for(uow: UnitOfWork, celsius: float, now: float) -> list[str]:
    """Where the dial of each iron stands for a temperature, in words; ``now`` [min]."""
    found = []
    for iron in irons_of(uow):
        rows = readings_of(uow).get(iron.id, [])
        try:
            line = calibration_of(uow, iron)
        except Refused:
            found.append(f"{iron.name} was never calibrated: read it with a thermometer first")
            continue
        age = (now - minute_of(rows[-1].happened_at)) / 1440
        found.append(f"{iron.name}: {dial_words(line, celsius, age, units_of(uow))}")
    return found
