"""Today from opening to closing: what is due, who does what, what may be begun all the same, and the night."""

from __future__ import annotations

import itertools
import math
import re
from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from tests.conftest import MORNING
from tests.workshop.test_plan_of_the_shop import planned
from tests.workshop.test_views_in_time import VIENNA, seeded
from tests.workshop.test_work_and_alerts import Said, later

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.quantities import Typed
from kiteloom.core.plan.place import place
from kiteloom.demo import reedling
from kiteloom.store.models import StandingOrder
from kiteloom.workshop.air.climate import SayOutlook, say_outlook, shop_temperature
from kiteloom.workshop.plan.standing import keep_standing
from kiteloom.workshop.plan.watch import Instruments, Watch


def today(shop):
    return shop.get("/today")


def test_what_is_due_stands_first_until_it_is_read_and_comes_back_when_found_soft(shop):
    ribs, lower = (shop.part(name) for name in ("Left wing, aft ribs", "Right wing, lower skin"))
    assert [(row["part_id"], row["words"]) for row in today(shop)["due"]] == [
        (ribs, "“handle” is due since 01:29."),
        (lower, "“peel” is due since 05:12. 3 witnesses are to be read."),
    ]
    row = today(shop)["due"][0]
    card = next(card for card in shop.get("/cures")["cards"] if card["part_id"] == ribs)
    reading = {"part_id": ribs, "step_key": row["step_key"], "how": "thumbnail", "passes": False}
    shop.ask("POST", "/witness", {"id": "s", **reading, "batch_id": card["release"]["rows"][0]["batch_id"]}, 201)
    assert [row["part_id"] for row in today(shop)["due"]] == [lower]
    later(shop, minutes=121)
    assert "Found soft 09:20: to be read again since 11:20." in [row["words"] for row in today(shop)["due"]]
    shop.release(ribs, row["step_key"])
    assert ribs not in [row["part_id"] for row in today(shop)["due"]]


def test_each_person_has_a_line_of_what_they_do_until_closing_and_nothing_twice_at_once(shop):
    view = today(shop)
    day = {person["name"]: person for person in view["day"]}
    assert next(turn["name"] for turn in day["Sanna"]["turns"]) == "Lay and bag the inner skin"
    assert day["Teo"]["words"].startswith("not at this hour; nothing more today; Sat 09:00")
    for person in day.values():
        spans = [(turn["span"]["start"], turn["span"]["end"]) for turn in person["turns"]]
        assert all(a[1] <= b[0] for a, b in itertools.pairwise(spans))
        assert all(start < view["hours"]["end"] for start, _ in spans)
    # All of it can be begun from here, on whatever list it stands.
    listed = {(row["part_id"], row["step_key"]) for key in ("fits", "later", "bench") for row in view[key]}
    listed |= {(row["part_id"], row["step_key"]) for lies in view["lies"] for row in lies["rows"]}
    turns = {(t["part_id"], t["step_key"]) for person in day.values() for t in person["turns"]}
    assert turns <= listed


def test_a_step_is_begun_before_its_time_with_its_reason_and_the_reason_stays(shop):
    row = next(row for row in today(shop)["later"] if row["name"] == "Mix varnish, let it stand")
    (action,) = row["actions"]
    assert (action["label"], action["asks"]) == ("Start anyway…", "Why it goes before its time")
    begun = {"part_id": row["part_id"], "step_key": row["step_key"], "note": "the ribs were rubbed down at home"}
    shop.ask("POST", "/work", {"id": "early", "kind": "start", **begun}, 201)
    words = next(r["words"] for r in today(shop)["bench"] if r["step_key"] == row["step_key"])
    assert "Begun before its time: the ribs were rubbed down at home." in words
    later(shop, minutes=10)
    shop.ask("POST", "/work", {"id": "end", "kind": "finish", **begun}, 201)
    assert "rubbed down at home" in " ".join(row["words"] for row in today(shop)["done"])


def test_a_step_can_be_begun_laid_aside_and_finished_wherever_it_is_seen(shop):
    rudder = shop.part("Rudder")
    row = next(row for row in today(shop)["bench"] if row["part_id"] == rudder)
    seen = f"/loom/step?part_id={rudder}&step_key={row['step_key']}"
    assert [action["label"] for action in shop.get(seen)["actions"]] == ["Go on", "Finish"]
    lower = shop.part("Left wing, lower skin")
    sheet = shop.get(f"/run-sheet?part_id={lower}&step_key=skin-2/layup")
    assert [(a["kind"], a["of"]) for a in sheet["actions"]] == [("check", "Left wing, lower skin")]


def test_closing_down_says_what_runs_what_stays_on_and_what_is_looked_at_first(shop):
    closing = today(shop)["closing"]
    assert (closing["soon"], closing["words"]) == (False, "The shop closes 18:00 and opens Fri 09:00.")
    lower = shop.part("Left wing, lower skin")
    for part, step in ((lower, "core/bed"), (lower, "skin-2/layup")):
        shop.release(part, step) if step == "core/bed" else None
    begin = {"part_id": lower, "step_key": "skin-2/layup"}
    shop.clock.at += timedelta(hours=6)
    shop.ask("POST", "/work", {"id": "b", "kind": "start", **begin}, 201)
    later(shop, minutes=105)
    assert (
        "Lay and bag the inner skin, Left wing, lower skin: finish it, or lay it aside."
        in (today(shop)["closing"]["before"])
    )
    shop.ask("POST", "/work", {"id": "e", "kind": "finish", **begin}, 201)
    later(shop, minutes=20)
    closing = today(shop)["closing"]
    assert closing["soon"]
    mine = [words for words in closing["runs"] if words.startswith("Left wing, lower skin")]
    assert len(mine) == 1
    assert "“peel” from Fri" in mine[0]
    assert any("Left wing, lower skin, until Fri" in words for words in closing["stays_on"])
    assert any(words.startswith("Heater of the warm cupboard: 30.0 °C") for words in closing["stays_on"])
    assert any("09:00" in words for words in closing["first"])


def ahead(plan):
    return [key for key in plan.order if plan.by_key[key].state in ("to do", "paused")]


def test_while_the_air_drifts_and_nobody_does_anything_the_order_and_the_end_stay(empty_shop):
    shop = seeded(empty_shop, datetime(2026, 11, 25, 9, 20, tzinfo=VIENNA))
    probe = Said()
    watch = Watch(shop.store, shop.clock, Instruments({"main shop": probe}))
    watch.tick()
    keep_standing(shop.store, shop.clock.at)
    first = planned(shop)
    base, stood, ends, anew = first.air.profile.at(first.now), ahead(first.plan), [], []
    for half_hour in range(1, 9):
        later(shop, minutes=30)
        probe.say(shop, base + 0.5 * math.sin(half_hour * 2.3))
        watch.tick()
        made = planned(shop)
        assert ahead(made.plan) == stood
        ends.append(made.plan.finish)
        anew.append(place(replace(made.input, order=(), stands={})).finish)
    assert max(ends) - min(ends) <= 60
    assert max(anew) - min(anew) > 1440, "made anew each time it jumps by days"


def test_a_heater_that_is_set_lets_another_order_be_taken(empty_shop):
    shop = seeded(empty_shop, datetime(2026, 11, 24, 14, 20, tzinfo=VIENNA))
    keep_standing(shop.store, shop.clock.at)
    zone = shop.get("/climate/zones")["zones"][0]
    texts = {"heat": ("23", "°C"), "heat_from": ("00:00", ""), "heat_to": ("24:00", "")}
    fields = {name: {"text": text, "unit": unit} for name, (text, unit) in texts.items()}
    shop.ask("PATCH", f"/climate/zones/{zone['id']}", {"version": zone["version"], "fields": fields})
    held = planned(shop).plan
    keep_standing(shop.store, shop.clock.at)
    after = planned(shop).plan
    assert after.finish <= held.finish - 240  # what is far ahead need not keep its place for colder air


def test_when_the_end_moves_one_sentence_says_why_and_which_step_moved_it(shop):
    keep_standing(shop.store, shop.clock.at)
    assert shop.get("/loom")["moved"] == ""
    for who in shop.get("/people")["people"]:
        away = {"id": f"a {who['id']}", "crew_member_id": who["id"], "end": "2026-05-18T09:00"}
        shop.ask("POST", "/absences", away, 201)
    later(shop, minutes=1)
    keep_standing(shop.store, shop.clock.at)
    moved = shop.get("/loom")["moved"]
    assert moved.startswith("The end moved from ")
    assert " moved from " in moved.partition(": ")[2]
    assert "is not here before" in moved
    later(shop, minutes=1)
    keep_standing(shop.store, shop.clock.at)
    assert shop.get("/loom")["moved"] == moved  # once


def test_another_order_is_taken_when_it_ends_clearly_sooner_and_what_is_accepted_is_what_was_seen(shop):
    made, now = planned(shop), shop.clock.at
    worst = tuple(reversed(made.plan.order))
    stuck = place(replace(made.input, order=worst))
    assert stuck.finish > made.plan.finish + 240
    with shop.store.writing() as uow:
        row = {"begins": {}, "said": {}, "judged": 0, "moved": "", "recorded_at": now}
        uow.add(StandingOrder(id=1, keys=list(worst), **row))
        uow.changed("plan", "standing")
    seen = shop.get("/loom")["order"]
    assert planned(shop).plan.finish == stuck.finish
    keep_standing(shop.store, now)
    assert planned(shop).plan.finish <= stuck.finish - 240
    refused = shop.refused("POST", "/plan/accept", {"id": "stale", "order": seen})
    assert "the plan has another order than the one looked at: it ends" in refused["detail"]
    shop.ask("POST", "/plan/accept", {"id": "now", "order": shop.get("/loom")["order"]}, 201)
    # What is new finds its place among what stands.
    rudder = shop.part("Rudder")
    version = shop.get(f"/parts/{rudder}/times")["steps"][0]["version"]
    own = {"id": "weigh", "name": "Weigh it", "after": "fit", "minutes": {"text": "10", "unit": "min"}, "people": 1}
    shop.ask("POST", f"/parts/{rudder}/steps", {**own, "version": version, "wait": {"text": "0", "unit": "min"}}, 201)
    after = planned(shop).plan
    assert minute_of(now) <= after.by_key[f"{rudder}:own/weigh"].begins < after.finish - 1440


def take_back(shop, what, of, status=201, **more):
    return shop.ask("POST", "/taken-back", {"id": f"back {of}"[:36], "what": what, "of_id": of, **more}, status)


def test_a_wrong_release_is_withdrawn_by_somebody_who_says_why_and_all_readings_are_listed(shop):
    lower, who = shop.part("Right wing, lower skin"), shop.get("/bench")["crew"][0]["id"]

    def release():
        return next(card for card in shop.get("/cures")["cards"] if card["part_id"] == lower)["release"]

    shop.release(lower, "skin-1/layup")
    assert release()["released"]
    (reading,) = release()["readings"]
    assert reading["words"].startswith("All mixes: decided (Thu 14 May 09:20, ")
    refused = take_back(shop, "witness", reading["id"], 422, note="the wrong wing")
    assert "a reading is taken back by somebody; say who" in refused["detail"]
    assert "say in a few words why" in take_back(shop, "witness", reading["id"], 422, crew_member_id=who)["detail"]
    take_back(shop, "witness", reading["id"], note="the wrong wing", crew_member_id=who)
    assert (release()["released"], release()["readings"]) == (False, [])
    again = {"id": "again", "what": "witness", "of_id": reading["id"], "note": "x", "crew_member_id": who}
    assert "taken back already" in shop.refused("POST", "/taken-back", again)["detail"]
    soft = {"part_id": lower, "step_key": "skin-1/layup", "how": "thumbnail", "passes": False}
    shop.ask("POST", "/witness", {"id": "soft", **soft, "batch_id": release()["rows"][0]["batch_id"]}, 201)
    assert release()["again"] == "Read it again from Thu 14 May 11:20."


def test_a_typed_temperature_makes_no_past_is_asked_about_when_far_off_and_taken_back(shop):
    lower = shop.part("Left wing, lower skin")

    def card():
        return next(card for card in shop.get("/cures")["cards"] if card["part_id"] == lower)

    before, read = card(), f"/parts/{lower}/temperature"
    asked = shop.refused("POST", read, {"id": "slip", "temp": {"text": "99", "unit": "°C"}})
    assert "the part would be at 99.0 °C, and the air around it is at 17.0 °C. Is it so?" in asked["detail"]
    shop.ask("POST", read, {"id": "slip", "temp": {"text": "40", "unit": "°C"}, "sure": True}, None)
    assert card()["had"] == before["had"]  # the hours before the reading stay what they were
    take_back(shop, "part temperature", card()["place"]["typed_id"])
    assert card() == before


def test_a_typed_outlook_and_a_loaded_file_are_forgotten_again(shop):
    before = shop.get("/climate/zones")["zones"][0]
    said = {"id": "said", "low": {"text": "-8", "unit": "°C"}, "high": {"text": "2", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", {**said, "zone": "main shop"}, 201)
    file = "time,temp °C\n" + "\n".join(f"2026-05-12 {hour:02d}:03,30" for hour in range(24))
    wrong = {"id": "f", "name": "wrong room.csv", "zone": "main shop", "text": file, "both": "replace"}
    shop.ask("POST", "/climate/imports", wrong, 201)
    given = shop.get("/climate/zones")["zones"][0]
    assert [one["words"] for one in given["given"]] == [
        "Low -8.0 °C and high 2.0 °C, typed 09:20",
        "“wrong room.csv”, 24 readings, loaded 09:20",
    ]
    assert given["ribbon"] != before["ribbon"]
    for one in given["given"]:
        take_back(shop, one["what"], one["id"])
    assert shop.get("/climate/zones")["zones"][0] == before
    # The right file for the same hours is taken, not "known already".
    right = {**wrong, "id": "right", "name": "right room.csv", "text": file.replace(",30", ",16")}
    looked = shop.ask("POST", "/climate/previews", {**right, "id": "look"})
    assert looked["new"] == 24
    assert shop.ask("POST", "/climate/imports", right, 201)["rows_new"] == 24
    assert [one["words"] for one in shop.get("/climate/zones")["zones"][0]["given"]] == [
        "“right room.csv”, 24 readings, loaded 09:20"
    ]


def test_on_a_cold_morning_nothing_wet_is_offered_and_today_says_what_would_make_it_possible(empty_shop):
    shop = empty_shop
    with shop.store.writing() as uow:
        reedling.found_shop(uow, MORNING)
        say_outlook(uow, SayOutlook("cold", Typed("1", "°C"), Typed("6", "°C")), MORNING)
    view = today(shop)
    assert "steps with an open mix are held: it is 2.5 °C here, and they need 7.0 °C to 12.0 °C." in view["cold"]
    assert "Heat the shop, or take the part where it is warm." in view["cold"]
    wet = {step.key for step in planned(shop).input.steps if step.cure is not None and step.min_c is not None}
    offered = {f"{row['part_id']}:{row['step_key']}" for key in ("fits", "later") for row in view[key]}
    assert offered
    assert not offered & wet


def recorded(shop, hour):
    """What the main shop had at an hour of the day before [°C]."""
    with shop.store.reading() as uow:
        at = minute_of(MORNING - timedelta(days=1)) + 60 * hour - 560
        return shop_temperature(uow, at - 600, minute_of(shop.clock.at)).profile.at(at)


def test_a_file_of_another_instrument_is_not_mixed_in_between_the_probes_readings(shop):
    was = recorded(shop, 10.13)
    rows = [f"2026-05-13 {8 + n // 4:02d}:{3 + 15 * (n % 4):02d},{24 + 0.1 * n}" for n in range(32)]
    file = {"name": "b.csv", "zone": "main shop", "text": "time,temp °C\n" + "\n".join(rows)}
    looked = shop.ask("POST", "/climate/previews", {"id": "look", **file})
    assert looked["new"] == 0
    assert re.search(r"differs from what is recorded by up to \d+\.\d °C", looked["differs"])
    assert shop.ask("POST", "/climate/imports", {"id": "kept", **file}, 201)["rows_new"] == 0
    assert recorded(shop, 10.13) == was
    again = shop.ask("POST", "/climate/previews", {"id": "look", **file, "both": "replace"})
    assert re.search(r"32 new readings.*; \d+ readings that are recorded give way", again["sentence"])
    shop.ask("POST", "/climate/imports", {"id": "b", **file, "both": "replace"}, 201)
    assert recorded(shop, 10.13) == pytest.approx(24.85, abs=0.2)
    take_back(shop, "file", "b")
    assert recorded(shop, 10.13) == was


def test_weather_that_is_typed_is_followed_by_the_heater_and_a_rooms_own_starts_from_its_last_reading(shop):
    said = {"low": {"text": "-8", "unit": "°C"}, "high": {"text": "2", "unit": "°C"}, "zone": "main shop"}
    now = shop.get("/weather")
    ribbon = {point["at"]: point["c"] for point in now["ribbon"]}

    def after(hours, place, key="o1"):
        shop.ask("POST", "/climate/outlooks", {"id": f"{place} {key}", "place": place, **said}, 201)
        weather = shop.get("/weather")
        assert weather["temp_c"] == pytest.approx(now["temp_c"], abs=0.1)  # what was measured is never replaced
        found = list(weather["ribbon"])[2 * hours]["c"]
        take_back(shop, "outlook", f"{place} {key}")
        return found

    assert after(6, "outside") > 16.4  # the heater holds until 21:00
    assert after(20, "outside", "o2") < list(ribbon.values())[40] - 2
    assert after(1, "room") > 8  # no cliff
    assert after(20, "room", "o2") == pytest.approx(-8, abs=1)
