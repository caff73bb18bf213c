"""A finish no plan can beat, and why: a chain by itself, hours of crew and skills, fit air, stations' time and days."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.base.calendar import Interval, both, without
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.cure.progress import HORIZON_MIN
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.input import PlanInput, Station, Thing
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Limit
from kiteloom.core.plan.search import Search

#: The bound is found to so much [min].
NEAR_MIN = 30.0

#: Of the soonest starts so many are tried, to find the part of the work that holds longest.
CUTS = 16

#: Open hours with no longer a break between them are of one day [min].
BREAK_MIN = 4 * 60.0

#: Times nearer to each other are the same: so much less is no longer the end that is asked for [min].
SAME_MIN = 1e-3

Floats = NDArray[np.float64]


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
    high = max(p.end if p.ready is None else p.ready for p in placed.values())
    windows = _Windows(job, search, todo, alone, high)
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


class _Windows:
    """When each step can be worked on at the soonest, and at the latest if all is to end by a time."""

    def __init__(
        self, job: PlanInput, search: Search, todo: Sequence[Step], alone: Mapping[str, Placed], until: float
    ) -> None:
        self.steps, self._alone, self._airs, self._start, self._until = todo, alone, search.airs, job.start, until
        self.heads = np.array([alone[step.key].begins for step in todo])
        worked = {key: fact.worked_min for key, fact in job.facts.items()}
        self.left = np.array([max(step.length - worked.get(step.key, 0.0), GRID_MIN) for step in todo])
        at = {step.key: n for n, step in enumerate(todo)}
        self._follow: list[list[tuple[int, str]]] = [[] for _ in todo]
        for n, step in enumerate(todo):
            for link in step.after:
                if link.step in at:
                    self._follow[at[link.step]].append((n, link.until))
        self._shop = search.hours.open
        self._rows_of: dict[_Kind | None, tuple[list[Interval], list[float]]] = {}
        self._rows = [self._hours(step) for step in todo]

    def until(self, end: float) -> tuple[Floats, Floats]:
        """The latest each step's work can begin, and the latest it can be over, if all is to end by a time [min]."""
        begins, over = np.empty(len(self.steps)), np.empty(len(self.steps))
        for n in range(len(self.steps) - 1, -1, -1):
            step = self.steps[n]
            wanted = {} if self._alone[step.key].ready is None else {"wait": end}
            for follower, event in self._follow[n]:
                wanted[event] = min(wanted.get(event, end), float(begins[follower]))
            latest = min((self._before(step, event, by) for event, by in wanted.items()), default=end)
            begins[n], over[n] = self._worked(n, latest)
        return begins, over

    def turnings(self, things: Sequence[Thing]) -> list[_Turnings]:
        """The turnings that can't be left out."""
        lying: dict[str, dict[str, list[int]]] = {thing.id: defaultdict(list) for thing in things}
        for n, step in enumerate(self.steps):
            if step.way:
                lying[step.thing][step.way].append(n)
        found = []
        for thing in things:
            present = thing.turning[0] if thing.turning else thing.way
            ways = tuple(tuple(rows) for way, rows in lying[thing.id].items() if way != present)
            # Where nothing has said yet how it lies, one of them is free.
            many = len(ways) if present else len(ways) - 1
            if many > 0:
                found.append(_Turnings(thing.turn("", 0), many, ways))
        return found

    def _before(self, step: Step, event: str, by: float) -> float:
        """The latest a step's work can end if an event of it is to come by a time."""
        stage = step.wait_stage if event == "wait" else event
        if event == "end" or stage is None or step.cure is None:
            return by - (step.wait_min if event == "wait" else 0.0)
        return self._airs.made_by(step.cure, step.cure.hours(stage), by, self._airs.where(step))

    def least_wait(self, step: Step, event: str = "wait") -> float:
        """The least it is from a step's work to an event of it, whenever it is done [min]; 0 where it never comes."""
        stage = step.wait_stage if event == "wait" else event
        if event == "end" or stage is None or step.cure is None:
            return step.wait_min if event == "wait" else 0.0
        if self._alone[step.key].ready is None or not step.cure.has(stage):
            return 0.0
        hours, air = step.cure.hours(stage), self._airs.where(step)
        return self._airs.least(step.cure, hours, self._start, self._until, air)

    def fit(self, step: Step) -> list[Interval]:
        """When the air is as a step's limits want it."""
        until = self._until + HORIZON_MIN
        return without([(self._start, until)], self._airs.spells(step, self._airs.where(step), until))

    def _hours(self, step: Step) -> tuple[list[Interval], list[float]]:
        """When a step can be worked on: the shop's hours, so far as the air stays fit for as long as it must."""
        key = _kind_of(step, self._airs.where(step)) if step.limited else None
        if key not in self._rows_of:
            spans = both(self._shop, self.lasting(step)) if step.limited else self._shop
            self._rows_of[key] = (spans, [opens for opens, _ in spans])
        return self._rows_of[key]

    def lasting(self, step: Step) -> list[Interval]:
        """When a step with limits can be worked on for its air: until it would no longer stay fit for long enough."""
        until, cure = step.limits_until, step.cure
        stage = step.wait_stage if until == "wait" else until
        never = until == "wait" and self._alone[step.key].ready is None
        if never or (until != "end" and stage is not None and cure is not None and not cure.has(stage)):
            return self.fit(step)
        left = [(begins, self._before(step, until, ends)) for begins, ends in self.fit(step)]
        return [(begins, ends) for begins, ends in left if begins < ends]

    def times_a_day(self, chosen: Sequence[int], days: Sequence[Interval]) -> Floats:
        """How often at the most a station can be taken by any of some steps on each day, one after the other."""
        # Of those with one wait the shortest work is through first.
        least: dict[tuple[CureSystem | None, str, str], float] = {}
        for n in chosen:
            step = self.steps[n]
            cures = step.holds and step.wait_stage and step.cure is not None and self._alone[step.key].ready is not None
            kind = (step.cure, step.wait_stage or "", self._airs.where(step)) if cures else (None, "", "")
            takes = float(self.left[n]) + (step.wait_min if step.holds and not step.wait_stage else 0.0)
            least[kind] = min(least.get(kind, math.inf), takes)
        counts = []
        for opens, closes in days:
            at, count = max(opens, self._start), 0
            while at < min(closes, self._until):
                count += 1
                overs = []
                for (cure, stage, air), takes in least.items():
                    ready = self._airs.reaches(cure, at + takes, cure.hours(stage), air) if cure is not None else None
                    overs.append(at + takes if ready is None else ready)
                at = min(overs)
            counts.append(float(count))
        return np.array(counts)

    def _worked(self, n: int, by: float) -> tuple[float, float]:
        """The latest a step's work can begin, and be over, if it is to be over by a time."""
        step, takes, over = self.steps[n], float(self.left[n]), -math.inf
        spans, starts = self._rows[n]
        for i in range(bisect_left(starts, by) - 1, -1, -1):
            opens, closes = spans[i]
            last = math.floor(min(closes, by) / GRID_MIN + 1e-4) * GRID_MIN
            room = last - opens
            if step.may_pause and room > 0:
                over = max(over, last)
                if room >= takes - SAME_MIN:
                    return last - takes, over
                takes -= room
            elif room >= takes - SAME_MIN:
                return last - takes, last
        return -math.inf, -math.inf


