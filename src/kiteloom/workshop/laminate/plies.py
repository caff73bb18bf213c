"""Ply books: read from their rows, and edited."""

from __future__ import annotations

from typing import cast

from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.stores import reading
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork


def stack_of(uow: UnitOfWork, ply_book: dict[str, object]) -> Stack:
    """A stored ply book as a stack."""
    rows = cast(list[dict[str, object]], ply_book["plies"])
    plies = []
    for row in rows:
        sheet = uow.get(DataSheet, row["cloth_id"])
        plies.append(Ply(reading.cloth(sheet.name, sheet.says), cast(float, row["angle_deg"])))
    core = uow.get(DataSheet, ply_book["core_id"]) if ply_book.get("core_id") else None
    after = cast(int, ply_book.get("core_after") or 0)
    return Stack(tuple(plies), reading.core_sheet(core.name, core.says) if core else None, after)
