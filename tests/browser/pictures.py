"""Draws docs/screenshots from the demo: one picture of each main view."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from urllib.request import urlopen

import pypdfium2
from playwright.sync_api import Page

from tests.browser.running import RunningShop, chromium, read_lids

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
                _first_morning(page, RunningShop(Path(data) / "empty", "serve"), folder)
                _evening(page, RunningShop(Path(data) / "evening"), folder)
        finally:
            shop.stop()


def _first_morning(page: Page, shop: RunningShop, folder: Path) -> None:
    """An empty folder: its second question, and a part being founded."""
    shop.start()
    try:
        page.goto(shop.url)
        page.get_by_label("The shop’s name").fill("The shed")
        page.get_by_role("radio", name="Metric").click()
        page.get_by_role("button", name="Open the shop").click()
        page.get_by_label("Name 1").fill("Ada")
        page.get_by_role("button", name="woodwork").click()
        page.get_by_role("button", name="Somebody else too").click()
        page.get_by_label("Name 2").fill("Jonas")
        settled(page)
        page.screenshot(path=folder / "first-morning.png")
        shop.post("/api/v1/airframes", {"id": "warbler", "name": "Warbler"})
        page.goto(f"{shop.url}/found?airframe=warbler")
        page.get_by_label("Its name", exact=True).fill("wing panel")
        page.get_by_role("radio", name="Both", exact=True).click()
        page.get_by_label("It belongs to").fill("Wing")
        page.get_by_role("radio", name="By stations").click()
        for n, (at, chord) in enumerate((("0", "1.2"), ("3.4", "0.8")), 1):
            page.get_by_label(f"Station {n}, along the span").fill(at)
            page.get_by_label(f"Station {n}, chord").fill(chord)
        page.get_by_label("Station 1, section", exact=True).fill("4412")
        page.get_by_label("Station 2, leading edge aft").fill("0.15")
        page.get_by_label("Ribs stand").fill("every 260 mm")
        page.mouse.move(50, 500)
        page.wait_for_timeout(1200)
        page.locator("main").evaluate("main => main.scrollTo(0, 0)")
        settled(page)
        page.screenshot(path=folder / "founding.png")
    finally:
        shop.stop()


def _evening(page: Page, shop: RunningShop, folder: Path) -> None:
    """Half an hour before closing, three of them at a layup; in the dark colours."""
    shop.clock = "2026-05-14T17:30"
    shop.start()
    try:
        _at_the_bench(shop, shop.part_id("Left wing, lower skin"))
        page.emulate_media(color_scheme="dark")
        page.goto(shop.url)
        page.evaluate("localStorage.setItem('theme', 'pitch')")
        page.goto(f"{shop.url}/today")
        page.get_by_test_id("closing").scroll_into_view_if_needed()
        page.wait_for_timeout(2000)  # until the cup's clock has heard the shop's
        page.screenshot(path=folder / "closing.png")
    finally:
        shop.stop()


def _tour(page: Page, shop: RunningShop, folder: Path) -> None:
    left = shop.part_id("Left wing, upper skin")
    page.goto(shop.url)
    page.get_by_test_id("alarm").get_by_role("button", name="Silence").click()

    def go(path: str) -> None:
        page.goto(shop.url + path)
        settled(page)

    def shoot(name: str) -> None:
        page.mouse.move(50, 500)
        settled(page)
        page.screenshot(path=folder / f"{name}.png")

    page.set_viewport_size({"width": 1280, "height": 1240})
    go("/today")
    shoot("today")
    page.set_viewport_size({"width": 1280, "height": 800})
    go("/cure")
    shoot("cure")
    left_lower = shop.part_id("Left wing, lower skin")
    go("/loom")
    shoot("loom")
    go("/crew")
    shoot("crew")
    _at_the_bench(shop, left_lower)
    go(f"/run/{left_lower}/skin-2%2Flayup")
    for _ in range(2):
        page.get_by_role("button", name="Done", exact=True).click()
    shoot("bench-mode")
    page.set_viewport_size({"width": 390, "height": 844})
    go("/today")
    shoot("today-phone")
    page.set_viewport_size({"width": 1280, "height": 800})
    go("/airframe")
    shoot("airframe")
    go(f"/part/{shop.part_id('Left aileron')}/steps")
    shoot("part-jobs")
    go(f"/part/{shop.part_id('Left flap, lower skin')}/plies")
    page.get_by_label("Angle of ply 3").focus()
    page.locator("main").evaluate("main => main.scrollTo(0, 0)")
    shoot("part-plies")
    fast = next(p["id"] for p in shop.get("/api/v1/bench")["products"] if "212" in p["name"])
    go(f"/mix?part={left}&step=skin-1/layup&product={fast}")
    read_lids(page, instead=True)
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
    page.set_viewport_size({"width": 1280, "height": 800})
    go("/stores")
    shoot("stores")
    _table_and_scale(page, shop, shoot)
    sheet = pypdfium2.PdfDocument(
        _fetched(f"{shop.url}/api/v1/parts/{shop.part_id('Left flap, lower skin')}/plies.pdf")
    )
    sheet[0].render(scale=1.5).to_pil().crop((0, 0, 893, 800)).save(folder / "bench-sheet.png")


def _fetched(url: str) -> bytes:
    with urlopen(url) as answer:
        return bytes(answer.read())


def _table_and_scale(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """Both ways of the demo's cut plan laid out; the airframe weighed; an aileron read on its hinge."""
    plan = shop.get("/api/v1/cut-plans")["plans"][0]["id"]
    for way in shop.get(f"/api/v1/cut-plans/{plan}")["ways"]:
        shop.post(f"/api/v1/cut-ways/{way['id']}/layout", {})
    page.goto(f"{shop.url}/cut/{plan}")
    page.get_by_role("link", name="At the table, piece by piece").wait_for(timeout=60_000)
    page.get_by_role("button", name="way 2").click()
    page.get_by_role("link", name="At the table, piece by piece").wait_for(timeout=60_000)
    page.locator("main").evaluate("main => main.scrollTo(0, 0)")
    shoot("cut-compare")
    page.get_by_role("button", name="way 1").click()
    page.get_by_text("Goes out as").scroll_into_view_if_needed()
    shoot("cut-plan")
    airframe = shop.get("/api/v1/airframe")["id"]
    page.goto(f"{shop.url}/weights/{airframe}")
    shoot("weights")
    aileron = shop.part_id("Left aileron")
    grams, arm = {"text": "205", "unit": "g"}, {"text": "180", "unit": "mm"}
    reading = {"id": "read", "reads": grams, "arm": arm, "heavy": "tail", "mounted": {"text": "420", "unit": "g"}}
    shop.post(f"/api/v1/parts/{aileron}/hinge-readings", reading)
    page.goto(f"{shop.url}/part/{aileron}/weight")
    page.get_by_role("heading", name="About its hinge").evaluate("head => head.scrollIntoView()")
    shoot("balance")


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


if __name__ == "__main__":
    draw(PICTURES)
