"""The airs of a shop as a plan asks them: when a cure is through, and when an air is fit again."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import Step
from kiteloom.core.cure.progress import HORIZON_MIN, Progress, follow
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.input import Damp, PlanInput

#: How far ahead a step may be placed.
LOOKAHEAD_MIN = 730 * 24 * 60.0


class Airs:
    """Every air of a job by name: ``""`` is the shop's, others are those of zones and of single parts.

    Each product is followed once in each air, for all its starts: from the beginning of the day a job starts on, so
    that whatever starts later that day has the very same.
    """

    def __init__(self, job: PlanInput) -> None:
        self._start = start = _day_of(job)
        own = {name: _Air(profile, start, job.damp.get(name)) for name, profile in job.own.items()}
        zones = {zone: _Air(profile, start, job.damp.get(zone)) for zone, profile in job.zones.items()}
        self._airs = {"": _Air(job.profile, start, job.damp.get("")), **zones, **own}
        self._own, self._zone_of = frozenset(own), {station.id: station.zone for station in job.stations}
        self._profiles = _profiles_of(job)

    def serve(self, job: PlanInput) -> bool:
        """Whether another job has the same, on the same day.

        >>> Airs(small).serve(replace(small, start=small.start + 5)), Airs(small).serve(replace(small, start=0))
        (True, False)
        """
        theirs = _profiles_of(job)
        return (
            self._start == _day_of(job)
            and self._zone_of == {station.id: station.zone for station in job.stations}
            and self._profiles.keys() == theirs.keys()
            and all(_alike(air, theirs[name]) for name, air in self._profiles.items())
        )

    def where(self, step: Step, *, done: bool = False) -> str:
        """The name of the air a step has: of the zone its station is in, else of its part.

        What is done is where its part is.
        """
        zone = next((self._zone_of[name] for name in step.stations if self._zone_of.get(name)), "")
        own = step.part if step.part in self._own else ""
        return own or zone if done else zone or own

    def profile(self, air: str = "") -> Profile:
        """An air's temperature.

        >>> Airs(small).profile().at(small.start)
        20.0
        """
        return self._airs[air].profile

    def reaches(self, system: CureSystem, mixed: float, hours: float, air: str = "") -> float | None:
        """When a mix has had so many hours at the reference [min]; None if not within 60 days.

        >>> round((Airs(small).reaches(EPOXY, small.start, 10) - small.start) / 60, 1)  # 10 h at 23 °C
        12.6
        """
        return self._airs[air].reaches(system, mixed, hours)

    def least(self, system: CureSystem, hours: float, since: float, until: float, air: str = "") -> float:
        """The least it takes a mix to have so many hours at the reference, whenever it is made between times [min].

        >>> start = small.start
        >>> round(Airs(small).least(EPOXY, 10, start, start + 1440) / 60, 1)  # 10 h at 23 °C, in a steady 20 °C
        12.6
        """
        return self._airs[air].least(system, hours, since, until)

    def made_by(self, system: CureSystem, hours: float, by: float, air: str = "") -> float:
        """The latest a mix can be made that has had so many hours at the reference by a time [min]; -inf where it
        would have been before the day the plan begins.

        >>> round((small.start + 1440 - Airs(small).made_by(EPOXY, 10, small.start + 1440)) / 60, 1)
        12.6
        """
        return self._airs[air].made_by(system, hours, by)

    def too_cold(self, min_c: float, start: float, end: float, air: str = "") -> float | None:
        """When it is warm enough again, if anything between two times is below a limit; inf if never.

        >>> Airs(small).too_cold(15, small.start, small.start + 60) is None
        True
        """
        return self._airs[air].spell("cold", min_c, start, end)

    def unfit(self, step: Step, start: float, end: float, air: str) -> tuple[float, str] | None:
        """When a step's limits hold again, if one is broken between two times, and which: cold, hot, damp or dew.

        >>> Airs(small).unfit(replace(small.steps[1], min_c=25.0), small.start, small.start + 60, "")
        (inf, 'cold')
        """
        asked = (("cold", step.min_c), ("hot", step.max_c), ("damp", step.max_rh_pct), ("dew", step.margin_k))
        found = [
            (until, limit)
            for limit, value in asked
            if value is not None and (until := self._airs[air].spell(limit, value, start, end)) is not None
        ]
        return max(found, default=None)

    def spells(self, step: Step, air: str, until: float) -> list[Interval]:
        """Every spell before a time in which one of a step's limits is broken [min].

        >>> Airs(small).spells(replace(small.steps[1], min_c=25.0), "", small.start + 60)
        [(-inf, inf)]
        """
        asked = (("cold", step.min_c), ("hot", step.max_c), ("damp", step.max_rh_pct), ("dew", step.margin_k))
        rows = [self._airs[air].beyond(limit, value) for limit, value in asked if value is not None]
        return [spell for row in rows for spell in row if spell[0] < until]


def _day_of(job: PlanInput) -> float:
    """The beginning of the day a job starts on, by UTC [min]."""
    return math.floor(job.start / 1440) * 1440.0


def _profiles_of(job: PlanInput) -> dict[tuple[str, str], Profile]:
    """Every temperature and humidity of a job."""
    warm = {("own", name): air for name, air in job.own.items()} | {("zone", name): a for name, a in job.zones.items()}
    damp = {("humidity", name): damp.humidity for name, damp in job.damp.items()}
    margins = {("margin", name): damp.margin for name, damp in job.damp.items()}
    return {("shop", ""): job.profile} | warm | damp | margins


def _alike(one: Profile, other: Profile) -> bool:
    if one is other:
        return True
    return np.array_equal(one.minutes, other.minutes) and np.array_equal(one.celsius, other.celsius)


#: A product is followed so far at first, and farther where that is asked: few plans are longer [min].
_NEAR_MIN = 150 * 24 * 60.0


class _Ahead:
    """A product followed from the beginning of a plan's first day."""

    def __init__(self, follows: Callable[[float], Progress]) -> None:
        self._follows = follows
        self._near: Progress | None = None
        self._far: Progress | None = None
        self.known: dict[tuple[float, float], float | None] = {}
        """When what was mixed then has had so many hours."""

    def to(self, minute: float) -> Progress:
        """Followed so far at least, in minutes after the start."""
        if minute <= _NEAR_MIN:
            if self._near is None:
                self._near = self._follows(_NEAR_MIN)
            return self._near
        if self._far is None:
            self._far = self._follows(LOOKAHEAD_MIN + HORIZON_MIN)
        return self._far

    def reaches(self, minute: float, hours: float) -> float | None:
        """When what is mixed so long after the start has had so many hours, after the start too [min]."""
        near = self.to(minute)
        found = near.reaches(near.at(minute) + hours)
        if found is not None:
            return found
        far = self.to(math.inf)
        return far.reaches(far.at(minute) + hours)


