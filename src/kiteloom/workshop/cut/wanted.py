"""What a cut plan asks for: the pieces of its jobs' ply books, and of parts cut whole from a sheet."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cover import Cover
from kiteloom.core.laminate.cutting import OffRoll, Way, taken, way_of
from kiteloom.core.laminate.pieces import Cutting, Joints, Piece, cut_up, face_up, joints_of
from kiteloom.core.laminate.rolls import MOST_PIECES, Cut
from kiteloom.core.shape.flat import Flat, Pieces
from kiteloom.core.shape.flat import Shape as Form
from kiteloom.core.shape.loft import Hand
from kiteloom.core.shape.section import Side
from kiteloom.core.shape.skin import skin_of
from kiteloom.store.models import CutPlan, CutWay, DataSheet, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.build.jobs import BuiltJob, hand_of, job_row
from kiteloom.workshop.build.parts import WORK_TOPICS, BuiltPart, built_parts, read_at_once
from kiteloom.workshop.shape.shapes import form_of

#: Where a piece is of the core, or of the part itself, not of a ply.
CORE, WHOLE = -1, -2
#: What the pieces of each side are called where both are laid up.
_SIDES: dict[Side, str] = {"upper": "U", "lower": "L"}


@dataclass(frozen=True)
class Wanted:
    """A piece to be cut: what is written on it, of which ply of which job, and its outline, face up [mm].

    ``key`` is its name among those of a cut plan.
    """

    key: str
    code: str
    part_id: str
    part: str
    job: str | None
    ply: int
    outline_mm: tuple[tuple[float, float], ...]
    angle_deg: float
    quantity: int = 1

    def cut(self) -> Cut:
        """As it is laid out."""
        return Cut(self.key, self.outline_mm, self.angle_deg, self.quantity)


@dataclass(frozen=True)
class WantedPieces:
    """All pieces of a cut plan, cut in one way; ``lacks`` says of which rows nothing can be cut, and why.

    ``asks`` names the plies with a joint on what joints are to be kept off.
    """

    pieces: tuple[Wanted, ...]
    lacks: tuple[str, ...]
    asks: tuple[str, ...] = ()

    @property
    def digest(self) -> str:
        """Another one when any piece is another."""
        return hashlib.sha256(json.dumps([asdict(piece) for piece in self.pieces]).encode()).hexdigest()[:32]


def way_says(uow: UnitOfWork, way: CutWay) -> Way:
    """How a way cuts; `Refused` where its product can't be cut, or lacks its size."""
    sheet = uow.get(DataSheet, way.data_sheet_id)
    return way_of(sheet.kind, sheet.says, way.says)


def wanted_pieces(uow: UnitOfWork, plan: CutPlan, way: CutWay) -> WantedPieces:
    """The pieces of a plan, cut in one of its ways; what can't be cut is said, not raised.

    Made anew only when something other than work has changed.

    Raises
    ------
    Refused
        If the way itself can't be: a roll narrower than its overlap, a trim that leaves nothing of a sheet.
    """
    if uow.writes:
        return _wanted(uow, plan, way)
    state = (uow.last_change(WORK_TOPICS), plan.version, way.version)
    return uow.built.made(state, f"pieces of {way.id}", lambda: _wanted(uow, plan, way))


def _wanted(uow: UnitOfWork, plan: CutPlan, way: CutWay) -> WantedPieces:
    says = way_says(uow, way)
    parts = {part.id: part for part in built_parts(uow)}
    off = uow.get(DataSheet, way.data_sheet_id).says.get("fibre_off_deg") or 0.0
    found: list[Wanted] = []
    lacks: list[str] = []
    asks: list[str] = []
    for row in plan.rows:
        part = parts.get(row["part_id"])
        if part is None:
            lacks.append(f"{uow.get(Part, row['part_id']).name} was taken away")
            continue
        try:
            mine = list(_of_row(uow, part, row["job"], plan, says, off, asks))
        except Refused as refused:
            if refused.field in ("overlap_mm", "pitch_mm", "trim_m", "roll_width_mm", "length_mm"):
                raise
            lacks.append(f"{part.name}: {refused.sentence}")
            continue
        if not mine:
            lacks.append(f"{part.name}: nothing of it is cut from {uow.get(DataSheet, plan.data_sheet_id).name}")
        found += mine
    count = sum(piece.quantity for piece in found)
    if count > MOST_PIECES:
        raise Refused("rows", f"there are {count} pieces; at most {MOST_PIECES} are laid out together")
    return WantedPieces(tuple(found), tuple(lacks), tuple(asks))


