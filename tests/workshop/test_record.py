"""The build record: who built it, each part with what was kept of it, and a digest that a changed fact shows in."""

from __future__ import annotations

import io
import re
import sqlite3
from contextlib import closing

import pypdf
import pytest
from tests.workshop.test_bench import later
from tests.workshop.test_logbook import lying, sent

from kiteloom.core.log.work import spent
from kiteloom.store import file
from kiteloom.store.models import Base, Fact, Work
from kiteloom.workshop.log.digests import tables_of_parts
from kiteloom.workshop.log.notes import notes_from, standing_notes

OF_THE_SHOP = {
    *("forecast", "iron_reading", "item_note", "kept_plan", "lot_note", "order_note", "outlook", "piece_cut"),
    *("pump", "remnant", "remnant_note", "shop_copy", "temperature_import", "way_cut"),
}


def printed(shop, path):
    got = shop.client.get(f"/api/v1{path}")
    assert got.status_code == 200, got.text
    return pypdf.PdfReader(io.BytesIO(got.data))


def words(pdf):
    return re.sub(r"\s+", " ", " ".join(page.extract_text() for page in pdf.pages))


def of_airframe(shop, period=""):
    return printed(shop, f"/airframes/{shop.get('/airframe')['id']}/record.pdf{period}")


def digests(pdf):
    return re.findall(r"[0-9a-f]{64}", words(pdf))


def minutes(text):
    hours, _, rest = text.partition(" h")
    return 60 * int(hours) + int(rest.strip(" min") or 0) if " h" in text else int(text.removesuffix(" min"))


def test_who_built_it_adds_up_to_all_the_hours_that_were_noted(shop):
    text = words(of_airframe(shop))
    with shop.store.reading() as uow:
        steps = {}
        for row in standing_notes(uow):
            steps.setdefault((row.part_id, row.step_key), []).append(row)
        whole = sum(sum(spent(notes_from(rows), 1e9).values()) for rows in steps.values())
    table = text.split("Who built it")[1].split("What is in it")[0]
    told = re.findall(r"\d+ h(?: \d+ min)?|\d+ min", table.rpartition("Together")[2])
    assert minutes(told[-1]) == pytest.approx(whole)
    assert sum(map(minutes, told[:-1])) == pytest.approx(whole, abs=len(told))
    assert "bagged sandwich skin" in table


def test_a_part_has_its_mixes_with_lots_readings_cures_and_photographs(shop):
    part = shop.part("Left wing, lower skin")
    assert sent(shop, "p", lying(), f"steps/{part}").status_code == 201
    pdf = printed(shop, f"/parts/{part}/record.pdf")
    text = words(pdf)
    assert pdf.metadata.title == "Build record, Left wing, lower skin"
    for said in (
        "Jobs: bagged sandwich skin",
        "630.0 g and 176.0 g of Tarn 210 with 214 slow, lot T-4471: -0.2 % hardener, within tolerance.",
        "Thumbnail leaves no mark.",
        "Which holds? The kit maker, by letter",
        "It changed the manual: Revision C, page 41.",
        "; peel Sun 10 May",
        "Photographed.",
        "it approves nothing",
    ):
        assert said in text
    assert sum(len(page.images) for page in pdf.pages) == 1


def test_a_record_can_be_kept_for_years(shop):
    pdf = of_airframe(shop)
    fonts = [font.get_object() for page in pdf.pages for font in page["/Resources"]["/Font"].values()]
    assert fonts
    assert all("/FontFile2" in font["/FontDescriptor"] for font in fonts)
    root, said = pdf.trailer["/Root"], pdf.xmp_metadata
    assert said.dc_title["x-default"] == pdf.metadata.title == "Build record, Reedling"
    assert said.dc_description["x-default"] == pdf.metadata.subject
    profile = root["/OutputIntents"][0]["/DestOutputProfile"].get_data()
    assert profile[36:40] == b"acsp"  # ICC.1:2022, 7.2: the signature of a profile file
    assert profile[16:20] == b"RGB "


