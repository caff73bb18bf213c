"""A logger's file beside what its zone has recorded, and what gives way to it."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy import text

from kiteloom.core.air.instruments import FILLS_MIN, Beside, beside
from kiteloom.formats.logger_csv import LoggerFile
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.readings import STANDS


def beside_record(uow: UnitOfWork, zone_id: str, file: LoggerFile) -> Beside:
    """Compare a file with what its zone has recorded."""
    query = text(
        f"SELECT unixepoch(happened_at) / 60.0, temp_c FROM temperature WHERE zone = :zone AND {STANDS} "
        "AND happened_at BETWEEN datetime(:first, 'unixepoch') AND datetime(:last, 'unixepoch') ORDER BY happened_at"
    )
    edge = FILLS_MIN * 60
    asked = {"zone": zone_id, "first": file.minutes[0] * 60 - edge, "last": file.minutes[-1] * 60 + edge}
    have = np.array([tuple(row) for row in uow.session.execute(query, asked)], dtype=float).reshape(-1, 2)
    return beside(np.round(file.minutes * 60) / 60, file.celsius, have[:, 0], have[:, 1])


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
