"""What the application holds for its routers."""

from __future__ import annotations

from contextlib import AbstractContextManager

from fastapi import Request
from sqlalchemy.orm import Session

from passerelle.api.gate import who_of
from passerelle.store.database import Database


def database_of(request: Request) -> Database:
    """The database that this application was made over."""
    database: Database = request.app.state.database
    return database


def writing(request: Request) -> AbstractContextManager[Session]:
    """One transaction that changes the database, in the name of who asks."""
    return database_of(request).write(who_of(request))
