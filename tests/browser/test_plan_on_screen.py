"""The plan on the screen: who is here, a dragged pin, the accepted plan, bench mode through a lost connection."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.running import NearShop

#: What is looked for apart gives way to everything else: on a busy machine it may take so long [ms].
LOOKED_MS = 180_000


def ticked(page, sheet, item):
    """Until the shop knows of a tick."""
    known = "async ([url, key]) => (await (await fetch(url)).json()).items.some((i) => i.key === key && i.done_at)"
    page.wait_for_function(known, arg=[sheet, item])


def start_laying(shop):
    part = shop.part_id("Left wing, lower skin")
    shop.release(part, "core/bed")
    crew = [person["id"] for person in shop.get("/api/v1/bench")["crew"]][:3]
    work = {"part_id": part, "step_key": "skin-2/layup", "kind": "start", "crew": crew}
    shop.post("/api/v1/work", {"id": "laying", **work})
    return part


def test_the_first_sentence_is_what_the_night_did_and_who_goes_home_is_planned_round(shop, page):
    page.goto(f"{shop.url}/today")
    expect(page.get_by_test_id("first")).to_contain_text("Not hard yet: Bed the core and bag it, Left wing, lower skin")
    expect(page.get_by_text("moves from 09:00 to 09:40")).to_be_visible()
    page.get_by_role("button", name="Sanna is not here today").click()
    expect(page.get_by_test_id("day")).to_contain_text("away until Fri 00:00")
    page.get_by_role("button", name="Sanna is here again").click()
    expect(page.get_by_test_id("day")).not_to_contain_text("away until")


def test_somebody_is_welcomed_and_a_room_gets_a_station(shop, page):
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Welcome somebody…").click()
    page.get_by_role("button", name="Welcome them").click()
    expect(page.get_by_role("alert").filter(has_text="the name is empty")).to_be_visible()
    page.get_by_label("Name").fill("Wanda")
    page.get_by_role("button", name="layup", exact=True).click()
    page.get_by_label("Hours on Sunday").fill("10–16")
    page.get_by_role("button", name="Welcome them").click()
    expect(page.get_by_text("Sun 10:00–16:00")).to_be_visible()
    page.get_by_role("button", name="Set a station up…").click()
    page.get_by_label("Name").fill("Second hot box")
    page.get_by_role("group", name="It serves as").get_by_role("button", name="hot box").click()
    page.get_by_role("combobox", name="Its air").click()
    page.get_by_role("option", name="Hot box").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Second hot box")).to_be_visible()
    expect(page.get_by_text("serves 1 as hot box · air of the hot box")).to_have_count(2)


def test_a_block_is_dragged_to_a_time_pinned_there_and_let_go_again(shop, page):
    page.goto(f"{shop.url}/loom")
    # The alarm takes its place from the page's end when it comes.
    page.get_by_test_id("alarm").get_by_role("button", name="Silence").click(timeout=30_000)
    expect(page.get_by_test_id("alarm")).to_have_count(0)
    part = shop.part_id("Left flap, upper skin")
    block = page.locator(f'[data-block="{part}:trim"]')
    block.scroll_into_view_if_needed()
    box = block.bounding_box()
    page.mouse.move(box["x"] + 3, box["y"] + 32)
    page.mouse.down()
    page.mouse.move(box["x"] + 90, box["y"] + 32, steps=4)
    page.mouse.up()
    expect(page.get_by_text("Trim and sand the edges is pinned; the plan goes round it.")).to_be_visible()
    block.click()
    expect(page.get_by_test_id("why")).to_contain_text("it is pinned to")
    page.get_by_role("button", name="Take the pin out").click()
    expect(page.get_by_test_id("why")).not_to_contain_text("pinned")
    page.keyboard.press("Escape")
    accepted = page.get_by_text("As in the plan accepted 09:2")
    anew = page.get_by_role("alert").filter(has_text="Look, and accept again")
    for _ in range(3):  # the plan may move on between looking at it and accepting it: then it is looked at again
        page.get_by_role("button", name="Accept this plan").click()
        page.get_by_role("button", name="Yes, this is the plan").click()
        expect(accepted.or_(anew).first).to_be_visible(timeout=60_000)
        if accepted.count():
            break
    expect(accepted).to_be_visible()
    page.get_by_text("Person", exact=True).click()
    expect(page.get_by_role("region", name="Bo")).to_be_visible()
    page.get_by_text("Station", exact=True).click()
    expect(page.get_by_role("region", name="The cool room")).to_be_visible()


def test_on_a_slow_line_bench_mode_never_steps_back_and_never_skips(shop, page):
    part = start_laying(shop)

    def slowly(route):
        answer = route.fetch()
        page.wait_for_timeout(900)
        route.fulfill(response=answer)

    page.goto(f"{shop.url}/run/{part}/skin-2%2Flayup")
    said = page.get_by_test_id("instruction")
    expect(said).to_have_text("Everything is laid ready")
    sheet = shop.get(f"/api/v1/run-sheet?part_id={part}&step_key=skin-2/layup")
    page.route(re.compile("run-sheet|ticks"), slowly)
    seen = [said.inner_text()]
    for _ in range(5):
        page.get_by_role("button", name="Done", exact=True).click()
        for _ in range(3):
            page.wait_for_timeout(350)
            seen.append(said.inner_text())
    assert list(dict.fromkeys(seen)) == [item["words"] for item in sheet["items"][:6]]
    assert seen == sorted(seen, key=list(dict.fromkeys(seen)).index)  # none came twice
    page.unroute_all(behavior="ignoreErrors")


def test_bench_mode_goes_on_without_the_shop_and_catches_up(own, page):
    shop = own
    part = start_laying(shop)
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="Bench mode").click()
    said = page.get_by_test_id("instruction")
    expect(said).to_have_text("Everything is laid ready")
    button = page.get_by_role("button", name="Done", exact=True)
    assert button.bounding_box()["height"] >= 76  # 20 mm at 96 dots an inch
    page.keyboard.press("Space")
    expect(said).to_have_text("First cup mixed; the surface wetted out evenly")
    sheet = f"/api/v1/run-sheet?part_id={part}&step_key=skin-2/layup"
    ticked(page, sheet, "ready")
    shop.stop(kill=True)
    button.click()
    expect(said).to_have_text(re.compile("^Ply 3: Sedge 163"))
    expect(page.get_by_role("img", name="How its warp lies")).to_be_visible()
    # One whose answer was lost with the shop waits too, and is sent again.
    expect(page.get_by_text(re.compile("Work on: (1 tick waits|2 ticks wait) on this tablet"))).to_be_visible()
    page.keyboard.press("PageDown")
    expect(page.get_by_text(re.compile("[23] ticks wait on this tablet"))).to_be_visible()
    page.get_by_role("button", name="Not yet: back").click()
    expect(said).to_have_text(re.compile("^Ply 3: Sedge 163"))
    shop.start()
    expect(page.get_by_text("on this tablet")).to_have_count(0, timeout=15_000)
    assert [item["key"] for item in shop.get(sheet)["items"] if item["done_at"]] == ["ready", "wet"]
    page.get_by_role("button", name="Whole sheet").click()
    page.get_by_role("checkbox", name=re.compile("^Bag on")).check()
    ticked(page, sheet, "bag")


def test_a_twist_is_read_on_the_keypad_and_its_step_is_finished_where_it_was_asked(shop, page):
    plane = shop.part_id("Tailplane")
    for n, (key, kind) in enumerate([("core", "start"), ("core", "finish"), ("twist/before", "start")]):
        shop.post("/api/v1/work", {"id": f"w{n}", "part_id": plane, "step_key": key, "kind": kind})
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="Read it: Read the twist before").last.click()
    keypad = page.get_by_role("dialog", name="Read Twist of the panel")
    for keys in ("0", "0.3", "0.1", "0", "0"):
        for key in keys:
            keypad.get_by_role("button", name=key, exact=True).click()
        keypad.get_by_role("button", name=re.compile("^Next|^Keep it$")).click()
    page.get_by_role("button", name="Finish: Read the twist before").last.click()
    expect(page.get_by_text("Finished “Read the twist before any skin”")).to_be_visible()
    page.goto(f"{shop.url}/part/{plane}/steps")
    expect(page.get_by_text("“Twist of the panel” is out of tolerance: decide about it").first).to_be_visible()


def test_a_step_waits_for_a_delivery_until_it_came_and_hours_teach_its_estimate(shop, page):
    for n, (name, minutes) in enumerate([("Left wing, upper skin", 0), ("Right wing, upper skin", 0)]):
        part = shop.part_id(name)
        for kind in ("start", "finish"):
            work = {
                "part_id": part,
                "step_key": "prepare",
                "kind": kind,
                "at": "07:00" if kind == "start" else "09:00",
            }
            shop.post("/api/v1/work", {"id": f"w{n}{kind}{minutes}", **work})
    left = shop.part_id("Left flap, upper skin")
    page.goto(f"{shop.url}/part/{left}/steps")
    page.get_by_role("button", name="Bed the core and bag it").click()
    page.get_by_role("button", name="Waits for a delivery…").click()
    page.get_by_label("Waits for").fill("Foam, 6 mm")
    page.get_by_label("Expected").fill("2026-05-21")
    page.get_by_role("button", name="Wait for it").click()
    expect(page.get_by_text("Waits for Foam, 6 mm, expected Thu 21 May 2026")).to_be_visible()
    expect(page.get_by_text("and not before: “Foam, 6 mm” is there from Thu 21 May 09:00.")).to_be_visible()
    page.goto(f"{shop.url}/loom")
    expect(page.get_by_text("Foam, 6 mm")).to_be_visible()
    page.goto(f"{shop.url}/part/{left}/steps")
    page.get_by_role("button", name="Bed the core and bag it").click()
    page.get_by_role("button", name="It came").click()
    expect(page.get_by_text("Foam, 6 mm: arrived")).to_be_visible()
    # Skins were laid three times in the week before: what they took is shown, and may be planned with.
    right = shop.part_id("Right wing, upper skin")
    page.goto(f"{shop.url}/part/{right}/steps")
    page.get_by_role("button", name="Lay and bag the outer skin", exact=True).click()
    expect(page.get_by_text(re.compile(r"Here it took \d\.\d\d times the estimate"))).to_be_visible()
    page.get_by_role("button", name="Plan as it took here").click()
    expect(page.get_by_role("button", name="Plan as assumed")).to_be_visible()


def test_while_the_panel_lies_one_way_all_that_needs_it_so_stands_together(shop, page):
    plane = shop.part_id("Tailplane")
    for n, (key, kind) in enumerate([("core", "start"), ("core", "finish"), ("twist/before", "start")]):
        shop.post("/api/v1/work", {"id": f"w{n}", "part_id": plane, "step_key": key, "kind": kind})
    page.goto(f"{shop.url}/today")
    part = page.locator("section").filter(has=page.get_by_role("heading", name="While Tailplane lies upper side up"))
    expect(part).to_contain_text("Then it is turned")
    expect(part.get_by_role("listitem").last).to_contain_text("Read the twist between the skins")
    page.goto(f"{shop.url}/part/{plane}/steps")
    page.get_by_role("button", name=re.compile("^Turn it: lower side up")).click()
    expect(page.get_by_text("Lifting and turning: enough hands")).to_be_visible()


def test_days_kept_as_accepted_are_drawn_and_what_moved_since_is_listed_by_name(shop, page):
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Compare").click()
    moved = page.get_by_role("region", name="Other times than accepted")
    expect(moved.get_by_role("listitem")).to_have_count(4)
    moved.get_by_role("button", name=re.compile("^All [0-9]+ of them$")).click()
    expect(moved.get_by_role("listitem").nth(5)).to_contain_text(re.compile("not .* (later|sooner)$"))
    page.get_by_role("combobox", name="Kept as accepted").click()
    page.get_by_role("option", name="Today and tomorrow").click()
    expect(page.get_by_text("kept as accepted", exact=True)).to_be_visible()
    moved.get_by_role("button").first.click()
    page.get_by_label("Pin it to").fill("some day")
    page.get_by_label("Pin it to").press("Tab")
    expect(page.get_by_text("“some day” is no day and time; write 3 Dec 14:30")).to_be_visible()
    page.get_by_label("Pin it to").fill("18.5. 11:00")
    page.get_by_role("button", name="Pin it").click()
    expect(page.get_by_text("Pinned to Mon 11:00.", exact=True)).to_be_visible()


def test_a_building_is_learned_from_its_record(shop, page):
    page.goto(f"{shop.url}/air")
    page.get_by_role("button", name="Learn both from its record").first.click()
    expect(page.get_by_text("days of its record say: it follows the weather within")).to_be_visible()
    page.get_by_role("button", name="Use these").click()
    expect(page.get_by_label("Follows the weather within").first).not_to_have_value("9 h")
    page.get_by_role("button", name="Learn both from its record").last.click()  # the hot box
    expect(page.get_by_text("its heater runs nearly all the time")).to_be_visible()


@pytest.mark.parametrize(
    ("units", "typed", "shown"),
    [
        ("metric", "25.12.", "Fri 25 Dec 2026"),
        ("metric", "3/6/26", "Wed 3 Jun 2026"),
        ("us", "3/6/26", "Fri Mar 6 2026"),
        ("metric", "24 December", "Thu 24 Dec 2026"),
        ("metric", "tomorrow", "Fri 15 May 2026"),
        ("metric", "sat", "Sat 16 May 2026"),
        ("metric", "2026-11-02", "Mon 2 Nov 2026"),
        ("metric", "31.2.2027", ""),
    ],
)
def test_a_day_is_typed_as_builders_write_it(shop, page, units, typed, shown):
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": units})
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Shop", exact=True).click()
    day = page.get_by_label("Another closed day")
    day.fill("tomorrow")
    day.fill("")
    expect(page.get_by_role("button", name="Nobody works then")).to_be_disabled()  # emptied it is no day
    day.fill(typed)
    page.get_by_role("button", name="Nobody works then").click()
    if shown:
        expect(page.get_by_role("listitem").filter(has_text=shown)).to_be_visible()
        expect(day).to_have_value("")
    else:
        expect(page.get_by_text("“31.2.2027” is no day; write 3 Dec")).to_be_visible()
        assert shop.get("/api/v1/shop")["closed"] == []


def test_tomorrow_is_the_shops_also_where_it_is_typed_before_the_shop_was_heard(shop, page):
    """A tablet's own clock may stand in any year."""
    held = []
    page.route("**/api/v1/now*", lambda route: held.append(route))
    page.goto(f"{shop.url}/crew")
    page.get_by_role("button", name="Shop", exact=True).click()
    page.get_by_label("Another closed day").fill("tomorrow")
    page.wait_for_timeout(500)
    for route in held:
        route.continue_()
    page.unroute("**/api/v1/now*")
    page.get_by_label("Another closed day").blur()
    expect(page.get_by_label("Another closed day")).to_have_value("Fri 15 May 2026")
    page.get_by_role("button", name="Nobody works then").click()
    expect(page.get_by_role("listitem").filter(has_text="Fri 15 May 2026")).to_be_visible()


