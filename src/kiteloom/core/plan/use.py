"""People and stations over time: what is taken of them, and when each of the crew is there."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations, islice

from kiteloom.core.base.calendar import Interval, both, longest, without
from kiteloom.core.build.step import Step
from kiteloom.core.plan.input import Member, PlanInput


class Use:
    """How much of one resource is taken over time."""

    def __init__(self, capacity: int, gone: Sequence[Interval] = ()) -> None:
        self.capacity = capacity
        self._times: list[float] = [-math.inf]
        self._load: list[int] = [0]
        self._by: list[str] = [""]
        self.taken = 0.0
        for start, end in gone:
            if start > self._times[-1]:
                self._times.append(start)
                self._load.append(capacity)
                self._by.append("")
            else:
                self._load[-1] = capacity
            self._times.append(end)
            self._load.append(0)
            self._by.append("")

    def copy(self) -> Use:
        """As it is now."""
        other = Use(self.capacity)
        other._times, other._load, other._by = self._times[:], self._load[:], self._by[:]
        other.taken = self.taken
        return other

    def take(self, start: float, end: float, by: str) -> None:
        """Take one of it.

        >>> use = Use(1)
        >>> use.take(0, 60, "layup")
        >>> use.full(30, 40)
        (60, 'layup')
        """
        if start >= end:
            return
        self.taken += end - start
        first, last = self._cut(start), self._cut(end)
        for i in range(first, last):
            self._load[i] += 1
            self._by[i] = by

    def _cut(self, at: float) -> int:
        i = bisect_left(self._times, at)
        if i == len(self._times) or self._times[i] != at:
            self._times.insert(i, at)
            self._load.insert(i, self._load[i - 1])
            self._by.insert(i, self._by[i - 1])
        return i

    def full(self, start: float, end: float) -> tuple[float, str] | None:
        """If it is ever full between two times: when the last such spell ends, and what fills it.

        Nothing that long can start sooner than that. What fills it is ``""`` when somebody is
        not there.

        >>> use = Use(2)
        >>> use.take(0, 60, "layup")
        >>> use.full(30, 40) is None  # there is room for one more
        True
        """
        times, load, last = self._times, self._load, len(self._times) - 1
        i = bisect_left(times, end) - 1
        while i >= 0 and (i == last or times[i + 1] > start):
            if load[i] >= self.capacity:
                return (times[i + 1] if i < last else math.inf), self._by[i]
            i -= 1
        return None

    def busy(self, pieces: Sequence[Interval]) -> tuple[float, str] | None:
        """If it is ever full during some pieces of work: before when they can't begin, and what fills it last.

        One piece is moved until it finds room; of more only the last that is in the way counts.

        >>> use = Use(1)
        >>> use.take(0, 60, "layup")
        >>> use.busy([(50, 70)])
        (60, 'layup')
        """
        if len(pieces) > 1:
            found = None
            for piece in pieces:
                found = self.full(*piece) or found
            return found
        (at, end), by, times, load, last = pieces[0], "", self._times, self._load, len(self._times) - 1
        length = end - at
        i = bisect_right(times, at) - 1
        while i < last and times[i] < at + length:
            if load[i] >= self.capacity:
                at, by = times[i + 1], self._by[i]
            i += 1
        if i == last and load[i] >= self.capacity and times[i] < at + length:
            at, by = math.inf, self._by[i]
        return None if at == pieces[0][0] else (at, by)


@dataclass(frozen=True)
class Hours:
    """Open intervals and, for the search, when each closes."""

    open: list[Interval]
    closes: list[float]

    @classmethod
    def of(cls, spans: Iterable[Interval]) -> Hours:
        """From intervals in order.

        >>> Hours.of([(540, 720), (780, 1080)]).closes
        [720, 1080]
        """
        found = list(spans)
        return cls(found, [closes for _, closes in found])

    @property
    def longest(self) -> float:
        """The longest stretch [min].

        >>> Hours.of([(540, 720), (780, 1080)]).longest
        300
        """
        return longest(self.open)

    def opening(self, minute: float) -> float:
        """The first open moment from one on; inf if there is none.

        >>> Hours.of([(540, 720), (780, 1080)]).opening(730)
        780
        """
        i = bisect_right(self.closes, minute)
        return max(minute, self.open[i][0]) if i < len(self.open) else math.inf


#: People with hours of their own are combined in so many ways, and work is tried with so many of them.
MOST_COMBINED, MOST_TEAMS = 1500, 16


_Team = tuple[Hours, tuple[frozenset[str], ...]]
"""Hours work can pause by, and of whom somebody each must be on it."""


class Roster:
    """When each of the crew is there: hours of their own inside the shop's, less when they are away."""

    def __init__(self, job: PlanInput, shop: Hours, start: float, end: float) -> None:
        self.shop = shop
        kinds: dict[object, int] = {(None, ()): 0}
        self._there: list[Hours] = [shop]
        self.kind: dict[str, int] = {}
        self.gone: dict[str, list[Interval]] = {}
        for member in job.crew:
            key = (member.hours, member.away)
            if key not in kinds:
                kinds[key] = len(self._there)
                spans = member.hours.intervals(start, end) if member.hours else [(start, end)]
                self._there.append(Hours.of(both(shop.open, without(spans, member.away))))
            self.kind[member.id] = kinds[key]
            # The shop's own hours are kept apart: a step may be held by them alone.
            spans = member.hours.intervals(start, end) if member.hours else [(-math.inf, math.inf)]
            self.gone[member.id] = without([(-math.inf, math.inf)], without(spans, member.away))
        self._teams: dict[tuple[int, ...], Hours] = {}
        self._asked: dict[tuple[int, tuple[str, ...], frozenset[str]], list[_Team]] = {}

    def teams(self, step: Step, crew: Sequence[Member], always: Collection[str] = ()) -> list[_Team]:
        """The hours a step's work can pause by, and of whom somebody each must be on it then; none where it is anybody.

        Work that pauses does so when any of those on it goes home, so people of different hours
        are tried apart. Those in ``always`` are taken to be there whenever the shop is open.
        """
        if not step.may_pause or not step.people:
            return [(self.shop, ())]
        asked = (step.people, tuple(member.id for member in crew), frozenset(always))
        if asked not in self._asked:
            self._asked[asked] = self._teams_of(step.people, crew, always)
        return self._asked[asked]

    def _teams_of(self, people: int, crew: Sequence[Member], always: Collection[str]) -> list[_Team]:
        kind = {member.id: 0 if member.id in always else self.kind[member.id] for member in crew}
        kinds = sorted(set(kind.values()))
        if kinds == [0]:
            return [(self.shop, ())]
        found: list[_Team] = []
        of = {each: frozenset(member.id for member in crew if kind[member.id] == each) for each in kinds}
        every = (chosen for n in range(1, min(people, len(kinds)) + 1) for chosen in combinations(kinds, n))
        for chosen in islice(every, MOST_COMBINED):
            if sum(len(of[each]) for each in chosen) >= people:
                found.append((self._common(chosen), tuple(of[each] for each in chosen)))
        if len(found) > MOST_TEAMS:
            # Of very many the ones who are there together longest, and what everybody shares.
            found.sort(key=lambda team: -sum(end - start for start, end in team[0].open))
            found = [*found[:MOST_TEAMS], (self._common(tuple(kinds)), (frozenset(member.id for member in crew),))]
        return found

    def there(self, member: str) -> Hours:
        """When somebody is there, inside the shop's hours."""
        return self._there[self.kind[member]]

    def _common(self, kinds: tuple[int, ...]) -> Hours:
        if kinds not in self._teams:
            first, *others = (self._there[kind] for kind in kinds)
            spans = first.open
            for other in others:
                spans = both(spans, other.open)
            self._teams[kinds] = Hours.of(spans) if others else first
        return self._teams[kinds]
