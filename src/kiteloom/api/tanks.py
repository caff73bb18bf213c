"""Tanks and their leak tests. Thin."""

from __future__ import annotations

from kiteloom.api.house import Routes, now, store
from kiteloom.views.part import tank
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.log.tanks import NoteTank, note_tank

bp = Routes("tanks", "Tanks")


@bp.get("/parts/<part_id>/tank")
@bp.gives(tank.TankView)
def read_tank(part_id: str) -> tank.TankView:
    """The leak test of a tank."""
    with store().reading() as uow:
        return tank.tank_view(uow, part_id)


@bp.post("/parts/<part_id>/tank")
@bp.takes(NoteTank)
@bp.gives(Kept, 201)
def read_a_tank(part_id: str, order: NoteTank) -> Kept:
    """Note what was read of a tank."""
    with store().writing() as uow:
        return note_tank(uow, part_id, order, now())
