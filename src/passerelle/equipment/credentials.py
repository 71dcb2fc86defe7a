"""Secrets by which boxes are read, in a file of their own that nobody else may read.

A secret is bound to the address that it was typed for. The file stands beside the database and is in no backup, no
plan file and no answer: what goes out says only that there is one, and of which kind.
"""

from __future__ import annotations

import json
import os
import stat
import threading
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Literal

Version = Literal["v2c", "v3"]
Auth = Literal["none", "SHA-256", "SHA-1", "MD5"]
Privacy = Literal["none", "AES-128", "DES"]
_LOCK = threading.Lock()


class CredentialsError(RuntimeError):
    """The file of secrets cannot be used; the message says what to do."""


@dataclass(frozen=True)
class Credentials:
    """How a box is asked: a community (v2c), or a user with its two secrets (v3)."""

    version: Version = "v2c"
    community: str = ""
    user: str = ""
    auth: Auth = "none"
    auth_secret: str = ""
    privacy: Privacy = "none"
    privacy_secret: str = ""

    def __repr__(self) -> str:
        """Without any secret: it may stand in a log."""
        return f"Credentials({self.version})"


class CredentialsFile:
    """The file of secrets."""

    def __init__(self, path: Path) -> None:
        self.path = path

    @classmethod
    def beside(cls, database: Path) -> CredentialsFile:
        """The one that belongs to a database."""
        return cls(database.with_name(f"{database.name}.credentials"))

    def of(self, address: str) -> Credentials | None:
        """The secret for an address, None without one.

        Raises:
            CredentialsError: the file is open to others, or damaged.
        """
        with _LOCK:
            found = self._read().get(address)
        return Credentials(**found) if found else None  # type: ignore[arg-type]

    def known(self) -> dict[str, str]:
        """Addresses that have a secret, with its version."""
        with _LOCK:
            return {address: str(one.get("version", "")) for address, one in self._read().items()}

    def put(self, address: str, secret: Credentials | None) -> None:
        """Keep a secret for an address, or forget it."""
        with _LOCK:
            known = self._read()
            known.pop(address, None)
            if secret is not None:
                known[address] = asdict(secret)
            self._write(known)

    def _read(self) -> dict[str, dict[str, str]]:
        try:
            mode = self.path.stat().st_mode
        except FileNotFoundError:
            return {}
        if mode & (stat.S_IRWXG | stat.S_IRWXO):
            raise CredentialsError(f"{self.path} may be read by others: 'chmod 600' it, then try again")
        try:
            raw = json.loads(self.path.read_text(encoding="utf-8"))
        except (OSError, ValueError) as error:
            raise CredentialsError(f"{self.path} cannot be read: type the secrets again after moving it") from error
        return raw if isinstance(raw, dict) else {}

    def _write(self, known: dict[str, dict[str, str]]) -> None:
        made = self.path.with_name(f"{self.path.name}.new")
        made.unlink(missing_ok=True)
        opened = os.open(made, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(opened, "w", encoding="utf-8") as out:
            json.dump(known, out)
            out.flush()
            os.fsync(out.fileno())
        os.replace(made, self.path)
