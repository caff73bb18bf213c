"""Shape, plies, losses and settings: all or nothing, and never over somebody else."""

import pytest
from tests.shapes import retyped

TWO_POINTS = "two\n1 0\n0 0\n"
PERCENT = "A section\n100 0.2\n50 8\n10 6\n0 0\n10 -3\n50 -2\n100 -0.2\n"


def typed(text, unit="m"):
    return {"text": text, "unit": unit}


def figures(view):
    return {figure["key"]: figure["value"] for figure in view.get("drawing", view)["figures"]}


@pytest.fixture
def form(shop, left_upper):
    def edit(status=200, **typed):
        view = shop.get(f"/parts/{left_upper}/shape")
        return shop.ask("PATCH", f"/shapes/{view['shape_id']}", retyped(view, **typed), status)

    return edit


def test_one_forms_change_shows_on_all_its_parts(shop, left_upper, form):
    before = figures(shop.get(f"/parts/{left_upper}/shape"))
    form(at_2="300 in", chord_1="1,2")
    for name in ("Left wing, upper skin", "Right wing, upper skin", "Left wing, lower skin"):
        view = shop.get(f"/parts/{shop.part(name)}/shape")
        assert figures(view)["planform_area"] == pytest.approx(7.62 * (1.2 + 0.62) / 2)
        assert len(view["decides"]) == 7  # the ribs, the spar cap and the closing joint too
    assert figures(shop.get(f"/parts/{left_upper}/shape"))["upper_area"] > before["upper_area"]


def test_outlines_and_angles_of_left_and_right_are_mirror_images(shop, left_upper):
    right_upper = shop.part("Right wing, upper skin")
    left, right = (shop.get(f"/parts/{s}/shape")["drawing"]["outline"][0] for s in (left_upper, right_upper))
    assert [[-side, aft] for side, aft in left] == right
    left, right = (shop.get(f"/parts/{s}/plies")["plies"] for s in (left_upper, right_upper))
    assert [ply["angle_deg"] for ply in left] == [45, 0, 45]
    assert [ply["angle_deg"] for ply in right] == [-45, 0, -45]


@pytest.mark.parametrize(
    ("typed", "field", "named"),
    [
        ({"at_2": "0"}, "stations.1.at_m", "station 2 stands at 0 m, station 1 at 0 m"),
        ({"at_2": "7 bananas"}, "stations.1.at_m", "“bananas” is not a unit of length"),
        ({"chord_1": "-1 in"}, "stations.0.chord_m", "Chord is -0.0254 m"),
        ({"at_2": "9", "chord_2": "x"}, "stations.1.chord_m", "“x”"),
        ({"chord_2": ""}, "stations.1.chord_m", "row 2: chord is not given yet"),
        ({"twist_2": "60"}, "stations.1.twist_deg", "Twist is 60°; it can't be above 45°"),
        ({"sections": {1: {"naca": "24"}}}, "stations.0.section", "“24” is not a NACA section"),
        ({"sections": {2: {"naca": "2012"}}}, "stations.1.section", "camber 2% at 0%"),
        ({"sections": {1: {"file": TWO_POINTS}}}, "stations.0.section", "2 points; at least 5"),
        ({"sections": {1: {}}}, "stations.0.section", "station 1 has no section yet"),
    ],
)
def test_a_shape_that_cannot_be_is_refused_whole(shop, left_upper, form, typed, field, named):
    before = shop.get(f"/parts/{left_upper}/shape")
    problem = form(status=422, **typed)
    assert problem["errors"][0]["field"] == field
    assert named in problem["errors"][0]["sentence"]
    assert shop.get(f"/parts/{left_upper}/shape") == before


def test_a_section_file_in_percent_is_taken_and_said(shop, left_upper, form):
    saved = form(sections={2: {"file": PERCENT, "file_name": "a.dat"}})
    assert "percent" in saved["note"]
    root, tip = shop.get(f"/parts/{left_upper}/shape")["drawing"]["sections"]
    assert (root["name"], tip["name"]) == ("NACA 4415", "A section")
    shop.reopen()
    assert shop.get(f"/parts/{left_upper}/shape")["drawing"]["sections"][1] == tip