def _of_row(
    uow: UnitOfWork, part: BuiltPart, key: str | None, plan: CutPlan, way: Way, off: float, asks: list[str]
) -> Iterator[Wanted]:
    if key is None:
        yield from _whole(uow, part, way)
        return
    job = next((job for job in part.jobs if job.key == key), None)
    if job is None:
        raise Refused("job", "the job is no longer there")
    if job.cant or job.recipe is None or job.task is None:
        raise Refused("job", "; ".join(job.cant) or "it can't be made")
    if job.recipe.pieces is not None:
        yield from _said(uow, part, job, plan.data_sheet_id, way)
        return
    if job.stack is None:
        raise Refused("job", f"{job.name} lays up nothing")
    yield from _of_job(uow, part, job, plan.data_sheet_id, plan.plies, way, off, asks)


def _said(uow: UnitOfWork, part: BuiltPart, job: BuiltJob, sheet_id: str, way: Way) -> Iterator[Wanted]:
    """The pieces a recipe says itself, grain along them: off a roll as they are, from sheets joined where larger."""
    assert job.recipe is not None
    assert job.recipe.pieces is not None
    assert job.task is not None
    if job.sheets.get(job.recipe.cut_from) != sheet_id:
        return
    side: Side = "lower" if uow.get(Part, part.id).hand == "left" else "upper"
    for piece in job.recipe.pieces(job.task, way.width_m if isinstance(way, OffRoll) else None):
        if isinstance(way, OffRoll):
            yield _as_wanted(part, job.key, face_up(piece, side, "left"), piece.ply, piece.quantity)
            continue
        lies = Polygon([(x / 1000, y / 1000) for x, y in piece.outline_mm])
        for one in cut_up(lies, piece.ply, piece.id, way.grain_deg, way.cutting(), Joints()):
            yield _as_wanted(part, job.key, face_up(one, side, "left"), piece.ply, piece.quantity)


def pieces_of_job(
    uow: UnitOfWork, part: BuiltPart, job: BuiltJob, sheet: DataSheet, way: Way, asks: list[str]
) -> Iterator[Wanted]:
    """What a job's ply book takes of a product, cut one way, without a plan.

    Raises
    ------
    Refused
        If it can't be cut so, or the job can't be made.
    """
    if job.cant or job.recipe is None or job.task is None:
        raise Refused("job", "; ".join(job.cant) or "it can't be made")
    if job.recipe.pieces is not None:
        yield from _said(uow, part, job, sheet.id, way)
        return
    yield from _of_job(uow, part, job, sheet.id, "all", way, sheet.says.get("fibre_off_deg") or 0.0, asks)


def _of_job(
    uow: UnitOfWork, part: BuiltPart, job: BuiltJob, sheet_id: str, which: str, way: Way, off: float, asks: list[str]
) -> Iterator[Wanted]:
    assert job.recipe is not None
    assert job.task is not None
    book = job_row(uow.get(Part, part.id), job.key).ply_book
    plies = [n for n, row in enumerate(book["plies"]) if row["cloth_id"] == sheet_id and taken(which, row["angle_deg"])]
    hand, lies = hand_of(uow.get(Part, part.id)), job.recipe.lies(job.task)
    for side, cover in lies:
        mark = _SIDES[side] if len(lies) > 1 else ""
        here = _OnSide(part, job.key, cover, side, hand, way.cutting(), asks)
        joints = joints_of(cover)
        for n in plies:
            ply = cover.stack.plies[n]
            angle = ply.angle_deg - off if isinstance(way, OffRoll) else way.grain_deg
            yield from here.cut(cover.plies[n], n, f"{mark}{n + 1}", angle, joints)
        # Where the whole of a part is, its core lies once, in the middle.
        if cover.core is not None and book.get("core_id") == sheet_id and side == lies[0][0]:
            yield from here.cut(cover.core, CORE, "core ", way.grain_deg, joints_of(cover))


