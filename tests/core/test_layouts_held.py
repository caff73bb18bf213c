"""What must hold of layouts, ways of cutting and their files for whatever pieces there are."""

import io
import math

import ezdxf
import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate, scale, translate
from shapely.geometry import Polygon, box
from svgelements import SVG, Path
from tests.core.jobs import examples

from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cutting import (
    FromSheets,
    OffRoll,
    price_of,
    sheet_says,
    taken,
    way_kind,
    way_of,
    worth_figures,
)
from kiteloom.core.laminate.cutting import worth_of as worth
from kiteloom.core.laminate.layout import Layout, Remnant, Sheets, Stock, area_mm2, layouts, left_over
from kiteloom.core.laminate.nest import nest, nesting
from kiteloom.core.laminate.rolls import MOST_PIECES, Cut, Roll, boxes, lying_of, sound
from kiteloom.core.shape.loft import Planform, straight
from kiteloom.core.shape.section import naca4
from kiteloom.formats.layout_files import DrawnPiece, DrawnStock, layout_dxf, layout_svg
from kiteloom.formats.layout_pdf import layout_pdf, tiles_pdf

ROLL = Roll(1000, 5)


def quad(a, b, c):
    return ((0.0, 0.0), (float(a), float(c)), (a - c * 0.5, float(b + c)), (c / 3, float(b)))


quads = st.builds(quad, st.integers(120, 900), st.integers(60, 400), st.integers(0, 60))
cuts = st.lists(st.tuples(quads, st.sampled_from([0, 45, 90, -30]), st.integers(1, 3)), min_size=1, max_size=12).map(
    lambda rows: [Cut(str(n), ring, angle, count) for n, (ring, angle, count) in enumerate(rows)]
)


@given(
    st.lists(st.tuples(quads, st.integers(0, 1500), st.integers(0, 700)), min_size=2, max_size=9),
    st.sampled_from([0, 3, 20]),
)
@settings(max_examples=120, deadline=None)
def test_a_layout_is_called_sound_when_every_pair_is_apart_and_only_then(placed, gap):
    roll = Roll(1200, gap)
    shapes = [(str(n), translate(Polygon(ring), x, y)) for n, (ring, x, y) in enumerate(placed)]
    inside = all(shape.bounds[1] >= 0 and shape.bounds[3] <= 1200 for _, shape in shapes)
    pairs = [(a, b) for n, (_, a) in enumerate(shapes) for _, b in shapes[n + 1 :]]
    clear = all(a.distance(b) >= gap if gap else a.intersection(b).area < 1 for a, b in pairs)
    close = any(abs(a.distance(b) - gap) < 0.2 for a, b in pairs)
    edge = any(abs(shape.bounds[3] - 1200) < 0.2 for _, shape in shapes)
    if not (close or edge):
        assert sound(shapes, roll) is (inside and clear)


@given(cuts, st.booleans(), st.sampled_from([0, 6]))
@settings(max_examples=40, deadline=None)
def test_boxes_hold_every_piece_that_fits_the_roll_on_its_grain(pieces, turns, gap):
    roll = Roll(700, gap, quarter_turns=turns)
    found = nest(pieces, roll, 0)
    assert sound([(one.id, Polygon(one.outline_mm)) for one in found.placements], roll)
    for piece in pieces:
        upright = rotate(Polygon(piece.outline_mm), -piece.angle_deg, origin=(0, 0))
        x0, y0, x1, y1 = upright.bounds
        fits = y1 - y0 <= 700 or (turns and x1 - x0 <= 700)
        assert (piece.id in found.oversize) is not fits
        mine = [one for one in found.placements if one.id == piece.id]
        assert len(mine) == (piece.quantity if fits else 0)
        for one in mine:
            assert Polygon(one.outline_mm).area == pytest.approx(upright.area, rel=1e-5)
    area = sum(Polygon(one.outline_mm).area for one in found.placements)
    if found.length_mm:
        assert found.utilisation_pct == pytest.approx(100 * area / (700 * found.length_mm))


@pytest.mark.parametrize(
    ("pieces", "seconds", "says"),
    [
        ([Cut("a", quad(300, 100, 10), 0, MOST_PIECES + 1)], 0, "the number of “a” is 3001"),
        ([Cut(str(n), quad(300, 100, 10), 0, 1500) for n in range(3)], 0, "there are 4500 pieces; at most 3000"),
        ([Cut("a", ((0, 0), (10, 10), (10, 0), (0, 10)), 0)], 0, "the outline of “a” is none"),
        ([Cut("a", ((0, 0), (10, 10)), 0)], 0, "the outline of “a” is none"),
        ([Cut("a", quad(300, 100, 10), 0, 0)], 0, "the number of “a” is 0"),
        ([Cut("a", quad(300, 100, 10), 0)], -1, "the time to look is -1 s"),
        ([Cut("a", quad(300, 100, 10), 0)], 4000, "the time to look is 4000 s"),
    ],
)
def test_what_can_not_be_laid_out_is_refused(pieces, seconds, says):
    with pytest.raises(Refused, match=says.replace("(", r"\(")):
        next(nesting(pieces, ROLL, seconds))


