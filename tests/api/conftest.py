"""A client of the application over the demo."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from passerelle.api.app import create_app
from passerelle.store.database import Database


@pytest.fixture
def client(database: Database) -> TestClient:
    return TestClient(create_app(database), base_url="http://localhost", raise_server_exceptions=False)
