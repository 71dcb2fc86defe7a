"""Opening a database file: whose it is, pragmas, transactions, and the schema brought up to date."""

from __future__ import annotations

import json
import sqlite3
import threading
import time
from collections import deque
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import Connection, Engine, create_engine, event, func, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from passerelle.clock import Clock, system_clock
from passerelle.store.files import APPLICATION_ID, copied, free_name, is_ours
from passerelle.store.records import forget_unused, size_bytes
from passerelle.store.tables import RecordRow
from passerelle.store.trouble import BusyError, MovedError, NewerError, UnreachableError, trouble

if TYPE_CHECKING:
    from alembic.config import Config
    from alembic.script import ScriptDirectory

MIGRATIONS = Path(__file__).parent / "migrations"
PATIENCE_S = 2.0
"""How long anything waits for a lock."""


class Turns:
    """Writers of one process, one at a time, in the order in which they came: nobody is passed over."""

    def __init__(self) -> None:
        self._change = threading.Condition()
        self._waiting: deque[object] = deque()

    @contextmanager
    def taken(self, path: Path) -> Iterator[None]:
        """Have the turn; raises BusyError after two seconds of waiting for it."""
        ticket = object()
        with self._change:
            self._waiting.append(ticket)
            if not self._change.wait_for(lambda: self._waiting[0] is ticket, PATIENCE_S):
                self._waiting.remove(ticket)
                raise BusyError(path)
        try:
            yield
        finally:
            with self._change:
                self._waiting.popleft()
                self._change.notify_all()


@dataclass(frozen=True)
class Size:
    """Bytes of a database: all, the records of the log in it and how many these are, what could be given back."""

    all_bytes: int
    record_bytes: int
    records: int
    free_bytes: int


class Database:
    """One SQLite file. ``read`` gives a consistent view, ``write`` one transaction: all of it or nothing.

    ``clock`` says when what is written was written.

    Raises:
        DatabaseTroubleError: the file cannot be used, here and in every transaction; see ``store.trouble``.
    """

    def __init__(self, path: Path, clock: Clock = system_clock) -> None:
        self.path, self.clock = path, clock
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise UnreachableError(path, f"the folder cannot be made ({error.strerror})") from error
        if _identity(path) not in _OPEN:  # closing a file here would drop the locks that SQLite holds on it
            is_ours(path)
        self.engine = _engine(path)
        self._turn = Turns()
        self._read = sessionmaker(self.engine, expire_on_commit=False, info={"clock": clock})
        try:
            migrate(self.engine)
            self._opened = _identity(path)
            _OPEN.setdefault(self._opened, []).append(self)
        except (DBAPIError, sqlite3.Error) as error:
            self.engine.dispose()
            raise trouble(path, error) from error
        except BaseException:
            self.engine.dispose()
            raise

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A session that only reads."""
        self._still_there()
        try:
            with self._read() as session:
                yield session
        except (DBAPIError, sqlite3.Error) as error:
            raise trouble(self.path, error) from error

    @contextmanager
    def write(self, who: str = "") -> Iterator[Session]:
        """A session whose changes are committed at the end, or rolled back on any error.

        ``who`` changes it, as written with each entry of the history. Writers of this process take turns; one
        that waits longer than two seconds is told so.
        """
        began = time.monotonic()
        with self._turn.taken(self.path):
            left_ms = max(1, int((PATIENCE_S - (time.monotonic() - began)) * 1000))
            engine = self.engine.execution_options(writes=True, patience_ms=left_ms)
            try:
                self._still_there()
                with Session(engine, expire_on_commit=False) as session, session.begin():
                    session.info.update(who=who, clock=self.clock)
                    yield session
            except (DBAPIError, sqlite3.Error) as error:
                raise trouble(self.path, error) from error

    def turn(self) -> AbstractContextManager[None]:
        """The turn among this process's writers, for a helper of its own that writes meanwhile."""
        return self._turn.taken(self.path)

    def _still_there(self) -> None:
        if _identity(self.path) != self._opened:
            raise MovedError(self.path)

    def fold(self) -> None:
        """Write the log into the file, so that a copy of the file alone holds everything."""
        self._still_there()
        try:
            with self.engine.connect() as connection:
                connection.connection.driver_connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")  # type: ignore[union-attr]
        except (DBAPIError, sqlite3.Error) as error:
            raise trouble(self.path, error) from error

    def size(self) -> Size:
        """What the database takes, and of it the records of the log."""
        with self.read() as session:
            page, pages, free = (
                session.execute(text(f"PRAGMA {name}")).scalar_one()
                for name in ("page_size", "page_count", "freelist_count")
            )
            count = session.scalar(select(func.count()).select_from(RecordRow)) or 0
            return Size(page * pages, size_bytes(session), count, page * free)

    def compact(self) -> None:
        """Drop what no entry of the log names any more, and give free pages back to the disk: nothing is lost."""
        with self.write() as session:
            forget_unused(session)
        try:
            with self._turn.taken(self.path), self.engine.connect() as connection:
                connection.connection.driver_connection.execute("VACUUM")  # type: ignore[union-attr]
        except (DBAPIError, sqlite3.Error) as error:
            raise trouble(self.path, error) from error
        self.fold()

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()
        held = _OPEN.get(self._opened, [])
        if self in held:
            held.remove(self)
        if not held:
            _OPEN.pop(self._opened, None)


