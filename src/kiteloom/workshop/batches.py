"""Cups kept as batches on their surface, and their corrections: never changed, only added to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.calendar import minute_of, when, zone_of
from kiteloom.core.mixing import judge
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.reading import resin_sheet
from kiteloom.store.models import Batch, CrewMember, DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import temperature_now
from kiteloom.workshop.parts import part as part_of
from kiteloom.workshop.shop import the_shop, units_of
from kiteloom.workshop.skins import resin_of


@dataclass(frozen=True)
class BatchView:
    """A kept batch. ``corrected`` when a later one corrects it; ``corrects`` when it is such a one."""

    id: str
    surface_id: str
    step_key: str
    step_name: str
    product: str
    resin_g: float
    hardener_g: float
    total_g: float
    deviation_pct: float | None
    verdict: Literal["in", "near", "out"]
    happened_at: datetime
    temp_c: float | None
    lot: str
    who: str
    note: str
    words: str
    corrects: str | None
    corrected: bool


@dataclass(frozen=True)
class PourBatch:
    """An order to keep a poured cup. ``lids`` is what was read off both lids."""

    id: str
    surface_id: str
    step_key: str
    sheet_id: str
    lids: tuple[str, str]
    wanted_g: float
    resin: Typed
    hardener: Typed
    lot_id: str | None = None
    crew_member_id: str | None = None
    happened_at: datetime | None = None
    note: str = ""


def keep_batch(uow: UnitOfWork, order: PourBatch, now: datetime) -> BatchView:
    """Keep a poured cup on its surface; the same id again adds nothing."""
    if uow.session.get(Batch, order.id) is not None:
        return batch_view(uow, order.id)
    sheet = uow.get(DataSheet, order.sheet_id)
    resin = resin_of(sheet)
    for part, lid, read in zip(("resin", "hardener"), (resin.resin_lid, resin.hardener_lid), order.lids, strict=True):
        if read.strip().lower() != lid.lower():
            said = f"“{read}”" if read.strip() else "nothing"
            raise Refused("lids", f"the {part}'s lid was read as {said}; for {sheet.name} it must say “{lid}”")
    names = {step.key: step.name for step in part_of(uow, order.surface_id).steps}
    if order.step_key not in names:
        raise Refused("step_key", f"“{order.step_key}” is not a step of this surface; it has {', '.join(names)}")
    happened = order.happened_at or now
    if happened > now:
        raise Refused("happened_at", "the batch lies in the future; it can't be later than now")
    between("happened_at", (now - happened).days, high=366, unit="days", name="the batch's age")
    resin_g, hardener_g = order.resin.read("mass", "resin"), order.hardener.read("mass", "hardener")
    verdict = judge(resin.mix, resin_g, hardener_g)
    lot = uow.get(Lot, order.lot_id) if order.lot_id else None
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    uow.add(
        Batch(
            id=order.id,
            surface_id=order.surface_id,
            step_key=order.step_key,
            step_name=names[order.step_key],
            data_sheet_id=sheet.id,
            product=sheet.name,
            says=sheet.says,
            lot_id=lot.id if lot else None,
            crew_member_id=who.id if who else None,
            wanted_g=between("wanted_g", order.wanted_g, 0, 1e6, unit="g"),
            resin_g=resin_g,
            hardener_g=hardener_g,
            deviation_pct=verdict.deviation_pct,
            verdict=verdict.verdict,
            temp_c=temperature_now(uow, happened),
            note=order.note.strip(),
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("batch", order.id)
    return batch_view(uow, order.id)


def correct_batch(
    uow: UnitOfWork, batch_id: str, key: str, resin: Typed, hardener: Typed, note: str, now: datetime
) -> BatchView:
    """Add the correction of a batch whose weights were written down wrong; the old row stays."""
    if uow.session.get(Batch, key) is not None:
        return batch_view(uow, key)
    old = uow.get(Batch, batch_id)
    later = uow.session.scalar(select(Batch).where(Batch.corrects_id == batch_id))
    if later is not None:
        raise Refused(
            "id",
            f"this batch was corrected already, to {later.resin_g:g} g and {later.hardener_g:g} g; correct that one",
        )
    if not note.strip():
        raise Refused("note", "the note is empty; say in a few words what was wrong")
    resin_g, hardener_g = resin.read("mass", "resin"), hardener.read("mass", "hardener")
    verdict = judge(resin_sheet(old.product, old.says).mix, resin_g, hardener_g)
    kept = {c.key: getattr(old, c.key) for c in Batch.__table__.columns}
    kept |= {
        "id": key,
        "corrects_id": old.id,
        "resin_g": resin_g,
        "hardener_g": hardener_g,
        "deviation_pct": verdict.deviation_pct,
        "verdict": verdict.verdict,
        "note": note.strip(),
        "recorded_at": now,
    }
    uow.add(Batch(**kept))
    uow.changed("batch", key)
    return batch_view(uow, key)


def _batches(uow: UnitOfWork, surface_id: str) -> list[Batch]:
    query = select(Batch).where(Batch.surface_id == surface_id).order_by(Batch.happened_at, Batch.recorded_at)
    return list(uow.session.scalars(query))


def batches_on(uow: UnitOfWork, surface_id: str) -> list[Batch]:
    """The batches that count on a surface: corrected ones are left out."""
    rows = _batches(uow, surface_id)
    corrected = {batch.corrects_id for batch in rows}
    return [batch for batch in rows if batch.id not in corrected]


def batch_views(uow: UnitOfWork, surface_id: str) -> list[BatchView]:
    """Every batch of a surface, newest first, corrected ones marked."""
    rows = _batches(uow, surface_id)
    corrected = {batch.corrects_id for batch in rows}
    return [_view(uow, batch, batch.id in corrected) for batch in reversed(rows)]


def batch_view(uow: UnitOfWork, batch_id: str) -> BatchView:
    """One batch."""
    batch = uow.get(Batch, batch_id)
    corrected = uow.session.scalar(select(Batch.id).where(Batch.corrects_id == batch_id))
    return _view(uow, batch, corrected is not None)


def _view(uow: UnitOfWork, batch: Batch, corrected: bool) -> BatchView:
    units, zone = units_of(uow), zone_of(the_shop(uow).zone)
    total = batch.resin_g + batch.hardener_g
    off = "no resin in it" if batch.deviation_pct is None else f"{batch.deviation_pct:+.1f} % hardener"
    judged = {"in": "within tolerance", "near": "near tolerance", "out": "out of tolerance"}[batch.verdict]
    at = when(minute_of(batch.happened_at), zone)
    words = f"{show(total, 'mass', units)} of {batch.product}, {at}: {off}, {judged}."
    return BatchView(
        batch.id,
        batch.surface_id,
        batch.step_key,
        batch.step_name,
        batch.product,
        batch.resin_g,
        batch.hardener_g,
        total,
        batch.deviation_pct,
        batch.verdict,  # type: ignore[arg-type]
        batch.happened_at,
        batch.temp_c,
        batch.lot.lot_number if batch.lot else "",
        batch.crew_member.name if batch.crew_member else "",
        batch.note,
        words,
        batch.corrects_id,
        corrected,
    )