class _Air:
    def __init__(self, profile: Profile, start: float, damp: Damp | None) -> None:
        self.profile, self._start, self._damp = profile, start, damp
        self._humidity = None if damp is None else damp.humidity
        # By who they are: a job's products are the same objects throughout, and asked for often.
        self._alike: dict[CureSystem, _Ahead] = {}
        self._followed: dict[int, tuple[CureSystem, _Ahead]] = {}
        self._past: dict[tuple[CureSystem, float], Progress] = {}
        """What was mixed before that, by when; what it was is another object each time it is read."""
        self._least: dict[tuple[int, float, float, float], float] = {}
        self._spells: dict[tuple[str, float], list[Interval]] = {}

    def reaches(self, system: CureSystem, mixed: float, hours: float) -> float | None:
        if mixed < self._start:
            key = (system, mixed)
            if key not in self._past:
                self._past[key] = follow(system, mixed, self.profile, humidity=self._humidity)
            found = self._past[key].reaches(hours)
            return None if found is None else mixed + found
        ahead = self._ahead(system)
        if (mixed, hours) not in ahead.known:
            since = ahead.reaches(mixed - self._start, hours)
            found = None if since is None else self._start + since
            ahead.known[mixed, hours] = None if found is None or found - mixed > HORIZON_MIN else found
        return ahead.known[mixed, hours]

    def _ahead(self, system: CureSystem) -> _Ahead:
        if id(system) not in self._followed:
            # Each part has its own of one product: they are alike, and followed once.
            if system not in self._alike:

                def follows(far: float) -> Progress:
                    return follow(system, self._start, self.profile, far, self._humidity)

                self._alike[system] = _Ahead(follows)
            self._followed[id(system)] = (system, self._alike[system])
        return self._followed[id(system)][1]

    def made_by(self, system: CureSystem, hours: float, by: float) -> float:
        progress = self._ahead(system).to(by - self._start)
        had = progress.at(by - self._start) - hours if by > self._start else -1.0
        if had < 0:
            return -math.inf
        # A trifle more: where it stands still in the cold, the last moment of that.
        since = progress.reaches(had + 1e-9)
        return by if since is None else self._start + since

    def least(self, system: CureSystem, hours: float, since: float, until: float) -> float:
        key = (id(system), hours, since, until)
        if key not in self._least:
            progress = self._ahead(system).to(until + HORIZON_MIN - self._start)
            minutes, had = progress.minutes, progress.equivalent_h
            begins = (minutes[:-1] <= until - self._start) & (minutes[1:] >= since - self._start)
            at = np.searchsorted(had, had[:-1][begins] + hours, side="left")
            # Made between two of the points it has no less than at the first, and is through no sooner than at the
            # point before the one at which it is.
            some = at < len(had)
            taken = minutes[at[some] - 1] - minutes[1:][begins][some]
            found = float(taken.min()) if len(taken) else HORIZON_MIN
            if self._humidity is None:
                warmest = float(self.profile.celsius.max())
                found = max(found, 60 * hours / max(system.rate_at(warmest), 1e-9))
            self._least[key] = max(found, 0.0)
        return self._least[key]

    def spell(self, limit: str, value: float, start: float, end: float) -> float | None:
        """When the last spell beyond a limit ends that touches a span; None if there is none."""
        spells = self.beyond(limit, value)
        at = bisect_left(spells, (max(end, start + 1e-6), -math.inf)) - 1
        return spells[at][1] if at >= 0 and spells[at][1] > start else None

    def beyond(self, limit: str, value: float) -> list[Interval]:
        key = (limit, value)
        if key not in self._spells:
            self._spells[key] = self._beyond(limit, value)
        return self._spells[key]

    def _beyond(self, limit: str, value: float) -> list[Interval]:
        if limit == "cold":
            return below(self.profile, value)
        if limit == "hot":
            return below(Profile(self.profile.minutes, -self.profile.celsius), -value)
        if self._damp is None:
            return []  # what nobody knows holds nothing up
        margin, humid = self._damp.margin, self._damp.humidity
        wanting = below(margin, value) if limit == "dew" else below(Profile(humid.minutes, -humid.celsius), -value)
        # Beyond what is known nothing is held up either.
        first, last = float(margin.minutes[0]), float(margin.minutes[-1])
        return [(max(a, first), min(b, last)) for a, b in wanting if min(b, last) > max(a, first)]


def below(profile: Profile, limit: float) -> list[Interval]:
    """The spells in which a temperature is below a limit [min], in order; open ends are infinite.

    >>> below(Profile.of([(0, 10), (60, 20)]), 15)
    [(-inf, 30.0)]
    """
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
