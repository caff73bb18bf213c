"""A builder takes one part from its shape to a weighed batch and the hour it cures."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import open_page
from tests.browser.running import read_lids

WEEK = Path(__file__).parents[1] / "data" / "logger-week.csv"


def figure(page: Page, label: str):
    return page.get_by_role("button", name=re.compile(rf"^{label}.*from what\?$"))


def save(page: Page, label: str, text: str, why: str = "") -> None:
    page.get_by_label(label, exact=True).fill(text)
    page.get_by_label(label, exact=True).press("Enter")
    if why:
        say_why(page, why)


def say_why(page: Page, why: str) -> None:
    """The reason that is asked for where what is built already is changed."""
    page.get_by_label("Why it is changed").fill(why)
    page.get_by_role("button", name="Change it, as a deviation").click()


def test_from_shape_to_a_weighed_batch_and_the_hour_it_cures(own, page):
    shop = own
    # Shape: figures and drawing follow what is typed, in whatever unit.
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("link", name=re.compile("Left wing, upper skin")).click()
    expect(figure(page, "Planform area")).to_contain_text("6.264 m²")
    outline = page.get_by_role("img", name="Planform").locator("path").first
    before = outline.get_attribute("d")
    save(page, "Station 2, along the span", "300 in", "stretched by the designer")
    expect(figure(page, "Planform area")).to_contain_text("6.629 m²")
    assert outline.get_attribute("d") != before
    save(page, "Station 1, section", "2412")
    expect(page.get_by_text("station 1: NACA 2412")).to_be_visible()  # drawn before it is kept
    say_why(page, "as the mould is")
    expect(page.get_by_text("Not kept yet.")).to_have_count(0)
    expect(figure(page, "Root girth")).to_contain_text("1.151 m")

    # From what?
    figure(page, "Upper skin area").click()
    sheet = page.get_by_role("dialog")
    expect(sheet).to_contain_text("triangulated")
    expect(sheet).to_contain_text("7.620 m")
    sheet.get_by_role("button", name="Close").click()

    # Plies: turn one, add one, move it past the core, take it out; the mirrored part follows.
    page.get_by_role("tab", name="Plies").click()
    save(page, "Angle of ply 2", "90")
    expect(page.get_by_text("[45/90/core/45]")).to_be_visible()
    page.get_by_role("button", name="Add a ply inside").click()
    expect(page.get_by_text("[45/90/core/45/0]")).to_be_visible()
    page.get_by_role("button", name="Move ply 3 outward").click()
    expect(page.get_by_text("[45/90/45/core/0]")).to_be_visible()
    page.get_by_role("button", name="Remove ply 3").click()
    expect(page.get_by_text("[45/90/core/0]")).to_be_visible()
    save(page, "Angle of ply 1", "30")
    expect(page.get_by_text("not balanced in ±θ")).to_be_visible()
    page.goto(f"{shop.url}/part/{shop.part_id('Right wing, upper skin')}/plies")
    expect(page.get_by_text("[-30/90/core/0]")).to_be_visible()

    # Mix: no weights before both lids; overshot, told what to add, added, kept.
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{left}/mix")
    page.get_by_role("link", name="Mix a cup").first.click()
    expect(page.get_by_label("Size of this cup")).to_have_count(0)
    read_lids(page)
    page.get_by_label("Size of this cup").fill("320")
    expect(page.get_by_role("button", name=re.compile("Pour 250.0 g of Tarn 210 A"))).to_be_visible()
    scale = page.get_by_label("In the cup, by the scale")
    scale.first.fill("252")
    expect(page.get_by_role("button", name=re.compile("Pour 70.6 g of Tarn 214 B slow"))).to_be_visible()
    scale.last.fill("80")
    expect(page.get_by_test_id("verdict")).to_contain_text("13.4 % over. Add 33.7 g Tarn 210 A")
    shop.stop(kill=True)
    shop.start()  # a restart in the middle of a pour
    page.reload()
    expect(scale.last).to_have_value("80")
    page.get_by_role("button", name=re.compile("I added it")).click()
    expect(page.get_by_test_id("verdict")).to_contain_text("Within ±3 %")
    page.get_by_role("button", name="Keep this batch").click()
    expect(page.get_by_text("Kept: 366 g of Tarn 210 with 214 slow")).to_be_visible()

    # When: the kept batch's stages, then a real week of temperatures.
    page.get_by_role("link", name="When does it cure?").click()
    expect(page.get_by_role("article").first).to_contain_text("Not released yet: read the witness first.")
    page.goto(f"{shop.url}/part/{left}/steps")
    stage = page.get_by_role("row", name=re.compile("^peel"))
    expect(stage).to_contain_text("between")
    outlook = stage.inner_text()
    page.get_by_role("link", name="The shop’s air").click()
    page.get_by_label("Logger file for Main shop").set_input_files(WEEK)
    expect(page.get_by_test_id("preview")).to_contain_text("new readings for the main shop")
    page.get_by_role("button", name="Take it").click()
    expect(page.get_by_text(re.compile("new readings of 169 rows"))).to_be_visible()
    page.goto(f"{shop.url}/part/{left}/steps")
    expect(stage).not_to_have_text(outlook)
    for name in ("Open the bag, inspect the outer skin", "Bed the core and bag it", "Trim and sand the edges"):
        page.get_by_role("button", name=name).click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()
    done = page.get_by_text(re.compile("^Done ")).inner_text()

    # Everything survives a restart.
    shop.stop()
    shop.start()
    page.reload()
    expect(page.get_by_text(done)).to_be_visible()
    page.get_by_role("tab", name="Shape").click()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("7.62 m")


def test_what_cannot_be_understood_stays_typed_with_the_reason_beside_it(shop, page):
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{left}/shape")
    save(page, "Station 1, chord", "3 bananas")
    expect(page.get_by_role("alert")).to_contain_text("“bananas” is not a unit of length")
    expect(page.get_by_label("Station 1, chord")).to_have_value("3 bananas")
    save(page, "Station 1, chord", "1,25", "measured")
    expect(page.get_by_label("Station 1, chord")).to_have_value("1.25 m")
    expect(page.get_by_role("alert")).to_have_count(0)
    points = {"name": "two.dat", "mimeType": "text/plain", "buffer": b"two\n1 0\n0 0\n"}
    page.get_by_label("Section file of station 2").set_input_files(points)
    expect(page.get_by_role("alert")).to_contain_text("2 points; at least 5 are wanted")
    page.get_by_role("button", name="Leave it as it was").click()
    page.get_by_role("tab", name="Plies").click()
    save(page, "Angle of ply 1", "400")
    expect(page.get_by_role("alert")).to_contain_text("the angle is 400°; it can't be above 180°")
    expect(page.get_by_label("Angle of ply 1", exact=True)).to_have_value("400")
    assert shop.get(f"/api/v1/parts/{left}/plies")["code"] == "[45/0/core/45]"
    page.goto(f"{shop.url}/air")
    page.get_by_label("Tonight’s low").first.fill("22")
    page.get_by_label("Tomorrow’s high").first.fill("8")
    page.get_by_role("button", name="Use").first.click()
    expect(page.get_by_role("alert").last).to_contain_text("the low is 22 °C and the high 8 °C")
    expect(page.get_by_label("Tonight’s low").first).to_have_value("22")


def test_of_two_browsers_the_later_is_told_what_changed(shop, page, browser):
    path = f"{shop.url}/part/{shop.part_id('Left wing, upper skin')}/shape"
    other = open_page(browser)
    for each in (page, other):
        each.goto(path)
        expect(each.get_by_label("Station 2, chord")).to_have_value("0.62 m")
    other.route("**/api/v1/now*", lambda route: route.abort())  # it hears of nothing
    save(page, "Station 2, chord", "0.58", "measured")
    expect(page.get_by_label("Station 2, chord")).to_have_value("0.58 m")
    save(other, "Station 2, chord", "0.7")
    expect(other.get_by_text("row 2, chord: 0.62 m → 0.58 m")).to_be_visible()
    expect(other.get_by_label("Station 2, chord")).to_have_value("0.7")
    other.get_by_role("button", name="Save mine on top").click()
    say_why(other, "measured again")
    expect(other.get_by_label("Station 2, chord")).to_have_value("0.7 m")
    expect(page.get_by_label("Station 2, chord")).to_have_value("0.7 m")  # without a reload
    other.close()


def test_what_is_half_typed_stays_while_others_save(shop, page):
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Shop", exact=True).click()
    page.get_by_label("The shop’s name").fill("The old boath")
    page.get_by_label("Hours on Monday").fill("9–12:30")
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": "us"})
    expect(page.get_by_role("radio", name="US")).to_be_checked()
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()  # kept
    expect(page.get_by_label("The shop’s name")).to_have_value("The old boath")
    expect(page.get_by_label("Hours on Monday")).to_have_value("9–12:30")
    page.get_by_role("button", name="Close").click()

    page.get_by_role("button", name="Change", exact=True).first.click()
    name = page.get_by_label("Name", exact=True)
    was = name.input_value()
    name.fill("Somebody else")
    [person] = [one for one in shop.get("/api/v1/people")["people"] if one["name"] == was]
    shop.post("/api/v1/people", {key: person[key] for key in ("id", "version", "skills", "week")} | {"name": "A"})
    page.wait_for_timeout(3000)  # it hears of it
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Save mine on top")).to_be_visible()
    expect(name).to_have_value("Somebody else")
    page.get_by_role("button", name="Save mine on top").click()
    expect(page.get_by_text("Somebody else", exact=True).first).to_be_visible()
    expect(name).to_have_count(0)


def test_units_theme_and_number_keys(shop, page):
    page.goto(f"{shop.url}/part/{shop.part_id('Left wing, upper skin')}/shape")
    page.get_by_role("button", name="Shop").click()
    page.get_by_role("radio", name="US").click()
    page.get_by_role("radio", name="Pitch").click()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("283.465 in")
    assert page.evaluate("document.documentElement.dataset.theme") == "pitch"
    save(page, "Station 1, chord", "35 1/2 in", "measured")
    expect(page.get_by_label("Station 1, chord")).to_have_value("35.5 in")
    page.get_by_label("Station 1, chord").press("2")  # typing is not going anywhere
    expect(page).to_have_url(re.compile("/shape$"))
    page.get_by_role("heading", name="Stations").click()
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/mix$"))
    page.keyboard.press("1")
    expect(page).to_have_url(re.compile("/today$"))
