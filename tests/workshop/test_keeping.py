"""What is kept stays kept: closing, backing up and restoring, a folder that is not what it was, a clock set back."""

from __future__ import annotations

import shutil
import sqlite3
import threading
from contextlib import closing
from datetime import timedelta
from uuid import uuid4

import pytest
from sqlalchemy import event
from tests.conftest import MORNING
from tests.workshop.test_bench import keep

from kiteloom import cli
from kiteloom.demo import reedling
from kiteloom.store import file
from kiteloom.store.unit_of_work import Store
from kiteloom.workshop.base.clock import SetClock


def database(folder):
    return folder / file.NAME


def batches(path):
    with closing(sqlite3.connect(path)) as raw:
        return {row[0] for row in raw.execute("SELECT id FROM batch")}


def test_after_an_ordinary_stop_everything_is_in_the_one_file(shop, left_upper, tmp_path):
    kept = keep(shop, left_upper)["id"]
    shop.store.close()
    alone = tmp_path / "alone"
    alone.mkdir()
    shutil.copy(database(shop.folder), database(alone))
    assert kept in batches(database(alone))
    shop.open()


def test_a_backup_taken_while_others_write_has_all_that_was_acknowledged_before_it(shop, left_upper, tmp_path, capsys):
    acknowledged, errors, over = [], [], threading.Event()

    def writes():
        while not over.is_set():
            key = str(uuid4())
            try:
                keep(shop, left_upper, id=key, another=True)
                acknowledged.append(key)
            except AssertionError as error:
                errors.append(error)

    threads = [threading.Thread(target=writes) for _ in range(2)]
    for thread in threads:
        thread.start()
    for n in range(3):
        before = set(acknowledged)
        target = tmp_path / f"kept-{n}.sqlite3"
        assert cli.main(["backup", str(shop.folder), str(target)]) == 0
        assert before <= batches(target)
    over.set()
    for thread in threads:
        thread.join()
    assert errors == []
    assert "is whole" in capsys.readouterr().out
    assert cli.main(["backup", str(shop.folder), str(target)]) == 1  # it overwrites nothing
    assert "overwrites nothing" in capsys.readouterr().err
    # A shop that is being served is not restored over; stopped, it is as it was, and the other lies aside.
    assert cli.main(["restore", str(target), str(shop.folder)]) == 1
    assert "is in use: stop the shop first" in capsys.readouterr().err
    shop.store.close()
    assert cli.main(["restore", str(tmp_path / "kept-0.sqlite3"), str(shop.folder)]) == 0
    aside = next(shop.folder.glob("laid-aside-*"))
    assert set(acknowledged) <= batches(database(aside))
    shop.open()
    assert batches(tmp_path / "kept-0.sqlite3") == batches(database(shop.folder))
    assert shop.get("/today")["sentence"]


def lost(folder):
    database(folder).write_bytes(b"")


def gone(folder):
    database(folder).unlink()


def garbage(folder):
    database(folder).write_bytes(b"this is no shop" * 900)


def torn(folder):
    with database(folder).open("r+b") as opened:
        opened.seek(4096 * 3)
        opened.write(b"\xab" * 4096 * 12)


def newer(folder):
    with closing(sqlite3.connect(database(folder), isolation_level=None)) as raw:
        raw.execute("UPDATE alembic_version SET version_num = '0099'")


def bare(folder):
    database(folder).unlink()
    with closing(sqlite3.connect(database(folder))) as raw:
        raw.execute("VACUUM")


@pytest.mark.parametrize(
    ("harm", "said"),
    [
        (lost, "is empty or gone, though"),
        (gone, "is empty or gone, though"),
        (bare, "though"),
        (garbage, "is damaged or no shop"),
        (torn, "is damaged"),
        (newer, "was made by a newer Kite Loom (its revision is 0099"),
    ],
    ids=lambda value: getattr(value, "__name__", None),
)
def test_a_folder_that_is_not_what_it_was_is_refused_in_one_sentence_and_left_alone(
    seeded, tmp_path, capsys, harm, said
):
    folder = tmp_path / "shop"
    shutil.copytree(seeded, folder)
    harm(folder)
    before = database(folder).read_bytes() if database(folder).exists() else None
    assert cli.main(["serve", "--data", str(folder), "--port", "0"]) == 1
    err = capsys.readouterr().err
    assert said in err
    assert err.count("\n") == 1
    assert (database(folder).read_bytes() if database(folder).exists() else None) == before


