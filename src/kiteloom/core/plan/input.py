"""What a plan is made from: steps, people, stations, set-ups, hours, airs, and what was done."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass, field, fields

import numpy as np

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import Interval, WorkingHours
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.build.step import After, Step, in_order
from kiteloom.core.log.facts import Fact

#: Keys of turnings begin so, after their part.
TURN = "turn/"


@dataclass(frozen=True)
class Member:
    """Somebody who works here: skills, hours of their own inside the shop's, and when they are away [min].

    ``name`` is what they are called in sentences; without one it is the id.
    """

    id: str
    skills: frozenset[str] = frozenset()
    hours: WorkingHours | None = None
    away: tuple[Interval, ...] = ()
    name: str = ""


@dataclass(frozen=True)
class Station:
    """A place or device steps need, how many it serves at a time, and the zone whose air it has, ``""`` the shop's.

    ``name`` is what it is called in sentences; without one it is the id. ``serves`` are the kinds of
    place or device it is asked for as.
    """

    id: str
    capacity: int = 1
    zone: str = ""
    name: str = ""
    serves: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        between("capacity", self.capacity, 0, 1000, name=f"the capacity of “{self.name or self.id}”")


@dataclass(frozen=True)
class Thing:
    """Something big that lies one way up at a time, and what turning it takes.

    Parameters
    ----------
    way : str
        How it lies now; ``""`` while nothing was begun on it: then the first step decides.
    part : str
        The part whose key its turnings carry.
    turned : int
        How often it was turned so far: the next turning's number follows.
    turning : tuple of (str, Fact) or None
        The way it is being turned to now.
    """

    id: str
    name: str
    way: str = ""
    part: str = ""
    minutes: float = 20.0
    people: int = 2
    turned: int = 0
    turning: tuple[str, Fact] | None = None

    def turn(self, way: str, number: int) -> Step:
        """The step that turns it.

        >>> step = Thing("wing", "Wing").turn("lower side up", 1)
        >>> step.key, step.name, step.people
        ('wing:turn/1/lower side up', 'Turn it: lower side up', 2)
        """
        key = f"{TURN}{number}/{way}"
        return Step(
            f"{self.part}:{key}" if self.part else f"{self.id}:{key}",
            f"Turn it: {way}",
            self.minutes,
            self.people,
            caution="Lifting and turning: enough hands, a clear floor, one who calls the moves; nobody beneath it.",
            part=self.part,
            kind="turn",
        )


@dataclass(frozen=True)
class Pin:
    """When a step is wanted, and by whom; nothing earlier, later only when it can't be.

    ``kept`` where nobody pinned it, but its day is kept as it was accepted.
    """

    start: float
    people: tuple[str, ...] = ()
    kept: bool = False


@dataclass(frozen=True)
class Damp:
    """An air's humidity [%] and its margin over the dew point [K], as far as they are known."""

    humidity: Profile
    margin: Profile


