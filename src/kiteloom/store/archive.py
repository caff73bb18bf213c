"""A whole shop as open files in one archive, to be read without Kite Loom, and to be taken in again.

Each table is there twice: as CSV to be read, and as JSON that says exactly what it holds. Photographs and
recordings are files. ``shop.json`` says how many rows there are and what digest each file has.
"""

from __future__ import annotations

import csv
import io
import json
import re
import sqlite3
from collections.abc import Callable, Iterator, Mapping
from contextlib import closing
from datetime import datetime
from hashlib import sha256
from pathlib import Path
from typing import Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile

from kiteloom.store import file
from kiteloom.store.file import CantOpen
from kiteloom.store.unit_of_work import made_empty

MANIFEST, README = "shop.json", "READ ME.txt"
#: What an archive holds, and nothing else: no name leads out of it.
_NAMES = re.compile(r"shop\.json|READ ME\.txt|logbook\.csv|tables/[a-z_]+\.(csv|json)|photographs/[A-Za-z0-9 ._-]+")
#: So much is taken in at most, all of it, and of one table [bytes]: an archive may say it is small and not be so.
LARGEST, LARGEST_TABLE = 16 * 1024**3, 2 * 1024**3
#: What lets people in stays in the shop: a shop that was taken in gives them new PINs.
_KEPT_BACK = ("secret", "sign_in")
_KINDS = {"image/jpeg": "jpg", "image/png": "png", "image/webp": "webp", "audio/webm": "weba", "audio/ogg": "ogg",
          "audio/mp4": "m4a"}  # fmt: skip
_READ_ME = """Everything that is kept of this shop, written {at} by Kite Loom {version}.

logbook.csv      what happened, in words, in the order it happened
tables/*.csv     every table: to be read, in any spreadsheet. Times are UTC; a column's unit stands in its name.
tables/*.json    the same, exactly: an empty cell of the CSV may be nothing at all, or no letters
photographs/     what was photographed or spoken; the tables name the files
shop.json        how many rows each table has, and the SHA-256 of each file

What people sign in with is not in it: secret and sign_in have no rows.

To take it in again, into a folder that holds no shop yet:  kiteloom unpack THIS-FILE.zip FOLDER
"""


def write(
    folder: Path,
    target: Path,
    version: str,
    at: datetime,
    *,
    beside: Mapping[str, str],
    as_cell: Callable[[str], str],
) -> int:
    """Write everything of a folder's shop as open files, while it may be running; the archive's size in bytes.

    Parameters
    ----------
    beside : mapping of str to str
        Files that go with it, by name: ``logbook.csv``.
    as_cell : callable
        A text as it stands in a cell of a table that is opened in a spreadsheet.

    Raises
    ------
    CantOpen
        When there is no shop, the target is there already, or it can't be written.
    """
    path = folder / file.NAME
    if not path.exists():
        raise CantOpen(f"There is no shop in {folder}: {path} is not there.")
    if target.exists():
        raise CantOpen(f"{target} is there already; an archive overwrites nothing. Choose another name.")
    revision = file.checked(path)
    half = target.with_name(f"{target.name}.half")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with closing(sqlite3.connect(path, timeout=10)) as database, ZipFile(half, "w", ZIP_DEFLATED) as out:
            database.execute("BEGIN")  # all tables as of one moment
            counts, digests = {}, dict[str, str]()

            def put(name: str, data: bytes, how: int = ZIP_DEFLATED) -> None:
                out.writestr(name, data, how)
                digests[name] = sha256(data).hexdigest()

            put(README, _READ_ME.format(at=f"{at:%Y-%m-%d %H:%M %Z}", version=version).encode())
            for name, text in beside.items():
                put(name, text.encode())
            for table in _tables(database):
                rows = []
                for row in () if table in _KEPT_BACK else _rows(database, table):
                    for column, value in row.items():
                        if isinstance(value, bytes):
                            row[column] = {"file": _file_name(row, column) if value else ""}
                            if value:
                                # Photographs are packed already.
                                put(f"photographs/{row[column]['file']}", value, ZIP_STORED)
                    rows.append(row)
                counts[table] = len(rows)
                put(f"tables/{table}.json", json.dumps(rows, ensure_ascii=False, indent=0).encode())
                put(f"tables/{table}.csv", _as_csv(_columns(database, table), rows, as_cell).encode())
            says = {"kite_loom": version, "revision": revision, "written": at.isoformat(), "rows": counts}
            out.writestr(MANIFEST, json.dumps({**says, "sha256": digests}, indent=1))
        half.rename(target)
    except OSError as error:
        half.unlink(missing_ok=True)
        raise CantOpen(f"{target} can't be written ({file.reason(error)}).") from None
    return target.stat().st_size


def _tables(database: sqlite3.Connection) -> list[str]:
    names = "SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name"
    return [
        name
        for (name,) in database.execute(names).fetchall()
        if not name.startswith("sqlite_") and name != "alembic_version"
    ]


def _columns(database: sqlite3.Connection, table: str) -> list[str]:
    return [row[1] for row in database.execute(f'PRAGMA table_info("{table}")')]


