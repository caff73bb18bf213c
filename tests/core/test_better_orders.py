"""A better order: never worse, never against a rule, the same for the same seed, stopped at once."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.airframe import airframe
from tests.core.jobs import CREW, START, VIENNA, at, examples, job, jobs
from tests.core.tasks import EPOXY
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import local_midnight, minute_of, zone_of
from kiteloom.core.base.problems import Refused
from kiteloom.core.build.step import After, Step
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.aims import SOONEST, Aim, day_of, day_of_an_hour, fullest_day, judged, turnings, warm_min
from kiteloom.core.plan.better import Budget, better
from kiteloom.core.plan.input import Member, Pin, Station
from kiteloom.core.plan.leading import ALL, LONG, MOST, Leading
from kiteloom.core.plan.near import by_due, due, few_moved, last_sooner, paused_later, todo_of
from kiteloom.core.plan.place import Placings, place
from kiteloom.core.plan.standing import begins_of, made_anew, standing


@settings(max_examples=examples(12), deadline=None)
@given(jobs(), st.integers(1, 3))
def test_no_order_that_is_found_is_worse_or_breaks_a_rule(asked, seed):
    first, ends = place(asked), []
    plan = better(asked, Budget(rounds=1, seed=seed), lambda found: ends.append(judged(found)))
    assert judged(plan) <= judged(first)
    assert ends == sorted(ends, reverse=True)
    assert broken(asked, plan.placed) == []
    assert plan.finish is None or plan.bound <= plan.finish + 1e-6
    # Placed again in its order it is the same to the minute.
    again = place(replace(asked, order=plan.order))
    assert {p.step.key: (p.start, p.end, p.people) for p in again.placed} == {
        p.step.key: (p.start, p.end, p.people) for p in plan.placed
    }


def crowded(count=90):
    nights = day_curve(9, 21, local_midnight(29_646_000, VIENNA), 400)
    asked = airframe(count, 29_646_000.0, nights, overnight=True)
    return replace(asked, crew=asked.crew[:2])


def test_the_same_seed_and_rounds_give_the_same_plan():
    asked = crowded()
    one, other = (better(asked, Budget(rounds=2, seed=4)) for _ in range(2))
    assert [(p.step.key, p.start) for p in one.placed] == [(p.step.key, p.start) for p in other.placed]
    assert one.finish <= place(asked).finish


def same(one, other):
    rows = [[(p.step.key, p.start, p.end, p.ready, p.people, p.state) for p in plan.placed] for plan in (one, other)]
    left = [[(gone.step.key, gone.why) for gone in plan.unplaced] for plan in (one, other)]
    return rows[0] == rows[1] and left[0] == left[1] and one.order == other.order


def near(asked, plan, chance):
    """An order near that of a plan."""
    if (kind := chance.random()) < 0.7:
        return few_moved(plan, chance) if kind < 0.4 else paused_later(plan, chance)
    return last_sooner(plan, {station.id: station.capacity for station in asked.stations}, chance)


def moved_a_few_times(asked, seed, overnight, times=4):
    """Orders near that of a plan, each placed from nothing, and on the plan it is near; one after the other."""
    placed, chance = Placings(replace(asked, order=(), stands={}), asked.start), random.Random(seed)
    plan = placed((), overnight)
    for _ in range(times):
        if not todo_of(plan):
            return
        order = near(asked, plan, chance)
        kept = placed(order, overnight, {}, plan)
        yield placed(order, overnight), kept
        plan = kept if chance.random() < 0.7 else plan


@settings(max_examples=examples(40), deadline=None)
@given(jobs(), st.integers(0, 1000), st.booleans())
def test_as_far_as_an_order_is_that_of_a_plan_all_stands_as_there_and_the_rest_as_if_placed_from_nothing(
    asked, seed, overnight
):
    assert all(same(*pair) for pair in moved_a_few_times(asked, seed, overnight))


@pytest.mark.parametrize("low", [9, 14])
def test_of_an_airframe_with_things_to_turn_it_stands_the_same_too(low):
    nights = day_curve(low, low + 12, local_midnight(29_646_000, VIENNA), 400)
    asked = airframe(110, 29_646_000.0, nights, overnight=True)
    pairs = list(moved_a_few_times(asked, low, True, times=12))
    assert pairs
    assert all(same(*pair) for pair in pairs)
    kept = pairs[0][1]
    assert any(placed.step.kind == "turn" for placed in kept.placed)


def steps_of(plan):
    return {one.step.key for one in (*plan.placed, *plan.unplaced) if one.step.kind != "turn"}


@settings(max_examples=examples(60), deadline=None)
@given(jobs(), st.booleans(), st.sampled_from([0, 20, 240]))
def test_where_whoever_is_free_goes_on_no_rule_is_broken_and_in_the_order_it_came_to_all_stands_the_same(
    asked, overnight, patience
):
    asked = replace(asked, order=(), stands={})
    placed = Placings(asked, asked.start)
    in_turn = placed((), overnight)
    serves = {station.id: station.capacity for station in asked.stations}
    free = placed.as_free(by_due(in_turn, serves, random.Random(1)), overnight, patience)
    assert broken(asked, free.placed) == []
    assert steps_of(free) == steps_of(in_turn)
    # What is left out stands in no order, and may go where it comes by itself.
    assert free.unplaced or same(free, placed(free.order, overnight))


def alone(*steps):
    """Steps of one person, in an order, and how they are placed."""
    asked = job(steps, crew=CREW[:1])
    return [step.key for step in steps], Placings(asked, asked.start)


def test_who_is_free_begins_what_may_pause_rather_than_nothing():
    """Six hours of bonding don't fit after four of sanding; seven of trimming can be begun."""
    order, placed = alone(
        Step("sand", "Sand", 240, may_pause=True), Step("bond", "Bond", 360), Step("trim", "Trim", 400, may_pause=True)
    )
    in_turn, free = placed(order, False), placed.as_free(order, False, 20)
    assert in_turn.idle[0] == at("14 13:20")
    assert (in_turn.finish, free.finish) == (at("16 12:40"), at("15 17:00"))
    assert [p.step.key for p in free.placed] == ["sand", "trim", "bond"]
    assert free.by_key["trim"].pieces[0] == (at("14 13:20"), at("14 18:00"))
    assert free.by_key["bond"].start == free.by_key["trim"].end


