"""The one passphrase of an application that others reach: its file, and the sessions that it opens."""

from __future__ import annotations

import threading
import time
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from itsdangerous import BadSignature, URLSafeTimedSerializer

SESSION_S = 7 * 24 * 3600
SHORTEST = 12
SLOWEST_S = 60.0


class PassphraseError(ValueError):
    """A passphrase, or its file, that cannot be used. The message names the remedy."""


class WrongPassphraseError(RuntimeError):
    """A try that was wrong, or came too soon after wrong ones; ``wait_s`` is how long the next one has to wait."""

    def __init__(self, wait_s: float, *, too_soon: bool) -> None:
        said = "wrong passphrases came before" if too_soon else "this is not the passphrase"
        super().__init__(f"{said}: the next try counts after a wait")
        self.wait_s, self.too_soon = wait_s, too_soon


def write_passphrase(path: Path, passphrase: str) -> None:
    """Write the hash of a passphrase to a file that only this user may read.

    Raises:
        PassphraseError: it is too short, or the file cannot be written.
    """
    if len(passphrase) < SHORTEST:
        raise PassphraseError(f"a passphrase has at least {SHORTEST} characters: four or five words are good")
    try:
        path.touch(mode=0o600)
        path.chmod(0o600)
        path.write_text(PasswordHasher().hash(passphrase) + "\n", encoding="ascii")
    except OSError as error:
        raise PassphraseError(f"{path}: cannot be written ({error.strerror})") from error


class Gate:
    """Knows the hash of the passphrase, signs sessions with it, and slows those who guess.

    Every wrong try doubles the time before the next one is looked at, for everybody, up to a minute; a right one
    ends that. A new passphrase ends all sessions, for they are signed with its hash.
    """

    def __init__(self, path: Path) -> None:
        way = f"make it with: passerelle passphrase {path}"
        try:
            self._hash = path.read_text(encoding="ascii").strip()
            mode = path.stat().st_mode
        except (OSError, UnicodeDecodeError) as error:
            raise PassphraseError(f"{path}: no passphrase can be read from it; {way}") from error
        try:
            PasswordHasher().check_needs_rehash(self._hash)
        except InvalidHashError as error:
            raise PassphraseError(f"{path}: this is not the hash of a passphrase; {way}") from error
        if mode & 0o077:
            raise PassphraseError(f"{path}: others may read it; close it with: chmod 600 {path}")
        self._sessions = URLSafeTimedSerializer(self._hash, salt="session")
        self._lock = threading.Lock()
        self._wrong, self._not_before = 0, 0.0

    def session(self, passphrase: str) -> str:
        """A signed session for who knows the passphrase; raises WrongPassphraseError."""
        with self._lock:  # one at a time: a hash takes memory and time by design
            wait = self._not_before - time.monotonic()
            if wait > 0:
                raise WrongPassphraseError(wait, too_soon=True)
            try:
                PasswordHasher().verify(self._hash, passphrase)
            except VerifyMismatchError as error:
                self._wrong += 1
                wait = min(SLOWEST_S, 0.5 * 2**self._wrong)
                self._not_before = time.monotonic() + wait
                raise WrongPassphraseError(wait, too_soon=False) from error
            self._wrong = 0
            return self._sessions.dumps("in")

    def knows(self, session: str) -> bool:
        """Whether a session was signed here and is not over."""
        try:
            return bool(self._sessions.loads(session, max_age=SESSION_S) == "in")
        except BadSignature:
            return False
