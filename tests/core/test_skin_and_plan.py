"""A skin's plies, resin and steps, and the steps placed in time, checked by a walker of its own."""

import math
from dataclasses import replace
from datetime import date, datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.calendar import Shift, WorkingHours, minute_of, zone_of
from kiteloom.core.climate import Profile, day_curve
from kiteloom.core.cure import CureSystem, Stage, follow
from kiteloom.core.laminate import Ply, Stack, stack_code, stack_figures, true_angle, warp_direction
from kiteloom.core.materials import Cloth, CoreSheet
from kiteloom.core.mixing import Losses
from kiteloom.core.problems import Refused
from kiteloom.core.recipes.sandwich_skin import SkinJob, resin_needs, steps
from kiteloom.core.schedule.place import After, Mixed, Step, place
from kiteloom.core.shape import Panel, Planform, naca4

VIENNA = zone_of("Europe/Vienna")
GLASS = Cloth("twill", 280, 2.56, 0.58, balanced=True)
TAPE = Cloth("tape", 200, 2.56, 0.6)
FOAM = CoreSheet("foam", 8, 75, 120)
EPOXY = CureSystem(55, 23, (Stage("gel", 4), Stage("peel", 10), Stage("sand", 18)), min_c=12)
SANDWICH = Stack((Ply(GLASS, 45), Ply(GLASS, 0), Ply(GLASS, 45)), FOAM, 2)
JOB = SkinJob(6.5, SANDWICH, EPOXY, 1.15, Losses())
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
    panel = Panel(Planform(7.2, 1.12, 0.62, 0.12), naca4("4415"), naca4("4412"))
    assert [(-side, aft) for side, aft in panel.outline("left")] == list(panel.outline("right"))
    assert panel.outline("left")[1] == (-7.2, 0.12)


def test_a_stack_without_plies_or_with_too_steep_an_angle_is_refused():
    with pytest.raises(Refused, match="plies is empty"):
        Stack(())
    with pytest.raises(Refused, match="angle is 400°; it can't be above 180°"):
        Ply(GLASS, 400)
    with pytest.raises(Refused, match="plies outside the core is 4; it can't be above 3"):
        replace(SANDWICH, core_after=4)


def test_resin_to_mix_is_what_stays_in_the_skin_and_the_named_losses():
    needs = resin_needs(JOB)
    assert list(needs) == ["skin-1/layup", "core/bed", "skin-2/layup"]
    stays = sum(need.laminate_g + need.core_g for need in needs.values())
    assert stays == pytest.approx(6.5 * stack_figures(SANDWICH, 1.15).resin_g_m2)
    outer = needs["skin-1/layup"]
    before_cups = outer.laminate_g * 1.08 + 6.5 * 90
    assert outer.total_g == pytest.approx(before_cups / 0.95)
    lossless = resin_needs(replace(JOB, losses=Losses(0, 0, 0)))
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
    found = steps(replace(JOB, stack=stack))
    assert " ".join(step.key for step in found) == keys
    earlier = set()
    for step in found:
        assert {link.step for link in step.after} <= earlier
        earlier.add(step.key)


def walk(plan, asked, hours, profile, start):
    """Check a plan against the rules, knowing nothing of how it was placed."""
    open_hours = hours.intervals(start, start + 200 * 1440)
    by_key = {placed.step.key: placed for placed in plan.placed}
    busy_until = start
    for step in asked:
        placed = by_key[step.key]
        if placed.done:
            continue
        worked = 0
        for begins, ends in placed.pieces:
            assert any(opens <= begins and ends <= closes for opens, closes in open_hours), "works while closed"
            worked += ends - begins
        assert worked == math.ceil(step.minutes / 5) * 5
        assert len(placed.pieces) == 1 or step.may_pause
        assert placed.start >= busy_until, "the one crew is in two places"
        assert placed.start % 5 == 0
        busy_until = placed.end
        for link in step.after:
            before = by_key[link.step]
            stage = before.step.wait_stage if link.until == "wait" else link.until
            if stage in (None, "end"):
                assert placed.start >= before.end
            else:
                had = follow(before.step.cure, before.mixed, profile).at(placed.start - before.mixed)
                assert had >= before.step.cure.hours(stage) - 1e-6, f"{step.key} starts before {stage}"


@settings(max_examples=40, deadline=None)
@given(
    low=st.floats(2, 18),
    swing=st.floats(0, 15),
    begins=st.integers(0, 300 * 24 * 12),
    closes=st.integers(14 * 60, 20 * 60),
    area=st.floats(0.5, 8),
)
def test_every_plan_keeps_hours_order_and_true_cures(low, swing, begins, closes, area):
    start = START + 5 * begins
    profile = day_curve(low, low + swing, START - 1440, 500)
    hours = WorkingHours(VIENNA, tuple(Shift(d, 540, closes) for d in range(6)), frozenset({date(2026, 6, 4)}))
    asked = steps(replace(JOB, area_m2=area))
    plan = place(asked, start, hours, profile)
    if plan.unplaced:
        whys = " ".join(left.why for left in plan.unplaced)
        assert "does not reach “peel”" in whys or "longest stretch of working hours" in whys
    else:
        walk(plan, asked, hours, profile, start)
        assert plan.finish == max(placed.ready for placed in plan.placed)


