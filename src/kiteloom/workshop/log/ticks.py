"""Ticks of run sheets, also those made while a tablet was not connected."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, text

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.faces import moisture
from kiteloom.core.build.vacuum import gauge
from kiteloom.store.models import CrewMember, Part, Tick
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Counted
from kiteloom.workshop.base.shop import in_shop_zone


def ticks_of(uow: UnitOfWork, part_id: str, step_key: str) -> dict[str, Tick]:
    """The last tick of each item, without those that were unticked after."""
    query = select(Tick).where(Tick.part_id == part_id, Tick.step_key == step_key)
    found: dict[str, Tick] = {}
    # As they were kept: a clock that was set back must not put an untick before its tick.
    for row in uow.session.scalars(query.order_by(text("rowid"))):
        if row.done:
            found[row.item] = row
        else:
            found.pop(row.item, None)
    return found


@dataclass(frozen=True)
class NoteTick:
    """That an item was done, or was not. The client makes the id; it may be sent long after."""

    id: str
    part_id: str
    step_key: str
    item: str
    done: bool = True
    happened_at: datetime | None = None
    second_id: str = ""
    """Who looked as well."""
    gauge: Typed | None = None
    """What the gauge of the bag read."""
    moisture: Typed | None = None
    """What the meter read on wood."""


@dataclass(frozen=True)
class NoteTicks:
    """Ticks in the order they were made, perhaps while the tablet was not connected."""

    ticks: list[NoteTick]


#: So many ticks at once are taken; a tablet that kept more sends them in turns.
MOST_TICKS = 500


def note_ticks(uow: UnitOfWork, orders: NoteTicks, now: datetime) -> Counted:
    """Keep ticks, also those made while the tablet was not connected; says how many were new."""
    new = 0
    between("ticks", len(orders.ticks), high=MOST_TICKS, name="the number of ticks at once")
    for order in orders.ticks:
        same = {"part_id": order.part_id, "step_key": order.step_key[:120], "item": order.item, "done": order.done}
        if uow.kept_already(Tick, order.id, **same) is not None:
            continue
        uow.get(Part, order.part_id)
        if not order.item or len(order.item) > 60:
            raise Refused("item", f"“{order.item[:40]}” is not an item of a run sheet")
        uow.add(
            Tick(
                id=order.id,
                part_id=order.part_id,
                step_key=order.step_key[:120],
                item=order.item,
                done=order.done,
                second_id=uow.get(CrewMember, order.second_id).id if order.second_id else None,
                mbar=gauge(order.gauge, "gauge") if order.gauge is not None and order.gauge.text.strip() else None,
                moisture_pct=_moist(order.moisture),
                # A tablet's clock a little ahead of the shop's is taken as now.
                happened_at=min(in_shop_zone(uow, order.happened_at) or now, now),
                recorded_at=now,
            )
        )
        # What is done to a face is more than a tick: the plan goes by it.
        uow.changed("work" if "/" in order.item else "tick", order.id)
        new += 1
    return Counted(new)


def _moist(typed: Typed | None) -> float | None:
    if typed is None or not typed.text.strip():
        return None
    return moisture(typed.read("share", "moisture"))
