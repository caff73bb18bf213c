"""Where one step can go: the first moment at which hours, people, stations and air allow it."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Callable, Collection, Sequence
from functools import partial

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.cure.progress import HORIZON_MIN
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.cant import never_fit, no_room
from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.hands import Hands, One, anybody_does, team_of, team_or_when
from kiteloom.core.plan.input import Pin, PlanInput
from kiteloom.core.plan.placed import HOURS, START, Because, Placed, stage_of
from kiteloom.core.plan.use import Hours, Room, Team, Use

#: From when a step can go for one reason, and which that is.
Hold = tuple[float, Because]


#: Kinds and names a search does as if they were not there.
Relaxed = Collection[tuple[str, str]]


#: Tells what held a step that was found a place.
Tell = Callable[[Placed], tuple[Because, ...]]


#: What a quick search says of hands.
TOO_FEW = Because("crew")


#: What is taken of people and stations, and by what.
Taken = tuple[dict[str, Use], dict[str, Use], dict[str, Placed]]


class Search:
    """What is taken so far of people and stations, and where a step can still go.

    ``placed`` are the steps that have taken it, by key. ``ground`` is what the job stands on, where that is known
    already.
    """

    def __init__(self, job: PlanInput, ground: Ground | None = None) -> None:
        self.job = job
        self.ground = ground if ground is not None and ground.serves(job) else Ground(job, ground)
        self.hours, self.always = self.ground.hours, self.ground.always
        self.airs, self.roster = self.ground.airs, self.ground.roster
        self.names = _names_of(job)
        self.people = {
            member.id: Use(1, self.roster.gone[member.id], partial(self.roster.free, member.id)) for member in job.crew
        }
        self.stations = {station.id: Use(station.capacity) for station in job.stations}
        self.placed: dict[str, Placed] = {}
        self._could: dict[tuple[int, tuple[str, ...], tuple[frozenset[str], ...]], bool] = {}
        self._mine: set[int] | None = None
        """Which uses nobody comes back to, by who they are; None where that is all of them."""

    def keep(self, found: Placed) -> None:
        """Take what a placed step takes."""
        step = found.step
        self.placed[step.key] = found
        for name in found.people:
            if name in self.people:
                use = self._own(self.people, name)
                for piece in found.pieces:
                    use.take(*piece, step.key)
        ready = math.inf if found.ready is None else found.ready
        for name in step.stations:
            self._own(self.stations, name).take(found.pieces[0][0], ready if step.holds else found.end, step.key)

    def _own(self, uses: dict[str, Use], name: str) -> Use:
        """One of the uses, to be changed: what somebody comes back to is left as it is."""
        if self._mine is None or id(uses[name]) in self._mine:
            return uses[name]
        use = uses[name] = uses[name].copy()
        self._mine.add(id(use))
        return use

    def taken(self) -> Taken:
        """What is taken now, to come back to."""
        self._mine = set()
        return dict(self.people), dict(self.stations), dict(self.placed)

    def back(self, taken: Taken) -> None:
        """Come back to what was taken before, as often as one likes."""
        self._mine = set()
        self.people, self.stations, self.placed = dict(taken[0]), dict(taken[1]), dict(taken[2])

    def ready(self, step: Step, begins: float, cure: CureSystem | None, air: str) -> float | None:
        """When the wait of a step is over that begins then [min]; None if it never is."""
        if step.wait_stage is None or cure is None:
            return begins + step.wait_min
        # Another product may have been mixed than was planned, whose sheet knows no such stage.
        return stage_of(cure, step.wait_stage, begins, air, self.airs)

    def comes(self, step: Step, until: str, end: float, air: str) -> float | None:
        """When an event of a step comes whose work ends at a time [min]; None if it never does."""
        if until == "end":
            return end
        if until == "wait":
            return self.ready(step, end, step.cure, air)
        return stage_of(step.cure, until, end, air, self.airs)

    def pin(self, step: Step) -> Pin | None:
        """When a step is wanted, unless it was begun."""
        fact = self.job.facts.get(step.key)
        return None if fact and fact.pieces else self.job.pins.get(step.key)

    def needed(self, step: Step) -> float:
        """How much work a step still is, what was worked of it left out [min].

        >>> Search(small).needed(small.steps[1])
        90
        """
        fact = self.job.facts.get(step.key)
        worked = fact.worked_min if fact else 0.0
        return max(step.length - math.floor(worked / GRID_MIN) * GRID_MIN, GRID_MIN)

    def name(self, key: str) -> str:
        """What a step, somebody or a station is called."""
        return self.names.get(key, key)

    def at(self, step: Step, start: float) -> Placed | None:
        """A step at a moment and no other; None where it can't go then."""
        found, _ = self.find(step, [(start, START)], once=True, quick=True)
        return found if isinstance(found, Placed) and found.start == start else None

    def find(
        self,
        step: Step,
        holds: Sequence[Hold],
        without: Relaxed = (),
        *,
        shared: bool = True,
        once: bool = False,
        quick: bool = False,
        tell: Tell | None = None,
    ) -> tuple[Placed | str, list[Because]]:
        """The first moment from which a step can go, or why there is none; and all that was met on the way.

        ``holds`` are from when it can go for whatever comes before it. What is named in
        ``without`` is taken as if it were not there; without ``shared`` the step has people and
        stations to itself. With ``once`` nothing later is looked for where it can't go then.
        A quick search goes past all that has too few hands without saying what it met there. ``tell``
        tells later what held what is found.
        """
        teams: list[Team] = [(self.hours, ())]
        if without and HOURS.what in without:
            teams = [(self.always, ())]
        elif shared:
            teams = self.roster.teams(step, {of for kind, of in without if kind == "crew"} if without else ())
        best: Placed | str = ""
        met: list[Because] = []
        asked = _Asked(self, step, holds, without, met, shared=shared, once=once, quick=quick, tell=tell)
        for hours, each in teams:
            found = self._try(asked, hours, each)
            if isinstance(found, str):
                best = best or found
            elif isinstance(best, str) or (found.end, found.begins) < (best.end, best.begins):
                # The team that is through first: one that begins sooner may pause until somebody is back.
                best, asked.by = found, found.end
        return best, met

    def _try(self, asked: _Asked, hours: Hours, each: tuple[frozenset[str], ...]) -> Placed | str:
        step, met, shared, air = asked.step, asked.met, asked.shared, asked.air
        crew = asked.crew if not each else [one for one in asked.crew if one.member.id in each[0].union(*each[1:])]
        if step.people and shared and not self._enough(step, crew, each):
            return "nobody has the hours for it; change somebody's hours, or give more of them its skills"
        moment, because = asked.from_when
        met.append(because)
        freed: list[Because] = []
        first = moment
        rooms: dict[str, Room] = {}
        """Who has room for one piece of it, from when until when: that holds for every start until then."""
        hands = Hands(step, asked.needed, hours, crew, each) if asked.quick else None
        before = -math.inf
        while True:
            if hands is not None and GRID_MIN <= (soonest := hands.soonest(moment)) - moment < math.inf:
                moment, because, freed = soonest, TOO_FEW, [TOO_FEW]
            if (asked.once and moment > first) or (hands is not None and moment + asked.needed >= asked.by):
                return ""
            pieces = self.work(step, moment, asked.needed, hours)
            if pieces is None:
                return no_room(step, asked.needed, hours, self.hours, because, self.name(because.of))
            start, end = pieces[0][0], pieces[-1][1]
            if start <= before:
                moment = before + GRID_MIN  # what is over a trifle after a start of the grid is over before the next
                continue
            before = start
            if start - moment >= GRID_MIN:
                because = HOURS
                if hours is not self.hours and hours is not self.always:
                    away = sorted((one for one in crew if self.roster.kind[one.member.id]), key=lambda one: one.rank)
                    met += [Because("crew", one.member.id) for one in away]
                met.append(because)
            team: Sequence[str] = ()
            if shared and step.people:
                got = (hands and hands.at(start)) or team_or_when(step, pieces, crew, each, rooms)
                if isinstance(got, tuple):
                    moment, freed = got
                    because = freed[0]
                    met.extend(freed)
                    if math.isinf(moment):
                        return f"{self.name(because.of)} is never there for it; change their hours or absence"
                    continue
                team = got
                if because.kind == "crew":
                    # Of those who came free then, one who does it is named.
                    because = next((b for b in freed if b.of in team), because)
            ready = self.ready(step, end, step.cure, air)
            if shared and (full := self._stations(step, start, end, ready, asked.without)) is not None:
                moment, because = full
                met.append(because)
                if math.isinf(moment):
                    name, by = self.name(because.of), self.name(because.by)
                    return f"“{name}” is never free again: “{by}” does not come off it; warm it, or move it elsewhere"
                continue
            if asked.limited:
                unfit = self.airs.unfit(step, start, self.limited_until(step, end, ready, air), air)
                if unfit is not None:
                    moment, because = unfit[0], Because("climate", "", unfit[1])
                    met.append(because)
                    if math.isinf(moment):
                        return never_fit(step, self.airs.profile(air), unfit[1], self.job.units)
                    continue
            return asked.placed(pieces, tuple(team), ready, because)

    def _enough(self, step: Step, crew: Sequence[One], each: tuple[frozenset[str], ...]) -> bool:
        """Whether some of the crew could do a step, if all of them were free."""
        if len(crew) < step.people:
            return False
        if anybody_does(step, each):
            return True
        key = step.people, step.skills, each
        if key not in self._could:
            self._could[key] = team_of(step, [one.member for one in crew], each) is not None
        return self._could[key]

    def limited_until(self, step: Step, end: float, ready: float | None, air: str) -> float:
        """Until when the limits of a step must hold that ends then [min]."""
        until = ready
        if step.limits_until == "end":
            until = end
        elif step.limits_until != "wait" and step.cure is not None:
            until = self.airs.reaches(step.cure, end, step.cure.hours(step.limits_until), air)
        return end + HORIZON_MIN if until is None else until

    def work(self, step: Step, earliest: float, needed: float, hours: Hours) -> tuple[Interval, ...] | None:
        """The pieces of work a step takes from a moment on; None if there is no room for it."""
        begin = math.ceil(earliest / GRID_MIN - 1e-9) * GRID_MIN
        pieces: list[Interval] = []
        for i in range(bisect_right(hours.closes, begin), len(hours.open)):
            opens, closes = hours.open[i]
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

    def _stations(
        self, step: Step, start: float, end: float, ready: float | None, without: Relaxed
    ) -> tuple[float, Because] | None:
        until = (ready if ready is not None else math.inf) if step.holds else end
        for name in step.stations:
            full = None if ("station", name) in without else self.stations[name].full(start, until)
            if full is not None:
                return full[0], Because("station", name, full[1])
        return None


