"""What may be done with a step as it stands: the buttons beside it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from kiteloom.core.build.step import GRID_MIN, LIST
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import way_is_free
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Action:
    """One thing a builder may do with a step. ``mix`` opens the mixing bench instead of noting anything,
    ``check`` the witnesses of the step before it, which is then the one named, ``run`` its run sheet, ``gate`` the list
    of what must be seen before it closes something, ``read`` the keypad of the reading that it is.

    ``crew`` are who the plan has on it: a start notes them.
    """

    kind: Literal["start", "pause", "finish", "skip", "mix", "undo", "check", "run", "gate", "read"]
    label: str
    of: str
    """The step and its part: what it does it to."""
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
    where = (what_of(shop, placed), placed.step.part, placed.step.in_part)
    if placed.step.kind == "list":
        return [Action("gate", "Tick its list", *where[:2], placed.step.in_part.removesuffix(LIST))]
    mix = [Action("mix", "Mix a cup", *where)] if placed.step.cure and shop.left_g(placed.step.key) > 0 else []
    if placed.state == "running":
        run = [Action("run", "Bench mode", *where)] if placed.step.called_out else []
        return [*run, to_finish(shop, placed), *mix, Action("pause", "Pause", *where)]
    if placed.state == "paused":
        return [to_start(shop, placed, "Go on"), to_finish(shop, placed)]
    if placed.state == "to do":
        return [to_start(shop, placed) if placed.begins <= shop.now + GRID_MIN else anyway(shop, placed)]
    return mix


def to_skip(shop: ShopPlan, placed: Placed) -> Action:
    """The button that says that it does not apply to this part, and why."""
    asks = "Why it does not apply"
    what, part = what_of(shop, placed), placed.step.part
    return Action("skip", "Does not apply…", what, part, placed.step.in_part, asks=asks)


def what_of(shop: ShopPlan, placed: Placed) -> str:
    """A step and its part, as a button says it."""
    return f"{placed.step.name}, {shop.names[placed.step.part]}"


def to_finish(shop: ShopPlan, placed: Placed) -> Action:
    """The button that finishes it; of a reading that was not read yet, the one that leads to its keypad."""
    where = (what_of(shop, placed), placed.step.part, placed.step.in_part)
    if placed.step.key in shop.unread:
        return Action("read", "Read it", *where)
    return Action("finish", "Finish", *where)


def to_start(shop: ShopPlan, placed: Placed, label: str = "Start") -> Action:
    """The button that begins it or goes on with it; or leads to the reading it waits for."""
    waits = shop.unreleased(placed.step) if placed.state == "to do" else []
    if waits:
        part, _, key = waits[0].partition(":")
        return Action("check", "Read the witness first", shop.names[part], part, key)
    if placed.step.key in shop.unsigned:
        return Action("gate", "Its list first", what_of(shop, placed), placed.step.part, placed.step.in_part)
    crew = tuple(person for person in placed.people if person in shop.names)
    fact = shop.fact(placed.step.key)
    again = placed.state == "to do" and fact is not None and fact.finished is not None
    where = (placed.step.part, placed.step.in_part)
    return Action("start", label, what_of(shop, placed), *where, crew=crew, again=again)


def anyway(shop: ShopPlan, placed: Placed) -> Action:
    """The button that begins a step before its time: with a reason, unless only hours and hands hold it."""
    if way_is_free(shop.plan, placed, shop.now):
        return to_start(shop, placed, "Start now")
    action = to_start(shop, placed, "Start anyway…")
    return replace(action, asks="Why it goes before its time") if action.kind == "start" else action


def why_held(shop: ShopPlan, placed: Placed) -> str:
    """Why it is not sooner."""
    return why_not_sooner(placed, shop.plan.by_key, shop.names, shop.saying.at, shop.saying.units)
