"""Airframes and parts founded: named, shaped, copied, mirrored, differing, taken out and back; and as a file."""

import json
from datetime import timedelta
from pathlib import Path

import jsonschema
import pytest
from tests.conftest import Shop, key_of
from tests.shapes import retyped

from kiteloom import cli
from kiteloom.demo.products import SHEETS
from kiteloom.formats.airframe_file import VERSION, airframe_schema
from kiteloom.formats.sheet_files import FileSheet, write_json
from kiteloom.workshop.build.parts import built_part

DOCS = Path(__file__).parents[2] / "docs" / "formats"
LOFT = {
    "kind": "loft",
    "stations": [{"at": "0", "chord": "1.2", "section": {"naca": "2412"}}, {"at": "3", "chord": "1.2", "twist": "-2"}],
    "ribs": {"where": "every 250 mm", "width": "8 mm", "edge": "25 mm"},
}


@pytest.fixture
def shed(empty_shop):
    """An empty shop with air, products and an airframe to be founded."""
    shop = empty_shop
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "name": "The shed", "zone": "Europe/Vienna"})
    say = {"id": key_of("air"), "low": {"text": "16", "unit": "°C"}, "high": {"text": "22", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", say, status=201)
    sheets = write_json([FileSheet(kind, name, says) for kind, name, says in SHEETS])
    shop.ask("POST", "/shelf/import", {"text": sheets, "take": True})
    shop.ask("POST", "/airframes", {"id": "warbler", "name": "Warbler"}, 201)
    return shop


def found(shop, key, name, status=201, **more):
    body = {"id": key, "name": name, "airframe_id": "warbler", "assembly": "Wing", **more}
    return shop.ask("POST", "/airframes/parts", body, status)


def parts(shop, airframe=""):
    view = shop.get(f"/airframe?id={airframe}")
    return {part["name"]: part for assembly in view["assemblies"] for part in assembly["parts"]}


def steps(shop, part):
    return [step["key"] for step in shop.get(f"/parts/{part}/times")["steps"]]


def add(shop, part, key, recipe, **more):
    shop.ask("POST", f"/parts/{part}/jobs", {"id": key, "recipe": recipe, **more}, 201)


def test_the_first_morning_asks_one_thing_at_a_time_and_again_what_is_missed(empty_shop):
    shop = empty_shop
    assert shop.get("/shop")["name"] == ""

    def asks():
        morning = shop.get("/today")["morning"]
        return morning["next"] and morning["next"]["matter"], [one["matter"] for one in morning["missed"]]

    assert asks() == ("people", [])
    shop.ask("POST", "/shop/later", {"matter": "people"})
    assert asks() == ("stations", [])
    shop.ask("POST", "/shop/later", {"matter": "stations"})
    shop.ask("POST", "/shop/later", {"matter": "air"})
    assert asks() == ("airframe", [])
    assert "can't be put off" in shop.refused("POST", "/shop/later", {"matter": "airframe"})["detail"]
    shop.ask("POST", "/airframes", {"id": "warbler", "name": "Warbler"}, 201)
    assert asks() == ("part", [])
    found(shop, "panel", "Wing panel", shape=LOFT)
    assert asks() == ("job", [])
    add(shop, "panel", "job-1", "frame")
    # Nothing else is left to say: without air there is no plan, so that is asked now; the rest is offered beside it.
    assert asks() == ("air", ["people", "stations"])
    say = {"id": key_of("air"), "low": {"text": "16", "unit": "°C"}, "high": {"text": "22", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", say, status=201)
    assert asks() == (None, ["people", "stations"])
    assert "choose a wood glue first" in shop.get("/today")["sentence"]


def test_both_share_all_a_copy_nothing_and_one_may_differ(shed):
    found(
        shed, "left", "Wing panel", hand="both", other_id="right", shape=LOFT, place={"aft_m": "1.3", "side_m": "0.6"}
    )
    glue = next(sheet for sheet in shed.get("/bench")["products"] if sheet["name"] == "Heron glue")["id"]
    add(shed, "left", "job-1", "frame", products={"glue": glue}, given={"stringers": "2"})
    assert steps(shed, "left") == steps(shed, "right") != []
    assert "26 joints" in shed.get("/parts/left/times")["steps"][1]["estimate"]  # 13 ribs of its shape
    here = parts(shed)
    assert set(here) == {"Left wing panel", "Right wing panel"}
    mirrored = [[[-side, aft] for side, aft in ring] for ring in here["Left wing panel"]["in_plan"]]
    assert mirrored == here["Right wing panel"]["in_plan"] != []

    # A copy has a shape and jobs of its own; the mirror image of a left part is there already.
    shed.ask("POST", "/parts/left/copy", {"id": "copy", "how": "copy", "name": "Spare panel"}, 201)
    assert "is the mirror image" in shed.refused("POST", "/parts/left/copy", {"id": "m", "how": "mirror"})["detail"]
    shape = shed.get("/parts/copy/shape")
    shed.ask("PATCH", f"/shapes/{shape['shape_id']}", retyped(shape, at_2="2"))
    assert shed.get("/parts/left/shape")["typed"]["stations"][1]["at"] == "3 m"
    assert steps(shed, "copy") == steps(shed, "left")

    # Work on the right one stays done when it differs: its jobs keep their keys.
    shed.ask("POST", "/work", {"id": "w1", "part_id": "right", "step_key": "j2:cut", "kind": "finish"}, 201)
    shed.ask("POST", "/parts/right/differ", {"version": shed.get("/parts/right")["version"]})
    assert "shares nothing" in shed.refused("POST", "/parts/right/differ", {"version": 2})["detail"]
    shed.ask("PATCH", "/parts/right/job", {"job": "j2", "version": 1, "given": {"stringers": "0"}})
    assert len(steps(shed, "right")) == len(steps(shed, "left")) - 1
    done = {step["key"]: step["state"] for step in shed.get("/parts/right/times")["steps"]}
    assert done["j2:cut"] == "done"


def test_what_is_taken_out_is_not_planned_keeps_its_facts_and_comes_back(shop, left_upper):
    lower = shop.part("Left wing, lower skin")
    names = set(parts(shop))

    def hide(part, hidden, status=200):
        version = shop.get(f"/parts/{part}")["version"]
        return shop.ask("POST", f"/parts/{part}/hidden", {"version": version, "hidden": hidden}, status)

    shop.ask("POST", "/work", {"id": "w1", "part_id": left_upper, "step_key": "prepare", "kind": "start"}, 201)
    assert "is being worked on" in hide(left_upper, True, 422)["detail"]
    hide(lower, True)
    assert names - set(parts(shop)) == {"Left wing, lower skin"}
    gone = shop.get("/airframe")["hidden"]
    assert [one["name"] for one in gone] == ["Left wing, lower skin"]
    assert "stays in the record" in gone[0]["words"]
    for path in ("/today", "/loom", "/cures", "/bench", "/weather", "/shelf", "/people", f"/parts/{lower}"):
        shop.get(path)  # every page goes on without it, though cups of it are on the shelf and cure
    assert shop.get(f"/parts/{lower}")["taken_out"]
    assert "taken out" in shop.ask("GET", f"/parts/{lower}/times", status=422)["detail"]
    mixed = len(shop.get(f"/parts/{lower}/mix")["batches"])
    shop.clock.at += timedelta(days=40)
    hide(lower, False)  # what has facts is never lost
    assert set(parts(shop)) == names
    assert len(shop.get(f"/parts/{lower}/mix")["batches"]) == mixed > 0


BAD = [
    ({"name": "wing PANEL"}, "name", "there is a part of Warbler called “wing PANEL” already"),
    ({"name": "  "}, "name", "the name is empty"),
    ({"name": "Fin", "assembly": " "}, "assembly", "the assembly is not named yet"),
    ({"name": "Fin", "hand": "both"}, "other_id", "two are wanted"),
    ({"name": "Fin", "shape_of": "bare"}, "shape_of", "Bare has no shape yet"),
    ({"name": "Fin", "place": {"side_m": "1"}}, "aft_m", "is not given yet"),
    ({"name": "Fin", "place": {"aft_m": "far"}}, "aft_m", "“far” isn't understood"),
    (
        {"name": "Fin", "shape": {"kind": "strips", "strips": [{"at": "1", "across": "1"}] * 2}},
        "strips.1.at_m",
        "beyond",
    ),
    (
        {"name": "Fin", "shape": {"kind": "pieces", "pieces": [{"name": "rib", "count": "9"}]}},
        "pieces.0.length_m",
        "rib",
    ),
    ({"name": "Fin", "shape": {"kind": "pieces", "pieces": [{"name": "rib", "count": "x"}]}}, "pieces.0.count", "“x”"),
    ({"name": "Fin", "shape": {"kind": "outline", "outline": {"points": "0 0\n9 9\n9 0\n0 9"}}}, "outline", "x 4.5"),
    ({"name": "Fin", "shape": {"kind": "outline", "outline": {"svg": "<svg", "unit": "mm"}}}, "outline", "no SVG"),
    ({"name": "Fin", "shape": {**LOFT, "ribs": {"where": "every 0 mm"}}}, "ribs", "apart"),
    ({"name": "Fin", "shape": {**LOFT, "ribs": {"where": "0; 9 m"}}}, "ribs", "outside the span"),
]


@pytest.mark.parametrize(("body", "field", "named"), BAD)
def test_a_part_that_cannot_be_is_refused_by_field_and_nothing_is_founded(shed, body, field, named):
    found(shed, "panel", "Wing panel")
    found(shed, "bare", "Bare")
    problem = found(shed, "fin", status=422, **{"name": "Fin", **body})
    assert problem["errors"][0]["field"] == field
    assert named in problem["errors"][0]["sentence"]
    assert set(parts(shed)) == {"Wing panel", "Bare"}
    found(shed, "panel", "Wing panel")  # pressed twice: once
    assert len(parts(shed)) == 2


def test_a_look_draws_what_is_typed_shows_where_it_fails_and_keeps_nothing(shed):
    def look(**shape):
        return shed.ask("POST", "/shapes/look", {"shape": shape})

    drawn = look(**LOFT)["drawing"]
    figures = {figure["key"]: figure["value"] for figure in drawn["figures"]}
    assert (figures["ribs"], len(drawn["ribs"])) == (13, 13)
    assert figures["landing"] == pytest.approx(13 * 1.2 * 1.03 * 0.008 + (6 + 2 * 1.2 * 1.03) * 0.025, rel=0.01)
    open_ = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9"><path d="M0 0h9v9h-8"/></svg>'
    unread = look(kind="outline", outline={"svg": open_})["unread"]
    assert "from x 0, y 0 mm to x 1, y -9 mm it is 9.055 mm open" in unread["sentence"]
    assert (len(unread["places"]), len(unread["lines"])) == (2, 1)
    assert parts(shed) == {}


def test_a_job_is_looked_at_before_it_is_kept_and_only_what_the_shape_allows_is_offered(shed):
    ribs = {
        "kind": "pieces",
        "pieces": [{"name": "rib", "count": "20", "length": "1100", "width": "90", "thickness": "6"}],
    }
    found(shed, "ribs", "Wing ribs", shape=ribs)
    unfit = {way["key"]: way["unfit"] for way in shed.get("/parts/ribs")["ways"]}
    assert unfit["varnish"] == ""
    assert unfit["skin"] == "its shape is like pieces; by stations or flat outline or measured strips is wanted"
    look = shed.ask("POST", "/parts/ribs/jobs/look", {"recipe": "varnish"})
    assert look["cant"] == []
    assert look["roles"][0]["sheet_id"]  # the only varnish on the shelf
    assert any("of Sallow varnish" in words for words in look["amounts"])
    assert steps(shed, "ribs") == []
    add(shed, "ribs", "job-1", "varnish")
    assert len(steps(shed, "ribs")) == len(look["steps"])
    missing = shed.ask("POST", "/parts/ribs/jobs/look", {"recipe": "bond", "given": {"length_m": "2"}})
    assert "Width of the glue line" in missing["cant"][0]
    wrong = shed.refused("POST", "/parts/ribs/jobs/look", {"recipe": "bond", "given": {"length_m": "900"}})
    assert "can't be above 200 m" in wrong["detail"]


def test_a_shape_is_given_later_and_an_edit_moves_all_that_rests_on_it(shed):
    found(shed, "panel", "Wing panel")
    add(shed, "panel", "job-1", "frame", given={"rib_pitch_m": "300 mm"})
    assert "no shape yet" in parts(shed)["Wing panel"]["sentence"]
    shed.ask("POST", "/airframes/parts/panel/shape", {"id": "s1", "shape": LOFT}, 201)
    assert "no shape" not in parts(shed)["Wing panel"]["sentence"]
    found(shed, "skin", "Upper skin", side="upper", shape_of="panel")
    assert shed.get("/parts/skin/shape")["decides"] == ["Wing panel", "Upper skin"]


def test_a_copy_takes_no_mend_along_and_who_comes_back_finds_the_name_taken(shop):
    left = shop.part("Left wing, lower skin")
    who = shop.get("/bench")["crew"][0]["id"]
    spot = {"id": "d1", "part_id": left, "kind": "dry spot", "words": "a hand wide", "crew_member_id": who}
    shop.ask("POST", "/deviations", spot, 201)
    mend = {"id": "e1", "kind": "mend", "crew_member_id": who, "note": "the kit's manual"}
    shop.ask("POST", "/deviations/d1/decisions", mend, 201)
    names = [job["name"] for job in shop.get(f"/parts/{left}")["jobs"]]
    shop.ask("POST", f"/parts/{left}/copy", {"id": "spare", "how": "copy", "name": "Spare skin"}, 201)
    copied = [job["name"] for job in shop.get("/parts/spare")["jobs"]]
    assert copied == [name for name in names if name != "mending with a patch"] == ["bagged sandwich skin"]
    shop.ask("POST", "/parts/spare/hidden", {"version": 1, "hidden": True})
    flap = shop.part("Left flap, upper skin")
    shop.ask("PATCH", f"/parts/{flap}", {"version": shop.get(f"/parts/{flap}")["version"], "name": "Spare skin"})
    back = shop.refused("POST", "/parts/spare/hidden", {"version": 2, "hidden": False})
    assert "another part is called “Spare skin” by now" in back["detail"]


def test_another_hand_or_side_of_what_is_laid_up_asks_why_and_is_kept_as_a_deviation(shop):
    lower = shop.part("Left wing, lower skin")
    version = shop.get(f"/parts/{lower}")["version"]
    assert (
        "Why is it changed?"
        in shop.refused("PATCH", f"/parts/{lower}", {"version": version, "side": "upper"})["detail"]
    )
    shop.ask("PATCH", f"/parts/{lower}", {"version": version, "hand": "right", "reason": "laid in the wrong mould"})
    assert "laid in the wrong mould" in shop.get(f"/parts/{lower}/deviations")["deviations"][0]["words"]
    assert shop.get(f"/parts/{lower}/plies")["plies"][0]["angle_deg"] == -45


def test_assemblies_and_parts_are_named_moved_and_several_airframes_are_planned_together(shed):
    found(shed, "a", "One", shape=LOFT)
    found(shed, "b", "Two", shape=LOFT)
    glue = next(sheet for sheet in shed.get("/bench")["products"] if sheet["name"] == "Heron glue")["id"]
    for part in "ab":
        add(shed, part, f"job-{part}", "frame", products={"glue": glue})
    shed.ask("PATCH", "/parts/b", {"version": 1, "move": "sooner"})
    assert list(parts(shed)) == ["Two", "One"]
    assert "is the first already" in shed.refused("PATCH", "/parts/b", {"version": 2, "move": "sooner"})["detail"]
    shed.ask("POST", "/airframes", {"id": "wren", "name": "Wren"}, 201)
    assert "already" in shed.refused("POST", "/airframes", {"id": "x", "name": "WREN"})["detail"]
    shed.ask("POST", "/assemblies", {"id": "tail", "airframe_id": "wren", "name": "Tail"}, 201)
    shed.ask("PATCH", "/parts/b", {"version": 2, "assembly_id": "tail", "name": "Fin"})
    assert (list(parts(shed)), list(parts(shed, "wren"))) == (["One"], ["Fin"])
    shed.ask("PATCH", "/assemblies/tail", {"version": 1, "name": "Tail group"})
    stale = shed.ask("PATCH", "/assemblies/tail", {"version": 1, "name": "Rear"}, 409)
    assert stale["changed"] == ["Tail → Tail group"]
    assert "has 1 parts" in shed.refused("PATCH", "/assemblies/tail", {"version": 2, "away": True})["detail"]
    shed.ask("POST", "/assemblies", {"id": "empty", "airframe_id": "wren", "name": "Floats"}, 201)
    shed.ask("PATCH", "/assemblies/empty", {"version": 1, "away": True})
    assert [each["name"] for each in shed.get("/airframe?id=wren")["assemblies"]] == ["Tail group"]
    every, wren, by_person = (shed.get(f"/loom?{asked}") for asked in ("", "airframe=wren", "by=person&airframe=wren"))
    assert {lane["name"] for lane in every["lanes"]} == {"Warbler · One", "Wren · Fin"}
    assert [one["name"] for one in every["airframes"]] == ["Warbler", "Wren"]
    # One airframe by itself is the same plan with the other's work left out.
    assert [lane["name"] for lane in wren["lanes"]] == ["Fin"]
    assert wren["sentence"] == every["sentence"]
    seen = {wren["parts"][block["part"]] for lane in by_person["lanes"] for block in lane["blocks"]}
    assert seen == {"b"}
    assert "no airframe “lark”" in shed.ask("GET", "/loom?airframe=lark", None, 404)["detail"]


@pytest.fixture(scope="module")
def written(whole):
    """The whole Reedling as a file, and the shop it was written in."""
    return whole, whole.client.get(f"/api/v1/airframes/{whole.get('/airframe')['id']}/file").text


def test_the_whole_demo_is_planned_and_goes_from_shop_to_shop_unchanged(written, empty_shop):
    shop, text = written
    sentences = [part["sentence"] for part in parts(shop).values()]
    assert len(sentences) > 69
    assert not [words for words in sentences if "can't be" in words]
    doc = json.loads(text)
    jsonschema.validate(doc, airframe_schema())
    assert json.loads((DOCS / "airframe.schema.json").read_text()) == airframe_schema()
    # The same file says nothing new in its own shop.
    assert {row["what"] for row in shop.ask("POST", "/airframes/file", {"text": text})["rows"]} == {"same"}
    looked = empty_shop.ask("POST", "/airframes/file", {"text": text})
    assert {row["what"] for row in looked["rows"]} == {"new"}
    assert empty_shop.get("/airframe")["id"] == ""  # a look keeps nothing
    empty_shop.ask("POST", "/airframes/file", {"text": text, "take": True})
    again = empty_shop.client.get(f"/api/v1/airframes/{doc['id']}/file").text
    assert again == text
    mine, theirs = (
        {name: steps_of(each, part["id"]) for name, part in parts(each).items()} for each in (shop, empty_shop)
    )
    assert mine == theirs


def steps_of(shop, part):
    with shop.store.reading() as uow:
        found = built_part(uow, part)
        return (
            [(step.key, step.minutes, step.people, step.after) for step in found.steps],
            found.after,
            dict(found.needs),
        )


def test_a_file_that_differs_or_cannot_be_is_said_row_by_row(written, empty_shop):
    _, text = written
    empty_shop.ask("POST", "/airframes/file", {"text": text, "take": True})
    doc = json.loads(text)
    doc["shapes"][0]["says"]["stations"][1]["at_m"] = 7.5
    doc["parts"][0]["name"] = "Port upper skin"
    changed = empty_shop.ask("POST", "/airframes/file", {"text": json.dumps(doc)})
    assert [(row["kind"], row["what"], row["words"]) for row in changed["rows"] if row["what"] != "same"] == [
        ("shape", "differs", ["its measures"]),
        ("part", "differs", ["its name"]),
    ]
    kept = empty_shop.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True})
    assert "left as it is here" in kept["sentence"]
    empty_shop.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True, "replace": True})
    assert "Port upper skin" in parts(empty_shop)
    # A circle of links, a section that is none, a recipe there is not: nothing of it is taken.
    first, second = doc["parts"][0]["id"], doc["parts"][1]["id"]
    doc["parts"][0]["after"] = [{"part": second, "step": "prepare"}]
    doc["parts"][1]["after"] = [{"part": first, "step": "prepare"}]
    doc["shapes"][1]["says"]["stations"][0]["section"] = {"naca": "24"}
    doc["designs"][0]["jobs"][0]["recipe"] = "knitting"
    order = {"text": json.dumps(doc), "take": True, "replace": True}
    refused = empty_shop.ask("POST", "/airframes/file", order)
    said = " ".join(words for row in refused["rows"] if row["what"] == "refused" for words in row["words"])
    assert not refused["taken"]
    assert "“24” is not a NACA section" in said
    assert "“knitting” is not a way of building" in said
    doc = json.loads(text)
    doc["parts"][0]["after"] = [{"part": second, "step": "prepare"}]
    doc["parts"][1]["after"] = [{"part": first, "step": "prepare"}]
    circle = empty_shop.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True, "replace": True})
    assert "round in a circle" in circle["rows"][-1]["words"][0]