class _Asked:
    """What is asked of a search: all that is the same for whoever does the step, whenever."""

    def __init__(
        self,
        search: Search,
        step: Step,
        holds: Sequence[Hold],
        without: Relaxed,
        met: list[Because],
        *,
        shared: bool,
        once: bool,
        quick: bool,
        tell: Tell | None,
    ) -> None:
        self.step, self.without, self.met, self.shared, self.once, self._tell = step, without, met, shared, once, tell
        self.quick = quick and shared and step.people > 0 and not without
        self._fact, self._pin = search.job.facts.get(step.key), search.pin(step)
        self.needed = search.needed(step)
        self.air, self.limited = search.airs.where(step), step.limited and ("climate", "") not in without
        self.from_when = _last_of(holds if not without else [hold for hold in holds if hold[1].what not in without])
        self.crew = self._of(search) if shared and step.people else []
        self.by = math.inf
        """What another team is through by: a quick search goes no further."""

    def _of(self, search: Search) -> list[One]:
        """Who may do it: who is wanted, else who did what came before, for they carry on where they can; then who has
        least to do."""
        step, placed = self.step, search.placed
        likes = {name for link in step.after if link.step in placed for name in placed[link.step].people}
        if self._pin is not None and self._pin.people:
            likes = set(self._pin.people)
        # Whoever does it alone must be able to: when others are free makes no difference.
        alone = step.people == 1 and step.skills
        crew = [
            (member.id not in likes, search.people[member.id].taken, rank, member)
            for rank, member in enumerate(search.job.crew)
            if not alone or member.skills.issuperset(step.skills)
        ]
        crew.sort()
        away = {of for kind, of in self.without if kind == "crew"} if self.without else set()
        return [
            One(member, None if member.id in away else search.people[member.id], rank) for _, _, rank, member in crew
        ]

    def placed(
        self, pieces: tuple[Interval, ...], team: tuple[str, ...], ready: float | None, because: Because
    ) -> Placed:
        """The step where it was found to go."""
        step, fact, pin = self.step, self._fact, self._pin
        begun = fact.pieces if fact else ()
        pieces, end = (*begun, *pieces), pieces[-1][1]
        return Placed(
            step,
            pieces[0][0],
            end,
            ready,
            because,
            pieces,
            team,
            end if step.cure is not None else None,
            step.cure,
            "paused" if begun else "to do",
            len(begun),
            self.air,
            pinned=pin.start if pin and not pin.kept else None,
            kept=pin.start if pin and pin.kept else None,
            tell=self._tell,
        )


def _last_of(holds: Sequence[Hold]) -> Hold:
    """From when on all of them allow it; of two that do so at once the first."""
    last = holds[0]
    for hold in holds:
        if hold[0] > last[0]:
            last = hold
    return last


def _names_of(job: PlanInput) -> dict[str, str]:
    people = {member.id: member.name for member in job.crew if member.name}
    stations = {station.id: station.name for station in job.stations if station.name}
    return {step.key: step.name for step in job.steps} | people | stations
