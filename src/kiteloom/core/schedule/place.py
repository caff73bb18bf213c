"""Exact placing: each step at the first moment it can go, its wait at the temperature it will have.

This first placer takes one crew and steps in a given order; it is the only source of times.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from kiteloom.core.calendar import Interval, WorkingHours, longest
from kiteloom.core.climate import Profile
from kiteloom.core.cure import CureSystem, CureTimes, StageTime, cure_times
from kiteloom.core.problems import between
from kiteloom.core.quantities import UnitSystem, show

#: Starts and lengths of work are multiples of five minutes.
GRID_MIN = 5
LOOKAHEAD_MIN = 120 * 24 * 60.0


@dataclass(frozen=True)
class After:
    """A step that must come before, and until which of its events: its end, its wait, or a stage."""

    step: str
    until: str = "wait"


@dataclass(frozen=True)
class Estimate:
    """Assumed hands-on minutes: a fixed part, and a part that grows with area and plies."""

    fixed_min: float
    growing_min: float
    area_m2: float
    plies: int

    @property
    def minutes(self) -> float:
        """Both parts."""
        return self.fixed_min + self.growing_min

    def words(self, people: int, units: UnitSystem) -> str:
        """As a builder can check it."""
        plies = f" in {self.plies} plies" if self.plies > 1 else ""
        area = show(self.area_m2, "area", units)
        crew = f"{people} people" if people > 1 else "1 person"
        return f"{self.fixed_min:.0f} min fixed, {self.growing_min:.0f} min for {area}{plies}, {crew}"


@dataclass(frozen=True)
class Step:
    """Hands-on work followed by a wait.

    Parameters
    ----------
    key : str
        Stable (``"skin-1/peel"``).
    minutes : float
        Hands-on, above 0; rounded up to five.
    cure, wait_stage : CureSystem and str, or None
        The product that cures afterwards, and the stage the wait lasts to.
    estimate : Estimate or None
        Where the minutes come from.
    caution : str
        What the work can do to whoever does it, and the usual care.
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

    def __post_init__(self) -> None:
        between("minutes", self.minutes, 0, 100_000, unit="min", open_low=True)


@dataclass(frozen=True)
class Because:
    """What held a step: the start, working hours, another step's work or its cure."""

    kind: Literal["start", "hours", "after", "cure", "done"]
    of: str


@dataclass(frozen=True)
class Placed:
    """A step in time [min on the program's clock].

    ``pieces`` are its stretches of work; ``ready`` is when its wait is over, None if it never is.
    ``cured`` holds the stages of its cure, minutes after the mix at ``mixed``.
    """

    step: Step
    start: float
    end: float
    ready: float | None
    because: Because
    pieces: tuple[Interval, ...]
    cured: CureTimes | None = None
    mixed: float | None = None
    done: bool = False

    def event(self, until: str) -> float | None:
        """The time of an event others wait for."""
        if until == "end":
            return self.end
        if until == "wait":
            return self.ready
        return self.stage(until)

    def stage(self, name: str) -> float | None:
        """The time a stage is reached, None if never."""
        if self.cured is None or self.mixed is None:
            return None
        found = next((stage for stage in self.cured.stages if stage.name == name), None)
        return None if found is None or found.minutes is None else self.mixed + found.minutes


@dataclass(frozen=True)
class Unplaced:
    """A step that can't be placed, and why, in a sentence."""

    step: Step
    why: str


@dataclass(frozen=True)
class Mixed:
    """A fact: a step's last batch was mixed then, of a product that cures so."""

    at: float
    cure: CureSystem


@dataclass(frozen=True)
class Plan:
    """Placed steps in order, and those that can't be."""

    placed: tuple[Placed, ...]
    unplaced: tuple[Unplaced, ...]

    @property
    def finish(self) -> float | None:
        """The latest moment anything is ready; None while something can't be placed."""
        ends = [placed.ready for placed in self.placed if placed.ready is not None]
        return max(ends) if ends and not self.unplaced and len(ends) == len(self.placed) else None


