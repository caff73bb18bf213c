"""What a page reads does not grow with what was mixed: statements are counted, not seconds."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import event

from kiteloom.store.models import Batch, Part
from kiteloom.store.unit_of_work import Memory

#: The most statements a page may take, whatever was kept.
MOST = {"/today": 90, "/airframe": 72, "/cures": 90, "/bench": 44, "/loom": 66, "/weather": 72, "/shelf": 40}


def statements(shop, path, forget=True):
    """The statements a page takes; when nothing is remembered, where all of that is forgotten first."""
    if forget:
        shop.store.memory, shop.store.built = Memory(), Memory()
    said = []

    @event.listens_for(shop.store.engine, "before_cursor_execute")
    def heard(_, __, statement, *___):
        said.append(statement)

    shop.get(path)
    event.remove(shop.store.engine, "before_cursor_execute", heard)
    return said


def mix_many(shop, count):
    """So many more cups of the same, on several parts, each with its lot."""
    with shop.store.writing() as uow:
        like = [batch for batch in uow.all(Batch, Batch.happened_at) if batch.lot_id is not None]
        parts = [part.id for part in uow.all(Part, Part.rank)][:4]
        for n in range(count):
            kept = {c.key: getattr(like[n % len(like)], c.key) for c in Batch.__table__.columns}
            at = kept["happened_at"] + timedelta(seconds=n)
            more = {"id": f"more {n}", "corrects_id": None, "happened_at": at, "part_id": parts[n % len(parts)]}
            uow.add(Batch(**{**kept, **more, "step_key": "skin-1/layup"}))
        uow.changed("batch", "many")


def test_no_page_reads_more_for_every_batch_that_was_kept(shop, left_upper):
    pages = {**MOST, f"/parts/{left_upper}/mix": 34, f"/parts/{left_upper}": 80, f"/parts/{left_upper}/times": 71}
    before = {path: statements(shop, path) for path in pages}
    mix_many(shop, 60)
    for path, most in pages.items():
        found = statements(shop, path)
        extra = [
            said for said in set(found) if found.count(said) > before[path].count(said) + 8
        ]  # a person, a lot each
        assert extra == [], f"{path} reads once more for every batch: {extra[:2]}"
        assert len(found) <= most, f"{path} takes {len(found)} statements"
