"""What can be mixed, and what a stroke of each pump weighs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed
from kiteloom.core.mix.pumps import per_stroke
from kiteloom.core.stores.fields import MIXED
from kiteloom.store.models import DataSheet, Pump
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.stores.sheets import resin_of
from kiteloom.workshop.stores.shelf import on_shelf


def pumps(uow: UnitOfWork, sheet_id: str) -> dict[str, float]:
    """Grams of one stroke of each of a product's pumps, by the last weighing."""
    rows = uow.once("pumps", lambda: uow.all(Pump, Pump.happened_at))
    return {row.component: row.grams / row.strokes for row in rows if row.data_sheet_id == sheet_id}


@dataclass(frozen=True)
class WeighPump:
    """Several strokes of a pump, weighed together. The client makes the id."""

    id: str
    component: str
    grams: Typed
    strokes: int = 3


def weigh_pump(uow: UnitOfWork, sheet_id: str, order: WeighPump, now: datetime) -> None:
    """Keep what several strokes of a pump weighed together."""
    sheet, component, strokes = uow.get(DataSheet, sheet_id), order.component, order.strokes
    if uow.session.get(Pump, order.id) is None:
        if component not in ("resin", "hardener"):
            raise Refused("component", f"“{component[:40]}” is not a component; a pump gives resin or hardener")
        grams = order.grams.read("mass", "grams")
        per_stroke(strokes, grams)
        uow.add(
            Pump(
                id=order.id,
                data_sheet_id=sheet.id,
                component=component,
                strokes=strokes,
                grams=grams,
                happened_at=now,
                recorded_at=now,
            )
        )
        uow.changed("sheet", sheet.id)


def mixable(uow: UnitOfWork) -> list[DataSheet]:
    """The products on the shelf that can be weighed: their sheets give a ratio."""

    def read() -> list[DataSheet]:
        found = []
        for sheet in on_shelf(uow):
            if sheet.kind in MIXED:
                try:
                    _ = resin_of(sheet).mix
                except Refused:
                    continue
                found.append(sheet)
        return sorted(found, key=lambda sheet: (MIXED.index(sheet.kind), sheet.name))

    return uow.once("mixable", read)
