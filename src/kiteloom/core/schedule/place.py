"""Exact placing: each step at the first moment it can go, its wait at the temperature it will have.

Steps are taken longest remaining chain first, each once all before it are placed, and put at
the first moment at which hours, people, stations, set-up and air allow (serial schedule
generation). It is the only source of times.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import Literal

from kiteloom.core.calendar import Interval, lasting
from kiteloom.core.cure import HORIZON_MIN, CureSystem
from kiteloom.core.schedule.airs import LOOKAHEAD_MIN, Airs
from kiteloom.core.schedule.bound import bound_of
from kiteloom.core.schedule.job import GRID_MIN, After, Fact, Job, Member, Pin, Step, in_order
from kiteloom.core.schedule.placed import HOURS, START, Because, Placed, Plan, Unplaced, deadline_of, event_of
from kiteloom.core.schedule.queue import Queue, passed_by
from kiteloom.core.schedule.turning import Turning
from kiteloom.core.schedule.use import Hours, Roster, Use

#: A wait as long as this is better begun late in the day [min].
LONG_WAIT_MIN = 6 * 60.0
#: Between the end of such a wait and the opening there must be so much to spare [min].
SPARE_MIN = 60.0
#: So often a step is moved for the sake of one that must follow it in time.
MOST_MOVES = 200


Hold = tuple[float, Because]
#: Kinds and names a search does as if they were not there.
Relaxed = Collection[tuple[str, str]]


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
    next and misses no earlier start. Steps that must follow others in time are placed with
    them, and the first is moved until the last can keep its time. Everything that can be done
    before a thing is turned is done before; a plan that turns it sooner is taken when it ends
    sooner.
    """
    patient = _Placer(job)
    plan = patient.plan(patient=True)
    if not patient.waited:
        return plan
    hasty = _Placer(job, patient).plan(patient=False)

    def end(plan: Plan) -> tuple[int, float]:
        return len(plan.unplaced), plan.finish or job.start

    return hasty if end(hasty) < end(plan) else plan


def if_next(job: Job) -> dict[str, Placed]:
    """Where each step whose way is free would go if it came next, before anything else that is planned.

    What needs something turned first is left out.
    """
    placer = _Placer(job)
    placer.settle()
    passed = passed_by(job.steps, job.facts)
    found = {}
    for step in job.steps:
        if step.key in placer.placed or step.key in passed:
            continue
        if step.way and placer.turning.way(step.thing) not in ("", step.way):
            continue
        if all(link.step in placer.placed or link.step in passed for link in step.after):
            placed = placer.one(step)
            if isinstance(placed, Placed):
                found[step.key] = placed
    return found


