"""What is in the way of a step, in a sentence; cures looked up for any start; colds found exactly."""

from __future__ import annotations

import math
from dataclasses import replace
from random import Random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.airframe import airframe
from tests.core.jobs import VIENNA, examples, jobs
from tests.core.tasks import EPOXY
from tests.core.test_placing import ALWAYS, CREW, START, at, job

from kiteloom.core.air.profile import DayOutlook, Profile, day_curve, what_is_known
from kiteloom.core.base.calendar import local_midnight, zone_of
from kiteloom.core.build.step import After, Estimate, Step
from kiteloom.core.cure.progress import follow
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.airs import Airs, below
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.input import Station
from kiteloom.core.plan.place import if_next, place
from kiteloom.standins.weather import SimulatedForecast, SimulatedSky


@settings(max_examples=60, deadline=None)
@given(
    # As far as products are followed at first, about its end, and beyond.
    mixed=st.one_of(st.floats(0, 60 * 1440), st.floats(148 * 1440, 151 * 1440), st.floats(300 * 1440, 400 * 1440)),
    hours=st.floats(0.5, 40),
    low=st.floats(0, 18),
    swing=st.floats(1, 14),
)
def test_a_cure_looked_up_is_the_cure_followed(mixed, hours, low, swing):
    nights = day_curve(low, low + swing, 0, 480)
    looked_up = Airs(job((), nights, start=0)).reaches(EPOXY, mixed, hours)
    followed = follow(EPOXY, mixed, nights).reaches(hours)
    assert (looked_up is None) == (followed is None)
    if followed is not None:
        assert looked_up - mixed == pytest.approx(followed, abs=1e-3)


@settings(max_examples=60, deadline=None)
@given(by=st.floats(0, 170 * 1440), hours=st.floats(0.5, 40), low=st.floats(2, 18), swing=st.floats(1, 14))
def test_a_minute_before_the_latest_a_mix_can_be_made_is_in_time_and_a_minute_later_is_not(by, hours, low, swing):
    airs = Airs(job((), day_curve(low, low + swing, 0, 240), start=0))
    made = airs.made_by(EPOXY, hours, by)
    if math.isinf(made):
        assert (airs.reaches(EPOXY, 0, hours) or math.inf) > by - 1e-3
    else:
        assert made < 1 or airs.reaches(EPOXY, made - 1, hours) <= by + 1e-3
        later = airs.reaches(EPOXY, made + 1, hours)
        assert later is None or later > by - 1e-3


@settings(max_examples=examples(15), deadline=None)
@given(asked=jobs(), seed=st.integers(0, 99))
def test_what_held_a_step_is_the_same_in_whichever_order_it_is_asked(asked, seed):
    one, other = place(asked).told(), place(asked)
    keys = list(other.by_key)
    Random(seed).shuffle(keys)
    told = {key: other.by_key[key].causes for key in keys}
    assert told == {key: one.by_key[key].causes for key in keys}


def test_what_held_each_step_of_a_long_plan_is_the_same_from_the_last_to_the_first():
    asked = airframe(160, START, day_curve(9, 21, local_midnight(START, VIENNA), 400), overnight=True)
    one, other = place(asked).told(), place(asked)
    for placed in reversed(other.placed):
        assert placed.causes == one.by_key[placed.step.key].causes


@settings(max_examples=60, deadline=None)
@given(
    points=st.lists(st.tuples(st.integers(0, 5000), st.floats(-10, 30)), min_size=1, max_size=12),
    limit=st.floats(-5, 25),
)
def test_spells_below_a_limit_are_where_it_is_colder(points, limit):
    profile = Profile.of(points)
    spells = below(profile, limit)
    for minute in np.linspace(-100, 5100, 400):
        inside = any(start < minute < end for start, end in spells)
        near = any(min(abs(minute - start), abs(minute - end)) < 1e-6 for start, end in spells)
        celsius = profile.at(float(minute))
        assert inside == (celsius < limit) or near or abs(celsius - limit) < 1e-6


