"""Steps in time: when each is, what held it, and the events others wait for."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal, NamedTuple

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import After, Step
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.airs import Airs
from kiteloom.core.plan.ground import Ground

Kind = Literal[
    "start", "hours", "after", "cure", "crew", "station", "delivery", "climate", "setup", "window", "pin",
    "overnight", "stands", "done", "running",
]  # fmt: skip


class Because(NamedTuple):
    """What held a step: ``of`` names the step, person, station or thing; ``by`` the step that kept those busy.

    For the air ``by`` is what was not as it must be: cold, hot, damp or dew. Somebody busy by ``""``
    is not there.
    """

    kind: Kind
    of: str = ""
    by: str = ""

    @property
    def what(self) -> tuple[str, str]:
        """What would have to be taken away.

        >>> Because("person", "Bo", "wing:layup").what
        ('person', 'Bo')
        """
        return self.kind, self.of


START, HOURS, LATE = Because("start"), Because("hours"), Because("overnight")


@dataclass(frozen=True)
class Placed:
    """A step in time [min on the program's clock].

    ``pieces`` are its stretches of work; ``ready`` is when its wait is over, None if it never
    is. A cure counts from ``mixed``, in the air of that name. ``met`` is what the search met
    last before it; what held it is told by ``causes``, when it is asked.
    """

    step: Step
    start: float
    end: float
    ready: float | None
    met: Because
    pieces: tuple[Interval, ...]
    people: tuple[str, ...] = ()
    mixed: float | None = None
    cure: CureSystem | None = None
    state: Literal["to do", "running", "paused", "done"] = "to do"
    worked: int = 0
    """How many of the pieces were worked already, before work that is to go on."""
    air: str = ""
    spoilt: bool = False
    """Whether something on it is out of its ratio or marked bad: no clock of a sheet holds for it."""
    pinned: float | None = None
    """When it was wanted, where somebody said so."""
    kept: float | None = None
    """When the accepted plan had it, where its day is kept so."""
    earliest: float | None = None
    """When it could have begun, where it was put later on purpose; what held it then stands in ``causes``."""
    tell: Callable[[Placed], tuple[Because, ...]] | None = field(default=None, repr=False, compare=False)

    @cached_property
    def causes(self) -> tuple[Because, ...]:
        """What held it; where one thing alone did not, those that did together.

        >>> [because.kind for because in plan.by_key["peel"].causes]
        ['hours']
        """
        return self.tell(self) if self.tell else (self.met,)

    @property
    def because(self) -> Because:
        """What held it, or the first of those that did."""
        return self.causes[0]

    @property
    def begins(self) -> float:
        """When its work begins, or goes on after a pause [min].

        >>> plan.by_key["layup"].begins == plan.by_key["bed"].end
        True
        """
        return self.pieces[self.worked][0] if self.worked < len(self.pieces) else self.start

    @property
    def done(self) -> bool:
        """Whether its work is over."""
        return self.state == "done"


@dataclass(frozen=True)
class Unplaced:
    """A step that can't be placed, and why, in a sentence.

    ``missed`` when what it had to follow in time is too long ago: that must be done again.
    """

    step: Step
    why: str
    missed: bool = False


class Missed(str):
    """Why a step can't go any more: its time after what it follows has passed."""


@dataclass(frozen=True)
class Limit:
    """What no plan can beat: one chain by itself, the hours of the crew or of a skill, or those with fit air for work
    that needs it, a station's time or its days.

    ``of`` is the last step of the chain, the skill, a step that needs such air, or the station; ``minutes`` the work
    it is, or the time it takes; ``count`` how often the station is taken for so long that it is so no more than
    ``a_day`` times in a day.
    """

    kind: Literal["chain", "crew", "skill", "air", "station", "days"]
    of: str = ""
    minutes: float = 0.0
    count: int = 0
    a_day: int = 0


@dataclass(frozen=True, eq=False)
class Plan:
    """Placed steps in the order of their start, and those that can't be.

    ``order`` are the keys in the order in which they were placed: a step was held only by those
    before it; ``overnight`` whether long waits were put late in the day, where nothing that follows was later for it.
    """

    placed: tuple[Placed, ...]
    unplaced: tuple[Unplaced, ...]
    start: float
    ground: Ground
    proves: Callable[[], tuple[float, Limit | None]] = field(repr=False)
    """Works out what no plan can beat, when it is asked."""
    order: tuple[str, ...] = ()
    overnight: bool = True

    @property
    def airs(self) -> Airs:
        """The airs it was placed in.

        >>> plan.airs.profile().at(plan.start)
        20.0
        """
        return self.ground.airs

    @cached_property
    def _proven(self) -> tuple[float, Limit | None]:
        return self.proves()

    @property
    def bound(self) -> float:
        """What no plan can end before [min].

        >>> plan.bound <= plan.finish
        True
        """
        return self._proven[0]

    @property
    def limit(self) -> Limit | None:
        """What holds the time no plan can beat; None where a solver proved it, or nothing is planned."""
        return self._proven[1]

    def proven(self, bound: float, limit: Limit | None) -> Plan:
        """The same, with what no plan can beat known already."""
        return replace(self, proves=lambda: (bound, limit))

    @property
    def finish(self) -> float | None:
        """The latest moment anything is ready (or its work ends, when its wait never does); None without steps.

        >>> plan.finish == plan.by_key["peel"].end
        True
        """
        return max((p.end if p.ready is None else p.ready for p in self.placed), default=None)

    @cached_property
    def by_key(self) -> Mapping[str, Placed]:
        """The placed steps by key.

        >>> list(plan.by_key)
        ['bed', 'layup', 'peel']
        """
        return {placed.step.key: placed for placed in self.placed}

    def told(self, keys: Collection[str] | None = None) -> Plan:
        """The same, with what held each step, or some, told already: soonest so where many are asked.

        >>> plan.told(["peel"]) is plan
        True
        """
        for key in self.order if keys is None else [key for key in self.order if key in keys]:
            _ = self.by_key[key].causes
        return self

    def event(self, placed: Placed, until: str) -> float | None:
        """The time of an event others wait for; None if it never comes.

        >>> layup = plan.by_key["layup"]
        >>> plan.event(layup, "gel") < plan.event(layup, "peel") == layup.ready
        True
        """
        return event_of(placed, until, self.airs)

    def deadline(self, placed: Placed, link: After) -> float:
        """The last moment a step may begin that follows another so; inf when it may be any.

        >>> layup = plan.by_key["layup"]
        >>> plan.deadline(layup, After("layup", "end", within_min=60)) == layup.end + 60
        True
        """
        return deadline_of(placed, link, self.airs)


def event_of(placed: Placed, until: str, airs: Airs) -> float | None:
    """The time of an event others wait for: the end, the wait, or a stage [min]; None if it never comes.

    >>> event_of(plan.by_key["bed"], "end", plan.airs) - plan.start
    60.0
    """
    if until == "end":
        return placed.end
    if until == "wait" or placed.spoilt:
        return placed.ready
    return None if placed.mixed is None else stage_of(placed.cure, until, placed.mixed, placed.air, airs)


def stage_of(cure: CureSystem | None, stage: str, mixed: float, air: str, airs: Airs) -> float | None:
    """When a mix reaches a stage of its sheet [min]; None if it never does, or the sheet has none so called.

    >>> stage_of(EPOXY, "drill", plan.start, "", plan.airs) is None
    True
    """
    return airs.reaches(cure, mixed, cure.hours(stage), air) if cure is not None and cure.has(stage) else None


def deadline_of(placed: Placed, link: After, airs: Airs) -> float:
    """The last moment a step may begin that follows another by this link [min]; inf when any.

    >>> deadline_of(plan.by_key["bed"], After("bed"), plan.airs)
    inf
    """
    mixed, cure = placed.mixed if placed.mixed is not None else placed.end, placed.cure
    return closes_at(link, event_of(placed, link.until, airs), placed.step, cure, mixed, placed.air, airs)


def closes_at(
    link: After, event: float | None, before: Step, cure: CureSystem | None, mixed: float, air: str, airs: Airs
) -> float:
    """The last moment a link allows after its event, of what was mixed for the step before it then [min]; inf when
    any.

    >>> closes_at(After("bed", within_min=60), 0.0, small.steps[0], None, 0.0, "", plan.airs)
    60.0
    """
    last = math.inf
    if link.within_min is not None and event is not None:
        last = event + link.within_min
    system = before.life if link.same_mix else cure
    if link.closes:
        at = stage_of(system, link.closes, mixed, air, airs)
        last = min(last, math.inf if at is None else at - link.uses_min)
    return last
