"""Steps placed in time, checked by a walker that knows nothing of how they were placed."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import datetime

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, CREW, START, VIENNA, at, examples, job, jobs
from tests.core.tasks import EPOXY, skin, steps
from tests.core.walker import broken, could_be_sooner

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import WorkingHours, minute_of, moment_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.step import After, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact, Mixed
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.input import Member, Station
from kiteloom.core.plan.place import place


# A failing job is shown as it is found: making it smaller costs minutes.
@settings(max_examples=examples(40), deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(asked=jobs())
def test_every_plan_keeps_every_rule_and_wastes_no_time(asked):
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    if not asked.overnight and not any(link.tight for step in asked.steps for link in step.after):
        assert could_be_sooner(asked, plan) is None
    assert {p.step.key for p in plan.placed} | {u.step.key for u in plan.unplaced} == {s.key for s in asked.steps}
    left = {u.step.key for u in plan.unplaced}
    for p in plan.placed:
        assert not {link.step for link in p.step.after} & left
    if plan.placed and not left:
        assert plan.finish >= plan.bound - 1e-6


def test_the_walker_sees_what_is_wrong():
    asked = job((Step("a", "A", 30, 1), Step("b", "B", 30, 1, (After("a"),))))
    a, b = place(asked).placed
    assert broken(asked, (a, replace(b, start=a.start, end=a.end, ready=a.end, pieces=a.pieces, people=a.people))) == [
        "b starts before wait of a",
        f"{a.people[0]} is in two places",
    ]


def without(asked, key, because):
    """The same job with one thing away that is said to have held a step."""
    steps = {step.key: step for step in asked.steps}
    step = steps[key]
    if because.kind == "hours":
        return replace(asked, hours=ALWAYS)
    if because.kind == "crew":
        other = next(m for m in asked.crew if m.id == because.of)
        return replace(asked, crew=(*asked.crew, Member(f"another {because.of}", other.skills)))
    if because.kind == "station":
        more = [replace(s, capacity=s.capacity + (s.id == because.of)) for s in asked.stations]
        return replace(asked, stations=tuple(more))
    if because.kind == "climate":
        steps[key] = replace(step, min_c=None, max_c=None, max_rh_pct=None, margin_k=None)
    elif because.kind == "delivery":
        steps[key] = replace(step, not_before=None)
    elif because.kind in ("after", "cure"):
        steps[key] = replace(step, after=tuple(link for link in step.after if link.step != because.of))
    elif because.kind == "window":
        later = steps[because.of]
        loose = tuple(After(link.step, link.until) if link.step == key else link for link in later.after)
        steps[because.of] = replace(later, after=loose)
    return replace(asked, steps=tuple(steps.values()))


@settings(max_examples=examples(15), deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(asked=jobs())
def test_what_is_said_to_hold_a_step_does_hold_it(asked):
    asked = replace(asked, overnight=False, own={})
    plan = place(asked)
    found = plan.by_key
    for n, key in enumerate(plan.order):
        held = found[key]
        facts = {
            p.step.key: Fact(p.pieces, None, p.end, (Mixed(p.end, p.cure),) if p.cure else (), p.people)
            for p in (found[other] for other in plan.order[:n])
        }
        rest = [step for step in asked.steps if step.key in facts or step.key == key]
        alone = replace(asked, facts=facts, steps=tuple(rest))
        if any(link.step not in facts for link in held.step.after) or held.because.kind == "start":
            assert held.start < asked.start + 5 or held.because.kind != "start"
            continue
        if any(link.tight and link.step == key for step in asked.steps for link in step.after):
            continue  # moved for the sake of what must follow in time: looked at below
        assert place(alone).by_key[key].start == held.start
        moved = alone
        for because in held.causes:
            moved = without(moved, key, because)
        assert place(moved).by_key[key].start < held.start, held.causes


@settings(max_examples=25, deadline=None)
@given(asked=jobs(), data=st.data())
def test_what_held_a_step_is_the_same_in_whatever_order_it_is_asked(asked, data):
    told = {p.step.key: p.causes for p in place(asked).told().placed}
    plan = place(asked)
    for key in data.draw(st.permutations(sorted(told))):
        assert plan.by_key[key].causes == told[key]


@settings(max_examples=30, deadline=None)
@given(low=st.floats(2, 18), swing=st.floats(0, 15), begins=st.integers(0, 300 * 288), area=st.floats(0.5, 8))
def test_a_skins_steps_keep_every_rule_in_any_season(low, swing, begins, area):
    made = steps("skin", skin(area))
    stations = {name for step in made for name in step.stations}
    asked = job(
        made,
        day_curve(low, low + swing, START - 1440, 500),
        start=START + 5 * begins,
        stations=tuple(Station(name) for name in stations),
    )
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    for left in plan.unplaced:
        assert any(
            words in left.why for words in ("does not reach “", "longest", "can't be placed", "short", "goes with it")
        )


def test_two_people_do_two_things_at_once_and_the_same_person_carries_on():
    asked = job((Step("a", "A", 60), Step("b", "B", 60), Step("c", "C", 30, after=(After("b"),))), crew=CREW[:2])
    by_key = place(asked).by_key
    assert by_key["a"].start == by_key["b"].start == START
    assert by_key["c"].people == by_key["b"].people
    alone = place(replace(asked, crew=CREW[:1]))
    second = alone.placed[1]
    assert (second.because.kind, second.because.of, second.because.by) == ("crew", "Bo", alone.placed[0].step.key)


def test_what_is_said_to_hold_a_step_holds_it():
    stations = (Station("bench"),)
    long = Step("long", "Lay up", 120, 1, cure=EPOXY, wait_stage="gel", stations=("bench",), holds=True)
    short = Step("short", "Fit", 60, 1, stations=("bench",))
    asked = job(
        (long, short, Step("late", "Sand", 30, after=(After("long", "peel"),))), hours=ALWAYS, stations=stations
    )
    plan = place(asked)
    placed = plan.by_key
    assert placed["short"].start == math.ceil(placed["long"].ready / 5) * 5
    assert (placed["short"].because.kind, placed["short"].because.of) == ("station", "bench")
    words = why_not_sooner(
        placed["short"], placed, {"bench": "The bench"}, lambda m: moment_of(m, VIENNA).strftime("%H:%M")
    )
    assert words.startswith("Not sooner: The bench is taken by “Lay up” until ")
    assert (placed["late"].because.kind, placed["late"].because.of) == ("cure", "long")
    freed = place(replace(asked, stations=(Station("bench", 2),))).by_key
    assert freed["short"].start == START
    warmer = place(replace(asked, profile=Profile.steady(28))).by_key
    assert warmer["late"].start < placed["late"].start


def test_a_limit_sends_a_step_to_the_hours_that_are_warm_enough():
    glue = Step("glue", "Glue cloth", 60, 1, wait_min=120, min_c=12)
    asked = job((glue,), day_curve(6, 16, at("13 00:00"), 30))
    placed = place(asked).placed[0]
    assert placed.because.kind == "climate"
    assert asked.profile.at(placed.start) >= 12 > asked.profile.at(placed.start - 10)
    never = place(job((glue,), Profile.steady(9.5))).unplaced[0]
    assert never.why == "it needs 12.0 °C until its wait is over, and the air stays 2.5 °C short; heat it"


IMPOSSIBLE = {
    "longer than any working day": (Step("a", "A", 700), "it takes 700 min in one go and the longest stretch"),
    "a skill nobody has": (
        Step("a", "A", 30, skills=("weld",)),
        "nobody has the skill “weld”; give it to somebody of the crew",
    ),
    "more people than there are": (
        Step("a", "A", 30, 5),
        "it takes 5 people and there are 3; welcome somebody to the crew",
    ),
    "skills that one person can't join": (Step("a", "A", 30, skills=("bag", "glue")), None),
    "skills, but nobody to have them": (
        Step("a", "A", 30, 0, skills=("bag",)),
        "0 people can't have “bag” together; give it more people, or somebody all of it",
    ),
    "a station of capacity 0": (
        Step("a", "A", 30, stations=("oven",)),
        "the station “oven” has a capacity of 0; let it serve one at least",
    ),
    "a cure that never comes": (
        Step("a", "A", 30, cure=replace(EPOXY, min_c=30), wait_stage="peel", stations=("jig",), holds=True),
        None,
    ),
}


@pytest.mark.parametrize("name", IMPOSSIBLE)
def test_what_cannot_be_placed_says_why_and_the_rest_is_planned(name):
    step, why = IMPOSSIBLE[name]
    others = (Step("b", "B", 30, after=(After("a"),)), Step("c", "C", 30), Step("d", "D", 30, stations=("jig",)))
    plan = place(job((step, *others), stations=(Station("oven", 0), Station("jig"))))
    left = {u.step.key: u.why for u in plan.unplaced}
    assert "c" in plan.by_key
    if why is not None:
        assert left["a"].startswith(why)
        assert left["b"] == "it comes after “A”, which can't be placed"
    elif name.startswith("skills"):
        assert plan.by_key["a"].people == ("Odile",)
    else:
        assert left["b"] == "“A” does not reach “peel” within 60 days at these temperatures; warm it"
        assert left["d"] == "“jig” is never free again: “A” does not come off it; warm it, or move it elsewhere"


def test_no_working_hours_and_no_crew_are_said():
    assert place(job((Step("a", "A", 30),), hours=WorkingHours(VIENNA, ()))).unplaced[0].why == (
        "the shop has no working hours; set them first"
    )
    assert (
        place(job((Step("a", "A", 30),), crew=())).unplaced[0].why
        == "it takes 1 person and there are 0; welcome somebody to the crew"
    )


def test_a_loop_or_an_unknown_name_is_refused_by_name():
    with pytest.raises(Refused, match="a → b → a"):
        job((Step("a", "A", 5, after=(After("b"),)), Step("b", "B", 5, after=(After("a"),))))
    with pytest.raises(Refused, match="“a” comes after “x”, which is not there"):
        job((Step("a", "A", 5, after=(After("x"),)),))
    with pytest.raises(Refused, match="“a” waits for “peel” of “b”, which has no cure"):
        job((Step("b", "B", 5), Step("a", "A", 5, after=(After("b", "peel"),))))
    with pytest.raises(Refused, match="needs the station “bench”"):
        job((Step("a", "A", 5, stations=("bench",)),))


def test_what_was_done_takes_the_place_of_the_plan():
    made = steps("skin", skin())
    stations = tuple(Station(name) for name in {name for step in made for name in step.stations})
    mixed = START - 20 * 60
    asked = job(made, Profile.steady(23), stations=stations, facts={"core/bed": Fact(mixed=(Mixed(mixed, EPOXY),))})
    first, second = place(asked).placed[:2]
    assert (first.step.key, first.state, first.ready) == ("core/bed", "done", pytest.approx(mixed + 600))
    assert (second.step.key, second.start) == ("skin-2/layup", START)
    began = Fact(running_since=START - 60, people=("Bo",))
    running = place(replace(asked, facts={"prepare": began})).placed[0]
    assert (running.state, running.start, running.end) == ("running", START - 60, START - 60 + running.step.length)
    over = Fact(running_since=START - 900, people=("Bo",))
    assert place(replace(asked, facts={"prepare": over})).placed[0].end == START + 5


def test_work_taken_up_again_needs_only_what_is_left():
    sand = Step("sand", "Sand", 150, may_pause=True)
    late = at("14 17:00")
    found = place(job((sand,), start=late)).placed[0]
    assert [ends - begins for begins, ends in found.pieces] == [60, 90]
    assert found.pieces[1][0] == at("15 09:00")
    in_one_go = place(job((replace(sand, may_pause=False),), start=late)).placed[0]
    assert (in_one_go.start, in_one_go.because.kind) == (found.pieces[1][0], "hours")
    paused = place(job((sand,), start=late, facts={"sand": Fact(pieces=((late - 120, late - 20),))})).placed[0]
    assert (paused.state, paused.pieces) == ("paused", ((late - 120, late - 20), (late, late + 50)))


@pytest.mark.parametrize(
    ("start", "hour"),
    [("2026-03-28T20:00", 6), ("2026-10-24T20:00", 4)],
    ids=["the night the clocks go forward", "the night they go back"],
)
def test_a_cure_takes_its_true_hours_through_a_clock_change(start, hour):
    glue = Step("glue", "Glue", 60, cure=CureSystem(55, 23, (Stage("handle", 8),)), wait_stage="handle")
    began = minute_of(datetime.fromisoformat(start).replace(tzinfo=VIENNA))
    found = place(job((glue,), Profile.steady(23), ALWAYS, began)).placed[0]
    assert found.ready - began == pytest.approx(540)
    assert moment_of(found.ready, VIENNA).hour == hour  # nine hours on, by a clock that jumped in between
