"""A part built by several jobs: added, given, moved, taken out; facts of the house before are all still there."""

from __future__ import annotations

import json
import re
import sqlite3
from datetime import timedelta
from uuid import uuid4

import pytest
from tests.conftest import MORNING, Shop
from tests.golden import unpacked
from tests.workshop.test_work_and_alerts import note, steps

from kiteloom.core.base.calendar import minute_of
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.build.parts import built_parts
from kiteloom.workshop.plan.kept import accepted
from kiteloom.workshop.plan.plan import shop_plan

FACTS = ("batch", "batch_note", "delivery", "heating", "part_place", "part_temperature", "pin", "tick", "witness",
         "work")  # fmt: skip


def jobs(shop, part):
    return {job["key"]: job for job in shop.get(f"/parts/{part}")["jobs"]}


def change(shop, part, job, status=200, **what):
    body = {"job": job, "version": shop.version(part, job), **what}
    return shop.ask("PATCH", f"/parts/{part}/job", body, status)


def planned(shop):
    with shop.store.reading() as uow:
        return shop_plan(uow, minute_of(shop.clock.at))


@pytest.fixture
def before(tmp_path):
    """A data folder the program wrote when a part had one way of building."""
    shop = Shop(unpacked(tmp_path / "before"))
    yield shop
    shop.store.close()


def test_a_folder_of_the_house_before_opens_with_every_fact_at_its_step(before, tmp_path):
    raw = sqlite3.connect(unpacked(tmp_path / "raw") / "kiteloom.sqlite3")
    with before.store.reading() as uow:
        built = {part.id: {step.key for step in part.steps} for part in built_parts(uow)}
        connection = uow.session.connection()
        for table in FACTS:
            columns = [row[1] for row in raw.execute(f"PRAGMA table_info({table})")]
            old = raw.execute(f"SELECT * FROM {table} ORDER BY id").fetchall()
            new = connection.exec_driver_sql(f"SELECT * FROM {table} ORDER BY id").fetchall()
            assert old, f"the folder has no {table}"
            assert [tuple(row)[: len(columns)] for row in new] == old, table  # not a letter of a fact is touched
            assert {word for row in new for word in row[len(columns) :]} <= {"", "{}", None}, table
            if "step_key" in columns:
                part, step = columns.index("surface_id"), columns.index("step_key")
                lost = {(row[part], row[step]) for row in old if row[part] and row[step] not in built[row[part]]}
                assert {key for _, key in lost} <= {"own/gone", "turn/1/upper side up", ""}
        # What was read of a twist is a check now: at the same time, as it was read.
        twists = raw.execute("SELECT id, found, happened_at FROM reading ORDER BY id").fetchall()
        moved = connection.exec_driver_sql('SELECT id, "values", happened_at FROM measured ORDER BY id').fetchall()
        assert twists
        assert [(key, json.loads(values)[0], at) for key, values, at in moved] == twists
        assert connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall() == []
    # What was noted of a step that is not there any more is still shown.
    ribs = before.part("Left wing, aft ribs")
    assert any("Number the ribs" in words for words in before.get(f"/parts/{ribs}/times")["gone"])
    with before.store.reading() as uow:
        keys = {row["key"] for row in accepted(uow).rows}
    there = {step.key for part in planned(before).parts.values() for step in part.in_shop}
    assert {key for key in keys if ":turn/" not in key} <= there  # the accepted plan points at its steps too


def test_a_migration_that_stops_half_way_leaves_the_folder_as_it_was(tmp_path, monkeypatch):
    folder = unpacked(tmp_path / "half")
    from alembic import op

    real = op.execute

    def stops(statement, *more):
        if "DROP TABLE design" in str(statement):
            raise KeyboardInterrupt
        return real(statement, *more)

    monkeypatch.setattr(op, "execute", stops)
    with pytest.raises(KeyboardInterrupt):
        Store(folder)
    raw = sqlite3.connect(folder / "kiteloom.sqlite3")
    assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == ("0005",)
    assert raw.execute("SELECT count(*) FROM surface").fetchone()[0] == 11
    raw.close()
    monkeypatch.undo()
    shop = Shop(folder)  # and the next start takes it whole
    assert shop.get("/today")["sentence"]
    shop.store.close()


