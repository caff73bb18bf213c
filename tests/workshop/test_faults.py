"""Faults survived: killed in mid-save, two programs on one folder, tablets without a network, copies, restoring."""

from __future__ import annotations

import json
import shutil
import sqlite3
from contextlib import closing
from datetime import datetime, timedelta
from threading import Thread
from uuid import uuid4

import pytest
from tests.conftest import MORNING, Shop
from tests.faults import Killed
from tests.workshop.test_bench import keep

from kiteloom import cli
from kiteloom.store import file
from kiteloom.workshop.base.copies import CopyTo, keep_copy, too_many
from kiteloom.workshop.plan.watch import Instruments, Watch

KILLS = 12


def test_killed_in_mid_save_nothing_acknowledged_is_lost_or_doubled(seeded, tmp_path):
    shutil.copytree(seeded, tmp_path / "shop")
    shop = Killed(tmp_path / "shop")
    for _ in range(KILLS):
        shop.once()
    shop.close()
    assert len(shop.kept) >= KILLS  # each was killed while it went on writing


@pytest.fixture
def copies(tmp_path):
    return CopyTo(tmp_path / "stick", own=True)


def names(copies):
    return sorted(path.name for path in copies.folder.iterdir())


def test_the_shop_is_copied_once_a_night_and_the_copy_is_all_of_it(shop, left_upper, copies, tmp_path):
    kept = keep(shop, left_upper)["id"]
    assert shop.get("/shop")["copies"].startswith("There is no copy of the shop yet.")
    keep_copy(shop.store, copies, shop.clock.at)
    assert names(copies) == ["shop-2026-05-14-0920.sqlite3"]
    for hours in (1, 8, 7):  # until 01:20
        shop.clock.at += timedelta(hours=hours)
        keep_copy(shop.store, copies, shop.clock.at)
    assert len(names(copies)) == 1
    shop.clock.at += timedelta(hours=1)
    keep_copy(shop.store, copies, shop.clock.at)
    assert names(copies)[1:] == ["shop-2026-05-15-0220.sqlite3"]
    said = shop.get("/shop")["copies"]
    assert f"copied to {copies.folder} every night. The newest copy, shop-2026-05-15-0220.sqlite3, is of 02:20" in said
    assert shop.get("/today")["copies"] == ""
    # It is restored into an empty folder, and served.
    other = tmp_path / "other"
    assert cli.main(["restore", str(copies.folder / names(copies)[0]), str(other)]) == 0
    with closing(sqlite3.connect(other / file.NAME)) as raw:
        assert raw.execute("SELECT count(*) FROM batch WHERE id = ?", (kept,)).fetchone() == (1,)


def test_a_stick_that_is_gone_is_said_on_today_until_it_is_back(shop, tmp_path):
    stick = CopyTo(tmp_path / "stick")
    stick.folder.mkdir()
    keep_copy(shop.store, stick, shop.clock.at)
    stick.folder.rename(tmp_path / "pulled out")
    shop.clock.at += timedelta(days=1)
    keep_copy(shop.store, stick, shop.clock.at)
    said = shop.get("/today")["copies"]
    assert said == (
        f"The shop could not be copied (09:20): {stick.folder} is not there; is the stick in? "
        "The newest copy is of Thu 14 May 09:20."
    )
    assert shop.get("/shop")["copies"] == said
    (tmp_path / "pulled out").rename(stick.folder)
    shop.clock.at += timedelta(minutes=30)
    keep_copy(shop.store, stick, shop.clock.at)
    assert shop.get("/today")["copies"] == said  # it is not tried every minute
    shop.clock.at += timedelta(minutes=30)
    keep_copy(shop.store, stick, shop.clock.at)
    assert shop.get("/today")["copies"] == ""
    shop.clock.at += timedelta(days=3)
    assert shop.get("/today")["copies"].endswith("nobody copies it any more.")


def test_a_stick_pulled_out_half_way_leaves_no_copy_that_looks_whole(shop, copies, monkeypatch):
    def half(path, target):
        target.write_bytes(path.read_bytes()[:5000])
        raise OSError(5, "Input/output error")

    monkeypatch.setattr(file, "_copy", half)
    keep_copy(shop.store, copies, shop.clock.at)
    assert names(copies) == ["shop-2026-05-14-0920.sqlite3.half"]
    assert "can't be written (input/output error). There is no copy yet." in shop.get("/today")["copies"]
    monkeypatch.undo()
    shop.clock.at += timedelta(hours=1)
    keep_copy(shop.store, copies, shop.clock.at)
    assert "shop-2026-05-14-1020.sqlite3" in names(copies)


def test_a_clock_that_was_set_back_keeps_no_copy_from_being_made(shop, copies):
    shop.clock.at += timedelta(days=300)
    keep_copy(shop.store, copies, shop.clock.at)
    shop.clock.at -= timedelta(days=299)
    keep_copy(shop.store, copies, shop.clock.at)
    assert len(names(copies)) == 2
    assert "shop-2026-05-15-0920.sqlite3" in shop.get("/shop")["copies"]


def test_the_watch_copies_by_itself(shop, copies):
    watch = Watch(shop.store, shop.clock, Instruments(), copies)
    for _ in range(2):
        watch.tick()
        shop.clock.at += timedelta(minutes=1)
    assert len(names(copies)) == 1


