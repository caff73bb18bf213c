"""Cut plans as they are kept: rows and ways that come and go, mirrored hands, both sides, the shelf, a restart."""

import re

import pytest
from shapely.geometry import Polygon
from tests.workshop.test_cut_plans import begun, changed, laid_out, pieces, way_of

from kiteloom.store.models import CutLayout
from kiteloom.workshop.base.ids import stable_id

LEFT, RIGHT = "Left wing, upper skin", "Right wing, upper skin"
TWILL = stable_id("sheet", "Sedge 163 twill glass")


def plan_of(shop, key="plan"):
    return shop.get(f"/cut-plans/{key}")


def edited(shop, status=200, key="plan", **what):
    return shop.ask("PATCH", f"/cut-plans/{key}", {"version": plan_of(shop, key)["version"], **what}, status)


def outlines(way):
    return {piece["code"]: Polygon(piece["outline_mm"]) for piece in pieces(way)}


def test_what_is_cut_together_is_added_and_taken_out_and_the_layout_says_so(shop):
    way = begun(shop, LEFT)
    first = laid_out(shop, way)
    part = shop.part(RIGHT)
    rows = [{"part_id": shop.part(LEFT), "job": ""}, {"part_id": part, "job": ""}, {"part_id": part, "job": ""}]
    edited(shop, rows=rows)
    view = plan_of(shop)
    assert sum(job["chosen"] for job in view["jobs"]) == 2  # named twice, it is there once
    assert view["ways"][0]["sentence"].startswith("Out of date")
    assert view["ways"][0]["wanted"] == 2 * first["wanted"]
    both = laid_out(shop, way)
    assert {piece["part"] for piece in pieces(both)} == {LEFT, RIGHT}
    edited(shop, rows=rows[:1])
    assert laid_out(shop, way)["wanted"] == first["wanted"]
    assert "has no job “j7”" in edited(shop, 422, rows=[{"part_id": part, "job": "j7"}])["detail"]
    assert edited(shop, 404, rows=[{"part_id": "nobody", "job": ""}])["detail"].startswith("There is no part")
    for name, says in (("  ", "the name is empty"), ("x" * 200, "")):
        answer = edited(shop, 422 if says else 200, name=name)
        assert says in answer.get("detail", "")
    assert len(plan_of(shop)["name"]) == 80


def test_left_and_right_are_cut_as_mirror_images_and_each_knows_where_its_tip_is(shop):
    left, right = (laid_out(shop, begun(shop, name, key=name[:4]), name[:4]) for name in (LEFT, RIGHT))
    mine, theirs = outlines(left), outlines(right)
    assert set(mine) == set(theirs)
    for code, shape in mine.items():
        other = theirs[code]
        assert other.area == pytest.approx(shape.area, rel=1e-6)
        assert sorted(shape.bounds[n + 2] - shape.bounds[n] for n in (0, 1)) == pytest.approx(
            sorted(other.bounds[n + 2] - other.bounds[n] for n in (0, 1)), abs=0.5
        )
        # As they lie on the table one can't be laid on the other without being turned over.
        assert shape.exterior.is_ccw is not other.exterior.is_ccw
    assert {round(piece["tip_deg"]) % 45 for piece in pieces(left)} == {0}


def test_a_panel_skinned_on_both_sides_has_pieces_of_both(shop):
    way = begun(shop, "Tailplane")
    codes = {piece["code"] for piece in pieces(laid_out(shop, way))}
    assert {code[0] for code in codes} == {"U", "L"}
    assert {re.sub(r"[a-z]+$", "", code[1:]) for code in codes if code[0] == "U"} == {
        re.sub(r"[a-z]+$", "", code[1:]) for code in codes if code[0] == "L"
    }


def test_ways_are_added_until_there_are_enough_taken_away_and_put_back(shop):
    way = begun(shop, LEFT)
    for n in range(5):
        shop.ask("POST", "/cut-plans/plan/ways", {"id": f"w{n}", "like": way}, 201)
        shop.ask("POST", "/cut-plans/plan/ways", {"id": f"w{n}", "like": way}, 201)
    assert len(plan_of(shop)["ways"]) == 6
    full = shop.refused("POST", "/cut-plans/plan/ways", {"id": "w9", "like": way})
    assert "6 ways are compared at most" in full["detail"]
    shop.ask("PATCH", "/cut-ways/w2", {"version": 1, "hidden": True})
    assert len(plan_of(shop)["ways"]) == 5
    assert "taken away" in shop.refused("POST", "/cut-ways/w2/layout", None)["detail"]
    shop.ask("PATCH", "/cut-ways/w2", {"version": 2, "hidden": False})
    assert len(plan_of(shop)["ways"]) == 6
    begun(shop, RIGHT, key="other")
    foreign = shop.refused("POST", "/cut-plans/other/ways", {"id": "w8", "like": way})
    assert "belongs to another plan" in foreign["detail"]
    foam = next(sheet["id"] for sheet in shop.get("/cut-plans")["sheets"] if "foam" in sheet["name"])
    odd = shop.refused("PATCH", "/cut-ways/w1", {"version": 1, "data_sheet_id": foam})
    assert odd["errors"][0]["field"] == "data_sheet_id"


