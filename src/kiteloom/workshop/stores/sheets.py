"""Data sheets read from their rows as the core takes them."""

from __future__ import annotations

from sqlalchemy import select

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
    """The data sheet of what does not get hard, as the core takes it."""
    return reading.material(sheet.kind, sheet.name, sheet.says)
