"""Sessions of the browsers that gave the passphrase, kept by the database; of a token only its hash is known."""

from __future__ import annotations

import hashlib
import re
import secrets
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime

from cachetools import TTLCache

from passerelle.store.database import Database
from passerelle.store.sessions import (
    WRITTEN_EACH,
    Kind,
    add_session,
    end_session,
    session_used_at,
    touch_session,
)
from passerelle.store.trouble import BusyError

REMEMBERED_S = 60.0
"""So long a session is taken for open without asking the database again, which another process may serve too."""
_TOKEN = re.compile(r"[\w-]{43}")


class Sessions:
    """Opens, looks up and ends the sessions of one passphrase, which ``gate`` stands for."""

    def __init__(self, database: Database, gate: str, now: Callable[[], float] = time.monotonic) -> None:
        self._database, self._gate = database, gate
        self._open: TTLCache[str, None] = TTLCache(10_000, REMEMBERED_S, timer=now)
        self._lock = threading.Lock()

    def open(self, kind: Kind = "session") -> str:
        """A new token, which only the browser will have."""
        token = secrets.token_urlsafe(32)
        with self._database.write() as session:
            add_session(session, hash_of(token), kind, self._gate, self._now())
        return token

    def is_remembered(self, token: str) -> bool:
        """Whether a session was found open within the last minute: answered at once."""
        with self._lock:
            return bool(token) and hash_of(token) in self._open

    def is_open(self, token: str) -> bool:
        """Whether a session is open, as the database has it; its use is written at most each ten minutes."""
        if not self._is_known(token, "session"):
            return False
        with self._lock:
            self._open[hash_of(token)] = None
        return True

    def device_of(self, token: str) -> str:
        """The hash of a device's token where it has been in; empty where it has not."""
        return hash_of(token) if self._is_known(token, "device") else ""

    def end(self, token: str) -> None:
        """End a session for whoever holds its token."""
        if not _TOKEN.fullmatch(token):
            return
        with self._lock:
            self._open.pop(hash_of(token), None)
        with self._database.write() as session:
            end_session(session, hash_of(token))

    def _is_known(self, token: str, kind: Kind) -> bool:
        if not _TOKEN.fullmatch(token):
            return False
        token_hash, now = hash_of(token), self._now()
        with self._database.read() as session:
            used_at = session_used_at(session, token_hash, kind, self._gate, now)
        if used_at is None:
            return False
        if now - used_at >= WRITTEN_EACH:
            try:
                with self._database.write() as session:
                    touch_session(session, token_hash, now)
            except BusyError:
                return True  # somebody writes: the next use will be written
        return True

    def _now(self) -> datetime:
        return self._database.clock().astimezone(UTC).replace(tzinfo=None)


def hash_of(token: str) -> str:
    """What is kept of a token: its SHA-256."""
    return hashlib.sha256(token.encode()).hexdigest()
