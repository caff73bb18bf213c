"""Cups, pump strokes and the simulated scale, at their edges."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.base.problems import Refused
from kiteloom.core.mix.cups import Using, largest_cup_g, smallest_cup_g, split
from kiteloom.core.mix.exotherm import HotMix, PotLife, warm_up, working_life
from kiteloom.core.mix.pumps import per_stroke, strokes_for
from kiteloom.core.mix.ratio import MixSystem, Ratio, judge, masses
from kiteloom.standins.scale import SimulatedScale, Unplugged

EPOXY = MixSystem(Ratio(100, 28), 1.14, 0.96, 3)
FAST = HotMix(PotLife(18, 100, 23), 55)


def test_one_cup_is_enough_where_it_is_used_up_at_once():
    found = split(EPOXY, FAST, 120, 20, Using(60, 5))
    assert len(found.cups) == 1
    assert (found.held_by, found.cups[0].mix_at_min) == ("", 0)
    assert found.cups[0].parts.total_g == pytest.approx(125)


def test_a_warmer_shop_a_slower_crew_and_a_cooler_limit_each_ask_for_more_cups():
    plain = len(split(EPOXY, FAST, 2000, 20, Using(30)).cups)
    assert len(split(EPOXY, FAST, 2000, 28, Using(30)).cups) > plain
    assert len(split(EPOXY, FAST, 2000, 20, Using(15)).cups) > plain
    cool = split(EPOXY, FAST, 2000, 20, Using(30, peak_limit_c=24))
    assert len(cool.cups) > plain
    assert cool.held_by == "heat"
    assert all(cup.peak_c <= 24.1 for cup in cool.cups)


def test_the_largest_cup_is_one_that_does_and_a_little_more_does_not():
    using = Using(25, life_share=0.6, peak_limit_c=200)
    largest = largest_cup_g(FAST, 22, using)
    assert largest / 25 <= 0.6 * warm_up(FAST, largest, 22).working_min
    more = largest * 1.02
    assert more / 25 > 0.6 * warm_up(FAST, more, 22).working_min


@pytest.mark.parametrize(("tolerance", "step", "least"), [(5, 1, 91.4), (3, 1, 152.4), (3, 0.1, 15.2), (10, 0.5, 22.9)])
def test_a_finer_scale_or_a_wider_tolerance_allows_a_smaller_cup(tolerance, step, least):
    assert smallest_cup_g(MixSystem(Ratio(100, 28), tolerance_pct=tolerance), step) == pytest.approx(least, abs=0.05)
    # In a mix of more hardener than resin it is the resin that is the smaller part.
    assert smallest_cup_g(MixSystem(Ratio(28, 100), tolerance_pct=tolerance), step) == pytest.approx(least, abs=0.05)


def test_so_many_cups_that_it_must_be_a_typing_error_is_refused():
    with pytest.raises(Refused, match="; at most 500 are planned"):
        split(EPOXY, FAST, 100_000, 25, Using(5))


@given(st.floats(10, 30), st.floats(-0.05, 0.2))
def test_a_room_that_warms_shortens_a_cups_life_and_one_that_cools_lengthens_it(start, slope):
    steady = working_life(FAST, 200, lambda _: start)
    changing = working_life(FAST, 200, lambda minute: start + slope * min(minute, 120))
    if slope > 1e-3:
        assert changing < steady
    elif slope < -1e-3:
        assert changing > steady


@settings(max_examples=80)
@given(st.floats(50, 2000), st.floats(3, 30), st.floats(1, 12), st.floats(0.1, 1))
def test_strokes_are_whole_give_about_the_cup_and_are_judged_as_they_are(total, resin_stroke, hardener_stroke, k):
    system = MixSystem(Ratio(1, k), tolerance_pct=5)
    wanted = masses(system, total_g=total)
    found = strokes_for(system, wanted, resin_stroke, hardener_stroke)
    assert found.resin >= 1
    assert found.hardener >= 1
    assert abs(found.resin_g - wanted.resin_g) <= resin_stroke + 1e-5
    judged = judge(system, found.resin_g, found.hardener_g)
    assert judged.deviation_pct == pytest.approx(found.deviation_pct, abs=0.01)


@pytest.mark.parametrize(("strokes", "grams", "named"), [(2, 16, "weigh 3"), (3, 0, "above 0"), (200, 9, "above 100")])
def test_a_pump_is_known_by_three_strokes_that_weigh_something(strokes, grams, named):
    with pytest.raises(Refused, match=named):
        per_stroke(strokes, grams)


class Seconds:
    at = 0.0

    def __call__(self):
        return self.at


def scale(**more):
    clock = Seconds()
    return SimulatedScale(clock=clock, **more), clock


def test_the_scale_counts_in_its_steps_and_its_noise_is_smaller_than_a_step():
    device, clock = scale(step_g=0.5)
    device.put_on(100)
    clock.at = 10
    shown = []
    for _ in range(60):
        clock.at += 0.2
        shown.append(device.read()[0])
    assert all(abs(value / 0.5 - round(value / 0.5)) < 1e-9 for value in shown)
    assert max(shown) - min(shown) <= 1.0
    assert sum(shown) / len(shown) == pytest.approx(100, abs=0.3)


def test_the_scale_lags_what_is_poured_and_catches_up():
    device, clock = scale()
    device.pour(20)
    clock.at = 5
    flowing, steady = device.read()
    assert not steady
    assert 80 < flowing < 100
    device.pour(0)
    clock.at = 8
    settled, steady = device.read()
    assert steady
    assert settled == pytest.approx(100, abs=0.4)


def test_the_scale_drifts_slowly_until_it_is_set_to_zero():
    device, clock = scale()
    clock.at = 3600
    assert device.read()[0] == pytest.approx(1.8, abs=0.2)
    device.tare()
    assert device.read()[0] == pytest.approx(0, abs=0.15)


def test_a_scale_without_a_plug_answers_nothing_and_weighs_on_when_it_is_back():
    device, clock = scale()
    device.put_on(50)
    clock.at = 5
    device.plugged = False
    for use in (device.read, device.tare):
        with pytest.raises(Unplugged):
            use()
    device.plugged = True
    clock.at = 6
    assert device.read()[0] == pytest.approx(50, abs=0.3)


def test_standing_and_stirring_count_against_a_cups_life():
    """Sixty minutes for 100 g at 20 °C, ten grams a minute: with half an hour to stand a cup must be smaller."""
    slow = HotMix(PotLife(60, 100, 20), 51.2)
    plain, stood = (
        split(EPOXY, slow, 900, 20, Using(10, stand_min=stand, stir_min=3 * (stand > 0))) for stand in (0, 30)
    )
    assert stood.largest_g < 0.7 * plain.largest_g
    for cups in (plain, stood):
        for cup in cups.cups:
            assert cup.empty_at_min - cup.mix_at_min <= 0.75 * (cup.use_by_min - cup.mix_at_min) + 0.1
    first, second = stood.cups[:2]
    assert second.mix_at_min + 33 == pytest.approx(first.empty_at_min)  # ready when the last is empty


def test_the_truest_strokes_lie_within_a_stroke_either_way():
    found = strokes_for(EPOXY, masses(EPOXY, resin_g=100), 5.0, 1.3)
    assert (found.resin, found.hardener) == (21, 23)
