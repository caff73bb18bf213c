"""Ply books with zones and stages: typed, looked at, built from, mirrored, refused."""

import io

import pytest
from pypdf import PdfReader

ROOT = {"name": "root", "kind": "band", "texts": {"from_m": "0", "to_m": "1.5 m", "step_m": "10"}}
CAP = {"name": "cap", "kind": "strip", "texts": {"from_m": "0", "from_share": "30", "to_m": "4", "to_share": "30 %",
                                                 "width_m": "120 mm"}}  # fmt: skip
PATCH = {"name": "patch", "kind": "drawn", "corners": "1 m; 20 %\n2 m; 20 %\n\n2 m; 60 %\n1 m; 60 %"}


def book(view, zones=(), add=(), **more):
    """A ply book as it stands, with zones and plies added outside the core like the second."""
    rows = [
        {"cloth_id": ply["cloth_id"], "angle": {"text": str(ply["angle_deg"]), "unit": "°"}, "zone": ply["zone"],
         "stage": ply["stage"]} for ply in view["plies"]
    ]  # fmt: skip
    core = view["core"]
    new = [{**rows[1], **one} for one in add]
    rows[core["after"] : core["after"]] = new
    body = {"version": view["version"], "job": view["job"], "plies": rows, "core_id": core["core_id"]}
    return body | {"core_after": core["after"] + len(new), "zones": list(zones), "reason": "a stronger root", **more}


def figures(view):
    return {figure["key"]: figure["value"] for figure in view["figures"]}


@pytest.fixture
def zoned(shop, left_upper):
    """The left upper skin with a root doubler of two plies and a cap laid in a second bag; what it was before."""
    before = shop.get(f"/parts/{left_upper}/plies"), shop.get(f"/parts/{left_upper}/mix")
    add = [{"zone": "root"}, {"zone": "root"}, {"zone": "cap", "stage": 2}]
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(before[0], [ROOT, CAP], add))
    return before


def test_each_ply_counts_with_what_it_covers_and_the_steps_follow(shop, left_upper, zoned):
    before, mixed = zoned
    view = shop.get(f"/parts/{left_upper}/plies")
    root, cap = (zone["area"]["value"] for zone in view["zones"])
    cloth = before["plies"][1]["areal_weight_g_m2"]
    # The second ply of the root ends 10 mm short of the first, along an edge as long as the girth there.
    short = 2 * root * cloth + cap * cloth - (figures(view)["fibre_mass"] - figures(before)["fibre_mass"])
    assert short / cloth == pytest.approx(0.01 * 1.08, rel=0.1)
    assert cap == pytest.approx(0.12 * 4, rel=0.01)
    assert {row["name"]: row["code"] for row in view["regions"]} == {
        "elsewhere": "[45/0/core/45]",
        "root": "[45/0/0/0/core/45]",
        "root + cap": "[45/0/0/0/0/core/45]",
        "cap": "[45/0/0/core/45]",
    }
    assert [row["where"] for row in view["regions"]][1:3] == ["where root lies", "where root and cap lie"]
    assert view["doubts"] == []
    steps = [step["key"] for step in shop.get(f"/parts/{left_upper}/times")["steps"]]
    assert steps[:6] == ["prepare", "skin-1/layup", "skin-1/peel", "skin-1.2/layup", "skin-1.2/peel", "core/bed"]
    needs = {need["step_key"]: need["figures"][0]["value"] for need in shop.get(f"/parts/{left_upper}/mix")["needs"]}
    were = {need["step_key"]: need["figures"][0]["value"] for need in mixed["needs"]}
    assert were["skin-1/layup"] < needs["skin-1/layup"] < 1.5 * were["skin-1/layup"]
    assert needs["skin-1.2/layup"] < 0.2 * were["skin-1/layup"]
    assert needs["core/bed"] == pytest.approx(were["core/bed"], rel=1e-4)
    called = [item["words"] for item in shop.get(f"/run-sheet?part_id={left_upper}&step_key=skin-1/layup")["items"]]
    assert "Ply 4: Sedge 280 twill glass at 0°, root" in called


