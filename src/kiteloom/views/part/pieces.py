"""The pieces a job's ply book is cut into: as they are laid out on a roll or a sheet, else as they would be cut."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from kiteloom.core.base.figures import Figure, Given
from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.laminate.cutting import OffRoll, sheet_g_m2, way_kind, way_of
from kiteloom.core.laminate.rolls import Corner
from kiteloom.store.models import DataSheet, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.shop import units_of
from kiteloom.workshop.build.jobs import BuiltJob, job_row, key_in
from kiteloom.workshop.build.parts import BuiltPart, built_part
from kiteloom.workshop.cut.codes import PieceCode, codes_of
from kiteloom.workshop.cut.wanted import CORE, pieces_of_job

Ring = tuple[Corner, ...]


@dataclass(frozen=True)
class PieceRow:
    """A piece as it lies on the table, its warp or grain to the right: what is written on it, and its edges [mm].

    ``ply`` is its place in the book, −1 for the core; ``state`` is cut, not cut yet, or not laid out.
    """

    code: str
    ply: int
    lies: str
    size: str
    outline_mm: Ring
    figures: tuple[Figure, ...]
    state: str
    plan_id: str
    count: int
    """How many of it are cut."""


@dataclass(frozen=True)
class ProductPieces:
    """What is cut from one product; ``wrong`` says why nothing can be, where nothing can."""

    sheet_id: str
    product: str
    sentence: str
    wrong: str
    asks: list[str]
    pieces: list[PieceRow]
    total: Figure | None
    stock: str
    """What it is cut from: roll or sheet."""
    unplanned: bool
    """Whether some of it is in no layout yet."""


@dataclass(frozen=True)
class PiecesView:
    """All pieces of a job, product by product."""

    part_id: str
    job: str
    products: list[ProductPieces]
    laid_in: dict[str, list[str]]
    """The step a ply is laid in, its key and its name, by the ply's place in the book."""


def pieces_view(uow: UnitOfWork, part_id: str, key: str | None = None) -> PiecesView:
    """The pieces of one of its jobs, by its key; of the first that lays something up where none is named."""
    part = built_part(uow, part_id)
    said = next((job for job in part.jobs if job.recipe is not None and job.recipe.pieces is not None
                 and key == job.key), None)  # fmt: skip
    if said is not None:
        return _as_said(uow, part, said)
    job = next((job for job in part.jobs if job.stack is not None and key in (None, job.key)), None)
    if job is None:
        raise Refused("job", f"{part.name} has no ply book: nothing of it is cut yet")
    book = job_row(uow.get(Part, part_id), job.key).ply_book
    sheets = list(dict.fromkeys([*(row["cloth_id"] for row in book["plies"]), book.get("core_id")]))
    codes = codes_of(uow, part_id, job.key)
    found = [_of_product(uow, part, job, uow.get(DataSheet, sheet), codes) for sheet in sheets if sheet is not None]
    return PiecesView(part_id, job.key, found, _laid_in(job))


def _as_said(uow: UnitOfWork, part: BuiltPart, job: BuiltJob) -> PiecesView:
    """The pieces a recipe says itself."""
    assert job.recipe is not None
    if job.cant:
        raise Refused("job", "; ".join(job.cant))
    sheet = uow.get(DataSheet, job.sheets[job.recipe.cut_from])
    codes = codes_of(uow, part.id, job.key)
    return PiecesView(part.id, job.key, [_of_product(uow, part, job, sheet, codes)], {})


def _laid_in(job: BuiltJob) -> dict[str, list[str]]:
    names = {step.key: step.name for step in job.steps}
    return {
        str(int(item.key.removeprefix("ply-")) - 1): [key_in(job, step), names.get(step, step)]
        for step, items in job.items.items()
        for item in items
        if item.cloth and item.key.removeprefix("ply-").isdigit()
    }


