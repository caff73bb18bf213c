"""Plans over the nights of the open weather year, against a clock that ticks minute by minute."""

from datetime import datetime

import numpy as np
import pytest
from tests.core.airframe import airframe
from tests.core.jobs import CREW, DAYS, VIENNA
from tests.core.tasks import skin, steps
from tests.core.walker import broken
from tests.reference.test_cure import open_weather_year

from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.cure.system import GAS_J_MOL_K, KELVIN
from kiteloom.core.plan.input import PlanInput, Station
from kiteloom.core.plan.place import place

YEAR = open_weather_year()


def skin_from(start):
    return place(PlanInput(steps("skin", skin()), start, DAYS, YEAR, CREW, (Station("vacuum pump", 2),)))


def ticked(system, stage, mixed):
    """Minutes until a stage, by adding up one minute after another; None within 60 days."""
    wanted, had = system.hours(stage), 0.0
    minutes = mixed + np.arange(60 * 1440) + 0.5
    kelvin = np.interp(minutes, YEAR.minutes, YEAR.celsius) + KELVIN
    energy = system.activation_energy_kj_mol * 1000 / GAS_J_MOL_K
    gained = np.exp(-energy * (1 / kelvin - 1 / (system.reference_c + KELVIN))) / 60
    gained[kelvin - KELVIN < system.min_c] = 0
    had = np.cumsum(gained)
    return int(np.searchsorted(had, wanted)) + 1 if had[-1] >= wanted else None


# Source: dry bulb of station 723170 (NREL TMY3 file inside pvlib), hour by hour, in every month.
@pytest.mark.parametrize("month", range(1, 11))
def test_a_skin_begun_in_any_month_is_placed_by_its_own_nights(month):
    start = minute_of(datetime(2026, month, 12, 10, 0, tzinfo=VIENNA))
    asked = PlanInput(steps("skin", skin()), start, DAYS, YEAR, CREW, (Station("vacuum pump", 2),))
    plan = place(asked)
    for placed in plan.placed:
        for stage in placed.cure.stages if placed.cure else ():
            expected = ticked(placed.step.cure, stage.name, placed.mixed)
            found = plan.event(placed, stage.name)
            if expected is None:
                assert found is None
            else:
                assert found - placed.mixed == pytest.approx(expected, abs=2)
    if plan.unplaced:
        assert month in (1, 2, 11, 12), "only winter is too cold for this resin"
    else:
        assert broken(asked, plan.placed) == []


# Source: the same year: a resin that needs 12 °C is quicker in July than in April, and in April than in November.
def test_summer_is_quicker_than_spring():
    def days(month):
        start = minute_of(datetime(2026, month, 12, 10, 0, tzinfo=VIENNA))
        return (skin_from(start).finish - start) / 1440

    assert days(7) < days(4)


# Source: the same year. A whole airframe of every recipe, walked rule by rule, begun in spring and in autumn,
# and on both nights the clocks change.
@pytest.mark.parametrize(
    ("count", "begin"),
    [
        (300, "2026-04-07T09:00"),
        (600, "2026-04-07T09:00"),
        (300, "2026-09-14T13:20"),
        (300, "2026-03-28T16:00"),
        (300, "2026-10-24T16:00"),
    ],
)
def test_an_airframe_of_every_recipe_keeps_every_rule_on_real_nights(count, begin):
    start = minute_of(datetime.fromisoformat(begin).replace(tzinfo=VIENNA))
    two_years = YEAR.followed_by(Profile(YEAR.minutes + 365 * 1440, YEAR.celsius))
    asked = airframe(count, start, two_years, seed=count, overnight=True)
    plan = place(asked)
    assert broken(asked, plan.placed) == []
    assert {p.step.key for p in plan.placed if p.step.kind != "turn"} | {u.step.key for u in plan.unplaced} == {
        s.key for s in asked.steps
    }
    assert plan.finish >= plan.bound
    for left in plan.unplaced:
        assert any(
            w in left.why for w in ("does not reach “", "no working hours", "in time and can't", "can't be placed")
        )
    assert len(plan.unplaced) < count / 5
