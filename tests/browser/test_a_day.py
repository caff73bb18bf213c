"""A day with it: two witnesses in the morning, a mix with filler of two lots put right, a dry spot, closing down."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.running import read_lids


@pytest.fixture
def tablet(browser):
    """The main device: held upright, with gloves on."""
    page = open_page(browser, 820, 1180)
    yield page
    assert page.complaints == []
    page.close()


def choose(page, label, option):
    page.get_by_role("combobox", name=label).first.click()
    page.get_by_role("option", name=option).first.click()


def test_a_morning_with_two_due_witnesses(shop, tablet):
    tablet.goto(f"{shop.url}/today")
    due = tablet.locator("section").filter(has=tablet.get_by_role("heading", name="To look at now"))
    expect(due.get_by_role("listitem")).to_have_count(2)
    for left, part in ((1, "Left wing, aft ribs"), (0, "Right wing, lower skin")):
        tablet.goto(f"{shop.url}/cure/{shop.part_id(part)}")
        witnesses = tablet.get_by_label(re.compile("^Witnesses")).first
        witnesses.get_by_role("combobox", name="Who").click()
        tablet.get_by_role("option", name="Sanna").click()
        for n in range(witnesses.get_by_role("button", name="No mark").count()):
            witnesses.get_by_role("button", name="No mark").nth(n).click()
            expect(witnesses.get_by_text("thumbnail leaves no mark").nth(n)).to_be_visible()
        expect(witnesses).to_contain_text("Released: ")
        tablet.goto(f"{shop.url}/today")
        expect(due.get_by_role("listitem")).to_have_count(left)


def test_a_mix_with_filler_of_two_lots_put_right_and_its_cup_known_by_its_letter(shop, tablet):
    slow = next(p for p in shop.get("/api/v1/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    for part, number in (("resin", "P7-A"), ("hardener", "P7-B")):
        lot = {"id": number, "sheet_id": slow["id"], "lot_number": number, "component": part}
        shop.post("/api/v1/lots", {**lot, "received_on": "2026-05-01", "amount": {"text": "3 kg", "unit": "g"}})
    tablet.goto(f"{shop.url}/mix?product={slow['id']}")
    tablet.get_by_role("button", name="A repair").click()
    for lid in ("Resin lid", "Hardener lid"):
        tablet.get_by_role("checkbox", name=lid).click()
    expect(tablet.get_by_text("Still to say: the lot")).to_be_visible()
    choose(tablet, re.compile("^Lot$"), "P7-A")
    expect(tablet.get_by_role("combobox", name="Lot of the hardener")).to_contain_text("P7-B")  # the only one
    choose(tablet, "Mixed by", "Imre")
    tablet.get_by_role("button", name="To the scale").click()
    tablet.get_by_label("To be spread in all").fill("100")
    # By key: the cups come above it, and it moves down under the hand.
    tablet.get_by_text("Thicken it with a filler, for a volume").press("Enter")
    tablet.get_by_role("radio", name="Structural").click()
    choose(tablet, "Filler", re.compile("Thistle flock"))
    choose(tablet, "As stiff as", "mayonnaise")
    tablet.get_by_label("To fill").fill("100")
    tablet.get_by_role("button", name="Mix for that").click()
    tablet.get_by_label("Size of this cup").fill("128")
    scale = tablet.get_by_label("In the cup, by the scale")
    scale.first.fill("100")
    scale.last.fill("35")
    verdict = tablet.get_by_test_id("verdict")
    expect(verdict).to_contain_text("Add 25.0 g Tarn 210 A")
    expect(tablet.get_by_test_id("filler")).to_have_count(0)  # not into a mix that is wrong
    expect(tablet.get_by_role("button", name=re.compile("Pour 25.0 g of Tarn 210 A"))).to_be_visible()
    tablet.get_by_role("button", name="I added it: 125.0 g now").click()
    expect(verdict).to_contain_text("Within ±3 %")
    expect(tablet.get_by_test_id("filler")).to_contain_text("of Thistle flock, until it is like mayonnaise")
    tablet.get_by_role("button", name=re.compile("It is in: ")).click()
    tablet.get_by_role("button", name="Keep this batch").click()
    expect(tablet.get_by_text("Write A on the cup: its clock has that letter.")).to_be_visible()
    expect(tablet.get_by_test_id("open-cup")).to_contain_text("A")
    expect(tablet.get_by_role("heading", name=re.compile("160 g of Tarn 210.*Thistle flock in it"))).to_be_visible()
    tablet.get_by_role("button", name="Written down wrong…").click()
    sheet = tablet.get_by_role("dialog")
    expect(sheet.get_by_role("combobox", name="Mixed by")).to_contain_text("Imre")
    choose(sheet.page, "It went on", "Left flap, upper skin")
    choose(sheet.page, "in the step", "Bed the core and bag it")
    sheet.get_by_label("What was wrong").fill("it was for the flap")
    sheet.get_by_role("button", name="Add the correction").click()
    expect(sheet).to_have_count(0)
    flap = shop.part_id("Left flap, upper skin")
    assert shop.get(f"/api/v1/parts/{flap}/mix")["batches"][0]["note"] == "it was for the flap"


def test_a_dry_spot_is_shown_on_the_drawing_decided_and_mended_before_the_next_skin(shop, tablet):
    lower = shop.part_id("Left wing, lower skin")
    tablet.goto(f"{shop.url}/part/{lower}/record")
    tablet.get_by_role("button", name="Something is wrong with it…").click()
    tablet.get_by_role("button", name="dry spot").click()
    drawing = tablet.get_by_role("img", name="Planform").bounding_box()
    tablet.mouse.click(drawing["x"] + 0.6 * drawing["width"], drawing["y"] + 0.4 * drawing["height"])
    tablet.get_by_label("How large, how deep").fill("60 × 40 mm")
    tablet.get_by_role("button", name="Write it down").click()
    found = tablet.get_by_role("article").filter(has_text="Dry spot: 60 × 40 mm")
    expect(found).to_contain_text("Not decided yet.")
    tablet.goto(f"{shop.url}/today")
    tablet.get_by_label("To decide").get_by_role("link").click()
    found.get_by_role("button", name="Decide…").click()
    found.get_by_role("radio", name="Mend it").click()
    choose(tablet, "Who decides", "Sanna")
    found.get_by_label("What it rests on").fill("the kit's manual")
    found.get_by_role("button", name="Sign it").click()
    expect(found).to_contain_text("To be mended")
    found.get_by_role("link", name="The patch: its size, plies and resin").click()
    expect(tablet.get_by_role("heading", name="Mending with a patch")).to_be_visible()
    tablet.goto(f"{shop.url}/part/{lower}/steps?job=j2")
    expect(tablet.get_by_role("button", name="Lay the patch, 2 plies", exact=True)).to_be_visible()


def test_closing_down_says_what_stays_on_and_who_looks_first(shop, tablet):
    flap = shop.part_id("Left flap, upper skin")
    slow = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    tablet.goto(f"{shop.url}/mix?part={flap}&step=core/bed&product={slow}")
    read_lids(tablet)
    tablet.get_by_label("Size of this cup").fill("230")
    tablet.get_by_label("In the cup, by the scale").first.fill("179.7")
    tablet.get_by_label("In the cup, by the scale").last.fill("50.3")
    tablet.get_by_role("button", name="Keep this batch").click()
    tablet.get_by_role("button", name="The cup is used up").click()
    tablet.goto(f"{shop.url}/today")
    closing = tablet.get_by_test_id("closing")
    expect(closing).to_contain_text("Left flap, upper skin")
    expect(closing).to_contain_text(re.compile("vacuum pump", re.IGNORECASE))


def test_a_step_that_does_not_apply_says_why_and_is_called_otherwise_on_its_tab(shop, tablet):
    upper = shop.part_id("Left wing, upper skin")
    tablet.goto(f"{shop.url}/part/{upper}/steps")
    tablet.get_by_role("button", name="Prepare mould, cut cloth", exact=True).click()
    name = tablet.get_by_label("Called")
    name.fill("Wax the mould twice")
    name.press("Enter")
    expect(tablet.get_by_role("heading", name="Wax the mould twice")).to_be_visible()
    tablet.get_by_role("button", name="Does not apply…: Wax the mould twice").click()
    tablet.get_by_label("Why it does not apply").fill("it was left waxed")
    tablet.get_by_role("button", name="It does not apply", exact=True).click()
    expect(tablet.get_by_text("It does not apply: it was left waxed")).to_be_visible()
    tablet.goto(f"{shop.url}/crew")
    tablet.get_by_role("button", name="Change").first.click()
    tablet.get_by_label("Hours on Saturday").fill("9–12, 13")
    tablet.get_by_role("button", name="Save", exact=True).click()
    expect(tablet.get_by_role("alert")).to_contain_text("Saturday: “13” has no end")
    expect(tablet.get_by_label("Hours on Saturday")).to_have_value("9–12, 13")
    tablet.get_by_label("Hours on Saturday").fill("9–12, 13–16")
    tablet.get_by_role("button", name="Save", exact=True).click()
    expect(tablet.get_by_text("Sat 09:00–12:00, 13:00–16:00")).to_be_visible()


def test_bench_mode_names_who_looks_as_well_reads_the_gauge_and_ends_with_what_is_left_to_do(shop, tablet):
    part = shop.part_id("Left wing, upper skin")
    sheet = f"{shop.url}/api/v1/run-sheet?part_id={part}&step_key=skin-1/layup"
    tablet.goto(f"{shop.url}/run/{part}/skin-1%2Flayup")
    done, instruction = tablet.get_by_role("button", name="Done", exact=True), tablet.get_by_test_id("instruction")
    for _ in range(2):
        done.click()
    tablet.get_by_role("button", name="Sanna").click()
    for words in ("Ply 2", "Peel ply on", "Release film", "Bag on", "Vacuum on"):
        done.click()
        expect(instruction).to_contain_text(words)
    gauge = tablet.get_by_label("The gauge reads")
    gauge.fill("8x")
    done.click()
    expect(tablet.get_by_text("“8x” is no reading; write it like 820")).to_be_visible()
    gauge.fill("820")
    gauge.press("Enter")
    expect(instruction).to_contain_text("Valve to the pump shut")
    expect(gauge).to_have_value("")
    gauge.fill("740")
    done.click()
    expect(tablet.get_by_text("fallen by 80 mbar: more than 34 mbar, find the leak")).to_be_visible()
    done.click()
    expect(instruction).to_have_text("All of it is ticked.")
    expect(tablet.get_by_text("of it are still to mix, by what was computed")).to_be_visible()
    tablet.get_by_role("button", name="Whole sheet").click()
    expect(tablet.get_by_text("Sanna looked as well")).to_have_count(2)
    assert tablet.request.get(sheet).json()["items"][2]["noted"] == "Sanna looked as well"


def test_a_finger_that_bounces_is_heard_once(shop, page):
    sent = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name=re.compile("^Go on: ")).first.dblclick()
    expect(page.get_by_role("button", name=re.compile("^Pause: ")).first).to_be_visible()
    page.wait_for_timeout(300)
    assert sent == [f"{shop.url}/api/v1/work"]
