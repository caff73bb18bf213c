"""Items as they are shown: what is there of each, what a kit's list promised, which steps take them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.fields import asked_of
from kiteloom.core.base.quantities import show
from kiteloom.core.stores.arrivals import Looks, thread_of, too_short
from kiteloom.store.models import CrewMember, Item
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.stores.needs import amount_words
from kiteloom.views.stores.orders import AskedView
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import BuiltPart, built_parts
from kiteloom.workshop.log.ahead import item_ledger
from kiteloom.workshop.log.notes import finished_at
from kiteloom.workshop.stores.items import item_texts, items_here, looks_of, notes_of_items, uses_of_items

Found = Literal["found", "missing", "damaged", "unread"]


@dataclass(frozen=True)
class ItemUseView:
    """Which step takes how many."""

    id: str
    version: int
    part_id: str
    part: str
    step_key: str
    step: str
    count: float
    stack: str
    done: bool


@dataclass(frozen=True)
class ItemRow:
    """One item: what it looks like, how many are there, which steps take it."""

    id: str
    version: int
    name: str
    number: str
    looks: str
    texts: dict[str, str]
    kit: str
    listed: float | None
    checked: str
    """Of a kit's list: found, missing, damaged so far, in words."""
    state: Found
    left: str
    place: str
    care: str
    uses: list[ItemUseView]
    history: list[str]


@dataclass(frozen=True)
class KitView:
    """A kit's list: how far it is looked through."""

    name: str
    words: str


@dataclass(frozen=True)
class ItemsView:
    """Every item, and the kits they are on the list of."""

    items: list[ItemRow]
    kits: list[KitView]
    asked: list[AskedView]
    people: list[Choice]
    parts: list[Choice]


def _kit_words(rows: Sequence[ItemRow]) -> str:
    """How far a kit's list is looked through."""
    states = [row.state for row in rows]
    said = [f"{states.count(state)} {state}" for state in ("found", "missing", "damaged") if states.count(state)]
    left = states.count("unread")
    said += [f"{left} not looked at yet"] if left else []
    return f"{len(rows)} lines: {', '.join(said)}"


def _looks(texts: dict[str, str]) -> str:
    """What an item looks like, in a few words."""
    return ", ".join(text for name in ("thread", "length_mm", "hand", "size") if (text := texts.get(name, "")))


def items_view(uow: UnitOfWork, now: datetime) -> ItemsView:
    """Every item."""
    units = units_of(uow)
    parts = {part.id: part for part in built_parts(uow)}
    rows = [_row(uow, item, parts, now) for item in items_here(uow)]
    kits = [
        KitView(kit, _kit_words([row for row in rows if row.kit == kit]))
        for kit in dict.fromkeys(row.kit for row in rows)
        if kit
    ]
    asked = [
        AskedView(name, one.label, one.unit_for(units), one.choices[1:]) for name, (one, _) in asked_of(Looks).items()
    ]
    people = [Choice(row.id, row.name) for row in uow.all(CrewMember, CrewMember.name) if row.hidden_at is None]
    return ItemsView(rows, kits, asked, people, [Choice(part.id, part.name) for part in parts.values()])


def _row(uow: UnitOfWork, item: Item, parts: dict[str, BuiltPart], now: datetime) -> ItemRow:
    units, zone, notes = units_of(uow), zone_here(uow), notes_of_items(uow).get(item.id, ())
    texts, looks, left = item_texts(item, units), looks_of(item), item_ledger(uow, item.id).left
    found, missing, damaged = (
        sum(note.amount for note in notes if note.kind == kind) for kind in ("found", "missing", "damaged")
    )
    state: Found = "unread"
    checked = ""
    if item.listed is not None:
        said = [f"{plain:g} {word}" for plain, word in ((found, "found"), (missing, "missing"), (damaged, "damaged"))
                if plain]  # fmt: skip
        checked = f"{item.listed:g} on the list" + (f": {', '.join(said)}" if said else "")
        state = "found" if found >= item.listed else "damaged" if damaged else "missing" if missing else "unread"
    uses = []
    care = f"{-left:g} more used than came: count it" if left is not None and left < 0 else ""
    for use in uses_of_items(uow):
        part = parts.get(use.part_id)
        if use.item_id != item.id or part is None:
            continue
        step = next((step.name for step in part.steps if step.key == use.step_key), "no longer built so")
        stack = show(use.stack_mm, "reading", units) if use.stack_mm is not None else ""
        done = use.step_key in finished_at(uow, part.id)
        uses.append(ItemUseView(use.id, use.version, part.id, part.name, use.step_key, step, use.count, stack, done))
        if use.stack_mm is not None and not done and not care:
            care = too_short(step, looks.length_mm, thread_of(looks.thread), use.stack_mm, units)
    history = [
        f"{when(minute_of(note.happened_at), zone, minute_of(now))}: {note.amount:g} {note.kind}"
        f"{f': {note.note}' if note.note else ''}"
        for note in notes
    ]
    there = "none yet" if left is None else amount_words(uow, left, "count")
    return ItemRow(item.id, item.version, item.name, item.number, _looks(texts), texts, item.kit, item.listed,
                   checked, state, there, item.place, care, uses, history)  # fmt: skip
