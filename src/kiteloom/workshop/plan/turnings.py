"""Which way up the shop's big parts lie, from what was noted, and how they are turned."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from kiteloom.core.build.step import Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.input import TURN, Thing
from kiteloom.workshop.build.parts import BuiltPart
from kiteloom.workshop.log.work import Done

#: Turning a part takes two people so long (common practice) [min].
TURN_MIN, TURN_PEOPLE = 20.0, 2


def things_of(parts: Mapping[str, BuiltPart], steps: Sequence[Step], done: Done) -> tuple[Thing, ...]:
    """Everything that is turned, as it lies now: as it was turned last, or as the step begun last had it."""
    users: dict[str, list[Step]] = {}
    for step in steps:
        if step.way:
            users.setdefault(step.thing, []).append(step)
    found = []
    for name, mine in users.items():
        part = min({step.part for step in mine}, key=lambda key: parts[key].rank)
        lies = [(_last(done.facts[step.key]), step.way) for step in mine if step.key in done.facts]
        turned, turning = 0, None
        for key, fact in done.facts.items():
            if not key.startswith(f"{part}:{TURN}"):
                continue
            way = key.rsplit("/", 1)[1]
            if fact.done:
                turned += 1
                lies.append((_last(fact), way))
            elif fact.running_since is not None:
                turning = (way, fact)
        title = parts[name].name if name in parts else name
        way = max(lies, default=(0.0, ""))[1]
        found.append(Thing(name, title, way, part, TURN_MIN, TURN_PEOPLE, turned, turning))
    return tuple(found)


def _last(fact: Fact) -> float:
    return max([fact.running_since or 0.0, fact.finished or 0.0, *(end for _, end in fact.pieces)])
