"""Gates: what needs access comes before its part is closed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from kiteloom.core.build.behind import behind, followers
from kiteloom.core.build.step import LIST, After, Step


def practised_first(steps: Sequence[Step]) -> tuple[Step, ...]:
    """The same steps, one place that nobody will see covered before the rest, where nothing speaks against it.

    Of several it is the first in order that does not itself come after what waits for it.

    >>> belly = Step("belly", "Cover it", 60, part="belly", practice="first")
    >>> wing = Step("wing", "Cover it", 60, part="wing", practice="after")
    >>> [[link.step for link in step.after] for step in practised_first([wing, belly])]
    [['belly'], []]
    """
    first = [step for step in steps if step.practice == "first"]
    if not first or not any(step.practice == "after" for step in steps):
        return tuple(steps)
    links = followers(steps)
    after = {step.key: behind([step.key], links) for step in steps if step.practice == "after"}
    found = []
    for step in steps:
        tried = next((one for one in first if step.practice == "after" and one.key not in after[step.key]), None)
        found.append(step if tried is None else replace(step, after=(*step.after, After(tried.key, "end"))))
    return tuple(found)


def before_gates(steps: Sequence[Step]) -> tuple[Step, ...]:
    """The same steps, each gate after everything of its part that needs access and does not itself follow it.

    >>> wire = Step("wire", "Lay the wires", 30, part="wing", access=True)
    >>> close = Step("close", "Close it", 90, part="wing", gate=True)
    >>> [link.step for link in before_gates([close, wire])[0].after]
    ['wire']
    """
    links = followers(steps)
    after = {step.key: behind([step.key], links) for step in steps if step.gate}
    linked = []
    for step in steps:
        if step.gate:
            known = {link.step for link in step.after}
            more = [
                After(other.key)
                for other in steps
                if other.access and other.part == step.part and other.key not in after[step.key] | known
            ]
            linked.append(replace(step, after=(*step.after, *more)))
        else:
            linked.append(step)
    return tuple(linked)


def with_lists(steps: Sequence[Step], minutes: Mapping[str, tuple[int, float]]) -> tuple[Step, ...]:
    """The same steps, the lines of each gate's list that nothing else plans as one step before it.

    That step waits for the other parts that the gate, and what leads to it in its own part, wait for.

    Parameters
    ----------
    minutes : mapping of str to (int, float)
        By the gate's key, so many lines that are open, and what they take together [min].

    >>> gate = Step("wing:close", "Close it", 90, part="wing", gate=True)
    >>> [(one.name, one.minutes) for one in with_lists([gate], {"wing:close": (3, 40)})]
    [('What is on its list: 3 lines', 40), ('Close it', 90)]
    """
    by_key = {step.key: step for step in steps}
    found: list[Step] = []
    for step in steps:
        count, takes = minutes.get(step.key, (0, 0.0))
        if count:
            name = f"What is on its list: {count} {'line' if count == 1 else 'lines'}"
            waits = _elsewhere(step, by_key)
            before = Step(f"{step.key}{LIST}", name, takes, 1, waits, may_pause=True, part=step.part, job=step.job,
                          kind="list")  # fmt: skip
            found += [before, replace(step, after=(*step.after, After(before.key)))]
        else:
            found.append(step)
    return tuple(found)


def _elsewhere(gate: Step, by_key: Mapping[str, Step]) -> tuple[After, ...]:
    """The links to other parts of a gate and of what leads to it in its own part."""
    links: dict[str, After] = {}
    seen, trail = {gate.key}, [gate]
    while trail:
        for link in trail.pop().after:
            before = by_key.get(link.step)
            if before is None or before.part != gate.part:
                links.setdefault(link.step, link)
            elif before.key not in seen:
                seen.add(before.key)
                trail.append(before)
    return tuple(links.values())