def test_the_bench_sheet_has_each_ply_with_its_zone_stage_and_grams(shop, left_upper, zoned):
    page = PdfReader(io.BytesIO(shop.client.get(f"/api/v1/parts/{left_upper}/plies.pdf").data)).pages
    text = " ".join(" ".join(one.extract_text() for one in page).split())
    assert text.index("First bag, outside the core") < text.index("4 · Sedge 280") < text.index("Second bag, outside")
    assert text.index("Second bag, outside") < text.index("Core · Bulrush 75") < text.index("First bag, inside")
    assert "0°, root, 1.682 m²" in text
    ply = shop.get(f"/parts/{left_upper}/plies")["plies"][2]
    assert f"{round(1.682 * ply['areal_weight_g_m2'])} g cloth" in text
    assert "The schedule belongs to the designer" in text


def test_what_is_used_up_besides_resin_follows_the_book_and_the_losses(shop, left_upper, zoned):
    def used():
        return {row["label"]: row["value"] for row in shop.get(f"/parts/{left_upper}/mix")["supplies"]}

    before, found = {row["label"]: row["value"] for row in zoned[1]["supplies"]}, used()
    root, cap = (zone["area"]["value"] for zone in shop.get(f"/parts/{left_upper}/plies")["zones"])
    more = found["Sedge 280 twill glass"] - before["Sedge 280 twill glass"]
    assert more == pytest.approx(1.08 * (2 * root + cap), rel=0.01)
    # The cap's own bag: peel ply under it, tape round it, and what hands get through once more.
    assert found["peel ply"] - before["peel ply"] == pytest.approx(1.1 * cap, rel=1e-3)
    assert found["sealant tape"] > before["sealant tape"]
    assert found["brushes"] == before["brushes"] + 3
    assert found["Bulrush 75, 8 mm foam"] == pytest.approx(before["Bulrush 75, 8 mm foam"], rel=1e-4)
    mix = shop.get(f"/parts/{left_upper}/mix")
    typed = {"version": mix["version"], "losses": {"sheet_pct": {"text": "20", "unit": "%"}}}
    shop.ask("PATCH", f"/jobs/{mix['job_id']}/losses", typed)
    assert used()["breather"] == pytest.approx(found["breather"] * 1.2 / 1.1)
    peel = next(row for row in mix["supplies"] if row["label"] == "peel ply")
    assert sum(row["value"] for row in peel["given"] if row["kind"] == "area") == pytest.approx(peel["value"])


def test_the_right_hand_part_has_the_mirror_image(shop, left_upper, zoned):
    right = shop.get(f"/parts/{shop.part('Right wing, upper skin')}/plies")
    left = shop.get(f"/parts/{left_upper}/plies")
    for a, b in zip(left["zones"], right["zones"], strict=True):
        mirror = [[[-x, y] for x, y in ring] for ring in a["rings"]]
        assert mirror == b["rings"]
        moves = [[row["moves"][0] for row in zone["handles"]] for zone in (a, b)]
        assert [row["value"] for row in moves[0]] == [row["value"] for row in moves[1]]
        assert [-row["per_m"][0] for row in moves[0]] == [row["per_m"][0] for row in moves[1]]


def test_what_is_typed_is_looked_at_and_only_kept_when_it_is_saved(shop, left_upper):
    before = shop.get(f"/parts/{left_upper}/plies")
    add = [{"zone": "patch"}, {"zone": "patch"}]
    looked = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [PATCH], add))
    assert looked["zones"][0]["area"]["value"] == pytest.approx(1.0 * 0.4 * 1.07, rel=0.05)
    assert looked["doubts"] == [
        "Plies 3 and 4 end at the same edge of “patch”: at 1 in 20 each would end 6 mm short of the next."
    ]
    assert shop.get(f"/parts/{left_upper}/plies") == before
    core = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [PATCH], core_zone="patch"))
    assert figures(core)["core_mass"] == pytest.approx(looked["zones"][0]["area"]["value"] * 8 * 75, rel=1e-6)


