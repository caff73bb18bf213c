"""At the mixing bench and the shelf: the scale followed, an overshot cup put right, a witness read, a sheet typed."""

from __future__ import annotations

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.running import read_lids


@pytest.fixture
def bench(shop, page):
    """The lids of the fast resin read, for a skin planned with the slow one."""
    left = shop.part_id("Left wing, upper skin")
    fast = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if "212" in p["name"])
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup&product={fast}")
    expect(page.get_by_role("alert").filter(has_text="Its look-alike is on the bench")).to_contain_text("at 100 : 28")
    read_lids(page, instead=True)
    return page


def photograph():
    drawn = io.BytesIO()
    Image.new("RGB", (40, 30), "sienna").save(drawn, "JPEG")
    return drawn.getvalue()


def pour(shop, page, grams):
    """Put so much into the cup that stands on the scale, and wait until the screen shows it."""
    expect(page.get_by_test_id("not-zero")).to_have_count(0)
    before = shop.get("/api/v1/scale")["grams"]
    shop.post("/api/v1/scale", {"put_g": grams})
    shown = page.get_by_test_id("scale")
    expect(shown).to_contain_text("steady")
    expect(shown).to_contain_text(re.compile(rf"^{round(before + grams - 1)}|^{round(before + grams)}"))


def test_the_screen_follows_the_scale_an_overshot_cup_is_put_right_and_its_clock_runs(shop, bench):
    expect(bench.get_by_test_id("cups-sentence")).to_contain_text(re.compile(r"\d cups of \d+ g, one every"))
    bench.get_by_role("button", name="Pour a cup of").click()
    pour(shop, bench, 300)
    bench.get_by_role("button", name="That is in").click()
    held = []
    bench.route("**/bench/pour", lambda route: held.append(route))  # the answers come late
    pour(shop, bench, 120)
    shop.post("/api/v1/scale", {"plugged": False})  # unplugged in mid-pour
    expect(bench.get_by_text("The scale does not answer. What was weighed stays")).to_be_visible()
    expect(bench.get_by_label("In the cup, by the scale").last).to_have_value(re.compile(r"^(119|120)\."))
    for late in held:
        late.continue_()
    bench.unroute("**/bench/pour")
    verdict = bench.get_by_test_id("verdict")
    expect(verdict).to_contain_text(re.compile(r"Do it within \d+ min"))
    expect(verdict).to_contain_text("over. Add ")
    shop.post("/api/v1/scale", {"plugged": True})
    bench.get_by_role("button", name="That is in").click()
    pour(shop, bench, 53)
    bench.get_by_role("button", name=re.compile(r"Added: 5\d\.\d g by the scale")).click()
    expect(verdict).to_contain_text("Within ±3 %")
    bench.get_by_role("button", name="Keep this batch").click()
    expect(bench.get_by_test_id("countdown")).to_have_text(re.compile(r"^\d\d:\d\d$"))
    expect(bench.get_by_test_id("open-cup")).to_contain_text("A")
    expect(bench.get_by_text("Write A on the cup")).to_be_visible()
    bench.goto(f"{shop.url}/today")  # the clock is in sight on every page
    bench.get_by_test_id("open-cup").click()
    bench.get_by_role("combobox", name="It also went on").click()
    bench.get_by_role("option", name="Left flap, upper skin").click()
    expect(bench.get_by_label("Where it went").get_by_role("listitem")).to_have_count(2)
    bench.get_by_label("Photograph of this batch").set_input_files(
        {"name": "cup.jpg", "mimeType": "image/jpeg", "buffer": photograph()}
    )
    expect(bench.get_by_role("img", name="this batch, 1")).to_be_attached()
    bench.get_by_label("Left over, if any").fill("20")
    bench.get_by_role("button", name="The cup is used up").click()
    expect(bench.get_by_text("The cup is used up.")).to_be_visible()
    expect(bench.get_by_test_id("open-cup")).to_have_count(0)


def test_what_stood_on_the_scale_before_is_no_resin(shop, bench):
    shop.post("/api/v1/scale", {"put_g": 402})
    bench.get_by_role("button", name="Pour a cup of").click()
    resin = bench.get_by_label("In the cup, by the scale").first
    expect(bench.get_by_test_id("not-zero")).to_contain_text(re.compile(r"it shows 40\d\.\d g, and that is no resin"))
    expect(bench.get_by_test_id("scale")).to_contain_text("steady")
    expect(resin).to_have_value("")
    bench.get_by_role("button", name="Set to zero").click()
    expect(bench.get_by_test_id("not-zero")).to_have_count(0)
    pour(shop, bench, 100)
    expect(resin).to_have_value(re.compile(r"^(99|100)\."))


