"""The plan in shops that differ: in US units, with old data folders, without people, while others change it."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest
from sqlalchemy import create_engine, text
from tests.conftest import MORNING, Shop
from tests.core.walker import broken
from tests.loom import blocks, picked
from tests.workshop.test_plan_of_the_shop import person, planned
from tests.workshop.test_views_in_time import VIENNA, seeded
from tests.workshop.test_work_and_alerts import note, steps


def test_people_and_stations_of_the_house_before_are_still_there_and_can_be_changed(shop):
    shop.store.close()
    engine = create_engine(f"sqlite:///{shop.folder / 'kiteloom.sqlite3'}")
    with engine.connect() as connection:
        # As the migration left them: no skill was ever named, no hours of their own.
        connection.execute(text("UPDATE crew_member SET skills = '[]', hours = '[]', version = 1"))
        connection.execute(text("UPDATE station SET zone_id = NULL"))
        connection.commit()
    engine.dispose()
    again = Shop(shop.folder)
    plan = planned(again)
    # Where nobody's skills were said, no step is held by one.
    assert not any(step.skills for step in plan.input.steps)
    assert plan.plan.unplaced == ()
    assert broken(plan.input, plan.plan.placed) == []
    bo = person(again, "Bo")
    body = {"id": bo["id"], "version": bo["version"], "name": "Bo", "skills": ["layup"]}
    again.ask("POST", "/people", body)
    again.ask("POST", "/people", body, 409)  # somebody else saved in between
    left = {u.step.name for u in planned(again).plan.unplaced}
    assert "Glue ribs to spar and edge" in left  # now woodwork is asked for, and nobody has it
    again.store.close()


def test_in_a_us_shop_the_plan_speaks_its_units(shop):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    for key in blocks(shop, "days=14"):
        step = picked(shop, key)
        assert "°C" not in step["why"]
        assert " g of" not in step["words"]
    assert "°C" not in str(shop.get("/today"))
    sheet = shop.get(f"/run-sheet?part_id={shop.part('Left wing, upper skin')}&step_key=skin-1/layup")
    assert sheet["budget_g"] > 0


def test_with_too_little_resin_left_what_fits_says_so(shop):
    bench = next(p for p in shop.get("/bench")["products"] if "214 slow" in p["name"])
    with shop.store.reading() as uow:
        numbers = uow.session.execute(text("SELECT id FROM lot WHERE data_sheet_id = :s"), {"s": bench["id"]}).scalars()
        mine = list(numbers)
    for n, lot in enumerate(mine):
        counted = {"id": f"count {n}", "kind": "counted", "amount": {"text": "5", "unit": "g"}}
        shop.ask("POST", f"/lots/{lot}/notes", counted, 201)
    fits = [row for row in shop.get("/today")["fits"] if row["part"] == "Left flap, upper skin"]
    assert "Only 5 g of Tarn 210 with 214 slow is left, and it takes" in fits[0]["words"]


def test_everybody_away_leaves_the_plan_standing_and_says_who_is_not_here(shop):
    for who in shop.get("/people")["people"]:
        away = {"id": f"a {who['id']}", "crew_member_id": who["id"], "end": "2026-07-14T00:00"}
        shop.ask("POST", "/absences", away, 201)
    today = shop.get("/today")
    assert not any(p["here"] for p in today["day"])
    assert today["fits"] == []
    first = min(
        b["pieces"][0]["start"] for b in blocks(shop, "start=2026-07-14T00:00&days=60").values() if not b["fixed"]
    )
    assert first >= "2026-07-14"
    assert broken((plan := planned(shop)).input, plan.plan.placed) == []


def test_a_stopped_day_of_the_shop_is_planned_round(shop):
    before = planned(shop).plan.finish
    week = ["", "9–11", "", "9–11", "", "", ""]
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "week": week})
    plan = planned(shop)
    assert plan.plan.finish > before
    assert broken(plan.input, plan.plan.placed) == []
    long = {u.step.name: u.why for u in plan.plan.unplaced}
    assert any("in one go and the longest stretch of working hours is 120 min" in why for why in long.values())


@pytest.mark.parametrize("days", [0, 1, 4, 9])
def test_whatever_was_done_the_plan_keeps_every_rule(shop, days):
    """Day after day the first thing Today offers is done, at whatever hour it is."""
    for n in range(days):
        shop.clock.at = MORNING + timedelta(days=n, hours=n % 5)
        actions = shop.get("/today")["actions"]
        if actions and actions[0]["kind"] == "start":
            where = (actions[0]["part_id"], actions[0]["step_key"])
            note(shop, *where, "start", crew=actions[0]["crew"])
            shop.clock.at += timedelta(minutes=50)
            if "twist" not in where[1]:
                note(shop, *where, "finish")
        elif actions and actions[0]["kind"] == "check":
            shop.release(actions[0]["part_id"], actions[0]["step_key"])
    plan = planned(shop)
    assert broken(plan.input, plan.plan.placed) == []
    new = [p for p in plan.plan.placed if p.state == "to do"]
    assert all(p.start >= plan.input.start for p in new)
    assert {p.step.key for p in plan.plan.placed} >= {p.step.key for p in new}
    assert shop.get("/today")["sentence"]
    assert steps(shop, shop.part("Rudder"))


def test_what_is_too_cold_where_it_is_is_told_how_it_could_go_and_goes_once_a_way_is_taken(empty_shop):
    shop = seeded(empty_shop, datetime(2026, 11, 25, 9, 20, tzinfo=VIENNA))
    cap = shop.part("Left wing, spar cap")
    times = shop.get(f"/parts/{cap}/times")
    held = times["left"][0]
    assert (held["cold"], held["key"]) == (True, "stage-1/layup")
    # What it waits in is shown, not the warm shop beside it.
    assert times["ribbon"][-1]["c"] < 8 < times["ribbon"][0]["c"]
    found = shop.get(f"/parts/{cap}/ways?step_key=stage-1/layup")["ways"]
    assert {(way["kind"], way["zone_id"]) for way in found} >= {("station", "main shop"), ("heat", "cool room")}
    assert all("more steps can be planned" in way["plan"] for way in found)
    assert "warm cupboard" not in [way["zone_id"] for way in found]  # 7.2 m do not go in
    heat = next(way for way in found if way["kind"] == "heat")
    assert heat["words"] == "Hold the cool room at 15.0 °C."
    body = {"id": "way", "kind": "heat", "zone_id": "cool room", "heat": {"text": heat["heat"], "unit": "°C"}}
    for _ in range(2):
        shop.ask("POST", "/plan/ways", body, 201)
    zone = next(zone for zone in shop.get("/climate/zones")["zones"] if zone["id"] == "cool room")
    assert {f["field"]: f["text"] for f in zone["fields"]}["heat"] == "15.0 °C"
    after = shop.get(f"/parts/{cap}/times")
    assert after["left"] == []
    said = next(step for step in after["steps"] if step["key"] == "stage-1/layup")
    assert f"check for “peel” from {heat['then'].split(' from ')[1].split(',')[0]}" in said["words"]
