"""The shelf through its API: sheets typed, edited by two, hidden, taken from files; lots and where they went."""

from __future__ import annotations

import json
from datetime import timedelta

import pytest

SLOW = "Tarn 210 with 214 slow"


def product(shop, name):
    rows = [p for group in shop.get("/shelf")["groups"] for p in group["products"]]
    return next((row for row in rows if row["name"] == name), None)


def typed(shop, name):
    """A sheet as the page would send it back."""
    sheet = shop.get(f"/shelf/{product(shop, name)['id']}")
    body = {"kind": sheet["kind"], "name": sheet["name"], "version": sheet["version"]}
    body["texts"] = {field["key"]: field["text"] for field in sheet["fields"]}
    if sheet["stages"]:
        body |= {"temps": sheet["stages"]["temps"], "stages": sheet["stages"]["rows"]}
    return sheet, body


NEW = {
    "id": "new-sheet",
    "kind": "paste adhesive",
    "name": "Bittern paste",
    "texts": {"ratio": "100 : 80", "chemistry": "amine epoxy", "pot_life.minutes": "45 min"},
    "temps": ["20 °C", "10 °C"],
    "stages": [{"name": "handle", "hours": ["8", "17"]}],
}


def test_a_typed_sheet_is_questioned_kept_once_and_can_be_mixed(shop):
    checked = shop.ask("POST", "/shelf/check", {**NEW, "texts": {**NEW["texts"], "tolerance_pct": "30 %"}})
    assert "30 % off is a lot" in checked["questions"][0]["sentence"]
    assert any("fit an activation energy of 52" in words for words in checked["follows"])
    assert any(lack["label"] == "Ratio may be off by" for lack in shop.ask("POST", "/shelf/check", NEW)["lacks"])
    for _ in range(2):
        shop.ask("POST", "/shelf", NEW, status=201)
    assert [p["name"] for p in shop.get("/bench")["products"]].count("Bittern paste") == 1
    problem = shop.refused("POST", "/shelf", {**NEW, "id": "another"})
    assert problem["errors"] == [
        {"field": "name", "sentence": "a paste adhesive named “Bittern paste” is on the shelf already"}
    ]


def test_all_that_cannot_be_read_is_said_at_once_field_by_field(shop):
    texts = {"ratio": "about half", "pot_life.temp_c": "900", "tolerance_pct": "0"}
    problem = shop.refused("POST", "/shelf", {**NEW, "texts": texts, "temps": [""]})
    found = {error["field"]: error["sentence"] for error in problem["errors"]}
    assert set(found) == {"ratio", "pot_life.temp_c", "tolerance_pct", "stages"}
    assert found["pot_life.temp_c"] == "Temperature of the pot life is 900 °C; it can't be above 400 °C"


def test_an_edited_sheet_moves_the_plan_and_the_later_of_two_is_told_what_changed(shop, left_upper):
    sheet, body = typed(shop, SLOW)
    body["stages"] = [
        {"name": row["name"], "hours": ["20"] if row["name"] == "peel" else row["hours"]} for row in body["stages"]
    ]
    before = shop.get(f"/parts/{left_upper}/times")["steps"][1]["ready"]
    assert shop.ask("PATCH", f"/shelf/{sheet['id']}", body)["version"] == 2
    assert shop.get(f"/parts/{left_upper}/times")["steps"][1]["ready"] > before
    stale = shop.ask("PATCH", f"/shelf/{sheet['id']}", {**body, "name": "Tarn slow"}, status=409)
    assert stale["changed"] == ["stages"]


def test_what_is_built_with_a_product_keeps_the_figures_it_needs(shop):
    sheet, body = typed(shop, SLOW)
    problem = shop.refused("PATCH", f"/shelf/{sheet['id']}", {**body, "temps": [""], "stages": []})
    assert "is built with it: the sheet of Tarn 210 with 214 slow gives no stages" in problem["detail"]
    problem = shop.refused("PATCH", f"/shelf/{sheet['id']}/hidden", {"version": 1, "hidden": True})
    assert "Upper wing skin: built with it" in problem["detail"]
    file = json.dumps({"sheets": [{"kind": "laminating resin", "name": SLOW, "says": {"ratio": None}}]})
    assert (
        "built with it"
        in shop.refused("POST", "/shelf/import", {"text": file, "take": True, "replace": True})["detail"]
    )


