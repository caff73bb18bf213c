"""A finish no plan can beat, and why: a chain by itself, hours of crew and skills, fit air, stations' time and days."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.calendar import Interval, both
from kiteloom.core.build.step import Step
from kiteloom.core.plan.input import PlanInput, Station
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Limit
from kiteloom.core.plan.search import Search
from kiteloom.core.plan.use import SAME_MIN
from kiteloom.core.plan.windows import Air, Floats, Kind, Turnings, Windows, air_of, kind_of

#: The bound is found to so much [min].
NEAR_MIN = 1.0

#: Of the soonest starts so many are tried, to find the part of the work that holds longest.
CUTS = 16

#: Open hours with no longer a break between them are of one day [min].
BREAK_MIN = 4 * 60.0


def bound_of(
    job: PlanInput, steps: Sequence[Step], placed: Mapping[str, Placed], search: Search, alone: Mapping[str, Placed]
) -> tuple[float, Limit | None]:
    """What no plan can end before [min], to `NEAR_MIN`, and what holds it.

    Parameters
    ----------
    steps : sequence of Step
        In order, each after those it waits for.
    placed, alone : mapping
        The plan, and its steps as each chain would go with people and stations to itself.

    Notes
    -----
    If all is to end by a time each step has a window: it begins no sooner than its chain allows by itself, and is over
    before what follows it must begin, by the shop's hours, the air's own cures, and in air that is fit for as long as
    it must. Some steps with windows inside a span must do all they take in it: hours of the crew, or of those with a
    skill, while they are there; with limits, in the hours of such air; a station's time; its days. Where that is more
    than there is, nothing ends by that time. A crew all there at the same hours does steps of more than half of it one
    after the other (a dual feasible function; S. P. Fekete and J. Schepers, 2001,
    from memory). A station that is held through waits is taken for work and the least its wait can be in its own air;
    what holds it for long goes on it no more often than one after the other on a day as warm as that one. What must
    lie another way for some step is turned for it before it.

    References
    ----------
    Destructive bounds: R. Klein and A. Scholl, European Journal of Operational Research 112, 1999 (from memory).
    """
    todo = [step for step in steps if step.key in alone and placed[step.key].state in ("to do", "paused")]
    ends = {key: p.ready for key, p in alone.items() if p.ready is not None}
    last = max(ends, key=lambda key: ends[key], default=None)
    if last is None or not todo:
        return (job.start, None) if last is None else (ends[last], Limit("chain", last))
    low, limit = ends[last], Limit("chain", last)
    high = max(p.over for p in placed.values())
    windows = Windows(job, search, todo, alone, high)
    spans = _spans(job, search, windows)

    def beaten(end: float) -> Limit | None:
        begins, over = windows.until(end)
        for n, span in enumerate(spans):
            if (held := span.too_full(begins, over)) is not None:
                del spans[:n]  # what leaves room for an end leaves it for any later one
                return held
        return None

    if high - low > SAME_MIN and (held := beaten(high - SAME_MIN)) is not None:
        return high, held
    while high - low > NEAR_MIN:
        middle = (low + high) / 2
        held = beaten(middle)
        if held is None:
            high = middle
        else:
            low, limit = middle, held
    return low, limit


def _no_wider(one: Air, other: Air) -> bool:
    """Whether what has the limits of one can never be where the other's limits are broken."""

    def over(mine: float | None, theirs: float | None, sign: int) -> bool:
        return theirs is None or (mine is not None and sign * (mine - theirs) >= 0)

    signs = (1, -1, -1, 1)
    return one[0] == other[0] and all(over(a, b, sign) for a, b, sign in zip(one[1:], other[1:], signs, strict=True))


@dataclass(frozen=True)
class _Span:
    """Some steps that share something: how much they take of it, and how much of it there is between two times.

    ``heads`` are their soonest starts, ``ends`` gives from the latest their work can begin and be over until when they
    must have had it, both on the scale of ``have``.
    """

    limit: Limit
    heads: Floats
    takes: Floats
    ends: Callable[[Floats, Floats], Floats]
    have: Callable[[float, Floats], Floats]

    def too_full(self, begins: Floats, over: Floats) -> Limit | None:
        """Its limit, where some of them take more than there is from their first start to their last end."""
        ends = self.ends(begins, over)
        for head in np.unique(np.quantile(self.heads, np.linspace(0, 1, CUTS), method="lower")):
            part = self.heads >= head
            order = np.argsort(ends[part])
            until, taken = ends[part][order], np.cumsum(self.takes[part][order])
            full = np.nonzero(taken > self.have(float(head), until) + 1e-6)[0]
            if len(full):
                return replace(self.limit, count=int(taken[full[-1]])) if self.limit.kind == "days" else self.limit
        return None


