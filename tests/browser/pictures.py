"""Draws docs/screenshots from the demo: one picture of each main view."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable
from pathlib import Path

import pypdfium2 as pdfium
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
    go("/loom")
    page.get_by_role("heading", name=re.compile("^All done")).wait_for(timeout=60_000)
    shoot("loom")
    go("/airframe")
    shoot("airframe")
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
    _stores(page, shop, shoot)
    _table_and_scale(page, shop, shoot)
    _gates(page, shop, shoot)
    _weighed_up(page, shop, shoot)
    _record(page, shop, folder)
    _door(page, shop, shoot)


def _stores(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """Needs by day, what to order; the logbook."""

    def go(path: str) -> None:
        page.goto(shop.url + path)
        settled(page)

    for name, path in (("needs", "/stores/needs"), ("to-order", "/stores/order"), ("logbook", "/logbook")):
        go(path)
        shoot(name)


def _table_and_scale(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """The ways of the demo's cut plan laid out; the airframe weighed; an aileron read on its hinge."""
    plans = {plan["name"]: plan["id"] for plan in shop.get("/api/v1/cut-plans")["plans"]}
    plan = plans["Flaps and ailerons"]
    for way in shop.get(f"/api/v1/cut-plans/{plan}")["ways"]:
        shop.post(f"/api/v1/cut-ways/{way['id']}/layout", {})
    page.goto(f"{shop.url}/cut/{plan}")
    page.get_by_role("link", name="At the table, piece by piece").wait_for(timeout=60_000)
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


def _gates(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """What is left before the closings."""
    page.goto(f"{shop.url}/gates")
    settled(page)
    shoot("gates")


def _weighed_up(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """A better order that is looked for; something supposed; what would help most; how sure the end is."""
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Weigh up…").click()
    page.get_by_role("radio", name="2\u00a0min").click()
    page.get_by_role("button", name="Look for a better order").click()
    page.get_by_text("sooner than the plan").wait_for(timeout=90_000)
    page.wait_for_timeout(6_000)
    shoot("better-order")
    page.get_by_role("button", name="Stop, keep the best so far").click()
    page.get_by_role("button", name="Leave it").click()

    def enough() -> None:
        page.get_by_role("button", name="Stop, it is enough").click()
        page.get_by_role("button", name=re.compile("again$")).wait_for()

    page.get_by_role("radio", name="What if").click()
    page.get_by_role("combobox", name="Suppose that").click()
    page.get_by_role("option", name="there is more of a place").click()
    page.get_by_role("combobox", name="Which").click()
    page.get_by_role("option", name="The drying stand").click()
    page.get_by_role("button", name="Suppose it").click()
    page.get_by_role("heading", name=re.compile("^Supposed")).wait_for(timeout=90_000)
    page.set_viewport_size({"width": 1280, "height": 1120})
    shoot("what-if")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("button", name="Drop it").click()
    page.get_by_role("radio", name="How sure").click()
    page.get_by_role("button", name="Draw them").click()
    page.get_by_text("100 plans drawn").wait_for(timeout=180_000)
    shoot("how-sure")
    enough()
    page.get_by_role("radio", name="What helps most").click()
    page.get_by_role("button", name="Try each").click()
    page.get_by_role("button", name="Try again").wait_for(timeout=240_000)
    shoot("what-helps")


def _record(page: Page, shop: RunningShop, folder: Path) -> None:
    """A page of the build record as it is printed: the mixes of a part, and its cures over their temperature."""
    part = shop.part_id("Left wing, lower skin")
    printed = page.request.get(f"{shop.url}/api/v1/parts/{part}/record.pdf").body()
    document = pdfium.PdfDocument(printed)
    shown = next(one for one in document if "Mixes" in one.get_textpage().get_text_range())
    shown.render(scale=1.45).to_pil().save(folder / "record.png")


def _door(page: Page, shop: RunningShop, shoot: Callable[[str], None]) -> None:
    """Who is at the tablet; what an inspector sees."""
    people = [one["id"] for one in shop.get("/api/v1/people")["people"]]

    def tells(path: str, body: dict[str, object]) -> dict[str, str]:
        answer = page.request.post(shop.url + path, data=body)
        assert answer.ok, answer.text()
        found: dict[str, str] = answer.json()
        return found

    for n, person in enumerate(people):
        tells(f"/api/v1/people/{person}/pin", {"person_id": person, "secret": f"25{n}80"})
    link = tells("/api/v1/guests", {"id": "seen", "name": "H. Brandt", "days": 7})["link"]
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="is at this tablet").click()
    page.get_by_role("dialog").get_by_role("button", name="Imre").click()
    for key in "251":
        page.get_by_role("dialog").get_by_role("button", name=key, exact=True).click()
    shoot("sign-in")
    page.goto(f"{shop.url}/come#{link}")
    page.get_by_role("link", name=re.compile("Left wing, closing joint")).first.click()
    page.get_by_label("What you looked at, in a few words").fill("The open wing, spar and ribs, by lamp and mirror")
    shoot("inspector")


if __name__ == "__main__":
    draw(PICTURES)
