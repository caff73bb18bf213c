"""A kit's list: looked at line by line, then taken as items."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.fields import read
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import parse
from kiteloom.core.stores.arrivals import HANDS, Looks
from kiteloom.formats.lists import ListRow, read_list
from kiteloom.store.models import Item
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.stores.items import MOST

#: Words lists use for a hand.
_HANDS = {"l": "left", "lh": "left", "links": "left", "r": "right", "rh": "right", "rechts": "right"}


@dataclass(frozen=True)
class KitFile:
    """A list as a file: its text, or a spreadsheet in base64; looked at only, until told to take it."""

    kit: str
    text: str
    spreadsheet: bool = False
    take: bool = False


@dataclass(frozen=True)
class KitRow:
    """One line: what it would make, how many, and what is odd or wrong with it."""

    line: int
    name: str
    number: str
    count: float | None
    looks: str
    what: Literal["new", "same", "differs", "refused"]
    words: list[str]


@dataclass(frozen=True)
class KitLooked:
    """A list that was looked at, or taken."""

    rows: list[KitRow]
    columns: list[str]
    taken: int
    sentence: str


def take_kit_list(uow: UnitOfWork, order: KitFile, now: datetime) -> KitLooked:
    """Look at a list, and where told take what is new, and how many of what is known the list promises now."""
    kit = " ".join(order.kit.split())[:60]
    if not kit:
        raise Refused("kit", "say what the kit is called: its lines are found by that")
    found = read_list(order.text, spreadsheet=order.spreadsheet)
    rows, taken = [], 0
    seen: dict[str, int] = {}
    for row in found.rows:
        read_row = _read(uow, kit, row, seen)
        rows.append(read_row)
        if order.take and read_row.what in ("new", "differs"):
            _keep(uow, kit, row, read_row, now)
            taken += 1
    bad = sum(row.what == "refused" for row in rows)
    odd = sum(bool(row.words) and row.what != "refused" for row in rows)
    words = f"{taken} of {len(rows)} lines taken" if order.take else f"{len(rows)} lines"
    words += f"; {odd} to look at" if odd else ""
    words += f"; {bad} can’t be read and are left out" if bad else ""
    return KitLooked(rows, [f"{key.removesuffix('_mm')}: “{head}”" for key, head in found.columns.items()], taken,
                     f"{words}.")  # fmt: skip


def _key(kit: str, row: ListRow) -> str:
    cells = row.cells
    what = cells.get("number") or f"{cells.get('name', '')} {cells.get('hand', '')} {cells.get('size', '')}"
    return stable_id("item of kit", kit.casefold(), what.casefold().strip())


def _read(uow: UnitOfWork, kit: str, row: ListRow, seen: dict[str, int]) -> KitRow:
    cells, words = row.cells, list(row.odd)
    name, number = cells.get("name", ""), cells.get("number", "")
    key, count = _key(kit, row), None
    what: Literal["new", "same", "differs", "refused"] = "new"
    try:
        if not name:
            raise Refused("name", "it does not say what it is")
        count = parse(cells.get("count", ""), "number", "", "count")
        if not 0 < count <= MOST:
            raise Refused("count", f"“{cells.get('count', '')}” is not how many there can be; from 1 to {MOST}")
        says = read(Looks, _looks(cells), units_of(uow))
    except Refused as refused:
        return KitRow(row.line, name, number, count, "", "refused", [*words, refused.sentence])
    if key in seen:
        words.append(f"it stands in line {seen[key]} too, by the same number: the last of them counts")
    seen[key] = row.line
    known = uow.session.get(Item, key)
    if known is not None:
        same = (known.name, known.number, known.says, known.listed) == (name[:120], number[:60], says, count)
        what = "same" if same else "differs"
        if not same and known.listed != count:
            words.append(f"the list promised {known.listed:g} before")
    return KitRow(row.line, name, number, count, ", ".join(_looks(cells).values()), what, words)


def _looks(cells: dict[str, str]) -> dict[str, str]:
    found = {key: cells[key] for key in ("thread", "length_mm", "hand", "size") if cells.get(key)}
    if "hand" in found:
        typed = found["hand"].casefold()
        found["hand"] = _HANDS.get(typed, typed if typed in HANDS else "")
    return {key: value for key, value in found.items() if value}


def _keep(uow: UnitOfWork, kit: str, row: ListRow, looked: KitRow, now: datetime) -> None:
    key, says = _key(kit, row), read(Looks, _looks(row.cells), units_of(uow))
    known = uow.session.get(Item, key)
    if known is None:
        uow.add(Item(id=key, name=looked.name[:120], number=looked.number[:60], says=says, kit=kit, listed=looked.count,
                     updated_at=now))  # fmt: skip
        uow.changed("item", key)
        return
    known.name, known.number, known.says, known.listed = looked.name[:120], looked.number[:60], says, looked.count
    known.hidden_at = None
    uow.edited(known, [f"{known.name}: {looked.count:g} on the list of {kit}"], now, "item")
