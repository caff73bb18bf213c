"""A step in time: when it is, what held it, and the events others wait for."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import After, Step
from kiteloom.core.cure.system import CureSystem
from kiteloom.core.plan.airs import Airs

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


@dataclass  # not frozen, though nobody changes one: to make it would take as long as to find its place
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
    known: tuple[Because, ...] | None = field(init=False, repr=False, compare=False)
    """What held it, once that was told."""

    def __post_init__(self) -> None:
        self.known = None

    @property
    def causes(self) -> tuple[Because, ...]:
        """What held it; where one thing alone did not, those that did together.

        >>> [because.kind for because in plan.by_key["peel"].causes]
        ['hours']
        """
        if self.known is None:
            self.known = self.tell(self) if self.tell else (self.met,)
        return self.known

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
    def over(self) -> float:
        """When nothing of it is waited for any more [min]; what never gets ready counts to its end.

        >>> plan.by_key["layup"].over == plan.by_key["layup"].ready
        True
        """
        return self.end if self.ready is None else self.ready

    @property
    def done(self) -> bool:
        """Whether its work is over."""
        return self.state == "done"


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