def test_what_must_pass_a_night_is_due_on_the_evening_before_and_so_is_done_a_day_sooner():
    """Two days of sanding, and a joint that nobody may look at for fifteen hours: glued last, it costs a third day."""
    sands = [Step(f"sand-{n}", "Sand", 60, may_pause=True) for n in range(14)]
    glue, look = Step("glue", "Glue", 60, wait_min=900), Step("look", "Look", 30, after=(After("glue"),))
    order, placed = alone(*sands, glue, look)
    in_turn = placed(order, False)
    assert in_turn.finish == at("16 09:30")
    dues = due(in_turn, {}, at("15 18:00"))
    assert (dues["glue"], dues["look"], dues["sand-0"]) == (at("14 17:00"), at("15 17:30"), at("15 17:00"))
    assert placed.as_free(by_due(in_turn, {}, random.Random(1)), False, 20).finish <= at("15 18:00")


def test_what_shares_a_station_for_one_is_due_before_the_next_on_it():
    lay = [Step(f"lay-{n}", "Lay", 60, stations=("mould",), wait_min=900, holds=True) for n in range(3)]
    asked = job(lay, crew=CREW[:1], stations=(Station("mould"),))
    plan = Placings(asked, asked.start)((), False)
    alone, together = (due(plan, {"mould": serves}, plan.finish) for serves in (1, 3))
    assert [alone[step.key] for step in lay] == [at("14 17:00"), at("15 17:00"), at("16 09:00")]
    assert {together[step.key] for step in lay} == {at("16 09:00")}


@pytest.mark.parametrize(("patience", "first"), [(10, "trim"), (30, "bond")])
def test_who_is_free_waits_a_little_for_what_comes_first(patience, first):
    order, placed = alone(Step("bond", "Bond", 60, not_before=at("14 09:40")), Step("trim", "Trim", 120))
    plan = placed.as_free(order, False, patience)
    assert plan.placed[0].step.key == first
    # What fits before it is done meanwhile.
    order, placed = alone(
        Step("bond", "Bond", 60, not_before=at("14 09:40")), Step("trim", "Trim", 120), Step("wipe", "Wipe", 15)
    )
    assert placed.as_free(order, False, 30).by_key["wipe"].start == at("14 09:20")


