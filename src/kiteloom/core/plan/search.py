"""Where one step can go: the first moment at which hours, people, stations and air allow it."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Callable, Collection, Sequence
from functools import partial
from typing import NamedTuple

from kiteloom.core.base.calendar import Interval
from kiteloom.core.base.quantities import show
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.cure.progress import HORIZON_MIN
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.input import Member, Pin, PlanInput
from kiteloom.core.plan.placed import HOURS, START, Because, Placed
from kiteloom.core.plan.use import Hours, Room, Use

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
        self.ground = ground if ground is not None and ground.serves(job) else Ground(job)
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
        if not cure.has(step.wait_stage):
            return None  # another product was mixed than was planned, and its sheet knows no such stage
        return self.airs.reaches(cure, begins, cure.hours(step.wait_stage), air)

    def pin(self, step: Step) -> Pin | None:
        """When a step is wanted, unless it was begun."""
        fact = self.job.facts.get(step.key)
        return None if fact and fact.pieces else self.job.pins.get(step.key)

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
        always = {of for kind, of in without if kind == "crew"}
        teams = self.roster.teams(step, always) if shared else [(self.hours, ())]
        if HOURS.what in without:
            teams = [(self.always, ())]
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
        hands = _Hands(asked, hours, crew, each) if asked.quick else None
        while True:
            if hands is not None and GRID_MIN <= (soonest := hands.soonest(moment)) - moment < math.inf:
                moment, because, freed = soonest, TOO_FEW, [TOO_FEW]
            if (asked.once and moment > first) or (hands is not None and moment + asked.needed >= asked.by):
                return ""
            pieces = self.work(step, moment, asked.needed, hours)
            if pieces is None:
                return self._no_room(step, asked.needed, because, hours)
            start, end = pieces[0][0], pieces[-1][1]
            if start - moment >= GRID_MIN:
                because = HOURS
                if hours is not self.hours and hours is not self.always:
                    away = sorted((one for one in crew if self.roster.kind[one.member.id]), key=lambda one: one.rank)
                    met += [Because("crew", one.member.id) for one in away]
                met.append(because)
            team: Sequence[str] = ()
            if shared and step.people:
                got = (hands and hands.at(start)) or self._people(step, pieces, crew, each, rooms)
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
            if step.limited and ("climate", "") not in asked.without:
                unfit = self.airs.unfit(step, start, self.limited_until(step, end, ready, air), air)
                if unfit is not None:
                    moment, because = unfit[0], Because("climate", "", unfit[1])
                    met.append(because)
                    if math.isinf(moment):
                        return self._never_fit(step, air, unfit[1])
                    continue
            return asked.placed(pieces, tuple(team), ready, because)

    def _enough(self, step: Step, crew: Sequence[_One], each: tuple[frozenset[str], ...]) -> bool:
        """Whether some of the crew could do a step, if all of them were free."""
        if len(crew) < step.people:
            return False
        if _anybody(step, each):
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

    def _never_fit(self, step: Step, air: str, limit: str) -> str:
        until = {"end": "its work is over", "wait": "its wait is over"}.get(step.limits_until, f"“{step.limits_until}”")
        units, last = self.job.units, float(self.airs.profile(air).celsius[-1])
        if limit == "hot" and step.max_c is not None:
            most = show(step.max_c, "temperature", units)
            return f"it needs at most {most} until {until}, and the air never stays so cool for so long; cool it"
        if limit != "cold" or step.min_c is None:
            return f"it needs drier air until {until}, and it stays too damp; dry the shop, or warm it"
        least = show(step.min_c, "temperature", units)
        if step.min_c > last:
            short = show(step.min_c - last, "difference", units)
            return f"it needs {least} until {until}, and the air stays {short} short; heat it"
        return f"it needs {least} until {until}, and the air never stays so warm for so long; heat it"

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

    def _no_room(self, step: Step, needed: float, because: Because, hours: Hours) -> str:
        if not self.hours.open:
            return "the shop has no working hours; set them first"
        if not hours.open:
            return "those who could do it are never there together; change somebody's hours"
        if not step.may_pause and needed > hours.longest:
            return (
                f"it takes {needed:g} min in one go and the longest stretch of working hours is "
                f"{hours.longest:g} min; work longer that day, or split it"
            )
        held = {
            "climate": "the air is too cold or too damp",
            "crew": "there are too few people",
            "station": f"“{self.name(because.of)}” is full",
        }
        return f"no room is found for it within two years: {held.get(because.kind, 'the hours are too few')}"

    def _people(
        self,
        step: Step,
        pieces: Sequence[Interval],
        crew: Sequence[_One],
        each: tuple[frozenset[str], ...],
        rooms: dict[str, Room],
    ) -> tuple[float, list[Because]] | list[str]:
        """Who does it; or from when enough could, and who comes free then."""
        anybody = _anybody(step, each)
        free: list[Member] = []
        busy: list[tuple[float, int, str, str]] = []
        one, (start, over) = len(pieces) == 1, pieces[0]
        for member, use, rank in crew:
            until, by = -math.inf, ""
            if use is None:
                pass
            elif one:
                room = rooms.get(member.id)
                if room is None or over > room[1]:
                    room = rooms[member.id] = use.room(start, over - start)
                if room[0] > start:
                    until, by = room[0], room[2]
            elif (found := use.busy(pieces)) is not None:
                until, by = found
            if until > -math.inf:
                busy.append((until, rank, member.id, by))
                continue
            free.append(member)
            if anybody and len(free) == step.people:
                return [member.id for member in free]
        if not anybody and (team := team_of(step, free, each)) is not None:
            return team
        busy.sort()
        # Too few hands: nothing changes until as many are free as are missing.
        which = max(step.people - len(free), 1) - 1
        until = busy[which][0]
        return until, [Because("crew", of, by) for end, _, of, by in busy if end == until]

    def _stations(
        self, step: Step, start: float, end: float, ready: float | None, without: Relaxed
    ) -> tuple[float, Because] | None:
        until = (ready if ready is not None else math.inf) if step.holds else end
        for name in step.stations:
            full = None if ("station", name) in without else self.stations[name].full(start, until)
            if full is not None:
                return full[0], Because("station", name, full[1])
        return None


class _One(NamedTuple):
    """One of the crew who may do a step: what is taken of them, None for nothing, and their place in the crew."""

    member: Member
    use: Use | None
    rank: int


class _Hands:
    """From when each of a crew could do a step, whatever keeps them: past all of that a quick search goes at once."""

    def __init__(self, asked: _Asked, hours: Hours, crew: Sequence[_One], each: tuple[frozenset[str], ...]) -> None:
        self._step, self._needed, self._crew, self._each = asked.step, asked.needed, crew, each
        self._frees = [use.free(hours) for _, use, _ in crew if use]
        self._firsts = [-math.inf] * len(crew)
        self._anybody = _anybody(self._step, each)
        self._groups: list[list[int]] = []
        if not self._anybody:
            of = [{n for n, one in enumerate(crew) if skill in one.member.skills} for skill in self._step.skills]
            of += [{n for n, one in enumerate(crew) if one.member.id in who} for who in each if len(each) > 1]
            self._groups = [sorted(who) for who in of]

    def soonest(self, moment: float) -> float:
        """A moment on the grid before which too few are free, or nobody who has a skill.

        It may still be too soon: who has one skill may be needed for another.
        """
        step, firsts = self._step, self._firsts
        alone = step.people == 1 and self._anybody
        while True:
            for n, first in enumerate(firsts):
                if first < moment:
                    firsts[n] = first = self._frees[n].soonest(moment, self._needed, pauses=step.may_pause)
                if alone and first - moment < GRID_MIN:
                    return first  # whoever comes first in the crew does it: of the others nothing need be known
            soonest = sorted(firsts)[step.people - 1]
            for group in self._groups:
                soonest = max(soonest, min(firsts[n] for n in group))
            if alone or soonest - moment < GRID_MIN or soonest == math.inf:
                return soonest
            moment = soonest

    def at(self, start: float) -> list[str] | None:
        """Who does it then, by what is known of each; None where that says nobody."""
        free = [one.member for one, first in zip(self._crew, self._firsts, strict=True) if first == start]
        if self._anybody:
            return [member.id for member in free[: self._step.people]] if len(free) >= self._step.people else None
        return team_of(self._step, free, self._each)


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
        worked = self._fact.worked_min if self._fact else 0.0
        self.needed = max(step.length - math.floor(worked / GRID_MIN) * GRID_MIN, GRID_MIN)
        self.air = search.airs.where(step)
        self.from_when = max((hold for hold in holds if hold[1].what not in without), key=lambda hold: hold[0])
        self.crew = self._of(search) if shared and step.people else []
        self.by = math.inf
        """What another team is through by: a quick search goes no further."""

    def _of(self, search: Search) -> list[_One]:
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
        away = {of for kind, of in self.without if kind == "crew"}
        return [
            _One(member, None if member.id in away else search.people[member.id], rank) for _, _, rank, member in crew
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


def _anybody(step: Step, each: Sequence[frozenset[str]]) -> bool:
    """Whether any of those who may do a step will do, as many as it takes."""
    return len(each) < 2 and (not step.skills or step.people == 1)


def _names_of(job: PlanInput) -> dict[str, str]:
    people = {member.id: member.name for member in job.crew if member.name}
    stations = {station.id: station.name for station in job.stations if station.name}
    return {step.key: step.name for step in job.steps} | people | stations


def in_words(count: int) -> str:
    """So many people, in words.

    >>> in_words(1), in_words(3)
    ('1 person', '3 people')
    """
    return "1 person" if count == 1 else f"{count} people"


def team_of(step: Step, free: Sequence[Member], each: Sequence[frozenset[str]] = ()) -> list[str] | None:
    """As many of the free as it takes, every skill among them, those named first preferred; None if they can't.

    Parameters
    ----------
    each : sequence of sets of ids
        Of each somebody must be on it.

    >>> lift = Step("lift", "Lift it", 20, people=2, skills=("bag",))
    >>> team_of(lift, [Member("Bo"), Member("Imre", frozenset({"bag"}))])
    ['Imre', 'Bo']
    """
    if len(free) < step.people:
        return None
    # Nearly every step: one of them, or skills of nobody in particular.
    if not step.skills and len(each) < 2:
        return [member.id for member in free[: step.people]]
    if step.people == 1 and len(each) < 2:
        for member in free:
            if member.skills.issuperset(step.skills):
                return [member.id]
        return None
    if len(step.skills) == 1 <= step.people and len(each) < 2:
        for member in free:
            if step.skills[0] in member.skills:
                others = [other.id for other in free[: step.people] if other is not member]
                return [member.id, *others[: step.people - 1]]
        return None
    wanted = [frozenset(member.id for member in free if skill in member.skills) for skill in step.skills]
    wanted += each if len(each) > 1 else ()
    # Who is chosen has nothing that is missing: whether the rest can be had goes by what is missing alone.
    hopeless: set[tuple[tuple[int, ...], int]] = set()

    def cover(chosen: tuple[str, ...]) -> tuple[str, ...] | None:
        missing = tuple(n for n, who in enumerate(wanted) if not who.intersection(chosen))
        if not missing:
            return chosen
        if len(chosen) == step.people or (missing, len(chosen)) in hopeless:
            return None
        for member in free:
            if member.id in wanted[missing[0]] and (found := cover((*chosen, member.id))):
                return found
        hopeless.add((missing, len(chosen)))
        return None

    chosen = cover(())
    if chosen is None:
        return None
    rest = [member.id for member in free if member.id not in chosen]
    return [*chosen, *rest[: step.people - len(chosen)]]
