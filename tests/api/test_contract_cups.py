"""The two calculations of a cup, over whatever systems and rooms may be sent."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

QUIET = {"deadline": None, "suppress_health_check": [HealthCheck.function_scoped_fixture]}
SYSTEMS = st.builds(
    lambda hardener, minutes, mass, celsius, energy: {
        "ratio": {"resin": 100, "hardener": hardener, "basis": "weight"},
        "resin_density_g_ml": 1.14,
        "hardener_density_g_ml": 0.97,
        "tolerance_pct": 5,
        "pot_life": {"minutes": minutes, "mass_g": mass, "temp_c": celsius},
        "activation_energy_kj_mol": energy,
    },
    st.floats(10, 100),
    st.floats(8, 240),
    st.floats(20, 500),
    st.floats(15, 30),
    st.floats(30, 80),
)


@settings(max_examples=40, **QUIET)
@given(
    system=SYSTEMS, total=st.floats(20, 6000), spread=st.floats(10, 80), room=st.floats(5, 32), residue=st.floats(0, 8)
)
def test_what_is_asked_comes_out_of_cups_that_are_in_ratio_in_time_and_cool(
    empty_shop, system, total, spread, room, residue
):
    body = {"system": system, "total_g": total, "spread_g_min": spread, "temp_c": room, "residue_g": residue}
    found = empty_shop.ask("POST", "/calc/cups", body, status=None)
    if "detail" in found:
        assert "spread faster" in found["detail"] or "cups of" in found["detail"]
        return
    cups = found["cups"]
    k = system["ratio"]["hardener"] / 100
    assert sum(cup["total_g"] - residue for cup in cups) >= total - 1e-6
    for cup in cups:
        assert cup["resin_g"] + cup["hardener_g"] == pytest.approx(cup["total_g"])
        assert cup["hardener_g"] == pytest.approx(k * cup["resin_g"])
        assert cup["total_g"] / spread <= 0.75 * (cup["use_by_min"] - cup["mix_at_min"]) * 1.001
        assert room - 1e-6 <= cup["peak_c"] <= 60.1
        assert cup["total_g"] <= found["largest_g"] * 1.001
        alone = {"system": system, "mass_g": cup["total_g"], "temp_c": room}
    working = empty_shop.ask("POST", "/calc/exotherm", alone)["working_min"]
    assert cups[-1]["use_by_min"] - cups[-1]["mix_at_min"] == pytest.approx(working, rel=1e-4)


@settings(max_examples=40, **QUIET)
@given(system=SYSTEMS, mass=st.floats(5, 3000), room=st.floats(5, 35), heat=st.floats(50, 600))
def test_a_curve_rises_in_time_and_conversion_and_keeps_to_what_heat_there_is(empty_shop, system, mass, room, heat):
    body = {"system": system, "mass_g": mass, "temp_c": room, "heat_j_g": heat, "heat_capacity_j_gk": 1.8}
    cup = empty_shop.ask("POST", "/calc/exotherm", body)
    for key in ("min", "conversion"):
        values = [row[key] for row in cup["curve"]]
        assert values == sorted(values)
    assert cup["curve"][0] == {"min": 0, "c": pytest.approx(room), "conversion": 0}
    assert max(row["c"] for row in cup["curve"]) == pytest.approx(cup["peak_c"])
    assert room - 1e-3 <= cup["peak_c"] <= room + heat / 1.8 + 1e-3
    bare = empty_shop.ask("POST", "/calc/exotherm", {**body, "loss_w_m2k": 0})
    assert bare["peak_c"] >= cup["peak_c"] - 1e-3
    assert bare["working_min"] <= cup["working_min"] + 1e-6
    half = empty_shop.ask("POST", "/calc/exotherm", {**body, "loss_w_m2k": 0, "area_cm2": 5})
    assert half["working_min"] == pytest.approx(bare["working_min"])  # no loss through any area
