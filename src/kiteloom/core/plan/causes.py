"""What held each step of a plan: what would have to be away for it to go sooner."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Sequence
from threading import Lock

from kiteloom.core.build.step import GRID_MIN
from kiteloom.core.plan.placed import HOURS, START, Because, Placed
from kiteloom.core.plan.search import Hold, Relaxed, Search

#: Between two marks the search is kept at, to come back to, so many steps are placed.
MARK = 48


class Told:
    """Tells what held a step when it is asked: most of a plan's steps never are.

    A step was held only by those placed before it, so the search is put back to where it stood
    then. Many are told soonest in the order in which they were placed.
    """

    def __init__(self, search: Search) -> None:
        self._search, self._again = search, Search(search.job, search.ground)
        self._lock, self._at = Lock(), 0
        self._marks = [self._again.taken()]
        """The search after each so many steps."""

    def causes(self, found: Placed, holds: Sequence[Hold]) -> tuple[Because, ...]:
        """What held a step that the search found a place for."""
        turned = {because.by for _, because in holds if because.kind == "setup"}
        with self._lock:
            search = self._before(found.step.key, turned)
            again, met = search.find(found.step, holds)
            return held_by(search, again if isinstance(again, Placed) else found, holds, met)

    def _before(self, key: str, turned: Collection[str]) -> Search:
        keys, placed = list(self._search.placed), list(self._search.placed.values())
        until = keys.index(key) if key in self._search.placed else len(keys)
        if until and keys[until - 1] in turned:
            until -= 1  # turned for this step alone, once its place was found
        if until < self._at:
            last = min(until // MARK, len(self._marks) - 1)
            self._again.back(self._marks[last])
            self._at = last * MARK
        while self._at < until:
            self._again.keep(placed[self._at])
            self._at += 1
            if self._at == len(self._marks) * MARK:
                self._marks.append(self._again.taken())
        return self._again


def held_by(search: Search, found: Placed, holds: Sequence[Hold], met: Sequence[Because]) -> tuple[Because, ...]:
    """What would have to be away for a step to go sooner: one thing, or else as few together as can be.

    The search must stand as it did when the step was found.
    """
    step, known = found.step, {because.what: because for because in reversed([found.met, *reversed(met)])}
    known.pop(START.what, None)
    last: dict[tuple[str, str], Because] = {}

    def sooner(without: Relaxed) -> bool:
        other, others = search.find(step, holds, without)
        for because in others:
            if because.kind != "start" and because.what not in last:
                known.setdefault(because.what, because)
        return isinstance(other, Placed) and other.begins < found.begins

    moved = any(because.kind == "window" for _, because in holds)
    closed = _closed_until(search, found, holds) if HOURS.what in known and not moved else ""
    if closed and sooner((HOURS.what,)):
        return (Because("hours", by=closed),)
    # At night all could go sooner, and before what comes first too: what begins while the shop is open, long
    # after that, was held by something else.
    spent = {because.what for at, because in holds if not closed and found.begins - at >= GRID_MIN}
    last |= {what: known.pop(what) for what in (HOURS.what, *spent) if what in known}

    def rank(what: tuple[str, str]) -> int:
        # What was moved for another, or waits for somebody away, is often closed to as well: that says
        # less. Of people those who are busy here are named rather than those who are not.
        away = known[what].kind == "crew" and not known[what].by
        if what[0] == "window" or (away and found.met.kind == "hours"):
            return 0
        return 3 if away else 1 + (what != found.met.what)

    for what in sorted(known, key=rank):
        if sooner((what,)):
            return (known[what],)
    together, count = list(known), -1
    while count < len(known) and not sooner(together):
        count, together = len(together), list(known)
    if not sooner(together):
        known |= last
        together = list(known)
        if not sooner(together):
            return (START,)
    for what in sorted(together, key=rank, reverse=True):
        less = [other for other in together if other != what]
        if sooner(less):
            together = less
    return tuple(known[what] for what in together)


def _closed_until(search: Search, found: Placed, holds: Sequence[Hold]) -> str:
    """Whether the hours alone held a step that begins as the shop opens: it was ``"closed"``, or too ``"short"``.

    Short is what was left of the stretch before, from when all else let the step go; ``""`` when there was room.
    """
    at = bisect_right(search.hours.closes, found.begins)
    if at == len(search.hours.open) or found.begins - search.hours.open[at][0] >= GRID_MIN:
        return ""
    free = max(moment for moment, because in holds if because.kind != "hours")
    if at == 0 or free >= search.hours.closes[at - 1]:
        return "closed"
    opens, closes = search.hours.open[at - 1]
    needed = GRID_MIN if found.step.may_pause else found.step.length
    return "short" if closes - max(opens, free) < needed else ""
