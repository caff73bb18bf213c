"""The list before the Reedling's left wing is closed, half done. All invented."""

from __future__ import annotations

from datetime import datetime, timedelta

from kiteloom.core.build.closing import USUAL
from kiteloom.demo.nose import SLEEVED, STOOD
from kiteloom.demo.week import working_day
from kiteloom.store.models import Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.log.coin_taps import NoteTap, RuleTap, note_tap, rule_tap
from kiteloom.workshop.log.gates import NoteGate, SayGateList, note_gate, say_gate_list

LIST = stable_id("gate list", "Before a wing is closed")
CLOSING = "Left wing, closing joint"
OWN = "The string for the pitot line pulled through once more"


def closings_so_far(uow: UnitOfWork, now: datetime) -> None:
    """The shop's list, taken for the left wing; three lines done, one not needed; two joints tapped."""
    ids = {part.name: part.id for part in uow.all(Part)}
    say_gate_list(uow, SayGateList(LIST, 0, "Before a wing is closed", USUAL), now)
    where = (ids[CLOSING], "bond")

    def note(kind: str, days: int, clock: str, who: str = "", line: str = "", words: str = "", ahead: int = 0) -> None:
        key = stable_id("demo", "gate", kind, line or words)
        person = stable_id("crew", who) if who else None
        day = (now + timedelta(days=ahead)).date() if ahead else None
        order = NoteGate(key, *where, kind, line, words, person, day)  # type: ignore[arg-type]  # one of its kinds
        note_gate(uow, order, working_day(now, days, clock))

    def line(n: int) -> str:
        return stable_id("gate line", LIST, USUAL[n])

    note("list", 3, "17:40", words=LIST)
    note("add", 3, "17:45", words=OWN)
    note("done", 2, "16:10", "Bo", line(0))
    note("not needed", 2, "16:15", "Imre", line(5), "its trailing edge is foam and glass, nowhere thin")
    note("done", 1, "17:10", "Odile", line(6))
    note("done", 1, "17:30", "Bo", line(2))
    note("asked", 1, "17:45", "Imre", words="the wing open from 09:00", ahead=14)
    tap = stable_id("demo", "tap", SLEEVED)
    odile, bo = stable_id("crew", "Odile"), stable_id("crew", "Bo")
    note_tap(uow, ids[SLEEVED], NoteTap(tap, 3, 3, ((2, 1),), odile), working_day(now, 2, "11:40"))
    why = "a seventh of the sleeve, at its inner end; the kit allows a tenth there, so resin through two holes"
    rule_tap(uow, tap, RuleTap(stable_id("demo", "tap ruling"), "inject", bo, why), working_day(now, 2, "11:50"))
    note_tap(uow, ids[SLEEVED], NoteTap(stable_id(tap, "again"), 3, 3, (), odile), working_day(now, 1, "12:10"))
    note_tap(uow, ids[STOOD], NoteTap(stable_id("demo", "tap", STOOD), 4, 2, ((1, 0),), odile),
             working_day(now, 2, "14:45"))  # fmt: skip
