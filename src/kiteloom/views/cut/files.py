"""A layout as it goes out: DXF, SVG, on paper, and one piece at full size."""

from __future__ import annotations

from dataclasses import dataclass

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import system_of
from kiteloom.formats.layout_files import DrawnPiece, DrawnStock, layout_dxf, layout_svg
from kiteloom.formats.layout_pdf import layout_pdf, tiles_pdf
from kiteloom.store.models import CutPlan, CutWay
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.cut.drawn import PieceView, StockView, corners_of
from kiteloom.views.cut.plan import cut_plan_view
from kiteloom.workshop.base.shop import units_of


@dataclass(frozen=True)
class LayoutFile:
    """What goes out, and what kind of file it is."""

    data: bytes | str
    kind: str
    name: str


def layout_file(uow: UnitOfWork, way_id: str, form: str, piece: str = "") -> LayoutFile:
    """The layout of a way as a file, or one of its pieces at full size.

    Raises
    ------
    Refused
        Without a layout, for a form there is not, or a piece that is not in it.
    """
    plan = uow.get(CutPlan, uow.get(CutWay, way_id).cut_plan_id)
    view = cut_plan_view(uow, plan.id, lambda _: False)
    way = next((one for one in view.ways if one.id == way_id), None)
    if way is None or not way.stocks:
        raise Refused("", "there is no layout yet; lay it out first")
    stocks = [_drawn(stock) for stock in way.stocks]
    title, letter = f"{plan.name}, {way.product}", system_of(units_of(uow)) == "us"
    if piece:
        found = next((one for stock in way.stocks for one in stock.pieces if one.key == piece), None)
        if found is None:
            raise Refused("piece", "that piece is not in this layout any more")
        drawn = _piece(found, (0.0, 0.0))
        name = f"{found.code} of {found.part}"
        return LayoutFile(tiles_pdf(name, [drawn.outline_mm], drawn, letter=letter), "application/pdf", "piece.pdf")
    if form == "dxf":
        return LayoutFile(layout_dxf(stocks), "image/vnd.dxf", "layout.dxf")
    if form == "svg":
        return LayoutFile(layout_svg(title, stocks), "image/svg+xml", "layout.svg")
    if form != "pdf":
        raise Refused("form", f"“{form[:20]}” is not a form a layout goes out in; it is dxf, svg, pdf")
    rows = [row for stock in way.stocks for one in _in_order(stock) for row in _corners(one, stock, uow)]
    arrows = "The long red arrow is the warp, along the roll; the small head beside it points to the tip of the part."
    head = f"{way.sentence} {arrows} The outside faces up."
    return LayoutFile(
        layout_pdf(f"Cut plan · {title}", head, stocks, rows, [view.cautions], letter=letter),
        "application/pdf",
        "layout.pdf",
    )


def _in_order(stock: StockView) -> list[PieceView]:
    return sorted(stock.pieces, key=lambda piece: min(x for x, _ in piece.outline_mm))


def _corners(piece: PieceView, stock: StockView, uow: UnitOfWork) -> list[tuple[str, str, str, str, str]]:
    base = _base(stock)
    corners = piece.corners or corners_of(_box(piece), base, units_of(uow))
    letters = [corner.name for corner in corners] if piece.corners else ["box", "", "", ""]
    return [
        (piece.code if n == 0 else "", piece.part[:38] if n == 0 else "", letters[n], corner.along, corner.across)
        for n, corner in enumerate(corners)
    ]


def _box(piece: PieceView) -> tuple[tuple[float, float], ...]:
    """The corners of the box round a piece whose own are too many."""
    xs, ys = zip(*piece.outline_mm, strict=True)
    return ((min(xs), min(ys)), (max(xs), min(ys)), (max(xs), max(ys)), (min(xs), max(ys)))


def _base(stock: StockView) -> tuple[float, float]:
    return min(x for x, _ in stock.rings[0]), min(y for _, y in stock.rings[0])


def _drawn(stock: StockView) -> DrawnStock:
    base = _base(stock)
    rings = [[(x - base[0], y - base[1]) for x, y in ring] for ring in stock.rings]
    name = f"{stock.name}, {stock.size}"
    return DrawnStock(name, rings, stock.length_mm, stock.width_mm, [_piece(one, base) for one in stock.pieces])


def _piece(one: PieceView, base: tuple[float, float]) -> DrawnPiece:
    outline = [(x - base[0], y - base[1]) for x, y in one.outline_mm]
    middle = (one.middle_mm[0] - base[0], one.middle_mm[1] - base[1])
    return DrawnPiece(one.code, one.part, outline, middle, one.room_mm, one.tip_deg)