def test_two_weeks_are_kept_and_the_newest_of_each_month_of_a_year():
    days = [datetime(2025, 1, 1) + timedelta(days=n) for n in range(500)]  # noqa: DTZ001
    every = [f"shop-{day:%Y-%m-%d}-0200.sqlite3" for day in days] + ["shop-notes.sqlite3"]
    theirs = [f"shop-2-{day:%Y-%m-%d}-0200.sqlite3" for day in days]
    gone = too_many("shop", every + theirs)
    assert not set(gone) & set(theirs)  # another shop's beside them
    kept = sorted(set(every) - set(gone))
    assert kept[-15:] == [*every[-15:-1], "shop-notes.sqlite3"]
    assert [name[5:12] for name in kept[:-15]] == [f"2025-{n:02}" for n in range(6, 13)] + [
        f"2026-{n:02}" for n in range(1, 5)
    ]
    assert kept[0] == "shop-2025-06-30-0200.sqlite3"


def test_a_backup_is_looked_at_before_it_is_restored(shop, left_upper, tmp_path, capsys):
    target = tmp_path / "monday.sqlite3"
    assert cli.main(["backup", str(shop.folder), str(target)]) == 0
    keep(shop, left_upper)
    shop.store.close()
    capsys.readouterr()
    assert cli.main(["restore", "--look", str(target), str(shop.folder)]) == 0
    said = capsys.readouterr().out
    assert f"{shop.folder} has " in said
    assert "; the backup lacks 1 of them, the last of " + f"{MORNING.astimezone().isoformat()[:4]}" in said, said
    with closing(sqlite3.connect(shop.folder / file.NAME)) as raw:
        assert raw.execute("SELECT count(*) FROM batch").fetchone()[0] > 0
    assert not list(shop.folder.glob("laid-aside-*"))
    assert cli.main(["restore", "--look", str(target), str(tmp_path / "empty")]) == 0
    assert "There is no shop in" in capsys.readouterr().out
    shop.open()


def test_two_programs_on_one_folder_see_each_other_and_lose_nothing(shop, left_upper):
    other, acknowledged = Shop(shop.folder), []

    def writes(mine):
        for _ in range(15):
            key = str(uuid4())
            keep(mine, left_upper, id=key, another=True)
            acknowledged.append(key)

    threads = [Thread(target=writes, args=[mine]) for mine in (shop, other)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(acknowledged) == 30
    with closing(sqlite3.connect(shop.folder / file.NAME)) as raw:
        assert set(acknowledged) <= {row[0] for row in raw.execute("SELECT id FROM batch")}
    # What one is told stands on the other's page at once; who saves over it is shown what changed.
    body = {"id": str(uuid4()), "part_id": shop.part("Rudder"), "step_key": "fit", "kind": "start"}
    shop.ask("POST", "/work", body, 201)
    assert any(row["part"] == "Rudder" for row in other.get("/today")["bench"])
    version = other.get("/shop")["version"]
    shop.ask("PATCH", "/shop", {"version": version, "units": "us"})
    conflict = other.ask("PATCH", "/shop", {"version": version, "week": ["9–12"] * 7}, 409)
    assert "units" in json.dumps(conflict).lower(), conflict
    other.close()


@pytest.mark.parametrize("first", range(3))
def test_three_tablets_that_wrote_for_an_hour_without_the_network_lose_and_double_nothing(shop, left_upper, first):
    """Each sends what it kept when it is back, in whatever order they come, and all of it once more."""
    rudder, sent = shop.part("Rudder"), {}

    def at(minute):
        return (MORNING + timedelta(minutes=minute)).isoformat()

    def work(kind, minute):
        body = {"id": str(uuid4()), "part_id": rudder, "step_key": "fit", "kind": kind, "happened_at": at(minute)}
        return "/work", body

    def tick(item, minute):
        one = {"id": str(uuid4()), "part_id": left_upper, "step_key": "skin-1/layup", "item": item}
        return "/ticks", {"ticks": [{**one, "happened_at": at(minute)}]}

    items = [item["key"] for item in shop.get(f"/run-sheet?part_id={left_upper}&step_key=skin-1/layup")["items"]][:4]
    tablets = [
        [work("start", 5), work("finish", 30), *(tick(item, 10 + n) for n, item in enumerate(items[:2]))],
        [work("start", 7), *(tick(item, 20 + n) for n, item in enumerate(items[2:])), work("finish", 40)],
        [tick(item, 25 + n) for n, item in enumerate(items)],
    ]
    shop.clock.at += timedelta(hours=1)
    for queue in (tablets[first:] + tablets[:first]) * 2:
        for path, body in queue:
            answer = shop.client.post(f"/api/v1{path}", data=json.dumps(body), content_type="application/json")
            sent.setdefault(json.dumps(body), []).append((answer.status_code, answer.json))
    with closing(sqlite3.connect(shop.folder / file.NAME)) as raw:
        ticks = [row[0] for row in raw.execute("SELECT id FROM tick")]
        rows = raw.execute("SELECT id, kind FROM work").fetchall()
    wanted = [one["id"] for queue in tablets for path, body in queue if path == "/ticks" for one in body["ticks"]]
    assert [ticks.count(key) for key in wanted] == [1] * len(wanted)
    # Both say that they began and finished the same work: one stands, and the other is told.
    mine = {body["id"] for queue in tablets for path, body in queue if path == "/work"}
    assert sorted(kind for key, kind in rows if key in mine) == ["finish", "start"]
    told = [answers[0] for body, answers in sent.items() if json.loads(body).get("kind")]
    stood = [answer for status, answer in told if status == 201 and answer["added"]]
    others = [json.dumps(answer) for status, answer in told if status == 422 or not answer.get("added", True)]
    assert (len(stood), len(others)) == (2, 2), told
    assert all("fit" in words.lower() for words in others)