def test_a_stage_taken_off_a_sheet_holds_only_what_waits_for_it_and_says_so(shop):
    resin = next(
        p for g in shop.get("/shelf")["groups"] for p in g["products"] if p["name"] == "Tarn 210 with 214 slow"
    )
    sheet = shop.get(f"/shelf/{resin['id']}")
    stages = [row for row in sheet["stages"]["rows"] if row["name"] != "sand"]
    body = {"version": sheet["version"], "kind": sheet["kind"], "name": sheet["name"],
            "texts": {f["key"]: f["text"] for f in sheet["fields"]}, "temps": sheet["stages"]["temps"],
            "stages": stages}  # fmt: skip
    shop.ask("PATCH", f"/shelf/{resin['id']}", body)
    for page in ("/today", "/loom", "/airframe", "/cures", "/weather"):
        shop.get(page)
    skin, rudder = shop.part("Left wing, upper skin"), shop.part("Rudder")
    (held,) = jobs(shop, skin).values()
    assert held["state"] == "can't be made"
    assert "Tarn 210 with 214 slow has no stage “sand” on its sheet" in held["sentence"]
    assert jobs(shop, rudder)[""]["state"] == "now"
    left = {u.step.part for u in planned(shop).plan.unplaced}
    assert skin in left
    assert rudder not in left
    # The witnesses of what was mixed are still there, and everything noted of it.
    assert shop.get(f"/parts/{shop.part('Left wing, lower skin')}/times")["gone"] != []


def test_a_part_is_built_by_its_jobs_in_order_each_with_its_own_product(shop):
    aileron = shop.part("Left aileron")
    assert [job["name"] for job in jobs(shop, aileron).values()] == [
        "foam core skinned on two sides", "filling and fairing", "priming",
    ]  # fmt: skip
    plan = planned(shop).plan.by_key
    ends = [plan[f"{aileron}:{key}"] for key in ("edges", "j2:check", "j3:look")]
    begins = [plan[f"{aileron}:{key}"] for key in ("core", "j2:look", "j3:ready")]
    assert all(end.end <= begin.start for end, begin in zip(ends, begins[1:], strict=False))
    products = {job: shop.get(f"/parts/{aileron}/mix?job={job}")["product"]["name"] for job in ("", "j2", "j3")}
    assert products == {"": "Tarn 210 with 214 slow", "j2": "Heron 35 fairing paste", "j3": "Sallow primer"}
    for job, losses in (("", 3), ("j2", 1), ("j3", 1)):
        view = shop.get(f"/parts/{aileron}/mix?job={job}")
        assert all(need["left_g"] > 0 for need in view["needs"])
        assert len(view["losses"]) == losses
    grams = shop.get(f"/run-sheet?part_id={aileron}&step_key=j2:fill-1/spread")["budget_g"]
    assert grams == pytest.approx(shop.get(f"/parts/{aileron}/mix?job=j2")["needs"][0]["left_g"])
    assert shop.get(f"/parts/{aileron}")["hand"] == "left"
    assert shop.get(f"/parts/{shop.part('Rudder')}")["hand"] == "centre"
    right = shop.get(f"/parts/{shop.part('Right aileron')}/plies")
    assert right["code"] == shop.get(f"/parts/{aileron}/plies")["code"].replace("45", "-45").replace("--", "-")
    # Its ply book can be seen and weighed, whatever lays it up.
    cap = shop.get(f"/parts/{shop.part('Left wing, spar cap')}/plies")
    assert len(cap["plies"]) == 8
    assert cap["figures"]


def test_a_later_job_waits_for_the_reading_of_the_one_before_and_makes_nothing_of_it_done(shop):
    aileron = shop.part("Left aileron")
    late = {"part_id": aileron, "step_key": "j2:look", "kind": "finish"}
    shop.ask("POST", "/work", {"id": "late", **late}, 201)
    found = steps(shop, aileron)
    assert found["j2:look"]["state"] == "done"
    assert found["bottom/layup"]["state"] == "to do"  # a fill noted too soon makes no skin
    product = shop.get(f"/parts/{aileron}/mix?job=")["product"]
    cup = {"part_id": aileron, "step_key": "bottom/layup", "sheet_id": product["id"], "wanted_g": 128,
           "resin_lid": product["resin_lid"], "hardener_lid": product["hardener_lid"],
           "resin": {"text": "100", "unit": "g"}, "hardener": {"text": "28", "unit": "g"}}  # fmt: skip
    shop.ask("POST", "/batches", {"id": "cup", **cup}, 201)
    shop.clock.at += timedelta(days=3)
    start = {"id": "soon", "part_id": aileron, "step_key": "edges", "kind": "start"}
    assert "is not released" in shop.refused("POST", "/work", start)["detail"]


