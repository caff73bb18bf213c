"""Exact placing: each step at the first moment it can go, its wait at the temperature it will have.

Steps are taken longest remaining chain first, each once all before it are placed, and put at
the first moment at which hours, people, stations and climate allow (serial schedule
generation). It is the only source of times.
"""

from __future__ import annotations

import heapq
import math
from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from kiteloom.core.calendar import Interval, longest
from kiteloom.core.climate import Profile
from kiteloom.core.cure import HORIZON_MIN, CureSystem, Progress, follow, rate
from kiteloom.core.schedule.job import GRID_MIN, Fact, Job, Member, Step, in_order

#: How far ahead a step may be placed.
LOOKAHEAD_MIN = 730 * 24 * 60.0

Kind = Literal["start", "hours", "after", "cure", "crew", "station", "delivery", "climate", "done", "running"]


@dataclass(frozen=True)
class Because:
    """What held a step: ``of`` names the step, person or station; ``by`` the step that kept those busy."""

    kind: Kind
    of: str = ""
    by: str = ""


@dataclass(frozen=True)
class Placed:
    """A step in time [min on the program's clock].

    ``pieces`` are its stretches of work; ``ready`` is when its wait is over, None if it never
    is. A cure counts from ``mixed``.
    """

    step: Step
    start: float
    end: float
    ready: float | None
    because: Because
    pieces: tuple[Interval, ...]
    people: tuple[str, ...] = ()
    mixed: float | None = None
    cure: CureSystem | None = None
    state: Literal["to do", "running", "paused", "done"] = "to do"
    worked: int = 0
    """How many of the pieces were worked already, before work that is to go on."""

    @property
    def begins(self) -> float:
        """When its work begins, or goes on after a pause [min]."""
        return self.pieces[self.worked][0] if self.worked < len(self.pieces) else self.start

    @property
    def done(self) -> bool:
        """Whether its work is over."""
        return self.state == "done"


@dataclass(frozen=True)
class Unplaced:
    """A step that can't be placed, and why, in a sentence."""

    step: Step
    why: str


@dataclass(frozen=True, eq=False)
class Plan:
    """Placed steps in the order of their start, those that can't be, and a time no plan can beat."""

    placed: tuple[Placed, ...]
    unplaced: tuple[Unplaced, ...]
    start: float
    bound: float
    cures: Cures

    @property
    def finish(self) -> float | None:
        """The latest moment anything is ready (or its work ends, when its wait never does); None without steps."""
        return max((p.end if p.ready is None else p.ready for p in self.placed), default=None)

    def by_key(self) -> dict[str, Placed]:
        """The placed steps by key."""
        return {placed.step.key: placed for placed in self.placed}

    def event(self, placed: Placed, until: str) -> float | None:
        """The time of an event others wait for; None if it never comes."""
        return _event(placed, until, self.cures)


class Cures:
    """When cures reach their stages: each product is followed once for all its starts.

    Parts with a temperature of their own are followed in that.
    """

    def __init__(self, profile: Profile, start: float, own: Mapping[str, Profile] | None = None) -> None:
        self._profile, self._start = profile, start
        self._own = {part: Cures(theirs, start) for part, theirs in (own or {}).items()}
        self._followed: dict[CureSystem, Progress] = {}
        self._cold: dict[float, list[Interval]] = {}

    def profile(self, part: str = "") -> Profile:
        """The temperature a part has."""
        return self._own[part]._profile if part in self._own else self._profile

    def reaches(self, system: CureSystem, mixed: float, hours: float, part: str = "") -> float | None:
        """When a mix has had so many hours at the reference [min]; None if not within 60 days."""
        if part in self._own:
            return self._own[part].reaches(system, mixed, hours)
        if mixed < self._start:
            found = follow(system, mixed, self._profile).reaches(hours)
            return None if found is None else mixed + found
        if system not in self._followed:
            self._followed[system] = follow(system, self._start, self._profile, LOOKAHEAD_MIN + HORIZON_MIN)
        progress = self._followed[system]
        since = progress.reaches(progress.at(mixed - self._start) + hours)
        found = None if since is None else self._start + since
        return None if found is None or found - mixed > HORIZON_MIN else found

    def too_cold(self, min_c: float, start: float, end: float, part: str = "") -> float | None:
        """When it is warm enough again, if anything between two times is below a limit; inf if never."""
        if part in self._own:
            return self._own[part].too_cold(min_c, start, end)
        if min_c not in self._cold:
            self._cold[min_c] = below(self._profile, min_c)
        spells = self._cold[min_c]
        at = bisect_left(spells, (max(end, start + 1e-6), -math.inf)) - 1
        return spells[at][1] if at >= 0 and spells[at][1] > start else None


