"""Lots: received, opened, counted, found bad; what is left of each follows from the batches made of it."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import cast

from sqlalchemy import Text, select, type_coerce
from sqlalchemy.orm import defer

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.mix.cups import cup_letter
from kiteloom.core.stores.ledger import SCALES, count_says_why
from kiteloom.core.stores.lots import Measure, counted_in
from kiteloom.store.models import Batch, BatchNote, DataSheet, Lot, LotNote, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here

COMPONENTS = ("both", "resin", "hardener")
LOT_NOTES = ("opened", "counted", "bad", "cleared", "moved", "thrown")


def standing_batches(uow: UnitOfWork) -> list[Batch]:
    """Every batch that counts, oldest first: corrected ones are left out."""

    def read() -> list[Batch]:
        query = select(Batch).order_by(Batch.happened_at, Batch.recorded_at)
        rows = list(uow.session.scalars(query.options(defer(Batch.says))))  # long; see `sheets_of_batches`
        corrected = {batch.corrects_id for batch in rows}
        return [batch for batch in rows if batch.id not in corrected]

    return uow.once("standing batches", read)


def sheets_of_batches(uow: UnitOfWork) -> dict[str, str]:
    """What each batch's sheet said when it was mixed, by the batch's id, as JSON text: few differ."""
    query = select(Batch.id, type_coerce(Batch.says, Text).label("says"))
    return {row.id: row.says for row in uow.session.execute(query)}


def notes_of_lot(uow: UnitOfWork, lot_id: str) -> list[LotNote]:
    """What was noted of a lot, in the order of its time."""

    def read() -> dict[str, list[LotNote]]:
        found: dict[str, list[LotNote]] = defaultdict(list)
        for note in uow.all(LotNote, LotNote.happened_at):
            found[note.lot_id].append(note)
        return found

    return uow.once("lot notes", read).get(lot_id, [])


def found_bad(uow: UnitOfWork, lot_id: str) -> str | None:
    """Why a lot was found bad; None for one that was not, or was cleared since."""
    marks = [note for note in notes_of_lot(uow, lot_id) if note.kind in ("bad", "cleared")]
    return marks[-1].note if marks and marks[-1].kind == "bad" else None


def letter_of(uow: UnitOfWork, batch: Batch) -> str:
    """The letter of a cup, to be written on it: the first that is kept of a day is A, whatever it is corrected to."""

    def read() -> dict[str, str]:
        zone, count, found = zone_here(uow), defaultdict[date, int](int), {}
        query = select(Batch.id, Batch.happened_at).where(Batch.corrects_id.is_(None))
        for row in uow.session.execute(query.order_by(Batch.recorded_at, Batch.id)):
            day = row.happened_at.astimezone(zone).date()
            found[row.id] = cup_letter(count[day])
            count[day] += 1
        return found

    return uow.once("cup letters", read)[versions_of(uow, batch)[-1]]


def notes_of_batch(uow: UnitOfWork, batch: Batch) -> list[BatchNote]:
    """What became of a batch, by whichever of its versions it was noted, in the order it was written down."""

    def read() -> dict[str, list[BatchNote]]:
        found: dict[str, list[BatchNote]] = defaultdict(list)
        for note in uow.all(BatchNote, BatchNote.recorded_at):
            found[note.batch_id].append(note)
        return found

    known = uow.once("batch notes", read)
    notes = [note for key in versions_of(uow, batch) for note in known.get(key, [])]
    return sorted(notes, key=lambda note: note.recorded_at)


def versions_of(uow: UnitOfWork, batch: Batch) -> list[str]:
    """A batch's id and those it corrects: what was noted of any of them is true of the one cup they all are."""
    ids = [batch.id]
    while batch.corrects_id is not None:
        batch = uow.get(Batch, batch.corrects_id)
        ids.append(batch.id)
    return ids


def made_of(uow: UnitOfWork, lot: Lot) -> list[tuple[Batch, float]]:
    """Batches made of a lot, and grams of it in each."""
    found = []
    for batch in uow.once("batches by lot", lambda: _by_lot(uow)).get(lot.id, []):
        grams = batch.resin_g if batch.lot_id == lot.id else 0.0
        grams += (
            batch.hardener_g
            if lot.id == batch.hardener_lot_id or (batch.lot_id == lot.id and lot.component == "both")
            else 0
        )
        found.append((batch, grams))
    return found


def _by_lot(uow: UnitOfWork) -> dict[str, list[Batch]]:
    found: dict[str, list[Batch]] = defaultdict(list)
    for batch in standing_batches(uow):
        for lot in dict.fromkeys((batch.lot_id, batch.hardener_lot_id)):
            if lot is not None:
                found[lot].append(batch)
    return found


@dataclass(frozen=True)
class ReceiveLot:
    """A lot as typed."""

    id: str
    sheet_id: str
    lot_number: str
    received_on: date
    component: str = "both"
    expires_on: date | None = None
    amount: Typed | None = None
    made_on: date | None = None


