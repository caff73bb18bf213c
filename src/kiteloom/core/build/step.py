"""A step: hands-on work followed by a wait, and what it follows."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.cure.system import CureSystem

#: Starts and lengths of work are multiples of five minutes.
GRID_MIN = 5


#: Nothing is spread in less [min].
LEAST_WET_MIN = 5.0


#: The stage at which a mix can't be used any more.
USE_BY = "use by"


#: How the key of the step ends that stands for the list before a gate.
LIST = "@list"


def _again(one: After | Estimate | Step) -> tuple[type, tuple[object, ...]]:
    """How another process makes the same: of machine code nothing frozen is filled field by field."""
    return type(one), tuple(getattr(one, field.name) for field in fields(one))


@dataclass(frozen=True)
class After:
    """A step that must come before, until which of its events, and how soon after it the work must begin.

    Parameters
    ----------
    step : str
        Its key.
    until : str
        Its end, its wait, or a stage of its cure.
    within_min : float or None
        The work begins no later than so long after that event [min].
    closes : str
        Or no later than this stage of the same cure: a recoat window; ``""`` for none. With
        ``same_mix`` it is a stage of the mix's life.
    same_mix : bool
        It is worked with what the step before mixed.
    uses_min : float
        So long it is worked with that mix [min]: it is used up before ``closes``, not only begun.
    """

    step: str
    until: str = "wait"
    within_min: float | None = None
    closes: str = ""
    same_mix: bool = False
    uses_min: float = 0.0

    def __post_init__(self) -> None:
        if self.within_min is not None:
            between("within_minutes", self.within_min, 0, 1e6, unit="min")
        between("uses_min", self.uses_min, 0, 1e5, unit="min")

    def __reduce__(self) -> tuple[type, tuple[object, ...]]:
        return _again(self)

    @property
    def tight(self) -> bool:
        """Whether it says how soon.

        >>> After("spread").tight, After("spread", within_min=45).tight
        (False, True)
        """
        return self.within_min is not None or bool(self.closes)


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

    def __reduce__(self) -> tuple[type, tuple[object, ...]]:
        return _again(self)

    @property
    def minutes(self) -> float:
        """All parts.

        >>> Estimate(20, per_m2_min=10, area_m2=2.0, plies=3).minutes
        80.0
        """
        return self.fixed_min + self.per_m2_min * self.area_m2 * self.plies + self.each_min * self.count

    def words(self, people: int, units: UnitSystem) -> str:
        """As a builder can check it.

        >>> Estimate(20, per_m2_min=10, area_m2=2.0, plies=3).words(2, "metric")
        '20 min fixed, 60 min for 2.000 m² in 3 plies, 2 people'
        """
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
        A delivery it needs [min]; ``awaits`` says what that is, where it is known.
    min_c, max_c, max_rh_pct, margin_k : float or None
        The air may not be colder or warmer [°C], damper [%], or nearer to its dew point [K].
    limits_until : str
        From the start until this event: the end, the wait, or a stage of its cure.
    may_pause : bool
        Whether the work may stop at the end of the hours and be taken up again.
    estimate : Estimate or None
        Where the minutes come from.
    caution : str
        What the work can do to whoever does it, and the usual care.
    part : str
        The part it belongs to, ``""`` when there is only one.
    way : str
        Which way up it needs its thing to be, ``""`` for any.
    thing : str
        What is turned; a part that is turned by itself carries the part's name.
    gate : bool
        It closes its part: what needs access comes before.
    access : bool
        It needs access, so it comes before its part's gate.
    life : CureSystem or None
        How long a mix it makes can be used, as a cure with the stage `USE_BY`.
    closed_by : str
        The stage of its first mix by which its work must be over, the bag or the clamps on; ``""`` for none.
    job : str
        The key of the job it belongs to; ``""`` is a part's first.
    refused : str
        Why it can't be placed at all; ``""`` when nothing speaks against it.
    kind : str
        What sort of work it is, to learn from others of the kind; ``""`` is its key.
    listed : bool
        It is worked by a run sheet although nothing is mixed in it.
    heats : tuple of (str, float)
        What an iron is set to, and for what, in a word or two [°C].
    practice : str
        ``"first"`` for what is practised on where nobody will see it, ``"after"`` for what comes after that.
    fades : bool
        What it makes ready does not stay so: where what follows would come too late, it is done once more.
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
    max_c: float | None = None
    part: str = ""
    own: bool = False
    max_rh_pct: float | None = None
    margin_k: float | None = None
    limits_until: str = "wait"
    way: str = ""
    thing: str = ""
    gate: bool = False
    access: bool = False
    life: CureSystem | None = None
    kind: str = ""
    refused: str = ""
    job: str = ""
    closed_by: str = ""
    listed: bool = False
    fades: bool = False
    heats: tuple[tuple[str, float], ...] = ()
    practice: str = ""
    awaits: str = ""

    def __post_init__(self) -> None:
        between("minutes", self.minutes, 0, 100_000, unit="min", open_low=True)
        between("people", self.people, 0, 100)
        between("wait.minutes", self.wait_min, 0, 1e6, unit="min")
        if self.min_c is not None:
            between("min_c", self.min_c, -60, 300, unit="°C")
        if self.max_c is not None:
            between("max_c", self.max_c, -60, 300, unit="°C")
        if self.max_rh_pct is not None:
            between("max_rh_pct", self.max_rh_pct, 0, 100, unit="%")
        if self.margin_k is not None:
            between("margin_k", self.margin_k, 0, 50, unit="K")
        if self.wait_stage is not None:
            if self.cure is None:
                raise Refused("wait", f"“{self.name}” waits for the stage “{self.wait_stage}” but has no cure")
            self.cure.hours(self.wait_stage)
        if self.limits_until not in ("end", "wait"):
            if self.cure is None:
                raise Refused("limits_until", f"“{self.name}” has limits until “{self.limits_until}” but no cure")
            self.cure.hours(self.limits_until)

    def __reduce__(self) -> tuple[type, tuple[object, ...]]:
        return _again(self)

    @property
    def limited(self) -> bool:
        """Whether it has limits of the air.

        >>> Step("sand", "Sand", 60).limited, Step("coat", "Coat", 60, max_rh_pct=70.0).limited
        (False, True)
        """
        known = self.min_c is not None or self.max_c is not None
        return known or self.max_rh_pct is not None or self.margin_k is not None

    @property
    def at_once(self) -> bool:
        """Whether it must follow what comes before it at once: no other work may be put between.

        >>> Step("sand", "Sand", 60, after=(After("coat"),)).at_once
        False
        >>> Step("lay", "Lay", 60, after=(After("mix", within_min=20),)).at_once
        True
        """
        return any(link.tight or link.same_mix for link in self.after)

    def caution_in(self, units: UnitSystem) -> str:
        """What its iron is set to, where it has one, and what to take care of.

        >>> Step("slack", "Iron its slack out", 60, heats=(("at", 140.0),)).caution_in("us")
        'Iron at 284 °F.'
        """
        heats = ", ".join(f"{words} {show(celsius, 'temperature', units)}" for words, celsius in self.heats)
        return f"{f'Iron {heats}. ' if heats else ''}{self.caution}".strip()

    @property
    def by_plan(self) -> bool:
        """Whether the plan made it and no job has it: a turning, or what is on the list before a closing.

        >>> Step("turn/1", "Turn it", 15, kind="turn").by_plan, Step("sand", "Sand", 60).by_plan
        (True, False)
        """
        return self.kind in ("turn", "list")

    @property
    def called_out(self) -> bool:
        """Whether it is worked by a run sheet.

        >>> Step("sand", "Sand", 60).called_out, Step("coat", "Coat", 60, cure=EPOXY).called_out
        (False, True)
        """
        return (self.cure is not None or self.listed) and not self.own

    @property
    def length(self) -> float:
        """Hands-on minutes on the five-minute grid.

        >>> Step("sand", "Sand", 62).length
        65
        """
        return math.ceil(self.minutes / GRID_MIN - 1e-9) * GRID_MIN

    @property
    def wet_min(self) -> float:
        """How long of its work something is spread: all but what is fixed; all, where a shop typed its minutes.

        >>> Step("coat", "Coat", 80, estimate=Estimate(20, per_m2_min=10, area_m2=6.0)).wet_min
        60.0
        """
        if self.estimate is None:
            return self.minutes
        return max(self.estimate.minutes - self.estimate.fixed_min, LEAST_WET_MIN)

    @property
    def in_part(self) -> str:
        """The key within its part.

        >>> Step("wing:coat", "Coat", 60, part="wing").in_part
        'coat'
        """
        return self.key.removeprefix(f"{self.part}:") if self.part else self.key

    def of_part(self, part: str) -> Step:
        """The same step as one of a part among others: its key and links carry the part's name.

        >>> step = Step("coat", "Coat", 60, after=(After("sand"),)).of_part("wing")
        >>> step.key, step.after[0].step
        ('wing:coat', 'wing:sand')
        """
        links = tuple(replace(link, step=f"{part}:{link.step}") for link in self.after)
        thing = (self.thing or part) if self.way else ""
        return replace(self, key=f"{part}:{self.key}", after=links, part=part, thing=thing)


class Loop(Refused):
    """Links that go round: the keys of the steps, the first of them last again."""

    def __init__(self, keys: Sequence[str]) -> None:
        super().__init__("after", f"the links go round in a loop: {' → '.join(keys)}")
        self.keys = tuple(keys)


def in_order(steps: Sequence[Step]) -> list[Step]:
    """The steps, each after those it waits for; `Loop` names those that go round.

    >>> in_order([Step("a", "A", 5, after=(After("b"),)), Step("b", "B", 5, after=(After("a"),))])
    Traceback (most recent call last):
    kiteloom.core.build.step.Loop: the links go round in a loop: a → b → a
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
                    raise Loop([*loop, before.key])
                if before.key not in state:
                    trail.append((before, 0))
            else:
                state[step.key] = 2
                found.append(step)
    return found
