"""The mixing bench: what to mix with, the two masses of a cup, and how a poured cup stands."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.figures import Figure
from kiteloom.core.from_what import pour_figures
from kiteloom.core.materials import ResinSheet, looks_alike
from kiteloom.core.mixing import Band, Judgement, hardener_band, judge, masses
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, UnitSystem, show
from kiteloom.core.sheet_fields import MIXED
from kiteloom.store.models import CrewMember, DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.shelf import on_shelf
from kiteloom.workshop.shop import units_of
from kiteloom.workshop.skins import Choice, resin_of

CAUTIONS = (
    "Gloves, sleeves, fresh air. A big cup can smoke and catch fire: spread it out early. "
    "The maker's instructions decide."
)


@dataclass(frozen=True)
class Product:
    """A mixed product as the bench knows it: what stands on its lids, its ratio, its pot life in words."""

    id: str
    name: str
    resin_lid: str
    hardener_lid: str
    ratio: str
    tolerance_pct: float | None
    pot_life: str
    hazards: tuple[str, ...]
    look_alikes: list[str]


@dataclass(frozen=True)
class LotChoice:
    """A lot of a product."""

    id: str
    data_sheet_id: str
    name: str


@dataclass(frozen=True)
class Bench:
    """What the mixing bench chooses from."""

    products: list[Product]
    crew: list[Choice]
    lots: list[LotChoice]
    caution: str


@dataclass(frozen=True)
class Cup:
    """A cup to pour: both masses [g] with where they come from, and the resin's full scale for the bar."""

    total_g: float
    resin_g: float
    hardener_g: float
    full_scale_g: float
    resin_scale_g: float
    pot_life: str
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Pour:
    """How a cup stands: the hardener's band for the resin that is in it; judged once both are in.

    ``part_then_g`` is what the part that is short will weigh once it was topped up.
    """

    resin_g: float
    hardener_g: float | None
    band: Band
    full_scale_g: float
    judgement: Judgement | None
    part_then_g: float | None
    sentence: str


def product_view(uow: UnitOfWork, sheet: DataSheet) -> Product:
    """A resin as the bench knows it, with the products it is mistaken for."""
    resin, units = resin_of(sheet), units_of(uow)
    others = [resin_of(other) for other in mixable(uow) if other.id != sheet.id]
    alike = [f"{other.name} is {other.mix.ratio}" for other in others if looks_alike(resin, other)]
    return Product(
        sheet.id,
        sheet.name,
        resin.resin_lid,
        resin.hardener_lid,
        str(resin.mix.ratio),
        resin.mix.tolerance_pct,
        pot_words(resin, 0, units),
        resin.hazards,
        alike,
    )


def mixable(uow: UnitOfWork) -> list[DataSheet]:
    """The products on the shelf that can be weighed: their sheets give a ratio."""
    found = []
    for sheet in on_shelf(uow):
        if sheet.kind in MIXED:
            try:
                resin_of(sheet)
            except Refused:
                continue
            found.append(sheet)
    return sorted(found, key=lambda sheet: (MIXED.index(sheet.kind), sheet.name))


def pot_words(resin: ResinSheet, cup_g: float, units: UnitSystem) -> str:
    """What the sheet promises for a cup of this mass."""
    if resin.pot_life is None:
        return "Its sheet gives no pot life: small cups, used at once."
    return resin.pot_life.words(cup_g, units)


def bench(uow: UnitOfWork) -> Bench:
    """Products, people and lots."""
    return Bench(
        [product_view(uow, sheet) for sheet in mixable(uow)],
        [Choice(member.id, member.name) for member in uow.all(CrewMember, CrewMember.name)],
        [LotChoice(lot.id, lot.data_sheet_id, lot.lot_number) for lot in uow.all(Lot, Lot.lot_number)],
        CAUTIONS,
    )


def cup(uow: UnitOfWork, sheet_id: str, amount: Typed) -> Cup:
    """The two masses for a chosen cup."""
    resin = resin_of(uow.get(DataSheet, sheet_id))
    total = between("amount", amount.read("mass", "amount"), 1, 20_000, unit="g", name="the cup")
    wanted = masses(resin.mix, total_g=total)
    return Cup(
        total,
        wanted.resin_g,
        wanted.hardener_g,
        _full_scale(wanted.hardener_g),
        _full_scale(wanted.resin_g),
        pot_words(resin, total, units_of(uow)),
        pour_figures(resin.mix, wanted, (resin.resin_lid, resin.hardener_lid)),
    )


def _full_scale(target_g: float) -> float:
    """Where the pouring bar ends: a third beyond the target, so overshooting shows."""
    return target_g * 4 / 3


def pour(uow: UnitOfWork, sheet_id: str, resin: Typed, hardener: Typed | None) -> Pour:
    """Judge what is in the cup; with resin alone, say how much hardener it takes."""
    sheet = resin_of(uow.get(DataSheet, sheet_id))
    units = units_of(uow)
    resin_g = between("resin", resin.read("mass", "resin"), 0, 1e6, unit="g", name=sheet.resin_lid)
    band = hardener_band(sheet.mix, resin_g)
    if hardener is None:
        target, low, high = (show(grams, "scale", units) for grams in (band.target_g, band.from_g, band.to_g))
        sentence = f"Pour {target} of {sheet.hardener_lid} onto it: {low} to {high} is within tolerance."
        return Pour(resin_g, None, band, _full_scale(band.target_g), None, None, sentence)
    hardener_g = between("hardener", hardener.read("mass", "hardener"), 0, 1e6, unit="g", name=sheet.hardener_lid)
    judgement = judge(sheet.mix, resin_g, hardener_g, units, (sheet.resin_lid, sheet.hardener_lid))
    short, then_g = judgement.top_up, None
    if short is not None:
        then_g = short.grams + (resin_g if short.part == "resin" else hardener_g)
    full_scale = max(_full_scale(band.target_g), hardener_g * 1.05)
    return Pour(resin_g, hardener_g, band, full_scale, judgement, then_g, judgement.advice)
