"""Saying what a part is built from, and what it is turned with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import groupby

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.step import Loop, in_order
from kiteloom.store.models import Link, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.parts import BuiltPart, built_parts, steps_in_shop

#: The longest name of what a part is turned with.
LONGEST = 60


@dataclass(frozen=True)
class Needed:
    """A part that must be built before a step."""

    part_id: str
    step_key: str


@dataclass(frozen=True)
class SayBuilt:
    """All that a part is built from, and what it is turned with."""

    version: int
    needs: tuple[Needed, ...]
    thing: str = ""


def say_built(uow: UnitOfWork, part_id: str, order: SayBuilt, now: datetime) -> Saved:
    """Say what a part is built from; what would go round in a circle is refused."""
    part = uow.get_for_edit(Part, part_id, order.version)
    found = {part.id: part for part in built_parts(uow)}
    mine = found[part_id]
    needs = tuple(dict.fromkeys((need.part_id, need.step_key) for need in order.needs))
    for other, key in needs:
        if other not in found:
            raise Refused("needs", f"there is no part “{other}” to build {mine.name} from")
        # What was said before stays, also of a step that the recipe does not have any more.
        if (other, key) not in mine.after and not any(step.key == key for step in mine.steps):
            raise Refused("needs", f"“{key}” is not a step of {mine.name}")
    thing = order.thing.strip()
    if len(thing) > LONGEST:
        raise Refused("thing", f"“{thing[:20]}…” is {len(thing)} letters long; {LONGEST} is the most")
    changed = replace(mine, after=needs, thing=thing)
    no_circle({**found, part_id: changed})
    words = []
    if needs != mine.after:
        names = ", ".join(dict.fromkeys(found[other].name for other, _ in needs))
        words.append(f"{mine.name} is built from {names}" if names else f"{mine.name} waits for no other part")
    if thing != mine.thing:
        words.append(f"{mine.name} is turned {f'with {thing}' if thing else 'by itself'}")
    part.links.clear()
    uow.session.flush()
    part.links += [Link(rank=rank, step_key=key, other_id=other) for rank, (other, key) in enumerate(needs)]
    part.thing = thing
    uow.edited(part, words, now, "part")
    return Saved(part.version)


def no_circle(found: Mapping[str, BuiltPart]) -> None:
    """Refuse parts that are built from each other in a circle."""
    steps = steps_in_shop(found.values())
    try:
        in_order(steps)
    except Loop as loop:
        part_of = {step.key: step.part for step in steps}
        round_ = [found[part].name for part, _ in groupby(part_of[key] for key in reversed(loop.keys))]
        circle = " before ".join(round_ if round_[0] == round_[-1] else [*round_, round_[0]])
        raise Refused(
            "parts",
            f"built so, the work would go round in a circle: {circle}. Let a later step wait, "
            "or take one of these parts out first",
        ) from None
