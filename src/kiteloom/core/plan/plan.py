"""A plan: steps in time, those that can't be placed, and what no plan can beat."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from kiteloom.core.base.calendar import both, without
from kiteloom.core.build.step import After, Step
from kiteloom.core.plan.airs import Airs
from kiteloom.core.plan.ground import Ground
from kiteloom.core.plan.placed import Placed, deadline_of, event_of


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

    @cached_property
    def finish(self) -> float | None:
        """The latest moment anything is ready (or its work ends, when its wait never does); None without steps.

        >>> plan.finish == plan.by_key["peel"].end
        True
        """
        return max((p.over for p in self.placed), default=None)

    @cached_property
    def work_over(self) -> float:
        """When its work is over on the whole, each step's by its hands-on minutes [min].

        >>> plan.start < plan.work_over < plan.finish
        True
        """
        work = [(p.step.length * p.step.people, p.end) for p in self.placed]
        minutes = sum(taken for taken, _ in work)
        return sum(taken * end for taken, end in work) / minutes if minutes else self.start

    @cached_property
    def idle(self) -> list[float]:
        """From when somebody who is there has nothing to do, while anything is not over yet, in order [min].

        >>> plan.idle == [plan.by_key["layup"].end]
        True
        """
        roster, there = self.ground.roster, [(self.start, self.finish or self.start)]
        found: list[float] = []
        for name in roster.kind:
            work = [piece for placed in self.placed if name in placed.people for piece in placed.pieces]
            found += [start for start, _ in without(both(roster.there(name).open, there), work)]
        return sorted(found)

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
