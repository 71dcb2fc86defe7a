"""Database files as files: whose one is, a copy while it is used, a copy put in its place, what is damaged."""

from __future__ import annotations

import glob
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from passerelle.store.trouble import (
    BrokenError,
    BusyError,
    DatabaseTroubleError,
    FullError,
    ReadOnlyError,
    StrangerError,
    UnreachableError,
    trouble,
)

APPLICATION_ID = 0x50415353
"""What SQLite writes into the head of our files, from their first page on ("PASS")."""

OURS = frozenset({"alembic_version", "project", "link", "history"})
"""The tables of a file that is older than its mark."""

MAGIC = b"SQLite format 3\x00"


def is_ours(path: Path) -> bool:
    """Whether there is something of ours in a file; False where there is no file, or an empty one.

    Raises:
        StrangerError: it belongs to another program, or is no database at all. It was not touched.
        UnreachableError, BrokenError: it cannot be read.
    """
    if path.is_dir():
        raise UnreachableError(path, "this is a folder")
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except FileNotFoundError:
        return False
    except OSError as error:
        raise UnreachableError(path, f"it cannot be read ({error.strerror})") from error
    if not head:
        return False
    if not head.startswith(MAGIC):
        zeroed = not head.strip(b"\x00")
        raise (BrokenError(path, "its head is gone") if zeroed else StrangerError(path))
    if int.from_bytes(head[68:72], "big") == APPLICATION_ID:
        return True
    with _opened(path, "mode=ro&immutable=1") as connection:
        tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        mark = connection.execute("PRAGMA application_id").fetchone()[0]
    if mark or (tables and not tables >= OURS):
        raise StrangerError(path)
    return bool(tables)


def copied(source: Path, target: Path) -> None:
    """Copy a database, also while it is served: SQLite's online backup, all of it or nothing.

    Raises:
        DatabaseTroubleError: the source cannot be read, or the target exists or cannot be written.
    """
    if target.exists():
        raise UnreachableError(target, "this file exists already, and a copy never takes the place of another")
    part = target.with_name(target.name + ".part")
    part.unlink(missing_ok=True)
    try:
        with _opened(source, "mode=rw") as of, _opened(part, "mode=rwc") as to:
            try:
                of.backup(to, pages=4096)
            except sqlite3.DatabaseError as error:
                found = trouble(source, error)
                raise (trouble(target, error) if isinstance(found, FullError | ReadOnlyError) else found) from error
            to.execute("PRAGMA journal_mode=DELETE")
        part.replace(target)
    except OSError as error:
        raise ReadOnlyError(target, f"the copy cannot be made ({error.strerror})") from error
    finally:
        part.unlink(missing_ok=True)


def put_back(copy: Path, target: Path) -> Path | None:
    """Put a copy in the place of a database that nobody serves; answers with where the old file is kept, if any.

    Raises:
        DatabaseTroubleError: the copy is not whole, or the target is in use.
    """
    if not is_ours(copy):
        raise UnreachableError(copy, "there is nothing in it to go back to")
    if lines := damage(copy):
        raise BrokenError(copy, f"the copy is damaged itself ({lines[0]})")
    kept = None
    if target.exists() and target.stat().st_size:
        alone(target)
        kept = free_name(target, "replaced")
    ready = free_name(target, "restoring")
    copied(copy, ready)
    if kept is not None:
        for suffix in ("-wal", "-shm", ""):  # a damaged file may have its newest part in the log
            part = target.with_name(target.name + suffix)
            if part.exists():
                part.replace(kept.with_name(kept.name + suffix))
    ready.replace(target)
    return kept


HALF_LASTS_S = 600.0
"""A copy that nobody has written to for so long was given up."""


def clear_half_files(path: Path, now_s: float) -> list[Path]:
    """Remove what a backup into this database's folder, or a restore of it, left half done when it was killed.

    Args:
        path: the database.
        now_s: the present moment, as the times of files are counted: seconds since 1970.

    Returns:
        What was removed: files that we began and nobody has written to for ten minutes.
    """
    stem, suffix = glob.escape(path.stem), glob.escape(path.suffix)
    begun = [*path.parent.glob("*.part"), *path.parent.glob(f"{stem}.restoring*{suffix}*")]
    found = [file for file in begun if _is_given_up(file, now_s)]
    for file in found:
        file.unlink(missing_ok=True)
    return found


def _is_given_up(file: Path, now_s: float) -> bool:
    try:
        with file.open("rb") as opened:
            head = opened.read(len(MAGIC))
        return head in (b"", MAGIC) and now_s - file.stat().st_mtime > HALF_LASTS_S
    except OSError:
        return False


def alone(path: Path) -> None:
    """Fold the log in, which only works while nobody else has the file open; a damaged file has nobody.

    Raises:
        BusyError: somebody has it open.
    """
    try:
        if is_ours(path):
            with _opened(path, "mode=rw") as connection:
                connection.execute("PRAGMA journal_mode=DELETE")
    except BusyError:
        raise BusyError(path, "somebody serves it: stop Passerelle first") from None
    except BrokenError:
        return


def damage(path: Path) -> list[str]:
    """What SQLite finds wrong in a file, at most ten lines; nothing where it is whole."""
    try:
        with _opened(path, "mode=ro") as connection:
            found = [str(line) for (line,) in connection.execute("PRAGMA integrity_check(10)")]
            loose = [
                f"row {row[1]} of {row[0]} has no {row[2]}"
                for row in connection.execute("PRAGMA foreign_key_check")
            ]
    except DatabaseTroubleError as error:
        return [str(error)]
    return [line for line in found if line != "ok"] + loose[:10]


def free_name(path: Path, word: str) -> Path:
    """A name beside a file that no file has: ``plans.before-0006.sqlite``, then ``plans.before-0006-2.sqlite``."""
    number = 1
    while True:
        made = path.with_name(f"{path.stem}.{word}{'' if number == 1 else f'-{number}'}{path.suffix}")
        if not made.exists():
            return made
        number += 1


@contextmanager
def _opened(path: Path, how: str) -> Iterator[sqlite3.Connection]:
    connection = None
    try:
        connection = sqlite3.connect(f"{path.absolute().as_uri()}?{how}", uri=True, timeout=2, isolation_level=None)
        yield connection
    except sqlite3.Error as error:
        raise trouble(path, error) from error
    finally:
        if connection is not None:
            connection.close()