class _Placer:
    def __init__(self, job: Job, like: _Placer | None = None) -> None:
        self.job = job
        end = job.start + LOOKAHEAD_MIN
        self.hours: Hours = like.hours if like else Hours.of(job.hours.intervals(job.start, end))
        self.always = Hours.of([(job.start, end)])
        self.airs: Airs = like.airs if like else Airs(job)
        self.roster: Roster = like.roster if like else Roster(job, self.hours, job.start, end)
        self.people = {member.id: Use(1, self.roster.gone[member.id]) for member in job.crew}
        self.stations = {station.id: Use(station.capacity) for station in job.stations}
        self.turning = Turning(job.things)
        self.placed: dict[str, Placed] = {}
        self.unplaced: dict[str, Unplaced] = {}
        self.waited = False
        """Whether a turning was put off."""
        self._followers: dict[str, list[tuple[Step, After]]] = defaultdict(list)
        self._names = {step.key: step.name for step in job.steps}
        for step in job.steps:
            for link in step.after:
                self._followers[link.step].append((step, link))

    def plan(self, *, patient: bool) -> Plan:
        steps = in_order(self.job.steps)
        passed = passed_by(steps, self.job.facts)
        self.settle()
        todo = [step for step in steps if step.key not in self.placed and step.key not in passed]
        queue = Queue(self.job, lambda thing: self.turning.way(thing), todo, patient=patient)
        while (unit := queue.next()) is not None:
            if len(unit) == 1:
                self._put(unit[0])
            else:
                self._put_together(unit)
            queue.placed(unit)
        self.waited = queue.waited
        ranks = {step.key: rank for rank, step in enumerate(self.job.steps)}
        placed = sorted(self.placed.values(), key=lambda p: (p.start, p.end, ranks.get(p.step.key, -1)))
        bound = bound_of(self.job, steps, self.placed, self.hours, self._alone(steps))
        return Plan(tuple(placed), tuple(self.unplaced.values()), self.job.start, bound, self.airs, tuple(self.placed))

    def _alone(self, steps: Sequence[Step]) -> dict[str, Placed]:
        """The placed steps as each chain would go with people and stations to itself."""
        alone = _Placer(self.job, self)
        for step in steps:
            if step.key in self.placed and self.placed[step.key].state in ("done", "running"):
                alone.placed[step.key] = self.placed[step.key]
            elif step.key in self.placed:
                holds = alone._holds(step)
                found = holds if isinstance(holds, str) else alone.first(step, holds, shared=False)
                if isinstance(found, Placed):
                    alone.placed[step.key] = found
        return alone.placed

    def settle(self) -> None:
        """Put what has been done, or is being done now."""
        for thing in self.job.things:
            if thing.turning is not None:
                way, fact = thing.turning
                turn = thing.turn(way, thing.turned + 1)
                self._settle(turn, fact)
                self.turning.begun(thing.id, way, self.placed[turn.key].end, turn.key)
        for step in self.job.steps:
            noted = self.job.facts.get(step.key)
            if noted is not None and (noted.done or noted.running_since is not None):
                self._settle(step, noted)

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
        air = self.airs.where(step, done=True)
        ready = self._ready(step, begins, cure, air)
        state: Literal["done", "running"] = "done" if kind == "done" else "running"
        self._keep(
            Placed(
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
                air=air,
            )
        )

    def _keep(self, found: Placed) -> None:
        """Take what a placed step takes."""
        step = found.step
        self.placed[step.key] = found
        for name in found.people:
            if name in self.people:
                for piece in found.pieces:
                    self.people[name].take(*piece, step.key)
        ready = math.inf if found.ready is None else found.ready
        for name in step.stations:
            self.stations[name].take(found.pieces[0][0], ready if step.holds else found.end, step.key)
        if step.way and (found.state != "done" or ready > self.job.start):
            self.turning.used(step.thing, step.way, max(ready, found.end), step.key)

    def _ready(self, step: Step, begins: float, cure: CureSystem | None, air: str) -> float | None:
        if step.wait_stage is None or cure is None:
            return begins + step.wait_min
        if not cure.has(step.wait_stage):
            return None  # another product was mixed than was planned, and its sheet knows no such stage
        return self.airs.reaches(cure, begins, cure.hours(step.wait_stage), air)

    def _put(self, step: Step) -> None:
        before = self._now() if step.way else None
        found = self.one(step)
        if isinstance(found, Placed):
            self._keep(self._overnight(found))
            return
        if before is not None:
            self._back(before)  # its thing is not turned for a step that is left out
        self.unplaced[step.key] = Unplaced(step, found)

    def _put_together(self, unit: Sequence[Step]) -> None:
        """Steps that must follow each other in time: the first is moved until the last keeps its time."""
        at_least: dict[str, Hold] = {}
        nearest = math.inf
        for _ in range(MOST_MOVES):
            before = self._now()
            for step in unit:
                found = self.one(step, at_least.get(step.key), explain=False)
                if isinstance(found, str):
                    self._back(before)
                    self._leave(unit, step, found)
                    return
                late = self._late(found)
                if late is not None:
                    link, over = late
                    nearest = min(nearest, over)
                    first = self.placed[link.step]
                    self._back(before)
                    moved = self._in_time_for(first, link, found.start)
                    at_least[link.step] = (max(moved, first.start + GRID_MIN), Because("window", step.key))
                    culprit, cold = (step, link), found.because.kind == "climate"
                    break
                self._keep(found)
            else:
                self._back(before)
                for step in unit:
                    placed = self.one(step, at_least.get(step.key))
                    assert isinstance(placed, Placed), "what was placed a moment ago can be placed"
                    self._keep(placed)
                return
        step, link = culprit
        change = (
            "heat the shop, or dry it, at those hours"
            if cold
            else ("work longer or later on such a day, or with more people")
        )
        self._leave(
            unit,
            step,
            f"it must begin {_how_soon(link)} “{self._name(link.step)}”, and no working hours"
            f"{' with fit air' if cold else ''} allow it: the nearest it came was "
            f"{lasting(max(nearest, 1))} too late; {change}",
        )

    def _leave(self, unit: Sequence[Step], culprit: Step, why: str) -> None:
        for step in unit:
            reason = why if step is culprit else f"“{culprit.name}” goes with it in time and can't be placed"
            self.unplaced[step.key] = Unplaced(step, reason)

    def _late(self, found: Placed) -> tuple[After, float] | None:
        """The first link whose time a step misses that can still be moved, and by how much [min]."""
        for link in found.step.after:
            before = self.placed.get(link.step)
            if link.tight and before is not None and before.state in ("to do", "paused"):
                over = found.start - deadline_of(before, link, self.airs)
                if over > 1e-6:
                    return link, over
        return None

    def _in_time_for(self, before: Placed, link: After, start: float) -> float:
        """The first start of a step from which one that begins at a time is not too late."""
        step = before.step
        length = sum(b - a for a, b in before.pieces[before.worked :])
        low, high = 0, max(math.ceil((start - before.start) / GRID_MIN), 1)
        while low < high:
            middle = (low + high) // 2
            pieces = self._work(step, before.start + middle * GRID_MIN, length, self.hours)
            if pieces is None:
                break
            end = pieces[-1][1]
            ready = self._ready(step, end, step.cure, before.air)
            there = replace(before, start=pieces[0][0], end=end, ready=ready, mixed=end)
            if deadline_of(there, link, self.airs) >= start:
                high = middle
            else:
                low = middle + 1
        return before.start + low * GRID_MIN

    def _now(self) -> tuple[dict[str, Use], dict[str, Use], dict[str, Placed], Turning]:
        return (
            {name: use.copy() for name, use in self.people.items()},
            {name: use.copy() for name, use in self.stations.items()},
            dict(self.placed),
            self.turning.copy(),
        )

    def _back(self, state: tuple[dict[str, Use], dict[str, Use], dict[str, Placed], Turning]) -> None:
        self.people, self.stations, self.placed, self.turning = state

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

    def _holds(self, step: Step) -> list[Hold] | str:
        """The moments its links, deliveries and pins allow; or why it can't go."""
        found: list[Hold] = [(self.job.start, START)]
        if step.not_before is not None:
            found.append((step.not_before, Because("delivery")))
        pin = self._pin(step)
        if pin is not None:
            found.append((pin.start, Because("pin")))
        for link in step.after:
            left = self.unplaced.get(link.step)
            if left is not None:
                return f"it comes after “{left.step.name}”, which can't be placed"
            before = self.placed.get(link.step)
            if before is None:
                continue  # passed: what came later has been done
            event = event_of(before, link.until, self.airs)
            if event is None:
                stage = (before.step.wait_stage or "") if link.until == "wait" else link.until
                if before.cure is not None and stage and not before.cure.has(stage):
                    return f"what was mixed for “{before.step.name}” has no stage “{stage}” on its sheet"
                return f"“{before.step.name}” does not reach “{stage}” within 60 days at these temperatures"
            found.append((event, Because("after" if event <= before.end else "cure", link.step)))
        return found

    def _pin(self, step: Step) -> Pin | None:
        fact = self.job.facts.get(step.key)
        return None if fact and fact.pieces else self.job.pins.get(step.key)

    def one(self, step: Step, at_least: Hold | None = None, *, explain: bool = True) -> Placed | str:
        """The first moment a step can go, its thing turned for it where it must be; or why there is none.

        What held it is told only when it is to be explained.
        """
        why = self._impossible(step)
        if why is not None:
            return why
        holds = self._holds(step)
        if isinstance(holds, str):
            return holds
        holds = [*holds, at_least] if at_least else holds
        found = self._in_its_way(step, holds, explain) if step.way else self.first(step, holds, explain=explain)
        if isinstance(found, Placed):
            for link in step.after:
                before = self.placed.get(link.step)
                if link.tight and before is not None and before.state in ("done", "running"):
                    over = found.start - deadline_of(before, link, self.airs)
                    if over > 1e-6:
                        return (
                            f"it had to begin {_how_soon(link)} “{before.step.name}”, and would come "
                            f"{lasting(max(over, 1))} too late; do “{before.step.name}” again before it"
                        )
        return found

    def _in_its_way(self, step: Step, holds: list[Hold], explain: bool) -> Placed | str:
        """In the first stretch in which its thing lies right, or after another turning."""
        thing = self.turning.things[step.thing]
        for stretch in self.turning.stretches(step.thing, step.way):
            held = [*holds, (stretch.start, Because("setup", thing.id, stretch.by))]
            found = self.first(step, held, explain=explain)
            over = math.inf if not isinstance(found, Placed) or found.ready is None else found.ready
            if stretch.until is None or (isinstance(found, Placed) and over <= stretch.until):
                return found
        last = self.turning.last(step.thing)
        if last is None:
            return self.first(step, holds, explain=explain)
        if last.busy == math.inf:
            return f"{thing.name} can't be turned: “{self._name(last.busy_by)}” never comes so far"
        turn = thing.turn(step.way, self.turning.number(step.thing))
        free = [(self.job.start, START), (last.busy, Because("setup", thing.id, last.busy_by))]
        turned = self.first(turn, free)
        if isinstance(turned, str):
            return f"{thing.name} can't be turned {step.way}: {turned}"
        found = self.first(step, [*holds, (turned.end, Because("setup", thing.id, turn.key))], explain=explain)
        if isinstance(found, str):
            return found
        turned = self._as_late(turned, free, found.start)
        self._keep(turned)
        self.turning.turned(step.thing, step.way, turned.start, turned.end, turn.key)
        return found

    def _as_late(self, turned: Placed, free: list[Hold], start: float) -> Placed:
        """The same turning as late as what it is for allows: until then more may be done as it lies."""
        length = turned.end - turned.start
        at = bisect_right(self.hours.closes, start)
        for opens, closes in reversed(self.hours.open[max(at - 3, 0) : at + 1]):
            latest = math.floor((min(closes, start) - length) / GRID_MIN) * GRID_MIN
            if latest <= turned.start or latest < opens:
                continue
            found = self.first(turned.step, [*free, (latest, START)], explain=False)
            if isinstance(found, Placed) and found.end <= start:
                return replace(found, because=Because("overnight"), causes=(Because("overnight"),))
        return turned

    def first(self, step: Step, holds: list[Hold], *, shared: bool = True, explain: bool = True) -> Placed | str:
        """The first moment from which a step can go, with what held it; or why there is none.

        Without ``shared`` it has people and stations to itself.
        """
        found, met = self._search(step, holds, (), shared=shared)
        if not shared or not explain or isinstance(found, str):
            return found
        causes = self._causes(found, holds, met)
        return replace(found, because=causes[0], causes=causes)

    def _causes(self, found: Placed, holds: list[Hold], met: list[Because]) -> tuple[Because, ...]:
        """What would have to be away for it to go sooner: one thing, or else as few together as can be."""
        step, known = found.step, {because.what: because for because in reversed([found.because, *reversed(met)])}
        known.pop(START.what, None)

        def sooner(without: Relaxed) -> bool:
            other, others = self._search(step, holds, without)
            for because in others:
                if because.kind != "start":
                    known.setdefault(because.what, because)
            return isinstance(other, Placed) and other.begins < found.begins

        def rank(what: tuple[str, str]) -> int:
            # What was moved for another, or waits for somebody away, is often closed to as well: that says
            # less. Of people those who are busy here are named rather than those who are not.
            away = known[what].kind == "crew" and not known[what].by
            if what[0] == "window" or (away and found.because.kind == "hours"):
                return 0
            return 3 if away else 1 + (what != found.because.what)

        for what in sorted(known, key=rank):
            if sooner((what,)):
                return (known[what],)
        away, count = list(known), -1
        while count < len(known) and not sooner(away):
            count, away = len(away), list(known)
        if not sooner(away):
            return (START,)
        for what in list(away):
            less = [other for other in away if other != what]
            if sooner(less):
                away = less
        return tuple(known[what] for what in away)

    def _search(
        self, step: Step, holds: list[Hold], without: Relaxed, *, shared: bool = True
    ) -> tuple[Placed | str, list[Because]]:
        """The soonest of all teams' first moments, and everything that was met on the way."""
        always = {of for kind, of in without if kind == "crew"}
        teams = self.roster.teams(step, self.job.crew, always) if shared else [(self.hours, None)]
        if HOURS.what in without:
            teams = [(self.always, None)]
        best: Placed | str = ""
        met: list[Because] = []
        for hours, who in teams:
            found = self._try(step, holds, without, hours, who, met, shared=shared)
            if isinstance(found, str):
                best = best or found
            elif isinstance(best, str) or (found.begins, found.end) < (best.begins, best.end):
                best = found
        return best, met

    def _try(
        self,
        step: Step,
        holds: list[Hold],
        without: Relaxed,
        hours: Hours,
        who: frozenset[str] | None,
        met: list[Because],
        *,
        shared: bool,
    ) -> Placed | str:
        crew = [member for member in self.job.crew if who is None or member.id in who]
        if step.people and shared and _team(step, crew) is None:
            return "nobody has the hours for it"
        fact = self.job.facts.get(step.key)
        worked = fact.worked_min if fact else 0.0
        needed = max(step.length - math.floor(worked / GRID_MIN) * GRID_MIN, GRID_MIN)
        likes, air = self._likes(step), self.airs.where(step)
        moment, because = max((hold for hold in holds if hold[1].what not in without), key=lambda hold: hold[0])
        met.append(because)
        freed: list[Because] = []
        while True:
            pieces = self._work(step, moment, needed, hours)
            if pieces is None:
                return self._no_room(step, needed, because, hours)
            start, end = pieces[0][0], pieces[-1][1]
            if start - moment >= GRID_MIN:
                because = HOURS
                if hours is not self.hours and hours is not self.always:
                    met += [Because("crew", member.id) for member in crew if self.roster.kind[member.id]]
                met.append(because)
            team: tuple[str, ...] = ()
            if shared and step.people:
                got = self._people(step, pieces, likes, crew, without)
                if isinstance(got, tuple):
                    moment, freed = got
                    because = freed[0]
                    met.extend(freed)
                    if math.isinf(moment):
                        return f"{because.of} is not there for it"
                    continue
                team = tuple(got)
                if because.kind == "crew":
                    # Of those who came free then, one who does it is named.
                    because = next((b for b in freed if b.of in team), because)
            ready = self._ready(step, end, step.cure, air)
            if shared and (full := self._stations(step, start, end, ready, without)) is not None:
                moment, because = full
                met.append(because)
                if math.isinf(moment):
                    return f"“{because.of}” is never free again: “{self._name(because.by)}” does not come off it"
                continue
            if step.limited and ("climate", "") not in without:
                unfit = self.airs.unfit(step, start, self._limited_until(step, end, ready, air), air)
                if unfit is not None:
                    moment, because = unfit[0], Because("climate", "", unfit[1])
                    met.append(because)
                    if math.isinf(moment):
                        return self._never_fit(step, air, unfit[1])
                    continue
            worked_pieces = len(fact.pieces) if fact else 0
            if fact and fact.pieces:
                pieces = (*fact.pieces, *pieces)
            state: Literal["to do", "paused"] = "paused" if fact and fact.pieces else "to do"
            pin = self._pin(step)
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
                state,
                worked_pieces,
                air,
                pinned=pin.start if pin else None,
            )

    def _limited_until(self, step: Step, end: float, ready: float | None, air: str) -> float:
        """Until when its limits must hold."""
        until = ready
        if step.limits_until == "end":
            until = end
        elif step.limits_until != "wait" and step.cure is not None:
            until = self.airs.reaches(step.cure, end, step.cure.hours(step.limits_until), air)
        return end + HORIZON_MIN if until is None else until

    def _never_fit(self, step: Step, air: str, limit: str) -> str:
        until = "its work is over" if step.limits_until == "end" else "its wait is over"
        if limit != "cold" or step.min_c is None:
            return f"it needs drier air until {until}, and it stays too damp"
        short = step.min_c - float(self.airs.profile(air).celsius[-1])
        if short > 0:
            return f"it needs {step.min_c:g} °C until {until}, and the air stays {short:.1f} K short"
        return f"it needs {step.min_c:g} °C until {until}, and the air never stays so warm for so long"

    def _likes(self, step: Step) -> set[str]:
        """Who is wanted, else who did what came before: they carry on where they can."""
        pin = self._pin(step)
        if pin is not None and pin.people:
            return set(pin.people)
        return {name for link in step.after if link.step in self.placed for name in self.placed[link.step].people}

    def _work(self, step: Step, earliest: float, needed: float, hours: Hours) -> tuple[Interval, ...] | None:
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
            return "those who could do it are never there together"
        if not step.may_pause and needed > hours.longest:
            return (
                f"it takes {needed:g} min in one go and the longest stretch of working hours is "
                f"{hours.longest:g} min; work longer that day, or split it"
            )
        held = {
            "climate": "the air is too cold or too damp",
            "crew": "there are too few people",
            "station": f"“{because.of}” is full",
        }
        return f"no room is found for it within two years: {held.get(because.kind, 'the hours are too few')}"

    def _people(
        self, step: Step, pieces: Sequence[Interval], likes: set[str], crew: Sequence[Member], without: Relaxed
    ) -> tuple[float, list[Because]] | list[str]:
        """Who does it; or from when enough could, and who comes free then."""
        free: list[Member] = []
        busy: list[tuple[float, Member, str]] = []
        for member in crew:
            found = None
            if ("crew", member.id) not in without:
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

    def _stations(
        self, step: Step, start: float, end: float, ready: float | None, without: Relaxed
    ) -> tuple[float, Because] | None:
        until = (ready if ready is not None else math.inf) if step.holds else end
        for name in step.stations:
            full = None if ("station", name) in without else self.stations[name].full(start, until)
            if full is not None:
                return full[0], Because("station", name, full[1])
        return None

    def _overnight(self, found: Placed) -> Placed:
        """The same day, but as late as nothing that follows would be later for it.

        Long waits then run overnight, and the day is left to work that needs its light.
        """
        step = found.step
        links = [link for _, link in self._followers[step.key]]
        quick = found.ready is None or found.ready - found.end < LONG_WAIT_MIN
        if not self.job.overnight or quick or not links or step.may_pause or step.way or found.pinned is not None:
            return found
        opens = [self._opening(found, link) for link in links]
        closes = self.hours.closes[bisect_right(self.hours.closes, found.start)]
        if any(opening is None for opening in opens):
            return found
        latest = math.floor((closes - (found.end - found.start)) / GRID_MIN) * GRID_MIN
        for start in range(int(latest), int(found.start), -6 * GRID_MIN):
            later, _ = self._search(step, [(float(start), START)], ())
            if not isinstance(later, Placed) or later.start != start:
                continue
            if [self._opening(later, link) for link in links] == opens:
                because = Because("overnight")
                return replace(later, because=because, causes=(because, *found.causes), earliest=found.start)
        return found

    def _opening(self, found: Placed, link: After) -> float | None:
        """When the shop opens after an event of a closed night, with time to spare; None if it is open then."""
        event = event_of(found, link.until, self.airs)
        if event is None:
            return None
        opening = self.hours.opening(event)
        return opening if opening - event >= SPARE_MIN else None

    def _name(self, key: str) -> str:
        return self._names.get(key, key)


def _how_soon(link: After) -> str:
    if link.within_min is not None:
        until = "" if link.until in ("end", "wait") else f" “{link.until}” of"
        return f"within {lasting(link.within_min)} of{until}"
    return f"before “{link.closes}” of"


def _people(count: int) -> str:
    return "1 person" if count == 1 else f"{count} people"


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
