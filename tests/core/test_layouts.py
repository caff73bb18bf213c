"""Layouts on the roll and what is used up: limits that need no source."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import translate
from shapely.geometry import Polygon
from tests.core import tasks
from tests.core.tasks import FOAM, GLASS, SANDWICH

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.laminate.nest import nest
from kiteloom.core.laminate.rolls import Cut, Roll, sound
from kiteloom.core.laminate.stack import Ply, Stack
from kiteloom.core.laminate.zones import Band, Zone
from kiteloom.core.need.resin import Losses
from kiteloom.core.need.supplies import supply_figures
from kiteloom.core.shape.flat import StripAt, Strips


def box(name, along, across, angle=0.0, quantity=1):
    return Cut(name, ((0, 0), (along, 0), (along, across), (0, across)), angle, quantity)


def test_what_fits_exactly_is_laid_side_by_side_and_a_warp_lies_along_the_roll():
    found = nest([box("plank", 2000, 250, quantity=4)], Roll(1000), 0)
    assert (found.length_mm, round(found.utilisation_pct)) == (2000, 100)
    # At 90° the warp runs across the piece: its length goes across the roll.
    across = nest([box("plank", 900, 250, angle=90)], Roll(1000), 0)
    assert across.length_mm == pytest.approx(250)
    assert nest([box("plank", 2000, 250, angle=90)], Roll(1000), 0).oversize == ("plank",)


def test_a_quarter_turn_is_taken_only_where_it_is_allowed():
    piece = box("long", 2000, 400, angle=90)
    assert nest([piece], Roll(1000), 0).oversize == ("long",)
    turned = nest([piece], Roll(1000, quarter_turns=True), 0)
    assert (turned.oversize, turned.length_mm) == ((), pytest.approx(2000))
    # Shorter along the roll when it is turned, and still in its place.
    assert nest([box("a", 900, 300)], Roll(1000, quarter_turns=True), 1).length_mm == pytest.approx(300, abs=1)


def test_nothing_and_one_piece_need_no_time_and_the_same_seed_gives_the_same():
    empty = nest([], Roll(1000), 5)
    assert (empty.length_mm, empty.utilisation_pct, empty.placements) == (0, 0, ())
    assert nest([box("one", 1234, 400)], Roll(1000, 10), 60).length_mm == 1234
    dice = random.Random(5)
    pieces = [Cut(str(n), ((0, 0), (dice.uniform(300, 900), 0), (200, dice.uniform(100, 400))), 0) for n in range(8)]
    first, again = (nest(pieces, Roll(1000, 5), 1, seed=3) for _ in range(2))
    # How far it comes in its second depends on what else the machine does; never behind the boxes.
    assert max(first.length_mm, again.length_mm) <= nest(pieces, Roll(1000, 5), 0).length_mm
    assert {(one.id, one.copy) for one in first.placements} == {(one.id, one.copy) for one in again.placements}


def test_very_many_pieces_keep_to_their_time_and_are_all_there():
    dice = random.Random(9)
    pieces = [box(str(n), dice.randint(60, 400), dice.randint(40, 300), quantity=2) for n in range(350)]
    found = nest(pieces, Roll(1270, 3), 1)
    assert len(found.placements) == 700
    assert found.utilisation_pct > 80
    assert sound([(one.id, Polygon(one.outline_mm)) for one in found.placements], Roll(1270, 3))


def test_a_layout_that_is_none_is_seen():
    square = Polygon([(0, 0), (100, 0), (100, 100), (0, 100)])
    beside = [("a", square), ("b", translate(square, 105))]
    assert sound(beside, Roll(100, 5))
    assert not sound(beside, Roll(100, 6))
    assert not sound(beside, Roll(90, 5))
    assert not sound([("a", translate(square, 0, -1)), ("b", translate(square, 105))], Roll(200, 5))
    for gap, width in ((-1, 1000), (1001, 1000), (0, 0)):
        with pytest.raises(Refused):
            Roll(width, gap)


def used(task, key="skin"):
    named = [(one.step, one) for one in recipe_of(key).supplies(task)]
    return {figure.label: figure.value for figure in supply_figures(named)}


@given(area=st.floats(0.2, 12), trim=st.floats(0, 60), sheet=st.floats(0, 60), bag=st.floats(0, 100))
@settings(max_examples=30, deadline=None)
def test_what_is_used_up_covers_what_is_laid_and_grows_with_each_loss(area, trim, sheet, bag):
    losses = Losses(trim_pct=trim, sheet_pct=sheet, bag_pct=bag)
    bare, found = used(tasks.skin(area, losses=Losses(0, 0, 0, 0, 0))), used(tasks.skin(area, losses=losses))
    assert bare["twill"] == pytest.approx(3 * area)
    assert bare["peel ply"] == pytest.approx(2 * area)
    assert bare["bag film"] == pytest.approx(3 * area)
    assert found["twill"] == pytest.approx(bare["twill"] * (1 + trim / 100))
    assert found["foam"] == pytest.approx(area * (1 + trim / 100))
    assert found["breather"] == pytest.approx(3 * area * (1 + sheet / 100))
    assert found["bag film"] == pytest.approx(3 * area * (1 + bag / 100))


def test_rolls_and_sheets_are_counted_where_their_size_is_known():
    wide = Ply(tasks.replace(GLASS, roll_width_m=1.25), 45)
    sheets = tasks.replace(FOAM, sheet_m2=1.5)
    found = used(tasks.skin(4.0, stack=Stack((wide, wide), sheets, 1), losses=Losses(0, 0, 0, 0, 0)))
    assert found["twill, off the roll"] == pytest.approx(8 / 1.25)
    assert found["foam, sheets"] == math.ceil(4 / 1.5)
    assert "foam, sheets" not in used(tasks.skin(4.0))


def test_a_panel_skinned_by_hand_has_its_zones_on_both_sides_and_no_bag():
    board = Strips((StripAt(0, 1.0), StripAt(2.0, 1.0)))
    plies = (Ply(GLASS, 45), Ply(GLASS, 0, "root"))
    task = tasks.task("foam", "resin", tasks.EPOXY, stack=Stack(plies, FOAM, 1, (Zone("root", Band(0, 0.5)),)))
    task = tasks.replace(task, form=board)
    assert recipe_of("foam").covers(task).plies == pytest.approx((4.0, 1.0))
    found = used(task, "foam")
    assert set(found) == {"foam", "twill", "peel ply"}
    assert found["twill"] == pytest.approx(1.08 * 5.0)
    whole = tasks.needs("foam", tasks.replace(task, stack=Stack(plies[:1], FOAM, 1)))["top/layup"]
    more = tasks.needs("foam", task)["top/layup"]
    assert more.laminate_g == pytest.approx(1.25 * whole.laminate_g)
    assert more.core_g == pytest.approx(whole.core_g)


def test_a_spar_cap_has_no_zones_and_says_so():
    zoned = Stack((Ply(GLASS, 0), Ply(GLASS, 0, "root")), zones=(Zone("root", Band(0, 1)),))
    asked = tasks.task("cap", "resin", tasks.EPOXY, {"length_m": 6.0, "width_m": 0.06}, stack=zoned)
    assert "its ply book can't have zones" in tasks.cant("cap", asked)
    plain = tasks.task("cap", "resin", tasks.EPOXY, {"length_m": 6.0, "width_m": 0.06}, stack=Stack(SANDWICH.plies))
    assert tasks.cant("cap", plain) == ""
    assert used(plain, "cap")["sealant tape"] == pytest.approx(2 * 1.25 * 2 * 6.06)
