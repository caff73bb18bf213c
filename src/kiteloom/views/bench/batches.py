"""Batches as they are shown."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import show
from kiteloom.store.models import Batch, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.lots import lot_view
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.batches import all_batches_on
from kiteloom.workshop.log.mixes import on_steps, why_spoilt
from kiteloom.workshop.stores.lots import found_bad, letter_of, notes_of_batch


@dataclass(frozen=True)
class BatchView:
    """A kept batch. ``corrected`` when a later one corrects it; ``corrects`` when it is such a one.

    ``part_id`` is ``""`` where it is for no planned step; ``letter`` is what its cup was marked with.
    """

    id: str
    part_id: str
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
    rh_pct: float | None
    margin_k: float | None
    care: list[str]
    letter: str
    part: str
    data_sheet_id: str
    lot_id: str
    hardener_lot_id: str
    hardener_lot: str
    crew_member_id: str
    filler: str


def batch_views(uow: UnitOfWork, part_id: str) -> list[BatchView]:
    """Every batch of a part, newest first, corrected ones marked."""
    rows = all_batches_on(uow, part_id)
    corrected = {batch.corrects_id for batch in rows}
    return [_view(uow, batch, batch.id in corrected) for batch in reversed(rows)]


def batch_view(uow: UnitOfWork, batch_id: str) -> BatchView:
    """One batch."""
    batch = uow.get(Batch, batch_id)
    corrected = uow.session.scalar(select(Batch.id).where(Batch.corrects_id == batch_id))
    return _view(uow, batch, corrected is not None)


def _view(uow: UnitOfWork, batch: Batch, corrected: bool) -> BatchView:
    units, zone = units_of(uow), zone_here(uow)
    total = batch.resin_g + batch.hardener_g
    off = "no resin in it" if batch.deviation_pct is None else f"{batch.deviation_pct:+.1f} % hardener"
    judged = {"in": "within tolerance", "near": "near tolerance", "out": "out of tolerance"}[batch.verdict]
    at = when(minute_of(batch.happened_at), zone)
    words = f"{show(total, 'mass', units)} of {batch.product}, {at}: {off}, {judged}."
    filler = ""
    if batch.filler:
        grams = show(batch.filler["grams"], "scale", units)
        filler = f"{grams} of {batch.filler['name']} in it, like {batch.filler['consistency']}"
        words = f"{words[:-1]}; {filler}."
    return BatchView(
        batch.id,
        batch.part_id or "",
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
        batch.rh_pct,
        batch.margin_k,
        _care(uow, batch),
        letter_of(uow, batch),
        uow.get(Part, batch.part_id).name if batch.part_id else "",
        batch.data_sheet_id,
        batch.lot_id or "",
        batch.hardener_lot_id or "",
        batch.hardener_lot.lot_number if batch.hardener_lot else "",
        batch.crew_member_id or "",
        filler,
    )


def care_of_part(uow: UnitOfWork, part_id: str, now: datetime) -> list[str]:
    """What is on a part that is not as it should be: mixes that are spoilt, and lots that were found bad."""
    found = []
    for batch in dict.fromkeys(
        mix.batch for (part, _), mixes in on_steps(uow).items() if part == part_id for mix in mixes
    ):
        of = f"{batch.product}, {when(minute_of(batch.happened_at), zone_here(uow), minute_of(now))}"
        spoilt = why_spoilt(uow, batch)
        if spoilt:
            found.append(f"The mix of {of} on {batch.step_name.lower()} is {spoilt}.")
        for lot in dict.fromkeys((batch.lot, batch.hardener_lot)):
            bad = found_bad(uow, lot.id) if lot else None
            if lot is not None and bad is not None:
                found.append(f"Lot {lot.lot_number} in the mix of {of} was found bad: {bad}.")
    return found


def _care(uow: UnitOfWork, batch: Batch) -> list[str]:
    """What asks for care about a batch: what was said of it, and the state of its lots."""
    marks = [note for note in notes_of_batch(uow, batch) if note.kind in ("bad", "cleared")]
    found = [f"Marked bad: {marks[-1].note}."] if marks and marks[-1].kind == "bad" else []
    for lot in {batch.lot, batch.hardener_lot} - {None}:
        assert lot is not None
        view = lot_view(uow, lot, batch.recorded_at)
        if view.bad or view.expired or (view.left is not None and view.left < 0):
            found.append(f"{view.care[0].upper()}{view.care[1:]}.")
    return found
