"""A layout on paper: drawn small with a table of corners, or at full size on tiles that are joined by their marks."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence

from reportlab.graphics.shapes import Drawing, Line, Polygon, String
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import PageBreak, Spacer, Table, TableStyle

from kiteloom.core.base.problems import Refused
from kiteloom.formats.bench_page import BenchPage
from kiteloom.formats.fonts import page_fonts
from kiteloom.formats.layout_files import DrawnPiece, DrawnStock, Point, Ring

#: The drawing on paper [mm].
_WIDE_MM = 184.0
#: A strip is broken into lengths that are drawn one below the other [mm].
_LENGTH_MM = 5000.0
#: What is left free round a tile, and what two tiles share [mm].
_MARGIN_MM, _LAP_MM = 12.0, 10.0
#: More sheets of paper than this nobody joins.
MOST_TILES = 120


def layout_pdf(
    title: str,
    head: str,
    stocks: Sequence[DrawnStock],
    corners: Sequence[tuple[str, str, str, str, str]],
    foot: Sequence[str],
    *,
    letter: bool = False,
) -> bytes:
    """The layout drawn small, and for each piece its corners from the end and the lower edge.

    Parameters
    ----------
    corners : sequence of (piece, part, corner, along, across)
        In words; the first two are empty where they are those of the row before.
    """
    page = BenchPage(title, head)
    for stock in stocks:
        page.story += [page.big(stock.name), Spacer(0, 1 * mm)]
        lengths = max(1, math.ceil(stock.length_mm / _LENGTH_MM - 1e-6))
        each = stock.length_mm / lengths
        scale = min(_WIDE_MM * mm / each, 70 * mm / stock.width_mm)
        for n in range(lengths):
            page.story += [_strip(stock, n * each, (n + 1) * each, scale, page.font), Spacer(0, 2 * mm)]
    page.story.append(PageBreak())
    rows = [["Piece", "Part", "Corner", "from the end", "from the lower edge", "Cut"], *([*row, ""] for row in corners)]
    table = Table(rows, colWidths=[20 * mm, 66 * mm, 16 * mm, 30 * mm, 36 * mm, 12 * mm], repeatRows=1)
    lines = [("LINEABOVE", (0, n), (-1, n), 0.4, colors.grey) for n, row in enumerate(rows) if row[0]]
    boxes = [("BOX", (5, n), (5, n), 0.9, colors.black) for n, row in enumerate(rows) if n and row[0]]
    table.setStyle(TableStyle([("FONT", (0, 0), (-1, -1), page.font, 9), ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                               ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5), *lines, *boxes]))  # fmt: skip
    page.story += [table, Spacer(0, 4 * mm), *(page.plain(words) for words in foot)]
    return page.printed(letter=letter)


def _strip(stock: DrawnStock, start: float, end: float, scale: float, font: str) -> Drawing:
    """A length of a stock; what reaches over its ends is cut there."""
    wide, high = (end - start) * scale, stock.width_mm * scale
    drawing = Drawing(wide, high)

    def drawn(ring: Ring, fill: colors.Color | None, stroke: colors.Color, width: float) -> None:
        inside = _between(ring, start, end)
        if len(inside) < 3:
            return
        shape = Polygon([v for x, y in inside for v in ((x - start) * scale, y * scale)])
        shape.fillColor, shape.strokeColor, shape.strokeWidth = fill, stroke, width
        drawing.add(shape)

    for n, ring in enumerate(stock.rings):
        drawn(ring, None if n else colors.white, colors.grey, 0.8)
    for piece in stock.pieces:
        drawn(piece.outline_mm, colors.whitesmoke, colors.black, 0.6)
    for piece in stock.pieces:
        x, y = piece.middle_mm
        if not start <= x <= end:
            continue
        size = max(min(piece.room_mm * scale * 0.7, 10), 4.5)
        drawing.add(String((x - start) * scale, y * scale, piece.code, fontName=font, fontSize=size,
                           textAnchor="middle"))  # fmt: skip
        for (ax, ay), (bx, by) in piece.marks():
            if start <= ax <= end and start <= bx <= end:
                drawing.add(Line((ax - start) * scale, ay * scale, (bx - start) * scale, by * scale, strokeWidth=0.7,
                                 strokeColor=colors.firebrick))  # fmt: skip
    return drawing


def _between(ring: Ring, start: float, end: float) -> list[Point]:
    """A ring cut off at two places along x."""
    found = list(ring)
    for limit, keep in ((start, 1), (end, -1)):
        kept: list[Point] = []
        for (ax, ay), (bx, by) in zip(found, [*found[1:], *found[:1]], strict=True):
            a_in, b_in = keep * (ax - limit) >= 0, keep * (bx - limit) >= 0
            if a_in:
                kept.append((ax, ay))
            if a_in != b_in:
                t = (limit - ax) / (bx - ax)
                kept.append((limit, ay + t * (by - ay)))
        found = kept
    return found


def tiles_pdf(title: str, rings: Sequence[Ring], piece: DrawnPiece | None, *, letter: bool = False) -> bytes:
    """Outlines at full size on as many sheets as they need, in landscape, with marks to join them.

    Raises
    ------
    Refused
        If it would be more sheets than anybody joins.
    """
    paper = landscape(LETTER if letter else A4)
    step = tuple(side / mm - 2 * _MARGIN_MM - _LAP_MM for side in paper)
    points = [point for ring in rings for point in ring]
    left, low = min(x for x, _ in points), min(y for _, y in points)
    wide, high = max(x for x, _ in points) - left, max(y for _, y in points) - low
    across, up = (max(1, math.ceil(size / each - 1e-6)) for size, each in zip((wide, high), step, strict=True))
    if across * up > MOST_TILES:
        raise Refused("piece", f"at full size it would be {across * up} sheets of paper; at most {MOST_TILES} are "
                      "printed. Take the corners from the table, or the DXF")  # fmt: skip
    out = io.BytesIO()
    canvas, font = Canvas(out, pagesize=paper, invariant=1), page_fonts()[0]
    canvas.setTitle(title)
    for row in range(up):
        for column in range(across):
            _tile(canvas, paper, font, title, rings, piece, (left, low), step, (column, row), (across, up))
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _tile(
    canvas: Canvas,
    paper: tuple[float, float],
    font: str,
    title: str,
    rings: Sequence[Ring],
    piece: DrawnPiece | None,
    base: Point,
    step: tuple[float, ...],
    at: tuple[int, int],
    of: tuple[int, int],
) -> None:
    margin, lap = _MARGIN_MM * mm, _LAP_MM * mm
    x0, y0 = base[0] + at[0] * step[0], base[1] + at[1] * step[1]
    canvas.saveState()
    frame = canvas.beginPath()
    frame.rect(margin, margin, paper[0] - 2 * margin, paper[1] - 2 * margin)
    canvas.clipPath(frame, stroke=0)
    canvas.translate(margin, margin)

    def line(points: Ring, *, close: bool) -> None:
        path = canvas.beginPath()
        for n, (x, y) in enumerate(points):
            (path.lineTo if n else path.moveTo)((x - x0) * mm, (y - y0) * mm)
        if close:
            path.close()
        canvas.drawPath(path)

    canvas.setLineWidth(1)
    for ring in rings:
        line(ring, close=True)
    if piece is not None:
        canvas.setFont(font, 40)
        canvas.drawCentredString((piece.middle_mm[0] - x0) * mm, (piece.middle_mm[1] - y0) * mm, piece.code)
        canvas.setStrokeColor(colors.firebrick)
        for mark in piece.marks():
            line(mark, close=False)
    canvas.restoreState()
    # Crosses where four tiles meet: laid one on the other they join.
    canvas.setStrokeColor(colors.grey)
    canvas.setLineWidth(0.5)
    for x in (margin, margin + step[0] * mm):
        for y in (margin, margin + step[1] * mm):
            canvas.line(x - lap / 2, y, x + lap / 2, y)
            canvas.line(x, y - lap / 2, x, y + lap / 2)
    canvas.setFont(font, 9)
    name = f"{chr(65 + at[1] % 26)}{at[0] + 1}"
    where = f"{title} · sheet {name} of {of[0]} × {of[1]}, letters go up"
    canvas.drawString(margin + lap, margin / 3, f"{where} · lay cross on cross; the line is 100 mm")
    canvas.line(paper[0] - margin - lap - 100 * mm, margin / 3, paper[0] - margin - lap, margin / 3)
