"""A run sheet on paper: a box to tick for each instruction, the warp drawn beside each ply. PDF, A4."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.graphics.shapes import Drawing, Line, Rect
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Spacer, Table, TableStyle

from kiteloom.formats.bench_page import BenchPage

Row = tuple[str, str, tuple[float, float] | None, bool]


def run_sheet_page(title: str, head: str, caution: str, rows: Sequence[Row], *, letter: bool = False) -> bytes:
    """The sheet, A4 or letter: instruction, detail, where the warp runs (side, aft), and whether it is ticked."""
    page = BenchPage(title, head)
    cells: list[list[object]] = []
    for words, detail, warp, done in rows:
        text = [page.big(words)] + ([page.plain(detail)] if detail else [])
        cells.append([_tick() if done else "", text, _warp(warp) if warp else ""])
    table = Table(cells, colWidths=[12 * mm, 152 * mm, 22 * mm], rowHeights=None)
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), page.font, 8),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("GRID", (0, 0), (0, -1), 1.2, colors.black),
                ("LINEBELOW", (1, 0), (-1, -1), 0.4, colors.grey),
                ("TOPPADDING", (0, 0), (-1, -1), 6),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 6),
            ]
        )
    )
    care = f"Take care: {caution} The maker’s instructions decide." if caution else ""
    page.story += [table, Spacer(0, 4 * mm), _cups(page.font), Spacer(0, 3 * mm), page.plain(care)]
    return page.printed(letter=letter)


#: So many cups have a line of their own on paper.
_CUPS = 6


def _cups(font: str) -> Table:
    """Lines for each cup that is mixed, and for what is read once: filled in by hand."""
    heads = ["Cup", "Resin, g", "Hardener, g", "Lot", "Mixed at", "By"]
    rows = [heads, *([letter, "", "", "", "", ""] for letter in "ABCDEF"[:_CUPS])]
    rows.append(["Air, °", "Humidity, %", "Gauge", "Second pair of eyes", "Finished at", "Signed"])
    rows.append([""] * len(heads))
    table = Table(rows, colWidths=[22 * mm, 30 * mm, 30 * mm, 44 * mm, 30 * mm, 30 * mm], rowHeights=8 * mm)
    style = [("FONT", (0, 0), (-1, -1), font, 8), ("GRID", (0, 0), (-1, -1), 0.4, colors.grey)]
    table.setStyle(TableStyle([*style, ("VALIGN", (0, 0), (-1, -1), "MIDDLE")]))
    return table


def _tick() -> Drawing:
    """A tick, drawn: the page's font has none."""
    drawing = Drawing(6 * mm, 6 * mm)
    for ends in ((1, 3, 2.4, 1.2), (2.4, 1.2, 5.2, 5)):
        drawing.add(Line(*(end * mm for end in ends), strokeWidth=2))
    return drawing


def _warp(warp: tuple[float, float]) -> Drawing:
    """A square of cloth with the way its warp runs, the leading edge up."""
    size, side, aft = 16 * mm, *warp
    drawing = Drawing(size, size)
    frame = Rect(0, 0, size, size)
    frame.fillColor = None
    drawing.add(frame)
    middle, reach = size / 2, size * 0.42
    dx, dy = reach * 0.8 * side, -reach * 0.8 * aft
    for shift in (-0.3, 0.0, 0.3):
        x, y = middle + shift * size * aft, middle + shift * size * side
        drawing.add(Line(x - dx, y - dy, x + dx, y + dy))
    return drawing
