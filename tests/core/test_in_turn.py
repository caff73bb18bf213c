"""The order of joints as links between bonding steps, joints worked with one mix, and faces made ready once more."""

from dataclasses import replace

import pytest
from hypothesis import assume, given, settings
from tests.core.jobs import DAYS, START, examples
from tests.core.tasks import EPOXY
from tests.core.test_joint_order import best, puzzles

from kiteloom.core.air.profile import Profile
from kiteloom.core.build.in_turn import LIFE_SHARE, NEXT_MIN, in_turn, one_mix
from kiteloom.core.build.joint_order import Joint, joint_order
from kiteloom.core.build.step import USE_BY, After, Estimate, Step
from kiteloom.core.cure.system import CureSystem, Stage
from kiteloom.core.log.facts import Fact
from kiteloom.core.plan.input import Member, PlanInput
from kiteloom.core.plan.place import place
from kiteloom.core.plan.today import faded_in

LIFE = CureSystem(50, 23, (Stage(USE_BY, 1.0),))
WARM = Profile.of([(START - 1440, 23.0), (START + 60 * 1440, 23.0)])


def bond(key, metres=1.0, after=(), **more):
    """A bonding step: half an hour of laying ready, a few minutes a metre."""
    estimate = Estimate(25, each_min=7, count=round(metres), piece="metres")
    return Step(key, f"Bond {key}", estimate.minutes, 1, tuple(after), cure=EPOXY, wait_stage="peel", life=LIFE,
                estimate=estimate, **more)  # fmt: skip


def linked(order, names, **more):
    """The bonding steps of some joints, linked as their order says."""
    turns = in_turn(order, {name: name for name in names})
    return {name: bond(name, after=turns.get(name, ()), **more) for name in names}


@settings(max_examples=examples(150), deadline=None)
@given(joints=puzzles())
def test_links_follow_the_order_bind_every_need_and_nothing_across_a_safe_stop(joints):
    assume(best(joints) is not None)
    order = joint_order(joints)
    place_of = {name: at for at, name in enumerate(order.order)}
    turns = in_turn(order, {name: name for name in order.order})
    pairs = {(link.step, then): link.until for then, links in turns.items() for link in links}
    assert all(place_of[first] < place_of[then] for first, then in pairs)
    assert {pair for pair, until in pairs.items() if until == "wait"} == set(order.first)
    for at, then in enumerate(order.order[1:], 1):
        before = order.order[at - 1]
        if before in order.breaks:
            assert pairs.get((before, then)) in (None, "wait")
        else:
            assert (before, then) in pairs
    by_id = {joint.id: joint for joint in joints}
    for joint in joints:
        for name in joint.after:
            assert (name, joint.id) in pairs
        for part in joint.located:
            assert any(part in by_id[first].fixes for first, then in pairs if then == joint.id)


def test_a_joint_without_a_step_is_passed_over_and_its_neighbours_still_follow():
    order = joint_order([Joint("a", ("rib",)), Joint("b", ("rib",)), Joint("c", ("rib",))])
    assert in_turn(order, {"a": "a", "c": "c"}) == {"c": (After("a", "end"),)}
    assert in_turn(order, {}) == {}


def test_joints_of_one_stretch_share_a_mix_while_it_can_be_used_and_take_less_after_the_first():
    order = joint_order([Joint(name, ("rib",)) for name in "abcdef"])
    steps = linked(order, "abcdef")
    found = one_mix(order, steps, dict.fromkeys("abcdef", "paste"), {"paste": 60.0}, ())
    # 7 min of the first lie in its mix; each of the others takes 5 + 7 min on a grid of five: two of them go into 45.
    assert list(found) == ["b", "c", "e", "f"]
    quick = found["b"]
    assert quick.minutes == NEXT_MIN + 7
    assert (quick.after[0].same_mix, quick.after[0].closes, quick.after[0].uses_min) == (True, USE_BY, quick.length)
    assert 7 + 2 * quick.length <= LIFE_SHARE * 60 < 7 + 3 * quick.length


@pytest.mark.parametrize(
    ("more", "shared"),
    [
        ({}, ["b"]),
        ({"mixes": {"a": "paste", "b": "glue"}}, []),
        ({"pots": {"paste": 20.0}}, []),
        ({"pots": {}}, []),
        ({"begun": ("a",)}, []),
        ({"begun": ("b",)}, []),
    ],
)
def test_another_product_a_short_life_or_what_was_begun_is_mixed_for_by_itself(more, shared):
    order = joint_order([Joint("a", ("rib",)), Joint("b", ("rib",))])
    mixes = more.get("mixes", dict.fromkeys("ab", "paste"))
    found = one_mix(order, linked(order, "ab"), mixes, more.get("pots", {"paste": 60.0}), more.get("begun", ()))
    assert list(found) == shared


def test_what_must_set_first_or_lies_beyond_a_safe_stop_has_a_mix_of_its_own():
    needs = joint_order([Joint("a", ("rib",)), Joint("b", ("rib",), after=("a",))])
    apart = joint_order([Joint("a", ("rib",)), Joint("b", ("seat",))])
    for order in (needs, apart):
        assert one_mix(order, linked(order, "ab"), dict.fromkeys("ab", "paste"), {"paste": 60.0}, ()) == {}
    order = joint_order([Joint("a", ("rib",)), Joint("b", ("rib",))])
    steps = linked(order, "ab")
    held = {**steps, "a": replace(steps["a"], refused="no such part")}
    assert one_mix(order, held, dict.fromkeys("ab", "paste"), {"paste": 60.0}, ()) == {}


def shop(*steps, facts=None):
    return PlanInput(tuple(steps), START, DAYS, WARM, (Member("bo"), Member("imre")), (), facts or {})


@settings(max_examples=examples(40), deadline=None)
@given(joints=puzzles())
def test_a_plan_of_joints_bonds_them_in_turn_and_each_shared_mix_before_it_is_gone(joints):
    assume(best(joints) is not None)
    order = joint_order(joints)
    steps = linked(order, order.order)
    steps |= one_mix(order, steps, dict.fromkeys(steps, "paste"), {"paste": 60.0}, ())
    plan = place(shop(*steps.values()))
    assert not plan.unplaced
    begins = {key: placed.begins for key, placed in plan.by_key.items()}
    for key, step in steps.items():
        for link in step.after:
            before = plan.by_key[link.step]
            assert begins[key] >= (before.end if link.until == "end" else before.ready) - 1e-6
            if link.same_mix:
                assert plan.by_key[key].end <= before.mixed + 60 + 1e-6


def test_what_was_wiped_too_long_ago_is_wiped_once_more_and_glued_in_time():
    wipe = Step("wipe", "Wipe", 30, fades=True, listed=True)
    glue = bond("glue", after=(After("wipe", "end", within_min=60),))
    fresh = {"wipe": Fact(pieces=((START - 60, START - 30),), finished=START - 30.0)}
    old = {"wipe": Fact(pieces=((START - 600, START - 570),), finished=START - 570.0)}
    assert faded_in(place(shop(wipe, glue, facts=fresh)), fresh) == frozenset()
    asked = shop(wipe, glue, facts=old)
    stuck = place(asked)
    assert [left.step.key for left in stuck.unplaced] == ["glue"]
    assert faded_in(stuck, old) == {"wipe"}
    again = place(replace(asked, facts={}))
    assert again.by_key["glue"].begins - again.by_key["wipe"].end <= 60
    # A layup that was waited for too long is not made anew by itself: only what fades is.
    stays = place(shop(replace(wipe, fades=False), glue, facts=old))
    assert faded_in(stays, old) == frozenset()
