"""Lots: received, opened, counted, found bad; what is left of each follows from the batches made of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import select

from kiteloom.core.calendar import minute_of, when, zone_of
from kiteloom.core.lots import SOON_DAYS, ShelfLife, good_until, remaining
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.sheets import said
from kiteloom.store.models import Batch, BatchNote, DataSheet, Lot, LotNote, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.shop import the_shop, units_of

PARTS = ("both", "resin", "hardener")


@dataclass(frozen=True)
class LotView:
    """A lot: how much is left by the book, until when it is good, and what asks for care."""

    id: str
    lot_number: str
    part: str
    received_on: date
    opened_on: date | None
    good_until: date | None
    left_g: float | None
    bad: bool
    expired: bool
    empty: bool
    care: str
    words: str


@dataclass(frozen=True)
class Touched:
    """A surface that a lot or a batch went on, by which batch."""

    surface_id: str
    surface: str
    step: str
    batch_id: str
    words: str


@dataclass(frozen=True)
class LotTrail:
    """A lot, and everything made of it."""

    lot: LotView
    product: str
    touched: list[Touched]
    sentence: str


def lots_of(uow: UnitOfWork, sheet: DataSheet, now: datetime) -> list[LotView]:
    """The lots of a product, the one to use first leading."""
    rows = uow.session.scalars(select(Lot).where(Lot.data_sheet_id == sheet.id))
    views = [lot_view(uow, lot, sheet, now) for lot in rows]
    return sorted(views, key=lambda lot: (lot.bad or lot.empty, lot.good_until or date.max, lot.lot_number))


def standing_batches(uow: UnitOfWork) -> list[Batch]:
    """Every batch that counts, oldest first: corrected ones are left out."""
    rows = list(uow.session.scalars(select(Batch).order_by(Batch.happened_at, Batch.recorded_at)))
    corrected = {batch.corrects_id for batch in rows}
    return [batch for batch in rows if batch.id not in corrected]


def versions_of(uow: UnitOfWork, batch: Batch) -> list[str]:
    """A batch's id and those it corrects: what was noted of any of them is true of the one cup they all are."""
    ids = [batch.id]
    while batch.corrects_id is not None:
        batch = uow.get(Batch, batch.corrects_id)
        ids.append(batch.id)
    return ids


def lot_view(uow: UnitOfWork, lot: Lot, sheet: DataSheet, now: datetime) -> LotView:
    """One lot."""
    notes = list(uow.session.scalars(select(LotNote).where(LotNote.lot_id == lot.id).order_by(LotNote.happened_at)))
    opened_at = next((note.happened_at for note in notes if note.kind == "opened"), None)
    used = made_of(uow, lot)
    zone = zone_of(the_shop(uow).zone)
    if opened_at is None and used:
        opened_at = used[0][0].happened_at
    opened = opened_at.astimezone(zone).date() if opened_at else None
    life = ShelfLife(said(sheet.says, "keep.sealed_days"), said(sheet.says, "keep.opened_days"))
    until = good_until(lot.expires_on, lot.received_on, opened, life)
    counts = [
        (minute_of(note.happened_at), note.grams) for note in notes if note.kind == "counted" and note.grams is not None
    ]
    left = remaining(
        lot.received_g, counts[-1] if counts else None, [(minute_of(b.happened_at), grams) for b, grams in used]
    )
    marks = [note for note in notes if note.kind in ("bad", "cleared")]
    bad = bool(marks) and marks[-1].kind == "bad"
    today = now.astimezone(zone).date()
    expired, empty = until is not None and until <= today, left is not None and left <= 0
    care = _care(lot, bad, expired, until, left, today, uow)
    words = f"lot {lot.lot_number}"
    if lot.part != "both":
        words += f" ({lot.part})"
    if left is not None:
        words += f", {show(max(left, 0), 'mass', units_of(uow))} left"
    return LotView(
        lot.id, lot.lot_number, lot.part, lot.received_on, opened, until, left, bad, expired, empty, care, words
    )


def _care(
    lot: Lot, bad: bool, expired: bool, until: date | None, left: float | None, today: date, uow: UnitOfWork
) -> str:
    name = f"lot {lot.lot_number}"
    if bad:
        return f"{name} was found bad"
    if left is not None and left < 0:
        return f"{name}: {show(-left, 'mass', units_of(uow))} more used than came; count it"
    if until is not None and expired:
        return f"{name} expired on {until:%d %b %Y}"
    if until is not None and (until - today).days <= SOON_DAYS:
        days = (until - today).days
        return f"{name} is good for {days} {'day' if days == 1 else 'days'} more"
    return ""


def made_of(uow: UnitOfWork, lot: Lot) -> list[tuple[Batch, float]]:
    """Batches made of a lot, and grams of it in each."""
    found = []
    for batch in standing_batches(uow):
        if lot.id not in (batch.lot_id, batch.hardener_lot_id):
            continue
        grams = batch.resin_g if batch.lot_id == lot.id else 0.0
        grams += (
            batch.hardener_g
            if lot.id == batch.hardener_lot_id or (batch.lot_id == lot.id and lot.part == "both")
            else 0
        )
        found.append((batch, grams))
    return found


@dataclass(frozen=True)
class ReceiveLot:
    """A lot as typed."""

    id: str
    sheet_id: str
    lot_number: str
    part: str
    received_on: date
    expires_on: date | None
    amount: Typed | None


