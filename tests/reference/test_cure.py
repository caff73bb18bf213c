"""The cure integral against ASTM C1074's equation, an independent integrator and real nights."""

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from kiteloom.core.air.profile import Profile
from kiteloom.core.cure.progress import cure_times, follow
from kiteloom.core.cure.system import GAS_J_MOL_K, KELVIN, CureSystem, Stage, fit_activation, rate

HOUR = 60.0


# Source: ASTM C1074, equivalent-age factor with Q = 5000 K and T_s = 20 °C; figures computed from the equation.
@pytest.mark.parametrize(("celsius", "factor"), [(10, 0.5475), (20, 1.0), (30, 1.7553)])
def test_the_maturity_factor(celsius, factor):
    assert rate(celsius, 5000 * GAS_J_MOL_K / 1000, 20) == pytest.approx(factor, abs=5e-5)


# Source: Arrhenius, computed; "about doubles for each 10 °C" is common practice (P9).
def test_doubling_from_20_to_30_degrees_is_51_kilojoules():
    fitted = fit_activation([(20, 12), (30, 6)])
    assert fitted.activation_energy_kj_mol == pytest.approx(51.2, abs=0.05)
    assert fitted.q10_20_30 == pytest.approx(2)


# Source: common practice (P8): a "one-hour" epoxy at 29 °C. Rate alone explains 37 minutes, not the ten seen.
def test_rate_alone_makes_a_one_hour_epoxy_last_37_minutes_at_29_degrees():
    system = CureSystem(51.2, 22, (Stage("working", 1),))
    assert cure_times(system, 0, Profile.steady(29)).stages[0].minutes == pytest.approx(37, abs=0.5)


def open_weather_year(column="temp_air"):
    """Hourly dry bulb of station 723170, or its humidity (NREL TMY3 file inside pvlib), on the program's clock."""
    path = Path(pvlib.__file__).parent / "data" / "723170TYA.CSV"
    table, _ = pvlib.iotools.read_tmy3(path, coerce_year=2026, map_variables=True)
    minutes = np.array([moment.timestamp() / 60 for moment in table.index])
    values = table[column].to_numpy(dtype=float)
    order = np.argsort(minutes)
    return Profile(minutes[order], values[order])


# Source: scipy.integrate.solve_ivp on the same history, event by event, over the open hourly weather year.
@pytest.mark.parametrize("day", ["2026-01-20", "2026-04-07", "2026-07-15", "2026-10-25"])
@pytest.mark.parametrize("least", [None, 12.0])
def test_the_cure_integral_agrees_with_an_independent_solver_on_real_nights(day, least):
    year = open_weather_year()
    start = datetime.fromisoformat(f"{day}T16:00").replace(tzinfo=UTC).timestamp() / 60
    system = CureSystem(55, 23, (Stage("peel", 10), Stage("sand", 18)), min_c=least)

    def equivalent_hours_per_hour(hour, _):
        celsius = np.interp(start + hour * HOUR, year.minutes, year.celsius)
        if least is not None and celsius < least:
            return [0.0]
        inverse = 1 / (celsius + KELVIN) - 1 / (23 + KELVIN)
        return [np.exp(-55_000 / GAS_J_MOL_K * inverse)]

    span = (0.0, 14 * 24.0)
    solved = solve_ivp(equivalent_hours_per_hour, span, [0.0], max_step=0.1, rtol=1e-8, dense_output=True)
    hours = np.linspace(*span, 200_000)
    history = solved.sol(hours)[0]
    ours = cure_times(system, start, year).stages
    for stage, wanted in zip(ours, (10, 18), strict=True):
        reached = hours[np.searchsorted(history, wanted)] if history[-1] > wanted else None
        if reached is None:
            assert stage.minutes is None or stage.minutes > span[1] * HOUR
        else:
            assert stage.minutes / HOUR == pytest.approx(reached, abs=0.01)


# Source: Comyn 1998 (from memory): a depth is cured when the vapour let in by its pressure adds up; at one temperature
# that is the humidity. Here by scipy.integrate.solve_ivp, over the open hourly weather year in a shop at 20 °C.
@pytest.mark.parametrize("day", ["2026-01-20", "2026-07-15"])
def test_what_takes_its_moisture_from_the_air_goes_by_its_humidity(day):
    year = open_weather_year("relative_humidity")
    start = datetime.fromisoformat(f"{day}T16:00").replace(tzinfo=UTC).timestamp() / 60
    sealant = CureSystem(0, 20, (Stage("full", 72),), table=((10, 0.5), (20, 1.0)), reference_rh_pct=50)
    solved = solve_ivp(
        lambda hour, _: [np.interp(start + hour * HOUR, year.minutes, year.celsius) / 50],
        (0.0, 240.0), [0.0], max_step=0.1, rtol=1e-8, dense_output=True,
    )  # fmt: skip
    hours = np.linspace(0, 240, 100_000)
    reached = hours[np.searchsorted(solved.sol(hours)[0], 72)]
    found = follow(sealant, start, Profile.steady(20), humidity=year)
    assert found.reaches(72) / HOUR == pytest.approx(reached, abs=0.01)
    assert found.at(reached * HOUR) == pytest.approx(72, abs=0.01)
    # Where nothing is known of the air its sheet's hours count, and what reacts heeds no humidity at all.
    assert follow(sealant, start, Profile.steady(20)).reaches(72) == pytest.approx(72 * HOUR)
    reacts = CureSystem(55, 20, (Stage("full", 72),))
    assert follow(reacts, start, Profile.steady(20), humidity=year).reaches(72) == pytest.approx(72 * HOUR)


