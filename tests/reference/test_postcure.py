"""The glass transition while a part hardens: DiBenedetto's relation, and conversion against an independent solver."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from kiteloom.core.air.profile import Profile
from kiteloom.core.cure.glass import GlassTransition
from kiteloom.core.cure.post_cure import GEL, Leg, glass_at, harden, post_cure, programme
from kiteloom.core.cure.system import CureSystem, Stage, rate

EPOXY = CureSystem(55, 23, (Stage("gel", 4), Stage("full", 168)))
GLASS = GlassTransition(47, 25, 78)


# Source: DiBenedetto as given by Pascault and Williams (from memory), written the other way round:
# (Tg − Tg₀)/(Tg∞ − Tg₀) = λα/(1 − (1 − λ)α), so that 1/share − 1 = (1/α − 1)/λ. λ = 0.4 is common practice.
@pytest.mark.parametrize("conversion", [0.1, 0.5, 0.8, 0.95])
def test_the_glass_transition_follows_conversion_by_dibenedetto(conversion):
    share = (glass_at(conversion, GLASS) + 20) / (78 + 20)
    assert 1 / share - 1 == pytest.approx((1 / conversion - 1) / 0.4)


# Source: scipy.integrate.solve_ivp on dα/dt = k(T)(1 − α)², warm enough never to turn to glass.
def test_conversion_agrees_with_an_independent_solver_over_a_ramp():
    heat = programme(0, 25, [Leg(75, 15, 4)])
    k = GEL / (1 - GEL) / 4 / 60
    glass = GlassTransition(47, 80, 78)

    def slope(minute, state):
        return [k * rate(np.interp(minute, heat.minutes, heat.celsius), 55, 23) * (1 - state[0]) ** 2]

    end = float(heat.minutes[-1])
    independent = solve_ivp(slope, (0, end), [0.0], rtol=1e-9, atol=1e-10, max_step=5).y[0][-1]
    assert harden(EPOXY, glass, 0, heat, end).glass_then(end) == pytest.approx(glass_at(independent, glass), abs=0.15)


# Source: vitrification (Aronhime and Gillham; from memory): cured at one temperature for ever, the glass
# transition stops a few tens of kelvins above it; "a few tens" is the sheet's own figure here.
@pytest.mark.parametrize("celsius", [12, 18, 24])
def test_cured_at_one_temperature_it_stops_the_sheets_climb_above_it(celsius):
    long = harden(EPOXY, GLASS, 0, Profile.steady(celsius), 60 * 1440)
    assert long.glass_then(60 * 1440) == pytest.approx(celsius + 25, abs=0.5)


def test_a_slower_ramp_is_never_softer_and_hotter_is_never_worse():
    def tried(ramp, to=65):
        return post_cure(EPOXY, GLASS, 0, Profile.steady(20), 3 * 1440, [Leg(to, ramp, 8)])

    fast = tried(40)
    assert fast.soft_at is not None
    assert tried(fast.ramp_k_h).near_at is None
    assert tried(fast.ramp_k_h + 1).near_at is not None
    assert tried(4, 70).after_c >= tried(4, 55).after_c > tried(4, 55).before_c
