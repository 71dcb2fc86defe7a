"""What can be wrong with a database file, each with its remedy.

DatabaseTroubleError
├── BusyError           somebody else writes, or wrote too long: try again
├── FullError           the disk is full
├── ReadOnlyError       file, folder or disk cannot be written
├── UnreachableError    the folder is gone, or it is no file that can be opened
├── MovedError          the file was moved, removed or replaced while it was open
├── BrokenError         not a database any more, or damaged
├── NewerError          made by a newer program
└── StrangerError       a database of another program: it is not touched
"""

from __future__ import annotations

import sqlite3
from pathlib import Path

from sqlalchemy.exc import DBAPIError


class DatabaseTroubleError(RuntimeError):
    """The database cannot do what is asked. The message names the file and the remedy; ``title`` is it in short;
    ``retry_s`` is after how many seconds it is worth asking again, None where somebody must act first.
    """

    title = "The database cannot be used"
    remedy = "look at the file and its folder"
    retry_s: int | None = None

    def __init__(self, path: Path | str, what: str = "") -> None:
        super().__init__(f"{path}: {what or self.title.lower()}. {self.remedy}")


class BusyError(DatabaseTroubleError):
    """A lock that was not free in time."""

    title = "The database is busy"
    remedy = "Somebody else is writing to it: nothing was changed, try again in a moment"
    retry_s = 1


class FullError(DatabaseTroubleError):
    """No room on the disk."""

    title = "The disk is full"
    remedy = "Nothing was changed and nothing is lost: make room on that disk, then try again"
    retry_s = 30


class ReadOnlyError(DatabaseTroubleError):
    """The file, its folder or its disk cannot be written."""

    title = "The database cannot be written"
    remedy = "Nothing was changed: allow writing to the file and its folder, then try again"
    retry_s = 30


class UnreachableError(DatabaseTroubleError):
    """The folder is gone, or what stands there is no file."""

    title = "The database cannot be opened"
    remedy = "Is the folder there, and may this user read and write it? Name a file with --database FILE"


class MovedError(DatabaseTroubleError):
    """The file is not the one that was opened."""

    title = "The database file was moved or replaced"
    remedy = "Nothing was changed: put the file back, or stop Passerelle and start it on the file that you want"
    retry_s = 30


class BrokenError(DatabaseTroubleError):
    """Not a database, or one that is damaged."""

    title = "The database is damaged"
    remedy = (
        "Keep the file as it is, look at it with 'passerelle verify --database FILE', and go on from a copy "
        "with 'passerelle restore COPY --database FILE'"
    )


class NewerError(DatabaseTroubleError):
    """The schema is one that this program does not know."""

    title = "The database was made by a newer Passerelle"
    remedy = "Nothing was changed: use the newer program, or another file with --database FILE"


class StrangerError(DatabaseTroubleError):
    """The file belongs to another program."""

    title = "This is not a database of Passerelle"
    remedy = "Nothing was changed in it: name another file with --database FILE"


KINDS: dict[int, type[DatabaseTroubleError]] = {
    sqlite3.SQLITE_BUSY: BusyError,
    sqlite3.SQLITE_LOCKED: BusyError,
    sqlite3.SQLITE_FULL: FullError,
    sqlite3.SQLITE_READONLY: ReadOnlyError,
    sqlite3.SQLITE_PERM: ReadOnlyError,
    sqlite3.SQLITE_CANTOPEN: UnreachableError,
    sqlite3.SQLITE_CORRUPT: BrokenError,
    sqlite3.SQLITE_NOTADB: BrokenError,
}


def trouble(path: Path | str, error: DBAPIError | sqlite3.Error) -> DatabaseTroubleError:
    """What the database said, as trouble with its remedy; anything that it does not name is told as it was said."""
    said = error.orig if isinstance(error, DBAPIError) else error
    code = getattr(said, "sqlite_errorcode", 0) & 0xFF
    return KINDS.get(code, DatabaseTroubleError)(path, "" if code in KINDS else str(said))
