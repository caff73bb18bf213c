"""The book's entries of work on steps, and of what was mixed for them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy import select

from kiteloom.core.base.calendar import Interval, lasting, minute_of
from kiteloom.core.log.logbook import Entry
from kiteloom.core.log.work import spells
from kiteloom.store.models import Batch, BatchNote, Photo, Work
from kiteloom.views.logbook.pen import Pen
from kiteloom.workshop.log.notes import notes_from

#: What entries of work are made from: they stay the same while nothing of these changes.
TOPICS = ("shop", "work")


@dataclass(frozen=True)
class Stretch:
    """Work on a step from a time to a time [min], None while it runs; and by whom."""

    part: str
    step: str
    start: float
    end: float | None
    people: tuple[str, ...]

    def until(self, now: float) -> Interval:
        """Its span; what runs, until now."""
        return self.start, max(now, self.start) if self.end is None else self.end


@dataclass(frozen=True)
class Worked:
    """Work as it was noted: its entries, and its stretches."""

    entries: tuple[Entry, ...]
    stretches: tuple[Stretch, ...]


def worked(pen: Pen) -> Worked:
    """All the work in the book: each stretch; steps that were only said to be finished, or do not apply; and what was
    taken back.
    """
    return pen.uow.memory.made(pen.uow.last_of(TOPICS), "work in the logbook", lambda: _worked(pen))


def work(pen: Pen) -> Iterable[Entry]:
    """The entries of it."""
    return worked(pen).entries


def _worked(pen: Pen) -> Worked:
    # Rows of a table, not objects of the house: there may be tens of thousands.
    columns = (Work.id, Work.undoes_id, Work.part_id, Work.step_key, Work.step_name, Work.kind, Work.crew, Work.note)
    ordered = select(*columns, Work.happened_at, Work.recorded_at).order_by(Work.happened_at, Work.recorded_at)
    rows = pen.uow.session.execute(ordered).all()
    undone = {row.undoes_id: row for row in rows if row.undoes_id is not None}
    steps: dict[tuple[str, str], list[Any]] = defaultdict(list)
    for row in rows:
        if row.kind != "undo" and row.id not in undone:
            steps[row.part_id, row.step_key].append(row)
    entries: list[Entry] = []
    stretches: list[Stretch] = []
    for mine in steps.values():
        told = set()
        for spell in spells(notes_from(mine), minute_of(mine[-1].happened_at)):
            first = mine[spell.first]
            ends = None if spell.last is None else mine[spell.last]
            over = None if ends is None else spell.end
            stretches.append(Stretch(first.part_id, first.step_key, spell.start, over, spell.people))
            told |= {first.id} if ends is None else {first.id, ends.id}
            done = {"pause": "then paused", "finish": "finished", "skip": "then left: it does not apply"}
            took = f"{lasting(spell.end - spell.start)}, {done.get(ends.kind, 'and on')}" if ends else "Begun"
            notes = [row for row in (first, ends) if row is not None and row.note]
            why = tuple(row.note if row.kind == "skip" else f"Before its time: {row.note}" for row in notes)
            entries.append(_of_step(first, f"{took}.", why, spell.people))
        for row in mine:
            if row.id not in told:
                said = {"finish": "Finished.", "skip": f"Does not apply: {row.note}.", "pause": "Paused."}
                entries.append(_of_step(row, said.get(row.kind, "Begun again."), (), tuple(row.crew)))
    for row in rows:
        if (by := undone.get(row.id)) is not None:
            what = {"start": "Begun", "pause": "Paused", "finish": "Finished", "skip": "Does not apply"}[row.kind]
            entry = _of_step(row, f"{what}.", (), tuple(row.crew))
            entries.append(replace(entry, against=f"Taken back {pen.at(by.recorded_at)}"))
    return Worked(tuple(entries), tuple(stretches))


def _of_step(row: Any, words: str, sub: tuple[str, ...], people: tuple[str, ...]) -> Entry:
    at = minute_of(row.happened_at)
    return Entry(row.id, "work", at, row.step_name, words, row.part_id, row.step_key, people, sub=sub)


def photographed(pen: Pen) -> Iterator[Entry]:
    """Photographs of work on a step."""
    shots = select(Photo.id, Photo.part_id, Photo.step_key, Photo.happened_at).where(Photo.part_id.is_not(None))
    for key, part, step, at in pen.uow.session.execute(shots):
        named = select(Work.step_name).where(Work.part_id == part, Work.step_key == step).limit(1)
        of = pen.uow.session.scalar(named) or ""
        yield Entry(key, "work", minute_of(at), of, "Photographed.", str(part), step, photos=(key,))


def mixes(pen: Pen) -> Iterator[Entry]:
    """Each batch, those that were corrected too; and what became of it."""
    rows = list(pen.uow.session.scalars(select(Batch)))
    corrected = {row.corrects_id: row for row in rows if row.corrects_id}
    by_id = {row.id: row for row in rows}
    for row in rows:
        later, was = corrected.get(row.id), by_id.get(row.corrects_id or "")
        yield Entry(
            row.id,
            "mix",
            minute_of(row.happened_at),
            row.step_name,
            _mixed(pen, row),
            row.part_id or "",
            row.step_key,
            (row.crew_member_id,) if row.crew_member_id else (),
            (row.data_sheet_id,),
            tuple(lot for lot in (row.lot_id, row.hardener_lot_id) if lot),
            tuple(line for line in (_air(pen, row), row.note) if line),
            f"It was written as: {_mixed(pen, was)}" if was is not None else "",
            f"Corrected {pen.at(later.recorded_at)}" if later is not None else "",
            pen.photos(row.id),
        )
    said = {"on": "went on", "emptied": "was used up", "bad": "marked bad", "cleared": "cleared again"}
    for note in pen.uow.session.scalars(select(BatchNote)):
        of = by_id[note.batch_id]
        grams = f"{pen.show(note.grams, 'mass')} of it " if note.grams else ""
        why = f": {note.note}" if note.note else ""
        words = f"{grams or 'It '}{said[note.kind]}{why}."
        lots = tuple(lot for lot in (of.lot_id, of.hardener_lot_id) if lot)
        yield Entry(
            note.id, "mix", minute_of(note.happened_at), f"{of.product}, mixed {pen.at(of.happened_at)}", words,
            note.part_id or of.part_id or "", note.step_key or of.step_key, (), (of.data_sheet_id,), lots,
        )  # fmt: skip


def _mixed(pen: Pen, row: Batch) -> str:
    off = "no resin in it" if row.deviation_pct is None else f"{row.deviation_pct:+.1f} % hardener"
    judged = {"in": "within tolerance", "near": "near its tolerance", "out": "out of tolerance"}[row.verdict]
    lots = [lot.lot_number for lot in (row.lot, row.hardener_lot) if lot is not None]
    of = f", lot {' and '.join(dict.fromkeys(lots))}" if lots else ""
    resin, hardener = (pen.weighed(grams) for grams in (row.resin_g, row.hardener_g))
    mixed = f"{resin} and {hardener} of {row.product}{of}: {off}, {judged}."
    if row.filler:
        grams = pen.weighed(row.filler["grams"])
        mixed = f"{mixed[:-1]}; {grams} of {row.filler['name']} in it, like {row.filler['consistency']}."
    return mixed


def _air(pen: Pen, row: Batch) -> str:
    said = [pen.show(row.temp_c, "temperature")] if row.temp_c is not None else []
    said += [f"{row.rh_pct:.0f} % humidity"] if row.rh_pct is not None else []
    return f"In {' and '.join(said)}." if said else ""