def _spans(job: PlanInput, search: Search, windows: Windows) -> list[_Span]:
    """All that is shared: everybody's hands, those with a skill, stations."""
    steps, left = windows.steps, windows.left
    found: list[_Span] = []

    def worked_by(
        members: Sequence[str],
        chosen: Sequence[int],
        takes: Floats,
        limit: Limit,
        fit: list[Interval] | None = None,
        turnings: Sequence[Turnings] = (),
    ) -> None:
        mine = np.array(chosen)
        if len(mine) and members:
            rows = [search.roster.there(member).open for member in members]
            there = _Hours.of(rows if fit is None else [both(row, fit) for row in rows])
            heads = np.concatenate((windows.heads[mine], np.full(len(takes) - len(mine), job.start)))

            def ends(begins: Floats, over: Floats) -> Floats:
                return np.concatenate((over[mine], [end for one in turnings for end in one.over(begins)]))

            found.append(_Span(limit, heads, takes, ends, there.between))

    everybody = [member.id for member in job.crew]
    work = [n for n, step in enumerate(steps) if step.people]
    turnings = windows.turnings(job.things)
    turns = [one.turn for one in turnings for _ in range(one.many)]
    people = np.array([step.people for step in (*(steps[n] for n in work), *turns)], dtype=float)
    length = np.concatenate((left[work], [turn.length for turn in turns]))
    alike = len({search.roster.kind[member] for member in everybody}) == 1
    for small in range(len(everybody) // 2 + 1 if alike else 1):
        hands = np.where(people > len(everybody) - small, len(everybody), np.where(people >= small, people, 0.0))
        limit = Limit("crew", "", float(people @ length))
        worked_by(everybody, work, hands * length, limit, turnings=turnings)
    for skill in dict.fromkeys(skill for step in steps for skill in step.skills):
        theirs = [n for n, step in enumerate(steps) if skill in step.skills]
        who = [member.id for member in job.crew if skill in member.skills]
        worked_by(who, theirs, left[theirs], Limit("skill", skill, float(left[theirs].sum())))
    airs = {n: air_of(steps[n], search.airs.where(steps[n])) for n in work if steps[n].limited}
    for air, n in {air: n for n, air in airs.items()}.items():
        within = [other for other, theirs in airs.items() if _no_wider(theirs, air)]
        hands = np.array([steps[other].people for other in within]) * left[within]
        worked_by(everybody, within, hands, Limit("air", steps[n].key, float(hands.sum())), windows.fit(steps[n]))
    kinds: dict[Kind, list[int]] = defaultdict(list)
    for n, air in airs.items():
        kinds[kind_of(steps[n], air[0])].append(n)
    for alike_ones in kinds.values():
        step, hands = steps[alike_ones[0]], np.array([steps[n].people for n in alike_ones]) * left[alike_ones]
        limit = Limit("air", step.key, float(hands.sum()))
        worked_by(everybody, alike_ones, hands, limit, windows.lasting(step))
    days = _days(search.hours.open)
    for station in job.stations:
        on_it = [n for n, step in enumerate(steps) if station.id in step.stations]
        if on_it and station.capacity:
            found += _of_station(station, np.array(on_it), windows, search, days)
    return found


def _of_station(
    station: Station,
    on_it: NDArray[np.int64],
    windows: Windows,
    search: Search,
    days: Sequence[Interval],
) -> list[_Span]:
    """A station's time for work, the time it is taken, and the days on which it is taken for long."""
    steps, heads, serves = [windows.steps[n] for n in on_it], windows.heads[on_it], station.capacity
    waits = np.array([windows.least_wait(step) if step.holds else 0.0 for step in steps])
    taken = windows.left[on_it] + waits
    whole = Limit("station", station.id, float(taken.sum()))
    work = _Hours.of([search.hours.open] * serves)
    found = [
        _Span(whole, heads, windows.left[on_it], lambda _, over: over[on_it], work.between),
        _Span(whole, heads, taken, lambda _, over: over[on_it] + waits, lambda start, ends: serves * (ends - start)),
    ]
    longest = max((closes - opens for opens, closes in days), default=math.inf)
    opens = [opens for opens, _ in days]
    for times in (1, 2, 4):
        long = on_it[taken >= longest / times]
        if len(long):
            a_day = serves * windows.times_a_day(long, days)
            so_far = np.concatenate(([0.0], np.cumsum(a_day)))
            found.append(
                _Span(
                    Limit("days", station.id, 0.0, 0, int(a_day.max())),
                    np.maximum(_nth(opens, windows.heads[long]), 1),
                    np.ones(len(long)),
                    lambda begins, _, long=long: _nth(opens, begins[long]),  # type: ignore[misc]
                    lambda first, last, so_far=so_far: so_far[last.astype(int)] - so_far[int(first) - 1],  # type: ignore[misc]
                )
            )
    return found


def _nth(opens: Sequence[float], minutes: Floats) -> Floats:
    """Of which day some minutes are."""
    return np.searchsorted(opens, minutes, side="right").astype(float)


def _days(spans: Sequence[Interval]) -> list[Interval]:
    """From the first opening of each day to its last closing."""
    found: list[Interval] = []
    for opens, closes in spans:
        if found and opens - found[-1][1] <= BREAK_MIN:
            found[-1] = (found[-1][0], closes)
        else:
            found.append((opens, closes))
    return found


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

    def between(self, start: float, ends: Floats) -> Floats:
        """How much can be done from one time to others; all there is where there are no hours at all.

        >>> _Hours.of([[(540, 720), (780, 1080)]]).between(540, np.array([800.0]))
        array([200.])
        """
        if not len(self.ends):
            return np.full(len(ends), math.inf)
        done: Floats = np.interp(ends, self.ends, self.done) - float(np.interp(start, self.ends, self.done))
        return done
