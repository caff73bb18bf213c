"""Today is worked out as soon as something was written, and goes on being so after it failed once."""

from __future__ import annotations

import time
from uuid import uuid4

from kiteloom.api import ahead


def wait_for(asked):
    """Until something holds; the machine may be slow."""
    until = time.monotonic() + 30
    while not asked():
        assert time.monotonic() < until
        time.sleep(0.01)


def test_today_is_worked_out_before_anybody_asks_also_after_it_failed_once(shop, monkeypatch, caplog):
    real, calls = ahead.today_view, []

    def once_broken(uow, now):
        calls.append(now)
        assert len(calls) > 1, "broken"
        return real(uow, now)

    monkeypatch.setattr(ahead, "today_view", once_broken)
    looks, part = ahead.Ahead(shop.store, shop.clock), shop.part("Rudder")
    looks.start()

    def note(kind):
        shop.ask("POST", "/work", {"id": str(uuid4()), "part_id": part, "step_key": "fit", "kind": kind}, 201)

    note("start")
    wait_for(lambda: len(calls) == 1)
    assert shop.store.memory.last("today_view") is None
    note("pause")
    wait_for(lambda: shop.store.memory.last("today_view") is not None)
    assert "nothing was seen ahead" in caplog.text
    found = shop.store.memory.last("today_view")
    assert shop.get("/today")["sentence"] == found.sentence
    assert shop.store.memory.last("today_view") is found  # it was not made again for who asked
    looks.stop()
    note("start")
    assert len(calls) == 2
