"""One browser for all, a shop of its own for each: near by, or in a process that can be killed."""

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.running import NearShop, RunningShop, chromium

# How long a thing may take to show before it is missed: machines are noisy, and speeds are for `make bench`.
expect.set_options(timeout=45_000)


@pytest.fixture(scope="session")
def browser():
    with chromium() as opened:
        yield opened


@pytest.fixture
def shop(seeded, tmp_path):
    near = NearShop(tmp_path / "demo", seeded)
    yield near
    near.stop()


@pytest.fixture
def whole(whole_folder, tmp_path):
    """All of the airframe, served near by."""
    near = NearShop(tmp_path / "whole", whole_folder)
    yield near
    near.stop()


@pytest.fixture
def own(seeded, tmp_path):
    """A shop in a process of its own, to be killed and started again."""
    running = RunningShop(tmp_path / "demo", like=seeded)
    running.start()
    yield running
    running.stop()
    print(running.said())  # shown with a failure


def open_page(browser: Browser, width: int = 1280, height: int = 800) -> Page:
    page = browser.new_page(viewport={"width": width, "height": height}, color_scheme="light")
    page.set_default_timeout(45_000)
    page.complaints = []
    page.on("pageerror", lambda error: page.complaints.append(str(error)))
    # A refusal (409, 422) is an answer, and a restart cuts a poll short; a broken policy is neither.
    page.on("console", lambda said: page.complaints.append(said.text) if "Security Policy" in said.text else None)
    return page


@pytest.fixture
def page(browser: Browser):
    opened = open_page(browser)
    yield opened
    assert opened.complaints == [], "the page's own console must stay quiet"
    opened.close()
