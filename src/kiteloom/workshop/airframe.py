"""The aircraft and its surfaces: what there is, and how far each one is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.calendar import minute_of, when, zone_of
from kiteloom.core.cure import follow
from kiteloom.core.figures import Figure
from kiteloom.core.from_what import shape_figures
from kiteloom.core.laminate import stack_code
from kiteloom.core.reading import cure_system
from kiteloom.core.recipes.sandwich_skin import PEEL
from kiteloom.core.shape import Point
from kiteloom.store.models import Assembly, Project, Surface
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.batches import batches_on
from kiteloom.workshop.climate import shop_temperature
from kiteloom.workshop.shop import the_shop
from kiteloom.workshop.skins import Skin, skin

State = Literal["planned", "curing", "in work"]


@dataclass(frozen=True)
class SurfaceCard:
    """One surface on the airframe's plan: its outline [m], its state, and that in a sentence."""

    id: str
    name: str
    hand: Literal["left", "right"]
    side: Literal["upper", "lower"]
    outline: tuple[Point, ...]
    skin_area: Figure
    code: str
    state: State
    sentence: str


@dataclass(frozen=True)
class AssemblyView:
    """Surfaces that belong together."""

    id: str
    name: str
    surfaces: list[SurfaceCard]


@dataclass(frozen=True)
class AirframeView:
    """The airframe."""

    project: str
    assemblies: list[AssemblyView]


@dataclass(frozen=True)
class SurfaceHead:
    """Who a surface is: its name, and what it shares its design and shape with."""

    id: str
    name: str
    hand: Literal["left", "right"]
    side: Literal["upper", "lower"]
    assembly: str
    project: str
    design_id: str
    design: str
    form: str
    mirrored: list[str]
    state: State
    sentence: str


def airframe(uow: UnitOfWork, now: datetime) -> AirframeView:
    """Every surface of the (one) project."""
    project = uow.all(Project, Project.name)
    surfaces = uow.all(Surface, Surface.rank, Surface.name)
    return AirframeView(
        project[0].name if project else "",
        [
            AssemblyView(
                assembly.id,
                assembly.name,
                [_card(uow, skin(uow, s.id), now) for s in surfaces if s.assembly_id == assembly.id],
            )
            for assembly in uow.all(Assembly, Assembly.rank)
        ],
    )


def _card(uow: UnitOfWork, found: Skin, now: datetime) -> SurfaceCard:
    state, sentence = _state(uow, found.surface, now)
    area = next(f for f in shape_figures(found.panel, found.side) if f.key == f"{found.side}_area")
    return SurfaceCard(
        found.surface.id,
        found.surface.name,
        found.hand,
        found.side,
        found.panel.outline(found.hand),
        area,
        stack_code(found.stack, found.hand),
        state,
        sentence,
    )


def surface_head(uow: UnitOfWork, surface_id: str, now: datetime) -> SurfaceHead:
    """Who a surface is."""
    found = skin(uow, surface_id)
    surface = found.surface
    same = [s for s in uow.all(Surface, Surface.rank) if s.design_id == surface.design_id and s.id != surface.id]
    state, sentence = _state(uow, surface, now)
    return SurfaceHead(
        surface.id,
        surface.name,
        found.hand,
        found.side,
        surface.assembly.name,
        uow.get(Project, surface.assembly.project_id).name,
        found.design.id,
        found.design.name,
        found.form.name,
        [other.name for other in same],
        state,
        sentence,
    )


def peeling(uow: UnitOfWork, surface: Surface, now: float) -> float | None:
    """When a surface's last batch may be checked for peeling [min]; None when there is nothing to say."""
    batches = batches_on(uow, surface.id)
    if not batches:
        return None
    last = batches[-1]
    mixed = minute_of(last.happened_at)
    known = shop_temperature(uow, mixed, now)
    if known is None:
        return None
    system = cure_system(last.says["cure"])
    reached = follow(system, mixed, known.profile).reaches(system.hours(PEEL))
    return None if reached is None else mixed + reached


def _state(uow: UnitOfWork, surface: Surface, now: datetime) -> tuple[State, str]:
    """Derived from its batches; nothing is stored."""
    batches = batches_on(uow, surface.id)
    if not batches:
        return "planned", "Nothing mixed for it yet."
    step, today, zone = batches[-1].step_name, minute_of(now), zone_of(the_shop(uow).zone)
    due = peeling(uow, surface, today)
    if due is None:
        return "curing", f"{step}: mixed, but as far as temperatures are known it does not reach peeling."
    if due > today:
        return "curing", f"{step}: check for peeling from {when(due, zone, today)}."
    return "in work", f"{step}: check for peeling, due since {when(due, zone, today)}."