@dataclass(frozen=True)
class PlanInput:
    """Everything a plan is made from.

    Parameters
    ----------
    own, zones : mapping
        The temperatures of parts that have their own, and of zones that stations are in.
    damp : mapping
        The humidity of the shop (``""``), and of such parts and zones, where it is known.
    overnight : bool
        Whether long waits begin late in the day, where nothing that follows would be sooner.
    units : str
        In which its reasons are said.
    order : tuple of str
        Keys in the order that stands: what is in it is placed in it. Empty where none does.
    stands : mapping
        Where steps further ahead stand in it [min]: they come no sooner, so that a slide of an hour
        today does not upset what is a week away.

    Raises
    ------
    Refused
        For two steps, people or stations of one name, a link or station that is not there,
        an event a step does not have, or links that go round in a loop.
    """

    steps: tuple[Step, ...]
    start: float
    hours: WorkingHours
    profile: Profile
    crew: tuple[Member, ...]
    stations: tuple[Station, ...] = ()
    facts: Mapping[str, Fact] = field(default_factory=dict)
    own: Mapping[str, Profile] = field(default_factory=dict)
    zones: Mapping[str, Profile] = field(default_factory=dict)
    damp: Mapping[str, Damp] = field(default_factory=dict)
    things: tuple[Thing, ...] = ()
    pins: Mapping[str, Pin] = field(default_factory=dict)
    overnight: bool = False
    units: UnitSystem = "metric"
    order: tuple[str, ...] = ()
    stands: Mapping[str, float] = field(default_factory=dict)
    in_order: tuple[Step, ...] = field(init=False, repr=False, compare=False)
    """The steps, each after those it waits for."""

    def __post_init__(self) -> None:
        by_key = {step.key: step for step in self.steps}
        _once("steps", [step.key for step in self.steps])
        _once("crew", [member.id for member in self.crew])
        _once("stations", [station.id for station in self.stations])
        _once("things", [thing.id for thing in self.things])
        stations, things = {station.id for station in self.stations}, {thing.id for thing in self.things}
        for station in self.stations:
            if station.zone and station.zone not in self.zones:
                raise Refused("stations", f"“{station.id}” is in the zone “{station.zone}”, which is not there")
        for step in self.steps:
            for name in step.stations:
                if name not in stations:
                    raise Refused("stations", f"“{step.key}” needs the station “{name}”, which is not there")
            if step.way and step.thing not in things:
                raise Refused("way", f"“{step.key}” wants “{step.thing}” {step.way}, which is not there")
            for link in step.after:
                before = by_key.get(link.step)
                if before is None:
                    raise Refused("after", f"“{step.key}” comes after “{link.step}”, which is not there")
                if link.until not in ("end", "wait"):
                    if before.cure is None:
                        raise Refused(
                            "after", f"“{step.key}” waits for “{link.until}” of “{link.step}”, which has no cure"
                        )
                    before.cure.hours(link.until)
                if link.closes:
                    _closing(step, link, before)
        object.__setattr__(self, "in_order", tuple(in_order(self.steps)))

    def but(self, **changes: object) -> PlanInput:
        """The same with other facts, pins, or another order: of the rest nothing need be looked through again.

        >>> small.but(order=("bed", "layup", "peel")) == replace(small, order=("bed", "layup", "peel"))
        True
        """
        other = copy(self)
        for name, value in changes.items():
            assert name in ("facts", "pins", "overnight", "order", "stands"), name
            object.__setattr__(other, name, value)
        return other

    def like(self, other: PlanInput) -> bool:
        """Whether the same plan is made from another: as a minute later, while nothing happened.

        >>> small.like(replace(small, profile=Profile(small.profile.minutes.copy(), small.profile.celsius.copy())))
        True
        >>> small.like(replace(small, profile=Profile.steady(19)))
        False
        """
        return all(_alike(getattr(self, one.name), getattr(other, one.name)) for one in fields(self) if one.compare)

    @property
    def plain(self) -> bool:
        """Whether a solver for whole numbers can take it as it is: nothing cures, pauses or is turned, all are alike.

        >>> small.plain  # its layup cures
        False
        """
        crew = self.crew
        alike = all(m.hours is None and not m.away for m in crew) and len({m.skills for m in crew}) <= 1
        free = not (self.things or self.pins or self.stands or self.facts)
        return (
            alike
            and free
            and all(step.cure is None and not (step.may_pause or step.limited or step.refused) for step in self.steps)
        )


def _alike(one: object, other: object) -> bool:
    """Equality that looks into the temperatures, which are otherwise themselves alone."""
    if one is other:
        return True
    if isinstance(one, Profile) and isinstance(other, Profile):
        return np.array_equal(one.minutes, other.minutes) and np.array_equal(one.celsius, other.celsius)
    if isinstance(one, Mapping) and isinstance(other, Mapping):
        return one.keys() == other.keys() and all(_alike(value, other[key]) for key, value in one.items())
    if isinstance(one, Damp) and isinstance(other, Damp):
        return all(_alike(getattr(one, each.name), getattr(other, each.name)) for each in fields(Damp))
    return one == other


def _closing(step: Step, link: After, before: Step) -> None:
    """Whether the stage that closes a link is there."""
    system = before.life if link.same_mix else before.cure
    if system is None:
        raise Refused("after", f"“{step.key}” must begin before “{link.closes}” of “{link.step}”, which has no cure")
    system.hours(link.closes)


def _once(what: str, names: Sequence[str]) -> None:
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise Refused(what, f"“{name}” is there twice among the {what}")
        seen.add(name)
