"""Today for each person: what they do until the shop closes, one line each."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.input import Member
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Span
from kiteloom.workshop.plan.people import absences
from kiteloom.workshop.plan.plan import ShopPlan


@dataclass(frozen=True)
class Turn:
    """One thing somebody does, and from when to when."""

    part_id: str
    step_key: str
    name: str
    part: str
    span: Span
    running: bool


@dataclass(frozen=True)
class PersonDay:
    """Somebody on the crew: whether they are here now, and what they do until the shop closes.

    ``absence_id`` is what keeps them away; ``words`` say what the turns do not.
    """

    id: str
    name: str
    here: bool
    absence_id: str
    words: str
    turns: list[Turn]


def day_by_person(uow: UnitOfWork, shop: ShopPlan, until: float) -> list[PersonDay]:
    """Everybody with a name, in the crew's order."""
    away, found = absences(uow), []
    for member in shop.input.crew:
        if member.id not in shop.names:
            continue
        gone = next((a for a in away.get(member.id, ()) if minute_of(a.start) <= shop.now < minute_of(a.end)), None)
        off = member.hours is not None and not member.hours.intervals(shop.now, shop.now + 1)
        turns = _turns(shop, member, until)
        if gone is not None:
            words = f"away until {shop.saying.at(minute_of(gone.end))}"
        else:
            words = "; ".join(part for part in ("not at this hour" if off else "", _else(shop, member, turns)) if part)
        found.append(
            PersonDay(
                member.id,
                shop.names[member.id],
                gone is None and not off,
                gone.id if gone else "",
                words,
                turns,
            )
        )
    return found


def _turns(shop: ShopPlan, member: Member, until: float) -> list[Turn]:
    """What somebody works on from now until then, each stretch of work on its own."""
    say, found = shop.saying, []
    for placed in shop.plan.placed:
        if placed.state == "done" or member.id not in placed.people:
            continue
        for start, end in placed.pieces:
            if end > shop.now and start < until:
                step, where = placed.step, shop.names[placed.step.part]
                running = placed.state == "running" and start <= shop.now
                found.append(Turn(step.part, step.in_part, step.name, where, say.span((start, end)), running))
    return sorted(found, key=lambda turn: turn.span.start)


def _else(shop: ShopPlan, member: Member, turns: list[Turn]) -> str:
    """When somebody without work today is on next."""
    if turns:
        return ""
    ahead = [p for p in shop.plan.placed if p.state != "done" and member.id in p.people and p.begins > shop.now]
    if not ahead:
        return "nothing planned"
    nearest = min(ahead, key=lambda placed: placed.begins)
    return f"nothing more today; {shop.saying.at(nearest.begins)}: {nearest.step.name}"
