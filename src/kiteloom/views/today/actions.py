"""What may be done with a step as it stands: the buttons beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from kiteloom.core.need.resin import ENOUGH_G
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.placed import Placed
from kiteloom.workshop.log.readings import TWIST
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Action:
    """One thing a builder may do with a step. ``mix`` opens the mixing bench instead of noting anything,
    ``check`` the witnesses of the step before it, which is then the one named, ``run`` its run sheet.

    ``crew`` are who the plan has on it: a start notes them.
    """

    kind: Literal["start", "pause", "finish", "mix", "undo", "check", "run"]
    label: str
    part_id: str
    step_key: str
    note_id: str = ""
    crew: tuple[str, ...] = ()
    again: bool = False
    """Whether it was finished before, and must be done again."""
    asks: str = ""
    """What must be written down with it; ``""`` for nothing."""


def actions_of(shop: ShopPlan, placed: Placed) -> list[Action]:
    """What may be done with a step as it stands, the likeliest first."""
    part, key = placed.step.part, placed.step.in_part
    mix = (
        [Action("mix", "Mix a cup", part, key)] if placed.step.cure and shop.left_g(placed.step.key) > ENOUGH_G else []
    )
    if placed.state == "running":
        run = [Action("run", "Bench mode", part, key)] if placed.step.called_out else []
        return [*run, to_finish(placed), *mix, Action("pause", "Pause", part, key)]
    if placed.state == "paused":
        return [to_start(shop, placed, "Go on"), to_finish(placed)]
    if placed.state == "to do":
        return [to_start(shop, placed)]
    return mix


def to_finish(placed: Placed) -> Action:
    """The button that finishes it, and what it asks first."""
    asks = "Twist found, in degrees" if placed.step.kind == TWIST else ""
    return Action("finish", "Finish", placed.step.part, placed.step.in_part, asks=asks)


def to_start(shop: ShopPlan, placed: Placed, label: str = "Start") -> Action:
    """The button that begins it or goes on with it; or leads to the reading it waits for."""
    waits = shop.unreleased(placed.step) if placed.state == "to do" else []
    if waits:
        part, _, key = waits[0].partition(":")
        return Action("check", "Read the witness first", part, key)
    crew = tuple(person for person in placed.people if person in shop.names)
    return Action("start", label, placed.step.part, placed.step.in_part, crew=crew)


def why_held(shop: ShopPlan, placed: Placed) -> str:
    """Why it is not sooner."""
    return why_not_sooner(placed, shop.plan.by_key, shop.names, shop.saying.at, shop.saying.units)
