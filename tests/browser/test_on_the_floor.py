"""On the shop floor: a phone, US units, the dark theme, sound, and a long file that is stopped."""

from __future__ import annotations

import re
from datetime import datetime, timedelta

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page


@pytest.fixture
def phone(browser):
    opened = open_page(browser, 390, 844)
    yield opened
    assert opened.complaints == []
    opened.close()


def test_on_a_phone_the_first_thing_and_its_button_are_in_sight(shop, phone):
    shop.release(shop.part_id("Left wing, lower skin"), "core/bed")
    shop.release(shop.part_id("Left wing, aft ribs"), "coat-1/brush")
    phone.goto(shop.url)
    # The watch looks once a second, and longer on a machine that is busy.
    phone.get_by_test_id("alarm").get_by_role("button", name="Silence").click(timeout=30_000)
    start = phone.get_by_role("button", name=re.compile("^Start Rub down between the coats, Left wing")).first
    box = start.bounding_box()
    assert box["y"] + box["height"] < 600
    assert box["height"] >= 64
    strip = phone.get_by_role("banner")
    expect(strip.get_by_test_id("dew-margin")).to_contain_text("above dew")
    expect(strip).to_contain_text("peel 09:")
    assert strip.evaluate("e => e.scrollWidth <= e.clientWidth && e.scrollHeight <= e.clientHeight + 1")
    start.click()
    expect(phone.get_by_text("Started “Rub down between the coats”")).to_be_visible()
    phone.get_by_role("link", name="Loom").click()
    expect(phone.get_by_text("4 days")).to_be_visible()


def test_in_us_units_every_new_view_speaks_fahrenheit(shop, page):
    shop.patch("/api/v1/shop", {"version": shop.get("/api/v1/shop")["version"], "units": "us"})
    for path in ("/today", "/cure", "/air", "/loom"):
        page.goto(shop.url + path)
        expect(page.get_by_role("banner")).to_contain_text(re.compile(r"6\d °F"))
        expect(page.get_by_role("banner").get_by_test_id("dew-margin")).to_contain_text("°F")
        expect(page.get_by_role("main")).not_to_contain_text("°C")
    page.goto(f"{shop.url}/cure")
    card = page.get_by_role("article").filter(has=page.get_by_role("slider")).first
    card.get_by_role("button", name="What if it were warmer?").click()
    card.get_by_label("Heater holds").fill("77")
    card.get_by_role("button", name="Try").click()
    expect(card.get_by_test_id("sentence")).to_contain_text("sooner than planned")


def test_the_alarm_sounds_until_it_is_silenced_and_not_on_a_silent_screen(shop, page):
    page.add_init_script(
        """window.rings = 0
        const sound = { addTo: () => sound, connect: () => sound, start: () => { window.rings += 1 }, stop: () => {} }
        const level = { setValueAtTime: () => {}, exponentialRampToValueAtTime: () => {} }
        window.AudioContext = class {
          state = 'running'
          currentTime = 0
          destination = {}
          createOscillator() { return { ...sound, frequency: {} } }
          createGain() { return { ...sound, gain: level } }
        }"""
    )
    page.goto(shop.url)
    expect(page.get_by_test_id("alarm")).to_be_visible()
    page.wait_for_function("window.rings >= 2")
    page.get_by_role("button", name="Shop").click()
    page.get_by_role("radio", name="Silent").click()
    page.reload()
    expect(page.get_by_test_id("alarm")).to_be_visible()
    page.wait_for_timeout(600)
    assert page.evaluate("window.rings") == 0


def test_a_long_file_shows_how_far_it_is_and_can_be_stopped(shop, page):
    start = datetime(2024, 1, 1)  # noqa: DTZ001
    rows = "\n".join(f"{start + timedelta(minutes=n)},{15 + n % 7}" for n in range(200_000))
    file = {"name": "long.csv", "mimeType": "text/csv", "buffer": f"time,temp °C\n{rows}".encode()}
    page.goto(f"{shop.url}/air")
    page.get_by_label("Logger file for Main shop").set_input_files(file)
    expect(page.get_by_test_id("preview")).to_contain_text("199 940 new readings", timeout=20_000)
    page.get_by_role("button", name="Take it").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("The import was stopped; nothing of the file was taken.")).to_be_visible()
    page.get_by_role("button", name="Take it").click()
    expect(page.get_by_text("199940 new readings of 200000 rows")).to_be_visible(timeout=90_000)


def test_what_cannot_be_planned_stands_under_the_loom_and_in_today(shop, page):
    # Colder than anything sets, for longer than a plan looks ahead.
    begins = datetime(2026, 5, 14, 12)  # noqa: DTZ001
    rows = "\n".join(f"{begins + timedelta(days=n)},5" for n in range(1000))
    shop.post("/api/v1/climate/imports", {"id": "cold", "name": "cold.csv", "text": f"time,temp °C\n{rows}"})
    page.goto(f"{shop.url}/loom")
    expect(page.get_by_role("alert").first).to_contain_text("can't be planned")
    expect(page.get_by_role("heading", level=1)).to_contain_text("steps that can't be planned")
    page.goto(shop.url)
    expect(page.get_by_text("Can't be planned:").first).to_be_visible()


def test_the_dark_theme_draws_the_new_views(shop, page):
    page.add_init_script("localStorage.setItem('theme', 'pitch')")
    for path in ("/today", "/cure", "/loom", "/air"):
        page.goto(shop.url + path)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        ground = page.evaluate("getComputedStyle(document.body).backgroundColor")
        assert ground == "rgb(25, 24, 22)"
