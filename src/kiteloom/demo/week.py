"""Notes and cups of the days before, on working days, by name of part."""

from __future__ import annotations

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import DataSheet, Part
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.ids import stable_id
from kiteloom.workshop.log.batches import PourBatch, batches_on, keep_batch
from kiteloom.workshop.log.ticks import NoteTick, NoteTicks, note_ticks
from kiteloom.workshop.log.witness import ReadWitness, read_witness
from kiteloom.workshop.log.work import NoteWork, note_work

ZONE = "Europe/Vienna"
HOURS = [{"weekday": day, "start": 9 * 60, "end": (17 if day == 5 else 18) * 60} for day in range(6)]


def working_day(now: datetime, days: int, clock: str) -> datetime:
    """A time of day, so many working days ago."""
    day = now.astimezone(ZoneInfo(ZONE))
    open_days = {row["weekday"] for row in HOURS}
    while days:
        day -= timedelta(days=1)
        days -= day.weekday() in open_days
    hour, minute = clock.split(":")
    return day.replace(hour=int(hour), minute=int(minute), second=0, microsecond=0)


class Week:
    """Notes and cups of the week before, by name of part."""

    def __init__(self, uow: UnitOfWork, now: datetime, cups: int = 0) -> None:
        self._uow, self._now = uow, now
        self._names = {part.name: part.id for part in uow.all(Part)}
        self._cups = cups

    def at(self, days: int, clock: str) -> datetime:
        """A time of day, so many working days ago."""
        return working_day(self._now, days, clock)

    def work(self, part: str, key: str, days: int, start: str, end: str, *who: str, kind: str = "finish") -> None:
        """A stretch of work."""
        crew = tuple(stable_id("crew", name) for name in who)
        for note, clock in (("start", start), (kind, end)):
            note_id = stable_id("demo", "work", part, key, str(days), clock)
            order = NoteWork(note_id, self._names[part], key, note, crew, self.at(days, clock))  # type: ignore[arg-type]
            note_work(self._uow, order, self._now)

    def cup(
        self, part: str, key: str, product: str, resin: str, hardener: str, days: int, clock: str, who: str, lot: str
    ) -> str:
        """A cup that was mixed."""
        sheet = stable_id("sheet", product)
        says = self._uow.get(DataSheet, sheet).says
        self._cups += 1
        batch = stable_id("demo", "batch", str(self._cups))
        order = PourBatch(
            batch,
            self._names[part],
            key,
            sheet,
            says["lids"]["resin"],
            says["lids"]["hardener"],
            780,
            Typed(resin, "g"),
            Typed(hardener, "g"),
            lot_id=stable_id("lot", sheet, lot),
            crew_member_id=stable_id("crew", who),
            happened_at=self.at(days, clock),
        )
        keep_batch(self._uow, order, self._now)
        return batch

    def found_hard(self, part: str, key: str, days: int, clock: str, who: str) -> None:
        """Every witness of a step pressed with a thumbnail, and hard."""
        at = self.at(days, clock)
        for batch in batches_on(self._uow, self._names[part]):
            if batch.step_key == key:
                reading = stable_id("demo", "witness", batch.id)
                person = stable_id("crew", who)
                order = ReadWitness(
                    reading,
                    self._names[part],
                    key,
                    "thumbnail",
                    True,
                    batch.id,
                    crew_member_id=person,
                    happened_at=at,
                )
                read_witness(self._uow, order, self._now)

    def ticks(self, part: str, key: str, days: int, **items: str) -> None:
        """Ticks of a run sheet, by item (``_`` for what stands between its words) with the time of each; moisture after
        a comma.
        """
        rows = []
        for item, said in items.items():
            clock, _, pct = said.partition(",")
            rows.append(
                NoteTick(
                    stable_id("demo", "tick", part, key, item, str(days)),
                    self._names[part],
                    key,
                    item.replace("_", "/"),
                    happened_at=self.at(days, clock),
                    moisture=Typed(pct, "%") if pct else None,
                )
            )
        note_ticks(self._uow, NoteTicks(rows), self._now)
