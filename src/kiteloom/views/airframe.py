"""The aircraft and its parts: what there is, and how far each one is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.figures import Figure
from kiteloom.core.laminate.stack import stack_code
from kiteloom.core.plan.today import State, curing, state_of
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.section import Point
from kiteloom.store.models import Assembly, Design, Part, Project, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.shape.shapes import loft_of

Side = Literal["upper", "lower", "whole"]


@dataclass(frozen=True)
class PartCard:
    """One part on the airframe's plan: its outline [m], its state, and that in a sentence.

    ``code`` is a skin's ply code, or the way the part is built.
    """

    id: str
    name: str
    hand: Literal["left", "right", "centre"]
    side: Side
    shape: str
    outline: tuple[Point, ...]
    skin_area: Figure | None
    code: str
    state: State
    sentence: str


@dataclass(frozen=True)
class AssemblyView:
    """Parts that belong together."""

    id: str
    name: str
    parts: list[PartCard]


@dataclass(frozen=True)
class AirframeView:
    """The airframe."""

    project: str
    assemblies: list[AssemblyView]


def airframe(uow: UnitOfWork, now: datetime) -> AirframeView:
    """Every part of the (one) project."""
    return remembered(uow, minute_of(now), "airframe", lambda: _airframe(uow, now))


def _airframe(uow: UnitOfWork, now: datetime) -> AirframeView:
    project = uow.all(Project, Project.name)
    for row in (Design, Shape):
        uow.all(row)  # at once, not one by one as each part asks for its own
    parts = uow.all(Part, Part.rank, Part.name)
    shop = shop_plan(uow, minute_of(now))
    return AirframeView(
        project[0].name if project else "",
        [
            AssemblyView(
                assembly.id,
                assembly.name,
                [_card(uow, s, shop) for s in parts if s.assembly_id == assembly.id],
            )
            for assembly in uow.all(Assembly, Assembly.rank)
        ],
    )


def _card(uow: UnitOfWork, part: Part, shop: ShopPlan | None) -> PartCard:
    state, sentence = state_of_part(uow, part, shop)
    design = part.design
    built = shop.parts[part.id] if shop else built_part(uow, part.id)
    loft, hand = loft_of(design.shape) if design.shape else None, hand_of(part)
    area = None
    laid = next((job.stack for job in built.jobs if job.stack is not None), None)
    if loft is not None and laid is not None and design.side != "whole":
        area = next(
            f
            for f in shape_figures(loft, "lower" if design.side == "lower" else "upper")
            if f.key == f"{design.side}_area"
        )
    names = ", then ".join(job.name for job in built.jobs) or "no job yet"
    return PartCard(
        part.id,
        part.name,
        cast(Any, part.hand),
        cast(Any, design.side),
        design.shape.name if design.shape else "",
        loft.outline(hand) if loft else (),
        area,
        f"{stack_code(laid, hand)} · {names}" if area is not None and laid is not None else names,
        state,
        sentence,
    )


def state_of_part(uow: UnitOfWork, part: Part, shop: ShopPlan | None) -> tuple[State, str]:
    """How far a part is, and what comes next of it, in a sentence."""
    if shop is None:
        steps = built_part(uow, part.id).steps
        return "planned", f"{len(steps)} steps, none planned yet: no temperature was ever given."
    mine = [placed for placed in shop.plan.placed if placed.step.part == part.id]
    say, state = shop.saying, state_of(mine, shop.now)
    left = next((u for u in shop.plan.unplaced if u.step.part == part.id), None)
    running = next((p for p in mine if p.state == "running"), None)
    live = [p for p in curing(shop.plan, shop.now) if p.step.part == part.id]
    ahead = sorted((p for p in mine if p.state in ("to do", "paused")), key=lambda p: p.begins)
    if running is not None:
        return state, f"{running.step.name}: being worked on since {say.at(running.pieces[-1][0])}."
    if live:
        first = live[0]
        stage = first.step.wait_stage or "the wait"
        if first.ready is None:
            return state, f"{first.step.name}: it does not reach “{stage}” within 60 days at these temperatures."
        if first.cure is None:
            return state, f"{first.step.name}: let it stand until {say.at(first.ready)}."
        return state, f"{first.step.name}: check for “{stage}” from {say.at(first.ready)}."
    if ahead:
        return state, f"Next, {say.at(ahead[0].begins)}: {ahead[0].step.name}."
    if left is not None:
        return (
            "in work" if any(p.done for p in mine) else "planned"
        ), f"“{left.step.name}” can't be planned: {left.why}."
    return state, "Every step is done."
