"""Cut plans and weights in a shop of inches and ounces: typed, shown and read back in its own units."""

import re

import pytest
from tests.workshop.test_cut_plans import begun, changed, laid_out, pieces, way_of

METRIC = r"\d ?(?:mm|cm|m|m²|g|kg|g/m²)(?![\w/·-])"


@pytest.fixture
def us(shop):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    return shop


def words_of(value):
    """All that is said in an answer, field by field; ids and keys are not read."""
    if isinstance(value, dict):
        quiet = (
            "id",
            "key",
            "sheet_id",
            "part_id",
            "equation",
            "source",
            "kind",
            "field",
            "unit",
            "product",
            "products",
            "sheets",
        )
        return [words for name, one in value.items() if name not in quiet for words in words_of(one)]
    if isinstance(value, list):
        return [words for one in value for words in words_of(one)]
    return [value] if isinstance(value, str) else []


def foreign(answer):
    return [words for words in words_of(answer) if re.search(METRIC, words) and "foam" not in words]


def test_a_cut_plan_is_typed_in_inches_and_says_nothing_in_metres(us):
    way = begun(us, "Left flap, upper skin")
    changed(us, way, width_m="50", gap_m="1/4", left_m="300 in", trim_m="5/8 in")
    view = way_of(us)
    texts = {field["field"]: field["text"] for field in view["fields"]}
    assert (texts["width_m"], texts["gap_m"], texts["left_m"], texts["trim_m"]) == (
        "50 in",
        "0.25 in",
        "300 in",
        "0.625 in",
    )
    found = laid_out(us, way)
    assert re.match(r"^\d+\.\d ft off the roll", found["sentence"])
    assert foreign(us.get("/cut-plans/plan")) == []
    corner = pieces(found)[0]["corners"][0]
    assert corner["along"].endswith(" in")
    for typed, says in (("60 ft", "it can't be above"), ("wide", "isn't understood")):
        assert says in changed(us, way, 422, width_m=typed)["detail"]
    sheet = us.get("/cut-plans/plan")["sheet_id"]
    size = {"length": {"text": "40 1/2", "unit": "in"}, "width": {"text": "3 ft", "unit": "in"}}
    us.ask("POST", "/remnants", {"id": "left", "data_sheet_id": sheet, **size}, 201)
    shelf = us.get("/cut-plans")
    assert "40 1/2 in × 36 in" in shelf["remnants"][0]["words"]
    assert foreign(shelf) == []
    for form, kind in (("pdf", "application/pdf"), ("svg", "image/svg+xml"), ("dxf", "image/vnd.dxf")):
        answer = us.client.get(f"/api/v1/cut-ways/{way}/layout.{form}")
        assert (answer.status_code, answer.content_type) == (200, kind)
    whole = us.client.get(f"/api/v1/cut-ways/{way}/layout.pdf?piece={pieces(found)[0]['key'].replace('#', '%23')}")
    assert whole.data.startswith(b"%PDF")
    assert us.ask("GET", f"/cut-ways/{way}/layout.docx", status=422)["detail"].startswith("“docx” is not a form")
    gone = us.ask("GET", f"/cut-ways/{way}/layout.pdf?piece=nobody", status=422)
    assert "not in this layout any more" in gone["detail"]


def test_weights_are_typed_in_ounces_and_pounds(us, left_upper):
    computed = us.get(f"/parts/{left_upper}/weight")["jobs"][0]["total"]["value"]
    pounds = computed / 453.59237
    order = {"id": "w", "job": "", "moment": "after", "weighs": {"text": f"{pounds:.3f} lb", "unit": "oz"}}
    us.ask("POST", f"/parts/{left_upper}/weighings", order, 201)
    view = us.get(f"/parts/{left_upper}/weight")
    assert view["whole"]["value"] == pytest.approx(computed, rel=1e-3)
    assert "as computed" in view["jobs"][0]["says"]
    assert foreign(view) == []
    # Typed in ounces what the scale showed in pounds: sixteen times too little.
    slip = {**order, "id": "w2", "weighs": {"text": f"{pounds:.2f}", "unit": "oz"}}
    problem = us.ask("POST", f"/parts/{left_upper}/weighings", slip, 422)
    assert "16th part of what is computed" in problem["detail"]

    airframe = us.get("/airframe")["id"]
    item = {"id": "i", "version": 0, "name": "Engine", "weighs": {"text": "115 lb", "unit": "oz"}}
    us.ask("PUT", f"/airframes/{airframe}/items", {**item, "aft": {"text": "15 1/2", "unit": "in"}})
    version = us.get(f"/airframes/{airframe}/weights")["version"]
    texts = {"fore_m": "78 in", "aft_m": "88", "most_g": "1320 lb"}
    us.ask("PATCH", f"/airframes/{airframe}/limits", {"version": version, "texts": texts})
    found = us.get(f"/airframes/{airframe}/weights")
    assert found["fore_m"] == pytest.approx(78 * 0.0254)
    assert found["items"][0]["aft"] == "15.5 in"
    assert foreign(found) == []

    hinge = us.get(f"/parts/{left_upper}/weight")["hinge"]
    texts = {"root_m": "2 1/4", "tip_m": "1.75 in", "ahead_m": "1 5/8", "wanted_pct": "100"}
    us.ask("PATCH", f"/parts/{left_upper}/hinge", {"version": hinge["version"], "texts": texts})
    read = {"id": "r", "reads": {"text": "4", "unit": "oz"}, "arm": {"text": "7", "unit": "in"}}
    us.ask("POST", f"/parts/{left_upper}/hinge-readings", read, 201)
    hinge = us.get(f"/parts/{left_upper}/weight")["hinge"]
    assert hinge["readings"][0]["words"].startswith("4.00 oz at 7 in, tail heavy")
    assert f"{4 * 7 / 1.625:.2f} oz" in hinge["readings"][0]["says"]
    assert foreign(hinge) == []
