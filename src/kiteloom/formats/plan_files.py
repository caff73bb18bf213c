"""The plan written out: a week's sheet (PDF), a calendar (iCalendar), a table (CSV)."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from icalendar import Calendar, Event
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from kiteloom.core.base.calendar import time_words
from kiteloom.formats.cells import as_text
from kiteloom.formats.fonts import page_fonts


@dataclass(frozen=True)
class Line:
    """One stretch of work, as it is written out. ``key`` stays the same however the plan slides.

    On paper one that has no length is a look at a part, and ``words`` say from when.
    """

    key: str
    name: str
    part: str
    start: datetime
    end: datetime
    people: tuple[str, ...]
    stations: tuple[str, ...]
    check_from: datetime | None
    stage: str
    words: str
    caution: str
    state: str = "to do"


def plan_csv(lines: Sequence[Line]) -> str:
    """One row a stretch of work; times are the shop's own, as a spreadsheet reads them, and UTC beside them."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "part",
            "step",
            "start",
            "end",
            "people",
            "stations",
            "check for",
            "check from",
            "state",
            "start (UTC)",
            "end (UTC)",
        ]
    )
    for line in lines:
        writer.writerow(
            [
                as_text(line.part),
                as_text(line.name),
                f"{line.start:%Y-%m-%d %H:%M}",
                f"{line.end:%Y-%m-%d %H:%M}",
                as_text(", ".join(line.people)),
                as_text(", ".join(line.stations)),
                line.stage,
                f"{line.check_from:%Y-%m-%d %H:%M}" if line.check_from else "",
                line.state,
                line.start.astimezone(UTC).isoformat(timespec="minutes"),
                line.end.astimezone(UTC).isoformat(timespec="minutes"),
            ]
        )
    return out.getvalue()


def plan_ics(lines: Sequence[Line], shop: str, stamp: datetime) -> bytes:
    """An event for each stretch of work and for each hour to check; ids are stable, so events move in place."""
    calendar = Calendar()
    calendar.add("prodid", "-//Kite Loom//plan//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", shop)
    counts: dict[str, int] = {}
    for line in lines:
        number = counts[line.key] = counts.get(line.key, 0) + 1
        event = Event()
        event.add("uid", f"{line.key}#{number}@kiteloom".replace(" ", "_"))
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", line.start.astimezone(UTC))
        event.add("dtend", line.end.astimezone(UTC))
        event.add("summary", f"{line.name} · {line.part}")
        who = ", ".join(line.people)
        event.add("description", "\n".join(part for part in (line.words, who, line.caution) if part))
        if line.stations:
            event.add("location", ", ".join(line.stations))
        calendar.add_component(event)
        if line.check_from is not None and number == 1:
            check = Event()
            check.add("uid", f"{line.key}#check@kiteloom".replace(" ", "_"))
            check.add("dtstamp", stamp.astimezone(UTC))
            check.add("dtstart", line.check_from.astimezone(UTC))
            check.add("dtend", line.check_from.astimezone(UTC))
            check.add("summary", f"Check “{line.stage}”: {line.name} · {line.part}")
            calendar.add_component(check)
    return bytes(calendar.to_ical())


def week_pdf(days: Sequence[tuple[str, Sequence[Line]]], title: str, sentence: str, *, letter: bool = False) -> bytes:
    """A week on paper, A4 or letter: a table a named day, with a box to tick for each stretch of work and each look."""
    font, bold = page_fonts()
    out = io.BytesIO()
    plain = ParagraphStyle("plain", fontName=font, fontSize=9, leading=11)
    head = ParagraphStyle("head", fontName=bold, fontSize=15, leading=19)
    day_style = ParagraphStyle("day", fontName=bold, fontSize=11, leading=15, spaceBefore=6)
    story: list[Flowable] = [Paragraph(_safe(title), head), Paragraph(_safe(sentence), plain), Spacer(0, 3 * mm)]
    for day, lines in days:
        story.append(Paragraph(_safe(day), day_style))
        if not lines:
            story.append(Paragraph("Nothing is planned.", plain))
            continue
        rows: list[list[object]] = [["", "When", "What", "Who", "Where", "Check"]]
        for line in lines:
            check = f"{line.stage} {line.check_from:%a} {time_words(line.check_from)}" if line.check_from else ""
            rows.append(
                [
                    "",
                    line.words if line.start == line.end else f"{time_words(line.start)}–{time_words(line.end)}",
                    Paragraph(_safe(f"{line.name} · {line.part}"), plain),
                    Paragraph(_safe(", ".join(line.people)), plain),
                    Paragraph(_safe(", ".join(line.stations)), plain),
                    Paragraph(_safe(check), plain),
                ]
            )
        # Letter is shorter than A4 the long way.
        widths = [8 * mm, 30 * mm, (94 if letter else 104) * mm, 52 * mm, 44 * mm, 27 * mm]
        table = Table(rows, colWidths=widths, repeatRows=1)
        table.setStyle(
            TableStyle(
                [
                    ("FONT", (0, 0), (-1, 0), bold, 9),
                    ("FONT", (0, 1), (-1, -1), font, 9),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.grey),
                    ("BOX", (0, 1), (0, -1), 0.8, colors.black),
                    ("INNERGRID", (0, 1), (0, -1), 0.8, colors.black),
                ]
            )
        )
        story.append(table)
    end = "Check from the hour; a reading releases a part, not the clock. The makers’ instructions decide."
    story += [Spacer(0, 4 * mm), Paragraph(end, plain)]
    page = SimpleDocTemplate(
        out, pagesize=landscape(LETTER if letter else A4), title=title, invariant=1,
        leftMargin=12 * mm, rightMargin=12 * mm, topMargin=12 * mm, bottomMargin=12 * mm,
    )  # fmt: skip
    page.build(story)
    return out.getvalue()


def _safe(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")
