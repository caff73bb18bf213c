"""The stateless calculations, field by field as the contract gives them."""

from datetime import datetime, timedelta

import pytest

EPOXY = {
    "ratio": {"resin": 100, "hardener": 28, "basis": "weight"},
    "resin_density_g_ml": 1.14,
    "hardener_density_g_ml": 0.96,
    "tolerance_pct": 3,
}
BY_VOLUME = {**EPOXY, "ratio": {"resin": 2, "hardener": 1, "basis": "volume"}}
CURE = {
    "activation_energy_kj_mol": 55,
    "reference_c": 23,
    "min_c": 10,
    "stages": [{"name": "gel", "hours": 4}, {"name": "peel", "hours": 12}],
}
GLASS = {"name": "glass", "areal_weight_g_m2": 290, "fibre_density_g_cm3": 2.56, "fibre_weight_fraction": 0.55}
WING = {"planform": {"span_m": 3, "root_chord_m": 1, "tip_chord_m": 0.6}, "section": {"naca": "0012"}}


@pytest.fixture
def calc(empty_shop):
    def calculate(name, body, status=200):
        return empty_shop.ask("POST", f"/calc/{name}", body, status)

    return calculate


def test_mix_gives_both_parts_for_any_one_amount(calc):
    by_mass = calc("mix", {"system": EPOXY, "total_g": 256})
    assert (by_mass["resin_g"], by_mass["hardener_g"]) == pytest.approx((200, 56))
    assert by_mass["hardener_per_100_resin_by_volume"] == pytest.approx(28 * 1.14 / 0.96)
    by_volume = calc("mix", {"system": BY_VOLUME, "total_ml": 300})
    assert (by_volume["resin_ml"], by_volume["hardener_ml"]) == pytest.approx((200, 100))
    assert by_volume["hardener_per_100_resin_by_weight"] == pytest.approx(50 * 0.96 / 1.14)
    assert calc("mix", {"system": EPOXY, "resin_g": 50})["hardener_g"] == pytest.approx(14)


@pytest.mark.parametrize(
    ("resin", "hardener", "verdict", "part"),
    [
        (100, 28, "in", None),
        (100, 28.84, "in", None),  # exactly 3 % over
        (100, 29.6, "near", "resin"),
        (100, 33, "out", "resin"),
        (100, 20, "out", "hardener"),
    ],
)
def test_mix_check_judges_and_says_what_to_add(calc, resin, hardener, verdict, part):
    found = calc("mix-check", {"system": EPOXY, "resin_g": resin, "hardener_g": hardener})
    assert found["verdict"] == verdict
    assert found["deviation_pct"] == pytest.approx(100 * (hardener / resin / 0.28 - 1))
    assert (found["top_up"] or {}).get("part") == part
    if part:
        assert f"Add {found['top_up']['grams']:.1f} g {part}" in found["advice"]


def test_activation_fits_two_points_and_more(calc):
    two = calc("activation", {"points": [{"c": 20, "hours": 10}, {"c": 30, "hours": 5}]})
    assert (two["activation_energy_kj_mol"], two["q10_20_30"]) == pytest.approx((51.2, 2), abs=0.05)
    three = calc("activation", {"points": [{"c": c, "hours": h} for c, h in ((20, 10), (25, 7.0), (30, 5))]})
    assert three["activation_energy_kj_mol"] == pytest.approx(51.2, abs=0.3)


@pytest.mark.parametrize("offset", ["", "Z", "+02:00", "-05:00"])
def test_cure_answers_in_the_times_form_of_the_request(calc, offset):
    start = f"2026-05-14T18:00:00{offset}"
    found = calc("cure", {"system": CURE, "start": start, "temperature": [{"at": start, "c": 23}]})
    gel, peel = found["stages"]
    assert (gel["at"], gel["early"], gel["late"]) == (f"2026-05-14T22:00:00{offset}",) * 3
    assert (peel["name"], peel["hours_at_reference"], peel["at"]) == ("peel", 12, f"2026-05-15T06:00:00{offset}")
    assert found["stalled_h"] == 0


