"""What held a step: the last it came after, by a link or on its station, and so on back to the first."""

from __future__ import annotations

from collections.abc import Mapping

from kiteloom.core.build.step import Step
from kiteloom.core.plan.placed import Placed, event_of
from kiteloom.core.plan.plan import Plan


def alone_on(step: Step, stations: Mapping[str, int]) -> list[str]:
    """The stations of a step that serve one at a time.

    >>> alone_on(small.steps[0], {})
    []
    """
    return [name for name in step.stations if stations.get(name) == 1]


def came_before(plan: Plan, placed: Placed, stations: Mapping[str, int]) -> Placed | None:
    """The last a step came after, or that its station was kept by; None where that was done, or there is none.

    Parameters
    ----------
    stations : mapping
        How many each station serves.

    >>> came_before(plan, plan.by_key["peel"], {}).step.key
    'layup'
    """
    came = [
        (event, other)
        for link in placed.step.after
        if (other := plan.by_key.get(link.step)) is not None
        and (event := event_of(other, link.until, plan.airs)) is not None
    ]
    alone = set(alone_on(placed.step, stations))
    came += [
        (over, other)
        for other in (plan.placed if alone else ())
        if not alone.isdisjoint(other.step.stations)
        and (over := other.over if other.step.holds else other.end) <= placed.begins
    ]
    before = max((row for row in came if row[1] is not placed), key=lambda row: row[0], default=(0.0, None))[1]
    return _earlier(before, placed)


def chain_of(plan: Plan, stations: Mapping[str, int]) -> list[Placed]:
    """The steps that held the end, the last first: each held by the next, by a link, a person, a station or a set-up.

    Parameters
    ----------
    stations : mapping
        How many each station serves.

    >>> [placed.step.key for placed in chain_of(plan, {})]
    ['peel', 'layup', 'bed']
    """
    ahead = [placed for placed in plan.placed if placed.state != "done"]
    if not ahead:
        return []
    found = [max(ahead, key=lambda placed: placed.over)]
    while (before := _held_by(plan, found[-1], stations)) is not None:
        found.append(before)
    return found


def _held_by(plan: Plan, placed: Placed, stations: Mapping[str, int]) -> Placed | None:
    """The step that held one; where hours or the air did, the one it came after."""
    met = placed.met
    before = plan.by_key.get(met.of if met.kind in ("after", "cure", "window") else met.by)
    return came_before(plan, placed, stations) if before is None else _earlier(before, placed)


def _earlier(before: Placed | None, placed: Placed) -> Placed | None:
    return before if before is not None and before.state != "done" and before.begins < placed.begins else None
