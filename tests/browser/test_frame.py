"""The frame on every screen: readable, reachable, in the shop's units, and by touch and keyboard."""

from __future__ import annotations

import json
import re
import urllib.request
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import expect

from kiteloom.core.base.quantities import show
from tests.browser.conftest import open_page
from tests.browser.running import RunningShop, read_lids

STYLES = (Path(__file__).parents[2] / "web/src/index.css").read_text()
TABS = ("shape", "plies", "mix", "steps")


def colours(selector):
    block = re.search(re.escape(selector) + r" \{(.*?)\n\}", STYLES, re.DOTALL)[1]
    return dict(re.findall(r"--([\w-]+): (#[0-9a-f]{6});", block))


def luminance(colour):
    """WCAG 2.2, relative luminance."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    red, green, blue = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(one, other):
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


PAIRS = [
    *((text, ground) for text in ("ink", "soft", "madder", "weld", "woad") for ground in ("ground", "panel")),
    *(("ink", f"{dye}-wash") for dye in ("woad", "madder", "weld", "lichen")),
    ("madder", "madder-wash"),
    ("ground", "ink"),
    ("ground", "walnut"),
    ("ink", "night"),
]


# Source: WCAG 2.2, success criterion 1.4.3: at least 4.5 : 1.
@pytest.mark.parametrize("theme", [":root", '[data-theme="pitch"]'])
@pytest.mark.parametrize(("text", "ground"), PAIRS)
def test_text_stands_out_from_its_ground_in_both_themes(theme, text, ground):
    worn = colours(theme)
    assert contrast(worn[text], worn[ground]) >= 4.5


def paths(shop):
    left, right = shop.part_id("Left wing, upper skin"), shop.part_id("Right wing, lower skin")
    yield from ("/today", "/airframe", "/cure", "/loom", "/air", "/crew")
    yield f"/part/{shop.part_id('Tailplane')}/steps"
    yield from (f"/part/{left}/{tab}" for tab in TABS)
    yield f"/part/{right}/mix"
    yield f"/mix?part={left}&step=skin-1/layup"
    primer = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if p["name"] == "Sallow primer")
    yield from ("/mix", f"/mix?product={primer}", "/stores", f"/stores/{primer}", "/stores/new?kind=cloth")


# Looks again at whatever changes on the page, so that what is too wide only until it is measured is seen too.
WIDEST = """
    window.tooWide = 0
    new MutationObserver(() => {
        const main = document.querySelector('main')
        if (main) window.tooWide = Math.max(window.tooWide, main.scrollWidth - main.clientWidth)
    }).observe(document, { childList: true, subtree: true })
