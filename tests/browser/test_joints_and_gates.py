"""Joints, readings and closings in the browser: ticked, typed on the keypad, signed; also pressed twice and in two."""

import re
import time

import pytest
from playwright.sync_api import expect

BUSH = "Left bush in rib 1"


@pytest.fixture
def shop(whole):
    """All of the airframe, with the joints of its left nose and the list before its wing is closed."""
    return whole


def airframe(shop):
    return shop.get("/api/v1/airframe")["id"]


def test_the_order_of_joints_is_drawn_and_each_says_why(shop, page):
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("link", name="How it is joined").click()
    expect(page.get_by_text("16 joints, 11 safe stops; at most 3 from one stop to the next")).to_be_visible()
    page.get_by_role("button", name="Left rib 1 on the spar").click()
    why = page.get_by_role("complementary", name="Why it comes when it does")
    expect(why).to_contain_text("Left tube in the inner bracket needs Left nose rib 1 loose")
    why.get_by_role("link", name="Its faces, fit and fasteners").click()
    expect(page).to_have_url(re.compile("/joint$"))
    expect(page.get_by_role("tab", name="Joint")).to_have_attribute("data-state", "active")


def test_a_face_is_ticked_ready_and_what_the_fit_showed_is_mixed_for(shop, page):
    part = shop.part_id(BUSH)
    page.route("**/api/v1/now*", lambda _: None)
    page.goto(f"{shop.url}/part/{part}/joint")
    faces = page.get_by_role("region", name="Faces")
    expect(faces.get_by_text("Bare: it was ready until Wed 13 May 17:40")).to_be_visible()
    faces.get_by_label("Degrease it").check()
    faces.get_by_label("Abrade it until").check()
    # Ticked before this tablet has heard the shop's clock, they are still the first.
    page.unroute("**/api/v1/now*")
    faces.get_by_label("Wipe it with clean").check()
    expect(faces.get_by_text(re.compile(r"Ready until 11:2\d\."))).to_be_visible(timeout=60_000)
    faces.get_by_role("button", name="It was touched, or got wet").last.click()
    expect(faces.get_by_text("Contaminated; first: degrease it.")).to_be_visible(timeout=60_000)
    page.reload()
    expect(faces.get_by_text("Contaminated; first: degrease it.")).to_be_visible()
    fit = page.get_by_role("region", name="Dry fit")
    fit.get_by_role("button", name="Gaps that the fit showed").click()
    fit.get_by_label("Gap 1, along").fill("7 m")
    fit.get_by_label("Gap 1, gap").fill("3,6")
    fit.get_by_role("button", name="Keep this fit").click()
    expect(fit.get_by_role("alert").first).to_contain_text("it can't be above 0.06 m")
    expect(fit.get_by_label("Gap 1, gap")).to_have_value("3,6")
    fit.get_by_label("Gap 1, along").fill("30 mm")
    fit.get_by_role("button", name="Keep this fit").dblclick()
    expect(fit).to_contain_text("Too wide for Heron 30 paste at 0.030 m: it fills 3.00 mm")


def test_what_a_joint_ties_is_said_and_a_contradiction_is_named_and_kept(shop, page):
    part = shop.part_id("Left wing, closing joint")
    page.goto(f"{shop.url}/part/{part}/joint")
    ties = page.get_by_role("region", name="What it ties")
    for label, name in (("One part", "Left wing, upper skin"), ("The other part", "Left wing, lower skin")):
        ties.get_by_label(label).click()
        page.get_by_role("option", name=name, exact=True).click()
    expect(page.get_by_role("region", name="Faces")).to_contain_text("Left wing, upper skin")
    expect(page.get_by_text(re.compile(r"Joint \d+ of 17"))).to_be_visible()
    ties.get_by_role("button", name="Comes after…").click()
    ties.get_by_label("Comes after…").click()
    page.get_by_role("option", name="Left nose strip on rib 3").click()
    expect(ties.get_by_role("button", name="Comes after: take Left nose strip on rib 3 out")).to_be_visible()
    strip = shop.part_id("Left nose strip on rib 3")
    page.goto(f"{shop.url}/part/{strip}/joint")
    ties.get_by_role("button", name="Comes after…").click()
    ties.get_by_label("Comes after…").click()
    page.get_by_role("option", name="Left wing, closing joint").click()
    expect(ties.get_by_role("alert")).to_contain_text("contradict each other")


