"""A finish no plan can beat, and why: each chain by itself, the hours of crew and skills, stations' time and days."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.input import PlanInput, Station
from kiteloom.core.plan.placed import Limit, Placed
from kiteloom.core.plan.queue import longest_chains
from kiteloom.core.plan.search import Search

#: Of the heads and of the rests of chains so many are tried, to find the part of the work that holds longest.
CUTS = 4

#: Open hours with no longer a break between them are of one day [min].
BREAK_MIN = 4 * 60.0

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class _Mine:
    """Steps that share something: the soonest each can begin, the least that follows its work, and what it takes."""

    heads: Floats
    rests: Floats
    takes: Floats


def bound_of(
    job: PlanInput, steps: Sequence[Step], placed: Mapping[str, Placed], search: Search, alone: Mapping[str, Placed]
) -> tuple[float, Limit | None]:
    """The latest of all bounds [min], and what holds it.

    Parameters
    ----------
    steps : sequence of Step
        In order, each after those it waits for.
    placed, alone : mapping
        The plan, and its steps as each chain would go with people and stations to itself.

    Notes
    -----
    Whatever a crew, a skill or a station must work off can't begin before the first of its steps could, and after the
    last of them the shortest rest of a chain still follows; that holds for any part of them, and some are tried. Work
    of somebody is done while they are there. A crew all there at the same hours does steps of more than half of it one
    after the other (a dual feasible function; S. P. Fekete and J. Schepers, 2001, from memory). A station that is held
    through waits is taken for work and the least its wait can be in its own air; what takes longer than a day is open
    goes on it once a day.
    """
    todo = [step for step in steps if step.key in alone and placed[step.key].state in ("to do", "paused")]
    ends = {key: p.ready for key, p in alone.items() if p.ready is not None}
    last = max(ends, key=lambda key: ends[key], default=None)
    found: list[tuple[float, Limit | None]] = [(job.start, None)]
    if last is not None:
        found.append((ends[last], Limit("chain", last)))
    if not todo:
        return max(found, key=lambda one: one[0])
    until = max((p.end if p.ready is None else p.ready for p in placed.values()), default=job.start)
    least = _least_waits(search, until, {key for key, p in alone.items() if p.ready is None})
    tails = longest_chains([step for step in steps if step.key in alone], least)
    worked = {key: fact.worked_min for key, fact in job.facts.items()}
    left = {step.key: max(step.length - worked.get(step.key, 0.0), GRID_MIN) for step in todo}

    def mine(chosen: Sequence[Step], takes: Callable[[Step], float]) -> _Mine:
        return _Mine(
            np.array([alone[step.key].begins for step in chosen]),
            # What never gets ready counts to the end of its work only.
            np.array([tails[s.key] - s.length if alone[s.key].ready is not None else 0.0 for s in chosen]),
            np.array([takes(step) for step in chosen]),
        )

    def worked_by(members: Sequence[str], chosen: Sequence[Step], takes: Callable[[Step], float], limit: Limit) -> None:
        if chosen and members:
            hours = _Hours.of([search.roster.there(member).open for member in members])
            found.append((_worked_off(mine(chosen, takes), hours.gone), limit))

    everybody = [member.id for member in job.crew]
    work = [step for step in todo if step.people]
    hours = sum(left[step.key] * step.people for step in work)
    alike = len({search.roster.kind[member] for member in everybody}) == 1
    for small in range(len(everybody) // 2 + 1 if alike else 1):
        hands = {step.key: _hands(step.people, small, len(everybody)) * left[step.key] for step in work}
        worked_by(everybody, work, lambda s, hands=hands: hands[s.key], Limit("crew", "", hours))  # type: ignore[misc]
    for skill in dict.fromkeys(skill for step in todo for skill in step.skills):
        theirs = [step for step in todo if skill in step.skills]
        who = [member.id for member in job.crew if skill in member.skills]
        worked_by(who, theirs, lambda s: left[s.key], Limit("skill", skill, sum(left[s.key] for s in theirs)))
    days = _days(search.hours.open)
    for station in job.stations:
        on_it = [step for step in todo if station.id in step.stations]
        if on_it and station.capacity:
            found += _of_station(station, on_it, mine, left, least, search, days)
    return max(found, key=lambda one: one[0])


def _least_waits(search: Search, until: float, never: set[str]) -> Callable[[Step, str], float]:
    def least(step: Step, event: str) -> float:
        stage = step.wait_stage if event == "wait" else event
        if step.cure is None or stage is None:
            return step.wait_min
        if step.key in never or not step.cure.has(stage):
            return 0.0
        return search.airs.least(step.cure, step.cure.hours(stage), until, search.airs.where(step))

    return least


def _hands(people: int, small: int, crew: int) -> int:
    """How many hands a step counts: all where hardly anybody is left beside it, none where it is small."""
    if people > crew - small:
        return crew
    return people if people >= small else 0


def _of_station(
    station: Station,
    on_it: Sequence[Step],
    mine: Callable[[Sequence[Step], Callable[[Step], float]], _Mine],
    left: Mapping[str, float],
    least: Callable[[Step, str], float],
    search: Search,
    days: Sequence[Interval],
) -> list[tuple[float, Limit | None]]:
    """What a station's work, the time it is taken, and the days it takes come to."""
    serves = station.capacity
    taken = {s.key: left[s.key] + (least(s, "wait") if s.holds else 0.0) for s in on_it}
    whole = Limit("station", station.id, sum(taken.values()))
    work = _Hours.of([search.hours.open] * serves)
    found: list[tuple[float, Limit | None]] = [(_worked_off(mine(on_it, lambda s: left[s.key]), work.gone), whole)]
    through = mine(on_it, lambda s: taken[s.key])
    # What is taken through its wait is over with it: the rest of its chain then goes on from there.
    waits = np.array([taken[s.key] - left[s.key] for s in on_it])
    through = _Mine(through.heads, through.rests - waits, through.takes)
    found.append((_worked_off(through, lambda minutes, start: start + minutes / serves), whole))
    longest = max((closes - opens for opens, closes in days), default=0.0)
    for times in (1, 2):
        long = [step for step in on_it if taken[step.key] >= longest / times]
        if not long or not longest:
            continue
        some = mine(long, lambda _: 1.0)
        first = next((n for n, (_, closes) in enumerate(days) if closes > float(some.heads.min())), len(days))
        day = first + math.ceil(len(long) / (times * serves)) - 1
        if first < day < len(days):
            rest = float((some.rests + np.array([left[step.key] for step in long])).min())
            found.append((days[day][0] + rest, Limit("days", station.id, 0.0, len(long), times * serves)))
    return found