def place(
    steps: Sequence[Step],
    start: float,
    hours: WorkingHours,
    profile: Profile,
    mixed: Mapping[str, Mixed] | None = None,
    temperature_band_c: float = 0.0,
) -> Plan:
    """Place steps one after another by one crew.

    Parameters
    ----------
    steps : sequence of Step
        In an order in which every step comes after those it waits for.
    start : float
        Nothing starts earlier [min].
    mixed : mapping
        Facts by step key: its last batch. Its cure counts from that mix, and whatever comes
        before the last such step is taken as done.

    Returns
    -------
    Plan
        A step whose work fits in no working day, or whose wait never ends, is left out with
        the reason, and so are its followers.
    """
    facts = mixed or {}
    last_fact = max((i for i, step in enumerate(steps) if step.key in facts), default=-1)
    open_hours = hours.intervals(start, start + LOOKAHEAD_MIN)
    placed: dict[str, Placed] = {}
    unplaced: list[Unplaced] = []
    free = start
    for index, step in enumerate(steps):
        fact = facts.get(step.key)
        if fact is not None:
            placed[step.key] = _as_done(step, fact, profile, temperature_band_c)
            continue
        if index < last_fact:
            continue
        held = _held(step, free, start, placed, unplaced)
        if isinstance(held, Unplaced):
            unplaced.append(held)
            continue
        moment, because = held
        pieces = _work(step, moment, open_hours)
        if isinstance(pieces, str):
            unplaced.append(Unplaced(step, pieces))
            continue
        if pieces[0][0] > moment + GRID_MIN:
            because = Because("hours", "the working hours")
        end = pieces[-1][1]
        cured = None
        if step.cure is not None:
            cured = cure_times(step.cure, end, profile, temperature_band_c)
        ready = _ready(step, end, cured)
        placed[step.key] = Placed(step, pieces[0][0], end, ready, because, pieces, cured, end if cured else None)
        free = end
    return Plan(tuple(placed.values()), tuple(unplaced))


def _as_done(step: Step, fact: Mixed, profile: Profile, band_c: float) -> Placed:
    cured = cure_times(fact.cure, fact.at, profile, band_c)
    ready = _ready(step, fact.at, cured)
    return Placed(
        step, fact.at, fact.at, ready, Because("done", step.key), ((fact.at, fact.at),), cured, fact.at, done=True
    )


def _ready(step: Step, end: float, cured: CureTimes | None) -> float | None:
    if step.wait_stage is None or cured is None:
        return end
    reached: StageTime | None = next((s for s in cured.stages if s.name == step.wait_stage), None)
    return None if reached is None or reached.minutes is None else end + reached.minutes


def _held(
    step: Step, free: float, start: float, placed: Mapping[str, Placed], unplaced: Sequence[Unplaced]
) -> tuple[float, Because] | Unplaced:
    moment, because = start, Because("start", "the start that was asked for")
    if free > moment:
        last = max((p for p in placed.values() if not p.done), key=lambda p: p.end, default=None)
        moment, because = free, Because("after", last.step.key if last else "start")
    for link in step.after:
        if any(left.step.key == link.step for left in unplaced):
            name = next(left.step.name for left in unplaced if left.step.key == link.step)
            return Unplaced(step, f"it comes after “{name}”, which can't be placed")
        before = placed.get(link.step)
        if before is None:
            continue
        event = before.event(link.until)
        if event is None:
            stage = before.step.wait_stage if link.until == "wait" else link.until
            return Unplaced(step, f"“{before.step.name}” does not reach “{stage}” within 60 days at these temperatures")
        if event > moment:
            kind: Literal["after", "cure"] = "after" if link.until == "end" or event == before.end else "cure"
            moment, because = event, Because(kind, link.step)
    return moment, because


def _work(step: Step, earliest: float, open_hours: Sequence[Interval]) -> tuple[Interval, ...] | str:
    needed: float = math.ceil(step.minutes / GRID_MIN) * GRID_MIN
    begin = math.ceil(earliest / GRID_MIN - 1e-9) * GRID_MIN
    pieces: list[Interval] = []
    for opens, closes in open_hours:
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
    if not open_hours:
        return "the shop has no working hours; set them first"
    return (
        f"it takes {needed:g} min in one go and the longest stretch of working hours is "
        f"{longest(open_hours):g} min; work longer that day, or split it"
    )
