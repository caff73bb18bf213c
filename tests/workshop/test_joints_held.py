"""Joints beside all else: taken out, in a file, in bench mode with one cup, in Today, in the plan of another shop."""

import json
from datetime import datetime, timedelta

import pytest
from tests.conftest import MORNING, Shop, key_of
from tests.workshop.test_checks_and_gates import picture
from tests.workshop.test_joints import (
    ARM,
    BUSH,
    RIB_1,
    TUBE_IN,
    TUBE_OUT,
    joint,
    nose,  # noqa: F401  the fixture
    order_of,
    placed,
    said,
    say,
    tick,
)

from kiteloom.core.base.calendar import minute_of
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.parts import built_parts, steps_in_shop
from kiteloom.workshop.plan.plan import shop_plan

ODILE = stable_id("crew", "Odile")
PASTE = stable_id("sheet", "Heron 30 paste")


def hide(shop, name, hidden=True, status=200):
    part = shop.part(name)
    version = shop.get(f"/parts/{part}")["version"]
    return shop.ask("POST", f"/parts/{part}/hidden", {"version": version, "hidden": hidden}, status)


def exported(shop):
    return shop.client.get(f"/api/v1/airframes/{shop.get('/airframe')['id']}/file").text


def test_a_joint_or_a_fitting_that_is_taken_out_leaves_the_others_in_their_order(nose):  # noqa: F811
    before = [knot["name"] for knot in order_of(nose)["knots"]]
    hide(nose, TUBE_OUT)
    after = order_of(nose)
    assert [knot["name"] for knot in after["knots"]] == [name for name in before if name != TUBE_OUT]
    tube = next(thread for thread in after["threads"] if thread["name"] == "Left drag tube")
    assert tube["first"] == tube["last"]  # held at one end only, it is fixed at once
    hide(nose, TUBE_OUT, hidden=False)
    assert [knot["name"] for knot in order_of(nose)["knots"]] == before
    hide(nose, "Left drag tube")
    gone = next(knot for knot in order_of(nose)["knots"] if knot["name"] == TUBE_IN)
    assert "a part taken out" in gone["ties"]
    view = joint(nose, TUBE_IN)
    assert "that part is not there" in nose.refused("POST", f"/parts/{view['part_id']}/joint", said(view))["detail"]
    with nose.store.reading() as uow:
        assert shop_plan(uow, minute_of(MORNING)).plan.finish is not None


def test_what_contradicts_itself_after_all_is_named_where_it_is_planned_and_drawn(nose):  # noqa: F811
    # Nobody can say it so; a file of an older hand may.
    doc = json.loads(exported(nose))
    ids = {part["name"]: part["id"] for part in doc["parts"]}
    for row in doc["joints"]:
        if row["part"] == ids[BUSH]:
            row["after"] = [ids[RIB_1]]
    text = json.dumps(doc)
    looked = nose.ask("POST", "/airframes/file", {"text": text, "take": True, "replace": True})
    assert not looked["taken"]
    (refused,) = [row for row in looked["rows"] if row["what"] == "refused"]
    assert "Left rib 1 on the spar and Left bush in rib 1 contradict each other" in refused["words"][0]
    assert order_of(nose)["against"] == ""


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda row: row["faces"].pop(), "faces"),
        (lambda row: row["faces"][1].update(part=row["faces"][0]["part"]), "both its faces are of one part"),
        (lambda row: row["loose"].append("nowhere"), "it names “nowhere”, which is no part of the file"),
        (lambda row: row.update(fasteners={"kind": "magnet"}), "magnet"),
        (lambda row: row.update(glue="strong"), "glue"),
    ],
)
def test_a_file_whose_joints_can_not_be_is_refused_whole(nose, change, says):  # noqa: F811
    doc = json.loads(exported(nose))
    change(next(row for row in doc["joints"] if row["fasteners"]))
    found = nose.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True}, None)
    words = found.get("detail", "") + " ".join(" ".join(row["words"]) for row in found.get("rows", ()))
    assert says in words
    assert not found.get("taken")


