"""What a part takes, step by step, and the losses under it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.figures import Figure
from kiteloom.core.base.quantities import show
from kiteloom.core.need.figures import resin_figures
from kiteloom.store.models import Design
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.bench.batches import BatchView, batch_views
from kiteloom.views.bench.bench import Product, product_view
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.parts import SKIN, BuiltPart, built_part
from kiteloom.workshop.build.skins import skin
from kiteloom.workshop.log.batches import batches_on
from kiteloom.workshop.need.losses import LOSSES


@dataclass(frozen=True)
class StepNeed:
    """Resin for one step of a part."""

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
    """A part's resin: what each step takes, the losses under it, and the batches kept."""

    part_id: str
    design_id: str
    version: int
    product: Product
    needs: list[StepNeed]
    losses: list[LossField]
    batches: list[BatchView]


def mix_view(uow: UnitOfWork, part_id: str, now: datetime) -> MixView:
    """A part's resin, step by step."""
    units, built = units_of(uow), built_part(uow, part_id)
    if built.recipe != SKIN:
        return _uncounted(uow, built, now)
    found = skin(uow, part_id)
    needs, names = built.needs, {step.key: step.name for step in built.steps}
    kept = batches_on(uow, part_id)
    assumed = frozenset(LOSSES) - frozenset(found.design.losses)
    rows = []
    for key, need in needs.items():
        mixed = sum(batch.resin_g + batch.hardener_g for batch in kept if batch.step_key == key)
        figures = resin_figures(key, need, found.losses, assumed, mixed)
        rows.append(StepNeed(key, names[key], figures[-1].value or 0.0, figures))
    losses = []
    for field, (label, kind, unit) in LOSSES.items():
        shown_unit = "oz/yd²" if units == "us" and kind == "areal weight" else unit
        text = show(getattr(found.losses, field), kind, units)
        losses.append(LossField(field, label, text, shown_unit, field in assumed))
    return MixView(
        part_id,
        found.design.id,
        found.design.version,
        product_view(uow, found.design.resin_sheet, now),
        rows,
        losses,
        batch_views(uow, part_id),
    )


def _uncounted(uow: UnitOfWork, built: BuiltPart, now: datetime) -> MixView:
    """A part whose recipe does not say how much it takes: its mixes, without an amount."""
    design = uow.get(Design, built.design_id)
    rows = [StepNeed(step.key, step.name, 0.0, ()) for step in built.steps if step.cure is not None]
    return MixView(
        built.id,
        design.id,
        design.version,
        product_view(uow, design.resin_sheet, now),
        rows,
        [],
        batch_views(uow, built.id),
    )
