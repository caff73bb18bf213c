"""Cups poured, judged and kept; and when what was mixed cures."""

import re
import threading
from datetime import datetime, timedelta
from pathlib import Path
from uuid import uuid4

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError
from tests.conftest import MORNING, Shop

from kiteloom.demo import reedling

WEEK = (Path(__file__).parents[1] / "data" / "logger-week.csv").read_text()


def grams(value):
    return {"text": str(value), "unit": "g"}


@pytest.fixture
def sheet(shop):
    products = {product["name"]: product for product in shop.get("/bench")["products"]}
    return products["Tarn 210 with 214 slow"]


@pytest.fixture
def batch(shop, left_upper, sheet):
    """The body of a good batch, with what is asked for changed."""

    def body(**more):
        return {
            "id": str(uuid4()),
            "part_id": left_upper,
            "step_key": "skin-1/layup",
            "sheet_id": sheet["id"],
            "resin_lid": "Tarn 210 A",
            "hardener_lid": "tarn 214 b slow",
            "wanted_g": 320,
            "resin": grams(250),
            "hardener": grams(70),
            **more,
        }

    return body


def test_look_alikes_with_another_ratio_are_named_on_the_bench(shop):
    products = {product["name"]: product for product in shop.get("/bench")["products"]}
    assert products["Tarn 210 with 214 slow"]["look_alikes"] == ["Tarn 210 with 212 fast is 100 : 34 by weight"]
    assert products["Mere 8"]["look_alikes"] == []


def test_a_cup_by_volume_is_weighed_through_both_densities(shop):
    mere = next(p for p in shop.get("/bench")["products"] if p["name"] == "Mere 8")
    cup = shop.ask("POST", "/bench/cup", {"sheet_id": mere["id"], "amount": grams(300)})
    assert cup["hardener_g"] / cup["resin_g"] == pytest.approx(0.5 * 1.01 / 1.12)
    assert {given["name"] for given in cup["figures"][0]["given"]} >= {"resin density", "hardener density"}


def test_a_cup_has_one_working_life_on_every_screen_and_a_small_one_gets_no_more_than_the_sheet(shop, sheet, batch):
    for grams_, part in ((80, 0), (400, 1)):
        cup = shop.ask("POST", "/bench/cup", {"sheet_id": sheet["id"], "amount": grams(grams_)})
        assert cup["life"].endswith(" at 17.0 °C. Its sheet: 45 min for 100 g at 23.0 °C.")
        life = int(cup["life"].split("workable for ")[1].split()[0])
        amount = {"sheet_id": sheet["id"], "amount": grams(grams_ - 5), "spread": grams(100)}
        assert f"workable for {life} min" in shop.ask("POST", "/bench/cups", amount)["sentence"]
        parts = {"resin": grams(grams_ / 1.28), "hardener": grams(grams_ * 0.28 / 1.28)}
        kept = shop.ask("POST", "/batches", batch(**parts), 201)
        until = next(c["until"] for c in shop.get("/weather")["cups"] if c["batch_id"] == kept["id"])
        passed = (datetime.fromisoformat(until) - shop.clock.at).total_seconds() / 60
        assert passed == pytest.approx(life, abs=1.5)
        shop.ask("POST", f"/batches/{kept['id']}/notes", {"id": f"up {part}", "kind": "emptied"}, 201)
    small = int(shop.ask("POST", "/bench/cup", {"sheet_id": sheet["id"], "amount": grams(20)})["life"].split()[5])
    assert 45 < small < 1.7 * 45  # common practice: some six tenths more for six degrees less


def test_the_hardener_follows_the_resin_that_is_really_in_the_cup(shop, sheet):
    pour = shop.ask("POST", "/bench/pour", {"sheet_id": sheet["id"], "resin": grams("252,5")})
    assert pour["band"]["target_g"] == pytest.approx(70.7)
    assert (pour["band"]["from_g"], pour["band"]["to_g"]) == pytest.approx((70.7 * 0.97, 70.7 * 1.03))
    assert pour["judgement"] is None
    over = shop.ask("POST", "/bench/pour", {"sheet_id": sheet["id"], "resin": grams(250), "hardener": grams(80)})
    assert (over["judgement"]["verdict"], over["judgement"]["top_up"]["component"]) == ("out", "resin")
    assert over["component_then_g"] == pytest.approx(80 / 0.28)
    put_right = grams(over["component_then_g"])
    right = shop.ask("POST", "/bench/pour", {"sheet_id": sheet["id"], "resin": put_right, "hardener": grams(80)})
    assert right["judgement"]["verdict"] == "in"


