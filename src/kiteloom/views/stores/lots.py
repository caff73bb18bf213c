"""Lots as they are shown: what is left of each, and every part it is on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import cast

from sqlalchemy import select

from kiteloom.core.base.calendar import day_words, minute_of, when
from kiteloom.core.base.quantities import show
from kiteloom.core.stores.lots import SOON_DAYS, Measure
from kiteloom.store.models import Batch, BatchNote, CrewMember, DataSheet, Lot, Part, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.keeping import stands_at
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.used_up import lot_ledger, lots_here, not_good_from, opened_on
from kiteloom.workshop.stores.lots import found_bad, made_of, versions_of


@dataclass(frozen=True)
class LotView:
    """A lot: how much is left by the book, until when it is good, and what asks for care."""

    id: str
    lot_number: str
    component: str
    received_on: date
    opened_on: date | None
    good_until: date | None
    left: float | None
    measure: Measure
    """What ``left`` is in: mass [g], run [m] or count."""
    bad: bool
    expired: bool
    empty: bool
    care: str
    words: str
    zone_id: str
    zone: str
    """Where it stands."""


@dataclass(frozen=True)
class Touched:
    """A part that a lot or a batch went on, by which batch."""

    part_id: str
    part: str
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
    ledger: list[str]
    """What came, was used, thrown away and counted differently, and what is left: a sum that holds."""
    zones: list[Choice]
    people: list[Choice]


def lots_of(uow: UnitOfWork, sheet: DataSheet, now: datetime) -> list[LotView]:
    """The lots of a product, the one to use first leading."""
    views = [lot_view(uow, lot, now) for lot in lots_here(uow) if lot.data_sheet_id == sheet.id]
    return sorted(views, key=lambda lot: (lot.bad or lot.empty, lot.good_until or date.max, lot.lot_number))


def lot_view(uow: UnitOfWork, lot: Lot, now: datetime) -> LotView:
    """One lot."""
    opened, until = opened_on(uow, lot), not_good_from(uow, lot)
    left, measure = lot_ledger(uow, lot).left, cast(Measure, lot.measure)
    why_bad = found_bad(uow, lot.id)
    bad = why_bad is not None
    today = now.astimezone(zone_here(uow)).date()
    expired, empty = until is not None and until <= today, left is not None and left <= 0
    care = _care(lot, why_bad, expired, until, left, today, uow)
    stands = stands_at(uow, lot)
    words = f"lot {lot.lot_number}"
    if lot.component != "both":
        words += f" ({lot.component})"
    if left is not None:
        words += f", {show(max(left, 0), measure, units_of(uow))} left"
    return LotView(
        lot.id, lot.lot_number, lot.component, lot.received_on, opened, until, left, measure, bad, expired, empty, care,
        words,
        stands.zone_id,
        stands.name,
    )  # fmt: skip


def _care(
    lot: Lot, bad: str | None, expired: bool, until: date | None, left: float | None, today: date, uow: UnitOfWork
) -> str:
    name = f"lot {lot.lot_number}"
    if bad is not None:
        return f"{name} was found bad: {bad}"
    if left is not None and left < 0:
        return f"{name}: {show(-left, lot.measure, units_of(uow))} more used than came; count it"
    if until is not None and expired:
        return f"{name} expired on {day_words(until, zone_here(uow), year=True)}"
    if until is not None and (until - today).days <= SOON_DAYS:
        days = (until - today).days
        return f"{name} is good for {days} {'day' if days == 1 else 'days'} more"
    return ""


def lot_of(uow: UnitOfWork, lot_id: str, now: datetime) -> LotView:
    """One lot as it stands."""
    lot = uow.get(Lot, lot_id)
    return lot_view(uow, lot, now)


def lot_trail(uow: UnitOfWork, lot_id: str, now: datetime) -> LotTrail:
    """Every part a lot is on."""
    lot = uow.get(Lot, lot_id)
    sheet = uow.get(DataSheet, lot.data_sheet_id)
    touched = [place for batch, _ in made_of(uow, lot) for place in touched_by(uow, batch)]
    names = list(dict.fromkeys(place.part for place in touched))
    view = lot_view(uow, lot, now)
    if not names:
        sentence = f"Nothing was made of lot {lot.lot_number} yet."
    elif view.bad:
        sentence = f"Look at these: lot {lot.lot_number} is on {', '.join(names)}."
    else:
        sentence = f"Lot {lot.lot_number} is on {', '.join(names)}."
    zones = [Choice(zone.id, zone.name) for zone in uow.all(Zone, Zone.rank)]
    people = [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
    return LotTrail(view, sheet.name, touched, sentence, _ledger(uow, lot), zones, people)


def _ledger(uow: UnitOfWork, lot: Lot) -> list[str]:
    """What came, was used, thrown away and counted differently, and what is left, each where there is any."""
    book, units = lot_ledger(uow, lot), units_of(uow)
    if book.came is None or book.left is None:
        return []
    missing = "missing when it was counted" if book.missing > 0 else "more when it was counted"
    rows = ((book.came, "came"), (book.used, "used"), (book.thrown, "thrown away"), (abs(book.missing), missing),
            (book.left, "left"))  # fmt: skip
    return [
        f"{show(amount, lot.measure, units)} {words}" for amount, words in rows if amount or words in ("came", "left")
    ]


def touched_by(uow: UnitOfWork, batch: Batch) -> list[Touched]:
    """The parts a batch went on: the one it was mixed for, and others it was used up on."""
    zone, units = zone_here(uow), units_of(uow)
    at = when(minute_of(batch.happened_at), zone)
    rows = [(batch.part_id, batch.step_name)] if batch.part_id else []
    query = select(BatchNote).where(BatchNote.batch_id.in_(versions_of(uow, batch)), BatchNote.kind == "on")
    rows += [(note.part_id, note.step_key) for note in uow.session.scalars(query) if note.part_id]
    total = show(batch.resin_g + batch.hardener_g, "mass", units)
    return [
        Touched(part, uow.get(Part, part).name, step, batch.id, f"{total} of {batch.product}, {at}")
        for part, step in rows
    ]