def test_a_sheet_taken_off_the_shelf_can_be_put_back_for_thirty_days(shop):
    mere = product(shop, "Mere 8")["id"]
    shop.ask("PATCH", f"/shelf/{mere}/hidden", {"version": 1, "hidden": True})
    assert product(shop, "Mere 8") is None
    assert "Mere 8" not in [p["name"] for p in shop.get("/bench")["products"]]
    shop.clock.at += timedelta(days=29)
    assert [row["name"] for row in shop.get("/shelf")["hidden"]] == ["Mere 8"]
    shop.ask("PATCH", f"/shelf/{mere}/hidden", {"version": 2, "hidden": False})
    assert product(shop, "Mere 8")
    shop.ask("PATCH", f"/shelf/{mere}/hidden", {"version": 3, "hidden": True})
    shop.clock.at += timedelta(days=31)
    assert shop.get("/shelf")["hidden"] == []
    problem = shop.refused("PATCH", f"/shelf/{mere}/hidden", {"version": 4, "hidden": False})
    assert "more than 30 days ago" in problem["detail"]


@pytest.mark.parametrize("form", ["json", "csv"])
def test_the_shelf_written_out_is_read_in_by_another_shop_and_a_second_time_adds_nothing(shop, tmp_path, form):
    from tests.conftest import Shop

    text = shop.client.get(f"/api/v1/shelf/file?form={form}").get_data(as_text=True)
    other = Shop(tmp_path / "other")
    looked = other.ask("POST", "/shelf/import", {"text": text})
    assert {row["what"] for row in looked["rows"]} == {"new"}
    assert other.get("/shelf")["groups"] == []
    taken = other.ask("POST", "/shelf/import", {"text": text, "take": True})
    assert taken["taken"] == len(looked["rows"]) >= 15
    again = other.ask("POST", "/shelf/import", {"text": text, "take": True, "replace": True})
    assert (again["taken"], again["sentence"]) == (0, "Nothing was taken: all of it is here already.")
    assert other.client.get(f"/api/v1/shelf/file?form={form}").get_data(as_text=True) == text
    assert other.get("/bench")["products"][0]["ratio"] == shop.get("/bench")["products"][0]["ratio"]
    other.store.close()


def test_a_sheet_of_a_file_that_says_something_else_replaces_only_when_told(shop):
    file = json.loads(shop.client.get("/api/v1/shelf/file").get_data(as_text=True))
    sheet = next(s for s in file["sheets"] if s["name"] == "Mere 8")
    sheet["says"]["tolerance_pct"] = 4
    text = json.dumps({"sheets": [sheet, {"kind": "yarn", "name": "Wool", "says": {}}]})
    looked = shop.ask("POST", "/shelf/import", {"text": text, "take": True})
    assert [row["what"] for row in looked["rows"]] == ["differs", "refused"]
    assert looked["rows"][0]["words"] == ["Ratio may be off by 5 % → 4 %"]
    assert looked["taken"] == 0
    assert shop.ask("POST", "/shelf/import", {"text": text, "take": True, "replace": True})["taken"] == 1
    assert next(p for p in shop.get("/bench")["products"] if p["name"] == "Mere 8")["tolerance_pct"] == 4


@pytest.mark.parametrize("text", ["", "{", "[1", '{"sheets": 7}', "colour;size\nred;4", '{"sheets": []}'])
def test_a_file_that_is_none_is_refused_with_a_reason(shop, text):
    assert shop.refused("POST", "/shelf/import", {"text": text, "take": True})["detail"].startswith("the file")


