"""Which steps take which items."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.problems import between
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Item, ItemUse
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Saved
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.stores.items import MOST


@dataclass(frozen=True)
class UseItem:
    """That a step takes so many of an item; none any more with a count of 0. ``version`` 0 is a new one; the client
    makes its id.
    """

    id: str
    item_id: str
    part_id: str
    step_key: str
    count: float
    stack: Typed | None = None
    version: int = 0


def use_item(uow: UnitOfWork, order: UseItem, now: datetime) -> Saved:
    """Say what a step takes."""
    count = between("count", order.count, 0, MOST, name="the count")
    stack = order.stack.read("length", "stack") * 1000 if order.stack is not None and order.stack.text.strip() else None
    if stack is not None:
        between("stack", stack, 0, 2000, unit="mm", name="what it goes through")
    known = uow.session.get(ItemUse, order.id)
    if known is None:
        built_part(uow, order.part_id).step(order.step_key)
        between("count", count, 0, MOST, open_low=True, name="the count")
        item = uow.get(Item, order.item_id)
        uow.add(ItemUse(id=order.id, item_id=item.id, part_id=order.part_id, step_key=order.step_key, count=count,
                        stack_mm=stack, updated_at=now))  # fmt: skip
        uow.changed("item", item.id)
        return Saved(1)
    if order.version == 0 or (known.hidden_at is not None and count == 0):  # a retry
        return Saved(known.version)
    row = uow.get_for_edit(ItemUse, order.id, order.version)
    row.count, row.stack_mm, row.hidden_at = count or row.count, stack, None if count else now
    uow.edited(row, [f"{count:g} of {uow.get(Item, row.item_id).name}"], now, "item")
    return Saved(row.version)