def test_a_plan_of_other_air_or_with_other_waits_is_not_gone_on_from():
    asked = crowded(60)
    cold = replace(asked, profile=day_curve(2, 12, local_midnight(29_646_000, VIENNA), 400))
    warm = Placings(asked, asked.start)((), True)
    placed = Placings(cold, cold.start)
    for overnight in (True, False):
        assert same(placed(warm.order, overnight, {}, warm), placed(warm.order, overnight))
    late = placed(warm.order, True)
    assert same(placed(late.order, False, {}, late), placed(late.order, False))


def test_what_ends_last_goes_sooner_with_what_it_waited_for():
    ribs = [Step(f"rib-{n}", "Rib", 60) for n in range(9)]
    glue = Step("glue", "Glue", 30, cure=EPOXY, wait_stage="peel")
    sand = Step("sand", "Sand", 30, after=(After("glue"),))
    asked = job([*ribs, glue, sand], order=tuple(step.key for step in (*ribs, glue, sand)))
    plan = place(asked)
    found = [last_sooner(plan, {}, random.Random(seed)) for seed in range(60)]
    assert all(sorted(order) == sorted(plan.order) for order in found)
    assert any(order.index("glue") < 7 and order.index("sand") < order.index("rib-8") for order in found)
    # Two that are moved together keep the order they had.
    assert all(order.index("glue") < order.index("sand") for order in found if order.index("glue") < 9)


def test_what_ends_last_goes_sooner_with_what_had_its_mould_before():
    ribs = [Step(f"rib-{n}", "Rib", 60) for n in range(9)]
    caps = [Step(f"cap-{n}", "Cap", 30, stations=("mould",), cure=EPOXY, wait_stage="peel", holds=True) for n in (1, 2)]
    asked = job([*ribs, *caps], order=tuple(step.key for step in (*ribs, *caps)), stations=(Station("mould"),))
    plan = place(asked)
    assert plan.by_key["cap-2"].start >= plan.by_key["cap-1"].ready

    def both(serves):
        orders = [last_sooner(plan, {"mould": serves}, random.Random(seed)) for seed in range(60)]
        return any(order.index("cap-1") < order.index("cap-2") < order.index("rib-8") for order in orders)

    # On a mould for two the second waits for nobody, and goes sooner alone.
    assert (both(1), both(2)) == (True, False)


def test_what_may_pause_goes_later_where_somebody_was_idle_after_it_and_nothing_else_does():
    """Four hours of sanding leave no room for six of bonding that day; after the bonding it is begun and laid aside."""
    sand, bond = Step("sand", "Sand", 240, may_pause=True), Step("bond", "Bond", 360)

    def found(step):
        plan = place(job([step, bond], crew=CREW[:1], order=("sand", "bond")))
        assert plan.idle == [at("14T13:20")]
        return plan, {tuple(paused_later(plan, random.Random(seed))) for seed in range(9)}

    plan, orders = found(sand)
    assert orders == {("bond", "sand")}
    (order,) = orders
    sooner = place(job([sand, bond], crew=CREW[:1], order=order))
    assert (sooner.finish, plan.finish) == (at("15T10:20"), at("15T15:00"))
    assert len(sooner.by_key["sand"].pieces) == 2
    assert found(replace(sand, may_pause=False))[1] == {("sand", "bond")}


def test_what_can_not_go_in_any_order_is_left_out_of_each_for_the_same_reason():
    nights = day_curve(9, 21, local_midnight(29_646_000, VIENNA), 400)
    asked = replace(airframe(90, 29_646_000.0, nights, overnight=True), crew=CREW[:1], order=(), stands={})
    plan = Placings(asked, asked.start)((), True)
    one = place(replace(asked, order=plan.order))
    assert {p.step.key: (p.start, p.end) for p in plan.placed} == {p.step.key: (p.start, p.end) for p in one.placed}
    reasons = {left.step.key: left.why for left in one.unplaced}
    assert {left.step.key: left.why for left in plan.unplaced} == reasons
    assert any("it takes 2 people and there is 1" in why for why in reasons.values())
    assert any("it comes after" in why for why in reasons.values())


