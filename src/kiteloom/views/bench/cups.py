"""An amount split into cups before it is mixed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of, moment_of
from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed, UnitSystem, show
from kiteloom.core.mix.cups import (
    LARGEST_CUP_G,
    LIFE_SHARE,
    PEAK_LIMIT_C,
    RESIDUE_G,
    SPREAD_G_MIN,
    STIR_MIN,
    Using,
    split,
    too_coarse,
)
from kiteloom.core.mix.exotherm import HotMix, peak_band
from kiteloom.core.stores.reading import hot_sheet, resin_sheet
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.bench.limits import now_against
from kiteloom.workshop.air.climate import BAND_C, shop_temperature
from kiteloom.workshop.air.parts import part_airs
from kiteloom.workshop.base.saying import Saying
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.log.open_cups import WHY
from kiteloom.workshop.mix.scale import Scale, largest_cup_here_g, scale_step_g


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
    """An amount in cups, in words, and what the largest cup follows from.

    ``coarse`` says that the scale is too coarse for such a cup, and ``at_least_g`` how large one it can weigh.
    """

    cups: list[CupToMix]
    sentence: str
    largest: Figure
    coarse: str
    at_least_g: float | None


@dataclass(frozen=True)
class SplitCups:
    """An amount, and what the crew uses up in a minute, as typed."""

    sheet_id: str
    amount: Typed
    spread: Typed
    part_id: str = ""


def cups_view(uow: UnitOfWork, order: SplitCups, scale: Scale | None, now: datetime) -> CupsView:
    """Split an amount at the shop's present temperature; refused where the sheet's limits are broken."""
    sheet = uow.get(DataSheet, order.sheet_id)
    units, minute = units_of(uow), minute_of(now)
    resin, hot = resin_sheet(sheet.name, sheet.says), hot_sheet(sheet.name, sheet.says)
    if hot is None:
        raise Refused("sheet_id", f"the sheet of {sheet.name} gives no pot life; into how many cups can't be computed")
    air = shop_temperature(uow, minute, minute)
    assumed_c = air is None
    temp_c = hot.pot_life.temp_c if air is None else air.profile.at(minute)
    if air is not None:
        there = part_airs(uow, minute, minute, air).get(order.part_id, air) if order.part_id else air
        against = now_against(resin, there, minute, units)
        if against:
            raise Refused("limits", " ".join(against))
    total = between("amount", order.amount.read("mass", "amount"), 0.1, 100_000, unit="g", name="the amount")
    step, most = scale_step_g(uow, scale), largest_cup_here_g(uow)
    using = Using(
        order.spread.read("mass", "spread"),
        RESIDUE_G,
        scale_step_g=step,
        most_g=most,
        within_sheet=True,
        stir_min=STIR_MIN,
        stand_min=resin.induction_min,
    )
    found = split(resin.mix, hot, total, temp_c, using, units)
    zone = zone_here(uow)
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
    low, high = peak_band(hot, first.parts.total_g, temp_c, BAND_C, using.emptied(first.parts.total_g))
    room, peak = (
        show(temp_c, "temperature", units),
        f"{show(low, 'temperature', units)} to {show(high, 'temperature', units)}",
    )
    stands = resin.induction_min
    stand = f", {stands:g} min of it standing" if stands else ""
    lives = f"workable for {life:.0f} min at {room}{stand}"
    if len(cups) == 1:
        sentence = (
            f"One cup of {each}: workable for {life:.0f} min at {room}{stand}, it gets to {peak} until it is used up."
        )
    else:
        every = say.lasting(max(round(found.cups[1].mix_at_min), 1))
        sentence = (
            f"{len(cups)} cups of {each}, one every {every}. Each is {lives} "
            f"and gets to {peak} until it is used up. {WHY[found.held_by]}"
        ).strip()
    sentence = f"{sentence} {_left_standing(hot, first.parts.total_g, temp_c, units)}".strip()
    if resin.chemistry != "amine epoxy":
        sentence += f" Its heat is computed as an epoxy's; it gets hard by {resin.chemistry}: watch the cup."
    given = (
        Given("pot life on the sheet", f"{hot.pot_life.minutes:g} min for {show(hot.pot_life.mass_g, 'mass', units)}"),
        Given("room and mix", temp_c, "temperature", assumed_c),
        Given("spread in a minute", using.spread_g_min, "mass", using.spread_g_min == SPREAD_G_MIN),
        Given("share of the working life a cup may take", 100 * LIFE_SHARE, "share", True),
        Given("no hotter than", PEAK_LIMIT_C, "temperature", True),
        Given("stays in each cup", RESIDUE_G, "mass", True),
        Given("stirred for", f"{STIR_MIN:g} min", assumed=True),
        Given("stands before use", f"{resin.induction_min:g} min"),
        Given("no larger than", most, "mass", most == LARGEST_CUP_G),
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
    coarse = too_coarse(resin.mix, found, step, units)
    if coarse:
        coarse = f"{coarse[0].upper()}{coarse[1:]}. Take a finer scale, or mix that much and spread the rest out."
    return CupsView(cups, sentence, largest, coarse, found.smallest_g if coarse else None)


def _left_standing(hot: HotMix, mass_g: float, temp_c: float, units: UnitSystem) -> str:
    """What a cup becomes that is not emptied."""
    low, high = peak_band(hot, mass_g, temp_c, BAND_C)
    if high < PEAK_LIMIT_C:
        return ""
    a, b = show(low, "temperature", units), show(high, "temperature", units)
    return f"Left standing it would come to between {a} and {b} and may smoke: spread it out."
