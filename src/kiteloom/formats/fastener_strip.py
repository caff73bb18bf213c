"""A row of fasteners at full size on paper: strips to cut out, join and lay along the edge; and the same as a table."""

from __future__ import annotations

import io
import math

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from kiteloom.core.base.problems import Refused
from kiteloom.core.base.quantities import UnitSystem, show
from kiteloom.core.build.fasteners import Row
from kiteloom.formats.fonts import page_fonts

#: What is left free round a page; how much of a strip is on it; how high it is, and how many there are [mm].
_MARGIN_MM, _LENGTH_MM, _HIGH_MM, _ON_A_PAGE = 12.0, 240.0, 32.0, 5
#: The edge is drawn as far from the row as it is, up to this [mm].
_EDGE_MM = 12.0
#: More strips than this nobody joins; more holes than this are in no table.
MOST_STRIPS = 250
_COLUMNS, _LINES, _LINE_MM = 4, 26, 6.0


def strip_page(title: str, length_mm: float, row: Row, diameter_mm: float, *, us: bool) -> bytes:
    """The strips in landscape, A4 or letter, then where each hole is from one end.

    Raises
    ------
    Refused
        If there would be more strips than anybody joins.
    """
    count = max(1, math.ceil(length_mm / _LENGTH_MM - 1e-9))
    if count > MOST_STRIPS:
        raise Refused("fasteners", f"at full size it would be {count} strips of paper; at most {MOST_STRIPS} are "
                      "printed. Take the places from the table on the screen")  # fmt: skip
    paper, font = landscape(LETTER if us else A4), page_fonts()[0]
    units: UnitSystem = "us" if us else "metric"
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=paper, invariant=1)
    canvas.setTitle(title)
    for n in range(count):
        if n % _ON_A_PAGE == 0:
            if n:
                canvas.showPage()
            far = f" The row lies {_at(row.at_mm[0], units)} from the edge." if row.at_mm[0] > _EDGE_MM else ""
            _head(canvas, paper, font, title, far)
        top = paper[1] - (22 + (_HIGH_MM + 2) * (n % _ON_A_PAGE)) * mm
        _strip(canvas, font, top, n, length_mm, row, diameter_mm, units)
    canvas.showPage()
    _table(canvas, paper, font, title, row, units)
    canvas.save()
    return out.getvalue()


def _head(canvas: Canvas, paper: tuple[float, float], font: str, title: str, far: str) -> None:
    canvas.setFont(font, 11)
    canvas.drawString(_MARGIN_MM * mm, paper[1] - 10 * mm, title)
    canvas.setFont(font, 9)
    canvas.drawString(
        _MARGIN_MM * mm, paper[1] - 15 * mm, "Print at 100 %: this line is 100 mm. Cut along the edge line, join like "
        "letters on the dashed lines, lay it along the edge." + far,
    )  # fmt: skip
    right = paper[0] - _MARGIN_MM * mm
    canvas.setLineWidth(0.8)
    canvas.line(right - 100 * mm, paper[1] - 9 * mm, right, paper[1] - 9 * mm)


def _strip(
    canvas: Canvas, font: str, top: float, n: int, length_mm: float, row: Row, diameter_mm: float,
    units: UnitSystem,
) -> None:  # fmt: skip
    start = n * _LENGTH_MM
    end = min(start + _LENGTH_MM, length_mm)
    left, low = _MARGIN_MM * mm, top - _HIGH_MM * mm
    middle = low + _HIGH_MM * mm / 2
    canvas.setStrokeColor(colors.black)
    canvas.setLineWidth(0.8)
    edge = middle - min(row.at_mm[0], _EDGE_MM) * mm
    canvas.line(left, edge, left + (end - start) * mm, edge)
    canvas.setDash(3, 2)
    for at, name in ((start, n), (end, n + 1)):
        x = left + (at - start) * mm
        whole = at in (0.0, length_mm)
        canvas.setDash() if whole else canvas.setDash(3, 2)
        canvas.line(x, low, x, top)
        canvas.setFont(font, 8)
        words = ("this end" if at == 0 else "other end") if whole else _letters(name)
        written = canvas.drawString if at == start else canvas.drawRightString
        written(x + (1 if at == start else -1) * mm, top - 3 * mm, words)
    canvas.setDash()
    for number, at in enumerate(row.at_mm, 1):
        if not start - 1e-6 <= at <= end + 1e-6:
            continue
        x = left + (at - start) * mm
        canvas.setLineWidth(0.6)
        canvas.circle(x, middle, diameter_mm / 2 * mm)
        canvas.line(x, middle - 5 * mm, x, middle + 5 * mm)
        canvas.line(x - 5 * mm, middle, x + 5 * mm, middle)
        canvas.setFont(font, 7)
        canvas.drawCentredString(x, middle + 9 * mm, str(number))
        canvas.drawCentredString(x, middle + 6 * mm, _at(at, units))


def _letters(n: int) -> str:
    """A, B, … Z, AA, AB: the name of a joint between two strips."""
    name = ""
    while n:
        n, rest = divmod(n - 1, 26)
        name = chr(65 + rest) + name
    return name


def _at(mm_: float, units: UnitSystem) -> str:
    return show(mm_, "step" if units == "us" else "thickness", units)


def _table(canvas: Canvas, paper: tuple[float, float], font: str, title: str, row: Row, units: UnitSystem) -> None:
    each = _COLUMNS * _LINES
    wide = (paper[0] - 2 * _MARGIN_MM * mm) / _COLUMNS
    for first in range(0, len(row.at_mm), each):
        canvas.setFont(font, 11)
        canvas.drawString(_MARGIN_MM * mm, paper[1] - 12 * mm, f"{title}: from one end, not from hole to hole")
        canvas.setFont(font, 9)
        for k, at in enumerate(row.at_mm[first : first + each]):
            x = _MARGIN_MM * mm + wide * (k // _LINES)
            y = paper[1] - (22 + _LINE_MM * (k % _LINES)) * mm
            canvas.drawString(x, y, f"{first + k + 1}")
            canvas.drawRightString(x + wide * 0.7, y, _at(at, units))
        canvas.showPage()
