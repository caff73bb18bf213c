"""Hours that were worked so far, by person and by part, from the notes of work."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.calendar import lasting, minute_of
from kiteloom.core.log.work import spent
from kiteloom.store.models import Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.log.notes import notes_from, standing_notes


@dataclass(frozen=True)
class Worked:
    """Minutes of work: of each person, and of each part by person."""

    by_person: dict[str, float]
    by_part: dict[str, dict[str, float]]


def hours_so_far(uow: UnitOfWork, now: datetime) -> Worked:
    """What was worked in the whole shop; notes that were taken back don't count."""
    steps: dict[tuple[str, str], list[Work]] = defaultdict(list)
    for row in standing_notes(uow):
        steps[row.part_id, row.step_key].append(row)
    by_person: dict[str, float] = defaultdict(float)
    by_part: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for (part, _), rows in steps.items():
        for person, minutes in spent(notes_from(rows), minute_of(now)).items():
            by_person[person] += minutes
            by_part[part][person] += minutes
    return Worked(dict(by_person), {part: dict(people) for part, people in by_part.items()})


def hours_words(minutes: float) -> str:
    """Minutes of work as they are said; ``""`` for none.

    >>> hours_words(754.0), hours_words(0)
    ('12 h 34 min noted so far', '')
    """
    return f"{lasting(minutes)} noted so far" if minutes >= 1 else ""


def hours_in(people: dict[str, float], names: dict[str, str]) -> str:
    """Hours in a part, in all and by whom; ``""`` for none.

    >>> hours_in({"bo": 90.0, "imre": 30.0}, {"bo": "Bo", "imre": "Imre"})
    '2 h of work in it so far: Bo 1 h 30 min and Imre 30 min'
    """
    who = sorted(people.items(), key=lambda each: -each[1])
    if not who or sum(people.values()) < 1:
        return ""
    each = joined([f"{names.get(person, 'somebody')} {lasting(minutes)}" for person, minutes in who])
    return f"{lasting(sum(people.values()))} of work in it so far: {each}"
