"""The night between closing and opening: what cures through it, how cold it gets there, what is due when it is over."""

from __future__ import annotations

from kiteloom.core.plan.placed import Placed
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.today import curing

#: So long before closing its list is wanted [min].
SOON_MIN = 60.0

#: What is due, or begins, so soon after opening comes first in the morning [min].
DUE_MIN, FIRST_MIN = 60.0, 30.0


def overnight(plan: Plan, now: float, closes: float) -> list[Placed]:
    """Waits that are on when the shop closes, the soonest over first: live ones, what is being laid, today's mixes.

    >>> [placed.step.key for placed in overnight(plan, plan.start, plan.start + 540)]
    ['layup']
    """
    coming = [p for p in plan.placed if p.state != "done" and p.mixed is not None]
    ahead = [p for p in coming if p.state == "running" or (p.mixed or p.end) <= closes]
    found = [p for p in (*curing(plan, now), *ahead) if p.ready is None or p.ready > closes]
    return sorted(found, key=lambda placed: placed.ready if placed.ready is not None else float("inf"))


def coldest(plan: Plan, placed: Placed, now: float) -> float:
    """The coldest it gets where a wait is, from now until it is over [°C].

    >>> coldest(plan, plan.by_key["layup"], plan.start)
    20.0
    """
    until = max(placed.ready if placed.ready is not None else now, now + 1)
    return min(celsius for _, celsius in plan.airs.profile(placed.air).between(now, until))


def due_by_opening(plan: Plan, closes: float, opens: float) -> list[Placed]:
    """Cures that come to be checked while the shop is closed, or soon after it opens.

    >>> [placed.step.key for placed in due_by_opening(plan, plan.start + 540, plan.start + 1440)]
    ['layup']
    """
    found = [p for p in plan.placed if p.cure and p.step.wait_stage and not p.spoilt and p.ready is not None]
    ready = [(p.ready or 0.0, p) for p in found if closes < (p.ready or 0.0) <= opens + DUE_MIN]
    return [placed for _, placed in sorted(ready, key=lambda one: one[0])]


def begins_first(plan: Plan, opens: float) -> list[Placed]:
    """What somebody begins with when the shop opens.

    >>> [placed.step.key for placed in begins_first(plan, plan.start)]
    ['bed']
    """
    ahead = [p for p in plan.placed if p.state in ("to do", "paused") and p.people]
    return [p for p in ahead if opens <= p.begins <= opens + FIRST_MIN]