def test_another_cloth_brings_its_own_width_and_what_was_typed_of_the_first_is_not_its(shop):
    way = begun(shop, LEFT)
    changed(shop, way, width_m="1 m", gap_m="9 mm", price="7 EUR")
    tape = next(one["id"] for one in way_of(shop)["products"] if "spar tape" in one["name"])
    shop.ask("PATCH", f"/cut-ways/{way}", {"version": way_of(shop)["version"], "data_sheet_id": tape})
    texts = {field["field"]: field["text"] for field in way_of(shop)["fields"]}
    assert (texts["width_m"], texts["gap_m"], texts["price"], texts["quarter_turns"]) == ("0.3 m", "9 mm", "", "no")
    changed(shop, way, gap_m="")
    assert {field["field"]: field["text"] for field in way_of(shop)["fields"]}["gap_m"] == "5 mm"


def test_a_part_that_is_taken_out_or_a_job_that_can_not_be_made_is_said_and_the_rest_is_cut(shop):
    way = begun(shop, LEFT, RIGHT)
    right = shop.part(RIGHT)
    version = shop.get(f"/parts/{right}")["version"]
    shop.ask("POST", f"/parts/{right}/hidden", {"version": version, "hidden": True})
    view = plan_of(shop)
    assert view["lacks"] == [f"{RIGHT} was taken away"]
    assert {piece["part"] for piece in pieces(laid_out(shop, way))} == {LEFT}
    left = shop.part(LEFT)
    job = shop.get(f"/parts/{left}/job?job=")
    shop.ask("PATCH", f"/parts/{left}/job", {"job": "", "version": job["version"], "hidden": True})
    lacks = plan_of(shop)["lacks"]
    assert any("no longer there" in words for words in lacks)
    assert [one["name"] for one in plan_of(shop)["jobs"] if one["chosen"]] == ["no longer takes it"]


def test_the_shelf_keeps_what_is_there_and_each_note_is_kept_once(shop):
    size = {"length": {"text": "1 m", "unit": "m"}, "width": {"text": "500 mm", "unit": "m"}}
    for _ in range(2):
        shop.ask("POST", "/remnants", {"id": "r1", "data_sheet_id": TWILL, **size, "note": "from the tip"}, 201)
    shelf = shop.get("/cut-plans")["remnants"]
    assert [(one["id"], "from the tip" in one["words"]) for one in shelf] == [("r1", True)]
    for kind, left in (("used", 0), ("there", 1), ("thrown", 0), ("there", 1)):
        for _ in range(2):
            shop.ask("POST", "/remnants/r1/notes", {"id": f"n {shop.clock.at.minute}", "kind": kind}, 201)
        shop.clock.at = shop.clock.at.replace(minute=shop.clock.at.minute + 1)
        assert len(shop.get("/cut-plans")["remnants"]) == left
    assert "“burnt” is not noted" in shop.refused("POST", "/remnants/r1/notes", {"id": "x", "kind": "burnt"})["detail"]
    far = {**size, "length": {"text": "300 m", "unit": "m"}}
    assert "can't be above" in shop.refused("POST", "/remnants", {"id": "r2", "data_sheet_id": TWILL, **far})["detail"]
    sheet = stable_id("sheet", "Tarn 210 with 214 slow")
    assert "not cut" in shop.refused("POST", "/remnants", {"id": "r3", "data_sheet_id": sheet, **size})["detail"]


def test_a_program_that_ended_while_it_looked_says_so_and_looks_again(shop):
    way = begun(shop, LEFT)
    laid_out(shop, way)
    with shop.store.writing() as uow:
        uow.get(CutLayout, way).state = "looking"  # as it stands when the machine goes off
    shop.reopen()
    view = way_of(shop)
    assert view["state"] == "stopped"
    assert view["sentence"].endswith("Stopped; this was the best so far.")
    assert view["ready"]
    assert laid_out(shop, way)["state"] == "done"
