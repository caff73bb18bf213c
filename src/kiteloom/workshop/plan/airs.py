"""The airs a plan is made in: the shop's, those of the zones stations are in, and of parts that have their own."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from kiteloom.core.plan.input import Damp
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import ShopTemperature, damp_of, shop_temperature
from kiteloom.workshop.air.parts import part_airs
from kiteloom.workshop.air.readings import NO_READING


@dataclass(frozen=True, eq=False)
class ShopAirs:
    """The shop's air, and by id those of zones and of parts that were moved or read; ``damp`` by the names of all."""

    shop: ShopTemperature
    zones: Mapping[str, ShopTemperature]
    parts: Mapping[str, ShopTemperature]
    damp: Mapping[str, Damp]


def shop_airs(uow: UnitOfWork, since: float, now: float, asked: Sequence[str]) -> ShopAirs | None:
    """The airs from a time on, of these zones too where they were ever given; None while the shop's never was.

    Within a minute they are the same until something else than work happens.
    """

    def made() -> ShopAirs | None:
        air = shop_temperature(uow, since, now)
        if air is None:
            return None
        zones = {zone: theirs for zone in asked if (theirs := shop_temperature(uow, since, now, zone))}
        parts = part_airs(uow, since, now, air)
        damp = {name: known for name, its in {"": air, **zones, **parts}.items() if (known := damp_of(its, now))}
        return ShopAirs(air, zones, parts, damp)

    state = (uow.last_change(NO_READING), since, math.floor(now), tuple(asked))
    return uow.memory.made(state, "airs of the plan", made)