def below(profile: Profile, limit: float) -> list[Interval]:
    """The spells in which a temperature is below a limit [min], in order; open ends are infinite."""
    minutes, over = profile.minutes, profile.celsius - limit
    cold = over < 0
    edges = np.nonzero(cold[:-1] != cold[1:])[0]
    part = over[edges] / (over[edges] - over[edges + 1])
    crossings = (minutes[edges] + part * (minutes[edges + 1] - minutes[edges])).tolist()
    if cold[0]:
        crossings.insert(0, -math.inf)
    if cold[-1]:
        crossings.append(math.inf)
    return list(zip(crossings[::2], crossings[1::2], strict=True))


class _Use:
    """How much of one resource is taken over time."""

    def __init__(self, capacity: int) -> None:
        self.capacity = capacity
        self._times: list[float] = [-math.inf]
        self._load: list[int] = [0]
        self._by: list[str] = [""]

    def take(self, start: float, end: float, by: str) -> None:
        """Take one of it."""
        if start >= end:
            return
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

        Nothing that long can start sooner than that.
        """
        i = bisect_left(self._times, end) - 1
        while i >= 0 and (i + 1 == len(self._times) or self._times[i + 1] > start):
            if self._load[i] >= self.capacity:
                return (self._times[i + 1] if i + 1 < len(self._times) else math.inf), self._by[i]
            i -= 1
        return None

    @property
    def taken(self) -> float:
        """Minutes taken, times how many of it."""
        spans = zip(self._times[1:-1], self._times[2:], self._load[1:-1], strict=True)
        return sum((end - start) * load for start, end, load in spans)


def place(job: Job) -> Plan:
    """Place every step at the first moment it can go: parts that were begun first, then the longest chain.

    Returns
    -------
    Plan
        What can't be placed is left out with the reason, and so are its followers; the rest
        is planned.

    Notes
    -----
    A later start never makes a cure ready sooner, so whatever fills a resource, or is too
    cold, must be over before the work can begin: the search jumps from one such end to the
    next and misses no earlier start.
    """
    return _Placer(job).plan()


def if_next(job: Job) -> dict[str, Placed]:
    """Where each step whose way is free would go if it came next, before anything else that is planned."""
    placer = _Placer(job)
    placer.settle()
    passed = _passed(job.steps, job.facts)
    found = {}
    for step in job.steps:
        if step.key in placer.placed or step.key in passed or placer._impossible(step):
            continue
        if all(link.step in placer.placed or link.step in passed for link in step.after):
            held = placer._held(step)
            placed = held if isinstance(held, str) else placer.first(step, *held)
            if isinstance(placed, Placed):
                found[step.key] = placed
    return found


class _Placer:
    def __init__(self, job: Job, like: _Placer | None = None) -> None:
        self.job = job
        self.open: list[Interval] = like.open if like else job.hours.intervals(job.start, job.start + LOOKAHEAD_MIN)
        self._closes = [closes for _, closes in self.open]
        self.longest = longest(self.open)
        self.cures: Cures = like.cures if like else Cures(job.profile, job.start, job.own)
        self.people = {member.id: _Use(1) for member in job.crew}
        self.stations = {station.id: _Use(station.capacity) for station in job.stations}
        self.placed: dict[str, Placed] = {}
        self.unplaced: dict[str, Unplaced] = {}

    def plan(self) -> Plan:
        steps = in_order(self.job.steps)
        passed = _passed(steps, self.job.facts)
        tails = _tails(steps, self.job.profile, self.job.start)
        self.settle()
        waiting: dict[str, int] = {}
        followers: dict[str, list[Step]] = defaultdict(list)
        ready: list[tuple[bool, float, int, Step]] = []
        # What was begun goes on before anything new: it takes up its mould, its jig, its bench.
        begun = {step.part for step in steps if step.part and step.key in self.job.facts}
        for rank, step in enumerate(self.job.steps):
            if step.key in self.placed or step.key in passed:
                continue
            open_links = {link.step for link in step.after if link.step not in self.placed and link.step not in passed}
            waiting[step.key] = len(open_links)
            for before in open_links:
                followers[before].append(step)
            if not open_links:
                heapq.heappush(ready, (step.part not in begun, -tails[step.key], rank, step))
        ranks = {step.key: rank for rank, step in enumerate(self.job.steps)}
        while ready:
            *_, step = heapq.heappop(ready)
            self._put(step)
            for follower in followers[step.key]:
                waiting[follower.key] -= 1
                if not waiting[follower.key]:
                    fresh = follower.part not in begun
                    heapq.heappush(ready, (fresh, -tails[follower.key], ranks[follower.key], follower))
        placed = sorted(self.placed.values(), key=lambda p: (p.start, p.end, ranks[p.step.key]))
        bound = _bound(self.job, steps, self)
        return Plan(tuple(placed), tuple(self.unplaced.values()), self.job.start, bound, self.cures)

    def settle(self) -> None:
        """Put what has been done, or is being done now."""
        for step in self.job.steps:
            fact = self.job.facts.get(step.key)
            if fact is not None and (fact.done or fact.running_since is not None):
                self._settle(step, fact)

    def _settle(self, step: Step, fact: Fact) -> None:
        if fact.done:
            mixed = fact.mixed.at if fact.mixed else None
            end = fact.finished if fact.finished is not None else (mixed or 0.0)
            pieces, kind, people = fact.pieces or ((end, end),), "done", fact.people
        else:
            assert fact.running_since is not None
            now = max(self.job.start, fact.running_since)
            left = step.length - fact.worked_min - (now - fact.running_since)
            end, mixed = now + max(math.ceil(left / GRID_MIN) * GRID_MIN, GRID_MIN), None
            pieces, kind, people = (*fact.pieces, (fact.running_since, end)), "running", fact.people
        cure = fact.mixed.cure if fact.mixed else step.cure
        begins = mixed if mixed is not None else end
        ready = self._ready(step, begins, cure)
        state: Literal["done", "running"] = "done" if kind == "done" else "running"
        self.placed[step.key] = Placed(
            step,
            pieces[0][0],
            end,
            ready,
            Because(state, step.key),
            pieces,
            people,
            begins if cure else None,
            cure,
            state,
        )
        self._take(step, pieces, end, ready, people)

    def _take(
        self, step: Step, pieces: Sequence[Interval], end: float, ready: float | None, people: Iterable[str]
    ) -> None:
        for name in people:
            if name in self.people:
                for piece in pieces:
                    self.people[name].take(*piece, step.key)
        until = (ready if ready is not None else math.inf) if step.holds else end
        for name in step.stations:
            self.stations[name].take(pieces[0][0], until, step.key)

    def _ready(self, step: Step, begins: float, cure: CureSystem | None) -> float | None:
        if step.wait_stage is None or cure is None:
            return begins + step.wait_min
        if not cure.has(step.wait_stage):
            return None  # another product was mixed than was planned, and its sheet knows no such stage
        return self.cures.reaches(cure, begins, cure.hours(step.wait_stage), step.part)

    def _put(self, step: Step) -> None:
        why = self._impossible(step)
        held = self._held(step) if why is None else why
        found = self.first(step, *held) if not isinstance(held, str) else held
        if isinstance(found, str):
            self.unplaced[step.key] = Unplaced(step, found)
            return
        self.placed[step.key] = found
        self._take(step, found.pieces, found.end, found.ready, found.people)

    def _impossible(self, step: Step) -> str | None:
        crew = self.job.crew
        if step.people > len(crew):
            return f"it takes {_people(step.people)} and there are {len(crew)}"
        for skill in step.skills:
            if not any(skill in member.skills for member in crew):
                return f"nobody has the skill “{skill}”"
        if step.skills and _team(step, list(crew)) is None:
            return f"{_people(step.people)} can't have {' and '.join(f'“{s}”' for s in step.skills)} together"
        for name in step.stations:
            if self.stations[name].capacity < 1:
                return f"the station “{name}” has a capacity of 0"
        return None

    def _held(self, step: Step) -> tuple[float, Because] | str:
        """The first moment its links allow, and which holds it; or why it can't go."""
        moment, because = self.job.start, Because("start")
        if step.not_before is not None and step.not_before > moment:
            moment, because = step.not_before, Because("delivery")
        for link in step.after:
            left = self.unplaced.get(link.step)
            if left is not None:
                return f"it comes after “{left.step.name}”, which can't be placed"
            before = self.placed.get(link.step)
            if before is None:
                continue  # passed: what came later has been done
            event = _event(before, link.until, self.cures)
            if event is None:
                stage = (before.step.wait_stage or "") if link.until == "wait" else link.until
                if before.cure is not None and stage and not before.cure.has(stage):
                    return f"what was mixed for “{before.step.name}” has no stage “{stage}” on its sheet"
                return f"“{before.step.name}” does not reach “{stage}” within 60 days at these temperatures"
            if event > moment:
                kind: Kind = "after" if event <= before.end else "cure"
                moment, because = event, Because(kind, link.step)
        return moment, because

    def first(self, step: Step, moment: float, because: Because, *, shared: bool = True) -> Placed | str:
        """The first moment from one on at which a step can go; or why there is none.

        Without ``shared`` it has people and stations to itself.
        """
        fact = self.job.facts.get(step.key)
        worked = fact.worked_min if fact else 0.0
        needed = max(step.length - math.floor(worked / GRID_MIN) * GRID_MIN, GRID_MIN)
        likes = self._likes(step)
        freed: list[Because] = []
        while True:
            pieces = self._work(step, moment, needed)
            if pieces is None:
                return self._no_room(step, needed, because)
            start, end = pieces[0][0], pieces[-1][1]
            if start - moment >= GRID_MIN:
                because = Because("hours")
            team: tuple[str, ...] = ()
            if shared and step.people:
                got = self._people(step, pieces, likes)
                if isinstance(got, tuple):
                    moment, freed = got
                    because = freed[-1]
                    continue
                team = tuple(got)
                if because.kind == "crew":
                    # Of those who came free then, one who does it is named.
                    because = next((b for b in freed if b.of in team), because)
            ready = self._ready(step, end, step.cure)
            if shared and (full := self._stations(step, start, end, ready)) is not None:
                moment, because = full
                if math.isinf(moment):
                    return f"“{because.of}” is never free again: “{because.by}” does not come off it"
                continue
            if step.min_c is not None:
                warm = self.cures.too_cold(step.min_c, start, ready or end + HORIZON_MIN, step.part)
                if warm is not None:
                    if math.isinf(warm):
                        short = step.min_c - float(self.cures.profile(step.part).celsius[-1])
                        return (
                            f"it needs {step.min_c:g} °C until its wait is over, and the air stays {short:.1f} K short"
                        )
                    moment, because = warm, Because("climate")
                    continue
            worked_pieces = len(fact.pieces) if fact else 0
            if fact and fact.pieces:
                pieces = (*fact.pieces, *pieces)
            state: Literal["to do", "paused"] = "paused" if fact and fact.pieces else "to do"
            cures = step.cure is not None
            return Placed(
                step,
                pieces[0][0],
                end,
                ready,
                because,
                pieces,
                team,
                end if cures else None,
                step.cure,
                state,
                worked_pieces,
            )

    def _likes(self, step: Step) -> set[str]:
        """Who did what came before: they carry on where they can."""
        return {name for link in step.after if link.step in self.placed for name in self.placed[link.step].people}

    def _work(self, step: Step, earliest: float, needed: float) -> tuple[Interval, ...] | None:
        begin = math.ceil(earliest / GRID_MIN - 1e-9) * GRID_MIN
        pieces: list[Interval] = []
        for i in range(bisect_right(self._closes, begin), len(self.open)):
            opens, closes = self.open[i]
            at = max(begin, math.ceil(opens / GRID_MIN) * GRID_MIN)
            room = closes - at
            if room <= 0:
                continue
            if not step.may_pause:
                if room >= needed:
                    return ((at, at + needed),)
                continue
            taken = min(room, needed)
            pieces.append((at, at + taken))
            needed -= taken
            if needed <= 0:
                return tuple(pieces)
        return None

    def _no_room(self, step: Step, needed: float, because: Because) -> str:
        if not self.open:
            return "the shop has no working hours; set them first"
        if not step.may_pause and needed > self.longest:
            return (
                f"it takes {needed:g} min in one go and the longest stretch of working hours is "
                f"{self.longest:g} min; work longer that day, or split it"
            )
        held = {
            "climate": "the air is too cold",
            "crew": "there are too few people",
            "station": f"“{because.of}” is full",
        }
        return f"no room is found for it within two years: {held.get(because.kind, 'the hours are too few')}"

    def _people(
        self, step: Step, pieces: Sequence[Interval], likes: set[str]
    ) -> tuple[float, list[Because]] | list[str]:
        """Who does it; or from when enough could, and who comes free then."""
        free: list[Member] = []
        busy: list[tuple[float, Member, str]] = []
        for member in self.job.crew:
            found = None
            for piece in pieces:
                found = self.people[member.id].full(*piece) or found
            if found is None:
                free.append(member)
            else:
                busy.append((found[0], member, found[1]))
        free.sort(key=lambda member: (member.id not in likes, self.people[member.id].taken))
        team = _team(step, free)
        if team is not None:
            return team
        busy.sort(key=lambda entry: entry[0])
        # Too few hands: nothing changes until as many are free as are missing.
        which = max(step.people - len(free), 1) - 1
        until = busy[which][0]
        return until, [Because("crew", member.id, by) for end, member, by in busy if end == until]

    def _stations(self, step: Step, start: float, end: float, ready: float | None) -> tuple[float, Because] | None:
        until = (ready if ready is not None else math.inf) if step.holds else end
        for name in step.stations:
            full = self.stations[name].full(start, until)
            if full is not None:
                return full[0], Because("station", name, full[1])
        return None


