"""The build record on paper: an index, who built it, and a page or more for each part. PDF, A4 or letter."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from reportlab.graphics.shapes import Drawing, Line, Polygon, PolyLine, String
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, PageBreak, Spacer, Table, TableStyle

from kiteloom.formats.bench_page import BenchPage

Ring = Sequence[tuple[float, float]]
#: A drawing of a part, and one of a cure [mm].
_DRAWN = (180.0, 46.0)
_CURVE = (180.0, 38.0)
#: A glue line is drawn at least so wide [mm].
_NARROWEST = 9.0
#: A photograph is at most so wide and high [mm], and so many stand in a row.
_SHOT, _IN_A_ROW = (58.0, 58.0), 3


@dataclass(frozen=True)
class RecordLine:
    """One thing that was written down: when, what, by whom; ``struck`` where it does not count any more."""

    when: str
    words: str
    who: str
    struck: bool = False


@dataclass(frozen=True)
class RecordCurve:
    """A cure: what it is of, the temperature it had over hours [h, °C], its stages by the hour they were reached."""

    words: str
    points: Sequence[tuple[float, float]]
    stages: Sequence[tuple[str, float]]
    low: str
    high: str


@dataclass(frozen=True)
class RecordGlueLine:
    """A glue line as it was tapped: its size [m], the grid of taps, 0 by 0 where there was none, and its voids."""

    words: str
    length_m: float
    width_m: float
    along: int = 0
    across: int = 0
    voids: Sequence[tuple[int, int]] = ()


@dataclass(frozen=True)
class RecordPart:
    """What is printed of one part; ``digest`` is over its facts, chained to that of the part before."""

    name: str
    head: str
    outline: Sequence[Ring]
    glue: RecordGlueLine | None
    hours: str
    sections: Sequence[tuple[str, Sequence[RecordLine]]]
    curves: Sequence[RecordCurve]
    photos: Sequence[tuple[str, bytes]]
    digest: str


@dataclass(frozen=True)
class Record:
    """A whole record: who built it as a table with its head row first, then its parts."""

    title: str
    head: str
    built: Sequence[Sequence[str]]
    parts: Sequence[RecordPart]
    foot: Sequence[str]


def record_pdf(record: Record, *, letter: bool = False) -> bytes:
    """The record as a document: each part begins a page."""
    page = BenchPage(record.title, record.head)
    if len(record.built) > 1:
        page.story += [page.big("Who built it"), _grid(page, record.built), Spacer(0, 5 * mm)]
    if len(record.parts) > 1:
        index = [("Part", "Hours", "Digest of its facts"), *((p.name, p.hours, p.digest[:16]) for p in record.parts)]
        page.story += [page.big("What is in it"), _grid(page, index), Spacer(0, 5 * mm)]
    page.story += [page.plain(words) for words in record.foot]
    for part in record.parts:
        page.story += [PageBreak(), page.big(part.name), page.plain(part.head), Spacer(0, 2 * mm)]
        if part.outline:
            page.story += [_drawn(part.outline), Spacer(0, 3 * mm)]
        if part.glue is not None:
            page.story += [*_glued(page, part.glue), Spacer(0, 3 * mm)]
        for title, lines in part.sections:
            page.story += [page.big(title), _lines(page, lines), Spacer(0, 4 * mm)]
        if part.curves:
            page.story.append(page.big("Cures"))
        for curve in part.curves:
            page.story.append(KeepTogether([page.plain(curve.words), _curve(page, curve), Spacer(0, 3 * mm)]))
        page.story += _photos(page, part.photos)
        page.story.append(page.plain(f"Digest of these facts, chained to that of the part before: {part.digest}"))
    return page.printed(letter=letter, kept=True)


def _grid(page: BenchPage, rows: Sequence[Sequence[str]]) -> Table:
    cells = [[page.plain(cell) for cell in row] for row in rows]
    wide = 186.0 / (len(rows[0]) + 1)
    table = Table(cells, colWidths=[2 * wide * mm, *([wide * mm] * (len(rows[0]) - 1))], repeatRows=1)
    table.setStyle(TableStyle([("FONTNAME", (0, 0), (-1, -1), page.font),
                               ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.grey),
                               ("LINEBELOW", (0, 0), (-1, 0), 1.0, colors.black),
                               ("VALIGN", (0, 0), (-1, -1), "TOP")]))  # fmt: skip
    return table


def _lines(page: BenchPage, lines: Sequence[RecordLine]) -> Table:
    rows = [[page.plain(line.when), page.plain(line.words, struck=line.struck), page.plain(line.who)] for line in lines]
    table = Table(rows, colWidths=[38 * mm, 116 * mm, 32 * mm])
    table.setStyle(TableStyle([("FONTNAME", (0, 0), (-1, -1), page.font),
                               ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.grey),
                               ("VALIGN", (0, 0), (-1, -1), "TOP")]))  # fmt: skip
    return table


def _drawn(outline: Sequence[Ring]) -> Drawing:
    """The part from above to scale, nose up."""
    sides, afts = zip(*(point for ring in outline for point in ring), strict=True)
    wide, high = max(max(sides) - min(sides), 1e-6), max(max(afts) - min(afts), 1e-6)
    scale = min(_DRAWN[0] * mm / wide, _DRAWN[1] * mm / high)
    drawing = Drawing(_DRAWN[0] * mm, high * scale)
    for ring in outline:
        points = [value for side, aft in ring for value in ((side - min(sides)) * scale, (max(afts) - aft) * scale)]
        drawing.add(Polygon(points, fillColor=None, strokeColor=colors.black, strokeWidth=0.8))
    return drawing


def _glued(page: BenchPage, glue: RecordGlueLine) -> list[Flowable]:
    """A glue line along its length, wider than it is where it is narrow; what is hollow is filled."""
    scale = min(_DRAWN[0] * mm / glue.length_m, _DRAWN[1] * mm / glue.width_m)
    wide, high = glue.length_m * scale, max(glue.width_m * scale, _NARROWEST * mm)
    drawing = Drawing(wide, high)
    for along, across in glue.voids:
        cell, row = wide / glue.along, high / glue.across
        drawing.add(_box(along * cell, high - (across + 1) * row, cell, row, fill=colors.lightgrey))
    for n in range(1, glue.along):
        drawing.add(Line(n * wide / glue.along, 0, n * wide / glue.along, high, strokeWidth=0.3))
    for n in range(1, glue.across):
        drawing.add(Line(0, n * high / glue.across, wide, n * high / glue.across, strokeWidth=0.3))
    drawing.add(_box(0, 0, wide, high))
    return [drawing, page.plain(f"{glue.words}{' Drawn wider than it is.' if high > glue.width_m * scale else ''}")]


def _box(x: float, y: float, wide: float, high: float, fill: colors.Color | None = None) -> Polygon:
    corners = [x, y, x + wide, y, x + wide, y + high, x, y + high]
    return Polygon(corners, fillColor=fill, strokeColor=colors.black, strokeWidth=0.8)


def _curve(page: BenchPage, curve: RecordCurve) -> Drawing:
    """A cure's temperature over its hours, a line for each stage."""
    drawing, (wide, high) = Drawing(_CURVE[0] * mm, _CURVE[1] * mm), (_CURVE[0] * mm, _CURVE[1] * mm)
    hours, warm = [hour for hour, _ in curve.points], [celsius for _, celsius in curve.points]
    first, last = min(hours), max([*hours, *(hour for _, hour in curve.stages)])
    low, high_c = min(warm) - 1, max(warm) + 1

    def across(hour: float) -> float:
        return (hour - first) / max(last - first, 1e-6) * (wide - 24) + 22

    def up(celsius: float) -> float:
        return (celsius - low) / (high_c - low) * (high - 30) + 12

    drawing.add(Line(22, 12, wide, 12, strokeWidth=0.4))
    drawing.add(PolyLine([value for hour, c in curve.points for value in (across(hour), up(c))], strokeWidth=0.9))
    for words, celsius in ((curve.low, min(warm)), (curve.high, max(warm))):
        drawing.add(String(0, up(celsius) - 2, words, fontName=page.font, fontSize=6.5))
    for n, (name, hour) in enumerate(curve.stages):
        x = across(hour)
        drawing.add(Line(x, 12, x, high - 16, strokeWidth=0.5, strokeDashArray=[2, 2]))
        anchor: Literal["start", "end"] = "end" if x > wide / 2 else "start"
        said, at = f"{name} {hour:.1f} h", high - 7 - (n % 2) * 7
        drawing.add(String(x, at, said, fontName=page.font, fontSize=6.5, textAnchor=anchor))
    drawing.add(String(22, 2, f"{first:.0f} h", fontName=page.font, fontSize=6.5))
    drawing.add(String(wide - 20, 2, f"{last:.0f} h", fontName=page.font, fontSize=6.5))
    return drawing


def _photos(page: BenchPage, photos: Sequence[tuple[str, bytes]]) -> list[Flowable]:
    cells = []
    for words, data in photos:
        shot = Image(io.BytesIO(data))
        scale = min(_SHOT[0] * mm / shot.imageWidth, _SHOT[1] * mm / shot.imageHeight)
        shot.drawWidth, shot.drawHeight = shot.imageWidth * scale, shot.imageHeight * scale
        cells.append([shot, page.plain(words)])
    if not cells:
        return []
    rows = [cells[n : n + _IN_A_ROW] for n in range(0, len(cells), _IN_A_ROW)]
    rows[-1] += [[] for _ in range(_IN_A_ROW - len(rows[-1]))]
    table = Table(rows, colWidths=[62 * mm] * _IN_A_ROW)
    table.setStyle(TableStyle([("FONTNAME", (0, 0), (-1, -1), page.font), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    return [page.big("Photographs"), table, Spacer(0, 4 * mm)]
