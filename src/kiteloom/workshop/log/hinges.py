"""Control surfaces read on their hinge, and whether what was read still holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import made, missing
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.weight.hinge import Hinge, Read, judged
from kiteloom.store.models import HingeReading, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.notes import finished_at

#: The kind of a step that is not finished before a reading on the hinge holds.
BALANCE = "balance"
#: A scale reads no more [g].
MOST_G = 5_000_000.0


@dataclass(frozen=True)
class NoteHinge:
    """What a control surface held level on its hinge read, so far behind it; ``heavy`` says which side goes down."""

    id: str
    reads: Typed
    arm: Typed
    heavy: Literal["tail", "nose"] = "tail"
    mounted: Typed | None = None
    note: str = ""


def note_hinge(uow: UnitOfWork, part_id: str, order: NoteHinge, now: datetime) -> Kept:
    """Keep a reading on the hinge."""
    if uow.kept_already(HingeReading, order.id, part_id=part_id) is not None:
        return Kept(order.id)
    if hinge_of(uow.get(Part, part_id)) is None:
        raise Refused("hinge", "its hinge line is not given yet; say where it lies first")
    grams = between("reads", order.reads.read("mass", "reads"), 0, MOST_G, unit="g", name="what the scale reads")
    arm = between("arm", order.arm.read("length", "arm") * 1000, 0, 5000, unit="mm", name="its distance from the hinge",
                  open_low=True)  # fmt: skip
    mounted = 0.0
    if order.mounted is not None and order.mounted.text.strip():
        mounted = between(
            "mounted", order.mounted.read("mass", "mounted"), 0, MOST_G, unit="g", name="the balance weight"
        )
    signed = grams if order.heavy == "tail" else -grams
    uow.add(
        HingeReading(id=order.id, part_id=part_id, grams=signed, arm_m=arm / 1000, mounted_g=mounted,
                     note=order.note.strip()[:500], happened_at=now, recorded_at=now)
    )  # fmt: skip
    uow.changed("weight", part_id)
    return Kept(order.id)


def hinge_readings(uow: UnitOfWork, part_id: str) -> list[HingeReading]:
    """Those of a part that count, oldest first."""
    gone = taken_back(uow)
    query = select(HingeReading).where(HingeReading.part_id == part_id)
    rows = uow.session.scalars(query.order_by(HingeReading.happened_at, HingeReading.recorded_at))
    return [row for row in rows if row.id not in gone]


def read_of(row: HingeReading) -> Read:
    """A reading as it is judged."""
    return Read(row.grams, row.arm_m, row.mounted_g)


def hinge_of(part: Part) -> Hinge | None:
    """A control surface's hinge; None for what has none, or not all of it is said."""
    says = part.design.hinge
    if not says or missing(Hinge, says):
        return None
    return made(Hinge, says)


def added_since(uow: UnitOfWork, part: BuiltPart, since: datetime) -> list[str]:
    """The names of jobs that put weight on a part after a moment, by the steps of them that were finished since."""
    finished, after = finished_at(uow, part.id), minute_of(since)
    return [
        job.name for job in part.jobs if any(finished.get(key_in(job, one.step), after) > after for one in job.stays)
    ]


def speaks_against_balance(uow: UnitOfWork, part: BuiltPart) -> str:
    """Why a balance can't be said to be through; ``""`` where nothing speaks against it."""
    if hinge_of(uow.get(Part, part.id)) is None:
        return "its hinge line is not given yet; say under its Weight where it lies, and keep what was read"
    return " ".join(balance_care(uow, part))


def balance_care(uow: UnitOfWork, part: BuiltPart, *, verdict: bool = True) -> list[str]:
    """What is not as it should be with a control surface's balance: nothing for a part that has no hinge.

    ``verdict`` says whether what its last reading says is among it.
    """
    hinge = hinge_of(uow.get(Part, part.id))
    if hinge is None:
        return []
    kept = hinge_readings(uow, part.id)
    if not kept:
        return ["Its balance was not read on its hinge yet."] if verdict else []
    last = kept[-1]
    since = added_since(uow, part, last.happened_at)
    care = []
    if since:
        at = when(minute_of(last.happened_at), zone_here(uow))
        care.append(f"Its balance was read {at}; since then {', '.join(since)} put weight on: read it again.")
    found = judged(read_of(last), hinge, units_of(uow))
    if verdict and not found.holds:
        care.append(found.words)
    return care