def _people(count: int) -> str:
    return "1 person" if count == 1 else f"{count} people"


def _event(placed: Placed, until: str, cures: Cures) -> float | None:
    if until == "end":
        return placed.end
    if until == "wait":
        return placed.ready
    if placed.cure is None or placed.mixed is None or not placed.cure.has(until):
        return None
    return cures.reaches(placed.cure, placed.mixed, placed.cure.hours(until), placed.step.part)


def _team(step: Step, free: Sequence[Member]) -> list[str] | None:
    """As many of the free as it takes, every skill among them, those named first preferred."""

    def cover(chosen: tuple[Member, ...], skills: tuple[str, ...]) -> tuple[Member, ...] | None:
        missing = [skill for skill in skills if not any(skill in member.skills for member in chosen)]
        if not missing:
            return chosen
        if len(chosen) == step.people:
            return None
        for member in free:
            if missing[0] in member.skills and (found := cover((*chosen, member), tuple(missing))):
                return found
        return None

    if len(free) < step.people:
        return None
    chosen = cover((), step.skills)
    if chosen is None:
        return None
    rest = [member for member in free if member not in chosen]
    return [member.id for member in (*chosen, *rest[: step.people - len(chosen)])]


def _passed(steps: Sequence[Step], facts: Mapping[str, Fact]) -> set[str]:
    """Steps with no facts of their own before one that has some: they are taken as done."""
    by_key = {step.key: step for step in steps}
    passed: set[str] = set()
    trail = [link.step for step in steps if step.key in facts for link in step.after]
    while trail:
        key = trail.pop()
        if key in passed:
            continue
        if key not in facts:
            passed.add(key)
        trail += [link.step for link in by_key[key].after]
    return passed


