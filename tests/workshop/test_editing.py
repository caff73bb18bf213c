"""Shape, plies, losses and settings: all or nothing, and never over somebody else."""

import pytest

TWO_POINTS = "two\n1 0\n0 0\n"
PERCENT = "A section\n100 0.2\n50 8\n10 6\n0 0\n10 -3\n50 -2\n100 -0.2\n"


def typed(text, unit="m"):
    return {"text": text, "unit": unit}


def figures(view):
    return {figure["key"]: figure["value"] for figure in view["figures"]}


@pytest.fixture
def form(shop, left_upper):
    def edit(status=200, **body):
        view = shop.get(f"/parts/{left_upper}/shape")
        return shop.ask(
            "PATCH", f"/shapes/{view['shape_id']}", {"version": view["version"], "reason": "as built", **body}, status
        )

    return edit


def test_one_forms_change_shows_on_all_its_parts(shop, left_upper, form):
    before = figures(shop.get(f"/parts/{left_upper}/shape"))
    form(measures={"span_m": typed("300 in"), "root_chord_m": typed("1,2")})
    for name in ("Left wing, upper skin", "Right wing, upper skin", "Left wing, lower skin"):
        view = shop.get(f"/parts/{shop.part(name)}/shape")
        assert figures(view)["planform_area"] == pytest.approx(7.62 * (1.2 + 0.62) / 2)
        assert len(view["decides"]) == 7  # the ribs, the spar cap and the closing joint too
    assert figures(shop.get(f"/parts/{left_upper}/shape"))["upper_area"] > before["upper_area"]


def test_outlines_and_angles_of_left_and_right_are_mirror_images(shop, left_upper):
    right_upper = shop.part("Right wing, upper skin")
    left, right = (shop.get(f"/parts/{s}/shape")["outline"] for s in (left_upper, right_upper))
    assert [[-side, aft] for side, aft in left] == right
    left, right = (shop.get(f"/parts/{s}/plies")["plies"] for s in (left_upper, right_upper))
    assert [ply["angle_deg"] for ply in left] == [45, 0, 45]
    assert [ply["angle_deg"] for ply in right] == [-45, 0, -45]


@pytest.mark.parametrize(
    ("body", "field", "named"),
    [
        ({"measures": {"span_m": typed("0")}}, "span_m", "Span of the panel is 0 m; it must be above 0 m"),
        ({"measures": {"span_m": typed("7 bananas")}}, "span_m", "“bananas” is not a unit of length"),
        ({"measures": {"root_chord_m": typed("-1 in")}}, "root_chord_m", "Root chord is -0.0254 m"),
        ({"measures": {"span_m": typed("9"), "tip_chord_m": typed("x")}}, "tip_chord_m", "“x”"),
        ({"measures": {"colour": typed("9")}}, "colour", "not a measure"),
        ({"section": {"end": "both", "naca": "24"}}, "naca", "“24” is not a NACA section"),
        ({"section": {"end": "both", "naca": "2012"}}, "naca", "camber 2% at 0%"),
        ({"section": {"end": "root", "file": TWO_POINTS}}, "section", "2 points; at least 5"),
        ({"section": {"end": "tip"}}, "section", "nothing was given"),
    ],
)
def test_a_shape_that_cannot_be_is_refused_whole(shop, left_upper, form, body, field, named):
    before = shop.get(f"/parts/{left_upper}/shape")
    problem = form(status=422, **body)
    assert problem["errors"][0]["field"] == field
    assert named in problem["errors"][0]["sentence"]
    assert shop.get(f"/parts/{left_upper}/shape") == before


def test_a_section_file_in_percent_is_taken_and_said(shop, left_upper, form):
    saved = form(section={"end": "tip", "file": PERCENT, "file_name": "a.dat"})
    assert "percent" in saved["note"]
    root, tip = shop.get(f"/parts/{left_upper}/shape")["sections"]
    assert (root["name"], tip["name"]) == ("NACA 4415", "A section")
    shop.reopen()
    assert shop.get(f"/parts/{left_upper}/shape")["sections"][1] == tip


def test_the_later_of_two_saves_is_told_what_changed_and_can_go_on_top(shop, left_upper):
    view = shop.get(f"/parts/{left_upper}/shape")
    path, old, why = f"/shapes/{view['shape_id']}", view["version"], {"reason": "as built"}
    shop.ask("PATCH", path, {"version": old, "measures": {"tip_chord_m": typed("0.58")}, **why})
    shop.ask("PATCH", path, {"version": old + 1, "section": {"end": "both", "naca": "2412"}, **why})
    mine = {"measures": {"tip_chord_m": typed("0.7")}, **why}
    stale = shop.ask("PATCH", path, {"version": old, **mine}, status=409)
    assert stale["changed"] == [
        "Tip chord 0.620 m → 0.580 m",
        "root section NACA 4415 → NACA 2412",
        "tip section NACA 4412 → NACA 2412",
    ]
    assert shop.get(f"/parts/{left_upper}/shape")["measures"][2]["text"] == "0.580 m"
    shop.ask("PATCH", path, {"version": stale["version"], **mine})
    assert shop.get(f"/parts/{left_upper}/shape")["measures"][2]["text"] == "0.700 m"


def test_saving_what_is_there_already_changes_nothing(shop, left_upper, form):
    before = shop.get("/now?since=-1")["seq"]
    form(measures={"span_m": typed("7200 mm")})
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
    assert before["total_mass"] == pytest.approx(before["total_per_m2"] * area)
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
    assert [loss["assumed"] for loss in after["losses"]] == [True, False, True]
    assert after["needs"][0]["figures"][0]["value"] > need["value"]
    too_much = {"version": after["version"], "losses": {"cup_pct": typed("100", "%")}}
    assert "is 100 %; it can't be above 60 %" in shop.refused("PATCH", path, too_much)["detail"]


def test_units_hours_and_zone_are_the_shops(shop, left_upper):
    view = shop.get("/shop")
    assert (view["zone"], len([day for day in view["week"] if day])) == ("Europe/Vienna", 6)
    us = shop.ask("PATCH", "/shop", {"version": view["version"], "units": "us"})
    span = shop.get(f"/parts/{left_upper}/shape")["measures"][0]
    assert (span["text"], span["unit"]) == ("283 7/16 in", "in")
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