def test_cure_stalls_below_the_minimum_and_gives_up_after_sixty_days(calc):
    start = "2026-01-01T08:00"
    night = [
        {"at": start, "c": 20},
        {"at": "2026-01-01T12:00", "c": 5},
        {"at": "2026-01-02T08:00", "c": 5},
        {"at": "2026-01-02T12:00", "c": 20},
    ]
    stalled = calc("cure", {"system": CURE, "start": start, "temperature": night})
    # 20 → 5 °C in 4 h crosses 10 °C at 10:40; back up it crosses at 09:20 the next day.
    assert stalled["stalled_h"] == pytest.approx(22 + 40 / 60)
    never = calc("cure", {"system": CURE, "start": start, "temperature": [{"at": start, "c": 9}]})
    assert [stage["at"] for stage in never["stages"]] == [None, None]
    assert never["stalled_h"] == pytest.approx(60 * 24)


def test_cure_bands_lie_on_both_sides_and_widen(calc):
    start = "2026-05-14T18:00"
    body = {"system": CURE, "start": start, "temperature": [{"at": start, "c": 17}]}

    def spread(band_c, band_ea):
        system = {**CURE, "activation_energy_band_kj_mol": band_ea}
        stage = calc("cure", {**body, "system": system, "temperature_band_c": band_c})["stages"][1]
        early, at, late = (datetime.fromisoformat(stage[key]) for key in ("early", "at", "late"))
        assert early < at < late
        return late - early

    assert timedelta() < spread(1, 0) < spread(2, 0) < spread(2, 8)


def test_surface_measures_each_side_and_takes_points_in_either_form(calc):
    naca = calc("surface", WING)
    assert naca["planform_area_m2"] == pytest.approx(2.4)
    assert naca["upper_area_m2"] == pytest.approx(naca["lower_area_m2"])
    assert naca["root_girth_upper_m"] == pytest.approx(1.0196, abs=1e-4)
    upper, lower = [[0, 0], [0.3, 0.08], [1, 0.001]], [[0, 0], [0.3, -0.04], [1, -0.001]]
    round_the_nose = upper[::-1] + lower[1:]
    forms = [
        {"points": round_the_nose},
        {"points": round_the_nose[::-1]},
        {"points": [upper, lower]},
        {"upper": upper, "lower": lower[::-1]},
    ]
    found = [{**calc("surface", {**WING, "section": section}), "stations": 0} for section in forms]
    assert all(other == pytest.approx(found[0]) for other in found)
    assert found[0]["upper_area_m2"] > found[0]["lower_area_m2"]
    other_tip = calc("surface", {**WING, "tip_section": {"naca": "4418"}})
    assert other_tip["tip_girth_upper_m"] > naca["tip_girth_upper_m"]
    root = {"at_m": 0, "chord_m": WING["planform"]["root_chord_m"], "section": WING["section"]}
    tip = {"at_m": 3, "chord_m": WING["planform"]["tip_chord_m"], "section": WING["section"]}
    assert {**calc("surface", {"stations": [root, tip]}), "trailing_edge_m": naca["trailing_edge_m"]} == naca
    bent = calc("surface", {"stations": [root, {**tip, "height_m": 4, "leading_edge_m": 0, "twist_deg": 3}]})
    assert (bent["leading_edge_m"], bent["planform_area_m2"]) == (5.0, naca["planform_area_m2"])
    assert bent["stations"][1]["girth_upper_m"] == bent["tip_girth_upper_m"] == naca["tip_girth_upper_m"]


SQUARE, HOLE = [[0, 0], [100, 0], [100, 50], [0, 50]], [[10, 10], [20, 10], [20, 20], [10, 20]]


def test_outline_counts_holes_and_reads_drawings(calc):
    found = calc("outline", {"loops_mm": [HOLE, SQUARE, SQUARE[::-1]]})
    assert (found["area_mm2"], found["perimeter_mm"], found["unit"]) == (4900, 340, "mm")
    assert [len(one["holes_mm"]) for one in found["outlines"]] == [1]
    assert found["assumed"] == ["a loop drawn twice was taken once"]
    svg = '<svg xmlns="http://www.w3.org/2000/svg" width="2in" viewBox="0 0 10 10"><rect width="10" height="5"/></svg>'
    drawn = calc("outline", {"svg": svg})
    assert (drawn["area_mm2"], drawn["unit"]) == (pytest.approx(50.8 * 25.4), "in")
    assert calc("outline", {"svg": svg, "unit": "cm"})["area_mm2"] == pytest.approx(5000)


