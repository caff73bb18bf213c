"""A part with what it is made of, read from its rows as the core takes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from kiteloom.core.build.recipes.sandwich_skin import SkinJob
from kiteloom.core.laminate.stack import Stack
from kiteloom.core.need.resin import Losses
from kiteloom.core.shape.loft import Hand, Panel, Side
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import Design, Part, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.laminate.plies import stack_of
from kiteloom.workshop.need.losses import losses_of
from kiteloom.workshop.shape.shapes import panel_of
from kiteloom.workshop.stores.sheets import resin_of


@dataclass(frozen=True)
class Skin:
    """One physical skin."""

    part: Part
    design: Design
    shape: Shape
    hand: Hand
    side: Side
    panel: Panel
    stack: Stack
    resin: ResinSheet
    losses: Losses

    @property
    def area_m2(self) -> float:
        """Its own side's skin area [m²]."""
        return self.panel.skin_area_m2(self.side)

    @property
    def job(self) -> SkinJob:
        """What the recipe is given."""
        return SkinJob(self.area_m2, self.stack, self.resin.curing, self.resin.cured_density_g_ml, self.losses)


def skin(uow: UnitOfWork, part_id: str) -> Skin:
    """Read one part whole."""
    part = uow.get(Part, part_id)
    design = part.design
    return Skin(
        part,
        design,
        design.shape,
        cast(Hand, part.hand),
        cast(Side, design.side),
        panel_of(design.shape),
        stack_of(uow, design.ply_book),
        resin_of(design.resin_sheet),
        losses_of(design),
    )
