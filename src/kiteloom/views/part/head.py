"""A part's name and state, at the head of its page."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.today import State
from kiteloom.store.models import Project, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.airframe import Side, state_of_part
from kiteloom.workshop.build.parts import SKIN
from kiteloom.workshop.plan.plan import shop_plan


@dataclass(frozen=True)
class SurfaceHead:
    """Who a surface is: its name, and what it shares its design and shape with."""

    id: str
    name: str
    hand: Literal["left", "right"]
    side: Side
    recipe: str
    laid_up: bool
    assembly: str
    project: str
    design_id: str
    design: str
    form: str
    mirrored: list[str]
    state: State
    sentence: str


def surface_head(uow: UnitOfWork, surface_id: str, now: datetime) -> SurfaceHead:
    """Who a surface is."""
    surface = uow.get(Surface, surface_id)
    design = surface.design
    same = [s for s in uow.all(Surface, Surface.rank) if s.design_id == surface.design_id and s.id != surface.id]
    state, sentence = state_of_part(uow, surface, shop_plan(uow, minute_of(now)))
    return SurfaceHead(
        surface.id,
        surface.name,
        surface.hand,  # type: ignore[arg-type]
        design.side,  # type: ignore[arg-type]
        design.recipe,
        design.recipe == SKIN,
        surface.assembly.name,
        uow.get(Project, surface.assembly.project_id).name,
        design.id,
        design.name,
        design.form.name,
        [other.name for other in same],
        state,
        sentence,
    )
