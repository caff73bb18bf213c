"""What every step still ahead takes, what of it is there or on order, and which steps wait for what comes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.mix.ratio import MixSystem
from kiteloom.core.need.buying import Held, Wanted, served
from kiteloom.core.need.supplies import Supply
from kiteloom.core.stores.fields import USES
from kiteloom.core.stores.ledger import Event, Ledger, ledger
from kiteloom.core.stores.lots import counted_in
from kiteloom.core.stores.orders import comes_on
from kiteloom.core.stores.packs import in_measure, weighs
from kiteloom.core.stores.wares import Takes, Ware, split
from kiteloom.store.models import DataSheet, Lot
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import zone_here
from kiteloom.workshop.build.jobs import key_in
from kiteloom.workshop.build.parts import WORK_TOPICS, BuiltPart, built_parts
from kiteloom.workshop.log.notes import finished_at
from kiteloom.workshop.log.used_up import lot_ledger, lots_here, not_good_from, sheets_here
from kiteloom.workshop.log.work import Done
from kiteloom.workshop.stores.buying import (
    lines_here,
    name_of,
    notes_of_order,
    offers_here,
    to_come,
    ware_of,
)
from kiteloom.workshop.stores.items import notes_of_items, uses_of_items
from kiteloom.workshop.stores.lots import found_bad
from kiteloom.workshop.stores.sheets import resin_of

#: What is derived from a product that is counted itself: how far it goes off the roll, how many sheets.
_DERIVED = (", off the roll", ", sheets")


def takes_ahead(uow: UnitOfWork, parts: Mapping[str, BuiltPart], done: Done) -> list[Takes]:
    """What every step that is not finished still takes, in what each ware is counted in, by part and step in order.

    Of what no product is on the shelf only the name is known. What its sheet does not let count is left out.
    """
    held_apart, taken, found = apart(uow), _by_part(uow), list[Takes]()
    for part in parts.values():
        mine = taken[part.id]
        for key, (sheet_id, product) in mine.mixed.items():
            grams = done.left_g(part, key)
            if grams > 0:
                found += _of_mix(sheet_id, product, held_apart.get(sheet_id), part.id, key, grams)
        found += [takes for takes in mine.supplies if not done.over(f"{part.id}:{takes.step}")]
    return found + items_ahead(uow, parts, done)


def items_ahead(uow: UnitOfWork, parts: Mapping[str, BuiltPart], done: Done) -> list[Takes]:
    """What every step that is not finished takes of items."""
    return [
        Takes(Ware("item", use.item_id), use.part_id, use.step_key, use.count, "count")
        for use in uses_of_items(uow)
        if use.part_id in parts and not done.over(f"{use.part_id}:{use.step_key}")
    ]


@dataclass(frozen=True)
class _OfPart:
    """What the steps of a part take, whatever was done: the sheet and product each is mixed of, and supplies."""

    mixed: Mapping[str, tuple[str, str]]
    supplies: tuple[Takes, ...]


def _by_part(uow: UnitOfWork) -> Mapping[str, _OfPart]:
    """What each part takes; made anew only when something other than work has changed."""

    def made() -> dict[str, _OfPart]:
        names = {sheet.name: sheet for sheet in sheets_here(uow).values() if sheet.hidden_at is None}
        names.update(_for_use(uow))
        return {
            part.id: _OfPart(
                {key: part.product_of(key) for key in part.needs},
                tuple(
                    takes
                    for job in part.jobs
                    for one in job.supplies
                    if (takes := _supplied(one, names.get(one.name), part.id, key_in(job, one.step)))
                ),
            )
            for part in built_parts(uow)
        }

    return uow.built.made(uow.last_change(WORK_TOPICS), "what parts take", made)


def _of_mix(sheet_id: str, product: str, ratio: float | None, part: str, step: str, grams: float) -> list[Takes]:
    if not sheet_id:
        return [Takes(Ware("name", product or "no product chosen yet"), part, step, grams, "mass")]
    if ratio is None:
        return [Takes(Ware("sheet", sheet_id), part, step, grams, "mass")]
    resin, hardener = split(grams, ratio)
    return [
        Takes(Ware("sheet", sheet_id, "resin"), part, step, resin, "mass"),
        Takes(Ware("sheet", sheet_id, "hardener"), part, step, hardener, "mass"),
    ]


def _supplied(one: Supply, sheet: DataSheet | None, part: str, step: str) -> Takes | None:
    if sheet is None:
        if one.name.endswith(_DERIVED) or one.kind in ("area", "volume"):
            return None
        return Takes(Ware("name", one.name), part, step, one.amount, "run" if one.kind == "run" else "count")
    measure = counted_in(sheet.says, sheet.kind)
    counted = in_measure(one.amount, one.kind, measure, weighs(sheet.kind, sheet.says))
    return None if counted is None else Takes(Ware("sheet", sheet.id), part, step, counted, measure)


def _for_use(uow: UnitOfWork) -> Mapping[str, DataSheet]:
    """The sheet that stands for all of one use: one that there are lots of, where there are any."""

    def read() -> dict[str, DataSheet]:
        stocked = {lot.data_sheet_id for lot in lots_here(uow)}
        rows = [row for row in sheets_here(uow).values() if row.hidden_at is None and row.says.get("used_as") in USES]
        return {str(row.says["used_as"]): row for row in sorted(rows, key=lambda row: (row.id in stocked, row.name))}

    return uow.once("sheets by use", read)


def stands_for(uow: UnitOfWork, sheet: DataSheet) -> tuple[str, float]:
    """The sheet that lots of one count for, and how much of that one metre or piece of it is: rolls differ in width."""
    use = str(sheet.says.get("used_as"))
    main = _for_use(uow).get(use)
    if main is None or main.id == sheet.id or USES[use][0] == USES[use][1]:
        return (main or sheet).id, 1.0
    wide, other = sheet.says.get("roll_width_m"), main.says.get("roll_width_m")
    return (main.id, wide / other) if wide and other else (sheet.id, 1.0)


def apart(uow: UnitOfWork) -> Mapping[str, float]:
    """Products whose resin and hardener are held or bought apart: hardener per resin by weight, by the sheet's id."""

    def read() -> dict[str, float]:
        ids = {lot.data_sheet_id for lot in lots_here(uow) if lot.component != "both"}
        ids |= {ware.id for ware in offers_here(uow) if ware.component != "both"}
        ids |= {line.data_sheet_id or "" for line in lines_here(uow) if line.component != "both"}
        found = {}
        for key in ids:
            mix = _mix_of(sheets_here(uow)[key])
            if mix is not None:
                found[key] = mix.by_weight
        return found

    return uow.once("products held apart", read)


