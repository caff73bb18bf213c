"""Where a cure ends by itself: the glass transition climbs until the resin is too stiff to react on.

Cured at some temperature, a resin's glass transition rises a few tens of degrees above it
and stops there (vitrification), however long one waits. So a "full" cure may be out of
reach in a cold room, and warmth completes it later.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kiteloom.core.air.profile import DAY_MIN, Profile
from kiteloom.core.base.problems import between
from kiteloom.core.cure.progress import HORIZON_MIN

#: How far above the temperature of the cure the glass transition climbs (common practice: a few tens) [K].
ABOVE_CURE_K = 25.0

#: Conversion at gel of an amine-cured epoxy (common practice) [-].
GEL = 0.6


@dataclass(frozen=True)
class GlassTransition:
    """What a sheet says of it.

    Parameters
    ----------
    full_c : float
        Glass transition of what the sheet calls full [°C].
    above_cure_k : float
        How far above the temperature of the cure it climbs by itself [K].
    most_c : float or None
        What it comes to after the sheet's post-cure [°C]; as full when None.
    """

    full_c: float
    above_cure_k: float = ABOVE_CURE_K
    most_c: float | None = None

    def __post_init__(self) -> None:
        if self.most_c is not None:
            between("glass_transition.most_c", self.most_c, self.full_c, 350, unit="°C", name="Tg after post-cure")
        between("glass_transition.full_c", self.full_c, 0, 300, unit="°C", name="the glass transition when full")
        between("glass_transition.above_cure_k", self.above_cure_k, 0, 80, unit="K", name="the climb above the cure")

    @property
    def ultimate_c(self) -> float:
        """What it can come to at all [°C].

        >>> GlassTransition(82).ultimate_c, GlassTransition(82, most_c=90).ultimate_c
        (82, 90)
        """
        return self.full_c if self.most_c is None else self.most_c

    @property
    def needs_c(self) -> float:
        """The temperature at which full can be reached at all [°C].

        >>> GlassTransition(82, above_cure_k=15).needs_c
        67
        """
        return self.full_c - self.above_cure_k


@dataclass(frozen=True)
class Full:
    """Whether full is reached: from when it is warm enough [min], and the warmest day's mean until then [°C]."""

    warm_at: float | None
    warmest_c: float


def full_in_reach(glass: GlassTransition, profile: Profile, mixed: float) -> Full:
    """When a part has had a day as warm as full needs, within 60 days of its mix.

    >>> glass = GlassTransition(full_c=47)
    >>> full_in_reach(glass, Profile.steady(18), 0)
    Full(warm_at=None, warmest_c=18.0)
    >>> full_in_reach(glass, Profile.steady(23), 0).warm_at
    1440.0
    """
    minutes = mixed + np.arange(0, HORIZON_MIN + 1, 30.0)
    air = np.interp(minutes, profile.minutes, profile.celsius)
    day = int(DAY_MIN / 30)
    sums = np.concatenate(([0.0], np.cumsum((air[1:] + air[:-1]) / 2)))
    means = (sums[day:] - sums[:-day]) / day
    warm = np.nonzero(means >= glass.needs_c)[0]
    at = float(minutes[day + warm[0]]) if len(warm) else None
    return Full(at, float(means.max()))
