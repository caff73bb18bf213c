"""Who does a step: which of a crew, and from when enough of them are free."""

from __future__ import annotations

import math
from collections.abc import Sequence

from kiteloom.core.base.calendar import Interval
from kiteloom.core.build.step import GRID_MIN, Step
from kiteloom.core.plan.input import Member
from kiteloom.core.plan.placed import Because
from kiteloom.core.plan.use import Hours, Room, Use


class One:
    """One of the crew who may do a step: what is taken of them, None for nothing, and their place in the crew."""

    def __init__(self, member: Member, use: Use | None, rank: int) -> None:
        self.member, self.use, self.rank = member, use, rank


class Hands:
    """From when each of a crew could do a step, whatever keeps them: past all of that a quick search goes at once."""

    def __init__(
        self, step: Step, needed: float, hours: Hours, crew: Sequence[One], each: tuple[frozenset[str], ...]
    ) -> None:
        self._step, self._needed, self._crew, self._each = step, needed, crew, each
        self._frees = [one.use.free(hours) for one in crew if one.use]
        self._firsts = [-math.inf] * len(crew)
        self._anybody = anybody_does(self._step, each)
        self._groups: list[list[int]] = []
        if not self._anybody:
            of = [{n for n, one in enumerate(crew) if skill in one.member.skills} for skill in self._step.skills]
            of += [{n for n, one in enumerate(crew) if one.member.id in who} for who in each if len(each) > 1]
            self._groups = [sorted(who) for who in of]

    def soonest(self, moment: float) -> float:
        """A moment on the grid before which too few are free, or nobody who has a skill.

        It may still be too soon: who has one skill may be needed for another.

        >>> bo, day = One(Member("Bo"), Use(1), 0), Hours.of([(0, 180)])
        >>> bo.use.take(0, 60, "layup")
        >>> Hands(Step("lift", "Lift it", 30), 30, day, [bo], ()).soonest(10)
        60.0
        """
        step, firsts = self._step, self._firsts
        alone = step.people == 1 and self._anybody
        while True:
            for n, first in enumerate(firsts):
                if first < moment:
                    firsts[n] = first = self._frees[n].soonest(moment, self._needed, pauses=step.may_pause)
                if alone and first - moment < GRID_MIN:
                    return first  # whoever comes first in the crew does it: of the others nothing need be known
            soonest = sorted(firsts)[step.people - 1]
            for group in self._groups:
                soonest = max(soonest, min(firsts[n] for n in group))
            if alone or soonest - moment < GRID_MIN or soonest == math.inf:
                return soonest
            moment = soonest

    def at(self, start: float) -> list[str] | None:
        """Who does it then, by what is known of each; None where that says nobody.

        >>> hands = Hands(Step("lift", "Lift it", 30), 30, Hours.of([(0, 180)]), [One(Member("Bo"), Use(1), 0)], ())
        >>> hands.at(hands.soonest(10))
        ['Bo']
        """
        free = [one.member for one, first in zip(self._crew, self._firsts, strict=True) if first == start]
        if self._anybody:
            return [member.id for member in free[: self._step.people]] if len(free) >= self._step.people else None
        return team_of(self._step, free, self._each)


def team_or_when(
    step: Step,
    pieces: Sequence[Interval],
    crew: Sequence[One],
    each: tuple[frozenset[str], ...],
    rooms: dict[str, Room],
) -> tuple[float, list[Because]] | list[str]:
    """Who of a crew does some pieces of work; or from when enough of them could [min], and who comes free then.

    Parameters
    ----------
    crew : sequence of One
        Those who are asked first leading.
    each : tuple of sets of ids
        Of each somebody must be on it.
    rooms : dict
        Who has room for one piece of it: kept from one moment to the next.

    >>> bo, lift = One(Member("Bo"), Use(1, [(0, 60)]), 0), Step("lift", "Lift it", 30)
    >>> team_or_when(lift, [(30, 60)], [bo], (), {})
    (60, [Because(kind='crew', of='Bo', by='')])
    """
    anybody = anybody_does(step, each)
    free: list[Member] = []
    busy: list[tuple[float, int, str, str]] = []
    in_one, (start, over) = len(pieces) == 1, pieces[0]
    for one in crew:
        member, use = one.member, one.use
        until, by = -math.inf, ""
        if use is None:
            pass
        elif in_one:
            room = rooms.get(member.id)
            if room is None or over > room[1]:
                room = rooms[member.id] = use.room(start, over - start)
            if room[0] > start:
                until, by = room[0], room[2]
        elif (found := use.busy(pieces)) is not None:
            until, by = found
        if until > -math.inf:
            busy.append((until, one.rank, member.id, by))
            continue
        free.append(member)
        if anybody and len(free) == step.people:
            return [member.id for member in free]
    if not anybody and (team := team_of(step, free, each)) is not None:
        return team
    busy.sort()
    # Too few hands: nothing changes until as many are free as are missing.
    which = max(step.people - len(free), 1) - 1
    until = busy[which][0]
    return until, [Because("crew", of, by) for end, _, of, by in busy if end == until]


def anybody_does(step: Step, each: Sequence[frozenset[str]]) -> bool:
    """Whether any of those who may do a step will do, as many as it takes.

    >>> anybody_does(Step("lift", "Lift it", 30, people=2, skills=("bag",)), ())
    False
    """
    return len(each) < 2 and (not step.skills or step.people == 1)


def in_words(count: int) -> str:
    """So many people, in words.

    >>> in_words(1), in_words(3)
    ('1 person', '3 people')
    """
    return "1 person" if count == 1 else f"{count} people"


def team_of(step: Step, free: Sequence[Member], each: Sequence[frozenset[str]] = ()) -> list[str] | None:
    """As many of the free as it takes, every skill among them, those named first preferred; None if they can't.

    Parameters
    ----------
    each : sequence of sets of ids
        Of each somebody must be on it.

    >>> lift = Step("lift", "Lift it", 20, people=2, skills=("bag",))
    >>> team_of(lift, [Member("Bo"), Member("Imre", frozenset({"bag"}))])
    ['Imre', 'Bo']
    """
    if len(free) < step.people:
        return None
    # Nearly every step: one of them, or skills of nobody in particular.
    if not step.skills and len(each) < 2:
        return [member.id for member in free[: step.people]]
    if step.people == 1 and len(each) < 2:
        for member in free:
            if member.skills.issuperset(step.skills):
                return [member.id]
        return None
    if len(step.skills) == 1 <= step.people and len(each) < 2:
        for member in free:
            if step.skills[0] in member.skills:
                others = [other.id for other in free[: step.people] if other is not member]
                return [member.id, *others[: step.people - 1]]
        return None
    wanted = [frozenset(member.id for member in free if skill in member.skills) for skill in step.skills]
    wanted += each if len(each) > 1 else ()
    # Who is chosen has nothing that is missing: whether the rest can be had goes by what is missing alone.
    hopeless: set[tuple[tuple[int, ...], int]] = set()

    def cover(chosen: tuple[str, ...]) -> tuple[str, ...] | None:
        missing = tuple(n for n, who in enumerate(wanted) if not who.intersection(chosen))
        if not missing:
            return chosen
        if len(chosen) == step.people or (missing, len(chosen)) in hopeless:
            return None
        for member in free:
            if member.id in wanted[missing[0]] and (found := cover((*chosen, member.id))):
                return found
        hopeless.add((missing, len(chosen)))
        return None

    chosen = cover(())
    if chosen is None:
        return None
    rest = [member.id for member in free if member.id not in chosen]
    return [*chosen, *rest[: step.people - len(chosen)]]