def _of_product(
    uow: UnitOfWork, part: BuiltPart, job: BuiltJob, sheet: DataSheet, codes: dict[int, list[PieceCode]]
) -> ProductPieces:
    book = job_row(uow.get(Part, part.id), job.key).ply_book
    plies = [n for n, row in enumerate(book.get("plies", ())) if row["cloth_id"] == sheet.id]
    plies += [CORE] if book.get("core_id") == sheet.id else []
    if job.recipe is not None and job.recipe.pieces is not None and job.task is not None:
        plies = sorted({piece.ply for piece in job.recipe.pieces(job.task, None)})
    asks: list[str] = []
    wrong, rows, units, g_m2 = "", [], units_of(uow), sheet_g_m2(sheet.says)
    laid = {n: codes[n] for n in plies if n in codes}
    for n in plies:
        for one in laid.get(n, ()):
            rows.append(_row(one.code, n, one.outline_mm, one.angle_deg, g_m2, units,
                             "cut" if one.cut else "not cut yet", one.plan_id))  # fmt: skip
    left = [n for n in plies if n not in laid]
    if left:
        try:
            rows += _as_they_would_be(uow, part, job, sheet, left, g_m2, units, asks)
        except Refused as refused:
            wrong = f"{sheet.name} can't be cut yet: {refused.sentence}"
    rows.sort(key=lambda row: plies.index(row.ply))
    each = {row.code: row.count * (row.figures[1].value or 0.0) for row in rows}
    grams = sum(each.values())
    parts = tuple(Given(code, mass, "mass") for code, mass in each.items())
    total = Figure(f"pieces:{sheet.id}", "All of them weigh", grams, "mass", "sum of the pieces, dry, as they are cut",
                   parts, "With what is cut off later at the edges, and where they lap.") if rows else None  # fmt: skip
    return ProductPieces(sheet.id, sheet.name, _sentence(rows, laid, left), wrong, asks, rows, total,
                          "roll" if way_kind(sheet.kind) is OffRoll else "sheet", bool(left))  # fmt: skip


def _sentence(rows: list[PieceRow], laid: dict[int, list[PieceCode]], left: list[int]) -> str:
    plans = ", ".join(f"“{name}”" for name in dict.fromkeys(one.plan for codes in laid.values() for one in codes))
    count = f"{len(rows)} {'piece' if len(rows) == 1 else 'pieces'}"
    if not laid:
        return f"{count}, as they would be cut: in no cut plan yet."
    cut = sum(row.state == "cut" for row in rows)
    rest = "; what else there is, in none yet" if left else ""
    return f"{count}, {cut} of them cut, laid out in {plans}{rest}."


def _as_they_would_be(
    uow: UnitOfWork, part: BuiltPart, job: BuiltJob, sheet: DataSheet, plies: list[int], g_m2: float,
    units: UnitSystem, asks: list[str],
) -> Iterator[PieceRow]:  # fmt: skip
    way = way_of(sheet.kind, sheet.says, {})
    for piece in pieces_of_job(uow, part, job, sheet, way, asks):
        if piece.ply in plies:
            yield _row(piece.code, piece.ply, piece.outline_mm, piece.angle_deg, g_m2, units, "not laid out", "",
                       piece.quantity if job.stack is None or piece.quantity > 1 else 0)  # fmt: skip


def _row(
    code: str, ply: int, outline: Ring, angle_deg: float, g_m2: float, units: UnitSystem, state: str, plan_id: str,
    count: int = 0,
) -> PieceRow:  # fmt: skip
    turned = rotate(Polygon(outline), -angle_deg, origin=(0, 0))
    left, low, right, high = turned.bounds
    turned = translate(turned, -left, -low)
    ring = tuple((round(x, 1), round(y, 1)) for x, y in turned.exterior.coords[:-1])
    length, width = (show(value / 1000, "length", units) for value in (right - left, high - low))
    area = turned.area / 1e6
    figures = (
        Figure(f"piece:{code}:area", "Area", area, "area", "area inside its edges", (), "With its trim."),
        Figure(f"piece:{code}:mass", "Weighs, dry", area * g_m2, "mass", "area × weight",
               (Given("area", area, "area"), Given("weight", g_m2, "areal weight"))),
    )  # fmt: skip
    lies = "core" if ply == CORE else f"ply {ply + 1}"
    if count:
        lies = f"{count} of it"
    return PieceRow(code, ply, lies, f"{length} × {width}", ring, figures, state, plan_id, max(count, 1))
