"""Parts that are not skins: glued frames and varnished ribs, mixed, cured, worked on and planned like any other."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from tests.shapes import retyped


@pytest.fixture
def rudder(shop):
    return shop.part("Rudder")


def steps(shop, part):
    return {step["key"]: step for step in shop.get(f"/parts/{part}/times")["steps"]}


def glue_cup(shop, part, **more):
    product = shop.get(f"/parts/{part}/mix")["product"]
    body = {
        "id": str(uuid4()),
        "part_id": part,
        "step_key": "frame/glue",
        "sheet_id": product["id"],
        "resin_lid": product["resin_lid"],
        "hardener_lid": product["hardener_lid"],
        "wanted_g": 60,
        "resin": {"text": "32", "unit": "g"},
        "hardener": {"text": "28", "unit": "g"},
    }
    return {**body, **more}


def test_a_glue_pot_is_judged_by_its_own_ratio_and_its_joint_cures_by_its_own_sheet(shop, rudder):
    mix = shop.get(f"/parts/{rudder}/mix")
    assert mix["product"]["name"] == "Heron glue"
    assert [need["step_name"] for need in mix["needs"]] == [
        "Glue ribs to spar and edge",
        "Laminate tip blocks in their form",
        "Let in and glue the stringers",
        "Glue gussets and leading edge",
    ]
    assert [loss["field"] for loss in mix["losses"]] == ["cup_pct"]
    batch = shop.ask("POST", "/batches", glue_cup(shop, rudder), status=201)
    assert batch["verdict"] == "in"  # equal by volume, by its densities
    glued = steps(shop, rudder)["frame/glue"]
    assert glued["state"] == "done"
    assert [knot["name"] for knot in glued["knots"]] == ["gel", "handle", "sand", "full"]
    handle = datetime.fromisoformat(glued["ready"])
    assert timedelta(hours=9) < handle - shop.clock.now() < timedelta(hours=18)  # nine hours at 20 °C, colder here
    skin_resin = shop.get(f"/parts/{shop.part('Left wing, upper skin')}/mix")["product"]
    wrong = glue_cup(shop, rudder, resin_lid=skin_resin["resin_lid"])
    assert "it must say “Heron glue A”" in shop.refused("POST", "/batches", wrong)["detail"]


def test_the_jig_is_held_while_the_glue_cures(shop, rudder):
    shop.ask("POST", "/batches", glue_cup(shop, rudder), status=201)
    own = {
        "version": shop.version(rudder),
        "id": "hinges",
        "name": "Drill the hinge brackets",
        "after": "frame/clean",
        "minutes": {"text": "40", "unit": "min"},
        "people": 2,
        "wait": {"text": "0", "unit": "min"},
    }
    shop.ask("POST", f"/parts/{rudder}/steps", own, status=201)
    found = steps(shop, rudder)
    assert found["frame/clean"]["start"] >= found["frame/glue"]["ready"]
    assert found["gussets/glue"]["start"] >= found["own/hinges"]["end"]
    assert found["own/hinges"]["estimate"] == "Hands-on, as this shop says: 40 min, 2 people."


def test_ribs_are_counted_from_the_wings_own_span(shop):
    ribs = shop.part("Left wing, aft ribs")
    before = steps(shop, ribs)["rub"]
    assert "19 pieces at 2 min each" in before["estimate"]  # 7.2 m at every 0.4 m, both ends
    form = shop.get(f"/parts/{shop.part('Left wing, upper skin')}/shape")
    shop.ask("PATCH", f"/shapes/{form['shape_id']}", retyped(form, at_2="8"))
    after = steps(shop, ribs)["rub"]
    assert "21 pieces at 2 min each" in after["estimate"]
    assert after["minutes"] == before["minutes"] + 4


def test_varnish_stands_half_an_hour_and_the_second_coat_waits_for_the_first(shop):
    ribs = shop.part("Left wing, aft ribs")
    found = steps(shop, ribs)
    assert found["coat-1/brush"]["state"] == "done"
    mixed, brushed = found["coat-2/mix"], found["coat-2/brush"]
    waits = datetime.fromisoformat(brushed["start"]) - datetime.fromisoformat(mixed["end"])
    assert waits >= timedelta(minutes=30)
    assert "then let it stand until" in mixed["words"]
    for kind in ("start", "finish"):
        note = {"id": str(uuid4()), "part_id": ribs, "step_key": "coat-2/mix", "kind": kind}
        shop.ask("POST", "/work", note, status=201)
    bench = shop.get("/today")["bench"]
    standing = next(row for row in bench if row["step_key"] == "coat-2/mix")
    assert standing["words"] == "Let it stand until 09:50."


def test_a_cup_of_another_kind_on_a_skin_is_kept_and_every_page_still_answers(shop):
    skin = shop.part("Left wing, upper skin")
    heron = next(p for p in shop.get("/bench")["products"] if p["name"] == "Heron glue")
    lids = {"sheet_id": heron["id"], "resin_lid": heron["resin_lid"], "hardener_lid": heron["hardener_lid"]}
    body = glue_cup(shop, shop.part("Rudder"), part_id=skin, step_key="skin-1/layup", **lids)
    shop.ask("POST", "/batches", body, status=201)
    view = shop.get(f"/parts/{skin}/times")
    assert "has no stage “peel” on its sheet" in view["left"][0]["why"]
    for path in ("/today", "/loom", "/cures", "/weather", "/airframe", f"/parts/{skin}"):
        assert shop.get(path)
    laid = {"part_id": skin, "step_key": "skin-1/layup", "heater": {"text": "25", "unit": "°C"}}
    assert shop.ask("POST", "/cures/what-if", laid)["sentence"]
