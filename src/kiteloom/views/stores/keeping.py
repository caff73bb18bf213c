"""Where lots stand, and whether the air there is right: what was too cold or warm, and what must be moved tonight."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time

from kiteloom.core.air.moisture import broken
from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import show
from kiteloom.core.stores.sheets import said
from kiteloom.store.models import DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import MAIN, ShopTemperature, shop_temperature, zones
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
    names = uow.once("zones by id", lambda: {zone.id: zone.name for zone in zones(uow)})
    moves = [note for note in notes_of_lot(uow, lot.id) if note.kind == "moved"]
    if moves:
        return Stands(moves[-1].note, names.get(moves[-1].note, "another zone"), minute_of(moves[-1].happened_at))
    came = minute_of(datetime.combine(lot.received_on, time(), zone_here(uow)))
    return Stands(MAIN, names.get(MAIN, "the main shop"), came)


def kept_wrong(uow: UnitOfWork, sheet: DataSheet, lots: Sequence[Lot], now: datetime) -> list[str]:
    """What a product's lots have been through against its sheet, and what is to come where they stand, in sentences."""
    limits, minute, found = _limits(sheet), minute_of(now), []
    for lot in lots if limits else ():
        at = stands_at(uow, lot)
        air = _record(uow, at.zone_id, minute)
        if air is None:
            continue
        since = max(at.since, minute - BACK_DAYS * DAY_MIN)
        recorded = min(minute, air.known.recorded_until or since)
        past = _beyond(uow, limits, air, (since, recorded), at.name, minute)
        ahead = _beyond(uow, limits, air, (minute, minute + DAY_MIN), at.name, minute)
        found += [f"lot {lot.lot_number} stood at {words}" for words in past]
        found += [f"lot {lot.lot_number} comes to {words}" for words in ahead]
    return list(dict.fromkeys(found))


def moved_tonight(uow: UnitOfWork, now: datetime, airs: Mapping[str, ShopTemperature]) -> list[str]:
    """What must go elsewhere before the night: each lot with where it stands and what it gets there.

    Parameters
    ----------
    airs : mapping
        The air of the main zone, and of others that are known, by zone; a lot in another is not looked at.
    """
    found, minute = [], minute_of(now)
    for lot in lots_here(uow):
        sheet = sheets_here(uow)[lot.data_sheet_id]
        limits = _limits(sheet)
        if not limits or found_bad(uow, lot.id) is not None or (lot_ledger(uow, lot).left or 0.0) <= 0:
            continue
        at = stands_at(uow, lot)
        if at.zone_id in airs:
            ahead = _beyond(uow, limits, airs[at.zone_id], (minute, minute + DAY_MIN), at.name, minute)
            found += [f"{sheet.name}, lot {lot.lot_number}, comes to {words}. Take it where it is right."
                      for words in ahead[:1]]  # fmt: skip
    return found


def _limits(sheet: DataSheet) -> dict[str, float]:
    """What a sheet says of how it is kept, as `broken` takes it."""
    said_ = {"min_c": said(sheet.says, "keep.min_c"), "max_c": said(sheet.says, "keep.max_c")}
    return {key: limit for key, limit in said_.items() if limit is not None}


def _record(uow: UnitOfWork, zone_id: str, now: float) -> ShopTemperature | None:
    """A zone's air with its record of the last weeks: the shelf is seldom looked at, Today often."""
    return uow.once(
        f"air of {zone_id} for lots", lambda: shop_temperature(uow, now - BACK_DAYS * DAY_MIN, now, zone_id)
    )


def _beyond(
    uow: UnitOfWork,
    limits: Mapping[str, float],
    air: ShopTemperature,
    span: tuple[float, float],
    where: str,
    now: float,
) -> list[str]:
    """What an air was, or comes to, beyond limits within a span; nothing where it has no length."""
    if span[1] <= span[0]:
        return []
    units, zone, found = units_of(uow), zone_here(uow), []
    points = air.profile.between(*span)
    for key, limit in limits.items():
        pick = min if key == "min_c" else max
        moment, celsius = pick(points, key=lambda point: point[1])
        if broken(celsius, **{key: limit}):
            comes, store = (show(value, "temperature", units) for value in (celsius, limit))
            below = "below" if key == "min_c" else "above"
            froze = " and may have frozen" if span[1] <= now and celsius < 0 else ""
            at = when(moment, zone, now)
            found.append(f"{comes} {at} in {where.lower()}{froze}; its sheet says not {below} {store}")
    return found
