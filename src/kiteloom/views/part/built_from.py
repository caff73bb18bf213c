"""What a part is built from, and what it is turned with."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.parts import built_parts


@dataclass(frozen=True)
class Needed:
    """A part that must be built before a step of this one."""

    part_id: str
    step_key: str
    part: str
    step: str


@dataclass(frozen=True)
class BuiltFrom:
    """What a part is built from; ``turns`` when which way up it lies matters, and ``thing`` what it is turned with."""

    version: int
    needs: list[Needed]
    others: list[Choice]
    steps: list[Choice]
    turns: bool
    thing: str


def built_from(uow: UnitOfWork, part_id: str) -> BuiltFrom:
    """Read it."""
    part = uow.get(Part, part_id)
    found = {part.id: part for part in built_parts(uow)}
    mine = found[part_id]
    steps = {step.key: step.name for step in mine.steps}
    needs = [Needed(other, key, found[other].name, steps.get(key, key)) for other, key in mine.after if other in found]
    others = [Choice(part.id, part.name) for part in found.values() if part.id != part_id]
    turns = any(step.way for step in mine.steps)
    return BuiltFrom(part.version, needs, others, [Choice(*row) for row in steps.items()], turns, part.thing)
