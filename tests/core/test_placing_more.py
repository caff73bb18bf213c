"""What a shop asks of its plan: windows, people who come and go, rooms, turnings, pins, nights."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from tests.core.airframe import airframe
from tests.core.jobs import ALWAYS, CREW, DAYS, LIFE, START, VIENNA, WEEK_END, at, examples, job, jobs
from tests.core.tasks import EPOXY
from tests.core.walker import broken

from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.base.calendar import Shift, WorkingHours, moment_of
from kiteloom.core.build.gates import before_gates
from kiteloom.core.build.step import USE_BY, After, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.explain import why_not_sooner
from kiteloom.core.plan.input import Damp, Member, Pin, Station, Thing
from kiteloom.core.plan.place import if_next, place
from kiteloom.core.plan.placed import START as BEGIN
from kiteloom.core.plan.search import Search
from kiteloom.core.plan.ways import ways_to_go

COAT = CureSystem(55, 23, (Stage("recoat", 6), Stage("recoat closes", 20), Stage("handle", 24)))


def words(plan, key, **names):
    return why_not_sooner(plan.by_key[key], plan.by_key, names, lambda m: moment_of(m, VIENNA).strftime("%a %H:%M"))


def test_a_coat_is_moved_so_that_the_next_falls_into_its_window():
    first = Step("one", "First coat", 60, cure=COAT, wait_stage="recoat")
    second = Step("two", "Second coat", 60, after=(After("one", "recoat", closes="recoat closes"),))
    busy = Step("busy", "Away at the mould", 480, 3)
    asked = job((busy, first, second), Profile.steady(23))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    one, two = (plan.by_key[key] for key in ("one", "two"))
    assert one.end + 360 <= two.start <= one.end + 1200
    # On a Saturday the window closes before Monday: the first coat waits for Monday itself.
    saturday = place(replace(asked, steps=(first, second), start=at("16 15:00")))
    assert saturday.by_key["one"].start == at("18 09:00")
    later = words_at(saturday.by_key["two"].start)
    assert words(saturday, "one") == f"Not sooner: “Second coat” must follow in time, and it can't before {later}."
    loose = replace(second, after=(After("one", "recoat"),))
    assert place(replace(asked, steps=(first, loose), start=at("16 15:00"))).by_key["one"].start == at("16 15:00")


def test_a_window_no_hours_can_meet_is_said_with_what_to_change_and_the_rest_is_planned():
    short = replace(COAT, stages=(Stage("recoat", 3), Stage("recoat closes", 3.2), Stage("handle", 24)))
    first = Step("one", "First coat", 420, cure=short, wait_stage="recoat")
    second = Step("two", "Second coat", 60, after=(After("one", "recoat", closes="recoat closes"),))
    plan = place(job((first, second, Step("other", "Fit", 30)), Profile.steady(23)))
    left = {u.step.key: u.why for u in plan.unplaced}
    assert left["two"].startswith("it must begin before “recoat closes” of “First coat”, and no working hours allow it")
    assert "work longer or later on such a day" in left["two"]
    assert left["one"] == "“Second coat” goes with it in time and can't be placed"
    assert set(plan.by_key) == {"other"}


def test_a_prepared_face_that_waited_too_long_is_to_be_prepared_again():
    wipe = Step("wipe", "Abrade and wipe", 30)
    bond = Step("bond", "Bond", 60, after=(After("wipe", within_min=240),))
    wiped = {"wipe": Fact(((START - 400, START - 370),), None, START - 370, (), ("Bo",))}
    plan = place(job((wipe, bond), facts=wiped))
    assert plan.unplaced[0].missed  # a kind, not a word in the sentence
    hopeless = place(job((Step("never", "Never", 30, stations=("pump",)),), stations=(Station("pump", 0),)))
    assert not hopeless.unplaced[0].missed
    assert plan.unplaced[0].why == (
        "it had to begin within 4 h of “Abrade and wipe”, and would come 2 h 10 min too late; "
        "do “Abrade and wipe” again before it"
    )
    fresh = {"wipe": replace(wiped["wipe"], pieces=((START - 60, START - 30),), finished=START - 30)}
    assert place(job((wipe, bond), facts=fresh)).by_key["bond"].start == START


def test_while_the_shop_is_open_people_are_named_and_not_the_hours():
    lay = Step("lay", "Lay", 165, 2)
    both, half = Step("bag", "Bag", 60, 2), Step("long", "Long-board", 420, 2)
    plan = place(job((lay, both, half), crew=CREW[:2], order=("lay", "bag", "long")))
    until = words_at(plan.by_key["lay"].end)
    assert words(plan, "bag", **{m.id: m.id for m in CREW}) == f"Not sooner: Bo and Imre are on “Lay” until {until}."
    # At night it could have gone sooner: what begins as the shop opens was kept from the day before by others.
    until = words_at(plan.by_key["bag"].end)
    assert words(plan, "long") == f"Not sooner: Bo and Imre are on “Bag” until {until}."
    alone = place(job((half,), crew=CREW[:2], start=at("14 12:00")))
    assert words(alone, "long") == (
        "Not sooner: too little of the hours before was left for it; the shop opens again Fri 09:00."
    )


def test_a_day_kept_as_accepted_holds_the_plan_but_nobody_who_is_free():
    sand = Step("sand", "Sand", 60)
    kept = job((sand,), pins={"sand": Pin(START + 120, kept=True)})
    plan = place(kept)
    found = plan.by_key["sand"]
    assert (found.start, found.kept, found.pinned) == (START + 120, START + 120, None)
    assert words(plan, "sand") == f"Not sooner: it is kept as in the accepted plan, {words_at(START + 120)}."
    assert if_next(kept)["sand"].start == START
    pinned = replace(kept, pins={"sand": Pin(START + 120)})
    assert if_next(pinned)["sand"].start == place(pinned).by_key["sand"].pinned == START + 120
    away = replace(kept, crew=(replace(CREW[0], away=((START, START + 300),)),))
    assert words(place(away), "sand", Bo="Bo").startswith(
        f"It was to be kept as accepted, {words_at(START + 120)}. Not"
    )


def test_what_is_too_cold_is_tried_in_every_room_it_fits_and_with_its_own_heated():
    lay = Step("lay", "Lay", 60, cure=EPOXY, wait_stage="peel", min_c=12.0, part="cap", stations=("mould",))
    peel = Step("peel", "Peel", 30, after=(After("lay"),), part="cap")
    rooms = {"": Profile.steady(17), "cool": Profile.steady(6), "box": Profile.steady(40), "cellar": Profile.steady(8)}
    cold = job((lay, peel), rooms[""], zones={"cool": rooms["cool"]}, stations=(Station("mould", zone="cool"),))
    assert {left.step.key for left in place(cold).unplaced} == {"lay", "peel"}
    found = ways_to_go(cold, "lay", rooms)
    assert found[0].zone == "box"
    assert {(way.kind, way.zone) for way in found[1:]} == {("station", ""), ("heat", "cool")}
    assert all(way.plan.unplaced == () for way in found)
    # The warmer the room, the sooner it peels; what it is heated to is the sheet's least and something to spare.
    ready = {way.zone: way.plan.by_key["lay"].ready for way in found}
    assert ready["box"] < ready[""] < ready["cool"]
    assert next(way.celsius for way in found if way.kind == "heat") == 15.0
    assert {way.zone for way in ways_to_go(cold, "lay", rooms, {"box"})} == {"", "cool"}
    # A room whose heater holds more by day is not held colder than that round the clock.
    warmer = next(way for way in ways_to_go(cold, "lay", rooms, held={"cool": 18.0}) if way.kind == "heat")
    assert warmer.celsius == 18.0
    # Without a place of its own the part itself is put elsewhere.
    alone = job((replace(lay, stations=()), peel), Profile.steady(6))
    assert [(w.kind, w.zone) for w in ways_to_go(alone, "lay", rooms)] == [("part", "box"), ("heat", "")]
    assert ways_to_go(cold, "peel", rooms) == []


def test_what_must_follow_in_time_goes_before_longer_chains_once_its_time_runs():
    prepare = Step("prepare", "Prepare", 30, part="joint")
    bond = Step("bond", "Bond", 60, after=(After("prepare", within_min=120.0),), part="joint")
    chain = [Step(f"c{n}", f"C{n}", 180, after=(After(f"c{n - 1}"),) if n else (), part="skin") for n in range(6)]
    facts = {key: Fact(((START - 60, START - 30),), None, START - 30, (), ("Bo",)) for key in ("prepare", "c0")}
    one = (Member("Bo"),)
    plan = place(job((*chain, prepare, bond), facts=facts, crew=one))
    assert plan.by_key["bond"].start == START
    assert plan.by_key["c1"].start == plan.by_key["bond"].end
    # While nothing of it was begun, the longest chain still leads.
    plan = place(job((*chain, prepare, bond), facts={"c0": facts["c0"]}, crew=one))
    assert plan.by_key["c1"].start == START
    assert plan.by_key["bond"].start <= plan.by_key["prepare"].end + 120


def test_one_mix_is_used_while_it_lives_and_it_lives_shorter_in_the_warmth():
    mix = Step("mix", "Mix", 10, life=LIFE)
    use = [Step(k, k, 20, after=(After("mix", "end", closes=USE_BY, same_mix=True),)) for k in ("a", "b")]
    alone = job((mix, *use), Profile.steady(20), crew=CREW[:1])
    plan = place(alone)
    assert broken(alone, plan.placed) == []
    assert [p.step.key for p in plan.placed] == ["mix", "a", "b"]
    hot = place(replace(alone, profile=Profile.steady(38)))
    assert "before “use by” of “Mix”" in next(u.why for u in hot.unplaced if "must begin" in u.why)
    assert len(place(replace(alone, profile=Profile.steady(38), crew=CREW)).placed) == 3


def test_who_comes_at_week_ends_works_then_and_a_break_of_two_months_is_kept():
    dana = Member("Dana", hours=WEEK_END)
    hours = replace(DAYS, shifts=(*DAYS.shifts, *(replace(s, weekday=6) for s in DAYS.shifts[:1])))
    asked = job((Step("sand", "Sand", 900, may_pause=True),), hours=hours, crew=(dana,))
    sand = place(asked).by_key["sand"]
    assert broken(asked, [sand]) == []
    assert [moment_of(a, VIENNA).strftime("%a %H") for a, _ in sand.pieces] == ["Sat 09", "Sun 09"]
    assert (sand.because.kind, sand.because.of, sand.because.by) == ("crew", "Dana", "")
    assert words(place(asked), "sand", Dana="Dana") == "Not sooner: Dana is not here before Sat 09:00."
    gone = replace(dana, hours=None, away=((START - 10, START + 60 * 1440),))
    away = place(replace(asked, crew=(gone,))).by_key["sand"]
    assert away.start >= START + 60 * 1440
    two = place(replace(asked, steps=(Step("turn", "Lift", 60, 2),), crew=(dana, CREW[0]))).by_key["turn"]
    assert moment_of(two.start, VIENNA).strftime("%a %H:%M") == "Sat 09:00"


def test_a_step_in_the_cool_room_cures_at_its_temperature_and_holds_it_meanwhile():
    rooms = (Station("cool room", 1, "cellar"), Station("bench"))
    lay = Step("lay", "Lay", 60, cure=EPOXY, wait_stage="gel", stations=("cool room",), holds=True)
    here = replace(lay, key="here", stations=("bench",))
    asked = job((lay, here), Profile.steady(24), stations=rooms, zones={"cellar": Profile.steady(14)})
    plan = place(asked).by_key
    assert broken(asked, plan.values()) == []
    assert plan["lay"].ready - plan["lay"].end > 1.7 * (plan["here"].ready - plan["here"].end)


def test_damp_air_and_a_near_dew_point_put_a_step_off_only_until_its_stage():
    days = day_curve(0, 60, at("14 00:00") - 12 * 60, 6)  # driest at three in the morning
    damp = Damp(Profile(days.minutes, days.celsius + 40), Profile(days.minutes, (60 - days.celsius) / 6))
    coat = Step("coat", "Coat", 30, cure=EPOXY, wait_stage="peel", max_rh_pct=70, limits_until="end")
    asked = job((coat,), hours=ALWAYS, damp={"": damp}, start=at("14 16:00"))
    ended = place(replace(asked, start=at("15 03:00"))).by_key["coat"]
    assert (ended.because.kind, ended.because.by) == ("climate", "damp")
    assert broken(asked, [ended]) == []
    near = place(replace(asked, steps=(replace(coat, max_rh_pct=None, margin_k=6),), start=at("15 03:00")))
    assert near.by_key["coat"].because.by == "dew"
    assert "damp" in words(place(replace(asked, start=at("15 03:00"))), "coat")
    # Until it is peeled there is never so long a dry spell while the air is known; beyond, nothing is held up.
    whole = place(replace(asked, steps=(replace(coat, limits_until="wait"),))).by_key["coat"]
    assert whole.start >= float(days.minutes[-1]) - 1440


WING = Thing("wing", "The wing", minutes=30, people=2)


def steps_of_a_wing():
    up = {"way": "upper side up", "thing": "wing"}
    down = {"way": "lower side up", "thing": "wing"}
    return (
        Step("skin up", "Skin the top", 120, 2, cure=EPOXY, wait_stage="peel", **up),
        Step("skin down", "Skin the bottom", 120, 2, (After("skin up"),), EPOXY, "peel", **down),
        Step("tips", "Fit tip blocks", 40, **up),
        Step("hinges", "Fit hinges", 60, **up),
        Step("drains", "Drill drains", 20, **down),
    )


def test_all_that_lies_right_is_done_before_turning_and_it_is_turned_once():
    asked = job(steps_of_a_wing(), things=(WING,))
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    turns = [p for p in plan.placed if "turn/" in p.step.key]
    assert len(turns) == 1
    assert turns[0].step.people == len(turns[0].people) == 2
    assert all(plan.by_key[key].ready <= turns[0].start for key in ("skin up", "tips", "hinges"))
    assert plan.by_key["drains"].start >= turns[0].end
    found = words(plan, "drains", wing="The wing")
    assert found == f"Not sooner: The wing is turned before it: “Turn it: lower side up”, {words_at(turns[0].end)}."
    # What lies as it must not may not come next: it would have to be turned first.
    begun = replace(asked, things=(replace(WING, way="upper side up"),))
    assert set(if_next(begun)) == {"skin up", "tips", "hinges"}


def words_at(minute):
    return moment_of(minute, VIENNA).strftime("%a %H:%M")


def test_a_long_wait_is_not_sat_out_when_turning_sooner_ends_sooner():
    seal = Step("seal", "Seal the tank", 30, wait_min=6_000, way="upper side up", thing="wing")
    spar = Step("spar", "Bond the spar", 60, way="lower side up", thing="wing")
    paint = Step("paint", "Send it to be anodised", 30, after=(After("spar"),), wait_min=12_000)
    asked = job((seal, spar, paint), things=(replace(WING, way="upper side up"),), crew=CREW[:2])
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    found = plan.by_key
    assert sum("turn/" in key for key in found) == 2
    assert found["seal"].start > found["spar"].end
    assert plan.finish < found["paint"].start + 6_000 + 12_000
    # When nothing long hangs on it, the seal is waited for, and the wing is turned once.
    once = place(replace(asked, steps=(seal, spar)))
    assert sum("turn/" in p.step.key for p in once.placed) == 1
    assert once.by_key["spar"].start > once.by_key["seal"].ready


def test_a_turning_under_way_is_gone_on_with_and_what_never_lets_go_is_said():
    begun = Fact(running_since=START - 10, people=("Bo", "Imre"))
    turning = replace(WING, way="upper side up", turning=("lower side up", begun))
    drains = steps_of_a_wing()[-1]
    plan = place(job((drains,), things=(turning,)))
    assert plan.placed[0].state == "running"
    assert plan.by_key["drains"].start == plan.placed[0].end
    stuck = replace(EPOXY, min_c=30)
    skin = Step("skin", "Skin", 60, cure=stuck, wait_stage="peel", way="upper side up", thing="wing")
    left = place(job((skin, drains), things=(WING,))).unplaced
    assert left[0].why == "The wing can't be turned: “Skin” never comes so far"


@st.composite
def wings(draw):
    """Jobs on two things that are turned, in any order of links."""
    made = []
    for i in range(draw(st.integers(2, 12))):
        way, cure = draw(st.sampled_from(["", "up", "down", "on edge"])), draw(st.sampled_from([None, EPOXY]))
        links = draw(st.sets(st.integers(0, i - 1), max_size=2)) if i else ()
        tight = draw(st.sampled_from([None, None, 600.0]))
        after = tuple(After(f"s{j}", "end", tight) for j in links)
        thing = draw(st.sampled_from(["wing", "fin"])) if way else ""
        made.append(
            Step(f"s{i}", f"Step {i}", draw(st.integers(10, 300)), draw(st.integers(0, 2)), after, cure,
                 "gel" if cure else None, draw(st.booleans()), way=way, thing=thing)
        )  # fmt: skip
    things = (replace(WING, way=draw(st.sampled_from(["", "up"]))), Thing("fin", "The fin", way="down"))
    return job(made, day_curve(8, 21, START - 1440, 60), things=things)


@settings(max_examples=60, deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(asked=wings(), data=st.data())
def test_nothing_is_ever_worked_on_the_wrong_way_up(asked, data):
    plan = place(asked)
    told = {p.step.key: p.causes for p in place(asked).told().placed}
    for key in data.draw(st.permutations(sorted(told))):  # asked in any order, the same is said
        assert plan.by_key[key].causes == told[key]
    assert broken(asked, plan.placed) == []
    assert {p.step.key for p in plan.placed if "turn/" not in p.step.key} | {u.step.key for u in plan.unplaced} == {
        s.key for s in asked.steps
    }


def test_a_pin_is_kept_with_its_people_and_others_go_round_it():
    fit, lay = Step("fit", "Fit", 120), Step("lay", "Lay", 120, 3)
    wanted = at("14 14:00")
    asked = job((lay, fit), pins={"fit": Pin(wanted, ("Odile",)), "lay": Pin(at("15 09:00"))})
    plan = place(asked).by_key
    assert (plan["fit"].start, plan["fit"].people, plan["fit"].because.kind) == (wanted, ("Odile",), "pin")
    assert plan["lay"].start == at("15 09:00")
    early = place(replace(asked, steps=(lay, replace(fit, after=(After("lay"),))))).by_key["fit"]
    assert (early.pinned, early.start, early.because.kind) == (wanted, at("15 11:00"), "after")


def test_long_waits_begin_late_and_run_overnight_when_nothing_would_be_sooner_for_beginning_early():
    lay = Step("lay", "Lay", 120, 2, cure=EPOXY, wait_stage="peel")
    peel, fit = Step("peel", "Peel", 30, after=(After("lay"),)), Step("fit", "Fit", 240, 2)
    asked = job((lay, peel, fit), Profile.steady(23), overnight=True, start=at("14 09:00"))
    plan = place(asked).by_key
    assert broken(asked, plan.values()) == []
    assert plan["lay"].start == at("14 16:00")
    assert plan["fit"].start == at("14 09:00")
    early = place(replace(asked, overnight=False)).by_key
    assert early["lay"].start == at("14 09:00")
    assert early["peel"].start == plan["peel"].start == at("15 09:00")
    assert words(place(asked), "lay").startswith("It is put late on purpose")


def test_what_needs_access_comes_before_the_gate():
    steps = (
        Step("close", "Close it with cloth", 60, part="wing", gate=True),
        Step("cable", "Fish the cable", 30, part="wing", access=True),
        Step("after", "Tape", 30, after=(After("close"),), part="wing", access=True),
        Step("other", "Sand", 30, part="fin", access=True),
    )
    gated = {step.key: [link.step for link in step.after] for step in before_gates(steps)}
    assert gated == {"close": ["cable"], "cable": [], "after": ["close"], "other": []}


@pytest.mark.parametrize("count", [1, 2, 3])
def test_two_people_who_never_meet_are_named(count):
    early, late = (
        replace(DAYS, shifts=tuple(replace(s, start=a, end=b) for s in DAYS.shifts))
        for a, b in ((540, 780), (780, 1080))
    )
    crew = (Member("Bo", hours=early), Member("Imre", hours=late))
    plan = place(job((Step("lift", "Lift", 30, count, may_pause=True),), crew=crew))
    if count == 1:
        assert plan.placed[0].people == ("Bo",)
    else:
        assert "never there together" in plan.unplaced[0].why or "there are 2" in plan.unplaced[0].why


def test_what_came_too_late_is_told_from_what_can_never_be_by_its_kind_not_by_its_words():
    ready = Step("ready", "Sand the face", 30)
    bond = Step("bond", "Bond", 60, after=(After("ready", "end", within_min=60),))
    done = {"ready": Fact(((START - 600, START - 570),), finished=START - 570)}
    (late,) = place(job([ready, bond], facts=done)).unplaced
    (never,) = place(job([Step("again", "Sand it again and again", 30, skills=("nobody can",))])).unplaced
    assert (late.step.key, late.missed, never.step.key, never.missed) == ("bond", True, "again", False)


def test_work_pauses_by_the_hours_of_those_who_are_on_it_not_of_somebody_else():
    """Two who are there all week have an hour on Saturday, and no time on Monday; a third comes at weekends only."""
    both = (Member("Bo", frozenset({"bag"})), Member("Imre", frozenset({"glue"})))
    crew = (*both, Member("Teo", hours=WEEK_END))
    monday = Step("monday", "On Monday", 60, 2)
    fit = Step("fit", "Fit it", 180, 2, may_pause=True, skills=("bag", "glue"))
    asked = job([monday, fit], start=at("16T17:00"), crew=crew, pins={"monday": Pin(at("18T09:00"), ("Bo", "Imre"))})
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    fitted = plan.by_key["fit"]
    assert fitted.end < at("19T00:00")


def test_of_several_teams_the_one_that_is_through_first_is_taken_not_the_one_that_begins_sooner():
    """One who goes away for two months could begin the work today with another; two who stay begin it tomorrow."""
    away = ((at("14T17:00"), at("14T17:00") + 60 * 1440),)
    crew = (Member("Bo"), Member("Imre"), Member("Vera", away=away))
    steps = [Step("sand", "Sand it", 110, 1), Step("fit", "Fit it", 180, 2, may_pause=True)]
    asked = job(steps, start=at("14T16:00"), crew=crew, pins={"sand": Pin(at("14T16:00"), ("Bo",))})
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    assert plan.by_key["fit"].end < at("17T00:00")


def hour_by_hour(monkeypatch):
    """Lets every search look at all that is in the way, as it does when what held a step is told."""
    search = Search.find
    monkeypatch.setattr(Search, "find", lambda self, *asked, quick=True, **more: search(self, *asked, **more))


def as_placed(asked):
    """All of a plan that does not say why; who could not be had is told in other words than from when too few are."""
    plan = place(asked)
    there = {p.step.key: (p.pieces, p.people, p.ready, p.state, p.earliest) for p in plan.placed}
    return there, {one.step.key for one in plan.unplaced}, plan.finish


@settings(max_examples=examples(60), deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(asked=jobs(), begun=st.integers(0, 13), mixed=st.integers(0, 2))
def test_a_search_that_goes_past_what_has_too_few_hands_finds_what_one_hour_by_hour_finds(asked, begun, mixed):
    # Somebody of hours that begin off the grid, and what was begun by somebody off it too.
    odd = WorkingHours(VIENNA, tuple(Shift(d, 541 + 7 * mixed, 873) for d in range(5)))
    asked = replace(asked, crew=(*asked.crew, Member("Ada", frozenset({"glue"}), odd)))
    step = asked.steps[begun % len(asked.steps)]
    if not step.after:
        fact = Fact(((asked.start - 33, asked.start - 2),), people=("Bo",))
        asked = replace(asked, facts={step.key: fact})
    with pytest.MonkeyPatch.context() as patched:
        hour_by_hour(patched)
        slow = as_placed(asked)
    assert as_placed(asked) == slow


@pytest.mark.parametrize(("count", "seed", "crew"), [(90, 3, 6), (150, 4, 3), (60, 5, 2)])
def test_an_airframe_is_placed_alike_either_way(monkeypatch, count, seed, crew):
    asked = airframe(count, START, day_curve(9, 21, START - 1440, 200), seed=seed, overnight=True)
    asked = replace(asked, crew=asked.crew[-crew:])
    quick = as_placed(asked)
    hour_by_hour(monkeypatch)
    assert as_placed(asked) == quick


WET = Damp(Profile.steady(80), Profile.steady(4))


@pytest.mark.parametrize(
    "change",
    [
        {"start": START + 5},
        {"hours": ALWAYS},
        {"crew": CREW[:2]},
        {"crew": (*CREW[:2], replace(CREW[2], away=((START, START + 60.0),)))},
        {"profile": Profile.of([(START, 20), (START + 60, 20.5)])},
        {"own": {"wing": Profile.steady(31)}},
        {"own": {}},
        {"zones": {"box": Profile.steady(46)}},
        {"damp": {}},
        {"damp": {"": replace(WET, margin=Profile.steady(3))}},
        {"stations": (Station("oven", 1, ""),)},
    ],
)
def test_what_a_plan_stands_on_serves_only_where_all_of_it_is_the_same(change):
    """Anything a search reads but what was done, the order and what is kept."""
    airs = {"own": {"wing": Profile.steady(30)}, "zones": {"box": Profile.steady(45)}, "damp": {"": WET}}
    bake = Step("bake", "Bake", 60, stations=("oven",), part="wing")
    asked = job((bake,), Profile.steady(20), stations=(Station("oven", 1, "box"),), **airs)
    ground = place(asked).ground
    done = {"bake": Fact(((START - 90, START - 30),), finished=START - 30)}
    same = replace(
        asked, facts=done, order=("bake",), stands={"bake": START + 9.0}, overnight=not asked.overnight,
        profile=Profile.steady(20), crew=tuple(replace(one) for one in asked.crew), pins={"bake": Pin(START + 600)},
    )  # fmt: skip
    assert place(same, ground).ground is ground
    other = place(replace(same, **change), ground)
    assert other.ground is not ground
    # The airs are the same, later that day or for others.
    assert (other.airs is ground.airs) == (set(change) <= {"start", "hours", "crew"})
    fresh = place(replace(same, **change))
    assert [(p.start, p.ready, p.people) for p in other.placed] == [(p.start, p.ready, p.people) for p in fresh.placed]


def test_later_that_day_a_plan_stands_on_the_same_airs_and_is_the_same_to_the_last_digit():
    nights = day_curve(8, 20, START - 1440, 200)
    asked = airframe(60, START, nights, seed=3, overnight=True)
    before = place(asked)
    carried = []
    for later in (5, 195, 1440):
        asked = replace(asked, start=START + later)
        plan, fresh = place(asked, before.ground), place(asked)
        carried.append(plan.airs is before.airs)
        assert [(p.start, p.ready, p.people) for p in plan.placed] == [
            (p.start, p.ready, p.people) for p in fresh.placed
        ]
        assert plan.bound == fresh.bound
        before = plan
    assert carried == [True, True, False]


def test_only_what_is_asked_for_is_told_and_each_as_if_all_were():
    asked = airframe(60, START, day_curve(12, 22, START - 1440, 200), seed=6, overnight=True)
    some, every = place(asked), place(asked).told()
    wanted = set(list(some.order)[1::7])
    some.told(wanted)
    assert {key for key, placed in some.by_key.items() if placed.known is not None} == wanted
    # In whatever order they are asked then.
    for key in reversed(some.order):
        assert some.by_key[key].causes == every.by_key[key].causes


@pytest.mark.parametrize(
    ("minutes", "late"),
    [
        (60, "14 17:00"),  # its ten hours at 20 °C are over in the night whenever it is begun today: as late as it fits
        (480, "14 10:00"),  # only so much of the day is left
        (520, None),  # nothing is left
    ],
)
def test_a_long_wait_is_begun_as_late_as_the_day_allows(minutes, late):
    lay = Step("lay", "Lay up", minutes, cure=EPOXY, wait_stage="peel")
    peel = Step("peel", "Peel", 30, after=(After("lay"),))
    asked = job((lay, peel), Profile.steady(20), overnight=True)
    plan, hasty = place(asked), place(replace(asked, overnight=False))
    found = plan.by_key["lay"]
    assert found.start == (at(late) if late else hasty.by_key["lay"].start)
    assert (found.earliest is not None) == (late is not None)
    assert plan.by_key["peel"].start == hasty.by_key["peel"].start
    # What was begun already goes on as it can.
    begun = replace(asked, facts={"lay": Fact(((START - 60, START - 30),))})
    assert place(begun).by_key["lay"].pieces[1][0] == START


@pytest.mark.parametrize("quick", [True, False])
@pytest.mark.parametrize("over", [0.0, 1.0])
def test_who_is_back_a_trifle_after_a_start_of_the_grid_is_back_by_then_and_no_search_stands_still(quick, over):
    back = math.nextafter(START + 60, math.inf) + over
    asked = job((Step("lift", "Lift it", 30, people=1),), crew=(Member("Bo", away=((START, back),)),))
    search = Search(asked)
    found, _ = search.find(asked.steps[0], [(START, BEGIN)], quick=quick)
    assert 60 <= found.start - START <= 65
