"""The logbook in the browser: a note written from anywhere, reloaded half way, photographed, spoken, corrected."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from kiteloom.demo.logbook import checked_blank


def test_a_note_is_written_beside_any_page_reloaded_half_way_and_photographed(shop, page):
    part = shop.part_id("Left wing, upper skin")
    page.goto(f"{shop.url}/part/{part}/plies")
    page.get_by_role("button", name="Write", exact=True).click()
    expect(page.get_by_label("Of", exact=True)).to_contain_text("Left wing, upper skin")
    page.get_by_label("What is to be remembered").fill("A blister at rib 3, as large as a thumbnail.")
    page.get_by_role("button", name="Odile").click()
    page.reload()
    page.get_by_role("button", name="Write", exact=True).click()
    expect(page.get_by_label("What is to be remembered")).to_have_value(re.compile("^A blister"))
    photo = {"name": "blister.jpg", "mimeType": "image/jpeg", "buffer": checked_blank()}
    nothing = {"name": "list.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}
    page.get_by_label("Add a photograph").set_input_files([photo, nothing])
    page.get_by_role("button", name="Write it down").dblclick()
    # One file is no photograph: the words and the other are kept, and what to do is said.
    expect(page.get_by_text("this is not: list.jpg. the file is no photograph")).to_be_visible()
    expect(page.get_by_label("What is to be remembered")).to_have_count(0)  # it is in the book: no more to be changed
    page.get_by_role("button", name="Leave it out").click()
    page.get_by_role("button", name="Send it again").click()
    expect(page.get_by_role("dialog")).to_have_count(0)

    page.goto(f"{shop.url}/part/{part}/record")
    page.get_by_role("link", name="All that the logbook has of it").click()
    entry = page.get_by_role("listitem").filter(has_text="A blister at rib 3")
    expect(entry).to_have_count(1)
    expect(entry).to_contain_text("Odile")
    expect(entry.get_by_role("img")).to_have_count(1)
    assert entry.get_by_role("img").evaluate("async (img) => { await img.decode(); return img.naturalWidth }") == 480

    entry.get_by_role("button", name="Correct it").click()
    page.get_by_label("As it should be").fill("A blister at rib 4.")
    page.get_by_role("button", name="Correct it", exact=True).click()
    expect(page.get_by_text("It was written as: A blister at rib 3")).to_be_visible()
    page.get_by_role("button", name="All of the book").click()
    page.get_by_label("Words to look for").fill("BLISTER odile")
    expect(page.get_by_role("listitem").filter(has_text="blister")).to_have_count(2)


def test_a_question_is_answered_where_it_stands(shop, page):
    page.goto(f"{shop.url}/logbook")
    page.get_by_role("button", name="Questions still open: 2").click()
    first = page.get_by_role("listitem").filter(has_text="hinge screws")
    first.get_by_role("button", name="It was answered").click()
    page.get_by_label("The answer").fill("They reach: the nut's ring is 14 mm in.")
    page.get_by_role("button", name="Keep the answer").click()
    expect(page.get_by_text("who answered it is not said; name them")).to_be_visible()
    page.get_by_label("By whom").fill("The kit maker")
    page.get_by_label("Revision of the manual").fill("D, page 7")
    page.get_by_role("button", name="Keep the answer").click()
    expect(page.get_by_role("listitem").filter(has_text="hinge screws")).to_have_count(0)  # open no more
    page.get_by_role("button", name="All of the book").first.click()
    expect(page.get_by_text("It changed the manual: D, page 7.")).to_be_visible()
    expect(page.get_by_role("button", name="Questions still open: 1")).to_be_visible()


def test_a_note_is_spoken_where_there_is_a_microphone(shop, page):
    page.context.grant_permissions(["microphone"])
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="Write", exact=True).click()
    page.get_by_role("button", name="Speak it").click()
    expect(page.get_by_role("button", name="Spoken enough, 2 s")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Spoken enough")).click()
    expect(page.get_by_role("listitem").filter(has_text="What was spoken")).to_be_visible()
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.goto(f"{shop.url}/logbook?kind=note")
    heard = "async (audio) => { await new Promise((go) => { audio.onloadedmetadata = go; audio.load() }); return 1 }"
    assert page.get_by_label("Spoken, 1").first.evaluate(heard) == 1


def test_the_build_record_is_printed_whole_or_of_some_days(shop, page):
    page.goto(f"{shop.url}/logbook")
    page.get_by_role("button", name="Build record").click()
    link = page.get_by_role("link", name="Print the build record")
    expect(link).to_have_attribute("href", re.compile(r"record\.pdf\?$"))
    page.get_by_label("From").fill("9 May")
    page.get_by_label("Until").fill("8 May")
    expect(page.get_by_text("it ends before it begins")).to_be_visible()
    expect(link).to_have_count(0)
    page.get_by_label("Until").fill("yesterday")
    path = link.get_attribute("href")
    assert path.endswith("?since=2026-05-09&until=2026-05-13")
    kind = page.evaluate("async (path) => (await fetch(path)).headers.get('content-type')", path)
    assert kind == "application/pdf"


def test_without_the_shop_what_is_being_written_stays(shop, page):
    page.goto(f"{shop.url}/today")
    page.get_by_role("button", name="Write", exact=True).click()
    page.get_by_label("What is to be remembered").fill("The lamp over the jig flickers.")
    page.route("**/api/v1/log-notes", lambda route: route.abort())
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("alert").filter(has_text="answer")).to_be_visible()
    expect(page.get_by_label("What is to be remembered")).to_have_value("The lamp over the jig flickers.")
    page.unroute("**/api/v1/log-notes")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_note_whose_answer_was_lost_and_that_reads_otherwise_now_corrects_what_was_kept(shop, page):
    def answer_lost(route):
        route.fetch()
        route.abort()

    page.goto(f"{shop.url}/logbook")
    page.get_by_role("button", name="Write", exact=True).click()
    page.get_by_label("What is to be remembered").fill("A blister at rib 5.")
    page.route("**/api/v1/log-notes", answer_lost)
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text("does not answer")).to_be_visible()
    page.unroute("**/api/v1/log-notes")
    page.get_by_label("What is to be remembered").fill("A blister at rib 6.")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    entry = page.get_by_role("listitem").filter(has_text="A blister at rib 6.")
    expect(entry).to_contain_text("It was written as: A blister at rib 5.")
