"""Sessions of browsers and devices that gave the passphrase: of their tokens only the hash is kept."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Literal

from sqlalchemy import delete
from sqlalchemy.orm import Session

from passerelle.store.tables import WebSessionRow

Kind = Literal["session", "device"]
IDLE = {"session": timedelta(days=7), "device": timedelta(days=180)}
"""How long after its last use it ends."""
WRITTEN_EACH = timedelta(minutes=10)
"""A last use is written at most this often."""


def add_session(session: Session, token_hash: str, kind: Kind, gate: str, now: datetime) -> None:
    """Keep a new one, and forget those that are over; ``now`` is a time in UTC without zone."""
    for which, idle in IDLE.items():
        over = WebSessionRow.used_at < now - idle
        session.execute(delete(WebSessionRow).where(WebSessionRow.kind == which, over))
    session.add(WebSessionRow(token=token_hash, kind=kind, gate=gate, opened_at=now, used_at=now))


def session_used_at(session: Session, token_hash: str, kind: Kind, gate: str, now: datetime) -> datetime | None:
    """When one was last used, as far as that was written; None where there is none, or it is over."""
    row = session.get(WebSessionRow, token_hash)
    if row is None or (row.kind, row.gate) != (kind, gate) or row.used_at < now - IDLE[kind]:
        return None
    return row.used_at


def touch_session(session: Session, token_hash: str, now: datetime) -> None:
    """Write that one is used now, if it is still there."""
    row = session.get(WebSessionRow, token_hash)
    if row is not None:
        row.used_at = now


def end_session(session: Session, token_hash: str) -> None:
    """End one, whether or not it is there."""
    session.execute(delete(WebSessionRow).where(WebSessionRow.token == token_hash))
