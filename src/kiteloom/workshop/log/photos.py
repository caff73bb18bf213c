"""Photographs of what was made and found, and what was spoken into a note: looked at, turned right, kept once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from hashlib import sha256
from io import BytesIO
from typing import Any, Literal

from PIL import Image, ImageOps
from sqlalchemy import select

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import Base, Batch, Deviation, GateNote, LogNote, Measured, Part, Photo
from kiteloom.store.unit_of_work import Missing, UnitOfWork

#: A photograph, or a recording, may have so many bytes.
LARGEST_PHOTO = 12 * 1024 * 1024
#: And so many points: more fill the memory of whoever looks at it.
MOST_PIXELS = 60_000_000
#: What is shown among others is at most so wide and high.
SMALL_PX = 480
#: How well a turned photograph is kept: what is lost can't be seen.
QUALITY, SMALL_QUALITY = 92, 80

_PICTURES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
#: How the kinds of recordings begin that browsers make: at which byte, with one of what. Of the last kind are
#: pictures too, which name other brands.
_RECORDINGS = (
    (0, (b"\x1a\x45\xdf\xa3",), "audio/webm"),
    (0, (b"OggS",), "audio/ogg"),
    (
        4,
        tuple(b"ftyp" + brand for brand in (b"M4A ", b"mp41", b"mp42", b"isom", b"iso5", b"iso6", b"dash")),
        "audio/mp4",
    ),
)

What = Literal["batch", "deviation", "gate note", "note", "step", "reading"]

#: What a photograph can be of: its row, the column that names it, and the topic of the pages that show it.
OF: Mapping[What, tuple[type[Base], str, str]] = {
    "batch": (Batch, "batch_id", "batch"),
    "deviation": (Deviation, "deviation_id", "part"),
    "gate note": (GateNote, "gate_note_id", "gate"),
    "note": (LogNote, "log_note_id", "log"),
    "step": (Part, "part_id", "log"),
    "reading": (Measured, "measured_id", "part"),
}


@dataclass(frozen=True)
class Shot:
    """What was sent, as it is kept: turned right, without where it was taken; ``small`` None of a recording."""

    media: str
    data: bytes
    small: bytes | None
    digest: str


def looked_at(data: bytes, *, may_be_spoken: bool = False) -> Shot:
    """A file that was sent, made ready to be kept.

    Raises
    ------
    Refused
        Where it is larger than is kept, or no photograph (nor, where it may be one, a recording).
    """
    if len(data) > LARGEST_PHOTO:
        raise Refused(
            "photo", f"the photograph has {len(data) / 1e6:.1f} MB; at most {LARGEST_PHOTO / 1e6:.1f} MB are kept"
        )
    digest = sha256(data).hexdigest()
    if may_be_spoken:
        for at, begins, media in _RECORDINGS:
            if data[at : at + 16].startswith(begins):
                return Shot(media, data, None, digest)
    try:
        with Image.open(BytesIO(data), formats=tuple(_PICTURES)) as picture:
            # Some telephones put a second, smaller picture behind the first.
            kind, (width, height) = "JPEG" if picture.format == "MPO" else str(picture.format), picture.size
            if width * height > MOST_PIXELS:
                raise Refused(
                    "photo",
                    f"the photograph has {width} × {height} points; at most {MOST_PIXELS / 1e6:.0f} million are kept",
                )
            turned = ImageOps.exif_transpose(picture)
            whole = _written(turned, kind, QUALITY)
            turned.thumbnail((SMALL_PX, SMALL_PX))
            return Shot(_PICTURES[kind], whole, _written(turned, kind, SMALL_QUALITY), digest)
    except Image.DecompressionBombError:
        raise Refused(
            "photo", f"the photograph has too many points; at most {MOST_PIXELS / 1e6:.0f} million are kept"
        ) from None
    except (OSError, SyntaxError, ValueError):
        raise Refused("photo", "the file is no photograph; JPEG, PNG and WebP are kept") from None


def _written(picture: Image.Image, kind: str, quality: int) -> bytes:
    """A picture as a file that says nothing but what is seen, and its colours."""
    out = BytesIO()
    # Of what a picture says of itself only its colours stay: not where it was taken, nor with what.
    says: dict[str, Any] = {"icc_profile": picture.info.get("icc_profile")}
    bare = picture.copy()
    bare.info = {}
    bare.save(out, kind, exif=b"", **({} if kind == "PNG" else {"quality": quality}), **says)
    return out.getvalue()


def keep_photo(uow: UnitOfWork, what: What, of_id: str, key: str, shot: Shot, now: datetime, step_key: str = "") -> str:
    """Keep what was looked at; the same id again adds nothing, the same file is kept once.

    ``of_id`` is the id of what it shows: of a step that of its part, and ``step_key`` which.
    """
    row, column, topic = OF[what]
    found = uow.get(row, of_id)
    same = {column: of_id, "step_key": step_key[:120]}
    if uow.kept_already(Photo, key, **same) is None:
        query = select(Photo.id).where(Photo.digest == shot.digest, Photo.same_id.is_(None))
        first = uow.session.scalar(query.limit(1))
        data, small = (b"", None) if first else (shot.data, shot.small)
        kept = {"media": shot.media, "data": data, "small": small, "digest": shot.digest, "same_id": first}
        uow.add(Photo(id=key, **same, **kept, happened_at=now, recorded_at=now))
        uow.changed(topic, getattr(found, "part_id", None) or of_id)
    return key


def photo(uow: UnitOfWork, key: str, *, small: bool = False) -> tuple[str, bytes]:
    """A photograph, or a recording: its media type and its bytes; small, to be shown among others."""
    row = uow.session.get(Photo, key)
    if row is not None and row.same_id is not None:
        row = uow.session.get(Photo, row.same_id)
    if row is None:
        raise Missing("photo", key)
    return row.media, (row.small or row.data) if small else row.data


def photos_of(uow: UnitOfWork, what: What, ids: Iterable[str]) -> dict[str, list[str]]:
    """The photographs of some rows, by the row's id, in the order they were taken."""
    column = getattr(Photo, OF[what][1])
    found: dict[str, list[str]] = {}
    for of_id, key in uow.session.execute(
        select(column, Photo.id).where(column.in_(list(ids))).order_by(Photo.happened_at, Photo.recorded_at)
    ):
        found.setdefault(str(of_id), []).append(key)
    return found
