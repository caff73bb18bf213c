"""What probes and loggers read of the shop's air: kept once, and read back from a time on."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime

import numpy as np
from sqlalchemy import select, text
from sqlalchemy.dialects.sqlite import insert

from kiteloom.core.air.moisture import Air, dew_point
from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.store.models import Temperature
from kiteloom.store.unit_of_work import UnitOfWork

#: A building follows the weather; before so long ago it no longer matters [min].
SETTLE_MIN = 2 * DAY_MIN

#: Rows of files that were taken back do not count.
STANDS = "(import_id IS NULL OR import_id NOT IN (SELECT of_id FROM taken_back))"


#: What happens in a shop and changes no reading of its air.
NO_READING = ("work", "tick", "batch", "witness", "alert", "crew", "plan", "cut", "gate", "iron", "search", "copy")


def readings(uow: UnitOfWork, zone_id: str, since: float) -> Sequence[tuple[float, float, float | None]]:
    """(minute, °C, %) from a time on; when there are none, the last two days there are."""
    # The file keeps moments as text; it is read as minutes at once, a year of readings being half a million.
    query = text(
        "SELECT unixepoch(happened_at) / 60.0, temp_c, rh_pct FROM temperature "
        "WHERE zone = :zone AND happened_at >= datetime(:since * 60, 'unixepoch') "
        f"AND {STANDS} ORDER BY happened_at"
    )
    rows = uow.session.execute(query, {"zone": zone_id, "since": since}).all()
    if not rows:
        latest = text(f"SELECT unixepoch(max(happened_at)) / 60.0 FROM temperature WHERE zone = :zone AND {STANDS}")
        last = uow.session.execute(latest, {"zone": zone_id}).scalar()
        if last is not None:
            rows = uow.session.execute(query, {"zone": zone_id, "since": last - SETTLE_MIN}).all()
    return [(row[0], row[1], row[2]) for row in rows]


def recorded(uow: UnitOfWork, zone_id: str, since: float) -> tuple[Profile | None, Profile | None]:
    """Temperature and dew point as they were read from a time on; None where they never were.

    They are the same until somebody reads the air; in a write they are made each time.
    """

    def made() -> tuple[Profile | None, Profile | None]:
        rows = readings(uow, zone_id, since)
        if not rows:
            return None, None
        damp = np.array([(minute, celsius, rh) for minute, celsius, rh in rows if rh is not None and rh > 0])
        dew = Profile(damp[:, 0], np.asarray(dew_point(damp[:, 1], damp[:, 2]))) if len(damp) else None
        return Profile.of([(minute, celsius) for minute, celsius, _ in rows]), dew

    return made() if uow.writes else uow.memory.made((uow.last_change(NO_READING), since), f"record of {zone_id}", made)


def record_readings(uow: UnitOfWork, zone_id: str, readings: Iterable[tuple[float, Air]], now: datetime) -> int:
    """Keep what a probe logged, and say how many readings were new; one known already stays as it is.

    Readings later than the shop's clock are left for later: a clock was set back.
    """
    limit = minute_of(now)
    wanted = {round(minute): air for minute, air in readings if minute <= limit}
    if not wanted:
        return 0
    span = select(Temperature.happened_at).where(
        Temperature.zone == zone_id,
        Temperature.happened_at.between(moment_of(min(wanted)), moment_of(max(wanted))),
        text(STANDS),
    )
    have = {round(minute_of(at)) for at in uow.session.scalars(span)}
    rows = [
        {
            "zone": zone_id,
            "happened_at": moment_of(minute),
            "temp_c": air.temp_c,
            "rh_pct": air.rh_pct,
            "source": "probe",
            "import_id": None,
        }
        for minute, air in wanted.items()
        if minute not in have
    ]
    if rows:
        # What a file said that was taken back gives way.
        put = insert(Temperature)
        anew = {name: put.excluded[name] for name in ("temp_c", "rh_pct", "source", "import_id")}
        uow.session.execute(put.on_conflict_do_update(set_=anew), rows)
        uow.changed("climate", f"probe {zone_id}")
    return len(rows)


def last_reading(uow: UnitOfWork, zone_id: str, source: str | None = None) -> datetime | None:
    """When a zone was read last."""
    query = select(Temperature.happened_at).where(Temperature.zone == zone_id)
    if source is not None:
        query = query.where(Temperature.source == source)
    return uow.session.scalar(query.order_by(Temperature.happened_at.desc()).limit(1))
