"""Airframes of any make go from shop to shop: founded at random here, written, taken, and planned the same."""

from __future__ import annotations

import json
import random

import jsonschema
import pytest

from kiteloom.core.build.recipe import fits_shape
from kiteloom.core.build.recipes import RECIPES
from kiteloom.demo.products import SHEETS
from kiteloom.formats.airframe_file import airframe_schema
from kiteloom.formats.sheet_files import FileSheet, write_json
from kiteloom.store.models import Part
from kiteloom.workshop.build.parts import built_part, built_parts, steps_in_shop
from kiteloom.workshop.shape.shapes import form_of

GIVEN = {
    "bond": {"length_m": "2.4 m", "width_m": "20 mm", "thickness_mm": "0.8", "one": "wood", "other": "steel"},
    "cap": {"length_m": "3 m", "width_m": "60 mm"},
    "varnish": {"rib_area_m2": "0.06"},
    "frame": {"rib_pitch_m": "280 mm", "stringers": "2"},
}


def any_shape(dice):
    naca = dice.choice(["0009", "2412", "4415"])
    rows = [
        {"at": f"{n * (0.4 + dice.random()):.3f}", "chord": f"{0.3 + dice.random():.3f}"}
        for n in range(dice.randint(2, 4))
    ]
    rows[0]["section"] = {"naca": naca}
    if dice.random() < 0.5:
        rows[-1] |= {"section": {"naca": "0012"}, "twist": "-1.5", "height": "80 mm"}
    return dice.choice(
        [
            {
                "kind": "loft",
                "stations": sorted(rows, key=lambda row: float(row["at"])),
                "ribs": {"where": "at stations"},
            },
            {"kind": "outline", "outline": {"points": "0, 0\n900, 0\n800, 300\n50, 260\n\n200, 90\n300, 90\n300, 180"}},
            {
                "kind": "strips",
                "measured": "all round",
                "strips": [{"at": f"{n / 3}", "across": f"{1 + n / 5}"} for n in range(4)],
            },
            {
                "kind": "pieces",
                "pieces": [{"name": "rib", "count": "9", "length": "700", "width": "80", "thickness": "6"}],
            },
        ]
    )


def found_at_random(shop, seed):
    """Some parts of every kind with the jobs their shapes allow, ply books, links, copies and changes of their own."""
    dice = random.Random(seed)
    sheets = write_json([FileSheet(kind, name, says) for kind, name, says in SHEETS])
    shop.ask("POST", "/shelf/import", {"text": sheets, "take": True})
    products = {
        (group["kind"], row["name"]): row["id"] for group in shop.get("/shelf")["groups"] for row in group["products"]
    }
    cloths = [key for (kind, _), key in products.items() if kind == "cloth"]
    shop.ask("POST", "/airframes", {"id": "wren", "name": "Wren"}, 201)
    for n in range(7):
        hand = dice.choice(["left", "both", "centre"])
        body = {"id": f"p{n}", "other_id": f"q{n}", "name": f"part {n}", "airframe_id": "wren", "hand": hand}
        body |= {"assembly": dice.choice(["Wing", "Tail", "Body"]), "side": dice.choice(["upper", "lower", "whole"])}
        body |= {"place": {"aft_m": f"{dice.random() * 5:.2f}", "side_m": "0.4"} if dice.random() < 0.6 else {}}
        shop.ask("POST", "/airframes/parts", {**body, "shape": any_shape(dice)}, 201)
        with shop.store.reading() as uow:
            form = form_of(uow.get(Part, f"p{n}").design.shape)
        for m, recipe in enumerate(dice.sample([r for r in RECIPES if not fits_shape(r, form)], 2)):
            fit = {
                role.key: next(v for (kind, _), v in products.items() if kind in role.kinds) for role in recipe.roles
            }
            job = {"id": f"j{n}-{m}", "recipe": recipe.key, "given": GIVEN.get(recipe.key, {}), "products": fit}
            shop.ask("POST", f"/parts/p{n}/jobs", {**job, "alone": dice.random() < 0.3}, 201)
            if recipe.laid_up:
                key = next(each["key"] for each in shop.get(f"/parts/p{n}")["jobs"] if each["id"] == job["id"])
                plies = [
                    {"cloth_id": dice.choice(cloths), "angle": {"text": f"{a}", "unit": "°"}} for a in (45, 0, -30)
                ]
                book = {"version": 1, "job": key, "plies": plies, "reason": ""}
                if any(one["kind"] == "drawn" for one in shop.get(f"/parts/p{n}/plies?job={key}")["new_zones"]):
                    begins = shop.get(f"/parts/p{n}/plies?job={key}")["new_zones"]
                    book["zones"] = [{**dice.choice(begins), "name": "root"}]
                    plies[1] |= {"zone": "root"}
                shop.ask("PUT", f"/parts/p{n}/plies", book)
    shop.ask("POST", "/parts/p2/copy", {"id": "c2", "how": "copy"}, 201)
    weighed_at_random(shop, dice)
    first = built(shop, "p3")[0][0]
    minutes = {"version": 1, "step_key": first, "minutes": {"text": "77", "unit": "min"}}
    shop.client.patch("/api/v1/parts/p3/minutes", json=minutes)
    version = shop.get("/parts/p3/built-from")["version"]
    needs = [{"part_id": "p1", "step_key": first}, {"part_id": "c2", "step_key": first}]
    shop.ask("POST", "/parts/p3/built-from", {"version": version, "needs": needs, "thing": "hull"})


