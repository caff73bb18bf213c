"""A design's losses: read, and edited where the shop knows them better."""

from __future__ import annotations

from datetime import datetime

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import Typed, show
from kiteloom.core.need.resin import Losses
from kiteloom.store.models import Design
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.base.shop import units_of


def losses_of(design: Design) -> Losses:
    """A design's losses; what it does not say is common practice."""
    return Losses(**design.losses)


LOSSES = {
    "trim_pct": ("Cloth cut off wet", "share", "%"),
    "bleed_g_m2": ("Drawn into peel ply and breather", "areal weight", "g/m²"),
    "cup_pct": ("Left in cups and tools", "share", "%"),
}


def edit_losses(uow: UnitOfWork, design_id: str, version: int, losses: dict[str, Typed], now: datetime) -> Saved:
    """Say where the shop knows its losses better than common practice."""
    design = uow.get_for_edit(Design, design_id, version)
    units, words, said = units_of(uow), [], dict(design.losses)
    for field, typed in losses.items():
        if field not in LOSSES:
            raise Refused(field, f"“{field}” is not a loss; they are {', '.join(LOSSES)}")
        label, kind, _ = LOSSES[field]
        value = typed.read(kind, field)
        words.append(f"{label} {show(getattr(losses_of(design), field), kind, units)} → {show(value, kind, units)}")
        said[field] = value
    design.losses = said
    losses_of(design)
    uow.edited(design, words, now, "design")
    return Saved(design.version)