def how_much_later(plan, whole):
    """How much later the work of a plan is on the whole than in another, after each of its steps [min]."""
    work = sum(p.step.length * p.step.people for p in whole.placed if p.step.kind != "turn")
    found, later = [], 0.0
    for key in whole.order:
        then, now = plan.by_key.get(key), whole.by_key[key]
        if then is not None and now.step.kind != "turn":
            later += now.step.length * now.step.people * (now.end - then.end) / work
        found.append(later)
    return found


def test_an_order_that_only_gets_worse_is_given_up_and_no_other():
    asked = crowded()
    placed, chance, given_up = Placings(replace(asked, order=()), asked.start), random.Random(3), []
    plan = placed((), True)
    for _ in range(40):
        order = near(asked, plan, chance)
        whole, found = placed(order, True), placed(order, True, {}, plan, 2.0)
        given_up.append(found is plan)
        if found is not plan:
            assert same(found, whole)
        assert (found is plan) == (max(how_much_later(plan, whole)) > 2)
    assert any(given_up)
    assert not all(given_up)


def test_where_hands_are_full_what_is_done_together_and_what_can_not_pause_may_lead():
    """One glues alone and may pause, all three lift what was glued another day; the chains are as long."""
    glue = [Step(f"glue-{n}", "Glue", 60, may_pause=True) for n in range(3)]
    lift = [Step(f"lift-{n}", "Lift", 60, people=3) for n in range(2)]
    trim = [Step(f"trim-{n}", "Trim", 60, people=2) for n in range(2)]
    leading = Leading(job([*glue, *lift, *trim]))
    assert leading.together == [LONG, MOST, ALL]
    assert leading.order({})[:3] == [step.key for step in glue]
    assert leading.order({ALL: 1})[:2] == ["lift-0", "lift-1"]
    assert set(leading.order({MOST: 1})[:4]) == {"lift-0", "lift-1", "trim-0", "trim-1"}
    # Of two that are as long the one of more hands is more work; what may pause is none.
    assert leading.order({LONG: 1})[:4] == ["lift-0", "lift-1", "trim-0", "trim-1"]
    chance = random.Random(1)
    assert {name for _ in range(40) for name in leading.near({}, chance, full=True)} >= {LONG, MOST}
    assert leading.near({}, chance, full=False) == {}


def test_it_ends_at_once_when_it_is_told_to_and_before_the_first_round_it_has_a_plan():
    asked = crowded(40)
    told = []
    plan = better(asked, Budget(60), told.append, lambda: True)
    assert judged(plan) == judged(place(asked))
    assert len(told) == 1


def test_what_the_greedy_order_gets_wrong_is_put_right_and_proven():
    """Two of long work and many of short on two benches: the longest first is not the best where one waits on one."""
    steps = [
        Step("wait", "Wait", 10, stations=("a",)),
        Step("long", "Long", 300, after=(After("wait", "end"),), stations=("b",)),
        *(Step(f"s{n}", f"S{n}", 60, stations=("a",)) for n in range(5)),
        *(Step(f"t{n}", f"T{n}", 55, after=(After(f"s{n}", "end"),), stations=("b",)) for n in range(5)),
    ]
    asked = job(steps, crew=tuple(Member(name) for name in "abcd"), stations=(Station("a"), Station("b")))
    plan = better(asked, Budget(20))
    assert plan.finish <= place(asked).finish
    assert broken(asked, plan.placed) == []