def test_a_job_is_added_given_moved_taken_out_and_put_back(shop):
    flap = shop.part("Left flap, upper skin")
    add = {"id": str(uuid4()), "recipe": "prime", "after": ""}
    shop.ask("POST", f"/parts/{flap}/jobs", add, 201)
    shop.ask("POST", f"/parts/{flap}/jobs", add, 201)  # pressed twice
    assert list(jobs(shop, flap)) == ["", "j2"]
    # The shelf has one primer: it is taken, and the job is planned at once.
    assert jobs(shop, flap)["j2"]["state"] == "ahead"
    assert planned(shop).plan.by_key[f"{flap}:j2:coat-1"].start > planned(shop).plan.by_key[f"{flap}:trim"].end
    form = shop.get(f"/parts/{flap}/job?job=j2")
    assert [(f["field"], f["text"], f["assumed"]) for f in form["given"]] == [
        ("coats", "2", True), ("method", "roller", True), ("pinholes", "filled after the first coat", True),
    ]  # fmt: skip
    change(shop, flap, "j2", given={"coats": "1"})
    assert f"{flap}:j2:coat-2" not in planned(shop).plan.by_key
    for given, words in (
        ({"coats": "5"}, "Coats is 5; it can't be above 2"),
        ({"coats": "1.5"}, "Coats is 1.5; a whole number is wanted"),
        ({"method": "bucket"}, "“bucket” is not one of roller, spray"),
        ({"colour": "red"}, "“colour” is not asked here"),
    ):
        assert words in change(shop, flap, "j2", 422, given=given)["detail"]
    glue = next(p for p in shop.get("/bench")["products"] if p["name"] == "Heron glue")
    said = change(shop, flap, "j2", 422, products={"primer": glue["id"]})["detail"]
    assert "Heron glue is a wood glue; primer is wanted" in said
    # Two browsers move the same job: the later one is told.
    stale = {"job": "j2", "version": shop.version(flap, "j2"), "move": "sooner"}
    shop.ask("PATCH", f"/parts/{flap}/job", stale)
    assert list(jobs(shop, flap)) == ["j2", ""]
    told = shop.ask("PATCH", f"/parts/{flap}/job", stale, 409)
    assert any("priming put before bagged sandwich skin" in words for words in told["changed"])
    change(shop, flap, "j2", move="later")
    # With facts it is hidden, not lost, and what was noted shows; put back, it is as it was.
    note(shop, flap, "j2:ready", "finish")
    change(shop, flap, "j2", hidden=True)
    assert list(jobs(shop, flap)) == [""]
    assert any("Sand, blow off, wipe, mask" in words for words in shop.get(f"/parts/{flap}/times")["gone"])
    hidden = shop.get(f"/parts/{flap}")["hidden"][0]
    shop.ask("PATCH", f"/parts/{flap}/job", {"job": "j2", "version": hidden["version"], "hidden": False})
    assert steps(shop, flap)["j2:ready"]["state"] == "done"
    # A key is never used again.
    shop.ask("POST", f"/parts/{flap}/jobs", {"id": str(uuid4()), "recipe": "fair", "after": ""}, 201)
    assert list(jobs(shop, flap)) == ["", "j3", "j2"]


def test_the_ply_book_of_a_job_that_lacks_something_is_kept_and_seen(shop):
    flap = shop.part("Left flap, upper skin")
    shop.ask("POST", f"/parts/{flap}/jobs", {"id": "cap", "recipe": "cap", "after": ""}, 201)
    empty = shop.get(f"/parts/{flap}/plies?job=j2")
    assert empty["plies"] == []
    rows = [{"cloth_id": empty["cloths"][0]["id"], "angle": {"text": str(angle), "unit": "°"}} for angle in (0, 45)]
    shop.ask("PUT", f"/parts/{flap}/plies", {"job": "j2", "version": empty["version"], "plies": rows})
    assert jobs(shop, flap)["j2"]["state"] == "can't be made"  # nobody has said how long it is
    assert [ply["angle_deg"] for ply in shop.get(f"/parts/{flap}/plies?job=j2")["plies"]] == [0, 45]


def test_a_job_of_one_part_alone_is_not_its_mirror_images(shop):
    left, right = shop.part("Left aileron"), shop.part("Right aileron")
    shop.ask("POST", f"/parts/{left}/jobs", {"id": "own", "recipe": "fair", "after": "j3", "alone": True}, 201)
    shop.ask("POST", f"/parts/{left}/jobs", {"id": "both", "recipe": "fair", "after": "j3"}, 201)
    assert list(jobs(shop, left)) == ["", "j2", "j3", "j5", "j4"]
    assert list(jobs(shop, right)) == ["", "j2", "j3", "j5"]


