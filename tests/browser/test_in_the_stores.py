"""Stores walked through: who sells what, lots received and found bad, items put away, two ways beside each other."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from kiteloom.workshop.base.ids import stable_id
from tests.browser.test_for_everybody import bought

TARN = stable_id("sheet", "Tarn 210 with 214 slow")
SKIN = "Left wing, upper skin"


@pytest.fixture
def sold(shop):
    bought(shop, shop.part_id(SKIN))
    return shop


def chosen(page, within, label, option):
    within.get_by_role("combobox", name=label, exact=True).click()
    page.get_by_role("option", name=option, exact=isinstance(option, str)).first.click()


def test_a_seller_and_a_pack_are_said_changed_and_no_longer_sold(shop, page):
    page.goto(f"{shop.url}/stores/orders?sell=new")
    sheet = page.get_by_role("dialog")  # with nobody yet it is open
    sheet.get_by_label("Name").fill("Landing stage")
    sheet.get_by_label("A parcel costs").fill("six")
    sheet.get_by_role("button", name="Keep").click()
    expect(sheet.get_by_text("“six”")).to_be_visible()
    expect(sheet.get_by_label("Name")).to_have_value("Landing stage")
    sheet.get_by_label("A parcel costs").fill("6,50")
    sheet.get_by_label("Free from, where it is").fill("150")
    sheet.get_by_role("button", name="Keep").dblclick()
    expect(page.get_by_role("dialog")).to_have_count(0)
    seller = page.get_by_role("region", name="Who sells")
    expect(seller.get_by_role("heading", name="Landing stage")).to_have_count(1)
    expect(seller.get_by_text("Parcel 6.50 EUR, free from 150")).to_be_visible()
    seller.get_by_role("button", name="Another pack…").click()
    sheet = page.get_by_role("dialog", name="A pack of Landing stage")
    expect(sheet.get_by_role("button", name="Keep")).to_be_disabled()  # of nothing it is no pack
    chosen(page, sheet, "Of what", re.compile("Mere 8"))
    sheet.get_by_label("The pack, as they write it").fill("Kit of 1.5")
    sheet.get_by_label("Holds").fill("1.5 kg")
    sheet.get_by_label("Price, today").fill("48")
    sheet.get_by_label("Comes within").fill("soon")
    sheet.get_by_role("button", name="Keep").click()
    expect(sheet.get_by_role("alert")).to_contain_text("soon")
    sheet.get_by_label("Comes within").fill("5")
    sheet.get_by_role("button", name="Keep").click()
    row = seller.get_by_role("button", name=re.compile("Mere 8.*Kit of 1.5.*48.*EUR.*5 days"))
    row.click()
    page.get_by_role("dialog").get_by_label("Price, today").fill("51")
    page.get_by_role("dialog").get_by_role("button", name="Keep").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(seller.get_by_role("button", name=re.compile("Mere 8.*51.*EUR"))).to_be_visible()
    seller.get_by_role("button", name=re.compile("Mere 8")).click()
    page.get_by_role("dialog").get_by_role("button", name="Not sold any more").click()
    expect(seller.get_by_role("button", name=re.compile("Mere 8"))).to_have_count(0)
    seller.get_by_role("button", name="Change…").click()
    page.get_by_role("dialog").get_by_label("Free from, where it is").fill("")
    page.get_by_role("dialog").get_by_role("button", name="Keep").click()
    expect(seller.get_by_text("Parcel 6.50 EUR", exact=True)).to_be_visible()


def test_who_goes_on_to_another_sheet_while_one_is_kept_stays_there(sold, page):
    page.goto(f"{sold.url}/stores/orders")
    seller = page.get_by_role("region", name="Who sells")
    seller.get_by_role("button", name=re.compile("^Bush")).click()
    page.get_by_role("dialog").get_by_label("Price, today").fill("51")
    sent = []
    page.route("**/api/v1/offers", lambda route: sent.append(route))
    page.get_by_role("dialog").get_by_role("button", name="Keep").click()
    seller.get_by_role("button", name=re.compile("^Sedge 163")).click()
    page.get_by_role("dialog").get_by_label("Price, today").fill("39")
    sent[0].continue_()  # only now the first is answered
    expect(seller.get_by_role("button", name=re.compile("^Bush.*51"))).to_be_visible()
    page.wait_for_timeout(300)
    expect(page.get_by_role("dialog").get_by_label("Price, today")).to_have_value("39")


def test_a_lot_is_received_by_the_shops_clock_weighed_found_bad_and_cleared(shop, page):
    page.goto(f"{shop.url}/stores/{TARN}")
    lots = page.get_by_role("region", name="Lots")
    lots.get_by_role("button", name="Receive a lot").click()
    sheet = page.get_by_role("dialog")
    # The shop's clock says so, whatever this tablet's does.
    expect(sheet.get_by_label("Came on")).to_have_value(re.compile("14 May 2026"))
    sheet.get_by_role("button", name="Put the lot on the shelf").click()
    expect(sheet.get_by_role("alert").first).to_be_visible()
    sheet.get_by_label("Lot number, from the label").fill("T-9001")
    sheet.get_by_label("How much").fill("2.5 kg")
    sheet.get_by_label("Expires, if the label says").fill("1 May 2026")
    sheet.get_by_role("button", name="Put the lot on the shelf").click()
    expect(sheet.get_by_text("before it came on")).to_be_visible()
    sheet.get_by_label("Expires, if the label says").fill("1 May 2028")
    sheet.get_by_role("button", name="Put the lot on the shelf").dblclick()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(lots.get_by_role("button", name=re.compile("T-9001"))).to_have_count(1)
    lots.get_by_role("button", name=re.compile("T-9001")).click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_text("By the book 2.50 kg left")).to_be_visible()
    sheet.get_by_label("Weighed: so much").fill("2.4 kg")
    sheet.get_by_role("button", name="So much is left").click()
    expect(sheet.get_by_text("By the book 2.40 kg left")).to_be_visible()
    sheet.get_by_label("Weighed: so much").fill("100")
    sheet.get_by_role("button", name="Thrown away").click()
    expect(sheet.get_by_text("By the book 2.30 kg left")).to_be_visible()
    sheet.get_by_role("button", name="Opened now").click()
    expect(sheet.get_by_role("button", name="Opened now")).to_have_count(0)
    sheet.get_by_role("button", name="Found bad").click()
    expect(sheet.get_by_role("alert")).to_contain_text("say in a few words why")
    sheet.get_by_label("Why").fill("crystals in it")
    sheet.get_by_role("button", name="Found bad").click()
    expect(sheet.get_by_role("button", name="Cleared again")).to_be_visible()
    sheet.get_by_label("Why").fill("warmed, clear again")
    sheet.get_by_role("button", name="Cleared again").click()
    expect(sheet.get_by_role("button", name="Found bad")).to_be_visible()


def test_an_item_is_described_taken_by_a_step_noted_damaged_and_put_away(sold, page):
    page.goto(f"{sold.url}/stores/items")
    page.get_by_role("button", name="Another item…").click()
    sheet = page.get_by_role("dialog", name="Another item")
    sheet.get_by_role("button", name="Keep").click()
    expect(sheet.get_by_role("alert").first).to_be_visible()
    sheet.get_by_label("Name").fill("Eye bolt")
    sheet.get_by_label("Where it lies").fill("drawer 3")
    sheet.get_by_role("button", name="Keep").dblclick()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Eye bolt"))).to_have_count(1)
    page.get_by_role("button", name=re.compile("^Eye bolt")).click()
    sheet = page.get_by_role("dialog", name="Eye bolt")
    expect(sheet.get_by_text("None there yet, drawer 3")).to_be_visible()
    chosen(page, sheet, "Part", SKIN)
    chosen(page, sheet, "Step", re.compile("outer skin"))
    sheet.get_by_label("How many it takes").fill("2")
    sheet.get_by_role("button", name="This step takes it").dblclick()
    expect(sheet.get_by_text("2 for Lay and bag the outer skin, Left wing, upper skin")).to_have_count(1)
    # One that came damaged was never there to be used; one that is thrown away was.
    for what, count, left in (("Counted: so many there are", 4, 4), ("Came damaged", 1, 4), ("Thrown away", 1, 3)):
        chosen(page, sheet, "What is noted", what)
        sheet.get_by_label("How many", exact=True).fill(str(count))
        chosen(page, sheet, "By", "Bo")
        sheet.get_by_label("Why, or where").fill("in the bag")
        sheet.get_by_role("button", name="Note it").click()
        expect(sheet.get_by_label("How many", exact=True)).to_have_value("")
        expect(sheet.get_by_text(f"{left} there, drawer 3")).to_be_visible()
    sheet.get_by_role("button", name="Drop").click()
    expect(sheet.get_by_role("button", name="Drop")).to_have_count(0)
    sheet.get_by_role("button", name="Put away").click()
    expect(page.get_by_role("button", name=re.compile("^Eye bolt"))).to_have_count(0)


def test_an_order_is_awaited_later_comes_in_part_and_the_rest_is_cancelled(sold, page):
    page.goto(f"{sold.url}/stores/orders?order=coming")
    sheet = page.get_by_role("dialog", name="Bush")
    sheet.get_by_label("Awaited on").fill("13 May")
    sheet.get_by_role("button", name="Keep that day").click()
    expect(sheet.get_by_text("2026-05-13 is past; it can't come before 2026-05-14")).to_be_visible()
    sheet.get_by_label("Awaited on").fill("1 Jun")
    sheet.get_by_role("button", name="Keep that day").click()
    row = page.get_by_role("button", name=re.compile("Bush.*2 × bushes"))
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(row).to_contain_text("1 Jun")
    row.click()
    sheet.get_by_label("Packs, of 2 still to come").fill("1")
    sheet.get_by_role("button", name="It came").click()
    expect(sheet.get_by_text("1 of 2 came.")).to_be_visible()
    sheet.get_by_role("button", name="It is right after all").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("region", name="On the board")).to_contain_text("1 of 2")
    page.get_by_role("button", name=re.compile("Bush.*2 × bushes")).click()
    sheet.get_by_role("button", name="It was cancelled").click()
    expect(page.get_by_role("region", name="Came, or cancelled")).to_contain_text("Bush")
    expect(page.get_by_role("region", name="On the board")).to_have_count(0)


def test_two_products_and_pitches_of_ribs_are_compared(sold, page):
    page.goto(f"{sold.url}/stores/costs")
    two = page.get_by_role("region", name="Two products")
    expect(two.get_by_role("button", name="Compare")).to_be_disabled()
    chosen(page, two, "Everything that takes", re.compile("Sedge 163 twill"))
    chosen(page, two, "Against", re.compile("Tarn 210 with 214 slow"))
    two.get_by_role("button", name="Compare").click()
    expect(two.get_by_role("alert")).to_contain_text("is wanted")
    chosen(page, two, "Against", re.compile("Sedge", re.IGNORECASE))
    two.get_by_label(re.compile("Work with the one")).fill("30")
    two.get_by_label("And with the other").fill("1 h")
    two.get_by_role("button", name="Compare").click()
    expect(two.get_by_role("definition").filter(has_text="by hand")).to_have_count(2)
    pitch = page.get_by_role("region", name="Sheets over ribs")
    pitch.get_by_label("Span").fill("4.8")
    pitch.get_by_label("A sheet goes along it").fill("1.2")
    pitch.get_by_label("Pitches of ribs, with ; between").fill("300 mm; 500 mm; x")
    pitch.get_by_role("button", name="Compare").click()
    expect(pitch.get_by_text("“x”")).to_be_visible()
    expect(pitch.get_by_label("Span")).to_have_value("4.8")
    pitch.get_by_label("Pitches of ribs, with ; between").fill("300 mm; 500 mm")
    pitch.get_by_role("button", name="Compare").click()
    # Four pitches of 300 mm to a sheet of 1.2 m, all of it used; two of 500 mm, so five sheets, 6 m, for 4.8 m.
    for n, used, cut in ((1, "1.200 m", "0 %"), (2, "1.000 m", "20 %")):
        cells = pitch.get_by_role("row").nth(n).get_by_role("cell")
        expect(cells.nth(1)).to_have_text(used)
        expect(cells.nth(3)).to_have_text(cut)