@pytest.mark.parametrize("units", ["metric", "us"])
def test_bays_are_read_on_the_keypad_and_an_odd_one_is_asked_about(shop, page, units):
    if units == "us":
        shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": "us"})
    page.goto(f"{shop.url}/part/{shop.part_id('Left wing, aft ribs')}/checks")
    expect(page.get_by_text("1.9 mm too little" if units == "metric" else "1/16 in too little")).to_be_visible()
    page.get_by_role("button", name="Read it").click()
    keypad = page.get_by_role("dialog", name="Read Rib spacing")
    for key in ("4", "0") if units == "metric" else ("1", "5", "3/4"):
        keypad.get_by_role("button", name=key, exact=True).click()
    for _ in range(5):
        keypad.get_by_role("button", name=re.compile("^Next")).click()
    keypad.get_by_role("button", name="Keep it", exact=True).click()
    if units == "metric":
        expect(keypad.get_by_text("is about 10 times less than the 400.0 mm asked")).to_be_visible()
        keypad.get_by_role("button", name=re.compile("1 to 2")).click()
        keypad.get_by_role("button", name="0", exact=True).click()
        keypad.get_by_label("Found at 1 to 2").press("Enter")
        for _ in range(4):
            keypad.get_by_role("button", name=re.compile("^Next")).click()
        keypad.get_by_role("button", name="Keep it", exact=True).click()
    expect(keypad).to_have_count(0)
    expect(page.get_by_text("1 of 6 are read.")).to_be_visible()


def test_a_closing_is_looked_at_by_another_person_and_two_browsers_see_the_same(shop, page, browser):
    shop.post("/api/v1/gate-lists", {"id": "short", "version": 0, "name": "Short", "lines": ["Swept out"]})
    page.goto(f"{shop.url}/gates")
    page.get_by_role("link", name="Right wing, closing joint").click()
    expect(page).to_have_url(re.compile("/gates/.+/bond$"))
    other = browser.new_page()
    other.goto(page.url)
    page.get_by_label("Or a list of the shop’s").click()
    page.get_by_role("option", name="Short").click()
    expect(other.get_by_text("Swept out")).to_be_visible(timeout=60_000)
    line = page.get_by_role("listitem").filter(has_text="Swept out")
    line.get_by_role("button", name="Done").dblclick()
    expect(line.get_by_text("somebody answers for it; say who")).to_be_visible()
    page.get_by_role("button", name="Bo", exact=True).click()
    line.get_by_role("button", name="Done").dblclick()
    expect(line.get_by_text("Bo, 09:2")).to_be_visible()
    page.get_by_role("button", name="I looked: sign it").click()
    expect(page.get_by_text(re.compile("5 of 6 lines are open: first"))).to_be_visible()
    edges = page.get_by_role("listitem").filter(has_text="Edges and beads")
    # The next line is pressed before this one is kept: neither is lost.
    page.route("**/api/v1/gate/notes", lambda route: (page.wait_for_timeout(300), route.continue_()))
    edges.get_by_role("button", name="Done").click()
    for row in page.get_by_role("listitem").filter(has_text="Right wing").all():
        row.get_by_role("button", name="Not needed…").click()
        row.get_by_label("Why it is not needed").fill("seen on the bench")
        row.get_by_role("button", name="Not needed", exact=True).click()
        expect(row.get_by_text("not needed, Bo")).to_be_visible(timeout=60_000)
    expect(edges.get_by_text("Bo, 09:2")).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="I looked: sign it").click()
    expect(page.get_by_text("whoever looks must be somebody else")).to_be_visible()
    page.get_by_role("button", name="Sanna", exact=True).click()
    page.get_by_role("button", name="I looked: sign it").click()
    expect(page.get_by_text("Sanna looked and signed")).to_be_visible()
    expect(other.get_by_text("Sanna looked and signed")).to_be_visible(timeout=60_000)


def test_a_reading_is_taken_back_and_a_second_press_leaves_the_one_before(shop, page):
    page.goto(f"{shop.url}/part/{shop.part_id('Left wing, lower skin')}/checks")
    back = page.get_by_role("button", name=re.compile("^Take back what was read"))
    expect(back).to_have_text("Take back what was read after")
    back.click()
    expect(back).to_have_text("Take back what was read before")
    back.click()  # the same finger, a second later
    page.goto(f"{shop.url}/irons")
    small = page.get_by_role("region", name="The small iron")
    expect(small.get_by_role("button", name="Take back")).to_have_count(4)
    small.get_by_role("button", name="Take back").first.dblclick()
    expect(small.get_by_role("button", name="Take back")).to_have_count(3)
    small.get_by_label("The dial stands at").fill("2")
    small.get_by_label("The thermometer reads").fill("7")
    small.get_by_role("button", name="Keep this reading").dblclick()
    expect(small.get_by_text("it is read from 20.0 °C to 300.0 °C")).to_be_visible()
    expect(small.get_by_label("The thermometer reads")).to_have_value("7")
    page.goto(f"{shop.url}/part/{shop.part_id('Left wing, lower skin')}/checks")
    expect(back).to_have_text("Take back what was read before")


def test_what_changes_while_a_page_is_answered_for_the_first_time_is_not_missed(shop, page):
    part, step = shop.part_id("Right wing, closing joint"), "bond"
    asked = []

    def slow(route):
        answer = route.fetch()  # read before the change
        if not asked:
            note = {"id": "swept", "part_id": part, "step_key": step, "kind": "add", "note": "Swept out"}
            shop.post("/api/v1/gate/notes", note)
            time.sleep(1.5)  # and on its way while the page hears of it
        asked.append(route.request.url)
        route.fulfill(response=answer)

    page.route("**/api/v1/gate?*", slow)
    page.goto(f"{shop.url}/gates/{part}/{step}")
    expect(page.get_by_text("Swept out")).to_be_visible()
