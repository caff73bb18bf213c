"""What becomes of a mix: where else it could go, where it went, when it was used up, and its photograph."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from sqlalchemy import select

from kiteloom.core.calendar import minute_of
from kiteloom.core.problems import Refused, between
from kiteloom.core.quantities import Typed, show
from kiteloom.core.today import way_is_free
from kiteloom.store.models import Batch, BatchNote, Photo, Surface
from kiteloom.store.unit_of_work import Missing, UnitOfWork
from kiteloom.workshop.batches import BatchView, batch_view
from kiteloom.workshop.lots import Touched, touched_by, versions_of
from kiteloom.workshop.plan import ShopPlan, shop_plan
from kiteloom.workshop.steps import ENOUGH_G

#: A photograph may have so many bytes.
LARGEST_PHOTO = 12 * 1024 * 1024
_PICTURES = {b"\xff\xd8\xff": "image/jpeg", b"\x89PNG": "image/png", b"RIFF": "image/webp"}


@dataclass(frozen=True)
class OtherUse:
    """A step that needs the same product: grams where they are computed, and whether it could begin now."""

    surface_id: str
    step_key: str
    surface: str
    step: str
    grams: float | None
    now: bool
    words: str


@dataclass(frozen=True)
class Trail:
    """A batch with the surfaces it is on, what was left of it, and its photographs."""

    batch: BatchView
    touched: list[Touched]
    bad: bool
    emptied: bool
    leftover_g: float | None
    photos: list[str]
    others: list[OtherUse]


def other_uses(uow: UnitOfWork, sheet_id: str, but: tuple[str, str], now: datetime) -> list[OtherUse]:
    """What else in the shop this mix would do for, what can begin now leading."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        return []
    found = []
    for placed in shop.plan.placed:
        part, step = shop.parts[placed.step.part], placed.step
        if step.cure is None or part.sheet_id != sheet_id or (part.id, step.local) == but or placed.done:
            continue
        counted = step.local in part.needs
        left = shop.left_g(step.key)
        if counted and left < ENOUGH_G:
            continue
        free = way_is_free(shop.plan, placed, shop.now)
        found.append(
            OtherUse(
                part.id,
                step.local,
                part.name,
                step.name,
                left if counted else None,
                free,
                _use_words(shop, left if counted else None, free, placed.begins),
            )
        )
    return sorted(found, key=lambda use: (not use.now, use.surface))


def _use_words(shop: ShopPlan, grams: float | None, free: bool, begins: float) -> str:
    amount = "the amount is yours to judge" if grams is None else f"it takes {show(grams, 'mass', shop.saying.units)}"
    when = "could begin now" if free else f"planned {shop.saying.at(begins)}"
    return f"{when}; {amount}"


def trail(uow: UnitOfWork, batch_id: str, now: datetime) -> Trail:
    """One batch and what became of it."""
    batch = uow.get(Batch, batch_id)
    ids = versions_of(uow, batch)
    query = select(BatchNote).where(BatchNote.batch_id.in_(ids)).order_by(BatchNote.recorded_at)
    notes = list(uow.session.scalars(query))
    marks = [note.kind for note in notes if note.kind in ("bad", "cleared")]
    last = next((note for note in reversed(notes) if note.kind == "emptied"), None)
    photos = list(uow.session.scalars(select(Photo.id).where(Photo.batch_id.in_(ids)).order_by(Photo.happened_at)))
    others = []
    if last is None and now - batch.happened_at < timedelta(hours=12):
        others = other_uses(uow, batch.data_sheet_id, (batch.surface_id, batch.step_key), now)
    return Trail(
        batch_view(uow, batch_id),
        touched_by(uow, batch),
        bool(marks) and marks[-1] == "bad",
        last is not None,
        last.grams if last else None,
        photos,
        others,
    )


@dataclass(frozen=True)
class NoteBatch:
    """What became of a batch. The client makes the id, so a retry adds nothing."""

    id: str
    kind: Literal["on", "emptied", "bad", "cleared"]
    surface_id: str | None = None
    step_key: str = ""
    grams: Typed | None = None
    note: str = ""


def note_batch(uow: UnitOfWork, batch_id: str, order: NoteBatch, now: datetime) -> None:
    """Note that a batch went on a surface, was used up, or was found bad."""
    batch = uow.get(Batch, batch_id)
    if uow.session.get(BatchNote, order.id) is None:
        grams = None
        if order.grams is not None and order.grams.text.strip():
            most = batch.resin_g + batch.hardener_g
            grams = between(
                "grams", order.grams.read("mass", "grams"), 0, most, unit="g", name="that much of this batch"
            )
        if order.kind == "on" and order.surface_id is None:
            raise Refused("surface_id", "no surface is named; say what this batch went on")
        if order.surface_id is not None:
            uow.get(Surface, order.surface_id)
        if order.kind in ("bad", "cleared") and not order.note.strip():
            raise Refused("note", "the note is empty; say in a few words why")
        uow.add(
            BatchNote(
                id=order.id,
                batch_id=batch.id,
                kind=order.kind,
                surface_id=order.surface_id,
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
