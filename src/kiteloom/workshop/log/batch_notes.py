"""What became of a mix: where it went, when it was used up, that it was bad, and its photographs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from typing import Literal
from uuid import NAMESPACE_URL, uuid5

from PIL import Image

from kiteloom.core.base.problems import Refused, between
from kiteloom.core.base.quantities import Typed
from kiteloom.store.models import Batch, BatchNote, Deviation, GateNote, Part, Photo
from kiteloom.store.unit_of_work import Missing, UnitOfWork

#: A photograph may have so many bytes.
LARGEST_PHOTO = 12 * 1024 * 1024


#: And so many points: more fill the memory of whoever looks at it.
MOST_PIXELS = 60_000_000


_PICTURES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}


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


def keep_photo(uow: UnitOfWork, batch_id: str, key: str, data: bytes, now: datetime) -> str:
    """Keep a photograph of a batch; the same id again adds nothing."""
    uow.get(Batch, batch_id)
    if uow.kept_already(Photo, key, batch_id=batch_id) is not None:
        return key
    media = _looked_at(data)
    uow.add(Photo(id=key, batch_id=batch_id, media=media, data=data, happened_at=now, recorded_at=now))
    uow.changed("batch", batch_id)
    return key


def keep_photo_of_deviation(uow: UnitOfWork, deviation_id: str, key: str, data: bytes, now: datetime) -> str:
    """Keep a photograph of what was found wrong; the same id again adds nothing."""
    found = uow.get(Deviation, deviation_id)
    if uow.kept_already(Photo, key, deviation_id=deviation_id) is None:
        media = _looked_at(data)
        uow.add(Photo(id=key, deviation_id=found.id, media=media, data=data, happened_at=now, recorded_at=now))
        uow.changed("part", found.part_id)
    return key


def keep_photo_of_gate(uow: UnitOfWork, note_id: str, key: str, data: bytes, now: datetime) -> str:
    """Keep a photograph of what was done before a closing; the same id again adds nothing."""
    found = uow.get(GateNote, note_id)
    if uow.kept_already(Photo, key, gate_note_id=note_id) is None:
        media = _looked_at(data)
        uow.add(Photo(id=key, gate_note_id=found.id, media=media, data=data, happened_at=now, recorded_at=now))
        uow.changed("gate", found.part_id)
    return key


def _looked_at(data: bytes) -> str:
    if len(data) > LARGEST_PHOTO:
        raise Refused(
            "photo", f"the photograph has {len(data) / 1e6:.1f} MB; at most {LARGEST_PHOTO / 1e6:.1f} MB are kept"
        )
    return _media_of(data)


def _media_of(data: bytes) -> str:
    """What kind of photograph it is; `Refused` for what can't be shown, or is too large to be."""
    try:
        with Image.open(BytesIO(data), formats=tuple(_PICTURES)) as picture:
            kind, (width, height) = picture.format or "", picture.size
            if width * height > MOST_PIXELS:
                raise Refused(
                    "photo",
                    f"the photograph has {width} × {height} points; at most {MOST_PIXELS / 1e6:.0f} million are kept",
                )
            picture.verify()
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise Refused("photo", "the file is no photograph; JPEG, PNG and WebP are kept") from None
    return _PICTURES[kind]


def photo(uow: UnitOfWork, key: str) -> tuple[str, bytes]:
    """A photograph: its media type and its bytes."""
    row = uow.session.get(Photo, key)
    if row is None:
        raise Missing("photo", key)
    return row.media, row.data
