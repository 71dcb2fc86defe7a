"""Whole records of the history, each kept once: compressed, under the hash of its content.

A change names what was before and after by these hashes, so that the state after one change and before the next is
stored once. They are whole records, not differences: what an older program wrote can still be brought up to date.
"""

from __future__ import annotations

import hashlib
import json
import sqlite3
import zlib
from collections.abc import Iterable, Mapping
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from passerelle.store.tables import EntryRow, RecordRow

Body = dict[str, Any]
AT_ONCE = 500
"""Rows of one statement; SQLite counts its parameters."""


class LostRecordError(RuntimeError):
    """A record that an entry names and that is not there: the database was altered by other hands."""


def packed(body: Body) -> tuple[str, bytes]:
    """The hash and the compressed text of a record."""
    text = json.dumps(body, sort_keys=True, ensure_ascii=True, separators=(",", ":")).encode("ascii")
    return hashlib.blake2b(text, digest_size=16).hexdigest(), zlib.compress(text)


def unpacked(content: bytes) -> Body:
    """A record from its compressed text."""
    body: Body = json.loads(zlib.decompress(content))
    return body


def keep(session: Session, bodies: Iterable[Body | None]) -> list[str | None]:
    """Keep records, those that are not there yet; answers with their hashes in the same order."""
    made = [None if body is None else packed(body) for body in bodies]
    keep_packed(session, {row[0]: row[1] for row in made if row is not None})
    return [None if row is None else row[0] for row in made]


def keep_packed(session: Session, records: Mapping[str, bytes]) -> None:
    """Keep records that are packed already, by their hashes; those that are there stay."""
    driver(session).executemany("INSERT OR IGNORE INTO record (hash, body) VALUES (?, ?)", records.items())


def driver(session: Session) -> sqlite3.Connection:
    """SQLite's own connection of a session, inside its transaction: many rows are several times faster there."""
    session.flush()
    connection: sqlite3.Connection = session.connection().connection.driver_connection  # type: ignore[assignment]
    return connection


def fetched(session: Session, hashes: Iterable[str | None]) -> dict[str, Body]:
    """Records by their hashes.

    Raises:
        LostRecordError: one is not there.
    """
    wanted = sorted({one for one in hashes if one is not None})
    found: dict[str, Body] = {}
    for start in range(0, len(wanted), AT_ONCE):
        query = select(RecordRow).where(RecordRow.hash.in_(wanted[start : start + AT_ONCE]))
        found |= {row.hash: unpacked(row.body) for row in session.scalars(query)}
    if missing := [one for one in wanted if one not in found]:
        raise LostRecordError(
            f"the log names a record that is not in the database ({missing[0]}): see 'passerelle verify'"
        )
    return found


def forget_unused(session: Session) -> int:
    """Drop the records that no entry names any more; answers with how many."""
    used = {side for row in session.scalars(select(EntryRow)) for side in named(row.changes)}
    there = set(session.scalars(select(RecordRow.hash)))
    loose = sorted(there - used)
    for start in range(0, len(loose), AT_ONCE):
        session.execute(delete(RecordRow).where(RecordRow.hash.in_(loose[start : start + AT_ONCE])))
    return len(loose)


def named(changes: Iterable[Body]) -> list[str]:
    """The hashes that the changes of an entry name."""
    return [side for change in changes for side in (change["before"], change["after"]) if side is not None]


def size_bytes(session: Session) -> int:
    """How many bytes all records take, compressed."""
    return session.scalar(select(func.coalesce(func.sum(func.length(RecordRow.body)), 0))) or 0
