"""A shop as open files, and taken in again: all of it, whole, and nothing that is none of it."""

from __future__ import annotations

import csv
import io
import json
import re
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from hashlib import sha256
from zipfile import ZIP_DEFLATED, ZipFile

import pytest
from tests.conftest import Shop
from tests.workshop.test_logbook import lying, sent, write

from kiteloom import cli
from kiteloom.demo.logbook import note_id
from kiteloom.store import archive, file
from kiteloom.store.file import CantOpen
from kiteloom.store.unit_of_work import made_empty
from kiteloom.views.logbook.archive import archived


def rows_of(path):
    """Every row of every table, as it stands in the file."""
    with closing(sqlite3.connect(path)) as database:
        names = [row[0] for row in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: sorted(map(repr, database.execute(f'SELECT * FROM "{name}"'))) for name in names}


@pytest.fixture
def packed(shop, tmp_path):
    """A shop's archive, with a photograph that is shown twice, and words that a spreadsheet would work out."""
    write(shop, "n", '=HYPERLINK("http://x.test")')
    assert sent(shop, "p", lying()).status_code == 201
    assert sent(shop, "q", lying(), "log-notes/n").status_code == 201
    archived(shop.store, tmp_path / "shop.zip", datetime(2026, 5, 14, 8, tzinfo=UTC))
    return tmp_path / "shop.zip"


def test_all_of_a_shop_goes_out_and_comes_in_again(shop, packed, tmp_path, capsys):
    assert cli.main(["unpack", str(packed), str(tmp_path / "other")]) == 0
    assert " rows." in capsys.readouterr().out
    shop.store.close()
    before, after = rows_of(shop.folder / file.NAME), rows_of(tmp_path / "other" / file.NAME)
    assert after == before
    assert len(before["work"]) > 20
    other = Shop(tmp_path / "other")
    assert other.client.get("/api/v1/photos/q").data == shop.client.get("/api/v1/photos/p").data
    assert other.get("/today")["sentence"] == shop.get("/today")["sentence"]
    # It is a shop like any: what happened can't be changed in it either.
    with closing(sqlite3.connect(tmp_path / "other" / file.NAME)) as database, pytest.raises(sqlite3.IntegrityError):
        database.execute("UPDATE work SET kind = 'skip'")
    other.close()


def test_it_is_read_without_kite_loom(shop, packed):
    with ZipFile(packed) as held:
        says = json.loads(held.read("shop.json"))
        assert all(sha256(held.read(name)).hexdigest() == digest for name, digest in says["sha256"].items())
        assert set(held.namelist()) == {*says["sha256"], "shop.json"}
        book = list(csv.DictReader(io.StringIO(held.read("logbook.csv").decode())))
        work = list(csv.DictReader(io.StringIO(held.read("tables/work.csv").decode())))
        photos = {row["id"]: row for row in csv.DictReader(io.StringIO(held.read("tables/photo.csv").decode()))}
        assert held.read(f"photographs/{photos['p']['data']}")[:3] == b"\xff\xd8\xff"
    assert [row["when"] for row in book] == sorted(row["when"] for row in book)
    assert book[-1]["in words"] == '\'=HYPERLINK("http://x.test")'  # a text in any spreadsheet
    assert next(row for row in book if row["id"] == note_id(22))["photographs"] == "p"
    assert len(work) == says["rows"]["work"]
    assert photos["q"]["same_id"] == "p"


def test_the_shop_gives_it_to_a_browser_while_it_runs(shop, tmp_path):
    got = shop.client.get("/api/v1/archive.zip")
    assert got.headers["Content-Disposition"] == "attachment; filename=shop-2026-05-14.zip"
    (tmp_path / "got.zip").write_bytes(got.data)
    assert archive.unpack(tmp_path / "got.zip", tmp_path / "other")["rows"]["work"] > 20


def changed(packed, folder, change):
    """The archive with its files changed: by name, its bytes, or None for one that is left out."""
    target = folder / "changed.zip"
    with ZipFile(packed) as held, ZipFile(target, "w", ZIP_DEFLATED) as out:
        files = {name: held.read(name) for name in held.namelist()}
        for name, data in change(files).items():
            out.writestr(name, data)
    return target


def with_row(files, table, **row):
    """One row more, said to be of the archive."""
    rows = [*json.loads(files[f"tables/{table}.json"]), row]
    data = json.dumps(rows).encode()
    says = json.loads(files["shop.json"])
    says["rows"][table] += 1
    says["sha256"][f"tables/{table}.json"] = sha256(data).hexdigest()
    return {**files, f"tables/{table}.json": data, "shop.json": json.dumps(says).encode()}


def of_revision(files, revision):
    return {**files, "shop.json": json.dumps({**json.loads(files["shop.json"]), "revision": revision}).encode()}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda files: files | {"../../climbs.sqlite3": b"x"}, "“../../climbs.sqlite3”, which is none of a shop's"),
        (lambda files: files | {"/etc/passwd": b"x"}, "none of a shop's files"),
        (lambda files: files | {"tables/work.json": b"[]"}, "“tables/work.json” is not what was written"),
        (lambda files: {name: data for name, data in files.items() if name != "tables/batch.json"}, "not whole"),
        (lambda files: {"READ ME.txt": b"hello"}, "no archive of a shop"),
        (lambda files: files | {"shop.json": b"[1]"}, "does not say what it holds"),
        (lambda files: of_revision(files, "0999"), "by a newer Kite Loom (its revision is 0999"),
        (lambda files: with_row(files, "station", id="s"), "not whole"),
        (lambda files: with_row(files, "log_answer", id="a", log_note_id="gone", words="", by_whom="", revision="",
                                crew_member_id=None, happened_at="2026-05-14 07:00:00",
                                recorded_at="2026-05-14 07:00:00"), "log_answer names one of log_note"),
    ],
)  # fmt: skip
def test_what_is_no_archive_or_was_changed_is_refused_and_leaves_nothing(packed, tmp_path, change, words):
    bad = changed(packed, tmp_path, change)
    with pytest.raises(CantOpen, match=re.escape(words)):
        archive.unpack(bad, tmp_path / "other")
    assert [path.name for path in (tmp_path / "other").iterdir()] == []
    assert not (tmp_path.parent / "climbs.sqlite3").exists()


def test_one_that_was_cut_off_or_is_none_at_all_is_refused(packed, tmp_path, capsys):
    half = tmp_path / "half.zip"
    half.write_bytes(packed.read_bytes()[:20_000])
    for path in (half, tmp_path / "shop"):
        assert cli.main(["unpack", str(path), str(tmp_path / "other")]) == 1
    assert "is no archive of a shop, or not whole" in capsys.readouterr().err


def test_nothing_is_taken_over_a_shop_and_nothing_is_overwritten(shop, packed, tmp_path, capsys):
    assert cli.main(["unpack", str(packed), str(shop.folder)]) == 1
    assert "holds a shop already" in capsys.readouterr().err
    assert cli.main(["archive", str(shop.folder), str(packed)]) == 1
    assert "an archive overwrites nothing" in capsys.readouterr().err
    assert shop.get("/today")["sentence"]


def test_an_archive_of_an_older_program_is_taken_in_and_brought_up(tmp_path, capsys):
    old = tmp_path / "old"
    old.mkdir()
    made_empty(old / file.NAME, "0038").close()
    archive.write(old, tmp_path / "old.zip", "0.1", datetime.now(UTC), beside={}, as_cell=str)
    assert cli.main(["unpack", str(tmp_path / "old.zip"), str(tmp_path / "new")]) == 0
    assert file.checked(tmp_path / "new" / file.NAME) == file.revisions()[-1]
