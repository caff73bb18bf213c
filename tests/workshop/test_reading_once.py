"""What a page reads does not grow with what was mixed: statements are counted, not seconds."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import event, update

from kiteloom.core.base.calendar import minute_of
from kiteloom.store.models import Batch, CrewMember, Part
from kiteloom.store.unit_of_work import Memory
from kiteloom.views.ahead import made_ahead
from kiteloom.workshop.plan.plan import shop_plan
from kiteloom.workshop.plan.watch import Instruments, Watch

#: The most statements a page may take, whatever was kept.
MOST = {"/today": 85, "/airframe": 74, "/cures": 76, "/bench": 16, "/loom": 68, "/weather": 74, "/shelf": 36}


def statements(shop, path, forget=True):
    """The statements a page takes; when nothing is remembered, where all of that is forgotten first."""
    if forget:
        shop.store.memory, shop.store.built = Memory(), Memory()
    return said_by(shop, lambda: shop.get(path))


def said_by(shop, does):
    said = []

    @event.listens_for(shop.store.engine, "before_cursor_execute")
    def heard(_, __, statement, *___):
        said.append(statement)

    does()
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
    pages = {**MOST, f"/parts/{left_upper}/mix": 36, f"/parts/{left_upper}": 82, f"/parts/{left_upper}/times": 73}
    before = {path: statements(shop, path) for path in pages}
    mix_many(shop, 60)
    for path, most in pages.items():
        found = statements(shop, path)
        extra = [
            said for said in set(found) if found.count(said) > before[path].count(said) + 8
        ]  # a person, a lot each
        assert extra == [], f"{path} reads once more for every batch: {extra[:2]}"
        assert len(found) <= most, f"{path} takes {len(found)} statements"


def test_a_fact_leaves_most_of_what_a_page_is_made_from_as_it_was(shop, left_upper):
    first = len(statements(shop, "/today"))
    shop.ask("POST", "/work", {"id": "w", "part_id": left_upper, "step_key": "prepare", "kind": "start"}, 201)
    assert len(statements(shop, "/today", forget=False)) < 0.6 * first


def test_a_press_reads_no_more_for_every_batch_that_was_kept(shop, left_upper):
    def press(kind):
        order = {"id": kind, "part_id": left_upper, "step_key": "prepare", "kind": kind}
        return len(said_by(shop, lambda: shop.ask("POST", "/work", order, 201)))

    few = press("start")
    mix_many(shop, 60)
    assert press("finish") <= few + 8  # four parts more that something was mixed for


def test_what_a_write_reads_is_read_once_until_it_writes(shop):
    with shop.store.writing() as uow:

        def names():
            return uow.once("names", lambda: [row.name for row in uow.all(CrewMember, CrewMember.name)])

        first = names()
        assert names() is first
        tove = CrewMember(id="tove", name="Tove", skills=[], updated_at=shop.clock.at)
        uow.add(tove)
        assert set(names()) - set(first) == {"Tove"}
        tove.name = "Tove E."
        assert set(names()) - set(first) == {"Tove E."}
        uow.session.execute(update(CrewMember).values(name="nobody"))
        assert set(names()) == {"nobody"}
        uow.session.rollback()
        assert names() == first


def test_a_minute_begins_with_what_was_made_for_it(shop):
    watch = Watch(shop.store, shop.clock, Instruments(), None, made_ahead)
    watch.tick()  # what it has to say itself is said
    shop.get("/today")
    shop.clock.at += timedelta(seconds=45)
    watch.tick()
    shop.clock.at += timedelta(seconds=15)
    assert len(statements(shop, "/today", forget=False)) < 10


def test_while_nothing_happens_the_plan_stays_the_same(shop):
    def at(minute):
        with shop.store.reading() as uow:
            return shop_plan(uow, minute).plan

    minute = minute_of(shop.clock.at) + 1
    plan = at(minute)
    assert at(minute + 1) is plan
    assert at(minute + 5) is not plan  # its grid went on
    later = at(minute + 6)
    shop.ask("POST", "/log-notes", {"id": "n", "kind": "note", "words": "the lamp flickers"}, 201)
    assert at(minute + 6) is later  # what the plan is not made from
    part = shop.part("Left wing, upper skin")
    shop.ask("POST", "/work", {"id": "w", "part_id": part, "step_key": "prepare", "kind": "start", "crew": []}, None)
    assert at(minute + 7) is not later
