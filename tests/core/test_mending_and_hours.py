"""Patches, and the step they go before; places on a part; spells of work, hours spent; what a cup is good for."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.tasks import EPOXY, needs, steps, task

from kiteloom.core.base.calendar import clock, spells
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.chain import chained
from kiteloom.core.build.recipes.patch import Given, areas_m2
from kiteloom.core.build.step import After, Step
from kiteloom.core.log.deviations import state_of
from kiteloom.core.log.work import Note, fact_of, spent
from kiteloom.core.mix.exotherm import HotMix, PotLife, usable_life, working_life
from kiteloom.core.mix.filled import Powder, filled, powder_for
from kiteloom.core.need.resin import Losses, as_taken, resin_need
from kiteloom.core.shape.loft import Loft, Station
from kiteloom.core.shape.section import naca4

SLOW = HotMix(PotLife(45, 100, 23), 55)
FLAT = naca4("0012")
WING = Loft((Station(0, 1.2, 0, section=FLAT), Station(2, 1.0, 0.1, section=FLAT), Station(5, 0.6, 0.4, section=FLAT)))


def test_each_ply_of_a_patch_reaches_beyond_the_one_below_by_the_taper():
    areas = areas_m2(Given(length_mm=100, width_mm=50, plies=3, cloth_g_m2=200, taper=20))
    step = 20 * 200 * 1.1e-3
    assert areas == pytest.approx([1e-6 * (100 + 2 * n * step) * (50 + 2 * n * step) for n in (1, 2, 3)])
    flat, steep = (areas_m2(Given(taper=taper))[-1] for taper in (100, 5))
    assert flat > steep
    asked = task(
        "patch", "resin", EPOXY, {"length_mm": 100, "width_mm": 50, "plies": 3, "cloth_g_m2": 200, "taper": 20}
    )
    assert needs("patch", asked)["lay"].laminate_g == pytest.approx(200 * sum(areas))
    cut, lay, flush = steps("patch", asked)
    assert [link.step for link in (*lay.after, *flush.after)] == ["cut-back", "lay"]
    assert lay.after[0].within_min == 240  # what is abraded does not stay ready
    assert (lay.wait_stage, lay.min_c) == ("sand", EPOXY.min_c)
    assert cut.minutes > 0


def test_a_job_before_a_step_waits_for_what_that_step_waits_for_and_the_row_goes_on_round_it():
    lay = Step("lay", "Lay", 60, cure=EPOXY, wait_stage="peel")
    bed = Step("bed", "Bed", 60, after=(After("lay", "wait", within_min=300),))
    trim, fill = Step("trim", "Trim", 10, after=(After("bed"),)), Step("fill", "Fill", 30)
    cut, mend = Step("cut", "Cut", 20), Step("mend", "Mend", 20, after=(After("cut"),))
    jobs = [("", (lay, bed, trim)), ("j2", (fill,)), ("j3", (cut, mend))]
    found = {step.key: step for step in chained(jobs, {"j3": "bed"})}
    assert found["j3:cut"].after == (After("lay", "wait"),)  # as soon as the bed could, without its window
    assert found["bed"].after == (After("lay", "wait", within_min=300), After("j3:mend"))
    assert found["j2:fill"].after == (After("trim"),)
    gone = {step.key: step for step in chained(jobs, {"j3": "no longer there"})}
    assert gone["j3:cut"].after == (After("j2:fill"),)  # what it was to go before is not built so: last
    assert gone["bed"].after == bed.after


@given(along=st.floats(0, 1), across=st.floats(0, 1), hand=st.sampled_from(["left", "right"]))
def test_a_place_on_a_part_is_found_again_by_its_shares(along, across, hand):
    at = WING.point(along, across, hand)
    assert (at[0] <= 0) == (hand == "left" or at[0] == 0)
    assert WING.shares(at, hand) == pytest.approx((along, across), abs=1e-9)


def test_a_place_beside_a_part_is_none():
    for beside in ((2.5, -0.4), (2.5, 1.6), (-1.0, 0.5), (5.6, 0.6)):
        assert WING.shares(beside, "right") is None
    assert WING.shares((2.5, 0.5), "left") is None  # that is the other wing


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("", []),
        ("9-17", ["09:00–17:00"]),
        ("6:00–7:30; 17.30 – 22", ["06:00–07:30", "17:30–22:00"]),
        ("8 to 12, 13 to 24", ["08:00–12:00", "13:00–24:00"]),
    ],
)
def test_spells_of_work_are_read_as_people_write_them(text, found):
    assert [f"{clock(spell.start)}–{clock(spell.end)}" for spell in spells(text, 2)] == found


@pytest.mark.parametrize(("text", "named"), [("9", "has no end"), ("9-25", "24:00"), ("9-12, 10-11", "overlap")])
def test_spells_that_cannot_be_name_what_is_wrong(text, named):
    with pytest.raises(Refused, match=named):
        spells(text, 2)


def test_hours_go_to_who_was_there_and_a_pause_is_nobodys():
    notes = [Note("start", 0, ("bo",)), Note("pause", 30), Note("start", 90, ("bo", "imre")), Note("finish", 100)]
    assert spent(notes, 500) == {"bo": 40, "imre": 10}
    assert spent(notes[:3], 120) == {"bo": 60, "imre": 30}  # what runs counts until now
    assert sum(spent([Note("skip", 10, ("bo",))], 50).values()) == 0
    skipped = fact_of([Note("skip", 10, ("bo",))])
    assert (skipped.done, skipped.skipped, skipped.worked_min) == (True, True, 0)
    assert not fact_of([Note("skip", 10), Note("start", 20)]).skipped  # it was begun after all


def test_a_decision_stands_until_another_and_mending_is_over_when_its_job_is():
    assert state_of("dent", ["mend"]) == "to mend"
    assert state_of("dent", ["mend", "accept"], mended=True) == "accepted"
    assert state_of("dent", ["accept", "open"]) == "open"


@given(grams=st.floats(10, 2000), room=st.floats(5, 35))
def test_a_cup_is_never_good_for_longer_than_its_heat_or_its_sheet_allow(grams, room):
    life = usable_life(SLOW, grams, lambda _: room)
    assert life <= working_life(SLOW, grams, lambda _: room) * (1 + 1e-9)
    assert life <= SLOW.pot_life.minutes / SLOW.rate(room) + 1e-6
    assert usable_life(SLOW, grams, lambda _: room + 3) <= life + 1e-6  # warmer is never longer


@given(volume=st.floats(10, 2000))
def test_the_filler_of_a_planned_volume_and_of_what_was_poured_are_one_rule(volume):
    flock = Powder("flock", "structural", 1.5, {"syrup": 4, "mayonnaise": 9})
    planned = filled(flock, "mayonnaise", volume, 1.1)
    assert powder_for(flock, "mayonnaise", planned.mix_g) == pytest.approx(planned.filler_g)


@given(
    area=st.floats(0.2, 12), plies=st.floats(100, 900), core=st.floats(0, 300), bagged=st.booleans(),
    cup=st.floats(0, 20), more=st.floats(0.8, 1.5),
)  # fmt: skip
def test_the_loss_that_is_taken_foretells_what_was_taken(area, plies, core, bagged, cup, more):
    losses = Losses(trim_pct=8, bleed_g_m2=90, cup_pct=cup)
    laid = (area * plies, area * core)
    need = resin_need(*laid, losses, area if bagged else 0.0)
    taken = need.total_g * more
    found = as_taken([need], losses, taken)
    stays = need.laminate_g + need.core_g + need.trim_g
    if found is None:
        # Less was taken than what stays in it, or far more than any loss explains.
        assert taken * (1 - (cup if bagged else 0) / 100) < stays or (not bagged and stays < 0.4 * taken)
        return
    name, value = found
    assert name == ("bleed_g_m2" if bagged else "cup_pct")
    assert resin_need(*laid, replace(losses, **{name: value}), area if bagged else 0.0).total_g == pytest.approx(taken)
