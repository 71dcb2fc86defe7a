"""The application for hot reload: uvicorn calls ``app`` again after every change of the source."""

from __future__ import annotations

import os
from pathlib import Path

from fastapi import FastAPI

from passerelle.api.app import create_app
from passerelle.store.database import Database


def app() -> FastAPI:
    """The application over the database that PASSERELLE_DATABASE names."""
    return create_app(Database(Path(os.environ["PASSERELLE_DATABASE"])))
