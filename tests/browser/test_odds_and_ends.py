"""What is pressed seldom: remnants, straight shots, where a part is, its post-cure, irons; also with no network."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.test_about_the_shop import settings
from tests.browser.test_in_the_stores import chosen
from tests.browser.test_signing_in import door, with_pins

SILENT = "The shop computer does not answer. Nothing was saved; try again."


def test_a_remnant_is_put_on_the_shelf_and_used_up_also_when_the_network_was_gone(shop, page):
    page.goto(f"{shop.url}/cut")
    shelf = page.get_by_role("region", name="Remnants")
    shelf.get_by_role("button", name="Put a remnant on the shelf").click()
    chosen(page, shelf, "Of", "Sedge 163 twill glass")
    shelf.get_by_label("Along its warp or grain").fill("1.4")
    shelf.get_by_label("Across").fill("wide")
    shelf.get_by_role("button", name="Put it there").click()
    expect(shelf.get_by_text("“wide”")).to_be_visible()
    expect(shelf.get_by_label("Along its warp or grain")).to_have_value("1.4")
    shelf.get_by_label("Across").fill("600 mm")
    shelf.get_by_role("button", name="Put it there").dblclick()
    expect(shelf.get_by_role("listitem")).to_have_count(1)
    page.context.set_offline(True)
    shelf.get_by_role("button", name="Used up").click()
    expect(shelf.get_by_role("alert")).to_have_text(SILENT)
    page.context.set_offline(False)
    shelf.get_by_role("button", name="Used up").dblclick()
    expect(shelf.get_by_role("listitem")).to_have_count(0)
    expect(shelf.get_by_role("alert")).to_have_count(0)


def test_an_alarm_that_could_not_be_silenced_goes_on_and_says_so(shop, page):
    page.goto(f"{shop.url}/today")
    alarm = page.get_by_test_id("alarm")
    page.route("**/silence", lambda route: route.abort())
    alarm.get_by_role("button", name="Silence").click()
    expect(alarm).to_contain_text(SILENT)
    page.unroute("**/silence")
    alarm.get_by_role("button", name="Silence").dblclick()
    expect(page.get_by_test_id("alarm")).to_have_count(0)


def test_who_could_not_sign_out_is_told_and_is_still_there(shop, page):
    with_pins(shop, page)
    sheet = settings(page)
    page.route("**/sign-out", lambda route: route.abort())
    sheet.get_by_role("button", name="Sign out").click()
    expect(sheet.get_by_text(SILENT)).to_be_visible()
    page.unroute("**/sign-out")
    sheet.get_by_role("button", name="Sign out").click()
    expect(door(page)).to_be_visible()


def test_a_straight_shot_is_looked_for_in_the_coming_week(shop, page):
    page.goto(f"{shop.url}/air")
    shots = page.get_by_role("region", name="Straight shots")
    before = shots.get_by_role("listitem").count()
    shots.get_by_role("button", name="A part").click()
    shots.get_by_label(f"Part {before + 1}", exact=True).fill("let it dry")
    shots.get_by_label(f"Minutes of part {before + 1}").fill("long")
    shots.get_by_role("button", name="Find windows").click()
    expect(shots.get_by_text("“long”")).to_be_visible()
    shots.get_by_label(f"Minutes of part {before + 1}").fill("20")
    shots.get_by_label("Never below").fill("10")
    shots.get_by_role("button", name="Find windows").click()
    found = page.get_by_test_id("shots")
    expect(found.get_by_role("status")).to_be_visible()
    shots.get_by_label("Never below").fill("45")
    shots.get_by_role("button", name="Find windows").click()
    expect(found.get_by_role("alert")).to_be_visible()  # no shop in May is as warm
    for _ in range(before):
        shots.get_by_role("button", name="Take out part 1").click()
    expect(shots.get_by_label("Part 1", exact=True)).to_have_value("let it dry")


def test_a_part_is_moved_read_and_post_cured_and_all_of_it_taken_back(shop, page):
    right = shop.part_id("Right wing, lower skin")
    page.goto(f"{shop.url}/cure/{right}")
    place = page.get_by_role("region", name="Where it is: Right wing, lower skin").first
    chosen(page, place, "It is in the", "Cool room")
    place.get_by_role("button", name="Leave it").click()
    expect(place.get_by_role("combobox", name="It is in the")).to_have_text("Main shop")
    chosen(page, place, "It is in the", "Cool room")
    place.get_by_role("button", name="Move it there").dblclick()
    expect(place.get_by_role("button", name="Move it there")).to_have_count(0)
    expect(place.get_by_role("combobox", name="It is in the")).to_have_text("Cool room")
    place.get_by_label("The part itself, read now").fill("61")
    place.get_by_role("button", name="It reads that").click()
    odd = place.get_by_role("alert")
    expect(odd).to_be_visible()
    expect(place.get_by_label("The part itself, read now")).to_have_value("61")
    place.get_by_label("The part itself, read now").fill("15.5")
    place.get_by_role("button", name="It reads that").click()
    expect(place.get_by_role("button", name="Take that reading back")).to_be_visible()
    place.get_by_role("button", name="Take that reading back").click()
    expect(place.get_by_role("button", name="Take that reading back")).to_have_count(0)
    page.get_by_role("button", name="Post-cure").first.click()
    heat = page.get_by_role("region", name="Post-cure")
    heat.get_by_label("to", exact=True).fill("hot")
    heat.get_by_role("button", name="Look at it").click()
    expect(heat.get_by_text("“hot”")).to_be_visible()
    heat.get_by_label("to", exact=True).fill("45")
    heat.get_by_role("button", name="Another hold").click()
    expect(heat.get_by_label("and hold")).to_have_count(2)
    heat.get_by_role("button", name="One less").click()
    expect(heat.get_by_label("and hold")).to_have_count(1)
    chosen(page, heat, "The heat comes from", "A heated tent round it")
    heat.get_by_label("From (empty: now)").fill("Fri 16:00")
    heat.get_by_role("button", name="Look at it").click()
    expect(page.get_by_test_id("post-cure")).to_be_visible()
    heat.get_by_role("button", name="Keep this post-cure").dblclick()
    expect(page.get_by_role("region", name="Post-cure")).to_have_count(0)
    expect(place.get_by_role("button", name="Call it off")).to_have_count(1)
    place.get_by_role("button", name="Call it off").dblclick()
    expect(place.get_by_role("button", name="Call it off")).to_have_count(0)


def test_an_iron_comes_is_read_and_is_put_away_once(shop, page):
    page.goto(f"{shop.url}/irons")
    page.get_by_label("Another iron").fill("The wide iron")
    page.get_by_role("button", name="It is here").dblclick()
    iron = page.get_by_role("region", name="The wide iron")
    expect(iron).to_have_count(1)
    page.get_by_label("Another iron").fill("the wide iron")
    page.get_by_role("button", name="It is here").click()
    expect(page.get_by_text("“The wide iron” is here already; add a letter to tell them apart")).to_be_visible()
    expect(page.get_by_label("Another iron")).to_have_value("the wide iron")
    for dial, reads in (("1", "80"), ("3", "140")):
        iron.get_by_label("The dial stands at").fill(dial)
        iron.get_by_label("The thermometer reads").fill(reads)
        iron.get_by_role("button", name="Keep this reading").dblclick()
        expect(iron.get_by_label("The dial stands at")).to_have_value("")
    expect(iron.get_by_role("button", name=re.compile("Take back"))).to_have_count(2)
    iron.get_by_role("button", name="Put it away").dblclick()
    expect(iron).to_have_count(0)
