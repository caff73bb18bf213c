"""The rest a builder does on a part's sheet: files, losses, hours, starts, and giving way."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page
from tests.browser.running import read_lids

PERCENT = b"Club section\n100 0.2\n50 8\n10 6\n0 0\n10 -3\n50 -2\n100 -0.2\n"


@pytest.fixture
def left(shop):
    return f"{shop.url}/part/{shop.part_id('Left wing, upper skin')}"


def test_a_section_from_a_file_at_the_tip_alone(page, left):
    page.goto(f"{left}/shape")
    girth = page.get_by_role("button", name=re.compile("^Tip girth"))
    before = girth.inner_text()
    file = {"name": "club.dat", "mimeType": "text/plain", "buffer": PERCENT}
    page.get_by_label("Section file of station 2").set_input_files(file)
    page.get_by_role("button", name="Keep this shape").click()
    page.get_by_label("Why it is changed").fill("measured on the mould")
    page.get_by_role("button", name="Change it, as a deviation").click()
    expect(page.get_by_text("station 2: Club section")).to_be_visible()
    expect(page.get_by_text("station 1: NACA 4415")).to_be_visible()
    expect(page.get_by_text("The file is in percent of the chord; it was divided by 100.")).to_be_visible()
    expect(girth).not_to_have_text(before)


def test_a_loss_the_shop_knows_is_no_longer_assumed(page, left):
    page.goto(f"{left}/mix")
    need = page.get_by_role("button", name=re.compile("^To mix in all")).first
    before = need.inner_text()
    page.get_by_label("Left in cups and tools (assumed)").fill("12 %")
    page.get_by_label("Left in cups and tools (assumed)").press("Enter")
    expect(page.get_by_label("Left in cups and tools", exact=True)).to_have_value("12 %")
    expect(need).not_to_have_text(before)
    need.click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("row", name=re.compile("left in cups and tools, 12 %"))).not_to_contain_text("assumed")
    expect(sheet.get_by_role("row", name=re.compile("cut off wet, 8 %"))).to_contain_text("assumed")


def test_a_stage_says_from_what_it_is_predicted(page, left):
    page.goto(f"{left}/steps")
    page.get_by_role("button", name=re.compile("^Peel, after the mix")).click()
    sheet = page.get_by_role("dialog")
    for words in ("∫ exp[−Eₐ/R·(1/T − 1/T_ref)] dt", "stood still for", "It predicts; a reading releases the part."):
        expect(sheet).to_contain_text(words)
    expect(sheet.get_by_role("row", name=re.compile("mean temperature until then"))).to_contain_text("assumed")
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)


def test_another_start_and_other_hours_move_the_steps(page, left):
    page.goto(f"{left}/steps")
    page.get_by_role("button", name="Prepare mould, cut cloth").click()
    words = page.get_by_text(re.compile(r"^(Thu |today )?1\d:\d\d to 1\d:\d\d\.$"))
    expect(words).to_be_visible()
    before = words.inner_text()
    page.get_by_label("As if nothing began before").fill("2026-05-18T10:00")
    expect(page.get_by_text(re.compile("^Mon 1[0-9]:[0-9]{2} to 1"))).to_be_visible()
    page.get_by_role("button", name="As planned").click()
    expect(page.get_by_text(before, exact=True)).to_be_visible()
    page.get_by_role("button", name="Shop").click()
    page.get_by_label("Hours on Thursday").fill("half past–17")
    page.get_by_role("button", name="Save the hours").click()
    expect(page.get_by_role("alert")).to_contain_text("“half past” isn't a time of day; write it like 08:30")
    expect(page.get_by_label("Hours on Thursday")).to_have_value("half past–17")
    page.get_by_label("Hours on Thursday").fill("13–15, 15:30–18")
    page.get_by_role("button", name="Save the hours").click()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_text(before, exact=True)).to_have_count(0)


def test_one_who_leaves_the_others_plies_sees_them_and_can_go_on(page, left, browser):
    other = open_page(browser)
    for each in (page, other):
        each.goto(f"{left}/plies")
        expect(each.get_by_text("[45/0/core/45]")).to_be_visible()
    other.route("**/api/v1/now*", lambda route: route.abort())  # it hears of nothing
    page.get_by_label("Angle of ply 2").fill("90")
    page.get_by_label("Angle of ply 2").press("Enter")
    expect(page.get_by_text("[45/90/core/45]")).to_be_visible()
    other.get_by_role("button", name="Remove ply 3").click()
    expect(other.get_by_text("put in Sedge 280 twill glass at 90°")).to_be_visible()
    other.get_by_role("button", name="Leave theirs").click()
    expect(other.get_by_text("[45/90/core/45]")).to_be_visible()
    other.get_by_role("button", name="Remove ply 3").click()
    expect(page.get_by_text("[45/90/core]")).to_be_visible()  # the first browser, without a reload
    other.close()


def test_touching_a_ply_lights_it_in_every_drawing(page, left):
    page.goto(f"{left}/plies")
    planform = page.get_by_role("figure", name="Where each ply lies")
    expect(page.get_by_text("Touch a ply to see its fibres on the part.")).to_be_visible()
    assert planform.locator("pattern").count() == 0
    page.get_by_label("Angle of ply 2").focus()
    expect(page.get_by_text("Ply 2: Sedge 280 twill glass, as its fibres lie on the part.")).to_be_visible()
    expect(planform.locator("pattern")).to_have_count(1)
    strips = page.get_by_role("img", name=re.compile("^Ply stack")).locator("g[opacity]")
    assert [strip.get_attribute("opacity") for strip in strips.all()] == ["0.45", "1", "0.45", "0.45"]


def test_what_waits_leads_to_its_part(page, shop):
    page.goto(f"{shop.url}/airframe")
    page.get_by_role("link", name=re.compile("Left wing, lower skin: peel")).click()
    expect(page.get_by_role("heading", name=re.compile("Left wing, lower skin")).first).to_be_visible()
    expect(page.get_by_text(re.compile("Mixed Wed 13 May 18:25: check for “peel” from 09:"))).to_be_visible()


def test_a_mix_near_tolerance_may_be_kept_as_it_is_or_begun_again(page, shop):
    left_id = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/mix?part={left_id}&step=core%2Fbed")
    read_lids(page, "Sanna")
    page.get_by_label("Size of this cup").fill("128")
    scale = page.get_by_label("In the cup, by the scale")
    scale.first.fill("100")
    scale.last.fill("29.2")
    expect(page.get_by_test_id("verdict")).to_contain_text("4.3 % over")
    page.get_by_role("button", name="Start again").click()
    expect(page.get_by_role("checkbox", name="Resin lid")).not_to_be_checked()
    read_lids(page, "Sanna")
    page.get_by_label("Size of this cup").fill("128")
    scale.first.fill("100")
    scale.last.fill("29.2")
    page.get_by_role("button", name="Keep it as it is").click()
    expect(page.get_by_text("+4.3 % hardener, near tolerance")).to_be_visible()
    batch = shop.get(f"/api/v1/parts/{left_id}/mix")["batches"][0]
    assert (batch["verdict"], batch["who"], batch["step_key"]) == ("near", "Sanna", "core/bed")