def test_laminate_weighs_measures_and_names_a_stack(calc):
    plies = [{**GLASS, "angle_deg": angle} for angle in (45, 0, 0, 45)]
    core = {"after_ply": 2, "thickness_mm": 8, "density_kg_m3": 75, "resin_uptake_g_m2_per_side": 120}
    found = calc("laminate", {"plies": plies, "resin_density_g_cm3": 1.15, "core": core})
    resin = 290 * (1 / 0.55 - 1)
    assert found["code"] == "[45/0/core/0/45]"
    assert found["symmetric"] is True
    assert found["balanced"] is False
    assert found["thickness_mm"] == pytest.approx(4 * 0.3197 + 8, abs=1e-3)
    assert found["resin_g_m2"] == pytest.approx(4 * resin + 240)
    assert found["areal_weight_g_m2"] == pytest.approx(found["fibre_g_m2"] + found["resin_g_m2"] + 600)
    woven = [{**GLASS, "angle_deg": angle, "balanced": True} for angle in (45, 0, 90, -45)]
    told = calc("laminate", {"plies": woven, "resin_density_g_cm3": 1.15})
    assert (told["symmetric"], told["balanced"]) == (True, True)


FAST_POT = {**EPOXY, "pot_life": {"minutes": 18, "mass_g": 100, "temp_c": 23}, "activation_energy_kj_mol": 55}
CUPS = {"system": FAST_POT, "total_g": 900, "spread_g_min": 20, "temp_c": 21, "residue_g": 5}


def test_cups_split_an_amount_and_say_when_to_mix_each(calc):
    cups = calc("cups", CUPS)["cups"]
    assert len(cups) > 3
    assert sum(cup["total_g"] - 5 for cup in cups) == pytest.approx(900)
    assert all(cup["resin_g"] * 0.28 == pytest.approx(cup["hardener_g"]) for cup in cups)
    assert [cup["mix_at_min"] for cup in cups] == sorted(cup["mix_at_min"] for cup in cups)
    assert all(cup["mix_at_min"] + 5 < cup["use_by_min"] and 21 < cup["peak_c"] <= 60 for cup in cups)
    assert len(calc("cups", {**CUPS, "temp_c": 30})["cups"]) > len(cups)
    assert len(calc("cups", {**CUPS, "spread_g_min": 200, "total_g": 100})["cups"]) == 1


def test_exotherm_follows_a_cup_until_it_is_spent(calc):
    cup = calc("exotherm", {"system": FAST_POT, "mass_g": 100, "temp_c": 23})
    assert cup["working_min"] == pytest.approx(18)
    assert max(row["c"] for row in cup["curve"]) == cup["peak_c"]
    assert [row["conversion"] for row in cup["curve"]] == sorted(row["conversion"] for row in cup["curve"])
    film = calc("exotherm", {"system": FAST_POT, "mass_g": 100, "temp_c": 23, "area_cm2": 1818})
    assert film["peak_c"] < 26 < cup["peak_c"]


