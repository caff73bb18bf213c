"""A skin's plies, resin and steps."""

import math
from dataclasses import replace
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.tasks import FOAM, GLASS, SANDWICH, needs, skin, steps

from kiteloom.core.base.calendar import Shift, WorkingHours, minute_of, zone_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes.sandwich_skin import BED_G_M2
from kiteloom.core.laminate.stack import (
    Ply,
    Stack,
    is_balanced,
    is_symmetric,
    laid_by_hand,
    stack_code,
    stack_figures,
    true_angle,
    warp_direction,
)
from kiteloom.core.need.resin import Losses
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4
from kiteloom.core.stores.materials import Cloth

VIENNA = zone_of("Europe/Vienna")
TAPE = Cloth("tape", 200, 2.56, 0.6)
DAYS = WorkingHours(VIENNA, tuple(Shift(d, 540, 1080) for d in range(6)))
START = minute_of(datetime(2026, 5, 14, 9, 20, tzinfo=VIENNA))


@given(angle=st.floats(-180, 180), hand=st.sampled_from(["left", "right"]))
def test_mirroring_twice_is_no_change_and_fibres_lie_as_the_mirror_image(angle, hand):
    once = true_angle(angle, hand)
    assert -90 < once <= 90
    assert math.isclose(true_angle(once, hand) % 180, angle % 180, abs_tol=1e-6) or math.isclose(
        abs(true_angle(once, hand) % 180 - angle % 180), 180, abs_tol=1e-6
    )
    (left, aft), (right, same_aft) = warp_direction(angle, "left"), warp_direction(angle, "right")
    assert (left, aft) == (-right, same_aft)


def test_the_right_hand_part_is_the_left_ones_mirror_image():
    book = Stack((Ply(TAPE, 30), Ply(TAPE, 135), Ply(TAPE, 90)))
    assert (stack_code(book, "left"), stack_code(book, "right")) == ("[30/-45/90]", "[-30/45/90]")
    loft = Loft((Station(0, 1.12, 0, section=naca4("4415")), Station(7.2, 0.62, 0.12, section=naca4("4412"))))
    assert [(-side, aft) for side, aft in loft.outline("left")[0]] == list(loft.outline("right")[0])
    assert loft.outline("left")[0][1] == (-7.2, 0.12)


def test_a_stack_without_plies_or_with_too_steep_an_angle_is_refused():
    with pytest.raises(Refused, match="plies is empty"):
        Stack(())
    with pytest.raises(Refused, match="angle is 400°; it can't be above 180°"):
        Ply(GLASS, 400)
    with pytest.raises(Refused, match="plies outside the core is 4; it can't be above 3"):
        replace(SANDWICH, core_after=4)


def test_resin_to_mix_is_what_stays_in_the_skin_and_the_named_losses():
    takes = needs("skin", skin())
    assert list(takes) == ["skin-1/layup", "core/bed", "skin-2/layup"]
    stays = sum(need.laminate_g + need.core_g for need in takes.values())
    # What a cured skin is wetted with to bed a core on it is in no laminate's figures.
    assert stays == pytest.approx(6.5 * (stack_figures(SANDWICH, 1.15).resin_g_m2 + BED_G_M2))
    outer = takes["skin-1/layup"]
    before_cups = outer.laminate_g * 1.08 + 6.5 * 90
    assert outer.total_g == pytest.approx(before_cups / 0.95)
    lossless = needs("skin", skin(losses=Losses(0, 0, 0)))
    assert sum(need.total_g for need in lossless.values()) == pytest.approx(stays)


@pytest.mark.parametrize(
    ("stack", "keys"),
    [
        (SANDWICH, "prepare skin-1/layup skin-1/peel core/bed skin-2/layup skin-2/peel trim"),
        (Stack((Ply(GLASS, 45),)), "prepare skin-1/layup skin-1/peel trim"),
        (Stack((Ply(GLASS, 45),), FOAM, 1), "prepare skin-1/layup skin-1/peel core/bed trim"),
        (Stack((Ply(GLASS, 45),), FOAM, 0), "prepare core/bed skin-2/layup skin-2/peel trim"),
    ],
    ids=["sandwich", "one skin", "no inner skin", "no outer skin"],
)
def test_steps_follow_from_the_stack_under_stable_keys(stack, keys):
    found = steps("skin", skin(stack=stack))
    assert " ".join(step.key for step in found) == keys
    earlier = set()
    for step in found:
        assert {link.step for link in step.after} <= earlier
        earlier.add(step.key)


def test_an_estimate_says_what_it_was_made_of_in_the_shops_units():
    layup = next(step for step in steps("skin", skin()) if step.key == "skin-1/layup")
    assert layup.minutes == layup.estimate.minutes == pytest.approx(50 + 8 * 6.5 * 2)
    assert layup.estimate.words(3, "metric") == "50 min fixed, 104 min for 6.500 m² in 2 plies, 3 people"
    assert layup.estimate.words(1, "us") == "50 min fixed, 104 min for 69.97 ft² in 2 plies, 1 person"
    assert all(step.caution for step in steps("skin", skin()))


def test_a_stitched_cloth_makes_no_symmetric_stack_and_a_name_alone_no_symmetric_or_balanced_one():
    """By classical theory: stitched ±45 about a core has B16 / (A11·t) of some tenths, woven none."""
    stitched = replace(GLASS, balanced=True, stitched=True)
    assert not is_symmetric(Stack((Ply(stitched, 45), Ply(stitched, 45)), FOAM, 1))
    assert is_symmetric(Stack((Ply(replace(stitched, stitched=False), 45),) * 2, FOAM, 1))
    wetter, carbon = replace(GLASS, fibre_weight_fraction=0.4), replace(GLASS, fibre_density_g_cm3=1.8, balanced=False)
    assert not is_symmetric(Stack((Ply(GLASS, 0), Ply(wetter, 0))))
    one_way = replace(GLASS, balanced=False)
    assert is_balanced(Stack((Ply(one_way, 45), Ply(one_way, -45))))
    assert not is_balanced(Stack((Ply(one_way, 45), Ply(carbon, -45))))


def test_a_core_face_that_no_ply_lies_on_drinks_nothing():
    both, one = (stack_figures(Stack((Ply(GLASS, 0),), FOAM, after), 1.15).resin_g_m2 for after in (0, 1))
    assert both == one == stack_figures(Stack((Ply(GLASS, 0),)), 1.15).resin_g_m2 + FOAM.resin_uptake_g_m2_per_side


def test_what_is_laid_by_hand_is_wetter_than_under_a_bag():
    dry, wet = SANDWICH, laid_by_hand(SANDWICH)
    assert stack_figures(wet, 1.15).resin_g_m2 > 1.2 * stack_figures(dry, 1.15).resin_g_m2
    assert stack_figures(wet, 1.15).fibre_g_m2 == stack_figures(dry, 1.15).fibre_g_m2