@dataclass(frozen=True)
class _Turnings:
    """As many turnings of a thing, each before the first step of some other way, by which of the steps those are."""

    turn: Step
    many: int
    ways: tuple[tuple[int, ...], ...]

    def over(self, begins: Floats) -> list[float]:
        """When each must be over, if the steps begin at the latest then [min]."""
        return sorted(min(float(begins[n]) for n in rows) for rows in self.ways)[-self.many :]


_Air = tuple[str, float | None, float | None, float | None, float | None]


def _air_of(step: Step, air: str) -> _Air:
    """The air a step has, and its limits."""
    return air, step.min_c, step.max_c, step.max_rh_pct, step.margin_k


_Kind = tuple[_Air, CureSystem | None, str | None, str, float]


def _kind_of(step: Step, air: str) -> _Kind:
    """All that says when its air is fit for a step."""
    return _air_of(step, air), step.cure, step.wait_stage, step.limits_until, step.wait_min


def _no_wider(one: _Air, other: _Air) -> bool:
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


def _spans(job: PlanInput, search: Search, windows: _Windows) -> list[_Span]:
    """All that is shared: everybody's hands, those with a skill, stations."""
    steps, left = windows.steps, windows.left
    found: list[_Span] = []

    def worked_by(
        members: Sequence[str],
        chosen: Sequence[int],
        takes: Floats,
        limit: Limit,
        fit: list[Interval] | None = None,
        turnings: Sequence[_Turnings] = (),
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
    airs = {n: _air_of(steps[n], search.airs.where(steps[n])) for n in work if steps[n].limited}
    for air, n in {air: n for n, air in airs.items()}.items():
        within = [other for other, theirs in airs.items() if _no_wider(theirs, air)]
        hands = np.array([steps[other].people for other in within]) * left[within]
        worked_by(everybody, within, hands, Limit("air", steps[n].key, float(hands.sum())), windows.fit(steps[n]))
    kinds: dict[_Kind, list[int]] = defaultdict(list)
    for n, air in airs.items():
        kinds[_kind_of(steps[n], air[0])].append(n)
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
    windows: _Windows,
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
