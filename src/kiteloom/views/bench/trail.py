"""A batch and what became of it: where it went, what is left, where else it could go."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select

from kiteloom.core.base.calendar import minute_of
from kiteloom.core.base.quantities import show
from kiteloom.core.plan.today import way_is_free
from kiteloom.store.models import Batch, BatchNote, Photo
from kiteloom.store.unit_of_work import UnitOfWork
from kiteloom.views.bench.batches import BatchView, batch_view
from kiteloom.views.stores.lots import Touched, touched_by
from kiteloom.workshop.log.mixes import spoilt_since
from kiteloom.workshop.log.open_cups import open_cups
from kiteloom.workshop.plan.plan import ShopPlan, shop_plan
from kiteloom.workshop.stores.lots import versions_of


@dataclass(frozen=True)
class OtherUse:
    """A step that needs the same product: grams where they are computed, and whether it could begin now."""

    part_id: str
    step_key: str
    part: str
    step: str
    grams: float | None
    now: bool
    words: str


@dataclass(frozen=True)
class Trail:
    """A batch with the parts it is on, what was left of it, and its photographs."""

    batch: BatchView
    touched: list[Touched]
    bad: bool
    emptied: bool
    leftover_g: float | None
    photos: list[str]
    others: list[OtherUse]


def other_uses(
    uow: UnitOfWork, sheet_id: str, but: tuple[str, str], now: datetime, until: float | None = None
) -> list[OtherUse]:
    """What else in the shop this mix would do for, what can begin now leading; what begins after ``until`` is none."""
    shop = shop_plan(uow, minute_of(now))
    if shop is None:
        return []
    found = []
    for placed in shop.plan.placed:
        part, step = shop.parts[placed.step.part], placed.step
        if (
            step.cure is None
            or part.product_of(step.in_part)[0] != sheet_id
            or (part.id, step.in_part) == but
            or placed.done
        ):
            continue
        counted = step.in_part in part.needs
        left = shop.left_g(step.key)
        if counted and left <= 0:
            continue
        free = way_is_free(shop.plan, placed, shop.now)
        if until is not None and not free and placed.begins > until:
            continue
        found.append(
            OtherUse(
                part.id,
                step.in_part,
                part.name,
                step.name,
                left if counted else None,
                free,
                _use_words(shop, left if counted else None, free, placed.begins),
            )
        )
    for unplaced in shop.plan.unplaced if until is None else ():
        part, step = shop.parts[unplaced.step.part], unplaced.step
        if step.cure is None or part.product_of(step.in_part)[0] != sheet_id or (part.id, step.in_part) == but:
            continue
        grams = shop.left_g(step.key) if step.in_part in part.needs else None
        words = f"can't be planned: {unplaced.why}"
        found.append(OtherUse(part.id, step.in_part, part.name, step.name, grams, False, words))
    return sorted(found, key=lambda use: (not use.now, use.part))


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
    if last is None and spoilt_since(uow, batch) is None and now - batch.happened_at < timedelta(hours=12):
        cup = next((cup for cup in open_cups(uow, now) if cup.batch_id == batch.id), None)
        until = minute_of(cup.until) if cup is not None else minute_of(now)
        others = other_uses(uow, batch.data_sheet_id, (batch.part_id or "", batch.step_key), now, until)
    return Trail(
        batch_view(uow, batch_id),
        touched_by(uow, batch),
        bool(marks) and marks[-1] == "bad",
        last is not None,
        last.grams if last else None,
        photos,
        others,
    )
