"""What must hold of weights, balances and hinges for whatever is weighed."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core import tasks
from tests.core.tasks import SANDWICH, replace

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import RECIPES, recipe_of
from kiteloom.core.build.stays import what_stays
from kiteloom.core.shape.flat import StripAt, Strips
from kiteloom.core.weight.balance import Weight, balance_of
from kiteloom.core.weight.hinge import Hinge, Read, behind_hinge_m, judged
from kiteloom.core.weight.part import (
    OFF,
    Band,
    Done,
    Stays,
    explained,
    fibre_share,
    odd_weight,
    predicted,
    stands,
    stays_figures,
)
from kiteloom.core.weight.whole import Carried, Limits, against, whole_of

grams = st.floats(1, 50_000)
stays = st.builds(
    Stays, st.sampled_from("abc"), st.sampled_from(sorted(OFF)), st.sampled_from("xy"), grams, st.just("r")
)
rows = st.lists(stays, max_size=6).map(tuple)


@pytest.mark.parametrize("recipe", [recipe for recipe in RECIPES if recipe.roles], ids=lambda recipe: recipe.key)
def test_no_job_leaves_more_of_a_mix_on_its_part_than_was_mixed(recipe):
    task = tasks.example(recipe)
    needs = recipe.needs(task)
    found = what_stays(task, needs, recipe.covers(task) if recipe.laid_up else None)
    assert {one.step for one in found} <= {step.key for step in recipe.steps(task)}
    mixed = sum(need.takes.total_g for need in needs)
    stuck = sum(one.grams for one in found if one.kind not in ("cloth", "core"))
    assert stuck <= mixed
    assert all(one.grams > 0 and one.kind in OFF for one in found)


@given(st.floats(100, 900), st.floats(0.4, 0.7))
def test_heavier_cloth_and_wetter_plies_make_a_heavier_skin(weight, share):
    def total(g_m2, held):
        plies = tuple(
            replace(ply, cloth=replace(ply.cloth, areal_weight_g_m2=g_m2, fibre_weight_fraction=held))
            for ply in SANDWICH.plies
        )
        task = tasks.skin(2.0, stack=replace(SANDWICH, plies=plies))
        recipe = recipe_of("skin")
        return predicted(what_stays(task, recipe.needs(task), task.covered())).grams

    assert total(weight + 10, share) > total(weight, share)
    assert total(weight, share - 0.05) > total(weight, share)


@given(
    st.lists(st.builds(Done, rows, st.sets(st.sampled_from("abc")).map(frozenset)), min_size=1, max_size=5),
    grams,
    st.data(),
)
def test_after_a_weighing_nothing_before_it_counts(jobs, weighed, data):
    n = data.draw(st.integers(0, len(jobs) - 1))
    jobs[n] = replace(jobs[n], after_g=weighed)
    now, whole = stands(jobs)
    later = jobs[n + 1 :]
    assert now.grams == pytest.approx(
        weighed + sum(s.grams for job in later for s in job.stays if s.step in job.finished)
    )
    assert whole.grams == pytest.approx(weighed + sum(s.grams for job in later for s in job.stays))
    assert now.low - 1e-6 <= now.grams <= now.high + 1e-6
    assert now.grams <= whole.grams + 1e-6
    if not later:
        assert whole == Band(weighed, weighed, weighed)


@given(
    rows.filter(lambda found: len(found) > 0), st.floats(0.05, 4), st.floats(0, 30), st.sampled_from(["metric", "us"])
)
def test_whatever_was_added_is_said_with_what_was_computed(stays_of, times, area, units):
    band = predicted(stays_of)
    said, inside = explained(stays_of, band.grams * times, area, units)
    assert said.startswith("It added ")
    assert said.endswith((".", "?"))
    assert inside is (band.low <= band.grams * times <= band.high)
    assert (", as computed (" in said) is inside
    figures = stays_figures(stays_of)
    assert sum(figure.value for figure in figures) == pytest.approx(band.grams)


@given(grams, st.floats(0.001, 1000))
def test_only_what_is_three_times_off_is_asked_about(computed, times):
    asked = odd_weight(computed * times, Band(computed, computed, computed), "metric")
    if abs(times - 3) > 1e-6 and abs(times - 1 / 3) > 1e-6:
        assert bool(asked) is (times > 3 or times < 1 / 3)
    assert odd_weight(computed, Band(0, 0, 0), "metric") == ""


@given(st.floats(10, 900), st.floats(0.3, 0.7), st.floats(0, 900))
def test_the_fibre_share_is_found_from_what_it_made(cloth, share, core):
    rows_of = (Stays("a", "cloth", "c", cloth, ""), Stays("a", "core", "f", core, ""))
    assert fibre_share(rows_of, cloth / share + core) == pytest.approx(share, rel=1e-6)
    assert fibre_share(rows_of, (cloth + core) * 0.99) is None
    assert fibre_share(rows_of[1:], 500) is None


carried = st.lists(st.tuples(st.floats(1, 5e5), st.floats(-2, 12)), min_size=1, max_size=8)


@given(carried, st.floats(-3, 3), st.floats(0.1, 10))
def test_the_centre_of_gravity_goes_where_all_goes_and_not_with_the_datum(placed, shift, scale):
    def whole(move=0.0, times=1.0, datum=0.0):
        rows_of = [Carried(str(n), Band(*(3 * (g * times,))), x + move) for n, (g, x) in enumerate(placed)]
        return whole_of(rows_of, Limits(datum_m=datum))

    here = whole()
    assert whole(shift).cg_m == pytest.approx(here.cg_m + shift, abs=1e-6)
    assert whole(0, scale).cg_m == pytest.approx(here.cg_m, abs=1e-6)
    assert whole(0, 1, shift).cg_m == here.cg_m
    moved = here.moment_kg_m - shift * here.weighs.grams / 1000
    assert whole(0, 1, shift).moment_kg_m == pytest.approx(moved, abs=1e-3)
    assert min(x for _, x in placed) - 1e-6 <= here.cg_m <= max(x for _, x in placed) + 1e-6


@pytest.mark.parametrize(
    ("limits", "words", "holds"),
    [
        (Limits(fore_m=2.2), "Its centre of gravity lies 200 mm ahead of the forward limit.", False),
        (Limits(fore_m=1.9), "Its centre of gravity lies within its limits.", True),
        (Limits(aft_m=1.9), "Its centre of gravity lies 100 mm behind the aft limit.", False),
        (Limits(fore_m=1.9, aft_m=2.1), "Its centre of gravity lies within its limits, 50 % of the way aft.", True),
        (Limits(most_g=90_000), "It is 10.00 kg more than it may weigh.", False),
        (Limits(most_g=100_000), "It is 0 g below what it may weigh.", True),
    ],
)
def test_each_limit_is_told_by_itself(limits, words, holds):
    all_of_it = whole_of([Carried("all", Band(100_000, 100_000, 100_000), 2.0)], limits)
    assert against(all_of_it, limits, "metric") == [(words, holds)]


@given(st.floats(0.2, 4), st.floats(0.1, 0.9), st.floats(0, 0.09), st.floats(0.001, 0.05))
def test_a_hinge_farther_aft_leaves_less_behind_it(span, chord, hinge, more):
    plank = Strips((StripAt(0, chord), StripAt(span, chord)))
    near, far = (behind_hinge_m(plank, Hinge(at, at, 0.05)) for at in (hinge, hinge + more))
    assert near - far == pytest.approx(more, abs=1e-9)


@given(st.floats(1, 5000), st.floats(0.01, 1), st.floats(0.01, 0.3), st.floats(10, 150))
def test_the_balance_weight_that_is_asked_for_holds_and_less_does_not(reads, arm, ahead, wanted):
    hinge = Hinge(0.05, 0.05, ahead, wanted)
    bare = judged(Read(reads, arm), hinge, "metric")
    assert bare.balanced_pct == 0
    moment = reads * arm

    def with_weight(mounted):
        left = moment - mounted * ahead
        return judged(Read(left / arm, arm, mounted), hinge, "metric")

    assert with_weight(bare.wanted_g).holds
    assert not with_weight(bare.wanted_g * 0.9 * (1 - 1 / wanted)).holds or wanted < 11
    assert with_weight(bare.wanted_g / 2).balanced_pct == pytest.approx(wanted / 2, rel=1e-6)
    assert with_weight(bare.wanted_g / 2).wanted_g == pytest.approx(bare.wanted_g, rel=1e-6)


@pytest.mark.parametrize(
    ("weights", "says"), [([], "all of it weighs 0 g"), ([Weight("w", -1, 0)], "the weight of “w” is -1 g")]
)
def test_what_can_not_be_balanced_is_refused(weights, says):
    with pytest.raises(Refused, match=says):
        balance_of(weights)
    assert not math.isnan(balance_of([Weight("w", 1, 0)]).x_mm)
