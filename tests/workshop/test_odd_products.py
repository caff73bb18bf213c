"""Products that are not the usual two-part epoxy, from their sheet to the bench and the cure."""

from __future__ import annotations

import pytest

from kiteloom.core.stores.form import written
from kiteloom.demo.products import SALLOW, TARN_SLOW


def keep_sheet(shop, kind, name, says, status=201):
    """Put a sheet on the shelf as the page would."""
    form = written(kind, says)
    stages = [{"name": stage, "hours": list(hours)} for stage, hours in form.stages.rows]
    body = {"id": name, "kind": kind, "name": name, "texts": dict(form.texts), "temps": list(form.stages.temps)}
    return shop.ask("POST", "/shelf", {**body, "stages": stages}, status)


def edit_sheet(shop, kind, name, says):
    """Change a sheet that is on the shelf already."""
    rows = [p for group in shop.get("/shelf")["groups"] for p in group["products"]]
    key = next(row["id"] for row in rows if row["name"] == name)
    form = written(kind, says)
    stages = [{"name": stage, "hours": list(hours)} for stage, hours in form.stages.rows]
    body = {"kind": kind, "name": name, "texts": dict(form.texts), "temps": list(form.stages.temps), "stages": stages}
    shop.ask("PATCH", f"/shelf/{key}", {**body, "version": shop.get(f"/shelf/{key}")["version"]})


def product(shop, name):
    return next((p for p in shop.get("/bench")["products"] if p["name"] == name), None)


def grams(value):
    return {"text": str(value), "unit": "g"}


def test_a_peroxide_cured_product_has_a_range_and_no_top_up(shop):
    gelcoat = product(shop, "Osier gelcoat")
    assert gelcoat["ratio"] == "1 to 2 % hardener"
    body = {"sheet_id": gelcoat["id"], "resin": grams(500)}
    band = shop.ask("POST", "/bench/pour", body)["band"]
    assert (band["from_g"], band["to_g"]) == pytest.approx((5, 10))
    for hardener, verdict in ((5.2, "in"), (9.8, "in"), (4, "near"), (20, "out")):
        found = shop.ask("POST", "/bench/pour", {**body, "hardener": grams(hardener)})
        assert found["judgement"]["verdict"] == verdict
        assert found["judgement"]["top_up"] is None
    assert "a peroxide-cured mix has no top-up: ask the maker" in found["sentence"]
    assert "Do it within" not in found["sentence"]


def test_a_hardener_known_by_its_equivalent_weights_is_weighed_by_them(shop):
    says = {"chemistry": "amine epoxy", "equivalents": {"epoxide": 190, "amine": 20.6}, "tolerance_pct": 3}
    keep_sheet(shop, "laminating resin", "Bare resin", says)
    bare = product(shop, "Bare resin")
    # Source: Lee & Neville, Handbook of Epoxy Resins (from memory): DETA 20.6 on EEW 190 asks for 10.8.
    cup = shop.ask("POST", "/bench/cup", {"sheet_id": bare["id"], "amount": grams(110.842)})
    assert cup["hardener_g"] == pytest.approx(10.84, abs=0.01)
    assert bare["pot_life"] == "Its sheet gives no pot life: small cups, used at once."
    problem = shop.refused("POST", "/bench/cups", {"sheet_id": bare["id"], "amount": grams(100), "spread": grams(20)})
    assert "gives no pot life; into how many cups can't be computed" in problem["detail"]


def test_a_product_without_stages_can_be_mixed_and_says_that_its_cure_is_unknown(shop, left_upper):
    keep_sheet(shop, "laminating resin", "Bare resin", {"ratio": {"resin": 100, "hardener": 30}})
    bare = product(shop, "Bare resin")
    assert any("5 %" in words and "assumed" in words for words in bare["assumed"])
    body = {"id": "b", "part_id": left_upper, "step_key": "skin-1/layup", "sheet_id": bare["id"], "wanted_g": 130}
    body |= {"resin_lid": bare["resin_lid"], "hardener_lid": bare["hardener_lid"]}
    shop.ask("POST", "/batches", {**body, "resin": grams(100), "hardener": grams(30)}, 201)
    assert shop.get("/weather")["cups"] == []  # no clock where the sheet is silent
    for path in ("/today", "/cures", "/loom", f"/parts/{left_upper}/times", f"/parts/{left_upper}/mix"):
        shop.get(path)


