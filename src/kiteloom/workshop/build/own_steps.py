"""What this shop changed of a recipe's steps: minutes of its own, and steps of its own."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from kiteloom.core.build.step import After, Step

#: What a step of the shop's own begins with.
OWN = "own/"


def with_edits(made: tuple[Step, ...], edits: dict[str, Any]) -> tuple[Step, ...]:
    """A shop's own minutes and names, and steps of its own: each after the step it names, before what followed that."""
    minutes: dict[str, float] = edits.get("minutes", {})
    names: dict[str, str] = edits.get("names", {})
    steps = [replace(step, minutes=minutes[step.key], estimate=None) if step.key in minutes else step for step in made]
    steps = [replace(step, name=names.get(step.key, step.name)) for step in steps]
    for row in edits.get("own", ()):
        at = next((i for i, step in enumerate(steps) if step.key == row["after"]), None)
        if at is None:
            continue  # what it followed is no longer built so; its facts stay
        before = steps[at]
        own = Step(
            row["key"],
            names.get(row["key"], row["name"]),
            minutes.get(row["key"], row["minutes"]),
            row["people"],
            (After(before.key),),
            may_pause=True,
            wait_min=row["wait_min"],
            own=True,
            access=bool(row.get("access")),
            way=before.way,
            skills=tuple(row.get("skills", ())),
            stations=tuple(row.get("stations", ())),
            holds=bool(row.get("stations")),
        )
        followers = {
            step.key: replace(step, after=tuple(After(own.key) if a == After(before.key) else a for a in step.after))
            for step in steps
            if any(link == After(before.key) for link in step.after)
        }
        steps = [followers.get(step.key, step) for step in steps]
        steps.insert(at + 1, own)
    return tuple(steps)
