"""When: Today, Cure, Loom and the shop's air, as a builder uses them."""

from __future__ import annotations

import re
from uuid import uuid4

from playwright.sync_api import expect

from tests.browser.conftest import open_page


def row(page, part, name):
    return page.get_by_role("listitem").filter(has=page.get_by_role("link", name=re.compile(f"^{name}.*{part}")))


def test_a_step_is_started_and_finished_and_the_plan_slides(shop, page, browser):
    other = open_page(browser)
    for each in (page, other):
        each.goto(shop.url)
        expect(row(each, "Rudder", "Dry fit").get_by_role("button", name="Go on")).to_be_visible()
    page.get_by_role("button", name="Go on: Dry fit in the jig, check square, Rudder").click()
    expect(page.get_by_text("Started “Dry fit in the jig, check square”")).to_be_visible()
    with_whom = shop.get("/api/v1/today")["bench"][0]["who"]
    assert with_whom == ["Imre"]  # who the plan had on it
    running = row(page, "Rudder", "Dry fit")
    expect(running).to_contain_text("of about 3 h 25 min")
    expect(row(other, "Rudder", "Dry fit")).to_be_visible()  # without a reload
    for each in (page, other):  # both tap it: it is finished once
        row(each, "Rudder", "Dry fit").get_by_role("button", name="Finish").click()
    expect(page.get_by_role("heading", name="Done today")).to_be_visible()
    done = row(page, "Rudder", "Dry fit")
    expect(done).to_contain_text(re.compile(r"Finished \d\d:\d\d after 1 h 4\d min; 3 h 25 min were planned"))
    assert len([r for r in shop.get("/api/v1/today")["done"] if r["step_key"] == "fit"]) == 1
    done.get_by_role("button", name="Take back").click()
    expect(page.get_by_text("Taken back: “Dry fit in the jig, check square”, finish.")).to_be_visible()
    other.close()


def test_a_mix_opens_from_the_step_it_is_for(shop, page):
    left = shop.part_id("Left flap, upper skin")
    work = {"id": str(uuid4()), "part_id": left, "step_key": "core/bed", "kind": "start"}
    shop.post("/api/v1/work", work)
    page.goto(shop.url)
    row(page, "Left flap", "Bed the core").get_by_role("button", name="Mix a cup").click()
    expect(page.get_by_role("checkbox", name="Resin lid")).to_be_visible()