def test_what_became_of_a_mix_is_noted_once_and_its_opposite_is_not_where_the_finger_is(shop, page):
    slow = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if p["name"] == "Tarn 210 with 214 slow")
    lids = {"resin_lid": "Tarn 210 A", "hardener_lid": "Tarn 214 B slow"}
    cup = {"resin": {"text": "100", "unit": "g"}, "hardener": {"text": "28", "unit": "g"}, "wanted_g": 128, **lids}
    where = {"part_id": shop.part_id("Left wing, upper skin"), "step_key": "core/bed", "sheet_id": slow}
    batch = shop.post("/api/v1/batches", {"id": "pressed", "another": True, **where, **cup})["id"]
    sent = []
    page.on("request", lambda asked: sent.append(asked.post_data_json["id"]) if "/notes" in asked.url else None)
    page.goto(f"{shop.url}/mix?batch={batch}")
    page.get_by_label("So much of it went there").fill("30")
    page.get_by_role("button", name="Used there").first.dblclick()
    expect(page.get_by_label("Where it went").get_by_role("listitem")).to_have_count(2)
    assert len(set(sent)) == 1
    page.get_by_role("button", name="Something is wrong with it").click()
    page.get_by_label("What is wrong").last.fill("the hardener had crystals in it")
    page.get_by_role("button", name="Some of it is on the part").click()
    expect(page.get_by_role("button", name="It is good after all…")).to_be_visible()
    expect(page.get_by_label("Why it is good")).to_have_count(0)
    expect(page.get_by_text("What else could use this mix")).to_have_count(0)  # nothing else is to be made of it


def test_what_was_used_before_it_was_right_is_kept_and_asked_after(shop, bench):
    bench.get_by_label("Size of this cup").fill("134")
    bench.get_by_label("In the cup, by the scale").first.fill("100")
    bench.get_by_label("In the cup, by the scale").last.fill("60")
    bench.get_by_role("button", name="Some of it is used already").click()
    expect(bench.get_by_test_id("verdict")).to_contain_text("can't be put right any more")
    bench.get_by_role("button", name="Keep it as it is").click()
    expect(bench.get_by_text("Marked bad: used before it was within tolerance.")).to_be_visible()
    expect(bench.get_by_role("heading", name="It went on")).to_be_visible()
    expect(bench.get_by_test_id("countdown")).to_have_count(0)


def test_a_thickened_mix_asks_what_it_is_for(shop, bench):
    bench.get_by_text("Thicken it with a filler, for a volume").click()
    bench.get_by_role("radio", name="Structural").click(timeout=60_000)
    for label, option in (("Filler", "Puffin balloons (fairing)"), ("As stiff as", "mayonnaise")):
        bench.get_by_role("combobox", name=label).click()
        bench.get_by_role("option", name=option).click()
    bench.get_by_label("To fill").fill("200")
    expect(bench.get_by_role("alert").filter(has_text="In a structural joint it breaks")).to_be_visible()
    bench.get_by_role("radio", name="Fairing").click()
    bench.get_by_role("button", name="Mix for that").click()
    expect(bench.get_by_label("To be spread in all")).to_have_value(re.compile(r"^1\d\d\.\d g$"))
    bench.get_by_label("Size of this cup").fill("134")
    bench.get_by_label("In the cup, by the scale").first.fill("100")
    bench.get_by_label("In the cup, by the scale").last.fill("34")
    expect(bench.get_by_test_id("filler")).to_contain_text("of Puffin balloons, until it is like mayonnaise")
    bench.get_by_role("button", name=re.compile("It is in: ")).click()
    bench.get_by_role("button", name="Keep this batch").click()
    expect(bench.get_by_text("of Puffin balloons in it, like mayonnaise")).to_be_visible()


def test_a_cup_too_big_is_asked_about_and_swapped_figures_are_turned_round(bench):
    bench.get_by_label("Size of this cup").fill("5000")
    expect(bench.get_by_text("5.00 kg is more than the 500 g of one cup here")).to_be_visible()
    expect(bench.get_by_label("In the cup, by the scale")).to_have_count(0)
    bench.get_by_role("button", name="A smaller cup").click()
    bench.get_by_label("Size of this cup").fill("134")
    bench.get_by_label("In the cup, by the scale").first.fill("34")
    bench.get_by_label("In the cup, by the scale").last.fill("100")
    bench.get_by_role("button", name="Only written the wrong way round").click()
    expect(bench.get_by_test_id("verdict")).to_contain_text("Within ±3 %")


def test_a_part_goes_on_when_its_witnesses_were_read(shop, page):
    page.goto(shop.url)
    expect(page.get_by_role("button", name="Read the witness first").first).to_be_visible()
    right = shop.part_id("Right wing, lower skin")
    page.goto(f"{shop.url}/cure/{right}")
    witnesses = page.get_by_label("Witnesses").first
    witnesses.get_by_role("button", name="No mark").first.click()
    expect(witnesses.get_by_role("alert")).to_contain_text("Say who reads it")
    witnesses.get_by_role("combobox", name="Who").click()
    page.get_by_role("option", name="Sanna").click()
    for left in (2, 1):
        witnesses.get_by_role("button", name="No mark").nth(2 - left).click()
        expect(witnesses).to_contain_text(f"read {left} of 3 witnesses first")
    witnesses.get_by_role("radio", name="Hardness").click()
    witnesses.get_by_role("button", name="Hard enough").last.click()
    expect(witnesses.get_by_role("alert")).to_contain_text("No hardness was typed")
    witnesses.get_by_label("The tester shows").fill("81")
    witnesses.get_by_role("button", name="Hard enough").last.click()
    expect(witnesses).to_contain_text("Released: every batch was read and found hard.")
    # One of them was read on the wrong cup: withdrawn, with its reason.
    witnesses.get_by_text("All 3 readings").click()
    witnesses.get_by_role("button", name="Take back…").first.click()
    witnesses.get_by_role("combobox", name="Who takes it back").click()
    page.get_by_role("option", name="Sanna").click()
    witnesses.get_by_label("Why").fill("that was the cup of the flap")
    witnesses.get_by_role("button", name="It does not count").click()
    expect(witnesses).to_contain_text("read 1 of 3 witnesses first")
    witnesses.get_by_label("The tester shows").fill("81")
    witnesses.get_by_role("button", name="Hard enough").last.click()
    expect(witnesses).to_contain_text("Released: every batch was read and found hard.")
    shop.post("/api/v1/work", {"id": "peel", "part_id": right, "step_key": "skin-1/peel", "kind": "start"})


