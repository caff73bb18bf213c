"""Places the steps of a job one after another: each at the first moment it can go, together what must keep a time."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from kiteloom.core.base.calendar import lasting
from kiteloom.core.build.step import GRID_MIN, After, Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.as_free import AsFree
from kiteloom.core.plan.bound import bound_of
from kiteloom.core.plan.cant import impossible
from kiteloom.core.plan.causes import Told
from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.in_time import how_soon, in_time_for, late_for
from kiteloom.core.plan.input import PlanInput
from kiteloom.core.plan.overnight import overnight
from kiteloom.core.plan.placed import LATE, START, Because, Placed, deadline_of, event_of
from kiteloom.core.plan.plan import Limit, Missed, Plan, Unplaced
from kiteloom.core.plan.prefix import Marks, Near, Prefix, State
from kiteloom.core.plan.queue import Line, Queue, passed_by
from kiteloom.core.plan.search import Hold, Search
from kiteloom.core.plan.settled import settled
from kiteloom.core.plan.turning import Turning

#: So often a step is moved for the sake of one that must follow it in time.
MOST_MOVES = 200


@dataclass(frozen=True)
class Known:
    """What is the same in whichever order a job is placed: what is to be placed, and what can't go in any."""

    line: Line
    left: Mapping[str, Unplaced]


