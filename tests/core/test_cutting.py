"""Layouts on remnants and sheets, what is left over, joints on ribs, and what a way of cutting comes to."""

import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate
from shapely.geometry import Polygon
from tests.core.tasks import GLASS, SANDWICH, replace

from kiteloom.core.base.problems import Refused
from kiteloom.core.laminate.cover import cover_of
from kiteloom.core.laminate.cutting import FromSheets, OffRoll, price_of, way_of, worth_of
from kiteloom.core.laminate.layout import Remnant, Sheets, layouts, left_over
from kiteloom.core.laminate.nest import nesting
from kiteloom.core.laminate.pieces import Cutting, Piece, face_up, pieces_of
from kiteloom.core.laminate.rolls import Cut, Roll, sound
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.shape.flat import StripAt, Strips
from kiteloom.core.shape.skin import skin_of


def ring(along, across):
    return ((0, 0), (along, 0), (along, across), (0, across))


def board(along, across, name="old"):
    return Remnant(name, (ring(along, across),))


#: Four-sided pieces, not one of them a rectangle.
pieces = st.lists(
    st.tuples(st.integers(120, 700), st.integers(80, 380), st.integers(0, 70), st.integers(1, 3)),
    min_size=1,
    max_size=9,
).map(
    lambda rows: [
        Cut(str(n), ((0, 0), (a, c), (a - c, b + c), (c / 2, b)), 0, count) for n, (a, b, c, count) in enumerate(rows)
    ]
)


def checked(found, wanted, gap, turns):
    """Whatever a packer says: every copy is there once, in its stock, turned as it may be, the gap kept."""
    copies = sorted((one.id, one.copy) for one in found.laid)
    asked = [(one.id, n) for one in wanted for n in range(1, one.quantity + 1) if one.id not in found.oversize]
    assert copies == sorted(asked)
    outlines = {one.id: Polygon(one.outline_mm) for one in wanted}
    for n, stock in enumerate(found.stocks):
        mine = [one for one in found.laid if one.stock == n]
        assert mine
        edge = Polygon(stock.rings[0], stock.rings[1:]).buffer(0.2, join_style="mitre")
        lying = [Polygon(one.outline_mm) for one in mine]
        assert all(edge.contains(shape) for shape in lying)
        for a, b in itertools.combinations(lying, 2):
            assert a.distance(b) >= gap - 0.2
        for one, shape in zip(mine, lying, strict=True):
            x, y, *_ = shape.bounds
            same = [rotate(outlines[one.id], turn, origin=(0, 0)) for turn in turns]
            assert any(
                moved(other, x, y).symmetric_difference(shape).area < 1e-3 * shape.area + 2
                for other in same
                if translated_fits(other, shape)
            )


def moved(shape, x, y):
    left, low, *_ = shape.bounds
    return Polygon([(a - left + x, b - low + y) for a, b in shape.exterior.coords])


def translated_fits(other, shape):
    (a, b, c, d), (e, f, g, h) = other.bounds, shape.bounds
    return abs((c - a) - (g - e)) < 0.1 and abs((d - b) - (h - f)) < 0.1


@given(wanted=pieces, gap=st.sampled_from([0, 4]), quarter=st.booleans())
@settings(max_examples=25, deadline=None)
def test_a_layout_on_remnants_and_sheets_holds_what_it_must(wanted, gap, quarter):
    turns = (0, 180, 90, 270) if quarter else (0, 180)
    shelf = [board(400, 300, "small"), Remnant("holed", (ring(900, 700), ((300, 200), (500, 200), (500, 400))))]
    sheets = itertools.islice(layouts(wanted, Sheets(1000, 600, gap, quarter), shelf, 0, seed=2), 3)
    best = math.inf
    for found in sheets:
        checked(found, wanted, gap, turns)
        assert found.sheets <= best
        best = found.sheets
    checked(next(layouts(wanted, Roll(800, gap, quarter), shelf, 0)), wanted, gap, turns)


def test_remnants_are_used_before_the_roll_and_what_fits_none_stays_on_the_roll():
    wanted = [Cut("long", ring(1500, 300), 0), Cut("short", ring(400, 300), 0, 2)]
    found = next(layouts(wanted, Roll(1000), [board(900, 320)], 0))
    assert [(stock.kind, stock.id) for stock in found.stocks] == [("remnant", "old"), ("roll", "")]
    assert found.run_mm == 1500
    assert next(layouts(wanted[1:], Roll(1000), [board(900, 320)], 0)).run_mm == 0
    assert next(layouts([Cut("wide", ring(300, 1001), 0)], Roll(1000), [], 0)).oversize == ("wide",)
    assert next(layouts([Cut("wide", ring(300, 1001), 0)], Sheets(1000, 500), [], 0)).oversize == ("wide",)


def test_what_is_left_over_is_what_the_pieces_do_not_take_and_waste_is_no_remnant():
    found = next(layouts([Cut("a", ring(400, 500), 0), Cut("b", ring(520, 450), 0)], Sheets(1000, 500, 5), [], 0))
    rest = left_over(found.stocks[0], found.laid, 5)
    assert rest == ()  # 70 mm beside, 50 mm above: nobody keeps that
    rest = left_over(found.stocks[0], [one for one in found.laid if one.id == "a"], 5)
    assert sum(Polygon(rings[0]).area for rings in rest) == pytest.approx(
        520 * 500, rel=1e-3
    )  # beside “b”, that lies at the end
    again = next(layouts([Cut("c", ring(515, 490), 0)], Sheets(1000, 500), [Remnant("r", rest[0])], 0))
    assert [stock.kind for stock in again.stocks] == ["remnant"]


