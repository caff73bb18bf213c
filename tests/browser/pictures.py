"""Draws docs/screenshots from the demo: one picture of each main view."""

from __future__ import annotations

import tempfile
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
        finally:
            shop.stop()


def _tour(page: Page, shop: RunningShop, folder: Path) -> None:
    left, right = shop.surface_id("Left wing, upper skin"), shop.surface_id("Right wing, lower skin")

    def go(path: str) -> None:
        page.goto(shop.url + path)
        settled(page)

    def shoot(name: str) -> None:
        page.mouse.move(50, 500)
        settled(page)
        page.screenshot(path=folder / f"{name}.png")

    go("/airframe")
    shoot("airframe")
    go(f"/surface/{left}/shape")
    shoot("surface-shape")
    page.get_by_role("button", name="Upper skin area").click()
    shoot("from-what")
    go(f"/surface/{left}/plies")
    page.get_by_label("Angle of ply 1").focus()
    shoot("surface-plies")
    go(f"/surface/{right}/mix")
    shoot("surface-mix")
    go(f"/surface/{left}/steps")
    shoot("surface-steps")
    go(f"/mix?surface={left}&step=skin-1/layup")
    shoot("mix-lids")
    page.get_by_role("checkbox", name="Resin lid").click()
    page.get_by_role("checkbox", name="Hardener lid").click()
    page.get_by_label("Size of this cup").fill("400")
    page.get_by_label("In the cup, by the scale").first.fill("312.4")
    shoot("mix-pouring")
    page.get_by_label("In the cup, by the scale").last.fill("96.8")
    shoot("mix-overshot")
    page.emulate_media(color_scheme="dark")
    page.evaluate("localStorage.setItem('theme', 'pitch')")
    go(f"/surface/{right}/steps")
    shoot("surface-steps-pitch")


if __name__ == "__main__":
    draw(PICTURES)
