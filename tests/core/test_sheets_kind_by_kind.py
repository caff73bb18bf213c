"""What each kind of sheet lacks when it is empty, and when a question is asked about stages and limits."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.problems import Refused
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.cure.post_cure import MARGIN_K, Leg, during, harden, post_cure, programme
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.stores.fields import FIELDS, KINDS, fields_of
from kiteloom.core.stores.form import Form, StagesForm, differences, read, written
from kiteloom.core.stores.materials import looks_alike
from kiteloom.core.stores.questions import questions
from kiteloom.core.stores.reading import resin_sheet
from kiteloom.core.stores.sheets import lacking
from kiteloom.demo.products import HERON_FAIRING, HERON_PASTE, MERE, TARN_FAST, TARN_SLOW

EMPTY = {
    "laminating resin": {"ratio", "stages", "pot_life.minutes", "tolerance_pct", "cured_density_g_ml", "lids.resin"},
    "cement": {"stages", "spread_m2_l", "cure.min_c"},
    "filler powder": {"true_density_g_ml", "parts.syrup", "parts.mayonnaise", "parts.peanut butter"},
    "cloth": {"areal_weight_g_m2", "fibre_density_g_cm3", "fibre_weight_fraction", "roll_width_m"},
    "core": {"thickness_mm", "density_kg_m3", "resin_uptake_g_m2_per_side", "softens_c"},
    "cover cloth": {"areal_weight_g_m2", "roll_width_m"},
    "solvent": {"density_kg_m3"},
    "tape": set(),
}


@pytest.mark.parametrize(("kind", "wanted"), EMPTY.items())
def test_an_empty_sheet_names_what_cannot_be_computed(kind, wanted):
    found = {lack.field for lack in lacking(kind, {})}
    assert wanted <= found
    if kind in ("cover cloth", "solvent", "tape", "core", "cloth", "filler powder"):
        assert found == wanted


@pytest.mark.parametrize("kind", KINDS)
def test_every_field_of_a_kind_can_be_left_out_and_none_belongs_to_nothing(kind):
    says, problems = read(kind, "Bare", Form({}))
    assert (says, problems) == ({}, [])
    assert questions(kind, says) == []
    assert {f.key for f in fields_of(kind)} <= {f.key for f in FIELDS}


def test_a_kind_there_is_not_is_refused_by_name():
    with pytest.raises(Refused, match="“yarn” is not a kind of data sheet; they are laminating resin"):
        fields_of("yarn")


def stages(*rows, temps=("20 °C",)):
    return Form({"chemistry": "amine epoxy"}, StagesForm(temps, tuple((name, tuple(hours)) for name, *hours in rows)))


@pytest.mark.parametrize(
    ("form", "named"),
    [
        (stages(("gel", "4"), ("gel", "5")), "“gel” stands there twice"),
        (stages(("", "4")), "a stage with 4 hours has no name"),
        (stages(("gel", "0")), "“gel” is 0 h; it must be above 0 h"),
        (stages(("gel", "20000")), "it can't be above 10000 h"),
        (stages(("gel", "4"), temps=("",)), "the first column of the stages has no temperature"),
        (stages(("gel", "4"), temps=("warm",)), "“warm” isn't understood"),
        (stages(("gel", "", "9"), temps=("20", "10")), "“gel” has no hours in the first column"),
    ],
)
def test_stages_that_say_nothing_are_refused_with_what_is_wrong(form, named):
    problems = read("wood glue", "Glue", form)[1]
    assert [named in problem.sentence for problem in problems] == [True]


def test_stages_are_typed_in_minutes_days_and_at_several_temperatures():
    says, problems = read(
        "wood glue", "Glue", stages(("gel", "90 min", "3 h"), ("full", "7 days"), temps=("20", "50 °F"))
    )
    assert problems == []
    assert says["cure"]["stages"] == [
        {"name": "gel", "hours": 1.5, "also": [{"c": pytest.approx(10), "hours": 3}]},
        {"name": "full", "hours": 168},
    ]


def test_what_changed_between_two_sheets_is_told_in_words():
    slow = read("laminating resin", "x", written("laminating resin", TARN_SLOW))[0]
    other = {**slow, "tolerance_pct": 5.0, "cure": {**slow["cure"], "stages": slow["cure"]["stages"][:2]}}
    assert differences("laminating resin", slow, other) == ["Ratio may be off by 3 % → 5 %", "stages"]
    assert differences("laminating resin", slow, slow) == []


def test_look_alikes_are_those_of_one_name_or_one_lid_with_another_ratio():
    paste, fairing = resin_sheet("Heron 30 paste", HERON_PASTE), resin_sheet("Heron 35 fairing paste", HERON_FAIRING)
    slow, fast, mere = (
        resin_sheet("Tarn slow", TARN_SLOW),
        resin_sheet("Other fast", TARN_FAST),
        resin_sheet("Mere 8", MERE),
    )
    assert looks_alike(paste, fairing)
    assert looks_alike(slow, fast)  # the same resin's lid
    assert not looks_alike(slow, mere)
    assert not looks_alike(slow, resin_sheet("Tarn too", TARN_SLOW))  # swapped, it does no harm


CURE = CureSystem(55, 23, (Stage("gel", 4), Stage("full", 168)), 12)
GLASS = GlassTransition(47, 25, 78)


def test_a_post_cure_of_two_holds_ramps_up_and_down():
    heat = programme(0, 20, [Leg(60, 10, 2), Leg(40, 20, 1)])
    assert [(m, round(heat.at(m), 3)) for m in (240, 360, 420, 480)] == [(240, 60), (360, 60), (420, 40), (480, 40)]
    air = Profile.of([(-1000, 18), (5000, 18)])
    part = during(air, heat)
    assert (part.at(-1), part.at(240), part.at(481)) == (pytest.approx(18, abs=0.1), 60, 18)


def test_a_cure_that_stands_still_in_the_cold_does_not_harden():
    cold = harden(CURE, GLASS, 0, Profile.steady(8), 5 * 1440)
    assert cold.glass_c[-1] == cold.glass_c[0]
    thawed = harden(CURE, GLASS, 0, Profile.of([(0, 8), (1440, 8), (1500, 20), (9000, 20)]), 5 * 1440)
    assert thawed.glass_then(1440) == cold.glass_c[0]
    assert thawed.glass_then(5 * 1440) > 40


@given(st.floats(14, 30), st.floats(35, 90), st.floats(1, 40), st.floats(0, 20))
def test_a_post_cure_never_lowers_the_glass_transition_nor_passes_what_it_can_come_to(room, to, ramp, hold):
    found = post_cure(CURE, GLASS, 0, Profile.steady(room), 2 * 1440, [Leg(to, ramp, hold)])
    assert -20 <= found.before_c <= found.after_c <= 78
    if found.near_at is None:
        assert (found.soft_at, found.ramp_k_h) == (None, None)
    else:
        assert 2 * 1440 <= found.near_at <= (found.soft_at or found.end) <= found.end
        assert found.near_glass_c < to + MARGIN_K
