"""One database file, opened the careful way; one unit of work for each request.

WAL, foreign keys on, ``synchronous=FULL``: what was acknowledged is on the disk. Writes
begin immediate, so two of them queue instead of failing half way.
"""

from __future__ import annotations

import contextlib
import copy
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from sqlite3 import Connection as SqliteConnection
from threading import BoundedSemaphore, Lock, RLock
from typing import Any, TypeVar

from sqlalchemy import Connection, Engine, create_engine, event, func, inspect, select
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import ORMExecuteState, Session
from sqlalchemy.pool import StaticPool

from kiteloom.store import file
from kiteloom.store.models import Base, Change, Edit, Edited, Fact, Written

T = TypeVar("T", bound=Base)
R = TypeVar("R")
S = TypeVar("S")

#: So many may wait to write at once: who only reads must find somebody to answer.
WRITERS = 4
#: So long a write waits for another program that holds the file [s].
PATIENCE_S = 4.0

#: So many connections are kept open: one for each who answers, and for who watches.
CONNECTIONS = 12
#: So often the shop is looked at before what was seen last is written.
LOOKS = 4


#: Tables whose rows have another name in the shop.
CALLED = {"project": "airframe"}


class Missing(LookupError):
    """A row that is not there."""

    def __init__(self, what: str, key: object) -> None:
        super().__init__(f"There is no {what} “{key}”.")


class Stale(Exception):
    """An edit of a version that somebody else has changed since: the newest version, and what changed."""

    def __init__(self, version: int, words: list[str]) -> None:
        super().__init__("; ".join(words))
        self.version = version
        self.words = words


@dataclass(frozen=True)
class Who:
    """Who is signed in: one of the crew, or a guest who came by a link."""

    crew_member_id: str | None = None
    guest_id: str | None = None


class Busy(Exception):
    """Too many wait to write already."""


class Used(Exception):
    """An id that was used for something else: what was sent with it was not kept."""


class Memory:
    """What was made from the database at the last two states of it, kept for all who read those: while the next is
    made, who asks for the one before does not wait.
    """

    def __init__(self) -> None:
        self._lock = Lock()
        self._locks: dict[str, RLock] = {}
        self._made: dict[str, tuple[tuple[object, Any], ...]] = {}

    def made(self, state: object, name: str, make: Callable[[], R]) -> R:
        """What was made under a name at a state: made once, and only who asks for the same waits for it."""
        for at, found in self._made.get(name, ()):
            if at == state:
                known: R = found
                return known
        with self._lock:
            lock = self._locks.setdefault(name, RLock())
        with lock:
            for at, found in self._made.get(name, ()):
                if at == state:
                    waited: R = found
                    return waited
            new = make()
            self._made[name] = ((state, new), *self._made.get(name, ())[:1])
            return new

    def last(self, name: str) -> Any:
        """What was made last under a name, at whatever state; None where nothing was."""
        return next((found for _, found in self._made.get(name, ())), None)

    def at(self, state: object, name: str) -> Any:
        """What was made at a state under a name; None where nothing was."""
        return next((found for at, found in self._made.get(name, ()) if at == state), None)

    def copy(self) -> Memory:
        """What was made so far, for somebody whose states go another way from here."""
        other = Memory()
        with self._lock:
            other._made = dict(self._made)
        return other


