"""A part's jobs on its page: added, given, moved, taken out and put back, by two who do it at once."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import open_page


def column(page):
    return page.get_by_role("navigation", name="Jobs")


def test_the_jobs_of_a_part_stand_in_order_and_each_has_its_own_pages(shop, page):
    aileron = shop.part_id("Left aileron")
    page.goto(f"{shop.url}/part/{aileron}")
    expect(column(page).get_by_role("button", name=re.compile("^[123] · "))).to_have_count(3)
    column(page).get_by_role("button", name="2 · filling and fairing").click()
    expect(page).to_have_url(re.compile("job=j2"))
    expect(page.get_by_role("heading", name="Filling and fairing")).to_be_visible()
    page.get_by_role("button", name="Spread fill 1 of 2").first.click()
    expect(page.get_by_role("heading", name="Spread fill 1 of 2")).to_be_visible()
    page.get_by_role("tab", name="Takes").click()
    expect(page.get_by_role("heading", name="Heron 35 fairing paste")).to_be_visible()
    expect(page.get_by_label("Left in cups and tools (assumed)")).to_have_value("5 %")
    # Nothing is laid up in it, so there is no ply book to open; the one before has.
    expect(page.get_by_role("tab", name="Plies")).to_have_count(0)
    column(page).get_by_role("button", name="1 · foam core").click()
    page.get_by_role("tab", name="Plies").click()
    expect(page.get_by_role("tabpanel")).to_contain_text("Sedge 163 twill glass")
    page.get_by_role("tab", name="Record").click()
    expect(page.get_by_text("No batch kept yet")).to_be_visible()
    page.get_by_role("tab", name="Shape").click()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("2.3 m")
    # Mixing for a step of a later job starts with that job's product.
    page.goto(f"{shop.url}/mix?part={aileron}&step=j3:coat-1")
    expect(page.get_by_text("Sallow primer, grey")).to_be_visible()


def test_a_job_is_added_between_two_given_what_it_lacks_and_planned(shop, page):
    flap = shop.part_id("Left flap, upper skin")
    page.goto(f"{shop.url}/part/{flap}/steps")
    page.get_by_role("button", name="Add a job here: after bagged sandwich skin").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name="Bonding with paste").click()
    # Looked at before it is kept: it may be added as it is. One goes on with what was added, and it says what it lacks.
    expect(sheet).to_contain_text("It can be added as it is, but not planned yet.")
    sheet.get_by_role("button", name="Add this job").click()
    expect(page.get_by_text("It can’t be made yet.")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("Length of the glue line, Width of the glue line")
    expect(column(page)).to_contain_text("can't be made")
    page.get_by_label("Length of the glue line, m").fill("500 m")
    page.get_by_label("Length of the glue line, m").press("Enter")
    expect(page.get_by_text("Length of the glue line is 500 m; it can't be above 200 m")).to_be_visible()
    expect(page.get_by_label("Length of the glue line, m")).to_have_value("500 m")  # what was typed stays
    for label, text in (
        ("Length of the glue line, m", "90 1/2 in"),
        ("Width of the glue line, mm", "25"),
        ("Thickness of the glue line, mm", "1"),
    ):
        page.get_by_label(label).fill(text)
        page.get_by_label(label).press("Enter")
        expect(page.get_by_text("it can't be above 200 m")).to_have_count(0)
    for face, what in (("One face is", "wood"), ("The other face is", "cured laminate")):
        page.get_by_label(face, exact=True).click()
        page.get_by_role("option", name=what).click()
    expect(page.get_by_text("It can’t be made yet.")).to_have_count(0)
    expect(page.get_by_label("Length of the glue line, m")).to_have_value("2.2987 m")
    expect(column(page).get_by_role("button", name="2 · bonding with paste")).to_contain_text("ahead")
    page.get_by_role("tab", name="Steps").click()
    expect(page.get_by_role("button", name="Paste, clamp, check alignment").first).to_be_visible()
    page.reload()
    expect(column(page).get_by_role("button", name="2 · bonding with paste")).to_be_visible()


def test_two_who_move_one_job_are_told_of_each_other_and_what_is_taken_out_comes_back(shop, page, browser):
    tailplane = shop.part_id("Tailplane")
    other = open_page(browser)
    # The other one's page does not hear of the first move before it has its own sent.
    for each in (page, other):
        each.goto(f"{shop.url}/part/{tailplane}/what?job=j3")
        expect(each.get_by_role("button", name="Do it one job sooner")).to_be_enabled()
    other.route("**/api/v1/now**", lambda route: route.abort())
    page.get_by_role("button", name="Do it one job sooner").click()
    expect(column(page).get_by_role("button", name="2 · priming")).to_be_visible()
    other.get_by_role("button", name="Do it one job sooner").click()
    expect(other.get_by_text("priming put before filling and fairing")).to_be_visible()
    other.close()
    page.get_by_role("button", name="Do it one job later").click()
    expect(column(page).get_by_role("button", name="3 · priming")).to_be_visible()
    page.get_by_role("button", name="Take this job out").click()
    expect(column(page)).to_contain_text("Taken out: priming")
    expect(column(page).get_by_role("button", name=re.compile("^[123] · "))).to_have_count(2)
    column(page).get_by_role("button", name="Put back").click()
    expect(column(page).get_by_role("button", name="3 · priming")).to_be_visible()


def test_what_nothing_serves_as_is_said_on_the_step_and_set_up_with_one_button(shop, page):
    page.goto(f"{shop.url}/crew")
    jig = page.locator("div").filter(has_text=re.compile("^The jig · serves 1 as jig")).last
    jig.get_by_role("button", name="Change").click()
    page.get_by_role("group", name="It serves as").get_by_role("button", name="jig").click()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Nothing serves as jig.")).to_be_visible()
    rudder = shop.part_id("Rudder")
    page.goto(f"{shop.url}/part/{rudder}/steps")
    page.get_by_role("button", name="Dry fit in the jig").first.click()
    page.get_by_role("link", name="Set a jig up").click()
    page.get_by_label("Name").last.fill("Rudder jig")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Nothing serves as jig.")).to_have_count(0)
    expect(page.get_by_text("serves 1 as jig")).to_be_visible()


def test_on_a_tablet_and_a_phone_the_jobs_stand_above_what_is_chosen(shop, browser):
    for width, height in ((820, 1180), (390, 844)):
        page = open_page(browser, width, height)
        page.goto(f"{shop.url}/part/{shop.part_id('Left aileron')}/what")
        expect(column(page)).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= width
        page.close()
