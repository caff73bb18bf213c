"""Post-cures tried, kept and called off; straight shots in the coming week."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from kiteloom.core.base.quantities import parse

BED = "core/bed"


@pytest.fixture
def left(shop):
    return shop.part("Left wing, lower skin")


def legs(*rows):
    names = {"to": "°C", "ramp": "K", "hold": "h"}
    return [{key: {"text": text, "unit": names[key]} for key, text in zip(names, row, strict=True)} for row in rows]


def order(part, *rows, **more):
    return {"part_id": part, "step_key": BED, "legs": legs(*rows), **more}


def card(shop, part):
    return next(c for c in shop.get("/cures")["cards"] if (c["part_id"], c["step_key"]) == (part, BED))


def full(found):
    return next(k for k in found["knots"] if k["name"] == "full")


def test_a_gentle_post_cure_brings_full_into_reach_and_meets_its_service_temperature(shop, left):
    assert full(card(shop, left))["at"] is None
    body = order(left, ("40 °C", "5", "6 h"), ("60 °C", "3", "8 h"), start="2026-05-15T09:00", heat_from="tent")
    tried = shop.ask("POST", "/cures/post-cure", body)
    assert tried["against"] == []
    ends = datetime.fromisoformat("2026-05-16T11:00+02:00")
    assert datetime.fromisoformat(full(tried["card"])["at"]) < ends
    # Short and warm: the hours of the sheet are not had yet, and its glass transition is past that of full.
    short = shop.ask("POST", "/cures/post-cure", {**body, "legs": legs(("55 °C", "4", "6 h"))})["card"]
    assert full(short)["words"].endswith(", by its post-cure")
    assert full(short)["figure"] is None
    at = [(datetime.fromisoformat(point["at"]), point["c"]) for point in tried["card"]["ribbon"]]
    hot = max(i for i, (_, c) in enumerate(at) if c > 59)
    assert at[hot + 1][0] - at[hot][0] > timedelta(hours=2)  # it cools at its rate, it does not drop
    here = shop.ask("POST", "/cures/post-cure", {**body, "heat_from": ""})["against"]
    assert here == ["The main shop is held at 17.0 °C; the hottest hold is 60.0 °C. Say where that heat comes from."]
    cupboard = shop.ask("POST", "/cures/post-cure", {**body, "heat_from": "warm cupboard"})["against"]
    assert "7.200 m long, and the warm cupboard takes parts up to 1.200 m" in cupboard[0]
    assert tried["follows"][0].startswith("White upper surfaces in the sun come to 54.0 °C; after this its glass")
    assert max(point["c"] for point in tried["card"]["ribbon"]) == pytest.approx(60, abs=0.5)
    hotter = shop.ask("POST", "/cures/post-cure", {**body, "service": {"text": "80", "unit": "°C"}})
    assert hotter["follows"][0].startswith("In service it comes to 80.0 °C, more than the ")
    assert full(card(shop, left))["at"] is None  # nothing was kept


def test_a_ramp_faster_than_the_glass_transition_climbs_is_spoken_against_with_the_one_that_holds(shop, left):
    tonight = {"start": "2026-05-14T20:00", "heat_from": "tent"}
    steep = shop.ask("POST", "/cures/post-cure", order(left, ("60 °C", "40", "8 h"), **tonight))
    soft, fast = steep["against"]
    assert "within 10.0 °C of its glass transition of " in soft
    assert "soft, it sags" in soft
    assert "the margin is assumed" in soft
    assert "skin and core are not equally warm" in fast
    ramp = soft.split("at most ")[1].split(" °C")[0]
    gentle = order(left, ("60 °C", ramp, "8 h"), **tonight)
    assert shop.ask("POST", "/cures/post-cure", gentle)["against"] == []
    at_once = shop.ask("POST", "/cures/post-cure", order(left, ("90 °C", "2", "8 h"), start="2026-05-16T09:00"))
    assert "Bulrush 60, 6 mm foam softens at 80.0 °C; the hottest hold is 90.0 °C." in at_once["against"]


def test_a_kept_post_cure_is_the_parts_temperature_until_it_is_called_off(shop, left):
    before = card(shop, left)
    body = {**order(left, ("45 °C", "6", "10 h")), "id": "heat"}
    for _ in range(2):
        shop.ask("POST", "/post-cures", body, 201)
    heated = card(shop, left)
    assert heated["place"]["heating"] == "Post-cure 09:20: 45.0 °C for 10 h."
    assert max(point["c"] for point in heated["ribbon"]) > 30
    assert full(heated)["at"] is not None
    shop.ask("POST", "/post-cures/heat/off", {"id": "off"}, 201)
    assert card(shop, left) == before
    assert "called off already" in shop.refused("POST", "/post-cures/heat/off", {"id": "again"})["detail"]


@pytest.mark.parametrize(
    ("more", "named"),
    [
        ({"legs": []}, "0 holds; at least 1"),
        ({"legs": legs(("200 °C", "5", "1 h"))}, "the temperature of a hold is 200 °C; it can't be above 150 °C"),
        ({"legs": legs(("50 °C", "0", "1 h"))}, "the ramp is 0 K/h; it can't be below 0.5 K/h"),
        ({"legs": legs(("50 °C", "5", "long"))}, "“long” isn't understood"),
        ({"start": "2026-05-01T09:00"}, "it would begin before the mix"),
        ({"step_key": "trim"}, "has no cure in the plan"),
    ],
)
def test_a_post_cure_that_cannot_be_is_refused(shop, left, more, named):
    good = order(left, ("45 °C", "6", "10 h"))
    assert named in shop.refused("POST", "/cures/post-cure", {**good, **more})["detail"]


def shot(shop, **more):
    usual = shop.get("/climate/shots")
    parts = [{**part, "minutes": {"text": part["minutes"], "unit": "min"}} for part in usual["parts"]]
    nothing = {"text": "", "unit": "°C"}
    body = {"parts": parts, "least": {"text": usual["least"], "unit": "°C"}, "most": nothing}
    return {**body, "most_rh": {"text": "", "unit": "%"}, **more}


def test_the_windows_of_a_straight_shot_lie_in_hours_and_above_its_limit(shop):
    body = shot(shop, least={"text": "15.8", "unit": "°C"}, most_rh={"text": "95", "unit": "%"})
    found = shop.ask("POST", "/climate/shots", body)
    assert found["sentence"].startswith("4 h 35 min without a break: Begin ")
    air = {row["at"]: row["c"] for row in shop.get("/climate/zones")["zones"][0]["ribbon"]}
    for one in found["shots"]:
        start, latest, end = (datetime.fromisoformat(one[key]) for key in ("start", "latest_start", "end"))
        assert start <= latest
        assert end - latest == timedelta(minutes=275)
        assert (start.hour, end.hour <= 18) >= (9, True)
        assert all(c >= 15.7 for at, c in air.items() if start <= datetime.fromisoformat(at) <= end)


def test_where_none_fits_what_stands_in_its_way_is_named(shop):
    cold = shop.ask("POST", "/climate/shots", shot(shop, least={"text": "30 °C", "unit": "°C"}))
    assert cold["shots"] == []
    assert cold["sentence"].endswith("it is colder than 30.0 °C too often.")
    long = [{"name": "Iron", "minutes": {"text": "12 h", "unit": "min"}, "hands_on": True}]
    night = shop.ask("POST", "/climate/shots", shot(shop, parts=long))
    assert night["sentence"].endswith("its hands-on parts do not fit the working hours.")
    assert parse(shop.get("/climate/shots")["least"], "temperature", "°C") == pytest.approx(4.4)
    assert "parts is empty" in shop.refused("POST", "/climate/shots", shot(shop, parts=[]))["detail"]


def test_a_post_cure_hotter_than_the_sheet_says_and_one_that_no_oven_can_give_are_told(shop, left):
    sheet = next(p["id"] for g in shop.get("/shelf")["groups"] for p in g["products"] if "214 slow" in p["name"])
    view = shop.get(f"/shelf/{sheet}")
    texts = {field["key"]: field["text"] for field in view["fields"]} | {"cure.max_c": "40 °C"}
    stages = [{"name": row["name"], "hours": row["hours"]} for row in view["stages"]["rows"]]
    body = {"kind": view["kind"], "name": view["name"], "texts": texts, "stages": stages}
    shop.ask("PATCH", f"/shelf/{sheet}", {**body, "temps": view["stages"]["temps"], "version": view["version"]})
    hot = order(left, ("60 °C", "2", "8 h"), start="2026-05-16T09:00", service={"text": "90", "unit": "°C"})
    tried = shop.ask("POST", "/cures/post-cure", hot)
    assert any("says not warmer than 40.0 °C; the hottest hold is 60.0 °C" in words for words in tried["against"])
    assert "no oven brings it further" in tried["follows"][0]
    assert "damp, it is nearer to" in tried["follows"][1]
