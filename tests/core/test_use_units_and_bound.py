"""What the placer stands on: resources over time, rosters, steps bound together, and the bound."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise, permutations
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, CREW, DAYS, START, VIENNA, WEEK_END, at, examples, job, jobs
from tests.core.tasks import EPOXY, FOAM, SANDWICH, skin, task
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import Shift, WorkingHours, joined_up, local_midnight, moment_of
from kiteloom.core.build.recipes import recipe_of
from kiteloom.core.build.step import After, Step, in_order
from kiteloom.core.cure.progress import follow
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact
from kiteloom.core.log.learned import Done, learned
from kiteloom.core.plan.airs import Airs
from kiteloom.core.plan.hands import team_of
from kiteloom.core.plan.input import Damp, Member, Pin, Station, Thing
from kiteloom.core.plan.place import Placings, if_next, place
from kiteloom.core.plan.today import as_it_lies, missed
from kiteloom.core.plan.units import units_of
from kiteloom.core.plan.use import MOST_TEAMS, Hours, Roster, Use
from kiteloom.core.stores.lots import too_little

SPANS = st.lists(st.tuples(st.integers(0, 60), st.integers(1, 20)).map(lambda t: (t[0], t[0] + t[1])), max_size=12)


@given(taken=SPANS, gone=SPANS, capacity=st.integers(1, 3), asked=st.tuples(st.integers(0, 60), st.integers(1, 25)))
def test_a_resource_is_full_exactly_where_counting_says_so(taken, gone, capacity, asked):
    merged = joined_up(gone)
    use = Use(capacity, merged)
    for n, (start, end) in enumerate(taken):
        use.take(start, end, f"s{n}")
    start, end = asked[0], sum(asked)

    def load(minute):
        away = capacity if any(a <= minute < b for a, b in merged) else 0
        return away + sum(a <= minute < b for a, b in taken)

    full = [minute for minute in range(start, end) if load(minute) >= capacity]
    found = use.full(start, end)
    assert (found is None) == (not full)
    if found is not None:
        # It may name the end of one stretch of several that touch, never one before the last full minute.
        assert full[-1] < found[0]
        assert all(load(minute) >= capacity for minute in range(full[-1], int(found[0])))
    assert use.taken == sum(b - a for a, b in taken)
    soonest, until, _ = use.room(start, end - start)
    room = [load(minute) < capacity for minute in range(200)]
    assert soonest == next(at for at in range(start, 200) if all(room[at : at + end - start]))
    assert all(room[int(soonest) : int(min(until, 200))])
    other = use.copy()
    other.take(0, 100, "more")
    assert use.full(start, end) == found


@given(shop=SPANS, mine=SPANS, taken=SPANS, at=st.integers(0, 60), length=st.integers(1, 12), pauses=st.booleans())
def test_the_first_free_start_is_that_of_looking_at_every_one(shop, mine, taken, at, length, pauses):
    five = [[(5 * a, 5 * b) for a, b in joined_up(spans)] for spans in (shop, mine)]
    hours, length = Hours.of(five[0]), 5 * length
    use = Use(1, (), lambda hours: hours.whole.within(five[1]))
    busy = [(5 * a + n % 3, 5 * b) for n, (a, b) in enumerate(taken)]
    for n, spell in enumerate(busy):
        if n == len(busy) // 2:
            use.free(hours)  # as well known before what follows is taken as after
        use.take(*spell, "some")

    def works(start):
        """The pieces of work from a start, as the hours break it up."""
        left, pieces = length, []
        for opens, closes in hours.open:
            if closes <= start or left <= 0:
                continue
            begins = max(opens, start)
            if (begins > start and not pieces) or (not pauses and closes - begins < length):
                return None
            pieces.append((begins, min(closes, begins + left)))
            left -= pieces[-1][1] - begins
        return None if left > 0 else pieces

    def free(a, b):
        return any(x <= a and b <= y for x, y in five[1]) and not any(a < y and x < b for x, y in busy)

    starts = range(5 * math.ceil(at / 5), 500, 5)
    fits = (start for start in starts if (work := works(start)) and all(free(*piece) for piece in work))
    assert use.free(hours).soonest(at, length, pauses=pauses) == next(fits, math.inf)


@given(shares=st.lists(SPANS, min_size=1, max_size=3))
def test_people_of_different_hours_are_there_together_only_where_all_of_them_are(shares):
    hours = []
    for spans in shares:
        shifts = tuple(Shift(d, 480 + 5 * a, 480 + 5 * b) for d in range(7) for a, b in spans[:1]) or DAYS.shifts
        hours.append(WorkingHours(VIENNA, shifts))
    crew = tuple(Member(f"p{n}", hours=h) for n, h in enumerate(hours))
    asked = job((), crew=crew, hours=ALWAYS)
    shop = Hours.of(ALWAYS.intervals(START, START + 14 * 1440))
    roster = Roster(asked, shop, START, START + 14 * 1440)
    step = Step("s", "S", 30, len(crew), may_pause=True)
    for common, each in roster.teams(step):
        members = [m for m in crew if not each or any(m.id in who for who in each)]
        kinds = {roster.kind[m.id] for m in members}
        for a, b in common.open[:6]:
            for kind in kinds:
                one = next(m for m in members if roster.kind[m.id] == kind)
                spans = one.hours.intervals(a - 1440, b + 1440)
                assert any(opens <= a and b <= closes for opens, closes in spans)


@given(data=st.data(), count=st.integers(1, 10))
def test_bound_steps_are_placed_together_and_units_never_go_round(data, count):
    steps = []
    for n in range(count):
        links = [
            After(f"s{j}", "end", data.draw(st.sampled_from([None, None, 30.0])))
            for j in (data.draw(st.sets(st.integers(0, n - 1), max_size=3)) if n else ())
        ]
        steps.append(Step(f"s{n}", f"S{n}", 10, after=tuple(links)))
    units = units_of(steps)
    unit_of = {step.key: n for n, unit in enumerate(units) for step in unit}
    assert sorted(unit_of) == sorted(step.key for step in steps)
    for step in steps:
        for link in step.after:
            if link.tight:
                assert unit_of[link.step] == unit_of[step.key]
    # Each unit taken for one step, the links between units make no circle.
    merged = [
        Step(
            f"u{n}",
            "U",
            5,
            after=tuple(After(f"u{m}") for m in {unit_of[link.step] for s in unit for link in s.after} - {n}),
        )
        for n, unit in enumerate(units)
    ]
    assert len(in_order(merged)) == len(units)


@given(low=st.floats(3, 14), hours=st.floats(0.5, 20), mixed=st.integers(0, 5000))
def test_a_cure_looked_up_is_the_cure_followed_also_in_a_zone_and_for_a_drying_table(low, hours, mixed):
    table = CureSystem(0, 20, (Stage("dry", 8),), table=((10, 0.5), (20, 1.0), (30, 2.0)))
    outside, box = day_curve(low, low + 9, START - 1440, 60), day_curve(28, 40, START - 1440, 60)
    airs = Airs(job((), outside, stations=(Station("box", 1, "box"),), zones={"box": box}))
    for system in (replace(EPOXY, min_c=8), table):
        for air, profile in (("", outside), ("box", box)):
            followed = follow(system, START + mixed, profile).reaches(hours)
            found = airs.reaches(system, START + mixed, hours, air)
            if followed is None:
                assert found is None
            else:
                assert found - START - mixed == pytest.approx(followed, abs=0.01)


def tiny(data):
    """Three to five unbroken steps on one station and one or two people, in an open shop."""
    count = data.draw(st.integers(3, 5))
    steps = []
    for n in range(count):
        links = tuple(After(f"s{j}") for j in (data.draw(st.sets(st.integers(0, n - 1), max_size=1)) if n else ()))
        on = ("bench",) if data.draw(st.booleans()) else ()
        minutes, wait = 5 * data.draw(st.integers(1, 12)), 5 * data.draw(st.integers(0, 12))
        steps.append(Step(f"s{n}", f"S{n}", minutes, data.draw(st.integers(0, 2)), links, stations=on, wait_min=wait))
    return job(steps, hours=ALWAYS, crew=CREW[:2], stations=(Station("bench"),))


def best(asked):
    """The soonest end of all orders, each step at its first moment: an active plan is among them."""
    ends = []
    for order in permutations(asked.steps):
        at_least: dict[str, tuple[float, float]] = {}
        busy: list[tuple[float, float, int, bool]] = []
        for step in order:
            if any(link.step not in at_least for link in step.after):
                break
            start = max([asked.start, *(at_least[link.step][1] for link in step.after)])
            while True:
                end = start + step.length
                people = max(
                    (sum(p for a, b, p, _ in busy if a <= t < b) for t in range(int(start), int(end), 5)), default=0
                )
                benched = step.stations and any(on and a < end and start < b for a, b, _, on in busy)
                if people + step.people <= 2 and not benched:
                    break
                start += 5
            busy.append((start, end, step.people, bool(step.stations)))
            at_least[step.key] = (start, end + step.wait_min)
        else:
            ends.append(max(ready for _, ready in at_least.values()))
    return min(ends)


@settings(max_examples=40, deadline=None)
@given(data=st.data())
def test_the_bound_lies_below_the_best_of_all_orders_and_the_plan_not_below_it(data):
    asked = tiny(data)
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    assert plan.bound <= best(asked) + 1e-6 <= plan.finish + 2e-6


@settings(max_examples=examples(15), deadline=None)
@given(asked=jobs(), seed=st.integers(0, 99))
def test_no_order_of_a_job_ends_before_its_bound(asked, seed):
    asked = replace(asked, overnight=False)
    plan, chance = place(asked), Random(seed)
    placed = Placings(asked, plan.bound)
    for _ in range(12):
        other = placed(chance.sample(plan.order, len(plan.order)), False)
        if len(other.unplaced) == len(plan.unplaced):
            assert other.finish is None or plan.bound <= other.finish + 1e-6


@pytest.mark.parametrize(
    ("changed", "limit"),
    [
        ({}, ("days", "mould")),  # each cures over night on it
        ({"few": 1}, ("chain", "lay-0")),
        ({"stations": (Station("mould", 9),), "crew": CREW[1:2]}, ("crew", "")),
        ({"stations": (Station("mould", 9),), "skilled": True}, ("skill", "glue")),
    ],
)
def test_what_no_plan_can_beat_has_its_reason(changed, limit):
    changed = dict(changed)
    skills, few = ("glue",) if changed.pop("skilled", False) else (), changed.pop("few", 5)
    lay = Step("lay", "Lay", 400, stations=("mould",), cure=EPOXY, wait_stage="peel", holds=True, skills=skills)
    asked = job([replace(lay, key=f"lay-{n}") for n in range(few)], stations=(Station("mould"),))
    plan = place(replace(asked, **changed))
    assert (plan.limit.kind, plan.limit.of) == limit
    assert plan.bound <= plan.finish
    assert (plan.limit.count, plan.limit.a_day) == ((5, 1) if limit[0] == "days" else (0, 0))


@pytest.mark.parametrize(("lies", "turns"), [("", 1), ("top up", 1), ("bottom up", 1), ("on edge", 2)])
def test_hands_that_turn_a_thing_count_in_what_no_plan_can_beat(lies, turns):
    ways = ("top up", "bottom up")
    faces = [Step(f"{way} {n}", "Sand", 240, people=2, way=way, thing="wing") for way in ways for n in range(3)]
    wing = Thing("wing", "The wing", lies, minutes=60, people=2)
    plan = place(job(faces, things=(wing,), crew=CREW[:2]))
    assert (plan.limit.kind, plan.limit.minutes) == ("crew", 2 * (6 * 240 + 60 * turns))
    assert plan.bound <= plan.finish


def test_a_rest_of_nights_behind_a_station_of_one_a_day_is_counted_in_days():
    """Five sets a day apart, and three nights of filler behind each: in no order is all that done sooner."""
    lay = Step("lay", "Lay", 400, stations=("mould",), cure=EPOXY, wait_stage="peel", holds=True)
    steps = []
    for n in range(5):
        steps.append(replace(lay, key=f"lay-{n}"))
        for fill in range(3):
            steps.append(replace(lay, key=f"fill-{n}-{fill}", stations=(), holds=False, after=(After(steps[-1].key),)))
    plan = place(job(steps, stations=(Station("mould"),), crew=tuple(Member(name) for name in "abcdefgh")))
    assert (plan.limit.kind, plan.limit.count) == ("days", 5)
    assert plan.bound == plan.finish


def test_work_that_needs_warm_air_is_counted_into_the_warm_hours():
    warm = day_curve(4, 20, local_midnight(START, VIENNA), 60)
    steps = [Step(f"s{n}", "S", 150, min_c=14, limits_until="end") for n in range(9)]
    anytime = place(job([replace(step, min_c=None) for step in steps], warm, crew=CREW[:1]))
    plan = place(job(steps, warm, crew=CREW[:1]))
    assert (plan.limit.kind, plan.limit.minutes) == ("air", 9 * 150)
    assert anytime.finish < plan.bound <= plan.finish


def test_the_hours_of_who_comes_only_at_the_week_end_count_as_those():
    asked = job([Step(f"s{n}", "S", 480, 2) for n in range(4)], crew=(CREW[0], replace(CREW[1], hours=WEEK_END)))
    plan = place(asked)
    assert plan.limit.kind == "crew"
    # 64 h: Bo's nine a day from Thursday on, and on Saturday as many again.
    assert 6 < (plan.bound - asked.start) / 1440 < 8


def test_an_unknown_thing_or_room_is_refused_by_name():
    with pytest.raises(ValueError, match="“a” wants “wing” up, which is not there"):
        job((Step("a", "A", 5, way="up", thing="wing"),))
    with pytest.raises(ValueError, match="“oven” is in the zone “box”, which is not there"):
        job((), stations=(Station("oven", 1, "box"),))
    with pytest.raises(ValueError, match="must begin before “use by” of “mix”, which has no cure"):
        job((Step("mix", "Mix", 5), Step("b", "B", 5, after=(After("mix", closes="use by", same_mix=True),))))


def test_what_is_offered_next_keeps_to_who_is_here_and_to_damp_air():
    days = day_curve(0, 60, at("14 00:00") - 12 * 60, 3)
    damp = {"": Damp(Profile(days.minutes, days.celsius + 40), Profile(days.minutes, days.celsius + 1))}
    coat = Step("coat", "Coat", 30, max_rh_pct=60, limits_until="end")
    offered = if_next(
        job((coat, Step("two", "Two", 30, 2)), damp=damp, crew=(CREW[0], replace(CREW[1], hours=WEEK_END)))
    )
    assert offered["coat"].because.kind == "climate"
    assert moment_of(offered["two"].start, VIENNA).strftime("%a") == "Sat"


def test_what_lies_right_and_what_was_missed_are_told_apart():
    wing = Thing("wing", "The wing", "up", minutes=30)
    made = (
        Step("top", "Top", 60, way="up", thing="wing"),
        Step("bottom", "Bottom", 60, way="down", thing="wing"),
        Step("wipe", "Wipe", 20),
        Step("bond", "Bond", 60, after=(After("wipe", within_min=60),)),
    )
    wiped = Fact(((START - 400, START - 380),), None, START - 380)
    asked = job(made, things=(wing,), facts={"wipe": wiped})
    plan = place(asked)
    (lies,) = as_it_lies(asked, plan)
    assert ([p.step.key for p in lies.steps], lies.turn.step.name) == (["top"], "Turn it: down")
    assert [p.step.key for p in missed(plan, made[3])] == ["wipe"]
    assert missed(plan, made[1]) == []
    nothing = replace(wing, way="")
    assert as_it_lies(replace(asked, things=(nothing,)), plan) == []


@given(ratios=st.lists(st.floats(0.2, 5), min_size=0, max_size=9), estimated=st.floats(5, 500), odd=st.booleans())
def test_a_kind_is_learned_by_its_middle_once_there_are_three(ratios, estimated, odd):
    done = [Done("peel", estimated, estimated * ratio) for ratio in ratios] + ([Done("peel", 0, 30)] if odd else [])
    found = learned(done)
    if len(ratios) < 3:
        assert found == {}
    else:
        below = sum(r <= found["peel"].factor + 1e-9 for r in ratios)
        above = sum(r >= found["peel"].factor - 1e-9 for r in ratios)
        assert min(below, above) >= len(ratios) / 2
        assert found["peel"].count == len(ratios)


def test_pins_in_a_row_are_placed_in_the_order_of_their_times_with_what_they_need_first():
    made = [Step(f"s{n}", f"S{n}", 60, 3) for n in range(5)]
    made.append(Step("last", "Last", 30, 3, (After("s4"),)))
    pins = {"last": Pin(START + 60), "s0": Pin(at("14 15:00")), "s1": Pin(at("14 15:00"))}
    found = place(job(made, pins=pins)).by_key
    # What the first pin needs goes before everything else.
    assert found["s4"].start == START
    assert found["last"].start == START + 60
    assert {found["s0"].start, found["s1"].start} == {at("14 15:00"), at("14 16:00")}
    times = sorted((p.start, p.end) for p in found.values())
    assert all(end <= start for (_, end), (start, _) in pairwise(times))


def numbers(sheet):
    return [item.key for item in sheet if item.key.startswith("ply-")]


def test_each_step_with_wet_gloves_has_the_sheet_of_its_own_plies():
    stack = replace(SANDWICH, plies=SANDWICH.plies * 2)
    cap = task("cap", "resin", EPOXY, {"length_m": 2, "width_m": 0.05}, stack=stack)
    # Both skins of a sandwich, and both halves of a cap, together call every ply once and in order.
    for key, asked, steps in (
        ("skin", skin(stack=stack), ("skin-1/layup", "skin-2/layup")),
        ("cap", cap, ("stage-1/layup", "stage-2/layup")),
    ):
        called = [n for step in steps for n in numbers(recipe_of(key).items(asked, step))]
        assert called == [f"ply-{n + 1}" for n in range(len(stack.plies))]
    core = recipe_of("skin").items(skin(), "core/bed")
    assert numbers(core) == []
    assert any(item.detail == FOAM.name for item in core)
    foam = [item.key for item in recipe_of("foam").items(task("foam", "resin", EPOXY, stack=stack), "top/layup")]
    assert "slurry" in foam
    assert "bag" not in foam  # laid on the foam by hand
    # A ply's angle is mirrored on the other hand.
    left, right = (
        [item.warp for item in recipe_of("skin").items(replace(skin(), hand=hand), "skin-1/layup") if item.warp]
        for hand in ("left", "right")
    )
    assert [[-side, pytest.approx(aft)] for side, aft in left] == [list(warp) for warp in right]


@pytest.mark.parametrize(
    ("lots", "short"),
    [
        ([], None),  # nobody counts it
        ([("both", None)], None),
        ([("both", 640.0)], None),
        ([("both", 500.0), ("both", 100.0)], ("", 600, 640)),
        ([("both", 500.0), ("hardener", 200.0)], None),
        ([("resin", 900.0), ("hardener", 139.0)], ("hardener", 139, 140)),
        ([("resin", 100.0), ("hardener", 60.0)], ("resin", 100, 500)),  # what there is the least of, for its need
        ([("resin", 900.0), ("hardener", None), ("hardener", 1.0)], None),
        ([("resin", 490.0)], ("resin", 490, 500)),
        ([("resin", -30.0), ("hardener", 900.0)], ("resin", 0, 500)),  # more was used than came
    ],
)
def test_of_a_kit_the_part_there_is_too_little_of_is_named(lots, short):
    assert too_little(500, 140, lots) == short


def test_one_piece_of_work_is_moved_past_all_that_is_in_its_way():
    use = Use(1)
    for start in (100, 130, 165):
        use.take(start, start + 20, f"at {start}")
    assert use.room(60, 30) == (60, 100, "")
    assert use.room(90, 30) == (185, math.inf, "at 165")  # no gap between is thirty minutes long
    assert use.room(90, 10) == (90, 100, "")
    assert use.room(105, 10) == (120, 130, "at 100")
    # Of work in pieces only the last that is in the way counts: its pieces move with the hours.
    assert use.busy([(90, 110), (140, 145)]) == (150, "at 130")
    never = Use(1, [(500, math.inf)])
    assert never.room(490, 20) == (math.inf, math.inf, "")


def test_a_crew_with_many_skills_and_hours_of_their_own_is_teamed_in_no_time():
    """Both once grew with every combination: minutes for a dozen skills, or for nine people of nine different days."""
    skills = tuple(f"k{n}" for n in range(12))
    one_each = [Member(f"p{n}", frozenset({skills[n % 12]})) for n in range(60)]
    step = Step("s", "S", 30, people=11, skills=skills)
    assert team_of(step, one_each) is None
    assert len(team_of(replace(step, people=12), one_each)) == 12
    own = [Member(f"p{n}", hours=WorkingHours(VIENNA, (Shift(n % 7, 480 + 10 * n, 1080),))) for n in range(14)]
    asked = job([Step("lift", "Lift", 60, people=6, may_pause=True)], crew=(*own, *CREW), hours=ALWAYS)
    roster = Roster(asked, Hours.of(ALWAYS.intervals(START, START + 14 * 1440)), START, START + 14 * 1440)
    teams = roster.teams(asked.steps[0])
    assert len(teams) <= MOST_TEAMS + 1
    assert all(sum(len(who) for who in each) >= 6 for _, each in teams)