@pytest.mark.parametrize("gap", [-1, 1001])
def test_a_gap_is_no_wider_than_what_is_cut(gap):
    with pytest.raises(Refused, match="the gap"):
        Roll(1000, gap)
    with pytest.raises(Refused, match="the gap"):
        Sheets(2000, 1000, gap)


@given(cuts)
@settings(max_examples=25, deadline=None)
def test_on_sheets_no_answer_is_worse_than_the_one_before(pieces):
    before = (math.inf, math.inf)
    for n, found in enumerate(layouts(pieces, Sheets(1100, 900, 4, quarter_turns=True), [], 0, seed=3)):
        assert (found.sheets, found.run_mm) <= before
        before = (found.sheets, found.run_mm)
        assert found.new_mm2 == pytest.approx(found.sheets * 1100 * 900)
        if n == 3:
            break


@given(cuts, st.integers(300, 2500), st.integers(200, 900))
@settings(max_examples=25, deadline=None)
def test_what_is_cut_and_what_is_left_over_never_come_to_more_than_there_was(pieces, along, across):
    shelf = [Remnant("r", (((0, 0), (along, 0), (along, across), (0, across)),))]
    found = next(layouts(pieces, Roll(900, 5), shelf, 0))
    for n, stock in enumerate(found.stocks):
        mine = [one for one in found.laid if one.stock == n]
        whole = area_mm2(stock.rings)
        gone = sum(Polygon(one.outline_mm).area for one in mine)
        rest = left_over(stock, mine, 5)
        assert gone + sum(area_mm2(rings) for rings in rest) <= whole * 1.0001
        assert all(area_mm2(rings) >= 39_000 for rings in rest)
        for rings in rest:
            for one in mine:
                assert Polygon(rings[0], rings[1:]).intersection(Polygon(one.outline_mm)).area < 5
    wanted = sum(piece.quantity for piece in pieces if piece.id not in found.oversize)
    assert len(found.laid) == wanted


def test_a_remnant_with_a_hole_keeps_its_hole_and_what_is_round_it():
    frame = Stock(
        "remnant", "r", (((0, 0), (900, 0), (900, 900), (0, 900)), ((300, 300), (600, 300), (600, 600), (300, 600)))
    )
    assert area_mm2(frame.rings) == 900 * 900 - 300 * 300
    (rest,) = left_over(frame, [], 5)
    assert area_mm2(rest) == pytest.approx(area_mm2(frame.rings), rel=1e-3)
    again = next(layouts([Cut("in", quad(290, 290, 0), 0)], Roll(1000), [Remnant("r", rest)], 0))
    assert Polygon(again.laid[0].outline_mm).intersection(Polygon(frame.rings[1])).area < 1


@given(st.floats(0, 9999).map(lambda v: round(v, 2)), st.sampled_from(["EUR", "kr", "£", ""]), st.booleans())
def test_a_price_reads_as_it_was_written(value, currency, before):
    text = f"{currency} {value:.2f}" if before else f"{value:.2f} {currency}"
    assert price_of(text) == (pytest.approx(value), currency)


@pytest.mark.parametrize(
    ("angle", "bias"),
    [(0, False), (90, False), (45, True), (-45, True), (135, True), (10, False), (-80, False), (30, True)],
)
def test_a_ply_is_on_the_bias_or_it_is_not(angle, bias):
    assert taken("on the bias", angle) is bias
    assert taken("not on the bias", angle) is not bias
    assert taken("all", angle)


def test_a_way_begins_as_its_sheet_says_and_what_is_said_counts_before_it():
    assert way_kind("sheet") is FromSheets
    assert sheet_says("cloth", {"roll_width_m": 1.5, "balanced": True, "stitched": True})["quarter_turns"] is False
    way = way_of("core", {"size_m": {"length": 2.0, "width": 1.0}}, {"width_m": 0.9, "grain": "across the part"})
    assert isinstance(way, FromSheets)
    assert (way.length_m, way.width_m, way.grain_deg) == (2.0, 0.9, 90.0)
    assert way.cutting().length_m == 2.0
    for kind in ("laminating resin", "tape"):
        with pytest.raises(Refused, match="is not cut into pieces"):
            way_kind(kind)


def test_what_comes_from_remnants_costs_nothing_and_is_no_waste():
    way = OffRoll(1.0, price="10")
    nothing = worth(Layout((), (), (), 0.0), way, 300)
    assert (nothing.run_m, nothing.grams, nothing.waste_pct, nothing.cost) == (0, 0, 0, 0)
    found = next(layouts([Cut("a", quad(400, 300, 0), 0)], way.new(), [Remnant("r", (quad(500, 400, 0),))], 0))
    free = worth(found, way, 300)
    assert (free.count, free.run_m, free.waste_g, free.cost) == (1, 0, 0, 0)
    labels = {figure.key: figure for figure in worth_figures(free, way, "twill", 300)}
    assert set(labels) == {"pieces", "run", "waste", "grams", "waste_g", "cost"}
    assert "sheets" in {one.key for one in worth_figures(free, FromSheets(1, 1), "ply", 900)}


