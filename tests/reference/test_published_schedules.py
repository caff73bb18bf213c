"""Plans against published schedules whose best end is known: a plan may be longer, its bound never is."""

from __future__ import annotations

from datetime import datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.jobs import ALWAYS, job
from tests.core.walker import broken
from tests.shops import UNIT, job_shops

from kiteloom.core.build.step import After, Step
from kiteloom.core.plan.input import Member, Station
from kiteloom.core.plan.place import place

#: J. F. Muth and G. L. Thompson, “Industrial Scheduling” (1963), the six by six problem of H. Fisher and
#: G. L. Thompson, from memory: for each of six jobs its machines in order and how long it is on each.
SIX_BY_SIX = (
    ((2, 1), (0, 3), (1, 6), (3, 7), (5, 3), (4, 6)),
    ((1, 8), (2, 5), (4, 10), (5, 10), (0, 10), (3, 4)),
    ((2, 5), (3, 4), (5, 8), (0, 9), (1, 1), (4, 7)),
    ((1, 5), (0, 5), (2, 5), (3, 3), (4, 8), (5, 9)),
    ((2, 9), (1, 3), (4, 5), (5, 4), (0, 3), (3, 1)),
    ((1, 3), (3, 3), (5, 9), (0, 10), (4, 4), (2, 1)),
)
#: Its best end, proved since (J. Adams, E. Balas and D. Zawack, Management Science 34, 1988; from memory).
SIX_BY_SIX_BEST = 55


def shop_of(rows, crew):
    """The problem as a job: machines are stations, a unit is five minutes, the shop never closes."""
    steps = [
        Step(f"{n}.{i}", f"{n}.{i}", UNIT * length, 1, (After(f"{n}.{i - 1}"),) if i else (), stations=(f"m{machine}",))
        for n, row in enumerate(rows)
        for i, (machine, length) in enumerate(row)
    ]
    machines = sorted({machine for row in rows for machine, _ in row})
    stations = tuple(Station(f"m{machine}") for machine in machines)
    return job(steps, hours=ALWAYS, crew=tuple(Member(f"p{n}") for n in range(crew)), stations=stations)


def test_the_six_by_six_problem_is_kept_to_and_bounded():
    asked = shop_of(SIX_BY_SIX, crew=6)
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    begins = plan.placed[0].start
    end, bound = (plan.finish - begins) / UNIT, (plan.bound - begins) / UNIT
    # The longest row alone is 47, the fullest machine with what must come before and after it 52.
    assert 47 <= bound <= SIX_BY_SIX_BEST <= end
    # Placing the longest chain first comes within a third of the best.
    assert end <= SIX_BY_SIX_BEST * 4 / 3


# Source: tests/data/README.md says whose problems these are, and the ends proven for them.
@pytest.mark.parametrize("name", ["ft06", "la01", "la02", "la03", "la04", "la05"])
def test_a_published_problem_is_solved_to_its_best_end_and_that_is_proven(shop, name):
    problem = job_shops()[name]
    # The time is what it may take on a busy machine: it ends as soon as the end is proven.
    found = shop.ask("POST", "/calc/schedule", {**problem.asked, "seconds": 120})
    begins = datetime.fromisoformat(problem.asked["start"])
    units = (datetime.fromisoformat(found["finish"]) - begins).total_seconds() / 60 / UNIT
    assert units == problem.best
    assert found["lower_bound"] == found["finish"]
    assert found["gap_pct"] == 0
    assert len(found["steps"]) == len(problem.asked["steps"])
    assert found["unplaced"] == []


def test_with_one_pair_of_hands_it_takes_as_long_as_all_its_work():
    plan = place(shop_of(SIX_BY_SIX, crew=1))
    assert plan.finish - plan.placed[0].start == pytest.approx(UNIT * sum(t for row in SIX_BY_SIX for _, t in row))
    assert plan.finish == pytest.approx(plan.bound)


def johnson(jobs):
    """The shortest end of a flow through two machines: S. M. Johnson, Naval Research Logistics Quarterly 1 (1954)."""
    first = sorted((j for j in jobs if j[0] <= j[1]), key=lambda j: j[0])
    last = sorted((j for j in jobs if j[0] > j[1]), key=lambda j: -j[1])
    one = other = 0
    for a, b in first + last:
        one += a
        other = max(other, one) + b
    return other


@settings(max_examples=60, deadline=None)
@given(jobs=st.lists(st.tuples(st.integers(1, 20), st.integers(1, 20)), min_size=1, max_size=8))
def test_a_flow_through_two_machines_is_never_shorter_than_johnsons_and_its_bound_never_longer(jobs):
    asked = shop_of([((0, a), (1, b)) for a, b in jobs], crew=2)
    plan = place(asked)
    begins = min(p.start for p in plan.placed)
    best = johnson(jobs)
    assert (plan.bound - begins) / UNIT <= best <= (plan.finish - begins) / UNIT
    assert (plan.finish - begins) / UNIT <= 2 * best  # one machine at least is always busy


def test_johnsons_own_example():
    """The five jobs of his paper's worked example, from memory: the best order is 5, 1, 4, 3, 2 and ends at 47."""
    assert johnson([(4, 5), (4, 1), (30, 4), (6, 30), (2, 3)]) == 47
