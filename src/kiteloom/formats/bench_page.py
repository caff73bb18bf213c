"""What sheets for the bench share: their head, their letters, A4 or letter."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass, field

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Paragraph, SimpleDocTemplate, Spacer

from kiteloom.formats.fonts import page_fonts
from kiteloom.formats.kept_pdf import keep_for_years

_FIGURE = re.compile(r"(\d) (?=%|(?:°C|°F|g|kg|min|h|mm|m)\b)")


@dataclass
class BenchPage:
    """A sheet that is begun with its title and a line of what it is about; the rest is added to its ``story``."""

    title: str
    head: str
    story: list[Flowable] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.font, bold = page_fonts()
        self._plain = ParagraphStyle("plain", fontName=self.font, fontSize=9, leading=12)
        self._big = ParagraphStyle("big", fontName=bold, fontSize=12, leading=15)
        large = ParagraphStyle("title", fontName=bold, fontSize=16, leading=21)
        self.story += [Paragraph(_safe(self.title), large), self.plain(self.head), Spacer(0, 3 * mm)]

    def plain(self, words: str, *, struck: bool = False) -> Paragraph:
        """Words to read; struck out where they do not count any more."""
        return Paragraph(f"<strike>{_safe(words)}</strike>" if struck else _safe(words), self._plain)

    def big(self, words: str) -> Paragraph:
        """Words to be read at arm's length."""
        return Paragraph(_safe(words), self._big)

    def printed(self, *, letter: bool, kept: bool = False) -> bytes:
        """The sheet as a PDF; ``kept`` is one for years."""
        out = io.BytesIO()

        def first(canvas: Canvas, document: BaseDocTemplate) -> None:
            if kept:
                keep_for_years(canvas, self.title, self.head)
            self._numbered(canvas, document)

        SimpleDocTemplate(
            out, pagesize=LETTER if letter else A4, title=self.title, invariant=1, initialFontName=self.font,
            leftMargin=12 * mm, rightMargin=12 * mm, topMargin=12 * mm, bottomMargin=12 * mm, lang="en",
        ).build(self.story, onFirstPage=first, onLaterPages=self._numbered)  # fmt: skip
        return out.getvalue()

    def _numbered(self, canvas: Canvas, document: BaseDocTemplate) -> None:
        """The number of a page, where there are several."""
        if document.page > 1:
            canvas.setFont(self.font, 7)
            canvas.drawRightString(document.pagesize[0] - 12 * mm, 6 * mm, f"{self.title}, page {document.page}")


def _safe(text: str) -> str:
    """No line breaks between a figure and its unit."""
    return _FIGURE.sub("\\1\u00a0", text).replace("&", "&amp;").replace("<", "&lt;")
