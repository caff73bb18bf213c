"""What makes one plan better than another, in the builder's words: one aim at a time, ties by the next."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, tzinfo
from typing import Literal

from kiteloom.core.base.calendar import joined_up, moment_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.plan.plan import Plan

AIMS = ("soonest", "calm", "turnings", "heating")


@dataclass(frozen=True)
class Aim:
    """What a better plan is.

    - ``soonest``: all done soonest; then the fewest turnings.
    - ``calm``: all done by a time, with the calmest days.
    - ``turnings``: the fewest turnings; then all done soonest.
    - ``heating``: the fewest hours in which something needs the warmth its sheet asks for; then all done soonest.
    """

    kind: Literal["soonest", "calm", "turnings", "heating"] = "soonest"
    by: float | None = None
    zone: tzinfo = UTC
    """Whose days are to be calm."""

    def __post_init__(self) -> None:
        if (self.kind == "calm") != (self.by is not None):
            raise Refused("by", "calm days want a day by which all is to be done" if self.by is None else
                          "only calm days want a day by which all is to be done")  # fmt: skip


SOONEST = Aim()


def judged(plan: Plan, aim: Aim = SOONEST) -> tuple[float, ...]:
    """What makes one plan better than another, the lesser the better; what is left out comes first with every aim.

    >>> judged(plan)[0], judged(plan, Aim("turnings"))[1]
    (0, 0)
    """
    end, turns = plan.finish or plan.start, turnings(plan)
    if aim.kind == "turnings":
        return len(plan.unplaced), turns, end
    if aim.kind == "heating":
        return len(plan.unplaced), warm_min(plan), end, turns
    if aim.by is not None:
        return len(plan.unplaced), max(end - aim.by, 0.0), day_of_an_hour(plan, aim.zone), turns
    return len(plan.unplaced), end, turns


def measured(plan: Plan, aim: Aim) -> float:
    """What is told of a plan by its aim: its end [min], its fullest day [h], its turnings, its hours of warmth [h].

    >>> measured(plan, SOONEST) == plan.finish, measured(plan, Aim("calm", 0.0))
    (True, 2.5)
    """
    if aim.kind == "soonest":
        return plan.finish or plan.start
    if aim.kind == "calm":
        return fullest_day(plan, aim.zone)
    return float(turnings(plan)) if aim.kind == "turnings" else warm_min(plan) / 60


def turnings(plan: Plan) -> int:
    """How often something is still turned.

    >>> turnings(plan)
    0
    """
    return sum(placed.step.kind == "turn" and placed.state != "done" for placed in plan.placed)


def warm_min(plan: Plan) -> float:
    """How long anything ahead needs the warmth its sheet asks for, in any air: outside of it a heater may be off [min].

    >>> warm_min(plan)  # no step of it asks for any
    0
    """
    spans: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for placed in plan.placed:
        if placed.step.min_c is not None and placed.state != "done":
            until = placed.end if placed.step.limits_until == "end" or placed.ready is None else placed.ready
            spans[placed.air].append((placed.begins, max(until, placed.end)))
    return sum(end - start for theirs in spans.values() for start, end in joined_up(sorted(theirs)))


def days_of(plan: Plan, zone: tzinfo = UTC) -> Mapping[int, float]:
    """Hands-on hours of each day of a zone with work ahead, by its ordinal [h]."""
    found: dict[int, float] = defaultdict(float)
    for placed in plan.placed:
        if placed.state != "done" and placed.step.people:
            for begins, ends in placed.pieces[placed.worked :]:
                found[day_of(begins, zone)] += (ends - begins) * placed.step.people / 60
    return found


def day_of(minute: float, zone: tzinfo = UTC) -> int:
    """The ordinal of the day a minute is of, in a zone.

    >>> day_of(1440) - day_of(1439)
    1
    """
    return moment_of(minute, zone).toordinal()


def day_of_an_hour(plan: Plan, zone: tzinfo = UTC) -> float:
    """How long the day is on which an hour of work falls, on the mean [h]: the less, the calmer the days are.

    >>> day_of_an_hour(plan)  # 2 h 30 on the first day, half an hour on the next
    2.1666666666666665
    """
    hours = [hour for hour in days_of(plan, zone).values() if hour]
    return sum(hour * hour for hour in hours) / sum(hours) if hours else 0.0


def fullest_day(plan: Plan, zone: tzinfo = UTC) -> float:
    """The hours of the day with the most work [h].

    >>> fullest_day(plan)
    2.5
    """
    return max(days_of(plan, zone).values(), default=0.0)


def stretched(plan: Plan, by: float, share: float, latest: Mapping[str, float]) -> dict[str, float]:
    """From when each step should begin if a plan takes so much of the time there is more [min].

    Parameters
    ----------
    by : float
        When all is to be done [min].
    share : float
        Of the time between the end of the plan and then.
    latest : mapping
        How late each step could begin without a later end of the plan, by its key [min].

    >>> spread = stretched(plan, plan.finish + 1440, 0.5, {"bed": plan.start, "layup": plan.start + 90})
    >>> round(spread["layup"] - plan.start)
    90
    """
    finish = plan.finish or plan.start
    spare = max(by - finish, 0.0)
    factor = 1 + share * spare / max(finish - plan.start, 1.0)
    return {
        placed.step.key: min(
            plan.start + (placed.begins - plan.start) * factor, latest.get(placed.step.key, math.inf) + spare
        )
        for placed in plan.placed
        if placed.state == "to do"
    }
