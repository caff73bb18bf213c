"""The zone model against an independent solver over an open weather year's real days."""

from datetime import datetime, timedelta, timezone

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from tests.reference.test_cure import open_weather_year

from kiteloom.core.air.building import Day, ZoneModel, outside_curve
from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import minute_of

YEAR = open_weather_year()


# Source: scipy.integrate.solve_ivp on dT/dt = (T_outside + gain − T)/lag, driven by station 723170 (NREL TMY3, pvlib).
@pytest.mark.parametrize("lag", [3.0, 9.0, 40.0])
@pytest.mark.parametrize("day", [20, 110, 200, 290])
def test_a_zone_follows_real_weather_as_an_independent_solver_says(lag, day):
    start = float(YEAR.minutes[0]) + day * 1440
    air = ZoneModel(lag, 2.0).follow(YEAR, start, 12.0, start + 5 * 1440)
    solved = solve_ivp(
        lambda minute, inside: (np.interp(minute, YEAR.minutes, YEAR.celsius) + 2.0 - inside) / (60 * lag),
        (start, start + 5 * 1440),
        [12.0],
        t_eval=air.minutes[air.minutes <= start + 5 * 1440],
        max_step=20,
        rtol=1e-7,
    )
    assert np.abs(solved.y[0] - air.celsius[: len(solved.t)]).max() < 0.35


# Source: scipy.integrate.solve_ivp on the same equation, from the hour a heater that held 20 °C goes off.
@pytest.mark.parametrize("lag", [0.5, 2.0, 6.0, 24.0])
def test_what_a_heater_left_goes_as_an_independent_solver_says(lag):
    outside = Profile.of([(0, 5), (1440, 5), (2880, 9)])
    air = ZoneModel(lag, 0.0, 20.0).follow(outside, 0, 20.0, 2880, [(0, 1080)])
    solved = solve_ivp(
        lambda minute, inside: (np.interp(minute, outside.minutes, outside.celsius) - inside) / (60 * lag),
        (1080, 2400),
        [20.0],
        t_eval=[1200, 1440, 1800, 2400],
        max_step=10,
        rtol=1e-8,
    )
    assert air.at(1080) == pytest.approx(20, abs=0.05)  # held all day
    assert [air.at(minute) for minute in solved.t] == pytest.approx(solved.y[0], abs=0.1)


# Source: the same year's own hours: a low and a high joined by half cosines against what was measured between them.
def test_half_cosines_between_a_days_low_and_high_are_near_the_measured_hours():
    off = []
    for day in range(5, 355):
        midnight = minute_of(datetime(2026, 1, 1, tzinfo=timezone(timedelta(hours=-5)))) + day * 1440
        hours = YEAR.between(midnight, midnight + 1440)
        lows = [c for m, c in hours if m < midnight + 9 * 60]
        highs = [c for m, c in hours if midnight + 9 * 60 <= m]
        if min(lows) > max(highs):
            continue  # a front came through: no such day
        curve = outside_curve([Day(midnight, min(lows), max(highs))])
        off += [abs(curve.at(m) - c) for m, c in hours if midnight + 360 <= m <= midnight + 900]
    assert np.mean(off) < 2.0
    assert len(off) > 2500
