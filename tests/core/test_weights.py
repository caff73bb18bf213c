"""Weights of parts with their band, the difference explained, an airframe's balance, a control surface's hinge."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core import tasks
from tests.core.tasks import SANDWICH

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.stays import what_stays
from kiteloom.core.laminate.cover import book_weights
from kiteloom.core.shape.flat import Piece, Pieces, StripAt, Strips
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.place import Place, centroid, middle_aft_m
from kiteloom.core.shape.section import naca4
from kiteloom.core.weight.balance import Weight, balance_of, balance_weight, hinge_moment
from kiteloom.core.weight.hinge import Hinge, Read, behind_hinge_m, judged
from kiteloom.core.weight.part import OFF, Band, Done, Stays, explained, fibre_share, odd_weight, predicted, stands
from kiteloom.core.weight.whole import Carried, Limits, against, whole_of


def stays_of(task, key="skin"):
    recipe = recipe_of(key)
    return what_stays(task, recipe.needs(task), recipe.covers(task) if recipe.laid_up else None)


def by_kind(rows):
    found = {}
    for one in rows:
        found[one.kind] = found.get(one.kind, 0.0) + one.grams
    return found


def test_what_stays_of_a_skin_is_what_its_book_weighs_and_no_loss_is_in_it():
    task = tasks.skin(4.0)
    found, book = by_kind(stays_of(task)), book_weights(SANDWICH, task.covered(), 1.15)
    assert found["cloth"] == pytest.approx(book.fibre_g)
    assert found["core"] == pytest.approx(book.core_g)
    assert found["resin"] == pytest.approx(sum(ply.resin_g for ply in book.plies))
    assert found["uptake"] > book.core_resin_g  # and the bed it lies in
    lossy = tasks.skin(4.0, losses=tasks.replace(task.losses, trim_pct=50, cup_pct=30))
    assert by_kind(stays_of(lossy)) == pytest.approx(found)


def test_a_panel_skinned_on_both_sides_has_its_core_once():
    board = Strips((StripAt(0, 1.0), StripAt(2.0, 1.0)))
    task = tasks.replace(tasks.task("foam", "resin", tasks.EPOXY, stack=SANDWICH), form=board)
    assert by_kind(stays_of(task, "foam"))["core"] == pytest.approx(2.0 * 2 * 8 * 75)  # as its book counts both sides


rows = st.lists(
    st.builds(Stays, st.just("s"), st.sampled_from(sorted(OFF)), st.just("x"), st.floats(0, 5000), st.just("")),
    max_size=8,
)


@given(rows)
def test_a_band_holds_its_middle_and_is_no_wider_than_all_off_together(stays):
    band = predicted(stays)
    assert band.low <= band.grams <= band.high
    widest = sum(one.grams * OFF[one.kind] for one in stays)
    assert band.high - band.grams <= widest + 1e-6
    assert band.grams == pytest.approx(sum(one.grams for one in stays))


CLOTH, RESIN = Stays("lay", "cloth", "twill", 580, ""), Stays("lay", "resin", "Tarn", 420, "")
CORE = Stays("bed", "core", "foam", 300, "")


def test_a_weighing_takes_the_place_of_what_was_predicted_up_to_there():
    skin, fair = Done((CLOTH, RESIN), frozenset(["lay"])), Done((Stays("f", "filler", "Heron", 200, ""),))
    now, whole = stands([skin, fair])
    assert (now.grams, whole.grams) == (1000, 1200)
    assert now.high > 1000
    weighed = Done(skin.stays, skin.finished, None, 1050)
    now, whole = stands([weighed, fair])
    assert (now, whole.grams) == (Band(1050, 1050, 1050), 1250)
    bare = Done(skin.stays, skin.finished, 400)
    assert stands([bare, fair])[0].grams == 1400


@pytest.mark.parametrize(
    ("added", "words", "inside"),
    [
        (1310, "as computed (1.30 kg). Fibre in it: 57 % by weight, 58 % was computed.", True),
        (1560, "Wet: 260 g of resin that was not squeezed or bled out", False),
        (1180, "Dry by 120 g of resin: look for white and dull places", False),
        (870, "Its cloth and core alone weigh 880 g: was all of it on the scale", False),
    ],
)
def test_a_skins_weight_says_how_wet_it_was_laid(added, words, inside):
    said, holds = explained((CLOTH, RESIN, CORE), added, 2.0, "metric")
    assert words in said
    assert holds is inside
    share = fibre_share((CLOTH, RESIN, CORE), added)
    assert share is None if added < 880 else share == pytest.approx(580 / (added - 300))


def test_filler_coats_and_glue_say_what_they_could_be():
    fill = (Stays("f", "filler", "Heron", 200, ""),)
    assert "250 g/m² of filler left after sanding, where 100 g/m² were computed" in explained(fill, 500, 2, "metric")[0]
    coat = (Stays("c", "coat", "primer", 100, ""),)
    assert "150 g/m² dry" in explained(coat, 300, 2, "metric")[0]
    assert explained(coat, 95, 2, "metric")[1]
    assert "squeezed out" in explained((Stays("b", "adhesive", "Bur", 50, ""),), 90, 0, "metric")[0]


@pytest.mark.parametrize(
    ("grams", "asks"),
    [(1300, ""), (15_600, "12 times what is computed"), (1300 / 28.35, "28th part"), (325, "quarter of what")],
)
def test_a_weight_in_the_wrong_unit_is_asked_about(grams, asks):
    said = odd_weight(grams, Band(1300, 1200, 1400), "metric")
    assert asks in said
    assert bool(said) is bool(asks)


def test_an_airframe_against_its_limits():
    parts = [
        Carried("wing", Band(200_000, 190_000, 210_000), 2.2),
        Carried("engine", Band(60_000, 60_000, 60_000), 0.4),
        Carried("somewhere", Band(5_000, 4_000, 6_000), None),
    ]
    limits = Limits(datum_m=1.0, fore_m=1.6, aft_m=2.0, most_g=260_000)
    whole = whole_of(parts, limits)
    assert whole.weighs.grams == 265_000
    assert whole.weighs.high - 265_000 == pytest.approx(math.hypot(10_000, 1_000))
    assert whole.cg_m == pytest.approx((200 * 2.2 + 60 * 0.4) / 260)
    assert whole.moment_kg_m == pytest.approx(200 * 1.2 - 60 * 0.6)
    assert [holds for _, holds in against(whole, limits, "metric")] == [True, False]
    assert "5.00 kg more than it may weigh" in against(whole, limits, "metric")[1][0]
    ahead = against(whole_of(parts[1:2], limits), limits, "metric")[0]
    assert ahead == ("Its centre of gravity lies 1200 mm ahead of the forward limit.", False)
    assert whole_of([], limits).cg_m is None
    assert against(whole, Limits(), "metric") == []


def test_the_middle_of_a_shape_lies_where_its_place_says():
    board = Strips((StripAt(0, 0.4), StripAt(2, 0.4)))
    assert centroid(board) == (1.0, 0.0)
    assert middle_aft_m(board, Place(3.0)) == pytest.approx(3.2)
    assert middle_aft_m(board, Place(3.0, lies="fore and aft")) == pytest.approx(4.0)
    assert middle_aft_m(board, Place(3.0, lies="upright")) == pytest.approx(3.2)


def test_a_hinge_that_is_oblique_is_measured_square_to_it_and_the_balance_takes_the_moment_away():
    board = Strips((StripAt(0, 0.4), StripAt(2, 0.4)))
    assert behind_hinge_m(board, Hinge(0.05, 0.05, 0.04)) == pytest.approx(0.15)
    oblique = behind_hinge_m(board, Hinge(0.0, 0.2, 0.04))
    assert oblique == pytest.approx(0.1 * math.cos(math.atan2(0.2, 2.0)))
    found = balance_of([Weight("rudder", 2000, 150)])
    weight = balance_weight(found, 0, -40, 100)
    both = balance_of([Weight("rudder", 2000, 150), Weight("lead", weight, -40)])
    assert hinge_moment(both, 0) == pytest.approx(0)
    with pytest.raises(Refused, match="must stand ahead of the hinge"):
        balance_weight(found, 0, 5)


def test_a_reading_says_what_is_balanced_and_what_is_still_wanted():
    hinge = Hinge(0.05, 0.05, 0.04, 80)
    bare = judged(Read(100, 0.2), hinge, "metric")
    assert (bare.balanced_pct, bare.wanted_g, bare.holds) == (0, pytest.approx(400), False)
    half = judged(Read(50, 0.2, 250), hinge, "metric")
    assert half.balanced_pct == pytest.approx(50)
    assert "150 g more" in half.words
    assert judged(Read(20, 0.2, 400), hinge, "metric").holds
    assert judged(Read(-5, 0.2), hinge, "metric").words == "Nose heavy without a balance weight: none is wanted."


def frame(form=None, **given):
    task = tasks.task("frame", "glue", tasks.EPOXY, given)
    return tasks.replace(task, form=form) if form is not None else task


def wood_g(task):
    return sum(one.grams for one in recipe_of("frame").wood(task))


def test_wood_weighs_what_its_size_says_and_nothing_before_it_is_said():
    wing = Loft((Station(0.0, 1.0, section=naca4("0012")), Station(1.2, 1.0, section=naca4("0012"))))
    assert wood_g(frame(wing, rib_pitch_m=0.3)) == 0
    # Five ribs of 0.0822 m², four tenths of each wood of 3 mm.
    ribs = frame(wing, rib_pitch_m=0.3, thick_m=0.003, solid=0.4, density_kg_m3=500.0)
    assert wood_g(ribs) == pytest.approx(5 * 0.0822 * 0.4 * 0.003 * 500_000, rel=1e-3)
    assert wood_g(tasks.replace(ribs, given=tasks.replace(ribs.given, long_g=800.0))) == pytest.approx(
        wood_g(ribs) + 800
    )
    board = Strips((StripAt(0, 0.5), StripAt(2.0, 0.5)))
    assert wood_g(frame(board, rib_pitch_m=1.0, thick_m=0.004)) == pytest.approx(1.0 * 0.004 * 450_000)
    # A face that was said is all wood; length × width is the box round it.
    rings = (Piece("ring", 2, 0.8, 0.6, 0.01), Piece("plate", 3, thickness_m=0.01, face_m2=0.05))
    assert wood_g(frame(Pieces(rings), solid=0.25)) == pytest.approx(4500 * (2 * 0.48 * 0.25 + 3 * 0.05))
