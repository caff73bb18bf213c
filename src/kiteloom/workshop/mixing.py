"""What a surface takes in resin, pouring a cup, judging it, and keeping it as a batch."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from sqlalchemy import select

from kiteloom.core.calendar import minute_of, when, zone_of
from kiteloom.core.figures import Figure
from kiteloom.core.from_what import pour_figures, resin_figures
from kiteloom.core.mixing import Band, Judgement, hardener_band, judge, masses
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.reading import mix_system
from kiteloom.core.recipes.sandwich_skin import resin_needs, steps
from kiteloom.store.models import Batch, CrewMember, DataSheet, Design, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.climate import temperature_now
from kiteloom.workshop.shape import Saved
from kiteloom.workshop.shop import the_shop, units_of
from kiteloom.workshop.skins import losses_of, resin_of, sheets, skin

CAUTIONS = (
    "Hardener sensitises skin: gloves, sleeves, fresh air. A big cup can smoke and catch fire: spread it out early. "
    "The maker's instructions decide."
)
_LOSSES = {
    "trim_pct": ("Cloth cut off wet", "share", "%"),
    "bleed_g_m2": ("Drawn into peel ply and breather", "areal weight", "g/m²"),
    "cup_pct": ("Left in cups and tools", "share", "%"),
}


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
class BatchView:
    """A kept batch. ``corrected`` when a later one corrects it; ``corrects`` when it is such a one."""

    id: str
    surface_id: str
    step_key: str
    step_name: str
    product: str
    resin_g: float
    hardener_g: float
    total_g: float
    deviation_pct: float | None
    verdict: Literal["in", "near", "out"]
    happened_at: datetime
    temp_c: float | None
    lot: str
    who: str
    note: str
    words: str
    corrects: str | None
    corrected: bool


@dataclass(frozen=True)
class StepNeed:
    """Resin for one step of a surface."""

    step_key: str
    step_name: str
    left_g: float
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class LossField:
    """One loss to edit, as text."""

    field: str
    label: str
    text: str
    unit: str
    assumed: bool


@dataclass(frozen=True)
class MixView:
    """A surface's resin: what each step takes, the losses under it, and the batches kept."""

    surface_id: str
    design_id: str
    version: int
    product: Product
    needs: list[StepNeed]
    losses: list[LossField]
    batches: list[BatchView]


@dataclass(frozen=True)
class Bench:
    """What the mixing bench chooses from."""

    products: list[Product]
    crew: list[Choice]
    lots: list[LotChoice]
    caution: str


@dataclass(frozen=True)
class Choice:
    """Something to choose by name."""

    id: str
    name: str


@dataclass(frozen=True)
class LotChoice:
    """A lot of a product."""

    id: str
    data_sheet_id: str
    name: str


@dataclass(frozen=True)
class Cup:
    """A cup to pour: both masses [g] with where they come from, and the resin's full scale for the bar."""

    total_g: float
    resin_g: float
    hardener_g: float
    full_scale_g: float
    resin_scale_g: float
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Pour:
    """How a cup stands: what was read, the hardener's band for the resin that is in it, the verdict.

    ``add_g`` of a part brings it back; that part then weighs ``part_then_g``.
    """

    resin_g: float
    hardener_g: float | None
    target_g: float
    band_from_g: float
    band_to_g: float
    full_scale_g: float
    deviation_pct: float | None
    verdict: Literal["in", "near", "out"] | None
    part_to_add: Literal["resin", "hardener"] | None
    add_g: float | None
    part_then_g: float | None
    sentence: str


def product_view(uow: UnitOfWork, sheet: DataSheet) -> Product:
    """A resin as the bench knows it, with the products it is mistaken for."""
    resin, units = resin_of(sheet), units_of(uow)
    pot = resin.pot_life
    alike = []
    for other in sheets(uow, sheet.kind):
        named = other.name.split()[0] == sheet.name.split()[0]
        if other.id != sheet.id and named and resin_of(other).mix.ratio != resin.mix.ratio:
            alike.append(f"{other.name} is {resin_of(other).mix.ratio}")
    return Product(
        sheet.id,
        sheet.name,
        resin.resin_lid,
        resin.hardener_lid,
        str(resin.mix.ratio),
        resin.mix.tolerance_pct,
        f"{pot.minutes:g} min for {show(pot.mass_g, 'mass', units)} at {show(pot.temp_c, 'temperature', units)}",
        resin.hazards,
        alike,
    )


def bench(uow: UnitOfWork) -> Bench:
    """Products, people and lots."""
    return Bench(
        [product_view(uow, sheet) for sheet in sheets(uow, "laminating resin")],
        [Choice(member.id, member.name) for member in uow.all(CrewMember, CrewMember.name)],
        [LotChoice(lot.id, lot.data_sheet_id, lot.lot_number) for lot in uow.all(Lot, Lot.lot_number)],
        CAUTIONS,
    )


