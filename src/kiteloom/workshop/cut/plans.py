"""Cut plans: what is cut together, and the ways of cutting it that are compared."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from kiteloom.core.base.fields import asked_of, missing, read
from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cutting import Plies, price_of, sheet_says, way_kind, way_of
from kiteloom.core.laminate.layout import left_over
from kiteloom.store.models import CutLayout, CutPlan, CutWay, DataSheet, Part, WayCut
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.base.saved import Kept, Saved
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import job_row
from kiteloom.workshop.cut.layouts import as_layout
from kiteloom.workshop.cut.remnants import NoteRemnant, keep_remnant, note_remnant
from kiteloom.workshop.cut.ticks import TickPiece, cut_pieces, is_cut, keep_tick
from kiteloom.workshop.cut.wanted import wanted_pieces, way_says

#: So many rows a plan may have, and so many ways are compared.
MOST_ROWS, MOST_WAYS = 400, 6
#: The longest name of a plan.
LONGEST = 80


@dataclass(frozen=True)
class Row:
    """What is cut: a part, and the key of its job; None for the part itself, cut from a sheet."""

    part_id: str
    job: str | None


@dataclass(frozen=True)
class NewCutPlan:
    """A new plan for what ply books take of a product. The client makes the id."""

    id: str
    data_sheet_id: str
    rows: tuple[Row, ...] = ()
    name: str = ""


@dataclass(frozen=True)
class EditCutPlan:
    """Another name, other rows, which of their plies, or that it is put away or taken out again."""

    version: int
    name: str | None = None
    rows: tuple[Row, ...] | None = None
    plies: Plies | None = None
    hidden: bool | None = None


@dataclass(frozen=True)
class NewWay:
    """Another way of cutting the same, like one there is. The client makes the id."""

    id: str
    like: str


@dataclass(frozen=True)
class EditWay:
    """How a way cuts, as typed by field; from which product; or that it is taken away or put back."""

    version: int
    texts: Mapping[str, str] = field(default_factory=dict)
    data_sheet_id: str | None = None
    hidden: bool | None = None


def new_plan(uow: UnitOfWork, order: NewCutPlan, now: datetime) -> Kept:
    """Begin a plan, with one way of cutting it."""
    if uow.kept_already(CutPlan, order.id, data_sheet_id=order.data_sheet_id) is None:
        sheet = uow.get(DataSheet, order.data_sheet_id)
        way_kind(sheet.kind)
        name = " ".join(order.name.split())[:LONGEST] or sheet.name
        rows = _rows(uow, order.rows)
        uow.add(CutPlan(id=order.id, name=name, data_sheet_id=sheet.id, rows=rows, updated_at=now))
        uow.add(
            CutWay(id=stable_id("way", order.id), cut_plan_id=order.id, rank=0, data_sheet_id=sheet.id, says={},
                   updated_at=now)
        )  # fmt: skip
        uow.changed("cut", order.id)
    return Kept(order.id)


def _rows(uow: UnitOfWork, rows: tuple[Row, ...]) -> list[Any]:
    found = []
    for row in dict.fromkeys(rows):
        part = uow.get(Part, row.part_id)
        if row.job is not None:
            job_row(part, row.job)
        found.append({"part_id": row.part_id, "job": row.job})
    if len(found) > MOST_ROWS:
        raise Refused("rows", f"there are {len(found)} jobs in it; at most {MOST_ROWS} are cut together")
    return found


def edit_plan(uow: UnitOfWork, plan_id: str, order: EditCutPlan, now: datetime) -> Saved:
    """Change a plan."""
    plan, words = uow.get_for_edit(CutPlan, plan_id, order.version), list[str]()
    if order.name is not None and (name := " ".join(order.name.split())[:LONGEST]) != plan.name:
        if not name:
            raise Refused("name", "the name is empty; a cut plan needs one")
        plan.name = name
        words.append(f"name {name}")
    if order.rows is not None and (rows := _rows(uow, order.rows)) != plan.rows:
        if any(is_cut(uow, way.id) for way in plan.ways):
            raise Refused("rows", "its layout is cut; make another plan for what is still to be cut")
        plan.rows = rows
        words.append(f"{len(rows)} jobs in it")
    if order.plies is not None and order.plies != plan.plies:
        if any(is_cut(uow, way.id) for way in plan.ways):
            raise Refused("plies", "its layout is cut; make another plan for what is still to be cut")
        plan.plies = order.plies
        words.append(f"plies: {order.plies}")
    if order.hidden is not None and order.hidden != (plan.hidden_at is not None):
        plan.hidden_at = now if order.hidden else None
        words.append("put away" if order.hidden else "taken out again")
    if words:
        uow.edited(plan, words, now, "cut")
    return Saved(plan.version)


def new_way(uow: UnitOfWork, plan_id: str, order: NewWay, now: datetime) -> Kept:
    """Another way, like one there is."""
    if uow.kept_already(CutWay, order.id, cut_plan_id=plan_id) is None:
        plan, like = uow.get(CutPlan, plan_id), uow.get(CutWay, order.like)
        if like.cut_plan_id != plan_id:
            raise Refused("like", f"that way belongs to another plan than {plan.name}")
        if sum(way.hidden_at is None for way in plan.ways) >= MOST_WAYS:
            raise Refused("", f"{MOST_WAYS} ways are compared at most; take one away first")
        rank = 1 + max(way.rank for way in plan.ways)
        uow.add(
            CutWay(id=order.id, cut_plan_id=plan_id, rank=rank, data_sheet_id=like.data_sheet_id, says=dict(like.says),
                   updated_at=now)
        )  # fmt: skip
        uow.changed("cut", plan_id)
    return Kept(order.id)


def edit_way(uow: UnitOfWork, way_id: str, order: EditWay, now: datetime) -> Saved:
    """Change how a way cuts; `Refused` by field."""
    way, words = uow.get_for_edit(CutWay, way_id, order.version), list[str]()
    if is_cut(uow, way_id):
        raise Refused("", "this layout is cut; it stays as it was. Try another way instead")
    if order.data_sheet_id is not None and order.data_sheet_id != way.data_sheet_id:
        before, sheet = uow.get(DataSheet, way.data_sheet_id), uow.get(DataSheet, order.data_sheet_id)
        if way_kind(sheet.kind) is not way_kind(before.kind):
            raise Refused("data_sheet_id", f"{sheet.name} is {sheet.kind}; {before.name} is {before.kind}")
        # What was said of the other product's size is not true of this one.
        own = ("width_m", "length_m", "quarter_turns", "price", "left_m")
        way.data_sheet_id, way.says = sheet.id, {k: v for k, v in way.says.items() if k not in own}
        words.append(f"from {sheet.name}")
    if order.texts:
        sheet = uow.get(DataSheet, way.data_sheet_id)
        kind, units = way_kind(sheet.kind), units_of(uow)
        asked: Mapping[str, Any] = asked_of(kind)  # type: ignore[arg-type]  # a type is hashable
        said = read(kind, order.texts, units)
        emptied = [name for name, text in order.texts.items() if not text.strip()]
        says = {name: value for name, value in {**way.says, **said}.items() if name not in emptied}
        if said.get("price"):
            price_of(said["price"])
        if says != way.says:
            if not missing(kind, {**sheet_says(sheet.kind, sheet.says), **says}):  # else the page says what it lacks
                found = way_of(sheet.kind, sheet.says, says)
                found.new()
                found.cutting()
            way.says = says
            words += [asked[name][0].label for name in order.texts]
    if order.hidden is not None and order.hidden != (way.hidden_at is not None):
        others = [one for one in uow.get(CutPlan, way.cut_plan_id).ways if one.hidden_at is None and one.id != way.id]
        if order.hidden and not others:
            raise Refused("", "a plan has at least one way of cutting; put the whole plan away instead")
        way.hidden_at = now if order.hidden else None
        words.append("taken away" if order.hidden else "put back")
    if words:
        uow.edited(way, words, now, "cut")
    return Saved(way.version)


def tick_piece(uow: UnitOfWork, way_id: str, order: TickPiece, now: datetime) -> None:
    """Note that a piece was cut."""
    way, row = uow.get(CutWay, way_id), uow.session.get(CutLayout, way_id)
    layout = as_layout(row.found) if row is not None else None
    keys = {f"{one.id}#{one.copy}" for one in layout.laid} if layout else set()
    if order.piece not in keys:
        raise Refused("piece", "that piece is not in this layout any more; look at it again")
    if not order.done and is_cut(uow, way_id):
        raise Refused("piece", "the layout is noted as cut already")
    keep_tick(uow, way_id, order, now)
    uow.changed("cut", way.cut_plan_id)


def finish_cut(uow: UnitOfWork, way_id: str, key: str, now: datetime) -> None:
    """Note that a layout is cut: what it used of the shelf is gone, what it left over lies there.

    Raises
    ------
    Refused
        Without a layout, while it is looked for, where its pieces have changed since, or another way of the plan is
        cut already.
    """
    way = uow.get(CutWay, way_id)
    if uow.kept_already(WayCut, key, cut_way_id=way_id) is not None:
        return
    plan, row = uow.get(CutPlan, way.cut_plan_id), uow.session.get(CutLayout, way_id)
    layout = as_layout(row.found) if row is not None else None
    if row is None or layout is None or not layout.laid:
        raise Refused("", "there is no layout to cut yet; lay it out first")
    if row.state in ("waiting", "looking"):
        raise Refused("", "a shorter layout is still looked for; stop that first")
    if any(is_cut(uow, other.id) for other in plan.ways):
        raise Refused("", f"{plan.name} is cut already")
    if row.made_of != wanted_pieces(uow, plan, way).digest:
        raise Refused("", "the ply books have changed since it was laid out; lay it out again")
    uow.add(WayCut(id=key, cut_way_id=way_id, happened_at=now, recorded_at=now))
    gap = 1000 * way_says(uow, way).gap_m
    done = cut_pieces(uow, way_id)
    for one in layout.laid:
        if f"{one.id}#{one.copy}" not in done:
            piece = f"{one.id}#{one.copy}"
            keep_tick(uow, way_id, TickPiece(stable_id("cut", way_id, piece), piece), now)
    for n, stock in enumerate(layout.stocks):
        if stock.kind == "remnant":
            note_remnant(uow, stock.id, NoteRemnant(stable_id("used", way_id, stock.id), "used"), now, way_id)
        rest = left_over(stock, [one for one in layout.laid if one.stock == n], gap)
        for i, rings in enumerate(rest):
            left, low = min(x for x, _ in rings[0]), min(y for _, y in rings[0])
            moved = tuple(tuple((round(x - left, 1), round(y - low, 1)) for x, y in ring) for ring in rings)
            keep_remnant(uow, stable_id("left", way_id, str(n), str(i)), way.data_sheet_id, moved, way_id, now)
    uow.changed("cut", plan.id)
    uow.changed("lot", way.data_sheet_id)