@pytest.mark.parametrize(
    ("spoilt", "named"),
    [
        (lambda text: text[:2000], "cut off"),
        (
            lambda text: text.replace(f'"version": {VERSION}', f'"version": {VERSION + 1}', 1),
            "written by a newer Kite Loom",
        ),
        (lambda text: text.replace("kite loom airframe", "knitting pattern"), "is no airframe"),
        (lambda text: text.replace('"hand": "left"', '"hand": "port"', 1), "“port”"),
    ],
)
def test_a_file_that_is_none_is_refused_with_the_place(written, empty_shop, spoilt, named):
    assert named in empty_shop.refused("POST", "/airframes/file", {"text": spoilt(written[1])})["detail"]


def test_export_and_import_from_the_shell(written, tmp_path, capsys):
    shop, text = written
    file, other = tmp_path / "reedling.json", tmp_path / "other"
    assert cli.main(["export", str(shop.folder), str(file)]) == 0
    assert file.read_text() == text
    assert cli.main(["export", str(shop.folder), str(file)]) == 1  # overwrites nothing
    assert cli.main(["import", "--look", str(file), str(other)]) == 0
    assert cli.main(["import", str(file), str(other)]) == 0
    assert "new" in capsys.readouterr().out
    again = Shop(other)
    assert len(parts(again)) == len(parts(shop)) > 69
    again.close()