def mix_view(uow: UnitOfWork, surface_id: str) -> MixView:
    """A surface's resin, step by step."""
    found = skin(uow, surface_id)
    job, units = found.job, units_of(uow)
    needs, names = resin_needs(job), {step.key: step.name for step in steps(job)}
    kept = batches_on(uow, surface_id)
    assumed = frozenset(_LOSSES) - frozenset(found.design.losses)
    rows = []
    for key, need in needs.items():
        mixed = sum(batch.resin_g + batch.hardener_g for batch in kept if batch.step_key == key)
        figures = resin_figures(key, need, found.losses, assumed, mixed)
        rows.append(StepNeed(key, names[key], figures[-1].value or 0.0, figures))
    losses = []
    for field, (label, kind, unit) in _LOSSES.items():
        shown_unit = "oz/yd²" if units == "us" and kind == "areal weight" else unit
        text = show(getattr(found.losses, field), kind, units)
        losses.append(LossField(field, label, text, shown_unit, field in assumed))
    return MixView(
        surface_id,
        found.design.id,
        found.design.version,
        product_view(uow, found.design.resin_sheet),
        rows,
        losses,
        batch_views(uow, surface_id),
    )


def edit_losses(uow: UnitOfWork, design_id: str, version: int, losses: dict[str, Typed], now: datetime) -> Saved:
    """Say where the shop knows its losses better than common practice."""
    design = uow.get_for_edit(Design, design_id, version)
    units, words, said = units_of(uow), [], dict(design.losses)
    for field, typed in losses.items():
        if field not in _LOSSES:
            raise Refused(field, f"“{field}” is not a loss; they are {', '.join(_LOSSES)}")
        label, kind, _ = _LOSSES[field]
        value = typed.read(kind, field)
        words.append(f"{label} {show(getattr(losses_of(design), field), kind, units)} → {show(value, kind, units)}")
        said[field] = value
    design.losses = said
    losses_of(design)
    uow.edited(design, words, now, "design")
    return Saved(design.version)


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
        span = f"{show(band.from_g, 'scale', units)} to {show(band.to_g, 'scale', units)}"
        sentence = (
            f"Pour {show(band.target_g, 'scale', units)} of {sheet.hardener_lid} onto it: {span} is within tolerance."
        )
        none: Any = None
        return Pour(resin_g, None, *_band(band), _full_scale(band.target_g), none, none, none, none, none, sentence)
    hardener_g = between("hardener", hardener.read("mass", "hardener"), 0, 1e6, unit="g", name=sheet.hardener_lid)
    verdict = judge(sheet.mix, resin_g, hardener_g, units, (sheet.resin_lid, sheet.hardener_lid))
    advice = _advice(verdict, sheet.chemistry)
    short = verdict.top_up if sheet.chemistry == "amine epoxy" else None
    return Pour(
        resin_g,
        hardener_g,
        *_band(band),
        max(_full_scale(band.target_g), hardener_g * 1.05),
        verdict.deviation_pct,
        verdict.verdict,
        short.part if short else None,
        short.grams if short else None,
        None if short is None else short.grams + (resin_g if short.part == "resin" else hardener_g),
        advice,
    )


def _band(band: Band) -> tuple[float, float, float]:
    return band.target_g, band.from_g, band.to_g


def _advice(verdict: Judgement, chemistry: str) -> str:
    if chemistry == "amine epoxy" or verdict.verdict == "in":
        return verdict.advice
    return "Out of the maker's range. A peroxide-cured mix has no top-up: ask the maker, or make a new one."


@dataclass(frozen=True)
class PourBatch:
    """An order to keep a poured cup. ``lids`` is what was read off both lids."""

    id: str
    surface_id: str
    step_key: str
    sheet_id: str
    lids: tuple[str, str]
    wanted_g: float
    resin: Typed
    hardener: Typed
    lot_id: str | None = None
    crew_member_id: str | None = None
    happened_at: datetime | None = None
    note: str = ""