HOT = [{"at": "2026-05-14T18:00", "c": 23}]
BAD = [
    (
        "mix",
        {"system": {**EPOXY, "ratio": {"resin": 100, "hardener": 0, "basis": "weight"}}, "total_g": 100},
        "hardener",
    ),
    ("mix", {"system": EPOXY, "total_g": 100, "resin_g": 50}, "exactly one"),
    ("mix", {"system": EPOXY, "total_g": -5}, "total_g is -5"),
    (
        "mix",
        {"system": {"ratio": {"resin": 2, "hardener": 1, "basis": "volume"}}, "total_g": 100},
        "resin_density_g_ml",
    ),
    ("mix", {"system": EPOXY, "total_g": "3 1/2 in"}, "total_g"),
    ("mix-check", {"system": EPOXY, "resin_g": -1, "hardener_g": 5}, "resin_g is -1 g; it can't be below 0 g"),
    ("mix-check", {"system": EPOXY, "resin_g": 0, "hardener_g": 0}, "both 0"),
    ("cups", {**CUPS, "spread_g_min": 1, "residue_g": 30}, "the largest cup that is used in time"),
    ("cups", {**CUPS, "scale_step_g": 5}, "steps of 5.0 g"),
    ("cups", {**CUPS, "temp_c": 61}, "every cup is above it"),
    ("cups", {**CUPS, "system": {**FAST_POT, "tolerance_pct": None}, "scale_step_g": 1}, "tolerance_pct is missing"),
    ("exotherm", {"system": FAST_POT, "mass_g": 0, "temp_c": 23}, "the cup is 0 g; it can't be below 0.1 g"),
    ("exotherm", {"system": EPOXY, "mass_g": 10, "temp_c": 23}, "pot_life is missing"),
    ("activation", {"points": [{"c": 20, "hours": 10}]}, "at least 2"),
    ("activation", {"points": [{"c": 20, "hours": 10}, {"c": 20, "hours": 5}]}, "two different"),
    ("cure", {"system": {**CURE, "stages": []}, "start": "2026-05-14T18:00", "temperature": HOT}, "stages"),
    ("cure", {"system": CURE, "start": "tonight", "temperature": HOT}, "“tonight”"),
    ("cure", {"system": CURE, "start": "2026-05-14T18:00Z", "temperature": HOT}, "offset"),
    ("cure", {"system": CURE, "start": "2026-05-14T18:00", "temperature": []}, "at least 1"),
    ("surface", {**WING, "section": {"naca": "24"}}, "“24”"),
    ("surface", {**WING, "section": {"points": [[1, 0], [0, 0]]}}, "2 points; at least 5"),
    ("surface", {"section": {"naca": "2412"}}, "planform is missing"),
    ("surface", {"stations": [{"at_m": at, "chord_m": 1, "section": {"naca": "2412"}} for at in (0, 2, 1)]}, "1 m"),
    ("outline", {"loops_mm": [[[0, 0], [9, 9], [9, 0], [0, 9]]]}, "crosses or touches itself at x 4.5, y 4.5 mm"),
    ("outline", {"loops_mm": [[[0, 0], [9, 0]]]}, "2 corners; at least 3"),
    ("outline", {"loops_mm": []}, "no closed line"),
    ("outline", {"dxf": "0\nEOF\n"}, "says no unit"),
    ("outline", {"svg": "<svg", "unit": "mm"}, "no SVG drawing"),
    ("outline", {"svg": '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h9v9"/></svg>'}, "does not close: from"),
    ("surface", {**WING, "section": {"points": [[100, 0], [50, 8], [0, 0], [50, -4], [100, 0]]}}, "x = 100"),
    ("surface", {**WING, "planform": {"span_m": 0, "root_chord_m": 1, "tip_chord_m": 1}}, "Span of the panel is 0 m"),
    (
        "laminate",
        {"plies": [{**GLASS, "angle_deg": 400}], "resin_density_g_cm3": 1.15},
        "angle is 400°; it can't be above 180°",
    ),
    ("laminate", {"plies": [], "resin_density_g_cm3": 1.15}, "plies is empty"),
    ("surface", {"planform": WING["planform"]}, "section is missing; a planform wants one"),
    ("surface", {**WING, "stations": [{"at_m": 0, "chord_m": 1, "section": {"naca": "2412"}}]}, "are both given"),
    ("surface", {**WING, "section": {"points": [[[0, 0], [1, 0]]] * 3}}, "has 3 lists; 2 are wanted, upper and lower"),
    ("outline", {"loops_mm": [[[0, 0], [9, 0], [9, 9]]], "svg": "<svg/>"}, "loops_mm and svg is given; exactly one"),
    ("outline", {}, "none of them is given; exactly one"),
    ("outline", {"loops_mm": [[[0, 0], [2e6, 0], [9, 9]]]}, "loop 1 reaches 2000000, 0 mm; at most"),
    ("activation", {"points": [{"c": 20, "hours": 9}, {"c": 20.05, "hours": 5}]}, "all lie within 0.1 °C of 20 °C"),
    (
        "cure",
        {"system": CURE, "start": "2026-05-14T18:00", "temperature": [{"at": "2026-05-14T18:00+02:00", "c": 23}]},
        "give all times an offset, or none",
    ),
    (
        "laminate",
        {"plies": [{**GLASS, "angle_deg": 0, "fibre_weight_fraction": 1.4}], "resin_density_g_cm3": 1.15},
        "1.4",
    ),
]


@pytest.mark.parametrize(("name", "body", "named"), BAD)
def test_bad_input_is_refused_with_the_value_and_the_limit(calc, name, body, named):
    problem = calc(name, body, status=422)
    assert problem["status"] == 422
    assert named in problem["detail"]


