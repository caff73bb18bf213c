"""What was used up of every lot, by batches, by finished steps, by what was cut; and what is left."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.stores.fields import MIXED, USES
from kiteloom.core.stores.ledger import Event, Kind, Ledger, ledger, shared
from kiteloom.core.stores.lots import ShelfLife, counted_in, good_until
from kiteloom.core.stores.packs import in_measure, weighs
from kiteloom.core.stores.sheets import said
from kiteloom.store.models import CutLayout, CutPlan, CutWay, DataSheet, Lot, WayCut
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import BuiltPart, built_parts
from kiteloom.workshop.cut.layouts import as_layout
from kiteloom.workshop.log.notes import finished_at
from kiteloom.workshop.stores.lots import found_bad, made_of, notes_of_lot


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


def is_mixed(sheet: DataSheet) -> bool:
    """Whether batches are mixed of a product, and name the lots they are made of."""
    says = sheet.says
    return sheet.kind in MIXED and any(says.get(name) for name in ("ratio", "ratio_by_volume", "range_pct"))


def sheets_here(uow: UnitOfWork) -> Mapping[str, DataSheet]:
    """All data sheets by their id."""
    return uow.once("sheets by id", lambda: {sheet.id: sheet for sheet in uow.all(DataSheet)})


def lots_here(uow: UnitOfWork) -> Sequence[Lot]:
    """All lots."""
    return uow.once("lots", lambda: uow.all(Lot))


def lot_events(uow: UnitOfWork, lot: Lot) -> list[Event]:
    """What came of a lot, was used, thrown away and counted, in no order."""
    if is_mixed(sheets_here(uow)[lot.data_sheet_id]):
        # Batches name their lots: nothing else need be read.
        return [
            *_own(uow, lot),
            *(Event(minute_of(batch.happened_at), "used", grams, "a batch") for batch, grams in made_of(uow, lot)),
        ]
    return uow.once("events of lots", lambda: _events(uow)).get(lot.id, [])


def lot_ledger(uow: UnitOfWork, lot: Lot) -> Ledger:
    """A lot's events added up."""
    return ledger(lot_events(uow, lot))


def opened_on(uow: UnitOfWork, lot: Lot) -> date | None:
    """The day a lot was opened: as it was noted, else the day of its first batch."""
    opened = next((note.happened_at for note in notes_of_lot(uow, lot.id) if note.kind == "opened"), None)
    used = made_of(uow, lot)
    if opened is None and used:
        opened = used[0][0].happened_at
    return opened.astimezone(zone_here(uow)).date() if opened is not None else None


def not_good_from(uow: UnitOfWork, lot: Lot) -> date | None:
    """The first day a lot is not known to be good any more; None where nothing says so."""
    says = sheets_here(uow)[lot.data_sheet_id].says
    life = ShelfLife(said(says, "keep.sealed_days"), said(says, "keep.opened_days"))
    return good_until(lot.expires_on, lot.made_on or lot.received_on, opened_on(uow, lot), life)


def stocks(uow: UnitOfWork) -> Mapping[str, list[Stock]]:
    """The counted lots of each consumable, by what it is used as, the first to be used leading.

    Of what is used by the area only what has the width of its roll on its sheet is known.
    """
    return uow.once("stocks of consumables", lambda: _stocks(uow))


def _stocks(uow: UnitOfWork) -> dict[str, list[Stock]]:
    sheets, found = sheets_here(uow), defaultdict[str, list[Stock]](list)
    for lot in sorted(lots_here(uow), key=_in_turn):
        use = str(sheets[lot.data_sheet_id].says.get("used_as"))
        per = _per_unit(sheets[lot.data_sheet_id], use)
        left = lot_ledger(uow, lot).left
        if use in USES and lot.measure != "mass" and per and left is not None and found_bad(uow, lot.id) is None:
            found[use].append(Stock(lot.id, left, per))
    return dict(found)


def _in_turn(lot: Lot) -> tuple[object, str]:
    return lot.received_on, lot.lot_number


def _events(uow: UnitOfWork) -> dict[str, list[Event]]:
    """Of all lots that no batch names."""
    sheets = sheets_here(uow)
    rest = [lot for lot in lots_here(uow) if not is_mixed(sheets[lot.data_sheet_id])]
    found = {lot.id: _own(uow, lot) for lot in rest}
    groups: dict[str, list[Lot]] = defaultdict(list)
    for lot in rest:
        sheet = sheets[lot.data_sheet_id]
        if found_bad(uow, lot.id) is None and _per_unit(sheet, _group(sheet)) is not None:
            groups[_group(sheet)].append(lot)
    uses = _used(uow) if groups else {}
    for group, rows in groups.items():
        rows.sort(key=_in_turn)
        pers = [_per_unit(sheets[lot.data_sheet_id], group) or 1.0 for lot in rows]
        alike = [[_times(event, per) for event in found[lot.id]] for lot, per in zip(rows, pers, strict=True)]
        for lot, per, taken in zip(rows, pers, shared(alike, uses.get(group, ())), strict=True):
            found[lot.id] += [_times(event, 1 / per) for event in taken]
    return found


