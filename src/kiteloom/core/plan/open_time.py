"""Work that ends later than its first mix flows: the bag or the clamps must be on before it gels."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.optimize import brentq

from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan

#: More people than this do not find room at one part.
MOST_PEOPLE = 8


@dataclass(frozen=True)
class TooLong:
    """A step that is not closed when its first mix comes to a stage: when that is [min], and what would help.

    ``people`` is how many would be in time, ``below_c`` the temperature under which its mix would last [°C];
    None where that helps nothing.
    """

    stage: str
    at: float
    people: int | None
    below_c: float | None


def too_long(plan: Plan, placed: Placed) -> TooLong | None:
    """Whether a step still to be done, or being done, outlasts its first mix, at the temperature it will have.

    The first mix is taken to be made when the work begins. None where it is in time, or nothing is closed.

    >>> layup = replace(plan.by_key["layup"], step=replace(small.steps[1], closed_by="gel"))
    >>> too_long(plan, layup) is None  # an hour and a half, and gel after five
    True
    >>> slow = replace(layup, pieces=((layup.start, layup.start + 600),), end=layup.start + 600)
    >>> too_long(plan, slow).people
    2
    """
    step, cure = placed.step, placed.cure
    if not step.closed_by or placed.done or cure is None or not cure.has(step.closed_by):
        return None
    hours = cure.hours(step.closed_by)
    at = plan.airs.reaches(cure, placed.begins, hours, placed.air)
    if at is None or at >= placed.end - 1e-6:
        return None
    needed, has = placed.end - placed.begins, max(at - placed.begins, 1.0)
    people = math.ceil(step.people * needed / has)
    return TooLong(
        step.closed_by, at, people if step.people < people <= MOST_PEOPLE else None, _lasts_below(placed, needed)
    )


def _lasts_below(placed: Placed, needed: float) -> float | None:
    """The steady temperature at which a mix comes to its stage only after so many minutes [°C]; None if too cold."""
    cure = placed.cure
    assert cure is not None
    pace = cure.hours(placed.step.closed_by) * 60 / needed
    low, high = (cure.min_c if cure.min_c is not None else 5.0), 60.0
    if cure.rate_at(low) >= pace or cure.rate_at(high) <= pace:
        return None
    found: float = brentq(lambda celsius: cure.rate_at(celsius) - pace, low, high, xtol=1e-3)
    return math.floor(found * 2) / 2
