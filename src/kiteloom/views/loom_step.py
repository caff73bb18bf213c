"""One step of the plan as it is picked on the Loom: when, by whom, why not sooner."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.placed import Because, Placed
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.actions import Action, actions_of, to_skip
from kiteloom.views.against_accepted import was_then
from kiteloom.views.open_time import open_words
from kiteloom.views.part.steps import words_of
from kiteloom.workshop.base.saying import Span
from kiteloom.workshop.plan.kept import accepted
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class Mark:
    """A stage, and when it is reached."""

    name: str
    at: datetime


@dataclass(frozen=True)
class PlannedStep:
    """One step of the plan as it is picked: when, by whom, and why not sooner.

    ``held_by`` is the id of the step that held it, or ``""``; ``was`` when the accepted plan had it,
    where that differs.
    """

    id: str
    part_id: str
    key: str
    name: str
    part: str
    people: list[str]
    words: str
    why: str
    held_by: str
    marks: list[Mark]
    caution: str
    pinned: datetime | None
    was: Span | None
    open_time: str
    actions: list[Action]


def planned_step(uow: UnitOfWork, part_id: str, step_key: str, now: datetime) -> PlannedStep | None:
    """One step of the plan, and why it is not sooner; None where the plan does not have it."""
    shop = shop_plan(uow, minute_of(now))
    placed = shop.plan.by_key.get(f"{part_id}:{step_key}") if shop else None
    if shop is None or placed is None:
        return None
    kept, step, say, because = accepted(uow), placed.step, shop.saying, placed.because
    before = next((row for row in kept.rows if row["key"] == step.key), None) if kept else None
    was = was_then(placed, before)
    return PlannedStep(
        step.key,
        step.part,
        step.in_part,
        step.name,
        shop.names.get(step.part, ""),
        [shop.names.get(person, person) for person in placed.people],
        words_of(shop, placed),
        why_not_sooner(placed, shop.plan.by_key, shop.names, say.at, say.units),
        _holder(because),
        [Mark(name, say.moment(at)) for name, at in marks_of(shop, placed)],
        step.caution_in(say.units),
        say.perhaps(placed.pinned),
        say.span(was) if was else None,
        open_words(shop, placed),
        [
            *actions_of(shop, placed),
            *([to_skip(shop, placed)] if placed.state == "to do" and placed.step.kind != "list" else []),
        ],
    )


def _holder(because: Because) -> str:
    """The step that held one; ``""`` where hours, air or a person away did."""
    if because.kind in ("climate", "hours"):
        return ""
    return because.by or (because.of if because.kind in ("after", "cure") else "")


def marks_of(shop: ShopPlan, placed: Placed) -> list[tuple[str, int]]:
    """The stages of a step's cure up to the one it waits for, and the minute each is reached."""
    step, found = placed.step, []
    if placed.cure is None or placed.mixed is None or step.wait_stage is None:
        return []
    last = placed.cure.hours(step.wait_stage) if placed.cure.has(step.wait_stage) else float("inf")
    for stage in placed.cure.stages:
        if stage.hours <= last:
            at = shop.plan.airs.reaches(placed.cure, placed.mixed, stage.hours, placed.air)
            if at is not None:
                found.append((stage.name, round(at)))
    return found