def test_a_file_brings_joints_to_another_shop_and_says_what_differs_here(nose, tmp_path):  # noqa: F811
    text = exported(nose)
    assert json.loads(text)["version"] == 4
    empty_shop = Shop(tmp_path / "other")
    empty_shop.ask("POST", "/airframes/file", {"text": text, "take": True})
    assert exported(empty_shop) == text
    mine, theirs = (order_of(shop) for shop in (nose, empty_shop))
    assert [knot["name"] for knot in mine["knots"]] == [knot["name"] for knot in theirs["knots"]]
    links = []
    for shop in (nose, empty_shop):
        with shop.store.reading() as uow:
            links.append([(step.key, step.after) for step in steps_in_shop(built_parts(uow))])
    assert links[0] == links[1]
    empty_shop.close()
    say(nose, ARM, fasteners={})
    looked = nose.ask("POST", "/airframes/file", {"text": text})
    assert [(row["kind"], row["name"], row["what"]) for row in looked["rows"] if row["what"] != "same"] == [
        ("joint", ARM, "differs"),
    ]  # fmt: skip
    nose.ask("POST", "/airframes/file", {"text": text, "take": True, "replace": True})
    assert joint(nose, ARM)["fasteners"]["given"]
    # A file of before there were joints takes none away.
    old = {**json.loads(text), "version": 3}
    del old["joints"]
    nose.ask("POST", "/airframes/file", {"text": json.dumps(old), "take": True, "replace": True})
    assert len(order_of(nose)["knots"]) == 16


def mixed(shop, name, grams="12"):
    """A cup of paste for a joint."""
    body = {"id": key_of("cup", name), "part_id": shop.part(name), "step_key": "bond", "sheet_id": PASTE,
            "resin_lid": "Heron 30 A, white", "hardener_lid": "Heron 30 B, black", "wanted_g": 24,
            "resin": {"text": grams, "unit": "g"}, "hardener": {"text": grams, "unit": "g"}}  # fmt: skip
    return shop.ask("POST", "/batches", body, 201)


def sheet(shop, name, step="bond"):
    return shop.get(f"/run-sheet?part_id={shop.part(name)}&step_key={step}")


def test_in_bench_mode_the_cup_of_one_joint_counts_down_for_the_next_that_is_worked_with_it(nose):  # noqa: F811
    first, then = sheet(nose, TUBE_IN), sheet(nose, TUBE_OUT)
    assert [one["name"] for one in first["then"]] == [TUBE_OUT]
    assert first["then"][0]["id"] == f"{nose.part(TUBE_OUT)}/bond"
    assert (then["then"], then["use_by"], then["clamped"]) == ([], None, True)
    # Both reach into one mix only while neither was begun; the cup of the first is that of the second.
    mixed(nose, TUBE_IN)
    assert sheet(nose, TUBE_IN)["use_by"] is not None
    rows = [row["words"] for row in nose.get("/bench")["open"]] if "open" in nose.get("/bench") else []
    assert all("Heron" in words for words in rows)


def test_a_joint_that_is_together_counts_down_to_its_setting_and_has_its_photograph(nose):  # noqa: F811
    part = nose.part(BUSH)
    assert sheet(nose, BUSH)["sets_at"] is None
    work = {"id": "w", "part_id": part, "step_key": "bond", "kind": "start", "crew": [ODILE], "note": "looked at again"}
    nose.ask("POST", "/work", work, 201)
    assert sheet(nose, BUSH)["sets_at"] is None  # nothing is mixed yet
    batch = mixed(nose, BUSH)["id"]
    found = sheet(nose, BUSH)
    hours = (datetime.fromisoformat(found["sets_at"]) - MORNING).total_seconds() / 3600
    # Its sheet: 2.5 h at 23 °C, 5 h at 15; the shop has about 17.
    assert 2.5 < hours < 5
    assert (found["batch_id"], found["photos"]) == (batch, [])
    sent = nose.client.put(f"/api/v1/batches/{batch}/photos/p1", data=picture(), content_type="image/png")
    assert sent.status_code == 201
    assert sheet(nose, BUSH)["photos"] == ["p1"]
    nose.clock.at += timedelta(hours=6)
    assert sheet(nose, BUSH)["sets_at"] is None
    layup = nose.get(f"/run-sheet?part_id={nose.part('Left wing, lower skin')}&step_key=core/bed")
    assert layup["sets_at"] is None  # a core that is bedded is no joint


def test_a_small_joint_is_worth_a_cup_and_enough_is_enough(nose):  # noqa: F811
    part = nose.part(BUSH)
    for n, item in enumerate(("one/cut", "one/moisture", "one/dust", "other/degrease", "other/abrade", "other/wipe")):
        nose.clock.at = MORNING + timedelta(minutes=n)
        tick(nose, BUSH, item, at=nose.clock.at)
    nose.clock.at += timedelta(minutes=1)
    begun = {"id": "w0", "part_id": part, "step_key": "prepare", "kind": "start", "crew": [ODILE], "again": True}
    nose.ask("POST", "/work", begun, 201)
    nose.ask("POST", "/work", {**begun, "id": "w1", "kind": "finish", "again": False}, 201)
    nose.ask("POST", "/work", {**begun, "id": "w2", "step_key": "bond", "again": False}, 201)
    kinds = [action["kind"] for action in sheet(nose, BUSH)["actions"]]
    assert "mix" in kinds  # a gram and a tenth, and yet something must be mixed
    mixed(nose, BUSH, "0.6")
    assert "mix" not in [action["kind"] for action in sheet(nose, BUSH)["actions"]]
    assert sheet(nose, BUSH)["still"] == ""