def test_a_block_of_the_loom_says_why_it_is_not_sooner_by_mouse_and_by_keys(shop, page):
    page.goto(f"{shop.url}/loom")
    glue = page.get_by_role("button", name=re.compile("^Glue ribs to spar and edge:"))
    glue.click()
    expect(page.get_by_test_id("why")).to_contain_text("It is put late on purpose")
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("button", name=re.compile("^Unclamp, scrape squeeze-out:")).click()
    expect(page.get_by_test_id("why")).to_contain_text("Not sooner: ")
    page.get_by_role("button", name="Close", exact=True).click()
    glue.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(":focus")).to_have_attribute("aria-label", re.compile("^Shape and fit the blocks:"))
    page.keyboard.press("ArrowUp")
    expect(page.locator(":focus")).to_have_attribute("data-block", re.compile(":"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("Left flap, upper skin")
    page.keyboard.press("Escape")
    width = glue.bounding_box()["width"]
    page.keyboard.press("+")
    expect(page.get_by_text("7 days")).to_be_visible()
    page.wait_for_timeout(300)
    assert glue.bounding_box()["width"] >= width
    page.get_by_role("button", name="Later").click()
    expect(page.get_by_text("Fri 15")).to_have_count(0)
    page.get_by_role("button", name="Today", exact=True).click()
    expect(page.get_by_text("Fri 15").first).to_be_visible()


def test_a_start_is_dragged_and_the_old_thread_stays_as_a_ghost(shop, page):
    page.goto(f"{shop.url}/cure")
    card = page.get_by_role("article").filter(has=page.get_by_role("slider")).first
    before = card.get_by_test_id("sentence").inner_text()
    threads = card.locator("svg path[fill='var(--woad)']").count()
    handle = card.get_by_role("slider")
    handle.scroll_into_view_if_needed()
    box = handle.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20)
    page.mouse.down()
    for step in range(1, 13):
        page.mouse.move(box["x"] + box["width"] / 2 + 12 * step, box["y"] + 20)
    expect(card.get_by_test_id("sentence")).to_contain_text("later than planned")
    page.mouse.up()
    assert card.locator("svg path[fill='var(--woad)']").count() == threads + 1
    card.get_by_role("button", name="Put back").click()
    expect(card.get_by_test_id("sentence")).to_have_text(before)
    handle.focus()
    planned = int(handle.get_attribute("aria-valuenow"))
    for _ in range(3):
        page.keyboard.press("ArrowUp")  # an hour each, however fast
    expect(handle).to_have_attribute("aria-valuenow", str(planned + 180))
    expect(card.get_by_test_id("sentence")).to_contain_text("later than planned")


def test_what_a_warmer_night_would_make_of_it(shop, page):
    page.goto(f"{shop.url}/cure")
    card = page.get_by_role("article").filter(has=page.get_by_role("slider")).first
    card.get_by_role("button", name="What if it were warmer?").click()
    card.get_by_label("Heater holds").fill("61")
    card.get_by_role("button", name="Try").click()
    expect(card.get_by_role("alert")).to_contain_text("the heater's set point is 61 °C; it can't be above 60 °C")
    expect(card.get_by_label("Heater holds")).to_have_value("61")
    card.get_by_label("Heater holds").fill("75 °F")
    card.get_by_role("button", name="Try").click()
    expect(card.get_by_test_id("sentence")).to_contain_text("sooner than planned")


def test_a_card_moves_by_itself_when_a_colder_reading_comes(shop, page):
    page.goto(f"{shop.url}/cure")
    sentence = page.get_by_test_id("sentence").filter(has_text="check for “peel” from 09:")
    expect(sentence).to_be_visible()
    cold = "time,temp °C\n" + "\n".join(f"2026-05-14 {9 + n // 60:02d}:{n % 60:02d},6" for n in range(21, 200))
    file = {"id": str(uuid4()), "name": "cold.csv", "text": cold}
    shop.post("/api/v1/climate/imports", file)
    expect(sentence).to_have_count(0)
    expect(page.get_by_text(re.compile("It will stand still for|It stands still now")).first).to_be_visible()


def test_an_alarm_stands_on_every_view_until_it_is_silenced(shop, page):
    page.goto(shop.url)
    first = page.get_by_test_id("first")
    expect(first).to_be_visible()
    stood = first.bounding_box()
    alarm = page.get_by_test_id("alarm")
    # The watch looks once a second, and longer on a machine that is busy.
    expect(alarm).to_contain_text("Right wing, lower skin: check for “peel” now", timeout=60_000)
    assert first.bounding_box() == stood  # nothing moves under a finger when it comes
    page.goto(f"{shop.url}/airframe")
    alarm.get_by_role("button", name="Silence").click()
    expect(alarm).to_have_count(0)
    page.reload()
    expect(page.get_by_role("heading", name="Reedling")).to_be_visible()
    expect(alarm).to_have_count(0)


def test_a_loggers_file_is_looked_at_read_otherwise_and_taken(shop, page):
    rows = "\n".join(
        f"{n};{50 + n % 9},5;{1 + n // 48:02d}.04.2026;{n // 2 % 24:02d}:{n % 2 * 30:02d}" for n in range(96)
    )
    file = {"name": "odd.csv", "mimeType": "text/csv", "buffer": f"No;Reading;Day;Hour\n{rows}\nx;y;z;w\n".encode()}
    page.goto(f"{shop.url}/air")
    page.get_by_label("Logger file for Cool room").set_input_files(file)
    said = page.get_by_test_id("preview")
    expect(said).to_contain_text("96 new readings for the cool room, Wed 1 Apr 00:00 to Thu 2 Apr 23:30, 50.5 °C")
    expect(page.get_by_text("row 98: ")).to_be_visible()
    page.get_by_role("radio", name="°F").click()
    expect(said).to_contain_text("10.3 °C to 14.7 °C")
    page.get_by_role("combobox", name="For the zone").click()
    page.get_by_role("option", name="Main shop").click()
    expect(said).to_contain_text("for the main shop")
    page.get_by_role("button", name="Take it without 1 rows").click()
    expect(page.get_by_text("96 new readings of 97 rows for the main shop")).to_be_visible()


def test_the_heaters_hours_move_what_is_expected(shop, page):
    # The answer to a save comes late: what is saved next in the same form must not be stale by it.
    page.add_init_script(
        "const at_once = fetch; window.fetch = (asked, how) => at_once(asked, how).then((answered) =>"
        " asked.method === 'PATCH' ? new Promise((tell) => setTimeout(tell, 1500, answered)) : answered)"
    )
    page.goto(f"{shop.url}/air")
    low = page.get_by_role("banner").get_by_text(re.compile("^low, "))
    before = low.locator("..").inner_text()
    page.get_by_label("Heater until").first.fill("24:00")
    page.get_by_label("Heater until").first.press("Enter")
    expect(page.get_by_label("Heater until").first).to_have_value("24:00")
    expect(low.locator("..")).not_to_have_text(before)
    page.get_by_label("Heater holds").first.fill("65")
    page.get_by_label("Heater holds").first.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("it can't be above 60 °C")


def test_minutes_and_a_step_of_our_own_change_the_plan(shop, page):
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{left}/steps")
    page.get_by_role("button", name="Trim and sand the edges").click()
    page.get_by_label("Hands-on", exact=True).fill("4 h")
    page.get_by_label("Hands-on", exact=True).press("Enter")
    expect(page.get_by_label("Hands-on", exact=True)).to_have_value("240 min")
    expect(page.get_by_text("Changed for Right wing, upper skin too.")).to_be_visible()
    page.get_by_role("button", name="Add a step of our own…").click()
    page.get_by_label("What is done").fill("Drill the drain holes")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("alert").first).to_be_visible()  # how long it takes is missing
    page.get_by_label("Hands-on").last.fill("25")
    # Another tablet changes the same job meanwhile: what is typed here stays.
    part = re.search("/part/([^/]+)", page.url)[1]
    step = shop.get(f"/api/v1/parts/{part}/times")["steps"][-1]
    longer = {"version": step["version"], "step_key": step["key"], "minutes": {"text": "95", "unit": "min"}}
    with page.expect_response("**/times*"):
        shop.patch(f"/api/v1/parts/{part}/minutes", longer)
    expect(page.get_by_label("What is done")).to_have_value("Drill the drain holes")
    page.get_by_role("button", name="Add it").dblclick()
    expect(page.get_by_role("button", name="Drill the drain holes")).to_have_count(1)
    expect(page.get_by_label("What is done")).to_have_count(0)


