"""Stores on the screen: files in and out, off the shelf and back, a bad lot; and the bench on other screens."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.running import read_lids


def product(shop, name):
    rows = [p for group in shop.get("/api/v1/shelf")["groups"] for p in group["products"]]
    return next(row for row in rows if row["name"] == name)


def file(*sheets):
    body = json.dumps({"sheets": list(sheets)})
    return {"name": "sheets.json", "mimeType": "application/json", "buffer": body.encode()}


def test_a_file_of_sheets_is_looked_at_before_it_is_taken(shop, page):
    page.goto(f"{shop.url}/stores")
    with page.expect_download() as download:
        page.get_by_role("link", name="Write JSON: all sheets").click()
    sheets = json.loads(download.value.path().read_text())["sheets"]
    mere = next(sheet for sheet in sheets if sheet["name"] == "Mere 8")
    mere["says"]["tolerance_pct"] = 2
    new = {"kind": "solvent", "name": "Fen wash", "says": {"density_kg_m3": 800}}
    page.get_by_role("button", name="Take in a file").click()
    chooser = page.get_by_label("A file of data sheets, JSON or CSV")
    chooser.set_input_files({"name": "x.csv", "mimeType": "text/csv", "buffer": b"colour,size\nred,4\n"})
    expect(page.get_by_role("alert")).to_contain_text("needs columns “kind” and “name”")
    chooser.set_input_files(file(mere, new, {"kind": "yarn", "name": "Wool", "says": {}}))
    looked = page.get_by_test_id("import-sheets")
    expect(looked).to_contain_text("3 sheets: 1 new, 1 here already, saying something else, 1 can't be read.")
    expect(looked).to_contain_text("Ratio may be off by 5 % → 2 %")
    page.get_by_role("button", name="Take it, and replace what differs").click()
    expect(looked).to_contain_text("2 of 3 sheets taken.")
    expect(page.get_by_role("link", name=re.compile("Fen wash"))).to_be_visible()


def test_a_sheet_is_copied_taken_off_the_shelf_and_put_back(shop, page):
    page.goto(f"{shop.url}/stores/{product(shop, 'Mere 8')['id']}")
    page.get_by_role("link", name="Copy").click()
    name = page.get_by_label("Name of this laminating resin")
    expect(name).to_have_value("Mere 8, copy")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("button", name="Take off the shelf")).to_be_visible()
    page.get_by_role("button", name="Take off the shelf").click()
    gone = page.get_by_role("listitem").filter(has_text="Mere 8, copy")
    expect(gone.get_by_role("button", name="Put back")).to_be_visible()
    gone.get_by_role("button", name="Put back").click()
    expect(page.get_by_role("link", name=re.compile("Mere 8, copy"))).to_be_visible()
    page.goto(f"{shop.url}/stores/{product(shop, 'Tarn 210 with 214 slow')['id']}")
    page.get_by_role("button", name="Take off the shelf").click()
    expect(page.get_by_role("alert")).to_contain_text("built with it. Choose another product there first")


def test_two_who_type_on_one_sheet_are_told_of_each_other(shop, page, browser):
    mere = product(shop, "Mere 8")["id"]
    other = open_page(browser)
    for each in (page, other):
        each.goto(f"{shop.url}/stores/{mere}")
    page.get_by_label("Ratio may be off by").fill("4 %")
    other.get_by_label("Comes within").fill("3 weeks")
    page.get_by_role("button", name="Save the sheet").click()
    expect(page.get_by_role("button", name="Save the sheet")).to_have_count(0)
    other.get_by_role("button", name="Save the sheet").click()
    expect(other.get_by_text("Ratio may be off by 5 % → 4 %")).to_be_visible()
    other.get_by_role("button", name="Save mine on top").click()
    expect(other.get_by_role("button", name="Save the sheet")).to_have_count(0)
    says = {field["key"]: field["text"] for field in shop.get(f"/api/v1/shelf/{mere}")["fields"]}
    assert says["lead_days"] == "21 days"
    other.close()


def test_a_bad_lot_leads_to_the_parts_it_is_on(shop, page):
    page.goto(f"{shop.url}/stores/{product(shop, 'Tarn 210 with 214 slow')['id']}")
    page.get_by_role("button", name=re.compile("lot T-4471", re.IGNORECASE)).click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("link", name="Right wing, lower skin").first).to_be_visible()
    sheet.get_by_role("button", name="Found bad").click()
    expect(sheet.get_by_text("say in a few words why")).to_be_visible()
    sheet.get_by_label("Why", exact=True).fill("cloudy")
    sheet.get_by_role("button", name="Found bad").click()
    expect(sheet.get_by_role("alert")).to_contain_text("Look at these: lot T-4471 is on ")
    sheet.get_by_label("Weighed: so much").fill("4 kg")
    sheet.get_by_role("button", name="So much is left").click()
    expect(sheet).to_contain_text("By the book 4.00 kg left.")
    sheet.get_by_role("link", name="Left flap, upper skin").click()
    expect(page).to_have_url(re.compile("/part/.*/mix$"))


def test_three_strokes_of_each_pump_tell_a_cup_in_strokes(shop, page):
    left = shop.part_id("Left wing, upper skin")
    slow = product(shop, "Tarn 210 with 214 slow")["id"]
    page.goto(f"{shop.url}/mix?product={slow}")
    expect(page.get_by_role("heading", name="What is it for?")).to_be_visible()
    page.get_by_text("Pumps on the cans? Weigh three strokes of each").click()
    page.get_by_label("Three strokes of resin").fill("30")
    page.get_by_label("Three strokes of hardener").fill("8.4")
    page.get_by_role("button", name="Keep the strokes").click()
    expect(page.get_by_text("A stroke of resin is 10.00 g.")).to_be_visible()
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    read_lids(page)
    page.get_by_label("Size of this cup").fill("256")
    expect(page.get_by_text("By pump: 20 strokes of resin, 20 of hardener; 256 g, 0.0 % off")).to_be_visible()


@pytest.mark.parametrize(("width", "height"), [(820, 1180), (390, 844)])
def test_pouring_and_the_clock_fit_a_tablet_and_a_phone(shop, browser, width, height):
    page = open_page(browser, width, height)
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    read_lids(page)
    page.get_by_label("Size of this cup").fill("300")
    fits = "document.querySelector('main').scrollWidth <= document.querySelector('main').clientWidth"
    assert page.evaluate(fits)
    page.get_by_label("In the cup, by the scale").first.fill("234.4")
    page.get_by_label("In the cup, by the scale").last.fill("65.6")
    page.get_by_role("button", name="Keep this batch").click()
    clock = page.get_by_test_id("countdown")
    expect(clock).to_be_visible()
    assert clock.evaluate("e => parseFloat(getComputedStyle(e).fontSize)") >= 96
    assert page.evaluate(fits)
    strip = page.get_by_role("banner")
    assert strip.evaluate("e => e.scrollWidth <= e.clientWidth")
    assert page.complaints == []
    page.close()


def test_in_a_us_shop_the_bench_and_the_shelf_speak_ounces_and_fahrenheit(shop, page):
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": "us"})
    page.goto(f"{shop.url}/stores/{product(shop, 'Tarn 210 with 214 slow')['id']}")
    expect(page.get_by_label("Stands still below")).to_have_value("53.6 °F")
    expect(page.get_by_label("Temperature the hours are given for")).to_have_value("73.4 °F")
    expect(page.get_by_label("Lots")).to_contain_text("lb left")
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    read_lids(page)
    expect(page.get_by_test_id("cups-sentence")).to_contain_text("°F")
    expect(page.get_by_role("main")).not_to_contain_text("°C")
    page.get_by_role("button", name=re.compile("Pour a cup of .* (oz|lb)")).click()
    expect(page.get_by_test_id("not-zero")).to_have_count(0)
    shop.post("/api/v1/scale", {"put_g": 200})
    expect(page.get_by_label("In the cup, by the scale").first).to_have_value(
        re.compile(r"^(199|200)\.\d$"), timeout=8000
    )
    page.goto(f"{shop.url}/cure")
    expect(page.get_by_role("main")).not_to_contain_text("°C")


def test_a_batch_on_its_part_leads_to_where_it_went(shop, page):
    left = shop.part_id("Left wing, lower skin")
    page.goto(f"{shop.url}/part/{left}/mix")
    page.get_by_role("button", name=re.compile(r"692 g of Tarn 210 with 214 slow")).click()
    page.get_by_role("link", name="Where it went, what was left, photographs").click()
    expect(page.get_by_label("Where it went").get_by_role("listitem")).to_have_text("Left wing, lower skin")
    expect(page.get_by_role("button", name="Add a photograph")).to_be_visible()
