"""The rows of Today: what is due, on the bench, still to come today, held."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from kiteloom.core.build.step import GRID_MIN
from kiteloom.core.plan.alarms import to_check
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.today import curing
from kiteloom.views.actions import Action, actions_of, what_of, why_held
from kiteloom.workshop.base.saying import Span, joined
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Row:
    """A step on the page: what and where, how it stands, what may be done.

    ``late`` when it has been worked on for longer than was planned: perhaps its finish was forgotten.
    """

    part_id: str
    step_key: str
    name: str
    part: str
    words: str
    state: Literal["due", "running", "paused", "curing", "fits", "soft", "planned", "held"]
    who: list[str]
    actions: list[Action]
    wait: Span | None = None
    late: bool = False


def row_of(
    shop: ShopPlan, placed: Placed, state: str, words: str, actions: list[Action], wait: Span | None = None
) -> Row:
    """A step as a row."""
    return Row(
        placed.step.part,
        placed.step.in_part,
        placed.step.name,
        shop.names[placed.step.part],
        words,
        state,  # type: ignore[arg-type]
        [shop.names.get(person, person) for person in placed.people],
        actions,
        wait,
    )


def bench_rows(shop: ShopPlan) -> list[Row]:
    """What is being worked on, then what cures, the soonest first, then what was laid aside."""
    say, rows = shop.saying, []
    for placed in shop.plan.placed:
        if placed.state == "running":
            so_far = shop.now - placed.pieces[-1][0] + sum(b - a for a, b in placed.pieces[:-1])
            whole = say.lasting(placed.step.length)
            all_of_it = " with what was done before," if len(placed.pieces) > 1 else ""
            words = f"Since {say.at(placed.pieces[-1][0])}: {say.lasting(so_far)}{all_of_it} of about {whole}."
            late = so_far > placed.step.length
            words += " Over its time: was it finished before?" if late else ""
            reason = shop.done.reasons.get(placed.step.key, "")
            words += f" Begun before its time: {reason}." if reason else ""
            rows.append(replace(row_of(shop, placed, "running", words, actions_of(shop, placed)), late=late))
    for placed in curing(shop.plan, shop.now):
        if placed.spoilt:
            words = "Out of its ratio or marked bad: no clock holds for it; somebody must decide and sign."
        elif placed.ready is None:
            words = f"Does not reach “{placed.step.wait_stage}” within 60 days at these temperatures."
        elif placed.cure is None:
            words = f"Let it stand until {say.at(placed.ready)}."
        else:
            words = _next_knot(shop, placed)
        span = (placed.mixed or placed.end, placed.ready or placed.end + 1440)
        rows.append(row_of(shop, placed, "curing", words, actions_of(shop, placed), say.span(span)))
    for placed in shop.plan.placed:
        if placed.state == "paused":
            left = placed.step.length - placed_worked(shop, placed)
            words = f"Laid aside; about {say.lasting(max(left, 5))} left."
            rows.append(row_of(shop, placed, "paused", words, actions_of(shop, placed)))
    return rows


def placed_worked(shop: ShopPlan, placed: Placed) -> float:
    """Minutes worked on a step so far."""
    fact = shop.fact(placed.step.key)
    return fact.worked_min if fact else 0.0


def _next_knot(shop: ShopPlan, placed: Placed) -> str:
    """The next stage it comes to, and the one its wait lasts to."""
    assert placed.cure is not None
    assert placed.mixed is not None
    say = shop.saying
    knots = [
        (stage.name, shop.plan.airs.reaches(placed.cure, placed.mixed, stage.hours, placed.air))
        for stage in placed.cure.stages
    ]
    ahead = [(name, at) for name, at in knots if at is not None and at > shop.now]
    name, at = ahead[0] if ahead else (placed.step.wait_stage or "", placed.ready or shop.now)
    words = f"Check for “{name}” from {say.at(at)}"
    if placed.step.wait_stage and placed.step.wait_stage != name and placed.ready is not None:
        words += f", “{placed.step.wait_stage}” from {say.at(placed.ready)}"
    return f"{words}."


def held_row(shop: ShopPlan, placed: Placed) -> Row:
    """What can't begin today, and why not sooner."""
    words = f"{shop.saying.at(placed.begins)}. {why_held(shop, placed)}"
    return row_of(shop, placed, "held", words, actions_of(shop, placed))


def begins_by(placed: Placed, until: float) -> bool:
    """Whether the plan begins a step before then."""
    return placed.state == "to do" and placed.begins < until


def later_row(shop: ShopPlan, placed: Placed) -> Row:
    """What the plan begins today: when, by whom, and why not sooner."""
    say, who = shop.saying, joined([shop.names.get(person, person) for person in placed.people])
    span = f"{say.at(placed.begins)} to {say.at(placed.end)}"
    why = "It can go now." if placed.begins <= shop.now + GRID_MIN else why_held(shop, placed)
    return row_of(shop, placed, "planned", f"{span}{f', {who}' if who else ''}. {why}", actions_of(shop, placed))


def due_rows(shop: ShopPlan) -> list[Row]:
    """What is to be looked at now, the longest overdue first."""
    say, found = shop.saying, []
    for check in to_check(shop.plan, shop.releases, shop.now):
        placed = check.placed
        words = f"“{placed.step.wait_stage}” is due since {say.at(check.since)}."
        release = shop.releases.get(placed.step.key)
        if check.soft_at is not None:
            words = f"Found soft {say.at(check.soft_at)}: to be read again since {say.at(check.since)}."
        elif release is not None and len(release.unread) > 1:
            words += f" {len(release.unread)} witnesses are to be read."
        read = Action("check", "Read the witness", what_of(shop, placed), placed.step.part, placed.step.in_part)
        found.append(row_of(shop, placed, "due", words, [read]))
    return found