def test_what_can_not_be_made_is_said_by_name_and_nothing_else_suffers(shop):
    flap = shop.part("Left flap, upper skin")
    shop.ask("POST", f"/parts/{flap}/jobs", {"id": "x", "recipe": "bond", "after": ""}, 201)
    made = jobs(shop, flap)["j2"]
    assert made["state"] == "can't be made"
    assert "not given yet: Length of the glue line, Width of the glue line" in made["sentence"]
    assert shop.get(f"/parts/{flap}/job?job=j2")["cant"] != []
    with shop.store.engine.begin() as raw:
        raw.exec_driver_sql("UPDATE job SET recipe = 'weaving' WHERE id = 'x'")
        raw.exec_driver_sql("UPDATE design SET shape_id = NULL WHERE name = 'Rudder frame'")
        raw.exec_driver_sql("INSERT INTO change (topic, ref) VALUES ('design', 'x')")
    assert "“weaving” is not a way of building here" in jobs(shop, flap)["j2"]["sentence"]
    rudder = shop.part("Rudder")
    assert "the part has no shape yet" in jobs(shop, rudder)[""]["sentence"]
    assert "has no shape yet" in shop.ask("GET", f"/parts/{rudder}/shape", status=422)["detail"]
    assert "has no ply book" in shop.ask("GET", f"/parts/{rudder}/plies", status=422)["detail"]
    for page in ("/today", "/airframe", "/loom", "/crew", f"/parts/{flap}/times", f"/parts/{flap}/mix"):
        shop.ask("GET", page if page != "/crew" else "/people")
    assert planned(shop).plan.placed
    odd = {"id": "odd", "part_id": flap, "step_key": "j2:\u0000:/../'", "kind": "start"}
    assert re.search("is not a step of|can't be written", shop.refused("POST", "/work", odd)["detail"])
    own = {"version": shop.version(flap), "id": "a:b", "name": "Odd", "after": "trim", "people": 1,
           "minutes": {"text": "5", "unit": "min"}, "wait": {"text": "0", "unit": "min"}}  # fmt: skip
    assert "an id has 1 to 64 letters" in shop.refused("POST", f"/parts/{flap}/steps", own)["detail"]


def test_a_station_set_up_on_the_crew_page_serves_as_what_steps_ask_for(empty_shop):
    shop = empty_shop
    from kiteloom.demo.reedling import found_shop

    with shop.store.writing() as uow:
        found_shop(uow, MORNING)
    say = {"id": "o", "low": {"text": "18", "unit": "°C"}, "high": {"text": "22", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", say, 201)
    with shop.store.engine.begin() as raw:
        raw.exec_driver_sql("UPDATE station SET hidden_at = '2026-05-14 00:00:00' WHERE id = 'jig'")
        raw.exec_driver_sql("INSERT INTO change (topic, ref) VALUES ('crew', 'jig')")
    view = shop.get("/people")
    assert [(one["kind"], one["words"]) for one in view["unserved"]] == [("jig", "Asked for by Rudder")]
    rudder = shop.part("Rudder")
    assert steps(shop, rudder)["fit"]["unserved"] == ["jig"]
    made = {"id": str(uuid4()), "name": "Rudder jig", "capacity": 1, "serves": ["jig", "bench"]}
    shop.ask("POST", "/stations", made)
    assert shop.get("/people")["unserved"] == []
    fit = planned(shop).plan.by_key[f"{rudder}:fit"]
    assert fit.step.stations == (made["id"],)
    again = {**made, "id": str(uuid4())}
    assert "“Rudder jig” is set up already" in shop.refused("POST", "/stations", again)["detail"]
    assert (
        "“oven” is nothing a step asks for"
        in shop.refused("POST", "/stations", {**made, "id": "o", "name": "Oven", "serves": ["oven"]})["detail"]
    )
    # Two that serve as the same in the same air stand for each other.
    shop.ask("POST", "/stations", {"id": "b2", "name": "Window bench", "capacity": 1, "serves": ["bench"]})
    bench = next(s for s in planned(shop).input.stations if "bench" in s.name.lower() and s.serves == ("bench",))
    assert (bench.capacity, bench.name) == (3, "The bench or Window bench")
