"""Shapes of every kind: the same questions answered, the same text read back, and jobs built on them."""

import math
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.tasks import LIKE, SANDWICH, example, product

from kiteloom.core.base.fields import made
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipe import Losses, fits_shape, nothing
from kiteloom.core.build.recipes import RECIPES, recipe_of
from kiteloom.core.build.task import Task
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.shape import reading
from kiteloom.core.shape.figures import shape_figures
from kiteloom.core.shape.flat import Flat, Piece, Pieces, StripAt, Strips
from kiteloom.core.shape.loft import Loft, Ribs, Station
from kiteloom.core.shape.outline import Outline, typed_loops
from kiteloom.core.shape.place import Lies, Place, in_plan
from kiteloom.core.shape.section import naca4

FLAT = naca4("0012")
BOARD = Flat((Outline(((0, 0), (1200, 0), (1200, 340), (0, 410)), (((300, 100), (500, 100), (500, 200)),)),))
COWL = Strips((StripAt(0, 0.6), StripAt(0.3, 1.0), StripAt(0.8, 1.25)))
RIBS = Pieces((Piece("rib", 13, 1.2, 0.1, 0.008), Piece("block", 4, face_m2=0.02)))
WING = Loft((Station(0, 1.2, section=FLAT), Station(3, 0.8, 0.1, section=FLAT)), Ribs((0.0, 1.5, 3.0), 0.008, 0.025))
KINDS = {"loft": WING, "outline": BOARD, "strips": COWL, "pieces": RIBS}


@pytest.mark.parametrize("shape", KINDS.values(), ids=KINDS.keys())
def test_every_kind_is_drawn_mirrored_pointed_at_and_measured(shape):
    left, right = shape.outline("left"), shape.outline("right")
    assert [[(-y, x) for y, x in ring] for ring in left] == [list(ring) for ring in right]
    assert shape.span_m > 0
    for along, across in ((0.25, 0.5), (0.9, 0.1)):
        for hand in ("left", "right"):
            point = shape.point(along, across, hand)
            assert shape.shares(point, hand) == pytest.approx((along, across))
    assert shape.shares((99.0, 99.0), "left") is None
    figures = shape_figures(shape, "lower")
    assert len({figure.key for figure in figures}) == len(figures) >= 3
    assert all(figure.value > 0 and figure.equation and figure.given for figure in figures)


def test_areas_and_edges_of_flat_kinds_are_those_of_school():
    assert BOARD.skin_area_m2("upper") == pytest.approx(1.2 * (0.34 + 0.41) / 2 - 0.2 * 0.1 / 2)
    slant, hole = math.hypot(1.2, 0.07), 0.2 + 0.1 + math.hypot(0.2, 0.1)
    assert BOARD.edge_m == pytest.approx(1.2 + 0.34 + 0.41 + slant + hole)
    assert COWL.skin_area_m2("lower") == pytest.approx(0.3 * 0.8 + 0.5 * 1.125)
    assert Strips(COWL.strips, "all round").skin_area_m2("lower") == pytest.approx(COWL.skin_area_m2("lower") / 2)
    assert RIBS.count == 17
    assert RIBS.all_sides_m2 == pytest.approx(13 * (0.24 + 2.6 * 0.008) + 4 * 0.04)
    assert RIBS.length_m == pytest.approx(15.6)


# Source: closed forms of a cone and of a hemisphere, measured as with a tape: girths at distances along the surface.
def test_measured_girths_give_a_cones_side_exactly_and_a_dome_nearly():
    cone = Strips((StripAt(0, 2 * math.pi * 0.5), StripAt(1.3, 0.0)), "all round")
    assert 2 * cone.skin_area_m2("upper") == pytest.approx(math.pi * 0.5 * 1.3)
    arc = [math.pi / 2 * n / 12 for n in range(13)]
    dome = Strips(tuple(StripAt(0.4 * a, 2 * math.pi * 0.4 * math.cos(a)) for a in arc), "all round")
    assert 2 * dome.skin_area_m2("upper") == pytest.approx(2 * math.pi * 0.16, rel=2e-3)


