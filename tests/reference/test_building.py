"""The zone model against an independent solver over an open weather year's real days."""

from datetime import datetime, timedelta, timezone

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from tests.reference.test_cure import open_weather_year

from kiteloom.core.air.building import Day, ZoneModel, outside_curve
from kiteloom.core.air.learn import learnt
from kiteloom.core.air.profile import Profile
from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.problems import Refused

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


def days_of_the_year(first, count):
    """The lows and highs of days of the station, as somebody who only hears a forecast knows them."""
    start = float(YEAR.minutes[0]) + first * 1440
    found = []
    for n in range(count):
        hours = [YEAR.at(start + n * 1440 + 60 * hour) for hour in range(24)]
        found.append(Day(start + n * 1440, min(hours), max(hours)))
    return found


# Source: real weather (NREL TMY3, station 723170), the zone by scipy.integrate.solve_ivp, logged to 0.1 K.
@pytest.mark.parametrize(("lag", "gain"), [(4.0, 1.0), (12.0, 3.0), (60.0, 0.5)])
@pytest.mark.parametrize("first", [30, 200])
def test_a_building_is_learned_from_its_record_and_the_lows_and_highs_that_were_said(lag, gain, first):
    days = days_of_the_year(first, 10)
    start = days[0].midnight + 720
    at = np.arange(start, start + 9 * 1440, 10.0)
    solved = solve_ivp(
        lambda minute, inside: (np.interp(minute, YEAR.minutes, YEAR.celsius) + gain - inside) / (60 * lag),
        (start, float(at[-1])),
        [YEAR.at(start) + gain],
        t_eval=at,
        max_step=20,
    )
    found = learnt(Profile(at, np.round(solved.y[0], 1)), days, ZoneModel(25.0, 6.0), ())
    # Weather between its lows and highs is not a half cosine: it is the fit that counts, not the figure.
    assert found.off_k < 2.0
    assert found.off_k < 0.6 * found.was_off_k
    assert 0.4 * lag < found.model.lag_h < 2.2 * lag
    assert abs(found.model.gain_k - gain) < 1.6


def test_a_building_is_not_learned_from_too_little():
    days = days_of_the_year(30, 10)
    at = np.arange(days[0].midnight, days[0].midnight + 8 * 1440, 10.0)
    record = Profile(at, np.full(len(at), 20.0))
    with pytest.raises(Refused, match=r"nearly all the time"):
        learnt(record, days, ZoneModel(6, 0, 20.0), [(float(at[0]), float(at[-1]))])
    with pytest.raises(Refused, match=r"2\.\d days of both .* at least 4 are wanted"):
        learnt(record, days[:3], ZoneModel(6), ())


# Common practice: a heater that is strong enough brings a zone nearer to what it is held at, and never lets it dip.
@pytest.mark.parametrize("lag", [1.0, 2.0, 9.0])
@pytest.mark.parametrize("short", [0.3, 0.6, 4.0])
def test_a_heater_that_runs_lets_nothing_fall_that_it_holds(lag, short):
    air = ZoneModel(lag, 0.0, 45.0).follow(Profile.steady(7), 0, 45.0 - short, 600, [(-600, 2000)])
    seen = air.celsius[air.minutes <= 600]
    assert seen.min() >= 45.0 - short - 1e-6
    assert (np.diff(seen) >= -1e-6).all()
    assert seen[-1] == pytest.approx(45.0, abs=0.1)
