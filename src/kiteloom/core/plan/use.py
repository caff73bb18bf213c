"""People and stations over time: what is taken of them, and when each of the crew is there."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Iterable, Sequence
from itertools import chain, combinations, islice, pairwise

from kiteloom.core.base.calendar import Interval, both, longest, without
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.input import PlanInput

#: From when there is room, until when, and what fills it before; ``""`` where nothing does.
Room = tuple[float, float, str]


#: Times nearer to each other are the same [min].
SAME_MIN = 1e-3


def worked_by(
    spans: Sequence[Interval], starts: Sequence[float], needed: float, by: float, *, pauses: bool
) -> tuple[float, float]:
    """The latest work can begin on the grid, and be over, if it is to be over by a time [min]; -inf where it can't.

    Parameters
    ----------
    spans, starts : sequence
        When it can be worked on, in order, and when each of that begins.
    needed : float
        How long it takes [min].
    pauses : bool
        Whether it may be laid aside between them.

    >>> worked_by([(0, 60), (90, 150)], [0, 90], 90, 150, pauses=True)
    (30.0, 150)
    """
    takes, over = needed, -math.inf
    for i in range(bisect_left(starts, by) - 1, -1, -1):
        opens, closes = spans[i]
        last = math.floor(min(closes, by) / GRID_MIN + 1e-4) * GRID_MIN
        room = last - opens
        if pauses and room > 0:
            over = max(over, last)
            if room >= takes - SAME_MIN:
                return float(last - takes), over
            takes -= room
        elif room >= takes - SAME_MIN:
            return float(last - takes), last
    return -math.inf, -math.inf


class Use:
    """How much of one resource is taken over time.

    ``at_first`` says when it is free while some hours are open, before anything is taken of it.
    """

    def __init__(
        self,
        capacity: int,
        gone: Sequence[Interval] = (),
        at_first: Callable[[Hours], Free] = lambda hours: hours.whole,
    ) -> None:
        self.capacity, self._at_first = capacity, at_first
        self._times: list[float] = [-math.inf]
        self._load: list[int] = [0]
        self._by: list[str] = [""]
        self.taken = 0.0
        self._pieces: list[Interval] = []
        self._free: dict[Hours, Free] = {}
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
        other = Use(self.capacity, (), self._at_first)
        other._times, other._load, other._by = self._times[:], self._load[:], self._by[:]
        other.taken, other._pieces = self.taken, self._pieces[:]
        other._free = {hours: free.copy() for hours, free in self._free.items()}
        return other

    def free(self, hours: Hours) -> Free:
        """When it is free while some hours are open.

        >>> use, day = Use(1), Hours.of([(0, 180)])
        >>> use.take(30, 60, "layup")
        >>> use.free(day).soonest(0, 60, pauses=False)
        60.0
        """
        free = self._free.get(hours)
        if free is None:
            free = self._free[hours] = self._at_first(hours).copy()
            for piece in self._pieces:
                free.cut(*piece)
        return free

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
        self._pieces.append((start, end))
        for free in self._free.values():
            free.cut(start, end)
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

    def room(self, start: float, length: float) -> Room:
        """The first room of a length from a time on.

        >>> use = Use(1)
        >>> use.take(0, 60, "layup")
        >>> use.room(50, 20), use.room(-20, 20)
        ((60, inf, 'layup'), (-20, 0, ''))
        """
        times, load, capacity, last = self._times, self._load, self.capacity, len(self._times) - 1
        i = bisect_right(times, start) - 1
        begin, by = start, ""
        while True:
            while load[i] >= capacity:
                by = self._by[i]
                if i == last:
                    return math.inf, math.inf, by
                i += 1
                begin = times[i]
            while i < last and load[i] < capacity:
                i += 1
            until = math.inf if load[i] < capacity else times[i]
            if until >= begin + length:
                return begin, until, by

    def busy(self, pieces: Sequence[Interval]) -> tuple[float, str] | None:
        """The last spell in which it is full during one of some pieces of work: when it ends, and what fills it.

        >>> use = Use(1)
        >>> use.take(0, 60, "layup")
        >>> use.busy([(50, 70), (80, 90)])
        (60, 'layup')
        """
        found = None
        for piece in pieces:
            found = self.full(*piece) or found
        return found


class Free:
    """When somebody is free while some hours are open: stretches, and which go on over a break alone.

    What holds for all people of a kind at first is copied and cut for each.
    """

    def __init__(self, starts: list[float], ends: list[float], joined: list[bool]) -> None:
        self._starts, self._ends, self._joined = starts, ends, joined

    @classmethod
    def of(cls, hours: Sequence[Interval]) -> Free:
        """Whenever it is open.

        >>> Free.of([(0, 60), (90, 150)]).soonest(20, 90, pauses=True)
        20.0
        """
        row = [(math.ceil(opens / GRID_MIN) * GRID_MIN, closes) for opens, closes in hours]
        starts, ends = [float(a) for a, b in row if a < b], [b for a, b in row if a < b]
        return cls(starts, ends, [True] * (len(starts) - 1) + [False] * bool(starts))

    def within(self, there: Sequence[Interval]) -> Free:
        """Only where somebody is there, in order too.

        >>> Free.of([(0, 60), (90, 150)]).within([(30, 60), (90, 120)]).soonest(20, 60, pauses=True)
        30.0
        """
        row = list(zip(self._starts, self._ends, strict=True))
        spans = both(row, there)
        follows = dict(zip(self._ends, self._starts[1:], strict=False))
        joined = [follows.get(closes) == opens for (_, closes), (opens, _) in pairwise(spans)]
        return Free([a for a, _ in spans], [b for _, b in spans], joined + [False] * bool(spans))

    def copy(self) -> Free:
        """As it is now."""
        return Free(self._starts[:], self._ends[:], self._joined[:])

    def cut(self, start: float, end: float) -> None:
        """That somebody is not free for a while.

        >>> free = Free.of([(0, 60), (90, 150)])
        >>> free.cut(90, 100)
        >>> free.soonest(20, 90, pauses=True)
        inf
        """
        starts, ends, joined = self._starts, self._ends, self._joined
        first = bisect_right(ends, start)
        last = bisect_left(starts, end, first)
        if first >= last:
            return
        begins, stops, goes_on = [], [], []
        if starts[first] < start:
            begins, stops, goes_on = [starts[first]], [start], [False]
        elif first:
            joined[first - 1] = False
        if ends[last - 1] > end:
            begins.append(end)
            stops.append(ends[last - 1])
            goes_on.append(joined[last - 1])
        starts[first:last], ends[first:last], joined[first:last] = begins, stops, goes_on

    def soonest(self, moment: float, length: float, *, pauses: bool) -> float:
        """The first start on the grid from a moment on of work so long, that may pause over breaks or not [min].

        >>> Free.of([(0, 60), (90, 150)]).soonest(20, 50, pauses=False)
        90.0
        """
        starts, ends, joined = self._starts, self._ends, self._joined
        for i in range(bisect_right(ends, moment), len(ends)):
            start = starts[i] if starts[i] > moment else moment
            start = float(math.ceil(start / GRID_MIN - 1e-9) * GRID_MIN)
            left = length - (ends[i] - start)
            if left <= 0:
                return start
            if pauses and joined[i] and left < length:
                while left > 0 and joined[i]:
                    i += 1
                    left -= ends[i] - starts[i]
                if left <= 0:
                    return start
        return math.inf


class Hours:
    """Open intervals and, for the search, when each closes."""

    def __init__(self, spans: list[Interval]) -> None:
        self.open = spans
        self.closes = [closes for _, closes in spans]
        self.whole: Free = Free.of(spans)

    @classmethod
    def of(cls, spans: Iterable[Interval]) -> Hours:
        """From intervals in order.

        >>> Hours.of([(540, 720), (780, 1080)]).closes
        [720, 1080]
        """
        return cls(list(spans))

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


Team = tuple[Hours, tuple[frozenset[str], ...]]
"""Hours work can pause by, and of whom somebody each must be on it."""


class Roster:
    """When each of the crew is there: hours of their own inside the shop's, less when they are away."""

    def __init__(self, job: PlanInput, shop: Hours, start: float, end: float) -> None:
        self.shop, self._crew = shop, job.crew
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
        self._free: dict[tuple[Hours, int], Free] = {}
        self._kinds: dict[Hours, set[int]] = {shop: {0}}
        """Within whose hours some are."""
        self._asked: dict[tuple[int, frozenset[str]], list[Team]] = {}

    def teams(self, step: Step, always: Collection[str] = ()) -> list[Team]:
        """The hours a step's work can pause by, and of whom somebody each must be on it then; none where it is anybody.

        Work that pauses does so when any of those on it goes home, so people of different hours
        are tried apart. Those in ``always`` are taken to be there whenever the shop is open.
        """
        if not step.may_pause or not step.people:
            return [(self.shop, ())]
        asked = step.people, frozenset(always)
        if asked not in self._asked:
            self._asked[asked] = self._teams_of(step.people, always)
        return self._asked[asked]

    def _teams_of(self, people: int, always: Collection[str]) -> list[Team]:
        crew = self._crew
        kind = {member.id: 0 if member.id in always else self.kind[member.id] for member in crew}
        kinds = sorted(set(kind.values()))
        if kinds == [0]:
            return [(self.shop, ())]
        found: list[Team] = []
        of = {each: frozenset(member.id for member in crew if kind[member.id] == each) for each in kinds}
        every = chain.from_iterable([combinations(kinds, n) for n in range(1, min(people, len(kinds)) + 1)])
        for chosen in islice(every, MOST_COMBINED):
            if sum(len(of[each]) for each in chosen) >= people:
                found.append((self._common(chosen), tuple(of[each] for each in chosen)))
        if len(found) > MOST_TEAMS:
            # Of very many the ones who are there together longest, and what everybody shares.
            found.sort(key=lambda team: -sum(end - start for start, end in team[0].open))
            found = [*found[:MOST_TEAMS], (self._common(tuple(kinds)), (frozenset(member.id for member in crew),))]
        return found

    def free(self, member: str, hours: Hours) -> Free:
        """When somebody is free while some hours are open, before anything is planned."""
        kind = self.kind[member]
        within = kind in self._kinds.get(hours, {kind})
        key = hours, 0 if within else kind
        if key not in self._free:
            self._free[key] = hours.whole if within else hours.whole.within(self._there[kind].open)
        return self._free[key]

    def there(self, member: str) -> Hours:
        """When somebody is there, inside the shop's hours."""
        return self._there[self.kind[member]]

    def _common(self, kinds: tuple[int, ...]) -> Hours:
        # All are there only within the shop's hours, which are those of the first kind.
        apart = tuple(kind for kind in kinds if kind) or (0,)
        if apart not in self._teams:
            first, *others = [self._there[kind] for kind in apart]
            spans = first.open
            for other in others:
                spans = both(spans, other.open)
            self._teams[apart] = Hours.of(spans) if others else first
            self._kinds[self._teams[apart]] = {0, *apart}
        return self._teams[apart]
