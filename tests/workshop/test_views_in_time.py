"""Today, Cure, Loom and the zones in ordinary and odd hours: closed, cold, done, empty, in other units."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import pairwise
from uuid import uuid4
from zoneinfo import ZoneInfo

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError
from tests.conftest import MORNING, Shop
from tests.core.walker import broken
from tests.loom import blocks

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.plan.place import place
from kiteloom.core.plan.today import state_of
from kiteloom.demo import products, reedling
from kiteloom.store.file import MIGRATIONS
from kiteloom.store.unit_of_work import Store, _engine
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.plan.plan import shop_plan, what_if

VIENNA = ZoneInfo("Europe/Vienna")


def seeded(empty_shop, moment):
    empty_shop.clock.at = moment
    reedling.seed(empty_shop.store, moment)
    return empty_shop


def at(shop, text):
    shop.clock.at = datetime.fromisoformat(text).replace(tzinfo=VIENNA)


@pytest.mark.parametrize(
    "day",
    [
        "2026-03-28T17:40",
        "2026-07-04T12:00",
        "2026-10-24T17:40",
        "2028-02-29T23:50",
    ],
)
def test_the_whole_shops_plan_keeps_every_rule_on_any_day(empty_shop, day):
    moment = datetime.fromisoformat(day).replace(tzinfo=VIENNA)
    seeded(empty_shop, moment)
    with empty_shop.store.reading() as uow:
        shop = shop_plan(uow, minute_of(moment))
    assert broken(shop.input, shop.plan.placed) == []
    assert shop.plan.finish >= shop.plan.bound
    for part in shop.parts.values():
        mine = [p for p in shop.plan.placed if p.step.part == part.id]
        assert state_of(mine, shop.now) != "done"
    with_heat = what_if(shop, profile=shop.air.profile.shifted(4))
    assert with_heat.plan.finish <= shop.plan.finish + 6 * 24 * 60  # warmer is not later by more than the queue's luck
    later = what_if(shop, held={step.key: shop.now + 5 * 1440 for step in shop.input.steps})
    assert all(
        p.begins >= shop.now + 5 * 1440
        for p in later.plan.placed
        if p.state in ("to do", "paused") and p.step.kind != "turn"
    )


def test_on_a_closed_day_today_says_when_it_opens_and_what_comes_first(shop):
    for name, step in (
        ("Left wing, lower skin", "core/bed"),
        ("Right wing, lower skin", "skin-1/layup"),
        ("Left wing, aft ribs", "coat-1/brush"),
    ):
        shop.release(shop.part(name), step)
    at(shop, "2026-05-17T11:00")  # a Sunday
    today = shop.get("/today")
    assert today["sentence"].startswith("Closed until Mon 09:00. Then: ")
    assert ([action["label"] for action in today["actions"]], today["hours"], today["fits"]) == (
        ["Start anyway"],
        None,
        [],
    )
    at(shop, "2026-05-14T19:30")
    today = shop.get("/today")
    assert today["sentence"].startswith("Closed until Fri 09:00. Then: ")
    start = today["actions"][0]  # who comes in after hours all the same may begin
    order = {"id": str(uuid4()), "part_id": start["part_id"], "step_key": start["step_key"], "kind": "start"}
    shop.ask("POST", "/work", order, status=201)
    assert shop.get("/today")["bench"][0]["state"] == "running"


def test_late_in_the_day_only_what_still_fits_is_offered(shop):
    offered = []
    for clock in ("09:45", "15:30", "17:45"):
        at(shop, f"2026-05-14T{clock}")
        rows = shop.get("/today")["fits"]
        offered.append(len(rows))
        for row in rows:
            assert "Begin by " in row["words"]
            latest = row["words"].split("Begin by ")[1][:5]
            assert latest >= clock
    assert offered[0] >= offered[1] >= offered[2] == 0


def test_an_empty_shop_and_a_shop_without_crew_or_stations_have_answers(tmp_path):
    bare = Shop(tmp_path / "bare")
    for path in ("/today", "/loom", "/cures"):
        assert "no temperature was ever given" in bare.get(path)["ask"]
    say = {"id": str(uuid4()), "low": {"text": "12", "unit": "°C"}, "high": {"text": "20", "unit": "°C"}}
    bare.ask("POST", "/climate/outlooks", say, status=201)
    assert "No part is here yet" in bare.get("/today")["ask"]
    assert bare.get("/loom")["sentence"] == "Nothing is planned yet."
    with bare.store.writing() as uow:
        founding = Founding(uow, MORNING)
        glue = founding.data_sheet("wood glue", "Heron glue", products.HERON)
        form = founding.panel(
            "Fin",
            {"span_m": 1.2, "root_chord_m": 0.6, "tip_chord_m": 0.4, "sweep_m": 0},
            {"naca": "0009"},
            {"naca": "0009"},
        )
        frame = founding.design(form, "Fin frame", "whole")
        founding.job(frame, "frame", {"glue": glue}, {"rib_pitch_m": 0.2, "gussets_per_rib": 2})
        founding.part(founding.assembly("A glider", "Tail", 1), frame, "left", "Fin", 1)
        uow.changed("founding", "fin")
    loom = bare.get("/loom")
    assert loom["steps"][0]["name"] == "Cut ribs and strips"
    assert [member["name"] for member in loom["crew"]] == ["person 1", "person 2"]
    bare.store.close()


def test_a_part_is_done_when_every_step_is(shop):
    rudder = shop.part("Rudder")
    for key in ("fit", "frame/glue", "frame/clean", "gussets/glue", "sand"):
        for kind in ("start", "finish"):
            note = {"id": str(uuid4()), "part_id": rudder, "step_key": key, "kind": kind}
            shop.ask("POST", "/work", note, status=201)
            shop.clock.at += timedelta(minutes=30)
    assert shop.get(f"/parts/{rudder}")["state"] == "curing"  # the last glue still is
    rows = [row["name"] for row in shop.get("/today")["done"]]
    assert "Sand, round every edge" in rows
    shop.clock.at += timedelta(days=1)
    head = shop.get(f"/parts/{rudder}")
    assert (head["state"], head["sentence"]) == ("done", "Every step is done.")


def test_a_finish_without_a_start_counts_no_minutes(shop):
    right = shop.part("Right wing, upper skin")
    note = {"id": str(uuid4()), "part_id": right, "step_key": "prepare", "kind": "finish"}
    shop.ask("POST", "/work", note, status=201)
    row = next(row for row in shop.get("/today")["done"] if row["part_id"] == right)
    assert "after 0 min" in row["words"]
    assert shop.get(f"/parts/{right}/times")["steps"][0]["state"] == "done"


def test_work_that_is_told_later_counts_from_when_it_was_done(shop):
    right = shop.part("Right wing, lower skin")
    shop.release(right)
    for kind, clock in (("start", "08:10"), ("finish", "08:55")):
        told = {"id": str(uuid4()), "part_id": right, "step_key": "skin-1/peel", "kind": kind}
        shop.ask("POST", "/work", {**told, "happened_at": f"2026-05-14T{clock}"}, status=201)
    row = next(row for row in shop.get("/today")["done"] if row["step_key"] == "skin-1/peel")
    assert row["words"] == "Finished 08:55 after 45 min; 50 min were planned."
    problem = {
        "id": str(uuid4()),
        "part_id": right,
        "step_key": "core/bed",
        "kind": "pause",
        "happened_at": "2026-05-14T09:00",
    }
    assert "nobody is working on it" in shop.refused("POST", "/work", problem)["detail"]


def test_a_night_in_winter_stalls_what_cures_and_the_card_says_for_how_long(empty_shop):
    shop = seeded(empty_shop, datetime(2026, 11, 24, 9, 5, tzinfo=VIENNA))
    cards = shop.get("/cures")["cards"]
    stood = [card for card in cards if "stood still for" in card["stalled"] or "stands still" in card["stalled"]]
    assert stood
    for card in cards:
        assert card["thread"]["start"] <= card["thread"]["end"]
        assert (card["state"] == "planned") == card["sentence"].startswith("To be mixed")
        if card["state"] == "reached":
            assert "due since" in card["sentence"]
        assert card["ribbon"][0]["at"] == card["span"]["start"]
    states = [card["state"] for card in cards]
    assert states == sorted(states, key=["reached", "curing", "planned"].index)


def test_a_cure_that_never_comes_says_so_everywhere(shop):
    frozen = {"id": str(uuid4()), "name": "frozen.csv", "zone": "main shop"}
    start = MORNING.replace(hour=9, minute=21)
    lines = [f"{(start + timedelta(hours=n)).isoformat()},4" for n in range(24 * 80)]
    shop.ask("POST", "/climate/imports", {**frozen, "text": "time,temp °C\n" + "\n".join(lines)}, status=201)
    left = shop.part("Left wing, lower skin")
    assert "does not reach “peel” within 60 days" in shop.get(f"/parts/{left}")["sentence"]
    card = next(card for card in shop.get("/cures")["cards"] if card["part_id"] == left)
    assert card["open_ended"] is True
    assert "is not reached within 60 days" in card["sentence"]
    loom = shop.get("/loom")
    lane = next(lane for lane in loom["lanes"] if lane["id"] == left)
    assert "can't be planned" in lane["left"]
    assert "but for " in loom["sentence"]
    held = [row["words"] for row in shop.get("/today")["held"]]
    assert any(words.startswith("Can't be planned: ") for words in held)


def test_zones_are_read_in_the_shops_units_and_edited_as_typed(shop):
    settings = shop.get("/shop")
    shop.ask("PATCH", "/shop", {"version": settings["version"], "units": "us"})
    main, cool, *_ = shop.get("/climate/zones")["zones"]
    fields = {field["field"]: field["text"] for field in main["fields"]}
    assert fields == {
        "heat": "63 °F",
        "heat_from": "06:00",
        "heat_to": "21:00",
        "lag": "9 h",
        "gain": "1.8",
        "longest": "",
    }
    body = {
        "heat": {"text": "68", "unit": "°F"},
        "gain": {"text": "3.6", "unit": ""},
        "lag": {"text": "90 min", "unit": "h"},
    }
    shop.ask("PATCH", "/climate/zones/main shop", {"version": main["version"], "fields": body})
    fields = {field["field"]: field["text"] for field in shop.get("/climate/zones")["zones"][0]["fields"]}
    assert (fields["heat"], fields["lag"], fields["gain"]) == ("68 °F", "1.5 h", "3.6")
    stale = {"version": main["version"], "fields": {"lag": {"text": "4", "unit": "h"}}}
    assert shop.ask("PATCH", "/climate/zones/main shop", stale, status=409)["changed"] != []
    for field, text_, named in (
        ("lag", "0", "it can't be below 0.5 h"),
        ("gain", "much", "“much” isn't understood"),
        ("heat_from", "6h", "“6h” isn't a time of day"),
        ("colour", "1", "“colour” is not a field of a zone"),
    ):
        bad = {"version": cool["version"], "fields": {field: {"text": text_, "unit": "h" if field == "lag" else ""}}}
        assert named in shop.refused("PATCH", "/climate/zones/cool room", bad)["detail"]
    assert shop.ask("PATCH", "/climate/zones/attic", {"version": 1, "fields": {}}, status=404)


def test_a_heater_that_runs_over_midnight_warms_the_night(shop):
    def low():
        return shop.get("/weather")["low_c"]

    before = low()
    version = shop.get("/climate/zones")["zones"][0]["version"]
    over = {"heat_from": {"text": "18:00", "unit": ""}, "heat_to": {"text": "08:00", "unit": ""}}
    shop.ask("PATCH", "/climate/zones/main shop", {"version": version, "fields": over})
    assert low() > before + 0.5
    none = {"version": version + 1, "fields": {"heat": {"text": " ", "unit": "°C"}}}
    shop.ask("PATCH", "/climate/zones/main shop", none)
    assert low() < before


def test_what_a_builder_types_overrules_the_forecast_for_a_day_and_a_half(shop):
    def ribbon():
        zone = shop.get("/climate/zones")["zones"][0]
        return {point["at"]: point["c"] for point in zone["ribbon"]}, zone["words"]

    before, _ = ribbon()
    say = {"id": str(uuid4()), "low": {"text": "3", "unit": "°C"}, "high": {"text": "9", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", say, status=201)
    after, words = ribbon()
    tonight, later = "2026-05-15T05:50:00+02:00", "2026-05-18T05:50:00+02:00"
    assert after[tonight] == pytest.approx(3, abs=0.5)
    assert before[tonight] > 10
    assert after[later] == pytest.approx(before[later], abs=0.5)
    assert "low 3.0 °C and high 9.0 °C, typed 09:20, for a day and a half, then the forecast" in words


def test_an_old_data_folder_keeps_its_readings_and_its_guards(tmp_path):
    folder = tmp_path / "old"
    folder.mkdir()
    engine = _engine(folder / "kiteloom.sqlite3")
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
    with engine.begin() as connection:
        connection.execute(
            text("INSERT INTO temperature_import VALUES ('i', 'main shop', 'a.csv', 1, 1, '2026-05-01', '2026-05-01')")
        )
        connection.execute(
            text("INSERT INTO temperature VALUES ('main shop', '2026-05-13 10:00:00.000000', 14.5, 'i')")
        )
    engine.dispose()
    store = Store(folder)
    with store.reading() as uow:
        row = uow.session.execute(text("SELECT temp_c, rh_pct, source, import_id FROM temperature")).one()
    assert tuple(row) == (14.5, None, "imported", "i")
    with store.engine.connect() as connection, pytest.raises(DatabaseError, match="add a correction"):
        connection.execute(text("DELETE FROM temperature"))
    store.close()
    shop = Shop(folder)
    assert shop.get("/weather")["temp_c"] == 14.5
    shop.store.close()


def test_the_loom_can_look_back_and_far_ahead_and_shades_what_is_closed(shop):
    back = blocks(shop, "start=2026-05-06T00:00&days=7").values()
    prepared = [block for block in back if block["key"] == "prepare"]
    assert prepared
    assert {block["state"] for block in prepared} == {"done"}
    ahead = shop.get("/loom?start=2026-08-01T00:00&days=28")
    assert [block for lane in ahead["lanes"] for block in lane["blocks"]] == []
    assert len(ahead["ribbon"]) > 100
    from_midnight = shop.get("/loom?days=7")["closed"]
    assert [2 * 1440 + 17 * 60, 4 * 1440 + 9 * 60] in from_midnight  # from Saturday's end to Monday
    assert "400" in shop.ask("GET", "/loom?start=2020-01-01T00:00", status=422)["detail"]


def test_a_finish_that_was_forgotten_is_told_by_its_time_of_day(shop):
    right = shop.part("Right wing, lower skin")
    shop.release(right)
    note = {"part_id": right, "step_key": "skin-1/peel"}
    shop.ask("POST", "/work", {**note, "id": str(uuid4()), "kind": "start", "at": "09:05"}, status=201)
    shop.clock.at += timedelta(days=1)
    row = next(row for row in shop.get("/today")["bench"] if row["state"] == "running")
    assert (row["late"], row["words"].endswith("Over its time: was it finished before?")) == (True, True)
    finish = {**note, "id": str(uuid4()), "kind": "finish"}
    assert "“evening” isn't a time of day" in shop.refused("POST", "/work", {**finish, "at": "evening"})["detail"]
    said = shop.ask("POST", "/work", {**finish, "at": "10:10"}, status=201)
    assert said["words"] == "Finished “Open the bag, inspect the outer skin”, Thu 14 May 10:10."
    step = next(s for s in shop.get(f"/parts/{right}/times")["steps"] if s["key"] == "skin-1/peel")
    assert (step["pieces"][0]["start"][11:16], step["pieces"][0]["end"][11:16]) == ("09:05", "10:10")


def test_today_holds_what_goes_soonest_and_tells_the_rest_when_asked(whole):
    today, later = whole.get("/today"), whole.get("/today/held")["rows"]
    with whole.store.reading() as uow:
        plan = shop_plan(uow, minute_of(MORNING)).plan
    keys = [f"{row['part_id']}:{row['step_key']}" for row in (*today["held"], *later)]
    left = {one.step.key for one in plan.unplaced}
    begins = [plan.by_key[key].begins for key in keys if key not in left]
    assert (len(later), begins) == (today["more_held"], sorted(begins))
    assert len(later) > 20
    assert len(set(keys)) == len(keys)
    assert all("Not sooner: " in row["words"] for row in later)


def test_a_plan_that_stands_on_what_another_stood_on_is_the_one_made_from_nothing(shop):
    grounds, part = [], shop.part("Rudder")
    for n in range(8):
        shop.clock.at = MORNING + timedelta(minutes=n)
        note = {"id": str(uuid4()), "part_id": part, "step_key": "fit", "kind": "pause" if n % 2 else "start"}
        shop.ask("POST", "/work", note, 201)
        if n == 3:  # another night is told: nothing of the air before holds any more
            night = {"low": {"text": "8", "unit": "°C"}, "high": {"text": "14", "unit": "°C"}}
            shop.ask("POST", "/climate/outlooks", {"id": "o", **night}, 201)
        with shop.store.reading() as uow:
            found = shop_plan(uow, minute_of(shop.clock.at))
        anew = place(found.input)
        assert [(p.step.key, p.pieces, p.people, p.causes) for p in found.plan.placed] == [
            (p.step.key, p.pieces, p.people, p.causes) for p in anew.placed
        ]
        assert [p.ready for p in found.plan.placed] == pytest.approx([p.ready for p in anew.placed], abs=1e-3)
        grounds.append(found.plan.ground)
    # The same from one five minutes to the next, as long as nothing else is known of the air.
    assert [a is b for a, b in pairwise(grounds)] == [False, True, False, True, True, False, True]
