"""Stores on the screen: missed, ordered, come with the wrong thread, counted, a kit's list, in inches."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.test_for_everybody import bought


def test_what_a_step_misses_is_ordered_comes_wrong_and_is_missed_again(shop, page):
    bought(shop, shop.part_id("Left wing, upper skin"))
    page.goto(f"{shop.url}/stores/orders")
    page.get_by_role("button", name="Bush").first.click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Packs, of 2 still to come").fill("two")
    sheet.get_by_label("Thread").fill("M6")
    sheet.get_by_role("button", name="It came").click()
    expect(sheet.get_by_text("“two” isn’t a whole number; write it like 3")).to_be_visible()
    expect(sheet.get_by_label("Packs, of 2 still to come")).to_have_value("two")  # what was typed stays
    sheet.get_by_label("Packs, of 2 still to come").fill("2")
    sheet.get_by_role("button", name="It came").click()
    expect(sheet.get_by_text("M6 came, and M5 was ordered: the neighbouring thread.")).to_be_visible()
    sheet.get_by_role("button", name="It is wrong").click()
    expect(page.get_by_role("region", name="On the board")).to_contain_text("2 wrong: its need is open again")
    page.goto(f"{shop.url}/stores/orders")
    page.get_by_role("link", name="Needs").click()
    page.get_by_role("button", name="Bush", exact=True).click()
    line = page.get_by_role("listitem").filter(has_text=re.compile("^Bush"))
    expect(line.get_by_role("link", name="Lay and bag the outer skin, Left wing, upper skin")).to_be_visible()
    expect(line.get_by_text("2 short")).to_be_visible()
    page.get_by_role("link", name="What to order").click()
    group = page.get_by_role("region", name="Quay")
    expect(group.get_by_text("1 × bushes")).to_be_visible()
    group.get_by_role("button", name="It is ordered").dblclick()
    expect(page.get_by_role("region", name="Quay")).to_have_count(0)
    page.get_by_role("link", name="Orders", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Bush.*1 × bushes"))).to_have_count(1)  # pressed twice, once


def test_a_count_that_finds_more_asks_for_a_name_and_a_reason(shop, page):
    bought(shop, shop.part_id("Left wing, upper skin"))
    page.goto(f"{shop.url}/stores/items?item=bush")
    sheet = page.get_by_role("dialog")
    sheet.get_by_role("button", name="Drop").dblclick()
    expect(sheet.get_by_role("button", name="Drop")).to_have_count(0)
    sheet.get_by_label("How many", exact=True).fill("5")
    sheet.get_by_role("button", name="Note it").click()
    expect(sheet.get_by_text("say who counted")).to_be_visible()
    expect(sheet.get_by_label("How many", exact=True)).to_have_value("5")
    sheet.get_by_label("By", exact=True).click()
    page.get_by_role("option", name="Bo", exact=True).click()
    sheet.get_by_role("button", name="Note it").click()
    expect(sheet.get_by_text("where they come from")).to_be_visible()
    sheet.get_by_label("Why, or where").fill("in the drawer")
    sheet.get_by_role("button", name="Note it").click()
    expect(sheet.get_by_text("5 there.")).to_be_visible()


def test_a_kits_list_is_looked_at_and_taken(shop, page, tmp_path):
    page.goto(f"{shop.url}/stores/items")
    page.get_by_role("button", name="Read a kit’s list…").click()
    file = tmp_path / "Tail.csv"
    file.write_text("Description;Qty;Thread\nHinge;2;\nBolt;many;M5\n")
    page.get_by_label("Its list, CSV or .xlsx").set_input_files(file)
    expect(page.get_by_text("“many” isn't understood")).to_be_visible()
    page.get_by_role("button", name="Take the list").click()
    expect(page.get_by_role("heading", name="Tail")).to_be_visible()
    page.get_by_role("button", name="All 2 found").click()
    expect(page.get_by_text("2 on the list: 2 found")).to_be_visible()