def _mix_of(sheet: DataSheet) -> MixSystem | None:
    try:
        return resin_of(sheet).parts
    except ValueError:
        return None


@dataclass(frozen=True)
class There:
    """What is there of a ware: amounts with the day they expire; ``uncounted`` where nobody said how much there is."""

    held: tuple[Held, ...] = ()
    uncounted: bool = False

    @property
    def amount(self) -> float:
        """All of it together."""
        return sum(one.amount for one in self.held)


def there_of(uow: UnitOfWork, ware: Ware) -> There:
    """What is there of a ware: good lots, or an item. A kit counts for both components."""
    return uow.once(f"there of {ware}", lambda: _there_of(uow, ware))


def _there_of(uow: UnitOfWork, ware: Ware) -> There:
    if ware.kind == "item":
        left = item_ledger(uow, ware.id).left
        return There((Held(left),) if left is not None and left > 0 else ())
    held, uncounted = list[Held](), False
    for lot, share in _lots_of_wares(uow).get(ware, ()):
        if found_bad(uow, lot.id) is not None:
            continue
        left = lot_ledger(uow, lot).left
        if left is None:
            uncounted = True
        elif left > 0:
            # The first day it is not good any more; served is on the last on which it is.
            bad_from = not_good_from(uow, lot)
            until = None if bad_from is None else date.fromordinal(max(bad_from.toordinal() - 1, 1))
            held.append(Held(left * share, until))
    return There(tuple(held), uncounted)


def _lots_of_wares(uow: UnitOfWork) -> Mapping[Ware, list[tuple[Lot, float]]]:
    """The lots of each ware, with its share of each by weight."""

    def read() -> dict[Ware, list[tuple[Lot, float]]]:
        found: dict[Ware, list[tuple[Lot, float]]] = defaultdict(list)
        for lot in lots_here(uow):
            for ware, share in wares_of(uow, lot):
                found[ware].append((lot, share))
        return found

    return uow.once("lots of wares", read)


def wares_of(uow: UnitOfWork, lot: Lot) -> list[tuple[Ware, float]]:
    """What a lot is of, with its share by weight."""
    ratio = apart(uow).get(lot.data_sheet_id)
    if ratio is None:
        main, factor = stands_for(uow, sheets_here(uow)[lot.data_sheet_id])
        return [(Ware("sheet", main), factor)]
    if lot.component != "both":
        return [(Ware("sheet", lot.data_sheet_id, lot.component), 1.0)]
    resin, hardener = split(1.0, ratio)
    return [
        (Ware("sheet", lot.data_sheet_id, "resin"), resin),
        (Ware("sheet", lot.data_sheet_id, "hardener"), hardener),
    ]


