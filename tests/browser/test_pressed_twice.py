"""A glove presses twice, a second press comes before the first is answered: what is told is told once."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from kiteloom.workshop.base.ids import stable_id
from tests.browser.test_in_the_stores import chosen

TARN = stable_id("sheet", "Tarn 210 with 214 slow")


def slow(page, path):
    """What is sent there is under way for a while."""
    page.route(path, lambda route: (page.wait_for_timeout(150), route.continue_()))


def test_what_is_thrown_away_is_gone_once(shop, page):
    page.goto(f"{shop.url}/stores/{TARN}")
    page.get_by_role("button", name=re.compile("T-4471")).click()
    sheet = page.get_by_role("dialog")
    before = sheet.get_by_text(re.compile("^By the book")).inner_text()
    assert before.startswith("By the book 8.01 kg left")
    slow(page, "**/notes")
    sheet.get_by_label("Weighed: so much").fill("1 kg")
    sheet.get_by_role("button", name="Thrown away").dblclick()
    expect(sheet.get_by_label("Weighed: so much")).to_have_value("")
    expect(sheet.get_by_text(re.compile("^By the book 7.01 kg left"))).to_be_visible()


def test_somebody_is_away_once_and_here_again_with_one_press(shop, page):
    page.goto(f"{shop.url}/today")
    day = page.get_by_test_id("day")
    slow(page, "**/absences")
    bo = day.get_by_role("listitem").filter(has_text=re.compile("^Bo"))
    bo.get_by_role("button", name="Not here").dblclick()
    expect(bo.get_by_role("button", name="Here again")).to_be_visible()
    page.wait_for_timeout(500)
    bo.get_by_role("button", name="Here again").click()
    expect(bo.get_by_role("button", name="Not here")).to_be_visible()


def test_strokes_are_weighed_once_and_what_is_wrong_keeps_both(shop, page):
    page.goto(f"{shop.url}/mix?product={TARN}")
    expect(page.get_by_test_id("alarm")).to_be_visible()  # it comes over what lies lowest
    page.get_by_text("Pumps on the cans?").click()
    slow(page, "**/pumps")
    page.get_by_label("Three strokes of resin").fill("63")
    page.get_by_label("Three strokes of hardener").fill("few")
    page.get_by_role("button", name="Keep the strokes").click()
    expect(page.get_by_role("alert").filter(has_text="“few”")).to_be_visible()
    expect(page.get_by_label("Three strokes of resin")).to_have_value("63")
    page.get_by_label("Three strokes of hardener").fill("17.5")
    page.get_by_role("button", name="Keep the strokes").dblclick()
    expect(page.get_by_label("Three strokes of resin")).to_have_value("")


def test_a_way_of_cutting_is_added_once(shop, page):
    page.goto(f"{shop.url}/cut")
    page.get_by_text("For parts that are cut whole:").locator("..").get_by_role("button").first.dblclick()
    expect(page).to_have_url(re.compile("/cut/.+"))
    slow(page, "**/ways")
    page.get_by_role("button", name="Compare another way").dblclick()
    expect(page.get_by_role("button", name="Compare another way")).to_be_enabled()
    key = page.url.split("/cut/")[1].split("?")[0]
    assert len(shop.get(f"/api/v1/cut-plans/{key}")["ways"]) == 2
    assert len(shop.get("/api/v1/cut-plans")["plans"]) == 1
    like = shop.get(f"/api/v1/cut-plans/{key}")["ways"][0]["id"]
    for n in range(4):
        shop.post(f"/api/v1/cut-plans/{key}/ways", {"id": f"way-{n}", "like": like})
    page.get_by_role("button", name="Compare another way").click()
    expect(page.get_by_text("6 ways are compared at most; take one away first")).to_be_visible()


def test_the_night_is_said_once(shop, page):
    page.goto(f"{shop.url}/air")
    slow(page, "**/outlooks")
    page.get_by_label("Tonight’s low").first.fill("5")
    page.get_by_label("Tomorrow’s high").first.fill("19")
    page.get_by_role("button", name="Use", exact=True).first.dblclick()
    expect(page.get_by_label("Tonight’s low").first).to_have_value("")


def test_a_hidden_hole_a_row_of_fasteners_and_a_tap(whole, page):
    part = whole.part_id("Left bush in rib 1")
    page.goto(f"{whole.url}/part/{part}/joint")
    row = page.get_by_role("region", name="Fasteners")
    row.get_by_role("button", name="A hole that can’t be seen…").click()
    row.get_by_role("radio", name="by the pitch from one that was found").click()
    for label, text in (("Pitch", "25"), ("So many pitches on", "two"), ("The hole has in the end", "5"),
                        ("A measure may be off by", "0.5")):  # fmt: skip
        row.get_by_label(label, exact=True).fill(text)
    row.get_by_role("button", name="Where is it?").click()
    expect(row.get_by_text("“two”")).to_be_visible()
    row.get_by_label("So many pitches on").fill("2")
    row.get_by_role("button", name="Where is it?").click()
    expect(row.get_by_role("status").or_(row.get_by_role("alert")).last).to_contain_text("50")
    row.get_by_role("radio", name="by two measures from two points").click()
    for label, text in (("The two points are apart", "100"), ("From the first to it", "30"),
                        ("From the second to it", "40")):  # fmt: skip
        row.get_by_label(label, exact=True).fill(text)
    row.get_by_role("button", name="Where is it?").click()
    expect(row.get_by_text("meet nowhere; measure them again")).to_be_visible()
    row.get_by_label("From the second to it").fill("80")
    row.get_by_role("button", name="Where is it?").click()
    expect(row.get_by_text("meet nowhere")).to_have_count(0)
    tap = page.get_by_role("region", name="Coin tap")
    tap.get_by_role("button", name="Tap it…").click()
    tap.get_by_role("button", name="Place 2", exact=True).click()
    chosen(page, tap, "Who tapped it", "Bo")
    slow(page, "**/taps")
    tap.get_by_role("button", name="Keep this tap").dblclick()
    expect(tap.get_by_role("button", name="Tapped again…")).to_be_visible()
    assert len(whole.get(f"/api/v1/parts/{part}/taps")["taps"]) == 1