class Store:
    """The data folder's database."""

    def __init__(self, data_dir: Path) -> None:
        revision = file.looked_at(data_dir)
        self.path = data_dir / file.NAME
        if revision not in (None, file.revisions()[-1]):
            file.copied_before(data_dir, str(revision))
        self.engine = _engine(self.path)
        self.memory = Memory()
        self.built = Memory()
        self.who: Who | None = None
        """Who is signed in, where that is asked for."""
        self._writers = BoundedSemaphore(WRITERS)
        if revision != file.revisions()[-1]:
            _migrate(self.engine)
        file.marked(data_dir)

    def of(self, who: Who) -> Store:
        """The same, used by somebody: what is written through it says so."""
        used = copy.copy(self)
        used.who = who
        return used

    def close(self) -> None:
        """Write everything into the one file, and let go of it."""
        with contextlib.suppress(DatabaseError), self.engine.connect() as connection:
            connection.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self.engine.dispose()

    @contextmanager
    def reading(self) -> Iterator[UnitOfWork]:
        """A consistent view that changes nothing."""
        with Session(self.engine) as session:
            yield UnitOfWork(session, self.memory, self.built, who=self.who)

    @contextmanager
    def writing(self) -> Iterator[UnitOfWork]:
        """All or nothing: saved when the block ends, nothing on an error."""
        if not self._writers.acquire(timeout=PATIENCE_S):
            raise Busy
        try:
            with Session(self.engine) as session:
                session.connection(execution_options={"writes": True})
                yield UnitOfWork(session, before=self.built, who=self.who)
                session.commit()
        finally:
            self._writers.release()

    @contextmanager
    def supposing(self, change: Callable[[UnitOfWork], object]) -> Iterator[UnitOfWork]:
        """The shop as it would be after a change, to look at: nothing of it is kept, and nobody waits for it."""
        engine = _engine(None)
        try:
            with self.engine.connect() as here, engine.connect() as there:
                raw, other = here.connection.driver_connection, there.connection.driver_connection
                assert raw is not None
                assert other is not None
                raw.backup(other)
            with Session(engine) as session:
                change(UnitOfWork(session))
                session.commit()
            with Session(engine) as session:
                yield UnitOfWork(session, Memory(), self.built.copy())
        finally:
            engine.dispose()

    def after_a_look(self, look: Callable[[UnitOfWork], S], write: Callable[[UnitOfWork, S], R]) -> R:
        """Look first, while others may write; then write what follows, if nothing changed in between.

        What changed is looked at again; in a shop that never stands still the last look has to do.
        """
        for left in reversed(range(LOOKS)):
            with self.reading() as uow:
                at, seen = uow.last_change(), look(uow)
            with self.writing() as uow:
                if uow.last_change() == at or not left:
                    return write(uow, seen)
        raise AssertionError("the last look is written")