@dataclass(frozen=True)
class _OnSide:
    """A ply book on one side of a part, about to be cut; what is odd about its joints is added to ``asks``."""

    part: BuiltPart
    job: str
    cover: Cover
    side: Side
    hand: Hand
    cutting: Cutting
    asks: list[str]

    def cut(self, lies: BaseGeometry, n: int, name: str, angle_deg: float, joints: Joints) -> Iterator[Wanted]:
        """What lies flat in pieces, the ``n``-th ply of its book."""
        before = joints.strayed
        for piece in cut_up(lies, n, name, angle_deg, self.cutting, joints):
            yield _as_wanted(self.part, self.job, face_up(piece, self.side, self.hand), n)
        if joints.strayed > before:
            what = "core" if n == CORE else f"ply {name}"
            kept = " and ".join(f"“{zone.name}”" for zone in self.cover.stack.zones if zone.no_joints)
            self.asks.append(
                f"{self.part.name}, {what}: a joint lies on {kept}. Cut another way, from a wider roll or with less "
                "trim, it may lie beside it."
            )


def _as_wanted(part: BuiltPart, job: str | None, piece: Piece, ply: int, quantity: int = 1) -> Wanted:
    code = piece.id.strip()
    key = f"{part.id}:{'itself' if job is None else job}:{code}"
    return Wanted(key, code, part.id, part.name, job, ply, piece.outline_mm, piece.angle_deg, quantity)


def _whole(uow: UnitOfWork, part: BuiltPart, way: Way) -> Iterator[Wanted]:
    """A part cut whole: its outlines, one of each of its like pieces, or the skin of its side in panels."""
    row = uow.get(Part, part.id)
    if row.design.shape is None:
        raise Refused("shape", "it has no shape yet; give it one first")
    form, cutting, hand = form_of(row.design.shape), way.cutting(), hand_of(row)
    for name, lies, quantity, side in _outlines(form, row.design.side):
        joints = Joints()
        for piece in cut_up(lies, WHOLE, name, way.grain_deg, cutting, joints):
            yield _as_wanted(part, None, face_up(piece, side, hand), WHOLE, quantity)


def _outlines(form: Form, side: str) -> Iterator[tuple[str, BaseGeometry, int, Side]]:
    if isinstance(form, Flat):
        for n, outline in enumerate(form.outlines, 1):
            name = f"{n}" if len(form.outlines) > 1 else "1"
            yield name, Polygon([(x / 1000, y / 1000) for x, y in outline.outer]), 1, "lower"
    elif isinstance(form, Pieces):
        for n, piece in enumerate(form.pieces, 1):
            if not piece.length_m or not (piece.width_m or piece.face_m2):
                raise Refused("shape", f"{piece.name} has no length and width; a piece that is cut has both")
            width = piece.width_m or (piece.face_m2 or 0.0) / piece.length_m
            yield f"{n}", box(0, 0, piece.length_m, width), piece.count, "lower"
    else:
        sides: tuple[Side, ...] = ("upper", "lower") if side == "whole" else ("lower" if side == "lower" else "upper",)
        for each in sides:
            yield _SIDES[each] if len(sides) > 1 else "1", skin_of(form, each).whole, 1, each


def products_cut(uow: UnitOfWork, parts: Sequence[BuiltPart]) -> dict[str, list[tuple[BuiltPart, BuiltJob]]]:
    """The jobs whose ply books take each product, by its data sheet's id."""
    read_at_once(uow)
    found: dict[str, list[tuple[BuiltPart, BuiltJob]]] = {}
    for part in parts:
        row = uow.get(Part, part.id)
        for job in part.jobs:
            if job.recipe is not None and job.recipe.pieces is not None and not job.cant:
                found.setdefault(job.sheets[job.recipe.cut_from], []).append((part, job))
            if job.stack is None:
                continue
            book = job_row(row, job.key).ply_book
            for sheet in {*(line["cloth_id"] for line in book["plies"]), book.get("core_id")} - {None}:
                found.setdefault(sheet, []).append((part, job))
    return found
