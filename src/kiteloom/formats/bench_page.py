"""What sheets for the bench share: their head, their letters, A4 or letter."""

from __future__ import annotations

import io
from dataclasses import dataclass, field

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer

from kiteloom.formats.fonts import page_fonts


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

    def plain(self, words: str) -> Paragraph:
        """Words to read."""
        return Paragraph(_safe(words), self._plain)

    def big(self, words: str) -> Paragraph:
        """Words to be read at arm's length."""
        return Paragraph(_safe(words), self._big)

    def printed(self, *, letter: bool) -> bytes:
        """The sheet as a PDF."""
        out = io.BytesIO()
        SimpleDocTemplate(
            out, pagesize=LETTER if letter else A4, title=self.title, invariant=1,
            leftMargin=12 * mm, rightMargin=12 * mm, topMargin=12 * mm, bottomMargin=12 * mm,
        ).build(self.story)  # fmt: skip
        return out.getvalue()


def _safe(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")