COVER = {
    "surface": WING,
    "side": "both",
    "cloth": {"width_m": 1.8, "areal_weight_g_m2": 92},
    "ribs_at_m": [0, 0.5, 1],
    "rib_width_mm": 12,
    "edge_landing_mm": 25,
    "wrap_mm": 20,
    "overlap_mm": 50,
    "adhesive": {"spread_m2_l": 5, "coats_structure": 2, "coats_cloth": 2},
}


def test_a_panel_is_covered_and_coated_as_its_surface_is_measured(calc):
    shape = calc("surface", WING)
    found = calc("cover", COVER)
    (piece,) = found["pieces"]
    girth = shape["root_girth_upper_m"] + shape["root_girth_lower_m"]
    assert piece["quantity"] * piece["width_m"] - (piece["quantity"] - 1) * 0.05 == pytest.approx(girth + 0.04)
    assert piece["length_m"] == pytest.approx(max(shape["leading_edge_m"], shape["trailing_edge_m"]) + 0.04)
    assert found["cloth_m"] == pytest.approx(piece["quantity"] * piece["length_m"])
    assert found["adhesive_l"] == pytest.approx(found["landing_m2"] * 4 / 5)
    assert found["attachments"] is None
    assert calc("cover", {**COVER, "attachment_pitch_mm": 60})["attachments"] > 100
    one = calc("cover", {**COVER, "side": "upper"})
    assert 0.4 < one["tape_m"] / found["tape_m"] < 0.8  # its edges count once for both
    painted = calc("coats", {"area_m2": 4, "coats": 2, "spread_m2_l": 8, "loss_pct": 20, "density_g_ml": 1.2})
    assert painted == {"litres": pytest.approx(1.25), "wet_g": pytest.approx(1200), "dry_g": None}


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"ribs_at_m": [9]}, "ribs", "a rib at 9 m stands outside the span"),
        (
            {"overlap_mm": 900, "cloth": {"width_m": 0.8, "areal_weight_g_m2": 92}},
            "overlap_m",
            "as wide as the cloth, 0.8 m",
        ),
        ({"adhesive": {**COVER["adhesive"], "spread_m2_l": 0}}, "spread_m2_l", "must be above 0"),
        ({"attachment_pitch_mm": 0}, "attachment_pitch_mm", "can't be below 5 mm"),
    ],
)
def test_what_can_not_cover_is_refused_by_its_field(calc, change, field, says):
    problem = calc("cover", {**COVER, **change}, status=422)
    assert (problem["errors"][0]["field"], says in problem["detail"]) == (field, True), problem


def test_what_is_not_json_or_not_there_is_a_problem_too(empty_shop):
    broken = empty_shop.client.post("/api/v1/calc/mix", data="{", content_type="application/json")
    assert (broken.status_code, broken.content_type) == (422, "application/problem+json")
    assert empty_shop.ask("POST", "/calc/knit", {}, status=405)["title"]
    assert empty_shop.ask("GET", "/parts/nobody", status=404)["detail"] == "There is no part “nobody”."


BOOK = {
    "surface": WING,
    "side": "upper",
    "zones": [{"name": "root", "span_m": [0, 1], "chord": [0, 1]}],
    "plies": [{**GLASS, "angle_deg": 45, "zone": None}, {**GLASS, "angle_deg": 0, "zone": "root"}],
    "resin_density_g_cm3": 1.15,
    "core": {"after_ply": 1, "thickness_mm": 8, "density_kg_m3": 75, "resin_uptake_g_m2_per_side": 250, "zone": "root"},
}
CUT = {"roll_width_mm": 1000, "trim_mm": 20, "overlap_mm": 40}


def test_a_ply_book_with_zones_is_weighed_cut_and_laid_out(calc):
    found = calc("ply-book", BOOK)
    skin = calc("surface", WING)["upper_area_m2"]
    whole, root = (ply["area_m2"] for ply in found["plies"])
    assert whole == pytest.approx(skin, rel=1e-5)
    assert found["plies"][1]["fibre_g"] == pytest.approx(290 * root)
    assert found["core"] == {
        "area_m2": pytest.approx(root), "core_g": pytest.approx(600 * root), "resin_g": pytest.approx(500 * root)
    }  # fmt: skip
    assert found["total_g"] == pytest.approx(found["fibre_g"] + found["resin_g"] + found["core_g"])
    shown = [(row["zones"], row["code"], round(row["area_m2"], 6)) for row in found["regions"]]
    assert shown == [([], "[45]", round(whole - root, 6)), (["root"], "[45/core/0]", round(root, 6))]
    pieces = calc("pieces", {**BOOK, **CUT})["pieces"]
    assert {piece["ply"] for piece in pieces} == {0, 1}
    laid = calc("nest", {"pieces": pieces, "roll_width_mm": 1000, "gap_mm": 5, "seconds": 1, "quarter_turns": True})
    assert sorted(one["id"] for one in laid["placements"]) == sorted(piece["id"] for piece in pieces)
    assert laid["oversize"] == []