def _times(event: Event, factor: float) -> Event:
    return event if factor == 1 else Event(event.minute, event.kind, event.amount * factor, event.words)


def _own(uow: UnitOfWork, lot: Lot) -> list[Event]:
    """What is noted of a lot itself. What was mixed of it was there, whenever it is said to have come."""
    mixed = is_mixed(sheets_here(uow)[lot.data_sheet_id])
    came = 0.0 if mixed else _since(uow, lot)
    found = [] if lot.received is None else [Event(came, "came", lot.received, "received")]
    for note in notes_of_lot(uow, lot.id):
        if note.kind in ("counted", "thrown") and note.amount is not None:
            at, kind = max(minute_of(note.happened_at), came), cast(Kind, note.kind)
            found.append(Event(at, kind, note.amount, note.note))
    return found


def _group(sheet: DataSheet) -> str:
    """What lots are used up one after the other with: all of one use, else those of one sheet."""
    use = str(sheet.says.get("used_as"))
    return use if use in USES else f"sheet:{sheet.id}"


def _per_unit(sheet: DataSheet, group: str) -> float | None:
    """What one metre or piece of it is in what its group's uses are said in."""
    if group not in USES:
        return 1.0
    counted, used = USES[group]
    width = sheet.says.get("roll_width_m")
    return 1.0 if counted == used else width


def _used(uow: UnitOfWork) -> dict[str, list[Event]]:
    """What finished steps and cut layouts used up, by group: in what steps use, or what the product's lots are in."""
    found: dict[str, list[Event]] = defaultdict(list)
    counted = {lot.data_sheet_id for lot in lots_here(uow)}
    by_name = {sheet.name: sheet for sheet in sheets_here(uow).values() if sheet.id in counted and not is_mixed(sheet)}
    cut = _cut(uow, found)
    for part in built_parts(uow):
        done = finished_at(uow, part.id)
        for job in part.jobs if done else ():
            for one in job.supplies:
                at = done.get(key_in(job, one.step))
                if at is None:
                    continue
                words = f"{part.name}, {_step_name(part, key_in(job, one.step))}"
                if one.name in USES:
                    found[one.name].append(Event(at, "used", one.amount, words))
                    continue
                sheet = by_name.get(one.name)
                if sheet is None or (part.id, job.key, sheet.id) in cut:
                    continue
                measure = counted_in(sheet.says, sheet.kind)
                amount = in_measure(one.amount, one.kind, measure, weighs(sheet.kind, sheet.says))
                if amount is not None:
                    found[_group(sheet)].append(Event(at, "used", amount, words))
    return found


def _cut(uow: UnitOfWork, found: dict[str, list[Event]]) -> set[tuple[str, str, str]]:
    """Add what cut layouts took of rolls and new sheets; the jobs they were cut for, by part, job and product."""
    jobs: set[tuple[str, str, str]] = set()
    for row in uow.all(WayCut):
        way = uow.get(CutWay, row.cut_way_id)
        kept, plan = uow.session.get(CutLayout, way.id), uow.get(CutPlan, way.cut_plan_id)
        layout, sheet = as_layout(kept.found) if kept is not None else None, sheets_here(uow)[way.data_sheet_id]
        if layout is None:
            continue
        measure = counted_in(sheet.says, sheet.kind)
        of = weighs(sheet.kind, sheet.says)
        amount = layout.sheets if measure == "count" else in_measure(layout.new_mm2 / 1e6, "area", measure, of)
        if amount:
            at = minute_of(row.happened_at)
            found[_group(sheet)].append(Event(at, "used", amount, f"cut for {plan.name}"))
        jobs |= {(one["part_id"], one["job"] or "", plan.data_sheet_id) for one in plan.rows}
    return jobs


def _step_name(part: BuiltPart, key: str) -> str:
    return next((step.name.lower() for step in part.steps if step.key == key), key)


def _since(uow: UnitOfWork, lot: Lot) -> float:
    """The end of the day a lot came: what was used that day was used of what was there before [min]."""
    after = lot.received_on + timedelta(days=1)
    return minute_of(datetime.combine(after, time(), zone_here(uow)))