def test_a_joint_has_its_glue_line_with_what_is_hollow(shop):
    part = shop.part("Left wing, closing joint")
    line = "Glue line, 15.200 m × 30 mm, 1.00 mm thick."
    before = printed(shop, f"/parts/{part}/record.pdf")
    assert f"{line} It was not tapped." in words(before)
    tap = {"id": "t", "along": 60, "across": 1, "voids": [[3, 0], [4, 0]]}
    shop.ask("POST", f"/parts/{part}/taps", tap, 201)
    after = printed(shop, f"/parts/{part}/record.pdf")
    assert f"{line} Tapped 14 May 2026 09:20. 2 of 60 places sound dull. Drawn wider than it is." in words(after)
    filled = [sum(page.get_contents().get_data().count(b"B*") for page in pdf.pages) for pdf in (before, after)]
    assert filled == [0, 2]  # filled and edged (ISO 32000-1, 8.5.3.1)


def test_a_period_has_what_happened_in_it_and_nothing_else(shop):
    text = words(of_airframe(shop, "?since=2026-05-09&until=2026-05-11"))
    assert "from 9 May 2026 until 11 May 2026" in text
    assert "330.0 g and 92.0 g" in text  # on the 9th
    assert "560.0 g and 157.0 g" not in text  # on the 13th
    assert "Prepare mould, cut cloth. 1 h 50 min" not in text  # on the 8th
    assert minutes(re.findall(r"Together (?:[\dhmin ]+?)?(\d+ h(?: \d+ min)?) What is in it", text)[0]) < 15 * 60


def test_a_fact_that_was_changed_shows_in_its_digest_and_in_all_after_it(shop):
    before = digests(of_airframe(shop))
    assert digests(of_airframe(shop)) == before
    with shop.store.reading() as uow:
        row = next(row for row in uow.all(Work) if row.part_id == shop.part("Left wing, aft ribs"))
    path = shop.folder / file.NAME
    shop.store.close()
    with closing(sqlite3.connect(path)) as database:  # as somebody would who wants an hour less
        database.execute("DROP TRIGGER work_no_update")
        database.execute("UPDATE work SET happened_at = datetime(happened_at, '-1 minute') WHERE id = ?", (row.id,))
        database.commit()
    shop.reopen()
    after = digests(of_airframe(shop))
    changed = [one != other for one, other in zip(before, after, strict=True)]
    assert changed[0] is False
    assert changed == sorted(changed)
    assert changed[-1]


def test_every_fact_of_a_part_is_under_its_digest(shop, left_upper):
    facts = {mapper.class_.__tablename__ for mapper in Base.registry.mappers if issubclass(mapper.class_, Fact)}
    # What is left out is of the shop: its air, plans, stores, cutting table, irons and copies.
    assert facts - {table.name for table, _ in tables_of_parts()} == OF_THE_SHOP
    before = digests(printed(shop, f"/parts/{left_upper}/record.pdf"))
    weighs = {"id": "g", "job": "", "moment": "after", "weighs": {"text": "14", "unit": "kg"}, "sure": True}
    shop.ask("POST", f"/parts/{left_upper}/weighings", weighs, 201)
    weighed = digests(printed(shop, f"/parts/{left_upper}/record.pdf"))
    shop.ask("POST", "/taken-back", {"id": "t", "what": "weighing", "of_id": "g", "note": "of the other"}, 201)
    later(shop, minutes=1)
    assert len({*before, *weighed, *digests(printed(shop, f"/parts/{left_upper}/record.pdf"))}) == 3


def test_a_part_nothing_was_done_of_and_a_shop_in_us_units_print_too(shop):
    assert "No hours were noted." in words(printed(shop, f"/parts/{shop.part('Left wing, upper skin')}/record.pdf"))
    shop.ask("PATCH", "/shop", {"version": shop.get("/shop")["version"], "units": "us", "dates": "month"})
    pdf = printed(shop, f"/parts/{shop.part('Left wing, lower skin')}/record.pdf")
    assert tuple(map(round, pdf.pages[0].mediabox[2:])) == (612, 792)
    assert "May 9 2026" in words(pdf)
    assert shop.client.get("/api/v1/airframes/none/record.pdf").status_code == 404
