"""Which way up each big thing lies over time, and what keeps it so."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from kiteloom.core.plan.input import Thing


@dataclass(frozen=True)
class Stretch:
    """A thing lies one way from a start, until it is turned [min]; ``by`` is the turning that began it.

    ``busy`` is when the last step in it lets go, and ``busy_by`` which that is.
    """

    way: str
    start: float
    by: str
    until: float | None = None
    busy: float = -math.inf
    busy_by: str = ""


class Turning:
    """The stretches of every thing."""

    def __init__(self, things: Iterable[Thing]) -> None:
        self.things = {thing.id: thing for thing in things}
        self._stretches = {
            thing.id: [Stretch(thing.way, -math.inf, "")] if thing.way else [] for thing in self.things.values()
        }
        self._count = {thing.id: thing.turned for thing in self.things.values()}

    def copy(self) -> Turning:
        """As it is now."""
        other = Turning(self.things.values())
        other._stretches = {name: rows[:] for name, rows in self._stretches.items()}
        other._count = dict(self._count)
        return other

    def way(self, thing: str) -> str:
        """How it lies last; ``""`` while no step has decided.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.turned("wing", "lower side up", 60, 80, "turn")
        >>> turning.way("wing")
        'lower side up'
        """
        rows = self._stretches[thing]
        return rows[-1].way if rows else ""

    def last(self, thing: str) -> Stretch | None:
        """The last stretch.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.last("wing").way
        'upper side up'
        """
        rows = self._stretches[thing]
        return rows[-1] if rows else None

    def stretches(self, thing: str, way: str) -> list[Stretch]:
        """Those in which it lies one way, in order.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.turned("wing", "lower side up", 60, 80, "turn")
        >>> [(s.start, s.until) for s in turning.stretches("wing", "upper side up")]
        [(-inf, 60)]
        """
        return [stretch for stretch in self._stretches[thing] if stretch.way == way]

    def number(self, thing: str) -> int:
        """The number of its next turning.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.number("wing")
        1
        """
        return self._count[thing] + 1

    def turned(self, thing: str, way: str, start: float, end: float, key: str) -> None:
        """That it is turned.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.turned("wing", "lower side up", 60, 80, "turn")
        >>> turning.last("wing").start, turning.number("wing")
        (80, 2)
        """
        rows = self._stretches[thing]
        rows[-1] = replace(rows[-1], until=start)
        rows.append(Stretch(way, end, key))
        self._count[thing] += 1

    def begun(self, thing: str, way: str, end: float, key: str) -> None:
        """That it is being turned now.

        >>> turning = Turning([Thing("wing", "Wing")])
        >>> turning.begun("wing", "lower side up", 80, "turn")
        >>> turning.way("wing")
        'lower side up'
        """
        self._stretches[thing] = [Stretch(way, end, key)]
        self._count[thing] += 1

    def used(self, thing: str, way: str, until: float, by: str) -> None:
        """That a step keeps it so until then. The first one decides how it lies.

        >>> turning = Turning([Thing("wing", "Wing", way="upper side up")])
        >>> turning.used("wing", "upper side up", 90, "layup")
        >>> turning.last("wing").busy_by
        'layup'
        """
        rows = self._stretches[thing]
        if not rows:
            rows.append(Stretch(way, -math.inf, ""))
        for n, stretch in enumerate(rows):
            if stretch.way == way and (stretch.until is None or until <= stretch.until):
                if until > stretch.busy:
                    rows[n] = replace(stretch, busy=until, busy_by=by)
                return
