"""What is said of a part and its steps on their own pages; closings opened again and seen; what can't be supposed."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.test_in_the_stores import chosen, sold  # noqa: F401  the fixture

SKIN = "Left wing, upper skin"


def test_a_step_waits_for_a_delivery_until_it_came_and_takes_an_item(sold, page):  # noqa: F811
    page.goto(f"{sold.url}/part/{sold.part_id(SKIN)}/steps")
    page.get_by_role("button", name=re.compile("^Trim and sand the edges")).first.click()
    page.get_by_role("button", name="Waits for a delivery…").click()
    expect(page.get_by_role("button", name="Wait for it")).to_be_disabled()  # no day
    page.get_by_label("Expected").fill("1 Aug")
    page.get_by_role("button", name="Wait for it").click()
    expect(page.get_by_role("alert").first).to_be_visible()  # for what?
    expect(page.get_by_label("Expected")).to_have_value(re.compile("1 Aug"))
    page.get_by_label("Waits for").fill("Sanding blocks")
    page.get_by_role("button", name="Wait for it").dblclick()
    waits = page.get_by_text(re.compile("^Waits for Sanding blocks, expected .*1 Aug"))
    expect(waits).to_have_count(1)
    page.get_by_role("button", name="It came").click()
    expect(page.get_by_text("Sanding blocks: arrived")).to_be_visible()
    page.get_by_role("button", name="It did not").click()
    expect(waits).to_be_visible()
    page.get_by_role("button", name="Not awaited").click()
    expect(page.get_by_text("Sanding blocks")).to_have_count(0)
    takes = page.get_by_role("region", name="What it takes that is not mixed")
    takes.get_by_role("button", name="Takes an item…").click()
    chosen(page, takes, "Item", "Bush")
    takes.get_by_label("How many").fill("two")
    takes.get_by_role("button", name="It takes them").click()
    expect(takes.get_by_text("“two”")).to_be_visible()
    takes.get_by_label("How many").fill("2")
    takes.get_by_role("button", name="It takes them").dblclick()
    expect(takes.get_by_role("link", name="Takes 2 × Bush")).to_have_count(1)


def test_a_part_is_named_copied_differs_and_is_taken_out_and_back(shop, page):
    left = shop.part_id(SKIN)
    page.goto(f"{shop.url}/part/{left}/shape")
    page.get_by_role("button", name="This part…").click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("Its name").fill("Right wing, upper skin")
    sheet.get_by_label("Its name").press("Enter")
    expect(sheet.get_by_role("alert").first).to_contain_text("already")
    expect(sheet.get_by_label("Its name")).to_have_value("Right wing, upper skin")
    sheet.get_by_label("Its name").fill("Left wing, top")
    sheet.get_by_label("Its name").press("Enter")
    expect(page.get_by_role("heading", name="Left wing, top", level=1)).to_be_visible()
    sheet.get_by_role("button", name="Let it differ from now on").dblclick()
    expect(sheet.get_by_role("button", name="Let it differ from now on")).to_have_count(0)
    sheet.get_by_label("A copy with its jobs, to be changed by itself").fill("Spare top")
    sheet.get_by_role("button", name="Copy").dblclick()
    expect(page.get_by_role("heading", name="Spare top", level=1)).to_be_visible()
    page.get_by_role("button", name="This part…").click()
    page.get_by_role("dialog").get_by_role("button", name="Take this part out").click()
    expect(page).to_have_url(re.compile("/airframe"))
    expect(page.get_by_role("link", name=re.compile("Spare top"))).to_have_count(0)
    assert "Spare top" not in str(shop.get("/api/v1/airframe")["assemblies"])


def test_what_cannot_be_supposed_says_why_beside_what_was_typed(shop, page):
    page.goto(f"{shop.url}/loom")
    page.get_by_role("button", name="Weigh up…").click()
    page.get_by_role("radio", name="What if").click()
    form = page.get_by_role("form", name="Suppose")
    for kind, typed, says in (
        ("a room is heated", {"Held at": "warm"}, "“warm”"),
        ("a room is heated", {"Held at": "90"}, "it can't be above 60 °C"),
        ("it gets colder outside", {"Colder by": "-3", "From": "20 May", "To": "22 May"}, "-3"),
        ("it gets colder outside", {"Colder by": "5", "From": "someday"}, "“someday” is no day"),
        ("there is more of a place or device", {"So many more": "some"}, "“some”"),
        ("somebody is away", {"From": "20 May", "To": "18 May"}, "would be back before going"),
    ):
        chosen(page, form, "Suppose that", kind)
        for label, text in typed.items():
            form.get_by_label(label, exact=True).fill(text)
        form.get_by_role("button", name="Suppose it").click()
        expect(form.get_by_role("alert").filter(has_text=says).first).to_be_visible()
    expect(form.get_by_label("From", exact=True)).to_have_value(re.compile("20 May"))
    chosen(page, form, "Suppose that", "a delivery comes later, or sooner")
    expect(form.get_by_text("There is nothing of that here yet.")).to_be_visible()
    expect(form.get_by_role("button", name="Suppose it")).to_be_disabled()


def test_a_closing_is_asked_for_seen_opened_again_and_what_was_missed_is_on_the_list(whole, page):
    page.goto(f"{whole.url}/gates")
    lists = page.get_by_role("region", name="The shop’s lists")
    lists.get_by_role("button", name="Another list…").click()
    lists.get_by_role("button", name="Keep this list").click()
    expect(lists.get_by_role("alert").first).to_contain_text("the name has 0 letters")
    lists.get_by_label("Its name").fill("Short")
    lists.get_by_role("textbox").last.fill("Swept out, 5 min\n\nTools counted")
    lists.get_by_role("button", name="Keep this list").dblclick()
    expect(lists.get_by_text("2 lines")).to_have_count(1)
    page.get_by_role("link", name="Right wing, closing joint").click()
    page.get_by_role("button", name="Bo", exact=True).click()
    chosen(page, page, "Or a list of the shop’s", "Short")
    expect(page.get_by_text("Tools counted")).to_be_visible()
    more = page.get_by_role("region", name="More lines")
    more.get_by_label(re.compile("^Another line")).fill("Nuts tightened, 20 min")
    more.get_by_role("button", name="Add it").dblclick()
    nuts = page.get_by_role("listitem").filter(has_text="Nuts tightened")
    expect(nuts).to_have_count(1)
    nuts.get_by_role("button", name="Done").click()
    nuts.get_by_role("button", name="Open again").click()
    expect(nuts.get_by_role("button", name="Done")).to_be_visible()
    inspector = page.get_by_role("region", name="Inspector")
    inspector.get_by_label("For which day").fill("3 Jun")
    inspector.get_by_label("To see what").fill("the bond line")
    inspector.get_by_role("button").last.click()
    expect(inspector.get_by_text(re.compile("^Asked for: .*3 Jun"))).to_be_visible()
    expect(inspector.get_by_text("Not seen yet: it is not closed before.")).to_be_visible()
    page.get_by_role("button", name="I looked: sign it").click()
    expect(page.get_by_role("region", name="Signature").get_by_role("alert")).to_contain_text("lines are open")
    for row in page.get_by_role("listitem").filter(has=page.get_by_role("button", name="Not needed…")).all()[::-1]:
        row.get_by_role("button", name="Not needed…").click()
        row.get_by_label("Why it is not needed").fill("seen on the bench")
        row.get_by_role("button", name="Not needed", exact=True).click()
        expect(row.get_by_label("Why it is not needed")).to_have_count(0)
    page.get_by_role("button", name="Sanna", exact=True).click()
    page.get_by_role("button", name="I looked: sign it").dblclick()
    expect(page.get_by_text("Sanna looked and signed")).to_have_count(1)
    again = page.get_by_role("region", name="Signature")
    again.get_by_role("button", name="Open it again").click()
    expect(again.get_by_role("alert")).to_contain_text("ay who opens it again, and why")
    again.get_by_label("Why it is opened again").fill("a rag is missing")
    again.get_by_role("button", name="Open it again").click()
    expect(page.get_by_role("button", name="I looked: sign it")).to_be_visible()
    inspector.get_by_label(re.compile("^Who saw it")).fill("The inspector, in the logbook")
    inspector.get_by_role("button").last.click()
    expect(inspector.get_by_text(re.compile("^Seen: .*in the logbook"))).to_be_visible()
    missed = page.get_by_role("region", name="Next time")
    chosen(page, missed, "On the list", "Short")
    missed.get_by_label("What was missed, or nearly").fill("Rags counted")
    missed.get_by_role("button", name="Put it on the list").dblclick()
    expect(missed.get_by_text("On the list “Short” from now on.")).to_be_visible()
    page.goto(f"{whole.url}/gates")
    expect(lists.get_by_text("3 lines")).to_be_visible()
