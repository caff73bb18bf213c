"""An airframe and its parts: drawn in plan, how far each one is, and what is left to do of it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.figures import Figure
from kiteloom.core.laminate.stack import stack_code
from kiteloom.core.plan.today import State, state_of
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.flat import KINDS
from kiteloom.core.shape.loft import Ring
from kiteloom.core.shape.place import Place, in_plan
from kiteloom.store.models import Assembly, Design, Part, Project, Shape
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.memory import remembered
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.airframes import assemblies_of
from kiteloom.workshop.build.jobs import hand_of
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.log.hiding import KEPT, hidden_parts
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.shape.shapes import form_of

Side = Literal["upper", "lower", "whole"]


@dataclass(frozen=True)
class Left:
    """What is left to do: hands-on work of all people together [min], and products to mix [g]."""

    minutes: float
    grams: float
    words: str


@dataclass(frozen=True)
class PartCard:
    """One part: where it is seen on the airframe (to the right, aft) [m], its state, and that in a sentence.

    ``code`` is a skin's ply code, or the way the part is built; ``shape`` names what it shares its shape by.
    """

    id: str
    name: str
    version: int
    hand: Literal["left", "right", "centre"]
    side: Side
    shape: str
    in_plan: tuple[Ring, ...]
    skin_area: Figure | None
    code: str
    state: State
    sentence: str
    left: Left


@dataclass(frozen=True)
class AssemblyView:
    """Parts that belong together."""

    id: str
    name: str
    version: int
    left: Left
    parts: list[PartCard]


@dataclass(frozen=True)
class HiddenPart:
    """A part that was taken out and can be taken back; ``words`` says when, and what stays of it."""

    id: str
    name: str
    version: int
    words: str


@dataclass(frozen=True)
class PlaceField:
    """One thing that is asked of where a part lies."""

    field: str
    label: str
    unit: str
    choices: tuple[str, ...]


@dataclass(frozen=True)
class AirframeView:
    """An airframe; ``others`` are all there are in the shop, this one too. Without an id there is none yet."""

    id: str
    project: str
    version: int
    left: Left
    assemblies: list[AssemblyView]
    hidden: list[HiddenPart]
    others: list[Choice]
    kinds: list[Choice]
    place: list[PlaceField]


def airframe(uow: UnitOfWork, now: datetime, airframe_id: str = "") -> AirframeView:
    """Every part of an airframe; of the first where none is named."""
    key = f"airframe {airframe_id}"
    return remembered(uow, minute_of(now), key, lambda: _airframe(uow, now, airframe_id))


def _kinds() -> list[Choice]:
    """The kinds of shape there are."""
    return [Choice(key, name) for key, name in KINDS.items()]


def _airframe(uow: UnitOfWork, now: datetime, airframe_id: str) -> AirframeView:
    projects = uow.all(Project, Project.rank, Project.name)
    units = units_of(uow)
    asked = [
        PlaceField(name, one.label, one.unit_for(units) if one.style == "quantity" else "", one.choices)
        for name, (one, _) in asked_of(Place).items()
    ]
    others = [Choice(row.id, row.name) for row in projects]
    if not projects:
        return AirframeView("", "", 0, _sum([]), [], [], [], _kinds(), asked)
    chosen = uow.get(Project, airframe_id) if airframe_id else projects[0]
    for table in (Assembly, Design, Shape):
        uow.all(table)  # at once, not one by one as each part asks for its own
    rows = assemblies_of(uow, chosen.id)
    mine = {row.id for row in rows}
    parts = [row for row in uow.all(Part, Part.rank, Part.name) if row.assembly_id in mine and not row.hidden_at]
    shop = shop_plan(uow, minute_of(now))
    left = _left_by_part(shop)
    assemblies = []
    for assembly in rows:
        cards = [_card(uow, part, shop, left) for part in parts if part.assembly_id == assembly.id]
        assemblies.append(AssemblyView(assembly.id, assembly.name, assembly.version, _sum(cards), cards))
    gone = [
        HiddenPart(part.id, part.name, part.version, _gone_words(part, done, now))
        for part, done in hidden_parts(uow, now)
        if part.assembly.project_id == chosen.id
    ]
    every = [card for assembly in assemblies for card in assembly.parts]
    return AirframeView(
        chosen.id,
        chosen.name,
        chosen.version,
        _sum(every),
        assemblies,
        gone,
        others,
        _kinds(),
        asked,
    )


def _gone_words(part: Part, done: bool, now: datetime) -> str:
    ago = (now - part.hidden_at).days if part.hidden_at else 0
    since = f"{_days(ago)} ago" if ago else "today"
    left = f"it can be taken back for {_days(KEPT.days - ago)} more"
    return f"taken out {since}; {'what was done of it stays in the record' if done else left}"


def _days(count: int) -> str:
    return f"{count} day{'' if count == 1 else 's'}"


def _left_by_part(shop: ShopPlan | None) -> dict[str, tuple[float, float]]:
    """Minutes of people and grams that are left, by part."""
    found: dict[str, tuple[float, float]] = {}
    if shop is None:
        return found
    steps = [(p.step, p.done) for p in shop.plan.placed] + [(u.step, False) for u in shop.plan.unplaced]
    for step, done in steps:
        minutes, grams = found.get(step.part, (0.0, 0.0))
        fact = shop.fact(step.key)
        worked = fact.worked_min if fact is not None else 0.0
        ahead = 0.0 if done or step.refused else max(step.length - worked, 0.0) * max(step.people, 1)
        found[step.part] = (minutes + ahead, grams + (0.0 if done else shop.left_g(step.key)))
    return found


def _sum(cards: Iterable[PartCard]) -> Left:
    rows = [card.left for card in cards]
    return _said(sum(row.minutes for row in rows), sum(row.grams for row in rows))


def _said(minutes: float, grams: float) -> Left:
    words = f"{round(minutes / 60)} h of work" if minutes >= 60 else f"{round(minutes)} min of work" if minutes else ""
    return Left(minutes, grams, words)


def _card(uow: UnitOfWork, part: Part, shop: ShopPlan | None, left: dict[str, tuple[float, float]]) -> PartCard:
    state, sentence = state_of_part(uow, part, shop)
    design = part.design
    built = shop.parts[part.id] if shop else built_part(uow, part.id)
    form, hand = form_of(design.shape) if design.shape else None, hand_of(part)
    area = None
    laid = next((job.stack for job in built.jobs if job.stack is not None), None)
    if form is not None and laid is not None and design.side != "whole":
        side: Literal["upper", "lower"] = "lower" if design.side == "lower" else "upper"
        figures = {figure.key: figure for figure in shape_figures(form, side)}
        area = figures.get(f"{side}_area") or figures.get("face_area")
    names = ", then ".join(job.name for job in built.jobs) or "no job yet"
    minutes, grams = left.get(part.id, (0.0, 0.0)) if shop else _without_plan(built)
    return PartCard(
        part.id,
        part.name,
        part.version,
        cast(Any, part.hand),
        cast(Any, design.side),
        design.shape.name if design.shape else "",
        in_plan(form, Place(**part.place), part.hand) if form is not None and part.place else (),
        area,
        f"{stack_code(laid, hand)} · {names}" if area is not None and laid is not None else names,
        state,
        sentence,
        _said(minutes, grams),
    )


def _without_plan(built: BuiltPart) -> tuple[float, float]:
    minutes = sum(step.minutes * max(step.people, 1) for step in built.steps if not step.refused)
    return minutes, sum(need.total_g for need in built.needs.values())


def state_of_part(uow: UnitOfWork, part: Part, shop: ShopPlan | None) -> tuple[State, str]:
    """How far a part is, and what comes next of it, in a sentence."""
    if part.hidden_at is not None:
        return "planned", "It was taken out of its airframe; nothing of it is planned."
    if shop is None:
        steps = built_part(uow, part.id).steps
        if not steps:
            return "planned", "It has no job yet."
        return "planned", f"{len(steps)} steps, none planned yet: no temperature was ever given."
    if not shop.parts[part.id].jobs:
        return "planned", "It has no job yet."
    mine = shop.by_part.get(part.id, [])
    say, state = shop.saying, state_of(mine, shop.now)
    left = next((u for u in shop.plan.unplaced if u.step.part == part.id), None)
    running = next((p for p in mine if p.state == "running"), None)
    live = [p for p in shop.curing if p.step.part == part.id]
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
