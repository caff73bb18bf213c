"""Data sheets read from their rows as the core takes them."""

from __future__ import annotations

from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.core.stores import reading
from kiteloom.core.stores.materials import Material, ResinSheet
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork


def sheets(uow: UnitOfWork, kind: str) -> list[DataSheet]:
    """The data sheets of a kind that are on the shelf, by name."""
    query = select(DataSheet).where(DataSheet.kind == kind, DataSheet.hidden_at.is_(None)).order_by(DataSheet.name)
    return list(uow.session.scalars(query))


def resin_of(sheet: DataSheet) -> ResinSheet:
    """A resin's data sheet as the core takes it."""
    return reading.resin_sheet(sheet.name, sheet.says)


def material_of(sheet: DataSheet) -> Material:
    """The data sheet of a cloth or tape that covers, as the core takes it."""
    if sheet.kind == "cover cloth":
        return reading.cover_cloth(sheet.name, sheet.says)
    if sheet.kind == "tape":
        return reading.edge_tape(sheet.name, sheet.says)
    raise Refused("products", f"{sheet.name} is a {sheet.kind}; nothing is built with it by itself")
