"""Orders near that of a plan: a few steps elsewhere, one part sooner or later, or all by how late they could be."""

from __future__ import annotations

import random
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Mapping, Sequence
from itertools import islice

from kiteloom.core.air.profile import DAY_MIN
from kiteloom.core.plan.chain import alone_on, came_before
from kiteloom.core.plan.placed import Placed, event_of
from kiteloom.core.plan.plan import Plan
from kiteloom.core.plan.use import worked_by

#: Of so many that end last one goes sooner, with so many before it at the most, by up to such a share of an order.
LAST, CHAIN, SOONER = 6, 24, 0.4

#: So many steps are moved at a time, by so much of an order (one standard deviation).
MOVED = ((3, 0.05), (10, 0.02), (10, 0.05), (20, 0.05), (10, 0.15))

#: At most so many of what may pause go later at a time, begun so long before a gap [min], past one of the next so many.
PAUSED, BACK_MIN, BY = 10, 1.5 * DAY_MIN, 16

#: By how much the starts of a plan that is pushed right are scattered [min].
SPREADS = (60.0, 600.0, 1440.0, 3000.0)

#: By how much what is due is scattered [min], and the share of when it begins.
CLOSE, SHARES = (0.0, 20.0, 60.0, 240.0), (0.0, 0.0, 0.3)


def todo_of(plan: Plan) -> list[Placed]:
    """What is not begun, or paused, in order of its start."""
    return sorted((p for p in plan.placed if p.state in ("to do", "paused")), key=lambda p: (p.begins, p.end))


def _in_its_order(plan: Plan) -> list[str]:
    """The same in the order they were placed in."""
    todo = {placed.step.key for placed in todo_of(plan)}
    return [key for key in plan.order if key in todo]


def perturbed(plan: Plan, chance: random.Random) -> list[str]:
    """An order near that of a plan: some steps sooner or later by a little, those of one part by more."""
    rows = todo_of(plan)
    spread = chance.choice((0.02, 0.05, 0.15)) * len(rows)
    part, by = chance.choice(rows).step.part, chance.uniform(-0.4, 0.4) * len(rows)
    few = chance.random() < 0.5

    def rank(n: int, placed: Placed) -> float:
        own = 0.0 if few and chance.random() < 0.8 else chance.gauss(0, spread)
        return n + own + (by if placed.step.part == part else 0.0)

    ranks = {placed.step.key: rank(n, placed) for n, placed in enumerate(rows)}
    return sorted(ranks, key=lambda key: ranks[key])


def few_moved(plan: Plan, chance: random.Random) -> list[str]:
    """The order a plan was placed in, but a few steps from somewhere on are taken sooner or later.

    What comes before them all stays as it is, to the minute.

    >>> sorted(few_moved(plan, random.Random(1)))
    ['bed', 'layup', 'peel']
    """
    keys = _in_its_order(plan)
    first, (few, far) = _late(len(keys), chance), chance.choice(MOVED)
    by = {key: chance.gauss(0, far * len(keys)) for key in chance.sample(keys[first:], min(few, len(keys) - first))}
    ranks = {key: n + by.get(key, 0.0) for n, key in enumerate(keys)}
    return sorted(keys, key=lambda key: ranks[key])


def paused_later(plan: Plan, chance: random.Random) -> list[str]:
    """The order a plan was placed in, but some of what one does alone and may pause is taken later.

    Each was over when somebody had nothing to do: what begins after that can come before it, and it is begun in what
    is left of the day.

    >>> sorted(paused_later(plan, random.Random(1)))
    ['bed', 'layup', 'peel']
    """
    keys = _in_its_order(plan)
    rows = [plan.by_key[key] for key in keys]
    may = [placed for placed in rows if placed.step.may_pause and placed.step.people == 1]
    ranks = {key: float(n) for n, key in enumerate(keys)}
    for _ in range(chance.randrange(PAUSED) + 1 if plan.idle else 0):
        idle = plan.idle[_late(len(plan.idle), chance)]
        before = [placed.step.key for placed in may if idle - BACK_MIN <= placed.begins and placed.end <= idle]
        after = list(islice((n for n, placed in enumerate(rows) if placed.begins >= idle), BY))
        if before and after:
            ranks[chance.choice(before)] = chance.choice(after) + 0.5
    return sorted(keys, key=lambda key: ranks[key])


def _late(count: int, chance: random.Random) -> int:
    """A place in a row, a late one more often: what comes before it is not placed again."""
    return int((1 - chance.random() ** 2) * (count - 1))


def last_sooner(plan: Plan, stations: Mapping[str, int], chance: random.Random) -> list[str]:
    """The order a plan was placed in, but something that ends last, and what it waited for, is taken sooner.

    It waited for what comes before it by a link, or on a station for one.

    >>> sorted(last_sooner(plan, {}, random.Random(1)))
    ['bed', 'layup', 'peel']
    """
    keys = _in_its_order(plan)
    last = sorted((plan.by_key[key] for key in keys), key=lambda placed: placed.over)[-LAST:]
    placed: Placed | None = chance.choice(last)
    chain = set[str]()
    for _ in range(chance.randrange(CHAIN) + 1):
        if placed is None:
            break
        chain.add(placed.step.key)
        placed = came_before(plan, placed, stations)
    by = chance.uniform(0, SOONER) * len(keys)
    ranks = {key: n - by * (key in chain) for n, key in enumerate(keys)}
    return sorted(keys, key=lambda key: ranks[key])


