"""The fonts of printed pages."""

from __future__ import annotations

from pathlib import Path

from reportlab.graphics.shapes import STATE_DEFAULTS
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas


def page_fonts() -> tuple[str, str]:
    """A plain and a bold font that come with the writer and know more letters than the built-in ones."""
    import reportlab

    folder = Path(reportlab.__file__).parent / "fonts"
    for name, file in (("Page", "Vera.ttf"), ("Page bold", "VeraBd.ttf")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, folder / file))
    # A drawing begins with a font of its own, which no file holds.
    STATE_DEFAULTS["fontName"] = "Page"
    return "Page", "Page bold"


def fitted(canvas: Canvas, words: str, x: float, y: float, room: float, font: str, size: float) -> None:
    """One line, smaller where it is too long for its room, and cut where that would be too small to read."""
    while size > 7 and pdfmetrics.stringWidth(words, font, size) > room:
        size -= 0.5
    while words and pdfmetrics.stringWidth(words, font, size) > room:
        words = words[:-2].rstrip() + "…"
    canvas.setFont(font, size)
    canvas.drawString(x, y, words)
