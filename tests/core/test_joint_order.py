"""The order of joints against every order there is; contradictions named with the fewest joints."""

from itertools import combinations, permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kiteloom.core.base.problems import Refused
from kiteloom.core.build.joint_order import Joint, joint_order

PARTS = ("spar", "rib", "edge", "nose", "tip")


def holds(joints, order):
    """Whether an order gives every joint what it asks for: written as the words of the trade say it."""
    fixed, done = set(), set()
    for n in order:
        joint = joints[n]
        if fixed & set(joint.loose) or set(joint.located) - fixed or set(joint.after) - done:
            return False
        fixed |= set(joint.fixes)
        done.add(joint.id)
    return True


def stops(joints, order):
    """The places of an order after which no part is half fixed."""
    found = []
    for at in range(1, len(order) + 1):
        before, after = ({p for n in some for p in joints[n].fixes} for some in (order[:at], order[at:]))
        if not before & after:
            found.append(at)
    return found


def worth(joints, order):
    """What is wanted of an order, least first: the longest stretch, then many stops, then as it was given."""
    ends = stops(joints, order)
    longest = max(b - a for a, b in zip([0, *ends], ends, strict=False))
    return longest, -len(ends), tuple(order)


def best(joints):
    """The best of all orders that hold; None where none does."""
    fine = [order for order in permutations(range(len(joints))) if holds(joints, order)]
    return min(fine, key=lambda order: worth(joints, order)) if fine else None


some = st.lists(st.sampled_from(PARTS), max_size=2, unique=True).map(tuple)


@st.composite
def puzzles(draw, least=1, most=6):
    count = draw(st.integers(least, most))
    names = [f"j{n}" for n in range(count)]
    rows = []
    for name in names:
        fixes = draw(st.lists(st.sampled_from(PARTS), min_size=1, max_size=2, unique=True).map(tuple))
        after = draw(st.lists(st.sampled_from(names), max_size=1).map(tuple))
        rows.append(Joint(name, fixes, draw(some), draw(some), tuple(n for n in after if n != name)))
    fixed = {part for row in rows for part in row.fixes}
    return [Joint(row.id, row.fixes, row.loose, tuple(p for p in row.located if p in fixed), row.after) for row in rows]


@settings(max_examples=300)
@given(puzzles())
def test_no_order_is_better_and_where_none_holds_the_fewest_joints_are_named(joints):
    wanted = best(joints)
    if wanted is None:
        with pytest.raises(Refused, match="contradict") as refused:
            joint_order(joints)
        named = set(refused.value.sentence.split(" contradict")[0].replace(",", " ").split()) - {"and"}
        assert len(named) == fewest(joints)
        return
    found = joint_order(joints)
    order = [next(n for n, joint in enumerate(joints) if joint.id == key) for key in found.order]
    assert holds(joints, order)
    assert tuple(order) == tuple(wanted)
    assert found.longest == worth(joints, order)[0]
    assert list(found.breaks) == [found.order[at - 1] for at in stops(joints, order)]
    assert [row.id for row in found.because] == list(found.order)


@settings(max_examples=12, deadline=None)
@given(puzzles(7, 7))
def test_of_seven_joints_too_no_order_is_better(joints):
    wanted = best(joints)
    if wanted is None:
        with pytest.raises(Refused, match="contradict"):
            joint_order(joints)
        return
    found = joint_order(joints)
    assert found.order == tuple(joints[n].id for n in wanted)


def fewest(joints):
    """The size of the smallest set of joints each of which waits for others of the set, whatever is done besides."""
    ids = {joint.id: n for n, joint in enumerate(joints)}
    fixing = {part: {n for n, joint in enumerate(joints) if part in joint.fixes} for part in PARTS}
    waits = [[] for _ in joints]
    for n, joint in enumerate(joints):
        waits[n] += [{ids[name]} for name in joint.after] + [fixing[part] - {n} for part in joint.located]
        for part in joint.loose:
            for other in fixing[part] - {n}:
                waits[other].append({n})
    return next(
        size
        for size in range(1, len(joints) + 1)
        for chosen in map(set, combinations(range(len(joints)), size))
        if all(any(need <= chosen for need in waits[n]) for n in chosen)
    )


def test_a_rib_that_floats_on_its_tube_is_glued_last_and_each_joint_says_why():
    tube = [
        Joint("sleeve on tube", ("tube", "sleeve")),
        Joint("rib on tube", ("tube", "rib 3"), located=("sleeve",)),
        Joint("bracket behind rib", ("sleeve", "bracket"), loose=("rib 3",)),
        Joint("gusset", ("gusset", "rib 9")),
    ]
    found = joint_order(tube)
    assert found.order == ("sleeve on tube", "bracket behind rib", "rib on tube", "gusset")
    assert (found.breaks, found.longest) == (("rib on tube", "gusset"), 3)
    says = {row.id: row.says for row in found.because}
    assert says["rib on tube"] == (
        "bracket behind rib needs rib 3 loose, rib on tube fixes it. After it nothing is half fixed: it is safe to stop"
    )
    assert says["sleeve on tube"] == "nothing must come before it"
    assert says["bracket behind rib"] == "sleeve is half fixed until it is done"


@pytest.mark.parametrize(
    ("joints", "field", "says"),
    [
        ([Joint("a", ("x",)), Joint("a", ("y",))], "joints.1.id", "two joints are called “a”"),
        ([Joint(" ", ("x",))], "joints.0.id", "joint 1 has no name"),
        ([Joint("a", ("x",), after=("z",))], "joints.0.after", "“z”, which is no joint of the list"),
        ([Joint("a", ("x",), located=("y",))], "joints.0.located", "no joint of the list fixes it"),
        ([Joint("a", ("x",), after=("a",))], "joints", "a contradicts itself: a comes after a"),
        ([Joint("a", ("x",), located=("x",))], "joints", "only itself fixes it"),
        ([Joint(f"j{n}", ("x",)) for n in range(201)], "joints", "201"),
    ],
)
def test_what_cannot_be_put_in_order_is_refused_by_name(joints, field, says):
    with pytest.raises(Refused) as refused:
        joint_order(joints)
    assert refused.value.field == field
    assert says in refused.value.sentence


def test_two_hundred_joints_are_one_chain_or_two_hundred_stops():
    chain = [Joint(f"j{n}", (f"p{n}", f"p{n + 1}")) for n in range(200)]
    assert joint_order(chain).longest == 200
    alone = [Joint(f"j{n}", (f"p{n}",), after=(f"j{n + 1}",) if n < 199 else ()) for n in range(200)]
    found = joint_order(alone)
    assert found.order == tuple(f"j{n}" for n in reversed(range(200)))
    assert (len(found.breaks), found.longest) == (200, 1)
    assert joint_order([]).order == ()
