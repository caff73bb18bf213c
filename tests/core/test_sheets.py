"""What a data sheet says, lacks, and is asked about; filled mixes and lots."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kiteloom.core.air.profile import Profile
from kiteloom.core.cure.progress import cure_times
from kiteloom.core.mix.filled import Powder, filled, speaks_against_use
from kiteloom.core.stores.fields import KINDS
from kiteloom.core.stores.form import Form, StagesForm, cleaned, read, same, written
from kiteloom.core.stores.lots import ShelfLife, good_until
from kiteloom.core.stores.questions import questions
from kiteloom.core.stores.reading import mix_system, resin_sheet
from kiteloom.core.stores.sheets import cure_from, lacking
from kiteloom.demo.products import RUSH_CEMENT, SHEETS, TARN_SLOW


@pytest.mark.parametrize(("kind", "name", "says"), SHEETS, ids=[name for _, name, _ in SHEETS])
@pytest.mark.parametrize("units", ["metric", "us"])
def test_every_sheet_comes_back_from_its_form_as_it_was(kind, name, says, units):
    kept, problems = cleaned(kind, name, says)
    assert problems == []
    again, problems = read(kind, name, written(kind, kept, units), units)
    assert problems == []
    if units == "metric":
        assert same(again, kept)
    else:  # six digits of an ounce are not six of a gram
        assert written(kind, again, "us") == written(kind, kept, "us")


def odd(**more):
    return [q.sentence for q in questions("laminating resin", {**TARN_SLOW, **more})]


def test_a_sound_sheet_is_asked_nothing_and_each_oddity_is_asked_about():
    assert odd() == []
    assert odd(ratio_by_volume={"resin": 3, "hardener": 1, "basis": "volume"}) == []  # 100 : 28.1
    assert odd(ratio_by_volume={"resin": 2, "hardener": 1, "basis": "volume"})[0].startswith(
        "By volume and these densities it would be 100 : 42.1 by weight, 50 % more hardener"
    )
    stages = [{"name": "gel", "hours": 4}, {"name": "sand", "hours": 18}, {"name": "peel", "hours": 10}]
    assert odd(cure={**TARN_SLOW["cure"], "stages": stages}) == []  # written down in another order
    stages[2]["hours"] = 20
    (order,) = odd(cure={**TARN_SLOW["cure"], "stages": stages})
    assert order == "“peel” after 20 h and “sand” already after 18 h?"
    (pot,) = odd(pot_life={"minutes": 250, "mass_g": 100, "temp_c": 23})
    assert "250 min is longer than the 240 min to gel" in pot
    also = [{"name": "gel", "hours": 4, "also": [{"c": 33, "hours": 3.9}]}]
    assert "2 kJ/mol" in odd(cure={"reference_c": 23, "stages": also})[0]
    assert "kJ/mol; most lie between 30 and 120" in odd(cure={**TARN_SLOW["cure"], "activation_energy_kj_mol": 190})[0]
    (equal,) = odd(equivalents={"epoxide": 190, "amine": 70})
    assert "ask for 100 : 36.8 by weight, the ratio says 100 : 28" in equal


def test_a_sheet_says_what_it_lacks_and_what_is_assumed_is_used_and_marked():
    bare = {"ratio": {"resin": 100, "hardener": 30, "basis": "weight"}}
    lacks = {lack.field: lack for lack in lacking("laminating resin", bare)}
    assert lacks["stages"].assumed is False
    assert lacks["pot_life.minutes"].words.endswith("how many cups to make can't be computed.")
    assert lacks["tolerance_pct"].words.endswith("computed with 5 % (assumed, common practice).")
    sheet = resin_sheet("Bare", bare)
    assert sheet.mix.tolerance_pct == 5
    assert {"tolerance_pct", "cured_density_g_ml"} <= sheet.assumed
    with pytest.raises(ValueError, match="gives no stages"):
        _ = sheet.curing
    silent = cure_from(
        {"chemistry": "amine epoxy", "cure": {"reference_c": 20, "stages": [{"name": "gel", "hours": 4}]}}
    )
    assert silent.assumed
    assert cure_times(silent, 0, Profile.steady(10)).stages[0].minutes == pytest.approx(4 * 60 * 2, rel=0.06)


def test_the_stages_of_several_temperatures_fit_one_energy_and_a_drying_table_is_followed_as_it_stands():
    rows = [{"name": "gel", "hours": 4, "also": [{"c": 30, "hours": 2}]}]
    assert cure_from({"cure": {"reference_c": 20, "stages": rows}}).activation_energy_kj_mol == pytest.approx(
        51.2, abs=0.05
    )
    cement = cure_from(RUSH_CEMENT)
    assert cement.rule_of_thumb
    for celsius, hours in ((5, 8.6), (10, 6), (20, 3), (30, 1.6), (40, 0.85)):
        reached = cure_times(cement, 0, Profile.steady(celsius)).stages[1].minutes
        assert reached == pytest.approx(hours * 60, rel=0.07)  # one rate for both stages


def test_a_peroxides_range_is_a_middle_and_a_tolerance():
    mix = mix_system({"chemistry": "peroxide", "range_pct": [1, 2]})
    assert (mix.by_weight, mix.tolerance_pct) == pytest.approx((0.015, 100 / 3))


def test_what_cannot_be_read_keeps_its_field_and_its_sentence():
    texts = {
        "ratio": "a lot",
        "range_pct": "2 – 1",
        "tolerance_pct": "-3 %",
        "chemistry": "magic",
        "cure.min_c": "cold",
    }
    form = Form(texts, StagesForm(("20 °C",), (("gel", ("",)),)))
    found = {problem.field: problem.sentence for problem in read("laminating resin", "", form)[1]}
    assert set(found) == {"name", *texts, "stages"}
    assert found["ratio"] == "“a lot” isn't a ratio; write it like 100 : 28 or 2 : 1"
    assert found["stages"] == "“gel” has no hours in the first column"
    assert "must be above 0" in found["tolerance_pct"]


JSON = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)


@given(
    kind=st.sampled_from(KINDS),
    key=st.sampled_from(["ratio", "cure", "lids", "hazards", "keep", "range_pct"]),
    value=JSON,
)
def test_whatever_a_file_says_is_read_or_refused(kind, key, value):
    kept, problems = cleaned(kind, "Odd", {**TARN_SLOW, key: value})
    assert problems or read(kind, "Odd", written(kind, kept))[1] == []


def test_three_uses_are_kept_apart_and_a_filled_mix_fills_what_was_asked():
    flock = Powder("flock", "structural", 1.5, {"mayonnaise": 9})
    balloons = Powder("balloons", "fairing", 0.25, {"mayonnaise": 18})
    assert speaks_against_use(flock, "structural") == ""
    assert "In a structural joint it breaks" in speaks_against_use(balloons, "structural")
    assert speaks_against_use(flock, "fairing")
    mix = filled(flock, "mayonnaise", 200, 1.1)
    assert mix.mix_g / 1.1 + mix.filler_g / 1.5 == pytest.approx(200)
    assert filled(balloons, "mayonnaise", 200, 1.1).density_g_ml < mix.density_g_ml
    with pytest.raises(ValueError, match="gives no parts for “syrup”; it has mayonnaise"):
        filled(flock, "syrup", 100, 1.1)


def test_a_lot_is_good_until_the_first_of_its_dates():
    came, opened = date(2026, 1, 1), date(2026, 3, 1)
    assert good_until(None, came, None, ShelfLife()) is None
    assert good_until(date(2026, 6, 1), came, None, ShelfLife(30, 30)) == date(2026, 6, 1)  # the label wins
    assert good_until(date(2026, 6, 1), came, opened, ShelfLife(30, 30)) == date(2026, 3, 31)


def test_what_dries_with_one_temperature_on_its_sheet_goes_slower_in_the_cold_and_says_that_this_is_assumed():
    says = {"chemistry": "moisture", "cure": {"reference_c": 20, "stages": [{"name": "handle", "hours": 12}]}}
    cure = cure_from(says)
    assert cure.assumed
    hours = [cure_times(cure, 0, Profile.steady(c)).stages[0].minutes / 60 for c in (-10, 0, 10, 20, 30, 40)]
    assert hours == pytest.approx([96, 48, 24, 12, 6, 3])
    lacks = [lack for lack in lacking("sealant", says) if lack.field == "stages"]
    assert "twice as fast for every 10.0 °C (assumed, common practice)" in lacks[0].words
    table = {
        **says,
        "cure": {**says["cure"], "stages": [{**says["cure"]["stages"][0], "also": [{"c": 10, "hours": 30}]}]},
    }
    assert not cure_from(table).assumed
    assert cure_from(table).rate_at(0) == pytest.approx((12 / 30) ** 2)  # the end slope goes on into the cold


def test_a_stage_off_the_one_pace_of_its_sheet_is_asked_about():
    also = lambda hours: [{"c": 10, "hours": hours}]  # noqa: E731
    stages = [{"name": "handle", "hours": 4, "also": also(8)}, {"name": "full", "hours": 72, "also": also(240)}]
    asked = [q.sentence for q in questions("wood glue", {"cure": {"reference_c": 20, "stages": stages}})]
    assert any("“handle” takes 8 h at 10.0 °C by the sheet" in words for words in asked)
    assert any("“full” takes 240 h" in words for words in asked)


def test_a_product_keeps_for_a_hundred_years_at_most():
    form = Form({"keep.opened_days": "9000 years"})
    _, problems = read("solvent", "Fen", form)
    assert "Keeps, opened is" in problems[0].sentence
    assert good_until(None, date(2026, 1, 1), date(2026, 1, 1), ShelfLife(4e6, 4e6)) == date.max


@pytest.mark.parametrize(
    ("kind", "says", "asked"),
    [
        ("tape", {"tack_c": 121.1, "limit_c": 100.0}, "The iron tacking at 121.1 °C, and never above 100.0 °C"),
        ("cover cloth", {"slack_c": 160, "finish_c": 120}, "finishes colder than it takes up slack"),
        ("filler powder", {"parts": {"syrup": 20, "mayonnaise": 10}}, "Like mayonnaise with 10 parts, and like syrup"),
        (
            "laminating resin",
            {"ratio": {"resin": 28, "hardener": 100, "basis": "weight"}},
            "357.1 parts of hardener to 100 of resin: more hardener than resin",
        ),
    ],
)
def test_pairs_that_cannot_both_be_right_are_asked_about(kind, says, asked):
    assert any(asked in question.sentence for question in questions(kind, says))