def test_a_better_order_is_looked_for_pressed_twice_reloaded_stopped_and_left(shop, page):
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Weigh up…").click()
    panel = page.get_by_role("region", name="A better order")
    panel.get_by_role("radio", name="2\u00a0min").click()
    panel.get_by_role("button", name="Look for a better order").dblclick()
    expect(panel.get_by_role("button", name="Stop, keep the best so far")).to_be_visible()
    expect(panel.get_by_role("img", name=re.compile("^The end found"))).to_be_visible(timeout=LOOKED_MS)
    page.reload()  # it goes on, and another screen sees it
    expect(panel.get_by_text(re.compile("of 120 s$"))).to_be_visible()
    panel.get_by_role("button", name="Stop, keep the best so far").click()
    expect(panel.get_by_role("button", name="Look again")).to_be_visible(timeout=LOOKED_MS)
    panel.get_by_role("button", name="Leave it").dblclick()
    expect(panel).to_have_count(0)
    expect(page.get_by_role("button", name="Weigh up…")).to_be_visible()


def test_something_is_supposed_stands_beside_the_plan_and_over_it_and_is_made_so(shop, page):
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Weigh up…").click()
    page.get_by_role("radio", name="What if").click()
    panel = page.get_by_role("region", name="What if")
    panel.get_by_role("button", name="Suppose it").click()
    expect(panel.get_by_text("say how warm it is to be held")).to_be_visible()
    panel.get_by_label("Held at").fill("21")
    panel.get_by_role("button", name="Suppose it").dblclick()
    held = panel.get_by_text("The main shop is held at 21.0 °C round the clock")
    expect(held).to_be_visible()
    expect(panel.get_by_role("row", name=re.compile("^All done"))).to_be_visible(timeout=LOOKED_MS)
    expect(page.get_by_role("heading", name=re.compile("^Supposed: all done"))).to_be_visible(timeout=LOOKED_MS)
    page.reload()
    page.get_by_role("button", name="Weigh up…").click()
    page.get_by_role("radio", name="What if").click()
    expect(held).to_be_visible()
    panel.get_by_role("button", name="And suppose…").click()
    panel.get_by_role("combobox", name="Suppose that").click()
    page.get_by_role("option", name="there is one more on the crew").click()
    panel.get_by_role("button", name="layup").click()
    panel.get_by_role("button", name="Suppose it").click()
    expect(panel.get_by_text("One more on the crew who can do layup")).to_be_visible(timeout=LOOKED_MS)
    panel.get_by_role("button", name="Without: One more on the crew who can do layup").click()
    expect(panel.get_by_role("button", name="Make it so")).to_be_visible(timeout=LOOKED_MS)
    panel.get_by_role("button", name="Make it so").dblclick()
    expect(panel.get_by_text("It is so since 14 May.")).to_be_visible(timeout=LOOKED_MS)
    expect(page.get_by_role("heading", name=re.compile("^All done"))).to_be_visible(timeout=LOOKED_MS)