def test_a_corner_that_is_dragged_stays_under_the_finger(shop, left_upper):
    before = shop.get(f"/parts/{left_upper}/plies")
    looked = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [PATCH], [{"zone": "patch"}]))
    zone = looked["zones"][0]
    corner = next(row for row in zone["handles"] if row["field"] == "corners.2")
    assert [len(row["moves"]) for row in zone["handles"]] == [2, 2, 2, 2]
    by = (-0.3, 0.05)
    texts = []
    for move in corner["moves"]:
        value = move["value"] + sum(metres * per for metres, per in zip(by, move["per_m"], strict=True))
        assert move["low"] <= value <= move["high"]
        texts.append(f"{value:.6f} {move['unit']}")
    lines = [line for line in PATCH["corners"].splitlines() if line]
    moved = {**PATCH, "corners": "\n".join([*lines[:2], "; ".join(texts), *lines[3:]])}
    again = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [moved], [{"zone": "patch"}]))
    at = next(row["at"] for row in again["zones"][0]["handles"] if row["field"] == "corners.2")
    assert at == pytest.approx([one + other for one, other in zip(corner["at"], by, strict=True)], abs=2e-3)
    assert [row["at"] for row in again["zones"][0]["handles"][:2]] == [row["at"] for row in zone["handles"][:2]]


def test_joints_are_kept_off_a_zone_in_the_cut_plan_and_it_asks_where_they_cannot_be(shop, left_upper):
    line = {"name": "hinge line", "kind": "strip", "texts": {"from_m": "0", "from_share": "50", "to_m": "7", "to_share":
            "50", "width_m": "60 mm", "joints": "are kept off it"}}  # fmt: skip
    before = shop.get(f"/parts/{left_upper}/plies")
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(before, [line]))
    view = shop.get(f"/parts/{left_upper}/plies")
    assert view["zones"][0]["joints"] == "are kept off it"
    # Nothing lies in it: there is one stack, as before.
    assert [row["name"] for row in view["regions"]] == ["elsewhere"]
    products = shop.get(f"/parts/{left_upper}/pieces")["products"]
    assert [product["asks"] for product in products] == [[] for _ in products]
    wide = {**line, "texts": {**line["texts"], "width_m": "1.5 m"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(view, [wide]))
    asks = [ask for product in shop.get(f"/parts/{left_upper}/pieces")["products"] for ask in product["asks"]]
    assert asks
    assert "a joint lies on “hinge line”" in asks[0]
    wrong = {**line, "texts": {**line["texts"], "joints": "perhaps"}}
    said = shop.refused("PUT", f"/parts/{left_upper}/plies", book(shop.get(f"/parts/{left_upper}/plies"), [wrong]))
    assert "zones.0.joints" in str(said["errors"])


def test_what_is_let_into_the_core_counts_in_what_the_book_comes_to(shop, left_upper):
    block = {"name": "fitting", "kind": "band", "texts": {"from_m": "1", "to_m": "1.2", "lead": "30", "tail": "40",
             "insert": "aluminium"}}  # fmt: skip
    before = shop.get(f"/parts/{left_upper}/plies")
    bare = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [{**block, "texts": {**block["texts"],
                    "insert": "none"}}]))  # fmt: skip
    found = shop.ask("POST", f"/parts/{left_upper}/plies/look", book(before, [block]))
    area = found["zones"][0]["area"]["value"]
    assert figures(found)["insert_mass"] == pytest.approx(area * 8 * 2700, rel=1e-6)
    lost = area * (8 * 75 + 2 * 120)
    more = figures(found)["total_mass"] - figures(bare)["total_mass"]
    assert more == pytest.approx(figures(found)["insert_mass"] - lost, rel=1e-3)


