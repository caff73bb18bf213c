"""Readings on kept cups and test panels, and what they release."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import cast

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import parse
from kiteloom.core.build.step import Step
from kiteloom.core.cure.witness import How, Release, WitnessReading, release
from kiteloom.store.models import Batch, CrewMember, Part, Witness
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import in_shop_zone
from kiteloom.workshop.stores.lots import standing_batches, versions_of

HOWS = ("thumbnail", "hardness", "tap", "decision")


@dataclass(frozen=True)
class ReadWitness:
    """A reading as taken. The client makes the id, so a retry adds nothing."""

    id: str
    part_id: str
    step_key: str
    how: str
    passes: bool
    batch_id: str | None = None
    value: str = ""
    crew_member_id: str | None = None
    note: str = ""
    happened_at: datetime | None = None
    corrects_id: str | None = None


def releases(uow: UnitOfWork) -> dict[str, Release]:
    """Whether each step that was mixed for is released, by its key among those of all parts."""
    batches: dict[str, list[tuple[str, float]]] = defaultdict(list)
    for batch in standing_batches(uow):
        batches[f"{batch.part_id}:{batch.step_key}"].append((batch.id, minute_of(batch.happened_at)))
    readings: dict[str, list[WitnessReading]] = defaultdict(list)
    counts = batches_that_count(uow)
    for row in standing_readings(uow):
        readings[f"{row.part_id}:{row.step_key}"].append(as_reading(row, counts))
    return {key: release(cups, readings.get(key, [])) for key, cups in batches.items()}


def standing_readings(uow: UnitOfWork) -> list[Witness]:
    """The readings that count, in the order of their time: those corrected are left out."""

    def read() -> list[Witness]:
        rows = uow.all(Witness, Witness.happened_at, Witness.recorded_at)
        corrected = {row.corrects_id for row in rows}
        return [row for row in rows if row.id not in corrected]

    return uow.once("standing readings", read)


def batches_that_count(uow: UnitOfWork) -> dict[str, str]:
    """The batch that counts, by the id of each that it corrects: the kept cup is the same."""
    return {old: batch.id for batch in standing_batches(uow) for old in versions_of(uow, batch)}


def as_reading(row: Witness, counts: Mapping[str, str]) -> WitnessReading:
    """A kept reading as the core takes it, of the batch that counts."""
    batch = counts.get(row.batch_id or "", row.batch_id or "")
    return WitnessReading(minute_of(row.happened_at), cast(How, row.kind), row.passes, batch)


def unreleased_before(step: Step, found: Mapping[str, Release]) -> list[str]:
    """The steps before one that cure, were mixed for, and are not released; ``step`` is among those of all parts."""
    return [
        link.step for link in step.after if link.until != "end" and link.step in found and not found[link.step].released
    ]


def read_witness(uow: UnitOfWork, order: ReadWitness, now: datetime) -> tuple[str, str]:
    """Keep a reading; the same id again adds nothing. Says of which part and step it is."""
    known = uow.session.get(Witness, order.id)
    if known is None:
        _keep(uow, uow.get(Part, order.part_id), order, now)
    return (order.part_id, order.step_key) if known is None else (known.part_id, known.step_key)


def _keep(uow: UnitOfWork, part: Part, order: ReadWitness, now: datetime) -> None:
    if order.how not in HOWS:
        raise Refused("how", f"“{order.how[:40]}” is not a way to read a witness; they are {', '.join(HOWS)}")
    mine = [b for b in standing_batches(uow) if (b.part_id, b.step_key) == (part.id, order.step_key)]
    if not mine:
        raise Refused("step_key", f"nothing was mixed for this step of {part.name}; there is no witness to read")
    happened = in_shop_zone(uow, order.happened_at) or now
    if happened > now:
        raise Refused("happened_at", "the reading lies in the future; it can't be later than now")
    batch = uow.get(Batch, order.batch_id) if order.batch_id else None
    if batch is not None and batch.id not in {b.id for b in mine}:
        raise Refused("batch_id", "this batch was not mixed for this step, or was corrected; read the one that counts")
    if order.how == "decision":
        if order.crew_member_id is None:
            raise Refused("crew_member_id", "a decision is signed; say who decides")
        if not order.note.strip():
            raise Refused("note", "the note is empty; say what the decision rests on")
    elif batch is None and len(mine) > 1:
        raise Refused("batch_id", f"{len(mine)} batches are on this step; say which one’s witness was read")
    value = None
    if order.how == "hardness":
        if not order.value.strip():
            raise Refused("value", "no hardness was typed; write down what the tester shows, like 75")
        value = between("value", parse(order.value, "number", "", "value"), 0, 100, name="the hardness")
    first = batch or mine[0]
    if happened < first.happened_at:
        raise Refused("happened_at", "the reading is from before the batch was mixed")
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    if order.corrects_id is not None:
        uow.get(Witness, order.corrects_id)
        later = uow.session.scalar(select(Witness.id).where(Witness.corrects_id == order.corrects_id))
        if later is not None:
            raise Refused("corrects_id", "this reading was corrected already; correct that one")
    batch_id = None if order.how == "decision" else first.id
    uow.add(
        Witness(
            id=order.id,
            corrects_id=order.corrects_id,
            part_id=part.id,
            step_key=order.step_key,
            batch_id=batch_id,
            kind=order.how,
            value=value,
            passes=order.passes,
            crew_member_id=who.id if who else None,
            note=order.note.strip()[:500],
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("witness", order.id)