def test_the_later_of_two_saves_is_told_what_changed_and_can_go_on_top(shop, left_upper):
    view = shop.get(f"/parts/{left_upper}/shape")
    path = f"/shapes/{view['shape_id']}"
    shop.ask("PATCH", path, retyped(view, chord_2="0.58"))
    other = retyped(shop.get(f"/parts/{left_upper}/shape"), sections={1: {"naca": "2412"}, 2: {"naca": "2412"}})
    shop.ask("PATCH", path, other)
    mine = retyped(view, chord_2="0.7")
    stale = shop.ask("PATCH", path, mine, status=409)
    assert stale["changed"] == [
        "row 2, chord: 0.62 m → 0.58 m",
        "Planform area 6.264 m² → 6.120 m²",
        "row 1, section: NACA 4415 → NACA 2412",
        "row 2, section: NACA 4412 → NACA 2412",
    ]
    assert shop.get(f"/parts/{left_upper}/shape")["typed"]["stations"][1]["chord"] == "0.58 m"
    shop.ask("PATCH", path, {**mine, "version": stale["version"]})
    assert shop.get(f"/parts/{left_upper}/shape")["typed"]["stations"][1]["chord"] == "0.7 m"


def test_saving_what_is_there_already_changes_nothing(shop, left_upper, form):
    before = shop.get("/now?since=-1")["seq"]
    form(at_2="7200 mm")
    assert shop.get("/now?since=-1")["seq"] == before


@pytest.fixture
def book(shop):
    """Rewrites a part's ply book; what is not given stays."""

    def rewrite(part, angles=None, status=200, version=None, **more):
        view = shop.get(f"/parts/{part}/plies")
        plies = [
            {"cloth_id": ply["cloth_id"], "angle": typed(str(angle), "°")}
            for ply, angle in zip(view["plies"], angles or [p["angle_deg"] for p in view["plies"]], strict=True)
        ]
        body = {"version": version or view["version"], "plies": plies}
        body |= {"core_id": view["core"]["core_id"], "core_after": view["core"]["after"]} | more
        return shop.ask("PUT", f"/parts/{part}/plies", body, status)

    return rewrite


def test_a_ply_turned_on_the_right_hand_part_turns_its_mirror_image_on_the_left(shop, left_upper, book):
    right = shop.part("Right wing, upper skin")
    book(right, ["-30", "90°", "135"])
    assert shop.get(f"/parts/{right}/plies")["code"] == "[-30/90/core/-45]"
    assert shop.get(f"/parts/{left_upper}/plies")["code"] == "[30/90/core/45]"


def test_weights_follow_from_the_book_and_the_shape(shop, left_upper, book):
    area = figures(shop.get(f"/parts/{left_upper}/shape"))["upper_area"]
    before = figures(shop.get(f"/parts/{left_upper}/plies"))
    scores = shop.get(f"/parts/{left_upper}/plies")["scoring"]["resin"]["value"]
    assert before["total_mass"] == pytest.approx(before["total_per_m2"] * area + scores)
    assert before["total_per_m2"] == pytest.approx(sum(before[f"{k}_per_m2"] for k in ("fibre", "resin", "core")))
    book(left_upper, core_id=None, core_after=0)
    bare = shop.get(f"/parts/{left_upper}/plies")
    assert bare["core"] is None
    assert figures(bare)["total_per_m2"] == pytest.approx(before["total_per_m2"] - 8 * 75 - 2 * 120)
    assert "core_mass" not in figures(bare)


@pytest.mark.parametrize(
    ("more", "named"),
    [
        ({"angles": [400, 0, 45]}, "the angle is 400°; it can't be above 180°"),
        ({"angles": ["steep", 0, 45]}, "“steep”"),
        ({"plies": []}, "plies is empty"),
        ({"core_after": 9}, "plies outside the core is 9; it can't be above 3"),
        ({"core_id": "nothing"}, "There is no data sheet “nothing”"),
    ],
)
def test_a_ply_book_that_cannot_be_is_refused_whole(shop, left_upper, book, more, named):
    before = shop.get(f"/parts/{left_upper}/plies")
    problem = book(left_upper, status=None, **more)
    assert problem["status"] in (404, 422)
    assert named in problem["detail"]
    assert shop.get(f"/parts/{left_upper}/plies") == before