BAD = [
    (lambda: Loft((Station(0, 1, section=FLAT),)), "number of stations is 1; it can't be below 2"),
    (lambda: Loft((Station(0, 1, section=FLAT), Station(0, 1, section=FLAT))), "each must stand beyond"),
    (lambda: Loft(tuple(Station(n, n % 2, section=FLAT) for n in (1, 2, 3))), "chord of station 2 is 0 m"),
    (lambda: Loft((Station(0, 0, section=FLAT), Station(1, 0, section=FLAT))), "only the first or the last"),
    (lambda: Loft((Station(0, 1, section=FLAT), Station(1, 1, 0, 0, 90, section=FLAT))), "Twist is 90°"),
    (lambda: Loft(WING.stations, Ribs((4.0,))), "a rib at 4 m stands outside the span"),
    (lambda: Strips((StripAt(0, 1),)), "number of measures is 1"),
    (lambda: Strips((StripAt(0, 0), StripAt(1, 0))), "every measure is 0 m"),
    (lambda: Strips((StripAt(0, 1), StripAt(1, 1)), "twice round"), "“twice round” is not how it was measured"),
    (lambda: Pieces((Piece("", 1, 1.0),)), "has no name yet"),
    (lambda: Pieces((Piece("rib", 1),)), "rib has neither a length nor a face"),
    (lambda: Pieces((Piece("rib", 3000, 1.0),)), "How many is 3000"),
    (lambda: reading.shape("blob", {}), "“blob” is not a kind of shape"),
    (lambda: reading.loft([{"at_m": 0, "section": {"naca": "2412"}}]), "station 1: chord is not given yet"),
    (lambda: reading.loft([{"at_m": 0, "chord_m": 1, "section": {}}]), "neither “naca” nor “points”"),
    (lambda: reading.loft([reading.station_says(row) for row in WING.stations], {"every_m": 0.001}), "10 mm apart"),
    (lambda: typed_loops("0 0 0", "mm"), "line 1: “0 0 0” has 3 numbers"),
    (lambda: typed_loops("0, 0\n1, x", "mm"), "line 2: “x” isn't understood"),
]


@pytest.mark.parametrize(("make", "named"), BAD)
def test_a_shape_that_cannot_be_says_which_value_and_which_limit(make, named):
    with pytest.raises(Refused) as refused:
        make()
    assert named in refused.value.sentence


lengths = st.floats(0.05, 9).map(lambda v: round(v, 4))


@given(
    chords=st.lists(lengths, min_size=2, max_size=6),
    steps=st.lists(lengths, min_size=6, max_size=6),
    turns=st.lists(st.floats(-20, 20), min_size=6, max_size=6),
    codes=st.lists(st.sampled_from(["0012", "2412", "4415", "6409"]), min_size=6, max_size=6),
)
def test_a_loft_is_kept_and_read_the_same_and_its_parts_add_up(chords, steps, turns, codes):
    at, rows = 0.0, []
    for chord, step, turn, code in zip(chords, steps, turns, codes, strict=False):
        rows.append(Station(at, chord, at / 9, at / 7, turn, section=naca4(code)))
        at += step
    loft = Loft(tuple(rows))
    again = reading.loft([reading.station_says(row) for row in rows])
    assert again == loft
    halves = [Loft(tuple(rows[n : n + 2])) for n in range(len(rows) - 1)]
    for side in ("upper", "lower"):
        assert sum(half.skin_area_m2(side) for half in halves) == pytest.approx(loft.skin_area_m2(side))
        assert loft.skin_area_m2(side) >= 0.98 * loft.area_m2 * math.cos(math.radians(20))
    assert sum(half.leading_edge_m for half in halves) == pytest.approx(loft.leading_edge_m)
    assert loft.girth_at_m(rows[-1].at_m, "upper") == pytest.approx(loft.girth_m("upper", "tip"), rel=1e-6)