@pytest.mark.parametrize(
    ("body", "named"),
    [
        ({"resin": grams(-5)}, "Tarn 210 A is -5 g; it can't be below 0 g"),
        ({"resin": grams("3 1/2 in")}, "“in” is not a unit of mass"),
        ({"resin": grams(""), "hardener": grams(5)}, "nothing was typed"),
        ({"resin": grams(0), "hardener": grams(0)}, "the cup is empty"),
    ],
)
def test_a_pour_that_cannot_be_is_refused(shop, sheet, body, named):
    assert named in shop.refused("POST", "/bench/pour", {"sheet_id": sheet["id"], **body})["detail"]


@pytest.mark.parametrize("amount", ["0", "0.2 g", "30 kg"])
def test_a_cup_nobody_mixes_is_refused(shop, sheet, amount):
    problem = shop.refused("POST", "/bench/cup", {"sheet_id": sheet["id"], "amount": grams(amount)})
    assert problem["errors"][0]["field"] == "amount"


def test_a_kept_batch_counts_once_however_often_it_is_sent(shop, left_upper, batch):
    body = batch()
    first = shop.ask("POST", "/batches", body, status=201)
    again = shop.ask("POST", "/batches", body, status=201)
    assert first == again
    view = shop.get(f"/parts/{left_upper}/mix")
    assert [kept["id"] for kept in view["batches"]] == [body["id"]]
    need, mixed, left = (figure["value"] for figure in view["needs"][0]["figures"])
    assert (mixed, left) == pytest.approx((320, need - 320))


@pytest.mark.parametrize(
    ("more", "named"),
    [
        (
            {"hardener_lid": "Tarn 212 B fast"},
            "“Tarn 212 B fast”; for Tarn 210 with 214 slow it must say “Tarn 214 B slow”",
        ),
        ({"resin_lid": ""}, "the resin's lid was read as nothing"),
        ({"step_key": "skin-9/layup"}, "“skin-9/layup” is not a step of Left wing, upper skin"),
        ({"resin": grams(0), "hardener": grams(0)}, "the cup is empty"),
        ({"resin": grams("-250")}, "resin_g is -250 g"),
        ({"wanted_g": -1}, "wanted_g is -1 g"),
        ({"happened_at": "2026-05-14T09:38:00+02:00"}, "can't be later than now"),
        ({"happened_at": "noon"}, "happened_at is 'noon'"),
        ({"happened_at": "0001-01-01T00:00:00Z"}, "the year is 1; it can't be below 1970"),
    ],
)
def test_a_batch_that_cannot_be_is_not_kept(shop, left_upper, batch, more, named):
    assert named in shop.refused("POST", "/batches", batch(**more))["detail"]
    assert shop.get(f"/parts/{left_upper}/mix")["batches"] == []


def test_a_correction_names_what_it_corrects_and_both_rows_stay(shop, left_upper, batch):
    body = batch()
    shop.ask("POST", "/batches", body, status=201)
    path, more = f"/batches/{body['id']}/correction", {"resin": grams(250), "hardener": grams(60)}
    assert "note is empty" in shop.refused("POST", path, {"id": str(uuid4()), "note": " ", **more})["detail"]
    correction = {"id": str(uuid4()), "note": "misread the scale", **more}
    kept = shop.ask("POST", path, correction, status=201)
    assert (kept["corrects"], kept["verdict"]) == (body["id"], "out")
    assert shop.ask("POST", path, correction, status=201) == kept
    rows = shop.get(f"/parts/{left_upper}/mix")["batches"]
    assert {row["id"]: row["corrected"] for row in rows} == {body["id"]: True, correction["id"]: False}
    twice = shop.refused("POST", path, {"id": str(uuid4()), "note": "again", **more})
    assert "corrected already" in twice["detail"]
    mixed = shop.get(f"/parts/{left_upper}/mix")["needs"][0]["figures"][1]["value"]
    assert mixed == 0  # out of its ratio it counts once somebody has let it through
    who = shop.get("/bench")["crew"][0]["id"]
    signed = {"part_id": left_upper, "step_key": "skin-1/layup", "how": "decision", "passes": True, "note": "the edge"}
    shop.ask("POST", "/witness", {"id": str(uuid4()), "crew_member_id": who, **signed}, 201)
    assert shop.get(f"/parts/{left_upper}/mix")["needs"][0]["figures"][1]["value"] == pytest.approx(310)


