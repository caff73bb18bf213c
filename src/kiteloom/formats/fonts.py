"""The fonts of printed pages."""

from __future__ import annotations

from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont


def page_fonts() -> tuple[str, str]:
    """A plain and a bold font that come with the writer and know more letters than the built-in ones."""
    import reportlab

    folder = Path(reportlab.__file__).parent / "fonts"
    for name, file in (("Page", "Vera.ttf"), ("Page bold", "VeraBd.ttf")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, folder / file))
    return "Page", "Page bold"
