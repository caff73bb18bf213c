"""The plan weighed up: single reliefs name the bottleneck, and drawn plans say how sure the end is."""

from __future__ import annotations

from dataclasses import replace
from itertools import islice, pairwise

from hypothesis import given, settings
from tests.core.airframe import airframe
from tests.core.jobs import VIENNA, examples, job, jobs
from tests.core.tasks import EPOXY
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import local_midnight
from kiteloom.core.build.step import After, Step
from kiteloom.core.plan.aims import judged
from kiteloom.core.plan.chain import chain_of
from kiteloom.core.plan.few_orders import few_orders, with_and_without
from kiteloom.core.plan.how_sure import futures, how_sure, off_of
from kiteloom.core.plan.input import Member, Station
from kiteloom.core.plan.place import place
from kiteloom.core.plan.reliefs import gains, reliefs, relieved


def skins(count=6):
    """So many skins on one mould, each curing on it, everybody idle meanwhile."""
    asked = []
    for n in range(count):
        lay = Step(f"lay-{n}", "Lay up", 120, stations=("mould",), cure=EPOXY, wait_stage="peel", holds=True)
        asked += [lay, Step(f"trim-{n}", "Trim", 60, after=(After(f"lay-{n}"),))]
    return job(asked, stations=(Station("mould", 1, name="The mould"), Station("bench", 9)))


def drawn(asked, count, seed=1, spreads=None, held=()):
    return list(islice(futures(asked, place(asked), spreads or {}, held, seed), count))


def test_the_station_everything_waits_for_helps_most_and_a_person_more_brings_nothing():
    asked = skins()
    found = list(gains(asked, place(asked)))
    without = [gain for gain in found if gain.relief is None][-1]
    brings = {(g.relief.kind, g.relief.of): without.finish - g.finish for g in found if g.relief}
    assert max(brings, key=brings.get) == ("station", "mould")
    assert brings["station", "mould"] > 1440
    assert brings["person", ""] == 0
    assert brings["warmer", ""] >= 0
    assert ("station", "bench") not in brings  # nothing asks for it


def test_what_is_awaited_is_tried_sooner_and_somebody_with_the_skill_that_is_missing():
    late = 14 * 1440
    asked = job(
        [
            Step("cut", "Cut", 60, skills=("woodwork",)),
            Step("fit", "Fit", 60, after=(After("cut"),), not_before=29_644_000.0 + late, awaits="rod ends"),
        ],
        crew=(Member("Bo"),),
    )
    plan = place(asked)
    assert {(one.kind, one.of) for one in reliefs(asked, plan)} >= {("sooner", "rod ends"), ("person", "woodwork")}
    found = {(g.relief.kind, g.relief.of): g for g in gains(asked, plan) if g.relief}
    assert found["person", "woodwork"].left_out == 0
    assert found["sooner", "rod ends"].left_out == 2  # nobody can cut it


@settings(max_examples=examples(10), deadline=None)
@given(jobs())
def test_few_orders_break_no_rule_and_a_relief_never_brings_less_than_nothing(asked):
    plan = place(asked)
    few = few_orders(asked, [plan.order])
    assert broken(replace(asked, overnight=False), few.placed) == []
    found = list(gains(asked, plan))
    ends = [(gain.left_out, gain.finish) for gain in found if gain.relief is None]
    assert ends == sorted(ends, reverse=True)
    assert all((gain.left_out, gain.finish) <= ends[0] for gain in found)


def test_the_change_is_told_apart_from_another_order():
    asked = skins(4)
    alike, other = with_and_without(asked, asked, [])
    assert judged(alike) == judged(other)
    one, more = with_and_without(asked, relieved(asked, reliefs(asked, place(asked))[1]), [])
    assert more.finish < one.finish


def test_drawn_plans_are_the_same_for_a_seed_and_lie_wider_where_less_is_known():
    asked = skins()
    assert drawn(asked, 8) == drawn(asked, 8)
    assert drawn(asked, 8) != drawn(asked, 8, seed=2)
    known = {step.key: 0.02 for step in asked.steps}
    off = off_of(asked, known)
    sure, vague = (how_sure(drawn(asked, 40, spreads=spreads, held=("",)), off) for spreads in (known, None))
    assert sure.dates[2] - sure.dates[0] < vague.dates[2] - vague.dates[0]
    assert list(vague.dates) == sorted(vague.dates)
    # The mould holds it up: the layups are on the chain of every plan.
    assert next(one for one in vague.decide if one.key == "lay-0").share == 1


def test_a_room_that_is_held_warm_makes_no_plan_late_and_the_night_outside_does():
    nights = day_curve(4, 16, local_midnight(29_646_000, VIENNA), 200)
    steps = [Step("lay", "Lay up", 5, cure=EPOXY, wait_stage="peel"), Step("trim", "Trim", 5, after=(After("lay"),))]
    asked = replace(job(steps, nights), own={}, zones={})
    held, free = (
        {one.finish for one in drawn(asked, 12, spreads={"lay": 1e-9, "trim": 1e-9}, held=air)} for air in ([""], [])
    )
    assert len(held) == 1
    assert len(free) > 1


def test_the_chain_that_holds_the_end_goes_back_to_the_start_each_held_by_the_next():
    asked = airframe(60, 29_646_000.0, Profile.steady(18))
    plan = place(replace(asked, crew=asked.crew[:2]))
    chain = chain_of(plan, {station.id: station.capacity for station in asked.stations})
    assert chain[0].ready or chain[0].end == plan.finish
    assert all(later.begins > sooner.begins for later, sooner in pairwise(chain))
    assert chain[-1].begins < plan.start + 3 * 1440