@pytest.mark.parametrize("table", ["batch", "temperature", "forecast", "work"])
def test_what_happened_cannot_be_rewritten_even_in_the_file(shop, table):
    for statement in (f"DELETE FROM {table}", f"UPDATE {table} SET rowid = rowid"):
        with shop.store.engine.connect() as connection, pytest.raises(DatabaseError, match="add a correction"):
            connection.execute(text(statement))


def test_ten_people_keeping_the_same_batch_at_once_keep_it_once(shop, left_upper, batch):
    body, statuses = batch(), []

    def send():
        answer = shop.app.test_client().post("/api/v1/batches", json=body)
        statuses.append(answer.status_code)

    crowd = [threading.Thread(target=send) for _ in range(10)]
    for one in crowd:
        one.start()
    for one in crowd:
        one.join()
    assert statuses == [201] * 10
    assert len(shop.get(f"/parts/{left_upper}/mix")["batches"]) == 1


def test_pages_hear_of_a_change_by_asking_from_their_last_number(shop, batch):
    seq = shop.get("/now?since=-1")["seq"]
    assert shop.get(f"/now?since={seq}")["changes"] == []
    body = batch()
    shop.ask("POST", "/batches", body, status=201)
    heard = shop.get(f"/now?since={seq}")
    assert [(change["topic"], change["ref"]) for change in heard["changes"]] == [("batch", body["id"])]
    assert heard["now"] == MORNING.isoformat()


def times(shop, part, start=""):
    view = shop.get(f"/parts/{part}/times{f'?start={start}' if start else ''}")
    return view, {step["key"]: step for step in view["steps"]}


def test_without_any_temperature_it_asks_for_one(empty_shop):
    reedling.seed(empty_shop.store, MORNING)
    bare = Shop(empty_shop.folder.parent / "bare")
    with bare.store.writing() as uow:
        reedling.found_shop(uow, MORNING)
    view, steps = times(bare, bare.part("Left wing, upper skin"))
    assert "type tonight's low and tomorrow's high, or load a logger's file" in view["ask"]
    assert (steps, view["span"]) == ({}, None)
    body = {"id": str(uuid4()), "low": {"text": "61 °F", "unit": "°C"}, "high": {"text": "24", "unit": "°C"}}
    bare.ask("POST", "/climate/outlooks", body, status=201)
    view, steps = times(bare, bare.part("Left wing, upper skin"))
    assert list(steps) == ["prepare", "skin-1/layup", "skin-1/peel", "core/bed", "skin-2/layup", "skin-2/peel", "trim"]
    assert view["recorded_until"] is None
    bare.store.close()


def test_a_colder_night_makes_the_same_batch_later_and_says_so(shop, left_upper, batch):
    shop.ask("POST", "/batches", batch(), status=201)

    def peel(low, high):
        body = {"id": str(uuid4())} | {"low": {"text": low, "unit": "°C"}, "high": {"text": high, "unit": "°C"}}
        shop.ask("POST", "/climate/outlooks", body, status=201)
        knots = times(shop, left_upper)[1]["skin-1/layup"]["knots"]
        return datetime.fromisoformat(knots[1]["at"])

    mild, cold = peel("16", "22"), peel("4", "14")
    assert cold - mild > timedelta(hours=10)
    view, steps = times(shop, left_upper)
    assert steps["skin-1/layup"]["stalled"].startswith("Too cold for ")
    assert "below 12.0 °C this product stands still" in view["sentence"]


def test_a_batch_is_followed_from_its_own_mix_and_the_plan_goes_on_from_it(shop, left_upper, batch):
    _, before = times(shop, left_upper)
    shop.ask("POST", "/batches", batch(happened_at="2026-05-13T15:00:00+02:00"), status=201)
    _, after = times(shop, left_upper)
    assert "prepare" not in after
    assert after["skin-1/layup"]["state"] == "done"
    assert "Last batch mixed Wed 13 May 15:00, 2.69 kg of it still to mix; check for" in after["skin-1/layup"]["words"]
    rest = batch(resin=grams(2150), hardener=grams(602), happened_at="2026-05-13T15:30:00+02:00")
    shop.ask("POST", "/batches", rest, status=201)
    assert "still to mix" not in times(shop, left_upper)[1]["skin-1/layup"]["words"]
    assert after["skin-1/layup"]["thread"]["start"] == "2026-05-13T15:00:00+02:00"
    assert after["trim"]["end"] < before["trim"]["end"]


@pytest.mark.parametrize("start", ["0001-01-01T00:00", "9999-12-31T23:59", "2020-01-01T08:00", "2026-08-01T08:00"])
def test_a_start_in_another_age_is_refused(shop, left_upper, start):
    problem = shop.ask("GET", f"/parts/{left_upper}/times?start={start}", status=422)
    assert problem["errors"][0]["field"] == "start"
    assert re.search("400 days|60 days|the year is", problem["detail"])


