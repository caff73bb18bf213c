"""The mixing bench: what to mix with, the two masses of a cup, and how a poured cup stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import minute_of, moment_of, time_words, when
from kiteloom.core.base.figures import Figure
from kiteloom.core.base.problems import between, plain
from kiteloom.core.base.quantities import Typed, UnitSystem, show
from kiteloom.core.mix.cups import (
    LIDS_MIN,
    RESIDUE_G,
    SPREAD_G_MIN,
    STIR_MIN,
    TOP_UP_SHARE,
    Using,
    largest_cup_g,
    too_much,
)
from kiteloom.core.mix.figures import pour_figures
from kiteloom.core.mix.pumps import strokes_for
from kiteloom.core.mix.ratio import Band, Judgement, Masses, hardener_band, judge, masses, swapped
from kiteloom.core.stores.materials import ResinSheet, looks_alike
from kiteloom.core.stores.reading import hot_sheet
from kiteloom.core.stores.sheets import lacking
from kiteloom.formats.lid_labels import Lid
from kiteloom.store.models import DataSheet
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.bench.filled import FillerToGo, PowderChoice, filler_to_go, powders
from kiteloom.views.stores.lots import lots_of
from kiteloom.workshop.air.climate import shop_temperature
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import in_shop_zone, units_of, zone_here
from kiteloom.workshop.log.open_cups import life_of
from kiteloom.workshop.mix.scale import largest_cup_here_g
from kiteloom.workshop.plan.people import crew_of
from kiteloom.workshop.stores.lots import mixed_lately, sheets_at_hand
from kiteloom.workshop.stores.pumps import mixable, pumps
from kiteloom.workshop.stores.sheets import resin_of

CAUTIONS = (
    "Gloves, sleeves, fresh air. A big cup can smoke and catch fire: spread it out early. "
    "The maker's instructions decide."
)


@dataclass(frozen=True)
class Product:
    """A mixed product as the bench knows it: what stands on its lids, its ratio, its pot life in words.

    ``at_hand`` are look-alikes with another ratio that are open, or were used in the last day;
    ``assumed`` what common practice fills in for the sheet.
    """

    id: str
    name: str
    resin_lid: str
    hardener_lid: str
    ratio: str
    tolerance_pct: float | None
    pot_life: str
    hazards: tuple[str, ...]
    look_alikes: list[str]
    at_hand: list[str]
    off_shelf: bool
    induction_min: float
    pumps: list[str]
    assumed: list[str]


@dataclass(frozen=True)
class LotChoice:
    """A lot of a product or of one of its parts, and what asks for care; good ones come first."""

    id: str
    data_sheet_id: str
    name: str
    component: str
    care: str
    state: Literal["good", "expired", "bad"]


@dataclass(frozen=True)
class Bench:
    """What the mixing bench chooses from, and what a crew of two is taken to spread in a minute, as text.

    ``lids_min`` is how long after both lids were read they are read once more.
    """

    products: list[Product]
    crew: list[Choice]
    lots: list[LotChoice]
    caution: str
    spread: str
    powders: list[PowderChoice]
    lids_min: float


@dataclass(frozen=True)
class Cup:
    """A cup to pour: both masses [g] with where they come from, and the resin's full scale for the bar.

    ``life`` is how long this cup is workable here, ``against`` what speaks against one of this size;
    ``other_ways`` says the same cup by volume and in pump strokes, where they are known.
    """

    total_g: float
    resin_g: float
    hardener_g: float
    full_scale_g: float
    resin_scale_g: float
    life: str
    against: list[str]
    other_ways: list[str]
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Pour:
    """How a cup stands: the hardener's band for the resin that is in it; judged once both are in.

    ``component_then_g`` is what the component that is short will weigh once it was topped up; ``until``
    is how long topping up makes sense. ``to_go`` is what is said while a part still runs in. ``swapped`` asks
    whether the two figures stand the wrong way round. ``filler`` is called for once the ratio is right.
    """

    resin_g: float
    hardener_g: float | None
    band: Band
    full_scale_g: float
    judgement: Judgement | None
    component_then_g: float | None
    sentence: str
    until: datetime | None
    to_go: str = ""
    swapped: str = ""
    filler: FillerToGo | None = None


def product_view(uow: UnitOfWork, sheet: DataSheet, now: datetime) -> Product:
    """A resin as the bench knows it, with the products it is mistaken for."""
    resin, units = resin_of(sheet), units_of(uow)
    zone, lately = zone_here(uow), mixed_lately(uow, now)
    others = {other.id: other for other in [*mixable(uow), *(uow.get(DataSheet, key) for key in lately)]}
    alike, at_hand = [], []
    for other in others.values():
        if other.id == sheet.id or not looks_alike(resin, resin_of(other)):
            continue
        ratio = _ratio_words(other)
        alike.append(f"{other.name} is {ratio}")
        if other.id in lately:
            mixed = when(minute_of(lately[other.id].happened_at), zone, minute_of(now))
            at_hand.append(f"{other.name} was mixed {mixed} at {ratio}")
    return Product(
        sheet.id,
        sheet.name,
        resin.resin_lid,
        resin.hardener_lid,
        _ratio_words(sheet),
        resin.mix.tolerance_pct,
        pot_words(resin, 0, units),
        resin.hazards,
        alike,
        at_hand,
        sheet.hidden_at is not None,
        resin.induction_min,
        [_PUMP[part].format(grams) for part, grams in pumps(uow, sheet.id).items()],
        [lack.words for lack in lacking(sheet.kind, sheet.says, units) if lack.field in resin.assumed],
    )


_PUMP = {"resin": "A stroke of resin is {:.2f} g.", "hardener": "A stroke of hardener is {:.2f} g."}


def _ratio_words(sheet: DataSheet) -> str:
    span = sheet.says.get("range_pct")
    return f"{plain(span[0])} to {plain(span[1])} % hardener" if span else str(resin_of(sheet).mix.ratio)


def product_of(uow: UnitOfWork, sheet_id: str, now: datetime) -> Product:
    """A product by its sheet."""
    return product_view(uow, uow.get(DataSheet, sheet_id), now)


def pot_words(resin: ResinSheet, cup_g: float, units: UnitSystem) -> str:
    """What the sheet promises for a cup of this mass."""
    if resin.pot_life is None:
        return "Its sheet gives no pot life: small cups, used at once."
    return resin.pot_life.words(cup_g, units)


def bench(uow: UnitOfWork, now: datetime) -> Bench:
    """Products, people and lots. What was mixed in the last day is here even off the shelf: its cup may be open."""
    sheets = {sheet.id: sheet for sheet in [*mixable(uow), *sheets_at_hand(uow, now)]}
    lots = [
        LotChoice(lot.id, sheet.id, lot.words.removeprefix("lot "), lot.component, lot.care, state)
        for sheet in sheets.values()
        for state in ("good", "expired", "bad")
        for lot in lots_of(uow, sheet, now)
        if not lot.empty and state == ("bad" if lot.bad else "expired" if lot.expired else "good")
    ]
    return Bench(
        [product_view(uow, sheet, now) for sheet in sheets.values()],
        [Choice(member.id, member.name) for member in crew_of(uow)],
        lots,
        CAUTIONS,
        show(SPREAD_G_MIN, "scale", units_of(uow)),
        powders(uow),
        LIDS_MIN,
    )


@dataclass(frozen=True)
class WantedCup:
    """A chosen cup of a product, as typed, and what is still needed of it [g]; None where nobody knows."""

    sheet_id: str
    amount: Typed
    left_g: float | None = None


def cup(uow: UnitOfWork, order: WantedCup, now: datetime) -> Cup:
    """The two masses for a chosen cup."""
    resin = resin_of(uow.get(DataSheet, order.sheet_id))
    units = units_of(uow)
    total = between("amount", order.amount.read("mass", "amount"), 1, 20_000, unit="g", name="the cup")
    wanted = masses(resin.mix, total_g=total)
    return Cup(
        total,
        wanted.resin_g,
        wanted.hardener_g,
        _full_scale(wanted.hardener_g),
        _full_scale(wanted.resin_g),
        cup_life(uow, order.sheet_id, total, now),
        too_much(total, largest_cup_here_g(uow), order.left_g, units),
        _other_ways(uow, order.sheet_id, resin, wanted, units),
        pour_figures(resin.mix, wanted, (resin.resin_lid, resin.hardener_lid)),
    )


def cup_life(uow: UnitOfWork, sheet_id: str, grams: float, now: datetime) -> str:
    """How long a cup of this mass is workable here, the one figure every screen has; what its sheet promises beside."""
    sheet, units = uow.get(DataSheet, sheet_id), units_of(uow)
    hot, minute = hot_sheet(sheet.name, sheet.says), minute_of(now)
    if hot is None:
        return "Its sheet gives no pot life: small cups, used at once."
    air = shop_temperature(uow, minute, minute)
    here = show(air.profile.at(minute) if air else hot.pot_life.temp_c, "temperature", units)
    stated = hot.pot_life
    mass, warm = show(stated.mass_g, "mass", units), show(stated.temp_c, "temperature", units)
    return (
        f"This cup is workable for {life_of(hot, grams, minute, air):.0f} min at {here}. "
        f"Its sheet: {stated.minutes:g} min for {mass} at {warm}."
    )


def _other_ways(uow: UnitOfWork, sheet_id: str, resin: ResinSheet, wanted: Masses, units: UnitSystem) -> list[str]:
    ways = []
    if wanted.resin_ml is not None and wanted.hardener_ml is not None:
        a, b = (show(ml, "volume", units) for ml in (wanted.resin_ml, wanted.hardener_ml))
        ways.append(f"By volume: {a} of resin, {b} of hardener.")
    known = pumps(uow, sheet_id)
    if len(known) == 2:
        found = strokes_for(resin.mix, wanted, known["resin"], known["hardener"])
        off = abs(found.deviation_pct)
        ok = resin.mix.tolerance_pct is not None and off <= resin.mix.tolerance_pct
        verdict = "within tolerance" if ok else "out of tolerance: weigh it instead"
        total = show(found.resin_g + found.hardener_g, "mass", units)
        ways.append(
            f"By pump: {found.resin} strokes of resin, {found.hardener} of hardener; "
            f"{total}, {off:.1f} % off, {verdict}."
        )
    return ways


def _full_scale(target_g: float) -> float:
    """Where the pouring bar ends: a third beyond the target, so overshooting shows."""
    return target_g * 4 / 3


@dataclass(frozen=True)
class InCup:
    """What is in a cup, as typed or read off the scale.

    ``since`` is when the two components met; ``used`` when some of it went on a part already. ``wanted_g`` is the
    cup that is being poured, ``filler_id`` and ``consistency`` what it is to be thickened with.
    """

    sheet_id: str
    resin: Typed
    hardener: Typed | None = None
    since: datetime | None = None
    used: bool = False
    wanted_g: float | None = None
    filler_id: str = ""
    consistency: str = ""


def pour(uow: UnitOfWork, cup: InCup, now: datetime) -> Pour:
    """Judge what is in the cup; with resin alone, say how much hardener it takes."""
    row = uow.get(DataSheet, cup.sheet_id)
    sheet, units = resin_of(row), units_of(uow)
    resin_g = between("resin", cup.resin.read("mass", "resin"), 0, 1e6, unit="g", name=sheet.resin_lid)
    band = hardener_band(sheet.mix, resin_g)
    if cup.hardener is None:
        target, low, high = (show(grams, "scale", units) for grams in (band.target_g, band.from_g, band.to_g))
        sentence = f"Pour {target} of {sheet.hardener_lid} onto it: {low} to {high} is within tolerance."
        to_go = ""
        if cup.wanted_g is not None:
            more = masses(sheet.mix, total_g=between("wanted_g", cup.wanted_g, 0.1, 1e6, unit="g")).resin_g - resin_g
            to_go = f"{show(more, 'scale', units)} of {sheet.resin_lid} to go." if more > 0.5 else ""
        return Pour(resin_g, None, band, _full_scale(band.target_g), None, None, sentence, None, to_go)
    hardener_g = between("hardener", cup.hardener.read("mass", "hardener"), 0, 1e6, unit="g", name=sheet.hardener_lid)
    judgement = judge(sheet.mix, resin_g, hardener_g, units, (sheet.resin_lid, sheet.hardener_lid))
    full_scale = max(_full_scale(band.target_g), hardener_g * 1.05)
    if judgement.verdict != "in" and cup.used:
        words = (
            "Some of it is used, so it can't be put right any more: keep it as it is, and say what it went on. "
            "Scrape that off while it is wet if the maker says so."
        )
        spoilt = Judgement(judgement.deviation_pct, judgement.verdict, None, words)
        return Pour(resin_g, hardener_g, band, full_scale, spoilt, None, words, None)
    short, then_g = judgement.top_up, None
    if short is not None:
        then_g = short.grams + (resin_g if short.component == "resin" else hardener_g)
    after_g = resin_g + hardener_g + (short.grams if short else 0.0)
    until, words = _top_up_until(uow, row, cup, after_g, now) if short else (None, "")
    to_go = ""
    if hardener_g < band.from_g:
        to_go = f"{show(band.target_g - hardener_g, 'scale', units)} of {sheet.hardener_lid} to go."
    turned = ""
    if swapped(sheet.mix, resin_g, hardener_g):
        a, b = show(hardener_g, "scale", units), show(resin_g, "scale", units)
        turned = (
            f"Are the two figures swapped? {a} of {sheet.resin_lid} with {b} of {sheet.hardener_lid} would be right. "
            "If it was really poured like this, make a new one."
        )
    powder = None
    if cup.filler_id and judgement.verdict != "out":
        powder = filler_to_go(uow, cup.filler_id, cup.consistency, resin_g + hardener_g)
    sentence = judgement.advice + words
    return Pour(resin_g, hardener_g, band, full_scale, judgement, then_g, sentence, until, to_go, turned, powder)


def _top_up_until(
    uow: UnitOfWork, sheet: DataSheet, cup: InCup, grams: float, now: datetime
) -> tuple[datetime | None, str]:
    """How long a top-up to so many grams leaves enough of the working life, and whether that is too big a cup."""
    hot = hot_sheet(sheet.name, sheet.says)
    if hot is None:
        return None, ""
    met = minute_of(in_shop_zone(uow, cup.since) or now)
    air = shop_temperature(uow, met, minute_of(now))
    end = met + TOP_UP_SHARE * life_of(hot, grams, met, air)
    zone = zone_here(uow)
    left = end - minute_of(now)
    if left <= 0:
        return moment_of(end, zone), f" It was to be done by {time_words(moment_of(end, zone))}: make a new one."
    words, room = f" Do it within {left:.0f} min.", air.profile.at(met) if air else hot.pot_life.temp_c
    using = Using(SPREAD_G_MIN, RESIDUE_G, stir_min=STIR_MIN, most_g=largest_cup_here_g(uow), within_sheet=True)
    largest = largest_cup_g(hot, room, using, 2 * grams)
    if grams > largest:
        units = units_of(uow)
        cup_g, most = show(grams, "mass", units), show(largest, "mass", units)
        words += f" It is then a cup of {cup_g}, more than the {most} used up in time: pour half into another at once."
    return moment_of(end, zone), words


def lids(uow: UnitOfWork, sheet_id: str, host: str) -> list[Lid]:
    """The lid labels of one product, or of all that are mixed; their code opens the product on the bench."""
    found = []
    for sheet in [uow.get(DataSheet, sheet_id)] if sheet_id else mixable(uow):
        resin = resin_of(sheet)
        # One can of resin goes with several hardeners: its label names them all, or either label would be wrong.
        others = [
            (_ratio_words(other), resin_of(other).hardener_lid)
            for other in mixable(uow)
            if other.id != sheet.id and resin_of(other).resin_lid.lower() == resin.resin_lid.lower()
        ]
        found.append(
            Lid(
                sheet.name,
                resin.resin_lid,
                resin.hardener_lid,
                _ratio_words(sheet),
                "; ".join(resin.hazards),
                f"{host.rstrip('/')}/mix?product={sheet.id}",
                tuple(others),
            )
        )
    return found
