"""Weights on the screen: a part weighed, an airframe with what it carries, an aileron on its hinge, a hard point."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import open_page


def test_a_part_is_weighed_a_slip_of_the_unit_asked_about_and_taken_back(shop, page):
    part = shop.part_id("Left flap, upper skin")
    page.goto(f"{shop.url}/part/{part}/weight")
    job = page.get_by_role("region", name="bagged sandwich skin")
    expect(job).to_contain_text("puts on")
    job.get_by_role("button", name=re.compile("^Sedge 163 twill glass .*: from what")).click()
    expect(page.get_by_role("dialog")).to_contain_text("It may be off by 3% either way")
    page.keyboard.press("Escape")
    weigh = page.get_by_role("region", name="Weigh it")
    weigh.get_by_label("It weighs").fill("heavy")
    weigh.get_by_role("button", name="Keep this weight").click()
    expect(weigh.get_by_role("alert")).to_contain_text("heavy")
    weigh.get_by_label("It weighs").fill("9.8 kg")
    weigh.get_by_role("button", name="Keep this weight").click()
    expect(weigh).to_contain_text("times what is computed")
    weigh.get_by_label("It weighs").fill("980")
    expect(weigh).not_to_contain_text("times what is computed")
    weigh.get_by_role("button", name="Keep this weight").dblclick()
    expect(job).to_contain_text("980 g after it")
    expect(job).to_contain_text("Wet: ")
    expect(weigh.get_by_label("It weighs")).to_have_value("")
    job.get_by_role("button", name="Take back").click()
    expect(job).not_to_contain_text("980 g after it")

    # Its arm is typed instead of taken from its shape, and given back.
    arm = page.get_by_label("Its middle aft of the nose, m")
    arm.fill("far")
    arm.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("far")
    arm.fill("2.75")
    arm.press("Enter")
    middle = page.get_by_role("button", name=re.compile("^Its middle aft of the nose"))
    expect(middle).to_contain_text("2.750 m")
    arm = page.get_by_label("Typed instead, m")
    arm.fill("")
    arm.press("Enter")
    expect(middle).to_have_count(0)


def test_an_airframe_is_weighed_with_what_it_carries_against_its_limits(shop, page, browser):
    airframe = shop.get("/api/v1/airframe")["id"]
    version = shop.get(f"/api/v1/airframes/{airframe}/weights")["version"]
    limits = {"fore_m": "2", "aft_m": "2.3", "most_g": "600 kg"}
    shop.patch(f"/api/v1/airframes/{airframe}/limits", {"version": version, "texts": limits})
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("link", name="What it weighs").click()
    carried = page.get_by_role("region", name="Carried besides")
    carried.get_by_role("button", name="Add something it carries").click()
    for label, text in (("What", "All that is bought"), ("Weighs, kg", "400"), ("Aft of the nose, m", "2100 mm")):
        carried.get_by_label(label).fill(text)
    carried.get_by_role("button", name="Keep it").click()
    together = page.get_by_role("region", name="Together")
    expect(together).to_contain_text("within its limits")
    expect(page.get_by_role("img", name=re.compile("When all is done: "))).to_be_visible()
    carried.get_by_role("button", name="Add something it carries").click()
    carried.get_by_label("What").fill("Tail ballast")
    carried.get_by_label("Weighs, kg").fill("-4")
    carried.get_by_label("Aft of the nose, m").fill("6.5")
    carried.get_by_role("button", name="Keep it").click()
    expect(carried.get_by_role("alert")).to_contain_text("-4000 g; it can't be below 0 g")
    carried.get_by_label("Weighs, kg").fill("40")
    carried.get_by_role("button", name="Keep it").dblclick()
    expect(carried.get_by_text("Tail ballast")).to_have_count(1)
    expect(together).to_contain_text("behind the aft limit")

    # Somebody else has it open: both see it go.
    other = open_page(browser)
    other.goto(page.url)
    theirs = other.get_by_role("region", name="Carried besides")
    row = theirs.locator("div").filter(has_text="Tail ballast").last
    row.get_by_role("button", name="Change").click()
    theirs.get_by_role("button", name="Take it away").click()
    expect(carried.get_by_text("Tail ballast")).to_have_count(0)
    other.close()

    limits = page.get_by_role("region", name="Limits")
    limits.get_by_label("Centre of gravity not behind, m").fill("1")
    limits.get_by_label("Centre of gravity not behind, m").press("Enter")
    expect(limits.get_by_role("alert")).to_contain_text("the aft limit must lie behind the forward one")
    page.get_by_role("link", name="Rudder").click()
    expect(page.get_by_text("It is a control surface: say where it hinges")).to_be_visible()


def test_an_aileron_is_read_on_its_hinge_until_it_holds(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/weight")
    page.get_by_role("button", name="It is a control surface: say where it hinges").click()
    hinge = page.get_by_role("region", name="About its hinge")
    hinge.get_by_label("Hinge line aft of the leading edge, at the root, mm").fill("60")
    hinge.get_by_label("The same at the tip, mm").fill("2 in")
    hinge.get_by_label("Balanced, says the designer, %").fill("100")
    hinge.get_by_label("Balance weight ahead of the hinge by, mm").fill("0")
    hinge.get_by_role("button", name="Keep its hinge").click()
    expect(hinge.get_by_role("alert")).to_contain_text("must be above 0 mm")
    hinge.get_by_label("Balance weight ahead of the hinge by, mm").fill("50")
    hinge.get_by_role("button", name="Keep its hinge").click()
    expect(hinge.get_by_role("button", name="Keep its hinge")).to_have_count(0)
    for grams, mounted, says in (
        ("200", "", "Balanced by 0 %, 100 % is wanted: 800 g at its place"),
        ("60", "560", "240 g more at its place ahead of the hinge"),
        ("0", "805", "it holds"),
    ):
        hinge.get_by_label("The scale reads").fill(grams)
        hinge.get_by_label("Behind the hinge", exact=True).fill("200")
        hinge.get_by_label("Balance weight on it").fill(mounted)
        hinge.get_by_role("button", name="Keep this reading").click()
        expect(hinge.get_by_role("status").first).to_contain_text(says)
    # The right one hinges as the left one does, and was not read.
    page.goto(f"{shop.url}/part/{shop.part_id('Right wing, upper skin')}/weight")
    expect(page.get_by_label("Balance weight ahead of the hinge by, mm")).to_have_value("50 mm")
    expect(page.get_by_text("it holds")).to_have_count(0)


def test_a_zone_becomes_a_hard_point_and_says_what_it_wants(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    zones = page.get_by_role("region", name="Zones")
    zones.get_by_role("button", name="Add a zone between two places").click()
    zones.get_by_role("combobox", name="Let into the core").click()
    page.get_by_role("option", name="aluminium").click()
    threads = zones.get_by_label("Threads in it")
    threads.fill("six")
    threads.press("Enter")
    expect(zones.get_by_role("alert")).to_contain_text("six")
    threads.fill("6")
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        threads.press("Enter")
    expect(zones.get_by_role("alert")).to_have_count(0)
    assert shop.get(f"/api/v1/parts/{part}/plies")["zones"][0]["threads"] == "6"
    page.goto(f"{shop.url}/part/{part}/weight")
    expect(page.get_by_role("button", name=re.compile("^“zone 1”, aluminium with 6 threads"))).to_be_visible()
