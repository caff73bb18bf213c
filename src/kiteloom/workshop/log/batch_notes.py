"""What became of a mix: where it went, when it was used up, that it was bad, and its photographs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Batch, BatchNote, Part, Photo
from kiteloom.store.unit_of_work import Missing, UnitOfWork

#: A photograph may have so many bytes.
LARGEST_PHOTO = 12 * 1024 * 1024


_PICTURES = {b"\xff\xd8\xff": "image/jpeg", b"\x89PNG": "image/png", b"RIFF": "image/webp"}


@dataclass(frozen=True)
class NoteBatch:
    """What became of a batch. The client makes the id, so a retry adds nothing."""

    id: str
    kind: Literal["on", "emptied", "bad", "cleared"]
    part_id: str | None = None
    step_key: str = ""
    grams: Typed | None = None
    note: str = ""


def note_batch(uow: UnitOfWork, batch_id: str, order: NoteBatch, now: datetime) -> None:
    """Note that a batch went on a part, was used up, or was found bad."""
    batch = uow.get(Batch, batch_id)
    if uow.session.get(BatchNote, order.id) is None:
        grams = None
        if order.grams is not None and order.grams.text.strip():
            most = batch.resin_g + batch.hardener_g
            grams = between(
                "grams", order.grams.read("mass", "grams"), 0, most, unit="g", name="that much of this batch"
            )
        if order.kind == "on" and order.part_id is None:
            raise Refused("part_id", "no part is named; say what this batch went on")
        if order.part_id is not None:
            uow.get(Part, order.part_id)
        if order.kind in ("bad", "cleared") and not order.note.strip():
            raise Refused("note", "the note is empty; say in a few words why")
        uow.add(
            BatchNote(
                id=order.id,
                batch_id=batch.id,
                kind=order.kind,
                part_id=order.part_id,
                step_key=order.step_key[:120],
                grams=grams,
                note=order.note.strip()[:500],
                happened_at=now,
                recorded_at=now,
            )
        )
        uow.changed("batch", batch.id)


def keep_photo(uow: UnitOfWork, batch_id: str, key: str, data: bytes, now: datetime) -> str:
    """Keep a photograph of a batch; the same id again adds nothing."""
    uow.get(Batch, batch_id)
    if uow.session.get(Photo, key) is not None:
        return key
    if len(data) > LARGEST_PHOTO:
        raise Refused(
            "photo", f"the photograph has {len(data) / 1e6:.1f} MB; at most {LARGEST_PHOTO / 1e6:.1f} MB are kept"
        )
    media = next((media for mark, media in _PICTURES.items() if data.startswith(mark)), None)
    if media is None:
        raise Refused("photo", "the file is no photograph; JPEG, PNG and WebP are kept")
    uow.add(Photo(id=key, batch_id=batch_id, media=media, data=data, happened_at=now, recorded_at=now))
    uow.changed("batch", batch_id)
    return key


def photo(uow: UnitOfWork, key: str) -> tuple[str, bytes]:
    """A photograph: its media type and its bytes."""
    row = uow.session.get(Photo, key)
    if row is None:
        raise Missing("photo", key)
    return row.media, row.data