"""


def test_nothing_is_cut_off_and_every_target_takes_a_thumb(shop, browser):
    page = open_page(browser, 390, 844)
    page.add_init_script(WIDEST)
    for path in paths(shop):
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(shop.url + path)
        expect(page.get_by_role("heading").first).to_be_visible()
        page.wait_for_timeout(300)
        assert page.evaluate("window.tooWide") <= 0, f"{path} was too wide while it came"
        for width, height in ((390, 844), (820, 1180), (1280, 800)):
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_timeout(80)
            too_wide = page.evaluate(
                "document.querySelector('main').scrollWidth - document.querySelector('main').clientWidth"
            )
            assert too_wide <= 0, f"{path} is {too_wide} px wider than {width}"
            small = page.evaluate(
                """() => [...document.querySelectorAll('button, a, input:not([type=file]), [role=tab]')]
                    .filter(e => e.checkVisibility())
                    .map(e => [e.getBoundingClientRect(), e.textContent || e.ariaLabel])
                    .filter(([box, words]) => box.height > 0 && box.height < 44)
                    .map(([box, words]) => `${words}: ${Math.round(box.width)} × ${Math.round(box.height)}`)"""
            )
            assert small == [], f"{path} at {width}"
    page.close()


@pytest.mark.parametrize("units", ["metric", "us"])
def test_figures_on_the_screen_are_those_of_the_one_table(shop, page, units):
    left = shop.part_id("Left wing, upper skin")
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": units})
    for tab in ("shape", "plies", "mix"):
        view = shop.get(f"/api/v1/parts/{left}/{tab}")
        figures = view.get("drawing", view).get("figures") or [f for need in view["needs"] for f in need["figures"]]
        page.goto(f"{shop.url}/part/{left}/{tab}")
        for figure in figures:
            wanted = f"{figure['label']} {show(figure['value'], figure['kind'], units)}: from what?"
            expect(page.get_by_role("button", name=wanted, exact=True).first).to_be_visible()


def test_the_whole_way_to_a_verdict_by_keyboard_alone(shop, page):
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    expect(page.get_by_role("checkbox", name="Resin lid")).to_be_visible()

    def tab_to(role, name, nth=0):
        for _ in range(40):
            page.keyboard.press("Tab")
            if page.get_by_role(role, name=name).nth(nth).evaluate("e => e === document.activeElement"):
                return
        raise AssertionError(f"Tab never reaches {name}")

    tab_to("combobox", "Mixed by")
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")  # the first of the crew
    for lid in ("Resin lid", "Hardener lid"):
        tab_to("checkbox", lid)
        page.keyboard.press("Space")
    tab_to("button", "To the scale")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Size of this cup")).to_be_focused()
    page.keyboard.type("128")  # the cup's size has the focus
    tab_to("textbox", "In the cup, by the scale")
    page.keyboard.type("100")
    tab_to("textbox", "In the cup, by the scale", 1)  # the target between them is there once it is computed
    page.keyboard.type("28,5")
    expect(page.get_by_test_id("verdict")).to_contain_text("Within ±3 %")


def test_another_product_must_have_its_own_lids_read(shop, page):
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    page.get_by_role("checkbox", name="Resin lid").click()
    page.get_by_role("combobox", name="Product").click()
    page.get_by_role("option", name="Tarn 210 with 212 fast").click()
    expect(page.get_by_role("checkbox", name="Resin lid")).not_to_be_checked()
    expect(page.get_by_text("This is planned with Tarn 210 with 214 slow")).to_be_visible()
    expect(page.get_by_text("Tarn 212 B fast")).to_be_visible()


def test_pouring_in_ounces(shop, page):
    left = shop.part_id("Left wing, upper skin")
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "bench": {"scale_unit": "oz"}})
    page.goto(f"{shop.url}/mix?part={left}&step=skin-1/layup")
    read_lids(page)
    page.get_by_label("Size of this cup").fill("12.8")
    expect(page.get_by_role("button", name=re.compile("Pour 10.00 oz of Tarn 210 A"))).to_be_visible()
    scale = page.get_by_label("In the cup, by the scale")
    scale.first.fill("10 oz")
    scale.last.fill("90 g")
    expect(page.get_by_test_id("verdict")).to_contain_text("13.4 % over. Add 1.34 oz Tarn 210 A")


def test_a_batch_written_down_wrong_is_corrected_beside_the_page(shop, page):
    right = shop.part_id("Right wing, lower skin")
    page.goto(f"{shop.url}/part/{right}/mix")
    page.get_by_role("button", name=re.compile("^821 g of Tarn 210")).click()
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("button", name="Add the correction")).to_be_disabled()  # nothing is said to be wrong
    sheet.get_by_label("Resin, really").fill("604")
    sheet.get_by_role("button", name="Add the correction").click()
    expect(sheet.get_by_role("alert").first).to_contain_text("the note is empty")
    sheet.get_by_label("Hardener, really").fill("181")
    sheet.get_by_label("What was wrong").fill("a 4 read as a 6")
    sheet.get_by_role("button", name="Add the correction").click()
    expect(page.get_by_text("correction: a 4 read as a 6")).to_be_visible()
    expect(
        page.get_by_role("button", name=re.compile("785 g of Tarn 210.*near tolerance|785 g.*out of tolerance"))
    ).to_be_visible()


def test_a_shop_that_does_not_answer_says_so_and_nothing_typed_is_lost(own, page):
    shop = own
    left = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{left}/shape")
    expect(page.get_by_label("Station 2, along the span")).to_have_value("7.2 m")
    shop.stop(kill=True)
    page.get_by_label("Station 2, along the span").fill("7.4")
    page.get_by_label("Station 2, along the span").press("Enter")
    expect(page.get_by_text("The shop computer does not answer", exact=True)).to_be_visible()
    expect(page.get_by_text("Nothing was saved; try again.")).to_be_visible()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("7.4")
    shop.start()
    page.get_by_label("Station 2, along the span").press("Enter")
    page.get_by_label("Why it is changed").fill("the jig was longer")
    page.get_by_role("button", name="Change it, as a deviation").click()
    expect(page.get_by_label("Station 2, along the span")).to_have_value("7.4 m")


def test_an_empty_shop_says_what_belongs_there(tmp_path, page):
    empty = RunningShop(tmp_path / "empty", command="serve")
    empty.start()
    try:
        page.goto(f"{empty.url}/mix")
        page.get_by_label("The shop’s name").fill("The shed")  # whatever page was asked for
        expect(page.get_by_text("No temperature given yet: give one")).to_be_visible()
        page.get_by_role("button", name="Open the shop").click()
        expect(page.get_by_role("heading", name="Who works here?")).to_be_visible()
        page.goto(f"{empty.url}/airframe")
        expect(page.get_by_role("heading", name="No airframe yet")).to_be_visible()
        page.goto(f"{empty.url}/mix")
        expect(page.get_by_text("Choose what the mix is for")).to_be_visible()
        page.goto(f"{empty.url}/part/nobody/shape")
        expect(page.get_by_role("alert")).to_contain_text("There is no part “nobody”.")
    finally:
        empty.stop()


def test_the_page_installs_on_a_tablet(shop, page):
    page.goto(f"{shop.url}/today")
    read = page.context.new_cdp_session(page)
    told = read.send("Page.getAppManifest")
    assert told["errors"] == []
    found = json.loads(told["data"])
    assert found["start_url"] == "/today"
    assert page.locator("link[rel='apple-touch-icon']").count() == 1
    for icon in found["icons"]:
        with urllib.request.urlopen(shop.url + icon["src"], timeout=60) as answer:
            assert "x".join(map(str, Image.open(answer).size)) == icon["sizes"]
    # A browser that keeps nothing installs nothing; else there is nothing against it.
    against = {one["errorId"] for one in read.send("Page.getInstallabilityErrors")["installabilityErrors"]}
    assert against <= {"in-incognito"}
