"""What finished steps used up of consumables, and what is left of their lots."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime, time, timedelta

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.stores.fields import USES
from kiteloom.core.stores.lots import drawn
from kiteloom.store.models import DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.log.notes import finished_at
from kiteloom.workshop.stores.lots import found_bad, notes_of_lot


@dataclass(frozen=True)
class Stock:
    """A lot of a consumable: what is left of it as it is counted, and how much that is in what steps use.

    ``per_unit`` is how much one metre or piece of it is: the width of the roll where an area is used.
    """

    lot_id: str
    left: float
    per_unit: float

    @property
    def amount(self) -> float:
        """What is left, in what steps use: m², m or pieces; nothing where more was used than there was."""
        return max(self.left, 0.0) * self.per_unit


def _used(uow: UnitOfWork) -> dict[str, list[tuple[float, float]]]:
    """What finished steps used up, and when [min], by what it is used as."""
    found: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for part in built_parts(uow):
        done = finished_at(uow, part.id)
        if not done:
            continue
        for job in part.jobs:
            for one in job.supplies:
                at = done.get(key_in(job, one.step))
                if at is not None and one.name in USES:
                    found[one.name].append((at, one.amount))
    return found


def stocks(uow: UnitOfWork) -> dict[str, list[Stock]]:
    """The counted lots of each consumable, by what it is used as, the first to be used leading.

    Of what is used by the area only what has the width of its roll on its sheet is known.
    """
    return uow.once("stocks of consumables", lambda: _stocks(uow))


def _stocks(uow: UnitOfWork) -> dict[str, list[Stock]]:
    by_use: dict[str, list[tuple[Lot, float, float, float]]] = defaultdict(list)
    counted = [lot for lot in uow.once("lots", lambda: uow.all(Lot)) if lot.measure != "mass"]
    sheets = {sheet.id: sheet for sheet in uow.all(DataSheet)} if counted else {}
    for lot in counted:
        if found_bad(uow, lot.id) is not None:
            continue
        says = sheets[lot.data_sheet_id].says
        use = str(says.get("used_as"))
        per_unit = _per_unit(use, says.get("roll_width_m"))
        counts = [note for note in notes_of_lot(uow, lot.id) if note.kind == "counted"]
        amount = counts[-1].amount if counts else lot.received
        if use not in USES or per_unit is None or amount is None:
            continue
        since = minute_of(counts[-1].happened_at) if counts else _since(uow, lot)
        by_use[use].append((lot, since, amount, per_unit))
    used = _used(uow) if by_use else {}
    found = {}
    for use, rows in by_use.items():
        rows.sort(key=lambda row: (row[0].received_on, row[0].lot_number))
        left = drawn([(since, amount * per_unit) for _, since, amount, per_unit in rows], used.get(use, ()))
        found[use] = [Stock(lot.id, rest / per, per) for (lot, _, _, per), rest in zip(rows, left, strict=True)]
    return found


def _per_unit(use: str, roll_width_m: float | None) -> float | None:
    counted, used = USES.get(use, ("", ""))
    return 1.0 if counted == used else roll_width_m


def _since(uow: UnitOfWork, lot: Lot) -> float:
    """The end of the day a lot came: what was used that day was used of what was there before [min]."""
    after = lot.received_on + timedelta(days=1)
    return minute_of(datetime.combine(after, time(), zone_here(uow)))