def test_a_sheet_without_a_ratio_stays_off_the_bench_and_on_the_shelf(shop):
    keep_sheet(shop, "paint", "Plain paint", {"chemistry": "drying", "spread_m2_l": 8})
    assert product(shop, "Plain paint") is None
    row = next(p for g in shop.get("/shelf")["groups"] for p in g["products"] if p["name"] == "Plain paint")
    assert row["care"] == ["sheet lacks 1 figure"]  # its stages
    half = {"ratio_by_volume": {"resin": 2, "hardener": 1}}
    keep_sheet(shop, "paint", "Half a sheet", half)
    assert product(shop, "Half a sheet") is None  # no densities to weigh it by
    sheet = shop.get("/shelf/Half a sheet")["checked"]
    assert any("It can't be weighed: resin_density_g_ml is missing" in words for words in sheet["follows"])


@pytest.fixture
def dried(shop):
    """The ribs' varnish, dried instead of cured: twice as slow at ten degrees."""
    stages = [
        {"name": "recoat", "hours": 6, "also": [{"c": 10, "hours": 12}, {"c": 30, "hours": 4}]},
        {"name": "handle", "hours": 14},
        {"name": "full", "hours": 168},
    ]
    edit_sheet(
        shop,
        "varnish",
        "Sallow varnish",
        {**SALLOW, "chemistry": "drying", "cure": {"reference_c": 20, "stages": stages}},
    )
    return shop


def test_what_dries_is_planned_by_its_table_and_says_that_it_is_a_rule_of_thumb(dried):
    ribs = dried.part("Left wing, aft ribs")
    steps = dried.get(f"/parts/{ribs}/times")["steps"]
    coat = next(step for step in steps if step["key"] == "coat-2/brush")
    figure = next(knot for knot in coat["knots"] if knot["name"] == "recoat")["figure"]
    assert figure["source"].startswith("A rule of thumb: what dries goes by air")
    assert next(g for g in figure["given"] if g["name"].startswith("speed"))["value"].startswith(
        "0.5 at 10 °C, 1 at 20 °C"
    )
    mean = next(g["value"] for g in figure["given"] if g["name"].startswith("mean"))
    assert figure["value"] / 60 == pytest.approx(6 * 2 ** ((20 - mean) / 10), rel=0.05)


def test_an_energy_that_is_assumed_is_marked_in_every_hour_it_gives(shop, left_upper):
    cure = {key: value for key, value in TARN_SLOW["cure"].items() if not key.startswith("activation")}
    edit_sheet(shop, "laminating resin", "Tarn 210 with 214 slow", {**TARN_SLOW, "cure": cure})
    step = next(s for s in shop.get(f"/parts/{left_upper}/times")["steps"] if s["key"] == "skin-1/layup")
    given = {g["name"]: g for g in step["knots"][1]["figure"]["given"]}
    assert given["activation energy, kJ/mol (doubles every 10 °C)"]["assumed"] is True
    assert step["knots"][1]["figure"]["assumed"] is True
    early, late = step["knots"][1]["early"], step["knots"][1]["late"]
    assert early < step["knots"][1]["at"] < late


def test_a_cloth_whose_share_is_assumed_is_marked_in_its_resin(shop, left_upper):
    keep_sheet(shop, "cloth", "Bare glass", {"areal_weight_g_m2": 200, "fibre": "glass"})
    plies = shop.get(f"/parts/{left_upper}/plies")
    body = {"version": plies["version"], "core_id": plies["core"]["core_id"], "core_after": 1}
    one = {"cloth_id": "Bare glass", "angle": {"text": "45", "unit": "°"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", {**body, "plies": [one, one]})
    resin = next(f for f in shop.get(f"/parts/{left_upper}/plies")["plies"][0]["figures"] if f["key"] == "resin_mass")
    marked = {g["name"] for g in resin["given"] if g["assumed"]}
    assert marked == {"fibre share by weight", "fibre density"}
    keep_sheet(shop, "cloth", "Nameless cloth", {"fibre": "glass"})
    nothing = {"cloth_id": "Nameless cloth", "angle": {"text": "0", "unit": "°"}}
    problem = shop.refused(
        "PUT", f"/parts/{left_upper}/plies", {**body, "version": plies["version"] + 1, "plies": [nothing]}
    )
    assert "the sheet of Nameless cloth gives no weight" in problem["detail"]


def test_a_later_weighing_of_a_pump_counts(shop):
    slow = product(shop, "Tarn 210 with 214 slow")["id"]
    for n, weighed in enumerate((30, 24)):
        body = {"id": f"p{n}", "component": "resin", "strokes": 3, "grams": grams(weighed)}
        shop.clock.at = shop.clock.at.replace(minute=30 + n)
        told = shop.ask("POST", f"/bench/{slow}/pumps", body, 201)
    assert told["pumps"] == ["A stroke of resin is 8.00 g."]
    one = shop.ask("POST", "/bench/cup", {"sheet_id": slow, "amount": grams(128)})
    assert not any("pump" in way for way in one["other_ways"])  # the hardener's is not known yet
