"""An airframe weighed together: its parts and what else it carries, about its datum, against its limits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from kiteloom.core.base.fields import Asked
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.weight.balance import Weight, balance_of
from kiteloom.core.weight.part import NOTHING, Band

_FAR: dict[str, Any] = {"dimension": "length", "unit": ("m", "in"), "low": -10, "high": 100}


@dataclass(frozen=True)
class Limits:
    """Where arms count from, between what the centre of gravity must lie, and the most it may weigh.

    Lengths aft of the nose, as places of parts are; the limits are the designer's.
    """

    datum_m: Annotated[float, Asked("Datum, aft of the nose", **_FAR)] = 0.0
    fore_m: Annotated[float | None, Asked("Centre of gravity not ahead of", **_FAR)] = None
    aft_m: Annotated[float | None, Asked("Centre of gravity not behind", **_FAR)] = None
    most_g: Annotated[
        float | None, Asked("Weighs at most", dimension="mass", unit=("kg", "lb"), scale=1, low=0, high=1e7)
    ] = None


@dataclass(frozen=True)
class Carried:
    """Something that weighs, with its band, and how far aft of the nose it lies; None where nobody knows."""

    name: str
    weighs: Band
    aft_m: float | None


@dataclass(frozen=True)
class Whole:
    """All of it: what it weighs, where its centre of gravity lies aft of the nose, and its moment about the datum.

    ``placed_g`` is what of it has a place: the rest counts in the weight, not in the centre of gravity.
    """

    weighs: Band
    placed_g: float
    cg_m: float | None
    moment_kg_m: float


def whole_of(carried: Sequence[Carried], limits: Limits) -> Whole:
    """All together.

    >>> found = whole_of([Carried("wing", Band(3000, 2700, 3300), 2.0), Carried("tail", Band(1000, 900, 1100), 6.0)],
    ...                  Limits(datum_m=1.0))
    >>> found.cg_m, found.moment_kg_m, round(found.weighs.high)
    (3.0, 8.0, 4316)
    """
    total = sum((one.weighs for one in carried), NOTHING)
    placed = [Weight(one.name, one.weighs.grams, 1000 * one.aft_m) for one in carried if one.aft_m is not None]
    grams = sum(one.grams for one in placed)
    if grams <= 0:
        return Whole(total, 0.0, None, 0.0)
    found = balance_of(placed)
    cg = round(found.x_mm / 1000, 9)
    return Whole(total, grams, cg, round(grams / 1000 * (cg - limits.datum_m), 9))


def against(whole: Whole, limits: Limits, units: UnitSystem) -> list[tuple[str, bool]]:
    """What a total says against its limits: sentences, and whether each holds; nothing where no limit was given.

    >>> found = whole_of([Carried("all", Band(600_000, 600_000, 600_000), 2.5)], Limits())
    >>> against(found, Limits(fore_m=2.1, aft_m=2.4, most_g=650_000), "metric")[0]
    ('Its centre of gravity lies 100 mm behind the aft limit.', False)
    """
    found: list[tuple[str, bool]] = []
    if whole.cg_m is not None and (limits.fore_m is not None or limits.aft_m is not None):
        ahead = (limits.fore_m - whole.cg_m) if limits.fore_m is not None else -1.0
        behind = (whole.cg_m - limits.aft_m) if limits.aft_m is not None else -1.0
        if ahead > 0:
            by = show(1000 * ahead, "step", units)
            found.append((f"Its centre of gravity lies {by} ahead of the forward limit.", False))
        elif behind > 0:
            by = show(1000 * behind, "step", units)
            found.append((f"Its centre of gravity lies {by} behind the aft limit.", False))
        elif limits.fore_m is not None and limits.aft_m is not None and limits.aft_m > limits.fore_m:
            share = (whole.cg_m - limits.fore_m) / (limits.aft_m - limits.fore_m)
            found.append((f"Its centre of gravity lies within its limits, {100 * share:.0f} % of the way aft.", True))
        else:
            found.append(("Its centre of gravity lies within its limits.", True))
    if limits.most_g is not None:
        over = whole.weighs.grams - limits.most_g
        words = "more than it may weigh" if over > 0 else "below what it may weigh"
        found.append((f"It is {show(abs(over), 'mass', units)} {words}.", over <= 0))
    return found
