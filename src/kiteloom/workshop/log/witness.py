"""Readings on the witnesses of mixes, and what they release."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import cast

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.problems import Refused, between, plain
from kiteloom.core.base.quantities import parse
from kiteloom.core.build.step import Step
from kiteloom.core.cure.progress import cure_times
from kiteloom.core.cure.witness import How, MixOn, Release, WitnessReading, release
from kiteloom.core.log.mixes import Place
from kiteloom.core.stores.sheets import cure_from, said
from kiteloom.store.models import Batch, CrewMember, Part, Witness
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import BAND_C, shop_temperature
from kiteloom.workshop.air.parts import part_airs
from kiteloom.workshop.base.shop import in_shop_zone, zone_here
from kiteloom.workshop.base.taken_back import taken_back
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.mixes import OnStep, on_steps, why_spoilt
from kiteloom.workshop.log.signing import signed
from kiteloom.workshop.stores.lots import standing_batches, versions_of

HOWS = ("thumbnail", "hardness", "tap", "decision")


@dataclass(frozen=True)
class ReadWitness:
    """A reading as taken. The client makes the id, so a retry adds nothing.

    ``early`` when whoever read it says that it is hard although its time has not come.
    """

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
    early: bool = False


def releases(uow: UnitOfWork) -> dict[str, Release]:
    """Whether each step that was mixed for is released, by its key among those of all parts."""
    readings: dict[Place, list[WitnessReading]] = defaultdict(list)
    counts = batches_that_count(uow)
    for row in standing_readings(uow):
        readings[row.part_id, row.step_key].append(as_reading(row, counts))
    return {
        f"{place[0]}:{place[1]}": release([as_mix(mix) for mix in mixes], readings.get(place, []))
        for place, mixes in on_steps(uow).items()
    }


def as_mix(mix: OnStep) -> MixOn:
    """What is on a step as the core takes it."""
    return MixOn(mix.batch.id, mix.at, mix.spoilt)


def standing_readings(uow: UnitOfWork) -> list[Witness]:
    """The readings that count, in the order of their time: those corrected or taken back are left out."""

    def read() -> list[Witness]:
        rows = uow.all(Witness, Witness.happened_at, Witness.recorded_at)
        corrected = {row.corrects_id for row in rows}
        return [row for row in rows if row.id not in corrected | taken_back(uow)]

    return uow.once("standing readings", read)


def batches_that_count(uow: UnitOfWork) -> dict[str, str]:
    """The batch that counts, by the id of each that it corrects: the witness is the same."""
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
    known = uow.kept_already(Witness, order.id, part_id=order.part_id, step_key=order.step_key, kind=order.how)
    if known is None:
        _keep(uow, uow.get(Part, order.part_id), order, now)
    return (order.part_id, order.step_key) if known is None else (known.part_id, known.step_key)


def _keep(uow: UnitOfWork, part: Part, order: ReadWitness, now: datetime) -> None:
    if order.how not in HOWS:
        raise Refused("how", f"“{order.how[:40]}” is not a way to read a witness; they are {', '.join(HOWS)}")
    mine = on_steps(uow).get((part.id, order.step_key), [])
    if not mine:
        raise Refused("step_key", f"no mix is on this step of {part.name}; there is no witness to read")
    happened = in_shop_zone(uow, order.happened_at) or now
    if happened > now:
        raise Refused("happened_at", "the reading lies in the future; it can't be later than now")
    batch = uow.get(Batch, order.batch_id) if order.batch_id else None
    if batch is not None and batch.id not in {mix.batch.id for mix in mine}:
        raise Refused("batch_id", "this batch is not on this step, or was corrected; read the one that counts")
    if order.how == "decision":
        signed(uow, order.crew_member_id, order.note)
    elif batch is None and len(mine) > 1:
        raise Refused("batch_id", f"{len(mine)} batches are on this step; say which one’s witness was read")
    first = batch or mine[0].batch
    if happened < first.happened_at:
        raise Refused("happened_at", "the reading is from before the batch was mixed")
    passes, value = order.passes, None
    if order.how == "hardness":
        value, passes = _hardness(first, order)
    if passes and order.how in ("thumbnail", "hardness"):
        spoilt = why_spoilt(uow, first)
        if spoilt:
            raise Refused(
                "how",
                f"this mix is {spoilt}; it can be hard and still be weak, and no reading releases it. "
                "Somebody must decide, and sign why",
            )
        if not order.early:
            _not_too_early(uow, part, order, first, happened, now)
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
            passes=passes,
            crew_member_id=who.id if who else None,
            note=order.note.strip()[:500],
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("witness", order.id)


def _hardness(batch: Batch, order: ReadWitness) -> tuple[float, bool]:
    """What the tester showed, and whether that is as hard as the sheet of the mix asks."""
    if not order.value.strip():
        raise Refused("value", "no hardness was typed; write down what the tester shows, like 75")
    value = between("value", parse(order.value, "number", "", "value"), 0, 100, name="the hardness")
    least = said(batch.says, "hardness.least")
    if least is None:
        if order.passes:
            raise Refused(
                "value",
                f"the sheet of {batch.product} does not say how hard it must get, so {plain(value)} releases nothing; "
                "write its hardness on the sheet before the next mix, press the thumbnail, or decide and sign",
            )
        return value, False
    return value, value >= least


def _not_too_early(
    uow: UnitOfWork, part: Part, order: ReadWitness, batch: Batch, happened: datetime, now: datetime
) -> None:
    """Refuse what is found hard before the early end of the band of the stage its step waits for."""
    stage = next((s.wait_stage for s in built_part(uow, part.id).steps if s.key == order.step_key), None)
    cure, mixed = cure_from(batch.says), minute_of(batch.happened_at)
    main = shop_temperature(uow, mixed, minute_of(now))
    if stage is None or cure is None or not cure.has(stage) or main is None:
        return
    air = part_airs(uow, mixed, minute_of(now), main).get(part.id, main)
    times = {found.name: found for found in cure_times(cure, mixed, air.profile, BAND_C, air.humid).stages}
    early = times[stage].early
    if early is not None and minute_of(happened) >= mixed + early - 1:
        return
    zone = zone_here(uow)
    then = "within 60 days" if early is None else f"before {when(mixed + early, zone, mixed)}"
    raise Refused(
        "early",
        f"by its sheet and this air “{stage}” is not reached {then}. A leftover that got hot is hard long before "
        "the part: was it the thin witness, as cold as the part? If so, say that it is hard already",
    )