@given(aft=st.floats(-5, 20), side=st.floats(0, 5), lies=st.sampled_from(get_args(Lies)))
def test_left_and_right_lie_mirrored_on_the_airframe_and_the_centre_across_it(aft, side, lies):
    place = Place(aft, side, lies)
    for shape in KINDS.values():
        left, right = (in_plan(shape, place, hand) for hand in ("left", "right"))
        assert [[(-y, x) for y, x in ring] for ring in left] == [list(ring) for ring in right]
        sides = [y for ring in in_plan(shape, place, "centre") for y, _ in ring]
        assert min(sides) == pytest.approx(-max(sides), abs=1e-9)
        afts = [x for ring in left for _, x in ring]
        across = [x for ring in shape.outline("left") for _, x in ring]
        long = shape.span_m if lies.startswith("fore") else max(across) - min(across)
        assert max(afts) - min(afts) == pytest.approx(long)


HOURS = {"gel": 4, "handle": 8, "peel": 10, "recoat opens": 5, "sand": 18, "full": 40}
EPOXY = CureSystem(55, 23, tuple(Stage(name, hours) for name, hours in HOURS.items()))
GIVEN = {"varnish": {"rib_area_m2": 0.05}, "cap": {"length_m": 2.0, "width_m": 0.05}}
FACES = {"length_m": 2.0, "width_m": 0.02, "thickness_mm": 1.0, "one": "wood", "other": "wood"}


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda recipe: recipe.key)
@pytest.mark.parametrize("kind", KINDS)
def test_every_way_of_building_makes_its_steps_on_every_shape_it_says_it_can(recipe, kind):
    if fits_shape(recipe, KINDS[kind]):
        assert kind not in recipe.shapes
        return
    says = GIVEN.get(recipe.key, FACES if recipe.key == "bond" else {})
    if recipe.key == "frame" and kind == "outline":
        says = {"rib_pitch_m": 0.3}
    products = {role.key: product(EPOXY) for role in recipe.roles}
    also = {"materials": example(recipe).materials}
    # What is sawn wants every size of a piece; others do with a face.
    shape = LIKE if kind == "pieces" and (recipe.sawn or recipe.pieces) else KINDS[kind]
    task = Task(made(recipe.given, says), products, Losses(), shape, "whole", "left", SANDWICH, **also)
    steps = recipe.steps(task)
    assert len({step.key for step in steps}) == len(steps) > 2
    assert all(step.minutes > 0 for step in steps)
    if recipe.needs is not nothing:
        assert sum(need.takes.total_g for need in recipe.needs(task)) > 0


def test_frames_and_varnish_count_what_the_shape_has():
    def task(key, shape, **given):
        recipe = recipe_of(key)
        return Task(made(recipe.given, given), {recipe.roles[0].key: product(EPOXY)}, form=shape)

    def joints(shape, **given):
        steps = recipe_of("frame").steps(task("frame", shape, **given))
        return next(step.estimate.count for step in steps if step.key == "fit")

    def varnish(shape):
        return sum(need.takes.total_g for need in recipe_of("varnish").needs(task("varnish", shape)))

    assert joints(WING) == 6  # three ribs of the shape, each at spar and trailing edge
    assert joints(WING, rib_pitch_m=0.5) == 14  # a pitch that is said counts before the shape
    assert joints(RIBS) == 34
    with pytest.raises(Refused, match="Rib pitch, or ribs in its shape"):
        joints(BOARD)
    assert varnish(Pieces((*RIBS.pieces, *RIBS.pieces))) == pytest.approx(2 * varnish(RIBS))
    assert varnish(BOARD) > 0
    with pytest.raises(Refused, match="Wood of one rib"):
        varnish(WING)
    with pytest.raises(Refused, match="no width or face"):
        varnish(Pieces((Piece("stringer", 4, 2.0),)))
