"""A surface with what it is made of, read from its rows as the core takes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from sqlalchemy import select

from kiteloom.core import reading
from kiteloom.core.laminate import Ply, Stack
from kiteloom.core.materials import ResinSheet
from kiteloom.core.mixing import Losses
from kiteloom.core.recipes.sandwich_skin import SkinJob
from kiteloom.core.shape import Hand, Panel, Side
from kiteloom.store.models import DataSheet, Design, Form, Surface
from kiteloom.store.unit_of_work import UnitOfWork


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


def panel_of(form: Form) -> Panel:
    """A form's panel."""
    planform = {
        "span_m": form.span_m,
        "root_chord_m": form.root_chord_m,
        "tip_chord_m": form.tip_chord_m,
        "sweep_m": form.sweep_m,
    }
    return reading.panel(planform, reading.section(form.root_section), reading.section(form.tip_section))


def sheets(uow: UnitOfWork, kind: str) -> list[DataSheet]:
    """The data sheets of a kind that are on the shelf, by name."""
    query = select(DataSheet).where(DataSheet.kind == kind, DataSheet.hidden_at.is_(None)).order_by(DataSheet.name)
    return list(uow.session.scalars(query))


def stack_of(uow: UnitOfWork, ply_book: dict[str, object]) -> Stack:
    """A stored ply book as a stack."""
    rows = cast(list[dict[str, object]], ply_book["plies"])
    plies = []
    for row in rows:
        sheet = uow.get(DataSheet, row["cloth_id"])
        plies.append(Ply(reading.cloth(sheet.name, sheet.says), cast(float, row["angle_deg"])))
    core = uow.get(DataSheet, ply_book["core_id"]) if ply_book.get("core_id") else None
    after = cast(int, ply_book.get("core_after") or 0)
    return Stack(tuple(plies), reading.core_sheet(core.name, core.says) if core else None, after)


def resin_of(sheet: DataSheet) -> ResinSheet:
    """A resin's data sheet as the core takes it."""
    return reading.resin_sheet(sheet.name, sheet.says)


def losses_of(design: Design) -> Losses:
    """A design's losses; what it does not say is common practice."""
    return Losses(**design.losses)


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


def surfaces_of_form(uow: UnitOfWork, form_id: str) -> list[Surface]:
    """Every part that a form's shape decides, in order."""
    query = select(Surface).join(Design).where(Design.form_id == form_id).order_by(Surface.rank)
    return list(uow.session.scalars(query))
