"""People come in by name and PIN, over whatever page there is; nothing typed is lost, and nothing goes as another's."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from kiteloom.workshop.base.ids import stable_id
from tests.browser.conftest import open_page

PIN = {"Bo": "2580", "Imre": "9137"}


def give_pin(page, name, secret):
    card = page.locator("div.bg-panel").filter(has_text=re.compile(rf"^{name}")).last
    card.get_by_role("button", name=re.compile("^PIN")).click()
    page.get_by_label("PIN (4 to 12 figures) or passphrase").fill(secret)
    page.get_by_label("Once more").fill(secret)
    page.get_by_role("button", name=f"{name} signs in with it").click()


def door(page):
    return page.get_by_role("dialog", name="Who is at this tablet?")


def come_in(page, name):
    if not door(page).get_by_role("button", name="Come in").is_visible():
        door(page).get_by_role("button", name=name, exact=True).click()
    for figure in PIN[name]:
        door(page).get_by_role("button", name=figure, exact=True).click()
    door(page).get_by_role("button", name="Come in").click()
    expect(door(page)).to_have_count(0)


def with_pins(shop, page):
    """Bo and Imre have PINs; Bo, the first, is at the page's tablet."""
    page.goto(f"{shop.url}/crew")
    give_pin(page, "Bo", "1234")
    expect(page.get_by_role("alert")).to_contain_text("all the same or in a row")
    page.get_by_label("PIN (4 to 12 figures) or passphrase").fill(PIN["Bo"])
    page.get_by_label("Once more").fill(PIN["Bo"])
    page.get_by_role("button", name="Bo signs in with it").click()
    expect(page.get_by_role("button", name="Bo is at this tablet: somebody else?")).to_be_visible()
    expect(page.get_by_label("Once more")).to_have_count(0)
    give_pin(page, "Imre", PIN["Imre"])
    expect(page.get_by_label("Once more")).to_have_count(0)


def test_a_tablet_is_handed_on_and_what_was_typed_waits_for_its_own(shop, page, browser):
    # Another tablet was open before there was a PIN: it sees who can come in by now, and counts the wrong ones.
    other = open_page(browser, 820, 1180)
    other.goto(f"{shop.url}/today")
    expect(other.get_by_text("Left wing, lower skin").first).to_be_visible()
    with_pins(shop, page)
    expect(door(other).get_by_role("button", name="Bo", exact=True)).to_be_visible()
    other.reload()
    door(other).get_by_role("button", name="Imre").click()
    door(other).get_by_label("Imre’s PIN or passphrase").fill("0000")
    door(other).get_by_role("button", name="Come in").click()
    expect(door(other).get_by_role("alert")).to_contain_text("not Imre’s PIN or passphrase; 4 more can be tried")
    expect(other.get_by_text("Left wing, lower skin")).to_have_count(0)
    come_in(other, "Imre")
    expect(other.get_by_text("Left wing, lower skin").first).to_be_visible()
    # He writes; meanwhile Bo gives him a new PIN, and his tablet is nobody's. What he typed goes when he is back.
    other.get_by_role("button", name="Write", exact=True).click()
    other.get_by_label("What is to be remembered").fill("The lamp over the jig flickers.")
    imre = stable_id("crew", "Imre")
    kept = {"person_id": imre, "secret": PIN["Imre"]}
    again = (
        "async ([id, body]) => (await fetch(`/api/v1/people/${id}/pin`, {method: 'POST', body: JSON.stringify(body),"
        " headers: {'Content-Type': 'application/json'}})).status"
    )
    assert page.evaluate(again, [imre, kept]) == 200
    expect(door(other)).to_be_visible()
    come_in(other, "Imre")
    other.get_by_role("button", name="Write it down").click()
    expect(other.get_by_label("What is to be remembered")).to_have_count(0)
    # The same once more, and Bo comes in at his tablet: it is not sent as Bo's, and stays where it was.
    other.get_by_role("button", name="Write", exact=True).click()
    other.get_by_label("What is to be remembered").fill("A second lamp flickers.")
    other.route("**/api/v1/now*", lambda route: route.abort())  # nothing is asked before he presses
    assert page.evaluate(again, [imre, kept]) == 200
    other.get_by_role("button", name="Write it down").click()
    other.unroute("**/api/v1/now*")
    door(other).get_by_role("button", name="Bo", exact=True).click()
    come_in(other, "Bo")
    expect(other.get_by_text("Bo is signed in now, and Imre gave this: nothing was saved.")).to_be_visible()
    expect(other.get_by_label("What is to be remembered")).to_have_value("A second lamp flickers.")
    other.goto(f"{shop.url}/logbook")
    expect(other.get_by_text("The lamp over the jig flickers.")).to_be_visible()
    expect(other.get_by_text("A second lamp flickers.")).to_have_count(0)
    other.get_by_role("button", name="Shop", exact=True).click()
    other.get_by_role("button", name="Sign out").click()
    expect(door(other)).to_be_visible()
    other.close()