def lots(shop, name):
    return {lot["lot_number"]: lot for lot in product(shop, name)["lots"]}


def test_what_is_left_of_a_lot_follows_from_its_batches_and_a_count_begins_anew(shop):
    slow = product(shop, SLOW)
    lot = lots(shop, SLOW)["T-4471"]
    used = [
        b
        for name in ("Left wing, lower skin", "Right wing, lower skin", "Left flap, upper skin")
        for b in shop.get(f"/parts/{shop.part(name)}/mix")["batches"]
    ]
    assert lot["left"] == pytest.approx(16_000 - sum(b["total_g"] for b in used if not b["corrected"]))
    shop.clock.at += timedelta(hours=1)
    count = {"id": "count", "kind": "counted", "amount": {"text": "500 g", "unit": "g"}}
    shop.ask("POST", f"/lots/{lot['id']}/notes", count, status=201)
    assert lots(shop, SLOW)["T-4471"]["left"] == 500
    received = {"id": "l", "sheet_id": slow["id"], "lot_number": "T-4471", "received_on": "2026-05-14"}
    assert "is on the shelf already" in shop.refused("POST", "/lots", received)["detail"]
    late = {**received, "lot_number": "T-1", "expires_on": "2026-05-01"}
    assert "before it came" in shop.refused("POST", "/lots", late)["detail"]


def test_an_expired_lot_and_one_soon_to_expire_ask_for_care(shop):
    assert lots(shop, SLOW)["T-4390"]["care"] == "lot T-4390 expired on 2 May 2026"
    assert product(shop, "Heron 30 paste")["care"] == ["lot HP-31 is good for 20 days more"]


def test_a_bad_lot_leads_to_every_part_it_is_on(shop):
    lot = lots(shop, SLOW)["T-4471"]["id"]
    assert "say in a few words why" in shop.refused("POST", f"/lots/{lot}/notes", {"id": "b", "kind": "bad"})["detail"]
    bad = {"id": "b", "kind": "bad", "note": "cloudy, smells of nothing"}
    trail = shop.ask("POST", f"/lots/{lot}/notes", bad, status=201)
    assert {place["part"] for place in trail["touched"]} == {
        "Left wing, lower skin",
        "Right wing, lower skin",
        "Left flap, upper skin",
    }
    assert trail["sentence"].startswith("Look at these: lot T-4471 is on ")
    assert "lot T-4471 was found bad: cloudy, smells of nothing" in product(shop, SLOW)["care"]
    shop.ask("POST", f"/lots/{lot}/notes", {"id": "c", "kind": "cleared", "note": "it was the light"}, status=201)
    assert "lot T-4471 was found bad: cloudy, smells of nothing" not in product(shop, SLOW)["care"]


def test_a_lot_keeps_from_the_day_it_was_made_and_a_cold_shop_is_told_beside_it(shop):
    tarn = product(shop, SLOW)
    lot = {"sheet_id": tarn["id"], "component": "both", "received_on": "2026-05-01"}
    shop.ask("POST", "/lots", {"id": "came", "lot_number": "came", **lot}, 201)
    shop.ask("POST", "/lots", {"id": "made", "lot_number": "made", "made_on": "2025-11-01", **lot}, 201)
    until = {number: each["good_until"] for number, each in lots(shop, SLOW).items()}
    assert (until["made"], until["came"]) == ("2027-11-01", "2028-04-30")  # two years of the sheet
    late = {"id": "late", "lot_number": "late", **lot, "made_on": "2026-05-02"}
    assert "after it came" in shop.refused("POST", "/lots", late)["detail"]
    assert not any("its sheet says not below" in care for care in product(shop, SLOW)["care"])
    cold = {"low": {"text": "2", "unit": "°C"}, "high": {"text": "7", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", {"id": "cold", **cold}, 201)
    care = product(shop, SLOW)["care"]
    said = next(words for words in care if words.startswith("lot T-4471 comes to 2"))
    assert said.endswith("in main shop; its sheet says not below 8.0 °C")
