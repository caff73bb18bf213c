"""Draws docs/screenshots from the demo: one picture of each main view."""

from __future__ import annotations

import math
import tempfile
from datetime import datetime, timedelta
from pathlib import Path

from playwright.sync_api import Page

from tests.browser.running import RunningShop, chromium

PICTURES = Path(__file__).parents[2] / "docs" / "screenshots"


def settled(page: Page) -> None:
    page.wait_for_timeout(700)


def draw(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        shop = RunningShop(Path(data) / "demo")
        shop.start()
        try:
            with chromium() as browser:
                page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
                _tour(page, shop, folder)
                shop.stop()
                _days_later(page, RunningShop(Path(data) / "again"), folder)
        finally:
            shop.stop()


def _days_later(page: Page, shop: RunningShop, folder: Path) -> None:
    """Founded on a Thursday, opened again on the Tuesday after it."""
    shop.start()
    shop.stop()
    shop.clock = "2026-05-19T09:10"
    shop.start()
    try:
        page.goto(shop.url)
        page.evaluate("localStorage.setItem('theme', 'linen')")
        page.emulate_media(color_scheme="light")
        page.goto(shop.url)
        page.get_by_test_id("resume").wait_for()
        settled(page)
        page.screenshot(path=folder / "resume.png")
    finally:
        shop.stop()


def _tour(page: Page, shop: RunningShop, folder: Path) -> None:
    left, right = shop.part_id("Left wing, upper skin"), shop.part_id("Right wing, lower skin")
    page.goto(shop.url)
    page.get_by_test_id("alarm").get_by_role("button", name="Silence").click()

    def go(path: str) -> None:
        page.goto(shop.url + path)
        settled(page)

    def shoot(name: str) -> None:
        page.mouse.move(50, 500)
        settled(page)
        page.screenshot(path=folder / f"{name}.png")

    go("/today")
    shoot("today")
    go("/cure")
    shoot("cure")
    left_lower = shop.part_id("Left wing, lower skin")
    go(f"/cure/{left_lower}")
    card = page.get_by_role("article").first
    card.get_by_role("button", name="Post-cure").click()
    card.get_by_label("Ramp an hour").fill("12 °C")
    card.get_by_label("to", exact=True).fill("60 °C")
    card.get_by_role("button", name="Look at it").click()
    page.get_by_test_id("post-cure").wait_for()
    shoot("cure-post-cure")
    go("/loom")
    shoot("loom")
    page.get_by_role("button", name="Closer").click()
    settled(page)
    page.get_by_role("button", name="Lay and bag the inner skin").nth(1).click()
    shoot("loom-why")
    page.keyboard.press("Escape")
    go("/crew")
    shoot("crew")
    _at_the_bench(shop, left_lower)
    go(f"/run/{left_lower}/skin-2%2Flayup")
    for _ in range(2):
        page.get_by_role("button", name="Done", exact=True).click()
    shoot("bench-mode")
    go("/air")
    page.get_by_label("Logger file for Main shop").set_input_files(
        {"name": "cellar-april.csv", "mimeType": "text/csv", "buffer": _odd_logger().encode()}
    )
    page.get_by_test_id("preview").get_by_text("new readings").wait_for()
    shoot("import-preview")
    page.set_viewport_size({"width": 390, "height": 844})
    go("/today")
    shoot("today-phone")
    page.set_viewport_size({"width": 1280, "height": 800})
    go("/airframe")
    shoot("airframe")
    go(f"/part/{shop.part_id('Left aileron')}/steps")
    shoot("part-jobs")
    flap = shop.part_id("Left flap, upper skin")
    shop.post(f"/api/v1/parts/{flap}/jobs", {"id": "a joint", "recipe": "bond", "after": ""})
    go(f"/part/{flap}/what?job=j2")
    page.get_by_text("It can’t be made yet").wait_for()
    shoot("part-job-cant")
    shop.patch(f"/api/v1/parts/{flap}/job", {"job": "j2", "version": 1, "hidden": True})
    go(f"/part/{left}/plies")
    page.get_by_label("Angle of ply 1").focus()
    page.locator("main").evaluate("main => main.scrollTo(0, 0)")
    shoot("part-plies")
    fast = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if "212" in p["name"])
    go(f"/mix?part={left}&step=skin-1/layup&product={fast}")
    shoot("mix-lids")
    page.get_by_role("checkbox", name="Resin lid").click()
    page.get_by_role("checkbox", name="Hardener lid").click()
    page.get_by_test_id("cups-sentence").wait_for()
    page.get_by_role("button", name="Pour a cup of").click()
    pour = page.get_by_role("button", name="Pour", exact=True)

    def held(milliseconds: int) -> None:
        pour.scroll_into_view_if_needed()
        box = pour.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.wait_for_timeout(milliseconds)
        page.mouse.up()
        page.wait_for_timeout(2500)

    page.get_by_label("Size of this cup").fill("400")
    held(12_300)
    resin = float(page.get_by_label("In the cup, by the scale").first.input_value())
    page.get_by_role("button", name="That is in").click()
    # By hand it would be poured; the picture wants the same slip each time.
    shop.post("/api/v1/scale", {"put_g": round(resin * 0.34 * 1.08, 1)})
    page.get_by_text("% over").first.wait_for()
    page.wait_for_timeout(2500)
    shoot("mix-overshot")
    page.get_by_role("button", name="That is in").click()
    page.get_by_role("button", name="Added:").wait_for()
    page.get_by_role("button", name="Start again").click()
    go(f"/mix?part={left}&step=skin-1/layup")
    page.get_by_role("checkbox", name="Resin lid").click()
    page.get_by_role("checkbox", name="Hardener lid").click()
    page.get_by_label("Size of this cup").fill("400")
    page.get_by_label("In the cup, by the scale").first.fill("298.5")
    page.get_by_label("In the cup, by the scale").last.fill("101.2")
    page.set_viewport_size({"width": 820, "height": 1180})
    page.get_by_role("button", name="Keep this batch").click()
    page.get_by_test_id("countdown").wait_for()
    shoot("mix-open-cup")
    page.set_viewport_size({"width": 1280, "height": 800})
    go("/stores")
    shoot("stores")
    page.emulate_media(color_scheme="dark")
    page.evaluate("localStorage.setItem('theme', 'pitch')")
    go(f"/part/{right}/steps")
    shoot("part-steps-pitch")


