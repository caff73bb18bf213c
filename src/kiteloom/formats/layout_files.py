"""A layout as it goes out: DXF for a cutter, SVG to be looked at, both in millimetres at full size.

Layers: ``cut`` are the outlines of pieces, ``mark`` the edges of what they are cut from, warp arrows and tips, ``text``
what is written on them.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from xml.sax.saxutils import escape

import ezdxf
import ezdxf.document

Point = tuple[float, float]
Ring = Sequence[Point]

#: Stocks lie one over the other on a drawing, so far apart [mm].
_APART_MM = 200.0
#: What is written is no larger, and no smaller [mm].
_LARGEST_MM, _SMALLEST_MM = 60.0, 6.0


@dataclass(frozen=True)
class DrawnPiece:
    """A piece where it lies on its stock: its code, whose it is, its outline, and a place to write [mm].

    ``room_mm`` is how far its edge is from there; ``tip_deg`` which way the part's tip lies [°].
    """

    code: str
    part: str
    outline_mm: Ring
    middle_mm: Point
    room_mm: float
    tip_deg: float

    @property
    def letters_mm(self) -> float:
        """How tall its code is written [mm]."""
        return max(min(self.room_mm * 0.5, _LARGEST_MM), _SMALLEST_MM)

    def marks(self) -> tuple[tuple[Point, Point], ...]:
        """The lines of its warp arrow, along the stock, and of the arrow to its tip."""
        x, y = self.middle_mm
        arm = max(self.room_mm * 0.8, 3.0)
        head = arm / 5
        low = y - self.letters_mm * 0.8
        lines = [((x - arm, low), (x + arm, low))]
        lines += [((x + s * arm, low), (x + s * (arm - head), low + t * head)) for s in (-1, 1) for t in (-1, 1)]
        turn = math.radians(self.tip_deg)
        ahead = (math.cos(turn), math.sin(turn))
        end = (x + ahead[0] * arm, y + ahead[1] * arm)
        for side in (-1, 1):
            back = turn + math.pi + side * math.radians(30)
            lines.append((end, (end[0] + head * math.cos(back), end[1] + head * math.sin(back))))
        return tuple(lines)


@dataclass(frozen=True)
class DrawnStock:
    """What pieces are cut from, its lower left corner at 0, 0: edges, size and pieces [mm]."""

    name: str
    rings: Sequence[Ring]
    length_mm: float
    width_mm: float
    pieces: Sequence[DrawnPiece]


def _stacked(stocks: Sequence[DrawnStock]) -> Iterator[tuple[DrawnStock, float]]:
    """Each with how far up it lies."""
    up = 0.0
    for stock in stocks:
        yield stock, up
        up += stock.width_mm + _APART_MM


def layout_dxf(stocks: Sequence[DrawnStock]) -> str:
    """The layout as a drawing."""
    drawing = ezdxf.document.Drawing.new("R2010")
    drawing.units = ezdxf.units.MM
    for name, colour in (("cut", 7), ("mark", 1), ("text", 3)):
        drawing.layers.add(name, color=colour)
    space = drawing.modelspace()
    for stock, up in _stacked(stocks):
        for ring in stock.rings:
            space.add_lwpolyline([(x, y + up) for x, y in ring], close=True, dxfattribs={"layer": "mark"})
        called = space.add_text(stock.name, height=_LARGEST_MM, dxfattribs={"layer": "text"})
        called.set_placement((0, up + stock.width_mm + _LARGEST_MM / 3))
        for piece in stock.pieces:
            space.add_lwpolyline([(x, y + up) for x, y in piece.outline_mm], close=True, dxfattribs={"layer": "cut"})
            for (ax, ay), (bx, by) in piece.marks():
                space.add_line((ax, ay + up), (bx, by + up), dxfattribs={"layer": "mark"})
            x, y = piece.middle_mm
            text = space.add_text(f"{piece.code}  {piece.part}", height=piece.letters_mm * 0.6,
                                  dxfattribs={"layer": "text"})  # fmt: skip
            text.set_placement((x, y + up), align=ezdxf.enums.TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


def layout_svg(title: str, stocks: Sequence[DrawnStock]) -> str:
    """The layout as a drawing to look at, at full size."""
    wide = max((stock.length_mm for stock in stocks), default=1.0) + 20
    high = sum(stock.width_mm + _APART_MM for stock in stocks) + 20
    layers: dict[str, list[str]] = {"mark": [], "cut": [], "text": []}

    def path(ring: Ring, up: float) -> str:
        return "M" + "L".join(f"{x:.3f},{high - 10 - y - up:.3f}" for x, y in ring) + "Z"

    for stock, up in _stacked(stocks):
        layers["mark"] += [f'<path d="{path(ring, up)}"/>' for ring in stock.rings]
        at = high - 10 - up - stock.width_mm - _LARGEST_MM / 3
        layers["text"].append(f'<text x="0" y="{at:.1f}" font-size="{_LARGEST_MM}">{escape(stock.name)}</text>')
        for piece in stock.pieces:
            layers["cut"].append(f'<path d="{path(piece.outline_mm, up)}"/>')
            for (ax, ay), (bx, by) in piece.marks():
                layers["mark"].append(
                    f'<path d="M{ax:.3f},{high - 10 - ay - up:.3f}L{bx:.3f},{high - 10 - by - up:.3f}"/>'
                )
            x, y = piece.middle_mm
            tall = piece.letters_mm * 0.6
            layers["text"].append(
                f'<text x="{x:.1f}" y="{high - 10 - y - up + tall / 3:.1f}" font-size="{tall:.1f}" '
                f'text-anchor="middle">{escape(piece.code)}  {escape(piece.part)}</text>'
            )
    looks = {
        "mark": 'fill="none" stroke="#98202b" stroke-width="1"',
        "cut": 'fill="none" stroke="#221f1a" stroke-width="1.5"',
        "text": 'fill="#221f1a" font-family="sans-serif"',
    }
    groups = "".join(f'<g id="{name}" {looks[name]}>{"".join(rows)}</g>' for name, rows in layers.items())
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.1f}mm" '
        f'height="{high:.1f}mm" viewBox="-10 0 {wide:.1f} {high:.1f}"><title>{escape(title)}</title>{groups}</svg>\n'
    )