BENCH = (Station("bench"),)
REASONS = {
    "start": ((Step("a", "A", 30),), "a", "It can start at once: nothing holds it."),
    "delivery": (
        (Step("a", "A", 30, not_before=at("14 13:00")),),
        "a",
        "Not sooner: what it needs is there from 13:00.",
    ),
    "after": (
        (Step("b", "Fit", 30), Step("a", "A", 30, after=(After("b"),))),
        "a",
        "Not sooner: it follows “Fit”.",
    ),
    "cure": (
        (Step("b", "Lay up", 30, cure=EPOXY, wait_stage="gel"), Step("a", "A", 30, after=(After("b"),))),
        "a",
        "Not sooner: “Lay up” must first cure; check it from ",
    ),
    "crew": (
        (Step("b", "Fit", 90, 3), Step("a", "A", 30)),
        "a",
        "Not sooner: Bo is on “Fit” until ",
    ),
    "station": (
        (Step("b", "Fit", 90, stations=("bench",)), Step("a", "A", 30, stations=("bench",))),
        "a",
        "Not sooner: the bench is taken by “Fit” until ",
    ),
    "climate": (
        (Step("a", "A", 30, min_c=19),),
        "a",
        "Not sooner: before ",
    ),
}


def clock(minute):
    return f"{int(minute - at('14 00:00')) // 60 % 24:02d}:{int(minute) % 60:02d}"


@pytest.mark.parametrize("kind", REASONS)
def test_every_reason_reads_as_a_sentence_that_names_what_holds_it(kind):
    steps, key, words = REASONS[kind]
    air = day_curve(10, 21, at("13 00:00"), 60)
    plan = place(job(steps, air, ALWAYS, stations=BENCH))
    placed = plan.by_key
    assert placed[key].because.kind == kind
    sentence = why_not_sooner(placed[key], placed, {"bench": "the bench", "Bo": "Bo"}, clock)
    assert sentence.startswith(words)
    assert sentence.endswith(".")


@pytest.mark.parametrize(
    ("estimate", "people", "words"),
    [
        (Estimate(45), 1, "45 min fixed, 1 person"),
        (Estimate(0, each_min=14, count=10, piece="ribs"), 1, "10 ribs at 14 min each, 1 person"),
        (Estimate(10, per_m2_min=9, area_m2=2, each_min=1, count=18, piece="pieces"), 2,
         "10 min fixed, 18 min for 2.000 m², 18 pieces at 1 min each, 2 people"),
    ],
)  # fmt: skip
def test_minutes_say_what_they_are_made_of(estimate, people, words):
    assert estimate.words(people, "metric") == words


def test_what_could_come_next_is_only_what_nothing_planned_stands_before():
    lay = Step("lay", "Lay", 60, 3, cure=EPOXY, wait_stage="peel")
    peel, sweep = Step("peel", "Peel", 30, after=(After("lay"),)), Step("sweep", "Sweep", 30)
    asked = job((lay, peel, sweep), Profile.steady(20))
    found = if_next(asked)
    assert set(found) == {"lay", "sweep"}
    assert {placed.start for placed in found.values()} == {START}  # each as if it were the only one
    running = replace(asked, facts={"lay": Fact(running_since=START - 30, people=tuple(m.id for m in CREW))})
    found = if_next(running)
    assert found["sweep"].start == START + 30  # all hands are on the layup until then
    assert found["peel"].start > START + 600


def test_a_model_of_the_zone_goes_on_from_the_record_and_yields_to_what_is_typed():
    record = Profile.of([(0, 10), (600, 14)])
    model = Profile.of([(600, 14), (10_000, 20)])
    known = what_is_known(record, [], 700, 60, model)
    assert known.profile.at(5000) == pytest.approx(model.at(5000))
    assert known.assumed(0, 700)
    typed = [DayOutlook(500, 0, 2, 8)]
    overruled = what_is_known(record, typed, 700, 60, model)
    assert overruled.profile.at(1800) == pytest.approx(2, abs=1.5)  # six in the morning
    assert overruled.profile.at(9000) == pytest.approx(known.profile.at(9000), abs=0.1)
    assert what_is_known(None, [], 700, 60, model).recorded_until is None
    assert what_is_known(None, [], 700, 60) is None


def test_the_simulated_sky_has_seasons_and_its_forecast_is_surer_of_tomorrow():
    sky = SimulatedSky(7, zone_of("Europe/Vienna"))
    means = []
    for month in (1, 7):
        days = sky.days(at("14 00:00") + (month - 5) * 30 * 1440, at("14 00:00") + (month - 4) * 30 * 1440)
        means.append(np.mean([(day.low_c + day.high_c) / 2 for day in days]))
        assert all(day.low_c < day.high_c for day in days)
    assert means[1] - means[0] > 12
    near, far = [], []
    for n in range(0, 120, 3):
        now = at("14 00:00") + n * 1440
        said = SimulatedForecast(sky).days(now)
        assert len(said) >= 10
        true = sky.days(now, now + 10 * 1440)
        near.append(abs(said[1].low_c - true[1].low_c))
        far.append(abs(said[9].low_c - true[9].low_c))
    assert np.mean(near) < np.mean(far) / 2
