"""A tank from its rinses to its leak test: what is read, what is missing, what a leak holds."""

from __future__ import annotations

import pytest


def read(shop, part, key, gauge, own, outside="", begins=False, status=201):
    body = {"id": key, "gauge": {"text": gauge, "unit": "kPa"}, "temperature": {"text": own, "unit": "°C"},
            "barometer": {"text": outside, "unit": "mbar"}, "begins": begins}  # fmt: skip
    return shop.ask("POST", f"/parts/{part}/tank", body, status)


def test_the_demo_rinsed_sealed_and_pumped_up_its_tank_and_a_cold_night_is_no_leak(whole):
    tank = whole.part("Fuel tank")
    steps = whole.get(f"/parts/{tank}/times")["steps"]
    assert [step["state"] for step in steps[:5]] == ["done"] * 5
    said = whole.get(f"/parts/{tank}/tank")
    assert said["verdict"] == "tight"
    # By hand: (7.00 + 101.6) × (273.15 + 16.5) ÷ (273.15 + 19.5) − 101.2.
    assert said["readings"][-1]["expected_kpa"] == pytest.approx(108.6 * 289.65 / 292.65 - 101.2, abs=1e-9)
    assert said["readings"][-1]["missing"] == "0.11 kPa"


def test_a_leak_is_said_on_today_and_holds_what_comes_after_until_it_is_pumped_up_anew(whole):
    tank = whole.part("Fuel tank")
    whole.ask("POST", f"/parts/{tank}/jobs", {"id": "paint", "recipe": "prime", "products": {}}, 201)
    read(whole, tank, "drop", "5.1", "16.5", "1012")
    said = whole.get(f"/parts/{tank}/tank")
    assert said["verdict"] == "leaks"
    assert "of air a minute" in said["says"][-1]
    assert any(one["tab"] == "leak" and "Fuel tank" in one["words"] for one in whole.get("/today")["decide"])
    # Pressed twice it is kept once; pumped up anew the old readings are behind it.
    for _ in range(2):
        read(whole, tank, "anew", "7", "17", "1012", begins=True)
    said = whole.get(f"/parts/{tank}/tank")
    assert (said["verdict"], len(said["readings"])) == ("reading", 1)
    assert not any(one["tab"] == "leak" for one in whole.get("/today")["decide"])


@pytest.mark.parametrize(
    ("gauge", "own", "outside", "words"),
    [
        ("250", "17", "1012", "the gauge is 250 kPa; it can't be above 200 kPa"),
        ("7", "95", "1012", "the tank's air is 95 °C; it can't be above 80 °C"),
        ("7", "17", "10.1", "the barometer is 1.01 kPa; it can't be below 50 kPa"),
        ("", "17", "", "gauge"),
    ],
)
def test_a_reading_that_no_tank_has_is_refused_with_its_limit(whole, gauge, own, outside, words):
    refused = read(whole, whole.part("Fuel tank"), "odd", gauge, own, outside, status=422)
    assert words in str(refused)


def test_masking_tape_over_the_openings_is_asked_about_and_only_tanks_are_tried(whole):
    order = {"recipe": "tank", "given": {"plugs": "masking tape"}, "products": {}}
    look = whole.ask("POST", f"/parts/{whole.part('Fuel tank')}/jobs/look", order)
    assert "solvent dissolves its glue" in look["asks"][0]
    refused = read(whole, whole.part("Rudder"), "no", "7", "17", status=422)
    assert "is no tank" in str(refused)
