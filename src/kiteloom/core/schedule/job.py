"""What is asked of the placer: steps with their links, people, stations, hours, temperature and facts.

All times are minutes on the program's clock (UTC minutes since 1970).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from kiteloom.core.calendar import Interval, WorkingHours
from kiteloom.core.climate import Profile
from kiteloom.core.cure import CureSystem
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import UnitSystem, show

#: Starts and lengths of work are multiples of five minutes.
GRID_MIN = 5


@dataclass(frozen=True)
class After:
    """A step that must come before, and until which of its events: its end, its wait, or a stage."""

    step: str
    until: str = "wait"


@dataclass(frozen=True)
class Estimate:
    """Assumed hands-on minutes: a fixed part, so many pieces at so much each, and a part that grows with area."""

    fixed_min: float
    per_m2_min: float = 0.0
    area_m2: float = 0.0
    plies: int = 1
    each_min: float = 0.0
    count: int = 0
    piece: str = ""

    @property
    def minutes(self) -> float:
        """All parts."""
        return self.fixed_min + self.per_m2_min * self.area_m2 * self.plies + self.each_min * self.count

    def words(self, people: int, units: UnitSystem) -> str:
        """As a builder can check it."""
        parts = [f"{self.fixed_min:.0f} min fixed"] if self.fixed_min else []
        if self.per_m2_min:
            plies = f" in {self.plies} plies" if self.plies > 1 else ""
            growing = self.per_m2_min * self.area_m2 * self.plies
            parts.append(f"{growing:.0f} min for {show(self.area_m2, 'area', units)}{plies}")
        if self.count:
            parts.append(f"{self.count} {self.piece} at {self.each_min:g} min each")
        parts.append(f"{people} people" if people > 1 else "1 person")
        return ", ".join(parts)


@dataclass(frozen=True)
class Step:
    """Hands-on work followed by a wait.

    Parameters
    ----------
    key : str
        Stable; unique in a job (``"skin-1/peel"``, and with its part before a colon).
    minutes : float
        Hands-on, above 0; rounded up to five.
    people : int
        How many at once; 0 needs nobody but still keeps to the hours.
    skills : tuple of str
        Each held by at least one of the people on the step.
    stations : tuple of str
        All of them, for the work, and through the wait when ``holds`` is set.
    cure, wait_stage : CureSystem and str, or None
        The product that cures afterwards, and the stage the wait lasts to.
    wait_min : float
        A fixed wait instead [min].
    not_before : float or None
        A delivery it needs [min].
    min_c : float or None
        The air may not be colder from the start until the wait is over [°C].
    may_pause : bool
        Whether the work may stop at the end of the hours and be taken up again.
    estimate : Estimate or None
        Where the minutes come from.
    caution : str
        What the work can do to whoever does it, and the usual care.
    part : str
        The surface it belongs to, ``""`` when there is only one.
    """

    key: str
    name: str
    minutes: float
    people: int = 1
    after: tuple[After, ...] = ()
    cure: CureSystem | None = None
    wait_stage: str | None = None
    may_pause: bool = False
    estimate: Estimate | None = None
    caution: str = ""
    skills: tuple[str, ...] = ()
    stations: tuple[str, ...] = ()
    holds: bool = False
    wait_min: float = 0.0
    not_before: float | None = None
    min_c: float | None = None
    part: str = ""
    own: bool = False

    def __post_init__(self) -> None:
        between("minutes", self.minutes, 0, 100_000, unit="min", open_low=True)
        between("people", self.people, 0, 100)
        between("wait.minutes", self.wait_min, 0, 1e6, unit="min")
        if self.min_c is not None:
            between("min_c", self.min_c, -60, 300, unit="°C")
        if self.wait_stage is not None:
            if self.cure is None:
                raise Refused("wait", f"“{self.name}” waits for the stage “{self.wait_stage}” but has no cure")
            self.cure.hours(self.wait_stage)

    @property
    def length(self) -> float:
        """Hands-on minutes on the five-minute grid."""
        return math.ceil(self.minutes / GRID_MIN - 1e-9) * GRID_MIN

    @property
    def local(self) -> str:
        """The key within its part."""
        return self.key.removeprefix(f"{self.part}:") if self.part else self.key

    def of_part(self, part: str) -> Step:
        """The same step as one of a part among others: its key and links carry the part's name."""
        links = tuple(After(f"{part}:{link.step}", link.until) for link in self.after)
        return replace(self, key=f"{part}:{self.key}", after=links, part=part)


@dataclass(frozen=True)
class Mixed:
    """A fact: a step's last batch was mixed then, of a product that cures so."""

    at: float
    cure: CureSystem


@dataclass(frozen=True)
class Fact:
    """What was done of a step: stretches of work, whether it is being worked on, when it was finished.

    A batch alone, with no work noted, says that the step was done when it was mixed.
    """

    pieces: tuple[Interval, ...] = ()
    running_since: float | None = None
    finished: float | None = None
    mixed: Mixed | None = None
    people: tuple[str, ...] = ()

    @property
    def done(self) -> bool:
        """Whether its work is over."""
        noted = self.pieces or self.running_since is not None
        return self.finished is not None or (self.mixed is not None and not noted)

    @property
    def worked_min(self) -> float:
        """Minutes of the closed stretches."""
        return sum(end - start for start, end in self.pieces)


@dataclass(frozen=True)
class Member:
    """Somebody who works here."""

    id: str
    skills: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Station:
    """A place or device steps need, and how many it serves at a time."""

    id: str
    capacity: int = 1

    def __post_init__(self) -> None:
        between("capacity", self.capacity, 0, 1000, name=f"the capacity of “{self.id}”")


@dataclass(frozen=True)
class Job:
    """Everything a plan is made from. ``own`` are the temperatures of parts that have their own.

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

    def __post_init__(self) -> None:
        by_key = {step.key: step for step in self.steps}
        _once("steps", [step.key for step in self.steps])
        _once("crew", [member.id for member in self.crew])
        _once("stations", [station.id for station in self.stations])
        stations = {station.id for station in self.stations}
        for step in self.steps:
            for name in step.stations:
                if name not in stations:
                    raise Refused("stations", f"“{step.key}” needs the station “{name}”, which is not there")
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
        in_order(self.steps)


def _once(what: str, names: Sequence[str]) -> None:
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise Refused(what, f"“{name}” is there twice among the {what}")
        seen.add(name)


def in_order(steps: Sequence[Step]) -> list[Step]:
    """The steps, each after those it waits for; `Refused` names a loop.

    >>> in_order([Step("a", "A", 5, after=(After("b"),)), Step("b", "B", 5, after=(After("a"),))])
    Traceback (most recent call last):
    kiteloom.core.problems.Refused: the links go round in a loop: a → b → a
    """
    by_key = {step.key: step for step in steps}
    found: list[Step] = []
    state: dict[str, int] = {}
    for root in steps:
        trail: list[tuple[Step, int]] = [(root, 0)] if root.key not in state else []
        while trail:
            step, at = trail.pop()
            state[step.key] = 1
            if at < len(step.after):
                trail.append((step, at + 1))
                before = by_key[step.after[at].step]
                if state.get(before.key) == 1:
                    path = [s.key for s, _ in trail]
                    loop = path[path.index(before.key) :]
                    raise Refused("after", f"the links go round in a loop: {' → '.join([*loop, before.key])}")
                if before.key not in state:
                    trail.append((before, 0))
            else:
                state[step.key] = 2
                found.append(step)
    return found
