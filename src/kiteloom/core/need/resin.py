"""The resin a layup takes: what stays in the plies and the core, and what is lost on the way."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from kiteloom.core.base.fields import Asked, asked_of

#: Less than this still to mix is nothing to mix another cup for, where it is a small part of all [g].
ENOUGH_G = 20.0

#: What was taken is off by less than this share for scales and brushes alone (common practice) [-].
WORTH_SAYING = 0.05


@dataclass(frozen=True)
class ResinNeed:
    """Mixed resin one step of a part takes [g], and what of it is lost.

    ``laminate_g`` stays in the plies, ``core_g`` in the core's faces; ``trim_g`` goes into
    cloth that is cut off, ``bleed_g`` into peel ply and breather, ``cup_g`` stays behind in
    cups, brushes and rollers.
    """

    laminate_g: float
    core_g: float
    trim_g: float
    bleed_g: float
    cup_g: float

    @property
    def total_g(self) -> float:
        """What must be mixed [g].

        >>> ResinNeed(1200, 200, 96, 180, 84).total_g
        1760
        """
        return self.laminate_g + self.core_g + self.trim_g + self.bleed_g + self.cup_g


@dataclass(frozen=True)
class Losses:
    """Where mixed resin goes besides the part.

    ``trim_pct`` of the cloth is cut off wet [%]; ``bleed_g_m2`` is drawn into peel ply and
    breather [g/m²]; ``cup_pct`` of what is mixed stays in cups and tools [%]. Peel ply, film and
    breather reach ``sheet_pct`` over the edge, a bag takes ``bag_pct`` for its pleats [%].
    """

    trim_pct: Annotated[float, Asked("Cloth cut off wet", dimension="share", unit=("%", "%"), low=0, high=100)] = 8.0
    bleed_g_m2: Annotated[
        float,
        Asked("Drawn into peel ply and breather", dimension="areal weight", unit=("g/m²", "oz/yd²"), low=0, high=1000),
    ] = 90.0
    cup_pct: Annotated[float, Asked("Left in cups and tools", dimension="share", unit=("%", "%"), low=0, high=60)] = 5.0
    sheet_pct: Annotated[
        float, Asked("Peel ply, film and breather over the edge", dimension="share", unit=("%", "%"), low=0, high=100)
    ] = 10.0
    bag_pct: Annotated[float, Asked("Bag film for its pleats", dimension="share", unit=("%", "%"), low=0, high=200)] = (
        30.0
    )

    def __post_init__(self) -> None:
        for name, (asked, _) in asked_of(Losses).items():
            asked.within(name, getattr(self, name))


def worth_mixing(left_g: float, total_g: float) -> bool:
    """Whether so much still to mix of so much in all is worth another cup.

    A small joint takes less than what a layup may be short of.

    >>> worth_mixing(15, 1200), worth_mixing(5, 6)
    (False, True)
    """
    return left_g > min(ENOUGH_G, total_g / 4)


def spread(on_g: float, losses: Losses, beside: float = 0.0) -> ResinNeed:
    """What a coat, a fill or a glue line takes: what is on the part, beside it, and left in the cup.

    Parameters
    ----------
    on_g : float
        On the part [g].
    beside : float
        What goes beside it, of what is on it [-].

    >>> round(spread(190, Losses(cup_pct=5)).total_g, 1)
    200.0
    """
    used = on_g * (1 + beside)
    return ResinNeed(on_g, 0, used - on_g, 0, used / (1 - losses.cup_pct / 100) - used)


def resin_need(laminate_g: float, core_g: float, losses: Losses, bled_m2: float = 0.0) -> ResinNeed:
    """Mixed resin for one laying-up, losses included.

    Parameters
    ----------
    laminate_g, core_g : float
        Resin that stays in the plies, and that the core's faces take up [g].
    bled_m2 : float
        What peel ply and breather draw resin from under a bag [m²].

    Examples
    --------
    >>> round(resin_need(400, 0, Losses(trim_pct=10, bleed_g_m2=90, cup_pct=5), bled_m2=2).total_g, 1)
    652.6
    """
    trim = laminate_g * losses.trim_pct / 100
    bleed = bled_m2 * losses.bleed_g_m2
    used = laminate_g + core_g + trim + bleed
    return ResinNeed(laminate_g, core_g, trim, bleed, used / (1 - losses.cup_pct / 100) - used)


def as_taken(needs: Sequence[ResinNeed], losses: Losses, taken_g: float) -> tuple[str, float] | None:
    """The loss that would have foretold what some steps really took: its name and its value.

    What more was taken than stays in the plies and core went into peel ply and breather where
    there are any, else it stayed in cups and tools.

    Parameters
    ----------
    needs : sequence of ResinNeed
        What was computed for them.
    taken_g : float
        What of their mixes went on them, leftovers out [g].

    Returns
    -------
    tuple of str and float, or None
        None where no loss in its limits does: less was taken than what stays in it, or far more.

    >>> need = resin_need(400, 0, Losses(trim_pct=10, bleed_g_m2=90, cup_pct=5), 2)
    >>> name, grams = as_taken([need], Losses(trim_pct=10, bleed_g_m2=90, cup_pct=5), 800.0)
    >>> name, round(grams), round(resin_need(400, 0, Losses(10, grams, 5), 2).total_g)
    ('bleed_g_m2', 160, 800)
    """
    computed, bled = sum(need.total_g for need in needs), sum(need.bleed_g for need in needs)
    if computed <= 0 or taken_g <= 0:
        return None
    kept = sum(need.laminate_g + need.core_g + need.trim_g for need in needs)
    if bled > 0:
        used = taken_g * (1 - losses.cup_pct / 100)
        name, value = "bleed_g_m2", losses.bleed_g_m2 * (used - kept) / bled
    else:
        name, value = "cup_pct", 100 * (1 - kept / taken_g)
    asked, _ = asked_of(Losses)[name]
    return (name, value) if (asked.low or 0) <= value <= (asked.high or math.inf) else None
