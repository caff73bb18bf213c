"""What the club read with tape and inclinometer: rib spacing, twist before and after a skin. All invented."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from kiteloom.core.base.quantities import Typed
from kiteloom.demo.week import working_day
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.build.checks import Moment, PointTyped, Reads, SayCheck, say_check
from kiteloom.workshop.log.irons import NoteIron, SayIron, note_iron, say_iron
from kiteloom.workshop.log.measured import NoteMeasured, note_measured
from kiteloom.workshop.log.ruling import Rule, rule


@dataclass(frozen=True)
class _Row:
    """A check, on the parts of one design."""

    part: str
    name: str
    kind: str
    unit: str
    points: tuple[tuple[str, float, float | None], ...]
    off: float
    after: str = ""
    reads: Reads = "once"


_STATIONS = (("root", 0.0, 0.0), ("rib 6", -0.7, 2.4), ("rib 12", -1.4, 4.8), ("tip", -2.0, 7.2))
TWIST = _Row("Left wing, lower skin", "Twist of the wing", "angle", "°", _STATIONS, 0.25, "skin-1/layup", reads="twice")
FLAP = _Row("Left flap, upper skin", "Trailing edge to the string", "straightness", "mm",
            (("inner end", 0, 0.0), ("second hinge", 0, 0.6), ("middle", 0, 1.2), ("fourth hinge", 0, 1.8),
             ("outer end", 0, 2.3)),
            1.0, "skin-1/peel")  # fmt: skip
RIBS = _Row("Left wing, aft ribs", "Rib spacing", "spacing", "mm",
            tuple((f"{n} to {n + 1}", 400.0, None) for n in range(1, 7)), 1.0)  # fmt: skip
READINGS: tuple[tuple[_Row, str, int, str, Moment, tuple[str, ...], str], ...] = (
    (TWIST, "Left wing, lower skin", 4, "09:20", "before", ("0", "-0.75", "-1.35", "-1.95"), "Imre"),
    (TWIST, "Left wing, lower skin", 2, "14:20", "after", ("0.05", "-0.6", "-1.15", "-1.6"), "Imre"),
    (TWIST, "Right wing, lower skin", 1, "12:50", "before", ("0", "-0.7", "-1.45", "-2.05"), "Bo"),
    (FLAP, "Left flap, upper skin", 2, "14:50", "once", ("0", "0.4", "0.7", "0.3", "0"), "Odile"),
    (RIBS, "Left wing, aft ribs", 2, "11:40", "once", ("400.2", "399.6", "400.4", "398.1", "400.0", "400.3"), "Odile"),
)


#: The small iron against a thermometer: its dial, and what it read [°C].
IRON = "The small iron"
DIALS = ((2, 92), (3, 121), (4, 146), (5, 178))


def iron_so_far(uow: UnitOfWork, now: datetime) -> None:
    """The club's iron for covering, calibrated on a practice frame."""
    key = stable_id("iron", IRON)
    say_iron(uow, SayIron(key, 0, IRON), now)
    for dial, celsius in DIALS:
        read = NoteIron(stable_id(key, str(dial)), Typed(str(dial), ""), Typed(str(celsius), "°C"))
        note_iron(uow, key, read, working_day(now, 3, "16:20"))


def read_so_far(uow: UnitOfWork, now: datetime) -> None:
    """The checks, what was read, and what was decided about a twist that a skin pulled in."""
    ids = {part.name: part.id for part in uow.all(Part)}
    for row in (TWIST, FLAP, RIBS):
        points = tuple(
            PointTyped(name, Typed(str(nominal), row.unit), None if at is None else Typed(str(at), "m"))
            for name, nominal, at in row.points
        )
        order = SayCheck(stable_id("check", row.name), 0, row.name, row.kind, points, Typed(str(-row.off), row.unit),
                         Typed(str(row.off), row.unit), row.after, row.reads)  # fmt: skip
        say_check(uow, ids[row.part], order, now)
    for row, part, days, clock, moment, values, who in READINGS:
        at = working_day(now, days, clock)
        key = stable_id("demo", "measured", row.name, part, moment)
        typed = tuple(Typed(value, row.unit) for value in values)
        note_measured(uow, ids[part], NoteMeasured(key, stable_id("check", row.name), typed, moment,
                                                   stable_id("crew", who), happened_at=at), now)  # fmt: skip
    pulled = stable_id("demo", "measured", TWIST.name, "Left wing, lower skin", "after")
    why = "the kit allows half a degree; weights on the tip while the core beds"
    rule(
        uow,
        pulled,
        Rule(stable_id("demo", "ruling"), "accept", stable_id("crew", "Imre"), why),
        working_day(now, 2, "14:30"),
    )