def test_a_zone_is_typed_in_inches_in_a_us_shop(shop, left_upper):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    root = {**ROOT, "texts": {"from_m": "0", "to_m": "60", "step_m": "1/2"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(shop.get(f"/parts/{left_upper}/plies"), [root]))
    zone = shop.get(f"/parts/{left_upper}/plies")["zones"][0]
    assert {row["field"]: row["text"] for row in zone["fields"]} == {
        "from_m": "0 in", "to_m": "60 in", "lead": "0 %", "tail": "100 %", "step_m": "0.5 in"
    }  # fmt: skip
    # What is not touched stays to the last digit, however it is shown.
    metric = {**ROOT, "texts": {"from_m": "0 m", "to_m": "1.5003 m", "step_m": "8 mm"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(shop.get(f"/parts/{left_upper}/plies"), [metric]))
    view = shop.get(f"/parts/{left_upper}/plies")
    again = {"name": "root", "texts": {row["field"]: row["text"] for row in view["zones"][0]["fields"]}}
    assert again["texts"]["to_m"] == "59.07 in"
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(view, [again]))
    same = shop.get(f"/parts/{left_upper}/plies")
    assert (same["version"], same["zones"]) == (view["version"], view["zones"])
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(view, [{**again, "texts": {**again["texts"], "lead": "10"}}]))
    moved = shop.get(f"/parts/{left_upper}/plies")["zones"][0]
    assert next(row for row in moved["handles"] if row["field"] == "to_m")["moves"][0]["value"] == pytest.approx(
        1.5003 / 0.0254
    )


