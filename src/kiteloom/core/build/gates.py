"""Gates: what needs access comes before its part is closed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from kiteloom.core.build.step import After, Step


def before_gates(steps: Sequence[Step]) -> tuple[Step, ...]:
    """The same steps, each gate after everything of its part that needs access and does not itself follow it.

    >>> wire = Step("wire", "Lay the wires", 30, part="wing", access=True)
    >>> close = Step("close", "Close it", 90, part="wing", gate=True)
    >>> [link.step for link in before_gates([close, wire])[0].after]
    ['wire']
    """
    behind: dict[str, set[str]] = {}
    followers: dict[str, list[str]] = defaultdict(list)
    for step in steps:
        for link in step.after:
            followers[link.step].append(step.key)
    for gate in (step for step in steps if step.gate):
        found: set[str] = set()
        trail = [gate.key]
        while trail:
            fresh = set(followers[trail.pop()]) - found
            found |= fresh
            trail += fresh
        behind[gate.key] = found
    linked = []
    for step in steps:
        if step.gate:
            known = {link.step for link in step.after}
            more = [
                After(other.key)
                for other in steps
                if other.access and other.part == step.part and other.key not in behind[step.key] | known
            ]
            linked.append(replace(step, after=(*step.after, *more)))
        else:
            linked.append(step)
    return tuple(linked)