def test_what_helps_is_tried_and_plans_are_drawn_until_it_is_enough(shop, page):
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Weigh up…").click()
    page.get_by_role("radio", name="How sure").click()
    sure = page.get_by_role("region", name="How sure")
    sure.get_by_role("button", name="Draw them").dblclick()
    expect(sure.get_by_role("img", name=re.compile("^Ends of the drawn plans: 5 of 100 by"))).to_be_visible(
        timeout=LOOKED_MS
    )
    expect(sure.get_by_text(re.compile("holds the end in")).first).to_be_visible()
    sure.get_by_role("button", name="Stop, it is enough").click()
    expect(sure.get_by_role("button", name="Draw again")).to_be_visible(timeout=LOOKED_MS)
    page.get_by_role("radio", name="What helps most").click()
    helps = page.get_by_role("region", name="What helps most")
    helps.get_by_role("button", name="Try each").click()
    expect(helps.get_by_text(re.compile("so far"))).to_be_visible(timeout=LOOKED_MS)
    helps.get_by_role("button", name="Stop, it is enough").click()
    expect(helps.get_by_role("button", name="Try again")).to_be_visible(timeout=LOOKED_MS)


def test_of_a_whole_airframe_today_holds_a_dozen_and_the_rest_comes_when_asked(whole_folder, tmp_path, page):
    shop = NearShop(tmp_path / "whole", whole_folder)
    try:
        page.goto(f"{shop.url}/today")
        more = page.get_by_role("button", name=re.compile("[0-9]+ more go later"))
        held = page.locator("section", has=page.get_by_role("heading", name="Held")).get_by_role("listitem")
        expect(more).to_be_visible()
        first = held.count()
        assert first < 20
        more.click()
        expect(more).to_have_count(0)
        expect(held.nth(first + 20)).to_be_visible()
        last = shop.get("/api/v1/today/held")["rows"][-1]
        expect(held.last).to_contain_text(last["name"])
        page.reload()  # it is short again for whoever comes next
        expect(more).to_be_visible()
        assert held.count() < 20
    finally:
        shop.stop()
