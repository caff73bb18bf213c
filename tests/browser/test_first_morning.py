"""An empty folder on its first morning: put off, pressed twice, in US units, by two at once; what is missed is told."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.running import RunningShop

LOFT = {"kind": "loft", "stations": [{"at": "0", "chord": "1", "section": {"naca": "0012"}}, {"at": "2", "chord": "1"}]}


@pytest.fixture
def empty(tmp_path):
    running = RunningShop(tmp_path / "empty", command="serve")
    running.start()
    yield running
    running.stop()
    print(running.said())  # shown with a failure


def opened(page, shop, name="The shed") -> None:
    page.goto(shop.url)
    page.get_by_label("The shop’s name").fill(name)
    page.get_by_role("radio", name="Metric").click()
    page.get_by_role("button", name="Open the shop").click()
    expect(page.get_by_role("heading", name="Who works here?")).to_be_visible()


def test_hours_of_ones_own_are_understood_or_refused_by_day(empty, page):
    page.goto(empty.url)
    expect(page.get_by_role("button", name="Open the shop")).to_be_disabled()
    page.get_by_label("The shop’s name").fill("Hangar 3")
    page.get_by_role("radio", name="US").click()
    page.get_by_label("Its time zone").fill("Mars/Olympus")
    page.get_by_role("radio", name="Our own hours").click()
    page.get_by_label("Hours on Wednesday").fill("9x–17")
    page.get_by_role("button", name="Open the shop").click()
    expect(page.get_by_role("alert")).to_contain_text("“Mars/Olympus” is not a zone")
    page.get_by_label("Its time zone").fill("America/Denver")
    page.get_by_role("button", name="Open the shop").click()
    expect(page.get_by_role("alert")).to_contain_text("“9x” isn't a time of day")
    expect(page.get_by_label("The shop’s name")).to_have_value("Hangar 3")  # nothing typed is lost
    page.get_by_label("Hours on Wednesday").fill("9–12:30, 13–17")
    page.get_by_role("button", name="Open the shop").click()
    expect(page.get_by_role("heading", name="Who works here?")).to_be_visible()
    shop = empty.get("/api/v1/shop")
    assert (shop["units"], shop["zone"], shop["week"][2]) == (
        "us",
        "America/Denver",
        "9:00 am–12:30 pm, 1:00 pm–5:00 pm",
    )
    page.get_by_role("button", name=re.compile("^Later: plan as if there were enough")).click()
    page.get_by_role("button", name=re.compile("^Later: plan as if there were room")).click()
    page.get_by_label("Tonight’s low").fill("60")
    page.get_by_label("Tomorrow’s high").fill("52")
    page.get_by_role("button", name="Plan with these").click()
    expect(page.get_by_role("alert")).to_contain_text("the low is")
    expect(page.get_by_label("Tonight’s low")).to_have_value("60")
    page.get_by_label("Tomorrow’s high").fill("74 °F")
    page.get_by_role("button", name="Plan with these").click()
    expect(page.get_by_role("heading", name="What is being built?")).to_be_visible()


def test_what_is_put_off_is_offered_again_where_it_is_missed(empty, page):
    opened(page, empty)
    for words in (
        "Later: plan as if there were enough people",
        "Later: plan as if there were room",
        "Later: without it",
    ):
        page.get_by_role("button", name=re.compile(f"^{words}")).click()
    expect(page.get_by_role("heading", name="What is being built?")).to_be_visible()
    empty.post("/api/v1/airframes", {"id": "wren", "name": "Wren"})
    expect(page.get_by_role("heading", name="Found the first part.")).to_be_visible()  # without a reload
    part = {"id": "fin", "name": "Fin", "airframe_id": "wren", "assembly": "Tail", "shape": LOFT}
    empty.post("/api/v1/airframes/parts", part)
    page.get_by_role("link", name="Choose its first job").click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("heading", name="Add a job")).to_be_visible()
    sheet.get_by_role("button", name=re.compile("^Glued wood frame", re.IGNORECASE)).click()
    # What it comes to moves the button as it arrives.
    expect(sheet.get_by_text("It can be added as it is")).to_be_visible()
    sheet.get_by_role("button", name="Add this job").click()
    expect(page.get_by_text("It can’t be made yet.")).to_be_visible()
    # Without any temperature nothing can be planned: now it is asked for, and the rest is offered beside it.
    page.goto(f"{empty.url}/today")
    expect(page.get_by_role("heading", name="How warm is it here tonight?")).to_be_visible()
    page.get_by_label("Tonight’s low").fill("15")
    page.get_by_label("Tomorrow’s high").fill("21")
    page.get_by_role("button", name="Plan with these").click()
    expect(page.get_by_test_id("first")).to_contain_text("can't be planned: choose a wood glue first")
    missed = page.get_by_text("Who works here?").locator("xpath=ancestor::div[2]")
    missed.get_by_role("button", name="Say it now").click()
    page.get_by_label("Name 1").fill("Ada")
    page.get_by_role("button", name="Welcome them").click()
    expect(page.get_by_text("Who works here?")).to_have_count(0)
    expect(page.get_by_text("What stands in the shop?")).to_be_visible()


def test_two_at_once_and_a_press_too_many_make_nothing_twice(empty, page, browser):
    opened(page, empty)
    other = open_page(browser)
    other.goto(empty.url)
    expect(other.get_by_role("heading", name="Who works here?")).to_be_visible()
    page.get_by_label("Name 1").fill("Ada")
    page.get_by_role("button", name="layup").first.click()
    page.get_by_role("button", name="Somebody else too").click()
    page.get_by_label("Name 2").fill("Jonas")
    page.get_by_role("button", name="Welcome them").dblclick()
    expect(page.get_by_role("heading", name="What stands in the shop?")).to_be_visible()  # both are kept
    expect(other.get_by_role("heading", name="What stands in the shop?")).to_be_visible()  # it hears of it
    people = empty.get("/api/v1/people")["people"]
    assert [(person["name"], person["skills"]) for person in people] == [("Ada", ["layup"]), ("Jonas", [])]
    for each in (page, other):
        each.get_by_role("button", name="bench", exact=True).click()
    page.get_by_role("button", name="These are here").click()
    expect(page.get_by_role("heading", name="How warm is it here tonight?")).to_be_visible()
    expect(other.get_by_role("heading", name="How warm is it here tonight?")).to_be_visible()
    assert [station["name"] for station in empty.get("/api/v1/people")["stations"]] == ["The bench"]
    # Somebody who follows an old link finds the shop open, not its first page.
    other.goto(f"{empty.url}/loom")
    expect(other.get_by_text("no temperature was ever given")).to_be_visible()
    assert other.complaints == []
    other.close()


def test_a_part_founded_twice_or_over_a_restart_is_there_once(empty, page):
    opened(page, empty)
    empty.post("/api/v1/airframes", {"id": "wren", "name": "Wren"})
    page.goto(f"{empty.url}/found?airframe=wren")
    page.get_by_label("Its name", exact=True).fill("wing panel")
    page.get_by_role("radio", name="Both", exact=True).click()
    page.get_by_label("It belongs to").fill("Wing")
    page.get_by_role("radio", name="By stations").click()
    for n, at in enumerate(("0", "3.4"), 1):
        page.get_by_label(f"Station {n}, along the span").fill(at)
        page.get_by_label(f"Station {n}, chord").fill("1.2")
    page.get_by_label("Station 1, section", exact=True).fill("4412")
    expect(page.get_by_role("img", name="Planform")).to_be_visible()
    empty.stop(kill=True)
    page.get_by_role("button", name="Found both").click()
    expect(page.get_by_text("Nothing was saved; try again.")).to_be_visible()
    empty.start()
    page.reload()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("3.4")
    page.get_by_role("button", name="Found both").dblclick()
    expect(page.get_by_role("heading", name="Left wing panel").first).to_be_visible()
    names = [part["name"] for each in empty.get("/api/v1/airframe")["assemblies"] for part in each["parts"]]
    assert names == ["Left wing panel", "Right wing panel"]
    # The next part begins with an empty form.
    page.goto(f"{empty.url}/found?airframe=wren")
    expect(page.get_by_label("Its name", exact=True)).to_have_value("")


def test_days_and_times_are_typed_as_the_shop_writes_them(shop, page):
    version = shop.get("/api/v1/shop")["version"]
    shop.patch("/api/v1/shop", {"version": version, "clock": "12", "dates": "month"})
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Away…").first.click()
    start = page.get_by_label("From (empty: now)")
    expect(start).to_have_attribute("placeholder", "Dec 3 2:30 pm, or Thu 9:00 am")
    start.fill("May 15 1:30 pm")
    start.blur()
    expect(start).to_have_value("Fri May 15 2026, 1:30 pm")
    start.fill("May 15 13:30 pm")
    start.blur()
    expect(page.get_by_role("alert")).to_contain_text("is no day and time")
    start.fill("Fri 9:15 am")
    page.get_by_role("button", name="Say so").first.click()
    expect(page.get_by_text(re.compile("^Away Fri 9:15 am to"))).to_be_visible()
    page.goto(f"{shop.url}/today")
    expect(page.get_by_text("Until 6:00 pm")).to_be_visible()