def test_nothing_could_start_sooner_than_what_is_said_to_hold_it():
    plan = place(steps(JOB), START, DAYS, Profile.steady(20))
    because = {placed.step.key: (placed.because.kind, placed.because.of) for placed in plan.placed}
    assert because["prepare"] == ("start", "the start that was asked for")
    assert because["skin-1/layup"] == ("after", "prepare")
    assert because["skin-1/peel"][0] in ("cure", "hours")
    warm = place(steps(JOB), START, DAYS, Profile.steady(30))
    assert warm.finish < plan.finish


def test_a_step_longer_than_any_working_day_is_left_out_with_its_followers():
    short = WorkingHours(VIENNA, tuple(Shift(d, 540, 600) for d in range(6)))
    plan = place(steps(JOB), START, short, Profile.steady(20))
    assert [placed.step.key for placed in plan.placed] == ["prepare"]  # it may pause overnight
    assert "longest stretch of working hours is 60 min" in plan.unplaced[0].why
    assert plan.unplaced[1].why == "it comes after “Lay and bag the outer skin”, which can't be placed"
    assert plan.finish is None


def test_a_shop_too_cold_to_cure_names_the_step_that_never_does():
    plan = place(steps(JOB), START, DAYS, Profile.steady(9))
    assert plan.unplaced[0].why == (
        "“Lay and bag the outer skin” does not reach “peel” within 60 days at these temperatures"
    )


def test_no_working_hours_at_all_is_said():
    plan = place(steps(JOB), START, WorkingHours(VIENNA, ()), Profile.steady(20))
    assert plan.unplaced[0].why == "the shop has no working hours; set them first"


def test_a_kept_batch_takes_the_place_of_the_plan():
    mixed = START - 20 * 60
    plan = place(steps(JOB), START, DAYS, Profile.steady(23), {"core/bed": Mixed(mixed, EPOXY)})
    first, second = plan.placed[:2]
    assert (first.step.key, first.done, first.ready) == ("core/bed", True, pytest.approx(mixed + 600))
    assert (second.step.key, second.start) == ("skin-2/layup", START)


def test_a_step_that_waits_for_a_later_stage_than_its_neighbour():
    glue = Step("glue", "Glue", 30, cure=EPOXY, wait_stage="gel")
    clean, sand = (
        Step("clean", "Clean", 10, after=(After("glue"),)),
        Step("sand", "Sand", 10, after=(After("glue", "sand"),)),
    )
    always = WorkingHours(VIENNA, tuple(Shift(d, 0, 1440) for d in range(7)))
    found = {p.step.key: p for p in place((glue, clean, sand), START, always, Profile.steady(23)).placed}
    assert found["clean"].start == found["glue"].end + 4 * 60
    assert found["sand"].start == found["glue"].end + 18 * 60


def test_work_that_may_pause_is_taken_up_again_in_the_morning():
    late = minute_of(datetime(2026, 5, 14, 17, 0, tzinfo=VIENNA))
    always = Step("sand", "Sand", 150, may_pause=True)
    found = place((always,), late, DAYS, Profile.steady(20)).placed[0]
    assert [ends - begins for begins, ends in found.pieces] == [60, 90]
    assert found.pieces[1][0] == minute_of(datetime(2026, 5, 15, 9, 0, tzinfo=VIENNA))
    in_one_go = place((replace(always, may_pause=False),), late, DAYS, Profile.steady(20)).placed[0]
    assert (in_one_go.start, in_one_go.because.kind) == (found.pieces[1][0], "hours")


@pytest.mark.parametrize(
    ("start", "length"),
    [("2026-03-28T20:00", 540), ("2026-10-24T20:00", 540)],
    ids=["the night the clocks go forward", "the night they go back"],
)
def test_a_cure_takes_its_true_hours_through_a_clock_change(start, length):
    always = WorkingHours(VIENNA, tuple(Shift(d, 0, 1440) for d in range(7)))
    glue = Step("glue", "Glue", 60, cure=CureSystem(55, 23, (Stage("handle", 8),)), wait_stage="handle")
    began = minute_of(datetime.fromisoformat(start).replace(tzinfo=VIENNA))
    found = place((glue,), began, always, Profile.steady(23)).placed[0]
    assert found.ready - began == pytest.approx(length)
    local = datetime.fromtimestamp(found.ready * 60, VIENNA)
    assert local.hour == {"03": 6, "10": 4}[start[5:7]]  # nine hours on, by a clock that jumped in between


def test_an_estimate_says_what_it_was_made_of_in_the_shops_units():
    layup = next(step for step in steps(JOB) if step.key == "skin-1/layup")
    assert layup.minutes == layup.estimate.minutes == pytest.approx(50 + 8 * 6.5 * 2)
    assert layup.estimate.words(3, "metric") == "50 min fixed, 104 min for 6.500 m² in 2 plies, 3 people"
    assert layup.estimate.words(1, "us") == "50 min fixed, 104 min for 69.97 ft² in 2 plies, 1 person"
    assert all(step.caution for step in steps(JOB))
