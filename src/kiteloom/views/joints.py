"""The joints of an airframe in the order they are made: parts as threads, joints as knots, safe stops as bars."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.build.joint_order import Order
from kiteloom.store.models import Project
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import Choice
from kiteloom.workshop.build.joints import InOrder
from kiteloom.workshop.build.parts import BuiltPart, built_parts, joints_in_order
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan


@dataclass(frozen=True)
class KnotView:
    """One joint in its turn. ``fixes``, ``loose`` and ``located`` are ids of threads."""

    part_id: str
    name: str
    ties: str
    why: str
    stop: bool
    fixes: list[str]
    touches: list[str]
    """What it ties and does not fix: what it is held by."""
    loose: list[str]
    located: list[str]
    state: Literal["done", "now", "ahead"]
    when: str


@dataclass(frozen=True)
class ThreadView:
    """A part that joints fix: from which joint until which it is half fixed, counted from 0."""

    id: str
    name: str
    first: int
    last: int


@dataclass(frozen=True)
class JointsView:
    """The joints of an airframe. ``against`` says what contradicts itself; then there is no order.

    ``unsaid`` are bonding parts of which nobody has said what they tie.
    """

    airframe_id: str
    airframe: str
    sentence: str
    against: str
    knots: list[KnotView]
    threads: list[ThreadView]
    unsaid: list[Choice]
    caution: str


_CAUTION = (
    "What is fixed, loose or out of reach is as it was said here; the kit maker’s manual decides. Between two bars "
    "something is only half fixed: do not leave it so."
)


def joints_view(uow: UnitOfWork, airframe_id: str, now: datetime) -> JointsView:
    """The joints of an airframe."""
    airframe = uow.get(Project, airframe_id)
    parts = [part for part in built_parts(uow) if part.airframe_id == airframe_id]
    by_id = {part.id: part for part in parts}
    joints = joints_in_order(parts).get(airframe_id)
    unsaid = [Choice(part.id, part.name) for part in parts if part.bonding is not None and part.ties is None]
    if joints is None:
        return JointsView(airframe_id, airframe.name, "No joint says yet what it ties.", "", [], [], unsaid, _CAUTION)
    if joints.order is None:
        return JointsView(airframe_id, airframe.name, "", joints.against, [], [], unsaid, _CAUTION)
    shop = shop_plan(uow, minute_of(now))
    knots, threads = _knots(joints, joints.order, by_id, shop), _threads(joints, joints.order, by_id)
    return JointsView(airframe_id, airframe.name, _sentence(joints.order), "", knots, threads, unsaid, _CAUTION)


def _sentence(order: Order) -> str:
    count, stops = len(order.order), len(order.breaks)
    said = f"{count} joint{'s' if count > 1 else ''}, {stops} safe stop{'s' if stops > 1 else ''}"
    return f"{said}; at most {order.longest} from one stop to the next, and no order has fewer."


def _knots(joints: InOrder, order: Order, by_id: dict[str, BuiltPart], shop: ShopPlan | None) -> list[KnotView]:
    found = []
    for at, name in enumerate(order.order):
        part = by_id[joints.ids[name]]
        assert part.ties is not None
        ties = part.ties
        names = [by_id[face.part_id].name if face.part_id in by_id else "a part taken out" for face in ties.faces]
        where = [f"{called}{f' ({face.where})' if face.where else ''}" for called, face in
                 zip(names, ties.faces, strict=True)]  # fmt: skip
        state, when = _state(part, shop)
        stop = name in order.breaks
        found.append(
            KnotView(
                part.id,
                name,
                " to ".join(where),
                order.because[at].says,
                stop,
                [face.part_id for face in ties.faces if face.fixes],
                [face.part_id for face in ties.faces if not face.fixes],
                list(ties.loose),
                list(ties.located),
                state,
                when,
            )
        )
    return found


def _state(part: BuiltPart, shop: ShopPlan | None) -> tuple[Literal["done", "now", "ahead"], str]:
    placed = shop.plan.by_key.get(part.bond) if shop is not None and part.bond else None
    if placed is None or shop is None:
        return "ahead", "not planned yet"
    if placed.done:
        return "done", f"bonded {shop.saying.at(placed.begins)}"
    if placed.state != "to do":
        return "now", "being bonded"
    return "ahead", shop.saying.at(placed.begins)


def _threads(joints: InOrder, order: Order, by_id: dict[str, BuiltPart]) -> list[ThreadView]:
    first: dict[str, int] = {}
    last: dict[str, int] = {}
    for at, name in enumerate(order.order):
        ties = by_id[joints.ids[name]].ties
        for face in ties.faces if ties is not None else ():
            if face.fixes:
                first.setdefault(face.part_id, at)
                last[face.part_id] = at
    return [
        ThreadView(key, by_id[key].name if key in by_id else "a part taken out", at, last[key])
        for key, at in sorted(first.items(), key=lambda one: (one[1], last[one[0]]))
    ]