_OPEN: dict[tuple[int, int] | None, list[Database]] = {}
"""The databases that this process has open, by which file they are."""


@contextmanager
def opened(path: Path) -> Iterator[Database]:
    """A database by its path: the one that this process has open, else one opened for the while."""
    known = _OPEN.get(_identity(path))
    database = known[0] if known else Database(path)
    try:
        yield database
    finally:
        if not known:
            database.close()


@contextmanager
def reading(path: Path) -> Iterator[Session]:
    """A session that reads a database by its path."""
    with opened(path) as database, database.read() as session:
        yield session


def _identity(path: Path) -> tuple[int, int] | None:
    """Which file stands at a path: device and number; None where none does."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


_compact = partial(json.dumps, separators=(",", ":"))


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": PATIENCE_S}, json_serializer=_compact)

    @event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # transactions are begun below, not by the driver
        if connection.execute("PRAGMA application_id").fetchone()[0] != APPLICATION_ID:
            connection.execute(f"PRAGMA application_id={APPLICATION_ID}")
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        # A write takes its lock at once, so that two writers queue instead of failing half-way.
        options = connection.get_execution_options()
        patience_ms = options.get("patience_ms", int(PATIENCE_S * 1000))  # what is left of it after the turn
        connection.exec_driver_sql(f"PRAGMA busy_timeout={patience_ms}")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if options.get("writes", False) else "BEGIN")

    return engine


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring the schema to a revision, by the migrations that ship with the program. What was there is copied first,
    beside it.

    Raises:
        NewerError: its schema is one that this program does not know.
    """
    path = Path(engine.url.database or "")
    target = newest_revision() if revision == "head" else revision
    now = _revision_of(engine)
    if now == target:
        return
    from alembic import command  # read where there is something to bring up to date, not at every start

    config, steps = _migrations()
    if now is not None and now not in {step.revision for step in steps.walk_revisions()}:
        raise NewerError(path)
    if now is not None:
        copied(path, free_name(path, f"before-{target}"))
    with engine.execution_options(writes=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, target)


def newest_revision() -> str:
    """The newest schema that this program knows: each migration stands in a file that begins with its revision."""
    return max(path.name.partition("_")[0] for path in (MIGRATIONS / "versions").glob("*.py"))


def _migrations() -> tuple[Config, ScriptDirectory]:
    from alembic.config import Config
    from alembic.script import ScriptDirectory

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return config, ScriptDirectory.from_config(config)


def is_current(connection: sqlite3.Connection) -> bool:
    """Whether a file has the newest schema that this program knows; raises NewerError where it has a newer one."""
    (now,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    if now == newest_revision():
        return True
    if now not in {step.revision for step in _migrations()[1].walk_revisions()}:
        raise NewerError(str(connection.execute("PRAGMA database_list").fetchone()[2]))
    return False


def _revision_of(engine: Engine) -> str | None:
    with engine.begin() as connection:
        tables = connection.exec_driver_sql("SELECT count(*) FROM sqlite_master WHERE name = 'alembic_version'")
        if not tables.scalar():
            return None
        found = connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
        return None if found is None else str(found)
