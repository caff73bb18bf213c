"""What every entry of the logbook is written with: the shop's names, zone and units, and what does not count."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, tzinfo
from functools import cached_property

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of, when
from kiteloom.core.base.quantities import UnitSystem, show, system_of
from kiteloom.core.log.logbook import Entry
from kiteloom.store.models import CrewMember, DataSheet, Guest, Lot, Photo, TakenBack, Written, Zone
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.base.saying import joined
from kiteloom.workshop.base.shop import units_of, zone_here
from kiteloom.workshop.build.parts import part_names


@dataclass(frozen=True)
class Pen:
    """Writes what stands in the book as the shop says it."""

    uow: UnitOfWork
    zone: tzinfo
    units: UnitSystem

    @classmethod
    def of(cls, uow: UnitOfWork) -> Pen:
        """The shop's."""
        return cls(uow, zone_here(uow), units_of(uow))

    @cached_property
    def names(self) -> Mapping[str, str]:
        """The names of parts, people, products and lots, by id; also of what is not here any more."""
        found = part_names(self.uow) | {row.id: row.name for row in self.uow.all(CrewMember)}
        found |= {row.id: row.name for row in self.uow.all(DataSheet)}
        found |= {row.id: row.name for row in self.uow.all(Zone)}
        return found | {row.id: f"lot {row.lot_number}" for row in self.uow.all(Lot)}

    @cached_property
    def _taken_back(self) -> Mapping[str, TakenBack]:
        return {row.of_id: row for row in self.uow.all(TakenBack)}

    @cached_property
    def _shots(self) -> Mapping[tuple[str, bool], tuple[str, ...]]:
        """What was photographed or spoken, by what it is of."""
        found: dict[tuple[str, bool], tuple[str, ...]] = {}
        of = (Photo.batch_id, Photo.deviation_id, Photo.gate_note_id, Photo.log_note_id, Photo.measured_id)
        rows = select(Photo.id, Photo.media, *of).order_by(Photo.happened_at)
        for key, media, *others in self.uow.session.execute(rows):
            spoken = media.startswith("audio")
            for one in others:
                if one is not None:
                    found[one, spoken] = (*found.get((one, spoken), ()), key)
        return found

    @cached_property
    def _hands(self) -> Mapping[str, str]:
        """Who was signed in when a row was written down: an id of the crew, or an inspector's name."""

        def read() -> dict[str, str]:
            rows = select(Written.ref, Written.crew_member_id, Guest.name).outerjoin(Guest)
            found = self.uow.session.execute(rows.where(Written.table != "edit"))
            return {ref: person or guest or "" for ref, person, guest in found}

        return self.uow.memory.made(self.uow.last_change(), "whose hand", read)

    def by_hand(self, key: str, people: Collection[str]) -> str:
        """Who wrote a row down, where it is not who it names."""
        hand = self._hands.get(key, "")
        return "" if hand in people else self.names.get(hand, hand)

    def signed(self, entry: Entry) -> str:
        """Who did it, and who wrote it down where that was somebody else."""
        hand = self.by_hand(entry.id, entry.people)
        return ", ".join(words for words in (self.who(entry.people), hand and f"written by {hand}") if words)

    def photos(self, key: str) -> tuple[str, ...]:
        """The photographs of a row."""
        return self._shots.get((key, False), ())

    def spoken(self, key: str) -> tuple[str, ...]:
        """What was spoken into a note."""
        return self._shots.get((key, True), ())

    def name(self, key: str | None) -> str:
        """What something is called; ``""`` for nothing."""
        return self.names.get(key, "") if key else ""

    def who(self, people: Iterable[str]) -> str:
        """People as they are named together."""
        return joined([self.names.get(person, "somebody who left") for person in people])

    def at(self, moment: datetime) -> str:
        """A moment of another day."""
        return when(minute_of(moment), self.zone)

    def show(self, value: float, measure: str) -> str:
        """A figure in the shop's units."""
        return show(value, measure, self.units)

    def weighed(self, grams: float) -> str:
        """What was weighed in a cup: as fine as the scale counts, in a shop of US units as it says masses."""
        return self.show(grams, "scale" if system_of(self.units) == "metric" else "mass")

    def against(self, key: str) -> str:
        """Why a row does not count: by whom it was taken back, when, and why; ``""`` where it counts."""
        row = self._taken_back.get(key)
        if row is None:
            return ""
        who = f" by {self.name(row.crew_member_id)}" if row.crew_member_id else ""
        return f"Taken back {self.at(row.happened_at)}{who}{f': {row.note}' if row.note else ''}"