def test_ticks_made_without_the_shop_are_sent_by_who_made_them(shop, page):
    with_pins(shop, page)
    page.goto(f"{shop.url}/run/{shop_part(page, 'Left wing, upper skin')}/skin-1%2Flayup")
    page.route("**/api/v1/ticks", lambda route: route.abort())
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text("1 of 10")).to_be_visible()
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="Bo is at this tablet: somebody else?").click()
    door(page).get_by_role("button", name="Imre").click()
    come_in(page, "Imre")
    page.unroute("**/api/v1/ticks")
    page.go_back()
    expect(page.get_by_text("What Bo ticked is sent when Bo signs in here.")).to_be_visible()
    page.get_by_test_id("bench-mode").get_by_role("button", name="Imre is at this tablet: somebody else?").click()
    door(page).get_by_role("button", name="Bo", exact=True).click()
    with page.expect_response(lambda answer: answer.url.endswith("/ticks") and answer.status == 201):
        come_in(page, "Bo")
    expect(page.get_by_text("What Bo ticked is sent")).to_have_count(0)
    # Once nobody signs in any more, what was ticked before goes as well.
    page.route("**/api/v1/ticks", lambda route: route.abort())
    page.get_by_role("button", name="Done", exact=True).click()
    away = (
        "async (id) => (await fetch(`/api/v1/people/${id}/pin/away`,"
        " {method: 'POST', headers: {'Content-Type': 'application/json'}})).status"
    )
    assert [page.evaluate(away, stable_id("crew", name)) for name in ("Imre", "Bo")] == [200, 200]
    expect(page.get_by_test_id("bench-mode").get_by_role("button", name="Bo is at")).to_have_count(0)
    with page.expect_response(lambda answer: answer.url.endswith("/ticks") and answer.status == 201):
        page.unroute("**/api/v1/ticks")


def shop_part(page, name):
    frame = page.evaluate("async () => await (await fetch('/api/v1/airframe')).json()")
    return next(part["id"] for one in frame["assemblies"] for part in one["parts"] if part["name"] == name)


def test_an_inspector_comes_by_a_link_signs_a_gate_and_finds_nothing_to_change(shop, page, browser):
    with_pins(shop, page)
    page.get_by_label("The inspector’s name").fill("Harald Brandt")
    page.get_by_role("button", name="Make a link").click()
    link = page.locator("code").inner_text()
    guest = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    guest.set_default_timeout(20_000)
    guest.goto(f"{shop.url}/come#nowhere")
    expect(guest.get_by_role("alert")).to_contain_text("leads nowhere")
    guest.goto("about:blank")
    guest.goto(link)
    expect(guest.get_by_text("Harald Brandt looks on as an inspector")).to_be_visible()
    expect(guest.get_by_role("button", name="Write", exact=True)).to_have_count(0)
    guest.get_by_role("link", name=re.compile("closing joint")).first.click()
    expect(guest.get_by_role("button", name="It is done")).to_have_count(0)
    guest.get_by_label("What you looked at, in a few words").fill("the spar, with a mirror")
    guest.get_by_role("button", name="I have seen it").click()
    expect(guest.get_by_text("Harald Brandt, by their own link: the spar, with a mirror").first).to_be_visible()
    page.get_by_role("button", name="End it now").click()
    expect(page.get_by_text("The link ended")).to_be_visible()
    guest.reload()
    expect(door(guest)).to_be_visible()
    guest.context.close()
