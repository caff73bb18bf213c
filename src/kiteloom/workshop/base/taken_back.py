"""Taking back what was written down by mistake: it stays, with its trace, and does not count."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import (
    Base,
    CrewMember,
    HingeReading,
    IronReading,
    Measured,
    Outlook,
    PartTemperature,
    TakenBack,
    TankRead,
    TemperatureImport,
    Weighing,
    Witness,
)
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept

What = Literal[
    "witness",
    "outlook",
    "part temperature",
    "file",
    "weighing",
    "hinge reading",
    "iron reading",
    "measured",
    "tank reading",
]

#: What can be taken back, and which pages it touches.
ROWS: Mapping[What, tuple[type[Base], str]] = {
    "witness": (Witness, "witness"),
    "outlook": (Outlook, "climate"),
    "part temperature": (PartTemperature, "climate"),
    "file": (TemperatureImport, "climate"),
    "weighing": (Weighing, "weight"),
    "hinge reading": (HingeReading, "weight"),
    "iron reading": (IronReading, "iron"),
    "measured": (Measured, "part"),
    "tank reading": (TankRead, "part"),
}


@dataclass(frozen=True)
class TakeBack:
    """What is taken back, by whom, and why. The client makes the id."""

    id: str
    what: What
    of_id: str
    note: str = ""
    crew_member_id: str | None = None


def taken_back(uow: UnitOfWork) -> set[str]:
    """The ids of all that does not count any more."""
    return uow.once("taken back", lambda: {row.of_id for row in uow.all(TakenBack)})


def take_it_back(uow: UnitOfWork, order: TakeBack, now: datetime) -> Kept:
    """Let it not count any more; a reading of a witness asks who takes it back, and why."""
    if uow.kept_already(TakenBack, order.id, what=order.what, of_id=order.of_id) is not None:
        return Kept(order.id)
    row, topic = ROWS[order.what]
    uow.get(row, order.of_id)
    if order.of_id in taken_back(uow):
        raise Refused("of_id", "this was taken back already")
    note = order.note.strip()
    if order.what == "witness" and order.crew_member_id is None:
        raise Refused("crew_member_id", "a reading is taken back by somebody; say who")
    if order.what == "witness" and not note:
        raise Refused("note", "the note is empty; say in a few words why it does not count")
    if order.crew_member_id is not None:
        uow.get(CrewMember, order.crew_member_id)
    says = {"note": note[:500], "crew_member_id": order.crew_member_id, "happened_at": now, "recorded_at": now}
    uow.add(TakenBack(id=order.id, what=order.what, of_id=order.of_id, **says))
    uow.changed(topic, order.of_id)
    return Kept(order.id)
