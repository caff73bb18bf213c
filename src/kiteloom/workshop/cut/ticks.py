"""What is cut: piece by piece, then the layout whole, with what is left over of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from kiteloom.store.models import PieceCut, WayCut
from kiteloom.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class TickPiece:
    """That one copy of a piece was cut, or was not after all. The client makes the id."""

    id: str
    piece: str
    done: bool = True


def cut_pieces(uow: UnitOfWork, way_id: str) -> set[str]:
    """The pieces of a layout that are cut, by their keys."""
    query = select(PieceCut).where(PieceCut.cut_way_id == way_id)
    last = {row.piece: row.done for row in uow.session.scalars(query.order_by(PieceCut.happened_at))}
    return {piece for piece, done in last.items() if done}


def is_cut(uow: UnitOfWork, way_id: str) -> WayCut | None:
    """When a layout was cut; None while it is not."""
    return uow.session.scalars(select(WayCut).where(WayCut.cut_way_id == way_id)).first()


def keep_tick(uow: UnitOfWork, way_id: str, order: TickPiece, now: datetime) -> None:
    """Keep a tick."""
    if uow.kept_already(PieceCut, order.id, cut_way_id=way_id, piece=order.piece, done=order.done) is None:
        uow.add(
            PieceCut(id=order.id, cut_way_id=way_id, piece=order.piece, done=order.done, happened_at=now,
                     recorded_at=now)
        )  # fmt: skip
