"""Items that are not mixed: fittings, fasteners, bushes, tubes, tools; which steps take them; what is noted of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy import text

from kiteloom.core.base.fields import asked_of, read
from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import UnitSystem
from kiteloom.core.stores.arrivals import Looks
from kiteloom.core.stores.ledger import count_says_why
from kiteloom.store.models import CrewMember, Item, ItemNote, ItemUse
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import units_of

NOTES = ("found", "missing", "damaged", "counted", "thrown", "used")
LONGEST, MOST = 120, 100_000


def items_here(uow: UnitOfWork) -> list[Item]:
    """Every item that was not put away, by kit and name."""
    return [row for row in uow.once("items", lambda: uow.all(Item, Item.kit, Item.name)) if row.hidden_at is None]


def uses_of_items(uow: UnitOfWork) -> Sequence[ItemUse]:
    """Which steps take which items."""
    there = {row.id for row in items_here(uow)}
    rows = uow.once("item uses", lambda: uow.all(ItemUse, text("item_use.rowid")))
    return [row for row in rows if row.hidden_at is None and row.item_id in there]


def notes_of_items(uow: UnitOfWork) -> Mapping[str, Sequence[ItemNote]]:
    """What was noted of each item, in the order it was written down."""

    def all_of_them() -> dict[str, list[ItemNote]]:
        found: dict[str, list[ItemNote]] = defaultdict(list)
        for row in uow.all(ItemNote, text("item_note.rowid")):
            found[row.item_id].append(row)
        return found

    return uow.once("item notes", all_of_them)


@dataclass(frozen=True)
class SayItem:
    """An item, as typed; ``texts`` are what it looks like. ``version`` 0 is a new one; the client makes its id."""

    id: str
    version: int
    name: str
    number: str = ""
    texts: Mapping[str, str] = field(default_factory=dict)
    kit: str = ""
    listed: float | None = None
    away: bool = False
    place: str = ""


def looks_of(item: Item) -> Looks:
    """What an item looks like, as far as that is known."""
    return Looks(**{key: value for key, value in item.says.items() if key in Looks.__dataclass_fields__})


def say_item(uow: UnitOfWork, order: SayItem, now: datetime) -> Saved:
    """Keep an item, or change it."""
    known = uow.session.get(Item, order.id)
    if known is not None and order.version == 0:
        return Saved(known.version)
    name = " ".join(order.name.split())
    if not name or len(name) > LONGEST:
        raise Refused("name", f"the name has {len(name)} letters; it has 1 to {LONGEST}")
    says: dict[str, Any] = read(Looks, {k: v for k, v in order.texts.items() if v.strip()}, units_of(uow))
    if order.listed is not None:
        between("listed", order.listed, 0, MOST, name="what the list promises")
    if known is None:
        uow.add(Item(id=order.id, name=name, number=order.number.strip()[:60], says=says, kit=order.kit.strip()[:60],
                     listed=order.listed, place=_place(order.place), updated_at=now))  # fmt: skip
        uow.changed("item", order.id)
        return Saved(1)
    row = uow.get_for_edit(Item, order.id, order.version)
    words = [f"{row.name} → {name}" if row.name != name else f"{name} changed"]
    row.name, row.number, row.says, row.kit = name, order.number.strip()[:60], says, order.kit.strip()[:60]
    row.listed, row.place, row.hidden_at = order.listed, _place(order.place), now if order.away else None
    uow.edited(row, words, now, "item")
    return Saved(row.version)


def _place(typed: str) -> str:
    place = " ".join(typed.split())
    if len(place) > LONGEST:
        raise Refused("place", f"the place has {len(place)} letters; it has at most {LONGEST}")
    return place


def item_texts(item: Item, units: UnitSystem) -> dict[str, str]:
    """What an item looks like, as it is typed, field by field."""
    return {
        name: asked.text(item.says[name], units) if name in item.says else ""
        for name, (asked, _) in asked_of(Looks).items()
    }


@dataclass(frozen=True)
class NoteItem:
    """What was found of an item. The client makes the id; ``note`` says why where more is counted than the book has."""

    id: str
    kind: str
    amount: float
    note: str = ""
    crew_member_id: str | None = None


def note_item(uow: UnitOfWork, item_id: str, order: NoteItem, has: float | None, now: datetime) -> Kept:
    """Note that so many were found, are missing, damaged, thrown away, used, or counted.

    Parameters
    ----------
    has : float or None
        How many there are by the book.
    """
    item = uow.get(Item, item_id)
    if uow.kept_already(ItemNote, order.id, item_id=item.id, kind=order.kind) is not None:
        return Kept(order.id)
    if order.kind not in NOTES:
        raise Refused("kind", f"“{order.kind[:40]}” is not a note on an item; they are {', '.join(NOTES)}")
    amount = between("amount", order.amount, 0, MOST, name="how many")
    if order.crew_member_id is not None:
        uow.get(CrewMember, order.crew_member_id)
    if order.kind == "counted":
        count_says_why(amount, has or 0.0, order.crew_member_id, order.note)
    uow.add(ItemNote(id=order.id, item_id=item.id, kind=order.kind, amount=amount, note=order.note.strip()[:500],
                     crew_member_id=order.crew_member_id, happened_at=now, recorded_at=now))  # fmt: skip
    uow.changed("item", item.id)
    return Kept(order.id)