def test_a_part_waits_for_another_and_what_goes_round_is_refused(shop, page):
    def build_first(part: str, step: str):
        page.get_by_role("combobox", name="This part is built first").click()
        page.get_by_role("option", name=part).click()
        page.get_by_role("combobox", name="Before this step here").click()
        page.get_by_role("option", name=step).click()
        page.get_by_role("button", name="Build it first").click()

    page.goto(f"{shop.url}/part/{shop.part_id('Tailplane')}/steps")
    page.get_by_role("button", name="Needs another part first…").click()
    build_first("Rudder", "Sand the edges flush")
    expect(page.get_by_role("listitem").filter(has_text="Rudder before “Sand the edges flush”")).to_be_visible()
    page.goto(f"{shop.url}/part/{shop.part_id('Rudder')}/steps")
    page.get_by_role("button", name="Needs another part first…").click()
    build_first("Tailplane", "Cut ribs and strips")
    expect(page.get_by_role("alert").filter(has_text="would go round in a circle")).to_contain_text("Tailplane")
    page.goto(f"{shop.url}/part/{shop.part_id('Tailplane')}/steps")
    page.get_by_role("button", name="Do not wait for Rudder").click()
    expect(page.get_by_text("No other part must be built before this one.")).to_be_visible()


def test_a_wood_frame_and_a_rib_set_have_their_steps_and_their_glue(shop, page):
    page.goto(f"{shop.url}/part/{shop.part_id('Rudder')}/plies")
    expect(page).to_have_url(re.compile("/steps"))  # nothing is laid up in it
    expect(page.get_by_role("button", name="Glue ribs to spar and edge", exact=True)).to_be_visible()
    page.get_by_role("tab", name="Takes").click()
    expect(page.get_by_text("Heron glue").first).to_be_visible()
    expect(page.get_by_role("tab", name="Plies")).to_have_count(0)