def _at_the_bench(shop: RunningShop, part: str) -> None:
    """The core was found hard; three of them lay the inner skin, with a cup of resin mixed."""
    shop.release(part, "core/bed")
    bench = shop.get("/api/v1/bench")
    crew = [person["id"] for person in bench["crew"]][:3]
    work = {"id": "laying", "part_id": part, "step_key": "skin-2/layup", "kind": "start", "crew": crew}
    shop.post("/api/v1/work", work)
    tarn = next(p for p in bench["products"] if "214 slow" in p["name"])
    says = {"resin_lid": "Tarn 210 A", "hardener_lid": "Tarn 214 B slow", "sheet_id": tarn["id"]}
    poured = {"resin": {"text": "610", "unit": "g"}, "hardener": {"text": "171", "unit": "g"}}
    cup = {"id": "first cup", "part_id": part, "step_key": "skin-2/layup", "wanted_g": 780}
    shop.post("/api/v1/batches", {**cup, **says, **poured})


def _odd_logger() -> str:
    """Days in April, °F, decimal commas, a gap and two rows that can't be read."""
    rows, at, number = ["No;Temp (F);Date;Time;RH %"], datetime(2026, 4, 22), 0  # noqa: DTZ001
    while at < datetime(2026, 4, 27):  # noqa: DTZ001
        number += 1
        celsius = 13 + 5 * math.cos((at.hour + at.minute / 60 - 15) / 24 * 2 * math.pi)
        shown = "err" if number in (40, 77) else f"{celsius * 1.8 + 32:.1f}".replace(".", ",")
        if not (at.day == 24 and 3 <= at.hour < 9):
            rows.append(f"{number};{shown};{at:%d/%m/%Y};{at:%H:%M};{60 + number % 7}")
        at += timedelta(minutes=30)
    return "\n".join(rows)


if __name__ == "__main__":
    draw(PICTURES)
