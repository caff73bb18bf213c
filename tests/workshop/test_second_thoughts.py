"""What was said already, is taken, or is gone: the second who says it is told why, and nothing changes."""

from __future__ import annotations

from datetime import date, timedelta

from tests.workshop.test_bench import grams, keep
from tests.workshop.test_buying import bolts, ordered, told  # noqa: F401  the fixture
from tests.workshop.test_cut_plans import begun, laid_out, pieces
from tests.workshop.test_logbook import write

from kiteloom.workshop.base.ids import stable_id

LEFT, RIGHT = "Left wing, upper skin", "Right wing, upper skin"
TARN = stable_id("sheet", "Tarn 210 with 214 slow")
IMRE = stable_id("crew", "Imre")


def test_a_batch_is_corrected_once_and_then_its_correction_is(shop, left_upper):
    first = keep(shop, left_upper)["id"]
    mended = {"id": "m1", "note": "read the other scale", "resin": grams(310), "hardener": grams(87)}
    shop.ask("POST", f"/batches/{first}/correction", mended, 201)
    again = shop.refused("POST", f"/batches/{first}/correction", {**mended, "id": "m2"})
    assert "corrected already, to 310 g and 87 g; correct that one" in again["detail"]
    mute = shop.refused("POST", "/batches/m1/correction", {**mended, "id": "m2", "note": "  "})
    assert mute["errors"][0]["field"] == "note"
    shop.ask("POST", "/batches/m1/correction", {**mended, "id": "m2", "resin": grams(305)}, 201)
    assert "305" in str(shop.get("/batches/m2"))


def test_a_note_is_corrected_once_by_one_of_its_own_kind(shop):
    write(shop, "first")
    write(shop, "second", "The right post is loose.", corrects_id="first")
    again = write(shop, "third", "Both are.", 422, corrects_id="first")
    why = "this was corrected already; correct what stands now"
    assert again["errors"] == [{"field": "corrects_id", "sentence": why}]
    asked = write(shop, "fourth", "Is it?", 422, corrects_id="second", kind="question")
    assert "a note is corrected by a note; write the question beside it" in asked["detail"]
    write(shop, "third", "Both are.", corrects_id="second")


def test_a_reading_is_corrected_once(shop):
    right = shop.part("Right wing, lower skin")
    rows = next(c for c in shop.get("/cures")["cards"] if c["part_id"] == right)["release"]["rows"]
    at = {"part_id": right, "step_key": "skin-1/layup", "batch_id": rows[0]["batch_id"], "how": "thumbnail"}
    shop.clock.at += timedelta(days=20)
    shop.ask("POST", "/witness", {**at, "id": "w1", "passes": True}, 201)
    shop.ask("POST", "/witness", {**at, "id": "w2", "passes": False, "corrects_id": "w1"}, 201)
    again = shop.refused("POST", "/witness", {**at, "id": "w3", "passes": True, "corrects_id": "w1"})
    assert "this reading was corrected already; correct that one" in again["detail"]


def test_an_order_goes_one_way_from_the_list_to_the_shelf(bolts):  # noqa: F811
    shop = bolts
    line = {"id": "o", "offer_id": "ten", "packs": 1, "ordered": False, "expected_on": None}
    shop.ask("POST", "/orders", {"lines": [line]}, 201)
    early = told(shop, "o", "n1", status=422, packs=1)
    assert "“to order”: note first that it was ordered" in early["detail"]
    told(shop, "o", "n2", kind="ordered")
    away = shop.refused("POST", "/orders/o/away", {"id": "a"})
    assert "was ordered: cancel it instead" in away["detail"]
    told(shop, "o", "n3", packs=1)
    for kind in ("cancelled", "ordered"):
        over = told(shop, "o", f"n {kind}", kind=kind, status=422)
        assert over["detail"].endswith("is received already")
    past = shop.clock.at.date() - timedelta(days=1)
    ordered(shop, "p", "ten", 1)
    late = told(shop, "p", "n4", kind="ordered", status=422, expected_on=past.isoformat())
    assert f"{past} is past; it can't come before {shop.clock.at.date()}" in late["detail"]
    mute = told(shop, "p", "n5", kind="wrong", status=422, packs=1)
    assert mute["errors"][0]["field"] == "note"


def test_names_are_given_once_and_who_stands_last_stands_last(shop):
    reedling = shop.get("/airframe")
    assemblies = reedling["assemblies"]
    of_wing = {"id": "w2", "airframe_id": reedling["id"], "name": assemblies[0]["name"].upper()}
    taken = shop.refused("POST", "/assemblies", of_wing)
    assert f"there is an assembly of Reedling called “{of_wing['name']}” already" in taken["detail"]
    last = assemblies[-1]
    no_later = shop.refused("PATCH", f"/assemblies/{last['id']}", {"version": last["version"], "move": "later"})
    assert f"{last['name']} is the last already" in no_later["detail"]
    full = shop.refused("PATCH", f"/assemblies/{last['id']}", {"version": last["version"], "away": True})
    assert "only what is empty can go" in full["detail"]
    nameless = {"id": "x", "name": "Rudder", "airframe_id": reedling["id"], "assembly": "  "}
    assert "the assembly is not named yet" in shop.refused("POST", "/airframes/parts", nameless)["detail"]
    long = {**nameless, "assembly": "Rudders and " * 20}
    assert shop.refused("POST", "/airframes/parts", long)["errors"][0]["field"] == "assembly"
    twins = {**nameless, "assembly": "Tail", "hand": "both"}
    assert "only one has an id; two are wanted" in shop.refused("POST", "/airframes/parts", twins)["detail"]


