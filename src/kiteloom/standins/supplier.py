"""A shop that sells, simulated: it answers an order with the day each line comes, and now and then with less."""

from __future__ import annotations

import csv
import io
import random
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta


@dataclass(frozen=True)
class Asked:
    """A line of an order: its id, what it is, how many packs, and how many days they usually take."""

    id: str
    name: str
    packs: int
    lead_days: int


def answer(lines: Sequence[Asked], today: date, seed: int = 1) -> str:
    """The answer as a table: order, what, packs, comes on. On working days only, some of it a few days late.

    >>> print(answer([Asked("a", "Rod end", 2, 5)], date(2026, 5, 14)).strip())
    order,what,packs,comes on
    a,Rod end,2,2026-05-25
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["order", "what", "packs", "comes on"])
    for line in lines:
        chance = random.Random(f"{seed}:{line.id}")
        late = chance.choice((0, 0, 0, 2, 6))
        day = today + timedelta(days=line.lead_days + late)
        while day.weekday() > 4:
            day += timedelta(days=1)
        writer.writerow([line.id, line.name, line.packs, day.isoformat()])
    return out.getvalue()
