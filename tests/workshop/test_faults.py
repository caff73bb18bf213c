"""Faults survived: killed in mid-save, copied every night, a stick that is gone, looked at before it is restored."""

from __future__ import annotations

import shutil
import sqlite3
from contextlib import closing
from datetime import datetime, timedelta

import pytest
from tests.conftest import MORNING
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
    assert len(shop.kept) > KILLS


@pytest.fixture
def copies(tmp_path):
    return CopyTo(tmp_path / "stick", own=True)


def names(copies):
    return sorted(path.name for path in copies.folder.iterdir())


def test_the_shop_is_copied_once_a_night_and_the_copy_is_all_of_it(shop, left_upper, copies, tmp_path):
    kept = keep(shop, left_upper)["id"]
    assert "start it with --copies" in shop.get("/shop")["copies"]
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


def test_the_watch_copies_by_itself(shop, copies):
    watch = Watch(shop.store, shop.clock, Instruments(), copies)
    for _ in range(2):
        watch.tick()
        shop.clock.at += timedelta(minutes=1)
    assert len(names(copies)) == 1


def test_two_weeks_are_kept_and_the_newest_of_each_month_of_a_year():
    days = [datetime(2025, 1, 1) + timedelta(days=n) for n in range(500)]  # noqa: DTZ001
    every = [f"shop-{day:%Y-%m-%d}-0200.sqlite3" for day in days] + ["shop-notes.sqlite3"]
    kept = sorted(set(every) - set(too_many(every)))
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
