"""In a US shop, what the bench, the shelf and the cure watch say is in ounces and Fahrenheit."""

from __future__ import annotations

import re

import pytest
from tests.workshop.test_bench import FAST, SLOW, grams, keep, later, product


@pytest.fixture
def us(shop):
    scale = {"scale_unit": "oz", "scale_step": {"text": "0.04", "unit": "oz"}}
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us", "bench": scale})
    return shop


def test_cups_and_what_refuses_them_speak_ounces(us):
    body = {"sheet_id": product(us, FAST)["id"], "amount": {"text": "6 lb", "unit": "oz"}}
    body |= {"spread": {"text": "1.5", "unit": "oz"}}
    found = us.ask("POST", "/bench/cups", body)
    assert re.match(r"\d+ cups of \d+\.\d\d oz, one every ", found["sentence"])
    assert "°F" in found["sentence"]
    assert "°C" not in found["sentence"]
    coarse = us.ask("POST", "/bench/cups", {**body, "amount": {"text": "1", "unit": "oz"}})["coarse"]
    assert re.search(r"steps of 0\.04 oz can't weigh the smaller part of a 1\.18 oz cup", coarse)
    assert product(us, SLOW)["pot_life"] == "Pot life 45 min for 3.53 oz at 73 °F."


def test_other_ways_to_measure_a_cup_are_in_fluid_ounces(us):
    cup = us.ask("POST", "/bench/cup", {"sheet_id": product(us, SLOW)["id"], "amount": {"text": "9.03", "unit": "oz"}})
    assert cup["other_ways"] == ["By volume: 5.93 fl oz of resin, 1.97 fl oz of hardener."]


def test_a_top_up_and_what_is_still_to_go_are_in_ounces(us):
    sheet = product(us, FAST)["id"]
    short = us.ask(
        "POST", "/bench/pour", {"sheet_id": sheet, "resin": {"text": "10", "unit": "oz"}, "hardener": grams(56.7)}
    )
    assert short["to_go"] == "1.40 oz of Tarn 212 B fast to go."
    assert "Add 1.40 oz Tarn 212 B fast" in short["sentence"]


def test_open_cups_lots_and_batches_are_weighed_in_ounces_and_pounds(us, left_upper):
    kept = keep(us, left_upper, name=FAST, masses=(300, 102))
    assert us.get("/weather")["cups"][0]["words"].startswith("Cup A, 14.18 oz of Tarn 210 with 212 fast, for Left")
    assert kept["words"].startswith("14.18 oz of Tarn")
    rows = [p for g in us.get("/shelf")["groups"] for p in g["products"] if p["name"] == FAST]
    assert rows[0]["lots"][0]["words"] == "lot T-4502, 14.11 lb left"
    later(us, minutes=1)
    problem = keep(us, left_upper, name=FAST, masses=(300, 102), status=422, id="again")
    assert "for this step 1 min ago" in problem["detail"]


def test_a_sheet_is_typed_and_shown_in_us_units_and_stored_in_si(us):
    texts = {"areal_weight_g_m2": "5.8", "fibre": "glass", "roll_width_m": "50", "fibre_weight_fraction": "55"}
    us.ask("POST", "/shelf", {"id": "c", "kind": "cloth", "name": "Fen cloth", "texts": texts}, 201)
    shown = {f["key"]: f["text"] for f in us.get("/shelf/c")["fields"]}
    assert (shown["areal_weight_g_m2"], shown["roll_width_m"]) == ("5.8 oz/yd²", "50 in")
    us.ask("PATCH", "/shop", {"version": us.get("/shop")["version"], "units": "metric"})
    metric = {f["key"]: f["text"] for f in us.get("/shelf/c")["fields"]}
    assert (metric["areal_weight_g_m2"], metric["roll_width_m"]) == ("196.653 g/m²", "1.27 m")
    assert metric["fibre_weight_fraction"] == "55 %"


def test_questions_about_temperatures_are_asked_in_fahrenheit(us):
    texts = {"cure.min_c": "80", "cure.max_c": "60", "keep.min_c": "70 °F", "keep.max_c": "40 °F"}
    body = {
        "kind": "cement",
        "name": "Odd",
        "texts": texts,
        "temps": ["68"],
        "stages": [{"name": "handle", "hours": ["3"]}],
    }
    asked = [q["sentence"] for q in us.ask("POST", "/shelf/check", body)["questions"]]
    assert asked == [
        "It stands still below 80 °F and is not to be warmer than 60 °F?",
        "Its hours are given for 68 °F, where it is said to stand still (below 80 °F).",
        "Stored not below 70 °F and not above 40 °F?",
    ]


def test_a_post_cure_is_ramped_in_fahrenheit(us):
    left = us.part("Left wing, lower skin")
    leg = {
        "to": {"text": "140", "unit": "°F"},
        "ramp": {"text": "60", "unit": "Δ°F"},
        "hold": {"text": "8", "unit": "h"},
    }
    body = {"part_id": left, "step_key": "core/bed", "legs": [leg]}
    tried = us.ask("POST", "/cures/post-cure", body)
    assert re.search(r"Ramp at most \d+\.\d °F an hour", tried["against"][0])
    assert tried["against"][1].startswith("Faster than 54.0 °F an hour")
    assert tried["follows"][0].startswith("White upper surfaces in the sun come to 129 °F")
    assert "°C" not in str(tried["against"] + tried["follows"]) + tried["sentence"]


def test_a_part_and_a_straight_shot_are_read_in_fahrenheit(us):
    left = us.part("Left wing, lower skin")
    typed = {"id": "t", "temp": {"text": "79", "unit": "°F"}}
    assert us.ask("POST", f"/parts/{left}/temperature", typed, 201)["words"].endswith("itself 79 °F 09:20, typed.")
    assert us.get("/climate/shots")["least"] == "40 °F"