def test_a_zone_in_inches_is_held_in_inches(shop, left_upper):
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us"})
    root = {**ROOT, "texts": {"from_m": "0", "to_m": "60"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(shop.get(f"/parts/{left_upper}/plies"), [root]))
    zone = shop.get(f"/parts/{left_upper}/plies")["zones"][0]
    assert next(row for row in zone["handles"] if row["field"] == "to_m")["moves"][0]["value"] == pytest.approx(60)


@pytest.mark.parametrize(
    ("zones", "more", "field", "says"),
    [
        ([{**ROOT, "texts": {**ROOT["texts"], "to_m": "70 m"}}], {}, "zones.0.to_m", "reaches 70 m along the span"),
        ([{**ROOT, "texts": {**ROOT["texts"], "to_m": "wide"}}], {}, "zones.0.to_m", "“wide”"),
        ([{**ROOT, "texts": {"from_m": "1"}}], {}, "zones.0.to_m", "To is not given yet"),
        ([{**ROOT, "name": " "}], {}, "zones.0.name", "zone 1 has no name yet"),
        ([ROOT, {**CAP, "name": "Root"}], {}, "zones.1.name", "two zones are called “Root”"),
        ([{**CAP, "texts": {**CAP["texts"], "width_m": "0"}}], {}, "zones.0.width_m", "Width is 0 mm"),
        ([{**PATCH, "corners": "1 m; 20 %\n2 m"}], {}, "zones.0.corners", "“2 m” is no corner"),
        ([{**PATCH, "corners": "1 m; 20 %\n2 m; 60 %\n2 m; 20 %\n1 m; 60 %"}], {}, "zones.0.corners", "crosses itself"),
        ([CAP], {"add": [{"zone": "root"}]}, "plies.2.zone", "“root”, which is not there; “cap” is"),
        ([ROOT], {"add": [{"stage": 2}, {"stage": 1}]}, "plies.3.stage", "after one of stage 2"),
        ([ROOT], {"core_zone": "cap"}, "core.zone", "“cap”, which is not there"),
        ([{**ROOT, "kind": "blob"}], {}, "zones.0.kind", "“blob” is no kind of zone"),
        (
            [{**ROOT, "name": f"z{n}"} for n in range(41)],
            {},
            "zones",
            "the number of zones is 41; it can't be above 40",
        ),
    ],
)
def test_a_zone_that_cannot_be_is_refused_by_field_and_nothing_is_lost(shop, left_upper, zones, more, field, says):
    before = shop.get(f"/parts/{left_upper}/plies")
    refused = shop.refused("PUT", f"/parts/{left_upper}/plies", book(before, zones, **more))
    assert refused["errors"][0]["field"] == field
    assert says in refused["detail"]
    assert shop.get(f"/parts/{left_upper}/plies") == before


def test_a_shape_that_becomes_too_short_for_a_zone_stops_its_job_and_nothing_else(shop, left_upper, zoned):
    view = shop.get(f"/parts/{left_upper}/shape")
    rows = [{**row, "at": "1 m"} if n else row for n, row in enumerate(view["typed"]["stations"])]
    body = {"version": view["version"], "shape": {**view["typed"], "stations": rows}, "reason": "a short wing"}
    shop.ask("PATCH", f"/shapes/{view['shape_id']}", body)
    job = shop.get(f"/parts/{left_upper}")["jobs"][0]
    assert "zone “root” reaches 1.5 m along the span; the part runs from 0 to 1 m" in str(job)
    left = shop.get(f"/parts/{left_upper}/plies")
    assert "can't be said: zone “root” reaches 1.5 m" in left["sentence"]
    assert [zone["wrong"] != "" for zone in left["zones"]] == [True, True]
    assert shop.get("/loom")["lanes"]


def test_an_airframe_says_what_is_still_to_be_used_up_and_for_which_parts(shop, left_upper):
    airframe = shop.get("/airframe")
    takes = shop.get(f"/airframes/{airframe['id']}/takes")
    wing = next(each for each in airframe["assemblies"] if each["name"] == "Wing")
    of_wing = shop.get(f"/airframes/{airframe['id']}/takes?assembly={wing['id']}")
    assert (of_wing["of"], takes["of"]) == ("Wing", "Reedling")
    every, wings = ({row["label"]: row for row in view["supplies"]} for view in (takes, of_wing))
    assert every["peel ply"]["value"] > wings["peel ply"]["value"] > 0
    named = {row["name"]: row["value"] for row in wings["peel ply"]["given"]}
    mine = {row["label"]: row["value"] for row in shop.get(f"/parts/{left_upper}/mix")["supplies"]}
    assert named["Left wing, upper skin"] == pytest.approx(mine["peel ply"])
    # The outer skin of the left lower side is laid and finished: only its core and inner skin are still to come.
    assert named["Left wing, lower skin"] < 0.7 * named["Left wing, upper skin"]
    mixes = {row["label"]: row["value"] for row in takes["mixes"]}
    left = sum(part["left"]["grams"] for each in airframe["assemblies"] for part in each["parts"])
    assert sum(mixes.values()) == pytest.approx(left)
    assert shop.ask("GET", f"/airframes/{airframe['id']}/takes?assembly=none", None, 404)


def test_a_hard_point_is_typed_called_out_weighed_and_refused_where_it_can_not_be(shop, left_upper):
    before = shop.get(f"/parts/{left_upper}/plies")
    assert before["inserts"] == ["none", "wood", "glass laminate", "aluminium", "steel"]
    block = {**ROOT, "name": "hinge", "texts": {"from_m": "1", "to_m": "1.2", "lead": "30", "tail": "40"}}
    block["texts"] |= {"insert": "aluminium", "threads": "4"}
    weight = shop.get(f"/parts/{left_upper}/weight")["whole"]["value"]
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(before, [block]))
    view = shop.get(f"/parts/{left_upper}/plies")
    assert (view["zones"][0]["insert"], view["zones"][0]["threads"]) == ("aluminium", "4")
    now = shop.get(f"/parts/{left_upper}/weight")
    assert now["whole"]["value"] > weight
    assert any("“hinge”, aluminium with 4 threads" in one["label"] for one in now["jobs"][0]["figures"])
    sheet = shop.get(f"/run-sheet?part_id={left_upper}&step_key=core/bed")
    assert [item["key"] for item in sheet["items"] if "hinge" in item["key"]] == ["insert-hinge", "plug-hinge"]
    # Sent again as the page has it, nothing changes; taken away, it is a zone like others.
    zones = [{"name": "hinge", "kind": "band", "texts": {**block["texts"], "step_m": "0 mm"}}]
    assert shop.ask("PUT", f"/parts/{left_upper}/plies", book(view, zones))["version"] == view["version"]
    for wrong, field in (({"insert": "cheese"}, "insert"), ({"threads": "-1"}, "threads")):
        odd = {**block, "texts": {**block["texts"], **wrong}}
        problem = shop.refused("PUT", f"/parts/{left_upper}/plies", book(view, [odd]))
        assert problem["errors"][0]["field"] == f"zones.0.{field}"
    none = {**block, "texts": {**block["texts"], "insert": "none"}}
    shop.ask("PUT", f"/parts/{left_upper}/plies", book(view, [none]))
    assert shop.get(f"/parts/{left_upper}/weight")["whole"]["value"] == pytest.approx(weight, rel=1e-4)
