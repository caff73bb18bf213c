"""Steps that must follow another within a time: which is late for it, and from when on the other is not too soon."""

from __future__ import annotations

import math

from kiteloom.core.base.calendar import lasting
from kiteloom.core.build.step import GRID_MIN, After
from kiteloom.core.plan.placed import Placed, closes_at, deadline_of
from kiteloom.core.plan.search import Search


def late_for(found: Placed, search: Search) -> tuple[After, float] | None:
    """The first link whose time a step misses that can still be moved, and by how much [min].

    >>> late_for(plan.by_key["layup"], Search(small)) is None  # it may come whenever it likes
    True
    """
    for link in found.step.after:
        before = search.placed.get(link.step)
        if link.tight and before is not None and before.state in ("to do", "paused"):
            over = found.start - deadline_of(before, link, search.airs)
            if over > 1e-6:
                return link, over
    return None


def in_time_for(before: Placed, link: After, start: float, search: Search) -> float:
    """The first start of a step from which one that begins at a time is not too late [min].

    >>> bed = plan.by_key["bed"]
    >>> in_time_for(bed, After("bed", within_min=30), bed.end + 90, Search(small)) - bed.start
    60
    """
    step = before.step
    length = sum([b - a for a, b in before.pieces[before.worked :]])
    low, high = 0, max(math.ceil((start - before.start) / GRID_MIN), 1)
    while low < high:
        middle = (low + high) // 2
        pieces = search.work(step, before.start + middle * GRID_MIN, length, search.hours)
        if pieces is None:
            break
        end, air = pieces[-1][1], before.air
        event = search.comes(step, link.until, end, air)
        if closes_at(link, event, step, step.cure, end, air, search.airs) >= start:
            high = middle
        else:
            low = middle + 1
    return before.start + low * GRID_MIN


def how_soon(link: After) -> str:
    """How soon a link wants what follows it, in words.

    >>> how_soon(After("bed", within_min=90))
    'within 1 h 30 min of'
    """
    if link.within_min is not None:
        until = "" if link.until in ("end", "wait") else f" “{link.until}” of"
        return f"within {lasting(link.within_min)} of{until}"
    return f"before “{link.closes}” of"
