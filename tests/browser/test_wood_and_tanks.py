"""Cloth, wood, coats and tanks on the screen: typed wrong, pressed twice, in inches, done again at one tap."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from kiteloom.workshop.base.ids import stable_id
from tests.browser.conftest import open_page

STRIPS = {
    "kind": "strips",
    "measured": "one face",
    "strips": [{"at": "0", "across": "1.2"}, {"at": "1.6", "across": "0.9"}],
}
CAPS = {
    "kind": "pieces",
    "pieces": [
        {"name": "spar cap", "count": "2", "length": "3.2 m", "width": "30", "thickness": "12"},
        {"name": "post", "count": "5", "length": "0.6 m", "width": "30", "thickness": "12"},
    ],
}


def founded(shop, name, shape, recipe, given=None, **made_of):
    """A part built by one job alone, its tab's address but for the tab."""
    body = {"id": name, "other_id": "", "name": name, "airframe_id": shop.get("/api/v1/airframe")["id"]}
    body |= {"hand": "centre", "assembly": "Tail", "side": "whole", "shape": shape}
    shop.post("/api/v1/airframes/parts", body)
    products = {role: stable_id("sheet", sheet) for role, sheet in made_of.items()}
    job = {"id": f"job {name}", "recipe": recipe, "alone": True, "given": given or {}, "products": products}
    shop.post(f"/api/v1/parts/{name}/jobs", job)
    return f"{shop.url}/part/{name}"


def test_a_leak_test_is_read_judged_heard_of_on_today_and_taken_back(shop, page):
    at = founded(shop, "tank", STRIPS, "tank", {"volume_l": "40 l"})
    page.goto(f"{at}/what")
    page.get_by_label("Its openings are shut with").click()
    page.get_by_role("option", name="masking tape").click()
    expect(page.get_by_text("solvent dissolves its glue")).to_be_visible()
    page.get_by_role("tab", name="Leak test").click()
    expect(page.get_by_text("it stands for 12 h and may lose 0.30 kPa")).to_be_visible()
    gauge, own, barometer = (
        page.get_by_label(name) for name in ("The gauge reads", "The tank itself", "The barometer")
    )
    gauge.fill("tight")
    own.fill("20")
    page.get_by_role("button", name="Pumped up now").click()
    expect(page.get_by_text("“tight” isn't understood")).to_be_visible()
    expect(own).to_have_value("20")  # what was typed stays
    gauge.fill("7")
    barometer.fill("1013")
    page.get_by_role("button", name="Pumped up now").dblclick()
    expect(page.get_by_text("Pumped up; read it again later.")).to_be_visible()
    assert len(shop.get("/api/v1/parts/tank/tank")["readings"]) == 1  # pressed twice
    gauge.fill("2.5 kPa")
    own.fill("68 °F")
    barometer.fill("29.91 inHg")
    page.get_by_role("button", name="Read again").click()
    expect(page.get_by_text("It leaks.")).to_be_visible()
    expect(page.get_by_role("img", name="What was read of the tank")).to_be_visible()
    page.goto(f"{shop.url}/today")
    page.get_by_role("link", name=re.compile("tank: Leak test")).click()
    expect(page.get_by_role("tab", name="Leak test")).to_have_attribute("aria-selected", "true")
    page.get_by_role("button", name=re.compile("^Take back")).last.click()
    expect(page.get_by_text("It leaks.")).to_have_count(0)


def test_a_cut_list_follows_its_stock_and_speaks_inches_in_a_us_shop(shop, page):
    at = founded(shop, "sticks", CAPS, "sticks", glue="Heron glue")
    page.goto(f"{at}/cut-list")
    expect(page.get_by_text("5 bought: fewer can’t be.")).to_be_visible()
    expect(page.get_by_text("spar cap: scarf of 0.144 m")).to_be_visible()
    page.get_by_role("tab", name="What").click()
    stock = page.get_by_label("A length as it is bought")
    stock.fill("3.6 m")
    stock.press("Enter")
    shelf = page.get_by_label("On the shelf, of its first section")
    shelf.fill("two of them")
    shelf.press("Enter")
    expect(page.get_by_text("“two” is no length; write them like 1.8, 2.1")).to_be_visible()
    expect(shelf).to_have_value("two of them")
    shelf.fill("1.9 1,3")
    shelf.press("Enter")
    page.get_by_role("tab", name="Cut list").click()
    expect(page.get_by_text("2 from the shelf, 2 bought")).to_be_visible()
    expect(page.get_by_text("scarf of")).to_have_count(0)  # it comes out of one length now
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": "us"})
    page.reload()
    expect(page.get_by_text(re.compile("the longest remnant is .* in"))).to_be_visible()


