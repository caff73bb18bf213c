"""A finish no plan can beat: each chain by itself, the crew's hours, the busiest skill, the busiest station."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.queue import tails_of
from kiteloom.core.plan.use import Hours


def bound_of(
    job: PlanInput, steps: Sequence[Step], placed: Mapping[str, Placed], hours: Hours, alone: Mapping[str, Placed]
) -> float:
    """The latest of all bounds [min].

    Parameters
    ----------
    steps : sequence of Step
        In order, each after those it waits for.
    placed, alone : mapping
        The plan, and its steps as each chain would go with people and stations to itself.

    Notes
    -----
    Whatever a crew, a skill or a station must work off can't begin before the first of its
    steps could, and after the last of them the shortest rest of a chain still follows.
    """
    todo = [step for step in steps if step.key in alone and placed[step.key].state in ("to do", "paused")]
    left = {
        step.key: max(step.length - (job.facts[step.key].worked_min if step.key in job.facts else 0), GRID_MIN)
        for step in todo
    }
    airs = (job.profile, *job.own.values(), *job.zones.values())
    warmest = max(float(air.celsius.max()) for air in airs)
    tails = tails_of([step for step in steps if step.key in alone], warmest)
    bounds = [p.ready for p in alone.values() if p.ready is not None]

    def work_off(mine: Sequence[Step], minutes: float) -> None:
        if mine:
            first = min(alone[step.key].begins for step in mine)
            # What never gets ready counts to the end of its work only.
            rest = min(tails[step.key] - step.length if alone[step.key].ready is not None else 0 for step in mine)
            bounds.append(worked_off(minutes, first, hours) + rest)

    if job.crew:
        mine = [step for step in todo if step.people]
        work_off(mine, sum(left[step.key] * step.people for step in mine) / len(job.crew))
    for skill in {skill for step in todo for skill in step.skills}:
        mine = [step for step in todo if skill in step.skills]
        work_off(mine, sum(left[step.key] for step in mine) / sum(skill in member.skills for member in job.crew))
    for station in job.stations:
        mine = [step for step in todo if station.id in step.stations]
        if mine and station.capacity:
            work_off(mine, sum(left[step.key] for step in mine) / station.capacity)
    return max(bounds, default=job.start)


def worked_off(minutes: float, start: float, hours: Hours) -> float:
    """When so many minutes of open hours have gone by.

    >>> hours = Hours.of([(540, 720), (780, 1080)])
    >>> worked_off(200, 540, hours)
    800
    """
    at = start
    for opens, closes in hours.open:
        if minutes <= 0:
            break
        taken = min(minutes, max(closes - max(opens, start), 0))
        if taken:
            minutes, at = minutes - taken, max(opens, start) + taken
    return at
