"""The book's entries of work on steps, and of what was mixed for them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace

from sqlalchemy import select

from kiteloom.core.base.calendar import Interval, lasting, minute_of
from kiteloom.core.log.logbook import Entry
from kiteloom.core.log.work import spells
from kiteloom.store.models import Batch, BatchNote, Photo, Work
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.logbook.pen import Pen
from kiteloom.workshop.log.notes import notes_from, standing_notes


def _by_step(uow: UnitOfWork) -> dict[tuple[str, str], list[Work]]:
    found: dict[tuple[str, str], list[Work]] = defaultdict(list)
    for row in standing_notes(uow):
        found[row.part_id, row.step_key].append(row)
    return found


def worked(uow: UnitOfWork, now: float) -> list[tuple[Interval, tuple[str, ...]]]:
    """All stretches of work and by whom; what runs, until now."""
    steps = _by_step(uow).values()
    return [((s.start, s.end), s.people) for rows in steps for s in spells(notes_from(rows), now)]


def work(pen: Pen) -> Iterator[Entry]:
    """Each stretch of work; steps that were only said to be finished, or do not apply; what was taken back."""
    for rows in _by_step(pen.uow).values():
        told = set()
        for spell in spells(notes_from(rows), minute_of(rows[-1].happened_at)):
            first = rows[spell.first]
            ends = None if spell.last is None else rows[spell.last]
            told |= {first.id} if ends is None else {first.id, ends.id}
            done = {"pause": "then paused", "finish": "finished", "skip": "then left: it does not apply"}
            took = f"{lasting(spell.end - spell.start)}, {done.get(ends.kind, 'and on')}" if ends else "Begun"
            notes = [row for row in (first, ends) if row is not None and row.note]
            why = tuple(row.note if row.kind == "skip" else f"Before its time: {row.note}" for row in notes)
            yield _of_step(first, f"{took}.", why, spell.people)
        for row in rows:
            if row.id not in told:
                said = {"finish": "Finished.", "skip": f"Does not apply: {row.note}.", "pause": "Paused."}
                yield _of_step(row, said.get(row.kind, "Begun again."), (), tuple(row.crew))
    by_id = {row.id: row for row in pen.uow.all(Work)}
    for row in by_id.values():
        if row.undoes_id is not None and (was := by_id.get(row.undoes_id)) is not None:
            what = {"start": "Begun", "pause": "Paused", "finish": "Finished", "skip": "Does not apply"}[was.kind]
            entry = _of_step(was, f"{what}.", (), tuple(was.crew))
            yield replace(entry, against=f"Taken back {pen.at(row.recorded_at)}")


def _of_step(row: Work, words: str, sub: tuple[str, ...], people: tuple[str, ...]) -> Entry:
    at = minute_of(row.happened_at)
    return Entry(row.id, "work", at, row.step_name, words, row.part_id, row.step_key, people, sub=sub)


def photographed(pen: Pen) -> Iterator[Entry]:
    """Photographs of work on a step."""
    names = {(row.part_id, row.step_key): row.step_name for row in pen.uow.all(Work)}
    shots = select(Photo.id, Photo.part_id, Photo.step_key, Photo.happened_at).where(Photo.part_id.is_not(None))
    for key, part, step, at in pen.uow.session.execute(shots):
        of = names.get((str(part), step), "")
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
    resin, hardener = (pen.show(grams, "scale") for grams in (row.resin_g, row.hardener_g))
    mixed = f"{resin} and {hardener} of {row.product}{of}: {off}, {judged}."
    if row.filler:
        grams = pen.show(row.filler["grams"], "scale")
        mixed = f"{mixed[:-1]}; {grams} of {row.filler['name']} in it, like {row.filler['consistency']}."
    return mixed


def _air(pen: Pen, row: Batch) -> str:
    said = [pen.show(row.temp_c, "temperature")] if row.temp_c is not None else []
    said += [f"{row.rh_pct:.0f} % humidity"] if row.rh_pct is not None else []
    return f"In {' and '.join(said)}." if said else ""