def test_a_shape_is_given_once_by_whom_has_one_and_differing_is_said_once(shop):
    reedling = shop.get("/airframe")["id"]
    for key, name in (("x", "Box"), ("y", "Lid")):
        body = {"id": key, "name": name, "airframe_id": reedling, "assembly": "Fuselage"}
        shop.ask("POST", "/airframes/parts", body, 201)
    where = "/airframes/parts/x/shape"
    assert "type a shape or name the part that has it" in shop.refused("POST", where, {"id": "s"})["detail"]
    assert "Lid has no shape yet" in shop.refused("POST", where, {"id": "s", "shape_of": "y"})["detail"]
    left = shop.part(LEFT)
    shop.ask("POST", where, {"id": "s", "shape_of": left}, 201)
    over = shop.refused("POST", where, {"id": "t", "shape_of": left})
    assert "Box has a shape already; change that one" in over["detail"]
    shop.ask("POST", "/parts/x/differ", {"version": shop.get("/parts/x")["version"]})
    alone = shop.refused("POST", "/parts/x/differ", {"version": shop.get("/parts/x")["version"]})
    assert "Box shares nothing with another part already" in alone["detail"]


def test_a_name_on_the_shelf_is_told_where_it_is(shop):
    solvent = {"kind": "solvent", "name": "Fen", "texts": {"density_kg_m3": "790 kg/m³"}}
    for _ in range(2):  # pressed twice
        shop.ask("POST", "/shelf", {"id": "fen", **solvent}, 201)
    assert (
        "a solvent named “Fen” is on the shelf already"
        in shop.refused("POST", "/shelf", {"id": "b", **solvent})["detail"]
    )
    shop.ask("PATCH", "/shelf/fen/hidden", {"version": 1, "hidden": True})
    hidden = shop.refused("POST", "/shelf", {"id": "b", **solvent})
    assert "hidden from the shelf; put it back instead" in hidden["detail"]
    assert "a new sheet needs an id" in shop.refused("POST", "/shelf", {"id": "", **solvent})["detail"]


def test_a_layout_that_is_cut_stays_as_it_was_cut(shop):
    way = begun(shop, LEFT)
    first = pieces(laid_out(shop, way))[0]["key"]
    view = shop.get("/cut-plans/plan")
    stray = shop.refused("POST", f"/cut-ways/{way}/pieces", {"id": "t0", "piece": "nothing#1", "done": True})
    assert "is not in this layout any more" in stray["detail"]
    shop.ask("POST", f"/cut-ways/{way}/pieces", {"id": "t1", "piece": first, "done": True}, 201)
    paper = {"version": view["ways"][0]["version"], "data_sheet_id": TARN}
    assert shop.refused("PATCH", f"/cut-ways/{way}", paper)["errors"][0]["field"] == "data_sheet_id"
    only = shop.refused("PATCH", f"/cut-ways/{way}", {"version": view["ways"][0]["version"], "hidden": True})
    assert "at least one way of cutting; put the whole plan away instead" in only["detail"]
    shop.ask("POST", f"/cut-ways/{way}/cut", {"id": "cut"}, 201)
    said = {
        "/cut-ways/{way}/pieces": ("POST", {"id": "t2", "piece": first, "done": False}, "noted as cut already"),
        "/cut-ways/{way}/layout": ("POST", {}, "this layout is cut; try another way"),
        "/cut-plans/plan": ("PATCH", {"version": view["version"], "plies": "on the bias"}, "its layout is cut"),
    }
    for path, (method, body, why) in said.items():
        assert why in shop.refused(method, path.format(way=way), body)["detail"]


def test_who_may_come_and_what_a_secret_is_are_asked_within_bounds(shop):
    for days in (0, 91):
        long = shop.refused("POST", "/guests", {"id": "g", "name": "The inspector", "days": days})
        assert long["detail"].endswith(f"the link would last {days} days; it lasts 1 to 90")
    for secret, why in (
        ("31", "it has 2 figures; a PIN has"),
        ("oak", "it has 3 letters; a PIN has"),
        ("4444", "all the same or in a row"),
        ("5678", "all the same or in a row"),
        ("x" * 2000, "it has 2000 letters; at most"),
    ):
        told_ = shop.refused("POST", f"/people/{IMRE}/pin", {"person_id": IMRE, "secret": secret})
        assert why in told_["detail"]
        assert secret not in told_["detail"].split()  # a secret is not said back


def test_what_is_planned_only_by_nobody_has_no_better_order_and_nothing_frozen(empty_shop):
    shop = empty_shop
    assert "no temperature was ever given" in shop.refused("POST", "/better-order", {"id": "b"})["detail"]
    say = {"id": "air", "low": {"text": "16", "unit": "°C"}, "high": {"text": "22", "unit": "°C"}}
    shop.ask("POST", "/climate/outlooks", say, 201)
    assert (
        "nothing is planned whose order could be another"
        in shop.refused("POST", "/better-order", {"id": "b"})["detail"]
    )
    for kind in ("helps", "sure"):
        assert "nothing is planned" in shop.refused("POST", "/studies", {"id": "s", "kind": kind})["detail"]
    freeze = {"version": shop.get("/shop")["version"], "days": 3}
    assert "no plan was accepted yet" in shop.refused("POST", "/plan/freeze", freeze)["detail"]
    closed = [(date(2026, 1, 1) + timedelta(days=n)).isoformat() for n in range(1500)]
    many = shop.refused("PATCH", "/shop", {"version": shop.get("/shop")["version"], "closed": closed})
    assert "there are 1500 closed days; at most" in many["detail"]
    early = shop.refused("PATCH", "/shop", {"version": shop.get("/shop")["version"], "closed": ["1066-10-14"]})
    assert "1066" in early["detail"]
