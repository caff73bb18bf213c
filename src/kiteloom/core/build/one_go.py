"""Several parts coated in one go, one after the other while the mix is open: one flashes off while the next is coated.

Nothing is laid ready, mixed or cleaned once more between them; what a mix can't cover takes the next. They hang in one
booth, which the first of them holds.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

from kiteloom.core.build.in_turn import goes_on
from kiteloom.core.build.step import USE_BY, After, Step
from kiteloom.core.mix.cups import LIFE_SHARE

#: The next part is begun so soon after the one before, else the gun is cleaned (common practice) [min].
SOON_MIN = 20.0


def one_go(rounds: Sequence[Sequence[Step]], pot_min: Mapping[str, float], begun: Collection[str]) -> dict[str, Step]:
    """Coats that follow each other at once, by their keys; each round is the same coat of several parts, in order.

    Parameters
    ----------
    pot_min : mapping of str to float
        How long a mix of each step can be used, by the step's key [min]; one without is of no mix.
    begun : collection of str
        Steps that were begun: what follows them in their round is bound no more.

    >>> from kiteloom.core.build.step import Estimate
    >>> size = Estimate(20, per_m2_min=10, area_m2=2.0)
    >>> a, b = (Step(f"{part}:coat", "Coat", 40, part=part, estimate=size) for part in ("door", "cowl"))
    >>> found = one_go([[a, b]], {"door:coat": 90.0, "cowl:coat": 90.0}, ())
    >>> found["cowl:coat"].minutes, found["cowl:coat"].after[-1].same_mix
    (25.0, True)
    """
    found: dict[str, Step] = {}
    for steps in rounds:
        before: Step | None = None
        used = 0.0
        for step in steps:
            if step.refused or step.key in begun:
                before = None
                continue
            if before is None:
                before, used = step, step.wet_min
                continue
            quick = goes_on(step)
            pot = pot_min.get(step.key)
            if pot is not None and used + quick.length <= LIFE_SHARE * pot:
                used += quick.length
                link = After(before.key, "end", SOON_MIN, closes=USE_BY, same_mix=True, uses_min=quick.length)
            else:
                used = quick.wet_min
                link = After(before.key, "end", SOON_MIN)
            before = found[step.key] = replace(quick, after=(*step.after, link), stations=(), holds=False)
    return found
