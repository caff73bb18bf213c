"""Labels for lots, remnants and parts: what it is, which end is which, and a code that opens it. PDF, A4."""

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

_ROWS, _COLUMNS, _MARGIN = 7, 2, 10 * mm
_WIDTH, _HEIGHT = (A4[0] - 2 * _MARGIN) / _COLUMNS, (A4[1] - 2 * _MARGIN) / _ROWS
_CODE = 30 * mm


@dataclass(frozen=True)
class Label:
    """What stands large, the lines below it, and the address its code opens; ``arrow`` says where it points."""

    title: str
    lines: tuple[str, ...]
    address: str
    arrow: str = ""


def labels_pdf(labels: Sequence[Label]) -> bytes:
    """Two columns of seven a page."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=True)
    canvas.setTitle("Labels")
    font, bold = page_fonts()
    for n, label in enumerate(labels):
        place = n % (_ROWS * _COLUMNS)
        if n and not place:
            canvas.showPage()
        left = _MARGIN + (place % _COLUMNS) * _WIDTH
        top = A4[1] - _MARGIN - (place // _COLUMNS) * _HEIGHT
        _label(canvas, label, left, top, font, bold)
    canvas.save()
    return out.getvalue()


def _label(canvas: Canvas, label: Label, left: float, top: float, font: str, bold: str) -> None:
    canvas.setLineWidth(0.5)
    canvas.setDash(2, 2)
    canvas.rect(left, top - _HEIGHT, _WIDTH, _HEIGHT)
    canvas.setDash()
    room = _WIDTH - _CODE - 12 * mm
    fitted(canvas, label.title, left + 4 * mm, top - 9 * mm, room + _CODE, bold, 16)
    for n, line in enumerate(label.lines[:4]):
        fitted(canvas, line, left + 4 * mm, top - (16 + 6 * n) * mm, room, font, 10)
    if label.arrow:
        _arrow(canvas, label.arrow, left + 4 * mm, top - _HEIGHT + 5 * mm, bold)
    code = QrCodeWidget(label.address, barLevel="M", barWidth=_CODE - 4 * mm, barHeight=_CODE - 4 * mm, barBorder=1)
    drawing = Drawing(_CODE, _CODE)
    drawing.add(code)
    renderPDF.draw(drawing, canvas, left + _WIDTH - _CODE, top - _HEIGHT + 2 * mm)


def _arrow(canvas: Canvas, words: str, left: float, low: float, bold: str) -> None:
    canvas.setLineWidth(1.6)
    canvas.line(left, low + 1.2 * mm, left + 14 * mm, low + 1.2 * mm)
    for rise in (2.2 * mm, 0.2 * mm):
        canvas.line(left + 14 * mm, low + 1.2 * mm, left + 11 * mm, low + rise)
    canvas.setFont(bold, 11)
    canvas.drawString(left + 17 * mm, low, words)
