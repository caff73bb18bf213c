"""What the club finished in the weeks before: a seat back, a baggage floor, a battery box. All invented.

Small pieces, to learn the resin and the glue on before the wings.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.quantities import Typed
from kiteloom.core.build.recipes import sandwich_skin, varnish, wood_frame
from kiteloom.demo.week import Week, working_day
from kiteloom.demo.whole import AIRFRAME, pieces, plies, strips
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.founding import Founding
from kiteloom.workshop.log.weighings import NoteWeighing, note_weighing

SEAT, FLOOR, BOX = "Seat back", "Baggage floor", "Battery box"
RESIN, GLUE, VARNISH = "Tarn 210 with 212 fast", "Heron glue", "Sallow varnish"
LOTS = {RESIN: "T-4502", GLUE: "H-118", VARNISH: "S-2207"}
#: The first of its cups: those of the last week are counted from the beginning.
CUPS = 100


@dataclass(frozen=True)
class _Did:
    """A stretch of work, so many working days ago; its cups: when each was mixed, resin and hardener [g], by whom."""

    part: str
    step: str
    days: int
    start: str
    end: str
    who: tuple[str, ...]
    cups: tuple[tuple[str, str, str, str], ...] = ()
    product: str = RESIN


#: In order of time. What cures is pressed just before the next of its part, by who does that.
DONE = (
    _Did(SEAT, "prepare", 23, "13:10", "14:05", ("Bo", "Sanna")),
    _Did(SEAT, "skin-1/layup", 22, "09:30", "10:35", ("Bo", "Imre", "Sanna"), (("09:40", "65", "22", "Imre"),)),
    _Did(SEAT, "skin-1/peel", 21, "10:40", "11:05", ("Sanna",)),
    _Did(
        SEAT,
        "core/bed",
        20,
        "09:15",
        "10:20",
        ("Bo", "Imre", "Sanna"),
        (("09:25", "58.5", "20", "Sanna"), ("09:50", "57.5", "19.5", "Imre")),
    ),
    _Did(BOX, "cut", 20, "13:00", "14:50", ("Odile",)),
    _Did(
        SEAT,
        "skin-2/layup",
        19,
        "09:20",
        "10:20",
        ("Bo", "Imre", "Sanna"),
        (("09:30", "53", "18", "Imre"), ("09:55", "53.5", "18.5", "Sanna")),
    ),
    _Did(BOX, "fit", 19, "13:05", "15:00", ("Odile",)),
    _Did(SEAT, "skin-2/peel", 18, "09:10", "09:30", ("Sanna",)),
    _Did(BOX, "frame/glue", 18, "09:40", "10:35", ("Imre", "Odile"), (("09:45", "6.5", "5.7", "Odile"),), GLUE),
    _Did(SEAT, "trim", 17, "10:00", "10:45", ("Imre",)),
    _Did(BOX, "frame/clean", 17, "11:00", "11:30", ("Odile",)),
    _Did(FLOOR, "prepare", 17, "13:00", "13:55", ("Bo", "Sanna")),
    _Did(FLOOR, "skin-1/layup", 16, "09:20", "10:30", ("Bo", "Imre", "Sanna"), (("09:30", "77", "26", "Sanna"),)),
    _Did(BOX, "gussets/glue", 15, "09:30", "10:30", ("Imre", "Odile"), (("09:40", "7", "6.1", "Odile"),), GLUE),
    _Did(FLOOR, "skin-1/peel", 15, "11:00", "11:20", ("Bo",)),
    _Did(
        FLOOR,
        "core/bed",
        14,
        "09:15",
        "10:20",
        ("Bo", "Imre", "Sanna"),
        (("09:25", "69", "23.5", "Imre"), ("09:50", "68.5", "23.5", "Sanna")),
    ),
    _Did(BOX, "sand", 13, "10:40", "11:35", ("Odile",)),
    _Did(
        FLOOR,
        "skin-2/layup",
        12,
        "09:20",
        "10:25",
        ("Bo", "Imre", "Sanna"),
        (("09:30", "63.5", "21.5", "Imre"), ("09:55", "63", "21.5", "Imre")),
    ),
    _Did(BOX, "j2:sand", 12, "13:00", "13:40", ("Odile",)),
    _Did(FLOOR, "skin-2/peel", 11, "09:30", "09:50", ("Bo",)),
    _Did(BOX, "j2:coat-1/mix", 11, "10:05", "10:15", ("Odile",)),
    _Did(BOX, "j2:coat-1/brush", 11, "10:45", "11:10", ("Odile",), (("10:15", "30", "14.2", "Odile"),), VARNISH),
    _Did(FLOOR, "trim", 10, "13:15", "14:00", ("Sanna",)),
    _Did(BOX, "j2:rub", 9, "09:30", "09:55", ("Odile",)),
    _Did(BOX, "j2:coat-2/mix", 9, "10:00", "10:10", ("Odile",)),
    _Did(BOX, "j2:coat-2/brush", 9, "10:40", "11:05", ("Odile",), (("10:10", "30", "14.3", "Odile"),), VARNISH),
    _Did(BOX, "j2:look", 7, "09:20", "09:35", ("Odile",)),
)
#: The part, its job, before or after, working days ago, and what it weighed [g].
WEIGHED: tuple[tuple[str, str, Literal["before", "after"], int, str, str], ...] = (
    (SEAT, "", "after", 17, "11:00", "561"),
    (BOX, "", "after", 13, "11:40", "206"),
    (BOX, "j2", "before", 12, "13:45", "205"),
    (FLOOR, "", "after", 10, "14:10", "641"),
    (BOX, "j2", "after", 7, "09:40", "253"),
)


def found_small(uow: UnitOfWork, now: datetime) -> None:
    """The three parts, last of all."""
    founding = Founding(uow, now)
    rank = max(part.rank for part in uow.all(Part))
    body = stable_id("assembly", AIRFRAME, "Fuselage")
    resin, glue, coat = (stable_id("sheet", name) for name in (RESIN, GLUE, VARNISH))
    for name, length, width in ((SEAT, 0.82, 0.46), (FLOOR, 0.7, 0.64)):
        flat = founding.shape(f"Reedling {name}", *strips("one face", (0, width), (length, width)))
        design = founding.design(flat, name, "upper")
        founding.job(design, sandwich_skin.RECIPE.key, {"resin": resin}, ply_book=plies(45, 45))
        rank += 1
        founding.part(body, design, "centre", name, rank)
    box = founding.shape(f"Reedling {BOX}", *pieces(side=(4, 0.24, 0.18, 0.004), bottom=(1, 0.24, 0.2, 0.004)))
    design = founding.design(box, BOX, "whole")
    founding.job(design, wood_frame.RECIPE.key, {"glue": glue}, {"solid": 0.5})
    founding.job(design, varnish.RECIPE.key, {"varnish": coat}, key="j2")
    founding.part(body, design, "centre", BOX, rank + 1)


def finished_so_far(uow: UnitOfWork, now: datetime) -> None:
    """Their work, cups, witnesses and weights."""
    week, cures = Week(uow, now, CUPS), dict[str, str]()
    for did in DONE:
        mixed = cures.pop(did.part, "")
        if mixed:
            hour, minute = divmod(_minutes(did.start) - 5, 60)
            week.found_hard(did.part, mixed, did.days, f"{hour:02}:{minute:02}", did.who[0])
        week.work(did.part, did.step, did.days, did.start, did.end, *did.who)
        for clock, resin, hardener, who in did.cups:
            week.cup(did.part, did.step, did.product, resin, hardener, did.days, clock, who, LOTS[did.product])
            cures[did.part] = did.step
    ids = {part.name: part.id for part in uow.all(Part)}
    for name, job, moment, days, clock, grams in WEIGHED:
        key = stable_id("demo", "weighed", name, job, moment)
        note_weighing(uow, ids[name], NoteWeighing(key, job, moment, Typed(grams, "g")), working_day(now, days, clock))


def _minutes(clock: str) -> int:
    hour, minute = clock.split(":")
    return 60 * int(hour) + int(minute)