def test_a_folder_that_can_not_be_made_says_so(tmp_path, capsys):
    (tmp_path / "file").write_text("x")
    assert cli.main(["serve", "--data", str(tmp_path / "file" / "shop"), "--port", "0"]) == 1
    assert "can't be made or read" in capsys.readouterr().err


def test_before_a_migration_the_folder_is_copied_as_it_was(tmp_path):
    from tests.workshop.test_jobs import unpacked

    folder = unpacked(tmp_path / "old")
    Store(folder).close()
    (copy,) = (folder / file.BEFORE).glob("*.sqlite3")
    assert file.checked(copy) == "0005"
    Store(folder).close()
    assert len(list((folder / file.BEFORE).glob("*.sqlite3"))) == 1  # once


def test_while_another_program_holds_the_file_reads_go_on_and_a_write_is_told_to_wait(shop, left_upper):
    holder = sqlite3.connect(database(shop.folder), isolation_level=None)
    holder.execute("BEGIN IMMEDIATE")
    answers = []

    def write():
        body = {"id": str(uuid4()), "part_id": left_upper, "step_key": "prepare", "kind": "start"}
        answers.append(shop.client.post("/api/v1/work", json=body))

    writers = [threading.Thread(target=write) for _ in range(6)]
    for writer in writers:
        writer.start()
    assert shop.get("/now")["seq"] >= 0  # nobody who only reads waits for them
    for writer in writers:
        writer.join()
    holder.execute("ROLLBACK")
    holder.close()
    assert {answer.status_code for answer in answers} == {503}
    assert all(answer.headers["Retry-After"] for answer in answers)
    assert all("Try again" in answer.json["detail"] for answer in answers)


def test_a_full_disk_has_its_own_sentence_and_loses_nothing(shop, left_upper):
    kept = keep(shop, left_upper)["id"]

    def full(raw, _):
        pages = raw.execute("PRAGMA page_count").fetchone()[0]
        raw.execute(f"PRAGMA max_page_count={pages}")

    shop.store.engine.dispose()
    event.listen(shop.store.engine, "connect", full)
    for _ in range(60):
        answer = shop.client.post("/api/v1/climate/outlooks", json={
            "id": str(uuid4()), "low": {"text": "5", "unit": "°C"}, "high": {"text": "9", "unit": "°C"}})  # fmt: skip
        if answer.status_code != 201:
            break
    assert (answer.status_code, "disk is full" in answer.json["detail"]) == (507, True)
    event.remove(shop.store.engine, "connect", full)
    shop.store.engine.dispose()
    assert kept in batches(database(shop.folder))


def test_a_demo_that_was_cut_short_while_it_was_seeded_is_seeded_whole(tmp_path, monkeypatch):
    folder = tmp_path / "demo"

    def killed(*_):
        raise KeyboardInterrupt

    with monkeypatch.context() as patched:
        patched.setattr(reedling, "_work_so_far", killed)
        with pytest.raises(KeyboardInterrupt):
            cli.opened("demo", folder, SetClock(MORNING))
    app, _ = cli.opened("demo", folder, SetClock(MORNING))
    app.extensions["kiteloom.store"].close()
    assert len(batches(database(folder))) > 8
    assert not (folder / cli.SEEDING).exists()


@pytest.mark.parametrize("back", [2, 60, 1440, 30 * 1440, 20_000 * 1440])
def test_a_clock_that_goes_back_breaks_nothing_and_says_so(shop, back):
    part = shop.part("Right wing, upper skin")
    work = {"part_id": part, "step_key": "prepare"}
    shop.ask("POST", "/work", {"id": "s", "kind": "start", **work}, 201)
    shop.clock.at += timedelta(minutes=70)
    shop.ask("POST", "/work", {"id": "f", "kind": "finish", **work}, 201)
    tick = {"part_id": part, "step_key": "skin-1/layup", "item": "ready"}
    shop.ask("POST", "/ticks", {"ticks": [{"id": "t", **tick}]}, 201)
    assert shop.get("/weather")["clock_doubt"] == ""
    shop.clock.at -= timedelta(minutes=back)
    sheet = f"/run-sheet?part_id={part}&step_key=skin-1/layup"
    for path in ("/today", "/loom", "/weather", "/cures", "/airframe", sheet):
        shop.get(path)
    assert "clock" in shop.get("/weather")["clock_doubt"]
    shop.ask("POST", "/ticks", {"ticks": [{"id": "u", **tick, "done": False}]}, 201)
    items = shop.get(sheet)["items"]
    assert next(item for item in items if item["key"] == "ready")["done_at"] is None  # what was acknowledged stands
