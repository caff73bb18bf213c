"""Zones of a ply book: added, typed, dragged by an edge, picked for their stack, taken out again."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import open_page


def test_a_doubler_is_drawn_dragged_and_taken_out_with_its_plies(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    zones = page.get_by_role("region", name="Zones")
    expect(zones).to_contain_text("Every ply covers all of the side")
    zones.get_by_role("button", name="Add a zone between two places").click()
    zones.get_by_label("Name of zone 1").fill("root")
    zones.get_by_label("Name of zone 1").press("Enter")
    zones.get_by_label("To", exact=True).fill("70 m")
    zones.get_by_label("To", exact=True).press("Enter")
    expect(zones.get_by_role("alert")).to_contain_text("zone “root” reaches 70 m along the span")
    zones.get_by_label("To", exact=True).fill("1,5")
    zones.get_by_label("To", exact=True).press("Enter")
    covers = zones.get_by_role("button", name=re.compile("^It covers"))
    expect(covers).to_contain_text("1.682 m²")
    page.get_by_role("button", name="Add a ply outside").click()
    page.get_by_role("combobox", name="Zone of ply 3").click()
    page.get_by_role("option", name="root").click()
    expect(page.get_by_role("button", name="root [45/0/0/core/45]")).to_be_visible()

    # An edge is dragged: the figures follow before it is let go, and it is kept when it is.
    grip = page.get_by_role("slider", name="root: To")
    expect(grip).to_have_attribute("aria-valuetext", "1.5 m")
    grip.scroll_into_view_if_needed()
    box = grip.bounding_box()
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(*at)
    page.mouse.down()
    page.mouse.move(at[0] - 90, at[1], steps=5)
    expect(covers).to_contain_text(re.compile(r"^It covers 2\.[67]\d+ m²"))
    assert shop.get(f"/api/v1/parts/{part}/plies")["zones"][0]["area"]["value"] < 1.7
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.mouse.up()
    expect(grip).to_have_attribute("aria-valuetext", re.compile(r"^2\.[3-6]\d* m"))
    assert shop.get(f"/api/v1/parts/{part}/plies")["zones"][0]["area"]["value"] > 2.6

    # A piece of the side shows its own stack.
    page.get_by_role("button", name="root [45/0/0/core/45]").click()
    expect(page.get_by_role("heading", name="Stack where root lies")).to_be_visible()
    page.get_by_role("button", name="elsewhere [45/0/core/45]").click()
    expect(page.get_by_role("heading", name="Stack elsewhere")).to_be_visible()

    # Taken out, what lies in it is asked about.
    zones.get_by_role("button", name="Remove root").click()
    expect(zones).to_contain_text("One ply lies in root. What becomes of it?")
    zones.get_by_role("button", name="Take out too").click()
    expect(zones).to_contain_text("Every ply covers all of the side")
    assert shop.get(f"/api/v1/parts/{part}/plies")["code"] == "[45/0/core/45]"


def test_the_mirror_image_is_dragged_the_other_way_and_a_drawn_outline_is_typed(shop, page):
    right = shop.part_id("Right wing, upper skin")
    page.goto(f"{shop.url}/part/{right}/plies")
    zones = page.get_by_role("region", name="Zones")
    zones.get_by_role("button", name="Add a zone between two places").click()
    grip = page.get_by_role("slider", name="zone 1: To")
    before = float(grip.get_attribute("aria-valuenow"))
    grip.focus()
    page.keyboard.press("ArrowRight")
    expect(grip).not_to_have_attribute("aria-valuenow", f"{before:g}")
    assert float(grip.get_attribute("aria-valuenow")) > before
    zones.get_by_role("button", name="Add a zone of a drawn outline").click()
    corners = zones.get_by_label(re.compile("^Corners of zone 2"))
    corners.fill("1 m; 20 %\n2 m")
    corners.blur()
    expect(zones.get_by_role("alert").or_(zones.get_by_text("“2 m” is no corner")).first).to_be_visible()
    expect(corners).to_have_value("1 m; 20 %\n2 m")
    corners.fill("1 m; 20 %\n2 m; 20 %\n2 m; 60 %")
    corners.blur()
    expect(zones.get_by_text("“2 m” is no corner")).to_have_count(0)
    kept = shop.get(f"/api/v1/parts/{right}/plies")["zones"][1]
    assert kept["corners"].count("\n") == 2


def test_a_button_pressed_twice_at_once_is_one_press_and_a_field_typed_before_it_counts(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    page.get_by_role("button", name="Add a ply outside").dblclick()
    expect(page.get_by_text("[45/0/0/core/45]").first).to_be_visible()
    zones = page.get_by_role("region", name="Zones")
    zones.get_by_role("button", name="Add a zone along a line").dblclick()
    expect(zones.get_by_label("Name of zone 1")).to_be_visible()
    # Typed and left by pressing a button: both are kept.
    page.get_by_label("Angle of ply 3").fill("30")
    page.get_by_role("button", name="Remove ply 2").dblclick()
    expect(page.get_by_role("button", name="elsewhere [45/30/core/45]").or_(page.get_by_text("[45/30/core/45]"))
           .first).to_be_visible()  # fmt: skip
    kept = shop.get(f"/api/v1/parts/{part}/plies")
    assert [ply["angle_deg"] for ply in kept["plies"]] == [45, 30, 45]
    assert [zone["name"] for zone in kept["zones"]] == ["zone 1"]
    # Once it is shown, a second press is a second one.
    page.get_by_role("button", name="Add a ply inside").click()
    expect(page.get_by_role("combobox", name="Cloth of ply 4")).to_be_visible()
    page.get_by_role("button", name="Add a ply inside").click()
    expect(page.get_by_role("combobox", name="Cloth of ply 5")).to_be_visible()
    page.reload()
    expect(page.get_by_role("combobox", name="Cloth of ply 5")).to_be_visible()
    # Left half typed, a reload shows what is kept.
    zones.get_by_label("Width").fill("-5 mm")
    zones.get_by_label("Width").press("Enter")
    expect(zones.get_by_role("alert")).to_contain_text("Width is -5 mm; it must be above 0 mm")
    expect(zones.get_by_label("Width")).to_have_value("-5 mm")
    page.reload()
    expect(zones.get_by_label("Width")).to_have_value("60 mm")


def test_two_browsers_on_one_book_lose_nothing_of_each_other(shop, page, browser):
    part = shop.part_id("Left wing, upper skin")
    other = open_page(browser)
    for each in (page, other):
        each.goto(f"{shop.url}/part/{part}/plies")
        expect(each.get_by_text("[45/0/core/45]")).to_be_visible()
    page.get_by_role("button", name="Add a zone between two places").click()
    # The other hears of it without a reload, and builds on it.
    expect(other.get_by_label("Name of zone 1")).to_have_value("zone 1")
    other.get_by_label("Name of zone 1").fill("root")
    other.get_by_label("Name of zone 1").press("Enter")
    expect(page.get_by_label("Name of zone 1")).to_have_value("root")
    page.get_by_role("combobox", name="Zone of ply 2").click()
    page.get_by_role("option", name="root").click()
    expect(other.get_by_role("button", name="root [45/0/core/45]")).to_be_visible()
    other.close()


def test_what_it_takes_is_seen_for_the_part_an_assembly_and_the_airframe(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/mix")
    used = page.get_by_role("region", name="Also used up")
    peel = used.get_by_role("button", name=re.compile("^peel ply"))
    before = peel.inner_text()
    page.get_by_label("Peel ply, film and breather over the edge (assumed)").fill("20")
    page.get_by_label("Peel ply, film and breather over the edge (assumed)").press("Enter")
    expect(peel).not_to_have_text(before)
    expect(page.get_by_label("Peel ply, film and breather over the edge", exact=True)).to_have_value("20 %")
    peel.click()
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("Lay and bag the outer skin")
    expect(sheet).to_contain_text("what lies under it × (1 + over the edge)")
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("button", name="What it takes…").click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("heading", name="Still to be used up: Reedling")).to_be_visible()
    whole = sheet.get_by_role("button", name=re.compile("^peel ply")).inner_text()
    sheet.get_by_role("combobox", name="Of").click()
    page.get_by_role("option", name="Wing", exact=True).click()
    expect(sheet.get_by_role("heading", name="Still to be used up: Wing")).to_be_visible()
    expect(sheet.get_by_role("button", name=re.compile("^peel ply"))).not_to_have_text(whole)
    expect(sheet.get_by_role("button", name=re.compile("^Sedge 280 twill glass, off the roll"))).to_contain_text(" m")


def test_one_of_several_airframes_is_looked_at_alone_on_the_loom(shop, page):
    page.goto(f"{shop.url}/loom")
    expect(page.get_by_role("combobox", name="Of")).to_have_count(0)
    shop.post("/api/v1/airframes", {"id": "wren", "name": "Wren"})
    page.reload()
    first = page.get_by_role("button", name=re.compile("Prepare mould, cut cloth")).first
    expect(first).to_be_visible()
    page.get_by_role("combobox", name="Of").click()
    page.get_by_role("option", name="Wren").click()
    expect(first).to_have_count(0)
    page.get_by_role("combobox", name="Of").click()
    page.get_by_role("option", name="Every airframe").click()
    expect(first).to_be_visible()


def hold(page, grip):
    """Where a grip is taken hold of: the middle of its circle."""
    grip.scroll_into_view_if_needed()
    box = grip.locator("circle").last.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_a_corner_is_dragged_both_ways_and_lets_go_at_the_edge_of_the_part(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    zones = page.get_by_role("region", name="Zones")
    zones.get_by_role("button", name="Add a zone of a drawn outline").click()
    corner = page.get_by_role("slider", name="zone 1: corner 3")
    expect(corner).to_have_attribute("aria-valuetext", "3.6 m, 60 %")
    x, y = hold(page, corner)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 60, y + 10, steps=4)
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.mouse.up()
    expect(corner).to_have_attribute("aria-valuetext", re.compile(r"^4\.\d+ m, (6[5-9]|7\d)(\.\d+)? %$"))
    lines = zones.get_by_label(re.compile("^Corners of zone 1")).input_value().splitlines()
    assert lines[0] == "1.8 m; 20 %"
    assert re.match(r"4\.\d+ m; \d+(\.\d+)? %$", lines[2])
    # Far beyond the tip and the trailing edge it stays on the part, and by the keys it comes back.
    x, y = hold(page, corner)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 600, y + 400, steps=4)
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.mouse.up()
    expect(corner).to_have_attribute("aria-valuetext", "7.2 m, 100 %")
    corner.press("ArrowRight")
    expect(corner).to_have_attribute("aria-valuetext", re.compile(r"^7\.1\d* m"))


def test_on_a_phone_edges_that_lie_close_are_held_beside_them(shop, page):
    page.set_viewport_size({"width": 390, "height": 800})
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    zones = page.get_by_role("region", name="Zones")
    zones.get_by_role("button", name="Add a zone between two places").click()
    grips = [page.get_by_role("slider", name=f"zone 1: {name}") for name in ("From", "To", "Chord from", "Chord to")]
    expect(grips[1]).to_have_attribute("aria-valuetext", "1.8 m")
    places = [hold(page, grip) for grip in grips]
    for n, (x, y) in enumerate(places):
        assert 0 < x < 390
        assert all(abs(x - a) + abs(y - b) > 40 for a, b in places[:n])
    x, y = places[1]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 20, y, steps=3)
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.mouse.up()
    expect(grips[1]).to_have_attribute("aria-valuetext", re.compile(r"^2\.[2-9]\d* m"))


def test_a_lit_ply_is_lit_with_its_pieces_and_its_step_on_every_tab(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/pieces")
    glass = page.get_by_role("region", name="Sedge 280 twill glass")
    expect(glass).to_contain_text("as they would be cut: in no cut plan yet")
    piece = glass.get_by_role("button", name=re.compile("^2a? ply 2")).first
    piece.click()
    expect(piece).to_have_attribute("aria-pressed", "true")
    page.get_by_role("tab", name="Plies").click()
    elsewhere = page.get_by_role("region", name="Ply 2 elsewhere")
    expect(elsewhere).to_contain_text("not laid out")
    expect(elsewhere.get_by_role("link", name="Lay and bag the outer skin")).to_be_visible()
    scores = page.get_by_role("region", name="Scoring of the core")
    expect(scores).to_contain_text("at 0.000 m from 0 to 8 % of the chord")
    page.get_by_role("tab", name="Steps").click()
    expect(page.get_by_role("heading", name="Lay and bag the outer skin")).to_be_visible()
    page.get_by_role("tab", name="Pieces").click()
    glass.get_by_role("button", name="Lay out on a roll").click()
    expect(page).to_have_url(re.compile("/cut/"))
    expect(page.get_by_role("heading", name="Sedge 280 twill glass").first).to_be_visible()
