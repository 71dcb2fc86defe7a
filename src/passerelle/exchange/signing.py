"""The key of an installation: Ed25519 (RFC 8032), in a file that nobody else may read, beside the database."""

from __future__ import annotations

import hashlib
import os
import stat
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey

RAW = 32


class SigningError(RuntimeError):
    """The key cannot be used; the message says what to do."""


class SigningKey:
    """The installation's key; it is made when it is asked for the first time."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._key = self._load()

    @classmethod
    def beside(cls, database: Path) -> SigningKey:
        """The key that belongs to a database."""
        return cls(key_path(database))

    @staticmethod
    def is_beside(database: Path) -> bool:
        """Whether there is a key that belongs to a database."""
        return key_path(database).exists()

    def _load(self) -> Ed25519PrivateKey:
        from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey

        try:
            mode = self.path.stat().st_mode
        except FileNotFoundError:
            return self._made()
        if mode & (stat.S_IRWXG | stat.S_IRWXO):
            raise SigningError(f"{self.path} may be read by others: 'chmod 600' it, then sign again")
        raw = self.path.read_bytes()
        if len(raw) != RAW:
            raise SigningError(f"{self.path} is damaged: put its copy back, or move it away to begin a new one")
        return Ed25519PrivateKey.from_private_bytes(raw)

    def _made(self) -> Ed25519PrivateKey:
        from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey

        key = Ed25519PrivateKey.generate()
        try:
            opened = os.open(self.path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        except FileExistsError:  # another process was quicker
            return self._load()
        with os.fdopen(opened, "wb") as out:
            out.write(key.private_bytes_raw())
            out.flush()
            os.fsync(out.fileno())
        return key

    @property
    def public(self) -> str:
        """The public key in hexadecimal: what others check by."""
        return self._key.public_key().public_bytes_raw().hex()

    def sign(self, message: bytes) -> str:
        """The signature of a message in hexadecimal."""
        return self._key.sign(message).hex()


def key_path(database: Path) -> Path:
    """Where the key that belongs to a database is."""
    return database.with_name(f"{database.name}.signing-key")


def fingerprint(public: str) -> str:
    """The fingerprint of a public key (both hexadecimal): its SHA-256, which people compare.

    >>> fingerprint("00" * 32)[:16]
    '66687aadf862bd77'
    """
    try:
        raw = bytes.fromhex(public)
    except ValueError:
        return ""
    return hashlib.sha256(raw).hexdigest()


def is_signed(message: bytes, signature: str, public: str) -> bool:
    """Whether a signature (hexadecimal) is of a message by the owner of a public key (hexadecimal)."""
    from cryptography.exceptions import InvalidSignature
    from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey

    try:
        Ed25519PublicKey.from_public_bytes(bytes.fromhex(public)).verify(bytes.fromhex(signature), message)
    except (InvalidSignature, ValueError):
        return False
    return True
