"""What must be heard of the cures in a plan: a stage to be checked, a cure that stands still, a mix still wet."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from kiteloom.core.cure.witness import Release
from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.today import curing

#: A check that was due may come to be due later by so much without its alarm ending [min].
SHIFTS_MIN = 30.0

#: What happened longer ago than this is no longer news [min].
NEWS_MIN = 6 * 60.0


def due(plan: Plan, now: float) -> list[Placed]:
    """Cures to be checked: their wait is over and nothing that waits for it was begun; the longest overdue first.

    What nothing waits for is due for `NEWS_MIN`.

    >>> reached = laid.by_key["layup"].ready
    >>> [placed.step.name for placed in due(laid, reached + 2000)]
    ['Lay up']
    """
    found = [
        placed
        for placed in plan.placed
        if placed.done and placed.cure and not placed.spoilt and placed.ready is not None and placed.ready <= now
    ]
    cured = {placed.step.key for placed in found}
    begun = {placed.step.key for placed in plan.placed if placed.state != "to do"}
    waiting: dict[str, list[bool]] = defaultdict(list)
    for step in (*(placed.step for placed in plan.placed), *(left.step for left in plan.unplaced)):
        for link in step.after:
            if link.step in cured:
                waiting[link.step].append(step.key not in begun)
    standing = [p for p in found if all(waiting.get(p.step.key, [now - (p.ready or 0.0) < NEWS_MIN]))]
    return sorted(standing, key=lambda placed: placed.ready or 0.0)


@dataclass(frozen=True)
class Check:
    """A cure to be looked at, since when [min], and when it was last found soft; None when it was not."""

    placed: Placed
    since: float
    soft_at: float | None


def to_check(plan: Plan, releases: Mapping[str, Release], now: float) -> list[Check]:
    """What is to be looked at: due, and neither released nor found soft too short a while ago.

    >>> reached = laid.by_key["layup"].ready
    >>> [round(check.since - reached) for check in to_check(laid, {}, reached + 5)]
    [0]
    """
    found = []
    for placed in due(plan, now):
        release = releases.get(placed.step.key)
        if release is not None and release.released:
            continue
        again = release.again_at if release is not None else None
        since = max(placed.ready or now, again or 0.0)
        if since <= now:
            found.append(Check(placed, since, release.soft_at if release is not None else None))
    return found


def standing_still(plan: Plan, now: float) -> list[tuple[Placed, float | None]]:
    """Live cures colder than their product's minimum now, and until when [min]; None when for a month or more.

    >>> cold = replace(laid.by_key["layup"], cure=replace(EPOXY, min_c=25.0))
    >>> [placed.step.key for placed, _ in standing_still(replace(laid, placed=(cold,)), laid.start)]
    ['layup']
    """
    found = []
    for placed in curing(plan, now):
        least = placed.cure.min_c if placed.cure else None
        if placed.spoilt or least is None or plan.airs.profile(placed.air).at(now) >= least:
            continue
        until = plan.airs.too_cold(least, now, now + 1, placed.air)
        found.append((placed, until if until is not None and until < now + 30 * 1440 else None))
    return found


def still_wet(plan: Plan, now: float) -> list[Placed]:
    """Live cures before their first stage: what damp air can still spoil.

    >>> [placed.step.key for placed in still_wet(laid, laid.start)]  # its gel is not reached
    ['layup']
    """
    found = []
    for placed in curing(plan, now):
        if placed.cure is not None and placed.mixed is not None:
            gels = plan.airs.reaches(placed.cure, placed.mixed, placed.cure.first.hours, placed.air)
            if gels is None or gels > now:
                found.append(placed)
    return found
