"""What is on each step: of every batch that counts the share that went there, and whether it is sound."""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass
from typing import Literal, cast

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.log.mixes import Place, Went, shares
from kiteloom.store.models import Batch
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.workshop.stores.lots import notes_of_batch, standing_batches

Kind = Literal["on", "emptied"]


@dataclass(frozen=True, eq=False)
class OnStep:
    """A batch on a step: so much of it [g], mixed then [min], and since when it is known to be spoilt [min]."""

    batch: Batch
    place: Place
    grams: float
    at: float
    spoilt: float | None


def on_steps(uow: UnitOfWork) -> dict[Place, list[OnStep]]:
    """What went on each step, by part and key, oldest first."""

    def read() -> dict[Place, list[OnStep]]:
        found: dict[Place, list[OnStep]] = defaultdict(list)
        for batch in standing_batches(uow):
            spoilt = spoilt_since(uow, batch)
            for place, grams in where_it_went(uow, batch).items():
                if not place[0]:
                    continue  # for no planned step
                found[place].append(OnStep(batch, place, grams, minute_of(batch.happened_at), spoilt))
        return dict(found)

    return uow.once("on steps", read)


def where_it_went(uow: UnitOfWork, batch: Batch) -> dict[Place, float]:
    """Grams of a batch by part and step."""
    notes = []
    for note in notes_of_batch(uow, batch):
        if note.kind in ("on", "emptied"):
            of = uow.get(Batch, note.batch_id)
            # All of it was left over: that stays so when what was weighed is corrected.
            whole = note.grams is not None and note.grams > of.resin_g + of.hardener_g - 0.05
            grams = math.inf if note.kind == "emptied" and whole else note.grams
            notes.append(Went(cast(Kind, note.kind), (note.part_id or "", note.step_key), grams))
    return shares(batch.resin_g + batch.hardener_g, (batch.part_id or "", batch.step_key), notes)


def spoilt_since(uow: UnitOfWork, batch: Batch) -> float | None:
    """Since when a batch is known to be out of its ratio, or is marked bad [min]; None for a sound one."""
    if batch.verdict == "out":
        return minute_of(batch.happened_at)
    marks = [note for note in notes_of_batch(uow, batch) if note.kind in ("bad", "cleared")]
    return minute_of(marks[-1].happened_at) if marks and marks[-1].kind == "bad" else None


def why_spoilt(uow: UnitOfWork, batch: Batch) -> str:
    """What is wrong with a batch, in a few words; ``""`` for a sound one."""
    if batch.verdict == "out":
        if batch.deviation_pct is None:
            return "out of its ratio: there is no resin in it"
        return f"{abs(batch.deviation_pct):.0f} % {'over' if batch.deviation_pct > 0 else 'under'} its ratio"
    marks = [note for note in notes_of_batch(uow, batch) if note.kind in ("bad", "cleared")]
    return f"marked bad: {marks[-1].note}" if marks and marks[-1].kind == "bad" else ""