def _days(spans: Sequence[Interval]) -> list[Interval]:
    """From the first opening of each day to its last closing."""
    found: list[Interval] = []
    for opens, closes in spans:
        if found and opens - found[-1][1] <= BREAK_MIN:
            found[-1] = (found[-1][0], closes)
        else:
            found.append((opens, closes))
    return found


def _worked_off(mine: _Mine, gone: Callable[[float, float], float]) -> float:
    """The latest bound of any part of the steps that is cut off by its heads and by its rests."""
    best = -math.inf
    for head in _cuts(mine.heads):
        for rest in _cuts(mine.rests):
            part = (mine.heads >= head) & (mine.rests >= rest)
            if part.any():
                over = gone(float(mine.takes[part].sum()), float(mine.heads[part].min()))
                best = max(best, over + float(mine.rests[part].min()))
    return best


def _cuts(values: Floats) -> Floats:
    return np.unique(np.quantile(values, np.linspace(0, 1, CUTS), method="lower"))


@dataclass(frozen=True)
class _Hours:
    """How much work can be done by when: hands times minutes, at the ends of stretches with as many hands each."""

    ends: Floats
    done: Floats

    @classmethod
    def of(cls, theirs: Sequence[Sequence[Interval]]) -> _Hours:
        """Of several at once, each in their hours."""
        points = np.array([edge for spans in theirs for span in spans for edge in span])
        steps = np.array([hand for spans in theirs for _ in spans for hand in (1.0, -1.0)])
        order = np.argsort(points, kind="stable")
        ends, hands = points[order], np.cumsum(steps[order])
        done = np.concatenate(([0.0], np.cumsum(hands[:-1] * np.diff(ends)))) if len(ends) else np.zeros(0)
        return cls(ends, done)

    def gone(self, minutes: float, start: float) -> float:
        """When so much is done that is begun at a time [min]; the last hour there is where it never is.

        >>> round(_Hours.of([[(540, 720), (780, 1080)]]).gone(200, 540))
        800
        """
        if not len(self.ends):
            return start
        target = float(np.interp(start, self.ends, self.done)) + minutes
        at = int(np.searchsorted(self.done, target - 1e-9, side="left"))
        if at == 0 or at >= len(self.ends):
            return start if at == 0 else float(self.ends[-1])
        before, slope = float(self.done[at - 1]), float(self.done[at] - self.done[at - 1])
        length = float(self.ends[at] - self.ends[at - 1])
        return max(float(self.ends[at - 1]) + length * (target - before) / slope, start)