def test_a_sheet_is_typed_questioned_mended_and_mixed_from(shop, page):
    page.goto(f"{shop.url}/stores")
    page.get_by_role("combobox", name="A new data sheet").click()
    page.get_by_role("option", name="wood glue").click()
    page.get_by_label("Name of this wood glue").fill("Bittern glue")
    page.get_by_label("Ratio by weight").fill("100 : 60")
    page.get_by_label("Ratio by volume").fill("1 : 1")
    page.get_by_label("Density of the resin").fill("1.2")
    page.get_by_label("Density of the hardener").fill("1.0")
    about = page.get_by_label("About this sheet")
    expect(about).to_contain_text("it would be 100 : 83.3 by weight, 39 % more hardener")
    expect(about).to_contain_text("No stage has its hours")
    page.get_by_label("Temperature the hours are given for").fill("20")
    page.get_by_role("button", name="A stage").click()
    page.get_by_label("Hours to gel").fill("soon")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("alert").filter(has_text="“soon” isn't understood").first).to_be_visible()
    page.get_by_label("Hours to gel").fill("3")
    page.get_by_label("Ratio by weight").fill("100 : 83")
    expect(about).not_to_contain_text("Is this right?")
    page.get_by_role("button", name="Put it on the shelf").click()
    page.get_by_role("button", name="Receive a lot").click()
    page.get_by_label("Lot number, from the label").fill("B-1")
    page.get_by_label("How much").fill("2 kg")
    page.get_by_label("Came on").fill("2026-05-12")
    page.get_by_role("button", name="Put the lot on the shelf").click()
    expect(page.get_by_role("button", name=re.compile("lot B-1, 2.00 kg left", re.IGNORECASE))).to_be_visible()
    page.goto(f"{shop.url}/mix")
    page.get_by_role("button", name=re.compile("Bittern glue")).click()
    expect(page.get_by_text("No step that is still to do is planned with it.")).to_be_visible()


def test_a_part_is_moved_read_and_post_cured(shop, page):
    left = shop.part_id("Left wing, lower skin")
    page.goto(f"{shop.url}/cure/{left}")
    card = page.get_by_role("article").first
    sentence = card.get_by_test_id("sentence")
    before = sentence.inner_text()
    card.get_by_role("combobox", name="It is in the").click()
    page.get_by_role("option", name="Cool room").click()
    card.get_by_label("Back where it was").fill("soon")
    card.get_by_role("button", name="Move it there").click()
    expect(card.get_by_text("“soon” is no day and time; write 3 Dec 14:30")).to_be_visible()
    card.get_by_label("Back where it was").fill("tomorrow 9:00")
    card.get_by_role("button", name="Move it there").click()
    expect(card).to_contain_text("In the cool room until Fri 09:00, then in the main shop")
    expect(sentence).not_to_have_text(before)
    card.get_by_label("The part itself, read now").fill("21.5")
    card.get_by_role("button", name="It reads that").click()
    expect(card).to_contain_text("itself 21.5 °C")
    card.get_by_role("button", name="Post-cure").click()
    card.get_by_label("Ramp an hour").fill("25")
    card.get_by_label("to", exact=True).fill("60")
    card.get_by_role("button", name="Look at it").click()
    expect(card.get_by_test_id("post-cure").get_by_role("alert").first).to_contain_text("Ramp at most")
    card.get_by_role("button", name="Keep this post-cure").click()
    expect(card).to_contain_text("60.0 °C for 8 h, in the cool room.")
    card.get_by_role("button", name="Call it off").click()
    expect(card.get_by_role("button", name="Call it off")).to_have_count(0)


def test_the_windows_of_a_straight_shot_are_found(shop, page):
    page.goto(f"{shop.url}/air")
    page.get_by_role("button", name="Find windows").click()
    expect(page.get_by_test_id("shots")).to_contain_text("4 h 35 min without a break: Begin ")
    page.get_by_label("Never below").fill("35 °C")
    page.get_by_role("button", name="Find windows").click()
    expect(page.get_by_test_id("shots").get_by_role("alert")).to_contain_text("it is colder than 35.0 °C too often")
