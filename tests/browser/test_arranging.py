"""Parts named, placed, copied, let differ, taken out and back; shapes of every kind typed; a file looked at."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_page

OPEN = '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" viewBox="0 0 90 90"><path d="M0 0h90v90h-80"/></svg>'
HOLED = '<rect width="96" height="48"/><circle cx="48" cy="24" r="12"/>'
RIB = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 96 48">{HOLED}</svg>'


def column(page: Page):
    return page.get_by_role("navigation", name="Jobs")


def of_the_part(page: Page):
    page.get_by_role("button", name="This part…").click()
    return page.get_by_role("dialog")


def found(shop, page, name: str, kind: str) -> None:
    """A part being founded, with the shape of a kind to be typed."""
    airframe = shop.get("/api/v1/airframe")
    page.goto(f"{shop.url}/found?airframe={airframe['id']}")
    page.get_by_label("Its name", exact=True).fill(name)
    page.get_by_role("radio", name=kind).click()


def test_a_part_is_named_copied_let_differ_taken_out_and_taken_back(shop, page):
    page.goto(f"{shop.url}/part/{shop.part_id('Right aileron')}/steps")
    sheet = of_the_part(page)
    sheet.get_by_label("Its name").fill("left AILERON")
    sheet.get_by_label("Its name").press("Enter")
    expect(sheet.get_by_role("alert")).to_contain_text("there is a part of Reedling called “left AILERON” already")
    sheet.get_by_label("Its name").fill("Starboard aileron")
    sheet.get_by_label("Its name").press("Enter")
    expect(page.get_by_role("heading", name="Starboard aileron").first).to_be_visible()
    sheet.get_by_label("Aft of the nose").fill("7 1/2 ft")
    sheet.get_by_label("Out from the middle").fill("5.3")
    sheet.get_by_role("button", name="Keep its place").click()
    expect(sheet.get_by_label("Aft of the nose")).to_have_value("2.286 m")

    # From now on it is built otherwise than the left one.
    sheet.get_by_role("button", name="Let it differ from now on").click()
    expect(sheet.get_by_text("It shares its shape or its jobs")).to_have_count(0)
    sheet.get_by_role("button", name="Close").click()
    column(page).get_by_role("button", name="3 · priming").click()
    page.get_by_role("tab", name="What").click()
    page.get_by_role("button", name="Take this job out").click()
    expect(column(page).get_by_role("button", name=re.compile("^[123] · "))).to_have_count(2)
    page.goto(f"{shop.url}/part/{shop.part_id('Left aileron')}/steps")
    expect(column(page).get_by_role("button", name=re.compile("^[123] · "))).to_have_count(3)

    # A copy has all of its jobs, and goes its own way.
    sheet = of_the_part(page)
    copied = sheet.get_by_label("A copy with its jobs, to be changed by itself")
    copied.fill("Spare aileron")
    sheet.get_by_role("button", name="Copy", exact=True).click()
    expect(page.get_by_role("heading", name="Spare aileron").first).to_be_visible()
    expect(column(page).get_by_role("button", name=re.compile("^[123] · "))).to_have_count(3)
    of_the_part(page).get_by_role("button", name="Take this part out").click()
    gone = page.get_by_role("region", name="Taken out")
    expect(gone).to_contain_text("Spare aileron taken out today; it can be taken back for 30 days more")
    gone.get_by_role("button", name="Take it back").click()
    expect(gone).to_have_count(0)
    expect(page.get_by_role("link", name=re.compile("^Spare aileron"))).to_be_visible()


def test_assemblies_and_parts_are_put_in_another_order_and_an_empty_one_goes(shop, page):
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("button", name="Arrange…").click()
    page.get_by_label("Another assembly").fill("Floats")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("region", name="Floats")).to_be_visible()
    page.get_by_role("button", name="Tail up").click()
    regions = page.locator("section[aria-label]").filter(has=page.get_by_role("heading", level=2))
    expect(regions.nth(1)).to_have_attribute("aria-label", "Tail")
    page.get_by_role("button", name="Tailplane one place up").click()
    tail = page.get_by_role("region", name="Tail", exact=True).get_by_role("listitem")
    expect(tail.first).to_contain_text("Tailplane")
    page.get_by_role("button", name="Take Floats away").click()
    expect(page.get_by_role("region", name="Floats")).to_have_count(0)
    page.get_by_label("Another airframe in this shop").fill("Wren")
    page.get_by_role("button", name="Found it").click()
    expect(page.get_by_role("heading", name="Wren")).to_be_visible()
    page.get_by_role("navigation", name="Airframes").get_by_role("button", name="Reedling").click()
    expect(page.get_by_role("heading", name="Reedling")).to_be_visible()


def test_a_gap_is_shown_where_it_is_and_what_was_typed_outlives_a_reload(shop, page):
    found(shop, page, "Root rib", "Flat outline")
    drawn = {"name": "rib.svg", "mimeType": "image/svg+xml", "buffer": OPEN.encode()}
    page.get_by_label("Outline file").set_input_files(drawn)
    expect(page.get_by_role("alert")).to_contain_text("from x 0, y 0 mm to x 10, y -90 mm it is 90.554 mm open")
    expect(page.get_by_role("img", name="Planform").get_by_text("!")).to_have_count(2)
    page.get_by_label("Outline file").set_input_files({**drawn, "buffer": RIB.encode()})
    expect(page.get_by_text("It was drawn in pixels.")).to_be_visible()
    expect(page.get_by_text("a pixel was taken as 1/96 in")).to_be_visible()
    page.get_by_role("radio", name="in", exact=True).click()
    expect(page.get_by_role("button", name=re.compile(r"^One face 2\.\d+ m²"))).to_be_visible()
    page.get_by_role("button", name="Type corners instead").click()
    page.get_by_role("textbox", name=re.compile("^Corners")).fill(
        "0, 0\n1200, 0\n1200, 340\n0, 410\n\n300, 100\n500, 100\n500, 200"
    )
    expect(page.get_by_role("button", name=re.compile(r"^One face 0\.440 m²"))).to_be_visible()
    page.reload()
    expect(page.get_by_label("Its name", exact=True)).to_have_value("Root rib")
    expect(page.get_by_role("button", name=re.compile(r"^One face 0\.440 m²"))).to_be_visible()
    page.get_by_role("button", name="Found it").click()
    expect(page.get_by_role("heading", name="Root rib").first).to_be_visible()
    # Only what this shape allows is offered.
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("button", name=re.compile("^Two coats of varnish", re.IGNORECASE))).to_be_visible()
    page.reload()
    sheet.get_by_role("button", name=re.compile("^Priming", re.IGNORECASE)).click()
    expect(sheet.get_by_role("region", name="Comes to")).to_contain_text("of Sallow primer, with its losses")


def test_pieces_and_strips_are_typed_and_refused_row_by_row(shop, page):
    found(shop, page, "Stringers", "Like pieces")
    for label, text in (("what", "stringer"), ("how many", "12"), ("length", "2100")):
        page.get_by_label(f"Piece 1, {label}", exact=True).fill(text)
    expect(page.get_by_role("button", name=re.compile("^Lengths together 25.200 m"))).to_be_visible()
    page.get_by_label("Piece 1, how many", exact=True).fill("0")
    expect(page.get_by_role("alert")).to_contain_text("How many is 0; it can't be below 1")
    page.get_by_role("radio", name="Measured strips").click()
    for n, (at, across) in enumerate((("0", "0.9"), ("0.4", "0.7")), 1):
        page.get_by_label(f"Measure {n}, along, as the tape lies").fill(at)
        page.get_by_label(f"Measure {n}, measured").fill(across)
    expect(page.get_by_role("button", name=re.compile("^One side 0.320 m²"))).to_be_visible()
    page.get_by_role("radio", name="All round the part").click()
    expect(page.get_by_role("button", name=re.compile("^One side 0.160 m²"))).to_be_visible()
    page.get_by_label("Measure 2, along, as the tape lies").fill("-1")
    expect(page.get_by_role("alert")).to_contain_text("Along is -1 m; it can't be below 0 m")
    # What was typed of the other kind is still there.
    page.get_by_role("radio", name="Like pieces").click()
    expect(page.get_by_label("Piece 1, length", exact=True)).to_have_value("2100")


def test_a_product_that_is_missing_is_made_on_the_spot_and_the_form_is_still_there(shop, page):
    rudder = shop.part_id("Rudder")
    page.goto(f"{shop.url}/part/{rudder}/steps")
    page.get_by_role("button", name="Add a job here: after glued wood frame").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name=re.compile("^Priming", re.IGNORECASE)).click()
    sheet.get_by_label("Coats").fill("1")
    sheet.get_by_role("link", name="Another one…").click()
    expect(page.get_by_text("the form you came from goes on where it was")).to_be_visible()
    page.get_by_label("Name of this primer").fill("Wren primer")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(sheet.get_by_role("combobox", name="Primer")).to_contain_text("Wren primer")
    expect(sheet.get_by_label("Coats")).to_have_value("1")
    expect(sheet.get_by_role("region", name="Comes to")).to_contain_text(
        "It can be added as it is, but not planned yet."
    )
    sheet.get_by_role("combobox", name="Primer").click()
    page.get_by_role("option", name="Sallow primer").click()
    expect(sheet.get_by_role("region", name="Comes to")).to_contain_text("3 steps")
    sheet.get_by_role("button", name="Add this job").click()
    expect(column(page).get_by_role("button", name="2 · priming")).to_contain_text("ahead")


def test_what_is_typed_of_a_shape_stays_until_it_is_kept_or_left(shop, page):
    tailplane = f"{shop.url}/part/{shop.part_id('Tailplane')}"
    page.goto(f"{tailplane}/shape")
    page.get_by_label("Station 2, chord").fill("0.8")
    expect(page.get_by_role("button", name=re.compile(r"^Planform area 1\.690 m²"))).to_be_visible()
    page.get_by_role("tab", name="Steps").click()
    page.get_by_role("tab", name="Shape").click()
    expect(page.get_by_text("Not kept yet.")).to_be_visible()
    expect(page.get_by_label("Station 2, chord")).to_have_value("0.8")
    page.get_by_role("button", name="Another station").click()
    page.get_by_label("Station 4, along the span").fill("2")
    page.get_by_label("Station 4, chord").fill("0.4")
    expect(page.get_by_role("alert")).to_contain_text("station 4 stands at 2 m, station 3 at 2.6 m")
    page.get_by_role("button", name="Leave it as it was").click()
    expect(page.get_by_label("Station 2, chord")).to_have_value("0.72 m")
    expect(page.get_by_role("alert")).to_have_count(0)


def test_an_airframes_file_is_looked_at_and_what_is_none_says_where(shop, page, browser):
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("button", name="Arrange…").click()
    with page.expect_download() as writing:
        page.get_by_role("link", name="Write Reedling out").click()
    text = writing.value.path().read_text()
    doc = json.loads(text)
    doc["shapes"][0]["says"]["stations"][1]["at_m"] = 7.5

    def look(said: str) -> None:
        file = {"name": "reedling.json", "mimeType": "application/json", "buffer": said.encode()}
        page.get_by_label("Airframe file").set_input_files(file)

    look(text[:3000])
    expect(page.get_by_role("alert")).to_contain_text("cut off")
    look(json.dumps({**doc, "version": 9}))
    expect(page.get_by_role("alert")).to_contain_text("written by a newer Kite Loom")
    look(json.dumps(doc))
    rows = page.get_by_role("region", name="As a file")
    expect(rows).to_contain_text("differs: shape Reedling outer wing (its measures)")
    rows.get_by_role("button", name="Take what differs too").click()
    expect(rows).to_contain_text("is laid up already; change it on its own page, with the reason")
    other = open_page(browser)
    other.goto(f"{shop.url}/part/{shop.part_id('Left wing, upper skin')}/shape")
    expect(other.get_by_label("Station 2, along the span")).to_have_value("7.2 m")
    other.close()


@pytest.mark.parametrize("width", [390, 820])
def test_founding_fits_a_phone_and_a_tablet(shop, browser, width):
    page = open_page(browser, width, 1100)
    found(shop, page, "Fin", "By stations")
    wide = "document.querySelector('main').scrollWidth - document.querySelector('main').clientWidth"
    assert page.evaluate(wide) <= 0
    page.goto(f"{shop.url}/airframe")
    expect(page.get_by_role("heading", name="Reedling")).to_be_visible()
    assert page.evaluate(wide) <= 0
    assert page.complaints == []
    page.close()