class UnitOfWork:
    """What a use case works with."""

    def __init__(
        self,
        session: Session,
        memory: Memory | None = None,
        built: Memory | None = None,
        before: Memory | None = None,
        who: Who | None = None,
    ) -> None:
        self.session = session
        self.who = who
        self.writes = memory is None
        self.memory = memory or Memory()
        self.built = built or Memory()
        self.before = before or self.built
        """What was built before a write: only to be looked at, by who has changed nothing yet."""
        """What is the same while only work is written down."""
        # A session forgets rows nobody holds and would fetch them again.
        self._held: list[Base] = []
        self._once: dict[str, Any] = {}
        if self.writes:
            for happens in ("after_flush", "after_soft_rollback"):
                event.listen(session, happens, lambda *_: self._once.clear())
            event.listen(session, "do_orm_execute", self._may_write)

    def get(self, row: type[T], key: object) -> T:
        """The row of that id; `Missing` if there is none."""
        found = self.session.get(row, key)
        if found is None:
            raise Missing(CALLED.get(row.__tablename__, row.__tablename__.replace("_", " ")), key)
        self._held.append(found)
        return found

    def once(self, name: str, make: Callable[[], R]) -> R:
        """What is read once for all who ask in one reading; in a write, until something is written."""
        if self.writes and (self.session.new or self.session.dirty or self.session.deleted):
            self._once.clear()
        if name not in self._once:
            self._once[name] = make()
        found: R = self._once[name]
        return found

    def _may_write(self, asked: ORMExecuteState) -> None:
        if not asked.is_select:
            self._once.clear()

    def kept_already(self, row: type[T], key: str, **same: object) -> T | None:
        """What was kept under an id before: a retry adds nothing. `Used` when it was something else."""
        found = self.session.get(row, key)
        if found is not None and any(getattr(found, name) != value for name, value in same.items()):
            raise Used
        return found

    def get_for_edit(self, row: type[T], key: object, version: int) -> T:
        """The row, if nobody has changed it since that version; else `Stale`."""
        found = self.get(row, key)
        assert isinstance(found, Edited)
        if found.version != version:
            # A version nobody can have had is as stale as one can be.
            seen = version if 0 < version < found.version else 0
            since = select(Edit).where(Edit.table == row.__tablename__, Edit.ref == str(key), Edit.version > seen)
            edits = self.session.scalars(since.order_by(Edit.version))
            raise Stale(found.version, [words for edit in edits for words in edit.words])
        return found

    def edited(self, row: Base, words: list[str], at: datetime, topic: str) -> None:
        """Count an edit of a row from `get_for_edit`, with what it changed in words."""
        assert isinstance(row, Edited)
        row.version += 1
        row.updated_at = at
        ref = str(_identity(row))
        self._written("edit", f"{row.__tablename__} {ref} {row.version}")
        self.add(Edit(table=row.__tablename__, ref=ref, version=row.version, words=words, recorded_at=at))
        self.changed(topic, ref)

    def all(self, row: type[T], *order: Any) -> list[T]:
        """Every row, in order."""
        found = list(self.session.scalars(select(row).order_by(*order)))
        self._held += found
        return found

    def add(self, row: Base) -> None:
        """Keep a new row; what it refers to must be there. A fact is kept with who wrote it down, and is theirs
        where it names nobody.
        """
        if isinstance(row, Fact) and self.who is not None:
            if getattr(row, "crew_member_id", "") is None:
                row.crew_member_id = self.who.crew_member_id  # type: ignore[attr-defined]
            self.session.add(row)
            self.session.flush()
            self._written(row.__tablename__, str(_identity(row)))
        else:
            self.session.add(row)
            self.session.flush()

    def _written(self, table: str, ref: str) -> None:
        if self.who is not None:
            who = {"crew_member_id": self.who.crew_member_id, "guest_id": self.who.guest_id}
            self.session.add(Written(table=table, ref=ref, **who))

    def changed(self, topic: str, ref: object) -> None:
        """Tell the pages that ask."""
        self.session.add(Change(topic=topic, ref=str(ref)))

    def changes_since(self, seq: int) -> list[Change]:
        """What changed after a sequence number, at most a thousand."""
        return list(self.session.scalars(select(Change).where(Change.seq > seq).order_by(Change.seq).limit(1000)))

    def last_change(self, but: Collection[str] = ()) -> int:
        """The newest sequence number, topics named in ``but`` not counted; 0 when nothing has happened."""

        def read() -> int:
            newest = select(func.max(Change.seq))
            return self.session.scalar(newest.where(Change.topic.not_in(but)) if but else newest) or 0

        return self.once(f"last change but of {', '.join(sorted(but))}", read)

    def last_of(self, topics: Collection[str]) -> int:
        """The newest sequence number of some topics; 0 when nothing of them has happened."""
        newest = select(func.max(Change.seq)).where(Change.topic.in_(topics))
        return self.once(f"last of {', '.join(sorted(topics))}", lambda: self.session.scalar(newest) or 0)


def _identity(row: Base) -> object:
    identity = inspect(row).identity
    assert identity is not None
    return identity[0]


def made_empty(path: Path, revision: str) -> SqliteConnection:
    """A new database as it was at a revision, open to be filled as it stands."""
    engine = _engine(path)
    try:
        _migrate(engine, revision)
    finally:
        engine.dispose()
    return SqliteConnection(path)


def _migrate(engine: Engine, revision: str = "head") -> None:
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(file.MIGRATIONS))
    with engine.connect().execution_options(writes=True) as connection:
        raw = connection.connection
        # A table others refer to is made anew without letting go of them: all is checked before it is kept.
        raw.execute("PRAGMA foreign_keys=OFF")
        try:
            config.attributes["connection"] = connection
            command.upgrade(config, revision)
        finally:
            raw.execute("PRAGMA foreign_keys=ON")


def _engine(path: Path | None) -> Engine:
    """Of a file; without one of a database in memory, for one at a time."""
    if path is None:
        engine = create_engine("sqlite://", poolclass=StaticPool, connect_args={"check_same_thread": False})
    else:
        engine = create_engine(f"sqlite:///{path}", pool_size=CONNECTIONS, connect_args={"timeout": PATIENCE_S})

    @event.listens_for(engine, "connect")
    def _pragmas(raw: SqliteConnection, _: object) -> None:
        raw.isolation_level = None
        waits = f"busy_timeout={PATIENCE_S * 1000:.0f}"
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", waits):
            raw.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        writes = connection.get_execution_options().get("writes")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine
