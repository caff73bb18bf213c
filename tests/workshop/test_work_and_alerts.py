"""Work that is noted slides the plan; the watch takes in what probes say and raises what must be heard."""

from __future__ import annotations

import threading
from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from tests.conftest import MORNING
from tests.loom import blocks, picked

from kiteloom.core.air.moisture import Air
from kiteloom.core.base.calendar import minute_of
from kiteloom.demo import reedling
from kiteloom.workshop.air.climate import shop_temperature
from kiteloom.workshop.plan.watch import Instruments, Watch

PEEL = "skin-1/peel"


@pytest.fixture
def right(shop):
    part = shop.part("Right wing, lower skin")
    shop.release(part)
    return part


def note(shop, part, key, kind, status=201, **more):
    body = {"id": str(uuid4()), "part_id": part, "step_key": key, "kind": kind, **more}
    return shop.ask("POST", "/work", body, status)


def later(shop, **hours):
    shop.clock.at = shop.clock.at + timedelta(**hours)


def steps(shop, part):
    return {step["key"]: step for step in shop.get(f"/parts/{part}/times")["steps"]}


def test_start_and_finish_keep_the_hours_and_slide_the_plan(shop, right):
    today = shop.get("/today")
    assert today["sentence"].startswith("Not hard yet: Bed the core and bag it, Left wing, lower skin. The night was")
    assert "Meanwhile: Rub down between the coats: Left wing, aft ribs" in today["detail"]
    assert [action["label"] for action in today["actions"]] == ["Read the witness first"]
    odile = next(person["id"] for person in shop.get("/people")["people"] if person["name"] == "Odile")
    before = steps(shop, right)["core/bed"]["start"]
    note(shop, right, PEEL, "start", crew=[odile])
    assert next(row for row in shop.get("/today")["bench"] if row["state"] == "running")["who"] == ["Odile"]
    later(shop, minutes=130)
    row = next(row for row in shop.get("/today")["bench"] if row["state"] == "running")
    assert row["words"] == "Since 09:20: 2 h 10 min of about 50 min. Over its time: was it finished before?"
    assert row["late"] is True
    assert steps(shop, right)["core/bed"]["start"] >= before
    assert steps(shop, right)[PEEL]["end"] == "2026-05-14T11:35:00+02:00"  # still at work: five minutes more
    done = note(shop, right, PEEL, "finish")
    assert done["words"] == "Finished “Open the bag, inspect the outer skin”, 11:30."
    today = shop.get("/today")
    assert "Finished 11:30 after 2 h 10 min; 50 min were planned." in [row["words"] for row in today["done"]]
    assert today["done_words"].endswith("of work today.")
    assert steps(shop, right)[PEEL]["state"] == "done"
    assert steps(shop, right)["core/bed"]["why"].startswith("It is put late on purpose: its wait runs overnight")


def test_two_browsers_finishing_the_same_step_count_it_once(shop, right):
    note(shop, right, PEEL, "start")
    later(shop, minutes=40)
    answers = []

    def finish():
        body = {"id": str(uuid4()), "part_id": right, "step_key": PEEL, "kind": "finish"}
        answers.append(shop.app.test_client().post("/api/v1/work", json=body).json)

    both = [threading.Thread(target=finish) for _ in range(8)]
    for one in both:
        one.start()
    for one in both:
        one.join()
    assert sorted(answer["added"] for answer in answers) == [False] * 7 + [True]
    assert len({answer["id"] for answer in answers}) == 1
    assert any("was finished already, 10:00; nothing was added" in answer["words"] for answer in answers)
    rows = [row for row in shop.get("/today")["done"] if row["step_key"] == PEEL]
    assert [row["words"] for row in rows] == ["Finished 10:00 after 40 min; 50 min were planned."]


def test_a_retry_adds_nothing_and_a_note_can_be_taken_back_once(shop, right):
    body = {"id": str(uuid4()), "part_id": right, "step_key": PEEL, "kind": "start"}
    assert shop.ask("POST", "/work", body, 201)["added"] is True
    assert shop.ask("POST", "/work", body, 201)["added"] is False
    undo = {"id": str(uuid4())}
    assert shop.ask("POST", f"/work/{body['id']}/undo", undo, 201)["kind"] == "undo"
    assert shop.ask("POST", f"/work/{body['id']}/undo", undo, 201)["added"] is False
    assert "taken back already" in shop.refused("POST", f"/work/{body['id']}/undo", {"id": str(uuid4())})["detail"]
    assert steps(shop, right)[PEEL]["state"] == "to do"


def test_a_pause_lays_the_work_aside_and_only_the_rest_is_planned(shop, right):
    note(shop, right, PEEL, "start")
    later(shop, minutes=20)
    note(shop, right, PEEL, "pause")
    step = steps(shop, right)[PEEL]
    assert (step["state"], len(step["pieces"])) == ("paused", 2)
    again = [datetime.fromisoformat(step["pieces"][1][end]) for end in ("start", "end")]
    assert again[1] - again[0] == timedelta(minutes=30)


@pytest.mark.parametrize(
    ("key", "kind", "more", "named"),
    [
        ("skin-9/peel", "start", {}, "“skin-9/peel” is not a step of Right wing, lower skin"),
        (PEEL, "pause", {}, "nobody is working on it"),
        (PEEL, "start", {"happened_at": "2026-05-14T09:25"}, "it can't be later than now"),
        (PEEL, "start", {"happened_at": "2024-05-14T09:25"}, "it can't be above 366 days"),
        ("prepare", "start", {}, "it was finished already; take that back first"),
        (PEEL, "juggle", {}, "kind is 'juggle'"),
    ],
)
def test_a_note_that_cannot_be_is_refused_with_the_reason(shop, right, key, kind, more, named):
    body = {"id": str(uuid4()), "part_id": right, "step_key": key, "kind": kind, **more}
    assert named in shop.refused("POST", "/work", body)["detail"]


def test_minutes_of_its_own_and_a_step_of_its_own_are_planned_for_both_hands(shop, left_upper):
    body = {"version": shop.version(left_upper), "step_key": "trim", "minutes": {"text": "3 h", "unit": "min"}}
    saved = shop.ask("PATCH", f"/parts/{left_upper}/minutes", body)
    own = {
        "version": saved["version"],
        "id": "drain",
        "name": "Drill the drain holes",
        "after": "skin-2/peel",
        "minutes": {"text": "25", "unit": "min"},
        "people": 1,
        "wait": {"text": "1 h", "unit": "min"},
    }
    shop.ask("POST", f"/parts/{left_upper}/steps", own, status=201)
    shop.ask("POST", f"/parts/{left_upper}/steps", own, status=201)  # sent twice
    for part in (left_upper, shop.part("Right wing, upper skin")):
        found = steps(shop, part)
        assert list(found)[-2:] == ["own/drain", "trim"]
        assert (found["trim"]["minutes"], found["trim"]["edited"]) == (180, True)
        assert found["trim"]["estimate"] == "Hands-on, as this shop says: 180 min, 1 person."
        assert found["trim"]["start"] >= found["own/drain"]["ready"] > found["own/drain"]["end"]
    recipe = {"version": shop.version(left_upper), "step_key": "trim"}
    problem = shop.refused("POST", f"/parts/{left_upper}/steps/drop", recipe)
    assert "only steps of your own can be taken out" in problem["detail"]
    shop.ask("POST", f"/parts/{left_upper}/steps/drop", {**recipe, "step_key": "own/drain"})
    assert "own/drain" not in steps(shop, left_upper)
    for minutes, named in (("0", "can't be below 1 min"), ("soon", "“soon”")):
        now = shop.version(left_upper)
        bad = {"version": now, "step_key": "trim", "minutes": {"text": minutes, "unit": "min"}}
        assert named in shop.refused("PATCH", f"/parts/{left_upper}/minutes", bad)["detail"]


def test_a_clock_that_goes_back_past_what_was_noted_stops_nobody(shop, left_upper):
    note(shop, left_upper, "prepare", "start")
    later(shop, minutes=70)
    note(shop, left_upper, "prepare", "finish")
    for back in (0.05, 2, 60, 3000):
        shop.clock.at -= timedelta(minutes=back)
        assert shop.get("/today")["sentence"]
        assert shop.get("/airframe")["project"] == "Reedling"


def test_every_step_of_the_loom_says_why_it_is_not_sooner(shop):
    loom = shop.get("/loom")
    assert [lane["name"] for lane in loom["lanes"]][-1] == "Right aileron"
    assert len(loom["crew"]) == 5
    found, all_of_it = blocks(shop, "days=14"), blocks(shop, "days=120")
    assert len(found) > 25
    for key in found:
        step = picked(shop, key)
        assert step["why"].endswith(".")
        assert step["held_by"] == "" or step["held_by"] in all_of_it
    assert shop.get("/loom/step?part_id=none&step_key=fit") is None
    assert "no plan can end before" in loom["sentence"]
    first = datetime.fromisoformat(loom["span"]["start"])
    assert (first.hour, first.date()) == (0, MORNING.date())
    assert len(shop.get("/loom?days=2")["nights"]) == 3
    assert "it can't be above 120 days" in shop.ask("GET", "/loom?days=500", status=422)["detail"]


def test_a_mix_still_to_come_can_be_tried_at_another_start_and_with_a_heater(shop):
    card = next(card for card in shop.get("/cures")["cards"] if card["state"] == "planned")
    ask = {"part_id": card["part_id"], "step_key": card["step_key"]}
    tried = shop.ask("POST", "/cures/what-if", {**ask, "start": "2026-05-14T16:00"})
    assert tried["card"]["thread"]["end"] > card["thread"]["end"]
    assert "later than planned" in tried["sentence"]
    heat = {"heater": {"text": "25 °C", "unit": "°C"}, "heater_from": "20:00"}
    warm = shop.ask("POST", "/cures/what-if", {**ask, "start": "2026-05-14T16:00", **heat})
    assert warm["card"]["thread"]["end"] < tried["card"]["thread"]["end"]
    assert next(k for k in warm["card"]["knots"] if k["name"] == "full")["at"] is not None  # warm enough for its glass
    assert shop.get("/cures")["cards"][0]["thread"] != warm["card"]["thread"]
    for more, named in (
        ({"heater": {"text": "90", "unit": "°C"}}, "it can't be above 60 °C"),
        ({**heat, "heater_from": "25 pm"}, "“25 pm” isn't a time of day"),
        ({"start": "2027-05-14T16:00"}, "60 days"),
    ):
        assert named in shop.refused("POST", "/cures/what-if", {**ask, **more})["detail"]
    live = next(card for card in shop.get("/cures")["cards"] if card["state"] == "curing")
    moved = {"part_id": live["part_id"], "step_key": live["step_key"], "start": "2026-05-14T16:00"}
    assert "was mixed already" in shop.refused("POST", "/cures/what-if", moved)["detail"]


class Said:
    """A probe that says what it is told to."""

    def __init__(self):
        self.log = {}

    def say(self, shop, celsius, rh=60.0):
        self.log[int(minute_of(shop.clock.now()))] = Air(celsius, rh)

    def readings(self, after, until):
        return [(minute, air) for minute, air in sorted(self.log.items()) if after < minute <= until]


@pytest.fixture
def probe():
    return Said()


@pytest.fixture
def watch(shop, probe):
    shop.clock.at = MORNING + timedelta(minutes=1)
    return Watch(shop.store, shop.clock, Instruments({"main shop": probe}))


def kinds(shop):
    return sorted(alert["kind"] for alert in shop.get("/weather")["alerts"])


def test_a_new_reading_moves_a_live_cure_and_is_heard(shop, watch, probe):
    def curing():
        return next(card for card in shop.get("/cures")["cards"] if card["state"] == "curing")

    before = curing()
    seq = shop.get("/now?since=-1")["seq"]
    probe.say(shop, 9.0)
    watch.tick()
    assert "climate" in [change["topic"] for change in shop.get(f"/now?since={seq}")["changes"]]
    after = curing()
    assert after["thread"]["end"] > before["thread"]["end"]
    watch.tick()
    assert shop.get("/weather")["temp_c"] == pytest.approx(9.0)


def test_each_alarm_is_raised_once_and_stays_silenced(shop, watch, probe):
    probe.say(shop, 8.0, 95.0)
    watch.tick()
    assert kinds(shop) == ["stage", "stalled"]
    words = " ".join(alert["words"] for alert in shop.get("/weather")["alerts"])
    assert "the cure stands still at 8.0 °C" in words
    assert "it needs 12.0 °C" in words
    later(shop, minutes=1)
    probe.say(shop, 14.0, 95.0)
    watch.tick()
    assert kinds(shop) == ["stage"]  # it does not stand still any more
    for alert in shop.get("/weather")["alerts"]:
        shop.ask("POST", f"/alerts/{alert['id']}/silence", {})
    for celsius in (8.0, 14.0, 8.0):  # wavering about the limit it is not said again that night
        later(shop, minutes=1)
        probe.say(shop, celsius, 95.0)
        watch.tick()
        assert kinds(shop) == []


def test_an_alarm_ends_with_its_cause_and_a_soft_witness_is_asked_for_again(shop, watch):
    def stages():
        watch.tick()
        return [alert["words"] for alert in shop.get("/weather")["alerts"] if alert["kind"] == "stage"]

    assert len(stages()) == 1
    cards = shop.get("/cures")["cards"]
    states = [card["state"] for card in cards]
    assert states == sorted(states, key=["reached", "curing", "planned"].index)  # what is due stands first
    card = next(card for card in cards if stages()[0].startswith(card["part"]))
    read = {"part_id": card["part_id"], "step_key": card["step_key"], "how": "thumbnail", "passes": False}
    rows = card["release"]["rows"]
    shop.ask("POST", "/witness", {"id": "soft", **read, "batch_id": rows[0]["batch_id"]}, 201)
    assert stages() == []
    later(shop, minutes=121)
    assert any(words.startswith(f"{card['part']}: found soft 09:21; read") for words in stages())
    shop.release(card["part_id"], card["step_key"])
    assert not any(words.startswith(card["part"]) for words in stages())


def test_a_wet_mix_in_damp_air_raises_the_dew_margin(shop, watch, probe, left_upper):
    mix = shop.get(f"/parts/{left_upper}/mix")
    body = {
        "id": str(uuid4()),
        "part_id": left_upper,
        "step_key": "skin-1/layup",
        "sheet_id": mix["product"]["id"],
        "resin_lid": mix["product"]["resin_lid"],
        "hardener_lid": mix["product"]["hardener_lid"],
        "wanted_g": 128,
        "resin": {"text": "100", "unit": "g"},
        "hardener": {"text": "28", "unit": "g"},
    }
    shop.ask("POST", "/batches", body, status=201)
    probe.say(shop, 16.0, 95.0)
    watch.tick()
    assert "dew" in kinds(shop)
    weather = shop.get("/weather")
    assert (weather["margin_tone"], round(weather["margin_k"], 1)) == ("stop", 0.8)
    assert weather["rh_pct"] == pytest.approx(95)


def test_a_silent_probe_is_said_and_what_is_expected_counts(shop, watch, probe):
    probe.say(shop, 17.0)
    watch.tick()
    later(shop, hours=3)
    watch.tick()
    assert "silent" in kinds(shop)
    weather = shop.get("/weather")
    assert weather["expected"] is True
    silent = next(alert for alert in weather["alerts"] if alert["kind"] == "silent")
    assert "has said nothing for 3.0 h; what is expected counts." in silent["words"]
    cold = {"id": str(uuid4()), "low": {"text": "5", "unit": "°C"}, "high": {"text": "8", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", cold, status=201)  # a builder knows better
    assert shop.get("/weather")["low_c"] < 8


def test_a_clock_that_goes_back_loses_no_reading_and_counts_none_twice(shop, watch, probe):
    for _ in range(3):
        probe.say(shop, 17.0)
        watch.tick()
        later(shop, minutes=1)
    later(shop, hours=-2)
    probe.say(shop, 12.0)  # at an hour that was read already
    watch.tick()
    with shop.store.reading() as uow:
        minute = minute_of(MORNING)
        known = shop_temperature(uow, minute - 60, minute_of(shop.clock.now()))
    inside = (known.profile.minutes >= minute + 1) & (known.profile.minutes <= minute + 3)
    assert (known.profile.celsius[inside] == 17.0).all()
    assert shop.get("/weather")["temp_c"] > 15  # what was read first at this hour stays


def test_the_demos_own_instruments_read_the_same_minute_alike(shop):
    one, other = (reedling.boathouse(shop.store).probes["main shop"] for _ in range(2))
    minute = minute_of(MORNING)
    whole = dict(one.readings(minute - 300, minute))
    assert len(whole) == 300
    assert dict(other.readings(minute - 10, minute)) == {m: air for m, air in whole.items() if m > minute - 10}
    one.silent.append((minute - 200, minute - 100))
    assert len(one.readings(minute - 300, minute)) == 199


def test_the_watch_asks_for_a_forecast_every_six_hours(shop):
    asked = []
    sky = reedling.boathouse(shop.store).forecaster

    class Counting:
        def days(self, now):
            asked.append(now)
            return sky.days(now)

    watch = Watch(shop.store, shop.clock, Instruments(forecaster=Counting()))
    for _ in range(14):
        watch.tick()
        later(shop, hours=1)
    assert len(asked) == 2
