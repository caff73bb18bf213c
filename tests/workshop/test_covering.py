"""Covering in the shop: chosen by its sheets, planned, gated, ironed by this iron's dial; in US units too."""

from datetime import timedelta
from itertools import pairwise

import pytest
from tests.conftest import MORNING

from kiteloom.workshop.base.ids import stable_id


def jobs(shop, part):
    return {job["key"]: job for job in shop.get(f"/parts/{shop.part(part)}")["jobs"]}


def test_a_frame_is_covered_by_the_school_of_its_cloth_planned_gated_and_weighed(whole):
    rudder = whole.part("Rudder")
    steps = [step for step in whole.get(f"/parts/{rudder}/times")["steps"] if step["job"] == "j2"]
    assert [step["key"] for step in steps][2:6] == ["j2:cement", "j2:slack", "j2:finish", "j2:first"]
    assert all(one["end"] <= other["start"] for one, other in pairwise(steps))
    assert "Iron at 177.0 °C." in next(step for step in steps if step["key"] == "j2:finish")["caution"]
    takes = {row["label"]: row["value"] for row in whole.get(f"/parts/{rudder}/mix?job=j2")["supplies"]}
    assert takes["stitches"] * 0.15 == pytest.approx(takes["lacing cord"])
    assert {"Linden 70, plain", "Rush covering cement", "Rush clear coat", "reinforcing tape"} <= set(takes)
    assert whole.get(f"/parts/{rudder}/mix?job=j2")["needs"] == []  # nothing of it is mixed
    gates = {row["part"]: row for row in whole.get("/gates")["gates"]}
    assert gates["Rudder"]["left"][0] == "Rudder: glued wood frame"
    assert gates["Fin"]["left"][:2] == ["Fin: glued wood frame", "Fin: two coats of varnish"]


@pytest.mark.parametrize(
    ("role", "sheet", "says"),
    [
        (
            "cloth",
            "Linden 92, cream",
            "Linden 92, cream belongs to the school of pre-finished; this is covering by",
        ),
        ("cement", "Rush heat-set adhesive", "Rush heat-set adhesive belongs to the school of pre-finished"),
    ],
)
def test_what_belongs_to_the_other_school_is_said_and_what_was_chosen_stays(whole, role, sheet, says):
    rudder = whole.part("Rudder")
    job = whole.get(f"/parts/{rudder}/job?job=j2")
    before = next(row["sheet_id"] for row in job["roles"] if row["role"] == role)

    def choose(sheet_id):
        version = whole.get(f"/parts/{rudder}/job?job=j2")["version"]
        body = {"job": "j2", "version": version, "products": {role: sheet_id}}
        return whole.ask("PATCH", f"/parts/{rudder}/job", body)

    choose(stable_id("sheet", sheet))
    assert says in "; ".join(whole.get(f"/parts/{rudder}/job?job=j2")["cant"])
    choose(before)
    assert whole.get(f"/parts/{rudder}/job?job=j2")["cant"] == []


def test_an_iron_is_calibrated_and_its_dial_stands_on_the_run_sheet(whole):
    fin = whole.part("Fin")
    sheet = f"/run-sheet?part_id={fin}&step_key=j3:finish"
    assert whole.get(sheet)["heats"] == [
        {"words": "at", "temperature": "155.0 °C", "dials": ["The small iron: dial 4.2"]}
    ]
    tapes = whole.get(f"/run-sheet?part_id={fin}&step_key=j3:tapes")
    assert [heat["words"] for heat in tapes["heats"]] == ["to tack at", "to finish at", "below"]
    assert [item["key"] for item in tapes["items"]] == ["ready", "edges", "ribs", "openings", "look"]
    body = {"id": "big", "version": 0, "name": "The big iron"}
    for _ in range(2):  # pressed twice
        whole.ask("POST", "/irons", body)
    assert "was never calibrated: read it with a thermometer first" in whole.get(sheet)["heats"][0]["dials"][0]
    path = "/irons/big/readings"
    cold = {"id": "r", "dial": {"text": "2", "unit": ""}, "reads": {"text": "9", "unit": "°C"}}
    cold = whole.refused("POST", path, cold)
    assert "the iron is 9.0 °C; it is read from 20.0 °C to 300.0 °C" in cold["detail"]
    for dial, reads in ((200, "190 °C"), (300, "570 °F")):
        read = {"id": f"r{dial}", "dial": {"text": str(dial), "unit": ""}, "reads": {"text": reads, "unit": "°C"}}
        whole.ask("POST", path, read, 201)
    assert whole.get(sheet)["heats"][0]["dials"][0].startswith("The big iron: dial 167.9, drawn on beyond the 190.0 °C")
    whole.ask("POST", "/taken-back", {"id": "t", "what": "iron reading", "of_id": "r300"}, 201)
    (big, small) = whole.get("/irons")["irons"]
    assert big["sentence"].startswith("Not calibrated yet: 1 readings")
    asked = {(row["product"], row["what"], row["temperature"]) for row in small["asked"]}
    assert ("Linden edge tape", "tack", "90.0 °C") in asked
    whole.clock.at += timedelta(days=40)
    assert "days ago: read it again first" in whole.get("/irons")["irons"][1]["asked"][0]["dial"]
    whole.clock.at = MORNING