@pytest.mark.parametrize(
    ("name", "change", "field", "says"),
    [
        ("ply-book", {"zones": [{"name": "root", "span_m": [0, 3.2], "chord": [0, 1]}]}, "zones.0.to_m", "3.2 m"),
        ("ply-book", {"zones": [{"name": "root", "span_m": [2, 1], "chord": [0, 1]}]}, "zones.0.to_m", "2 to 1 m"),
        ("ply-book", {"zones": [{"name": "root", "span_m": [0, 1], "chord": [0, 1.2]}]}, "zones.0.tail", "120 %"),
        ("ply-book", {"zones": BOOK["zones"] * 2}, "zones.1.name", "two zones are called “root”"),
        ("ply-book", {"zones": []}, "plies.1.zone", "“root”, which is not there"),
        ("pieces", {"overlap_mm": 1000}, "overlap_mm", "1000 mm"),
        ("pieces", {"roll_width_mm": 0}, "roll_width_mm", "above 0 mm"),
        ("pieces", {"roll_width_mm": 0.5, "overlap_mm": 0}, "roll_width_mm", "3000 pieces"),
    ],
)
def test_a_book_that_cannot_be_is_refused_by_field(calc, name, change, field, says):
    refused = calc(name, {**BOOK, **CUT, **change}, 422)
    assert refused["errors"][0]["field"] == field
    assert says in refused["detail"]


TILE = {"id": "a", "outline_mm": [[0, 0], [400, 0], [400, 400], [0, 400]], "angle_deg": 0, "quantity": 4}


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"gap_mm": 1001}, "gap_mm", "1000 mm"),
        ({"seconds": -1}, "seconds", "below 0 s"),
        ({"pieces": [{**TILE, "quantity": 3001}]}, "pieces.0.quantity", "3000"),
        ({"pieces": [{**TILE, "quantity": 2000}] * 2}, "pieces", "4000 pieces"),
        ({"pieces": [{**TILE, "outline_mm": [[0, 0], [1, 1], [1, 0], [0, 1]]}]}, "pieces.0.outline_mm", "cross"),
    ],
)
def test_a_layout_that_cannot_be_is_refused_by_field(calc, change, field, says):
    refused = calc("nest", {"pieces": [TILE], "roll_width_mm": 1000, "gap_mm": 5, "seconds": 1, **change}, 422)
    assert refused["errors"][0]["field"] == field
    assert says in refused["detail"]


SURFACE = {"items": [{"name": "skin", "grams": 900, "x_mm": 62}], "hinge_x_mm": 40, "balance": {"x_mm": -30}}


def test_a_control_surface_is_weighed_and_balanced(calc):
    found = calc("weights", SURFACE)
    assert found == {
        "grams": 900, "x_mm": 62, "y_mm": 0, "moment_g_mm": 55_800, "hinge_moment_g_mm": 19_800,
        "balance_g": pytest.approx(19_800 / 70),
    }  # fmt: skip
    assert calc("weights", {"items": SURFACE["items"]})["hinge_moment_g_mm"] is None


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"items": [{"name": "skin", "grams": -5, "x_mm": 0}]}, "items.0.grams", "-5 g; it can't be below 0 g"),
        ({"items": []}, "items", "weighs 0 g"),
        ({"balance": {"x_mm": 40}}, "balance.x_mm", "must stand ahead of the hinge"),
        ({"hinge_x_mm": None}, "hinge_x_mm", "no hinge is given"),
        ({"balance": {"x_mm": 0, "wanted_pct": 300}}, "balance.wanted_pct", "above 200 %"),
    ],
)
def test_weights_that_cannot_be_are_refused_by_field(calc, change, field, says):
    refused = calc("weights", {**SURFACE, **change}, 422)
    assert refused["errors"][0]["field"] == field
    assert says in refused["detail"]


