"""Notes of work in any order that is allowed; recipes that keep their keys whatever their size."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, START, job
from tests.core.test_skin import EPOXY, JOB
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.recipes import fill_fair, foam_core, paste_bond, spar_cap, varnish, wood_frame
from kiteloom.core.build.step import USE_BY
from kiteloom.core.cure.progress import Stage
from kiteloom.core.log.work import Note, fact_of, speaks_against
from kiteloom.core.plan.input import Station
from kiteloom.core.plan.place import place

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
    by_key = plan.by_key
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
    by_key = plan.by_key
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


FOAM_JOB = foam_core.FoamJob(1.6, 1.5, JOB.stack.plies, 140, EPOXY, 1.15, JOB.losses)
CAP = spar_cap.CapJob(7, 0.07, JOB.stack.plies * 2, EPOXY, 1.15, JOB.losses)
BOND = paste_bond.BondJob(4, 0.03, 1, "aluminium", "steel", GLUE, 1.2, JOB.losses, closes=True)


def by_key(made):
    return {step.key: step for step in made}


def test_a_foam_panel_is_skinned_turned_and_its_twist_read_on_both_sides_of_it():
    made = foam_core.steps(FOAM_JOB)
    assert [s.key for s in made if s.kind == "twist"] == ["twist/before", "twist/between", "twist/after"]
    ways = [s.way for s in made if s.way]
    assert ways == sorted(ways, reverse=True)  # all of one side, then all of the other
    needs = foam_core.resin_needs(FOAM_JOB)
    assert needs["top/layup"].total_g / needs["bottom/layup"].total_g == pytest.approx(1.6 / 1.5)
    # Foam drinks: bare of uptake the same plies take less.
    dry = foam_core.resin_needs(replace(FOAM_JOB, uptake_g_m2=0))["top/layup"].total_g
    assert needs["top/layup"].total_g > dry + 1.6 * 140


def test_a_spar_caps_first_half_is_laid_in_the_cool_room_and_both_halves_are_all_of_it():
    made = by_key(spar_cap.steps(CAP))
    assert "cool room" in made["stage-1/layup"].stations
    assert "cool room" not in made["stage-2/layup"].stations
    assert [len(stage) for stage in CAP.stages] == [3, 3]
    assert spar_cap.resin_needs(CAP)["stage-1/layup"].laminate_g == pytest.approx(
        spar_cap.resin_needs(CAP)["stage-2/layup"].laminate_g
    )
    assert made["warm"].holds


def test_a_joint_keeps_metals_apart_follows_its_preparation_in_time_and_closes_its_part():
    made = by_key(paste_bond.steps(BOND))
    assert made["bond"].after[0].within_min == 120
    assert made["bond"].gate
    assert "the metals must not touch" in made["bond"].caution
    assert "Cadmium plating and its dust are poison" in made["prepare"].caution
    pairs = {("carbon", "aluminium"): "a glass ply", ("wood", "wood"): "", ("wood", "aluminium"): ""}
    for (one, other), barrier in pairs.items():
        assert replace(BOND, one=one, other=other).barrier.startswith(barrier)
        assert bool(replace(BOND, one=one, other=other).barrier) == bool(barrier)
    need = paste_bond.paste_needs(BOND)["bond"]
    assert need.laminate_g == pytest.approx(4 * 0.03 * 0.001 * 1.2e6)
    assert need.total_g > 1.5 * need.laminate_g


@pytest.mark.parametrize("on_foam", [True, False])
def test_foam_is_filled_once_more_because_the_first_fill_sinks(on_foam):
    fair = fill_fair.FairJob(2, 2, on_foam, GLUE, JOB.losses)
    made = fill_fair.steps(fair)
    fills = [s for s in made if s.kind == "spread"]
    assert len(fills) == 2 + on_foam
    assert ("(it sinks)" in fills[0].name) is on_foam
    grams = [need.total_g for need in fill_fair.filler_needs(fair).values()]
    assert grams[0] > grams[1] > 0


def test_varnish_is_brushed_while_its_mix_lives_and_again_before_its_window_closes():
    windowed = replace(VARNISH, stages=(*VARNISH.stages, Stage("recoat closes", 40)))
    life = replace(EPOXY, stages=(Stage(USE_BY, 3),))
    made = by_key(varnish.steps(varnish.CoatJob(8, 1, windowed, life=life)))
    assert made["coat-1/brush"].after[0].same_mix
    assert [link.closes for link in made["coat-2/brush"].after] == [USE_BY, "recoat closes"]
    opens = replace(VARNISH, stages=(Stage("recoat opens", 3), Stage("sand", 16)))
    assert by_key(varnish.steps(varnish.CoatJob(8, 1, opens)))["coat-1/brush"].wait_stage == "recoat opens"


@pytest.mark.parametrize(
    ("make", "named"),
    [
        (lambda: replace(FOAM_JOB, plies=()), "the ply book has 0 plies"),
        (lambda: replace(FOAM_JOB, top_m2=0), "the upper side is 0 m²"),
        (lambda: replace(CAP, plies=CAP.plies[:1]), "two stages want at least 2"),
        (lambda: replace(CAP, length_m=40), "the cap's length is 40 m; it can't be above 20 m"),
        (lambda: replace(BOND, one="cheese"), "“cheese” is not a face that is known"),
        (lambda: replace(BOND, paste=replace(GLUE, stages=GLUE.stages[:1])), "“handle” is not a stage"),
        (lambda: fill_fair.FairJob(2, 9, False, GLUE, JOB.losses), "the number of fills is 9; it can't be above 6"),
        (lambda: wood_frame.FrameJob(3, 3, GLUE, stringers=-1), "stringers is -1"),
    ],
)
def test_a_larger_recipe_that_lacks_something_says_what(make, named):
    with pytest.raises(Refused, match=named.replace("(", r"\(")):
        make()


def test_blocks_and_stringers_come_before_the_gussets():
    made = by_key(wood_frame.steps(wood_frame.FrameJob(5, 10, GLUE, stringers=2, blocks=2)))
    assert [link.step for link in made["stringers/glue"].after] == ["frame/clean", "blocks/shape"]
    assert [link.step for link in made["gussets/glue"].after] == ["stringers/glue"]
