"""What sheets are turned into, against independent fits and published values."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp
from scipy.stats import linregress

from kiteloom.core.air.part import PART_LAG_MIN, as_read
from kiteloom.core.air.profile import Profile, day_curve
from kiteloom.core.cure.progress import cure_times
from kiteloom.core.cure.system import GAS_J_MOL_K, KELVIN, relative_rates
from kiteloom.core.mix.exotherm import WORKABLE, HotMix, PotLife, cup_area_cm2, fitted, working_life
from kiteloom.core.mix.filled import Powder, filled
from kiteloom.core.stores.reading import mix_system
from kiteloom.core.stores.sheets import cure_from, fitted_energy

HOURS = st.floats(0.2, 100)


# Source: scipy.stats.linregress on ln t against 1/T; with one stage the common fit is the plain one.
@given(st.lists(st.tuples(st.floats(5, 45), HOURS), min_size=2, max_size=5, unique_by=lambda p: round(p[0])))
def test_one_stages_energy_is_the_plain_regression(points):
    (reference, hours), *others = points
    rows = [{"name": "gel", "hours": hours, "also": [{"c": c, "hours": h} for c, h in others]}]
    fit = linregress([1 / (c + KELVIN) for c, _ in points], np.log([h for _, h in points]))
    assert fitted_energy(reference, rows) == pytest.approx(fit.slope * GAS_J_MOL_K / 1000, rel=1e-6, abs=1e-6)


# Source: numpy.linalg.lstsq with one slope and an offset for each stage.
@given(st.lists(st.tuples(HOURS, HOURS, HOURS), min_size=1, max_size=4))
def test_several_stages_share_one_slope(stages):
    temps = (23.0, 15.0, 35.0)
    rows = [
        {
            "name": str(i),
            "hours": hours[0],
            "also": [{"c": c, "hours": h} for c, h in zip(temps[1:], hours[1:], strict=True)],
        }
        for i, hours in enumerate(stages)
    ]
    design = np.zeros((3 * len(stages), 1 + len(stages)))
    logs = np.zeros(3 * len(stages))
    for i, hours in enumerate(stages):
        for j, (celsius, value) in enumerate(zip(temps, hours, strict=True)):
            design[3 * i + j, 0] = 1 / (celsius + KELVIN)
            design[3 * i + j, 1 + i] = 1
            logs[3 * i + j] = np.log(value)
    slope = np.linalg.lstsq(design, logs, rcond=None)[0][0]
    assert fitted_energy(23, rows) == pytest.approx(slope * GAS_J_MOL_K / 1000, rel=1e-6, abs=1e-6)


# Source: Lee & Neville, Handbook of Epoxy Resins (from memory): on EEW 190, DETA 20.6 → 10.8, TETA 24.4 → 12.8.
@pytest.mark.parametrize(("amine", "parts"), [(20.6, 10.8), (24.4, 12.8)])
def test_equivalent_weights_on_a_sheet_give_the_handbooks_parts(amine, parts):
    mix = mix_system({"equivalents": {"epoxide": 190, "amine": amine}})
    assert 100 * mix.by_weight == pytest.approx(parts, abs=0.05)


# Source: scipy.integrate.quad over the table's own speed, its logarithm linear between its temperatures and beyond.
@settings(max_examples=40, deadline=None)
@given(low=st.floats(2, 14), swing=st.floats(1, 18), hours=st.floats(1, 30))
def test_drying_by_the_table_agrees_with_an_independent_integral(low, swing, hours):
    stages = [{"name": "dry", "hours": hours, "also": [{"c": 10, "hours": 2.2 * hours}, {"c": 30, "hours": hours / 2}]}]
    cure = cure_from({"chemistry": "drying", "cure": {"reference_c": 20, "stages": stages}})
    air = day_curve(low, low + swing, 0, 60)
    minutes = cure_times(cure, 300, air).stages[0].minutes

    def speed(minute):
        slope = np.log(2.2) / 10 if air.at(minute) < 20 else np.log(2) / 10
        return np.exp(slope * (air.at(minute) - 20)) / 60

    whole = np.arange(300, 300 + minutes, 30)
    had = sum(quad(speed, a, b, limit=200)[0] for a, b in zip(whole, [*whole[1:], 300 + minutes], strict=True))
    assert had == pytest.approx(hours, rel=2e-3)


def test_a_tables_own_hours_come_back_at_its_own_temperatures():
    table = relative_rates(20, [(3, [(10, 6), (30, 1.6)])])
    assert [3 / rate for _, rate in table] == pytest.approx([6, 3, 1.6])


# Source: scipy.integrate.solve_ivp on the heat balance of a cup in a room that warms, in time.
@pytest.mark.parametrize(("mass", "slope"), [(80, 0.05), (300, 0.1), (300, -0.05)])
def test_a_cup_in_a_room_that_changes_agrees_with_an_independent_solver(mass, slope):
    mix = HotMix(PotLife(40, 100, 23), 55)
    k, loss = fitted(mix), 12 * cup_area_cm2(mass) * 1e-4 * 60

    def room(minute):
        return 18 + slope * min(minute, 240)

    def slopes(minute, state):
        celsius, alpha = state
        speed = k * np.exp(-55_000 / GAS_J_MOL_K * (1 / (celsius + KELVIN) - 1 / (23 + KELVIN)))
        reacts = speed * (1 - alpha) ** 2
        return [(450 * reacts - loss / mass * (celsius - room(minute))) / 1.8, reacts]

    def thick(_, state):
        return state[1] - WORKABLE

    thick.terminal = True
    found = solve_ivp(slopes, (0, 5000), [room(0), 0], method="Radau", events=thick, rtol=1e-8, atol=1e-8, max_step=5)
    assert working_life(mix, mass, room) == pytest.approx(found.t_events[0][0], rel=1e-3)


# Source: a body of one heat capacity, dT/dt = (T_air − T)/τ: the difference from a steady air decays so.
def test_after_a_reading_a_part_comes_to_its_air_as_one_body_would():
    part = as_read(Profile.of([(0, 18), (5000, 18)]), [(1000, 27)])
    body = solve_ivp(lambda _, t: (18 - t) / PART_LAG_MIN, (1000, 1600), [27.0], t_eval=[1000, 1090, 1300, 1600])
    for minute, celsius in zip(body.t, body.y[0], strict=True):
        assert part.at(minute) == pytest.approx(celsius, abs=0.15)


# Source: rule of mixtures, computed: weights over their own densities are the volume that was asked.
@given(st.floats(1, 5000), st.floats(0.15, 3), st.floats(1, 60), st.floats(0.9, 1.4))
def test_a_filled_mix_fills_what_was_asked_by_the_rule_of_mixtures(volume, density, parts, wet):
    mix = filled(Powder("p", "fillet", density, {"x": parts}), "x", volume, wet)
    assert mix.mix_g / wet + mix.filler_g / density == pytest.approx(volume)
    assert mix.filler_g / mix.mix_g == pytest.approx(parts / 100)
    assert min(density, wet) - 1e-9 <= mix.density_g_ml <= max(density, wet) + 1e-9