def item_ledger(uow: UnitOfWork, item_id: str) -> Ledger:
    """What came of an item, in parcels and in kits, what finished steps used, and what is left."""
    return ledger(item_events(uow, item_id))


def item_events(uow: UnitOfWork, item_id: str) -> list[Event]:
    """What happened to an item, in no order."""
    found = []
    for line in lines_here(uow):
        if line.item_id == item_id:
            found += [
                Event(minute_of(note.happened_at), "came",
                      note.packs * (line.amount if note.amount is None else note.amount), f"of {line.words}")
                for note in notes_of_order(uow, line.id)
                if note.kind == "received" and note.packs
            ]  # fmt: skip
    as_kind = {"found": "came", "damaged": "thrown", "thrown": "thrown", "counted": "counted", "used": "used"}
    for note in notes_of_items(uow).get(item_id, ()):
        if note.kind in as_kind:
            kind = as_kind[note.kind]
            if note.kind == "damaged":  # it came, and can't be used
                found.append(Event(minute_of(note.happened_at), "came", note.amount, note.note))
            found.append(Event(minute_of(note.happened_at), kind, note.amount, note.note))  # type: ignore[arg-type]
    for part_id, key, at, count in _finished_uses(uow).get(item_id, ()):
        found.append(Event(at, "used", count, f"{part_id}:{key}"))
    return found


def _finished_uses(uow: UnitOfWork) -> Mapping[str, list[tuple[str, str, float, float]]]:
    def read() -> dict[str, list[tuple[str, str, float, float]]]:
        found: dict[str, list[tuple[str, str, float, float]]] = defaultdict(list)
        for use in uses_of_items(uow):
            at = finished_at(uow, use.part_id).get(use.step_key)
            if at is not None:
                found[use.item_id].append((use.part_id, use.step_key, at, use.count))
        return found

    return uow.once("items used by finished steps", read)


def on_the_way(uow: UnitOfWork, today: date) -> Mapping[Ware, list[Held]]:
    """What is on order of every ware, and the day it is awaited. A kit counts for both components."""
    return uow.built.made((uow.last_change(WORK_TOPICS), today), "on the way", lambda: _on_the_way(uow, today))


def _on_the_way(uow: UnitOfWork, today: date) -> Mapping[Ware, list[Held]]:
    found: dict[Ware, list[Held]] = defaultdict(list)
    for line, packs in to_come(uow):
        ware, amount, day = ware_of(line), packs * line.amount, comes_on(line.expected_on, today)
        ratio = apart(uow).get(ware.id) if ware.kind == "sheet" and ware.component == "both" else None
        if ware.kind == "sheet" and ratio is None and ware.component == "both":
            main, factor = stands_for(uow, sheets_here(uow)[ware.id])
            ware, amount = Ware("sheet", main), amount * factor
        if ratio is None:
            found[ware].append(Held(amount, comes=day))
            continue
        for component, share in zip(("resin", "hardener"), split(amount, ratio), strict=True):
            found[Ware("sheet", ware.id, component)].append(Held(share, comes=day))
    return found


@dataclass(frozen=True)
class Waits:
    """That a step waits for something on order: for what, and the day that is awaited."""

    what: str
    day: date


def waiting(
    uow: UnitOfWork, parts: Mapping[str, BuiltPart], done: Done, begins: Mapping[str, float], now: datetime
) -> dict[str, Waits]:
    """Which steps wait for something on order: what is there goes to whoever stands first in the plan that stands.

    Parameters
    ----------
    begins : mapping
        When steps begin in the plan that stands, by their keys [min]; what is not in it comes last.
    """
    today = now.astimezone(zone_here(uow)).date()
    coming = on_the_way(uow, today)
    if not coming:
        return {}
    rows: dict[Ware, list[Takes]] = defaultdict(list)
    for one in takes_ahead(uow, parts, done):
        if one.ware in coming:
            rows[one.ware].append(one)
    last, found = max(begins.values(), default=0.0) + 1, dict[str, Waits]()
    for ware, takes in rows.items():
        there = there_of(uow, ware)
        if there.uncounted:
            continue  # somebody has some of it: how much nobody said
        takes.sort(key=lambda one: begins.get(f"{one.part}:{one.step}", last))
        # Who stands first is served first, on whatever day: what comes is waited for.
        firsts = [Wanted(one.amount, today) for one in takes]
        for one, (_, day) in zip(takes, served(firsts, [*there.held, *coming[ware]], today), strict=True):
            key = f"{one.part}:{one.step}"
            if day is not None and (key not in found or found[key].day < day):
                found[key] = Waits(name_of(uow, ware), day)
    return found
