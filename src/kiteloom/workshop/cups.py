"""Cups: an amount split before it is mixed, and the clock of every cup that is open."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select

from kiteloom.core.calendar import minute_of, moment_of, zone_of
from kiteloom.core.cups import (
    LIFE_SHARE,
    PEAK_LIMIT_C,
    RESIDUE_G,
    SCALE_STEP_G,
    SPREAD_G_MIN,
    CupState,
    Using,
    split,
    state_of_cup,
)
from kiteloom.core.exotherm import HotMix, working_life
from kiteloom.core.figures import Figure, Given
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.reading import hot_sheet, resin_sheet
from kiteloom.store.models import Batch, BatchNote, DataSheet, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import ShopTemperature, shop_temperature
from kiteloom.workshop.lots import standing_batches, versions_of
from kiteloom.workshop.plan import remembered
from kiteloom.workshop.saying import Saying
from kiteloom.workshop.shop import the_shop, units_of


@dataclass(frozen=True)
class CupToMix:
    """One cup of several: what to pour, when to mix it and until when to use it."""

    total_g: float
    resin_g: float
    hardener_g: float
    mix_at: datetime
    use_by: datetime
    peak_c: float


@dataclass(frozen=True)
class CupsView:
    """An amount in cups, in words, and what the largest cup follows from."""

    cups: list[CupToMix]
    sentence: str
    largest: Figure


def cups_view(
    uow: UnitOfWork, sheet_id: str, amount: Typed, spread: Typed, scale_step_g: float | None, now: datetime
) -> CupsView:
    """Split an amount at the shop's present temperature; ``spread`` is what the crew uses up in a minute."""
    sheet = uow.get(DataSheet, sheet_id)
    units, minute = units_of(uow), minute_of(now)
    resin, hot = resin_sheet(sheet.name, sheet.says), hot_sheet(sheet.name, sheet.says)
    if hot is None:
        raise Refused("sheet_id", f"the sheet of {sheet.name} gives no pot life; into how many cups can't be computed")
    air = shop_temperature(uow, minute, minute)
    assumed_c = air is None
    temp_c = hot.pot_life.temp_c if air is None else air.profile.at(minute)
    total = between("amount", amount.read("mass", "amount"), 0.1, 100_000, unit="g", name="the amount")
    step = SCALE_STEP_G if scale_step_g is None else scale_step_g
    using = Using(spread.read("mass", "spread"), RESIDUE_G, scale_step_g=step)
    found = split(resin.mix, hot, total, temp_c, using, units)
    zone = zone_of(the_shop(uow).zone)
    say = Saying(zone, minute, units)
    cups = [
        CupToMix(
            cup.parts.total_g,
            cup.parts.resin_g,
            cup.parts.hardener_g,
            moment_of(minute + cup.mix_at_min, zone),
            moment_of(minute + cup.use_by_min, zone),
            cup.peak_c,
        )
        for cup in found.cups
    ]
    first = found.cups[0]
    each, life = show(first.parts.total_g, "mass", units), first.use_by_min
    room, peak = show(temp_c, "temperature", units), show(first.peak_c, "temperature", units)
    if len(cups) == 1:
        sentence = f"One cup of {each}: workable for {life:.0f} min at {room}, it gets to {peak} until it is used up."
    else:
        every = say.lasting(round(first.empty_at_min))
        sentence = (
            f"{len(cups)} cups of {each}, one every {every}. Each is workable for {life:.0f} min at {room} "
            f"and gets to {peak} until it is used up. {WHY[found.held_by]}"
        )
    given = (
        Given("pot life on the sheet", f"{hot.pot_life.minutes:g} min for {show(hot.pot_life.mass_g, 'mass', units)}"),
        Given("room and mix", temp_c, "temperature", assumed_c),
        Given("spread in a minute", using.spread_g_min, "mass", using.spread_g_min == SPREAD_G_MIN),
        Given("share of the working life a cup may take", 100 * LIFE_SHARE, "share", True),
        Given("no hotter than", PEAK_LIMIT_C, "temperature", True),
        Given("stays in each cup", RESIDUE_G, "mass", True),
        Given("the scale's step", step, "scale"),
    )
    largest = Figure(
        "largest_cup",
        "Largest cup",
        found.largest_g,
        "mass",
        "the mass whose time to use is within the share of its working life, and that stays cool enough",
        given,
        "Heat balance of a cup, fitted to the sheet's pot life.",
    )
    return CupsView(cups, sentence, largest)


WHY = {
    "": "",
    "heat": "A bigger one would get too hot in the hand.",
    "working life": "A bigger one would go off before it is used up.",
}


@dataclass(frozen=True)
class OpenCup:
    """A cup that is open: it still has to stand, can be used, or has gone off."""

    batch_id: str
    surface_id: str
    step_key: str
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
    recent = [batch for batch in standing_batches(uow) if timedelta() <= now - batch.happened_at < timedelta(days=1)]
    if not recent:
        return []
    emptied = set(uow.session.scalars(select(BatchNote.batch_id).where(BatchNote.kind == "emptied")))
    recent = [batch for batch in recent if emptied.isdisjoint(versions_of(uow, batch))]
    if not recent:
        return []
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
        return working_life(hot, grams, lambda _: hot.pot_life.temp_c)
    profile = air.profile
    return working_life(hot, grams, lambda minute: profile.at(mixed + minute))


def _clock(uow: UnitOfWork, batch: Batch, air: ShopTemperature | None, minute: float) -> OpenCup | None:
    # What is out of tolerance is not to be used up.
    end = None if batch.verdict == "out" else use_by(batch, air)
    if end is None:
        return None
    stands = minute_of(batch.happened_at) + resin_sheet(batch.product, batch.says).induction_min
    state = state_of_cup(minute, stands, end)
    if state is None:
        return None
    zone = zone_of(the_shop(uow).zone)
    where = uow.get(Surface, batch.surface_id).name
    cup = f"{show(batch.resin_g + batch.hardener_g, 'mass', units_of(uow))} of {batch.product}"
    until = stands if state == "stands" else end
    words = {
        "stands": f"{cup}: let it stand",
        "gone": f"{cup} has gone off: use none of what is left",
    }.get(state, f"{cup}, for {where}: use it up")
    short = {"stands": "stands", "gone": "gone off"}.get(state, "use up")
    return OpenCup(
        batch.id,
        batch.surface_id,
        batch.step_key,
        batch.product,
        state,
        moment_of(until, zone),
        batch.resin_g + batch.hardener_g,
        words,
        f"{batch.product.split()[0]}: {short}",
        moment_of(stands, zone) if minute_of(batch.happened_at) < stands <= minute else None,
    )
