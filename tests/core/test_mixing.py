"""Ratios, verdicts and losses beyond the handbook checks."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.base.problems import Refused
from kiteloom.core.mix.ratio import ImpossibleMix, MixSystem, Ratio, hardener_band, judge, masses, top_up
from kiteloom.core.need.resin import Losses, resin_need

AMINE = MixSystem(Ratio(100, 28), 1.14, 0.96, 3)
parts = st.floats(0.5, 500)
grams = st.floats(0.1, 5000)


@given(resin=parts, hardener=parts, total=grams)
def test_both_parts_make_up_the_cup_in_the_ratio(resin, hardener, total):
    found = masses(MixSystem(Ratio(resin, hardener)), total_g=total)
    assert found.total_g == pytest.approx(total)
    assert found.hardener_g / found.resin_g == pytest.approx(hardener / resin)


@given(resin=parts, hardener=parts, rho_r=st.floats(0.5, 3), rho_h=st.floats(0.5, 3), total=grams)
def test_a_ratio_by_volume_poured_by_weight_is_right_by_volume(resin, hardener, rho_r, rho_h, total):
    found = masses(MixSystem(Ratio(resin, hardener, "volume"), rho_r, rho_h), total_ml=total)
    assert found.resin_ml + found.hardener_ml == pytest.approx(total)
    assert found.hardener_ml / found.resin_ml == pytest.approx(hardener / resin)


@given(resin=grams, hardener=grams)
def test_a_top_up_only_ever_adds_and_always_ends_within_tolerance(resin, hardener):
    short = top_up(0.28, resin, hardener)
    if short is None:
        return
    assert short.grams > 0
    added = {"resin": (resin + short.grams, hardener), "hardener": (resin, hardener + short.grams)}[short.component]
    assert judge(AMINE, *added).verdict == "in"


@given(resin=grams)
def test_the_bands_edges_are_just_within_tolerance(resin):
    band = hardener_band(AMINE, resin)
    for edge in (band.from_g, band.to_g):
        assert judge(AMINE, resin, edge).deviation_pct == pytest.approx(3 if edge > band.target_g else -3, abs=1e-3)


def test_a_peroxide_cured_mix_has_a_range_and_no_top_up():
    polyester = MixSystem(Ratio(100, 1.5), tolerance_pct=30, stoichiometric=False)
    assert judge(polyester, 100, 1.8).verdict == "in"
    over = judge(polyester, 100, 3)
    assert (over.verdict, over.top_up) == ("out", None)
    assert "no top-up" in over.advice


def test_hardener_alone_is_out_and_says_how_much_resin():
    found = judge(AMINE, 0, 28)
    assert (found.deviation_pct, found.verdict, found.top_up.component) == (None, "out", "resin")
    assert found.advice.startswith("There is no resin in the cup. Add 100.0 g resin")


def test_advice_calls_the_parts_by_their_lids_and_uses_the_shops_unit():
    advice = judge(AMINE, 100, 20, "us, oz", ("Tarn 210 A", "tarn B")).advice
    assert advice == "Tarn B is 28.6 % under. Add 0.28 oz tarn B, only while none of this cup has been used."


@pytest.mark.parametrize(
    ("resin", "hardener", "named"),
    [
        (-1, 5, "resin_g is -1 g"),
        (5, -1, "hardener_g is -1 g"),
        (0, 0, "both 0 g"),
        (float("nan"), 1, "ordinary number"),
    ],
)
def test_masses_no_cup_can_hold_are_impossible(resin, hardener, named):
    with pytest.raises(ImpossibleMix, match=named):
        top_up(0.28, resin, hardener)


def test_what_a_sheet_leaves_out_is_asked_for_only_where_it_is_needed():
    assert masses(MixSystem(Ratio(100, 28)), total_g=128).resin_ml is None
    assert MixSystem(Ratio(100, 28)).by_volume is None
    with pytest.raises(Refused, match="hardener_density_g_ml is missing"):
        MixSystem(Ratio(2, 1, "volume"), resin_density_g_ml=1.1)
    with pytest.raises(Refused, match="resin_density_g_ml is missing"):
        masses(MixSystem(Ratio(100, 28)), total_ml=100)
    with pytest.raises(Refused, match="tolerance_pct is missing"):
        judge(MixSystem(Ratio(100, 28)), 100, 28)


@given(area=st.floats(0.1, 20), laminate=st.floats(10, 2000), core=st.floats(0, 500))
def test_every_loss_adds_and_a_bag_adds_more(area, laminate, core):
    plies, faces = area * laminate, area * core
    none = resin_need(plies, faces, Losses(0, 0, 0), area).total_g
    assert none == pytest.approx(plies + faces)
    for losses in (Losses(5, 0, 0), Losses(0, 50, 0), Losses(0, 0, 5)):
        assert resin_need(plies, faces, losses, area).total_g > none
    bagged, pressed = (resin_need(plies, faces, Losses(), bled).total_g for bled in (area, 0.0))
    assert bagged > pressed


@pytest.mark.parametrize("losses", [(-1, 0, 0), (0, -1, 0), (0, 0, 100), (101, 0, 0), (0, 0, float("inf"))])
def test_losses_that_cannot_be_are_refused(losses):
    with pytest.raises(Refused):
        Losses(*losses)
