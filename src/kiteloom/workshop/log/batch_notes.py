"""What became of a mix: where it went, when it was used up, that it was bad."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from uuid import NAMESPACE_URL, uuid5

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Batch, BatchNote, Part
from kiteloom.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class NoteBatch:
    """What became of a batch. The client makes the id, so a retry adds nothing.

    ``thrown`` says both that it is bad and that none of it is on a part.
    """

    id: str
    kind: Literal["on", "emptied", "bad", "cleared", "thrown"]
    part_id: str | None = None
    step_key: str = ""
    grams: Typed | None = None
    note: str = ""


def note_batch(uow: UnitOfWork, batch_id: str, order: NoteBatch, now: datetime) -> None:
    """Note that a batch went on a part, was used up, or was found bad."""
    batch = uow.get(Batch, batch_id)
    kind = "bad" if order.kind == "thrown" else order.kind
    if uow.kept_already(BatchNote, order.id, batch_id=batch.id, kind=kind, part_id=order.part_id) is None:
        grams = None
        if order.grams is not None and order.grams.text.strip():
            most = batch.resin_g + batch.hardener_g
            grams = between(
                "grams", order.grams.read("mass", "grams"), 0, most, unit="g", name="that much of this batch"
            )
        if order.kind == "on" and order.part_id is None:
            raise Refused("part_id", "no part is named; say what this batch went on")
        if order.kind == "on" and order.step_key and grams is None:
            raise Refused("grams", "how much of it went there is not said; it is taken from the part it was mixed for")
        if order.part_id is not None:
            uow.get(Part, order.part_id)
        if order.kind in ("bad", "cleared", "thrown") and not order.note.strip():
            raise Refused("note", "the note is empty; say in a few words why")
        told = {"batch_id": batch.id, "note": order.note.strip()[:500], "happened_at": now, "recorded_at": now}
        if order.kind == "thrown":
            everything, other = (
                batch.resin_g + batch.hardener_g,
                str(uuid5(NAMESPACE_URL, f"kiteloom:thrown/{order.id}")),
            )
            uow.add(BatchNote(id=other, kind="emptied", grams=everything, **told))
        where = {"part_id": order.part_id, "step_key": order.step_key[:120]}
        uow.add(BatchNote(id=order.id, kind=kind, grams=grams, **where, **told))
        uow.changed("batch", batch.id)
