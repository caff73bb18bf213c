"""The glass transition of what a part is built with."""

from __future__ import annotations

from kiteloom.core.cure.glass import GlassTransition
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.stores.sheets import resin_of


def glass_of(uow: UnitOfWork, part: BuiltPart) -> GlassTransition | None:
    """The glass transition its product's sheet gives."""
    return resin_of(uow.get(DataSheet, part.sheet_id)).glass
