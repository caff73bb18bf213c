"""What a seller answers to an order, as a table: the day each line comes. Looked at, then taken."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from kiteloom.core.base.calendar import day_words
from kiteloom.core.base.problems import Refused
from kiteloom.store.models import OrderLine
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.log.orders import TellOrder, tell_order
from kiteloom.workshop.stores.buying import lines_here, notes_of_order, standing_of

#: The longest answer.
MOST_LINES, LONGEST = 500, 200_000


@dataclass(frozen=True)
class Answer:
    """An answer as a file's text; looked at only, until told to take it."""

    text: str
    take: bool = False


@dataclass(frozen=True)
class AnswerRow:
    """One line of it: which order, the day it comes, and what speaks against it."""

    name: str
    comes_on: date | None
    before: date | None
    what: Literal["new", "same", "refused"]
    words: str


@dataclass(frozen=True)
class AnswerLooked:
    """An answer that was looked at, or taken."""

    rows: list[AnswerRow]
    taken: int


def take_answer(uow: UnitOfWork, order: Answer, now: datetime) -> AnswerLooked:
    """Look at an answer, and where told note the days it says; an order is found by its id, or its name."""
    if len(order.text) > LONGEST:
        raise Refused("text", f"the answer has {len(order.text)} letters; at most {LONGEST} are read")
    table = list(csv.DictReader(io.StringIO(order.text.lstrip("\ufeff"))))
    if not table or "comes on" not in table[0]:
        raise Refused("text", "no line has a column “comes on”; the answer needs order or what, and comes on")
    by_id = {line.id: line for line in lines_here(uow)}
    rows, taken = [], 0
    for n, said in enumerate(table[:MOST_LINES]):
        line = by_id.get(said.get("order") or "") or _by_name(uow, said.get("what") or "")
        row = _look(uow, line, said.get("what") or "", said.get("comes on") or "", now)
        rows.append(row)
        if order.take and row.what == "new" and line is not None:
            key = stable_id("answer", line.id, str(row.comes_on), str(len(notes_of_order(uow, line.id))), str(n))
            tell_order(uow, line.id, TellOrder(key, "ordered", expected_on=row.comes_on), (), now)
            taken += 1
    return AnswerLooked(rows, taken)


def _by_name(uow: UnitOfWork, name: str) -> OrderLine | None:
    found = [line for line in lines_here(uow) if name and line.name.casefold() == name.strip().casefold()
             and standing_of(line, notes_of_order(uow, line.id)).to_come]  # fmt: skip
    return found[0] if len(found) == 1 else None


def _look(uow: UnitOfWork, line: OrderLine | None, what: str, said: str, now: datetime) -> AnswerRow:
    if line is None:
        return AnswerRow(what[:80], None, None, "refused", "no order, or more than one, is called so")
    today = now.astimezone(zone_here(uow)).date()
    try:
        day = date.fromisoformat(said.strip())
    except ValueError:
        return AnswerRow(line.name, None, line.expected_on, "refused", f"“{said[:20]}” is not a day like 2026-05-21")
    if day < today:
        return AnswerRow(line.name, day, line.expected_on, "refused", f"{day} is past")
    if not standing_of(line, notes_of_order(uow, line.id)).to_come:
        return AnswerRow(line.name, day, line.expected_on, "refused", "nothing of it is still to come")
    words = f"comes {day:%a} {day_words(day, zone_here(uow))}"
    if day == line.expected_on:
        return AnswerRow(line.name, day, line.expected_on, "same", f"{words}, as was known")
    return AnswerRow(line.name, day, line.expected_on, "new", words)