def _rows(database: sqlite3.Connection, table: str) -> Iterator[dict[str, Any]]:
    columns = _columns(database, table)
    for row in database.execute(f'SELECT * FROM "{table}"'):
        yield dict(zip(columns, row, strict=True))


def _file_name(row: Mapping[str, Any], column: str) -> str:
    """The file of a column of bytes: by the row's id, its kind as the row says."""
    name = f"{row['id']}{'' if column == 'data' else f'-{column}'}"
    return f"{name}.{_KINDS.get(str(row.get('media')), 'bin')}"


def _as_csv(columns: list[str], rows: list[dict[str, Any]], as_cell: Callable[[str], str]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        cells = (value["file"] if isinstance(value := row[column], dict) else value for column in columns)
        writer.writerow([as_cell(cell) if isinstance(cell, str) else cell for cell in cells])
    return out.getvalue()


def unpack(source: Path, folder: Path) -> dict[str, Any]:
    """Take an archive into a folder that holds no shop; what its ``shop.json`` says of it.

    Raises
    ------
    CantOpen
        When it is no archive of a shop, not whole, of a newer program, or the folder holds a shop already.
        Nothing is left in the folder then.
    """
    if file.looked_at(folder) is not None or (folder / file.NAME).exists():
        raise CantOpen(f"{folder} holds a shop already; an archive is taken into a folder of its own.")
    half = folder / f"{file.NAME}.half"
    half.unlink(missing_ok=True)
    try:
        with ZipFile(source) as held:
            says = _looked_through(source, held)
            with closing(made_empty(half, says["revision"])) as database:
                _filled(source, held, says, database)
        file.checked(half)
        half.rename(folder / file.NAME)
        file.marked(folder)
    except (BadZipFile, KeyError, json.JSONDecodeError, UnicodeDecodeError, EOFError) as error:
        raise CantOpen(f"{source} is no archive of a shop, or not whole ({str(error)[:80]}).") from None
    except OSError as error:
        raise CantOpen(f"{source} can't be taken into {folder} ({file.reason(error)}).") from None
    finally:
        for left in folder.glob(f"{file.NAME}.half*"):
            left.unlink()
    return says


def _looked_through(source: Path, held: ZipFile) -> dict[str, Any]:
    """What an archive says of itself, once every file is known to be one of its own, whole and unchanged."""
    whole = 0
    for info in held.infolist():
        if not _NAMES.fullmatch(info.filename):
            raise CantOpen(f"{source} holds “{info.filename[:60]}”, which is none of a shop's files; it was not taken.")
        whole += info.file_size
        most = LARGEST_TABLE if info.filename.startswith("tables/") else LARGEST
        if info.file_size > most or whole > LARGEST:
            raise CantOpen(
                f"{source} unpacks to more than {whole / 1e9:.1f} GB; at most {LARGEST / 1e9:.0f} GB are taken in, "
                f"and {LARGEST_TABLE / 1e9:.0f} GB of one table."
            )
    says = json.loads(_read(held, MANIFEST))
    if not isinstance(says, dict) or not isinstance(says.get("sha256"), dict) or not isinstance(says.get("rows"), dict):
        raise CantOpen(f"{source} is no archive of a shop: its {MANIFEST} does not say what it holds.")
    if says.get("revision") not in file.revisions():
        raise CantOpen(
            f"{source} was written by a newer Kite Loom (its revision is {str(says.get('revision'))[:40]}, this "
            f"program knows up to {file.revisions()[-1]}). Take it in with that."
        )
    for name, digest in says["sha256"].items():
        if sha256(_read(held, name)).hexdigest() != digest:
            raise CantOpen(f"{source} was changed: “{name[:60]}” is not what was written. It was not taken.")
    return says


def _read(held: ZipFile, name: str) -> bytes:
    """A file of an archive; no more of it than it says it has."""
    info = held.getinfo(name)
    with held.open(info) as packed:
        data = packed.read(info.file_size + 1)
    if len(data) != info.file_size:
        raise BadZipFile(f"“{name[:60]}” is not as long as it says")
    return data


def _filled(source: Path, held: ZipFile, says: Mapping[str, Any], database: sqlite3.Connection) -> None:
    for table in _tables(database):
        columns = _columns(database, table)
        database.execute(f'DELETE FROM "{table}"')
        rows = json.loads(_read(held, f"tables/{table}.json"))
        if len(rows) != says["rows"].get(table):
            raise CantOpen(f"{source} is not whole: {table} has {len(rows)} rows of {says['rows'].get(table)}.")
        marks = ", ".join("?" * len(columns))
        try:
            database.executemany(
                f'INSERT INTO "{table}" VALUES ({marks})',
                ([_value(held, row[column]) for column in columns] for row in rows),
            )
        except (sqlite3.Error, TypeError) as error:
            raise CantOpen(f"{source}: a row of {table} can't be kept ({str(error)[:80]}). It was not taken.") from None
    astray = database.execute("PRAGMA foreign_key_check").fetchone()
    if astray is not None:
        raise CantOpen(f"{source} is not whole: a row of {astray[0]} names one of {astray[2]} that is not there.")
    database.commit()


def _value(held: ZipFile, value: Any) -> Any:
    if not isinstance(value, dict):
        return value
    return _read(held, f"photographs/{value['file']}") if value["file"] else b""
