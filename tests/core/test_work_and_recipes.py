"""Notes of work in any order that is allowed; recipes that keep their keys whatever their size."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, START, job
from tests.core.test_skin import EPOXY
from tests.core.walker import broken

from kiteloom.core.climate import Profile
from kiteloom.core.cure import Stage
from kiteloom.core.problems import Refused
from kiteloom.core.recipes import varnish, wood_frame
from kiteloom.core.schedule.job import Station
from kiteloom.core.schedule.place import place
from kiteloom.core.work import Note, fact_of, speaks_against

GLUE = replace(EPOXY, stages=(Stage("gel", 3), Stage("handle", 9), Stage("sand", 16)))
VARNISH = replace(EPOXY, stages=(Stage("recoat", 6), Stage("handle", 14)), min_c=7)


@given(st.lists(st.tuples(st.sampled_from(["start", "pause", "finish"]), st.integers(1, 90)), max_size=14))
def test_whatever_may_be_noted_adds_up_to_the_time_between(wanted):
    notes, at, running, worked, finished = [], 1000.0, None, 0.0, False
    for kind, minutes in wanted:
        at += minutes
        against = speaks_against(kind, fact_of(notes), at)
        allowed = {"start": running is None and not finished, "pause": running is not None, "finish": not finished}[
            kind
        ]
        assert (against is None) == allowed, against
        if not allowed:
            continue
        notes.append(Note(kind, at, ("Bo",) if kind == "start" else ()))
        if kind == "start":
            running = at
        elif running is not None:
            worked, running = worked + at - running, None
        finished = finished or kind == "finish"
    fact = fact_of(notes)
    assert fact.worked_min == pytest.approx(worked)
    assert (fact.finished is not None) == finished
    assert fact.running_since == running
    assert fact.done == finished
    assert all(a <= b for a, b in fact.pieces)


@given(ribs=st.integers(1, 60), gussets=st.integers(0, 120), celsius=st.floats(16, 30))
def test_a_wood_frame_of_any_size_keeps_its_keys_and_is_built_in_order(ribs, gussets, celsius):
    if gussets == 0:
        gussets = 1
    made = wood_frame.steps(wood_frame.FrameJob(ribs, gussets, GLUE))
    assert [step.key for step in made] == ["cut", "fit", "frame/glue", "frame/clean", "gussets/glue", "sand"]
    assert made[2].minutes == 20 + 4 * 2 * ribs
    asked = job(made, Profile.steady(celsius), ALWAYS, stations=(Station("jig"), Station("bench")))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    by_key = plan.by_key()
    assert by_key["sand"].start >= plan.event(by_key["gussets/glue"], "sand")
    assert by_key["frame/clean"].start >= by_key["frame/glue"].ready


@given(pieces=st.integers(1, 80), area=st.floats(0.05, 30))
def test_two_coats_wait_for_recoating_and_the_stand_is_held_meanwhile(pieces, area):
    made = varnish.steps(varnish.CoatJob(pieces, area, VARNISH))
    assert [step.key for step in made] == [
        "sand", "coat-1/mix", "coat-1/brush", "rub", "coat-2/mix", "coat-2/brush", "look",
    ]  # fmt: skip
    asked = job(made, Profile.steady(20), ALWAYS, START, stations=(Station("drying stand"), Station("bench", 2)))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    by_key = plan.by_key()
    assert by_key["coat-1/brush"].start - by_key["coat-1/mix"].end >= 30  # common practice (P1)
    assert by_key["rub"].start >= plan.event(by_key["coat-1/brush"], "recoat")


@pytest.mark.parametrize(
    ("make", "named"),
    [
        (lambda: wood_frame.FrameJob(0, 4, GLUE), "ribs is 0; it can't be below 1"),
        (lambda: wood_frame.FrameJob(4, 4, EPOXY), "“handle” is not a stage of this product"),
        (lambda: varnish.CoatJob(4, 0, VARNISH), "the area to varnish is 0 m²; it must be above 0 m²"),
        (lambda: varnish.CoatJob(4, 1, EPOXY), "“recoat” is not a stage of this product"),
    ],
)
def test_a_recipe_that_lacks_something_says_what(make, named):
    with pytest.raises(Refused) as refused:
        make()
    assert named in refused.value.sentence