def keep_batch(uow: UnitOfWork, order: PourBatch, now: datetime) -> BatchView:
    """Keep a poured cup on its surface; the same id again adds nothing."""
    if uow.session.get(Batch, order.id) is not None:
        return batch_view(uow, order.id)
    sheet = uow.get(DataSheet, order.sheet_id)
    resin = resin_of(sheet)
    for part, lid, read in zip(("resin", "hardener"), (resin.resin_lid, resin.hardener_lid), order.lids, strict=True):
        if read.strip().lower() != lid.lower():
            said = f"“{read}”" if read.strip() else "nothing"
            raise Refused("lids", f"the {part}'s lid was read as {said}; for {sheet.name} it must say “{lid}”")
    found = skin(uow, order.surface_id)
    names = {step.key: step.name for step in steps(found.job)}
    if order.step_key not in names:
        raise Refused("step_key", f"“{order.step_key}” is not a step of this surface; it has {', '.join(names)}")
    happened = order.happened_at or now
    if happened > now:
        raise Refused("happened_at", "the batch lies in the future; it can't be later than now")
    resin_g, hardener_g = order.resin.read("mass", "resin"), order.hardener.read("mass", "hardener")
    verdict = judge(resin.mix, resin_g, hardener_g)
    lot = uow.get(Lot, order.lot_id) if order.lot_id else None
    who = uow.get(CrewMember, order.crew_member_id) if order.crew_member_id else None
    uow.add(
        Batch(
            id=order.id,
            surface_id=order.surface_id,
            step_key=order.step_key,
            step_name=names[order.step_key],
            data_sheet_id=sheet.id,
            product=sheet.name,
            says=sheet.says,
            lot_id=lot.id if lot else None,
            crew_member_id=who.id if who else None,
            wanted_g=between("wanted_g", order.wanted_g, 0, 1e6, unit="g"),
            resin_g=resin_g,
            hardener_g=hardener_g,
            deviation_pct=verdict.deviation_pct,
            verdict=verdict.verdict,
            temp_c=temperature_now(uow, happened),
            note=order.note.strip(),
            happened_at=happened,
            recorded_at=now,
        )
    )
    uow.changed("batch", order.id)
    return batch_view(uow, order.id)


def correct_batch(
    uow: UnitOfWork, batch_id: str, key: str, resin: Typed, hardener: Typed, note: str, now: datetime
) -> BatchView:
    """Add the correction of a batch whose weights were written down wrong; the old row stays."""
    if uow.session.get(Batch, key) is not None:
        return batch_view(uow, key)
    old = uow.get(Batch, batch_id)
    later = uow.session.scalar(select(Batch).where(Batch.corrects_id == batch_id))
    if later is not None:
        raise Refused(
            "id",
            f"this batch was corrected already, to {later.resin_g:g} g and {later.hardener_g:g} g; correct that one",
        )
    if not note.strip():
        raise Refused("note", "the note is empty; say in a few words what was wrong")
    resin_g, hardener_g = resin.read("mass", "resin"), hardener.read("mass", "hardener")
    verdict = judge(mix_system(old.says), resin_g, hardener_g)
    kept = {c.key: getattr(old, c.key) for c in Batch.__table__.columns}
    kept |= {
        "id": key,
        "corrects_id": old.id,
        "resin_g": resin_g,
        "hardener_g": hardener_g,
        "deviation_pct": verdict.deviation_pct,
        "verdict": verdict.verdict,
        "note": note.strip(),
        "recorded_at": now,
    }
    uow.add(Batch(**kept))
    uow.changed("batch", key)
    return batch_view(uow, key)


def _batches(uow: UnitOfWork, surface_id: str) -> list[Batch]:
    query = select(Batch).where(Batch.surface_id == surface_id).order_by(Batch.happened_at, Batch.recorded_at)
    return list(uow.session.scalars(query))


def batches_on(uow: UnitOfWork, surface_id: str) -> list[Batch]:
    """The batches that count on a surface: corrected ones are left out."""
    rows = _batches(uow, surface_id)
    corrected = {batch.corrects_id for batch in rows}
    return [batch for batch in rows if batch.id not in corrected]


def batch_views(uow: UnitOfWork, surface_id: str) -> list[BatchView]:
    """Every batch of a surface, newest first, corrected ones marked."""
    rows = _batches(uow, surface_id)
    corrected = {batch.corrects_id for batch in rows}
    return [_view(uow, batch, batch.id in corrected) for batch in reversed(rows)]


def batch_view(uow: UnitOfWork, batch_id: str) -> BatchView:
    """One batch."""
    batch = uow.get(Batch, batch_id)
    corrected = uow.session.scalar(select(Batch.id).where(Batch.corrects_id == batch_id))
    return _view(uow, batch, corrected is not None)


def _view(uow: UnitOfWork, batch: Batch, corrected: bool) -> BatchView:
    units, zone = units_of(uow), zone_of(the_shop(uow).zone)
    total = batch.resin_g + batch.hardener_g
    off = "no resin in it" if batch.deviation_pct is None else f"{batch.deviation_pct:+.1f} % hardener"
    judged = {"in": "within tolerance", "near": "near tolerance", "out": "out of tolerance"}[batch.verdict]
    at = when(minute_of(batch.happened_at), zone)
    words = f"{show(total, 'mass', units)} of {batch.product}, {at}: {off}, {judged}."
    return BatchView(
        batch.id,
        batch.surface_id,
        batch.step_key,
        batch.step_name,
        batch.product,
        batch.resin_g,
        batch.hardener_g,
        total,
        batch.deviation_pct,
        batch.verdict,  # type: ignore[arg-type]
        batch.happened_at,
        batch.temp_c,
        batch.lot.lot_number if batch.lot else "",
        batch.crew_member.name if batch.crew_member else "",
        batch.note,
        words,
        batch.corrects_id,
        corrected,
    )
