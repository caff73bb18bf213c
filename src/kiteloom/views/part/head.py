"""A part's name and state, at the head of its page."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.today import State
from kiteloom.store.models import Part, Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.airframe import Side, state_of_part
from kiteloom.workshop.build.parts import SKIN
from kiteloom.workshop.plan.plan import shop_plan


@dataclass(frozen=True)
class PartHead:
    """Who a part is: its name, and what it shares its design and shape with."""

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
    shape: str
    mirrored: list[str]
    state: State
    sentence: str


def part_head(uow: UnitOfWork, part_id: str, now: datetime) -> PartHead:
    """Who a part is."""
    part = uow.get(Part, part_id)
    design = part.design
    same = [s for s in uow.all(Part, Part.rank) if s.design_id == part.design_id and s.id != part.id]
    state, sentence = state_of_part(uow, part, shop_plan(uow, minute_of(now)))
    return PartHead(
        part.id,
        part.name,
        part.hand,  # type: ignore[arg-type]
        design.side,  # type: ignore[arg-type]
        design.recipe,
        design.recipe == SKIN,
        part.assembly.name,
        uow.get(Project, part.assembly.project_id).name,
        design.id,
        design.name,
        design.shape.name,
        [other.name for other in same],
        state,
        sentence,
    )