def test_cloth_is_drawn_flat_and_its_widths_go_to_the_cutting_table(shop, page):
    made_of = {"cloth": "Linden 92, cream", "cement": "Rush heat-set adhesive", "tape": "Linden edge tape"}
    at = founded(shop, "frame", STRIPS, "wrap", {"rib_pitch_m": "400 mm", "openings_m": "0.5 m"}, **made_of)
    page.goto(f"{at}/cloth")
    expect(page.get_by_role("img", name="Cloth laid flat")).to_be_visible()
    expect(page.get_by_text("2 widths of Linden 92, cream")).to_be_visible()
    page.get_by_role("button", name="Lay the widths out").click()
    expect(page.get_by_text("2 pieces, as they would be cut: in no cut plan yet.")).to_be_visible()
    page.get_by_role("button", name="Lay out on a roll").click()
    expect(page).to_have_url(re.compile("/cut/"))
    expect(page.get_by_text("Linden 92, cream").first).to_be_visible()
    # A tape too narrow for its ribs is said by name, and what was typed stays.
    page.goto(f"{at}/what")
    width = page.get_by_label("Width of a rib, where its shape does not say")
    width.fill("60 mm")
    width.press("Enter")
    expect(page.get_by_text("a tape must reach over them").first).to_be_visible()
    expect(width).to_have_value("60 mm")
    width.fill("10")
    width.press("Enter")
    expect(page.get_by_text("a tape must reach over them")).to_have_count(0)
    land = page.get_by_label("Land along edges and ends")
    land.fill("15")
    land.press("Enter")
    page.get_by_role("tab", name="Steps").click()
    expect(page.get_by_text("Glue strips of thin plywood or aluminium on").first).to_be_visible()


def test_ways_of_painting_are_compared_with_prices_as_they_are_typed(shop, page):
    at = founded(shop, "cowl", STRIPS, "paint", paint="Sallow enamel")
    page.goto(f"{at}/coats")
    ways = page.get_by_role("region", name="Ways compared")
    expect(ways.get_by_role("row")).to_have_count(5)
    ways.get_by_label("A can costs").fill("many")
    ways.get_by_role("button", name="Compare").click()
    expect(ways.get_by_text("“many” isn't understood")).to_be_visible()
    ways.get_by_label("A can costs").fill("9,50")
    ways.get_by_label("A tin costs").fill("30")
    ways.get_by_label("A small sprayer costs").fill("45")
    ways.get_by_role("button", name="Compare").click()
    cans = ways.get_by_role("row", name=re.compile("^cans"))
    count = int(re.search(r"(\d+) cans", cans.inner_text())[1])
    expect(cans).to_contain_text(f"{9.5 * count:.2f}")
    expect(ways.get_by_role("row", name=re.compile("^spray gun"))).to_contain_text("105.00")  # two tins and the sprayer


@pytest.mark.parametrize("width", [1280, 390])
def test_one_more_fill_is_one_tap_and_stands_among_the_jobs(shop, browser, width):
    at = founded(shop, "cuff", STRIPS, "fair", filler="Heron 35 fairing paste")
    job = shop.get("/api/v1/parts/cuff")["jobs"][0]["key"]
    for n, kind in enumerate(("start", "finish")):
        note = {"id": f"look {n}", "part_id": "cuff", "step_key": f"{job}:look", "kind": kind, "crew": []}
        shop.post("/api/v1/work", note)
    page = open_page(browser, width, 844)
    page.goto(f"{at}/steps")
    more = page.get_by_role("button", name="One more fill, thin")
    more.dblclick()
    expect(page.get_by_role("button", name=re.compile("^2 · filling and fairing"))).to_be_visible()
    assert len(shop.get("/api/v1/parts/cuff")["jobs"]) == 2
    # Later it is another fill, and not taken for the first once more.
    page.wait_for_timeout(1800)
    page.get_by_role("button", name="One more fill, thin").click()
    expect(page.get_by_role("button", name=re.compile("^3 · filling and fairing"))).to_be_visible()
    page.close()
