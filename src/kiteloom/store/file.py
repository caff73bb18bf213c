"""The one file a shop is kept in: opened with care, closed whole, backed up while it is used, restored.

A shop that is running has its newest rows in a second file beside the first. What is copied by hand while
it runs may lack them; `backup` does not, and closing writes everything into the one file.
"""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path

NAME = "kiteloom.sqlite3"
#: Lies beside the database once it was made: an empty database there is a loss, not a beginning.
MARK = "kiteloom.shop"
#: Where copies go before a migration.
BEFORE = "before-migrations"
MIGRATIONS = Path(__file__).parent / "migrations"


class CantOpen(Exception):
    """A data folder that can't be opened, in one sentence that says what to do."""


def revisions() -> list[str]:
    """The revisions this program knows, oldest first."""
    return sorted(path.name.partition("_")[0] for path in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def looked_at(folder: Path) -> str | None:
    """The revision of a folder's database, looked at before anything is done to it; None for an empty folder.

    Raises
    ------
    CantOpen
        When the folder can't be made or written, or its file is no database, damaged, lost or of a newer
        program.
    """
    path = folder / NAME
    try:
        folder.mkdir(parents=True, exist_ok=True)
        there = path.exists() and path.stat().st_size > 0
    except OSError as error:
        raise CantOpen(f"The folder {folder} can't be made or read ({reason(error)}); choose another.") from None
    if not there:
        if (folder / MARK).exists() or path.with_name(f"{NAME}-wal").exists():
            raise CantOpen(
                f"{path} is empty or gone, though {folder} held a shop. Nothing was changed. "
                f"Restore the newest backup: kiteloom restore BACKUP {folder}"
            )
        _written(folder)
        return None
    found = checked(path)
    if found is None and ((folder / MARK).exists() or path.with_name(f"{NAME}-wal").exists()):
        raise CantOpen(
            f"{path} holds no shop any more, though {folder} held one. Nothing was changed. "
            f"Restore the newest backup: kiteloom restore BACKUP {folder}"
        )
    _written(folder)
    return found


def _written(folder: Path) -> None:
    """Refuse a folder, or a database, that can't be written."""
    trial = folder / f".trial-{os.getpid()}"
    try:
        trial.write_bytes(b"x")
        trial.unlink()
        if (folder / NAME).exists():
            with (folder / NAME).open("r+b"):
                pass
    except OSError as error:
        raise CantOpen(
            f"{folder} can't be written ({reason(error)}); a shop can only be served where it can."
        ) from None


def checked(path: Path) -> str | None:
    """The revision of a database file that is whole; None when it has no tables. `CantOpen` when it is not whole."""
    try:
        with closing(sqlite3.connect(path, timeout=5)) as database:
            state = database.execute("PRAGMA quick_check(1)").fetchone()[0]
            if state != "ok":
                how = " ".join(state.split())[:80]
                raise CantOpen(f"{path} is damaged ({how}). Restore the newest backup; keep this file aside.")
            if not database.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone():
                return None
            row = database.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.OperationalError as error:
        if "locked" in str(error):
            raise CantOpen(f"{path} is in use by another program; stop that first.") from None
        raise CantOpen(f"{path} can't be opened ({error}).") from None
    except sqlite3.DatabaseError as error:
        raise CantOpen(
            f"{path} is damaged or no shop ({error}). Restore the newest backup; keep this file aside."
        ) from None
    if row is not None and row[0] not in revisions():
        raise CantOpen(
            f"{path} was made by a newer Kite Loom (its revision is {row[0][:40]}, this program knows up to "
            f"{revisions()[-1]}). It was left as it is; start the newer program."
        )
    return None if row is None else str(row[0])


def marked(folder: Path) -> None:
    """Say that a shop lives here."""
    mark = folder / MARK
    if not mark.exists():
        mark.write_text("A Kite Loom shop is kept in this folder. Back it up with: kiteloom backup\n", encoding="utf-8")


def copied_before(folder: Path, revision: str) -> Path:
    """A copy of the database as it was before a migration; where it lies."""
    kept = folder / BEFORE
    kept.mkdir(exist_ok=True)
    target = kept / f"{NAME.partition('.')[0]}-{revision}-{datetime.now():%Y%m%d-%H%M%S-%f}.sqlite3"  # noqa: DTZ005
    _copy(folder / NAME, target)
    return target


def backup(folder: Path, target: Path) -> int:
    """Write everything there is into one file, while the shop may be running; its size in bytes.

    Raises
    ------
    CantOpen
        When there is no shop, when the target is there already, or the copy is not whole.
    """
    path = folder / NAME
    if not path.exists():
        raise CantOpen(f"There is no shop in {folder}: {path} is not there.")
    if target.exists():
        raise CantOpen(f"{target} is there already; a backup overwrites nothing. Choose another name.")
    checked(path)
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        half = target.with_name(f"{target.name}.half")
        half.unlink(missing_ok=True)
        _copy(path, half)
        if checked(half) is None:
            half.unlink()
            raise CantOpen(f"{path} holds no shop; nothing was written.")
        half.rename(target)
    except OSError as error:
        raise CantOpen(f"{target} can't be written ({reason(error)}).") from None
    return target.stat().st_size


def compared(source: Path, folder: Path) -> str:
    """What a backup holds, and what a folder's shop has that it lacks, in sentences; `CantOpen` as `restore`."""
    _holds_a_shop(source)
    kept = _facts(source)
    said = f"{source} has {_counted(kept)}."
    try:
        there = _facts(folder / NAME) if (folder / NAME).exists() and checked(folder / NAME) else {}
    except CantOpen as cant:
        return f"{said} {cant}"
    if not there:
        return f"{said} There is no shop in {folder}."
    only = {key: at for key, at in there.items() if key not in kept}
    less = f"; the backup lacks {len(only)} of them, the last of {max(only.values())[:16]} UTC" if only else ""
    return f"{said} {folder} has {_counted(there)}{less}."


def _holds_a_shop(source: Path) -> None:
    if not source.is_file():
        raise CantOpen(f"There is no backup at {source}.")
    if checked(source) is None:
        raise CantOpen(f"{source} holds no shop; nothing was changed.")


def _counted(facts: dict[tuple[str, str], str]) -> str:
    """So many facts, and when the last was written down."""
    last = f", the last written down {max(facts.values())[:16]} UTC" if facts else ""
    return f"{len(facts):,} facts{last}"


def _facts(path: Path) -> dict[tuple[str, str], str]:
    """Every fact of a shop by its table and id, and when it was written down."""
    found: dict[tuple[str, str], str] = {}
    with closing(sqlite3.connect(path, timeout=10)) as database:
        for (table,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall():
            columns = {row[1] for row in database.execute(f'PRAGMA table_info("{table}")')}
            if {"id", "recorded_at"} <= columns and table != "shop_copy":
                rows = database.execute(f'SELECT id, recorded_at FROM "{table}" WHERE recorded_at IS NOT NULL')
                found |= {(table, str(key)): at for key, at in rows}
    return found


def restore(source: Path, folder: Path) -> Path | None:
    """Put a backup in place of a folder's shop; where that was laid aside, None when there was none.

    Raises
    ------
    CantOpen
        When the backup is not whole, or the folder's shop is in use.
    """
    _holds_a_shop(source)
    path, aside = folder / NAME, None
    try:
        folder.mkdir(parents=True, exist_ok=True)
        _not_in_use(path)
        half = folder / f"{NAME}.half"
        half.unlink(missing_ok=True)
        _copy(source, half)
        beside = [old for old in (path, *(path.with_name(f"{NAME}{end}") for end in ("-wal", "-shm"))) if old.exists()]
        if beside:
            aside = folder / f"laid-aside-{datetime.now():%Y%m%d-%H%M%S-%f}"  # noqa: DTZ005
            aside.mkdir()
            for old in beside:
                old.rename(aside / old.name)
        half.rename(path)
        marked(folder)
    except OSError as error:
        raise CantOpen(f"{folder} can't be written ({reason(error)}).") from None
    return aside


def _not_in_use(path: Path) -> None:
    if not path.exists() or not path.stat().st_size:
        return
    try:
        with closing(sqlite3.connect(path, timeout=1, isolation_level=None)) as database:
            database.execute("PRAGMA locking_mode = EXCLUSIVE")
            database.execute("BEGIN EXCLUSIVE")
            database.execute("ROLLBACK")
    except sqlite3.OperationalError as error:
        if "locked" in str(error):
            raise CantOpen(f"{path} is in use: stop the shop first, then restore.") from None
    except sqlite3.DatabaseError:
        pass  # damaged: that is why it is restored


def _copy(path: Path, target: Path) -> None:
    """Everything of a database in a file of its own, as of one moment."""
    try:
        with closing(sqlite3.connect(path, timeout=10)) as database:
            database.execute("VACUUM INTO ?", (str(target),))
    except sqlite3.DatabaseError as error:
        target.unlink(missing_ok=True)
        raise CantOpen(f"{path} could not be copied to {target} ({error}).") from None


def reason(error: OSError) -> str:
    """What the system says of an error, to stand inside a sentence."""
    return (error.strerror or str(error)).lower()
