"""Cut plans on the screen: chosen, laid out, compared, cut at the table with the shop away, left over on the shelf."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import open_page


def typed(page, label, text):
    field = page.get_by_label(label)
    field.fill(text)
    field.press("Enter")


def test_skins_are_cut_together_and_what_is_left_over_lies_on_the_shelf(shop, page, browser):
    page.goto(f"{shop.url}/stores")
    page.get_by_role("link", name="Cut plans").click()
    expect(page.get_by_text("No cut plan yet")).to_be_visible()
    product = page.get_by_role("listitem").filter(has_text="Sedge 163 twill glass")
    product.get_by_role("button", name="Choose jobs").click()
    for box in product.get_by_role("checkbox").all():
        box.uncheck()
    for name in ("Left wing, upper skin", "Left flap, upper skin"):
        product.get_by_role("checkbox", name=name).check()
    product.get_by_role("button", name="Cut plan of 2 jobs").dblclick()

    # How it is cut: what can't be is refused beside its field, and stays typed.
    expect(page.get_by_role("heading", name="Sedge 163 twill glass")).to_be_visible()
    page.get_by_role("button", name="How it is cut").click()
    typed(page, "Gap between pieces, mm", "2 m")
    expect(page.get_by_role("alert")).to_contain_text("Gap between pieces is 2000 mm; it can't be above 500 mm")
    typed(page, "Gap between pieces, mm", "8")
    typed(page, "Seconds to look", "1")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Close").click()
    page.get_by_role("button", name=re.compile("^Lay out .* pieces")).dblclick()
    expect(page.get_by_text(re.compile(r"^\d[\d.]* m off the roll, \d+ % of it used\."))).to_be_visible(timeout=20_000)

    # Another way beside it: each has its figures.
    page.get_by_role("button", name="Compare another way").click()
    compared = page.get_by_role("region", name="Ways compared")
    expect(compared.get_by_role("button", name="way 2")).to_have_attribute("aria-pressed", "true")
    expect(compared.get_by_text("not laid out").first).to_be_visible()
    compared.get_by_role("button", name="way 1").click()

    # A piece says what it is.
    piece = page.get_by_role("button", name=re.compile("^Piece .* of Left (wing|flap), upper skin")).first
    piece.focus()
    page.keyboard.press("Enter")
    expect(piece).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("link", name="Its ply book")).to_be_visible()

    # At the table the shop goes away for a while: nothing is lost.
    page.get_by_role("link", name="At the table, piece by piece").click()
    count = page.get_by_text(re.compile(r"^\d+ of \d+ cut$"))
    total = int(count.inner_text().split()[2])
    page.context.set_offline(True)
    for n in range(total):
        page.get_by_role("button", name="Cut, and marked").click()
        expect(count).to_have_text(f"{n + 1} of {total} cut")
    expect(page.get_by_text("Everything is cut.")).to_be_visible()
    expect(page.get_by_text("what is ticked is kept here and sent later")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("what is ticked is kept here and sent later")).to_have_count(0)

    other = open_page(browser)
    plan = shop.get("/api/v1/cut-plans")["plans"][0]["id"]
    other.goto(f"{shop.url}/cut/{plan}")
    expect(other.get_by_role("link", name=f"Go on cutting: {total} of {total} are cut")).to_be_visible()
    other.get_by_role("button", name="All of it is cut").click()
    expect(other.get_by_text("What is left over lies")).to_be_visible()
    other.get_by_role("link", name="on the shelf").click()
    expect(other.get_by_role("region", name="Cut plans").get_by_text("cut", exact=True)).to_be_visible()

    # A remnant is measured and put there; a wrong one is refused and stays typed.
    other.get_by_role("button", name="Put a remnant on the shelf").click()
    other.get_by_label("Along its warp or grain").fill("soft")
    other.get_by_label("Across").fill("1.1")
    other.get_by_role("button", name="Put it there").click()
    expect(other.get_by_role("alert")).to_contain_text("soft")
    other.get_by_label("Along its warp or grain").fill("2")
    other.get_by_role("button", name="Put it there").click()
    shelf = other.get_by_role("region", name="Remnants")
    expect(shelf.get_by_text("2.000 m × 1.100 m")).to_be_visible()
    shelf.get_by_role("listitem").filter(has_text="2.000 m").get_by_role("button", name="Used up").click()
    expect(shelf.get_by_text("2.000 m × 1.100 m")).to_have_count(0)
    other.close()
