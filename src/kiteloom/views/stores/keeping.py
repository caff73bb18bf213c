"""Where lots stand, and whether the air there is right: what was too cold or warm, and what must be moved tonight."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time

from kiteloom.core.air.moisture import broken
from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import show
from kiteloom.core.stores.sheets import said
from kiteloom.store.models import DataSheet, Lot, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, ShopTemperature, shop_temperature
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.used_up import lot_ledger, lots_here, sheets_here
from kiteloom.workshop.stores.lots import found_bad, notes_of_lot

#: So far back the air of a place is looked at: later than that somebody has looked at the lot itself [days].
BACK_DAYS = 60


@dataclass(frozen=True)
class Stands:
    """Where a lot stands, since when [min], and the zone's name."""

    zone_id: str
    name: str
    since: float


def stands_at(uow: UnitOfWork, lot: Lot) -> Stands:
    """Where a lot stands: in the main zone until it was moved."""
    zones = uow.once("zones by id", lambda: {zone.id: zone.name for zone in uow.all(Zone)})
    moves = [note for note in notes_of_lot(uow, lot.id) if note.kind == "moved"]
    if moves:
        return Stands(moves[-1].note, zones.get(moves[-1].note, "another zone"), minute_of(moves[-1].happened_at))
    came = minute_of(datetime.combine(lot.received_on, time(), zone_here(uow)))
    return Stands(MAIN, zones.get(MAIN, "the main shop"), came)


def kept_wrong(uow: UnitOfWork, sheet: DataSheet, lots: Sequence[Lot], now: datetime) -> list[str]:
    """What a product's lots have been through against its sheet, and what is to come where they stand, in sentences."""
    found = []
    for lot in lots:
        places = _beyond(uow, sheet, lot, now)
        if places is None:
            continue
        past, ahead = places
        name = f"lot {lot.lot_number}"
        found += [f"{name} {words}" for words in (*past, *ahead)]
    return list(dict.fromkeys(found))


def moved_tonight(uow: UnitOfWork, now: datetime) -> list[str]:
    """What must go elsewhere before the night: each product once, with where it stands and what it gets there."""
    found = []
    for lot in _watched(uow):
        sheet = sheets_here(uow)[lot.data_sheet_id]
        beyond = _beyond(uow, sheet, lot, now)
        if beyond is not None and beyond[1]:
            found.append(f"{sheet.name}, lot {lot.lot_number}: {beyond[1][0]}. Take it where it is right.")
    return found


def _watched(uow: UnitOfWork) -> list[Lot]:
    """Lots that are there and good, of products whose sheet says how they are kept."""
    sheets = sheets_here(uow)
    return [
        lot for lot in lots_here(uow)
        if (said(sheets[lot.data_sheet_id].says, "keep.min_c") is not None
            or said(sheets[lot.data_sheet_id].says, "keep.max_c") is not None)
        and found_bad(uow, lot.id) is None and (lot_ledger(uow, lot.id).left or 0.0) > 0
    ]  # fmt: skip


def _air(uow: UnitOfWork, zone_id: str, now: float) -> ShopTemperature | None:
    return uow.once(
        f"air of {zone_id} for lots", lambda: shop_temperature(uow, now - BACK_DAYS * DAY_MIN, now, zone_id)
    )


def _beyond(uow: UnitOfWork, sheet: DataSheet, lot: Lot, now: datetime) -> tuple[list[str], list[str]] | None:
    """What a lot has been through beyond its limits, and what it comes to within a day; None where nobody can say."""
    limits = {"min_c": said(sheet.says, "keep.min_c"), "max_c": said(sheet.says, "keep.max_c")}
    if all(limit is None for limit in limits.values()):
        return None
    minute, units, zone, at = minute_of(now), units_of(uow), zone_here(uow), stands_at(uow, lot)
    air = _air(uow, at.zone_id, minute)
    if air is None:
        return None
    since = max(at.since, minute - BACK_DAYS * DAY_MIN)
    recorded = min(minute, air.known.recorded_until or since)
    spans = ((since, recorded), (minute, minute + DAY_MIN))
    found: tuple[list[str], list[str]] = ([], [])
    for n, (start, end) in enumerate(spans):
        if end <= start:
            continue
        points = air.profile.between(start, end)
        for key, limit in limits.items():
            pick = min if key == "min_c" else max
            moment, celsius = pick(points, key=lambda point: point[1])
            if broken(celsius, **{key: limit}):
                store = show(limit or 0.0, "temperature", units)
                comes, said_at = show(celsius, "temperature", units), when(moment, zone, minute)
                below = "below" if key == "min_c" else "above"
                verb = "stood at" if n == 0 else "comes to"
                froze = " and may have frozen" if n == 0 and celsius < 0 else ""
                found[n].append(
                    f"{verb} {comes} {said_at} in {at.name.lower()}{froze}; its sheet says not {below} {store}"
                )
    return found