def test_today_says_what_must_be_made_ready_again_and_starts_it_once_more(nose):  # noqa: F811
    today = json.dumps(nose.get("/today"))
    assert "Can't be planned" not in today
    again = placed(nose, BUSH, "prepare")
    assert again.begins > minute_of(MORNING)
    row = nose.get(f"/loom/step?part_id={nose.part(BUSH)}&step_key=prepare")
    start = next(action for action in row["actions"] if action["kind"] == "start")
    assert start["again"]
    work = {"id": "w", "part_id": start["part_id"], "step_key": "prepare", "kind": "start", "crew": []}
    assert "finished already" in nose.refused("POST", "/work", work)["detail"]
    nose.ask("POST", "/work", {**work, "again": True, "note": "wiped again"}, 201)
    assert placed(nose, BUSH, "prepare").state == "running"


def test_each_part_says_which_of_its_faces_are_to_be_glued(nose):  # noqa: F811
    faces = nose.get(f"/parts/{nose.part('Left nose rib 1')}")["faces"]
    assert {face["joint"] for face in faces} == {
        BUSH, RIB_1, "Left rib 1 on the tube", "Left nose strip on rib 1",
    }  # fmt: skip
    lower = next(face for face in faces if face["joint"] == BUSH)
    assert (lower["where"], lower["state"]) == ("the lower hole", "expired")
    assert lower["sentence"].startswith("expired: it was ready until Wed 13 May 23:15")
    # What was bonded is no face any more.
    sleeve = nose.get(f"/parts/{nose.part('Left tube sleeve')}")["faces"]
    assert sleeve == []


def test_an_airframe_does_not_ask_for_jobs_of_fittings_that_are_tied(nose):  # noqa: F811
    lacks = nose.get(f"/airframes/{nose.get('/airframe')['id']}/takes")["lacks"]
    assert not [words for words in lacks if "Left nose rib" in words or "bracket" in words]


def test_a_countersink_that_leaves_nothing_is_said(nose):  # noqa: F811
    fields = {field["field"]: field["text"] for field in joint(nose, ARM)["fasteners"]["fields"]}
    say(nose, ARM, fasteners={**fields, "countersunk": "yes", "one_mm": "0.8"})
    words = {check["words"]: check["holds"] for check in joint(nose, ARM)["fasteners"]["checks"]}
    through = "The countersink goes through the first side and leaves a knife edge: dimple it, or take a thicker one."
    assert words[through] is False
    say(nose, ARM, fasteners={**fields, "countersunk": "yes", "one_mm": "3"})
    assert "The countersink leaves 1.79 mm of the first side." in json.dumps(joint(nose, ARM), ensure_ascii=False)


def test_two_shops_of_one_folder_say_the_same_after_a_restart(nose):  # noqa: F811
    say(nose, BUSH, loose=[])
    before = (order_of(nose), joint(nose, BUSH))
    nose.reopen()
    assert (order_of(nose), joint(nose, BUSH)) == before
    assert isinstance(nose, Shop)


@pytest.mark.parametrize("units", ["metric", "us"])
def test_a_joint_is_said_in_the_units_of_the_shop(nose, units):  # noqa: F811
    nose.ask("PATCH", "/shop", {"version": nose.get("/shop")["version"], "units": units})
    part = nose.part(RIB_1)
    at, gap = ("4 in", "1/16 in") if units == "us" else ("100 mm", "1.6")
    fit = {"at": {"text": at, "unit": "m"}, "gap": {"text": gap, "unit": "mm"}}
    nose.ask("POST", f"/parts/{part}/dry-fits", {"id": "u", "gaps": [fit]}, 201)
    (row,) = joint(nose, RIB_1)["gaps"]
    assert row == ({"at": "4 in", "gap": "0.062 in", "wide": False} if units == "us" else
                   {"at": "0.100 m", "gap": "1.60 mm", "wide": False})  # fmt: skip
    fit = joint(nose, RIB_1)["fit"]
    assert ("it fills" in fit) is False
    assert ("Heron 30 paste fills 0.118 in." if units == "us" else "Heron 30 paste fills 3.00 mm.") in fit
