"""Whatever is sent to a calculation, it answers with figures or with a reason; never with a trace."""

import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.api.hostile import ODD
from tests.api.test_contract import BY_VOLUME, CURE, EPOXY, GLASS, WING
from tests.api.test_contract_time import schedule, step, windows

GOOD = {
    "mix": {"system": BY_VOLUME, "total_g": 100},
    "mix-check": {"system": EPOXY, "resin_g": 100, "hardener_g": 30},
    "activation": {"points": [{"c": 20, "hours": 10}, {"c": 30, "hours": 5}]},
    "cure": {
        "system": {**CURE, "activation_energy_band_kj_mol": 5},
        "start": "2026-05-14T18:00",
        "temperature": [{"at": "2026-05-14T18:00", "c": 20}, {"at": "2026-05-15T06:00", "c": 8}],
        "temperature_band_c": 2,
    },
    "surface": {**WING, "tip_section": {"points": [[1, 0], [0.5, 0.08], [0, 0], [0.5, -0.05], [1, 0]]}},
    "laminate": {
        "plies": [{**GLASS, "angle_deg": 45}, {**GLASS, "angle_deg": 0}],
        "resin_density_g_cm3": 1.15,
        "core": {"after_ply": 1, "thickness_mm": 8, "density_kg_m3": 75, "resin_uptake_g_m2_per_side": 120},
    },
}
HOT = {**EPOXY, "pot_life": {"minutes": 45, "mass_g": 100, "temp_c": 23}, "activation_energy_kj_mol": 55}
BEND = {"at_m": 0, "chord_m": 1.2, "leading_edge_m": 0, "height_m": 0, "twist_deg": 0, "section": {"naca": "2412"}}
GOOD |= {
    "surface by stations": {
        "stations": [BEND, {**BEND, "at_m": 2, "height_m": 0.1, "twist_deg": -2}, {**BEND, "at_m": 4, "chord_m": 0}]
    },
    "outline": {"loops_mm": [[[0, 0], [100, 0], [100, 50], [0, 50]], [[10, 10], [20, 10], [20, 20]]]},
    "cups": {
        "system": HOT,
        "total_g": 900,
        "spread_g_min": 20,
        "temp_c": 21,
        "residue_g": 5,
        "life_share": 0.7,
        "peak_limit_c": 55,
        "scale_step_g": 0.5,
    },
    "exotherm": {
        "system": HOT,
        "mass_g": 200,
        "temp_c": 21,
        "heat_j_g": 400,
        "heat_capacity_j_gk": 1.9,
        "loss_w_m2k": 10,
        "area_cm2": 300,
    },
    "climate": {"temp_c": 18, "rh_pct": 70, "surface_c": 16, "min_c": 10, "max_rh_pct": 80},
    "windows": windows(humidity=[{"at": "2026-05-18T00:00", "rh_pct": 60}], max_c=30, max_rh_pct=80),
    "schedule": schedule(
        [
            step("lay", 100, 2, skills=["bag"], cure=CURE, wait={"stage": "peel"}, stations=["bench"], min_c=5),
            step("peel", 30, after=[{"step": "lay", "until": "gel"}], may_pause=True, not_before="2026-05-14T13:00"),
            step("stand", 30, 0, wait={"minutes": 40}, holds_station_through_wait=True, stations=["bench"]),
        ]
    ),
}
MAY_BE_LEFT_OUT = {"tip_section", "core", "temperature_band_c", "total_g", "surface_c", "min_c", "max_c", "max_rh_pct"}
MAY_BE_LEFT_OUT |= {
    "humidity",
    "stations",
    "seconds",
    "residue_g",
    "life_share",
    "peak_limit_c",
    "scale_step_g",
    "loops_mm",
}
MAY_BE_LEFT_OUT |= {"heat_j_g", "heat_capacity_j_gk", "loss_w_m2k", "area_cm2"}


def places(value, path=()):
    """Every place in a body where something else could stand."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield (*path, key)
            yield from places(inner, (*path, key))
    elif isinstance(value, list):
        for index, inner in enumerate(value):
            yield (*path, index)
            yield from places(inner, (*path, index))


def replaced(body, path, odd):
    copy = json.loads(json.dumps(body))
    inner = copy
    for key in path[:-1]:
        inner = inner[key]
    inner[path[-1]] = odd
    return copy


@pytest.mark.parametrize("name", GOOD)
@settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_one_odd_value_anywhere_is_used_or_refused_with_a_reason(empty_shop, name, data):
    path = data.draw(st.sampled_from(list(places(GOOD[name]))))
    body = replaced(GOOD[name], path, data.draw(ODD))
    answer = empty_shop.client.post(
        f"/api/v1/calc/{name.split()[0]}", data=json.dumps(body), content_type="application/json"
    )
    assert answer.status_code in (200, 422), answer.text
    if answer.status_code == 422:
        problem = json.loads(answer.text)
        assert problem["detail"]
        assert problem["status"] == 422
        assert all(error["sentence"] for error in problem["errors"])
    else:
        json.loads(answer.text, parse_constant=pytest.fail)  # no NaN, no Infinity: neither is JSON


@pytest.mark.parametrize("name", GOOD)
def test_a_missing_field_is_named(empty_shop, name):
    needed = [key for key in GOOD[name] if key not in MAY_BE_LEFT_OUT]
    for key in needed:
        body = {other: value for other, value in GOOD[name].items() if other != key}
        problem = empty_shop.ask("POST", f"/calc/{name.split()[0]}", body, status=422)
        assert f"{key} is missing" in problem["detail"]


@pytest.mark.parametrize("name", GOOD)
@pytest.mark.parametrize("body", ["null", "[]", '"text"', "7", "", "{", "\ufeff{}"])
def test_a_body_of_another_shape_is_refused(empty_shop, name, body):
    answer = empty_shop.client.post(f"/api/v1/calc/{name.split()[0]}", data=body, content_type="application/json")
    assert answer.status_code == 422
    assert answer.content_type == "application/problem+json"


@pytest.mark.parametrize("name", GOOD)
def test_fields_it_does_not_know_are_welcome(empty_shop, name):
    path = f"/calc/{name.split()[0]}"
    plain = empty_shop.ask("POST", path, GOOD[name])
    assert empty_shop.ask("POST", path, {**GOOD[name], "colour": "linen"}) == plain
