"""Long waits late in the day, so that they run overnight."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import replace

from kiteloom.core.build.step import GRID_MIN, After
from kiteloom.core.plan.placed import LATE, Placed, event_of
from kiteloom.core.plan.search import Search

#: A wait as long as this is better begun late in the day [min].
LONG_WAIT_MIN = 6 * 60.0


#: Between the end of such a wait and the opening there must be so much to spare [min].
SPARE_MIN = 60.0


def overnight(search: Search, found: Placed, links: Sequence[After]) -> Placed:
    """A step the same day, but as late as nothing that follows by some links would be later for it.

    Long waits then run overnight, and the day is left to work that needs its light.

    >>> search, start = Search(replace(small, overnight=True)), plan.by_key["bed"].met
    >>> found, _ = search.find(small.steps[1], [(small.start, start)])
    >>> late = overnight(search, found, small.steps[2].after)
    >>> late.start > found.start, late.earliest == found.start
    (True, True)
    """
    step = found.step
    quick = found.ready is None or found.ready - found.end < LONG_WAIT_MIN
    wanted = search.pin(step) is not None
    if not search.job.overnight or quick or not links or step.may_pause or step.way or wanted or found.worked:
        return found
    opens = [_opening(search, event_of(found, link.until, search.airs)) for link in links]
    if any(opening is None for opening in opens):
        return found
    length, air = found.end - found.start, found.air
    closes = search.hours.closes[bisect_right(search.hours.closes, found.start)]
    latest = math.floor((closes - length) / GRID_MIN) * GRID_MIN
    starts = range(int(latest), int(found.start), -6 * GRID_MIN)

    def same(start: int) -> bool:
        end = start + length
        return all(
            _opening(search, search.comes(step, link.until, end, air)) == opening
            for link, opening in zip(links, opens, strict=True)
        )

    # What is begun later is never through sooner: before the last that will do all others would.
    first = 0 if starts and same(starts[0]) else bisect_left(starts, True, key=same)
    for start in starts[first:]:
        later = search.at(step, float(start))
        if later is not None:
            return replace(later, met=LATE, earliest=found.start, tell=lambda _: (LATE, *found.causes))
    return found


def _opening(search: Search, event: float | None) -> float | None:
    """When the shop opens after an event of a closed night, with time to spare; None if it is open then."""
    if event is None:
        return None
    opening = search.hours.opening(event)
    return opening if opening - event >= SPARE_MIN else None