def by_latest(plan: Plan, stations: Mapping[str, int]) -> list[str]:
    """The order of a plan whose steps are pushed as late as its end allows: what must go first then goes first.

    References
    ----------
    Justification: K. Y. Li and R. J. Willis, European Journal of Operational Research 56, 1992 (from memory).

    >>> by_latest(plan, {})
    ['bed', 'layup', 'peel']
    """
    late = latest(plan, stations)
    return sorted((p.step.key for p in todo_of(plan)), key=lambda key: (late[key], plan.by_key[key].begins))


def pushed_right(
    plan: Plan, stations: Mapping[str, int], chance: random.Random, spreads: Sequence[float] = SPREADS
) -> list[str]:
    """As `by_latest`, its starts mixed with those of the plan and scattered a little.

    Parameters
    ----------
    spreads : sequence of float
        By one of these, one standard deviation [min].
    """
    return _mixed(plan, latest(plan, stations), chance, chance.random(), chance.choice(spreads))


def by_due(plan: Plan, stations: Mapping[str, int], chance: random.Random) -> list[str]:
    """The order in which all is due if it is to end on the evening before; mixed with when it begins, and scattered.

    Where the evening before is past what no plan can end before, it is to end then.

    >>> by_due(plan, {}, random.Random(1))
    ['bed', 'layup', 'peel']
    """
    end = plan.start if plan.finish is None else plan.finish
    before = bisect_left(plan.ground.hours.closes, end) - 1
    evening = plan.ground.hours.closes[before] if before >= 0 else plan.start
    dues = due(plan, stations, max(evening, plan.bound))
    return _mixed(plan, dues, chance, chance.choice(SHARES), chance.choice(CLOSE))


def _mixed(plan: Plan, ranks: Mapping[str, float], chance: random.Random, share: float, spread: float) -> list[str]:
    """By some times, mixed with when each begins, and scattered."""
    at = {
        placed.step.key: ranks[placed.step.key] * (1 - share) + placed.begins * share + chance.gauss(0, spread)
        for placed in todo_of(plan)
    }
    return sorted(at, key=lambda key: (at[key], plan.by_key[key].begins))


def due(plan: Plan, stations: Mapping[str, int], end: float) -> dict[str, float]:
    """How late each step can begin if all is to end by a time: in working hours, each wait as long as it is in the
    plan, what has a station for one before it out of its way; whoever does it [min].

    What would have to begin more than a day sooner than it does is due that much sooner.

    >>> {key: round(minute - plan.start) for key, minute in due(plan, {}, plan.finish).items()}
    {'peel': 1420, 'layup': 430, 'bed': 370}
    """
    spans, events = plan.ground.hours.open, _events(plan)
    starts = [opens for opens, _ in spans]
    found: dict[str, float] = {}
    next_on: dict[str, str] = {}
    for placed in sorted(plan.placed, key=lambda p: (p.begins, p.end), reverse=True):
        over = [end - (placed.over - placed.end)]
        over += [found[key] - (event - placed.end) for key, event in events[placed.step.key] if key in found]
        kept = placed.over - placed.end if placed.step.holds else 0.0
        alone = alone_on(placed.step, stations)
        over += [found[next_on[name]] - kept for name in alone if name in next_on]
        needed = sum(stops - begins for begins, stops in placed.pieces[placed.worked :])
        begins, _ = worked_by(spans, starts, needed, min(over), pauses=placed.step.may_pause)
        found[placed.step.key] = max(begins, placed.begins - DAY_MIN)
        next_on |= dict.fromkeys(alone, placed.step.key)
    return found


def latest(plan: Plan, stations: Mapping[str, int]) -> dict[str, float]:
    """How late each step could begin without a later end, everything that follows it by a link, a person or a station
    for one staying behind it [min]; hours and airs left out.

    >>> {key: round(minute - plan.start) for key, minute in latest(plan, {}).items()}
    {'peel': 1420, 'layup': 576, 'bed': 516}
    """
    events = _events(plan)
    finish = plan.start if plan.finish is None else plan.finish
    found: dict[str, float] = {}
    next_of: dict[str, str] = {}
    for placed in sorted(plan.placed, key=lambda p: (p.begins, p.end), reverse=True):
        held = placed.over if placed.step.holds else placed.end
        alone = alone_on(placed.step, stations)
        limits = [finish - (placed.over - placed.begins)]
        limits += [found[key] - (event - placed.begins) for key, event in events[placed.step.key] if key in found]
        limits += [found[next_of[name]] - (placed.end - placed.begins) for name in placed.people if name in next_of]
        limits += [found[next_of[name]] - (held - placed.begins) for name in alone if name in next_of]
        found[placed.step.key] = max(min(limits), placed.begins)
        next_of |= dict.fromkeys((*placed.people, *alone), placed.step.key)
    return found


def _events(plan: Plan) -> dict[str, list[tuple[str, float]]]:
    """Of each step what follows it, and from when on it lets that begin [min]."""
    found: dict[str, list[tuple[str, float]]] = defaultdict(list)
    for placed in plan.placed:
        for link in placed.step.after:
            before = plan.by_key.get(link.step)
            event = event_of(before, link.until, plan.airs) if before is not None else None
            if event is not None:
                found[link.step].append((placed.step.key, event))
    return found
