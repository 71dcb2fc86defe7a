"""The one passphrase of an application that others reach: its file, and the check of what is typed."""

from __future__ import annotations

import hashlib
import threading
import time
from collections.abc import Callable
from math import ceil
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from passerelle.api.guesses import GuessLimits

SHORTEST = 12
BUSY_S = 2.0
"""How long a passphrase waits for others that are being checked."""


class PassphraseError(ValueError):
    """A passphrase, or its file, that cannot be used. The message names the remedy."""


class WrongPassphraseError(RuntimeError):
    """A try that was wrong, or came too soon after wrong ones; ``wait_s`` is how long the next one has to wait."""

    def __init__(self, wait_s: float, *, too_soon: bool) -> None:
        said = "Wrong passphrases came before this one" if too_soon else "This is not the passphrase"
        super().__init__(f"{said}. Try again in {ceil(wait_s)} s.")
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
    """Knows the hash of the passphrase, checks what is typed against it, and lets those wait who guess.

    ``digest`` stands for the passphrase in what is kept of a session: a new passphrase ends all sessions.
    """

    def __init__(self, path: Path, now: Callable[[], float] = time.monotonic) -> None:
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
        self.digest = hashlib.sha256(self._hash.encode("ascii")).hexdigest()
        self._limits = GuessLimits(now)
        self._hashing = threading.Lock()

    def check(self, passphrase: str, address: str, device: str = "") -> None:
        """Check a passphrase from an address, or from a device that has been in, by the hash of its token.

        Raises:
            WrongPassphraseError: it is wrong, or came too soon after wrong ones.
        """
        self._wait(address, device)
        if not self._hashing.acquire(timeout=BUSY_S):  # one at a time: a hash takes memory and time by design
            raise WrongPassphraseError(BUSY_S, too_soon=True)
        try:
            self._wait(address, device)
            PasswordHasher().verify(self._hash, passphrase)
        except VerifyMismatchError as error:
            raise WrongPassphraseError(self._limits.wrong(address, device), too_soon=False) from error
        finally:
            self._hashing.release()
        self._limits.right(address, device)

    def _wait(self, address: str, device: str) -> None:
        wait = self._limits.wait_s(address, device)
        if wait > 0:
            raise WrongPassphraseError(wait, too_soon=True)
