"""Post-cure: ramps and holds, the glass transition as it climbs meanwhile, and what a service temperature asks.

Conversion goes on by a second-order rate (as in a cup, without its heat), scaled so that the sheet's
gel comes at `GEL`. The glass transition follows it by DiBenedetto's relation

    Tg = Tg₀ + (Tg∞ − Tg₀)·λα / (1 − (1 − λ)α)

and where it is more than the climb above the part's temperature, the resin is glass and the reaction
stands still. A part that is warmer than its glass transition is soft: it sags, or prints its core.

References
----------
DiBenedetto's relation as given by Pascault and Williams (from memory); λ, Tg₀ and the conversion
at gel are common practice for amine-cured epoxies.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.cure.glass import GEL, GlassTransition
from kiteloom.core.cure.system import CureSystem, rate

#: DiBenedetto's λ, and the glass transition of the unreacted mix [°C] (common practice).
LAMBDA, UNREACTED_C = 0.4, -20.0


#: White upper surfaces in the sun [°C] (common practice); colours are hotter.
SERVICE_C = 54.0


#: So far below its glass transition a part is kept, free of its mould (common practice): a resin sags well
#: below the figure a laboratory gives, and λ, Tg₀ and gel are assumed [K].
MARGIN_K = 10.0


#: A wet laminate's glass transition is lower by so much (from memory: 10 to 20) [K].
WET_K = 15.0


#: A core is kept so far below the point at which it softens (common practice) [K].
CORE_MARGIN_K = 5.0


#: A ramp faster than this heats the skin before the core [K/h] (common practice).
FASTEST_K_H = 30.0


#: So fast a part cools in its box or tent, heat off, when nobody says otherwise (common practice) [K/h].
COOL_K_H = 15.0


#: No oven ramps slower [K/h].
SLOWEST_K_H = 0.5


_STEP_MIN = 5.0


_LEGS = 8


@dataclass(frozen=True)
class Leg:
    """A ramp to a temperature [°C] at so much [K/h], and a hold there [h]."""

    to_c: float
    ramp_k_h: float
    hold_h: float

    def __post_init__(self) -> None:
        between("to", self.to_c, 0, 150, unit="°C", name="the temperature of a hold")
        between("ramp", self.ramp_k_h, 0.5, 120, unit="K/h", name="the ramp")
        between("hold", self.hold_h, 0, 200, unit="h", name="the hold")


def programme(start_min: float, from_c: float, legs: Sequence[Leg], cool_k_h: float | None = None) -> Profile:
    """The temperature of a post-cure against time; with a rate it is cooled at, down to where it began.

    >>> heat = programme(0, 20, [Leg(50, 10, 6)])
    >>> heat.at(90), heat.at(180), float(heat.minutes[-1])
    (35.0, 50.0, 540.0)
    >>> cooled = programme(0, 20, [Leg(50, 10, 6)], cool_k_h=15)
    >>> cooled.at(600), float(cooled.minutes[-1])
    (35.0, 660.0)
    """
    if not legs:
        raise Refused("legs", "the post-cure has 0 holds; at least 1 is wanted")
    if len(legs) > _LEGS:
        raise Refused("legs", f"the post-cure has {len(legs)} holds; at most {_LEGS} are computed")
    points, at, now_c = [(start_min, from_c)], start_min, from_c
    for leg in legs:
        at += abs(leg.to_c - now_c) / leg.ramp_k_h * 60
        points.append((at, leg.to_c))
        if leg.hold_h:
            at += leg.hold_h * 60
            points.append((at, leg.to_c))
        now_c = leg.to_c
    if cool_k_h is not None and now_c > from_c:
        between("cool", cool_k_h, 0.5, 120, unit="K/h", name="the rate it is cooled at")
        points.append((at + (now_c - from_c) / cool_k_h * 60, from_c))
    return Profile.of(points)


def glass_at(conversion: float, glass: GlassTransition) -> float:
    """Glass transition at a conversion [°C].

    >>> round(glass_at(1.0, GlassTransition(47, most_c=78)), 1)
    78.0
    """
    share = LAMBDA * conversion / (1 - (1 - LAMBDA) * conversion)
    return UNREACTED_C + (glass.ultimate_c - UNREACTED_C) * share


@dataclass(frozen=True, eq=False)
class Hardening:
    """How a part hardened: times [min], its temperature and its glass transition [°C] there."""

    minutes: NDArray[np.float64]
    part_c: NDArray[np.float64]
    glass_c: NDArray[np.float64]

    def soft_at(self, start: float, margin_k: float = 0.0) -> float | None:
        """When it first comes nearer to its glass transition than a margin after a time; None when it never does.

        >>> heat = programme(0, 20, [Leg(60, 40, 4)])
        >>> harden(EPOXY, GlassTransition(82), -480, heat, 600).soft_at(0)  # heated too soon, and too fast
        20.0
        """
        soft = np.nonzero((self.minutes >= start) & (self.part_c > self.glass_c - margin_k))[0]
        return float(self.minutes[soft[0]]) if len(soft) else None

    def glass_then(self, minute: float) -> float:
        """Glass transition at a time [°C].

        >>> found = harden(EPOXY, GlassTransition(82), 0, Profile.steady(23), 2880)
        >>> found.glass_then(300) < found.glass_then(2880)
        True
        """
        return float(np.interp(minute, self.minutes, self.glass_c))


def harden(cure: CureSystem, glass: GlassTransition, mixed: float, part: Profile, until: float) -> Hardening:
    """Follow conversion and glass transition from the mix.

    Parameters
    ----------
    mixed, until : float
        From when to when, on the part's clock [min]; at most 90 days are followed.
    part : Profile
        The part's own temperature.

    >>> found = harden(EPOXY, GlassTransition(82), 0, Profile.steady(23), 7 * 1440)
    >>> round(found.glass_then(7 * 1440), 1)
    48.1
    """
    gel_h = cure.hours("gel") if cure.has("gel") else cure.first.hours
    k_min = GEL / (1 - GEL) / gel_h / 60
    until = min(max(until, mixed + _STEP_MIN), mixed + 90 * 1440)
    minutes = np.arange(mixed, until + _STEP_MIN, _STEP_MIN)
    part_c = np.interp(minutes, part.minutes, part.celsius)
    glass_c = np.empty(len(minutes))
    left = 1.0
    for i, celsius in enumerate(part_c.tolist()):
        now_c = glass_at(1 - left, glass)
        glass_c[i] = now_c
        stalled = cure.min_c is not None and celsius < cure.min_c
        if now_c < celsius + glass.above_cure_k and not stalled:
            speed = k_min * rate(celsius, cure.activation_energy_kj_mol, cure.reference_c)
            left = left / (1 + left * speed * _STEP_MIN)
    return Hardening(minutes, part_c, glass_c)


@dataclass(frozen=True)
class PostCure:
    """What a post-cure does: glass transition before and after [°C], and where it goes soft.

    ``near_at`` is when it comes within `MARGIN_K` of its glass transition, ``soft_at`` when it passes it;
    None when it never does. ``ramp_k_h`` is the fastest ramp that keeps the margin, rounded down; None
    when even a slow one is too fast, or nothing has to be slower.
    """

    before_c: float
    after_c: float
    soft_at: float | None
    near_at: float | None
    near_glass_c: float | None
    ramp_k_h: float | None
    held: float
    """When its last hold ends [min]."""
    end: float
    """When it is cool again [min]."""

    @property
    def wet_c(self) -> float:
        """Glass transition afterwards of a laminate that has taken up damp [°C].

        >>> PostCure(48, 81, None, None, None, None, 600, 700).wet_c
        66.0
        """
        return self.after_c - WET_K


def post_cure(
    cure: CureSystem,
    glass: GlassTransition,
    mixed: float,
    air: Profile,
    start: float,
    legs: Sequence[Leg],
    cool_k_h: float | None = None,
) -> PostCure:
    """Try a post-cure on a part whose air is known.

    >>> found = post_cure(EPOXY, GlassTransition(82), 0, Profile.steady(20), 4320, [Leg(60, 5, 10)])
    >>> round(found.before_c, 1), round(found.after_c, 1), found.soft_at
    (45.0, 78.0, None)
    """

    def tried(ramped: Sequence[Leg]) -> tuple[Hardening, float]:
        heat = programme(start, air.at(start), ramped, cool_k_h)
        held = float(programme(start, air.at(start), ramped).minutes[-1])
        return harden(cure, glass, mixed, during(air, heat), held), held

    (found, held), end = tried(legs), float(programme(start, air.at(start), legs, cool_k_h).minutes[-1])
    near = found.soft_at(start, MARGIN_K)
    ramp: float | None = None
    if near is not None:
        slow, fast = SLOWEST_K_H, max(leg.ramp_k_h for leg in legs)
        if tried(_ramped(legs, slow))[0].soft_at(start, MARGIN_K) is None:
            while fast - slow > 0.25:
                middle = (slow + fast) / 2
                if tried(_ramped(legs, middle))[0].soft_at(start, MARGIN_K) is None:
                    slow = middle
                else:
                    fast = middle
            ramp = max(math.floor(slow * 2) / 2, SLOWEST_K_H)
    at_near = found.glass_then(near) if near is not None else None
    before, after = found.glass_then(start), found.glass_then(held)
    return PostCure(before, after, found.soft_at(start), near, at_near, ramp, held, end)


def _ramped(legs: Sequence[Leg], most: float) -> list[Leg]:
    return [Leg(leg.to_c, min(leg.ramp_k_h, most), leg.hold_h) for leg in legs]


def during(air: Profile, heat: Profile) -> Profile:
    """A part's temperature with a post-cure in it; before and after it is as its air.

    >>> heated = during(Profile.steady(15), programme(60, 15, [Leg(45, 30, 2)]))
    >>> heated.at(0), heated.at(60 + 60 + 30), heated.at(10_000)
    (15.0, 45.0, 15.0)
    """
    first, last = float(heat.minutes[0]), float(heat.minutes[-1])
    before, after = air.minutes < first - 1e-3, air.minutes > last + 1e-3
    return Profile(
        np.concatenate((air.minutes[before], [first - 1e-3], heat.minutes, [last + 1e-3], air.minutes[after])),
        np.concatenate((air.celsius[before], [air.at(first)], heat.celsius, [air.at(last)], air.celsius[after])),
    )
