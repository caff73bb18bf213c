"""A surface with what it is made of, read from its rows as the core takes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from kiteloom.core.build.recipes.sandwich_skin import SkinJob
from kiteloom.core.laminate.stack import Stack
from kiteloom.core.need.resin import Losses
from kiteloom.core.shape.loft import Hand, Panel, Side
from kiteloom.core.stores.materials import ResinSheet
from kiteloom.store.models import Design, Form, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.laminate.plies import stack_of
from kiteloom.workshop.need.losses import losses_of
from kiteloom.workshop.shape.forms import panel_of
from kiteloom.workshop.stores.sheets import resin_of


@dataclass(frozen=True)
class Skin:
    """One physical skin."""

    surface: Surface
    design: Design
    form: Form
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


def skin(uow: UnitOfWork, surface_id: str) -> Skin:
    """Read one surface whole."""
    surface = uow.get(Surface, surface_id)
    design = surface.design
    return Skin(
        surface,
        design,
        design.form,
        cast(Hand, surface.hand),
        cast(Side, design.side),
        panel_of(design.form),
        stack_of(uow, design.ply_book),
        resin_of(design.resin_sheet),
        losses_of(design),
    )