def receive_lot(uow: UnitOfWork, order: ReceiveLot, now: datetime) -> None:
    """Put a lot on the shelf; the same id again adds nothing."""
    sheet = uow.get(DataSheet, order.sheet_id)
    same = {"data_sheet_id": sheet.id, "lot_number": order.lot_number.strip()[:60], "component": order.component}
    if uow.kept_already(Lot, order.id, **same) is not None:
        return
    number = order.lot_number.strip()
    if not number:
        raise Refused("lot_number", "the lot has no number; it stands on the label, often beside the date")
    if order.component not in COMPONENTS:
        raise Refused("component", f"“{order.component[:40]}” is not a component; a lot is of {', '.join(COMPONENTS)}")
    twin = select(Lot).where(Lot.data_sheet_id == sheet.id, Lot.lot_number == number, Lot.component == order.component)
    if uow.session.scalar(twin) is not None:
        raise Refused("lot_number", f"lot {number} of {sheet.name} is on the shelf already; count that one instead")
    today = now.astimezone(zone_here(uow)).date()
    if order.received_on > today:
        raise Refused("received_on", f"{order.received_on} lies in the future; it can't be later than {today}")
    if order.expires_on is not None and order.expires_on < order.received_on:
        raise Refused("expires_on", f"it expires on {order.expires_on}, before it came on {order.received_on}")
    if order.made_on is not None and order.made_on > order.received_on:
        raise Refused("made_on", f"it was made on {order.made_on}, after it came on {order.received_on}")
    measure = counted_in(sheet.says, sheet.kind)
    received = None
    if order.amount is not None and order.amount.text.strip():
        received = _amount(order.amount, measure, "the lot", open_low=True)
    lot = Lot(
        id=order.id,
        data_sheet_id=sheet.id,
        lot_number=number[:60],
        component=order.component,
        received_on=order.received_on,
        made_on=order.made_on,
        expires_on=order.expires_on,
        received=received,
        measure=measure,
    )
    uow.add(lot)
    uow.changed("lot", lot.id)


#: How each is typed: its dimension, its unit in words, and the most a lot is of.
MEASURES: dict[Measure, tuple[str, str, float]] = {
    "mass": ("mass", "g", 1e7),
    "run": ("length", "m", 10_000),
    "count": ("number", "", 100_000),
}


def _amount(typed: Typed, measure: Measure, name: str, *, open_low: bool = False) -> float:
    """So much as it was typed, in what its lot is counted in; `Refused` where it can't be."""
    dimension, unit, most = MEASURES[measure]
    return between("amount", typed.read(dimension, "amount"), 0, most, unit=unit, open_low=open_low, name=name)


@dataclass(frozen=True)
class NoteLot:
    """What happened to a lot. The client makes the id."""

    id: str
    kind: str
    amount: Typed | None = None
    note: str = ""
    crew_member_id: str | None = None
    zone_id: str = ""


def note_lot(uow: UnitOfWork, lot_id: str, order: NoteLot, has: float | None, now: datetime) -> None:
    """Note that a lot was opened, counted, thrown away, moved to another zone, found bad, or cleared again.

    Parameters
    ----------
    has : float or None
        What is left of it by the book: nothing more appears by a count without a name and a reason.
    """
    lot, kind, amount, note = uow.get(Lot, lot_id), order.kind, order.amount, order.note
    if uow.kept_already(LotNote, order.id, lot_id=lot.id, kind=kind) is None:
        left = None
        if kind not in LOT_NOTES:
            raise Refused("kind", f"“{kind[:40]}” is not a note on a lot; they are {', '.join(LOT_NOTES)}")
        if kind in ("counted", "thrown"):
            if amount is None:
                what = "is left" if kind == "counted" else "was thrown away"
                raise Refused("amount", f"nothing was typed; say how much {what}, like 1.2 kg")
            left = _amount(amount, cast(Measure, lot.measure), "what is left" if kind == "counted" else "what is gone")
        if kind == "counted" and left is not None and has is not None:
            count_says_why(left, has, order.crew_member_id, note, SCALES if lot.measure == "mass" else 0.0)
        if kind == "moved":
            note = uow.get(Zone, order.zone_id).id
        if kind in ("bad", "cleared") and not note.strip():
            raise Refused("note", "the note is empty; say in a few words why")
        uow.add(
            LotNote(
                id=order.id,
                lot_id=lot.id,
                kind=kind,
                amount=left,
                note=note.strip()[:500],
                crew_member_id=order.crew_member_id,
                happened_at=now,
                recorded_at=now,
            )
        )
        uow.changed("lot", lot.id)


def mixed_lately(uow: UnitOfWork, now: datetime) -> dict[str, Batch]:
    """The last batch of each product that was mixed in the last day, by its sheet."""
    lately = uow.once(
        "mixed lately",
        lambda: [b for b in standing_batches(uow) if timedelta() <= now - b.happened_at < timedelta(days=1)],
    )
    return {batch.data_sheet_id: batch for batch in lately}


def sheets_at_hand(uow: UnitOfWork, now: datetime) -> list[DataSheet]:
    """The sheets of what was mixed in the last day: on the bench, whatever the shelf says."""
    return [uow.get(DataSheet, key) for key in mixed_lately(uow, now)]