def test_what_leads_to_a_mould_of_one_set_a_day_goes_before_longer_chains():
    """Ten short chains go to a mould that is taken over night; forty longer ones keep two people busy meanwhile."""
    steps = []
    for n in range(10):
        steps.append(Step(f"cut-{n}", "Cut", 60))
        steps.append(
            Step(f"lay-{n}", "Lay", 60, 1, (After(f"cut-{n}"),), stations=("mould",), wait_min=900, holds=True)
        )
    for n in range(40):
        steps.append(Step(f"long-{n}", "Long", 100, wait_min=2000))
    asked = job(steps, crew=CREW[:2], stations=(Station("mould"),))
    leading, placed = Leading(asked), Placings(asked, asked.start)
    first, led = (placed(leading.order({"mould": days}), False) for days in (0, 7))
    assert leading.scarce == ["mould"]
    assert led.finish <= first.finish - 2 * 1440
    assert broken(asked, led.placed) == []
    assert better(asked, Budget(rounds=1)).finish <= led.finish
    # The first order of a shop is looked for so; one that stands is left alone.
    first, led = (made_anew(asked, led=lead) for lead in (False, True))
    stands = [place(replace(asked, order=one.order, stands=standing(begins_of(one), START))) for one in (first, led)]
    assert stands[1].finish <= stands[0].finish - 2 * 1440
    assert broken(asked, stands[1].placed) == []


def test_pins_and_what_is_running_stay_where_they_are():
    asked = crowded(60)
    first = place(asked)
    free = [p for p in first.placed if not p.step.after and not p.step.way]
    running, pinned = free[0].step.key, free[1].step.key
    start = at("18T10:00") if at("18T10:00") > asked.start else asked.start + 3 * 1440
    asked = replace(
        asked,
        facts={running: Fact(running_since=asked.start - 30, people=free[0].people)},
        pins={pinned: Pin(start)},
    )
    plan = better(asked, Budget(rounds=1))
    assert plan.by_key[running].state == "running"
    assert plan.by_key[pinned].begins >= start
    assert broken(asked, plan.placed) == []


@pytest.mark.parametrize(
    ("budget", "words"),
    [({"seconds": 3600}, "the time to search is 3600 s; it can't be above 300 s"),
     ({"seconds": -1}, "can't be below 0"), ({"rounds": 5000}, "the number of rounds is 5000")],
)  # fmt: skip
def test_a_budget_of_an_hour_is_refused(budget, words):
    with pytest.raises(Refused, match=words):
        Budget(**budget)


def test_a_job_that_can_not_be_done_says_why_and_the_rest_is_bettered():
    asked = crowded(40)
    never = Step("never", "Never", 60, min_c=60.0)
    asked = replace(asked, steps=(*asked.steps, never), profile=Profile.steady(26))
    plan = better(asked, Budget(rounds=1))
    left = {one.step.key: one.why for one in plan.unplaced}
    assert left == {one.step.key: one.why for one in place(asked).unplaced}
    assert "heat it" in left["never"]
    assert judged(plan) <= judged(place(asked))


def test_by_a_day_the_days_become_calmer_and_nothing_is_later_than_that():
    asked = crowded(60)
    first = place(asked)
    by = first.finish + 6 * 1440
    plan = better(asked, Budget(rounds=2, seed=1), aim=Aim("calm", by))
    assert plan.finish <= by
    assert day_of_an_hour(plan) < 0.9 * day_of_an_hour(first)
    assert broken(asked, plan.placed) == []
    assert fullest_day(plan) <= fullest_day(first)
    # Where there is no time to spare the end comes first.
    hurried = better(asked, Budget(rounds=1, seed=1), aim=Aim("calm", first.start))
    assert hurried.finish <= first.finish


@pytest.mark.parametrize(("kind", "measure"), [("turnings", turnings), ("heating", warm_min)])
def test_an_aim_is_reached_no_worse_than_by_the_soonest_end(kind, measure):
    asked = crowded(90)
    soonest, other = (better(asked, Budget(rounds=2, seed=3), aim=aim) for aim in (SOONEST, Aim(kind)))
    assert measure(other) <= measure(place(asked))
    assert measure(other) <= measure(soonest)
    assert len(other.unplaced) <= len(soonest.unplaced)
    assert broken(asked, other.placed) == []


def test_a_day_is_the_shops_own_wherever_it_stands():
    zone = zone_of("America/Los_Angeles")
    morning, evening = (minute_of(datetime(2026, 5, 14, hour, tzinfo=zone)) for hour in (8, 19))
    assert day_of(morning, zone) == day_of(evening, zone)
    assert day_of(morning) != day_of(evening)


def test_an_aim_says_what_it_wants():
    with pytest.raises(Refused, match="calm days want a day"):
        Aim("calm")
    with pytest.raises(Refused, match="only calm days want a day"):
        Aim("soonest", 100.0)
