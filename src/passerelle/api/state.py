"""What the application holds for its routers."""

from __future__ import annotations

from fastapi import Request

from passerelle.store.database import Database


def database_of(request: Request) -> Database:
    """The database that this application was made over."""
    database: Database = request.app.state.database
    return database
