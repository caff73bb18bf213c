"""A logger's file beside what its zone has recorded: by how much it differs, and what gives way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import text

from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.formats.logger_csv import LoggerFile
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import STANDS

#: Between two readings no further apart than this a zone needs no third, from another instrument [min].
FILLS_MIN = 40.0
#: Two instruments that differ by no more than this agree [K].
AGREE_K = 1.0


@dataclass(frozen=True, eq=False)
class Beside:
    """A file beside what its zone has: which of its rows lie between recorded ones, by how much they are off [K]."""

    between: NDArray[np.bool_]
    off: NDArray[np.float64]
    there: int


def beside_record(uow: UnitOfWork, zone_id: str, file: LoggerFile) -> Beside:
    """Compare a file with what its zone has recorded."""
    query = text(
        f"SELECT unixepoch(happened_at) / 60.0, temp_c FROM temperature WHERE zone = :zone AND {STANDS} "
        "AND happened_at BETWEEN datetime(:first, 'unixepoch') AND datetime(:last, 'unixepoch') ORDER BY happened_at"
    )
    edge = FILLS_MIN * 60
    asked = {"zone": zone_id, "first": file.minutes[0] * 60 - edge, "last": file.minutes[-1] * 60 + edge}
    have = np.array([tuple(row) for row in uow.session.execute(query, asked)], dtype=float).reshape(-1, 2)
    at = np.round(file.minutes * 60) / 60
    if not len(have):
        return Beside(np.zeros(len(at), dtype=bool), np.zeros(0), 0)
    after = np.searchsorted(have[:, 0], at)
    before = np.clip(np.searchsorted(have[:, 0], at, side="right") - 1, 0, len(have) - 1)
    apart = have[np.clip(after, 0, len(have) - 1), 0] - have[before, 0]
    inside = (at >= have[0, 0]) & (at <= have[-1, 0])
    between = inside & (apart <= FILLS_MIN)
    off = np.abs(file.celsius - np.interp(at, have[:, 0], have[:, 1]))[between]
    there = int(((have[:, 0] >= at[0]) & (have[:, 0] <= at[-1])).sum())
    return Beside(between, off, there)


def differs(beside: Beside, units: UnitSystem) -> str:
    """By how much two instruments differ, in words; ``""`` where they agree."""
    if not len(beside.off) or beside.off.max() <= AGREE_K:
        return ""
    most, mean = (show(float(k), "difference", units) for k in (beside.off.max(), beside.off.mean()))
    return (
        f"In the hours both have, it differs from what is recorded by up to {most}, by {mean} in the mean: another "
        "instrument, another place, or another clock? Two of them mixed would be neither."
    )


def give_way(uow: UnitOfWork, span: dict[str, Any]) -> None:
    """Set aside what is recorded in a span: it is kept, and comes back when the file is taken back."""
    within = (
        "zone = :zone AND happened_at BETWEEN datetime(:first, 'unixepoch') "
        f"AND datetime(:last, 'unixepoch', '+1 second') AND {STANDS}"
    )
    uow.session.execute(
        text(
            "INSERT INTO temperature_replaced (zone, happened_at, replaced_by, temp_c, rh_pct, source, import_id) "
            f"SELECT zone, happened_at, :key, temp_c, rh_pct, source, import_id FROM temperature WHERE {within}"
        ),
        span,
    )
    gone = "EXISTS (SELECT 1 FROM temperature_replaced AS r WHERE r.replaced_by = :key AND r.zone = temperature.zone "
    gone += "AND r.happened_at = temperature.happened_at)"
    uow.session.execute(text(f"DELETE FROM temperature WHERE {within} AND {gone}"), span)


def put_back(uow: UnitOfWork, key: str) -> None:
    """Let what a file had replaced count again, once the file was taken back."""
    uow.session.flush()
    uow.session.execute(
        text(
            "INSERT INTO temperature (zone, happened_at, temp_c, rh_pct, source, import_id) "
            "SELECT zone, happened_at, temp_c, rh_pct, source, import_id FROM temperature_replaced "
            "WHERE replaced_by = :key "
            "ON CONFLICT DO UPDATE SET temp_c = excluded.temp_c, rh_pct = excluded.rh_pct, source = excluded.source, "
            f"import_id = excluded.import_id WHERE NOT {STANDS}"
        ),
        {"key": key},
    )