def test_a_start_without_an_offset_is_the_shops_own_time(shop, left_upper):
    view, steps = times(shop, left_upper, "2026-05-20T13:02")
    assert view["start"] == "2026-05-20T13:02:00+02:00"
    assert steps["prepare"]["start"] == "2026-05-20T13:05:00+02:00"


def test_each_stage_says_when_between_what_and_from_what(shop, left_upper):
    _, steps = times(shop, left_upper)
    gel, peel, sand, full = steps["skin-1/layup"]["knots"]
    assert gel["at"] < peel["at"] < sand["at"]
    assert full["at"] is None
    assert "glass transition stops near" in full["words"]
    assert "it takes a day at 22.0 °C" in full["words"]
    for knot in (gel, peel, sand):
        assert knot["early"] < knot["at"] < knot["late"]
        assert "between" in knot["words"]
        assert knot["figure"]["assumed"] is True  # these nights are still to come
    assert [given["name"] for given in peel["figure"]["given"]][:2] == [
        "hours to peel at the sheet's temperature",
        "the sheet's temperature",
    ]


def test_a_real_week_of_readings_decides_the_times_and_the_same_file_adds_nothing(shop, left_upper):
    start = "2026-05-14T10:00"
    before = times(shop, left_upper, start)[1]["trim"]["start"]
    body = {"id": str(uuid4()), "name": "week.csv", "text": WEEK}
    first = shop.ask("POST", "/climate/imports", body, status=201)
    assert first["rows_read"] == 169
    assert first["rows_new"] == 169 - 10  # the demo's own probe knows that morning's full hours
    view, steps = times(shop, left_upper, start)
    assert steps["trim"]["start"] != before
    assert "count as expected, not recorded" in first["words"]
    assert view["recorded_until"] == MORNING.isoformat()
    assert "a loaded file runs on to Thu 21 May 00:00" in view["temperature"]
    again = shop.ask("POST", "/climate/imports", {**body, "id": str(uuid4())}, status=201)
    assert (again["rows_new"], again["words"]) == (0, "The zone has readings for all 169 rows; nothing was added.")
    assert shop.ask("POST", "/climate/imports", body, status=201)["words"].startswith("This file was taken in before")


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("time,temp °C\n", "0 readings"),
        ("time,temp °C\n2026-05-20 10:00,12\n2026-05-20 11:00,hot\n", "row 3: “hot”"),
        ("", "0 rows"),
    ],
)
def test_a_bad_file_leaves_no_half_of_itself(shop, left_upper, text, named):
    before = times(shop, left_upper)[0]
    problem = shop.refused("POST", "/climate/imports", {"id": str(uuid4()), "name": "bad.csv", "text": text})
    assert named in problem["detail"]
    assert times(shop, left_upper)[0] == before


@pytest.mark.parametrize(
    "now",
    ["2026-03-29T01:30+01:00", "2026-10-25T02:30+02:00", "2026-12-31T23:55+01:00"],
    ids=["clocks go forward", "clocks go back", "new year's eve"],
)
def test_the_demo_is_a_week_into_its_build_on_any_day(empty_shop, now):
    moment = datetime.fromisoformat(now)
    empty_shop.clock.at = moment
    assert reedling.seed(empty_shop.store, moment) is True
    assert reedling.seed(empty_shop.store, moment) is False  # a second start keeps what is there
    for name, state in (("Right wing, lower skin", ("curing", "in work")), ("Left wing, upper skin", ("planned",))):
        part = empty_shop.part(name)
        assert empty_shop.get(f"/parts/{part}")["state"] in state
        view, steps = times(empty_shop, part)
        assert view["left"] == []
        assert datetime.fromisoformat(steps["trim"]["start"]) > moment
    weather = empty_shop.get("/weather")
    assert weather["expected"] is False
    assert weather["low_c"] == min(point["c"] for point in weather["ribbon"])


def test_everything_kept_is_there_after_a_restart(shop, left_upper, batch):
    body = batch(note="kept before the lights went out")
    shop.ask("POST", "/batches", body, status=201)
    paths = [f"/parts/{left_upper}{tab}" for tab in ("", "/shape", "/plies", "/mix", "/times")]
    before = [shop.get(path) for path in ["/airframe", "/weather", "/shop", *paths]]
    shop.reopen()
    assert [shop.get(path) for path in ["/airframe", "/weather", "/shop", *paths]] == before
