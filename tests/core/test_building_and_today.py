"""The building, the heater, the glass transition, and what to do now."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.tasks import steps, task
from tests.core.test_placing import START, VIENNA, at, job

from kiteloom.core.air.building import Day, ZoneModel, heated, outside_curve, with_mean_days
from kiteloom.core.air.moisture import judge_air
from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.step import After, Step
from kiteloom.core.cure.glass import GlassTransition, full_in_reach
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.log.work import Note, fact_of, speaks_against
from kiteloom.core.plan.alarms import due, standing_still, still_wet
from kiteloom.core.plan.input import Member
from kiteloom.core.plan.place import place
from kiteloom.core.plan.today import first_thing, fits_before_closing, held, opening, state_of

EPOXY = CureSystem(55, 23, (Stage("gel", 4), Stage("peel", 10)), min_c=12)


@given(lag=st.floats(1, 200), outside=st.floats(-20, 30), inside=st.floats(-10, 30))
def test_a_zone_nears_the_outside_with_its_own_lag(lag, outside, inside):
    air = ZoneModel(lag, 2).follow(Profile.steady(outside), 0, inside, 60 * lag * 3)
    after_one_lag = outside + 2 + (inside - outside - 2) * np.exp(-1)
    assert air.at(60 * lag) == pytest.approx(after_one_lag, abs=abs(inside - outside - 2) * 0.01 + 1e-6)


@given(
    set_c=st.floats(5, 30),
    base=st.floats(-10, 30),
    on=st.integers(0, 600),
    long=st.integers(30, 2000),
    lag=st.floats(0.5, 40),
)
def test_a_heater_never_cools_nor_passes_its_set_point_and_is_forgotten_with_the_buildings_lag(
    set_c, base, on, long, lag
):
    bare = Profile.of([(0, base), (6000, base)])
    warm = heated(bare, set_c, [(on, on + long)], lag)
    assert (warm.celsius >= np.interp(warm.minutes, bare.minutes, bare.celsius) - 1e-9).all()
    assert warm.celsius.max() <= max(set_c, base) + 1e-9
    assert warm.at(on - 1) == base
    if long > 400:
        assert warm.at(on + long - 21) == pytest.approx(max(set_c, base), abs=1)
    assert warm.at(on + long + 5 * 60 * lag) == pytest.approx(base, abs=0.1 + 0.01 * abs(set_c - base))


def test_a_cupboard_that_is_warm_already_stays_so():
    held = ZoneModel(2.0, 0.0, 30.0).follow(Profile.steady(5), 0, 30.0, 3000, [(-600, 3000)])
    assert min(c for _, c in held.between(0, 3000)) == pytest.approx(30)


def test_a_forecast_that_ends_goes_on_as_its_own_mean():
    days = with_mean_days([Day(0, 2, 10, 1), Day(1440, 4, 14, 3)], 20)
    curve = outside_curve(days)
    assert curve.at(10 * 1440 + 6 * 60) == pytest.approx(3)
    assert curve.at(10 * 1440 + 15 * 60) == pytest.approx(12)
    with pytest.raises(Refused, match="the low is 12 °C and the high 8 °C"):
        Day(0, 12, 8)


def test_full_waits_for_a_day_warm_enough_for_its_glass_transition():
    glass = GlassTransition(full_c=50, above_cure_k=25)
    cold_then_warm = Profile.of([(0, 18), (4 * 1440, 18), (4 * 1440 + 60, 27), (9 * 1440, 27)])
    reach = full_in_reach(glass, cold_then_warm, 0)
    assert 4 * 1440 < reach.warm_at < 5.2 * 1440
    assert full_in_reach(glass, Profile.steady(20), 0).warm_at is None


def test_a_surface_colder_than_its_air_is_judged_by_itself():
    assert judge_air(18, 70).ok
    wet = judge_air(18, 70, surface_c=12)
    assert not wet.ok
    assert wet.reasons == ("the surface is 0.5 °C below the dew point; at least 3 °C is wanted",)
    both = judge_air(9, 40, min_c=12, max_rh_pct=35).reasons
    assert both == ("the air is 9 °C, 3.0 °C short of 12 °C", "the humidity is 40 %; the limit is 35 %")


def test_notes_of_work_add_up_and_contradictions_are_said():
    fact = fact_of([Note("start", 0, ("a", "b")), Note("pause", 50), Note("start", 90), Note("finish", 100)])
    assert (fact.worked_min, fact.finished, fact.people, fact.done) == (60, 100, ("a", "b"), True)
    assert speaks_against("start", fact, 200) == "it was finished already; take that back first"
    running = fact_of([Note("start", 10)])
    assert speaks_against("start", running, 20) == "it was started already"
    assert speaks_against("finish", running, 5) == "it lies 5 min before the note it follows; it can't be earlier"
    assert speaks_against("pause", fact_of([]), 5) == "nobody is working on it"
    assert speaks_against("finish", running, 30) is None


GLUED = replace(EPOXY, stages=(Stage("handle", 9), Stage("sand", 16)))
COATED = replace(EPOXY, stages=(Stage("recoat", 6), Stage("handle", 14)))


@pytest.mark.parametrize(
    ("made", "grows"),
    [
        (
            steps("frame", task("frame", "glue", GLUED, {"rib_pitch_m": 0.1, "gussets_per_rib": 2}, span=0.9)),
            "ribs",
        ),
        (
            steps("varnish", task("varnish", "varnish", COATED, {"rib_pitch_m": 0.1, "rib_area_m2": 0.1}, span=1.7)),
            "pieces",
        ),
    ],
    ids=["wood frame", "varnish"],
)
def test_each_recipe_gives_steps_in_order_with_their_care_and_where_the_minutes_come_from(made, grows):
    keys = [step.key for step in made]
    assert len(set(keys)) == len(keys)
    for n, step in enumerate(made):
        assert {link.step for link in step.after} <= set(keys[:n])
        assert step.caution
        assert step.minutes == step.estimate.minutes
    assert any(grows in step.estimate.words(step.people, "metric") for step in made)
    waits = [step for step in made if step.wait_stage or step.wait_min]
    assert len(waits) >= 2
    if grows == "pieces":
        assert made[1].wait_min == 30  # common practice (P1): two-part varnish stands half an hour


LAY = Step("lay", "Lay", 120, 2, cure=EPOXY, wait_stage="peel", part="skin")
PEEL = Step("peel", "Peel", 30, after=(After("lay"),), part="skin")
SWEEP = Step("sweep", "Sweep", 30, part="floor")


def test_the_morning_begins_with_what_cured_overnight():
    mixed = START - 17 * 60
    asked = job((SWEEP, LAY, PEEL), Profile.steady(23), facts={"lay": Fact(mixed=(Mixed(mixed, EPOXY),))})
    thing = first_thing(place(asked), START, is_open=True)
    assert (thing.kind, thing.placed.step.key) == ("start", "peel")
    shut = first_thing(place(asked), START, is_open=False)
    assert shut.kind == "wait"
    running = replace(
        asked, facts={**asked.facts, "peel": Fact(running_since=START, people=("Bo",)), "sweep": Fact(finished=START)}
    )
    assert first_thing(place(running), START, is_open=True).kind == "finish"
    done = replace(running, facts={**running.facts, "peel": Fact(finished=START)})
    assert first_thing(place(done), START, is_open=True).kind == "nothing"


def test_what_fits_before_closing_names_the_last_start_that_still_cures_by_opening():
    asked = job((LAY, PEEL, SWEEP), Profile.steady(18))
    fit = fits_before_closing(asked, START)[0]
    assert fit.cured_by_opening
    assert fit.frees == ("Peel",)
    _, opens = opening(asked, START)
    later = place(job((LAY,), Profile.steady(18), start=fit.latest + 5)).placed[0]
    exact = place(job((LAY,), Profile.steady(18), start=fit.latest)).placed[0]
    assert exact.ready <= opens
    assert exact.ready == pytest.approx(fit.ready)
    assert later.ready > opens or later.end > at("14 18:00")
    cold = fits_before_closing(job((LAY, PEEL), Profile.steady(13)), START)[0]
    assert not cold.cured_by_opening
    assert cold.ready > opens
    for late in (at("14 16:30"), at("14 22:00")):  # too late in the day, and closed
        assert fits_before_closing(replace(asked, start=late), late) == []


def test_what_is_held_and_how_far_a_part_is():
    one = (Member("Bo"), Member("Imre"))
    asked = job((LAY, PEEL, replace(SWEEP, minutes=200, people=2)), Profile.steady(18), crew=one)
    plan = place(asked)
    evening = minute_of(datetime(2026, 5, 14, 18, 0, tzinfo=VIENNA))
    assert [p.step.key for p in held(plan, START, START + 60)] == ["sweep"]
    assert [p.step.key for p in held(plan, evening, evening)] == []
    mine = [p for p in plan.placed if p.step.part == "skin"]
    assert state_of(mine, START) == "planned"
    states = []
    for facts in (
        {"lay": Fact(running_since=START - 10, people=("Bo",))},
        {"lay": Fact(mixed=(Mixed(START - 60, EPOXY),))},
        {"lay": Fact(mixed=(Mixed(START - 3000, EPOXY),))},
        {"lay": Fact(mixed=(Mixed(START - 3000, EPOXY),)), "peel": Fact(finished=START - 60)},
    ):
        placed = place(replace(asked, facts=facts)).placed
        states.append(state_of([p for p in placed if p.step.part == "skin"], START))
    assert states == ["in work", "curing", "in work", "done"]


def test_what_must_be_heard_of_a_cure_is_heard_at_its_time():
    night = Profile.of(
        [(START - 2000, 20), (START, 20), (START + 60, 8), (START + 700, 8), (START + 760, 20), (START + 9000, 20)]
    )
    asked = job((LAY, PEEL), night, facts={"lay": Fact(mixed=(Mixed(START - 60, EPOXY),))})
    heard = {}
    for hours in (0, 2, 8, 12, 24, 30, 40):
        now = START + 60 * hours
        plan = place(replace(asked, start=now))
        still = standing_still(plan, now)
        heard[hours] = (bool(due(plan, now)), [until for _, until in still], bool(still_wet(plan, now)))
    assert heard[0] == (False, [], True)
    # Below 12 °C from START + 40 min to START + 720 min; it is said until when.
    assert heard[2] == heard[8] == (False, [pytest.approx(START + 720)], True)
    assert heard[12][1] == []
    ready = place(asked).by_key["lay"].ready
    assert START + 22 * 60 < ready < START + 28 * 60
    assert heard[24 if ready <= START + 24 * 60 else 30] == (True, [], False)
    assert heard[40] == (True, [], False)  # nobody has begun to peel
    facts = {**asked.facts, "peel": Fact(pieces=((START + 2390, START + 2395),), running_since=START + 2390)}
    assert due(place(replace(asked, start=START + 2400, facts=facts)), START + 2400) == []
    frozen = place(replace(asked, profile=Profile.steady(5)))
    assert standing_still(frozen, START)[0][1] is None