# Source: a limit that needs none: at one temperature a stage takes its hours ÷ k(T), to the second.
@pytest.mark.parametrize("celsius", [5.0, 17.3, 23.0, 35.0])
def test_at_a_constant_temperature_a_stage_takes_its_hours_over_the_rate(celsius):
    system = CureSystem(55, 23, (Stage("peel", 10),))
    expected = 10 / rate(celsius, 55, 23) * 3600
    assert cure_times(system, 0, Profile.steady(celsius)).stages[0].minutes * 60 == pytest.approx(expected, abs=0.5)


# Source: a limit that needs none: stalled and moving hours make up the whole.
def test_hours_stalled_and_hours_moving_make_up_the_time_passed():
    profile = Profile.of([(0, 14), (180, 4), (720, 4), (900, 14)])
    progress = follow(CureSystem(55, 23, (Stage("peel", 1),), min_c=10), 0, profile, horizon_min=1200)
    # 14 → 4 °C in 180 min crosses 10 °C at 72 min; 4 → 14 °C in 180 min at 720 + 108 min.
    assert progress.stalled_by(1200) == pytest.approx((828 - 72) / 60)
    assert progress.at(72) == pytest.approx(progress.at(828))


histories = st.lists(st.floats(-5, 40), min_size=2, max_size=30).map(
    lambda degrees: Profile.of([(120.0 * n, celsius) for n, celsius in enumerate(degrees)])
)
systems = st.builds(
    lambda energy, hours, least: CureSystem(energy, 23, (Stage("gel", hours / 3), Stage("peel", hours)), least),
    st.floats(20, 110),
    st.floats(0.5, 60),
    st.one_of(st.none(), st.floats(0, 18)),
)


# Source: limits that need none: warmer is never later, starting later is never sooner, a stage that
# asks for more comes later, and a history cut in two adds up.
@settings(max_examples=100, deadline=None)
@given(profile=histories, system=systems, warmer=st.floats(0.1, 10), later=st.floats(1, 600))
def test_warmer_is_sooner_and_later_is_later(profile, system, warmer, later):
    gel, peel = cure_times(system, 0, profile).stages
    if peel.minutes is None:
        return
    assert gel.minutes < peel.minutes
    hot = cure_times(system, 0, profile.shifted(warmer)).stages[1].minutes
    assert hot is not None
    assert hot <= peel.minutes + 1e-3
    after = cure_times(system, later, profile).stages[1].minutes
    assert after is None or later + after >= peel.minutes - 1e-3


@settings(max_examples=60, deadline=None)
@given(profile=histories, system=systems, cut=st.floats(1, 3000))
def test_a_history_cut_in_two_adds_up(profile, system, cut):
    whole = follow(system, 0, profile, horizon_min=4000)
    first, second = follow(system, 0, profile, horizon_min=cut), follow(system, cut, profile, horizon_min=4000 - cut)
    assert first.equivalent_h[-1] + second.equivalent_h[-1] == pytest.approx(whole.equivalent_h[-1], rel=1e-7)
    assert first.stalled_h[-1] + second.stalled_h[-1] == pytest.approx(whole.stalled_h[-1], abs=1e-6)


@settings(max_examples=60, deadline=None)
@given(profile=histories, system=systems, band_c=st.floats(0, 5), band_ea=st.floats(0, 10))
def test_the_expected_hour_lies_between_early_and_late(profile, system, band_c, band_ea):
    wide = replace(system, activation_energy_band_kj_mol=band_ea)
    for stage in cure_times(wide, 0, profile, band_c).stages:
        if stage.minutes is not None:
            assert stage.early <= stage.minutes + 1e-6
        if stage.late is not None:
            assert stage.late >= stage.minutes - 1e-6


# Source: least squares on ln t against 1/T done by numpy.polyfit.
@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(range(5, 70, 10)), st.floats(0.1, 200)),
        min_size=2,
        max_size=6,
        unique_by=lambda p: p[0],
    )
)
def test_the_fitted_energy_is_that_of_an_independent_fit(points):
    inverse = np.array([1 / (celsius + KELVIN) for celsius, _ in points])
    slope = np.polyfit(inverse, np.log([hours for _, hours in points]), 1)[0]
    assert fit_activation(points).activation_energy_kj_mol == pytest.approx(
        slope * GAS_J_MOL_K / 1000, rel=1e-6, abs=1e-6
    )
