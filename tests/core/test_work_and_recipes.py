"""Notes of work in any order that is allowed; recipes that keep their keys whatever their size."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, START, job
from tests.core.tasks import EPOXY, SANDWICH, Sized, cant, example, needs, product, skin, steps, task
from tests.core.walker import broken

import kiteloom
from kiteloom.core.air.profile import Profile
from kiteloom.core.build.faces import barrier_between
from kiteloom.core.build.recipes import RECIPES, recipe_of, spar_cap
from kiteloom.core.build.step import USE_BY
from kiteloom.core.cure.system import Stage
from kiteloom.core.log.work import Note, fact_of, speaks_against
from kiteloom.core.mix.exotherm import PotLife
from kiteloom.core.plan.input import Station
from kiteloom.core.plan.place import place
from kiteloom.core.stores.fields import CURING

GLUE = replace(EPOXY, stages=(Stage("gel", 3), Stage("handle", 9), Stage("sand", 16)))
PRIMER = replace(EPOXY, stages=(Stage("gel", 2), Stage("recoat", 6), Stage("sand", 14)))
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


def frame(ribs, gussets=2, cure=GLUE, **given):
    asked = {"rib_pitch_m": 0.1, "gussets_per_rib": gussets, **given}
    return task("frame", "glue", cure, asked, span=max((ribs - 1) / 10, 0.05))


def coats(pieces, area, cure=VARNISH, **more):
    asked = {"rib_pitch_m": 0.1, "rib_area_m2": area / pieces}
    sheet = product(cure, **more)
    return task("varnish", "varnish", cure, asked, span=max((pieces - 1) / 10, 0.05), sheet=sheet)


def fair(on_foam, fills=2, **more):
    return task("fair", "filler", GLUE, {"fills": fills, "on_foam": on_foam}, area=(2, 2), **more)


@given(ribs=st.integers(1, 40), gussets=st.integers(1, 4), celsius=st.floats(16, 30))
def test_a_wood_frame_of_any_size_keeps_its_keys_and_is_built_in_order(ribs, gussets, celsius):
    made = steps("frame", frame(ribs, gussets))
    assert [step.key for step in made] == ["cut", "fit", "frame/glue", "frame/clean", "gussets/glue", "sand"]
    assert made[2].minutes == 20 + 4 * 2 * ribs
    asked = job(made, Profile.steady(celsius), ALWAYS, stations=(Station("jig"), Station("bench")))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    by_key = plan.by_key
    assert by_key["sand"].start >= plan.event(by_key["gussets/glue"], "sand")
    assert by_key["frame/clean"].start >= by_key["frame/glue"].ready


@given(pieces=st.integers(1, 80), area=st.floats(0.05, 20))
def test_two_coats_wait_for_recoating_and_the_stand_is_held_meanwhile(pieces, area):
    made = steps("varnish", coats(pieces, area))
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
    ("key", "asked", "given", "named"),
    [
        ("frame", frame(4, cure=EPOXY), {}, "Tarn has no stage “handle” on its sheet"),
        ("varnish", coats(4, 1), {"rib_area_m2": 0}, "Wood of one rib, all sides is 0 m²; it must be above 0 m²"),
        ("varnish", coats(4, 1, EPOXY), {}, "Tarn has no stage “recoat opens” or “recoat” on its sheet"),
        ("skin", skin(stack=None), {}, "the ply book has 0 plies"),
        ("frame", replace(frame(4), products={}), {}, "choose a wood glue first"),
        ("frame", replace(frame(4), form=None), {}, "the part has no shape yet"),
        ("frame", frame(4), {"stringers": -1}, "Stringers is -1; it can't be below 0"),
    ],
)
def test_a_job_that_lacks_something_is_one_step_that_says_what(key, asked, given, named):
    assert named in cant(key, asked, given)
    assert cant(key, frame(4) if key == "frame" else coats(4, 1) if key == "varnish" else skin()) == ""


THIRSTY = replace(SANDWICH, core=replace(SANDWICH.core, resin_uptake_g_m2_per_side=140))
PANEL = task("foam", "resin", EPOXY, area=(1.6, 1.5), stack=THIRSTY)
THICK = replace(SANDWICH, plies=SANDWICH.plies * 2, core=None)
CAP = task("cap", "resin", EPOXY, {"length_m": 7, "width_m": 0.07}, stack=THICK)
LINE = {"length_m": 4, "width_m": 0.03, "thickness_mm": 1, "one": "aluminium", "other": "steel", "closes": True}
BOND = task("bond", "paste", GLUE, LINE, density=1.2)


def by_key(made):
    return {step.key: step for step in made}


def test_a_foam_panel_is_skinned_turned_and_its_twist_read_on_both_sides_of_it():
    made = steps("foam", PANEL)
    assert [s.key for s in made if s.kind == "twist"] == ["twist/before", "twist/between", "twist/after"]
    ways = [s.way for s in made if s.way]
    assert ways == sorted(ways, reverse=True)  # all of one side, then all of the other
    takes = needs("foam", PANEL)
    assert takes["top/layup"].total_g / takes["bottom/layup"].total_g == pytest.approx(1.6 / 1.5)
    # Foam drinks: bare of uptake the same plies take less.
    bare = replace(PANEL, stack=replace(PANEL.stack, core=None))
    dry = needs("foam", bare)["top/layup"].total_g
    assert takes["top/layup"].total_g > dry + 1.6 * 140


def test_a_spar_caps_first_half_is_laid_in_the_cool_room_and_both_halves_are_all_of_it():
    made = by_key(steps("cap", CAP))
    assert "cool room" in made["stage-1/layup"].stations
    assert "cool room" not in made["stage-2/layup"].stations
    assert [len(stage) for stage in spar_cap.halves(CAP.stack.plies)] == [3, 3]
    takes = needs("cap", CAP)
    assert takes["stage-1/layup"].laminate_g == pytest.approx(takes["stage-2/layup"].laminate_g)
    assert made["warm"].holds


def test_a_joint_keeps_metals_apart_follows_its_preparation_in_time_and_closes_its_part():
    made = by_key(steps("bond", BOND))
    # From the first metre, ready while the others are prepared, to the last clamp: two hours of aluminium.
    ready, bond = made["bond"].after[0], made["bond"]
    assert (ready.until, ready.within_min) == ("end", 120 - made["prepare"].minutes - bond.minutes)
    long, many = (
        by_key(steps("bond", task("bond", "paste", GLUE, {**LINE, "length_m": 8, "people": n}))) for n in (2, 4)
    )
    assert "abrade and wipe the first metres once more" in long["bond"].caution
    assert long["bond"].after[0].within_min == 0
    assert "stay ready" not in many["bond"].caution
    assert made["bond"].gate
    assert "the metals must not touch" in made["bond"].caution
    assert "Cadmium plating and its dust are poison" in made["prepare"].caution
    pairs = {("carbon", "aluminium"): "a glass ply", ("wood", "wood"): "", ("wood", "aluminium"): ""}
    for (one, other), barrier in pairs.items():
        assert barrier_between(one, other).startswith(barrier)
        assert bool(barrier_between(one, other)) == bool(barrier)
    need = needs("bond", BOND)["bond"]
    assert need.laminate_g == pytest.approx(4 * 0.03 * 0.001 * 1.2e6)
    assert need.total_g > 1.5 * need.laminate_g


@pytest.mark.parametrize("on_foam", [True, False])
def test_foam_is_filled_once_more_because_the_first_fill_sinks(on_foam):
    made = steps("fair", fair(on_foam))
    fills = [s for s in made if s.kind == "spread" and s.key != "pinholes"]
    assert len(fills) == 2 + on_foam
    assert ("(it sinks)" in fills[0].name) is on_foam
    takes = needs("fair", fair(on_foam))
    assert set(takes) == {step.key for step in made if step.cure is not None}  # the pinholes too
    grams = [need.total_g for need in takes.values()]
    assert grams[0] > grams[1] > 0
    heavier = needs("fair", fair(on_foam, density=2.3))["fill-1/spread"]
    assert heavier.total_g == pytest.approx(2 * grams[0])  # thickness times what the filler weighs


def test_varnish_is_used_up_while_its_mix_lives_and_rubbed_down_only_once_it_can_be_sanded():
    opens = replace(VARNISH, stages=(Stage("recoat opens", 3), Stage("handle", 20), Stage("sand", 16)))
    made = by_key(steps("varnish", coats(8, 1, opens, pot_life=PotLife(180, 100, 23))))
    used = made["coat-1/brush"].after[0]
    assert (used.same_mix, used.closes, used.uses_min) == (True, USE_BY, made["coat-1/brush"].minutes)
    assert made["coat-1/brush"].wait_stage == "sand"
    # Twelve square metres and sixty pieces with a life of an hour: several mixes, each used up in its own.
    many = by_key(steps("varnish", coats(60, 0.2, opens, pot_life=PotLife(60, 100, 23))))["coat-1/brush"]
    assert "mixes" in many.caution
    assert many.after[0].uses_min < 0.75 * 60
    spent = cant("varnish", coats(8, 1, opens, pot_life=PotLife(35, 100, 23)))
    assert "nothing of it is left to brush with" in spent


@pytest.mark.parametrize(
    ("key", "asked", "given", "named"),
    [
        ("foam", replace(PANEL, form=Sized(0, 1)), {}, "the upper side is 0 m²"),
        ("cap", replace(CAP, stack=replace(CAP.stack, plies=CAP.stack.plies[:1])), {}, "two stages want at least 2"),
        ("cap", CAP, {"length_m": 40}, "Length of the cap is 40 m; it can't be above 20 m"),
        ("bond", BOND, {"one": "cheese"}, "“cheese” is not one of cured laminate, carbon"),
        ("fair", fair(False), {"fills": 9}, "Fills is 9; it can't be above 6"),
    ],
)
def test_a_larger_job_that_lacks_something_says_what(key, asked, given, named):
    assert named in cant(key, asked, given)


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda recipe: recipe.key)
def test_every_recipe_there_is_keeps_its_own_word_and_works_wet_within_its_products_limits(recipe):
    asked = example(recipe)
    made = recipe.steps(asked)
    keys = [step.key for step in made]
    assert len(set(keys)) == len(keys)
    for n, step in enumerate(made):
        assert {link.step for link in step.after} <= set(keys[:n])
        assert set(step.stations) <= set(recipe.stations)
        assert step.caution or step.kind == "twist"
    assert {need.step for need in recipe.needs(asked)} <= set(keys)
    assert {need.role for need in recipe.needs(asked)} <= {role.key for role in recipe.roles}
    wet = [step for step in made if step.cure is not None]
    assert wet or not any(kind in CURING for role in recipe.roles for kind in role.kinds)
    for step in wet:
        # Until the first stage by its hours, whichever stands first on the sheet.
        assert (step.min_c, step.max_c, step.max_rh_pct, step.margin_k) == (12, 33.0, 77.0, 3.0)
        # What dries in one straight shot is held to them until it is dry.
        shot = step.kind == "adhesive" and step.stations == ("wing stands",)
        assert step.limits_until == ("wait" if shot else "gel")
        assert "Hardener sensitises skin" in step.caution
        items = [item.key for item in recipe.items(asked, step.key)]
        assert items[0] == "ready"
        assert len(set(items)) == len(items)
    for role in recipe.roles:
        left = {key: sheet for key, sheet in asked.products.items() if key != role.key}
        other = {key: sheet for key, sheet in asked.materials.items() if key != role.key}
        without = replace(asked, products=left, materials=other)
        assert f"{role.label.lower()} first" in cant(recipe.key, without)


def test_no_way_of_building_is_named_outside_its_module():
    """A recipe is one module and one line: nobody else asks which one it is."""
    source = Path(kiteloom.__file__).parent
    names = {recipe.name for recipe in RECIPES}
    for file in source.rglob("*.py"):
        text = file.read_text()
        home = "core/build/recipes" in str(file) or "migrations" in str(file)
        if home or "demo/" in str(file):
            continue
        # Compared with a name, or fetched from its module: then a second place knows of it.
        assert not re.search(r"recipe(\.key|\.name)? (==|!=|in) [\"'(]", text), file
        assert not any(f'"{name}"' in text for name in names), file
        assert not re.search(
            r"build\.recipes\.\w+ import|build\.recipes import .*\b[a-z]+_[a-z]+\b(?<!recipe_of)", text
        ), file


def test_a_whole_part_is_both_its_sides_and_neither_of_them_alone():
    sides = {side: replace(skin(), form=Sized(3, 2), side=side) for side in ("upper", "lower", "whole")}
    assert {side: asked.area_m2() for side, asked in sides.items()} == {"upper": 3, "lower": 2, "whole": 5}
    takes = {side: sum(need.total_g for need in needs("skin", asked).values()) for side, asked in sides.items()}
    assert takes["whole"] == pytest.approx(takes["upper"] + takes["lower"])


def test_blocks_and_stringers_come_before_the_gussets():
    made = by_key(steps("frame", frame(5, stringers=2, blocks=2)))
    assert [link.step for link in made["stringers/glue"].after] == ["frame/clean", "blocks/shape"]
    assert [link.step for link in made["gussets/glue"].after] == ["stringers/glue"]


def test_a_coat_goes_by_what_its_sheet_says_a_litre_spreads_over():
    coat = {"coats": 1, "method": "roller"}
    told = task("prime", "primer", PRIMER, coat, area=(2, 2), sheet=product(PRIMER, spread_m2_l=10.0))
    silent = task("prime", "primer", PRIMER, coat, area=(2, 2), sheet=product(PRIMER))
    assert needs("prime", told)["coat-1"].laminate_g == pytest.approx(2 * 110)  # a litre of 1.1 g/ml over ten
    assert needs("prime", silent)["coat-1"].laminate_g == pytest.approx(2 * 130)


def test_a_cap_is_warmed_on_its_mould_in_a_box_as_warm_as_it_asks():
    warm = by_key(steps("cap", CAP))["warm"]
    assert warm.stations == ("hot box", "cap mould")
    assert warm.min_c == 40
    boxed, box = replace(warm, after=(), stations=("box",)), Station("box", 1, "box")
    cold, hot = (
        place(job([boxed], stations=(box,), zones={"box": air})) for air in (Profile.steady(30), Profile.steady(45))
    )
    assert "it needs 40.0 °C until its wait is over" in cold.unplaced[0].why
    assert hot.unplaced == ()


def test_what_is_laid_on_a_cured_face_has_its_peel_ply_taken_off_in_that_very_step():
    made = steps("skin", skin())
    for asked, key in ((skin(), "core/bed"), (CAP, "stage-2/layup")):
        recipe = "skin" if asked is not CAP else "cap"
        items = [item.key for item in recipe_of(recipe).items(asked, key)]
        assert items.index("bare") < items.index("wet")
    assert "stays on until the minute" in by_key(made)["skin-1/peel"].caution
