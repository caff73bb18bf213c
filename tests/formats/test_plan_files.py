"""The plan written out: read back by other programs, whatever its names are."""

from __future__ import annotations

import csv
import io
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from icalendar import Calendar
from pypdf import PdfReader

from kiteloom.formats.plan_files import Line, plan_csv, plan_ics, week_pdf
from kiteloom.formats.run_sheet_pdf import run_sheet_page

VIENNA = ZoneInfo("Europe/Vienna")
BEGIN = datetime(2026, 10, 24, 16, 0, tzinfo=VIENNA)
# Whatever a builder may type as a name, line breaks and controls apart.
NAMES = st.text(st.characters(blacklist_categories=("Cs", "Cc", "Zl", "Zp")), min_size=1, max_size=30)


def line(key="left:lay", name="Lay", part="Left wing", start=BEGIN, hours=2.0, **more):
    stage = {"check_from": start + timedelta(hours=14), "stage": "peel", "words": "", "caution": "Gloves."}
    end = start + timedelta(hours=hours)
    return Line(key, name, part, start, end, ("Bo", "Imre"), ("The pump",), **{**stage, **more})


@settings(max_examples=60, deadline=None)
@given(name=NAMES, part=NAMES)
def test_any_name_comes_back_from_table_and_calendar(name, part):
    lines = [line(name=name, part=part)]
    (row,) = csv.DictReader(io.StringIO(plan_csv(lines), newline=""))
    for given_name, read in ((name, row["step"]), (part, row["part"])):
        assert read == (f"'{given_name}" if given_name[0] in "=+-@\t\r'" else given_name)
    events = Calendar.from_ical(plan_ics(lines, "The shop", BEGIN)).walk("VEVENT")
    assert next(str(e["summary"]) for e in events) == f"{name} · {part}"


def test_times_stay_true_through_the_night_the_clocks_go_back():
    lines = [line(hours=16)]
    (row,) = csv.DictReader(io.StringIO(plan_csv(lines)))
    assert (row["start"], row["end"]) == ("2026-10-24 16:00", "2026-10-25 08:00")
    assert (row["start (UTC)"], row["end (UTC)"]) == ("2026-10-24T14:00+00:00", "2026-10-25T07:00+00:00")
    work, check = Calendar.from_ical(plan_ics(lines, "The shop", BEGIN)).walk("VEVENT")
    assert work["dtstart"].dt == BEGIN
    assert check["dtstart"].dt == lines[0].check_from
    assert str(check["summary"]) == "Check “peel”: Lay · Left wing"


def test_a_step_in_pieces_has_an_event_each_and_keeps_their_ids_when_it_slides():
    def ids(shift):
        pieces = [line(start=BEGIN + timedelta(days=n, hours=shift)) for n in range(3)]
        events = Calendar.from_ical(plan_ics(pieces, "The shop", BEGIN)).walk("VEVENT")
        return {str(e["uid"]): e["dtstart"].dt for e in events}

    before, after = ids(0), ids(5)
    assert set(before) == set(after)
    assert len(before) == 4  # three stretches of work, one hour to check
    assert all(after[uid] - before[uid] == timedelta(hours=5) for uid in before)


@pytest.mark.parametrize("count", [0, 1, 60])
def test_a_week_of_any_size_has_every_line_on_paper(count):
    lines = [line(key=f"k{n}", name=f"Step <{n}> & more", start=BEGIN + timedelta(minutes=5 * n)) for n in range(count)]
    reader = PdfReader(
        io.BytesIO(week_pdf([("Saturday 24 October", lines), ("Sunday 25 October", [])], "Week", "As planned."))
    )
    text = "\n".join(page.extract_text() for page in reader.pages)
    assert text.count("& more") == count
    assert "Saturday 24 October" in text
    assert "Nothing is planned." in text
    assert "a reading releases a part, not the clock" in text
    assert (len(reader.pages) == 1) == (count < 2)


def test_a_run_sheet_on_paper_is_the_same_file_each_time_and_has_a_box_for_each_line():
    rows = [("Ply 1: twill at 45°", "Call it.", (0.7, -0.7), True), ("Bag on", "", None, False)]
    page = run_sheet_page("Lay <it>", "With Bo.", "Gloves.", rows)
    assert page == run_sheet_page("Lay <it>", "With Bo.", "Gloves.", rows)
    text = PdfReader(io.BytesIO(page)).pages[0].extract_text()
    for words in ("Lay <it>", "Ply 1: twill at 45°", "Bag on", "Take care: Gloves."):
        assert words in text
