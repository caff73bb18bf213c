"""A ply book on paper: each ply with its box to tick, its zone drawn on the part, and its grams. PDF, A4 or letter."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from reportlab.graphics.shapes import Drawing, Line, Polygon
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Spacer, Table, TableStyle

from kiteloom.formats.bench_page import BenchPage

Ring = Sequence[tuple[float, float]]

#: The sketch of a part [mm].
_WIDE, _HIGH = 56.0, 15.0


@dataclass(frozen=True)
class PlyLine:
    """A ply, or the core: what it is and where, its grams in words, its rings on the part, and its warp (side, aft).

    Without a warp it is no cloth; ``under`` is a heading that stands over it where a stage begins.
    """

    words: str
    detail: str
    grams: str
    rings: tuple[Ring, ...] = ()
    warp: tuple[float, float] | None = None
    under: str = ""


def ply_book_page(
    title: str,
    head: str,
    outline: Sequence[Ring],
    lines: Sequence[PlyLine],
    foot: Sequence[str],
    *,
    letter: bool = False,
) -> bytes:
    """The sheet: plies in laying order, each with its box, its sketch and its grams; what is to be minded below."""
    page = BenchPage(title, head)
    cells: list[list[object]] = []
    style: list[Any] = [
        ("FONT", (0, 0), (-1, -1), page.font, 9),
        ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
        ("LINEBELOW", (1, 0), (-1, -1), 0.4, colors.grey),
    ]
    for line in lines:
        if line.under:
            style += [("SPAN", (0, len(cells)), (-1, len(cells)))]
            cells.append([page.big(line.under), "", "", ""])
        style.append(("BOX", (0, len(cells)), (0, len(cells)), 1.2, colors.black))
        text = [page.big(line.words), page.plain(line.detail)]
        cells.append(["", text, _sketch(outline, line), page.plain(line.grams)])
    table = Table(cells, colWidths=[10 * mm, 82 * mm, (_WIDE + 4) * mm, 34 * mm])
    table.setStyle(TableStyle(style))
    page.story += [table, Spacer(0, 4 * mm), *(page.plain(words) for words in foot)]
    return page.printed(letter=letter)


def _sketch(outline: Sequence[Ring], line: PlyLine) -> Drawing:
    """The part to scale from above, nose up, with the ply dark on it and its warp."""
    drawing = Drawing(_WIDE * mm, _HIGH * mm)
    points = [point for ring in outline for point in ring]
    if not points:
        return drawing
    sides, afts = [x for x, _ in points], [y for _, y in points]
    wide, high = max(max(sides) - min(sides), 1e-6), max(max(afts) - min(afts), 1e-6)
    scale = min(_WIDE * mm / wide, (_HIGH - 1) * mm / high)

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return (point[0] - min(sides)) * scale, (max(afts) - point[1]) * scale

    def drawn(ring: Ring, fill: colors.Color | None) -> Polygon:
        shape = Polygon([value for point in ring for value in at(point)])
        shape.fillColor, shape.strokeWidth = fill, 0.7
        return shape

    for ring in outline:
        drawing.add(drawn(ring, None if line.rings else colors.lightgrey))
    for ring in line.rings:
        drawing.add(drawn(ring, colors.lightgrey))
    if line.warp is not None:
        rings = line.rings or outline
        middle = [sum(value) / len(rings[0]) for value in zip(*(at(point) for point in rings[0]), strict=True)]
        dx, dy = 4 * mm * line.warp[0], -4 * mm * line.warp[1]
        drawing.add(Line(middle[0] - dx, middle[1] - dy, middle[0] + dx, middle[1] + dy, strokeWidth=1.6))
    return drawing
