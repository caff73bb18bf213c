"""The plan in a sentence, and against the one that was accepted."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from kiteloom.core.base.calendar import Interval, minute_of
from kiteloom.core.plan.hands import in_words
from kiteloom.core.plan.placed import Placed
from kiteloom.store.models import KeptPlan
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.plan.plan import ShopPlan

_A_DAY = {1: "once", 2: "twice"}


@dataclass(frozen=True)
class Shifted:
    """A step that has another time than in the accepted plan, and by how much."""

    step_id: str
    name: str
    part: str
    words: str


def headline(shop: ShopPlan) -> str:
    """When all is done, what can't be planned, and how much sooner it could be at all."""
    finish, bound = shop.plan.finish, shop.plan.bound
    if finish is None:
        return "Nothing is planned yet."
    say = shop.saying
    words = f"All done {say.at(finish)}"
    if shop.plan.unplaced:
        left = len(shop.plan.unplaced)
        words += f", but for {left} step{'s' if left > 1 else ''} that can't be planned"
    if finish - bound < 60:
        return f"{words}; no plan can end sooner."
    why = bound_words(shop)
    return f"{words}; no plan can end before {say.at(bound)}{f': {why}' if why else ''}."


def bound_words(shop: ShopPlan) -> str:
    """What holds the time no plan can beat; ``""`` where it was proven otherwise."""
    limit = shop.plan.limit
    if limit is None:
        return ""
    if limit.kind == "chain":
        last = shop.plan.by_key.get(limit.of)
        if last is None:
            return ""
        return f"so long takes what ends with “{last.step.name}” ({shop.names.get(last.step.part, '')}) alone"
    hours = f"{limit.minutes / 60:.0f} h"
    if limit.kind == "crew":
        return f"{hours} of work for {in_words(len(shop.input.crew))}"
    if limit.kind == "skill":
        can = [shop.names.get(one.id, one.id) for one in shop.input.crew if limit.of in one.skills]
        who = f"{can[0]} alone" if len(can) == 1 else joined(can)
        return f"{hours} of {limit.of} for {who}"
    if limit.kind == "air":
        step = shop.plan.by_key[limit.of].step
        return f"{hours} of work in air that is fit for “{step.name}”"
    name = shop.names.get(limit.of, limit.of)
    name = f"{name[0].lower()}{name[1:]}" if name.startswith("The ") else name
    if limit.kind == "station":
        return f"{name} is taken for {hours}"
    most = "" if limit.a_day == 1 else "at most "
    return f"{name} is taken {limit.count} times, {most}{_A_DAY.get(limit.a_day, f'{limit.a_day} times')} a day"


def compared_words(shop: ShopPlan, kept: KeptPlan | None) -> str:
    """How much later or sooner the end is than in the accepted plan."""
    if kept is None:
        return ""
    say, end = shop.saying, shop.plan.finish
    of = f"the plan accepted {say.at(minute_of(kept.happened_at))}"
    if kept.finish is None or end is None:
        return f"There was no end in {of}."
    late = end - minute_of(kept.finish)
    before = {row["key"]: row for row in kept.rows}
    later = sum(
        p.state == "to do" and p.step.key in before and p.begins - before[p.step.key]["start"] >= 30
        for p in shop.plan.placed
    )
    steps = f"{later} steps are later than in {of}" if later != 1 else f"1 step is later than in {of}"
    if abs(late) < 30:
        return f"{steps}; the end is the same." if later else f"As in {of}."
    return f"{steps}; the end is {say.lasting(abs(late))} {_later(late)}."


def shifted_since(shop: ShopPlan, before: Mapping[str, Mapping[str, Any]]) -> list[Shifted]:
    """Every step that has another time than it had, in order of its time now."""
    say, found = shop.saying, []
    for placed in shop.plan.placed:
        was = was_then(placed, before.get(placed.step.key))
        if was is not None:
            by = placed.begins - was[0]
            words = f"{say.at(placed.begins)}, not {say.at(was[0])}: {say.lasting(abs(by))} {_later(by)}"
            part = shop.names.get(placed.step.part, "")
            found.append(Shifted(placed.step.key, placed.step.name, part, words))
    return found


def was_then(placed: Placed, before: Mapping[str, Any] | None) -> Interval | None:
    """Where the accepted plan had a step that has another time now; None where it has the same, or was begun."""
    if before is None or placed.state != "to do" or abs(placed.begins - before["start"]) < 30:
        return None
    return before["start"], before["end"]


def _later(minutes: float) -> str:
    return "later" if minutes > 0 else "sooner"