def weighed_at_random(shop, dice):
    """An arm, a hinge, limits, and things it carries."""
    for n, (name, load) in enumerate((("engine", False), ("pilot", True))):
        item = {"id": f"i{n}", "version": 0, "name": name, "load": load}
        item |= {"weighs": {"text": str(dice.randint(20, 90)), "unit": "kg"}, "aft": {"text": "0.7", "unit": "m"}}
        shop.ask("PUT", "/airframes/wren/items", item)
    limits = {"version": shop.get("/airframes/wren/weights")["version"], "texts": {"fore_m": "1.2", "aft_m": "1.5 m"}}
    shop.ask("PATCH", "/airframes/wren/limits", limits)
    arm = {"version": shop.get("/parts/p1")["version"], "arm": {"text": f"{dice.random():.3f}", "unit": "m"}}
    shop.ask("PATCH", "/parts/p1/arm", arm)
    hinge = {"root_m": "40 mm", "tip_m": "30 mm", "ahead_m": "55 mm"}
    shop.ask("PATCH", "/parts/p0/hinge", {"version": shop.get("/parts/p0/weight")["hinge"]["version"], "texts": hinge})


def built(shop, part):
    with shop.store.reading() as uow:
        found = built_part(uow, part)
        return [step.key for step in found.steps], found


def in_shop(shop):
    with shop.store.reading() as uow:
        return [(s.key, s.minutes, s.people, s.after, s.refused) for s in steps_in_shop(built_parts(uow))]


@pytest.mark.parametrize("seed", range(4))
def test_any_airframe_is_written_taken_and_built_the_same(empty_shop, tmp_path, seed):
    found_at_random(empty_shop, seed)
    text = empty_shop.client.get("/api/v1/airframes/wren/file").text
    jsonschema.validate(json.loads(text), airframe_schema())
    assert text == empty_shop.client.get("/api/v1/airframes/wren/file").text
    other = type(empty_shop)(tmp_path / "other")
    assert other.ask("POST", "/airframes/file", {"text": text, "take": True})["taken"]
    assert other.client.get("/api/v1/airframes/wren/file").text == text
    assert in_shop(other) == in_shop(empty_shop) != []
    # Taken once more, and by the shop that wrote it, it changes nothing.
    for shop in (other, empty_shop):
        seq = shop.get("/now?since=-1")["seq"]
        again = shop.ask("POST", "/airframes/file", {"text": text, "take": True, "replace": True})
        assert {row["what"] for row in again["rows"]} == {"same"}
        assert shop.get("/now?since=-1")["seq"] == seq
    other.close()


def spoil(doc, dice):
    """One thing of a file made wrong, deep inside."""
    places = []

    def walk(value, path):
        if isinstance(value, dict):
            for key, inner in value.items():
                places.append((value, key))
                walk(inner, (*path, key))
        elif isinstance(value, list):
            for n, inner in enumerate(value):
                places.append((value, n))
                walk(inner, (*path, n))

    walk(doc, ())
    holder, key = dice.choice(places)
    holder[key] = dice.choice([None, -1, "", "x" * 300, [], {}, 1e300, True, "NaN", {"naca": "99"}])


def test_whatever_is_wrong_in_a_file_it_is_taken_or_refused_and_never_half(empty_shop, tmp_path):
    found_at_random(empty_shop, 1)
    text = empty_shop.client.get("/api/v1/airframes/wren/file").text
    dice = random.Random(11)
    outcomes = set()
    for n in range(40):
        doc = json.loads(text)
        spoil(doc, dice)
        target = type(empty_shop)(tmp_path / f"t{n % 4}")
        seq = target.get("/now?since=-1")["seq"]
        order = {"text": json.dumps(doc), "take": True}
        answer = target.client.post("/api/v1/airframes/file", json=order)
        assert answer.status_code in (200, 422), answer.text
        taken = answer.status_code == 200 and answer.json["taken"]
        outcomes.add((answer.status_code, taken))
        if not taken:
            assert target.get("/now?since=-1")["seq"] == seq
        for path in ("/airframe", "/today", "/loom"):
            target.get(path)  # whatever was taken, every page has an answer
        target.close()
    assert len(outcomes) == 3  # taken, refused by row, refused whole


