"""What was done of a step, as the plan takes it."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import Interval
from kiteloom.core.cure.system import CureSystem


@dataclass(frozen=True)
class Mixed:
    """A fact: a step's last batch of a product was mixed then, and cures so.

    ``spoilt`` when a batch is out of its ratio or marked bad: no clock of the sheet holds for it, and the
    step goes on from ``decided``, when somebody signed for it [min], or not at all.
    """

    at: float
    cure: CureSystem
    spoilt: bool = False
    decided: float | None = None


@dataclass(frozen=True)
class Fact:
    """What was done of a step: stretches of work, whether it is being worked on, when it was finished.

    ``mixed`` has the last batch of each product that is on it. A batch alone, with no work noted,
    says that the step was done when it was mixed. ``skipped`` when it was said that it does not apply.
    """

    pieces: tuple[Interval, ...] = ()
    running_since: float | None = None
    finished: float | None = None
    mixed: tuple[Mixed, ...] = ()
    people: tuple[str, ...] = ()
    skipped: bool = False

    @property
    def done(self) -> bool:
        """Whether its work is over.

        >>> Fact(finished=90.0).done, Fact(running_since=60.0).done
        (True, False)
        """
        noted = self.pieces or self.running_since is not None
        return self.finished is not None or (bool(self.mixed) and not noted)

    @property
    def mixed_at(self) -> float | None:
        """When its last batch was mixed [min]; None when nothing was.

        >>> Fact(mixed=(Mixed(30, EPOXY), Mixed(10, EPOXY))).mixed_at
        30
        """
        return max((mix.at for mix in self.mixed), default=None)

    @property
    def worked_min(self) -> float:
        """Minutes of the closed stretches.

        >>> Fact(((0, 30), (60, 75))).worked_min
        45
        """
        return sum(end - start for start, end in self.pieces)