def test_glue_lines_are_weighed_with_squeeze_out_fillets_and_a_barrier(calc):
    line = {"name": "rib 3", "length_m": 1.2, "width_m": 0.025, "thickness_mm": 0.5, "fillets": 2, "fillet_mm": 6}
    plain = {**line, "name": "spar", "fillets": 0, "faces": ["wood", "aluminium"]}
    asked = {"density_g_ml": 1.1, "joints": [{**line, "faces": ["carbon", "aluminium"]}, plain]}
    rib, spar = calc("bond", asked)["joints"]
    assert rib["line_g"] == pytest.approx(16.5)
    assert rib["fillet_g"] == pytest.approx(2 * (1 - 3.14159265 / 4) * 36 * 1.2 * 1.1, rel=1e-6)
    assert rib["grams"] == pytest.approx(rib["line_g"] * 1.5 + rib["fillet_g"])
    assert "glass ply" in rib["barrier"]
    assert (spar["barrier"], spar["fillet_g"]) == (None, 0)
    assert "water must run in a film" in rib["prepare"][0]
    assert "degrease" in rib["prepare"][1]
    assert calc("bond", asked)["total_g"] == pytest.approx(rib["grams"] + spar["grams"])


def test_joints_are_put_in_order_and_a_contradiction_is_named(calc):
    joints = [
        {"id": "1", "fixes": ["spar", "rib"]},
        {"id": "2", "fixes": ["seat"]},
        {"id": "3", "fixes": ["rib", "edge"], "located": ["seat"]},
    ]
    found = calc("joint-order", {"joints": joints})
    assert (found["order"], found["breaks"], found["longest"]) == (["2", "1", "3"], ["2", "3"], 2)
    joints[1]["located"] = ["edge"]
    assert "3 contradict each other" in calc("joint-order", {"joints": joints}, 422)["detail"]


def test_fasteners_are_set_in_a_row_and_checked(calc):
    asked = {"kind": "blind", "diameter_mm": 3.2, "material": "laminate", "stack_mm": [2, 2], "span_mm": 120,
             "pitch_mm": 20, "edge_mm": 8, "length_mm": 4}  # fmt: skip
    found = calc("fasteners", asked)
    assert (found["washer"], found["length_mm"], found["grip_mm"]) == (True, None, 4)
    assert found["layout"]["count"] == 7
    assert {row["what"]: row["ok"] for row in found["checks"]} == {
        "edge": False, "pitch": True, "length": True, "layout": True,
    }  # fmt: skip
    assert "span_mm" in str(calc("fasteners", {**asked, "span_mm": 10}, 422)["errors"])


def test_the_cheapest_packs_cover_what_the_shelf_does_not_serve_by_its_day(calc):
    asked = {
        "today": "2026-05-14",
        "needs": [
            {"product": "resin", "amount": 900, "wanted_on": "2026-05-20"},
            {"product": "resin", "amount": 700, "wanted_on": "2026-06-03"},
            {"product": "tape", "amount": 20, "wanted_on": "2026-06-03"},
        ],
        "stock": [
            {"product": "resin", "amount": 500, "expires_on": "2026-05-19"},
            {"product": "resin", "amount": 1000, "expires_on": "2026-05-31"},
            {"product": "tape", "amount": 25},
        ],
        "packs": [
            {"product": "resin", "amount": 500, "price": 14, "lead_days": 9},
            {"product": "resin", "amount": 1280, "price": 31},
        ],
    }
    found = calc("buy", asked)
    (line,) = found["lines"]
    # The one lot is too old for either day, the other for the second: its 700 g lack.
    assert (line["product"], line["short"]) == ("resin", 700)
    assert line["packs"] == [{"amount": 500, "price": 14, "count": 2}]
    assert (line["cost"], line["left_over"], found["cost"]) == (28, 300, 28)
    assert (line["order_by"], line["late_days"]) == ("2026-05-25", 0)
    late = calc("buy", {**asked, "today": "2026-05-28"})["lines"][0]
    # Today counts for a need in the past; the second lot still serves it.
    assert (late["short"], late["order_by"], late["late_days"]) == (700, "2026-05-25", 3)
    assert "no pack of it is known" in calc("buy", {**asked, "packs": []}, 422)["detail"]
    assert "above 0" in calc("buy", {**asked, "packs": [{**asked["packs"][0], "amount": 0}]}, 422)["detail"]
    assert calc("buy", {**asked, "needs": []}) == {"lines": [], "cost": 0}
