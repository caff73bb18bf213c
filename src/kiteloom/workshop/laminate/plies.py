"""Ply books: read from their rows, and edited."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, cast

from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.laminate.zones import Zone, zone_of, zone_says
from kiteloom.core.stores import reading
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork


def stack_of(uow: UnitOfWork, ply_book: dict[str, object]) -> Stack:
    """A stored ply book as a stack."""
    rows = cast(list[dict[str, object]], ply_book["plies"])
    plies = []
    for row in rows:
        sheet = uow.get(DataSheet, row["cloth_id"])
        cloth = reading.cloth(sheet.name, sheet.says)
        zone, stage = cast(str, row.get("zone") or ""), cast(int, row.get("stage") or 1)
        plies.append(Ply(cloth, cast(float, row["angle_deg"]), zone, stage))
    core = uow.get(DataSheet, ply_book["core_id"]) if ply_book.get("core_id") else None
    after = cast(int, ply_book.get("core_after") or 0)
    zones = cast("list[dict[str, object]]", ply_book.get("zones") or [])
    return Stack(
        tuple(plies),
        reading.core_sheet(core.name, core.says) if core else None,
        after,
        tuple(zone_of(says, n) for n, says in enumerate(zones)),
        cast(str, ply_book.get("core_zone") or "") if core else "",
    )


class PlyRow(NamedTuple):
    """A ply as it is kept: its cloth's sheet, its angle on the left-hand part, where it lies, and when it is laid."""

    cloth_id: str
    angle_deg: float
    zone: str = ""
    stage: int = 1


def book_of(
    plies: Sequence[PlyRow], core_id: str | None, core_after: int, core_zone: str, zones: Sequence[Zone]
) -> dict[str, Any]:
    """A ply book as it is kept; what lies everywhere and is laid first says no more of that."""
    rows = [
        {"cloth_id": row.cloth_id, "angle_deg": row.angle_deg}
        | ({"zone": row.zone} if row.zone else {})
        | ({"stage": row.stage} if row.stage > 1 else {})
        for row in plies
    ]
    found: dict[str, Any] = {"plies": rows, "core_id": core_id, "core_after": core_after if core_id else 0}
    found |= {"core_zone": core_zone} if core_id and core_zone else {}
    return found | ({"zones": [zone_says(zone) for zone in zones]} if zones else {})
