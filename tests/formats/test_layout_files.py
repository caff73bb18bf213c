"""Layouts that go out, read back by readers of their own."""

import io
import math

import ezdxf
import pypdf
import pytest
from svgelements import SVG, Path, Text

from kiteloom.core.base.problems import Refused
from kiteloom.formats.layout_files import DrawnPiece, DrawnStock, layout_dxf, layout_svg
from kiteloom.formats.layout_pdf import MOST_TILES, layout_pdf, tiles_pdf

SKEW = ((10.0, 20.0), (910.0, 80.0), (850.0, 400.0), (30.0, 350.0))
PIECES = (
    DrawnPiece("2a", "Left & right <skin>", SKEW, (450.0, 200.0), 140.0, 0.0),
    DrawnPiece("3", "Flap", ((1000.0, 0.0), (1400.0, 0.0), (1400.0, 600.0)), (1290.0, 160.0), 90.0, 180.0),
)
ROLL = DrawnStock("Roll", (((0, 0), (6200, 0), (6200, 1270), (0, 1270)),), 6200, 1270, PIECES)
SHEET = DrawnStock("Sheet 1", (((0, 0), (1000, 0), (1000, 500), (0, 500)),), 1000, 500, PIECES[:1])


def rings_of(rows):
    return sorted(tuple((round(x, 2), round(y, 2)) for x, y in ring) for ring in rows)


def test_a_drawing_comes_back_with_its_layers_true_to_the_hundredth():
    read = ezdxf.read(io.StringIO(layout_dxf([ROLL, SHEET])))
    assert not read.audit().has_errors
    assert read.header["$INSUNITS"] == 4  # mm
    space = read.modelspace()
    cut = [[(x, y) for x, y in line.get_points("xy")] for line in space.query('LWPOLYLINE[layer=="cut"]')]
    moved = [[(x, y + 1270 + 200) for x, y in SKEW]]
    assert rings_of(cut) == rings_of([*(piece.outline_mm for piece in PIECES), *moved])
    assert {line.is_closed for line in space.query("LWPOLYLINE")} == {True}
    texts = {text.dxf.text for text in space.query('TEXT[layer=="text"]')}
    assert texts == {"Roll", "Sheet 1", "2a  Left & right <skin>", "3  Flap"}
    marks = space.query('LINE[layer=="mark"]')
    warps = [line for line in marks if line.dxf.start.distance(line.dxf.end) > 100]
    assert len(warps) == 3
    assert all(math.isclose(line.dxf.start.y, line.dxf.end.y) for line in warps)


def test_the_same_as_svg_is_in_millimetres_and_holds_the_same_outlines():
    text = layout_svg("Skins & flaps", [ROLL])
    read = SVG.parse(io.StringIO(text), reify=True, ppi=25.4)  # a millimetre is a unit then
    cut = [path for path in read.elements(lambda e: isinstance(e, Path)) if path.values.get("stroke") == "#221f1a"]
    boxes = sorted(tuple(round(v, 1) for v in path.bbox()) for path in cut)
    sizes = sorted((round(c - a, 1), round(d - b, 1)) for a, b, c, d in boxes)
    assert sizes == [(400.0, 600.0), (900.0, 380.0)]
    assert {text.text for text in read.elements(lambda e: isinstance(e, Text))} >= {"Roll"}


def test_on_paper_there_is_every_corner_and_tiles_join_to_the_whole_piece():
    rows = [("2a", "Left skin", "A", "10 mm", "20 mm"), ("", "", "B", "910 mm", "80 mm")]
    page = pypdf.PdfReader(io.BytesIO(layout_pdf("Cut plan", "6.2 m", [ROLL, SHEET], rows, ["Take care"])))
    text = "\n".join(one.extract_text() for one in page.pages)
    for words in ("Roll", "Sheet 1", "from the lower edge", "910 mm", "Take care", "2a"):
        assert words in text
    tiles = pypdf.PdfReader(io.BytesIO(tiles_pdf("2a of Left skin", [SKEW], PIECES[0])))
    wide, high = (float(v) / 72 * 25.4 for v in tiles.pages[0].mediabox[2:])
    step = wide - 34, high - 34
    across, up = math.ceil(900 / step[0]), math.ceil(380 / step[1])
    assert len(tiles.pages) == across * up
    assert f"sheet {'ABCD'[up - 1]}{across} of {across} × {up}" in tiles.pages[-1].extract_text()
    letter = pypdf.PdfReader(io.BytesIO(tiles_pdf("2a", [SKEW], None, letter=True)))
    assert [round(float(v)) for v in letter.pages[0].mediabox[2:]] == [792, 612]
    with pytest.raises(Refused, match=f"at most {MOST_TILES} are printed"):
        tiles_pdf("roll", ROLL.rings, None)