def test_a_core_is_no_cloth(shop, left_upper):
    view = shop.get(f"/parts/{left_upper}/plies")
    body = {"version": view["version"], "plies": [{"cloth_id": view["cores"][0]["id"], "angle": typed("0", "°")}]}
    assert "is not a cloth" in shop.refused("PUT", f"/parts/{left_upper}/plies", body)["detail"]


def test_the_later_of_two_ply_books_is_told_which_plies_changed(shop, left_upper, book):
    old = shop.get(f"/parts/{left_upper}/plies")["version"]
    book(left_upper, [45, 90, 45])
    stale = book(left_upper, [45, 0, 0], status=409, version=old)
    assert stale["changed"] == [
        "plies: took out Sedge 280 twill glass at 0° and put in Sedge 280 twill glass at 90°, now [45/90/core/45]"
    ]


def test_losses_are_assumed_until_the_shop_says_otherwise(shop, left_upper):
    view = shop.get(f"/parts/{left_upper}/mix")
    assert all(loss["assumed"] for loss in view["losses"])
    need = view["needs"][0]["figures"][0]
    assert [given["name"] for given in need["given"] if given["assumed"]] == [
        "cut off wet, 8 %",
        "drawn into peel ply and breather",
        "left in cups and tools, 5 %",
    ]
    path = f"/jobs/{view['job_id']}/losses"
    body = {"version": view["version"], "losses": {"bleed_g_m2": typed("3 oz/yd²", "g/m²")}}
    shop.ask("PATCH", path, body)
    after = shop.get(f"/parts/{left_upper}/mix")
    assert [loss["field"] for loss in after["losses"] if not loss["assumed"]] == ["bleed_g_m2"]
    assert after["needs"][0]["figures"][0]["value"] > need["value"]
    too_much = {"version": after["version"], "losses": {"cup_pct": typed("100", "%")}}
    assert "is 100 %; it can't be above 60 %" in shop.refused("PATCH", path, too_much)["detail"]


def test_units_hours_and_zone_are_the_shops(shop, left_upper):
    view = shop.get("/shop")
    assert (view["zone"], len([day for day in view["week"] if day])) == ("Europe/Vienna", 6)
    us = shop.ask("PATCH", "/shop", {"version": view["version"], "units": "us"})
    form = shop.get(f"/parts/{left_upper}/shape")
    assert form["typed"]["stations"][1]["at"] == "283.465 in"
    # What stands as it was shown keeps every digit, though an inch shows fewer.
    shop.ask("PATCH", f"/shapes/{form['shape_id']}", retyped(form))
    assert shop.get(f"/parts/{left_upper}/shape")["version"] == form["version"]
    shop.ask("PATCH", "/shop", {"version": us["version"], "week": [*["17–22"] * 5, "", ""]})
    today = shop.get("/today")
    assert "Closed until 17:00. Then: " in today["detail"]  # the night comes first


@pytest.mark.parametrize(
    ("body", "named"),
    [
        ({"units": "cubits"}, "“cubits” is not a unit system"),
        ({"zone": "Mars/Olympus"}, "“Mars/Olympus” is not a zone"),
        ({"week": [""] * 7}, "0 working days"),
        ({"week": ["", "9x–17", *[""] * 5]}, "“9x” isn't a time of day"),
        ({"week": ["", "17–9", *[""] * 5]}, "Tuesday ends at 09:00"),
        ({"week": ["9–17"] * 9}, "9 days in it; a week has 7"),
    ],
)
def test_settings_that_cannot_be_are_refused(shop, body, named):
    version = shop.get("/shop")["version"]
    assert named in shop.refused("PATCH", "/shop", {"version": version, **body})["detail"]