shapes = st.lists(st.tuples(quads, st.integers(0, 4000), st.integers(0, 700)), min_size=1, max_size=6)


def drawn(placed):
    pieces = []
    for n, (ring, x, y) in enumerate(placed):
        moved = [(a + x, b + y) for a, b in ring]
        middle = Polygon(moved).representative_point()
        pieces.append(DrawnPiece(f"{n}", f"part <{n}> & co", moved, (middle.x, middle.y), 30.0, 45.0 * n))
    edge = [(0.0, 0.0), (5200.0, 0.0), (5200.0, 1270.0), (0.0, 1270.0)]
    return DrawnStock("Roll", [edge], 5200.0, 1270.0, pieces)


@given(shapes)
@settings(max_examples=15, deadline=None)
def test_whatever_is_drawn_comes_back_from_its_files(placed):
    stock = drawn(placed)
    read = ezdxf.read(io.StringIO(layout_dxf([stock])))
    back = [[(x, y) for x, y in line.get_points("xy")] for line in read.modelspace().query('LWPOLYLINE[layer=="cut"]')]
    for ring, piece in zip(back, stock.pieces, strict=True):
        assert Polygon(ring).symmetric_difference(Polygon(piece.outline_mm)).area < 0.01
    svg = SVG.parse(io.StringIO(layout_svg("t", [stock])), reify=True, ppi=25.4)
    paths = [one for one in svg.elements(lambda e: isinstance(e, Path)) if one.values.get("stroke") == "#221f1a"]
    wide = sorted(round(one.bbox()[2] - one.bbox()[0], 1) for one in paths)
    assert wide == pytest.approx(
        sorted(Polygon(p.outline_mm).bounds[2] - Polygon(p.outline_mm).bounds[0] for p in stock.pieces), abs=0.2
    )
    pdf = pypdf.PdfReader(io.BytesIO(layout_pdf("Cut", "head", [stock], [], [])))
    text = "".join(page.extract_text() for page in pdf.pages)
    assert all(piece.code in text for piece in stock.pieces)


@given(st.integers(50, 2000), st.integers(50, 1200), st.booleans())
@settings(max_examples=20, deadline=None)
def test_tiles_cover_a_piece_whole_and_no_more(along, across, letter):
    ring = quad(along, across, 0)
    pages = pypdf.PdfReader(io.BytesIO(tiles_pdf("p", [ring], None, letter=letter))).pages
    wide, high = (float(side) / 72 * 25.4 - 34 for side in pages[0].mediabox[2:])
    left, low, right, top = Polygon(ring).bounds
    assert len(pages) == max(1, math.ceil((right - left) / wide - 1e-6)) * max(1, math.ceil((top - low) / high - 1e-6))


def test_pieces_with_their_warp_turned_lie_as_the_roll_does():
    lying, oversize = lying_of([Cut("a", quad(600, 200, 0), 90), Cut("b", quad(1200, 300, 0), 90)], ROLL)
    assert oversize == ("b",)
    (one,) = boxes(lying, ROLL)
    assert one[1].bounds[2] - one[1].bounds[0] == pytest.approx(200)


@settings(max_examples=examples(10), deadline=None)
@given(st.lists(st.tuples(st.floats(0.12, 0.5), st.floats(0.3, 0.9)), min_size=2, max_size=8), st.floats(0, 6))
def test_curved_pieces_are_all_laid_out_within_their_sheets_apart_by_the_gap(sizes, gap):
    """Whatever is laid out by a rougher outline: none is lost, none lies over another or an edge."""
    rib = Polygon(straight(Planform(1.0, 1.0, 1.0), naca4("2412")).section_at(0.5)).buffer(0)
    pieces = []
    for n, (long, slim) in enumerate(sizes):
        outline = scale(rib, 1000 * long, 1000 * long * slim, origin=(0, 0))
        pieces.append(Cut(str(n), tuple((round(x, 2), round(y, 2)) for x, y in outline.exterior.coords[:-1]), 0.0, 2))
    found = next(layouts(pieces, Sheets(620, 620, gap), (), 0))
    assert found.oversize == ()
    assert len(found.laid) == 2 * len(pieces)
    for sheet in range(found.sheets):
        shapes = [Polygon(one.outline_mm) for one in found.laid if one.stock == sheet]
        assert all(box(-0.2, -0.2, 620.2, 620.2).contains(shape) for shape in shapes)
        for n, one in enumerate(shapes):
            assert all(one.distance(other) >= gap - 0.2 for other in shapes[n + 1 :])
            assert all(one.intersection(other).area < 0.5 for other in shapes[n + 1 :])
