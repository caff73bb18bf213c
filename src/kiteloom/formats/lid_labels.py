"""Labels for the lids of two-part products: part, ratio, and a code that opens the product. PDF, A4."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from kiteloom.formats.fonts import fitted, page_fonts

_ROWS, _HEIGHT, _MARGIN, _GAP = 4, 64 * mm, 12 * mm, 5 * mm
_WIDTH = (A4[0] - 2 * _MARGIN - _GAP) / 2


@dataclass(frozen=True)
class Lid:
    """A product's two lids; ``also`` are other ratios the resin of the same lid is mixed at, with their hardeners."""

    product: str
    resin: str
    hardener: str
    ratio: str
    care: str
    address: str
    also: tuple[tuple[str, str], ...] = ()


def lid_labels(lids: Sequence[Lid]) -> bytes:
    """Both labels of each product side by side, four products a page."""
    out = io.BytesIO()
    # The same labels are the same file.
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle("Lid labels")
    font, bold = page_fonts()
    for number, lid in enumerate(lids):
        row = number % _ROWS
        if number and not row:
            canvas.showPage()
        top = A4[1] - _MARGIN - row * (_HEIGHT + _GAP)
        for column, (letter, name, other) in enumerate(
            (("A", lid.resin, lid.hardener), ("B", lid.hardener, lid.resin))
        ):
            _label(canvas, lid, letter, name, other, _MARGIN + column * (_WIDTH + _GAP), top, font, bold)
    canvas.save()
    return out.getvalue()


def _label(
    canvas: Canvas, lid: Lid, letter: str, name: str, other: str, left: float, top: float, font: str, bold: str
) -> None:
    canvas.setLineWidth(0.8)
    canvas.setDash(3, 2)
    canvas.rect(left, top - _HEIGHT, _WIDTH, _HEIGHT)
    canvas.setDash()
    canvas.setFont(bold, 76)
    canvas.drawString(left + 5 * mm, top - 29 * mm, letter)
    fitted(canvas, name, left + 27 * mm, top - 12 * mm, _WIDTH - 31 * mm, bold, 17)
    fitted(canvas, lid.product, left + 27 * mm, top - 19 * mm, _WIDTH - 31 * mm, font, 11)
    room = _WIDTH - 42 * mm  # the code keeps a quiet edge
    if letter == "A" and lid.also:
        for line, (ratio, with_) in enumerate(((lid.ratio, other), *lid.also)[:2]):
            fitted(canvas, ratio, left + 5 * mm, top - (37 + 11 * line) * mm, room, bold, 14)
            fitted(canvas, f"with {with_}", left + 5 * mm, top - (42 + 11 * line) * mm, room, font, 11)
    else:
        fitted(canvas, lid.ratio, left + 5 * mm, top - 42 * mm, room, bold, 20)
        fitted(canvas, f"only with {other}", left + 5 * mm, top - 49 * mm, room, font, 11)
    fitted(canvas, lid.care, left + 5 * mm, top - 60 * mm, room, font, 9)
    size = 27 * mm
    code = QrCodeWidget(lid.address, barLevel="M", barWidth=size, barHeight=size, barBorder=0)
    drawing = Drawing(size, size)
    drawing.add(code)
    renderPDF.draw(drawing, canvas, left + _WIDTH - size - 4 * mm, top - _HEIGHT + 5 * mm)
