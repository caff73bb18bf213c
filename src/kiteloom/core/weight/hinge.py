"""A control surface about its hinge: predicted from where its weight lies, read on it, balanced by a weight ahead.

Flutter limits, and what share of its moment must be balanced, belong to the designer.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.shape.flat import Shape
from kiteloom.core.shape.place import centroid

_SMALL: dict[str, Any] = {"dimension": "length", "unit": ("mm", "in")}


@dataclass(frozen=True)
class Hinge:
    """Where a surface hinges, where its balance weight stands, and what share of its moment that takes away.

    Distances are square to the hinge line; ``wanted_pct`` is the designer's.
    """

    root_m: Annotated[float, Asked("Hinge line aft of the leading edge, at the root", **_SMALL, low=-1, high=5)]
    tip_m: Annotated[float, Asked("The same at the tip", **_SMALL, low=-1, high=5)]
    ahead_m: Annotated[float, Asked("Balance weight ahead of the hinge by", **_SMALL, low=0, high=3, open_low=True)]
    wanted_pct: Annotated[
        float, Asked("Balanced, says the designer", dimension="share", unit=("%", "%"), low=0, high=200)
    ] = 100.0


def behind_hinge_m(form: Shape, hinge: Hinge) -> float:
    """How far the middle of a surface lies behind its hinge line, square to it [m]; negative ahead of it.

    >>> from kiteloom.core.shape.flat import StripAt, Strips
    >>> board = Strips((StripAt(0, 0.4), StripAt(2, 0.4)))
    >>> round(behind_hinge_m(board, Hinge(0.1, 0.1, 0.05)), 6)
    0.1
    """
    (root_y, root_x), (tip_y, tip_x) = form.point(0.0, 0.0, "left"), form.point(1.0, 0.0, "left")
    a = (-root_y, root_x + hinge.root_m)
    b = (-tip_y, tip_x + hinge.tip_m)
    along, aft = centroid(form)
    length = math.hypot(b[0] - a[0], b[1] - a[1])
    return ((b[0] - a[0]) * (aft - a[1]) - (b[1] - a[1]) * (along - a[0])) / length


@dataclass(frozen=True)
class Read:
    """What a surface held level on its hinge read: so many grams so far behind it, negative where it is nose heavy;
    and the balance weight that was on it [g], [m].
    """

    grams: float
    arm_m: float
    mounted_g: float = 0.0

    @property
    def moment_g_mm(self) -> float:
        """About the hinge, tail heavy positive [g·mm]."""
        return self.grams * self.arm_m * 1000


@dataclass(frozen=True)
class Verdict:
    """A reading judged: the share that is balanced [%], the balance weight that is wanted in all [g], in words."""

    balanced_pct: float
    wanted_g: float
    words: str
    holds: bool


def judged(read: Read, hinge: Hinge, units: UnitSystem) -> Verdict:
    """What a reading says of the balance.

    >>> found = judged(Read(80, 0.2, 0), Hinge(0.05, 0.05, 0.04), "metric")
    >>> found.balanced_pct, found.wanted_g, found.words
    (0.0, 400.0, 'Balanced by 0 %, 100 % is wanted: 400 g at its place ahead of the hinge.')
    >>> judged(Read(-5, 0.2, 420), Hinge(0.05, 0.05, 0.04), "metric").holds
    True
    """
    taken = read.mounted_g * hinge.ahead_m * 1000
    bare = read.moment_g_mm + taken
    if bare <= 0:
        return Verdict(200.0, 0.0, "Nose heavy without a balance weight: none is wanted.", holds=True)
    share = 100 * taken / bare
    wanted = bare * hinge.wanted_pct / 100 / (hinge.ahead_m * 1000)
    holds = share >= hinge.wanted_pct - 0.5
    words = f"Balanced by {share:.0f} %, {hinge.wanted_pct:.0f} % is wanted"
    if holds:
        return Verdict(share, wanted, f"{words}: it holds.", holds=True)
    more = wanted - read.mounted_g
    what = f"{show(more, 'mass', units)} more" if read.mounted_g else show(wanted, "mass", units)
    return Verdict(share, wanted, f"{words}: {what} at its place ahead of the hinge.", holds=False)
