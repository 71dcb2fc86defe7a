"""Opening a database file: pragmas, transactions, and the schema brought up to date."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker


class Database:
    """One SQLite file. ``read`` gives a consistent view, ``write`` one transaction: all of it or nothing."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.engine = _engine(path)
        migrate(self.engine)
        self._read = sessionmaker(self.engine, expire_on_commit=False)
        self._write = sessionmaker(self.engine.execution_options(writes=True), expire_on_commit=False)

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A session that only reads."""
        with self._read() as session:
            yield session

    @contextmanager
    def write(self) -> Iterator[Session]:
        """A session whose changes are committed at the end, or rolled back on any error."""
        with self._write.begin() as session:
            yield session

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # transactions are begun below, not by the driver
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        # A write takes its lock at once, so that two writers queue instead of failing half-way.
        writes = connection.get_execution_options().get("writes", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring the schema to a revision, by the migrations that ship with the program."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.execution_options(writes=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
