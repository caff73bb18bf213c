"""What is said of the shop itself: its scale, clock, closed days and screen; its crew, stations and inspectors."""

from __future__ import annotations

import re
from datetime import datetime

from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.test_in_the_stores import chosen
from tests.browser.test_signing_in import with_pins


def settings(page):
    page.get_by_role("button", name="Shop", exact=True).click()
    return page.get_by_role("dialog")


def test_the_scale_the_cups_and_the_clock_are_said_in_one_place(shop, page):
    page.goto(f"{shop.url}/stores")
    sheet = settings(page)
    sheet.get_by_label("In steps of").fill("-1")
    sheet.get_by_label("No cup above").fill("450")
    sheet.get_by_role("button", name="Keep the scale, the cups and the height").click()
    expect(sheet.get_by_role("alert").first).to_contain_text("-1")
    expect(sheet.get_by_label("No cup above")).to_have_value("450")  # what was typed beside it stays
    sheet.get_by_label("In steps of").fill("0,5")
    sheet.get_by_label("Above the sea").fill("620")
    sheet.get_by_role("button", name="Keep the scale, the cups and the height").click()
    expect(sheet.get_by_role("alert")).to_have_count(0)
    sheet.get_by_role("radio", name="2:30 pm").click()
    expect(page.get_by_role("banner")).to_contain_text(re.compile(r"9:2\d\s?am"))
    sheet.get_by_role("radio", name="Dec 3").click()
    expect(page.get_by_role("banner")).to_contain_text("Thu May 14")
    sheet.get_by_role("radio", name="Pitch (dark)").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "pitch")
    sheet.get_by_role("radio", name="Ounces").click()
    expect(sheet.get_by_label("In steps of")).to_have_value(re.compile("oz"))
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "pitch")
    sheet = settings(page)
    expect(sheet.get_by_label("Above the sea")).to_have_value(re.compile("^620"))
    expect(sheet.get_by_role("radio", name="2:30 pm")).to_be_checked()


def test_a_day_nobody_works_is_said_moves_the_plan_and_is_open_after_all(shop, page):
    page.goto(f"{shop.url}/loom")
    sheet = settings(page)
    sheet.get_by_label("Another closed day").fill("31 June")
    sheet.get_by_role("button", name="Nobody works then").click()
    expect(sheet.get_by_text("“31 June” is no day; write 3 Dec")).to_be_visible()
    expect(sheet.get_by_label("Another closed day")).to_have_value("31 June")
    sheet.get_by_label("Another closed day").fill("15 May")
    with page.expect_response("**/api/v1/shop"):
        sheet.get_by_role("button", name="Nobody works then").dblclick()
    day = sheet.get_by_role("listitem").filter(has_text="15 May")
    expect(day).to_have_count(1)
    assert "2026-05-15" in shop.get("/api/v1/shop")["closed"]
    loom = shop.get("/api/v1/loom?days=7")
    friday = datetime.fromisoformat(loom["zero"]).replace(month=5, day=15, hour=0, minute=0)
    begins = (friday - datetime.fromisoformat(loom["zero"])).total_seconds() / 60
    pieces = [piece for lane in loom["lanes"] for block in lane["blocks"] for piece in block["pieces"]]
    assert pieces
    assert not [start for start, end in pieces if begins < end and start < begins + 1440]
    page.reload()
    sheet = settings(page)
    with page.expect_response("**/api/v1/shop"):
        sheet.get_by_role("button", name="Open after all").click()
    expect(sheet.get_by_text("15 May")).to_have_count(0)
    assert "2026-05-15" not in shop.get("/api/v1/shop")["closed"]