def _tails(steps: Sequence[Step], profile: Profile, start: float) -> dict[str, float]:
    """The longest chain from the start of each step to the end [min], at the mean temperature: its priority."""
    mean = profile.mean(start, start + 14 * 1440)

    def wait(step: Step, until: str) -> float:
        stage = step.wait_stage if until == "wait" else until
        if until == "end" or step.cure is None or stage is None:
            return 0.0 if until == "end" else step.wait_min
        cure = step.cure
        return 60 * cure.hours(stage) / max(rate(mean, cure.activation_energy_kj_mol, cure.reference_c), 1e-3)

    tails = {step.key: step.length + wait(step, "wait") for step in steps}
    by_key = {step.key: step for step in steps}
    for step in reversed(steps):
        for link in step.after:
            before = by_key[link.step]
            tails[link.step] = max(tails[link.step], before.length + wait(before, link.until) + tails[step.key])
    return tails


def _bound(job: Job, steps: Sequence[Step], placer: _Placer) -> float:
    """A finish no plan can beat: each chain by itself, the crew's hours, the busiest station."""
    alone = _Placer(job, placer)
    for step in steps:
        if step.key in placer.placed and placer.placed[step.key].state in ("done", "running"):
            alone.placed[step.key] = placer.placed[step.key]
        elif step.key in placer.placed:
            held = alone._held(step)
            found = held if isinstance(held, str) else alone.first(step, *held, shared=False)
            if isinstance(found, Placed):
                alone.placed[step.key] = found
    todo = [p.step for p in placer.placed.values() if p.state in ("to do", "paused")]
    left = {
        step.key: max(step.length - (job.facts[step.key].worked_min if step.key in job.facts else 0), 0)
        for step in todo
    }
    bounds = [p.ready for p in alone.placed.values() if p.ready is not None]
    if job.crew:
        bounds.append(_worked_off(sum(left[s.key] * s.people for s in todo) / len(job.crew), job.start, placer.open))
    for station in job.stations:
        load = sum(left[s.key] for s in todo if station.id in s.stations)
        if station.capacity and load:
            bounds.append(_worked_off(load / station.capacity, job.start, placer.open))
    return max(bounds, default=job.start)


def _worked_off(minutes: float, start: float, open_hours: Sequence[Interval]) -> float:
    """When so many minutes of open hours have gone by."""
    at = start
    for opens, closes in open_hours:
        if minutes <= 0:
            break
        taken = min(minutes, closes - opens)
        minutes, at = minutes - taken, opens + taken
    return at