def test_what_weight_and_balance_rest_on_goes_along_and_an_older_file_leaves_it_alone(empty_shop, tmp_path):
    found_at_random(empty_shop, 3)
    there = empty_shop.get("/airframes/wren/weights")
    doc = json.loads(empty_shop.client.get("/api/v1/airframes/wren/file").text)
    other = type(empty_shop)(tmp_path / "other")
    other.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True})
    here = other.get("/airframes/wren/weights")
    assert [here[key] for key in ("parts", "items", "stages", "limits")] == [
        there[key] for key in ("parts", "items", "stages", "limits")
    ]
    assert len(doc["carried"]) == 2
    assert [design for design in doc["designs"] if design["hinge"]]
    # A file that weighs otherwise is told; one written before weights were is not one without them.
    doc["carried"][0]["grams"] += 1000.0
    doc["limits"]["aft_m"] = 9.0
    looked = other.ask("POST", "/airframes/file", {"text": json.dumps(doc)})
    assert {row["name"]: row["words"] for row in looked["rows"] if row["what"] == "differs"} == {
        "datum and limits": ["its datum or limits"], "engine": ["what it weighs, or where it lies"],
    }  # fmt: skip
    old = {**doc, "version": 2, "limits": {}, "carried": []}
    old["designs"] = [{**row, "hinge": {}} for row in doc["designs"]]
    old["parts"] = [{**row, "arm_m": None} for row in doc["parts"]]
    assert "differs" not in {
        row["what"] for row in other.ask("POST", "/airframes/file", {"text": json.dumps(old)})["rows"]
    }
    other.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True, "replace": True})
    assert json.loads(other.client.get("/api/v1/airframes/wren/file").text) == doc
    # What can't be is refused, and named.
    doc["limits"]["fore_m"] = 9.5
    doc["carried"][1]["aft_m"] = 4000.0
    said = other.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True, "replace": True})
    why = [words for row in said["rows"] if row["what"] == "refused" for words in row["words"]]
    assert why[0] == "the aft limit must lie behind the forward one"
    assert "4000 m" in why[1]
    assert not said["taken"]
    other.close()


ROOT = {"name": "root", "kind": "band", "from_m": 0.0, "to_m": 0.2, "lead": 0.0, "tail": 1.0, "step_m": 0.0}


def laid_up(doc):
    """The first job of a file that lays something up."""
    return next(job for design in doc["designs"] for job in design["jobs"] if len(job["plies"]) > 1)


def test_a_file_from_before_there_were_zones_is_read_and_written_as_the_newer_one(empty_shop, tmp_path):
    found_at_random(empty_shop, 2)
    doc = json.loads(empty_shop.client.get("/api/v1/airframes/wren/file").text)
    doc |= {"limits": {}, "carried": []}
    doc["designs"] = [{**row, "hinge": {}} for row in doc["designs"]]
    doc["parts"] = [{**row, "arm_m": None} for row in doc["parts"]]
    for job in (job for row in (*doc["designs"], *doc["parts"]) for job in row["jobs"]):
        job["zones"], job["core_zone"] = [], ""
        for ply in job["plies"]:
            ply["zone"], ply["stage"] = "", 1
    older = json.loads(json.dumps(doc)) | {"version": 1}
    for job in (job for row in (*older["designs"], *older["parts"]) for job in row["jobs"]):
        del job["zones"], job["core_zone"]
        for ply in job["plies"]:
            del ply["zone"], ply["stage"]
    del older["limits"], older["carried"]
    for row in older["designs"]:
        del row["hinge"]
    for row in older["parts"]:
        del row["arm_m"]
    other = type(empty_shop)(tmp_path / "other")
    assert other.ask("POST", "/airframes/file", {"text": json.dumps(older), "take": True})["taken"]
    assert json.loads(other.client.get("/api/v1/airframes/wren/file").text) == doc
    other.close()


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"zones": [{**ROOT, "kind": "blob"}]}, "“blob” is no kind of zone"),
        ({"zones": [{**ROOT, "to_m": -1.0}]}, "its end must lie beyond its beginning"),
        ({"zones": [{**ROOT, "from_m": "near"}]}, "From is “near”; a number is wanted"),
        ({"zones": [{**ROOT, "step_m": 3.0}]}, "Steps of is 3000 mm"),
        ({"zones": [{**ROOT, "name": ""}]}, "has no name yet"),
        ({"zones": [ROOT, ROOT]}, "two zones are called “root”"),
        ({"zones": [{"name": "a", "kind": "drawn", "corners": 7}]}, "no corners"),
        ({"zones": [], "ply": {"zone": "nose"}}, "“nose”, which is not there"),
        ({"zones": [], "ply": {"stage": 5}}, "can't be above 4"),
    ],
)
def test_a_zone_that_cannot_be_in_a_file_is_refused_and_nothing_is_taken(empty_shop, tmp_path, wrong, says):
    found_at_random(empty_shop, 1)
    doc = json.loads(empty_shop.client.get("/api/v1/airframes/wren/file").text)
    job = laid_up(doc)
    for ply in job["plies"]:
        ply["zone"], ply["stage"] = "", 1
    job["zones"] = wrong["zones"]
    job["plies"][-1] |= wrong.get("ply", {})
    other = type(empty_shop)(tmp_path / "other")
    looked = other.ask("POST", "/airframes/file", {"text": json.dumps(doc), "take": True})
    assert not looked["taken"]
    assert says in " ".join(words for row in looked["rows"] if row["what"] == "refused" for words in row["words"])
    assert not other.get("/airframe")["id"]
    other.close()