def test_somebody_is_welcomed_is_away_and_here_again_and_leaves(shop, page):
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Welcome somebody…").click()
    page.get_by_role("button", name="Welcome them").click()
    expect(page.get_by_role("alert").first).to_be_visible()
    page.get_by_label("Name").fill("Juno")
    page.get_by_label("Another skill").fill("varnish")
    page.get_by_label("Sat").fill("10–25")
    page.get_by_role("button", name="Welcome them").click()
    expect(page.get_by_role("alert").filter(has_text="25")).to_be_visible()
    page.get_by_label("Sat").fill("10–14")
    page.get_by_role("button", name="Welcome them").dblclick()
    card = page.locator("div.bg-panel").filter(has_text=re.compile("^Juno"))
    expect(card).to_have_count(1)
    expect(card).to_contain_text("varnish")
    expect(card).to_contain_text("Sat 10:00–14:00")
    card.get_by_role("button", name="Away…").click()
    card.get_by_label("From (empty: now)").fill("16 May 10:00")
    card.get_by_label("To (empty: the day’s end)").fill("15 May 10:00")
    card.get_by_role("button", name="Say so").click()
    expect(card.get_by_role("alert")).to_be_visible()
    expect(card.get_by_label("From (empty: now)")).to_have_value(re.compile("16 May"))
    card.get_by_label("To (empty: the day’s end)").fill("17 May 10:00")
    card.get_by_label("Why").fill("at the sea")
    card.get_by_role("button", name="Say so").dblclick()
    expect(card.get_by_text(re.compile("^Away .*at the sea"))).to_have_count(1)
    card.get_by_role("button", name="Here after all").click()
    expect(card.get_by_text(re.compile("^Away .*at the sea"))).to_have_count(0)
    card.get_by_role("button", name="Change").click()
    page.get_by_role("button", name="Does not work here any more").click()
    expect(page.get_by_text("Juno")).to_have_count(0)


def test_a_station_is_set_up_changed_and_not_here_any_more(shop, page):
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Set a station up…").click()
    form = page.locator("div.border-2.border-ink")
    form.get_by_label("Name").fill("Long table")
    form.get_by_label("Serves at once").fill("two")
    form.get_by_role("button", name="Save").click()
    expect(form.get_by_role("alert").first).to_contain_text("“two”")
    form.get_by_label("Serves at once").fill("2")
    kind = form.get_by_role("group", name="It serves as").get_by_role("button").first
    serves = kind.inner_text()
    kind.click()
    chosen(page, form, "Its air", "Cool room")
    form.get_by_role("button", name="Save").dblclick()
    row = page.locator("div.bg-panel").filter(has_text=re.compile("^Long table"))
    expect(row).to_have_count(1)
    expect(form).to_have_count(0)
    expect(row).to_contain_text(f"serves 2 as {serves} · air of the cool room")
    row.get_by_role("button", name="Change").click()
    form.get_by_label("Serves at once").fill("3")
    form.get_by_role("button", name="Save").click()
    expect(form).to_have_count(0)
    expect(row).to_contain_text(f"serves 3 as {serves}")
    row.get_by_role("button", name="Change").click()
    form.get_by_role("button", name="Not here any more").click()
    expect(page.get_by_text("Long table")).to_have_count(0)


def test_an_inspector_comes_by_a_link_until_it_is_ended(shop, page, browser):
    with_pins(shop, page)
    guests = page.get_by_role("region", name="Inspectors")
    guests.get_by_label("The inspector’s name").fill("Mr Vole")
    guests.get_by_label("Days").fill("a week")
    guests.get_by_role("button", name="Make a link").click()
    expect(guests.get_by_role("alert")).to_contain_text("“a week”")
    guests.get_by_label("Days").fill("3")
    guests.get_by_role("button", name="Make a link").click()
    link = guests.locator("code").inner_text()
    other = open_page(browser)
    other.goto(link)
    expect(other.get_by_role("navigation", name="Views")).to_be_visible()
    other.goto(f"{shop.url}/gates")
    expect(other.get_by_role("heading", name="1 closing waits for its list")).to_be_visible()
    guests.get_by_role("button", name="End it now").click()
    expect(guests.get_by_role("button", name="End it now")).to_have_count(0)
    other.goto(f"{shop.url}/gates")
    expect(other.get_by_role("dialog", name="Who is at this tablet?")).to_be_visible()
    other.close()