def receive_lot(uow: UnitOfWork, order: ReceiveLot, now: datetime) -> None:
    """Put a lot on the shelf; the same id again adds nothing."""
    sheet = uow.get(DataSheet, order.sheet_id)
    known = uow.session.get(Lot, order.id)
    if known is not None:
        return
    number = order.lot_number.strip()
    if not number:
        raise Refused("lot_number", "the lot has no number; it stands on the label, often beside the date")
    if order.part not in PARTS:
        raise Refused("part", f"“{order.part[:40]}” is not a part; a lot is of {', '.join(PARTS)}")
    same = select(Lot).where(Lot.data_sheet_id == sheet.id, Lot.lot_number == number, Lot.part == order.part)
    if uow.session.scalar(same) is not None:
        raise Refused("lot_number", f"lot {number} of {sheet.name} is on the shelf already; count that one instead")
    today = now.astimezone(zone_of(the_shop(uow).zone)).date()
    if order.received_on > today:
        raise Refused("received_on", f"{order.received_on} lies in the future; it can't be later than {today}")
    if order.expires_on is not None and order.expires_on < order.received_on:
        raise Refused("expires_on", f"it expires on {order.expires_on}, before it came on {order.received_on}")
    grams = None
    if order.amount is not None and order.amount.text.strip():
        grams = between("amount", order.amount.read("mass", "amount"), 0, 1e7, unit="g", open_low=True, name="the lot")
    lot = Lot(
        id=order.id,
        data_sheet_id=sheet.id,
        lot_number=number[:60],
        part=order.part,
        received_on=order.received_on,
        expires_on=order.expires_on,
        received_g=grams,
    )
    uow.add(lot)
    uow.changed("lot", lot.id)


def note_lot(
    uow: UnitOfWork, lot_id: str, key: str, kind: str, amount: Typed | None, note: str, now: datetime
) -> None:
    """Note that a lot was opened, counted, found bad, or cleared again."""
    lot = uow.get(Lot, lot_id)
    if uow.session.get(LotNote, key) is None:
        grams = None
        if kind not in ("opened", "bad", "cleared", "counted"):
            raise Refused("kind", f"“{kind[:40]}” is not a note on a lot; they are opened, counted, bad, cleared")
        if kind == "counted":
            if amount is None:
                raise Refused("amount", "nothing was typed; say how much is left, like 1.2 kg")
            grams = between("amount", amount.read("mass", "amount"), 0, 1e7, unit="g", name="what is left")
        if kind in ("bad", "cleared") and not note.strip():
            raise Refused("note", "the note is empty; say in a few words why")
        uow.add(
            LotNote(
                id=key, lot_id=lot.id, kind=kind, grams=grams, note=note.strip()[:500], happened_at=now, recorded_at=now
            )
        )
        uow.changed("lot", lot.id)


def lot_of(uow: UnitOfWork, lot_id: str, now: datetime) -> LotView:
    """One lot as it stands."""
    lot = uow.get(Lot, lot_id)
    return lot_view(uow, lot, uow.get(DataSheet, lot.data_sheet_id), now)


def lot_trail(uow: UnitOfWork, lot_id: str, now: datetime) -> LotTrail:
    """Every surface a lot is on."""
    lot = uow.get(Lot, lot_id)
    sheet = uow.get(DataSheet, lot.data_sheet_id)
    touched = [place for batch, _ in made_of(uow, lot) for place in touched_by(uow, batch)]
    names = list(dict.fromkeys(place.surface for place in touched))
    view = lot_view(uow, lot, sheet, now)
    if not names:
        sentence = f"Nothing was made of lot {lot.lot_number} yet."
    elif view.bad:
        sentence = f"Look at these: lot {lot.lot_number} is on {', '.join(names)}."
    else:
        sentence = f"Lot {lot.lot_number} is on {', '.join(names)}."
    return LotTrail(view, sheet.name, touched, sentence)


def touched_by(uow: UnitOfWork, batch: Batch) -> list[Touched]:
    """The surfaces a batch went on: the one it was mixed for, and others it was used up on."""
    zone, units = zone_of(the_shop(uow).zone), units_of(uow)
    at = when(minute_of(batch.happened_at), zone)
    rows = [(batch.surface_id, batch.step_name)]
    query = select(BatchNote).where(BatchNote.batch_id.in_(versions_of(uow, batch)), BatchNote.kind == "on")
    rows += [(note.surface_id, note.step_key) for note in uow.session.scalars(query) if note.surface_id]
    total = show(batch.resin_g + batch.hardener_g, "mass", units)
    return [
        Touched(surface, uow.get(Surface, surface).name, step, batch.id, f"{total} of {batch.product}, {at}")
        for surface, step in rows
    ]


def mixed_lately(uow: UnitOfWork, now: datetime) -> dict[str, Batch]:
    """The last batch of each product that was mixed in the last day, by its sheet."""
    return {
        batch.data_sheet_id: batch
        for batch in standing_batches(uow)
        if timedelta() <= now - batch.happened_at < timedelta(days=1)
    }


def sheets_at_hand(uow: UnitOfWork, now: datetime) -> list[DataSheet]:
    """The sheets of what was mixed in the last day: on the bench, whatever the shelf says."""
    return [uow.get(DataSheet, key) for key in mixed_lately(uow, now)]
