"""Layouts of a way of cutting: looked for in the worker, kept while they get better, stopped, started again."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.layout import Laid, Layout, Stock, layouts
from kiteloom.store.models import CutLayout, CutPlan, CutWay
from kiteloom.store.unit_of_work import Store, UnitOfWork
from kiteloom.workshop.base.worker import End, Search, Worker
from kiteloom.workshop.cut.remnants import remnants_of
from kiteloom.workshop.cut.ticks import is_cut
from kiteloom.workshop.cut.wanted import WantedPieces, wanted_pieces, way_says


def lay_out(uow: UnitOfWork, worker: Worker, store: Store, way_id: str, now: datetime) -> None:
    """Have a way's layout looked for, in its turn."""
    way = uow.get(CutWay, way_id)
    if is_cut(uow, way_id):
        raise Refused("", "this layout is cut; try another way, or make another plan")
    if way.hidden_at is not None:
        raise Refused("", "this way was taken away; put it back first")
    if way_id in worker.known():
        raise Refused("", "it is being looked for already; stop that first")
    wanted, says = wanted_pieces(uow, uow.get(CutPlan, way.cut_plan_id), way), way_says(uow, way)
    if not wanted.pieces:
        why = "; ".join(wanted.lacks) or "add what is to be cut first"
        raise Refused("rows", f"there is no piece to lay out yet: {why}")
    there = remnants_of(uow, way.data_sheet_id) if says.remnants else []
    _begin(uow, way, wanted, now)
    plan_id = way.cut_plan_id  # the rows are gone when the worker asks

    def began() -> None:
        _told(store, way_id, "looking", "")

    def better(found: Layout) -> None:
        with store.writing() as inside:
            row = inside.get(CutLayout, way_id)
            row.found = as_kept(found)
            inside.changed("cut", plan_id)

    def ended(how: End, why: str) -> None:
        _told(store, way_id, how, why)

    cuts = [piece.cut() for piece in wanted.pieces]
    worker.ask(
        Search(way_id, layouts, (cuts, says.new(), there, float(says.seconds)), says.seconds, began, better, ended)
    )


def _begin(uow: UnitOfWork, way: CutWay, wanted: WantedPieces, now: datetime) -> None:
    row = uow.session.get(CutLayout, way.id)
    pieces = [asdict(piece) for piece in wanted.pieces]
    if row is None:
        uow.add(
            CutLayout(cut_way_id=way.id, state="waiting", words="", made_of=wanted.digest, pieces=pieces, found={},
                      asked_at=now)
        )  # fmt: skip
    else:
        row.state, row.words, row.made_of, row.pieces, row.asked_at = "waiting", "", wanted.digest, pieces, now
        row.found = {}
    uow.changed("cut", way.cut_plan_id)


def _told(store: Store, way_id: str, state: str, words: str) -> None:
    with store.writing() as uow:
        row = uow.get(CutLayout, way_id)
        row.state, row.words = state, words
        uow.changed("cut", uow.get(CutWay, way_id).cut_plan_id)


def stop_layout(worker: Worker, way_id: str) -> None:
    """Stop looking: the best so far stays."""
    worker.stop(way_id)


def layout_row(uow: UnitOfWork, way_id: str) -> CutLayout | None:
    """A way's layout; None where none was looked for."""
    return uow.session.get(CutLayout, way_id)


def as_kept(found: Layout) -> dict[str, Any]:
    """A layout as it is kept."""
    return asdict(found)


def as_layout(kept: dict[str, Any]) -> Layout | None:
    """A layout read back; None where nothing was found yet."""
    if not kept:
        return None

    def rings(rows: list[Any]) -> tuple[tuple[tuple[float, float], ...], ...]:
        return tuple(tuple((x, y) for x, y in ring) for ring in rows)

    return Layout(
        tuple(Stock(row["kind"], row["id"], rings(row["rings"])) for row in kept["stocks"]),
        tuple(
            Laid(row["id"], row["copy"], row["stock"], tuple((x, y) for x, y in row["outline_mm"]))
            for row in kept["laid"]
        ),
        tuple(kept["oversize"]),
        kept["run_mm"],
    )


def settle(uow: UnitOfWork) -> None:
    """What was looked for when the program ended is looked for no more; the best it had found stays."""
    for row in uow.all(CutLayout):
        if row.state in ("waiting", "looking"):
            row.state, row.words = "stopped", "the program was stopped meanwhile"
