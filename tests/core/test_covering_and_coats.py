"""What must hold of covering, wood, tanks and coats for whatever is given: nothing lost, nothing in the wrong order."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, DAYS, examples, job
from tests.core.tasks import EPOXY, LIKE, MATERIALS, clothed, example, product
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.problems import Refused
from kiteloom.core.build import covering
from kiteloom.core.build.clothing import flat_of, landing_of, panel_in
from kiteloom.core.build.gates import practised_first
from kiteloom.core.build.one_go import SOON_MIN, one_go
from kiteloom.core.build.recipe import build
from kiteloom.core.build.recipes import paint, plywood, prime, recipe_of, restick, sticks, tank, varnish
from kiteloom.core.build.step import USE_BY, After, Estimate, Step, in_order
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.mix.exotherm import PotLife
from kiteloom.core.need.coats import BESIDE, Coating, Way, compared
from kiteloom.core.plan.input import Damp, Station
from kiteloom.core.plan.place import place
from kiteloom.core.shape.flat import Piece, Pieces, StripAt, Strips
from kiteloom.core.stores.reading import material

LIFE = CureSystem(50, 23, (Stage(USE_BY, 1.5),))
DRIES = replace(EPOXY, stages=(Stage("gel", 1), Stage("recoat opens", 2), Stage("handle", 8)))


def coated(parts, minutes=40.0, pot=90.0):
    """The first coat of several parts, as large as each other, and how long each mix can be used."""
    size = Estimate(20, per_m2_min=(minutes - 20) / 2, area_m2=2.0)
    steps = [
        Step(f"{part}:coat", "Coat", minutes, 1, estimate=size, part=part, cure=DRIES, wait_stage="recoat opens",
             stations=("booth",), holds=True, life=LIFE)
        for part in parts
    ]  # fmt: skip
    return steps, {step.key: pot for step in steps}


@settings(max_examples=examples(40), deadline=None)
@given(st.integers(2, 6), st.floats(25, 70), st.floats(20, 200), st.floats(14, 28))
def test_parts_in_one_go_follow_each_other_while_each_mix_is_open(count, minutes, pot, celsius):
    steps, pots = coated([f"p{n}" for n in range(count)], minutes, pot)
    found = one_go([steps], pots, ())
    made = [found.get(step.key, step) for step in steps]
    asked = job(made, Profile.steady(celsius), ALWAYS, stations=(Station("booth"),))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    placed = [plan.by_key[step.key] for step in made]
    if any(one.start is None for one in placed):
        assert plan.unplaced  # a mix that is dead before the next part is reached is said, not passed over
        return
    for one, then in pairwise(placed):
        assert one.end <= then.start <= one.end + SOON_MIN + 5
    # A mix is used up within three quarters of its life: what it can't cover has its own.
    used = steps[0].wet_min
    for step in made[1:]:
        same = step.after[-1].same_mix
        used = used + step.length if same else step.wet_min
        assert not same or used <= 0.75 * pot + 1e-6
    assert all(not step.stations for step in made[1:])


def test_what_was_begun_is_bound_no_more_and_one_part_alone_is_as_it_was():
    steps, pots = coated(["a", "b", "c"])
    assert set(one_go([steps], pots, {"a:coat"})) == {"c:coat"}
    assert one_go([steps[:1]], pots, ()) == {}
    assert not one_go([steps], {}, ())["b:coat"].after[-1].same_mix  # of no mix: only one after the other
    lost = [replace(steps[0], refused="no paint"), *steps[1:]]
    assert set(one_go([lost], pots, ())) == {"c:coat"}


@given(st.lists(st.sampled_from(["first", "after", ""]), min_size=2, max_size=9), st.data())
def test_practice_comes_first_wherever_nothing_speaks_against_it(kinds, data):
    steps = []
    for n, kind in enumerate(kinds):
        before = data.draw(st.sets(st.integers(0, n - 1), max_size=2)) if n else set()
        steps.append(Step(f"s{n}", "Cover", 30, after=tuple(After(f"s{i}") for i in sorted(before)), practice=kind))
    found = practised_first(steps)
    in_order(found)  # no link goes round
    firsts = [step.key for step in steps if step.practice == "first"]
    for step in found:
        told = {link.step for link in step.after}
        if step.practice == "after":
            behind = {step.key}
            while more := {s.key for s in steps if {link.step for link in s.after} & behind} - behind:
                behind |= more
            told -= {link.step for link in steps[int(step.key[1:])].after}
            assert told <= set([key for key in firsts if key not in behind][:1])
        else:
            assert told == {link.step for link in steps[int(step.key[1:])].after}


@settings(max_examples=examples(40), deadline=None)
@given(st.sets(st.integers(1, 4)), st.integers(0, 4), st.floats(0, 3), st.floats(0.006, 0.02), st.floats(0.005, 0.06))
def test_what_is_glued_is_ribs_stringers_edges_and_openings_and_nothing_that_slides(
    loose, stringers, around, wrap, land
):
    says = {"loose_ribs": " ".join(map(str, sorted(loose))), "glued_stringers": stringers, "openings_m": around,
            "opening_wrap_m": wrap, "land_m": land}  # fmt: skip
    task = clothed("wrap", says)
    panel, rib_m = panel_in(task)
    girths = [girth for n, girth in enumerate(panel.ribs_m) if n // 2 + 1 not in loose]
    glued = sum(girths) * rib_m + panel.around_m * land + stringers * panel.along_m * rib_m + around * wrap
    assert landing_of(task, panel, rib_m) == pytest.approx(glued)
    kinds = {one.number: one.kind for one in flat_of(task).lands if one.number}
    assert {number for number, kind in kinds.items() if kind == "loose rib"} == loose
    coats = [one for one in recipe_of("wrap").supplies(task) if one.kind == "volume"]
    assert sum(one.amount for one in coats) == pytest.approx(4 * 1000 * glued / 5 / 0.95)


@pytest.mark.parametrize("key", ["wrap", "cover"])
def test_edges_ribs_and_stringers_are_called_out_once_each(key):
    task = clothed(key, {"loose_ribs": "2", "glued_stringers": 2, "slides": 1, "openings_m": 0.4})
    recipe = recipe_of(key)
    laid = next(step.key for step in recipe.steps(task) if step.gate)
    keys = [item.key for item in recipe.items(task, laid)]
    assert len(set(keys)) == len(keys)
    wanted = ["edges", "ends", "rib-1", "rib-2", "rib-3", "rib-4", "stringer-1", "stringer-2", "slides", "openings"]
    assert keys[1:-1] == wanted
    for wrong in ("0", "5", "two", "1,9"):
        cant = build(recipe, {"loose_ribs": wrong}, lambda found: replace(clothed(key), given=found)).cant
        assert "is no rib of it; they are 1 to 4" in "; ".join(cant)


@pytest.mark.parametrize(("side", "practice", "found"), [
    ("lower", "by its side: a lower one first", "first"),
    ("upper", "by its side: a lower one first", "after"),
    ("upper", "first, for practice", "first"),
    ("lower", "in its turn", ""),
])  # fmt: skip
@pytest.mark.parametrize("key", ["wrap", "cover"])
def test_the_belly_is_practised_on_unless_told_otherwise(key, side, practice, found):
    task = replace(clothed(key, {"practice": practice}), side=side)
    steps = recipe_of(key).steps(task)
    said = {step.practice for step in steps}
    assert said == ({"", found} if found else {""})
    assert (next(step for step in steps if step.gate).practice == "first") == (found == "first")


def test_seams_that_the_nose_can_not_be_kept_from_are_asked_about():
    """Where a width more would not keep a seam off the leading edge, it is said."""
    task = clothed("wrap", {"wrap_m": 0.3, "overlap_m": 0.5})
    cloth = replace(task.materials["cloth"], roll_width_m=0.62)
    task = replace(task, materials={**task.materials, "cloth": cloth})
    said = recipe_of("wrap").asks(task)
    assert any("A seam lies on its leading edge" in words for words in said)


@given(st.floats(0.1, 6), st.integers(1, 4), st.floats(4, 14), st.floats(0.1, 2), st.floats(1, 80), st.floats(0, 200))
def test_ways_of_painting_put_the_same_on_and_differ_in_what_goes_beside(area, coats, spread, pack, price, sprayer):
    found = compared(
        Coating(area, coats, spread, 1.2, 0.5, 0.05), [Way(method, pack, price, sprayer) for method in BESIDE]
    )
    assert len({one.dry_g for one in found}) == 1
    on_part = area * coats / spread
    for one in found:
        assert one.packs * pack >= one.litres - 1e-9
        assert (one.packs - 1) * pack < one.litres + 1e-9
        assert one.cost == pytest.approx(one.packs * price + sprayer)
        assert one.beside_l == pytest.approx(on_part * BESIDE[one.way.method])
        lost = 0 if one.way.method == "cans" else 0.05
        assert one.litres * (1 - lost) == pytest.approx(on_part + one.beside_l)


def test_coats_of_a_job_are_masked_thinned_and_stand_their_time():
    enamel = replace(product(DRIES), spread_m2_l=10.0, induction_min=15.0, pot_life=PotLife(60, 100, 23))
    task = replace(example(paint.RECIPE), products={"paint": enamel})
    first = next(step for step in paint.steps(task) if step.key == "coat-1")
    assert first.estimate.fixed_min == 35
    assert first.life is not None
    ready = replace(enamel, parts=None)
    thin = replace(task, products={"paint": ready}, given=paint.Given(thinned=0.1, masked_m=6))
    names = {one.name: one.amount for one in paint.uses(thin)}
    assert names["thinner"] == pytest.approx(1000 * thin.area_m2() / 10 * 0.1)
    assert names["masking tape"] == 6
    assert paint.together(replace(task, given=paint.Given(together="  White  Top "))) == (
        "white top",
        ("coat-1", "coat-2"),
    )


def test_pinholes_are_filled_between_the_coats_and_not_where_nobody_wants_them():
    keys = [step.key for step in prime.steps(example(prime.RECIPE))]
    assert keys == ["ready", "coat-1", "pinholes", "coat-2", "look"]
    steps = {step.key: step for step in prime.steps(example(prime.RECIPE))}
    assert [link.closes for link in steps["coat-2"].after] == [""]  # sanded, no window closes
    for given_ in (prime.Given(pinholes=prime.PINHOLES[1]), prime.Given(coats=1)):
        assert "pinholes" not in [step.key for step in prime.steps(replace(example(prime.RECIPE), given=given_))]


def test_varnish_masks_its_strips_and_counts_their_tape():
    given_ = replace(example(varnish.RECIPE).given, masked_m=12.0)
    task = replace(example(varnish.RECIPE), given=given_)
    bare = varnish.steps(example(varnish.RECIPE))[0].minutes
    assert varnish.steps(task)[0].minutes == bare + 2 * 12
    assert [(one.name, one.amount) for one in varnish.uses(task)] == [("masking tape", 12.0)]
    assert varnish.uses(example(varnish.RECIPE)) == ()


@settings(max_examples=examples(40), deadline=None)
@given(st.integers(0, 12), st.integers(1, 6), st.floats(0.1, 3), st.floats(5, 300), st.floats(6, 30))
def test_a_tank_is_rinsed_after_its_threads_dries_between_and_is_tried_when_its_sealant_is_full(
    threads, rinses, litres, dries, celsius
):
    sealant = product(replace(EPOXY, stages=(Stage("handle", 10), Stage("full", 60)), min_c=4))
    says = tank.Given(threads=threads, rinses=rinses, rinse_l=litres, dry_min=dries)
    task = replace(example(tank.RECIPE), given=says, products={"sealant": sealant})
    made = tank.steps(task)
    asked = job(made, Profile.steady(celsius), DAYS, stations=(Station("bench"),))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    if plan.unplaced:
        assert celsius < 6.5  # the air stays too near its own dew point or too cold for it
        return
    at = plan.by_key
    rinsed = [at[f"rinse-{n}"] for n in range(1, rinses + 1)]
    assert all(then.start >= one.end + dries for one, then in pairwise(rinsed))
    assert at["pump"].start >= plan.event(at["seal"], "full")
    assert at["read"].start >= at["pump"].end + 60 * says.stands_h
    if threads:
        assert at["tap"].end <= rinsed[0].start
    assert sum(one.amount for one in tank.uses(task)) == pytest.approx(1000 * rinses * litres)


@settings(max_examples=examples(30), deadline=None)
@given(st.floats(15, 95), st.floats(15, 95), st.floats(8, 26))
def test_a_sealant_that_takes_its_moisture_from_the_air_waits_longer_in_the_drier(one, other, celsius):
    by_air = CureSystem(0, 20, (Stage("handle", 12), Stage("full", 72)), table=((10, 0.5), (20, 1.0)),
                        reference_rh_pct=50)  # fmt: skip
    steps = [Step("seal", "Seal", 30, 1, cure=by_air, wait_stage="full"),
             Step("pump", "Pump", 20, 1, (After("seal"),))]  # fmt: skip
    warm = Profile.steady(celsius)
    waits = []
    for humidity in (one, other):
        asked = job(steps, warm, ALWAYS)
        known = Profile.of([(asked.start, humidity), (asked.start + 60 * 24 * 60, humidity)])
        asked = replace(asked, damp={"": Damp(known, Profile.steady(10))})
        plan = place(asked)
        assert broken(asked, plan.placed) == []
        sealed = plan.by_key["seal"]
        waits.append(sealed.ready - sealed.end)
    assert waits[0] * one == pytest.approx(waits[1] * other)
    assert waits[0] == pytest.approx(72 * 60 / by_air.rate_at(celsius) * 50 / one)


def test_sealant_in_one_part_is_counted_in_millilitres_and_weighed_and_cures_by_the_air():
    gull = replace(product(replace(EPOXY, stages=(Stage("full", 72),))), parts=None, chemistry="moisture")
    task = replace(example(tank.RECIPE), products={"sealant": gull})
    assert tank.needs(task) == ()
    (bead,) = (one for one in tank.uses(task) if one.step == "seal")
    assert bead.amount == pytest.approx(tank.sealant_ml(task.given) / 0.95)
    (stays,) = tank.dried(task)
    assert stays.grams == pytest.approx(tank.sealant_ml(task.given) * gull.wet_density_g_ml)
    assert any("by the air's moisture" in item.detail for item in tank.items(task, "seal"))
    assert tank.dried(example(tank.RECIPE)) == ()
    assert "What it holds is not said" in tank.asks(replace(task, given=tank.Given()))[0]


@settings(max_examples=examples(30), deadline=None)
@given(st.integers(1, 6), st.floats(0.5, 5), st.floats(0.005, 0.02), st.integers(1, 6), st.sampled_from(sticks._BENDS))
def test_wood_that_is_sawn_comes_to_its_pieces_and_glue_to_its_faces(count, length, thick, layers, bend):
    wood = Pieces((Piece("cap", count, length, 0.03, thick),))
    says = sticks.Given(layers=layers, bend=bend, stock_m=2.4)
    task = replace(example(sticks.RECIPE), form=wood, given=says)
    try:
        (sawn,) = sticks.sawn(task)
    except Refused:
        assert length > 2.4  # no scarf lies so that either end of it is long enough
        return
    scarfs = sum(len(at) for _, at in sawn.scarfs)
    whole = sum(piece for bar in sawn.list.bars for _, piece in bar.pieces)
    assert whole == pytest.approx(count * layers * (length + scarfs * sawn.scarf_m), abs=2e-3)
    steps = sticks.steps(task)
    keys = [step.key for step in steps]
    assert ("scarf/glue" in keys) == bool(scarfs)
    assert ("laminate/glue" in keys) == (layers > 1)
    assert ("form" in keys) == (bend == "soaked or steamed")
    glued = {need.step: need.takes.laminate_g for need in sticks.needs(task)}
    if layers > 1:
        assert glued["laminate/glue"] == pytest.approx((layers - 1) * count * length * 0.03 * 300)
    if scarfs:
        assert glued["scarf/glue"] == pytest.approx(scarfs * count * layers * sawn.scarf_m * 0.03 * 300)
    asked = job(steps, Profile.steady(20), DAYS, stations=(Station("bench"),))
    assert broken(asked, place(asked).placed) == []


@given(st.integers(0, 5), st.integers(0, 60), st.floats(0.0005, 0.03))
def test_holes_and_gussets_count_in_hours_sheets_and_grams(holes, gussets, pack):
    says = plywood.Given(holes=holes, hole_m=0.01, gussets=gussets, gusset_m=0.04, pack_m=pack)
    task = replace(example(plywood.RECIPE), form=LIKE, given=says)
    (stays,) = plywood.wood(task)
    cap = 4 * (3.0 * 0.02 - holes * math.pi / 4 * 0.01**2)
    assert stays.grams == pytest.approx((cap + gussets * 0.04**2 / 2) * 1.5 * 680)
    at_once = max(int(pack / 0.0015 + 1e-9), 1)
    assert sum(count for _, _, count in plywood.packs(task)) == math.ceil(4 / at_once) + math.ceil(gussets / at_once)
    assert ("holes" in [step.key for step in plywood.steps(task)]) == bool(holes)
    assert plywood.asks(replace(task, given=replace(says, hole_m=0.015))) if holes else not plywood.asks(task)


def test_a_place_is_set_again_with_the_iron_as_its_cloth_asks():
    task = replace(example(restick.RECIPE), given=restick.Given("rib 3", 2, 0.02))
    steps = restick.steps(task)
    assert steps[-1].heats == (("at", 140),)
    assert all("rib 3" in step.name for step in steps)
    dull = {**task.materials, "cloth": replace(MATERIALS["cover cloth"], slack_c=None)}
    assert restick.steps(replace(task, materials=dull))[-1].heats == ()
    sealed = replace(task, products={"cement": replace(task.products["cement"], spread_m2_l=5.0)})
    assert sum(one.amount for one in restick.uses(sealed)) == pytest.approx(2 * 1000 * 2 * 2 * 0.02 / 5 / 0.95)


@pytest.mark.parametrize(
    ("kind", "says", "why"),
    [
        ("sheet", {}, "thickness"),
        ("cover cloth", {"areal_weight_g_m2": 92}, "width of its roll"),
        ("tape", {}, "width"),
        ("core", {}, "nothing is built with it by itself"),
    ],
)
def test_a_sheet_that_lacks_what_it_is_worked_by_says_what(kind, says, why):
    with pytest.raises(Refused) as refused:
        material(kind, "Reed", says)
    assert why in refused.value.sentence
    assert material("solvent", "Acre", {"density_kg_m3": 790, "hazards": ["Burns"]}).density_g_ml == 0.79


def test_widths_of_what_has_no_section_are_those_of_either_side():
    strip = Strips((StripAt(0, 0.9), StripAt(2, 0.7)))
    assert [one.id for one in covering.cut_cloth(strip, "whole", covering.Cloth(0.5, 90, 0.0, 0.05))[0]] == [
        "1a",
        "1b",
        "2a",
        "2b",
    ]
    flat, lands = covering.lands(clothed("wrap").form, "upper", 0.012, 0.025, ())
    assert min(y for _, y in flat) == 0  # the leading edge is an edge here
    assert [one.kind for one in lands].count("edge") == 4