class Placer:
    """A plan in the making: what is placed so far, what is left out, and how everything lies.

    ``tells`` is whether what holds each step is told.
    """

    def __init__(
        self,
        job: PlanInput,
        ground: Ground | None = None,
        *,
        tells: bool = True,
        known: Known | None = None,
    ) -> None:
        self.job, self._tells, self._known = job, tells, known
        self.search: Search = Search(job, ground)
        self.told = Told(self.search)
        self.turning = Turning(job.things)
        self.unplaced: dict[str, Unplaced] = dict(known.left if known else {})
        self.waited = False
        """Whether a turning was put off."""
        self._asked: dict[str, Placed | str] = {}
        """Where steps could go that were asked for since anything was placed."""
        self._followers: dict[str, list[After]] = defaultdict(list)
        for step in job.steps:
            for link in step.after:
                self._followers[link.step].append(link)

    def line(self) -> Line:
        """What is to be placed, once what has been done is put, less what is left out."""
        steps = self.job.in_order
        gone = {*self.search.placed, *self.unplaced, *passed_by(steps, self.job.facts)}
        return Line(self.job, [step for step in steps if step.key not in gone])

    def never(self) -> dict[str, Unplaced]:
        """What can't go in any order, once what has been done is put: for itself, or for what it comes after."""
        queue = Queue(self.line(), (), lambda _: "", patient=False)
        while (unit := queue.next()) is not None:
            if any(self._never(step) for step in unit):
                self._put(unit)
            queue.placed(unit)
        return self.unplaced

    def _never(self, step: Step) -> bool:
        if any(link.step in self.unplaced for link in step.after):
            return True
        return impossible(step, self.job, self.search.name) is not None

    def plan(
        self,
        *,
        patient: bool = False,
        as_free: float | None = None,
        bound: float | None = None,
        near: Near | None = None,
    ) -> Plan:
        """The plan of its job.

        Parameters
        ----------
        patient : bool
            Whether everything that can be done before a thing is turned is done before.
        as_free : float or None
            Whoever is free goes on with what can begin, but waits so long for what comes before it [min]; else one
            after the other in their order.
        bound : float or None
            What no plan can end before, where it is known [min].
        near : Near or None
            A plan of the same job to go on from, as far as the order is the same.
        """
        steps = self.job.in_order
        self.settle()
        queue = self._queue(as_free, patient=patient)
        prefix = None if near is None else Prefix(near.plan, len(self.search.placed), steps, near.marks)
        unit = queue.next() if prefix is None else prefix.along(queue)
        if prefix is not None:
            self._again(prefix.known, prefix.marks)
        while unit is not None:
            self._put(unit)
            if prefix is not None and near is not None and prefix.later(unit, self.search.placed) > near.later:
                return near.plan
            queue.placed(unit)
            unit = queue.next()
        self.waited = queue.waited
        ranks = {step.key: rank for rank, step in enumerate(self.job.steps)}
        placed = sorted(self.search.placed.values(), key=lambda p: (p.start, p.end, ranks.get(p.step.key, -1)))

        def proves() -> tuple[float, Limit | None]:
            if bound is not None:
                return bound, None
            return bound_of(self.job, steps, self.search.placed, self.search, self._alone(steps))

        left, order = tuple(self.unplaced.values()), tuple(self.search.placed)
        return Plan(tuple(placed), left, self.job.start, self.search.ground, proves, order, self.job.overnight)

    def _queue(self, as_free: float | None, *, patient: bool) -> Queue:
        line = self._known.line if self._known else self.line()
        if as_free is None:
            return Queue(line, self.job.order, lambda thing: self.turning.way(thing), patient=patient)

        return AsFree(line, self.job.order, self.search, self._comes, self._begins, as_free)

    def _comes(self, step: Step) -> float:
        """From when what comes before a step allows it [min]."""
        holds = self._holds(step, self.search.placed)
        return -math.inf if isinstance(holds, str) else max(from_when for from_when, _ in holds)

    def _begins(self, step: Step) -> float:
        """From when a step can go as everything lies, but for how its thing does [min]; -inf where it can't."""
        found = self._asked.get(step.key)
        if found is None:
            holds = self._holds(step, self.search.placed)
            found = self._asked[step.key] = holds if isinstance(holds, str) else self._first(step, holds)
        return -math.inf if isinstance(found, str) else found.begins

    def _alone(self, steps: Sequence[Step]) -> dict[str, Placed]:
        """The placed steps as each chain would go with people and stations to itself."""
        alone: dict[str, Placed] = {}
        for step in steps:
            placed = self.search.placed.get(step.key)
            if placed is not None and placed.state in ("done", "running"):
                alone[step.key] = placed
            elif placed is not None:
                holds = self._holds(step, alone, stands=False)
                found = holds if isinstance(holds, str) else self.search.find(step, holds, shared=False)[0]
                if isinstance(found, Placed):
                    alone[step.key] = found
        return alone

    def settle(self) -> None:
        """Put what has been done, or is being done now."""
        for thing in self.job.things:
            if thing.turning is not None:
                way, fact = thing.turning
                turn = thing.turn(way, thing.turned + 1)
                self._settle(turn, fact)
                self.turning.begun(thing.id, way, self.search.placed[turn.key].end, turn.key)
        for step in self.job.steps:
            noted = self.job.facts.get(step.key)
            if noted is not None and (noted.done or noted.running_since is not None):
                self._settle(step, noted)

    def _settle(self, step: Step, fact: Fact) -> None:
        self._keep(settled(step, fact, self.job.start, self.search))

    def _keep(self, found: Placed) -> None:
        """Take what a placed step takes."""
        self._asked.clear()
        self.search.keep(found)
        step, ready = found.step, math.inf if found.ready is None else found.ready
        if step.way and (found.state != "done" or ready > self.job.start):
            self.turning.used(step.thing, step.way, max(ready, found.end), step.key)

    def _again(self, known: Sequence[tuple[Placed, bool]], marks: Marks) -> None:
        """Steps that stand as in another plan, with what was turned for them: from the last mark among them on."""
        at, state = marks.last(len(known))
        if state is not None:
            self._back(state)
        turned: Placed | None = None
        for count, (found, own) in enumerate(known[at:], at + 1):
            if own and turned is not None:
                step = found.step
                self.turning.turned(step.thing, step.way, turned.start, turned.end, turned.step.key)
            turned = None if own else found
            self._keep(found)
            if own and marks.due(count):
                marks.keep(count, self._now())

    def _put(self, unit: Sequence[Step]) -> None:
        if len(unit) > 1:
            self._put_together(unit)
            return
        (step,) = unit
        found = self.one(step)
        if isinstance(found, Placed):
            self._keep(overnight(self.search, found, self._followers[step.key]))
            return
        self.unplaced[step.key] = Unplaced(step, found, isinstance(found, Missed))

    def _put_together(self, unit: Sequence[Step]) -> None:
        """Steps that must follow each other in time: the first is moved until the last keeps its time."""
        at_least: dict[str, Hold] = {}
        nearest, before = math.inf, self._now()
        for _ in range(MOST_MOVES):
            for step in unit:
                found = self.one(step, at_least.get(step.key))
                if isinstance(found, str):
                    self._back(before)
                    self._leave(unit, step, found)
                    return
                late = late_for(found, self.search)
                if late is not None:
                    link, over = late
                    nearest = min(nearest, over)
                    first = self.search.placed[link.step]
                    self._back(before)
                    moved = in_time_for(first, link, found.start, self.search)
                    at_least[link.step] = (max(moved, first.start + GRID_MIN), Because("window", step.key))
                    culprit, cold = (step, link), found.met.kind == "climate"
                    break
                self._keep(found)
            else:
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
            f"it must begin {how_soon(link)} “{self.search.name(link.step)}”, and no working hours"
            f"{' with fit air' if cold else ''} allow it: the nearest it came was "
            f"{lasting(max(nearest, 1))} too late; {change}",
        )

    def _leave(self, unit: Sequence[Step], culprit: Step, why: str) -> None:
        for step in unit:
            reason = why if step is culprit else f"“{culprit.name}” goes with it in time and can't be placed"
            self.unplaced[step.key] = Unplaced(step, reason, step is culprit and isinstance(why, Missed))

    def _now(self) -> State:
        return self.search.taken(), self.turning.copy()

    def _back(self, state: State) -> None:
        self.search.back(state[0])
        self.turning = state[1].copy()

    def _holds(self, step: Step, placed: Mapping[str, Placed], *, stands: bool = True) -> list[Hold] | str:
        """The moments its links, deliveries and pins allow, and where it stands; or why it can't go."""
        found: list[Hold] = [(self.job.start, START)]
        if step.not_before is not None:
            found.append((step.not_before, Because("delivery")))
        pin = self.search.pin(step)
        if pin is not None:
            found.append((pin.start, Because("pin")))
        elif stands and step.key in self.job.stands:
            found.append((self.job.stands[step.key], Because("stands")))
        for link in step.after:
            left = self.unplaced.get(link.step)
            if left is not None:
                return f"it comes after “{left.step.name}”, which can't be placed"
            before = placed.get(link.step)
            if before is None:
                continue  # passed: what came later has been done
            event = event_of(before, link.until, self.search.airs)
            if event is None:
                if before.spoilt:
                    return (
                        f"what is on “{before.step.name}” is out of its ratio or marked bad: no clock of its sheet "
                        "holds for it; somebody must decide and sign before it goes on"
                    )
                stage = (before.step.wait_stage or "") if link.until == "wait" else link.until
                if before.cure is not None and stage and not before.cure.has(stage):
                    return (
                        f"what was mixed for “{before.step.name}” has no stage “{stage}” on its sheet; write it there"
                    )
                return f"“{before.step.name}” does not reach “{stage}” within 60 days at these temperatures; warm it"
            found.append((event, Because("after" if event <= before.end else "cure", link.step)))
        return found

    def one(self, step: Step, at_least: Hold | None = None) -> Placed | str:
        """The first moment a step can go, its thing turned for it where it must be; or why there is none."""
        why = None if self._known else impossible(step, self.job, self.search.name)
        if why is not None:
            return why
        holds = self._holds(step, self.search.placed)
        if isinstance(holds, str):
            return holds
        holds = [*holds, at_least] if at_least else holds
        asked = None if at_least or step.way else self._asked.get(step.key)
        found, turned = self._in_its_way(step, holds) if step.way else (asked or self._first(step, holds), None)
        if isinstance(found, Placed):
            for link in step.after:
                before = self.search.placed.get(link.step)
                if link.tight and before is not None and before.state in ("done", "running"):
                    over = found.start - deadline_of(before, link, self.search.airs)
                    if over > 1e-6:
                        return Missed(
                            f"it had to begin {how_soon(link)} “{before.step.name}”, and would come "
                            f"{lasting(max(over, 1))} too late; do “{before.step.name}” again before it"
                        )
        if turned is not None:  # nothing is turned for a step that is left out
            self._keep(turned)
            self.turning.turned(step.thing, step.way, turned.start, turned.end, turned.step.key)
        return found

    def _in_its_way(self, step: Step, holds: list[Hold]) -> tuple[Placed | str, Placed | None]:
        """In the first stretch in which its thing lies right, or after another turning, and that."""
        thing = self.turning.things[step.thing]
        for stretch in self.turning.stretches(step.thing, step.way):
            held = [*holds, (stretch.start, Because("setup", thing.id, stretch.by))]
            found = self._first(step, held)
            over = math.inf if not isinstance(found, Placed) or found.ready is None else found.ready
            if stretch.until is None or (isinstance(found, Placed) and over <= stretch.until):
                return found, None
        last = self.turning.last(step.thing)
        if last is None:
            return self._first(step, holds), None
        if last.busy == math.inf:
            return f"{thing.name} can't be turned: “{self.search.name(last.busy_by)}” never comes so far", None
        turn = thing.turn(step.way, self.turning.number(step.thing))
        free = [(self.job.start, START), (last.busy, Because("setup", thing.id, last.busy_by))]
        turned = self._first(turn, free)
        if isinstance(turned, str):
            return f"{thing.name} can't be turned {step.way}: {turned}", None
        found = self._first(step, [*holds, (turned.end, Because("setup", thing.id, turn.key))])
        return found, None if isinstance(found, str) else self._as_late(turned, free, found.start)

    def _as_late(self, turned: Placed, free: list[Hold], start: float) -> Placed:
        """The same turning as late as what it is for allows: until then more may be done as it lies."""
        length = turned.end - turned.start
        at = bisect_right(self.search.hours.closes, start)
        for opens, closes in reversed(self.search.hours.open[max(at - 3, 0) : at + 1]):
            latest = math.floor((min(closes, start) - length) / GRID_MIN) * GRID_MIN
            if latest <= turned.start or latest < opens:
                continue
            found, _ = self.search.find(turned.step, [*free, (latest, START)])
            if isinstance(found, Placed) and found.end <= start:
                return replace(found, met=LATE)
        return turned

    def _first(self, step: Step, holds: list[Hold]) -> Placed | str:
        tell = (lambda found: self.told.causes(found, holds)) if self._tells else None
        return self.search.find(step, holds, quick=True, tell=tell)[0]