def test_the_longer_it_looks_the_shorter_it_gets_and_every_answer_is_sound():
    wanted = [Cut(str(n), ((0, 0), (500 + 13 * n, 90), (400, 200 + 9 * n), (30, 150)), 0) for n in range(24)]
    lengths = []
    for found in nesting(wanted, Roll(1000, 5), 2, seed=3):
        assert sound([(one.id, Polygon(one.outline_mm)) for one in found.placements], Roll(1000, 5))
        assert len(found.placements) == 24
        lengths.append(found.length_mm)
    assert lengths == sorted(lengths, reverse=True)
    assert lengths[-1] < 0.93 * lengths[0]


def test_two_hundred_pieces_are_all_there_when_they_are_packed_in_groups():
    wanted = [Cut(str(n), ((0, 0), (200 + n, 20), (190 + n, 120), (10, 100)), 0, 2) for n in range(100)]
    *_, found = nesting(wanted, Roll(1270, 5), 2)
    assert len({(one.id, one.copy) for one in found.placements}) == 200
    assert sound([(one.id, Polygon(one.outline_mm)) for one in found.placements], Roll(1270, 5))


INCH = 0.0254
NOSE = Strips((StripAt(0, 0.5), StripAt(120 * INCH, 0.5)))


@pytest.mark.parametrize(("pitch_in", "panels", "offcut_in"), [(12, [48, 48, 24], 0), (15, [45, 45, 30], 3)])
def test_joints_of_a_skin_lie_on_ribs_and_the_pitch_says_what_a_sheet_leaves(pitch_in, panels, offcut_in):
    """P10: nose ribs every 12 in under a 48 in sheet leave no offcut, every 15 in they do (common practice)."""
    whole = Ply(replace(GLASS, balanced=False), 90)
    cover = cover_of(Stack((whole,)), skin_of(NOSE, "upper"))
    found = pieces_of(cover, Cutting(48 * INCH, pitch_m=pitch_in * INCH))
    spans = [max(x for x, _ in one.outline_mm) - min(x for x, _ in one.outline_mm) for one in found]
    assert [round(span / 25.4, 2) for span in spans] == panels
    assert 48 - max(panels) == offcut_in


def test_a_pitch_wider_than_the_sheet_and_a_sheet_that_is_all_trim_are_refused():
    cover = cover_of(SANDWICH, skin_of(NOSE, "upper"))
    with pytest.raises(Refused, match="ribs 1500 mm apart"):
        pieces_of(cover, Cutting(1.2, pitch_m=1.5))
    with pytest.raises(Refused, match="leaves nothing of the sheet"):
        FromSheets(1.0, 0.2, trim_m=0.1).cutting()
    for wrong in ({"gap_m": 2.0}, {"width_m": 0.0}, {"seconds": 601}, {"trim_m": -1}):
        with pytest.raises(Refused):
            way_of("cloth", {"roll_width_m": 1.27}, wrong).new()
    with pytest.raises(Refused, match="Width of the roll is not given yet"):
        way_of("cloth", {}, {})


def test_a_piece_longer_than_a_sheet_is_cut_both_ways_and_loses_nothing():
    cover = cover_of(Stack((Ply(GLASS, 0),)), skin_of(NOSE, "upper"))
    found = pieces_of(cover, Cutting(0.3, length_m=1.0))
    assert len(found) == 8
    assert [one.id for one in found][:3] == ["1a", "1b", "1c"]
    assert sum(Polygon(one.outline_mm).area for one in found) == pytest.approx(0.5e6 * 120 * INCH)


def test_cloth_stitched_at_45_comes_straight_off_the_roll_and_plain_cloth_on_the_bias():
    wing = skin_of(Strips((StripAt(0, 1.2), StripAt(5, 0.7))), "upper")
    woven = Stack((Ply(GLASS, 45),))
    stitched = Stack((Ply(replace(GLASS, stitched=True, fibre_off_deg=45), 45),))
    on_the_bias, straight = (pieces_of(cover_of(book, wing), Cutting(1.27)) for book in (woven, stitched))
    assert (len(on_the_bias), len(straight)) == (4, 1)
    assert straight[0].angle_deg == 0
    waste = []
    for cut in (on_the_bias, straight):
        layout = next(layouts([Cut(p.id, p.outline_mm, p.angle_deg) for p in cut], Roll(1270), [], 0))
        waste.append(worth_of(layout, OffRoll(1.27, price="10 EUR"), 300))
    assert waste[0].run_m > waste[1].run_m
    assert waste[1].cost == pytest.approx(10 * waste[1].run_m)
    assert waste[1].waste_g == pytest.approx(300 * (waste[1].run_m * 1.27 - waste[1].pieces_m2), rel=1e-6)


def test_left_and_right_upper_and_lower_lie_face_up_each_as_the_others_mirror_image():
    piece = Piece("1", 0, ((0, 0), (900, 0), (900, 200), (0, 400)), 30)
    upper, lower = face_up(piece, "upper", "left"), face_up(piece, "lower", "left")
    assert lower == piece == face_up(piece, "upper", "right")
    assert upper == face_up(piece, "lower", "right")
    assert upper.angle_deg == -30
    assert Polygon(upper.outline_mm).bounds == (0, -400, 900, 0)


@pytest.mark.parametrize(
    ("text", "value"), [("12", (12, "")), ("EUR 9,80", (9.8, "EUR")), ("4.5 £ a metre", (4.5, "£ a metre")), ("", None)]
)
def test_a_price_is_a_number_and_what_stands_beside_it(text, value):
    assert price_of(text) == value
