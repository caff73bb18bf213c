"""The clock of every cup that is open."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import undefer

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.quantities import show
from kiteloom.core.mix.cups import CupState, cup_tint, state_of_cup
from kiteloom.core.mix.exotherm import HotMix, usable_life
from kiteloom.core.stores.reading import hot_sheet, resin_sheet
from kiteloom.store.models import Batch, BatchNote, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.air.climate import ShopTemperature, shop_temperature
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.mixes import spoilt_since
from kiteloom.workshop.stores.lots import letter_of, standing_batches, versions_of

WHY = {
    "": "",
    "heat": "A bigger one would get too hot in the hand.",
    "working life": "A bigger one would go off before it is used up.",
    "the shop": "No cup here is larger; see the shop's settings.",
}


@dataclass(frozen=True)
class OpenCup:
    """A cup that is open: it still has to stand, can be used, or has gone off.

    ``letter`` is what stands on it, and ``tint`` the colour of its tag: which clock is which cup.
    """

    batch_id: str
    part_id: str
    step_key: str
    letter: str
    tint: int
    product: str
    state: CupState
    until: datetime
    grams: float
    words: str
    short: str
    stood_at: datetime | None


def open_cups(uow: UnitOfWork, now: datetime) -> list[OpenCup]:
    """Every open cup, the soonest first."""
    return remembered(uow, minute_of(now), "open_cups", lambda: _open_cups(uow, now))


def _open_cups(uow: UnitOfWork, now: datetime) -> list[OpenCup]:
    # One who asked a moment before it was mixed sees it too: what is told is remembered for the whole minute.
    ago = [(now - batch.happened_at, batch) for batch in standing_batches(uow)]
    recent = [batch for passed, batch in ago if -timedelta(minutes=1) <= passed < timedelta(days=1)]
    if not recent:
        return []
    emptied = set(uow.session.scalars(select(BatchNote.batch_id).where(BatchNote.kind == "emptied")))
    recent = [batch for batch in recent if emptied.isdisjoint(versions_of(uow, batch))]
    if not recent:
        return []
    uow.session.scalars(select(Batch).where(Batch.id.in_(b.id for b in recent)).options(undefer(Batch.says))).all()
    minute = minute_of(now)
    air = shop_temperature(uow, minute_of(recent[0].happened_at), minute)
    found = [cup for batch in recent if (cup := _clock(uow, batch, air, minute)) is not None]
    return sorted(found, key=lambda cup: cup.until)


def use_by(batch: Batch, air: ShopTemperature | None) -> float | None:
    """Until when a cup can be worked with, in the shop as it was and will be [min]; None when its sheet is silent."""
    hot = hot_sheet(batch.product, batch.says)
    mixed = minute_of(batch.happened_at)
    return None if hot is None else mixed + life_of(hot, batch.resin_g + batch.hardener_g, mixed, air)


def life_of(hot: HotMix, grams: float, mixed: float, air: ShopTemperature | None) -> float:
    """Minutes a cup mixed at a time stays workable; it shortens when the shop warms."""
    if air is None:
        return usable_life(hot, grams, lambda _: hot.pot_life.temp_c)
    profile = air.profile
    return usable_life(hot, grams, lambda minute: profile.at(mixed + minute))


def _clock(uow: UnitOfWork, batch: Batch, air: ShopTemperature | None, minute: float) -> OpenCup | None:
    # What is out of tolerance, or bad, is not to be used up.
    end = None if spoilt_since(uow, batch) is not None else use_by(batch, air)
    if end is None:
        return None
    minute = max(minute, minute_of(batch.happened_at))
    stands = minute_of(batch.happened_at) + resin_sheet(batch.product, batch.says).induction_min
    state = state_of_cup(minute, stands, end)
    if state is None:
        return None
    zone = zone_here(uow)
    where = uow.get(Part, batch.part_id).name if batch.part_id else batch.step_name.lower()
    letter = letter_of(uow, batch)
    cup = f"Cup {letter}, {show(batch.resin_g + batch.hardener_g, 'mass', units_of(uow))} of {batch.product}"
    until = stands if state == "stands" else end
    words = {
        "stands": f"{cup}: let it stand",
        "gone": f"{cup} has gone off: use none of what is left",
    }.get(state, f"{cup}, for {where}: use it up")
    short = {"stands": "stands", "gone": "gone off"}.get(state, "use up")
    return OpenCup(
        batch.id,
        batch.part_id or "",
        batch.step_key,
        letter,
        cup_tint(letter),
        batch.product,
        state,
        moment_of(until, zone),
        batch.resin_g + batch.hardener_g,
        words,
        f"{batch.product.split()[0]}: {short}",
        moment_of(stands, zone) if minute_of(batch.happened_at) < stands <= minute else None,
    )
