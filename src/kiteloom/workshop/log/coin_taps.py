"""Glue lines tapped with a coin, and what was decided about their voids."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import select, text

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.coin_tap import Grid, covered
from kiteloom.store.models import CoinTap, CrewMember, TapRuling
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saved import Kept
from kiteloom.workshop.build.parts import built_part
from kiteloom.workshop.log.signing import signed

TapDecision = Literal["accept", "inject", "redo"]


@dataclass(frozen=True)
class NoteTap:
    """A joint tapped over a grid, with the places that sound dull. The client makes the id."""

    id: str
    along: int
    across: int
    voids: tuple[tuple[int, int], ...] = ()
    crew_member_id: str | None = None
    note: str = ""


def note_tap(uow: UnitOfWork, part_id: str, order: NoteTap, now: datetime) -> Kept:
    """Keep a tap; earlier ones stay beside it."""
    if uow.kept_already(CoinTap, order.id, part_id=part_id) is not None:
        return Kept(order.id)
    part = built_part(uow, part_id)
    if part.bonding is None:
        raise Refused("part_id", f"{part.name} is no joint: there is no glue line to tap")
    covered(Grid(order.along, order.across), order.voids)
    who = uow.get(CrewMember, order.crew_member_id).id if order.crew_member_id else None
    voids = [list(cell) for cell in sorted(set(order.voids))]
    uow.add(CoinTap(id=order.id, part_id=part_id, along=order.along, across=order.across, voids=voids,
                    crew_member_id=who, note=order.note.strip()[:500], happened_at=now, recorded_at=now))  # fmt: skip
    uow.changed("part", part_id)
    return Kept(order.id)


@dataclass(frozen=True)
class RuleTap:
    """What is decided about voids, by whom, and why."""

    id: str
    kind: TapDecision
    crew_member_id: str | None = None
    note: str = ""


def rule_tap(uow: UnitOfWork, tap_id: str, order: RuleTap, now: datetime) -> Kept:
    """Write down what is decided."""
    if uow.kept_already(TapRuling, order.id, coin_tap_id=tap_id, kind=order.kind) is not None:
        return Kept(order.id)
    tap = uow.get(CoinTap, tap_id)
    who, note = signed(uow, order.crew_member_id, order.note)
    uow.add(TapRuling(id=order.id, coin_tap_id=tap.id, kind=order.kind, note=note, crew_member_id=who,
                      happened_at=now, recorded_at=now))  # fmt: skip
    uow.changed("part", tap.part_id)
    return Kept(order.id)


def taps_by_part(uow: UnitOfWork) -> Mapping[str, list[CoinTap]]:
    """The taps of joints, oldest first."""

    def read() -> dict[str, list[CoinTap]]:
        found: dict[str, list[CoinTap]] = {}
        for row in uow.session.scalars(select(CoinTap).order_by(text("rowid"))):
            found.setdefault(row.part_id, []).append(row)
        return found

    return uow.once("coin taps", read)


def tap_rulings(uow: UnitOfWork) -> Mapping[str, TapRuling]:
    """The last decision about each tap."""

    def read() -> dict[str, TapRuling]:
        return {row.coin_tap_id: row for row in uow.session.scalars(select(TapRuling).order_by(text("rowid")))}

    return uow.once("tap rulings", read)
