"""What the club wrote into its logbook over a month: notes, questions to the kit maker, answers. All invented."""

from __future__ import annotations

from datetime import datetime
from io import BytesIO
from typing import Literal

from PIL import Image, ImageDraw

from kiteloom.demo.week import working_day
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.log.logbook import AnswerQuestion, WriteNote, answer_question, write_note
from kiteloom.workshop.log.photos import keep_photo, looked_at

#: Working days ago, when, who, of which part, and what: a question ends with its mark.
WRITTEN = (
    (
        23,
        "09:20",
        "Bo",
        "",
        "The crates came. Two spar blanks are checked at one end; set aside, photographed, written to the kit maker.",
    ),
    (
        22,
        "17:40",
        "Imre",
        "Rudder",
        "Rudder post: grain runs out 1 in 18 over the middle third. The manual asks for 1 in 15 or better; kept.",
    ),
    (
        21,
        "10:15",
        "Odile",
        "Left wing, aft ribs",
        "Seven ribs of the left bay match the drawing; the fourth was 0.6 mm proud and is sanded to the line.",
    ),
    (
        19,
        "16:30",
        "Imre",
        "",
        "The workshop was 11 °C at nine. Heater from six o'clock on from now on.",
    ),
    (
        18,
        "11:05",
        "Bo",
        "Left wing, lower skin",
        "The manual draws the second ply over the root rib by 60 mm, its table says 50 mm. Which holds?",
    ),
    (
        16,
        "14:10",
        "Odile",
        "Rudder",
        "Foam block 3 was a hair too short: pieced with a scarf of 1 in 8, away from the hinge line.",
    ),
    (
        15,
        "18:05",
        "Sanna",
        "",
        "Swept, and the traps in the cutting table emptied. Two mouse nests behind the stove.",
    ),
    (
        13,
        "09:50",
        "Imre",
        "Fuel tank",
        "Sender flange: six holes are drawn, the sender has five. Is there another flange?",
    ),
    (
        12,
        "15:20",
        "Odile",
        "Left flap, upper skin",
        "Trailing edge tooling board waxed four times; the third coat took an hour to haze at 9 °C.",
    ),
    (
        9,
        "13:30",
        "Bo",
        "Left wing, lower skin",
        "Peel ply left on the root land until the rib goes in, so nobody has to sand it.",
    ),
    (
        7,
        "17:15",
        "Imre",
        "Right wing, lower skin",
        "The right tool stands 0.05° more nose down at the tip than the left. Shimmed with two papers.",
    ),
    (
        5,
        "18:10",
        "Odile",
        "Rudder",
        "Hot wire a touch slower at the trailing edge: it lagged 1 mm there.",
    ),
    (
        4,
        "18:20",
        "Bo",
        "Left wing, lower skin",
        "All in before six. Forty minutes were lost looking for the short squeegee: it hangs on the left"
        " post from now on.",
    ),
    (
        3,
        "17:50",
        "Sanna",
        "Left wing, closing joint",
        "May the pitot line go through the rear rib instead, 40 mm above the datum?",
    ),
    (
        2,
        "17:20",
        "Odile",
        "Left flap, upper skin",
        "The hinge screws in the kit are M4 × 18, the drawing has M4 × 20. Do they reach through the nut?",
    ),
    (
        1,
        "18:25",
        "Imre",
        "Right wing, lower skin",
        "Sanna’s cup of 13:55 is in the book as 598 g of resin. It was 589: the scale was read upside down.",
    ),
)
ANSWERED = (
    (
        18,
        14,
        "10:00",
        "The kit maker, by letter",
        "60 mm; the table is an older drawing's.",
        "Revision C, page 41",
    ),
    (
        13,
        11,
        "16:40",
        "The kit maker, by telephone",
        "Five hold. Fill the sixth from inside with a blind rivet and sealant.",
        "",
    ),
)
#: The note that was photographed, working days ago.
SHOWN = 23


def written_so_far(uow: UnitOfWork, now: datetime) -> None:
    """A month of notes, four questions, two of them answered, and one photograph."""
    ids = {part.name: part.id for part in uow.all(Part)}
    for days, clock, who, part, words in WRITTEN:
        kind: Literal["note", "question"] = "question" if words.endswith("?") else "note"
        order = WriteNote(note_id(days), kind, words, ids.get(part), "", stable_id("crew", who))
        write_note(uow, order, working_day(now, days, clock))
    for asked, days, clock, by_whom, words, revision in ANSWERED:
        answer = AnswerQuestion(stable_id("demo", "answer", str(asked)), words, by_whom, revision)
        answer_question(uow, note_id(asked), answer, working_day(now, days, clock))
    shot = looked_at(checked_blank())
    keep_photo(uow, "note", note_id(SHOWN), stable_id("demo", "photo"), shot, working_day(now, SHOWN, "09:25"))


def note_id(days: int) -> str:
    """The id of the note of so many working days ago."""
    return stable_id("demo", "note", str(days))


def checked_blank() -> bytes:
    """A picture of the end of a spar blank with a check in it, and a rule beside it: drawn, not taken."""
    picture = Image.new("RGB", (960, 640), "#6d665c")
    draw = ImageDraw.Draw(picture)
    draw.rectangle((120, 90, 840, 470), "#d9b27c")
    for ring in range(34):
        draw.arc((-900 + 26 * ring, -760, 700 + 30 * ring, 1500), 300, 60, "#b98a50", 3 + ring % 3)
    draw.rectangle((0, 0, 119, 640), "#6d665c")
    draw.rectangle((841, 0, 960, 640), "#6d665c")
    draw.rectangle((0, 0, 960, 89), "#6d665c")
    draw.rectangle((0, 471, 960, 640), "#6d665c")
    draw.line((300, 470, 352, 400, 372, 330, 420, 262, 428, 196), "#3a2a1a", 7)
    draw.rectangle((120, 505, 840, 560), "#e9e4d6")
    for mark in range(73):
        draw.line((120 + 10 * mark, 505, 120 + 10 * mark, 525 + 12 * (mark % 10 == 0)), "#2b2b2b", 2)
    out = BytesIO()
    picture.save(out, "JPEG", quality=85)
    return out.getvalue()
