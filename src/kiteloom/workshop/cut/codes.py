"""What is written on the pieces of a job's plies: the same codes on the roll, on the bench sheet and in bench mode."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.store.models import CutPlan, CutWay
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.cut.layouts import layout_row
from kiteloom.workshop.cut.ticks import cut_pieces, is_cut


@dataclass(frozen=True)
class PieceCode:
    """A piece of a ply: its code, the cut plan it is in, whether it is cut, and its edges face up [mm].

    ``angle_deg`` is how its warp or grain runs there.
    """

    code: str
    plan_id: str
    plan: str
    cut: bool
    outline_mm: tuple[tuple[float, float], ...] = ()
    angle_deg: float = 0.0


def codes_of(uow: UnitOfWork, part_id: str, job: str) -> dict[int, list[PieceCode]]:
    """The pieces of a job's plies that are laid out, by the ply's place in its book; −1 is the core.

    Of several ways of cutting a plan it is the one that is cut, else the first that is laid out.
    """
    found: dict[int, list[PieceCode]] = {}
    for plan in uow.once("cut plans", lambda: uow.all(CutPlan, CutPlan.updated_at.desc(), CutPlan.id)):
        if plan.hidden_at is not None or not any(_is(row, part_id, job) for row in plan.rows):
            continue
        way = _way_of(uow, plan)
        row = layout_row(uow, way.id) if way is not None else None
        if way is None or row is None:
            continue
        done = cut_pieces(uow, way.id)
        mine = [piece for piece in row.pieces if piece["part_id"] == part_id and piece["job"] == job]
        for ply in dict.fromkeys(piece["ply"] for piece in mine):
            if ply not in found:
                found[ply] = [
                    PieceCode(
                        piece["code"],
                        plan.id,
                        plan.name,
                        f"{piece['key']}#1" in done,
                        tuple((x, y) for x, y in piece["outline_mm"]),
                        piece["angle_deg"],
                    )
                    for piece in mine
                    if piece["ply"] == ply
                ]
    return found


def _is(row: dict[str, object], part_id: str, job: str) -> bool:
    return row["part_id"] == part_id and row["job"] == job


def _way_of(uow: UnitOfWork, plan: CutPlan) -> CutWay | None:
    ways = [way for way in plan.ways if way.hidden_at is None]
    laid = [way for way in ways if (row := layout_row(uow, way.id)) is not None and row.found]
    return next((way for way in ways if is_cut(uow, way.id)), laid[0] if laid else None)


def pieces_words(codes: list[PieceCode]) -> str:
    """Which pieces a ply is made up of, and what of them is not cut yet; ``""`` where none is laid out.

    >>> pieces_words([PieceCode("3a", "p", "Skins", True), PieceCode("3b", "p", "Skins", False)])
    'Pieces 3a, 3b; 3b is not cut yet.'
    """
    if not codes:
        return ""
    names = ", ".join(one.code for one in codes)
    first = f"{'Piece' if len(codes) == 1 else 'Pieces'} {names}"
    left = [one.code for one in codes if not one.cut]
    if not left:
        return f"{first}, cut."
    if len(left) == len(codes):
        return f"{first}; not cut yet."
    return f"{first}; {', '.join(left)} {'is' if len(left) == 1 else 'are'} not cut yet."
