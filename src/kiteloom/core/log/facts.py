"""What was done of a step, as the plan takes it."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import Interval
from kiteloom.core.cure.system import CureSystem


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
        """Whether its work is over.

        >>> Fact(finished=90.0).done, Fact(running_since=60.0).done
        (True, False)
        """
        noted = self.pieces or self.running_since is not None
        return self.finished is not None or (self.mixed is not None and not noted)

    @property
    def worked_min(self) -> float:
        """Minutes of the closed stretches.

        >>> Fact(((0, 30), (60, 75))).worked_min
        45
        """
        return sum(end - start for start, end in self.pieces)
